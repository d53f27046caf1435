"""The outline of a set of pixels: round its edge, in few corners; and the pixels within an outline.

Reference, from memory: U. Ramer, Computer Graphics and Image Processing 1 (1972) 244-256; D. Douglas, T. Peucker,
Cartographica 10 (1973) 112-122: a line in few corners, none of its points further off than a tolerance.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

Corners = tuple[tuple[float, float], ...]


def outline_of(mask: NDArray[np.bool_], tolerance: float = 1.5) -> Corners:
    """The longest edge round the pixels of a mask (height, width), with the pixels on its left; corners (x, y) between
    pixels, so that a single pixel has the corners (0, 0) to (1, 1). Empty where there is none."""
    import numpy as np

    loops = sorted(_loops(mask), key=len)
    if not loops:
        return ()
    points = np.asarray(loops[-1], float)
    # The two ends of a closed line are one place: cut in two where it is widest, each half is simplified.
    far = int(np.argmax(((points - points[0]) ** 2).sum(1)))
    halves = points[:far + 1], np.concatenate((points[far:], points[:1]))
    kept = [_simpler(half, tolerance)[:-1] for half in halves]
    return tuple((float(x), float(y)) for half in kept for x, y in half)


def _loops(mask: NDArray[np.bool_]) -> list[list[tuple[int, int]]]:
    """Every closed edge, corner by corner."""
    import numpy as np

    inside = np.pad(np.asarray(mask, bool), 1)
    edges: dict[tuple[int, int], list[tuple[int, int]]] = {}
    for rows, columns, start, end in (
            (*np.nonzero(inside & ~np.roll(inside, 1, 0)), (0, 0), (1, 0)),  # above it nothing: to the right
            (*np.nonzero(inside & ~np.roll(inside, -1, 1)), (1, 0), (1, 1)),
            (*np.nonzero(inside & ~np.roll(inside, -1, 0)), (1, 1), (0, 1)),
            (*np.nonzero(inside & ~np.roll(inside, 1, 1)), (0, 1), (0, 0))):
        for row, column in zip(rows.tolist(), columns.tolist()):
            edges.setdefault((column - 1 + start[0], row - 1 + start[1]), []).append(
                (column - 1 + end[0], row - 1 + end[1]))
    loops = []
    while edges:
        first = at = next(iter(edges))
        loop = []
        while True:
            loop.append(at)
            ends = edges[at]
            following = ends.pop()
            if not ends:
                del edges[at]
            at = following
            if at == first:
                break
        loops.append(loop)
    return loops


def _simpler(points: NDArray[np.float64], tolerance: float) -> list[NDArray[np.float64]]:
    """A line in few corners, none of its points further off than the tolerance."""
    import numpy as np

    keep, spans = {0, len(points) - 1}, [(0, len(points) - 1)]
    while spans:
        first, last = spans.pop()
        if last - first < 2:
            continue
        a, b = points[first], points[last]
        between, along = points[first + 1:last] - a, b - a
        length = float(np.hypot(*along))
        off = np.abs(between[:, 0] * along[1] - between[:, 1] * along[0]) / length if length else np.hypot(*between.T)
        far = int(np.argmax(off))
        if off[far] > tolerance:
            keep.add(first + 1 + far)
            spans += [(first, first + 1 + far), (first + 1 + far, last)]
    return [points[n] for n in sorted(keep)]


def pixels_within(shape: tuple[int, ...], corners: Sequence[tuple[float, float]], left: float = 0, top: float = 0) -> \
        NDArray[np.bool_]:
    """Which pixels of a box lie within an outline, by the crossings of a ray; the box begins at `left`, `top`."""
    import numpy as np

    y, x = np.mgrid[0:shape[0], 0:shape[1]]
    x, y = x + left + 0.5, y + top + 0.5
    inside = np.zeros(shape[:2], bool)
    for (x1, y1), (x2, y2) in zip(corners, (*corners[1:], corners[0])):
        if y1 != y2:
            inside ^= ((y1 > y) != (y2 > y)) & (x < (x2 - x1) * (y - y1) / (y2 - y1) + x1)
    return inside


def overlap(one: Sequence[tuple[float, float]], other: Sequence[tuple[float, float]], across: int = 160) -> float:
    """Of two outlines what they share of all that they cover, 0 to 1, on a grid of so many pixels across both."""
    xs, ys = [x for x, _ in (*one, *other)], [y for _, y in (*one, *other)]
    if not min(len(one), len(other)) or max(a[0] for a in one) < min(b[0] for b in other) \
            or max(b[0] for b in other) < min(a[0] for a in one):
        return 0.0
    left, top = min(xs), min(ys)
    scale = across / max(max(xs) - left, max(ys) - top, 1e-6)
    shape = int((max(ys) - top) * scale) + 2, int((max(xs) - left) * scale) + 2
    a, b = (pixels_within(shape, [((x - left) * scale, (y - top) * scale) for x, y in corners])
            for corners in (one, other))
    return float((a & b).sum() / max(1, (a | b).sum()))
