"""The operations of a structure as bits, and access as conditions over them: what the searches work on.

A *unit* is what is done in one go: the acts of a way that are joined by `at_once`, or one removal. A condition holds
in a set of done units. All conditions are monotone (more done never closes anything), so the sets that can be reached
are closed under union, and greedy closure finds everything that can ever be done.
"""

from __future__ import annotations

import copy
from collections import deque
from collections.abc import Callable, Container, Iterable, Iterator, Mapping

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.rules.counting import ActKind, Convention, kind_of
from oddbolt.rules.device_state import Operation, whole
from oddbolt.rules.structure import Alternatives, Release, Structure
from oddbolt.rules.times import ActiveTimes

ALL = -1  # every bit
MANY = 400  # units above which a table of bits is turned as a whole


class Stopped(Exception):
    """A search was given up from outside; nothing is kept of it."""


Clause = tuple[int, tuple[int, ...]]  # all bits of the first, and one bit of each of the others


def bits(mask: int) -> Iterator[int]:
    """Positions of the set bits, lowest first."""
    while mask:
        low = mask & -mask
        yield low.bit_length() - 1
        mask ^= low


class Condition(Struct, frozen=True):
    """All of `need`, one of each of `anys`, and of each of `ors` at least one clause."""

    need: int = 0
    anys: tuple[int, ...] = ()
    ors: tuple[tuple[Clause, ...], ...] = ()

    def holds(self, done: int) -> bool:
        if done & self.need != self.need:
            return False
        for mask in self.anys:
            if not done & mask:
                return False
        for clauses in self.ors:
            for need, anys in clauses:
                if done & need == need and all(done & mask for mask in anys):
                    break
            else:
                return False
        return True

    @property
    def is_plain(self) -> bool:
        """Whether it asks for nothing but `need`."""
        return not self.anys and not self.ors

    def mentions(self) -> int:
        """Every bit that can help."""
        mask = self.need
        for any_mask in self.anys:
            mask |= any_mask
        for clauses in self.ors:
            for need, anys in clauses:
                mask |= need
                for any_mask in anys:
                    mask |= any_mask
        return mask

    def given(self, done: int) -> Condition:
        """What is left to ask where some units are taken for done."""
        if not self.mentions() & done:
            return self
        ors = []
        for clauses in self.ors:
            left = tuple((need & ~done, tuple(mask for mask in anys if not mask & done)) for need, anys in clauses)
            if all(need or anys for need, anys in left):
                ors.append(left)
        anys = tuple(mask for mask in self.anys if not mask & done)
        return Condition(self.need & ~done, anys, tuple(ors)).within(ALL)

    def within(self, allowed: int) -> Condition:
        """The same condition where only `allowed` units can ever be done."""
        need, anys, ors = self.need, [], []
        for mask in self.anys:
            need, anys = _fold(need, anys, mask & allowed)
        for clauses in self.ors:
            kept = []
            for clause_need, clause_anys in clauses:
                if clause_need & ~allowed or not all(mask & allowed for mask in clause_anys):
                    continue
                one, rest = clause_need, []
                for mask in clause_anys:
                    one, rest = _fold(one, rest, mask & allowed)
                kept.append((one, tuple(rest)))
            kept = _weakest(kept)
            if len(kept) == 1:
                need |= kept[0][0]
                anys.extend(kept[0][1])
            else:
                ors.append(tuple(kept))
        anys = [mask for mask in dict.fromkeys(anys) if not mask & need]
        ors = [clauses for clauses in ors if not any(n & ~need == 0 and not a for n, a in clauses)]
        return Condition(need, tuple(anys), tuple(ors))


def _fold(need: int, anys: list[int], mask: int) -> tuple[int, list[int]]:
    """Add "one of mask": a single bit is simply needed, an empty mask can never hold and stays to say so."""
    if mask and mask & (mask - 1) == 0:
        return need | mask, anys
    return need, [*anys, mask]


