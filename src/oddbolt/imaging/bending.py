"""What one plane cannot say of how two photographs lie to each other: a lens bends, and a camera held by hand looks at
an angle. Small windows are matched, and a smooth displacement is laid through all of them.

References, from memory:
[1] D. C. Brown, Photogrammetric Engineering 37 (1971) 855-866: what a lens bends is smooth, of odd order in the radius.
[2] A. E. Beaton, J. W. Tukey, Technometrics 16 (1974) 147-185: the biweight.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Pixels = NDArray[np.float32]
    Numbers = NDArray[np.float64]

WINDOW_PX, STRIDE_PX = 48, 40  # of the pictures that are matched
REACH_PX = 24  # in each direction, at first; less when it is known roughly
NEAR_PX = 8
TEXTURED = 0.35  # standard deviation of locally normalised grey values in a window that tells where it lies
ALIKE = 0.55  # correlation of a window from which it counts
LEAST_WINDOWS = 24
DEGREE, COARSE = 3, 9
CALM_PX, MOST = 0.6, 85  # displacement of most windows (percent) up to which one plane is enough
TUKEY, LEAST_SPREAD_PX = 4.685, 0.3


class Bend(Struct, frozen=True, eq=False):
    """A displacement on the photograph before, a polynomial of third degree in x and y: a place lies on the one after
    where the plane takes the place displaced."""

    terms: Numbers  # (10, 2), of places from -1 to 1 along the longer side, in pixels
    size: tuple[int, int]  # width and height of before

    def shift(self, x: Numbers, y: Numbers) -> tuple[Numbers, Numbers]:
        """By how much each place is displaced, pixels; x and y of one shape, or of shapes that make one."""
        import numpy as np

        half = max(self.size) / 2
        u, v = ((np.asarray(one) - size / 2) / half for one, size in zip((x, y), self.size))
        found = []
        for terms in self.terms.T:  # after Horner, in v for each power of u: of a grid that is a row and a column
            by_power, at = [], 0
            for i in range(DEGREE + 1):
                by_power.append(terms[at:at + DEGREE + 1 - i])
                at += DEGREE + 1 - i
            total = np.zeros(np.broadcast_shapes(np.shape(u), np.shape(v)), np.result_type(u, v))
            for row in reversed(by_power):
                total *= u
                total += _horner(row, v)
            found.append(total)
        return found[0], found[1]

    def differs_px(self, other: Bend) -> float:
        """By how much two displacements of one picture differ at most, on a coarse grid."""
        import numpy as np

        y, x = (np.linspace(0, length, COARSE)[:, None] for length in self.size[::-1])
        one, two = self.shift(x.T, y), other.shift(x.T, y)
        return float(np.hypot(one[0] - two[0], one[1] - two[1]).max())

    def shrunk(self, k: float) -> Bend:
        """Of pictures shrunk k times."""
        width, height = self.size
        return Bend(self.terms / k, (round(width / k), round(height / k)))


def _horner(terms: Numbers, v: Numbers) -> Numbers:
    """The polynomial with these terms, the constant first."""
    found = terms[-1] + 0 * v
    for term in terms[-2::-1]:
        found = found * v + term
    return found


def _powers(x: Numbers, y: Numbers, size: tuple[int, int]) -> Numbers:
    import numpy as np

    half = max(size) / 2
    u, v = (np.asarray(x, float) - size[0] / 2) / half, (np.asarray(y, float) - size[1] / 2) / half
    u, v = np.broadcast_arrays(u, v)
    return np.stack([u ** i * v ** j for i in range(DEGREE + 1) for j in range(DEGREE + 1 - i)], -1)


def displaced(b: Pixels, a: Pixels, mask: Pixels | None, known: Bend | None = None) -> Bend | None:
    """The displacement of `a`, locally normalised and laid over `b` by the plane and by what is `known`; None where
    there is next to none, or too little to go by. `mask` says where the device lies."""
    import numpy as np

    places, shifts = _matched(b, a, mask, NEAR_PX if known is not None else REACH_PX)
    if len(places) < LEAST_WINDOWS or (known is None and np.percentile(np.hypot(*shifts.T), MOST) < CALM_PX):
        return None
    size = b.shape[1], b.shape[0]
    if known is not None:  # what is matched lies where what is known takes it
        shifts = shifts + np.stack(known.shift(places[:, 0] + shifts[:, 0], places[:, 1] + shifts[:, 1]), -1)
    powers = _powers(places[:, 0], places[:, 1], size)
    weight = np.ones(len(places))
    terms = np.zeros((powers.shape[1], 2))
    for _ in range(8):
        rows = powers * weight[:, None]
        terms = np.linalg.lstsq(rows.T @ powers + 1e-3 * np.eye(powers.shape[1]), rows.T @ shifts, rcond=None)[0]
        off = np.hypot(*(powers @ terms - shifts).T)
        limit = TUKEY * max(LEAST_SPREAD_PX, 1.4826 * float(np.median(off)))
        weight = np.clip(1 - (off / limit) ** 2, 0, None) ** 2
    return Bend(terms, size)


def _matched(b: Pixels, a: Pixels, mask: Pixels | None, reach: int) -> tuple[Numbers, Numbers]:
    """Middles of windows that were found again, and by how much they lie off; (n, 2) each."""
    import numpy as np
    from scipy import fft

    half, wide = WINDOW_PX // 2, WINDOW_PX + 2 * reach
    ys, xs = (range(half + reach, length - half - reach, STRIDE_PX) for length in b.shape)
    middles = [(x, y) for y in ys for x in xs if mask is None or mask[y, x] > 0.5]
    middles = [(x, y) for x, y in middles if b[y - half:y + half, x - half:x + half].std() > TEXTURED]
    if not middles:
        return np.zeros((0, 2)), np.zeros((0, 2))
    windows = np.stack([b[y - half:y + half, x - half:x + half] for x, y in middles])
    around = np.stack([a[y - half - reach:y + half + reach, x - half - reach:x + half + reach] for x, y in middles])
    windows = windows - windows.mean((1, 2), keepdims=True)
    size = (fft.next_fast_len(wide, real=True),) * 2
    match = fft.irfft2(fft.rfft2(around, size) * np.conj(fft.rfft2(windows, size)), size)
    match = match[:, :2 * reach + 1, :2 * reach + 1]
    # The energy of each place that a window may lie at, by sums over boxes.
    total, square = (_box_sums(one, WINDOW_PX) for one in (around, around * around))
    energy = np.clip(square - total ** 2 / WINDOW_PX ** 2, 1e-6, None)
    match = match / np.sqrt(energy * (windows ** 2).sum((1, 2))[:, None, None])
    best = match.reshape(len(middles), -1).argmax(1)
    rows, columns = np.unravel_index(best, match.shape[1:])
    inside = (rows > 0) & (rows < 2 * reach) & (columns > 0) & (columns < 2 * reach)
    n = np.arange(len(middles))
    good = inside & (match[n, rows, columns] >= ALIKE)
    n, rows, columns = n[good], rows[good], columns[good]
    peak = match[n, rows, columns]

    def between(low: Numbers, high: Numbers) -> Numbers:
        """Where a parabola through three values has its top."""
        return np.clip((low - high) / (2 * (low - 2 * peak + high) - 1e-9), -0.5, 0.5)

    dy = rows - reach + between(match[n, rows - 1, columns], match[n, rows + 1, columns])
    dx = columns - reach + between(match[n, rows, columns - 1], match[n, rows, columns + 1])
    return np.asarray(middles, float)[good], np.stack((dx, dy), -1)


def _box_sums(pictures: Pixels, size: int) -> Numbers:
    """Of each picture (n, height, width) the sums over all boxes of a size."""
    import numpy as np

    sums = np.pad(pictures.astype(np.float64).cumsum(1).cumsum(2), ((0, 0), (1, 0), (1, 0)))
    return sums[:, size:, size:] - sums[:, :-size, size:] - sums[:, size:, :-size] + sums[:, :-size, :-size]
