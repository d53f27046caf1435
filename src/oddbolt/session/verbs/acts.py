"""What a person says of the acts of a joint or a lift: tools, verbs, waits, what is done at once, further acts."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence

from msgspec.structs import replace

from oddbolt.catalog.defaults import ways_of
from oddbolt.catalog.tables import tool_ids
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Act, Teardown, Tool, Way
from oddbolt.session.verbs.plain import Done, change_joint, change_parts, joint_of, label_of


def change_way(teardown: Teardown, joint_id: str, way: int, change: Callable[[Way], Way]) -> Teardown:
    """The record with one way of a joint changed; a joint without ways of its own gets the catalogue's first."""
    ways = list(ways_of(teardown, joint_of(teardown, joint_id)))
    if not 0 <= way < len(ways):
        raise Refusal(joint_id, "needs-the-acts")
    ways[way] = change(ways[way])
    return change_joint(teardown, joint_id, lambda j: replace(j, ways=tuple(ways)))


def _change_act(teardown: Teardown, thing: str, way: int, act: int, change: Callable[[Act], Act]) -> Teardown:
    def changed(acts: tuple[Act, ...]) -> tuple[Act, ...]:
        if not 0 <= act < len(acts):
            raise Refusal(thing, "needs-the-acts")
        return (*acts[:act], change(acts[act]), *acts[act + 1:])

    return change_acts(teardown, thing, way, changed)


def change_acts(teardown: Teardown, thing: str, way: int, change: Callable[[tuple[Act, ...]], tuple[Act, ...]]) -> \
        Teardown:
    """The record with other acts of a way of a joint, or of the lift of a part."""
    if thing in teardown.part:
        return change_parts(teardown, [thing], lambda part: part.lifted_by(change(part.lift)))

    def changed(one: Way) -> Way:
        acts = change(one.acts)
        return replace(one, acts=acts, inline=len(acts) == 1 and (one.inline or len(one.acts) > 1))

    return change_way(teardown, thing, way, changed)


def set_wait(teardown: Teardown, thing: str, way: int, act: int, wait_s: float, wait_to_s: float | None = None) -> Done:
    """How long after an act it takes effect, seconds; a span where two figures were told. Counted is the shorter."""
    if wait_to_s is not None and wait_to_s < wait_s:
        wait_s, wait_to_s = wait_to_s, wait_s
    if wait_s < 0:
        raise Refusal(thing, "no-such-wait")
    if thing in teardown.part and act == len(teardown.part[thing].lift) - 1:
        raise Refusal(thing, "waits-when-off")
    to = wait_to_s if wait_to_s is not None and wait_to_s > wait_s else None
    after = _change_act(teardown, thing, way, act, lambda a: replace(a, wait_s=float(wait_s), wait_to_s=to))
    return Done(label_of("wait", teardown, thing, wait_s=wait_s, to_s=to or 0), after)


def set_at_once(teardown: Teardown, joint_id: str, way: int, act: int, at_once: bool) -> Done:
    """Whether an act follows the one before it with nothing between; refused for the first."""
    if act < 1:
        raise Refusal(joint_id, "first-act")
    after = _change_act(teardown, joint_id, way, act, lambda a: replace(a, at_once=at_once))
    return Done(label_of("at-once" if at_once else "not-at-once", teardown, joint_id), after)


def set_also(teardown: Teardown, thing: str, way: int, act: int, also: Sequence[str]) -> Done:
    """Tools that an act, or a lift, needs at the same time as its own."""
    tools = tuple(dict.fromkeys(also))
    after = _change_act(teardown, thing, way, act, lambda a: replace(a, also=tuple(t for t in tools if t != a.tool)))
    return Done(label_of("also" if tools else "no-also", teardown, thing, tools=list(tools)), after)


def set_verb(teardown: Teardown, thing: str, way: int, act: int, does: str) -> Done:
    """What is done in an act, or in a lift; an empty word: what is usual."""
    after = _change_act(teardown, thing, way, act, lambda a: replace(a, does=does))
    return Done(label_of("verb", teardown, thing, does=does), after)