def _weakest(clauses: list[Clause]) -> list[Clause]:
    """The clauses without those that hold only where another one holds anyway."""
    kept: list[Clause] = []
    for clause in clauses:
        if not any(_implies(clause, other) for other in kept):
            kept = [other for other in kept if not _implies(other, clause)]
            kept.append(clause)
    return kept


def _implies(stronger: Clause, weaker: Clause) -> bool:
    """Whether holding of the first clause forces the second to hold (then the first is not needed beside it)."""
    need, anys = stronger
    weak_need, weak_anys = weaker
    return not weak_need & ~need and all(
        mask & need or any(other & ~mask == 0 for other in anys) for mask in weak_anys)


class Unit(Struct, frozen=True, kw_only=True):
    """What is done in one go."""

    operations: tuple[Operation, ...]
    kinds: tuple[ActKind, ...]
    condition: Condition
    excludes: int  # units of the same joint's other ways
    joint: str  # empty for a removal
    way: int
    is_removal: bool
    needs_safe: bool  # counts as live when done before the device is safe
    is_last: bool  # last of its way: done means released

    @property
    def thing(self) -> str:
        """The joint or part it is about."""
        return self.joint or self.operations[0].part


class Network:
    """All units of a structure under a convention, in the order in which they are preferred (the log's, then the
    file's)."""

    def __init__(self, structure: Structure, convention: Convention, times: ActiveTimes,
                 prefer: Iterable[str] = (), held: Container[tuple[str, int]] = (),
                 stop: Callable[[], bool] | None = None) -> None:
        """`held`: (joint, way) that a plan does without where it can. Raises Stopped where `stop` says so."""
        self.structure = structure
        self.convention = convention
        self.units: list[Unit] = []
        self.stop = stop  # asked now and then, here and by the searches
        self.gone = 0  # units of what is left out: taken for done, and done no more
        rank = {id_: n for n, id_ in reversed(list(enumerate(prefer)))}
        ids = sorted((*structure.releases, *structure.removals), key=lambda id_: rank.get(id_, len(rank)))
        blank: list[tuple[str, int, tuple[Operation, ...], bool]] = []
        self.released_by: dict[str, int] = {}  # joint -> mask of the last units of its ways
        self.removed_by: dict[str, int] = {}  # part -> its bit
        for id_ in ids:
            for way, operations, is_last in self._runs(id_):
                if way < 0:
                    self.removed_by[id_] = 1 << len(blank)
                elif is_last:
                    self.released_by[id_] = self.released_by.get(id_, 0) | 1 << len(blank)
                blank.append((id_, way, operations, is_last))
        self._read_units(blank, times)
        self.safe = self._safe_condition()
        self.isolates_first = convention.settings.isolate_first and bool(structure.sources)
        self.held = {n: (unit.joint, unit.way) for n, unit in enumerate(self.units) if (unit.joint, unit.way) in held}

    def changed(self, structure: Structure, *, gone: int = 0, conditions: Mapping[int, Condition] | None = None,
                kinds: Mapping[int, tuple[ActKind, ...]] | None = None) -> Network:
        """The network of a structure that differs in little: units taken for done, other conditions, other kinds. Units
        keep their numbers."""
        made = copy.copy(self)
        made.structure, made.gone = structure, self.gone | gone
        conditions, kinds = conditions or {}, kinds or {}
        made.units = [_as_changed(unit, conditions.get(n, unit.condition).given(gone), kinds.get(n, unit.kinds))
                      for n, unit in enumerate(self.units)]
        made.safe = self.safe.given(gone)
        return made

    @property
    def usable(self) -> Iterator[tuple[int, Unit]]:
        """Units with their numbers, without those of what is left out."""
        return ((n, unit) for n, unit in enumerate(self.units) if not self.gone >> n & 1)

    def go_on(self) -> None:
        """Raise Stopped where the search is to be given up."""
        if self.stop is not None and self.stop():
            raise Stopped

    def _runs(self, id_: str) -> Iterator[tuple[int, tuple[Operation, ...], bool]]:
        """The units of a joint or part: (way or -1, operations, whether it is the last of its way)."""
        if id_ in self.structure.removals:
            yield -1, tuple(whole(self.structure, id_)), True
            return
        for n, way in enumerate(self.structure.releases[id_].ways):
            runs: list[list[Operation]] = []
            for k, act in enumerate(way.acts):
                if k and act.at_once:
                    runs[-1].append(Operation(id_, n, k))
                else:
                    runs.append([Operation(id_, n, k)])
            for k, run in enumerate(runs):
                yield n, tuple(run), k == len(runs) - 1

    def _read_units(self, blank: list[tuple[str, int, tuple[Operation, ...], bool]], times: ActiveTimes) -> None:
        of_joint: dict[str, int] = {}
        of_way: dict[tuple[str, int], int] = {}
        for n, (id_, way, _, _) in enumerate(blank):
            of_joint[id_] = of_joint.get(id_, 0) | 1 << n
            of_way[id_, way] = of_way.get((id_, way), 0) | 1 << n
        previous: tuple[str, int] | None = None
        for n, (id_, way, operations, is_last) in enumerate(blank):
            if not n % 100:
                self.go_on()
            if way < 0:
                condition, needs_safe = self._removal_condition(id_), self.structure.removals[id_].needs_safe
            elif previous == (id_, way):
                condition, needs_safe = Condition(1 << (n - 1)), False
            else:
                release = self.structure.releases[id_]
                condition, needs_safe = self.release_condition(release, way), release.needs_safe
            previous = (id_, way)
            kinds = tuple(kind_of(self.structure, self.convention, times, operation) for operation in operations)
            self.units.append(Unit(operations=operations, kinds=kinds, condition=condition,
                                   excludes=of_joint[id_] & ~of_way[id_, way], joint="" if way < 0 else id_, way=way,
                                   is_removal=way < 0, needs_safe=needs_safe, is_last=is_last))

    # -- conditions

    def release_condition(self, release: Release, way: int) -> Condition:
        """What must be done before the first act of a way; the release may be one that is not yet in the structure."""
        return self._all_of((release.behind, release.way_behind[way]), release.of)

    def _removal_condition(self, part: str) -> Condition:
        removal = self.structure.removals[part]
        base = self._all_of((removal.behind,), frozenset((part,)))
        need, anys = base.need, list(base.anys)
        for tie in removal.ties:
            need, anys = _fold(need, anys, self.released_by[tie])
        return Condition(need, tuple(anys), base.ors)

    def _all_of(self, behinds: Iterable[Alternatives], parts: frozenset[str]) -> Condition:
        ors = []
        for behind in behinds:
            if behind:
                clauses = []
                for alternative in behind:
                    need, anys = 0, []
                    for entry in alternative:
                        need, anys = _fold(need, anys, self._clears(entry.id, entry.is_joint, parts))
                    clauses.append((need, tuple(anys)))
                ors.append(tuple(clauses))
        return Condition(0, (), tuple(ors)).within(ALL)

    def _clears(self, id_: str, is_joint: bool, parts: frozenset[str]) -> int:
        if is_joint:
            return self.released_by[id_]
        mask = 0
        for part in self.structure.separators(id_, parts):
            mask |= self.removed_by[part]
        return mask

    def _safe_condition(self) -> Condition:
        need, anys = 0, []
        for ids in self.structure.sources.values():
            mask = 0
            for id_ in ids:
                mask |= self.released_by.get(id_, 0) | self.removed_by.get(id_, 0)
            need, anys = _fold(need, anys, mask)
        return Condition(need, tuple(anys))

    # -- goals and closures

    def goal_of(self, parts: Iterable[str]) -> Condition:
        """Done when all these parts are off."""
        goals = [self.goal(part) for part in parts]
        need = 0
        for goal in goals:
            need |= goal.need
        return Condition(need, tuple(mask for goal in goals for mask in goal.anys)).within(ALL).given(self.gone)

    def goal(self, part: str) -> Condition:
        """Done when this part is off: itself, its carrier if it is captive, or the base bared."""
        part = self.structure.stand_in[part]
        if part == self.structure.base:
            need, anys = 0, []
            for child in self.structure.freeing_the_base():
                need |= self.removed_by[child]
            for id_, release in self.structure.releases.items():
                if part in release.of:
                    need, anys = _fold(need, anys, self.released_by[id_])
            return Condition(need, tuple(anys))
        return Condition(self.removed_by[part])


