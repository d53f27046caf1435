"""Why something can never come off: a smallest set of things whose constraints alone keep it in."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from oddbolt.planning.bench import NEVER, Bench, Operation
from oddbolt.planning.structure import Alternatives, Structure


def never_free(structure: Structure) -> list[str]:
    """Parts that no sequence takes off, in file order."""
    bench = done_all(structure)
    return [part for part in structure.removals if part not in bench.removed]


def blocking_set(structure: Structure, targets: Iterable[str],
                 go_on: Callable[[], None] = lambda: None) -> tuple[str, ...]:
    """Part and joint ids, minimal by inclusion, in file order; the targets cannot all be freed.

    The targets stay blocked if the constraints of all other things are lifted, and not if those of any one of these
    are lifted too. A few things that block each other are followed from what is stuck; should lifting all others tear
    them apart, all things are the start. Then one thing after another is lifted for good, as long as the targets stay
    blocked. `go_on` is called now and then, and may raise.
    """
    targets = tuple(targets)
    teardown = structure.teardown
    ids = [thing.id for thing in (*teardown.parts, *teardown.joints)
           if thing.id in structure.removals or thing.id in structure.releases]
    everything = frozenset(ids)
    few = _block_each_other(done_all(structure), _Goal.of(structure, targets))
    kept = [id_ for id_ in ids if id_ in few]
    if can_free(structure, targets, everything - few):
        kept = ids
    changed = True
    while changed:  # a second round, because a part lifted against the rules can leave a joint that ties another one
        changed = False
        for id_ in list(kept):
            go_on()
            if not can_free(structure, targets, everything.difference(kept) | {id_}):
                kept.remove(id_)
                changed = True
    return tuple(kept)


def done_all(structure: Structure) -> Bench:
    """The bench when everything has been done that can be."""
    bench = Bench(structure)
    _release_all(bench, frozenset())
    while movable := _movable(bench, frozenset()):
        for part in movable:
            if not bench.obstacles(Operation(part=part)):
                bench.apply(Operation(part=part))
        _release_all(bench, frozenset())
    return bench


def _block_each_other(bench: Bench, goal: _Goal) -> frozenset[str]:
    """Stuck things, one of the goal's among them, each of which has all its ways shut by others of them."""
    waiting = [id_ for id_ in (*sorted(goal.parts), *sorted(goal.joints)) if bench.is_in_place(id_)][:1]
    found = set(waiting)
    while waiting:
        more = _what_shuts(bench, waiting.pop(), found) - found
        found |= more
        waiting.extend(sorted(more))
    return frozenset(found)


def _what_shuts(bench: Bench, id_: str, found: set[str]) -> set[str]:
    """Things that keep a stuck thing in place; those already found where there is a choice."""
    structure = bench.structure
    if id_ in structure.removals:
        inside = bench.assembly(id_)
        ties = [_tie(structure, id_, tie, inside) for one in sorted(inside) for tie in structure.joints_of[one]
                if tie not in bench.released and not structure.releases[tie].of <= inside]
        if ties:
            return min(ties, key=lambda tie: len(tie - found))
        return _shut(bench, structure.removals[id_].behind, frozenset((id_,)), found)
    release = structure.releases[id_]
    if bench.open_at(release.behind, release.of) is NEVER:
        return _shut(bench, release.behind, release.of, found)
    return {name for behind in release.way_behind for name in _shut(bench, behind, release.of, found)}


def _tie(structure: Structure, part: str, joint: str, inside: frozenset[str]) -> set[str]:
    """A joint that ties a part to what it does not carry, and the parts on it that would take the joint along."""
    chains = [set(structure.above[end]) - set(structure.above[part]) for end in structure.releases[joint].of
              if end in inside]
    return {joint, *min(chains, key=len)}


def _shut(bench: Bench, behind: Alternatives, parts: frozenset[str], found: set[str]) -> set[str]:
    """For each alternative, all that could clear one of its entries."""
    shut: set[str] = set()
    for alternative in behind:
        options = [{entry.id} if entry.is_joint else set(bench.structure.separators(entry.id, parts))
                   for entry in alternative if bench.cleared_at(entry, parts) is NEVER]
        shut |= min(options, key=lambda option: len(option - found - shut))
    return shut


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
