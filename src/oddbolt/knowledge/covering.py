"""Where things lie, from marks: whether one thing covers the place of another, as far as photographs say."""

from __future__ import annotations

from msgspec import Struct

from oddbolt.model.places import Spot
from oddbolt.model.snapshot import of_snapshot
from oddbolt.model.things import Teardown, View

MARGIN_MM = 2.0  # a bracket reaches a little beyond its screws
NEAR_MM = 5.0  # a label covers no more than this
UNKNOWN_MM_PER_PX = 0.1  # where a view has no scale: a tablet filling a photograph

AT_THE_EDGE = ("screw", "clip", "press-fit")  # what holds a part at its edge, so that its marks span it

Box = tuple[float, float, float, float]


class _Placed(Struct, frozen=True):
    side: str
    spots: tuple[Spot, ...]
    outline: tuple[Spot, ...]


class Places:
    """Places of marks in mm on each side of the device, all photographs of a side taken as one."""

    def __init__(self, teardown: Teardown, before: Places | None = None) -> None:
        """`before`: the places of an earlier snapshot; those on photographs that are the same are taken from it."""
        self._of: dict[str, list[_Placed]] = {}
        self._areas: dict[str, list[tuple[str, Box]]] = {}
        self._held_at_edge = _held_at_edge(teardown)
        known = {id(view): placed for view, placed in before._by_view} if before is not None else {}
        self._by_view = [(view, known[id(view)] if id(view) in known else _placed_on(view)) for view in teardown.views]
        for _, placed in self._by_view:
            for thing, one in placed.items():
                self._of.setdefault(thing, []).append(one)

    def are_held_by(self, joints: dict[str, list[str]]) -> bool:
        return joints == self._held_at_edge

    def is_placed(self, thing: str) -> bool:
        """Whether it is marked anywhere."""
        return thing in self._of

    def covers(self, hider: str, thing: str) -> bool | None:
        """Whether the area of `hider` takes in a place of `thing`; None where the marks do not tell."""
        over = self._areas.get(hider)
        if over is None:
            over = self._areas[hider] = self._area(hider)
        told = None
        for side, (left, top, right, bottom) in over:
            for placed in self._of.get(thing, ()):
                if placed.side == side:
                    told = False
                    for x, y in placed.spots:
                        if left <= x <= right and top <= y <= bottom:
                            return True
        return told

    def near(self, one: str, other: str) -> bool:
        """Whether any mark of one lies within `NEAR_MM` of a mark of the other, on one side."""
        return any((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2 <= NEAR_MM ** 2
                   for p in self._of.get(one, ()) for q in self._of.get(other, ()) if p.side == q.side
                   for a in p.spots for b in q.spots)

    def _area(self, part: str) -> list[tuple[str, Box]]:
        """Boxes by side: of the outline, else of the marks of what holds the part, a little widened."""
        found = [(p.side, _box(p.outline, 0)) for p in self._of.get(part, ()) if len(p.outline) > 2]
        if found:
            return found
        by_side: dict[str, list[Spot]] = {}
        for joint in self._held_at_edge.get(part, ()):
            for placed in self._of.get(joint, ()):
                by_side.setdefault(placed.side, []).extend(placed.spots)
        return [(side, _box(tuple(spots), MARGIN_MM)) for side, spots in by_side.items() if len(spots) > 1]


def _placed_on(view: View) -> dict[str, _Placed]:
    scale = view.mm_per_px or UNKNOWN_MM_PER_PX
    spots: dict[str, list[Spot]] = {}
    outlines: dict[str, list[Spot]] = {}
    for mark in view.marks:
        spots.setdefault(mark.thing, []).append((mark.x * scale, mark.y * scale))
        outlines.setdefault(mark.thing, []).extend((x * scale, y * scale) for x, y in mark.outline)
    return {thing: _Placed(view.side, tuple(found), tuple(outlines[thing])) for thing, found in spots.items()}


def _held_at_edge(teardown: Teardown) -> dict[str, list[str]]:
    """Part -> joints that hold it at its edge."""
    found: dict[str, list[str]] = {}
    for joint in teardown.joints:
        if joint.kind in AT_THE_EDGE and joint.of:
            found.setdefault(joint.of[0], []).append(joint.id)
    return found


def _still(teardown: Teardown, places: Places, was: Teardown) -> Places:
    """The places of before, where no photograph changed and no joint holds another part."""
    if teardown.views is was.views and places.are_held_by(_held_at_edge(teardown)):
        return places
    return Places(teardown, places)


@of_snapshot("views", "joints", renewed=_still)
def places_of(teardown: Teardown) -> Places:
    """The places of a snapshot."""
    return Places(teardown)


def _box(spots: tuple[Spot, ...], margin: float) -> Box:
    xs, ys = [x for x, _ in spots], [y for _, y in spots]
    return min(xs) - margin, min(ys) - margin, max(xs) + margin, max(ys) + margin