def _as_changed(unit: Unit, condition: Condition, kinds: tuple[ActKind, ...]) -> Unit:
    if condition is unit.condition and kinds is unit.kinds:
        return unit
    return replace(unit, condition=condition, kinds=kinds)


def closure(conditions: Mapping[int, Condition]) -> int:
    """Everything that can ever be done under these conditions; ways do not shut each other out here."""
    done = 0
    for n in reach_order(conditions):
        done |= 1 << n
    return done


def reach_order(conditions: Mapping[int, Condition]) -> list[int]:
    """Everything that can ever be done, in an order in which it can; each unit is looked at when one it mentions is."""
    opens: dict[int, list[int]] = {}
    for n, condition in conditions.items():
        for m in bits(condition.mentions()):
            opens.setdefault(m, []).append(n)
    done, order = 0, []
    waiting = deque(n for n, condition in conditions.items() if condition.holds(0))
    while waiting:
        n = waiting.popleft()
        if done >> n & 1:
            continue
        done |= 1 << n
        order.append(n)
        waiting.extend(m for m in opens.get(n, ()) if not done >> m & 1 and conditions[m].holds(done))
    return order


def relevant(conditions: Mapping[int, Condition], goal: Condition) -> int:
    """Units that can help towards the goal."""
    found, waiting = 0, goal.mentions()
    while waiting:
        found |= waiting
        more = 0
        for n in bits(waiting):
            if n in conditions:
                more |= conditions[n].mentions()
        waiting = more & ~found
    return found


