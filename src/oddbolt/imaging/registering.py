"""Where each place of one photograph lies on another of the same side: coarse by correlation, then refined.

A homography takes pixels of *before* to pixels of *after*. Where the two do not show the same (a cover came off, the
device was turned over), that is said by a score, and nothing should be concluded. Arrays in, numbers out.

References, from memory:
[1] B. S. Reddy, B. N. Chatterji, IEEE Trans. Image Process. 5 (1996) 1266-1271: translation by correlation in the
    frequency domain, rotation and scale tried.
[2] B. D. Lucas, T. Kanade, Proc. IJCAI 1981, 674-679: refinement by Gauss-Newton on the differences.
[3] A. E. Beaton, J. W. Tukey, Technometrics 16 (1974) 147-185: the biweight; 4.685 is its constant for 95 % efficiency.
"""

from __future__ import annotations

import functools
from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING

from msgspec import Struct

from oddbolt.imaging.bending import Bend, displaced

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Pixels = NDArray[np.float32]
    Matrix = NDArray[np.float64]

COARSE_PX = 240  # width of the picture on which poses are tried
TURNS_DEG, SCALES = (0.0, -2.0, 2.0, -4.0, 4.0, -6.0, 6.0), (1.0, 0.97, 1.03)
FIRST_TURNS, GOOD_ENOUGH = 3, 0.22  # the likely poses first; all of them only where none of these is good
MOST_TURN_DEG = 9.0
REFINED = 3  # of the coarse poses
CELL_PX = 8  # one point of each cell of this size takes part in the refinement: the strongest
TUKEY, LEAST_SPREAD, MOST_SPREAD = 4.685, 0.12, 0.6
CALM = 4.0  # added to a local variance: where there is no texture, noise is not blown up
TILE_PX = 12  # of the half-size picture, for the gate
TEXTURED = 6.0  # standard deviation of grey values from which a tile has texture
LEAST_TILES = 10
AGREES = 0.6  # correlation of a tile from which it shows the same
BACK_STEPS = 4
BENT, ENOUGH_PX = 3, 0.25  # rounds at most; half pixels by which the last one changed anything, anywhere
SURROUNDINGS_PX = 3.0  # sigma of what is taken off grey values
LEAST_AGREE = 0.2  # share of tiles: under it another side, or another layer, is shown


class Registration(Struct, frozen=True, eq=False):
    """How two photographs lie to each other."""

    matrix: Matrix  # (3, 3), pixels of before to pixels of after
    agree: float  # share of textured tiles that show the same, 0 to 1
    is_textured: bool = True  # else there is nothing by which the two could be compared
    bend: Bend | None = None  # what the plane leaves: a lens, a camera held by hand

    @property
    def is_same_side(self) -> bool:
        return self.agree >= LEAST_AGREE

    def carry(self, x: float, y: float) -> tuple[float, float]:
        """A place of before on after."""
        m = self.matrix
        if self.bend is not None:
            dx, dy = self.bend.shift(x, y)  # type: ignore[arg-type]
            x, y = x + float(dx), y + float(dy)
        w = m[2, 0] * x + m[2, 1] * y + m[2, 2]
        return float((m[0, 0] * x + m[0, 1] * y + m[0, 2]) / w), float((m[1, 0] * x + m[1, 1] * y + m[1, 2]) / w)


class _Level:
    """Both pictures shrunk k times, with what is made of them once and used again."""

    def __init__(self, k: int, before: Pixels, after: Pixels, mask: Pixels | None) -> None:
        self.k, self.before, self.after, self.mask = k, before, after, mask

    @functools.cached_property
    def normal_before(self) -> Pixels:
        return _normal(self.before, SURROUNDINGS_PX)

    @functools.cached_property
    def normal_after(self) -> Pixels:
        return _normal(self.after, SURROUNDINGS_PX)

    @functools.cached_property
    def strong(self) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
        return _strong_points(self.normal_before, self.mask)


