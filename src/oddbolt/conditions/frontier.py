"""What is at hand, carried from one set of done units to the next."""

from __future__ import annotations

from oddbolt.conditions.case import Case
from oddbolt.conditions.network import Condition, bits

Opening = tuple[int, int, Condition | None]  # the bit of a unit, what it needs, and what more it asks


class Frontier:
    """Units at hand by set of done units; each set is reached by `after` from one already known. Begins at nothing."""

    def __init__(self, case: Case) -> None:
        self._opens: dict[int, list[Opening]] = {n: [] for n in case.conditions}
        for n, condition in case.conditions.items():
            for m in bits(condition.mentions() & case.units):
                self._opens[m].append((1 << n, condition.need, None if condition.is_plain else condition))
        self.of = {0: sum(1 << n for n, condition in case.conditions.items() if condition.holds(0))}

    def opened(self, n: int, done: int) -> int:
        """What is at hand now that a unit has been done (`done` with it) and was not before, and perhaps more."""
        opened = 0
        for bit, need, rest in self._opens[n]:
            if not done & bit and done & need == need and (rest is None or rest.holds(done)):
                opened |= bit
        return opened

    def after(self, done: int, n: int) -> int:
        """The set with one unit more, which is at hand."""
        more = done | 1 << n
        if more not in self.of:
            self.of[more] = self.of[done] ^ 1 << n | self.opened(n, more)
        return more
