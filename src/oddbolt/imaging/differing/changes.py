"""Where a photograph changed: after laid over before in its light, and three maps of change at half the size.

Structure, colour and brightness, each by place. Arrays in, arrays out; `difference` says what the changes are.

Reference, from memory: J. P. Lewis, Fast normalized cross-correlation, Vision Interface 1995: structure compared
whatever the light.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from oddbolt.imaging.grey import grey_of
from oddbolt.imaging.registering import Registration, halved, shrunk_matrix, warped

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Pixels = NDArray[np.float32]

HALF = 2  # the change map is of pictures shrunk so many times
FINE, WINDOW = 3.5, 2.4  # sigma of what is taken away, and of the window in which structure is compared, half pixels
REACHES = 3.0  # sigmas that a window is cut off at
BROKEN_AT, BROKEN_WIDE = 0.45, 0.08  # of 1 - correlation: a logistic
WEAK = 0.24  # of the same, beside what is sure
CHROMA_AT, CHROMA_WIDE = 0.10, 0.02
LIGHT_AT, LIGHT_WIDE = 0.28, 0.05
SHIFTS = ((0, 0), (1, 0), (-1, 0), (0, 1), (0, -1), (1, 1), (1, -1), (-1, 1), (-1, -1), (2, 0), (-2, 0), (0, 2),
          (0, -2))  # half pixels by which things may lie off the one plane


class Changes(Struct, frozen=True, eq=False):
    """Everything at half the size but the greys."""

    before: Pixels  # grey, whole
    after: Pixels  # grey, whole: as it lies on before, in its light
    before_half: Pixels  # (height, width, 3)
    after_half: Pixels
    shown: NDArray[np.bool_]  # where after shows anything
    inside: NDArray[np.bool_]  # where the device lies
    broken: Pixels  # loss of structure, 0 to 2
    chroma: Pixels
    sure: NDArray[np.bool_]  # changed,
    changed: NDArray[np.bool_]  # with what changed little and hangs together with it

    @property
    def device_px(self) -> float:
        """How large the device is, in pixels of the whole picture; never 0."""
        return float(self.inside.sum()) * HALF ** 2 or 1.0


def changed_for_sure(before: Pixels, after: Pixels) -> NDArray[np.bool_]:
    """Where two pictures of one size from a camera that stands still differ, whatever the light; (height, width, 3),
    0 to 255, already as small as they are looked at."""
    import numpy as np

    everywhere = np.ones(before.shape[:2], bool)
    lit = (after * _factor(_light(before, after, everywhere), after.shape)).clip(0, 255)
    return _changed(*_change(before, lit), everywhere)[0]


def changes_of(before: Pixels, after: Pixels, registration: Registration, mask: Pixels) -> Changes:
    """What changed from `before` to `after`, (height, width, 3), 0 to 255; `mask` says where the device lies."""
    b, there = halved(before), _half_over(after, registration, before.shape)
    valid = there.min(2) >= 0
    there = there.clip(0, 255)
    weights = _light(b, there, valid)
    there *= _factor(weights, there.shape)
    grey = warped(grey_of(after), registration.matrix, before.shape[:2], outside=0.0, bend=registration.bend)
    grey *= _factor([sum(column) / 3 for column in zip(*weights)], grey.shape)
    inside = halved(mask) > 0.5
    broken, chroma, light = _change(b, there)
    sure, changed = (one & valid for one in _changed(broken, chroma, light, inside))
    return Changes(before=grey_of(before), after=grey, before_half=b, after_half=there, shown=valid, inside=inside,
                   broken=broken, chroma=chroma, sure=sure, changed=changed)


def _half_over(after: Pixels, registration: Registration, shape: tuple[int, ...]) -> Pixels:
    """After, as it lies on before, at half the size; under 0 where it shows nothing."""
    size = shape[0] // HALF, shape[1] // HALF
    bend = registration.bend.shrunk(HALF) if registration.bend is not None else None
    return warped(halved(after), shrunk_matrix(registration.matrix, HALF), size, outside=-1.0, bend=bend)


def _terms(shape: tuple[int, ...], step: int = 1) -> Pixels:
    """A quadratic over a picture: (6, height, width)."""
    import numpy as np

    y = (np.arange(0, shape[0], step, dtype=np.float32) / shape[0] - 0.5)[:, None]
    x = (np.arange(0, shape[1], step, dtype=np.float32) / shape[1] - 0.5)[None, :]
    flat = np.zeros((y.shape[0], x.shape[1]), np.float32)
    return np.stack((flat + 1, flat + x, flat + y, x * x + flat, x * y, y * y + flat))


def _light(before: Pixels, after: Pixels, valid: NDArray[np.bool_]) -> list[list[float]]:
    """By what after has to be multiplied, per channel: the logarithm of a smooth factor, found on what is alike."""
    import numpy as np

    step = max(1, before.shape[1] // 160)
    b, a, ok = before[::step, ::step], after[::step, ::step], valid[::step, ::step]
    terms = _terms(before.shape, step).transpose(1, 2, 0)
    found = []
    for c in range(3):
        ratio = np.log((b[..., c] + 6) / (a[..., c] + 6))
        keep = ok.copy()
        weights = np.zeros(6)
        for _ in range(6):
            if keep.sum() < 12:  # next to nothing is shown by both
                break
            weights = np.linalg.lstsq(terms[keep], ratio[keep], rcond=None)[0]
            off = np.abs(ratio - terms @ weights)
            keep = ok & (off < max(0.05, 2.0 * float(np.median(off[keep]))))
        found.append([float(w) for w in weights])
    return found


def _factor(weights: list, shape: tuple[int, ...]) -> Pixels:
    """The factor of `_light` over a picture; of one channel, or three."""
    import numpy as np

    if isinstance(weights[0], list):
        return np.stack([_factor(one, shape) for one in weights], -1)
    terms = _terms(shape)
    return np.exp(sum(w * term for w, term in zip(weights, terms)), dtype=np.float32)


def _change(b: Pixels, a: Pixels) -> tuple[Pixels, Pixels, Pixels]:
    """How much structure, colour and brightness changed, each by place."""
    import numpy as np
    from scipy import ndimage

    gb, ga = grey_of(b), grey_of(a)
    noise2 = _noise(gb) ** 2 + _noise(ga) ** 2
    hb, ha = (g - ndimage.gaussian_filter(g, FINE, truncate=REACHES) for g in (gb, ga))
    calm = 2.2 ** 2 * noise2 / 2 + 4

    def mean(pixels: Pixels) -> Pixels:
        return ndimage.gaussian_filter(pixels, WINDOW, truncate=REACHES)

    mb, ma = mean(hb), mean(ha)
    vb = np.clip(mean(hb * hb) - mb ** 2 - noise2 / 2, 0, None) + calm
    va = np.clip(mean(ha * ha) - ma ** 2 - noise2 / 2, 0, None) + calm
    best = np.full(gb.shape, -1.0, np.float32)
    for shift in SHIFTS:
        moved, there_mean, there_var = (np.roll(one, shift, (0, 1)) for one in (ha, ma, va))
        cov = mean(hb * moved) - mb * there_mean
        np.maximum(best, (cov + calm) / np.sqrt(there_var * vb), out=best)
    sb, sa = ([ndimage.gaussian_filter(one[..., c], 1.2, truncate=REACHES) for c in range(3)] for one in (b, a))
    tb, ta = (one[0] + one[1] + one[2] for one in (sb, sa))
    chroma = np.zeros(gb.shape, np.float32)
    for c in range(3):
        chroma += _outside(sa[c] / (ta + 12), sb[c] / (tb + 12)) ** 2
    return 1 - best, np.sqrt(chroma) * 2, _outside(np.log(ta / 3 + 8), np.log(tb / 3 + 8))


def _outside(values: Pixels, of: Pixels) -> Pixels:
    """How far values lie outside of the range of others near them: a small shift is no change."""
    import numpy as np
    from scipy import ndimage

    low, high = ndimage.minimum_filter(of, 5), ndimage.maximum_filter(of, 5)
    return np.maximum(0, np.maximum(values - high, low - values))


def _noise(grey: Pixels) -> float:
    """Standard deviation of the grain, from second differences (J. Immerkaer, CVIU 64 (1996) 300-302, from memory)."""
    import numpy as np

    across = grey[:, :-2] - 2 * grey[:, 1:-1] + grey[:, 2:]
    both = across[:-2] - 2 * across[1:-1] + across[2:]
    return float(1.4826 * np.median(np.abs(both))) / 6


def _logistic(values: Pixels, centre: float, width: float) -> Pixels:
    import numpy as np

    return 1 / (1 + np.exp(np.clip(-(values - centre) / width, -30, 30)))


def _changed(broken: Pixels, chroma: Pixels, light: Pixels, inside: NDArray[np.bool_]) -> \
        tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """What changed for sure, and with what hangs together with it."""
    import numpy as np
    from scipy import ndimage

    # Where structure survives a change of brightness is a lamp; on the bare mat there is no structure to survive.
    by_light = _logistic(light, LIGHT_AT, LIGHT_WIDE) * np.where(inside, np.clip(broken / BROKEN_AT, 0.3, 1), 1)
    odds = np.maximum(np.maximum(_logistic(broken, BROKEN_AT, BROKEN_WIDE), _logistic(chroma, CHROMA_AT, CHROMA_WIDE)),
                      by_light)
    sure = ndimage.binary_opening(odds > 0.5, iterations=1)
    # The rim of something dark on something dark changes little: it counts where it hangs together with what is sure.
    weak = sure | ndimage.binary_opening(ndimage.median_filter(broken, 3) > WEAK, iterations=1)
    return sure, ndimage.binary_propagation(sure, mask=weak)
