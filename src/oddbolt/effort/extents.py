"""How large the thing is that an act is done to: length of a seam, area of a bond, as far as the record tells."""

from __future__ import annotations

import math

from msgspec import Struct

from oddbolt.catalog.tables import covering_kinds
from oddbolt.knowledge.covering import area
from oddbolt.model.snapshot import of_snapshot
from oddbolt.model.things import Joint, Teardown

DRAWN, DEVICE, PART = "drawn", "device", "part"


class Extent(Struct, frozen=True, kw_only=True):
    """Length along the edge in mm, area in mm2, and from what: `drawn` on a photograph with a scale, the size of the
    `device` (of a cover or a display, which are as large), the outline of the `part`."""

    length_mm: float
    area_mm2: float
    known_by: str


def extent_of(teardown: Teardown, joint: Joint) -> Extent | None:
    """The extent of what a joint is; None where nothing on record tells it."""
    drawn = _drawn(teardown)
    if joint.id in drawn:
        return drawn[joint.id]
    held = teardown.part.get(joint.of[0])
    size = sorted(teardown.device.size_mm)[-2:]
    if held is not None and held.kind in covering_kinds().large and len(size) == 2 and size[0] > 0:
        return Extent(length_mm=2 * sum(size), area_mm2=size[0] * size[1], known_by=DEVICE)
    if held is not None and held.id in drawn:
        whole = drawn[held.id]
        return Extent(length_mm=whole.length_mm, area_mm2=whole.area_mm2, known_by=PART)
    return None


@of_snapshot("views")
def _drawn(teardown: Teardown) -> dict[str, Extent]:
    """Of each thing with an outline on a photograph that has a scale, the largest."""
    found: dict[str, Extent] = {}
    for view in teardown.views:
        if not view.mm_per_px:
            continue
        outlines = [(mark.thing, mark.outline) for mark in view.marks if len(mark.outline) > 2]
        outlines += [(footprint.of, footprint.outline) for footprint in view.footprints
                     if len(footprint.outline) > 2 and not footprint.with_]
        for thing, outline in outlines:
            spots = tuple((x * view.mm_per_px, y * view.mm_per_px) for x, y in outline)
            area_mm2 = area(spots)
            if thing not in found or area_mm2 > found[thing].area_mm2:
                length = sum(math.dist(a, b) for a, b in zip(spots, (*spots[1:], spots[0])))
                found[thing] = Extent(length_mm=length, area_mm2=area_mm2, known_by=DRAWN)
    return found
