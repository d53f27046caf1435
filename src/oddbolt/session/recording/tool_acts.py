"""With what it was done, and how its fixing is left: one key for the act just done, the same again for the next."""

from __future__ import annotations

from oddbolt.catalog.defaults import ways_of
from oddbolt.model.things import HAND, REUSES, Teardown
from oddbolt.session.modes import Act
from oddbolt.session.recording.recorder import Recorder
from oddbolt.session.verbs import joints
from oddbolt.session.verbs.entries import last_act
from oddbolt.session.verbs.parts import set_parts

USUAL_BOX = ("spudger", "tweezers", "pick", "plug-lifter", "card")  # where none is laid out: common practice, no source


class ToolActs:
    """Holds nothing: what is meant is what was done last, or what is chosen."""

    def __init__(self, recorder: Recorder) -> None:
        self.recorder = recorder
        recorder.acts |= {Act.NEXT_TOOL: self.next_tool, Act.REUSE: self.next_reuse}

    def next_tool(self) -> bool:
        """The next tool of the box; of a release that of its last act."""
        recorder, thing = self.recorder, self._meant()
        teardown = recorder.session.teardown
        joint = teardown.joint.get(thing)
        if not thing or (joint is not None and joint.kind == "screw"):
            recorder.say("no-tool-to-change", alarm=True)
            return False
        now = teardown.part[thing].tool if joint is None else ways_of(teardown, joint)[0].acts[-1].tool
        box = box_of(teardown)
        tool = box[(box.index(now) + 1) % len(box)] if now in box else box[0]
        if joint is None:
            done = recorder.do(set_parts, [thing], tool=tool) is not None
        else:
            recorder.choose(thing)
            before = recorder.session.teardown
            recorder.set_tool(0, tool)
            done = recorder.session.teardown is not before
        if done:
            recorder.say("tool-now", thing=thing, tool=tool)
        return done

    def next_reuse(self) -> bool:
        """Used again, to be renewed, destroyed: the next of these."""
        recorder, thing = self.recorder, self._meant()
        joint = recorder.session.teardown.joint.get(thing)
        if joint is None:
            recorder.say("no-fixing-to-change", alarm=True)
            return False
        now = ways_of(recorder.session.teardown, joint)[0].reuse
        return recorder.do(joints.set_reuse, thing, 0, REUSES[(REUSES.index(now) + 1) % len(REUSES)]) is not None

    def _meant(self) -> str:
        """What is chosen, else what was done last."""
        teardown, chosen = self.recorder.session.teardown, self.recorder.selection.thing
        last = last_act(teardown)
        thing = chosen or (last.thing if last is not None else None) or ""
        return thing if thing in teardown.joint or thing in teardown.part else ""


def box_of(teardown: Teardown) -> list[str]:
    """Tools that lie there: laid out, used already, and the bare hand; the usual ones where none is laid out."""
    used = [act.tool for joint in teardown.joints if joint.kind != "screw" for way in joint.ways for act in way.acts]
    laid_out = [tool.id for tool in teardown.tools]
    return list(dict.fromkeys((*(laid_out or USUAL_BOX), HAND, *used)))
