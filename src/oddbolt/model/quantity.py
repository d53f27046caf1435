"""Figures as people type them: a decimal comma or point, mm or inches."""

from __future__ import annotations

import math
import re

from oddbolt.model.refusal import Refusal

MM_PER_INCH = 25.4  # exact, by definition
_FIGURE = re.compile(r"([+-]?[0-9]{1,12}(?:[.,][0-9]{1,12})?|[.,][0-9]{1,12})\s*([^0-9\s].{0,11})?")
_MM = {"": 1.0, "mm": 1.0, "cm": 10.0, "in": MM_PER_INCH, "inch": MM_PER_INCH, '"': MM_PER_INCH, "″": MM_PER_INCH,
       "µm": 0.001, "um": 0.001}


def read_figure(text: str, where: str) -> tuple[float, str]:
    """A number and what stands behind it. Raises Refusal, with `where` as its path, for anything else."""
    match = _FIGURE.fullmatch(text.strip())
    if match is None:
        shown = text.strip()[:30]
        raise Refusal(where, "no-number", text=shown)
    return float(match.group(1).replace(",", ".")), (match.group(2) or "").strip()


def read_length_mm(text: str, where: str, most_mm: float = math.inf) -> float:
    """A length above zero in mm, of "1.57", "1,57 mm" or "0.062 in"."""
    value, unit = read_figure(text, where)
    factor = _MM.get(unit.lower())
    if factor is None:
        raise Refusal(where, "no-length-unit", unit=unit)
    length = value * factor
    if not 0 < length <= most_mm:
        raise Refusal(where, "length-out-of-range", value=length, most=most_mm)
    return length


def read_number(text: str, where: str, *, least: float = 0.0, most: float = math.inf) -> float:
    """A bare number within bounds."""
    value, unit = read_figure(text, where)
    if unit:
        raise Refusal(where, "unit-not-wanted", unit=unit)
    if not least <= value <= most:
        raise Refusal(where, "number-out-of-range", value=value, least=least, most=most)
    return value
