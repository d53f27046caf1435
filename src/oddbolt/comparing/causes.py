"""Why a part lies deeper in one device than its like in another: found by taking what only one of them has out of it,
thing by thing, and planning again. What is told adds up to the difference; what is left over is said."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.comparing.facts import with_what
from oddbolt.comparing.matching import Matched
from oddbolt.model.snapshot import succeed
from oddbolt.model.things import Joint, Part, Teardown
from oddbolt.search.planner import Make, Planner
from oddbolt.studies.whatif import without

ONE, OTHER = "one", "other"
EXTRA, TOOL, BEHIND = "extra", "tool", "behind"  # only there; another tool; behind something else


class Cause(Struct, frozen=True, kw_only=True):
    """What one thing makes of the difference, in steps: above zero it makes the other device deeper."""

    side: str  # the record that the thing is of
    thing: str
    what: str
    steps: int


class Causes(Struct, frozen=True, kw_only=True):
    """Steps to the part in the one and in the other; causes and `remainder` add up to the difference exactly."""

    steps: tuple[int, int]
    causes: tuple[Cause, ...]
    remainder: int

    @property
    def difference(self) -> int:
        return self.steps[1] - self.steps[0]


def causes(make: Make, one: Teardown, other: Teardown, pair: tuple[str, str], both: Matched) -> Causes | None:
    """Of a pair of parts; None where one of them cannot be taken off."""
    first, second = make(one).plan([pair[0]]), make(other).plan([pair[1]])
    if first.count is None or second.count is None:
        return None
    found: list[Cause] = []
    ours, here = _bared(make, one, pair[0], set(both.parts) | set(both.joints), ONE, -1, found)
    theirs, there = _bared(make, other, pair[1], {*both.parts.values(), *both.joints.values()}, OTHER, 1, found)
    # What both have may be another tool, or lie behind something else: the one takes it over from the other.
    for what, taken_over in ((TOOL, _with_tools), (BEHIND, _with_behind)):
        for thing in list(both.joints) + (list(both.parts) if what == BEHIND else []):
            changed = taken_over(ours, theirs, thing, both)
            if changed is None:
                continue
            plan = make(changed).plan([pair[0]])
            if plan.count is None:
                continue
            if plan.count.steps != here:
                found.append(Cause(side=ONE, thing=thing, what=what, steps=plan.count.steps - here))
            ours, here = changed, plan.count.steps
    return Causes(steps=(first.count.steps, second.count.steps), causes=tuple(found), remainder=there - here)


def _bared(make: Make, record: Teardown, part: str, common: set[str], side: str, sign: int,
           found: list[Cause]) -> tuple[Teardown, int]:
    """The record without what only it has on the way to a part, and the steps that are left."""
    planner = make(record)
    plan = planner.plan([part])
    assert plan.count is not None
    steps = plan.count.steps
    while True:
        extra = next((thing for thing in _on_the_way(planner, part) if thing not in common and thing != part), None)
        if extra is None:
            return record, steps
        common = common | {extra}
        changed = without(record, extra)
        after = make(changed)
        if part not in after.structure.stand_in:
            continue
        plan = after.plan([part])
        if plan.count is None:
            continue
        if plan.count.steps != steps:
            found.append(Cause(side=side, thing=extra, what=EXTRA, steps=sign * (steps - plan.count.steps)))
        record, planner, steps = changed, after, plan.count.steps


def _on_the_way(planner: Planner, part: str) -> list[str]:
    return list(dict.fromkeys(op.part or op.joint for op in planner.plan([part]).sequence))


def _with_tools(ours: Teardown, theirs: Teardown, thing: str, both: Matched) -> Teardown | None:
    """The thing with the ways, or the lift, of its like; None where they are the same."""
    part, like_part = ours.part.get(thing), theirs.part.get(both.parts.get(thing, ""))
    if part is not None and like_part is not None:
        same = with_what(part.lift) == with_what(like_part.lift)
        return None if same else _put(ours, part.lifted_by(like_part.lift))
    joint, like = ours.joint.get(thing), theirs.joint.get(both.joints.get(thing, ""))
    if joint is None or like is None or [with_what(way.acts) for way in joint.ways] == [
            with_what(way.acts) for way in like.ways]:
        return None
    ways = tuple(replace(way, behind=()) for way in like.ways)
    return _put(ours, replace(joint, ways=ways, fastener=joint.fastener if like.fastener else None))


def _with_behind(ours: Teardown, theirs: Teardown, thing: str, both: Matched) -> Teardown | None:
    """The thing behind what its like is behind, as far as that has a like; None where it is so already."""
    like_id = both.joints.get(thing) or both.parts.get(thing, "")
    own = ours.joint.get(thing) or ours.part.get(thing)
    like = theirs.joint.get(like_id) or theirs.part.get(like_id)
    if own is None or like is None:
        return None
    back = both.back
    names = {**back.parts, **back.joints}
    behind = tuple(tuple(names[name] for name in names_ if name in names) for names_ in like.behind)
    mine = tuple(tuple(name for name in names_ if name in both.parts or name in both.joints) for names_ in own.behind)
    same: Callable[[tuple[tuple[str, ...], ...]], set[frozenset[str]]] = lambda rows: set(map(frozenset, rows))  # noqa: E731
    if same(behind) == same(mine) or any(thing in row for row in behind):
        return None
    return _put(ours, replace(own, behind=behind))


def _put(record: Teardown, thing: Part | Joint) -> Teardown:
    name = "joints" if isinstance(thing, Joint) else "parts"
    rows = tuple(thing if one.id == thing.id else one for one in getattr(record, name))
    return succeed(replace(record, **{name: rows}), record)
