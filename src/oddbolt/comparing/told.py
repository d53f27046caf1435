"""A way that somebody told, held against the record and against the best one: what it left out, and so is too good;
what it does needlessly; what it does live."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct

from oddbolt.model.things import ToldWay
from oddbolt.rules.counting import Count, count
from oddbolt.rules.device_state import DeviceState, Operation, whole
from oddbolt.search.planner import Plan, Planner


class Held(Struct, frozen=True, kw_only=True):
    """What comes of a told way. `mended` is the way with what it left out put in where it was missing; None where even
    so it does not reach the part."""

    told: ToldWay
    best: Plan | None
    as_told: Count | None  # what the things that were told come to by themselves
    mended: Count | None
    left_out: tuple[str, ...]  # in the order in which it is met
    needless: tuple[str, ...]  # in the mended way: the part is reached without these too
    live: tuple[str, ...]
    out_of_order: tuple[str, ...]  # told before what must go first
    unknown: tuple[str, ...]  # nothing that is released or lifted here
    reaches: bool  # the part comes off at the end of what was told, with what was left out put in

    @property
    def is_too_good(self) -> bool:
        """Fewer steps than are possible: something was left out."""
        return bool(self.left_out)


def held(planner: Planner, told: ToldWay) -> Held:
    """Whatever was told gives an answer."""
    structure = planner.structure
    target = structure.stand_in.get(told.part)
    things = [structure.stand_in.get(thing, thing) for thing in told.things]
    known = [thing for thing in dict.fromkeys(things) if thing in structure.releases or thing in structure.removals]
    unknown = tuple(thing for thing in dict.fromkeys(told.things)
                    if structure.stand_in.get(thing, thing) not in known)
    if target in structure.removals and target not in known:
        known.append(target)  # whoever tells the way to a part means that it comes off in the end
    best = planner.plan([told.part]) if target is not None else None
    walk = _Walk(planner, known, best)
    reaches = target is not None and target in walk.state.removed
    operations = walk.operations
    counted = count(structure, planner.convention, planner.times, operations) if operations else None
    return Held(
        told=told, best=best, as_told=_alone(planner, known, walk), mended=counted if reaches else None,
        left_out=tuple(walk.left_out), out_of_order=tuple(walk.early), unknown=unknown, reaches=reaches,
        needless=_needless(planner, operations, target) if reaches and target is not None else (),
        live=_live(counted))


def _live(counted: Count | None) -> tuple[str, ...]:
    return tuple(dict.fromkeys(timed.operation.part or timed.operation.joint
                               for timed in (counted.timed if counted is not None else ()) if timed.live))


class _Walk:
    """Does what was told in its order; what is in the way of a thing is done first, whether it was told or not."""

    def __init__(self, planner: Planner, known: Sequence[str], best: Plan | None) -> None:
        self._structure, self._known = planner.structure, known
        self._ways = {operation.joint: operation.way for operation in (best.sequence if best is not None else ())
                      if operation.joint}
        self.state = DeviceState(planner.structure)
        self.operations: list[Operation] = []
        self.left_out: list[str] = []
        self.early: list[str] = []
        for thing in known:
            self._do(thing, frozenset())

    def _do(self, thing: str, waiting: frozenset[str]) -> bool:
        """Whether it is done in the end; `waiting` are things that wait for it."""
        if not self.state.is_in_place(thing):
            return True
        if thing in waiting or (thing not in self._structure.releases and thing not in self._structure.removals):
            return False
        for operation in self.of(thing):
            for _ in range(len(self._structure.releases) + len(self._structure.removals)):
                blocks = [self._structure.stand_in.get(one, one) for obstacle in self.state.obstacles(operation)
                          for one in obstacle.things if one != thing]
                if not self.state.obstacles(operation):
                    break
                first = next((one for one in blocks if self.state.is_in_place(one)), None)
                if first is None or not self._clear(thing, first, waiting):
                    return False
            else:
                return False
            self.state.apply(operation)
            self.operations.append(operation)
        return True

    def _clear(self, thing: str, first: str, waiting: frozenset[str]) -> bool:
        """What must go before a thing: told later, or not at all."""
        if not self._do(first, waiting | {thing}):
            return False
        if first not in self._known:
            self.left_out.append(first)
        elif thing in self._known and thing not in self.early:
            self.early.append(thing)
        return True

    def of(self, thing: str) -> list[Operation]:
        """A lift, or all acts of a joint: by the way of the best plan, else by its first."""
        return whole(self._structure, thing, self._ways.get(thing, 0))


def _alone(planner: Planner, known: Sequence[str], walk: _Walk) -> Count | None:
    """What was told comes to by itself, as if nothing had been left out."""
    operations = [operation for thing in known for operation in walk.of(thing)]
    return count(planner.structure, planner.convention, planner.times, operations) if operations else None


def _needless(planner: Planner, operations: Sequence[Operation], target: str) -> tuple[str, ...]:
    """What can be left away, one thing after the other, with the part still reached and no more done live."""
    structure, kept = planner.structure, list(operations)
    live = count(structure, planner.convention, planner.times, kept).live_acts
    found = []
    for thing in dict.fromkeys(one.part or one.joint for one in operations):
        if thing == target:
            continue
        rest = [one for one in kept if (one.part or one.joint) != thing]
        counted = count(structure, planner.convention, planner.times, rest)
        if not counted.obstacles and counted.live_acts <= live:
            found.append(thing)
            kept = rest
    return tuple(found)
