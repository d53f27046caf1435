"""Whether a marked head is still where it was, and heads that went without a mark.

References, from memory:
[1] J. P. Lewis, Fast normalized cross-correlation, Vision Interface 1995.
[2] Spectrum over the angle of a polar patch, as in `alike`: a head looks the same whichever way it is turned.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from oddbolt.imaging.differing.changes import HALF, Changes
from oddbolt.imaging.finding.circles import roundness

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Pixels = NDArray[np.float32]

GONE, PRESENT, UNSURE, HIDDEN = "gone", "present", "unsure", "hidden"  # what is said of a head
HEAD, AROUND = 1.2, (1.4, 7.0)  # in radii: what of a screw is compared, and what it is aligned by
ALIGN_PX = 4
GONE_HEAD, GONE_RING, PRESENT_HEAD = 0.6, 0.9, 0.88
AROUND_AGREES = 0.5  # correlation of what is around a head
EVEN = 0.5  # of the contrast of a place that is not alike all round
RINGS, SPOKES = 6, 48
HOLE_SIGMAS, HOLE_RADII = (1.5, 2.2, 3.2, 4.6), (4.0, 5.5, 7.5, 10.0, 14.0, 19.0)  # half pixels; pixels
ROOM = 16  # half pixels around a place that are looked at too
APART, DARKER = 9, 2.5  # half pixels; grey values that a hole is darker than what is around it
ROUND_EDGE, HOLE_EVEN, HOLE_ALIKE = 1.5, 0.3, 0.95
HOLE_DARKER = 7.0  # grey values
MOST_AROUND = 900  # pixels that a head is aligned by: more tell no more


def verdict(before: Pixels, there: Pixels, x: float, y: float, r: float) -> tuple[str, float, float]:
    """Of a head of radius `r` px on grey `before`, with `there` laid over it: what is said, the correlation of the head
    (-1 to 1), and the likeness of the two whichever way they are turned (0 to 1)."""
    import numpy as np

    reach = int(np.ceil(AROUND[1] * r)) + ALIGN_PX + 1
    left, top = round(x) - reach, round(y) - reach
    if left < 0 or top < 0 or left + 2 * reach + 1 > before.shape[1] or top + 2 * reach + 1 > before.shape[0]:
        reach = int(min(x, y, before.shape[1] - 1 - x, before.shape[0] - 1 - y))
        left, top = round(x) - reach, round(y) - reach
    if reach < 1.6 * r + ALIGN_PX:
        return UNSURE, 0.0, 0.0
    b = before[top:top + 2 * reach + 1, left:left + 2 * reach + 1]
    a = there[top:top + 2 * reach + 1, left:left + 2 * reach + 1]
    v, u = np.mgrid[0:b.shape[0], 0:b.shape[1]]
    far = np.hypot(u + left - x, v + top - y)
    around = (far >= AROUND[0] * r) & (far <= AROUND[1] * r)
    around[:ALIGN_PX], around[-ALIGN_PX:], around[:, :ALIGN_PX], around[:, -ALIGN_PX:] = False, False, False, False
    moved = _aligned(b, a, around)
    head = far <= HEAD * r
    z = max(correlation(b[head], np.roll(moved, (j, i), (0, 1))[head]) for j in (-1, 0, 1) for i in (-1, 0, 1))
    one, other = _spectrum(b, x - left, y - top, r), _spectrum(moved, x - left, y - top, r)
    s = max(0.0, _likeness(one, other))
    # A hole is round; what lies over a head, an opened plug for one, is not. Where all around changed, a part came off.
    gone = z < GONE_HEAD and s < GONE_RING and correlation(b[around], moved[around]) >= AROUND_AGREES \
        and _uneven(other) < EVEN
    return PRESENT if z >= PRESENT_HEAD else GONE if gone else UNSURE, round(z, 3), round(s, 3)


def _aligned(b: Pixels, a: Pixels, around: NDArray[np.bool_]) -> Pixels:
    """`a` shifted by whole pixels to where it fits best around the head: every second shift first, then about it."""
    import numpy as np

    rows, columns = np.nonzero(around)
    step = max(1, len(rows) // MOST_AROUND)
    rows, columns = rows[::step], columns[::step]
    own = b[rows, columns] - b[rows, columns].mean()
    size = float(np.sqrt((own * own).sum())) + 1e-6
    tried: dict[tuple[int, int], float] = {}

    def fit(shift: tuple[int, int]) -> float:
        if shift not in tried:
            other = a[rows - shift[0], columns - shift[1]]
            other = other - other.mean()
            tried[shift] = float((own * other).sum()) / (size * (float(np.sqrt((other * other).sum())) + 1e-6)) \
                - 0.002 * (abs(shift[0]) + abs(shift[1]))
        return tried[shift]

    every = range(-ALIGN_PX, ALIGN_PX + 1, 2)
    best = max(((j, i) for j in every for i in every), key=fit)
    near = [(best[0] + j, best[1] + i) for j in (-1, 0, 1) for i in (-1, 0, 1)]
    return np.roll(a, max((one for one in near if max(map(abs, one)) <= ALIGN_PX), key=fit), (0, 1))


def went_unmarked(changes: Changes, where: NDArray[np.bool_]) -> list[tuple[float, float, float]]:
    """Heads that went from places that nobody marked: x, y, radius on before, px; within `where`, of half the size.

    What is left of one is round and darker within than around it; what was there had a round edge, and does not look
    like what is left.
    """
    import numpy as np
    from scipy import ndimage

    found: list[tuple[float, float, float, float]] = []
    labels, _ = ndimage.label(where)
    for n, box in enumerate(ndimage.find_objects(labels), start=1):
        rows, columns = (slice(max(0, one.start - ROOM), one.stop + ROOM) for one in box)
        grey = changes.after_half[rows, columns].mean(2)
        dark = np.full(grey.shape, -np.inf, np.float32)
        for sigma in HOLE_SIGMAS:
            wide = ndimage.gaussian_filter(grey, sigma * 1.6, truncate=3)
            np.maximum(dark, wide - ndimage.gaussian_filter(grey, sigma, truncate=3), out=dark)
        holes = (dark == ndimage.maximum_filter(dark, APART)) & (dark > DARKER) & (labels[rows, columns] == n)
        for row, column in zip(*np.nonzero(holes)):
            x, y = (float(column) + columns.start + 0.5) * HALF, (float(row) + rows.start + 0.5) * HALF
            edge, radius = roundness(changes.before, x, y)
            if edge >= ROUND_EDGE and _is_left(changes, x, y) and _is_brighter(changes, x, y, radius):
                found.append((edge, x, y, radius))
    apart: list[tuple[float, float, float]] = []
    for _, x, y, radius in sorted(found, reverse=True):
        if all(np.hypot(x - u, y - v) > radius + r for u, v, r in apart):
            apart.append((x, y, radius))
    return apart


def _is_brighter(changes: Changes, x: float, y: float, radius: float) -> bool:
    """Whether what was there was no hole itself: brighter within its rim than the middle of what is left."""
    was = _rings(changes.before, x, y, radius)
    return float(was[1:4].mean()) > float(_rings(changes.after, x, y, radius)[:2].mean()) + HOLE_DARKER


def _is_left(changes: Changes, x: float, y: float) -> bool:
    """Whether what is left there is alike all round, at the radius at which it is most, and not what was there."""

    tried = []
    for r in HOLE_RADII:
        if min(x, y, changes.before.shape[1] - 1 - x, changes.before.shape[0] - 1 - y) > 2 * r:
            one, other = _spectrum(changes.before, x, y, r), _spectrum(changes.after, x, y, r)
            tried.append((_uneven(other), _likeness(one, other)))
    uneven, alike = min(tried, default=(1.0, 1.0))
    return uneven < HOLE_EVEN and alike < HOLE_ALIKE


def correlation(one: Pixels, other: Pixels) -> float:
    """Of two sets of values, -1 to 1."""
    import numpy as np

    a, b = one - one.mean(), other - other.mean()
    return float((a * b).sum() / (np.sqrt((a * a).sum() * (b * b).sum()) + 1e-6))


def _likeness(one: Pixels, other: Pixels) -> float:
    """Of two spectra, -1 to 1."""
    import numpy as np

    return float((one * other).sum() / (np.sqrt((one * one).sum() * (other * other).sum()) + 1e-6))


def _uneven(rings: Pixels) -> float:
    """How much of what is there is not alike all round, 0 to 1."""
    return float((rings[:, 1:] ** 2).sum() / ((rings ** 2).sum() + 1e-6))


def _rings(pixels: Pixels, x: float, y: float, r: float) -> Pixels:
    """The mean brightness of the rings about a place."""
    return _polar(pixels, x, y, r).mean(1)


def _polar(pixels: Pixels, x: float, y: float, r: float) -> Pixels:
    import numpy as np
    from scipy import ndimage

    radii = np.linspace(0.15, 1.25, RINGS)[:, None] * r
    angles = np.linspace(0, 2 * np.pi, SPOKES, endpoint=False)[None, :]
    return ndimage.map_coordinates(pixels, np.stack((y + radii * np.sin(angles), x + radii * np.cos(angles))), order=1)


def _spectrum(pixels: Pixels, x: float, y: float, r: float) -> Pixels:
    """Of the rings about a place: their means, less that of all, and what is not alike all round."""
    import numpy as np

    polar = _polar(pixels, x, y, r)
    polar = polar - polar.mean()
    spectrum = np.abs(np.fft.rfft(polar, axis=1))[:, :10] / SPOKES
    spectrum[:, 0] = polar.mean(1)  # with its sign: a dark hole is not a bright head
    return spectrum
