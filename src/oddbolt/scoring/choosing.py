"""What a score stands on that is not known for certain, and how it is settled while points are given.

Points are worked out again and again, each time with every open matter settled in some way; whoever gives points asks a
`Chooser` and need not know which it is.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from msgspec import Struct

# Kinds of source: an answer that is missing, a role that no part has, a row of a table that is not high, whether a
# spare brings a fixing, the class of a tool, a depth that is only bounded, an estimate of time; then what is settled
# outside: access that is assumed, and what a text is silent on.
ANSWER, NO_PART, ROW, TIE, TOOL, BOUND, ESTIMATE = "answer", "no-part", "row", "tie", "tool", "bound", "estimate"
ACCESS, SILENT = "access", "silent"
LIMITS = "limits"  # name of the row that stands for the limits of a whole table


class Source(Struct, frozen=True, kw_only=True):
    """A matter that may be one way or another."""

    kind: str
    criterion: str = ""
    role: str = ""
    things: tuple[str, ...] = ()
    name: str = ""  # of a row, or of what a text is silent on


class Chooser:
    """Settles each matter: as it is given where it is, else at one end of its levels, which go from worst to best."""

    def __init__(self, readings: Mapping[str, Any], *, best: bool) -> None:
        self._readings = readings
        self._best = best

    def __call__(self, source: Source, levels: Sequence[Any], given: Any = None) -> Any:
        if given is not None:
            return given
        return levels[-1] if self._best else levels[0]

    def reading(self, name: str) -> Any:
        """How a text that is silent on something is read; None where the method does not name it."""
        return self._readings.get(name)


class AllOver(Chooser):
    """At one end of everything, what is given but not certain included."""

    def __call__(self, source: Source, levels: Sequence[Any], given: Any = None) -> Any:
        return levels[-1] if self._best else levels[0]


class Picked(Chooser):
    """As it was picked, by place among the levels; else as known."""

    def __init__(self, readings: Mapping[str, Any], picks: Mapping[Source, int], *, best: bool) -> None:
        super().__init__(readings, best=best)
        self._picks = picks

    def __call__(self, source: Source, levels: Sequence[Any], given: Any = None) -> Any:
        place = self._picks.get(source)
        if place is None:
            return super().__call__(source, levels, given)
        return levels[min(place, len(levels) - 1)]


class Noting(Chooser):
    """As known, and notes what was asked: the levels of each matter, and which of them is given (None: it is open)."""

    def __init__(self, readings: Mapping[str, Any]) -> None:
        super().__init__(readings, best=False)
        self.asked: dict[Source, tuple[int, int | None]] = {}

    def turn(self) -> None:
        """Go on at the other end."""
        self._best = not self._best

    def __call__(self, source: Source, levels: Sequence[Any], given: Any = None) -> Any:
        place = list(levels).index(given) if given is not None and given in levels else None
        self.asked[source] = len(levels), place
        return super().__call__(source, levels, given)
