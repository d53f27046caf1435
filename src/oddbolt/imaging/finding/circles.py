"""Round edges about a place: of a recess, a head, the boss that it sits on. Arrays in, numbers out.

Centre and radius are looked for together: a small circle that touches the rim of a head from inside has a strong edge,
but not all round. How strong an edge is, is what 78 of 100 spokes have at least (ours, no source).
"""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from msgspec import Struct

from oddbolt.imaging.grey import grey_of

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Pixels = NDArray[np.float32]

SMALLEST_PX, LARGEST_PX = 5.0, 60.0  # radii that are looked for where none is known
STEP_PX = 0.5  # of radii
SPOKES = 24
NOT_ALL_ROUND = 0.22  # of the spokes may show no edge: a cable, a reflection
FAR_COUNTS = 0.04  # for each pixel that the centre is off the click: a click means what is under it
OUTERMOST = 0.38  # of the strongest: a recess has an edge too, the outermost of the strong ones is the head's
CONCENTRIC_PX = 2.0
ANOTHER = 0.15  # of the radius: what differs by less is the same circle


class Circle(Struct, frozen=True):
    """A round edge; `strength` is the change of brightness along the radius, grey values a pixel, nearly all round."""

    x: float
    y: float
    radius_px: float
    strength: float


def circles_at(pixels: Pixels, x: float, y: float, within_px: float = 6.0) -> list[Circle]:
    """Round edges with their centre near a place, the strongest first, of each radius one.

    `pixels` is (height, width, 3) or (height, width), 0 to 255; `within_px` is how far off a hasty click may be.
    """
    import numpy as np

    near, left, top = _near(pixels, x, y, LARGEST_PX + within_px)
    if not near.size:  # the place is beside the photograph
        return []
    offsets = np.arange(-within_px, within_px + 0.01, 1.0)
    dy, dx = (d.ravel() for d in np.meshgrid(offsets, offsets, indexing="ij"))
    inside = np.hypot(dx, dy) <= within_px + 0.3
    dx, dy = dx[inside], dy[inside]
    radii, strength = edges(near, x - left + dx, y - top + dy, SMALLEST_PX, LARGEST_PX)
    strength = strength * (1 - FAR_COUNTS * np.hypot(dx, dy))[:, None]
    where, best = strength.argmax(axis=0), strength.max(axis=0)
    rough = [(float(best[k]), k) for k in range(len(radii))
             if best[k] > 0 and best[k] >= best[max(0, k - 1)] and best[k] >= best[min(len(radii) - 1, k + 1)]]
    found: list[Circle] = []
    for power, k in sorted(rough, reverse=True):
        radius = float(radii[k])
        if all(abs(radius - one.radius_px) > ANOTHER * one.radius_px for one in found):
            found.append(Circle(float(x + dx[where[k]]), float(y + dy[where[k]]), radius, power))
    return found


def circles_about(pixels: Pixels, x: float, y: float) -> list[Circle]:
    """Round edges of any radius about just this place, the strongest first."""
    import numpy as np

    near, left, top = _near(pixels, x, y, LARGEST_PX)
    radii, (strength,) = edges(near, np.array([x - left]), np.array([y - top]), SMALLEST_PX, LARGEST_PX)
    found = [Circle(x, y, float(radii[k]), float(strength[k])) for k in range(1, len(radii) - 1)
             if 0 < strength[k] >= max(strength[k - 1], strength[k + 1])]
    return sorted(found, key=lambda one: -one.strength)


def centred(pixels: Pixels, circle: Circle) -> Circle:
    """The same circle with its centre and radius to half a pixel."""
    import numpy as np

    near, left, top = _near(pixels, circle.x, circle.y, circle.radius_px + 3)
    dy, dx = (d.ravel() for d in np.meshgrid(*[np.arange(-1.0, 1.01, 0.5)] * 2, indexing="ij"))
    radii, strength = edges(near, circle.x - left + dx, circle.y - top + dy,
                            max(SMALLEST_PX, circle.radius_px - 1.5), circle.radius_px + 1.5)
    row, column = divmod(int(strength.argmax()), len(radii))
    return Circle(float(circle.x + dx[row]), float(circle.y + dy[row]), float(radii[column]), circle.strength)


