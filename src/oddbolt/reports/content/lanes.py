"""A sequence as lanes: what is done when, with which tool, and what it is; the picture is made from this."""

from __future__ import annotations

from msgspec import Struct

from oddbolt.reports.content.strata import LIFT, layer_kind
from oddbolt.rules.counting import Count
from oddbolt.rules.device_state import is_last_act, way_of
from oddbolt.rules.structure import Structure
from oddbolt.rules.times import Estimate


class LaneItem(Struct, frozen=True, kw_only=True):
    """One act or lift: when, how long, with what, and what it is."""

    place: int  # in the sequence
    tool: str
    start_s: float
    active_s: float
    wait_s: float
    step: int
    side: str
    kind: str  # screws, lift, plug, glue, film, act
    is_live: bool
    is_renewed: bool
    known: Estimate  # its active time, with how that is known


class Lanes(Struct, frozen=True, kw_only=True):
    """A sequence with its lanes in order of first use."""

    items: tuple[LaneItem, ...]
    tools: tuple[str, ...]
    total_s: float


def lanes_of(items: list[LaneItem]) -> Lanes:
    tools = tuple(dict.fromkeys(item.tool for item in items))
    total = max((item.start_s + item.active_s for item in items), default=0.0)
    return Lanes(items=tuple(items), tools=tools, total_s=total)


def idle_stretches(lanes: Lanes, at_least_s: float) -> tuple[tuple[float, float], ...]:
    """Where for at least so long nothing is done but wait, from and to in seconds."""
    found, busy_until = [], 0.0
    for item in sorted(lanes.items, key=lambda item: item.start_s):
        if item.start_s - busy_until >= at_least_s:
            found.append((busy_until, item.start_s))
        busy_until = max(busy_until, item.start_s + item.active_s)
    return tuple(found)


def lane_items(structure: Structure, counted: Count) -> list[LaneItem]:
    """Every act and lift of a counted sequence."""
    found = []
    for place, timed in enumerate(counted.timed):
        operation, kind, renewed = timed.operation, LIFT, False
        if not operation.part:
            kind = layer_kind(structure.releases[operation.joint].joint)
            renewed = is_last_act(structure, operation) and way_of(structure, operation).reuse != "reusable"
        found.append(LaneItem(place=place, tool=timed.tool, start_s=timed.start_ms / 1000,
                              active_s=timed.kind.active_ms / 1000, wait_s=timed.kind.wait_ms / 1000, step=timed.step,
                              side=timed.kind.side, kind=kind, is_live=timed.live, is_renewed=renewed,
                              known=timed.known))
    return found
