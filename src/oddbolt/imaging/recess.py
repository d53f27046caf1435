"""Which family of recess a screw on a photograph has, by how often its picture repeats in one turn.

A slot repeats twice, three arms three times, a cross four times, five lobes five, a hexagon and six lobes six times.
The amplitudes of these orders over the angle, in the middle of the head, say which; order n brings some of 2n with it.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Pixels = NDArray[np.float32]

FOLDS = {2: ("SL",), 3: ("Y",), 4: ("PH", "PZ"), 5: ("PL",), 6: ("T", "HX", "IP")}
INNER, OUTER = 0.18, 0.72  # of the head's radius: where the recess is
RINGS, SPOKES = 16, 120
SHARP = 3.0  # how much a clear figure counts against a weak one


def recess_families(pixels: Pixels, x: float, y: float, radius_px: float) -> list[tuple[str, float]]:
    """Families with their share, likeliest first; families that repeat alike share theirs. Empty for a plain head."""
    import numpy as np
    from scipy import ndimage

    rings = np.linspace(INNER, OUTER, RINGS) * radius_px
    spokes = np.arange(SPOKES) * (2 * np.pi / SPOKES)
    best: dict[int, float] = {}
    grey = pixels.mean(axis=2, dtype="float32") if pixels.ndim == 3 else pixels
    for dx, dy in ((0, 0), (1, 0), (-1, 0), (0, 1), (0, -1)):  # the centre is known to a pixel or so
        shift = radius_px * 0.04
        ys = y + dy * shift + rings[:, None] * np.sin(spokes)[None, :]
        xs = x + dx * shift + rings[:, None] * np.cos(spokes)[None, :]
        polar = ndimage.map_coordinates(grey, [ys, xs], order=1, mode="nearest")
        spectrum = np.abs(np.fft.rfft(polar - polar.mean(axis=1, keepdims=True), axis=1)) * np.sqrt(rings)[:, None]
        power = (spectrum ** 2).sum(axis=0)
        total = float(power[3:25].sum() + min(power[2], power[4])) or 1.0
        for fold in FOLDS:
            # Its own order and the next two multiples; a lower order takes no credit for a multiple that is stronger.
            own = float(power[fold] + 0.5 * power[2 * fold] + 0.3 * power[3 * fold]) / total
            if fold in (2, 3) and power[fold] < 0.6 * power[2 * fold]:
                own *= 0.3
            if fold == 2 and power[4] < 0.35 * power[2]:
                own *= 0.2  # a slot is narrow and has multiples; light from one side has none
            best[fold] = max(best.get(fold, 0.0), own)
    if max(best.values()) < 0.10:
        return []
    weights = {fold: value ** SHARP for fold, value in best.items()}
    whole = sum(weights.values())
    shares = [(family, weight / whole / len(FOLDS[fold])) for fold, weight in weights.items() for family in FOLDS[fold]]
    return sorted(shares, key=lambda item: -item[1])
