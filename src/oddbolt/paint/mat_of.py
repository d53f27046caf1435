"""The mat of a layer of the tray: marks and outlines of its photograph, in mm by the photograph's scale."""

from __future__ import annotations

from PySide6.QtGui import QImage

from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown
from oddbolt.paint.mat import Mat, Place
from oddbolt.reassembly.tray import TrayLayer


def mat_of(teardown: Teardown, layer: TrayLayer, size_px: tuple[int, int], title: str,
           picture: QImage | None = None) -> Mat:
    """Raises Refusal where the photograph has no scale yet: a mat is of use at true size only."""
    view = layer.view
    if view is None or not view.marks:
        raise Refusal("mat", "no-photo-of-bolts")
    scale = view.mm_per_px
    if not scale:
        raise Refusal(view.id, "no-scale")
    places, number = [], 0
    for compartment in layer.compartments:
        fastener = teardown.fastener.get(compartment.letter)
        for mark in compartment.marks:
            number += 1
            places.append(Place(x_mm=mark.x * scale, y_mm=mark.y * scale, number=number, letter=compartment.letter,
                                drive=fastener.drive if fastener else ""))
    outlines = tuple(tuple((x * scale, y * scale) for x, y in mark.outline) for mark in view.marks
                     if len(mark.outline) > 2)
    return Mat(width_mm=size_px[0] * scale, height_mm=size_px[1] * scale, title=title, places=tuple(places),
               outlines=outlines, picture=picture)
