"""Photographs of the states of the device: added, and their scale."""

from __future__ import annotations

from msgspec.structs import replace

from oddbolt.model.label import Label
from oddbolt.model.things import Plane, Teardown, View
from oddbolt.session.verbs.plain import Done, change_view, view_of


def add_view(teardown: Teardown, view: View) -> Done:
    """A photograph that the document has; `made` is the id of its view."""
    return Done(Label("add-view", {"photo": view.photo}), replace(teardown, views=(*teardown.views, view)), view.id)


def set_scale(teardown: Teardown, view_id: str, mm_per_px: float, plane: Plane | None = None) -> Done:
    """The scale of a photograph, with the plane it was found on; a scale by two points leaves no plane."""
    photo = view_of(teardown, view_id).photo
    return Done(Label("scale", {"photo": photo}), change_view(
        teardown, view_id, lambda v: replace(v, mm_per_px=round(mm_per_px, 6), plane=plane)))