def register(before: Pixels, after: Pixels, mask: Pixels | None = None) -> Iterator[Registration | None]:
    """How `after` lies to `before`, both grey (height, width), 0 to 255; a `yield` is progress, the last is the answer.

    `mask` (0 to 1, of before) says where the device lies; without it all counts.
    """
    small_b, small_a, small_m = _pyramid(before), _pyramid(after), None if mask is None else _pyramid(mask)
    eighth, quarter, half = (_Level(k, small_b[k], small_a[k], None if small_m is None else small_m[k])
                             for k in (8, 4, 2))
    yield None
    poses = _coarse(before, after, mask)
    yield None
    found: list[tuple[float, Matrix]] = []
    for _, pose in poses[:REFINED]:
        matrix = pose
        for level in (eighth, quarter):
            matrix = _refined(level, matrix, "similarity")
        found.append((_agreement(quarter, matrix) or 0.0, matrix))
        yield None
        if found[-1][0] > 0.75:
            break
    _, matrix = max(found, key=lambda one: one[0])
    matrix = _refined(half, matrix, "affine")
    yield None
    matrix = _refined(half, matrix, "homography")
    agree = _agreement(half, matrix)
    yield None
    bend, bent = _bend(half, matrix), None
    if bend is not None:
        bent = _agreement(half, matrix, bend)
    if bend is None or (bent or 0.0) < (agree or 0.0):
        bend, bent = None, agree
    yield Registration(matrix=matrix / matrix[2, 2], agree=bent or 0.0, is_textured=bent is not None, bend=bend)


def _bend(level: _Level, whole: Matrix) -> Bend | None:
    """What the plane leaves, for the whole picture; None where that is next to nothing."""
    matrix, found = shrunk_matrix(whole, level.k), None
    for _ in range(BENT):
        there = warped(level.after, matrix, level.before.shape, bend=found)
        better = displaced(level.normal_before, _normal(there, SURROUNDINGS_PX), level.mask, found)
        if better is None:
            break
        is_enough = found is not None and better.differs_px(found) < ENOUGH_PX
        found = better
        if is_enough:
            break
    return found.shrunk(1 / level.k) if found is not None else None


def halved(pixels: Pixels) -> Pixels:
    """A picture of half the size, of one channel or several: each pixel the mean of two by two. Slices are quicker than
    a mean over axes."""
    height, width = pixels.shape[0] // 2 * 2, pixels.shape[1] // 2 * 2
    rows = pixels[0:height:2] + pixels[1:height:2]
    return (rows[:, 0:width:2] + rows[:, 1:width:2]) * 0.25


def _pyramid(pixels: Pixels) -> dict[int, Pixels]:
    """A picture shrunk by two, four and eight."""
    found, one = {}, pixels.astype("float32", copy=False)
    for k in (2, 4, 8):
        one = found[k] = halved(one)
    return found


def _shrunk(pixels: Pixels, k: int) -> Pixels:
    """Every k-th pixel of the picture averaged over k by k."""
    height, width = pixels.shape[0] // k * k, pixels.shape[1] // k * k
    rows = sum(pixels[i:height:k, :width] for i in range(k))  # slices are quicker than a mean over axes
    return (sum(rows[:, i::k] for i in range(k)) / k ** 2).astype("float32", copy=False)


# -- coarse

def _coarse(before: Pixels, after: Pixels, mask: Pixels | None) -> list[tuple[float, Matrix]]:
    """Poses with their scores, best first: matrices of whole pixels."""
    k = max(1, round(before.shape[1] / COARSE_PX))
    b, a = _shrunk(before, k), _shrunk(after, k)
    m = None if mask is None else _shrunk(mask, k)
    tried: dict[tuple[float, float], tuple[float, Matrix]] = {}

    def score(turn: float, scale: float) -> float:
        at = round(turn, 2), round(scale, 3)
        if at not in tried:
            tried[at] = _pose(b, a, m, *at, k)
        return tried[at][0]

    for turns in (TURNS_DEG[:FIRST_TURNS], TURNS_DEG[FIRST_TURNS:]):
        if max(score(turn, scale) for turn in turns for scale in SCALES) >= GOOD_ENOUGH:
            break
    best = max(tried, key=lambda at: tried[at][0])
    for turn_step, scale_step in ((2.0, 0.03), (1.0, 0.01), (0.5, 0.005)):  # uphill from there
        while True:
            around = [(best[0] + i * turn_step, best[1] + j * scale_step) for i, j in ((1, 0), (-1, 0), (0, 1), (0, -1))
                      if abs(best[0] + i * turn_step) <= MOST_TURN_DEG]
            better = max(around, key=lambda at: score(*at))
            if score(*better) <= tried[best][0]:
                break
            best = round(better[0], 2), round(better[1], 3)
    return sorted(tried.values(), key=lambda one: -one[0])


