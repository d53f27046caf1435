"""Why something can never come off: a smallest set of things whose constraints alone keep it in."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from msgspec import Struct

from oddbolt.rules.device_state import NEVER, DeviceState, Operation, apply_whole
from oddbolt.rules.structure import Alternatives, Structure


def never_free(structure: Structure) -> list[str]:
    """Parts that no sequence takes off, in file order."""
    state = done_all(structure)
    return [part for part in structure.removals if part not in state.removed]


def blocking_set(structure: Structure, targets: Iterable[str],
                 go_on: Callable[[], None] = lambda: None) -> tuple[str, ...]:
    """Part and joint ids, minimal by inclusion, in file order; the targets cannot all be freed.

    The targets stay blocked if the constraints of all other things are lifted, and not if those of any one of these
    are lifted too. A few things that block each other are followed from what is stuck; should lifting all others tear
    them apart, all things are the start. Then one thing after another is lifted for good, as long as the targets stay
    blocked. `go_on` is called now and then, and may raise.
    """
    targets = tuple(targets)
    ids = [thing.id for thing in (*structure.part.values(), *structure.joint.values())
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


def done_all(structure: Structure) -> DeviceState:
    """The state when everything has been done that can be."""
    state = DeviceState(structure)
    _release_all(state, frozenset())
    while movable := _movable(state, frozenset()):
        for part in movable:
            if not state.obstacles(Operation(part=part)):
                apply_whole(state, part)
        _release_all(state, frozenset())
    return state


def _block_each_other(state: DeviceState, goal: _Goal) -> frozenset[str]:
    """Stuck things, one of the goal's among them, each of which has all its ways shut by others of them."""
    waiting = [id_ for id_ in (*sorted(goal.parts), *sorted(goal.joints)) if state.is_in_place(id_)][:1]
    found = set(waiting)
    while waiting:
        more = _what_shuts(state, waiting.pop(), found) - found
        found |= more
        waiting.extend(sorted(more))
    return frozenset(found)


def _what_shuts(state: DeviceState, id_: str, found: set[str]) -> set[str]:
    """Things that keep a stuck thing in place; those already found where there is a choice."""
    structure = state.structure
    if id_ in structure.removals:
        inside = state.assembly(id_)
        ties = [_tie(structure, id_, tie, inside) for one in sorted(inside) for tie in structure.joints_of[one]
                if tie not in state.released and not structure.releases[tie].of <= inside]
        if ties:
            return min(ties, key=lambda tie: len(tie - found))
        return _shut(state, structure.removals[id_].behind, frozenset((id_,)), found)
    release = structure.releases[id_]
    if state.open_at(release.behind, release.of) is NEVER:
        return _shut(state, release.behind, release.of, found)
    return {name for behind in release.way_behind for name in _shut(state, behind, release.of, found)}


def _tie(structure: Structure, part: str, joint: str, inside: frozenset[str]) -> set[str]:
    """A joint that ties a part to what it does not carry, and the parts on it that would take the joint along."""
    chains = [set(structure.above[end]) - set(structure.above[part]) for end in structure.releases[joint].of
              if end in inside]
    return {joint, *min(chains, key=len)}


def _shut(state: DeviceState, behind: Alternatives, parts: frozenset[str], found: set[str]) -> set[str]:
    """For each alternative, all that could clear one of its entries."""
    shut: set[str] = set()
    for alternative in behind:
        options = [{entry.id} if entry.is_joint else set(state.structure.separators(entry.id, parts))
                   for entry in alternative if state.cleared_at(entry, parts) is NEVER]
        shut |= min(options, key=lambda option: len(option - found - shut))
    return shut


def can_free(structure: Structure, targets: tuple[str, ...], lifted: frozenset[str] = frozenset()) -> bool:
    """Whether all targets come off when the `lifted` things have no constraints.

    Without lifted things any order finds out. A part lifted against the rules can tear a joint apart, so that the order
    matters: few parts are tried in every order; many with whole assemblies first and with the highest parts first.
    """
    state = DeviceState(structure)
    goal = _Goal.of(structure, targets)
    _release_all(state, lifted)
    if lifted and len(structure.removals) <= FEW_PARTS:
        return _any_order_frees(state, goal, lifted, set())
    return _frees(state.copy(), goal, lifted, 1) or bool(lifted) and _frees(state, goal, lifted, -1)


FEW_PARTS = 7


class _Goal(Struct, frozen=True):
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

    def holds(self, state: DeviceState) -> bool:
        return self.parts <= state.removed.keys() and self.joints <= state.released.keys()


def _release_all(state: DeviceState, lifted: frozenset[str]) -> None:
    """Release every joint that can be, until none is left that can."""
    opened = True
    while opened:
        opened = [id_ for id_, release in state.structure.releases.items() if id_ not in state.released and (
            id_ in lifted or any(not state.obstacles(Operation(id_, way, 0)) for way in range(len(release.ways))))]
        for id_ in opened:
            state.released[id_] = 0


def _movable(state: DeviceState, lifted: frozenset[str]) -> list[str]:
    return [id_ for id_ in state.structure.removals if id_ not in state.removed
            and (id_ in lifted or not state.obstacles(Operation(part=id_)))]


def _frees(state: DeviceState, goal: _Goal, lifted: frozenset[str], direction: int) -> bool:
    above = state.structure.above
    while not goal.holds(state):
        movable = _movable(state, lifted)
        if not movable:
            return False
        part = min(movable, key=lambda id_: (id_ not in goal.parts if direction > 0 else id_ in lifted,
                                             direction * len(above[id_])))
        apply_whole(state, part)
        _release_all(state, lifted)
    return True


def _any_order_frees(state: DeviceState, goal: _Goal, lifted: frozenset[str],
                     seen: set[frozenset[frozenset[str]]]) -> bool:
    if goal.holds(state):
        return True
    assemblies = frozenset(assembly for assembly, _ in state.lifted)
    if assemblies in seen:
        return False
    seen.add(assemblies)
    for part in _movable(state, lifted):
        after = state.copy()
        apply_whole(after, part)
        _release_all(after, lifted)
        if _any_order_frees(after, goal, lifted, seen):
            return True
    return False
