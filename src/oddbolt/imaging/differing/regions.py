"""Regions of change: parts that came off, heads and small things that went, what merely moved, light.

What is found lies on *before*, in pixels of the whole picture. The thresholds were chosen on drawn pairs.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.imaging.differing.changes import HALF, Changes
from oddbolt.imaging.differing.heads import went_unmarked
from oddbolt.imaging.differing.outlines import Corners, outline_of

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

CAME_OFF, SMALL, HEAD, MOVED, LIGHT = "came-off", "small", "head", "moved", "light"  # what is said of a region
LEAST_PX = 110  # of a region, half pixels
BROKEN, COLOURED = 0.38, 0.08  # of a region that is no mere light
GLARE_BROKEN, GLARE_COLOURED = 0.10, 0.25  # a lamp that is mirrored changes colour, and breaks nothing
SPREAD_PX = 4  # half pixels that a region is seen too large on each side: with 3 the overlap of tuned pairs was 0.78
CLOSED_PX, RIM_CLOSED_PX = 4, 5  # half pixels by which gaps of a region, and of a rim, are closed
SMALL_SHARE = 0.002  # of the device: a region up to that is a plug, a film, a label rather than a part
LANDS_SHARE = 0.006  # of the device: nothing larger is bent aside
NEAR = 6.0  # lengths of a small thing: so near lies where it went
SAME_COLOUR = 14.0  # grey values
WITHIN_RIM = 2.0  # times what changed for sure
SLIM = 0.35  # of its box that a thing fills which is as slim as a cable


class Region(Struct, frozen=True, eq=False, kw_only=True):
    """A place that changed."""

    says: str
    box: tuple[float, float, float, float]  # left, top, right, bottom, px
    outline: Corners  # px
    area_px: float
    broken: float  # mean loss of structure
    coloured: float
    colour: tuple[float, float, float] = (0.0, 0.0, 0.0)  # mean of what was there, red, green, blue, 0 to 255

    @property
    def middle(self) -> tuple[float, float]:
        return (self.box[0] + self.box[2]) / 2, (self.box[1] + self.box[3]) / 2

    @property
    def radius_px(self) -> float:
        """Of a head."""
        return (self.box[2] - self.box[0] + self.box[3] - self.box[1]) / 4


def regions_of(changes: Changes, hidden: NDArray[np.bool_], heads: Sequence[tuple[float, float, float]]) -> \
        tuple[Region, ...]:
    """The largest first. `heads` are those that are marked: x, y, radius, px."""
    from scipy import ndimage

    changed = changes.changed & ~hidden
    marked = _discs(changed.shape, heads)
    whole = _whole(changes, hidden)
    found = [one for one in _found(changes, whole) if not _mostly(marked, one)]
    went = went_unmarked(changes, ndimage.binary_dilation(changed, iterations=2) & changes.inside & ~marked)
    bare = _discs(changed.shape, went)
    named = [_named(changes, region) for region, pixels in found
             if region.says == LIGHT or not _mostly(bare, (region, pixels))]
    return tuple(sorted([*_without_landed(changes, named), *(_head(changes, *one) for one in went)],
                        key=lambda region: -region.area_px))


def _colour(pixels: NDArray[np.float32]) -> tuple[float, float, float]:
    red, green, blue = (float(value) for value in pixels.reshape(-1, 3).mean(0))
    return red, green, blue


def _whole(changes: Changes, hidden: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """What changed for sure, without gaps; where a weak rim goes round much more than that, all within the rim."""
    import numpy as np
    from scipy import ndimage

    sure, rimmed = (ndimage.binary_fill_holes(ndimage.binary_closing(one & ~hidden, iterations=gap))
                    for one, gap in ((changes.sure, CLOSED_PX), (changes.changed, RIM_CLOSED_PX)))
    labels, number = ndimage.label(rimmed)
    every = range(1, number + 1)
    large = ndimage.sum_labels(rimmed, labels, every) > WITHIN_RIM * ndimage.sum_labels(sure, labels, every)
    return sure | np.isin(labels, 1 + np.flatnonzero(large))


def _head(changes: Changes, x: float, y: float, r: float) -> Region:
    at, within = (int(y // HALF), int(x // HALF)), max(1, int(0.6 * r / HALF))
    around = changes.before_half[max(0, at[0] - within):at[0] + within + 1, max(0, at[1] - within):at[1] + within + 1]
    return Region(says=HEAD, area_px=math.pi * r * r, broken=float(changes.broken[at]),
                  coloured=float(changes.chroma[at]), colour=_colour(around), box=(x - r, y - r, x + r, y + r),
                  outline=((x - r, y - r), (x + r, y - r), (x + r, y + r), (x - r, y + r)))


_Found = tuple[Region, "NDArray[np.bool_]"]


def _found(changes: Changes, whole: NDArray[np.bool_]) -> list[_Found]:
    """Regions with their pixels in their boxes of the half-size picture."""
    import numpy as np
    from scipy import ndimage

    labels, _ = ndimage.label(whole)
    out = []
    for n, box in enumerate(ndimage.find_objects(labels), start=1):
        one = labels[box] == n
        area = int(one.sum())
        if area < LEAST_PX or (one & changes.inside[box]).sum() < area / 2:
            continue
        sure = one & changes.sure[box]  # what was filled in looks the same before and after
        if not sure.any():
            continue
        loss, colour = float(changes.broken[box][sure].mean()), float(changes.chroma[box][sure].mean())
        rows, columns = box
        slim = ndimage.binary_erosion(np.pad(one, 1), iterations=SPREAD_PX)[1:-1, 1:-1]
        if slim.sum() > area / 3:  # a change is seen as far as the windows reach beyond it
            ys, xs = np.nonzero(slim)
            one = slim[ys.min():ys.max() + 1, xs.min():xs.max() + 1]
            rows = slice(rows.start + int(ys.min()), rows.start + int(ys.max()) + 1)
            columns = slice(columns.start + int(xs.min()), columns.start + int(xs.max()) + 1)
        corners = tuple(((x + columns.start) * HALF, (y + rows.start) * HALF) for x, y in outline_of(one))
        out.append((Region(says=CAME_OFF if _is_no_light(loss, colour) else LIGHT, area_px=float(one.sum()) * HALF ** 2,
                           broken=loss, coloured=colour, outline=corners,
                           colour=_colour(changes.before_half[rows, columns][one]),
                           box=(columns.start * HALF, rows.start * HALF, columns.stop * HALF, rows.stop * HALF)), one))
    return out


def _is_no_light(loss: float, colour: float) -> bool:
    return loss >= BROKEN or colour >= GLARE_COLOURED or (colour >= COLOURED and loss >= GLARE_BROKEN)


def _slices(region: Region) -> tuple[slice, slice]:
    left, top, right, bottom = (int(edge // HALF) for edge in region.box)
    return slice(top, bottom), slice(left, right)


def _discs(shape: tuple[int, ...], heads: Sequence[tuple[float, float, float]]) -> NDArray[np.bool_]:
    """Where heads are marked, with something around them."""
    import numpy as np

    out = np.zeros(shape, bool)
    for x, y, radius in heads:
        r, x, y = 1.5 * radius / HALF, x / HALF, y / HALF
        top, left = max(0, int(y - r)), max(0, int(x - r))
        part = out[top:int(y + r) + 2, left:int(x + r) + 2]
        v, u = np.ogrid[0:part.shape[0], 0:part.shape[1]]
        part |= (v + top - y) ** 2 + (u + left - x) ** 2 <= r * r
    return out


def _mostly(marked: NDArray[np.bool_], one: _Found) -> bool:
    region, pixels = one
    return bool((marked[_slices(region)] & pixels).sum() > pixels.sum() / 2)


def _named(changes: Changes, region: Region) -> Region:
    """A part, a small thing, or as slim as a cable."""
    if region.says == LIGHT:
        return region
    wide, high = region.box[2] - region.box[0], region.box[3] - region.box[1]
    if region.area_px <= SMALL_SHARE * changes.device_px:
        return replace(region, says=SMALL)
    return replace(region, says=MOVED) if region.area_px < SLIM * wide * high else region


def _without_landed(changes: Changes, regions: Sequence[Region]) -> list[Region]:
    """Without places where something lies now that lay near by before: an opened plug was bent aside."""
    small = [one for one in regions if one.says in (SMALL, CAME_OFF) and one.area_px <= LANDS_SHARE * changes.device_px]
    landed = {id(there) for here in small for there in small if here is not there and _went(changes, here, there)
              and not _went(changes, there, here)}
    return [one for one in regions if id(one) not in landed]


def _went(changes: Changes, here: Region, there: Region) -> bool:
    """Whether what was here lies there now, by its colours: mean and scatter."""
    import numpy as np

    size = max(here.box[2] - here.box[0], here.box[3] - here.box[1])
    if np.hypot(here.middle[0] - there.middle[0], here.middle[1] - there.middle[1]) > NEAR * size:
        return False
    was, now, before = (half[_slices(one)].reshape(-1, 3) for half, one in (
        (changes.before_half, here), (changes.after_half, there), (changes.before_half, there)))

    def unlike(one: NDArray[np.float32], other: NDArray[np.float32]) -> float:
        return float(np.abs(one.mean(0) - other.mean(0)).max() + np.abs(one.std(0) - other.std(0)).max())

    return unlike(was, now) < SAME_COLOUR and unlike(was, now) < unlike(was, before)
