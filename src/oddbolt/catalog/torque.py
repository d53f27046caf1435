"""Whether a tightening torque can be: against the torque that breaks the screw and the one that stretches it to yield.

References:
[1] ISO 898-7:1992, minimum breaking torque; table and formula from memory, agreed twice.
[2] ISO 3506-1, stainless screws; from memory, once.
[3] VDI 2230-1:2015, assembly preload at 90 % of yield and tightening torque, from memory; the same in Kellermann and
    Klein 1955.
A guide: the maker's service instructions come first.
"""

from __future__ import annotations

import math
from typing import Any

from msgspec import Struct

from oddbolt.catalog.tables import table
from oddbolt.catalog.threads import Thread, thread_named
from oddbolt.model.refusal import Refusal

IMPOSSIBLE, BREAKING, ABOVE_USUAL, PLAUSIBLE, LOW = "impossible", "breaking", "above-usual", "plausible", "low"
IMPOSSIBLE_TIMES = 1.6  # a screw of the strongest class breaks at 1.2 to 1.4 times the table's minimum; more cannot be
# In the order in which one is written for another: common practice, no source.
UNITS = ("N·m", "N·cm", "mN·m", "kgf·cm", "gf·cm", "lbf·in", "ozf·in", "cN·m", "N·mm", "kgf·m", "lbf·ft")
SPELLINGS = {"nm": "N·m", "ncm": "N·cm", "mnm": "mN·m", "kgfcm": "kgf·cm", "kgcm": "kgf·cm", "gfcm": "gf·cm",
             "gcm": "gf·cm", "lbfin": "lbf·in", "lbin": "lbf·in", "inlb": "lbf·in", "inlbf": "lbf·in",
             "ozfin": "ozf·in", "ozin": "ozf·in", "inoz": "ozf·in", "cnm": "cN·m",
             "nmm": "N·mm", "kgfm": "kgf·m", "kgm": "kgf·m", "lbfft": "lbf·ft", "lbft": "lbf·ft", "ftlb": "lbf·ft",
             "ftlbf": "lbf·ft"}


class TorqueCheck(Struct, frozen=True, kw_only=True):
    """A torque and what it is held against, N·m; `slips` are units in which the number could be, likeliest first."""

    torque_nm: float
    verdict: str
    breaking_nm: float  # least, of the class
    from_table: bool  # the breaking torque is the standard's, not computed
    tightening_nm: tuple[float, float, float]  # to 90 % of yield: at low, usual and high friction
    slips: tuple[str, ...] = ()
    thread: str = ""  # that it was judged by
    strength: str = "8.8"
    by_recess: bool = False  # no thread is known; this is the largest that the recess takes


def unit_named(text: str) -> str:
    """The unit meant by a spelling like "Ncm", "N cm" or "kgf.cm"; raises Refusal for anything else."""
    plain = "".join(c for c in text.lower() if c.isalpha())
    if text in UNITS:
        return text
    if plain not in SPELLINGS:
        raise Refusal(text[:40] or "unit", "unknown-torque-unit", known=list(UNITS))
    # The capital makes the difference between milli and nothing only where both are letters of the unit.
    return SPELLINGS[plain]


def newton_metres(value: float, unit: str) -> float:
    return value * table("torques.toml")["units"][unit_named(unit)]


def classes() -> list[str]:
    """Strength classes that are known."""
    return [name for name, row in table("torques.toml")["classes"].items() if isinstance(row, dict)]


def _class(name: str) -> dict[str, Any]:
    row = table("torques.toml")["classes"].get(name)
    if not isinstance(row, dict):
        raise Refusal(name[:40] or "class", "unknown-strength-class", known=list(classes()))
    return row


def breaking_torque_nm(thread: Thread, strength: str = "8.8") -> tuple[float, bool]:
    """Least torque that breaks a screw of a class, and whether it is the table's [1, 2] or by its formula."""
    row, stainless = _class(strength), table("torques.toml")["stainless"]
    if "stainless" in row and thread.name in stainless["rows"]:
        return stainless["rows"][thread.name][stainless["classes"].index(row["stainless"])], True
    data = table("torques.toml")["breaking"]
    if strength in data["classes"] and thread.name in data["rows"]:
        return data["rows"][thread.name][data["classes"].index(strength)], True
    section = math.pi / 16 * thread.d3_min_mm ** 3
    return row["share"] * row["strength_mpa"] * section / 1000, False


