"""Find other places on a photograph that look like ones already marked: screws of one kind, best first.

Normalised correlation under a round mask, turned to a set of angles, by FFT, on a small image; the same on a finer one
about the best places only; then the best of those are compared more closely by descriptors that do not mind rotation.
Arrays in, numbers out.

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
from oddbolt.imaging.finding.circles import SMALLEST_PX, Circle, centred, circles_about, circles_at
from oddbolt.imaging.grey import grey_of

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Pixels = NDArray[np.float32]

Placed = tuple[float, float, float]  # x, y, and how well the turned seed correlates there
LEAST_ROUGH_PX = 4.0  # radius of the head on the image that is searched
LEAST_WORK_PX, MOST_WORK_PX = 7.0, 8.0  # and on that about the places found
ROUGHLY, AROUND, LEAST_ROUGH_MATCH = 1500, 500, 0.2  # places that are looked at on it; of those, round about as well
ANGLES, TURN_DEG = 8, 120.0  # turns of the template; every recess repeats after a third of a turn or less
ROUGH_ANGLES = 4  # on the small image, where what is found is looked at more finely afterwards
LOOKED_AT, LOOKED_AT_CLOSELY, LEAST_MATCH = 300, 120, 0.3
REACH = 0.95  # of the radius: how far a look goes
TAKEN, MANY, TAKEN_OF_MANY = 0.5, 15, 0.85  # scores, and from how many on (tuned as below)
INSIDE = 0.92  # of the radius: a radius that is a little too large must not take in what is around the head
RINGS, SPOKES = 14, 72
OFF_PX = 0.6  # a place is known to so much of the working image's pixels
TRIED_CLOSELY, TRIED_TURNS, MOST_TRIED = 24, 4, 4  # of circles that are tried roughly
TRIED_AROUND, MOST_TRIED_AROUND = 36, 60  # radii about the click: of the largest that is tried, of that itself
WORTH_TRYING = 0.3  # of the strength of the strongest
SEEN_AT_ALL, MOST_RATIO = 0.1, 2.6  # a larger circle about the strongest: its strength and its radius by that one's
RECESS_OF_HEAD = 0.62  # a recess across, by its head (common practice, no source)
UNLIKE, SURE, MOST_DOUBT = 0.12, 0.75, 1.0  # likeness: between the first two it is in doubt
FAINT_COSTS, LARGE_GAINS = 0.3, 0.5  # doubt, for the logarithm of strength and radius: tuned on the seeds TUNING
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
               unlike: Sequence[Example] = (), most: int = LOOKED_AT, turns: int = ANGLES, finely: bool = True,
               region: tuple[float, float, float, float] | None = None) -> Iterator[list[Likeness]]:
    """Places like the seeds, best first; a `yield` is progress, the last one is the answer.

    `pixels` is (height, width, 3), 0 to 255; `radius_px` the radius of the head; `region` (x0, y0, x1, y1) limits where
    is looked. Places in `wrong` teach: what looks more like them than like a seed falls back. `like` and `unlike` are
    the same from elsewhere: other photographs, and what was said to be wrong before. One seed or `like` is needed.
    Without `finely` places are found on the small image alone: enough to tell a head from what is none.
    """
    x0, y0, x1, y1 = region or (0, 0, pixels.shape[1], pixels.shape[0])
    margin = radius_px * 2.5
    left, top = max(0, int(x0 - margin)), max(0, int(y0 - margin))
    cut = pixels[top:int(y1 + margin) + 1, left:int(x1 + margin) + 1]
    grey = grey_of(cut)
    yield []
    shown = [Example(pixels, x, y, radius_px) for x, y in seeds] + list(like)
    places: list[Placed] = []
    for step in _placed(grey, shown[:3], radius_px, most, turns, finely):
        places = step
        yield []
    known = [(x - left, y - top) for x, y in (*seeds, *wrong)]
    placed = [(x, y, correlation) for x, y, correlation in places if x0 <= x + left <= x1 and y0 <= y + top <= y1
              and all((x - a) ** 2 + (y - b) ** 2 >= radius_px ** 2 for a, b in known)]
    yield []
    good = [look_at(e.pixels, e.x, e.y, e.radius_px) for e in shown]
    bad = [look_at(pixels, x, y, radius_px) for x, y in wrong]
    bad += [look_at(e.pixels, e.x, e.y, e.radius_px) for e in unlike]
    found = []
    close = _centred(grey, _likely(grey, placed, radius_px, good), radius_px, good[0],
                     radius_px / working_radius(radius_px) * OFF_PX)
    yield []
    for (x, y, correlation), look in zip(close, _looks_at(cut, [(x, y) for x, y, _ in close], radius_px)):
        score = max(likeness(look, other, correlation) for other in good)
        if bad:
            score *= 1 - max(0.0, max(likeness(look, other, correlation) for other in bad) - 0.1)
        found.append(Likeness(x + left, y + top, round(score, 3)))
    apart: list[Likeness] = []
    for one in sorted(found, key=lambda f: -f.score):
        if all((one.x - f.x) ** 2 + (one.y - f.y) ** 2 > (1.9 * radius_px) ** 2 for f in apart):
            apart.append(one)
    yield apart


def least_score(found: Sequence[Likeness]) -> float:
    """From which score on what was found is taken for the same: of very many only what is very much like the seed, for
    a surface with a pattern has many places that are somewhat like one of them."""
    many = sum(one.score >= TAKEN for one in found) > MANY
    return TAKEN_OF_MANY if many else TAKEN


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

    return {"polar": float(_turned_product(one.polar[None], other.polar)[0]),
            "recess": float(_turned_product(one.recess[None], other.recess)[0]),
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
    costs: list[tuple[float, int]] = []
    for n, one in enumerate(heads):
        far = min(TRIED_AROUND * max(other.radius_px for other in heads), MOST_TRIED_AROUND * one.radius_px)
        region = (max(whole[0], x - far), max(whole[1], y - far), min(whole[2], x + far), min(whole[3], y + far))
        found: list[Likeness] = []
        for step in find_alike(pixels, [(one.x, one.y)], one.radius_px, most=TRIED_CLOSELY, turns=TRIED_TURNS,
                               finely=False, region=region):
            found = step
            yield heads[0].x, heads[0].y, heads[0].radius_px
        share = max(0.05, one.strength / heads[0].strength)
        costs.append((_doubt([like.score for like in found]) - FAINT_COSTS * math.log(share)
                      - LARGE_GAINS * math.log(one.radius_px), n))
    best = heads[min(costs)[1]]
    yield best.x, best.y, best.radius_px


def clearest(pixels: Pixels, seeds: Sequence[tuple[float, float]]) -> tuple[float, float]:
    """Of several seeds the one with the strongest round edge: another may lie where something covers it by now."""
    def strength(seed: tuple[float, float]) -> float:
        return max((one.strength for one in circles_at(pixels, *seed)), default=0.0)

    return max(seeds, key=strength) if len(seeds) > 1 else seeds[0]


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
    tried = [strongest, *(centred(pixels, one) for one in found[1:] if one.strength >= WORTH_TRYING * strongest.strength
                          and one.radius_px < strongest.radius_px * MOST_RATIO)]
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
    return next(_looks_at(pixels, [(x, y)], radius_px))


def _looks_at(pixels: Pixels, places: Sequence[tuple[float, float]], radius_px: float) -> Iterator[Look]:
    import numpy as np

    planes = np.stack([_sampled(pixels[..., c], places, radius_px) for c in range(3)])
    return (_look(planes[:, n], radius_px) for n in range(len(places)))


def _sampled(plane: Pixels, places: Sequence[tuple[float, float]], radius_px: float) -> Pixels:
    """What lies about each place of a plane (height, width) by rings and spokes: (number, RINGS, SPOKES)."""
    import numpy as np
    from scipy import ndimage

    rings, spokes = _rings(radius_px), np.arange(SPOKES, dtype=np.float32) * (2 * np.pi / SPOKES)
    at = np.asarray(places, np.float32).reshape(-1, 2)
    ys = at[:, 1, None, None] + rings[:, None] * np.sin(spokes)
    xs = at[:, 0, None, None] + rings[:, None] * np.cos(spokes)
    return ndimage.map_coordinates(plane, [ys, xs], np.float32, order=1, mode="nearest")


def _rings(radius_px: float) -> Pixels:
    import numpy as np

    return (np.arange(RINGS, dtype=np.float32) + 0.5) / RINGS * radius_px * REACH


def _look(planes: Pixels, radius_px: float) -> Look:
    """The look of what was sampled, (3, RINGS, SPOKES)."""
    import numpy as np

    rings = _rings(radius_px)
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
    mean = planes[:, own].mean(axis=(1, 2))
    return Look(polar=inner / norm, recess=uneven / part, depth=depth, spectrum=swing / size,
                profile=(profile - profile[own].mean())[own], colour=mean / max(1.0, float(mean.sum())))


def _likely(grey: Pixels, placed: Sequence[Placed], radius_px: float, seeds: Sequence[Look]) -> list[Placed]:
    """Of many places those that look most like one of the seeds, in the order that they had."""
    import numpy as np

    if len(placed) <= LOOKED_AT_CLOSELY:
        return list(placed)
    planes = _sampled(grey, [(x, y) for x, y, _ in placed], radius_px)
    match = np.max([_turned_match(planes, seed) for seed in seeds[:3]], axis=0)
    return [placed[n] for n in sorted(np.argsort(-match)[:LOOKED_AT_CLOSELY])]


def _centred(grey: Pixels, placed: Sequence[Placed], radius_px: float, seed: Look, step_px: float) -> list[Placed]:
    """For each place the one near by that looks most like the seed, whichever way it is turned."""
    import numpy as np

    if not placed:
        return []
    near = [(x + i * step_px, y + k * step_px, correlation) for x, y, correlation in placed
            for i, k in ((0, 0), (1, 0), (-1, 0), (0, 1), (0, -1))]
    match = _turned_match(_sampled(grey, [(x, y) for x, y, _ in near], radius_px), seed)
    best = match.reshape(-1, 5).argmax(1) + 5 * np.arange(len(placed))
    return [near[n] for n in best]


def _turned_match(planes: Pixels, seed: Look) -> Pixels:
    """How much what was sampled, (number, RINGS, SPOKES), looks like the seed, however it is turned: -1 to 1."""
    import numpy as np

    inner = planes - planes.mean((1, 2), keepdims=True)
    norms = np.sqrt((inner ** 2).sum((1, 2))) + 1e-9
    return _turned_product(inner, seed.polar) / norms


def _turned_product(planes: Pixels, other: Pixels) -> Pixels:
    """The product of each of (number, RINGS, SPOKES) with another, by the turn for which it is largest [2]."""
    import numpy as np

    product = np.fft.rfft(planes, axis=2) * np.conj(np.fft.rfft(other, axis=1))
    return np.fft.irfft(product.sum(1), n=SPOKES, axis=1).max(1)


# -- the first look, over the whole photograph

def _placed(grey: Pixels, shown: Sequence[Example], radius_px: float, most: int, turns: int,
            finely: bool = True) -> Iterator[list[Placed]]:
    """Places that correlate with what is shown, the best first; a `yield` is progress, the last is the answer."""
    import numpy as np

    rough = _rough_radius(radius_px)
    at_work = working_radius(radius_px)
    is_rough = rough < at_work  # else what is searched is as fine as can be used
    at = rough if is_rough else at_work
    image, back = _resized(grey, at / radius_px)
    goes_on = is_rough and finely
    best = np.full(image.shape, -1.0, np.float32)
    for match in _correlations(image, _patches(shown, at), at, min(turns, ROUGH_ANGLES) if goes_on else turns):
        np.maximum(best, match, out=best)
        yield []
    found = _peaks(best, at, ROUGHLY if goes_on else most, LEAST_ROUGH_MATCH if is_rough else LEAST_MATCH)
    places = [(back(px, 1), back(py, 0), correlation) for py, px, correlation in found]
    if goes_on:
        yield []
        places = _finer(grey, places, _patches(shown, at_work), at_work, radius_px, most, turns)
    yield places


def _rough_radius(radius_px: float) -> float:
    """Of a head on the image that is searched, a whole number of times smaller than the photograph."""
    return radius_px / max(1, int(radius_px / LEAST_ROUGH_PX))


def _patches(shown: Sequence[Example], at_px: float) -> list[Pixels]:
    return [patch for one in shown if (patch := _patch(one, at_px)) is not None]


def _finer(grey: Pixels, places: Sequence[Placed], templates: Sequence[Pixels], at_work: float, radius_px: float,
           most: int, turns: int) -> list[Placed]:
    """The same correlation at the working scale, at each place and those round it: the best of them, best first."""
    import numpy as np

    if not places or not templates:
        return []
    unit = radius_px / at_work
    step = max(1, int(unit))
    image = _averaged(grey, step)
    kernels = [turned for template in templates for turned in _turned(template, turns)]

    def match_at(at: Pixels) -> Pixels:
        return _match_at(image, (at - (step - 1) / 2) / step, unit / step, kernels, at_work)

    at = np.array([(x, y) for x, y, _ in places], np.float32)
    at = at[np.argsort(-match_at(at))[:AROUND]]
    around = np.array([(i, k) for i in (-1, 0, 1) for k in (-1, 0, 1)], np.float32) * (OFF_PX * unit)
    at = (at[:, None] + around).reshape(-1, 2)
    match = match_at(at)
    best = match.reshape(-1, len(around)).argmax(1) + len(around) * np.arange(len(at) // len(around))
    order = best[np.argsort(-match[best])]
    order = order[match[order] > LEAST_MATCH]
    found: list[Placed] = []
    while len(order) and len(found) < most:  # the best, and of the others those that are no part of it
        found.append((float(at[order[0], 0]), float(at[order[0], 1]), float(match[order[0]])))
        order = order[((at[order] - at[order[0]]) ** 2).sum(1) >= radius_px ** 2]
    return found


def _match_at(image: Pixels, at: Pixels, unit: float, kernels: Sequence[Pixels], at_work: float) -> Pixels:
    """The largest correlation of the kernels with an image at places (number, 2), x and y; `unit` of its pixels are one
    of a kernel's."""
    import numpy as np
    from scipy import ndimage

    rows, columns = np.nonzero(_mask(kernels[0].shape[0], at_work))
    half = kernels[0].shape[0] // 2
    xs, ys = at[:, :1] + (columns - half) * unit, at[:, 1:] + (rows - half) * unit
    seen = ndimage.map_coordinates(image, [ys.astype(np.float32), xs.astype(np.float32)], np.float32, order=1,
                                   mode="nearest")
    seen -= seen.mean(1, keepdims=True)
    spread = np.sqrt(np.maximum((seen ** 2).mean(1), 4.0))
    flat = np.array([kernel[rows, columns] for kernel in kernels])
    flat -= flat.mean(1, keepdims=True)
    norms = np.sqrt((flat ** 2).mean(1)) + 1e-6
    return ((seen @ flat.T) / (len(rows) * norms)).max(1) / spread


