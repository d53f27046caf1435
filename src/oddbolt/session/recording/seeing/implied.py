"""What no photograph shows, and what a part that came off tells all the same: that something held it.

A bond, a snap, a run of a cable: whoever lets photographs say what was done would have to record each by hand. Where
neither the record nor a photograph says what held a part, what held the last one of its kind is proposed, or what holds
one as a rule, and said as such.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from oddbolt.catalog.tables import PartKind, covering_kinds, mark_kinds, part_kinds
from oddbolt.knowledge.covering import contains
from oddbolt.knowledge.said.seen import HEADS, HELD, LIFTS, NEAR, OUT, SMALL, Outline, Seen, widened
from oddbolt.model.places import Spot, hull
from oddbolt.model.things import Joint, Teardown, View
from oddbolt.session.standing import is_next, lifted, released

HOLDS_NOTHING = ("connector", "swing", "charge")  # kinds of joint
SEEN_TO_HOLD = (OUT, HEADS, SMALL)  # what went where a part lay


def what_held(teardown: Teardown, before: View, lift: Seen, seen_about: Sequence[Seen],
              told: Mapping[str, str]) -> Seen | None:
    """The proposal, for something that came off; `seen_about` is what else went where it lay, on any photographs,
    `told` what was said, since the last take, to have held parts of a kind.

    None where it is of no kind yet, where something on record held it, or was undone there and belongs to nothing yet,
    and where something that may have held it was seen to go.
    """
    kind = lift.kind or (teardown.part[lift.thing].kind if lift.thing else "")
    row = row_of(kind)
    if lift.code not in LIFTS or row is None or any(_holds(one) for one in seen_about):
        return None
    if lift.thing and any(lift.thing in joint.of and joint.kind not in HOLDS_NOTHING for joint in teardown.joints):
        return None
    if any(_waits(teardown, joint, row.kind) and _lies_in(before, joint, lift.before) for joint in teardown.joints):
        return None
    by = told.get(row.kind) or _as_the_last(teardown, row.kind)
    held_by = row.held_by if by is None else by
    return Seen(code=HELD, thing=lift.thing, before=lift.before, after=lift.after, look=lift.look, kind=held_by,
                of_kind=row.kind) if held_by else None


def row_of(kind: str) -> PartKind | None:
    """The row of a kind of part, as it is named or as it stands in the record."""
    return next((row for row in part_kinds().values() if kind in (row.id, row.kind)), None)


def went_there(outline: Outline, place: Spot) -> bool:
    """Whether a place is about where a part lay."""
    return len(outline) > 2 and contains(widened(hull(outline), NEAR), place)


def _holds(one: Seen) -> bool:
    """Whether what was seen to go may have held the part: a plug does not."""
    return one.code in SEEN_TO_HOLD and not (
        one.code == SMALL and one.kind and mark_kinds()[one.kind].kind in HOLDS_NOTHING)


def _waits(teardown: Teardown, joint: Joint, kind: str) -> bool:
    """Undone, and of no part yet; films and cables lie across what is large, and do not hold it."""
    kinds = covering_kinds()
    if joint.kind in ("film", "routing") and kind in kinds.large | kinds.bulky:
        return False
    return joint.kind not in HOLDS_NOTHING and joint.id in released(teardown) and (
        joint.of[0] not in teardown.part or is_next(teardown.part[joint.of[0]]))


def _lies_in(view: View, joint: Joint, outline: Outline) -> bool:
    return any(mark.thing == joint.id and went_there(outline, (mark.x, mark.y)) for mark in view.marks)


def _as_the_last(teardown: Teardown, kind: str) -> str | None:
    """What held the part of this kind that came off last, a row of the kinds of joints: empty where screws did, or
    nothing; None where there is no such part."""
    last = next((id_ for id_ in reversed(list(lifted(teardown))) if id_ in teardown.part
                 and teardown.part[id_].kind == kind), "")
    if not last:
        return None
    held = [joint for joint in teardown.joints if last in joint.of and joint.kind not in HOLDS_NOTHING]
    if any(joint.kind == "screw" for joint in held) or not held:
        return ""
    return _marked_as(held[-1])


def _marked_as(joint: Joint) -> str:
    """The row that a joint was marked as."""
    rows = [row for row in mark_kinds().values() if row.kind == joint.kind]
    if joint.kind == "adhesive":
        is_pulled = bool(joint.ways) and [act.does for act in joint.ways[0].acts] == ["pull"]
        rows = [row for row in rows if ("pull" in row.types) == is_pulled]
    return rows[0].id if rows else ""
