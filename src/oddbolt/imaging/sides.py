"""Marks taken from one view of a state to the other: the same side anew, or the side that faces away."""

from __future__ import annotations

from collections.abc import Sequence

from oddbolt.model.places import Spot


def taken_over(spots: Sequence[Spot], sizes_px: tuple[Spot, Spot], scales: tuple[float | None, float | None], *,
               turned: bool, shared: Sequence[tuple[Spot, Spot]] = ()) -> list[Spot]:
    """Where places of one photograph lie on another of the same state, px.

    Two places or more that both photographs show (`shared`) settle it: least squares over turn, scale and shift. Else
    the device is taken to lie in the middle of both, turned over sideways where `turned`, and the scales of the two
    (mm for a pixel) say how much larger it is; without them their widths do. `sizes_px` are (width, height).
    """
    sign = -1.0 if turned else 1.0
    before = [complex(sign * x, y) for x, y in spots]
    if len(shared) > 1:
        a, b = _fit([complex(sign * x, y) for (x, y), _ in shared], [complex(x, y) for _, (x, y) in shared])
    else:
        (width, height), (wide, high) = sizes_px
        a = complex(scales[0] / scales[1] if scales[0] and scales[1] else wide / width)
        b = complex(wide / 2, high / 2) - a * complex(sign * width / 2, height / 2)
        if shared:
            (x, y), (u, v) = shared[0]
            b = complex(u, v) - a * complex(sign * x, y)
    return [(round(p.real, 1), round(p.imag, 1)) for p in (a * z + b for z in before)]


def _fit(before: Sequence[complex], after: Sequence[complex]) -> tuple[complex, complex]:
    """a and b of a z + b by least squares: turn and scale in one complex number."""
    m, n = sum(before) / len(before), sum(after) / len(after)
    spread = sum(abs(z - m) ** 2 for z in before)
    a = sum((w - n) * (z - m).conjugate() for z, w in zip(before, after)) / spread if spread > 1e-9 else complex(1)
    return a, n - a * m
