"""Doses: the mass that fills a gap over an area, and back from a weighed mass to the gap it fills.

m = A g rho (1 + allowance). Uncertainties by the usual quadrature (JCGM 100:2008, section 5.1.2).
"""

from __future__ import annotations

import math

from msgspec import Struct

from oddbolt.model.refusal import Refusal


class Figure(Struct, frozen=True):
    """A figure and its standard uncertainty, in the same unit."""

    value: float
    u: float = 0.0


def mass_g(area_mm2: float, gap_mm: float, density_g_cm3: float, allowance: float = 0.0) -> float:
    """Mass that fills a gap, with an allowance as a share (0.15: a seventh more). Raises Refusal for what is not above
    zero."""
    _above_zero(area=area_mm2, gap=gap_mm, density=density_g_cm3)
    if not 0 <= allowance <= 10:
        raise Refusal("allowance", "number-out-of-range", value=allowance, most=10)
    return area_mm2 * gap_mm * density_g_cm3 / 1000 * (1 + allowance)


def gap_mm(mass: Figure, area_mm2: Figure, density_g_cm3: Figure) -> Figure:
    """Gap that a weighed mass in g fills, with its uncertainty. Raises Refusal for what is not above zero."""
    _above_zero(mass=mass.value, area=area_mm2.value, density=density_g_cm3.value)
    gap = 1000 * mass.value / (area_mm2.value * density_g_cm3.value)
    return Figure(gap, gap * math.sqrt(sum((one.u / one.value) ** 2 for one in (mass, area_mm2, density_g_cm3))))


def bead_mm(volume_cm3: float, length_mm: float) -> float:
    """Width of a round bead of a volume along a length."""
    _above_zero(volume=volume_cm3, length=length_mm)
    return math.sqrt(4 * volume_cm3 * 1000 / (math.pi * length_mm))


def _above_zero(**figures: float) -> None:
    for name, value in figures.items():
        if not 0 < value < math.inf:
            raise Refusal(name, "figure-above-zero")