def set_act_tool(teardown: Teardown, thing: str, way: int, act: int, tool: str) -> Done:
    """The tool of one act, or of a lift."""
    after = _change_act(teardown, thing, way, act, lambda a: replace(
        a, tool=tool, also=tuple(t for t in a.also if t != tool)))
    return Done(label_of("tool", teardown, thing, tool=tool), after)


def set_tools(teardown: Teardown, thing: str, way: int, tools: Sequence[str]) -> Done:
    """The tools of a way, or of a lift, one for each act. Acts that there were not wait for nothing; those left over
    go."""
    if not tools:
        raise Refusal(thing, "needs-the-acts")

    def told(acts: tuple[Act, ...]) -> tuple[Act, ...]:
        return tuple(replace(acts[n], tool=tool) if n < len(acts) else Act(tool=tool) for n, tool in enumerate(tools))

    after = change_acts(teardown, thing, way, told)
    return Done(label_of("tool", teardown, thing, tool=tools[-1]), after)


def add_act(teardown: Teardown, thing: str, way: int, tool: str, after: int | None = None) -> Done:
    """A further act, after one of a way or of a lift (negative: before all), or at its end; refused where the log names
    those after it by their numbers."""

    def more(acts: tuple[Act, ...]) -> tuple[Act, ...]:
        place = len(acts) if after is None else min(max(after, -1) + 1, len(acts))
        if place < len(acts):
            _refuse_numbered(teardown, thing)
        return (*acts[:place], Act(tool=tool), *acts[place:])

    return Done(label_of("add-act", teardown, thing, tool=tool), change_acts(teardown, thing, way, more))


def remove_act(teardown: Teardown, thing: str, way: int, act: int) -> Done:
    """Without one of the acts of a way or of a lift; refused for the only one, and where the log names them by their
    numbers."""

    def less(acts: tuple[Act, ...]) -> tuple[Act, ...]:
        if len(acts) < 2 or not 0 <= act < len(acts):
            raise Refusal(thing, "only-act")
        _refuse_numbered(teardown, thing)
        left = tuple(kept for n, kept in enumerate(acts) if n != act)
        if thing in teardown.part:
            left = (*left[:-1], replace(left[-1], wait_s=0.0, wait_to_s=None))  # it is off with it
        return (replace(left[0], at_once=False), *left[1:])

    return Done(label_of("remove-act", teardown, thing), change_acts(teardown, thing, way, less))


def _refuse_numbered(teardown: Teardown, thing: str) -> None:
    if any(entry.thing == thing and entry.act is not None for entry in teardown.log):
        raise Refusal(thing, "act-in-the-log")


def set_discard(teardown: Teardown, joint_id: str, way: int, discard: bool) -> Done:
    """Whether what held it is thrown away after this way."""
    after = change_way(teardown, joint_id, way, lambda one: replace(one, discard=discard))
    return Done(label_of("discard" if discard else "no-discard", teardown, joint_id), after)


def own_tool(teardown: Teardown, name: str) -> Done:
    """A tool that the catalogue does not know, by its name; one of that name is taken. `made` is its id."""
    said = " ".join(name.split())
    if not said:
        raise Refusal("tools", "needs-a-name")
    known = next((tool.id for tool in teardown.tools if said.lower() in (tool.name.lower(), tool.id.lower())), "")
    if known:
        return Done(label_of("own-tool", teardown, name=said), teardown, known)
    stem = re.sub(r"[^a-z0-9]+", "-", said.lower()).strip("-") or "tool"
    taken = {*tool_ids(), *(tool.id for tool in teardown.tools)}
    id_ = next(one for one in (stem, *(f"{stem}-{n}" for n in range(2, 1000))) if one not in taken)
    after = replace(teardown, tools=(*teardown.tools, Tool(id=id_, name=said)))
    return Done(label_of("own-tool", teardown, name=said), after, id_)
