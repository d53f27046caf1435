"""Find other places on a photograph that look like ones already marked: screws of one kind, best first.

Normalised correlation under a round mask, turned to a set of angles, by FFT; then the best candidates are compared more
closely by descriptors that do not mind rotation. Arrays in, numbers out.

References:
[1] J. P. Lewis, Fast normalized cross-correlation, Vision Interface 1995; masked as in D. Padfield, IEEE Trans. Image
    Process. 21 (2012) 2706-2718; from memory.
[2] Fourier-Mellin style descriptors: best circular shift and spectrum over the angle of a polar patch.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from typing import TYPE_CHECKING

from msgspec import Struct

from oddbolt.catalog.tables import alike_weights
from oddbolt.imaging.circles import SMALLEST_PX, Circle, centred, circles_about, circles_at, grey_of

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Pixels = NDArray[np.float32]

WORK_RADIUS_PX = 8.0  # radius of the head on the working image
ANGLES, TURN_DEG = 8, 120.0  # turns of the template; every recess repeats after a third of a turn or less
LOOKED_AT_CLOSELY = 60
REACH = 1.0  # of the radius
INSIDE = 0.92  # of the radius: a radius that is a little too large must not take in what is around the head
RINGS, SPOKES = 14, 72
TRIED_CLOSELY, TRIED_TURNS, MOST_TRIED = 24, 4, 4  # of circles that are tried roughly
TRIED_AROUND, WORTH_TRYING = 36, 0.3  # radii about the click; of the strength of the strongest
SEEN_AT_ALL, MOST_RATIO = 0.1, 2.6  # a larger circle about the strongest: its strength and its radius by that one's
RECESS_OF_HEAD = 0.62  # a recess across, by its head (common practice, no source)
UNLIKE, SURE, MOST_DOUBT = 0.12, 0.85, 1.0  # likeness: between the first two it is in doubt
FAINT_COSTS, LARGE_GAINS = 0.3, 0.35  # doubt, for the logarithm of strength and radius: tuned on the seeds TUNING
LEAST_HEAD_MM = 1.0  # across: what is smaller is no head (common practice, no source)


class Likeness(Struct, frozen=True):
    """A place and how much it looks like the seeds, 0 to 1."""

    x: float
    y: float
    score: float


class Example(Struct, frozen=True, eq=False):
    """A place that shows, or does not show, what is looked for; its pixels need to reach twice the radius round it."""

    pixels: Pixels
    x: float
    y: float
    radius_px: float


class Look(Struct, frozen=True):
    """What a place looks like, whichever way it is turned."""

    polar: Pixels  # (RINGS, SPOKES), zero mean, unit norm
    recess: Pixels  # the same less what is alike all round, unit norm
    spectrum: Pixels  # over the angle, per ring, unit norm
    depth: float  # how much of the contrast is not alike all round, 0 to 1
    profile: Pixels  # mean brightness by ring
    colour: Pixels  # mean chromaticity, 3


def find_alike(pixels: Pixels, seeds: Sequence[tuple[float, float]], radius_px: float, *,
               wrong: Sequence[tuple[float, float]] = (), like: Sequence[Example] = (),
               unlike: Sequence[Example] = (), most: int = LOOKED_AT_CLOSELY, turns: int = ANGLES,
               region: tuple[float, float, float, float] | None = None) -> Iterator[list[Likeness]]:
    """Places like the seeds, best first; a `yield` is progress, the last one is the answer.

    `pixels` is (height, width, 3), 0 to 255; `radius_px` the radius of the head; `region` (x0, y0, x1, y1) limits where
    is looked. Places in `wrong` teach: what looks more like them than like a seed falls back. `like` and `unlike` are
    the same from elsewhere: other photographs, and what was said to be wrong before. One seed or `like` is needed.
    """
    import numpy as np

    x0, y0, x1, y1 = region or (0, 0, pixels.shape[1], pixels.shape[0])
    margin = radius_px * 2.5
    left, top = max(0, int(x0 - margin)), max(0, int(y0 - margin))
    cut = pixels[top:int(y1 + margin) + 1, left:int(x1 + margin) + 1]
    scale = WORK_RADIUS_PX / radius_px
    work, back = _resized(grey_of(cut), scale)
    yield []
    best = np.full(work.shape, -1.0, np.float32)
    shown = [Example(pixels, x, y, radius_px) for x, y in seeds] + list(like)
    for match in _correlations(work, [t for t in map(_patch, shown[:3]) if t is not None], turns):
        np.maximum(best, match, out=best)
        yield []
    peaks = _peaks(best, WORK_RADIUS_PX, most)
    good = [look_at(e.pixels, e.x, e.y, e.radius_px) for e in shown]
    bad = [look_at(pixels, x, y, radius_px) for x, y in wrong]
    bad += [look_at(e.pixels, e.x, e.y, e.radius_px) for e in unlike]
    found = []
    for py, px, correlation in peaks:
        x, y = back(px, 1) + left, back(py, 0) + top
        if not (x0 <= x <= x1 and y0 <= y <= y1) or any((x - a) ** 2 + (y - b) ** 2 < radius_px ** 2
                                                       for a, b in (*seeds, *wrong)):
            continue
        x, y, look = _centred(pixels, x, y, radius_px, good[0])
        score = max(likeness(look, other, correlation) for other in good)
        if bad:
            score *= 1 - max(0.0, max(likeness(look, other, correlation) for other in bad) - 0.1)
        found.append(Likeness(x, y, round(score, 3)))
    apart: list[Likeness] = []
    for one in sorted(found, key=lambda f: -f.score):
        if all((one.x - f.x) ** 2 + (one.y - f.y) ** 2 > (1.9 * radius_px) ** 2 for f in apart):
            apart.append(one)
    yield apart


def likeness(one: Look, other: Look, correlation: float) -> float:
    """How likely two places show the same kind of thing, 0 to 1: a logistic sum of descriptors."""
    weights = alike_weights()
    total = weights["bias"] + weights["correlation"] * correlation
    for name, value in descriptors(one, other).items():
        total += weights[name] * value
    return 1 / (1 + math.exp(-total))


def descriptors(one: Look, other: Look) -> dict[str, float]:
    """Likeness by each descriptor, about 0 to 1 each."""
    import numpy as np

    def turned(a: Pixels, b: Pixels) -> float:
        product = np.fft.rfft(a, axis=1) * np.conj(np.fft.rfft(b, axis=1))
        return float(np.fft.irfft(product.sum(axis=0), n=SPOKES).max())

    return {"polar": turned(one.polar, other.polar), "recess": turned(one.recess, other.recess),
            "depth": 1 - abs(one.depth - other.depth) * 2, "spectrum": float((one.spectrum * other.spectrum).sum()),
            "colour": 1 - float(np.abs(one.colour - other.colour).sum()) * 6,
            "profile": 1 - float(np.abs(one.profile - other.profile).mean()) / 64}


def likely_head(pixels: Pixels, click: tuple[float, float],
                region: tuple[float, float, float, float] | None = None) -> Iterator[tuple[float, float, float]]:
    """Centre and radius of the head under a click, where its size is not known; a `yield` is progress, the last is the
    answer.

    A click may have found the edge of the recess, of the head, of the boss that it sits on, or a circle that touches
    one from inside. Each is tried, roughly: a head tells what is like it from what is not, the others leave much of it
    in doubt.
    """
    heads = _heads(pixels, *click)
    if len(heads) == 1 or not heads[0].strength:
        yield heads[0].x, heads[0].y, heads[0].radius_px
        return
    (x, y), whole = click, region or (0, 0, pixels.shape[1], pixels.shape[0])
    far = TRIED_AROUND * max(one.radius_px for one in heads)
    region = (max(whole[0], x - far), max(whole[1], y - far), min(whole[2], x + far), min(whole[3], y + far))
    costs: list[tuple[float, int]] = []
    for n, one in enumerate(heads):
        found: list[Likeness] = []
        for step in find_alike(pixels, [(one.x, one.y)], one.radius_px, most=TRIED_CLOSELY, turns=TRIED_TURNS,
                               region=region):
            found = step
            yield heads[0].x, heads[0].y, heads[0].radius_px
        share = max(0.05, one.strength / heads[0].strength)
        costs.append((_doubt([like.score for like in found]) - FAINT_COSTS * math.log(share)
                      - LARGE_GAINS * math.log(one.radius_px), n))
    best = heads[min(costs)[1]]
    yield best.x, best.y, best.radius_px


def _doubt(scores: list[float]) -> float:
    """How much of what was found is neither like what is looked for nor unlike it, by what is like it for sure."""
    sure = sum(score >= SURE for score in scores)
    return min(MOST_DOUBT, sum(UNLIKE < score < SURE for score in scores) / (1 + sure) + (0 if sure else 1))


def _heads(pixels: Pixels, x: float, y: float) -> list[Circle]:
    """What may be the head under a click: the strong circles, those about the strongest, and one where the head's edge
    is not seen and that of its recess is."""
    found = circles_at(pixels, x, y)
    if not found:
        return [Circle(x, y, SMALLEST_PX, 0.0)]
    strongest = centred(pixels, found[0])
    tried = [strongest]
    tried += [centred(pixels, one) for one in found[1:] if one.strength >= WORTH_TRYING * strongest.strength]
    larger = [one for one in circles_about(pixels, strongest.x, strongest.y)
              if strongest.radius_px * 1.25 < one.radius_px < strongest.radius_px * MOST_RATIO
              and one.strength >= SEEN_AT_ALL * strongest.strength]
    tried += larger[:1] or [Circle(strongest.x, strongest.y, strongest.radius_px / RECESS_OF_HEAD, 0.0)]
    kept: list[Circle] = []
    for one in tried:
        if all(abs(one.radius_px - other.radius_px) > 0.12 * other.radius_px for other in kept):
            kept.append(one)
    return kept[:MOST_TRIED]


def agreeing(pixels: Pixels, seeds: Sequence[tuple[float, float]], radius_px: float) -> list[tuple[float, float]]:
    """Of several seeds those that look alike; all where none do. A mark may lie where a label still covers it."""
    looks = [look_at(pixels, x, y, radius_px) for x, y in seeds]
    friends = [sum(likeness(a, b, descriptors(a, b)["polar"]) > 0.5 for b in looks if b is not a) for a in looks]
    most = max(friends, default=0)
    return [seed for seed, number in zip(seeds, friends) if number == most or number > 1] if most else list(seeds)


def look_at(pixels: Pixels, x: float, y: float, radius_px: float) -> Look:
    """The look of a place. Outside the photograph the nearest pixels are taken."""
    import numpy as np
    from scipy import ndimage

    rings = (np.arange(RINGS, dtype=np.float32) + 0.5) / RINGS * radius_px * REACH
    spokes = np.arange(SPOKES, dtype=np.float32) * (2 * np.pi / SPOKES)
    ys = y + rings[:, None] * np.sin(spokes)[None, :]
    xs = x + rings[:, None] * np.cos(spokes)[None, :]
    reach = int(radius_px * REACH) + 3
    top, left = max(0, int(y) - reach), max(0, int(x) - reach)
    near = pixels[top:int(y) + reach + 1, left:int(x) + reach + 1].astype(np.float32)
    if near.size == 0:
        near = np.zeros((1, 1, 3), np.float32)
    planes = [ndimage.map_coordinates(near[..., c], [ys - top, xs - left], order=1, mode="nearest") for c in range(3)]
    grey = (planes[0] + planes[1] + planes[2]) / 3
    profile = grey.mean(axis=1)
    inner = grey - grey.mean()
    norm = float(np.sqrt((inner ** 2).sum())) or 1.0
    uneven = (grey - profile[:, None]) * np.sqrt(rings)[:, None] * (rings < radius_px * INSIDE)[:, None]
    part = float(np.sqrt((uneven ** 2).sum())) or 1.0
    depth = float(((grey - profile[:, None]) ** 2).sum() / max(1e-6, (inner ** 2).sum()))
    swing = np.abs(np.fft.rfft(uneven, axis=1))[:, 1:13]
    size = float(np.sqrt((swing ** 2).sum())) or 1.0
    own = rings < radius_px * INSIDE  # what is around the head is not its colour
    mean = np.array([p[own].mean() for p in planes], np.float32)
    return Look(polar=inner / norm, recess=uneven / part, depth=depth, spectrum=swing / size,
                profile=(profile - profile[own].mean())[own], colour=mean / max(1.0, float(mean.sum())))


# -- the first look, over the whole photograph

def _centred(pixels: Pixels, x: float, y: float, radius_px: float, seed: Look) -> tuple[float, float, Look]:
    """The place near by that looks most like the seed: the working image knows it to a fraction of a pixel only."""
    step = radius_px / WORK_RADIUS_PX * 0.6
    looks = [(x + i * step, y + k * step, look_at(pixels, x + i * step, y + k * step, radius_px))
             for i, k in ((0, 0), (1, 0), (-1, 0), (0, 1), (0, -1))]
    return max(looks, key=lambda placed: descriptors(placed[2], seed)["polar"])


def _resized(grey: Pixels, scale: float) -> tuple[Pixels, Callable[[float, int], float]]:
    """A photograph at the working scale, averaged over whole pixels first, so that nothing is skipped; and the way
    back: the place in the photograph of a place in the working image, along an axis."""
    import numpy as np
    from scipy import ndimage

    step = max(1, int(1 / scale))
    if step > 1:
        height, width = grey.shape[0] // step * step, grey.shape[1] // step * step
        grey = sum(grey[i:height:step, k:width:step] for i in range(step) for k in range(step)) / step ** 2
    rest = scale * step
    work = np.ascontiguousarray(grey, np.float32) if abs(rest - 1) < 0.02 else \
        ndimage.zoom(grey, rest, order=1).astype(np.float32)
    ratio = [(n - 1) / max(1, m - 1) for n, m in zip(grey.shape, work.shape)]
    return work, lambda place, axis: place * ratio[axis] * step + (step - 1) / 2


def _patch(shown: Example) -> Pixels | None:
    """The neighbourhood of a seed at the working scale, square, odd."""
    import numpy as np
    from scipy import ndimage

    x, y, radius_px = shown.x, shown.y, shown.radius_px
    half = int(WORK_RADIUS_PX * REACH) + 1
    offsets = np.arange(-half, half + 1, dtype=np.float32) * (radius_px / WORK_RADIUS_PX)
    sigma = max(0.0, radius_px / WORK_RADIUS_PX - 1) * 0.5
    reach = int(half * radius_px / WORK_RADIUS_PX) + 4
    top, left = max(0, int(y) - reach), max(0, int(x) - reach)
    near = shown.pixels[top:int(y) + reach + 1, left:int(x) + reach + 1]
    if min(near.shape[:2], default=0) < 3:
        return None
    near = grey_of(near)
    if sigma > 0.1:
        near = ndimage.gaussian_filter(near, sigma)
    ys, xs = np.meshgrid(y - top + offsets, x - left + offsets, indexing="ij")
    return ndimage.map_coordinates(near, [ys, xs], order=1, mode="nearest").astype(np.float32)


def _correlations(work: Pixels, templates: Sequence[Pixels], turns: int = ANGLES) -> Iterator[Pixels]:
    """Normalised correlation of the working image with each template at each angle, under a round mask [1]."""
    import numpy as np
    from scipy import fft, ndimage

    if not templates:
        return
    size = templates[0].shape[0]
    half = size // 2
    ys, xs = np.mgrid[-half:half + 1, -half:half + 1]
    mask = (xs ** 2 + ys ** 2 <= (WORK_RADIUS_PX * INSIDE) ** 2).astype(np.float32)
    number = float(mask.sum())
    shape = [fft.next_fast_len(n + size - 1, real=True) for n in work.shape]
    whole = fft.rfft2(work, shape, workers=2)
    squared = fft.rfft2(work ** 2, shape, workers=2)

    def against(kernel: Pixels, image: Pixels) -> Pixels:
        # The kernel has few rows: transformed along them first, before the empty ones are added.
        rows = fft.rfft(kernel[::-1, ::-1].astype(np.float32), shape[1], axis=1)
        product = fft.irfft2(image * fft.fft(rows, shape[0], axis=0, workers=2), shape, workers=2)
        return product[half:half + work.shape[0], half:half + work.shape[1]]

    mean = against(mask, whole) / number
    spread = np.sqrt(np.maximum(against(mask, squared) / number - mean ** 2, 4.0))
    for template in templates:
        for n in range(turns):
            turned = ndimage.rotate(template, n * TURN_DEG / turns, reshape=False, order=1,
                                    mode="nearest") if n else template
            inside = (turned - (turned * mask).sum() / number) * mask
            norm = float(np.sqrt((inside ** 2).sum() / number)) or 1.0
            yield (against(inside, whole) / (number * norm) / spread).astype(np.float32)


def _peaks(match: Pixels, radius: float, most: int) -> list[tuple[float, float, float]]:
    """The highest places that lie at least a diameter apart: row, column, value."""
    import numpy as np
    from scipy import ndimage

    highest = ndimage.maximum_filter(match, size=2 * int(radius) + 1)
    rows, columns = np.nonzero((match >= highest) & (match > 0.3))
    order = np.argsort(-match[rows, columns])[:most]
    return [_between(match, int(rows[k]), int(columns[k])) for k in order]


def _between(match: Pixels, row: int, column: int) -> tuple[float, float, float]:
    """A peak between pixels: the top of a parabola through its neighbours, in each direction."""
    value = float(match[row, column])

    def shift(before: float, after: float) -> float:
        bend = before - 2 * value + after
        return 0.0 if bend >= 0 else max(-0.5, min(0.5, 0.5 * (before - after) / bend))

    dy = shift(float(match[row - 1, column]), float(match[row + 1, column])) if 0 < row < match.shape[0] - 1 else 0.0
    dx = shift(float(match[row, column - 1]), float(match[row, column + 1])) if 0 < column < match.shape[1] - 1 else 0.0
    return row + dy, column + dx, value
