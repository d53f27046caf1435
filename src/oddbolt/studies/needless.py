"""What the work as it was done came to for some parts, and what of it was needless for them."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct

from oddbolt.rules.counting import Count, count
from oddbolt.rules.device_state import Operation
from oddbolt.search.planner import Planner


class Needless(Struct, frozen=True, kw_only=True):
    """The work up to the last of the targets; operations that can help to none of them; the work without these."""

    until: Count
    needless: tuple[Operation, ...]
    without: Count

    @property
    def steps_lost(self) -> int:
        return self.until.steps - self.without.steps

    @property
    def time_lost_ms(self) -> int:
        return self.until.time_ms - self.without.time_ms


def needless_for(planner: Planner, operations: Sequence[Operation], targets: Sequence[str]) -> Needless | None:
    """None where the work did not take all targets off.

    An operation on a thing that can help on no way to any target is needless for them; leaving such out never breaks
    the rules, since nothing on the way mentions it (docs/methods/planning.md, What if).
    """
    wanted = {planner.structure.stand_in[part] for part in targets}
    places = {operation.part: n for n, operation in enumerate(operations) if operation.part in wanted}
    if not wanted or places.keys() != wanted:
        return None
    until = list(operations[:max(places.values()) + 1])
    helpful = frozenset().union(*(planner.helpful_things(part) for part in targets))
    kept = [o for o in until if (o.part or o.joint) in helpful]
    return Needless(until=_counted(planner, until), without=_counted(planner, kept),
                     needless=tuple(o for o in until if (o.part or o.joint) not in helpful))


def _counted(planner: Planner, operations: Sequence[Operation]) -> Count:
    return count(planner.structure, planner.convention, planner.times, operations)
