"""Marks of a view as pins."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from oddbolt.knowledge.checks.findings import left_on
from oddbolt.model.things import Teardown, View
from oddbolt.paint.pins import Pin
from oddbolt.rules.device_state import DeviceState
from oddbolt.words.names import name_of
from oddbolt.words.translate import tr


def pins_of(teardown: Teardown, view: View | None, state: DeviceState | None, chosen: str, asked: Collection[str],
            selected: Collection[int], numbers: Mapping[int, str]) -> list[Pin]:
    """`state` is given for the present state: what is released or lifted is shown faintly. `numbers` is what marks show
    while they are numbered anew; the group in hand shows those it has."""
    pins = []
    covered = protected(teardown)
    for place, mark in enumerate(view.marks if view else ()):
        joint, part = teardown.joint.get(mark.thing), teardown.part.get(mark.thing)
        spent = state is not None and not state.is_in_place(mark.thing)
        text, drive = name_of(teardown, mark.thing), ""
        kind = "part" if part else "plug" if joint and joint.kind == "connector" else "other"
        if joint is not None and joint.kind == "screw" and joint.fastener:
            text, drive, kind = joint.fastener, teardown.fastener[joint.fastener].drive, "screw"
        if place in numbers:
            text = f"{text} {numbers[place]}"
        elif kind == "screw" and mark.thing == chosen and mark.n is not None:
            text = f"{text} {mark.n}"
        if mark.fact and part is not None and name_of(teardown, mark.thing).lower() != mark.fact.lower():
            text = tr("{0} · {1}").format(text, mark.fact)
        if mark.thing in covered:
            text = f"{text} + {covered[mark.thing]}"
        pins.append(Pin(mark.x, mark.y, text, drive, kind, spent, mark.thing == chosen or place in selected,
                        mark.outline, mark.thing in asked, mark.angle_deg))
    return pins


def protected(teardown: Teardown) -> dict[str, str]:
    """Things with a temporary protection on them, and which."""
    return {where[0]: what for what, *where in (finding.others for finding in left_on(teardown)) if where}