def musts(conditions: Mapping[int, Condition]) -> dict[int, int]:
    """For each unit, all units (itself included) that come no later than it in every sequence that does it.

    Greatest fixpoint of: a unit, all that each thing it needs must have, and what all its alternatives have in common.
    The units must be reachable.
    """
    everything = 0
    for n in conditions:
        everything |= 1 << n
    must = dict.fromkeys(conditions, everything)
    changed = True
    while changed:
        changed = False
        for n, condition in conditions.items():
            mask = 1 << n | must_of(condition, must, everything)
            if mask != must[n]:
                must[n] = mask
                changed = True
    return must


def transposed(masks: Mapping[int, int]) -> dict[int, int]:
    """For each unit, the units whose mask has it."""
    if len(masks) < MANY:
        found = dict.fromkeys(masks, 0)
        for n, mask in masks.items():
            for m in bits(mask):
                found[m] |= 1 << n
        return found
    import numpy as np  # loaded only for what needs it: a device of usual size starts without

    size = max(masks, default=-1) + 1
    width = (size + 7) // 8
    rows = b"".join(masks.get(n, 0).to_bytes(width, "little") for n in range(size))
    table = np.unpackbits(np.frombuffer(rows, np.uint8).reshape(size, width), axis=1, count=size, bitorder="little")
    columns = np.packbits(table.T, axis=1, bitorder="little")
    return {n: int.from_bytes(columns[n].tobytes(), "little") for n in masks}


def must_of(condition: Condition, must: Mapping[int, int], everything: int) -> int:
    mask = 0
    for n in bits(condition.need):
        mask |= must[n]
    for any_mask in condition.anys:
        mask |= _common(any_mask, must, everything)
    for clauses in condition.ors:
        shared = everything
        for need, anys in clauses:
            one = 0
            for n in bits(need):
                one |= must[n]
            for any_mask in anys:
                one |= _common(any_mask, must, everything)
            shared &= one
        mask |= shared
    return mask


def _common(any_mask: int, must: Mapping[int, int], everything: int) -> int:
    shared = everything
    for n in bits(any_mask):
        shared &= must[n]
    return shared
