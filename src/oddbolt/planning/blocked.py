"""Why something can never come off: a smallest set of things whose constraints alone keep it in."""

from __future__ import annotations

from collections.abc import Iterable

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

    Without lifted things any order finds out. A part lifted against the rules can tear a joint apart, so that the
    order matters: whole assemblies first, or the highest parts first, each with the targets before the others.
    """
    outside_in = _frees(structure, targets, lifted, 1)
    return outside_in or bool(lifted) and _frees(structure, targets, lifted, -1)


def _frees(structure: Structure, targets: tuple[str, ...], lifted: frozenset[str], direction: int) -> bool:
    """Release all that can be, take a target if possible, else one more part, and again."""
    bench = Bench(structure)
    waiting_joints = set(structure.releases)
    waiting_parts = set(structure.removals)
    wanted = {structure.stand_in[part] for part in targets}
    joints: set[str] = set()
    if structure.base in wanted:
        wanted = wanted - {structure.base} | set(structure.freeing_the_base())
        joints = {id_ for id_, release in structure.releases.items() if structure.base in release.of}
    while True:
        opened = {id_ for id_ in waiting_joints if id_ in lifted or _some_way_open(bench, id_)}
        for id_ in opened:
            bench.released[id_] = 0
        waiting_joints -= opened
        if wanted <= bench.removed.keys() and joints <= bench.released.keys():
            return True
        movable = [id_ for id_ in waiting_parts if id_ in lifted or not bench.obstacles(Operation(part=id_))]
        if movable:
            part = min(movable, key=lambda id_: (id_ not in wanted if direction > 0 else id_ in lifted,
                                                 direction * len(structure.above[id_]), id_))
            bench.apply(Operation(part=part))
            waiting_parts.discard(part)
        elif not opened:
            return False


def _some_way_open(bench: Bench, joint: str) -> bool:
    ways = len(bench.structure.releases[joint].ways)
    return any(not bench.obstacles(Operation(joint, way, 0)) for way in range(ways))
