"""What was told to be applied against what went on, whatever unit each is in: grams, cubic centimetres, strips."""

from __future__ import annotations

from msgspec import Struct

from oddbolt.catalog.tables import table

SAME, LESS, MORE, UNLIKE = "same", "less", "more", "unlike"
NEAR = 0.15  # share by which a dose may be off what was told: ours
MASS_G = {"mg": 0.001, "g": 1.0, "kg": 1000.0}
VOLUME_CM3 = {"mm3": 0.001, "mm³": 0.001, "ul": 0.001, "µl": 0.001, "ml": 1.0, "cc": 1.0, "cm3": 1.0, "cm³": 1.0}


class Reconciled(Struct, frozen=True, kw_only=True):
    """How a dose lies to the one that was told: by which share, from and to (by the range of the density where one is a
    mass and the other a volume); `code` is UNLIKE where the two cannot be compared."""

    code: str
    low: float = 0.0
    high: float = 0.0


def reconcile(told: tuple[float, str], given: tuple[float, str], material: str) -> Reconciled:
    """Amount and unit as told and as they went on, of a material by its name."""
    if told[0] <= 0 or given[0] < 0:
        return Reconciled(code=UNLIKE)
    (one, one_kind), (other, other_kind) = _measure(*told), _measure(*given)
    if one_kind == other_kind:
        low = high = other / one
    elif {one_kind, other_kind} == {"g", "cm3"}:
        span = _density(material)
        if span is None:
            return Reconciled(code=UNLIKE)
        ratios = [other / (one * d) if other_kind == "g" else other * d / one for d in span]
        low, high = min(ratios), max(ratios)
    else:
        return Reconciled(code=UNLIKE)
    code = MORE if low > 1 + NEAR else LESS if high < 1 - NEAR else SAME
    return Reconciled(code=code, low=low, high=high)


def _measure(amount: float, unit: str) -> tuple[float, str]:
    """In g, in cm3, or in what is counted."""
    plain = unit.strip().lower()
    if plain in MASS_G:
        return amount * MASS_G[plain], "g"
    if plain in VOLUME_CM3:
        return amount * VOLUME_CM3[plain], "cm3"
    return amount, plain.removesuffix("s") or "piece"


def _density(material: str) -> tuple[float, float] | None:
    """From and to, g/cm3, of the material whose name has most words in common with this one."""
    words = set(material.lower().replace(",", " ").split())
    best, most = None, 0
    for row in table("doses.toml")["material"]:
        common = len(words & set(row["name"].lower().replace(",", " ").split()))
        if common > most:
            best, most = row, common
    return None if best is None else (best["density"][0], best["density"][1])
