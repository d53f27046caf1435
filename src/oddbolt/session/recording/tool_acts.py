"""With what it was done, how long it takes effect, how its fixing is left, and what is told of a thing in passing.

One key for the act just done, the same again for the next.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from oddbolt.catalog.defaults import ways_of
from oddbolt.model.places import Spot
from oddbolt.model.things import HAND, REUSES, Teardown, Way
from oddbolt.model.things import Act as ActRecord
from oddbolt.session.modes import Act
from oddbolt.session.recording.recorder import Recorder
from oddbolt.session.told_fact import THING, about_which, understand_fact
from oddbolt.session.told_wait import understand_wait
from oddbolt.session.verbs import acts, joints
from oddbolt.session.verbs.entries import last_act
from oddbolt.session.verbs.facts import tell_fact

USUAL_BOX = ("spudger", "tweezers", "pick", "plug-lifter", "card")  # where none is laid out: common practice, no source


class ToolActs:
    """Holds nothing: what is meant is what was done last, or what is chosen."""

    def __init__(self, recorder: Recorder) -> None:
        self.recorder = recorder
        recorder.acts |= {Act.NEXT_TOOL: self.next_tool, Act.REUSE: self.next_reuse,
                          Act.FURTHER_TOOL: self.further_tool, Act.AT_ONCE: self.at_once, Act.DISCARD: self.discard}

    def next_tool(self) -> bool:
        """The next tool of the box; of a release that of its last act."""
        recorder, thing = self.recorder, self.meant()
        teardown = recorder.session.teardown
        joint = teardown.joint.get(thing)
        if not thing or (joint is not None and joint.kind == "screw"):
            recorder.say("no-tool-to-change", alarm=True)
            return False
        return self.use(next_in_box(teardown, acts_of(teardown, thing)[-1].tool))

    def use(self, tool: str) -> bool:
        """What is meant was done with this tool."""
        recorder, thing = self.recorder, self.meant()
        teardown = recorder.session.teardown
        if not thing:
            recorder.say("no-tool-to-change", alarm=True)
            return False
        if thing not in teardown.joint:
            done = recorder.do(acts.set_act_tool, thing, 0, len(acts_of(teardown, thing)) - 1, tool) is not None
        else:
            recorder.choose(thing)
            recorder.set_tool(0, tool)
            done = recorder.session.teardown is not teardown
        if done:
            recorder.say("tool-now", thing=thing, tool=tool)
        return done

    def next_reuse(self) -> bool:
        """Used again, to be renewed, destroyed: the next of these."""
        return self._change_fixing(lambda joint, way: (
            joints.set_reuse, joint, 0, REUSES[(REUSES.index(way.reuse) + 1) % len(REUSES)]))

    def further_tool(self) -> bool:
        """The next tool of the box beside the one of the act; after the last of them none."""
        recorder, thing = self.recorder, self.meant()
        teardown = recorder.session.teardown
        if not thing:
            recorder.say("no-tool-to-change", alarm=True)
            return False
        own = acts_of(teardown, thing)
        act = own[-1]
        box = [tool for tool in box_of(teardown) if tool not in (act.tool, HAND)]
        now = act.also[-1] if act.also else ""
        place = box.index(now) + 1 if now in box else 0
        also = (box[place],) if place < len(box) else ()
        done = recorder.do(acts.set_also, thing, 0, len(own) - 1, also) is not None
        if done:
            recorder.say("also-now" if also else "also-none", thing=thing, **({"tool": also[0]} if also else {}))
        return done

    def wait(self, text: str, way: int = 0, act: int | None = None) -> bool:
        """How long until an act takes effect, as it was typed; of the one that waits by the record, else the first."""
        recorder, thing = self.recorder, self.meant()
        teardown, told = recorder.session.teardown, understand_wait(text)
        all_acts = acts_of(teardown, thing, way) if thing else ()
        if told is None or not all_acts or (thing not in teardown.joint and len(all_acts) < 2):
            recorder.say("no-wait" if told is None else "choose-joint-wait", alarm=True)
            return False
        waits = next((n for n, one in enumerate(all_acts) if one.wait_s), 0)
        return recorder.do(acts.set_wait, thing, way, waits if act is None else act, *told) is not None

    def at_once(self) -> bool:
        """The last act follows the one before it with nothing between, or need not."""
        recorder, thing = self.recorder, self.meant()
        teardown = recorder.session.teardown
        found = acts_of(teardown, thing) if thing in teardown.joint else ()
        if len(found) < 2:
            recorder.say("one-act", alarm=True)
            return False
        return recorder.do(acts.set_at_once, thing, 0, len(found) - 1, not found[-1].at_once) is not None

    def discard(self) -> bool:
        """What held it is thrown away, or kept."""
        return self._change_fixing(lambda joint, way: (acts.set_discard, joint, 0, not way.discard))

    def _change_fixing(self, change: Callable[[str, Way], tuple[Any, ...]]) -> bool:
        """Do what `change` says of the joint that is meant and its first way: a verb and its arguments."""
        teardown, thing = self.recorder.session.teardown, self.meant()
        if thing not in teardown.joint:
            self.recorder.say("no-fixing-to-change", alarm=True)
            return False
        return self.recorder.do(*change(thing, ways_of(teardown, teardown.joint[thing])[0])) is not None

    def meant(self) -> str:
        """What is chosen, else what was done last."""
        teardown, chosen = self.recorder.session.teardown, self.recorder.selection.thing
        last = last_act(teardown)
        thing = chosen or (last.thing if last is not None else None) or ""
        return thing if thing in teardown.joint or thing in teardown.part else ""


def acts_of(teardown: Teardown, thing: str, way: int = 0) -> tuple[ActRecord, ...]:
    """The acts of a way of a joint, or of a lift."""
    if thing in teardown.part:
        return teardown.part[thing].lift
    ways = ways_of(teardown, teardown.joint[thing])
    return ways[min(way, len(ways) - 1)].acts


def box_of(teardown: Teardown) -> list[str]:
    """Tools that lie there: laid out, used already, and the bare hand; the usual ones where none is laid out."""
    used = [act.tool for joint in teardown.joints if joint.kind != "screw" for way in joint.ways for act in way.acts]
    laid_out = [tool.id for tool in teardown.tools]
    return list(dict.fromkeys((*(laid_out or USUAL_BOX), HAND, *used)))


def next_in_box(teardown: Teardown, tool: str) -> str:
    """The tool after this one of those that lie there, round the box; the first where it does not."""
    box = box_of(teardown)
    return box[(box.index(tool) + 1) % len(box)] if tool in box else box[0]


def tell_in_passing(recorder: Recorder, text: str, *, pointed: str = "", spot: Spot | None = None) -> bool:
    """A fact told of what was pointed at; a small thing lies on the part there, else where one works."""
    told = understand_fact(text)
    chosen = recorder.selection.carrier if told.code == THING else recorder.selection.thing
    part = about_which(recorder.session.teardown, told, pointed, chosen) if told.code != THING or chosen or pointed \
        else ""
    done = recorder.do(tell_fact, told, part, recorder.selection.view if spot is not None else "", spot)
    if done is None:
        return False
    if told.hazard:
        recorder.say("hazard-told", alarm=True, thing=done.made, hazard=told.hazard)
    return True
