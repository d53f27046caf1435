"""First estimates of active time, from geometry and Basic MOST; which sequences stand for what is in data/verbs.toml.

References:
[1] K. B. Zandin, MOST Work Measurement Systems, 3rd ed. 2003: Basic MOST data card; from memory, agreed twice.
[2] ISO 261:1998, coarse pitches; from memory, agreed twice.
"""

from __future__ import annotations

import math
import re

from oddbolt.catalog import tables
from oddbolt.catalog.defaults import verb_of
from oddbolt.catalog.tables import VerbRow
from oddbolt.effort.extents import Extent, extent_of
from oddbolt.model.things import Fastener, Joint, Part, Teardown, Way
from oddbolt.rules.times import ESTIMATED, Estimate

LIFT, UNSCREW, PRY, HEAT = "lift", "unscrew", "pry", "heat"
TO_95 = 1.6448536269514722  # standard deviations from the middle of a normal to its 95 % point
NINE_OF_TEN = 2 * TO_95  # from the 5 % to the 95 % point
GENERAL_MOVE = "Basic MOST general move [Zandin 2003]"
COMPOSED = "composed from the Basic MOST card [Zandin 2003]"
_STEP = re.compile(r"[A-Z](\d+)")


def most_tmu(sequence: str) -> int:
    """TMU of a Basic MOST sequence such as "A1 B0 G1 A1 B0 P3 F10": ten times the sum of its indices [1].

    >>> most_tmu("A6 B6 G1 A1 B0 P1 A0")
    150
    """
    return 10 * sum(int(index) for index in _STEP.findall(sequence))


def most_s(sequence: str) -> float:
    return most_tmu(sequence) * tables.seconds_per_tmu()


def screw_turns(fastener: Fastener | None) -> float:
    """Turns to loosen one screw: engaged length over pitch [2]; a customary number where either is unknown."""
    practice = tables.screw_practice()
    pitch_mm = tables.coarse_pitch_mm(fastener.thread) if fastener else None
    if not pitch_mm or fastener is None or not fastener.length_mm:
        return practice.turns_unknown
    return practice.engaged_share * fastener.length_mm / pitch_mm


def screw_group_s(fastener: Fastener | None, count: int, *, powered: bool = False) -> float:
    """Seconds to loosen `count` equal screws and lay them aside, the driver being picked up once.

    One screw is reach and place, break loose, spin between the fingers (large or stiff ones turn by turn of the wrist),
    lay aside [1]; a powered driver spins while it is held.
    """
    practice = tables.screw_practice()
    turns = max(0.0, screw_turns(fastener) - practice.left_over_turns)
    stiff = fastener is not None and any(word in fastener.thread.lower() for word in practice.stiff)
    if powered:
        index = 0
    elif _diameter_mm(fastener) <= practice.spun_up_to_mm and not stiff:
        index = tables.most_index("finger_spins", math.ceil(turns / practice.turns_per_spin)) if turns else 0
    else:
        index = tables.most_index("wrist_turns", math.ceil(turns / practice.turns_per_wrist_turn)) if turns else 0
    one = most_tmu(f"{practice.reach_and_place} {practice.break_loose} {practice.lay_aside}") + 10 * index
    return (count * one + most_tmu(practice.pick_up_driver)) * tables.seconds_per_tmu()


def _diameter_mm(fastener: Fastener | None) -> float:
    try:
        return float(fastener.thread.lstrip("Mm").split("x")[0]) if fastener else 0.0
    except ValueError:
        return 0.0


def estimate_act(teardown: Teardown, joint: Joint, way: Way, place: int) -> Estimate:
    """First estimate for the act at a place of a way of a joint."""
    act, count = way.acts[place], joint.count or 1
    verb = verb_of(joint, act)
    row = tables.verb_row(verb) or tables.verb_row("release")
    assert row is not None
    fastener = teardown.fastener.get(joint.fastener) if joint.fastener else None
    if row.verb == UNSCREW and (joint.kind == "screw" or fastener is not None):
        powered = bool({act.tool, *act.also} & set(tables.screw_practice().powered))
        return estimate(screw_group_s(fastener, count, powered=powered),
                        row.powered_span or row.span if powered else row.span,
                        "screw geometry, " + COMPOSED, verb)
    if not row.first:
        return estimate(0.0, row.span, COMPOSED, verb)
    seconds = verb_s(row, count, extent_of(teardown, joint), joint.type)
    cold = row.cold_span is not None and not _is_warm(joint, way, place)
    span = row.cold_span if cold and row.cold_span else row.span
    return estimate(seconds * row.cold_factor if cold else seconds, span, COMPOSED + (", cold" if cold else ""), verb)


def _is_warm(joint: Joint, way: Way, place: int) -> bool:
    """Whether an act is done warm: heat was given before it in the same way."""
    return joint.kind != "adhesive" or any(act.does == HEAT for act in way.acts[:place])


def verb_s(row: VerbRow, count: int, extent: Extent | None, type_: str = "") -> float:
    """Seconds of a verb done to `count` pieces of an extent, the usual one where it is not known."""
    length = extent.length_mm if extent is not None else row.usual_mm
    area_cm2 = extent.area_mm2 / 100 if extent is not None else row.usual_cm2
    tmu = most_tmu(row.types.get(type_, row.first)) + most_tmu(row.last) + row.corners * most_tmu(row.corner)
    if row.each_mm:
        tmu += max(0, math.ceil((length - row.after_mm) / row.each_mm)) * most_tmu(row.each)
    elif row.each_cm2:
        tmu += math.ceil(area_cm2 / row.each_cm2) * most_tmu(row.each)
    elif row.each_piece:
        tmu += (count - 1) * most_tmu(row.each)
    seconds = tmu * tables.seconds_per_tmu()
    if row.process_mm_per_s:
        seconds += row.usual_mm / row.process_mm_per_s
    return seconds if row.per == "act" else count * seconds


def estimate_lift(part: Part, place: int = 0) -> Estimate:
    """First estimate for the act at a place of the lift of a part."""
    row = tables.verb_row(part.lift[place].does or LIFT) or tables.verb_row(LIFT)
    assert row is not None
    return estimate((part.count or 1) * most_s(row.first), row.span, GENERAL_MOVE, row.verb)


def estimate(seconds: float, span: tuple[float, float], source: str, verb: str) -> Estimate:
    """An estimate with its interval, and what of it is off together with others."""
    spread = tables.table("effort.toml")["spread"]
    variance = log_sd(*span) ** 2
    shared = min(variance, spread["pace"] ** 2)
    return Estimate(seconds=round(seconds, 2), low_s=round(seconds * span[0], 2), high_s=round(seconds * span[1], 2),
                    basis=ESTIMATED, source=source, verb=verb, shared_var=shared,
                    verb_var=spread["verb_share"] * (variance - shared))


def log_sd(low: float, high: float) -> float:
    """Standard deviation of the logarithm of which `low` to `high` is the middle nine tenths."""
    return math.log(high / low) / NINE_OF_TEN if 0 < low < high else 0.0