def working_radius(radius_px: float) -> float:
    """Of a head on the working image, which is a whole number of times smaller than the photograph where that fits."""
    return min(MOST_WORK_PX, radius_px / max(1, int(radius_px / LEAST_WORK_PX)))


def _resized(grey: Pixels, scale: float) -> tuple[Pixels, Callable[[float, int], float]]:
    """A photograph at the working scale, averaged over whole pixels first, so that nothing is skipped; and the way
    back: the place in the photograph of a place in the working image, along an axis."""
    import numpy as np
    from scipy import ndimage

    step = max(1, int(1 / scale + 1e-6))
    grey = _averaged(grey, step)
    rest = scale * step
    work = np.ascontiguousarray(grey, np.float32) if abs(rest - 1) < 0.02 else \
        ndimage.zoom(grey, rest, order=1).astype(np.float32)
    ratio = [(n - 1) / max(1, m - 1) for n, m in zip(grey.shape, work.shape)]
    return work, lambda place, axis: place * ratio[axis] * step + (step - 1) / 2


def _averaged(grey: Pixels, step: int) -> Pixels:
    """Squares of so many pixels across, one pixel each."""
    if step < 2:
        return grey
    height, width = grey.shape[0] // step * step, grey.shape[1] // step * step
    rows = sum(grey[i:height:step] for i in range(step))
    return sum(rows[:, k:width:step] for k in range(step)) / step ** 2