def snap(pixels: Pixels, x: float, y: float, radius_px: float | None = None, within_px: float = 6.0) -> \
        tuple[float, float, float]:
    """Centre and radius of the round thing near a place, px: where brightness changes most along the radius, all round.

    `radius_px` is taken where it is known; `within_px` is how far off a hasty click may be.
    """
    import numpy as np

    if radius_px is None:
        found = circles_at(pixels, x, y, within_px)
        if not found:
            return x, y, SMALLEST_PX
        strong = [one for one in found if one.strength >= OUTERMOST * found[0].strength
                  and math.hypot(one.x - found[0].x, one.y - found[0].y) <= CONCENTRIC_PX]
        best = centred(pixels, max(strong, key=lambda one: one.radius_px))
        return best.x, best.y, best.radius_px
    near, left, top = _near(pixels, x, y, LARGEST_PX + within_px)
    if not near.size:
        return x, y, radius_px
    at = (-1.0, x, y, radius_px)
    for step, span in ((3.0, within_px), (1.0, 2.0), (0.5, 0.5)):
        _, cx, cy, _ = at
        for dy in np.arange(-span, span + 0.01, step):
            for dx in np.arange(-span, span + 0.01, step):
                strength, radius = _roundness(near, cx + dx - left, cy + dy - top, radius_px)
                # The nearest of equals: a click means what is under it.
                strength *= 1 - FAR_COUNTS * float(np.hypot(cx + dx - x, cy + dy - y))
                if strength > at[0]:
                    at = (strength, float(cx + dx), float(cy + dy), radius)
    return at[1:]


def roundness(grey: Pixels, x: float, y: float) -> tuple[float, float]:
    """How strong a round edge there is about a place, whatever its radius; and that radius, px."""
    near, left, top = _near(grey, x, y, LARGEST_PX)
    return _roundness(near, x - left, y - top, None)


def _roundness(near: Pixels, x: float, y: float, radius_px: float | None) -> tuple[float, float]:
    """The same, at the outermost of the strong edges; of a head of about this radius where that is known."""
    import numpy as np

    low, high = (SMALLEST_PX, LARGEST_PX) if radius_px is None else (radius_px * 0.8, radius_px * 1.2)
    radii, (together,) = edges(near, np.array([x]), np.array([y]), low, high)
    place = int(np.nonzero(together >= OUTERMOST * together.max())[0][-1])
    while place > 0 and together[place - 1] > together[place]:
        place -= 1
    return float(together[place]), float(radii[place])


def edges(grey: Pixels, xs: NDArray, ys: NDArray, low: float, high: float) -> tuple[Pixels, Pixels]:
    """Radii (n) from `low` to `high`, and how strongly brightness changes at each about each of m places (m, n):
    nearly all round, in one direction."""
    import numpy as np
    from scipy import ndimage

    radii = np.arange(max(0.5, low - 2), high + 2, STEP_PX, dtype=np.float32)
    spokes = np.arange(SPOKES, dtype=np.float32) * (2 * np.pi / SPOKES)
    rows = np.asarray(ys, np.float32)[:, None, None] + radii[:, None] * np.sin(spokes)
    columns = np.asarray(xs, np.float32)[:, None, None] + radii[:, None] * np.cos(spokes)
    polar = ndimage.map_coordinates(grey, [rows, columns], order=1, mode="nearest")
    change = ndimage.gaussian_filter1d(np.diff(polar, axis=1), 1.0, axis=1)
    few = round(NOT_ALL_ROUND * (SPOKES - 1))
    ordered = np.partition(change, (few, SPOKES - 1 - few), axis=2)
    falls, rises = ordered[..., few], ordered[..., SPOKES - 1 - few]
    radii, strength = radii[3:-4] + STEP_PX / 2, np.maximum(np.maximum(falls, -rises), 0)[:, 3:-3]
    return radii[radii >= low - STEP_PX / 2], strength[:, radii >= low - STEP_PX / 2]


def _near(pixels: Pixels, x: float, y: float, reach_px: float) -> tuple[Pixels, int, int]:
    """What lies about a place, grey, and its left and top edge."""
    reach = int(reach_px) + 4
    top, left = max(0, int(y) - reach), max(0, int(x) - reach)
    return grey_of(pixels[top:max(0, int(y) + reach + 1), left:max(0, int(x) + reach + 1)]), left, top
