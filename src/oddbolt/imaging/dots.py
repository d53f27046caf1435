"""The printed sheet of dots under the device: its dots are found on the photograph and give plane, scale and lens.

Dots stand on a square lattice; the device covers some of them. Round dark spots are collected, then a lattice is grown
from one spot to its neighbours, so that screws and print on the device, which fit in no lattice, fall out.
"""

from __future__ import annotations

import math
from collections import deque
from typing import TYPE_CHECKING

from msgspec import Struct

from oddbolt.imaging.scale import Plane, plane_of_points

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Floats = NDArray[np.float32]

PITCH_MM, DOT_MM = 10.0, 3.0
WORK_PX = 1600  # longest side of the picture in which spots are looked for
SPOT_SD_PX = 0.1  # how well the middle of a dot is found: from simulation (docs/methods/measuring.md)
FEWEST = 12
NEAR = 0.22  # of the pitch: how far off its place on the lattice a spot may lie
STARTS = 40  # spots that a lattice is tried to be grown from


class DotSheet(Struct, frozen=True, kw_only=True):
    """What was found: middles of dots (px) with their row and column, and the plane through them."""

    spots: tuple[tuple[float, float], ...]
    cells: tuple[tuple[int, int], ...]
    plane: Plane


def find_sheet(pixels: Floats, pitch_mm: float = PITCH_MM) -> DotSheet:
    """The sheet on a photograph, (height, width, 3), 0 to 255.

    Raises ValueError where fewer than 12 dots in three rows and columns are to be seen.
    """
    import numpy as np

    grey = pixels.mean(axis=2, dtype="float32")
    step = max(1, math.ceil(max(grey.shape) / WORK_PX))
    cells = _lattice(_spots(_reduced(grey, step)))
    if len(cells) < FEWEST or any(len({cell[k] for cell in cells}) < 3 for k in (0, 1)):
        raise ValueError("too few dots of a sheet")
    middles = {cell: _middle(grey, (x + 0.5) * step - 0.5, (y + 0.5) * step - 0.5, r * step)
               for cell, (x, y, r) in cells.items()}
    size = (grey.shape[1], grey.shape[0])
    while True:
        names = list(middles)
        plane = plane_of_points([middles[c] for c in names], [(c[0] * pitch_mm, c[1] * pitch_mm) for c in names],
                                sd_px=SPOT_SD_PX, size_px=size)
        off = np.array([_off_mm(plane, middles[c], c, pitch_mm) for c in names])
        limit = max(4 * 1.48 * float(np.median(off)), 0.02 * pitch_mm)
        worst = int(off.argmax())
        if off[worst] <= limit or len(names) <= FEWEST:
            return DotSheet(spots=tuple(middles.values()), cells=tuple(names), plane=plane)
        del middles[names[worst]]


def _off_mm(plane: Plane, spot: tuple[float, float], cell: tuple[int, int], pitch_mm: float) -> float:
    from oddbolt.imaging.scale import place_mm

    x, y = place_mm(plane, spot)
    return math.hypot(x - cell[0] * pitch_mm, y - cell[1] * pitch_mm)


