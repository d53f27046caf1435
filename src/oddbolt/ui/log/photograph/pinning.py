"""On a photograph: the ends of the chosen joint as handles, and what parts had covered."""

from __future__ import annotations

from oddbolt.model.things import Teardown, View
from oddbolt.ui.widgets.overlay import End, Ghost
from oddbolt.words.names import name_of


def ends_of(teardown: Teardown, view: View | None, thing: str, stub: float) -> list[End]:
    """Handles for what a joint ties: at the parts' marks on this view, else a short way off, `stub` pixels."""
    joint = teardown.joint.get(thing)
    marks = [m for m in view.marks if m.thing == thing] if view else []
    if joint is None or not marks:
        return []
    start = marks[0].x, marks[0].y
    found = []
    for number, part in enumerate(joint.of):  # a group may hold a third part
        aside = (-stub, stub, 0.0)[min(number, 2)]
        place = next(((m.x, m.y) for m in view.marks if m.thing == part),
                     (start[0] + aside, start[1] + stub * (1 if number < 2 else number)))
        name = name_of(teardown, part)
        found.append(End(number, start, place, name))
    return found


def ghosts_of(teardown: Teardown, view: View | None) -> tuple[Ghost, ...]:
    """What parts had covered, drawn on this photograph or on an earlier one of the same side and scale."""
    if view is None:
        return ()
    places = {one.id: n for n, one in enumerate(teardown.views)}
    return tuple(Ghost(footprint.outline, footprint.of if one.id == view.id else "")
                 for one in teardown.views for footprint in one.footprints
                 if len(footprint.outline) > 2 and (one.id == view.id or (
                     one.side == view.side and one.mm_per_px == view.mm_per_px and view.mm_per_px is not None
                     and places[one.id] < places[view.id])))
