"""Where each bolt lies while the device is open: layer by layer, as the photographs show them."""

from __future__ import annotations

from msgspec import Struct

from oddbolt.model.things import Mark, Teardown, View
from oddbolt.rules.replay import in_order, readings


class Compartment(Struct, frozen=True, kw_only=True):
    """Bolts of one joint: they go back into the same holes, so they lie together."""

    joint: str
    letter: str
    count: int | None
    marks: tuple[Mark, ...]  # on the layer's photograph, in the order of their numbers


class TrayLayer(Struct, frozen=True, kw_only=True):
    """Compartments of the bolts that are undone in one state of the device; no view where no photograph shows them."""

    view: View | None
    compartments: tuple[Compartment, ...]

    @property
    def bolts(self) -> int:
        return sum(c.count or len(c.marks) for c in self.compartments)


def tray_layers(teardown: Teardown) -> list[TrayLayer]:
    """Each joint of screws in the layer of the last photograph that still shows it in place, from the top down."""
    at = {entry.id: n for n, entry in enumerate(in_order(teardown))}
    released = {entry.thing: at[entry.id] for entry in readings(teardown) if entry.do == "release" and entry.thing}
    views = [view for view in teardown.views if view.portrait is None]
    layer_of: dict[str, int] = {}
    for n, view in enumerate(views):
        taken = at.get(view.at_entry or "", -1)
        for mark in view.marks:
            if mark.thing in teardown.joint and released.get(mark.thing, len(at)) > taken:
                layer_of[mark.thing] = n
    found: dict[int, list[Compartment]] = {}
    order = {joint.id: n for n, joint in enumerate(teardown.joints)}
    screws = [j for j in teardown.joints if j.kind == "screw" and teardown.is_present(j)]
    for joint in sorted(screws, key=lambda j: (released.get(j.id, len(at)), order[j.id])):
        n = layer_of.get(joint.id, len(views))
        shown = views[n].marks if n < len(views) else ()
        marks = sorted((m for m in shown if m.thing == joint.id), key=lambda m: m.n or 0)
        found.setdefault(n, []).append(Compartment(joint=joint.id, letter=joint.fastener or "?", count=joint.count,
                                                   marks=tuple(marks)))
    return [TrayLayer(view=views[n] if n < len(views) else None, compartments=tuple(found[n])) for n in sorted(found)]