def _mask(size: int, at_work: float) -> Pixels:
    """What of a patch, square and odd, lies within the head."""
    import numpy as np

    half = size // 2
    ys, xs = np.mgrid[-half:half + 1, -half:half + 1]
    return (xs ** 2 + ys ** 2 <= (at_work * INSIDE) ** 2).astype(np.float32)


def _turned(template: Pixels, turns: int) -> Iterator[Pixels]:
    from scipy import ndimage

    for n in range(turns):
        yield ndimage.rotate(template, n * TURN_DEG / turns, reshape=False, order=1, mode="nearest") if n else template


def _patch(shown: Example, at_work: float) -> Pixels | None:
    """The neighbourhood of a seed at the working scale, square, odd."""
    import numpy as np
    from scipy import ndimage

    x, y, radius_px = shown.x, shown.y, shown.radius_px
    half = int(at_work * REACH) + 1
    offsets = np.arange(-half, half + 1, dtype=np.float32) * (radius_px / at_work)
    sigma = max(0.0, radius_px / at_work - 1) * 0.5
    reach = int(half * radius_px / at_work) + 4
    top, left = max(0, int(y) - reach), max(0, int(x) - reach)
    near = shown.pixels[top:int(y) + reach + 1, left:int(x) + reach + 1]
    if min(near.shape[:2], default=0) < 3:
        return None
    near = grey_of(near)
    if sigma > 0.1:
        near = ndimage.gaussian_filter(near, sigma)
    ys, xs = np.meshgrid(y - top + offsets, x - left + offsets, indexing="ij")
    return ndimage.map_coordinates(near, [ys, xs], order=1, mode="nearest").astype(np.float32)


