"""Reach and replace: what must come off to put a new part in, where the spare brings some of its parts along."""

from __future__ import annotations

from msgspec import Struct

from oddbolt.model.things import Part
from oddbolt.search.planner import Plan, Planner


class Replacement(Struct, frozen=True, kw_only=True):
    """Removals for a replacement. A range where it is not recorded what the spare includes."""

    targets: tuple[str, ...]  # all that must come off if the spare brings nothing it is not known to bring
    few: Plan  # if the spare brings along everything that is not known
    many: Plan  # if it brings along nothing that is not known


def replacement(planner: Planner, part: str, objective: str) -> Replacement:
    """Remove the part and, from it, every part mounted on it that the spare does not include."""
    structure = planner.structure
    record: Part = structure.part[structure.stand_in[part]]
    mounted = [id_ for id_, above in structure.above.items() if record.id in above and id_ != record.id]
    if record.id == structure.base:
        mounted = []
    included = record.spare.includes if record.spare else None
    if included is None:
        few, many = [], mounted
    else:
        few = many = [id_ for id_ in mounted if not _comes_along(structure.above[id_], record.id, set(included))]
    return Replacement(targets=(part, *many), few=planner.plan((part, *few), objective),
                       many=planner.plan((part, *many), objective))


def _comes_along(above: frozenset[str], carrier: str, included: set[str]) -> bool:
    """A part comes with the spare when it, or what it lies on between it and the spare, is included."""
    return bool((above - {carrier}) & included)
