"""First estimates of active time, from geometry and Basic MOST.

References:
[1] K. B. Zandin, MOST Work Measurement Systems, 3rd ed. 2003: Basic MOST data card; from memory, agreed twice.
[2] ISO 261:1998, coarse pitches; from memory, agreed twice.
"""

from __future__ import annotations

import math

from oddbolt.catalog import tables
from oddbolt.model.things import Act, Fastener, Joint, Part
from oddbolt.rules.times import ESTIMATED, Estimate


def most_tmu(sequence: str) -> int:
    """TMU of a Basic MOST sequence such as "A1 B0 G1 A1 B0 P3 F10": ten times the sum of its indices [1].

    >>> most_tmu("A6 B6 G1 A1 B0 P1 A0")
    150
    """
    return 10 * sum(int(step[1:]) for step in sequence.split())


def most_s(sequence: str) -> float:
    return most_tmu(sequence) * tables.seconds_per_tmu()


def screw_turns(fastener: Fastener | None) -> float:
    """Turns to loosen one screw: engaged length over pitch [2]; a customary number where either is unknown."""
    practice = tables.screw_practice()
    pitch_mm = tables.coarse_pitch_mm(fastener.thread) if fastener else None
    if not pitch_mm or fastener is None or not fastener.length_mm:
        return practice.turns_unknown
    return practice.engaged_share * fastener.length_mm / pitch_mm


def screw_group_s(fastener: Fastener | None, count: int) -> float:
    """Seconds to loosen `count` equal screws by hand and lay them aside, the driver being picked up once.

    One screw is reach and place, loosen (finger spins for small threads, wrist turns above), lay aside [1].
    """
    practice = tables.screw_practice()
    turns = screw_turns(fastener)
    if _diameter_mm(fastener) <= practice.spun_up_to_mm:
        index = tables.most_index("finger_spins", math.ceil(turns / practice.turns_per_spin))
    else:
        index = tables.most_index("wrist_turns", math.ceil(turns / practice.turns_per_wrist_turn))
    one = most_tmu(practice.reach_and_place) + 10 * index + most_tmu(practice.lay_aside)
    return (count * one + most_tmu(practice.pick_up_driver)) * tables.seconds_per_tmu()


def _diameter_mm(fastener: Fastener | None) -> float:
    try:
        return float(fastener.thread.lstrip("Mm").split("x")[0]) if fastener else 0.0
    except ValueError:
        return 0.0


def estimate_act(joint: Joint, act: Act, fastener: Fastener | None) -> Estimate:
    """First estimate for one act of a way of a joint."""
    kind = tables.joint_kind(joint.kind)
    count = joint.count or 1
    verb = tables.verb_row(act.does) if act.does and act.does != kind.verb else None
    if verb is not None:
        return _estimate(most_s(verb.most), verb.span, "Basic MOST general and controlled move [Zandin 2003]")
    if joint.kind == "screw":
        return _estimate(screw_group_s(fastener, count), kind.span, "screw geometry and Basic MOST [Zandin 2003]")
    return _estimate(count * most_s(kind.most) if kind.most else 0.0, kind.span, "Basic MOST [Zandin 2003]")


def estimate_removal(part: Part) -> Estimate:
    kind = tables.joint_kind("remove")
    return _estimate((part.count or 1) * most_s(kind.most), kind.span, "Basic MOST general move [Zandin 2003]")


def _estimate(seconds: float, span: tuple[float, float], source: str) -> Estimate:
    return Estimate(seconds=round(seconds, 1), low_s=round(seconds * span[0], 1), high_s=round(seconds * span[1], 1),
                    basis=ESTIMATED, source=source)
