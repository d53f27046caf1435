"""Chains of units that must come one after another with something in between: how often a tool must be taken up."""

from __future__ import annotations

from oddbolt.conditions.case import Case
from oddbolt.conditions.network import bits


class Chains:
    """Required units of one tool (or one side), by the longest chain from each towards the goal.

    A unit's level is the length of the longest chain of such units, from it towards the goal, of which each two are
    parted: the first is in `parting`, or one of `breakers` must come between them in every sequence.
    """

    def __init__(self, case: Case, mine: int, breakers: int, parting: int = 0) -> None:
        self.mine = mine
        self.known: dict[int, int] = {}  # length of the longest chain left, by units of `mine` still to do
        self._breakers, self._must = breakers, case.must
        self._masks = self._levels(case, breakers, parting)  # deepest last

    def _levels(self, case: Case, breakers: int, parting: int) -> list[int]:
        must, after, mine = case.must, case.after, self.mine
        level: dict[int, int] = {}
        for u in sorted(bits(mine), key=lambda n: must[n].bit_count(), reverse=True):
            deepest, between = 1, after[u] & breakers & ~(1 << u)
            for v in bits(after[u] & mine & ~(1 << u)):
                deeper = level[v]
                if deeper >= deepest:
                    apart = parting >> u & 1 or must[v] & between & ~(1 << v)
                    deepest = max(deepest, deeper + bool(apart))
            level[u] = deepest
        masks = [0] * max(level.values(), default=0)
        for n, value in level.items():
            masks[value - 1] |= 1 << n
        return masks

    def longest(self, todo: int) -> int:
        """Length of the longest chain among units of `mine` still to do; kept in `known`."""
        length = len(self._masks)
        while length and not self._masks[length - 1] & todo:
            length -= 1
        self.known[todo] = length
        return length

    def goes_on(self, todo: int) -> bool:
        """Whether a run under way may take the first unit of every longest chain left; `todo` is all still to do."""
        length = self.longest(todo & self.mine)
        breakers = self._breakers & todo
        return bool(length) and not any(self._must[n] & breakers & ~(1 << n)
                                        for n in bits(self._masks[length - 1] & todo))