def _pose(b: Pixels, a: Pixels, m: Pixels | None, turn_deg: float, scale: float, k: int) -> tuple[float, Matrix]:
    """The best shift for a turn and a scale, by correlating the directions of the gradient."""
    import numpy as np
    from scipy import fft, ndimage

    height, width = b.shape
    turn = np.deg2rad(turn_deg)
    cos, sin = scale * np.cos(turn), scale * np.sin(turn)
    centre = np.array([(width - 1) / 2, (height - 1) / 2])
    forward = np.array([[cos, -sin], [sin, cos]])  # of (x, y)
    back = np.linalg.inv(forward)
    swap = back[::-1, ::-1]  # for (y, x)
    offset = centre[::-1] - swap @ centre[::-1]
    turned = ndimage.affine_transform(b, swap, offset, order=1, mode="nearest")
    zb, za = _directions(turned), _directions(a)
    if m is not None:
        zb = zb * ndimage.affine_transform(m, swap, offset, order=1, mode="constant")
    shape = [fft.next_fast_len(height + a.shape[0]), fft.next_fast_len(width + a.shape[1])]
    match = np.real(fft.ifft2(fft.fft2(za, shape) * np.conj(fft.fft2(zb, shape))))
    norm = float(np.sqrt((np.abs(zb) ** 2).sum() * (np.abs(za) ** 2).sum())) or 1.0
    y, x = np.unravel_index(int(np.argmax(match)), match.shape)
    dy, dx = (y if y <= shape[0] // 2 else y - shape[0]), (x if x <= shape[1] // 2 else x - shape[1])
    # after = forward (before - centre) + centre + shift, on the small picture; pixel centres of the whole one
    small = np.eye(3)
    small[:2, :2] = forward
    small[:2, 2] = centre - forward @ centre + (dx, dy)
    return float(match[y, x]) / norm, _scaled(small, k)


def _scaled(matrix: Matrix, k: float) -> Matrix:
    """A matrix of a picture shrunk k times, for the whole one: pixel centres lie at (k - 1) / 2 of k."""
    import numpy as np

    up = _up(k)
    return up @ matrix @ np.linalg.inv(up)


def _up(k: float) -> Matrix:
    """Pixels of a picture shrunk k times, to those of the whole one."""
    import numpy as np

    return np.array([[k, 0, (k - 1) / 2], [0, k, (k - 1) / 2], [0, 0, 1.0]])


def shrunk_matrix(matrix: Matrix, k: float) -> Matrix:
    """A matrix of whole pixels, for pictures shrunk k times."""
    import numpy as np

    up = _up(k)
    return np.linalg.inv(up) @ matrix @ up


def _directions(pixels: Pixels) -> NDArray[np.complex64]:
    import numpy as np

    gy, gx = np.gradient(pixels)
    z = gx + 1j * gy
    length = np.abs(z)
    return (z / (length + 0.5 * np.percentile(length, 85) + 1e-6)).astype(np.complex64)


# -- refinement

def _normal(pixels: Pixels, sigma: float) -> Pixels:
    """Grey values less their surroundings, over the local contrast."""
    import numpy as np
    from scipy import ndimage

    high = pixels - ndimage.gaussian_filter(pixels, sigma)
    return high / np.sqrt(ndimage.gaussian_filter(high * high, 2 * sigma) + CALM)


def _refined(level: _Level, whole: Matrix, model: str, rounds: int = 15) -> Matrix:
    """A pose made better on the pictures of a level; all matrices are of whole pixels."""
    import numpy as np
    from scipy import ndimage

    matrix = shrunk_matrix(whole, level.k)
    nb, na = level.normal_before, level.normal_after
    xs, ys = level.strong
    if len(xs) < 20:
        return whole
    values = nb[ys, xs]
    gy, gx = np.gradient(na)
    height, width = nb.shape
    half = max(width, height) / 2
    u, v = (xs - width / 2) / half, (ys - height / 2) / half
    to_unit = np.array([[1 / half, 0, -width / 2 / half], [0, 1 / half, -height / 2 / half], [0, 0, 1.0]])
    from_unit = np.linalg.inv(to_unit)
    unit = to_unit @ matrix @ from_unit
    for _ in range(rounds):
        w = unit[2, 0] * u + unit[2, 1] * v + unit[2, 2]
        pu, pv = (unit[0] @ (u, v, np.ones_like(u))) / w, (unit[1] @ (u, v, np.ones_like(u))) / w
        px, py = pu * half + width / 2, pv * half + height / 2
        inside = (px > 2) & (py > 2) & (px < na.shape[1] - 3) & (py < na.shape[0] - 3)
        if inside.sum() < 20:
            break
        at = np.stack((py[inside], px[inside]))
        seen = ndimage.map_coordinates(na, at, order=1)
        dx = ndimage.map_coordinates(gx, at, order=1) * half
        dy = ndimage.map_coordinates(gy, at, order=1) * half
        residual = seen - values[inside]
        uu, vv, ww, ppu, ppv = u[inside], v[inside], w[inside], pu[inside], pv[inside]
        jacobian = _jacobian(model, uu, vv, ww, ppu, ppv, dx, dy)
        spread = 1.4826 * np.median(np.abs(residual - np.median(residual)))
        limit = TUKEY * np.clip(spread, LEAST_SPREAD, MOST_SPREAD)
        weight = np.clip(1 - (residual / limit) ** 2, 0, None) ** 2
        normal = (jacobian * weight) @ jacobian.T
        if model == "homography":  # perspective is small under a camera that looks straight down
            normal[6, 6] += 0.05 * normal[0, 0]
            normal[7, 7] += 0.05 * normal[0, 0]
        step = np.linalg.lstsq(normal + 1e-9 * np.trace(normal) * np.eye(len(normal)), -(jacobian * weight) @ residual,
                               rcond=None)[0]
        unit = _stepped(model, unit, step)
        if np.abs(step).max() * half < 0.005:
            break
    return _scaled(from_unit @ unit @ to_unit, level.k)


def _jacobian(model: str, u: Matrix, v: Matrix, w: Matrix, pu: Matrix, pv: Matrix, dx: Matrix, dy: Matrix) -> Matrix:
    import numpy as np

    one = np.ones_like(u)
    if model == "similarity":  # of the turn-and-scale pair and the shift, about where it is
        return np.stack((dx * u + dy * v, -dx * v + dy * u, dx, dy))
    rows = [dx * u / w, dx * v / w, dx * one / w, dy * u / w, dy * v / w, dy * one / w]
    if model == "homography":
        slope = dx * pu + dy * pv
        rows += [-slope * u / w, -slope * v / w]
    return np.stack(rows)


def _stepped(model: str, unit: Matrix, step: Matrix) -> Matrix:
    import numpy as np

    found = unit.copy()
    if model == "similarity":
        found[:2] += np.array([[step[0], -step[1], step[2]], [step[1], step[0], step[3]]])
        return found
    found[0] += step[:3]
    found[1] += step[3:6]
    if model == "homography":
        found[2, :2] += step[6:]
    return found


def _strong_points(normal: Pixels, mask: Pixels | None) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """The point of the steepest slope in each cell, where there is any."""
    import numpy as np

    gy, gx = np.gradient(normal)
    slope = np.hypot(gx, gy)
    slope[:3], slope[-3:], slope[:, :3], slope[:, -3:] = 0, 0, 0, 0
    if mask is not None:
        slope = slope * (mask[:slope.shape[0], :slope.shape[1]] > 0.5)
    rows, columns = slope.shape[0] // CELL_PX, slope.shape[1] // CELL_PX
    cells = slope[:rows * CELL_PX, :columns * CELL_PX].reshape(rows, CELL_PX, columns, CELL_PX).transpose(0, 2, 1, 3)
    flat = cells.reshape(rows, columns, -1)
    best = flat.argmax(2)
    strong = flat.max(2) > 0.15
    y = np.arange(rows)[:, None] * CELL_PX + best // CELL_PX
    x = np.arange(columns)[None, :] * CELL_PX + best % CELL_PX
    return x[strong], y[strong]


# -- the gate, and warping

def warped(after: Pixels, matrix: Matrix, shape: Sequence[int], order: int = 1, outside: float = 0.0,
           bend: Bend | None = None) -> Pixels:
    """`after` as it would lie on before; of one channel or several."""
    import numpy as np
    from scipy import ndimage

    y, x = np.arange(shape[0], dtype=np.float32)[:, None], np.arange(shape[1], dtype=np.float32)[None, :]
    m = matrix.astype(np.float32)
    if bend is not None:
        dx, dy = bend.shift(x, y)
        x, y = x + dx.astype(np.float32), y + dy.astype(np.float32)
    w = 1 / (m[2, 0] * x + m[2, 1] * y + m[2, 2])
    at = np.stack(((m[1, 0] * x + m[1, 1] * y + m[1, 2]) * w, (m[0, 0] * x + m[0, 1] * y + m[0, 2]) * w))
    if after.ndim == 2:
        return ndimage.map_coordinates(after, at, order=order, cval=outside)
    return np.stack([ndimage.map_coordinates(after[..., c], at, order=order, cval=outside)
                     for c in range(after.shape[2])], -1)


def laid_back(before: Pixels, registration: Registration, shape: Sequence[int]) -> Pixels:
    """`before`, (height, width, 3), as it would lie on after; 0 where it shows nothing of that. What bends is
    smooth and small, so that few steps take it back."""
    import numpy as np
    from scipy import ndimage

    y, x = np.mgrid[0:shape[0], 0:shape[1]].astype(np.float64)
    m = np.linalg.inv(registration.matrix)
    w = m[2, 0] * x + m[2, 1] * y + m[2, 2]
    flat_x, flat_y = (m[0, 0] * x + m[0, 1] * y + m[0, 2]) / w, (m[1, 0] * x + m[1, 1] * y + m[1, 2]) / w
    x, y = flat_x, flat_y
    if registration.bend is not None:
        for _ in range(BACK_STEPS):
            dx, dy = registration.bend.shift(x, y)
            x, y = flat_x - dx, flat_y - dy
    return np.stack([ndimage.map_coordinates(before[..., c], (y, x), order=1, cval=0.0) for c in range(3)], -1)


def _agreement(level: _Level, whole: Matrix, bend: Bend | None = None) -> float | None:
    """Share of textured tiles that look alike where the pose puts them; None where there are next to none."""
    import numpy as np

    b, m, k = level.before, level.mask, level.k
    there = warped(level.after, shrunk_matrix(whole, k), b.shape, bend=bend.shrunk(k) if bend is not None else None)
    size = max(4, TILE_PX * 2 // k)
    rows, columns = b.shape[0] // size, b.shape[1] // size

    def tiles(pixels: Pixels) -> Pixels:
        return pixels[:rows * size, :columns * size].reshape(rows, size, columns, size).transpose(
            0, 2, 1, 3).reshape(rows, columns, -1)

    tb, ta = tiles(b), tiles(there)
    tb, ta = tb - tb.mean(2, keepdims=True), ta - ta.mean(2, keepdims=True)
    sb, sa = np.sqrt((tb ** 2).mean(2)), np.sqrt((ta ** 2).mean(2))
    has = sb > TEXTURED
    if m is not None:
        has &= tiles(m).min(2) > 0.5
    if has.sum() < LEAST_TILES:
        return None
    match = (tb * ta).mean(2) / (sb * sa + 1e-6)
    return float((match[has] > AGREES).mean())


# -- where the device lies

MASK_PX = 240  # width of the picture on which the device is told from the mat
UNLIKE_MAT = 0.22  # of the logarithm of a colour: a place is not the mat


def device_mask(pixels: Pixels, hull: Sequence[tuple[float, float]] = (), margin_px: float = 0.0) -> Pixels:
    """Where the device lies on a photograph (height, width, 3), 0 or 1: within the hull of known places, widened, and
    what differs in colour from a plane laid through the rim of the picture. A few marks are not the whole of it."""
    import numpy as np

    height, width = pixels.shape[:2]
    by_colour = _unlike_mat(pixels)
    if by_colour is None:
        return _hull(hull, margin_px, height, width) if len(hull) > 2 else np.ones((height, width), np.float32)
    return np.maximum(by_colour, _hull(hull, margin_px, height, width)) if len(hull) > 2 else by_colour


def _unlike_mat(pixels: Pixels) -> Pixels | None:
    """What differs in colour from the mat, its largest piece; None where nothing does."""
    import numpy as np
    from scipy import ndimage

    height, width = pixels.shape[:2]
    k = max(1, round(width / MASK_PX))
    small = np.stack([_shrunk(pixels[..., c], k) for c in range(3)], -1)
    logs = np.log(small + 4.0)
    rows, columns = logs.shape[:2]
    y, x = np.mgrid[0:rows, 0:columns]
    rim = (x < columns * 0.04) | (x >= columns * 0.96) | (y < rows * 0.04) | (y >= rows * 0.96)
    terms = np.stack((np.ones(rim.sum()), x[rim] / columns, y[rim] / rows), 1)
    whole = np.stack((np.ones(rows * columns), x.ravel() / columns, y.ravel() / rows), 1)
    differs = np.zeros((rows, columns))
    for c in range(3):
        values = logs[..., c][rim]
        keep = np.ones(len(values), bool)
        for _ in range(4):  # what stands over the rim is no mat
            plane = np.linalg.lstsq(terms[keep], values[keep], rcond=None)[0]
            off = np.abs(values - terms @ plane)
            keep = off < max(0.05, 2.5 * float(np.median(off[keep])))
        differs = np.maximum(differs, np.abs(logs[..., c] - (whole @ plane).reshape(rows, columns)))
    found, number = ndimage.label(ndimage.binary_closing(differs > UNLIKE_MAT, iterations=2))
    if not number:
        return None
    largest = 1 + int(np.argmax(ndimage.sum_labels(np.ones_like(found), found, range(1, number + 1))))
    mask = ndimage.binary_fill_holes(found == largest)
    whole_mask = np.kron(mask, np.ones((k, k), bool))
    out = np.zeros((height, width), np.float32)
    out[:whole_mask.shape[0], :whole_mask.shape[1]] = whole_mask[:height, :width]
    return out


def _hull(places: Sequence[tuple[float, float]], margin_px: float, height: int, width: int) -> Pixels:
    """Within so many pixels of the convex hull of some places."""
    import numpy as np
    from scipy import ndimage
    from scipy.spatial import ConvexHull, QhullError

    points = np.asarray(places, float)
    y, x = np.mgrid[0:height:4, 0:width:4]
    try:
        equations = ConvexHull(points).equations
    except QhullError:  # they lie in a row
        left, top = points.min(0) - margin_px
        right, bottom = points.max(0) + margin_px
        small = (x >= left) & (x <= right) & (y >= top) & (y <= bottom)
    else:
        a, b, c = (equations[:, n, None, None] for n in range(3))
        outside = (a * x + b * y + c).max(0)
        small = outside <= margin_px
    return ndimage.zoom(small.astype(np.float32), (height / small.shape[0], width / small.shape[1]), order=0)