def preload_n(thread: Thread, strength: str = "8.8", friction: float = 0.12) -> float:
    """Assembly preload at 90 % of yield, tension and torsion together [3]."""
    area = thread.stress_area_mm2
    d0 = (thread.d2_mm + thread.d3_mm) / 2
    twist = 1.5 * thread.d2_mm / d0 * (thread.pitch_mm / (math.pi * thread.d2_mm) + 1.155 * friction)
    return 0.9 * _class(strength)["yield_mpa"] * area / math.sqrt(1 + 3 * twist ** 2)


def tightening_torque_nm(thread: Thread, strength: str = "8.8", friction: float = 0.12) -> float:
    """Torque that gives that preload, with the same friction in the thread and under the head [3]."""
    bearing, hole = _bearing_mm(thread)
    arm = 0.16 * thread.pitch_mm + 0.58 * thread.d2_mm * friction + (bearing + hole) / 4 * friction
    return preload_n(thread, strength, friction) * arm / 1000


def _bearing_mm(thread: Thread) -> tuple[float, float]:
    rows = table("torques.toml")["bearing"]["rows"]
    base = thread.name.partition("x")[0]
    if base in rows:
        return tuple(rows[base])
    return 1.75 * thread.d_mm, 1.15 * thread.d_mm  # the proportions of the rows


def largest_thread(recess: tuple[str, str]) -> Thread | None:
    """The largest thread that screws with a recess (drive, size) have; of the drive where the size is not known."""
    row = next((row for row in table("drives.toml")["drive"] if row["code"] == recess[0]), None)
    if row is None:
        return None
    ranges = [row["threads"][recess[1]]] if recess[1] in row["threads"] else list(row["threads"].values())
    found = [thread for _, name in ranges if (thread := thread_named(name)) is not None]
    return max(found, key=lambda thread: thread.d_mm, default=None)


def check_torque(value: float, unit: str, thread_name: str, strength: str = "8.8",
                 recess: tuple[str, str] = ("", "")) -> TorqueCheck:
    """Judge a torque; where no thread is named, by the largest that the recess (drive, size) takes, so that what is
    called impossible is so for any. Raises Refusal for an unknown thread, unit or class, and for a value that is not
    above zero."""
    by_recess = not thread_name.strip()
    thread = largest_thread(recess) if by_recess else thread_named(thread_name)
    if thread is None:
        raise Refusal(thread_name[:40] or "thread", "unknown-thread")
    if not 0 < value < math.inf:
        raise Refusal("torque", "torque-above-zero")
    torque = newton_metres(value, unit)
    usual = table("torques.toml")["usual"]
    breaking, from_table = breaking_torque_nm(thread, strength)
    low, middle, high = (tightening_torque_nm(thread, strength, usual[name])
                         for name in ("friction_least", "friction_usual", "friction_most"))
    if thread.d_mm < usual["small_below_mm"]:
        high = min(high, usual["most_share_of_breaking"] * breaking)
    verdict = _verdict(torque, breaking, (low, middle, high), usual["least_share_of_tightening"])
    slips: tuple[str, ...] = ()
    if verdict in (IMPOSSIBLE, BREAKING, LOW):
        units = table("torques.toml")["units"]
        factors = {factor: other for other in reversed(UNITS)  # of units that are the same the usual one is named
                   if not math.isclose(factor := units[other], units[unit_named(unit)])}
        slips = tuple(other for other in UNITS if other in factors.values()
                      and _verdict(value * units[other], breaking, (low, middle, high),
                                   usual["least_share_of_tightening"]) in (PLAUSIBLE, ABOVE_USUAL))
    return TorqueCheck(torque_nm=torque, verdict=verdict, breaking_nm=breaking, from_table=from_table,
                       tightening_nm=(low, min(middle, high), high), slips=slips, thread=thread.name,
                       strength=strength, by_recess=by_recess)


def _verdict(torque: float, breaking: float, tightening: tuple[float, float, float], least: float) -> str:
    if torque > IMPOSSIBLE_TIMES * breaking:
        return IMPOSSIBLE
    if torque >= breaking:
        return BREAKING
    if torque > tightening[2]:
        return ABOVE_USUAL
    return PLAUSIBLE if torque >= least * tightening[1] else LOW