def _correlations(work: Pixels, templates: Sequence[Pixels], at_work: float, turns: int = ANGLES) -> Iterator[Pixels]:
    """Normalised correlation of the working image with each template at each angle, under a round mask [1]."""
    import numpy as np
    from scipy import fft

    if not templates:
        return
    size = templates[0].shape[0]
    half, mask = size // 2, _mask(size, at_work)
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
        for turned in _turned(template, turns):
            inside = (turned - (turned * mask).sum() / number) * mask
            norm = float(np.sqrt((inside ** 2).sum() / number)) or 1.0
            yield (against(inside, whole) / (number * norm) / spread).astype(np.float32)


def _peaks(match: Pixels, radius: float, most: int, least: float) -> list[tuple[float, float, float]]:
    """The highest places that lie at least a radius apart: row, column, value."""
    import numpy as np

    size = int(radius)
    rows, columns = match.shape[0] // size + 1, match.shape[1] // size + 1
    blocks = np.full((rows * size, columns * size), -1.0, np.float32)
    blocks[:match.shape[0], :match.shape[1]] = match
    blocks = blocks.reshape(rows, size, columns, size).transpose(0, 2, 1, 3).reshape(rows, columns, size * size)
    within, highest = blocks.argmax(2), blocks.max(2)
    found: list[tuple[float, float, float]] = []
    for n in np.argsort(-highest, axis=None):
        block_row, block_column = divmod(int(n), columns)
        if highest[block_row, block_column] <= least or len(found) == most:
            break
        row, column = divmod(int(within[block_row, block_column]), size)
        row, column = row + block_row * size, column + block_column * size
        around = match[max(0, row - size):row + size + 1, max(0, column - size):column + size + 1]
        if around.max() <= match[row, column]:
            found.append(_between(match, row, column))
    return found


def _between(match: Pixels, row: int, column: int) -> tuple[float, float, float]:
    """A peak between pixels: the top of a parabola through its neighbours, in each direction."""
    value = float(match[row, column])

    def shift(before: float, after: float) -> float:
        bend = before - 2 * value + after
        return 0.0 if bend >= 0 else max(-0.5, min(0.5, 0.5 * (before - after) / bend))

    dy = shift(float(match[row - 1, column]), float(match[row + 1, column])) if 0 < row < match.shape[0] - 1 else 0.0
    dx = shift(float(match[row, column - 1]), float(match[row, column + 1])) if 0 < column < match.shape[1] - 1 else 0.0
    return row + dy, column + dx, value
