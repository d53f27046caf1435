"""Several devices beside each other: depth and time of the parts that matter, and why they differ from the first."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from msgspec import Struct

from oddbolt.comparing.causes import Causes, causes
from oddbolt.comparing.matching import Corrections, Matched, matched
from oddbolt.effort.sums import Interval, time_of
from oddbolt.search.planner import Make, Planner
from oddbolt.studies.retelling import GUESSED, known_without_plans


class Reached(Struct, frozen=True, kw_only=True):
    """A part of a device: None in place of steps where it cannot be taken off."""

    part: str
    steps: int | None
    time: Interval | None
    known: str = GUESSED


class Row(Struct, frozen=True, kw_only=True):
    """A part that matters in each device (None: it has none), and for each but the first why it differs from it."""

    role: str
    reached: tuple[Reached | None, ...]
    why: tuple[Causes | None, ...]


Told = Mapping[int, Corrections]  # by the place of a record: what was set right of its matching with the first


def matchings(planners: Sequence[Planner], told: Told | None = None) -> list[Matched]:
    """Each record but the first with the first."""
    first = planners[0].teardown
    return [matched(first, other.teardown, (told or {}).get(n)) for n, other in enumerate(planners[1:], start=1)]


def compared(make: Make, planners: Sequence[Planner], told: Told | None = None, *,
             with_causes: bool = True) -> list[Row]:
    """A row for each part with a role, those of the first in the order of its record, then those that only others have;
    all by the convention that `make` plans with."""
    first = planners[0]
    pairs = matchings(planners, told)
    rows = []
    for role, parts in _parts_by_row(planners, pairs):
        reached = tuple(None if part is None else _reached(planner, part) for planner, part in zip(planners, parts))
        why = tuple(_why(make, first, other, both, reached[0], one) if with_causes else None
                    for other, both, one in zip(planners[1:], pairs, reached[1:]))
        rows.append(Row(role=role, reached=reached, why=why))
    return rows


def _parts_by_row(planners: Sequence[Planner], pairs: Sequence[Matched]) -> list[tuple[str, list[str | None]]]:
    """What stands for what is told by the matching with the first; what the first has not, by the role."""
    number = len(planners)
    rows: list[tuple[str, list[str | None]]] = []
    for n, planner in enumerate(planners):
        for part in planner.teardown.parts:
            if not part.role or part.id not in planner.structure.present:
                continue
            row = None
            if n:
                like = pairs[n - 1].back.parts.get(part.id)
                row = next((row for row in rows if row[1][0] is not None and row[1][0] == like), None) or next(
                    (row for row in rows if row[1][0] is None and row[1][n] is None and row[0] == part.role[0]), None)
            if row is None:
                row = part.role[0], [None] * number
                rows.append(row)
                if not n:  # what stands for it may have no role in another record
                    for m, both in enumerate(pairs, start=1):
                        row[1][m] = both.parts.get(part.id)
            row[1][n] = part.id
    return rows


def _reached(planner: Planner, part: str) -> Reached:
    plan = planner.plan([part])
    count = plan.count
    if count is None:
        return Reached(part=part, steps=None, time=None)
    return Reached(part=part, steps=count.steps, time=time_of(count), known=known_without_plans(planner, plan))


def _why(make: Make, first: Planner, other: Planner, both: Matched, one: Reached | None,
         two: Reached | None) -> Causes | None:
    if one is None or two is None or one.steps is None or two.steps is None:
        return None
    return causes(make, first.teardown, other.teardown, (one.part, two.part), both)
