"""Several devices beside each other: depth and time of parts of the same role, and why they differ from the first."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct

from oddbolt.comparing.causes import Causes, causes
from oddbolt.comparing.matching import Matched, matched
from oddbolt.effort.sums import Interval, time_of
from oddbolt.search.planner import Make, Planner


class Reached(Struct, frozen=True, kw_only=True):
    """A part of a device: None in place of steps where it cannot be taken off."""

    part: str
    steps: int | None
    time: Interval | None


class Row(Struct, frozen=True, kw_only=True):
    """A role in each device (None: it has none), and for each but the first why it differs from the first."""

    role: str
    reached: tuple[Reached | None, ...]
    why: tuple[Causes | None, ...]


def compared(make: Make, planners: Sequence[Planner]) -> list[Row]:
    """By role, in the order in which the records have them; all by the convention that `make` plans with."""
    first = planners[0]
    pairs = [matched(first.teardown, other.teardown) for other in planners[1:]]
    roles = dict.fromkeys(role for planner in planners for part in planner.teardown.parts for role in part.role)
    rows = []
    for role in roles:
        reached = tuple(_reached(planner, role) for planner in planners)
        why = tuple(_why(make, first, other, both, reached[0], one)
                    for other, both, one in zip(planners[1:], pairs, reached[1:]))
        rows.append(Row(role=role, reached=reached, why=why))
    return rows


def _reached(planner: Planner, role: str) -> Reached | None:
    """Of several parts with a role the one that takes most steps."""
    found = []
    for part in planner.teardown.parts:
        if role in part.role and part.id in planner.structure.present:
            count = planner.plan([part.id]).count
            found.append(Reached(part=part.id, steps=None if count is None else count.steps,
                                 time=None if count is None else time_of(count)))
    return max(found, key=lambda one: 1 << 30 if one.steps is None else one.steps, default=None)


def _why(make: Make, first: Planner, other: Planner, both: Matched, one: Reached | None,
         two: Reached | None) -> Causes | None:
    if one is None or two is None or one.steps is None or two.steps is None:
        return None
    return causes(make, first.teardown, other.teardown, (one.part, two.part), both)
