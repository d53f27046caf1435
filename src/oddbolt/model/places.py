"""Places on a photograph."""

from __future__ import annotations

from collections.abc import Sequence

Spot = tuple[float, float]  # pixels of the upright photograph: from the left, from the top


def middle_of(outline: Sequence[Spot]) -> Spot:
    """The mean of its corners."""
    return sum(x for x, _ in outline) / len(outline), sum(y for _, y in outline) / len(outline)


def hull(outline: tuple[Spot, ...]) -> tuple[Spot, ...]:
    """The smallest outline without notches round all of it (A. M. Andrew, Inf. Process. Lett. 9 (1979) 216-219, from
    memory)."""

    def half(points: Sequence[Spot]) -> list[Spot]:
        kept: list[Spot] = []
        for x, y in points:
            while len(kept) > 1 and (kept[-1][0] - kept[-2][0]) * (y - kept[-2][1]) <= \
                    (kept[-1][1] - kept[-2][1]) * (x - kept[-2][0]):
                kept.pop()
            kept.append((x, y))
        return kept[:-1]

    points = sorted(set(outline))
    return tuple(half(points) + half(points[::-1])) if len(points) > 2 else outline
