"""Safety policies of plans: what a plan keeps to before anything else, and where a sequence breaks one.

A policy is *kept* (plans break it in as few places as can be, like live acts) or only *told*. "No solvent under heat"
asks for time, not for another way: kept, an act waits until what the other one gave is over.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from msgspec import Struct

from oddbolt.catalog.policies import cell_limit_c, gives
from oddbolt.model.things import Way
from oddbolt.rules.counting import Count
from oddbolt.rules.device_state import act_of, way_of
from oddbolt.rules.structure import Structure

KEEP, CELL, APART = "keep-for-reuse", "cell-limit", "no-solvent-under-heat"
POLICIES = (KEEP, CELL, APART)


class Breach(Struct, frozen=True, kw_only=True):
    """A place where a sequence breaks a policy: the joints, and the temperature in °C where that is what breaks it."""

    policy: str
    things: tuple[str, ...]
    temp_c: float | None = None


def against(structure: Structure, joint: str, way: Way) -> Iterator[Breach]:
    """Policies that a way of a joint breaks wherever it stands in a sequence."""
    if way.reuse == "destroyed":
        yield Breach(policy=KEEP, things=(joint,))
    hottest = hottest_c(way)
    holds_a_cell = any(structure.part[part].kind == "battery"
                       for part in structure.joint[joint].of)
    if holds_a_cell and hottest is not None and hottest > cell_limit_c():
        yield Breach(policy=CELL, things=(joint,), temp_c=hottest)


def hottest_c(way: Way) -> float | None:
    """The highest temperature that its acts name, °C; None where they name none."""
    named = [value for act in way.acts for limit in act.limits if isinstance(limit, dict)
             for value in _numbers(limit.get("temp_c"))]
    return max(named, default=None)


def _numbers(value: Any) -> list[float]:
    values = value if isinstance(value, (list, tuple)) else [value]
    return [float(v) for v in values if isinstance(v, (int, float)) and not isinstance(v, bool)]


def held_ways(structure: Structure, kept: frozenset[str]) -> set[tuple[str, int]]:
    """(joint, way) that plans do without where they can."""
    return {(id_, n) for id_, release in structure.releases.items() for n, way in enumerate(release.ways)
            if any(breach.policy in kept for breach in against(structure, id_, way))}


def breaches(structure: Structure, counted: Count) -> tuple[Breach, ...]:
    """Every place where a counted sequence breaks a policy, kept or not, in its order."""
    found: list[Breach] = []
    under_way: list[tuple[str, str, int]] = []  # thing, what it gives, until when in ms
    for timed in counted.timed:
        operation = timed.operation
        act, thing = act_of(structure, operation), operation.part or operation.joint
        if not operation.part and operation.act == 0:
            found.extend(against(structure, operation.joint, way_of(structure, operation)))
        given = "" if timed.kind.is_removal else gives(act.does, act.tool)
        if given:
            found.extend(Breach(policy=APART, things=(other, thing)) for other, what, until in under_way
                         if what != given and until > timed.start_ms)
            until = timed.start_ms + timed.kind.active_ms + timed.kind.wait_ms
            under_way.append((thing, given, until))
    return tuple(dict.fromkeys(found))
