"""Scale and lengths from a photograph: two points, a known rectangle, a sheet of dots; with the uncertainty propagated.

References:
[1] ISO/IEC 7810:2019, ID-1 card: 85.60 mm x 53.98 mm; from memory, high.
[2] R. Hartley, A. Zisserman, Multiple View Geometry in Computer Vision, 2nd ed. 2004, section 4.1 (direct linear
    transformation) and 5.2 (covariance of an estimated transformation), from memory.
[3] The same, section 7.4 (radial distortion); one term, written from the distorted side.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TYPE_CHECKING

from msgspec import Struct

from oddbolt.model.places import Spot
from oddbolt.model.things import Plane

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]

CARD_MM = (85.60, 53.98)  # [1]
CLICK_SD_PX = 1.0  # how well a point is clicked: common practice, no source


class Length(Struct, frozen=True, kw_only=True):
    """A length in mm with its standard deviation; `parallax_per_mm` is its relative error for each mm of height."""

    mm: float
    sd_mm: float
    parallax_per_mm: float = 0.0


def place_mm(plane: Plane, spot: Spot) -> Spot:
    """Where a place of the photograph (px) lies on the plane, mm. The ninth entry of `to_mm` is one."""
    px, py = undistorted(plane.lens, spot)
    x, y, w = (row[0] * px + row[1] * py + row[2] for row in plane.to_mm)
    return x / w, y / w


def undistorted(lens: Sequence[float], spot: Spot) -> Spot:
    """Where a lens without distortion would have put a place, px; `lens` as in model.things.Plane, or empty.

    One radial coefficient: the distance from the centre grows by 1 + k r², r over the radius. Enough for the lenses of
    cameras and telephones at the distance of a bench [3].
    """
    if not lens:
        return spot
    cx, cy, radius, k1 = lens
    dx, dy = (spot[0] - cx) / radius, (spot[1] - cy) / radius
    grows = 1 + k1 * (dx * dx + dy * dy)
    return cx + dx * grows * radius, cy + dy * grows * radius


def mm_per_px(plane: Plane, spot: Spot) -> float:
    """Scale at a place: root of the area that a pixel covers."""
    a, b, c = (place_mm(plane, p) for p in (spot, (spot[0] + 1, spot[1]), (spot[0], spot[1] + 1)))
    return math.sqrt(abs((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])))


def two_point_scale(a: Spot, b: Spot, known_mm: float, *, sd_px: float = CLICK_SD_PX,
                    known_sd_mm: float = 0.0) -> Length:
    """mm for one pixel, from two points a known length apart. Holds where the camera looks square on only.

    Raises ValueError where the points are the same or the length is not above zero.
    """
    pixels = math.dist(a, b)
    if pixels < 1 or not known_mm > 0:
        raise ValueError("two different points and a length above zero are needed")
    scale = known_mm / pixels
    sd = scale * math.hypot(math.sqrt(2) * sd_px / pixels, known_sd_mm / known_mm)
    return Length(mm=scale, sd_mm=sd)


def length_by_scale(a: Spot, b: Spot, scale: Length, *, sd_px: float = CLICK_SD_PX, camera_mm: float = 0.0) -> Length:
    """A length by a scale, with the clicks' and the scale's uncertainty; `camera_mm` is the height of the lens."""
    pixels = math.dist(a, b)
    sd = math.hypot(math.sqrt(2) * sd_px * scale.mm, pixels * scale.sd_mm)
    return Length(mm=pixels * scale.mm, sd_mm=sd, parallax_per_mm=1 / camera_mm if camera_mm > 0 else 0.0)


def plane_of_rectangle(corners: Sequence[Spot], size_mm: Spot = CARD_MM, *, sd_px: float = CLICK_SD_PX) -> Plane:
    """The plane in which a known rectangle lies, from its four corners in order, the first side being `size_mm[0]`.

    The card may lie either way round and be clicked in either sense. Raises ValueError for corners that span nothing.
    """
    if len(corners) != 4:
        raise ValueError("four corners are needed")
    sides = [math.dist(corners[n], corners[(n + 1) % 4]) for n in range(4)]
    long, short = max(size_mm), min(size_mm)
    first, second = (long, short) if sides[0] + sides[2] >= sides[1] + sides[3] else (short, long)
    return plane_of_points(corners, [(0, 0), (first, 0), (first, second), (0, second)], sd_px=sd_px)


def plane_of_points(spots_px: Sequence[Spot], places_mm: Sequence[Spot], *, sd_px: float = CLICK_SD_PX,
                    size_px: Spot | None = None) -> Plane:
    """The plane through four or more known points, by least squares on the pixels' side of the transformation [2].

    With the photograph's `size_px` the lens is fitted too: that needs points in many places, 12 at least.
    Raises ValueError for fewer points, and for points that span nothing.
    """
    import numpy as np
    from scipy import optimize

    px, mm = np.asarray(spots_px, float), np.asarray(places_mm, float)
    if len(px) < (4 if size_px is None else 12) or len(px) != len(mm):
        raise ValueError("too few points")
    centre, spread = px.mean(axis=0), float(px.std()) or 1.0
    h = _direct((px - centre) / spread, mm)
    if h is None:
        raise ValueError("these points span no area")
    lens = np.array([size_px[0] / 2, size_px[1] / 2, math.hypot(*size_px) / 2]) if size_px else None

    def normal(k1: float) -> Floats:
        if lens is None:
            return (px - centre) / spread
        off = (px - lens[:2]) / lens[2]
        return (lens[:2] + off * (1 + k1 * (off ** 2).sum(axis=1))[:, None] * lens[2] - centre) / spread

    def project(v: Floats, at: Floats) -> Floats:
        x = np.column_stack([at, np.ones(len(at))]) @ np.append(v[:8], 1.0).reshape(3, 3).T
        return x[:, :2] / x[:, 2:]

    start = h if lens is None else np.append(h, 0.0)
    flat = normal(0.0)
    jacobian_mm = np.abs(project(h, flat + [1e-4, 0]) - project(h, flat)).max() / 1e-4 / spread
    fit = optimize.least_squares(lambda v: ((project(v, normal(v[8] if lens is not None else 0.0)) - mm)
                                            / max(1e-9, jacobian_mm)).ravel(), start, method="lm")
    scatter = np.linalg.pinv(fit.jac.T @ fit.jac) * sd_px ** 2
    residual = float(np.sqrt((fit.fun ** 2).sum() / spare)) if (spare := 2 * len(px) - len(start)) else None
    if residual is not None and residual > sd_px:
        scatter *= (residual / sd_px) ** 2
    shift = np.array([[1 / spread, 0, -centre[0] / spread], [0, 1 / spread, -centre[1] / spread], [0, 0, 1]])

    def whole(v: Floats) -> Floats:
        """Eight entries in pixels, and the lens."""
        return np.append(_flat(np.append(v[:8], 1.0).reshape(3, 3) @ shift), v[8:])

    found = whole(fit.x)
    jacobian = np.array([whole(fit.x + np.eye(len(start))[n] * 1e-6) - found for n in range(len(start))]).T / 1e-6
    covariance = jacobian @ scatter @ jacobian.T
    return Plane(to_mm=tuple(map(tuple, np.append(found[:8], 1.0).reshape(3, 3).tolist())),
                 covariance=tuple(map(tuple, covariance.tolist())),
                 lens=(*lens.tolist(), float(found[8])) if lens is not None else (), residual_px=residual)


def _flat(h: Floats) -> Floats:
    return (h / h[2, 2]).ravel()[:8]


def _direct(px: Floats, mm: Floats) -> Floats | None:
    """First estimate by the direct linear transformation; None where the points do not span an area."""
    import numpy as np

    rows = []
    for (x, y), (u, v) in zip(px, mm):
        rows.append([x, y, 1, 0, 0, 0, -u * x, -u * y, -u])
        rows.append([0, 0, 0, x, y, 1, -v * x, -v * y, -v])
    _, values, vectors = np.linalg.svd(np.array(rows))
    if values[7] < 1e-6 * values[0] or abs(vectors[-1][8]) < 1e-9:
        return None
    return vectors[-1][:8] / vectors[-1][8]


def length_on_plane(a: Spot, b: Spot, plane: Plane, *, sd_px: float = CLICK_SD_PX, camera_mm: float = 0.0) -> Length:
    """A length between two clicked points, uncertainty of clicks and plane propagated to first order."""
    import numpy as np

    lens = plane.lens
    own = 9 if lens else 8

    def length(values: Floats) -> float:
        h = (tuple(values[0:3]), tuple(values[3:6]), (values[6], values[7], 1.0))
        other = Plane(to_mm=h, lens=(*lens[:3], values[8]) if lens else ())
        return math.dist(place_mm(other, tuple(values[own:own + 2])), place_mm(other, tuple(values[own + 2:])))

    entries = np.array([*np.array(plane.to_mm).ravel()[:8], *lens[3:], *a, *b])
    value = length(entries)
    steps = np.maximum(np.abs(entries) * 1e-6, 1e-12)
    slope = np.array([(length(entries + np.eye(len(entries))[n] * steps[n]) - value) / steps[n]
                      for n in range(len(entries))])
    covariance = np.zeros((own + 4, own + 4))
    if len(plane.covariance) == own:
        covariance[:own, :own] = np.array(plane.covariance)
    covariance[own:, own:] = np.eye(4) * sd_px ** 2
    return Length(mm=value, sd_mm=float(np.sqrt(max(0.0, slope @ covariance @ slope))),
                  parallax_per_mm=1 / camera_mm if camera_mm > 0 else 0.0)


def area_mm2(corners: Sequence[Spot], plane: Plane) -> float:
    """Area of a polygon on the plane, by the shoelace formula."""
    places = [place_mm(plane, spot) for spot in corners]
    return abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(places, [*places[1:], places[0]]))) / 2


def honest(value: float, sd: float) -> str:
    """A value with no more digits than its standard deviation supports: "12.3 ± 0.2"."""
    if not sd > 0 or not math.isfinite(sd):
        return f"{value:.3g}"
    places = max(0, -math.floor(math.log10(sd)))
    if places and round(sd, places) >= 10 ** (1 - places):
        places -= 1
    return f"{value:.{places}f} ± {sd:.{places}f}"
