"""Lengths in the unit that a person prefers. Records and computations are in millimetres."""

from __future__ import annotations

from oddbolt.model.quantity import MM_PER_INCH
from oddbolt.words.translate import tr

MM, INCH = "mm", "in"
MM_PER = {MM: 1.0, INCH: MM_PER_INCH}
_preferred = [MM]


def use_unit(unit: str) -> None:
    """From now on lengths are shown in this, and what is typed without a unit is read in it."""
    _preferred[0] = unit if unit in MM_PER else MM


def unit() -> str:
    return _preferred[0]


def figure_text(mm: float) -> str:
    """The number alone: three places of an inch, else as it is on record."""
    return f"{mm:g}" if unit() == MM else f"{mm / MM_PER[INCH]:.3f}"


def length_text(mm: float) -> str:
    return f"{figure_text(mm)} {unit()}"


def with_unit(typed: str) -> str:
    """What was typed, with the preferred unit where it says none."""
    text = typed.strip()
    return f"{text} {unit()}" if text and unit() != MM and text[-1].isdigit() else text


def area_text(mm2: float) -> str:
    return tr("{0} {1}²").format(f"{mm2 / MM_PER[unit()] ** 2:.3g}", unit())