def _reduced(grey: Floats, step: int) -> Floats:
    height, width = grey.shape[0] // step * step, grey.shape[1] // step * step
    return grey[:height, :width].reshape(height // step, step, width // step, step).mean(axis=(1, 3))


def _spots(work: Floats) -> list[tuple[float, float, float]]:
    """Dark round spots: x, y, radius."""
    import numpy as np
    from scipy import ndimage

    around = ndimage.uniform_filter(work, size=max(work.shape) // 16 | 1, mode="nearest")
    smooth = ndimage.gaussian_filter(work, 0.8)
    labels, number = ndimage.label(smooth < around * 0.72)
    found = []
    for n, box in enumerate(ndimage.find_objects(labels), start=1):
        high, wide = (s.stop - s.start for s in box)
        if not (3 <= high <= work.shape[0] / 10 and 3 <= wide <= work.shape[1] / 10 and 0.5 < high / wide < 2.0):
            continue
        inside = labels[box] == n
        area = float(inside.sum())
        if not 0.82 < area / (math.pi / 4 * high * wide) < 1.2 or area < 9:
            continue
        ys, xs = np.nonzero(inside)
        found.append((float(xs.mean()) + box[1].start, float(ys.mean()) + box[0].start, math.sqrt(area / math.pi)))
    return found


def _lattice(spots: list[tuple[float, float, float]]) -> dict[tuple[int, int], tuple[float, float, float]]:
    """The largest square lattice that can be grown among spots: column and row of each."""
    import numpy as np
    from scipy.spatial import cKDTree

    if len(spots) < FEWEST:
        return {}
    places = np.array([(x, y) for x, y, _ in spots])
    tree = cKDTree(places)
    distances, neighbours = tree.query(places, k=min(5, len(spots)))
    best: dict[tuple[int, int], int] = {}
    tried: set[int] = set()
    for start in np.argsort(distances[:, -1] - distances[:, 1]):  # four neighbours equally far: amid the lattice
        if int(start) in tried or len(tried) > STARTS * 25:
            continue
        basis = _basis(places, int(start), neighbours[start][1:], spots)
        if basis is None:
            continue
        grown = _grown(places, tree, spots, int(start), basis)
        tried |= set(grown.values())
        if len(grown) > len(best):
            best = grown
        if len(best) > len(spots) / 2:
            break
    return {cell: spots[n] for cell, n in best.items()}


def _basis(places: Floats, start: int, near: Floats, spots: list[tuple[float, float, float]]):
    """Two steps of the lattice at a spot: of like length, nearly square, as far apart as dots of that size are."""
    import numpy as np

    near_it, far = (PITCH_MM / (DOT_MM / 2) * share for share in (0.7, 1.4))
    for a in near:
        for b in near:
            u, v = places[a] - places[start], places[b] - places[start]
            lu, lv = float(np.hypot(*u)), float(np.hypot(*v))
            turned = u[0] * v[1] - u[1] * v[0]
            if turned > 0.8 * lu * lv and 0.7 < lu / lv < 1.43 and near_it < lu / spots[start][2] < far:
                return u, v
    return None


def _grown(places: Floats, tree, spots: list[tuple[float, float, float]], start: int, basis) -> \
        dict[tuple[int, int], int]:
    found, taken = {(0, 0): start}, {start}
    steps = {(0, 0): basis}
    queue = deque([(0, 0)])
    while queue:
        cell = queue.popleft()
        at, (u, v) = places[found[cell]], steps[cell]
        for k, sign in ((0, 1), (0, -1), (1, 1), (1, -1)):
            other = (cell[0] + (sign if k == 0 else 0), cell[1] + (sign if k == 1 else 0))
            if other in found:
                continue
            step = (u, v)[k] * sign
            long = float((step ** 2).sum()) ** 0.5
            distance, n = tree.query(at + step)
            n = int(n)
            ratio = spots[n][2] / spots[found[cell]][2]
            if distance > NEAR * long or n in taken or not 0.6 < ratio < 1.67:
                continue
            moved = (places[n] - at) * sign
            steps[other] = (moved, v) if k == 0 else (u, moved)
            found[other] = n
            taken.add(n)
            queue.append(other)
    return found


def _middle(grey: Floats, x: float, y: float, radius: float) -> tuple[float, float]:
    """The middle of a dark dot to a fraction of a pixel: centroid of its darkness at full size."""
    import numpy as np

    reach = int(radius * 1.6) + 2
    for _ in range(2):
        top, left = max(0, int(round(y)) - reach), max(0, int(round(x)) - reach)
        near = grey[top:int(round(y)) + reach + 1, left:int(round(x)) + reach + 1]
        light = float(np.percentile(near, 90))
        dark = np.clip(light * 0.85 - near, 0, None)
        ys, xs = np.mgrid[top:top + near.shape[0], left:left + near.shape[1]]
        dark[(xs - x) ** 2 + (ys - y) ** 2 > (radius * 1.5) ** 2] = 0
        total = float(dark.sum())
        if total <= 0:
            break
        x, y = float((dark * xs).sum() / total), float((dark * ys).sum() / total)
    return x, y
