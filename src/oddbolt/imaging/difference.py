"""What changed between two photographs of one side: which screws went, where something came off, what is hidden.

Good enough to offer and never to record by itself: "unsure" is an answer. The two must be registered first
(`registering`). Arrays in, findings out; the thresholds were chosen on drawn pairs, and scripts/difference_study.py
prints how often each is right on others.

References, from memory:
[1] J. P. Lewis, Fast normalized cross-correlation, Vision Interface 1995: structure compared whatever the light.
[2] Spectrum over the angle of a polar patch, as in `alike`: a head looks the same whichever way it is turned.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING

from msgspec import Struct

from oddbolt.imaging.registering import Registration, warped

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Pixels = NDArray[np.float32]

GONE, PRESENT, UNSURE, HIDDEN = "gone", "present", "unsure", "hidden"  # what is said of a screw
CAME_OFF, LIGHT = "came-off", "light"  # what is said of a region
HALF = 2  # the change map is of pictures shrunk so many times
FINE, WINDOW = 3.5, 2.4  # sigma of what is taken away, and of the window in which structure is compared, half pixels
BROKEN_AT, BROKEN_WIDE = 0.45, 0.08  # of 1 - correlation: a logistic
CHROMA_AT, CHROMA_WIDE = 0.10, 0.02
LIGHT_AT, LIGHT_WIDE = 0.28, 0.05
LEAST_PX = 200  # of a region, half pixels
BROKEN, COLOURED = 0.45, 0.08  # of a region that is no mere light
GLARE_BROKEN, GLARE_COLOURED = 0.10, 0.25  # a lamp that is mirrored changes colour, and breaks nothing
OUTLINE_AGREES = 0.55  # correlation within an outline: under it the part came off,
OUTLINE_CHANGED = 0.35  # where so much of it changed; less is what lay on it
LEAST_OUTLINE_PX = 64
HEAD, AROUND = 1.2, (1.4, 7.0)  # in radii: what of a screw is compared, and what it is aligned by
ALIGN_PX = 4
GONE_HEAD, GONE_RING, PRESENT_HEAD = 0.6, 0.9, 0.88
SPREAD_PX = 3  # half pixels that a region is seen too large on each side
RIM_PX = 5  # half pixels: so near to the rim of what both show
HAND_BEYOND_PX, MOST_HIDDEN = 150, 0.12  # half pixels outside the device; share of it from which nothing is said
AROUND_AGREES = 0.5  # correlation of what is around a head
EVEN = 0.5  # of the contrast of a place that is not alike all round
RINGS, SPOKES = 6, 48


class Screw(Struct, frozen=True, kw_only=True):
    """One marked head: its place on before, px, and the radius of its head, px."""

    joint: str
    x: float
    y: float
    radius_px: float
    part: str = ""  # that it holds: where that came off, what held it is out


class Verdict(Struct, frozen=True, kw_only=True):
    """What the photographs say of one screw."""

    screw: Screw
    says: str  # GONE, PRESENT, UNSURE or HIDDEN
    head: float  # correlation of the head, -1 to 1
    implied: bool = False  # by the part that came off, not by its head
    ring: float  # likeness of the heads whichever way they are turned, 0 to 1


class Region(Struct, frozen=True, eq=False, kw_only=True):
    """A place that changed, on before."""

    says: str  # CAME_OFF or LIGHT
    box: tuple[float, float, float, float]  # left, top, right, bottom, px
    outline: tuple[tuple[float, float], ...]  # px
    area_px: float
    broken: float  # mean loss of structure
    coloured: float


class Difference(Struct, frozen=True, eq=False, kw_only=True):
    """All that was found. `refused` says why nothing is: "not-same-side" or "hand"; else empty."""

    refused: str = ""
    regions: tuple[Region, ...] = ()
    screws: tuple[Verdict, ...] = ()
    lifted: tuple[str, ...] = ()  # of the parts whose outline is known
    hidden_share: float = 0.0  # of the device, under a hand or what else hangs over it


def differ(before: Pixels, after: Pixels, registration: Registration, mask: Pixels, screws: Sequence[Screw] = (),
           outlines: Sequence[tuple[str, Sequence[tuple[float, float]]]] = ()) -> Iterator[Difference | None]:
    """What changed from `before` to `after`, (height, width, 3), 0 to 255; a `yield` is progress, the last the answer.

    `mask` says where the device lies on before; `screws` and `outlines` (a part, its corners) are what is on record.
    """
    if not registration.is_same_side:
        yield Difference(refused="not-same-side")
        return
    there, valid = _laid_over(before, after, registration)
    yield None
    broken, chroma, light = _change(before, there)
    yield None
    shown = _half(valid) > 0.9
    changed = _changed(broken, chroma, light, _half(mask) > 0.5) & shown
    hidden, share = _hidden(changed, shown, mask)
    if share > MOST_HIDDEN:
        yield Difference(refused="hand", hidden_share=share)
        return
    yield None
    lifted = tuple(part for part, corners in outlines if _came_off(before, there, corners, changed, hidden))
    yield None
    verdicts = [_verdict(before, there, screw, hidden) for screw in screws]
    verdicts = [Verdict(screw=one.screw, says=GONE, head=one.head, ring=one.ring, implied=True)
                if one.says == UNSURE and one.screw.part in lifted else one for one in verdicts]
    yield None
    regions = _regions(changed & ~hidden, broken, chroma, mask, screws)
    yield Difference(regions=regions, screws=tuple(verdicts), lifted=lifted, hidden_share=share)


# -- the change map, of pictures of half the size

def _half(pixels: Pixels) -> Pixels:
    height, width = pixels.shape[0] // HALF * HALF, pixels.shape[1] // HALF * HALF
    cut = pixels[:height, :width]
    return cut.reshape(height // HALF, HALF, width // HALF, HALF, *cut.shape[2:]).mean((1, 3), dtype="float32")


def _laid_over(before: Pixels, after: Pixels, registration: Registration) -> tuple[Pixels, Pixels]:
    """After as it lies on before, in the light of before; and where it shows anything."""
    import numpy as np

    there = warped(after, registration.matrix, before.shape, outside=-1.0).astype(np.float32)
    valid = there.min(2) >= 0
    there = np.clip(there, 0, 255)
    return there * _light(before, there, valid), valid.astype(np.float32)


def _light(before: Pixels, after: Pixels, valid: NDArray[np.bool_]) -> Pixels:
    """By what after has to be multiplied: a smooth factor per channel, found on what is alike in both."""
    import numpy as np

    step = max(1, before.shape[1] // 160)
    b, a, ok = before[::step, ::step], after[::step, ::step], valid[::step, ::step]
    y, x = np.mgrid[0:b.shape[0], 0:b.shape[1]].astype(np.float32)
    x, y = x / b.shape[1] - 0.5, y / b.shape[0] - 0.5
    terms = np.stack((np.ones_like(x), x, y, x * x, x * y, y * y), -1)
    full_y, full_x = np.mgrid[0:before.shape[0], 0:before.shape[1]].astype(np.float32)
    full_x, full_y = full_x / before.shape[1] - 0.5, full_y / before.shape[0] - 0.5
    out = np.empty(before.shape, np.float32)
    for c in range(3):
        ratio = np.log((b[..., c] + 6) / (a[..., c] + 6))
        keep = ok.copy()
        weights = np.zeros(6)
        for _ in range(6):
            weights = np.linalg.lstsq(terms[keep], ratio[keep], rcond=None)[0]
            off = np.abs(ratio - terms @ weights)
            keep = ok & (off < max(0.05, 2.0 * float(np.median(off[keep]))))
        w = weights
        out[..., c] = np.exp(w[0] + w[1] * full_x + w[2] * full_y + w[3] * full_x ** 2 + w[4] * full_x * full_y
                             + w[5] * full_y ** 2)
    return out


def _change(before: Pixels, there: Pixels) -> tuple[Pixels, Pixels, Pixels]:
    """How much structure, colour and brightness changed, each by place, at half the size."""
    import numpy as np
    from scipy import ndimage

    b, a = _half(before), _half(there)
    gb, ga = b.mean(2), a.mean(2)
    noise2 = _noise(gb) ** 2 + _noise(ga) ** 2
    hb, ha = gb - ndimage.gaussian_filter(gb, FINE), ga - ndimage.gaussian_filter(ga, FINE)
    calm = 2.2 ** 2 * noise2 / 2 + 4

    def mean(pixels: Pixels) -> Pixels:
        return ndimage.gaussian_filter(pixels, WINDOW)

    mb, ma = mean(hb), mean(ha)
    vb = np.clip(mean(hb * hb) - mb ** 2 - noise2 / 2, 0, None)
    va = np.clip(mean(ha * ha) - ma ** 2 - noise2 / 2, 0, None)
    best = np.full(gb.shape, -1.0, np.float32)
    for dy in (-2, -1, 0, 1, 2):
        for dx in (-2, -1, 0, 1, 2):
            if abs(dx) + abs(dy) > 2:
                continue
            moved, there_mean, there_var = (np.roll(one, (dy, dx), (0, 1)) for one in (ha, ma, va))
            cov = mean(hb * moved) - mb * there_mean
            np.maximum(best, (cov + calm) / np.sqrt((there_var + calm) * (vb + calm)), out=best)
    sb, sa = ndimage.gaussian_filter(b, (1.2, 1.2, 0)), ndimage.gaussian_filter(a, (1.2, 1.2, 0))
    chroma = np.zeros(gb.shape, np.float32)
    for c in range(3):
        cb, ca = sb[..., c] / (sb.sum(2) + 12), sa[..., c] / (sa.sum(2) + 12)
        chroma += _outside(ca, cb) ** 2
    lb, la = np.log(sb.mean(2) + 8), np.log(sa.mean(2) + 8)
    return 1 - best, np.sqrt(chroma) * 2, _outside(la, lb)


def _outside(values: Pixels, of: Pixels) -> Pixels:
    """How far values lie outside of the range of others near them: a small shift is no change."""
    import numpy as np
    from scipy import ndimage

    low, high = ndimage.minimum_filter(of, 5), ndimage.maximum_filter(of, 5)
    return np.maximum(0, np.maximum(values - high, low - values))


def _noise(grey: Pixels) -> float:
    """Standard deviation of the grain, from second differences (J. Immerkaer, CVIU 64 (1996) 300-302, from memory)."""
    import numpy as np
    from scipy import ndimage

    kernel = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], float)
    return float(1.4826 * np.median(np.abs(ndimage.convolve(grey, kernel)))) / 6


def _logistic(values: Pixels, centre: float, width: float) -> Pixels:
    import numpy as np

    return 1 / (1 + np.exp(np.clip(-(values - centre) / width, -30, 30)))


def _changed(broken: Pixels, chroma: Pixels, light: Pixels, inside: NDArray[np.bool_]) -> NDArray[np.bool_]:
    import numpy as np
    from scipy import ndimage

    # Where structure survives a change of brightness is a lamp; on the bare mat there is no structure to survive.
    by_light = _logistic(light, LIGHT_AT, LIGHT_WIDE) * np.where(inside, np.clip(broken / BROKEN_AT, 0.3, 1), 1)
    odds = np.maximum(np.maximum(_logistic(broken, BROKEN_AT, BROKEN_WIDE), _logistic(chroma, CHROMA_AT, CHROMA_WIDE)),
                      by_light)
    return ndimage.binary_opening(odds > 0.5, iterations=1)


# -- hands, regions

def _hidden(changed: NDArray[np.bool_], shown: NDArray[np.bool_], mask: Pixels) -> tuple[NDArray[np.bool_], float]:
    """Under something that reaches in over the rim of what both show; and what share of the device that is."""
    import numpy as np
    from scipy import ndimage

    inside = _half(mask) > 0.5
    found, number = ndimage.label(ndimage.binary_closing(changed, iterations=3))
    hidden = np.zeros(changed.shape, bool)
    edge = ~ndimage.binary_erosion(shown, iterations=RIM_PX)
    for n in set(np.unique(found[edge])) - {0}:
        one = found == n
        if (one & ~inside).sum() >= HAND_BEYOND_PX:
            hidden |= one
    if hidden.any():
        hidden = ndimage.binary_dilation(ndimage.binary_fill_holes(hidden), iterations=8)
    return hidden, float((hidden & inside).sum() / max(1, inside.sum())) if number else 0.0


def _regions(changed: NDArray[np.bool_], broken: Pixels, chroma: Pixels, mask: Pixels, screws: Sequence[Screw]) -> \
        tuple[Region, ...]:
    import numpy as np
    from scipy import ndimage

    inside = _half(mask) > 0.5
    whole = ndimage.binary_fill_holes(ndimage.binary_closing(changed, iterations=4))
    found, number = ndimage.label(whole)
    heads = np.zeros(changed.shape, bool)
    y, x = np.ogrid[0:changed.shape[0], 0:changed.shape[1]]
    for screw in screws:
        r = 1.5 * screw.radius_px / HALF
        top, left = int(max(0, screw.y / HALF - r)), int(max(0, screw.x / HALF - r))
        part = np.s_[top:int(screw.y / HALF + r) + 2, left:int(screw.x / HALF + r) + 2]
        heads[part] |= ((y[part[0]] - screw.y / HALF) ** 2 + (x[:, part[1]] - screw.x / HALF) ** 2) <= r * r
    regions = []
    for n, box in enumerate(ndimage.find_objects(found), start=1):
        one = found[box] == n
        area = int(one.sum())
        if area < LEAST_PX or (one & inside[box]).sum() < area / 2 or (one & heads[box]).sum() > area / 2:
            continue
        loss, colour = float(broken[box][one].mean()), float(chroma[box][one].mean())
        rows, columns = box
        slim = ndimage.binary_erosion(np.pad(one, 1), iterations=SPREAD_PX)[1:-1, 1:-1]
        if slim.sum() > area / 3:  # a change is seen as far as the windows reach beyond it
            ys, xs = np.nonzero(slim)
            one = slim[ys.min():ys.max() + 1, xs.min():xs.max() + 1]
            rows = slice(rows.start + int(ys.min()), rows.start + int(ys.max()) + 1)
            columns = slice(columns.start + int(xs.min()), columns.start + int(xs.max()) + 1)
        regions.append(Region(
            says=CAME_OFF if _is_no_light(loss, colour) else LIGHT, area_px=area * HALF ** 2, broken=loss,
            coloured=colour, box=(columns.start * HALF, rows.start * HALF, columns.stop * HALF, rows.stop * HALF),
            outline=_outline(one, columns.start, rows.start)))
    return tuple(sorted(regions, key=lambda region: -region.area_px))


def _is_no_light(loss: float, colour: float) -> bool:
    return loss >= BROKEN or colour >= GLARE_COLOURED or (colour >= COLOURED and loss >= GLARE_BROKEN)


def _outline(one: NDArray[np.bool_], left: int, top: int) -> tuple[tuple[float, float], ...]:
    """The hull of a region in at most some two dozen corners, px."""
    import numpy as np
    from scipy.spatial import ConvexHull, QhullError

    ys, xs = np.nonzero(one)
    points = np.stack((xs, ys), 1).astype(float)
    try:
        corners = points[ConvexHull(points).vertices]
    except QhullError:
        corners = np.array([[xs.min(), ys.min()], [xs.max(), ys.min()], [xs.max(), ys.max()], [xs.min(), ys.max()]])
    step = max(1, len(corners) // 24)
    return tuple((float((x + left + 0.5) * HALF), float((y + top + 0.5) * HALF)) for x, y in corners[::step])


def _came_off(before: Pixels, there: Pixels, corners: Sequence[tuple[float, float]], changed: NDArray[np.bool_],
              hidden: NDArray[np.bool_]) -> bool:
    """Whether what lay within an outline is there no more."""
    left, top = (max(0, int(min(p[i] for p in corners))) for i in (0, 1))
    right, bottom = (int(max(p[i] for p in corners)) + 1 for i in (0, 1))
    half = slice(top // HALF, bottom // HALF + 1), slice(left // HALF, right // HALF + 1)
    b, a = before[top:bottom, left:right].mean(2), there[top:bottom, left:right].mean(2)
    if b.size < LEAST_OUTLINE_PX or not changed[half].size or hidden[half].mean() > 0.3 \
            or changed[half].mean() < OUTLINE_CHANGED:
        return False
    inside = _within(b.shape, corners, left, top)
    return _correlation(b[inside], a[inside]) < OUTLINE_AGREES


def _within(shape: tuple[int, ...], corners: Sequence[tuple[float, float]], left: int, top: int) -> NDArray[np.bool_]:
    """Which pixels of a box lie within an outline, by the crossings of a ray."""
    import numpy as np

    y, x = np.mgrid[0:shape[0], 0:shape[1]]
    x, y = x + left + 0.5, y + top + 0.5
    inside = np.zeros(shape, bool)
    for (x1, y1), (x2, y2) in zip(corners, (*corners[1:], corners[0])):
        if y1 != y2:
            inside ^= ((y1 > y) != (y2 > y)) & (x < (x2 - x1) * (y - y1) / (y2 - y1) + x1)
    return inside


def _correlation(one: Pixels, other: Pixels) -> float:
    import numpy as np

    a, b = one - one.mean(), other - other.mean()
    return float((a * b).sum() / (np.sqrt((a * a).sum() * (b * b).sum()) + 1e-6))


# -- screws

def _verdict(before: Pixels, there: Pixels, screw: Screw, hidden: NDArray[np.bool_]) -> Verdict:
    """Whether a head is still where it was."""
    import numpy as np

    x, y, r = screw.x, screw.y, screw.radius_px
    at = int(np.clip(y / HALF, 0, hidden.shape[0] - 1)), int(np.clip(x / HALF, 0, hidden.shape[1] - 1))
    if hidden[at]:
        return Verdict(screw=screw, says=HIDDEN, head=0.0, ring=0.0)
    reach = int(np.ceil(AROUND[1] * r)) + ALIGN_PX + 1
    left, top = round(x) - reach, round(y) - reach
    if left < 0 or top < 0 or left + 2 * reach + 1 > before.shape[1] or top + 2 * reach + 1 > before.shape[0]:
        reach = int(min(x, y, before.shape[1] - 1 - x, before.shape[0] - 1 - y))
        left, top = round(x) - reach, round(y) - reach
    if reach < 1.6 * r + ALIGN_PX:
        return Verdict(screw=screw, says=UNSURE, head=0.0, ring=0.0)
    b = before[top:top + 2 * reach + 1, left:left + 2 * reach + 1].mean(2)
    a = there[top:top + 2 * reach + 1, left:left + 2 * reach + 1].mean(2)
    v, u = np.mgrid[0:b.shape[0], 0:b.shape[1]]
    far = np.hypot(u + left - x, v + top - y)
    around = (far >= AROUND[0] * r) & (far <= AROUND[1] * r)
    head = far <= HEAD * r
    edge = np.zeros_like(around)
    edge[ALIGN_PX:-ALIGN_PX, ALIGN_PX:-ALIGN_PX] = True
    around &= edge
    shifts = [(dy, dx) for dy in range(-ALIGN_PX, ALIGN_PX + 1) for dx in range(-ALIGN_PX, ALIGN_PX + 1)]
    dy, dx = max(shifts, key=lambda s: _correlation(b[around], np.roll(a, s, (0, 1))[around]) - 0.002 * (
        abs(s[0]) + abs(s[1])))
    moved = np.roll(a, (dy, dx), (0, 1))
    z = max(_correlation(b[head], np.roll(moved, (j, i), (0, 1))[head]) for j in (-1, 0, 1) for i in (-1, 0, 1))
    s = _ring(b, moved, x - left, y - top, r)
    around_it = _correlation(b[around], moved[around])
    # A hole is round; what lies over a head, an opened plug for one, is not. Where all around changed, a part came off.
    round_it = _uneven(moved, x - left, y - top, r) < EVEN
    gone = z < GONE_HEAD and s < GONE_RING and around_it >= AROUND_AGREES and round_it
    says = PRESENT if z >= PRESENT_HEAD else GONE if gone else UNSURE
    return Verdict(screw=screw, says=says, head=round(z, 3), ring=round(s, 3))


def _ring(b: Pixels, a: Pixels, x: float, y: float, r: float) -> float:
    """How alike two heads are whichever way they are turned: by the mean and the spectrum of rings about the middle."""
    import numpy as np

    one, other = _spectrum(b, x, y, r), _spectrum(a, x, y, r)
    return max(0.0, float((one * other).sum() / (np.sqrt((one * one).sum() * (other * other).sum()) + 1e-6)))


def _uneven(pixels: Pixels, x: float, y: float, r: float) -> float:
    """How much of what is there is not alike all round, 0 to 1."""
    rings = _spectrum(pixels, x, y, r)
    around, whole = (rings[:, 1:] ** 2).sum(), (rings ** 2).sum()
    return float(around / (whole + 1e-6))


def _spectrum(pixels: Pixels, x: float, y: float, r: float) -> Pixels:
    import numpy as np
    from scipy import ndimage

    radii = np.linspace(0.15, 1.25, RINGS)[:, None] * r
    angles = np.linspace(0, 2 * np.pi, SPOKES, endpoint=False)[None, :]
    polar = ndimage.map_coordinates(pixels, np.stack((y + radii * np.sin(angles), x + radii * np.cos(angles))), order=1)
    polar = polar - polar.mean()
    spectrum = np.abs(np.fft.rfft(polar, axis=1))[:, :10] / SPOKES
    spectrum[:, 0] = polar.mean(1)  # with its sign: a dark hole is not a bright head
    return spectrum
