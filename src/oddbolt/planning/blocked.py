"""Why something can never come off: a smallest set of things whose constraints alone keep it in."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from oddbolt.planning.bench import Bench, Operation
from oddbolt.planning.structure import Structure


def blocking_set(structure: Structure, targets: Iterable[str]) -> tuple[str, ...]:
    """Part and joint ids, minimal by inclusion, in file order; the targets cannot all be freed.

    The targets stay blocked if the constraints of all other things are lifted, and not if those of any one of these
    are lifted too. Found by lifting one thing after another for good, as long as the targets stay blocked.
    """
    targets = tuple(targets)
    teardown = structure.teardown
    kept = [thing.id for thing in (*teardown.parts, *teardown.joints)
            if thing.id in structure.removals or thing.id in structure.releases]
    everything = frozenset(kept)
    changed = True
    while changed:  # a second round, because a part lifted against the rules can leave a joint that ties another one
        changed = False
        for id_ in list(kept):
            if not can_free(structure, targets, everything.difference(kept) | {id_}):
                kept.remove(id_)
                changed = True
    return tuple(kept)


def can_free(structure: Structure, targets: tuple[str, ...], lifted: frozenset[str] = frozenset()) -> bool:
    """Whether all targets come off when the `lifted` things have no constraints.

    Without lifted things any order finds out. A part lifted against the rules can tear a joint apart, so that the order
    matters: few parts are tried in every order; many with whole assemblies first and with the highest parts first.
    """
    bench = Bench(structure)
    goal = _Goal.of(structure, targets)
    _release_all(bench, lifted)
    if lifted and len(structure.removals) <= FEW_PARTS:
        return _any_order_frees(bench, goal, lifted, set())
    return _frees(_copy(bench), goal, lifted, 1) or bool(lifted) and _frees(bench, goal, lifted, -1)


FEW_PARTS = 7


@dataclass(frozen=True, slots=True)
class _Goal:
    parts: frozenset[str]
    joints: frozenset[str]

    @classmethod
    def of(cls, structure: Structure, targets: Iterable[str]) -> _Goal:
        parts = {structure.stand_in[part] for part in targets}
        joints: set[str] = set()
        if structure.base in parts:
            parts = parts - {structure.base} | set(structure.freeing_the_base())
            joints = {id_ for id_, release in structure.releases.items() if structure.base in release.of}
        return cls(frozenset(parts), frozenset(joints))

    def holds(self, bench: Bench) -> bool:
        return self.parts <= bench.removed.keys() and self.joints <= bench.released.keys()


def _copy(bench: Bench) -> Bench:
    return Bench(bench.structure, removed=dict(bench.removed), lifted=list(bench.lifted),
                 released=dict(bench.released))


def _release_all(bench: Bench, lifted: frozenset[str]) -> None:
    """Release every joint that can be, until none is left that can."""
    opened = True
    while opened:
        opened = [id_ for id_, release in bench.structure.releases.items() if id_ not in bench.released and (
            id_ in lifted or any(not bench.obstacles(Operation(id_, way, 0)) for way in range(len(release.ways))))]
        for id_ in opened:
            bench.released[id_] = 0


def _movable(bench: Bench, lifted: frozenset[str]) -> list[str]:
    return [id_ for id_ in bench.structure.removals if id_ not in bench.removed
            and (id_ in lifted or not bench.obstacles(Operation(part=id_)))]


def _frees(bench: Bench, goal: _Goal, lifted: frozenset[str], direction: int) -> bool:
    above = bench.structure.above
    while not goal.holds(bench):
        movable = _movable(bench, lifted)
        if not movable:
            return False
        part = min(movable, key=lambda id_: (id_ not in goal.parts if direction > 0 else id_ in lifted,
                                             direction * len(above[id_])))
        bench.apply(Operation(part=part))
        _release_all(bench, lifted)
    return True


def _any_order_frees(bench: Bench, goal: _Goal, lifted: frozenset[str], seen: set[frozenset[frozenset[str]]]) -> bool:
    if goal.holds(bench):
        return True
    state = frozenset(assembly for assembly, _ in bench.lifted)
    if state in seen:
        return False
    seen.add(state)
    for part in _movable(bench, lifted):
        after = _copy(bench)
        after.apply(Operation(part=part))
        _release_all(after, lifted)
        if _any_order_frees(after, goal, lifted, seen):
            return True
    return False
