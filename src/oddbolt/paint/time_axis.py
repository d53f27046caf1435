"""Time along a picture: so many pixels for a second, long waits folded to a break of fixed width."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct

BREAK_PX = 34.0  # what a folded wait takes


class TimeAxis(Struct, frozen=True):
    """Maps seconds to pixels from 0 on. `folds` are stretches (from, to) in seconds, in order, none within another."""

    px_per_s: float
    folds: Sequence[tuple[float, float]] = ()

    @classmethod
    def fitting(cls, room_px: float, total_s: float, folds: Sequence[tuple[float, float]] = ()) -> TimeAxis:
        """All of it in so much room, as far as that goes."""
        shown_s = total_s - sum(to - start for start, to in folds)
        return cls(max(1.0, room_px - BREAK_PX * len(folds)) / max(1.0, shown_s), folds)

    def x(self, t_s: float) -> float:
        left = t_s
        x = 0.0
        for start, to in self.folds:
            if t_s <= start:
                break
            within = min(t_s, to) - start
            left -= within
            x += BREAK_PX * within / (to - start)
        return x + left * self.px_per_s

    def is_folded(self, t_s: float) -> bool:
        return any(start < t_s < to for start, to in self.folds)
