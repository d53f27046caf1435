"""Two records side by side: which parts stand for the same role, by one convention."""

from __future__ import annotations

from msgspec import Struct

from oddbolt.model.things import Teardown
from oddbolt.search.planner import Planner


class Comparison(Struct, frozen=True, kw_only=True):
    """Parts of two devices, pair by pair, and roles that only one of them has."""

    one: Planner
    other: Planner
    pairs: tuple[tuple[str, str], ...]
    lonely: tuple[str, ...]


def compare(one: Planner, other: Planner) -> Comparison:
    """Pairs of parts that have the same role and can be freed."""
    of_one, of_other = _by_role(one.teardown), _by_role(other.teardown)
    pairs = [(a, b) for role in sorted(of_one.keys() & of_other.keys()) for a, b in zip(of_one[role], of_other[role])]
    return Comparison(one=one, other=other, lonely=tuple(sorted(of_one.keys() ^ of_other.keys())), pairs=tuple(
        (a, b) for a, b in dict.fromkeys(pairs) if one.plan([a]).feasible and other.plan([b]).feasible))


def _by_role(teardown: Teardown) -> dict[str, list[str]]:
    found: dict[str, list[str]] = {}
    for part in teardown.parts:
        for role in part.role if teardown.is_present(part) else ():
            found.setdefault(role, []).append(part.id)
    return found
