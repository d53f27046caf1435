"""The least kit: the fewest and simplest tools with which a part can be reached at all, however long that takes."""

from __future__ import annotations

from collections.abc import Callable, Collection

from oddbolt.rules.device_state import DeviceState, Operation, act_of, apply_whole, whole
from oddbolt.rules.structure import Structure

HAND = "hand"


def tools_needed(structure: Structure, operation: Operation) -> frozenset[str]:
    """Tools of an operation, further ones included, the bare hand left out."""
    act = act_of(structure, operation)
    return frozenset((act.tool, *act.also)) - {HAND}


def _of_whole(structure: Structure, thing: str, way: int = 0) -> frozenset[str]:
    """Tools of a lift, or of a way of a joint."""
    return frozenset().union(*(tools_needed(structure, operation) for operation in whole(structure, thing, way)))


def can_free_with(structure: Structure, part: str, tools: Collection[str]) -> bool:
    """Whether a part comes off with these tools and bare hands.

    The rules of access are monotone: doing all that can be done, in any order, finds out (docs/methods/planning.md).
    """
    target, allowed, state = structure.stand_in[part], frozenset(tools), DeviceState(structure)
    ways = {id_: [way for way in range(len(release.ways)) if _of_whole(structure, id_, way) <= allowed]
            for id_, release in structure.releases.items()}
    parts = [id_ for id_ in structure.removals if _of_whole(structure, id_) <= allowed]
    while target not in state.removed:
        opened = [id_ for id_, own in ways.items() if id_ not in state.released
                  and any(not state.obstacles(Operation(id_, way, 0)) for way in own)]
        for id_ in opened:
            state.released[id_] = 0
        lifted = [id_ for id_ in parts if id_ not in state.removed and not state.obstacles(Operation(part=id_))]
        for id_ in lifted:
            apply_whole(state, id_)
        if not opened and not lifted:
            return False
    return True


def least_kit(structure: Structure, part: str, rank: Callable[[str], int]) -> list[str] | None:
    """Tools of which none can be left out, those of the highest rank avoided first; None where it never comes off.

    `rank` is how hard a tool is to come by. All of the highest rank are left out together where that can be, else one
    by one; then the next rank. So no kit does without a rank that this one needs.
    """
    kit = {tool for id_, release in structure.releases.items() for way in range(len(release.ways))
           for tool in _of_whole(structure, id_, way)}
    kit |= {tool for id_ in structure.removals for tool in _of_whole(structure, id_)}
    if part not in structure.stand_in or structure.stand_in[part] not in structure.removals \
            or not can_free_with(structure, part, kit):
        return None
    for level in sorted({rank(tool) for tool in kit}, reverse=True):
        own = sorted(tool for tool in kit if rank(tool) == level)
        if can_free_with(structure, part, kit.difference(own)):
            kit.difference_update(own)
            continue
        for tool in own:
            if can_free_with(structure, part, kit - {tool}):
                kit.discard(tool)
    return sorted(kit, key=lambda tool: (rank(tool), tool))
