"""Where things lie, from marks: whether one thing covers the place of another, as far as photographs say."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from functools import cached_property

from msgspec import Struct

from oddbolt.model.places import Spot
from oddbolt.model.snapshot import of_snapshot
from oddbolt.model.things import Teardown, View

MARGIN_MM = 2.0  # a bracket reaches a little beyond its screws
NEAR_MM = 5.0  # a label covers no more than this
UNKNOWN_MM_PER_PX = 0.1  # where a view has no scale: a tablet filling a photograph

IN, OUT, RIM_OF_IT, NOTHING = "in", "out", "rim", "nothing"  # how a thing lies to what was covered
RIM = 0.03  # of the diagonal: so close to the edge of what was drawn nothing is said
OF_IT = 0.25  # of the shorter side of what was drawn: its rim is no wider
SEEN_RIM, SEEN_OF_IT = 0.01, 0.1  # the same of what two photographs say: what came off has a finer edge than a drawing
SEEN = "seen"  # basis of such a footprint
LEAST_MM = 100.0  # across a device, before its marks say more

KEPT = 500  # things whose answers are kept; an act asks about the same ones again

AT_THE_EDGE = ("screw", "clip", "press-fit")  # what holds a part at its edge, so that its marks span it

Box = tuple[float, float, float, float]


class _Placed(Struct, frozen=True):
    side: str
    spots: tuple[Spot, ...]
    outline: tuple[Spot, ...]


class _Covered(Struct, frozen=True):
    side: str
    outline: tuple[Spot, ...]
    is_seen: bool  # by two photographs


class Told(Struct, frozen=True):
    covers: Mapping[str, bool]  # hider of which the marks tell -> whether it covers the thing
    by: tuple[str, ...]  # those that do


class Places:
    """Places of marks in mm on each side of the device, all photographs of a side taken as one."""

    def __init__(self, teardown: Teardown, before: Places | None = None) -> None:
        """`before`: the places of an earlier snapshot; those on photographs that are the same are taken from it."""
        self._of: dict[str, list[_Placed]] = {}
        self._diagonals: dict[str, float] = {}
        self._footprints: dict[str, list[_Covered]] = {}
        self._shared: dict[str, list[_Covered]] = {}  # of what was covered together with others
        self._with: dict[str, frozenset[str]] = {}
        for view in teardown.views:
            scale = view.mm_per_px or UNKNOWN_MM_PER_PX
            for footprint in view.footprints:
                placed = _Covered(view.side, tuple((x * scale, y * scale) for x, y in footprint.outline),
                                  footprint.basis == SEEN)
                for part in footprint.whose if footprint.with_ else ():
                    self._shared.setdefault(part, []).append(placed)
                    self._with[part] = frozenset(footprint.whose)
                if not footprint.with_:
                    self._footprints.setdefault(footprint.of, []).append(placed)
        self._told: dict[str, Told] = {}  # of the things asked about last
        self._held_at_edge = _held_at_edge(teardown)
        known = {id(view): placed for view, placed in before._by_view} if before is not None else {}
        self._by_view = [(view, known[id(view)] if id(view) in known else _placed_on(view)) for view in teardown.views]
        for _, placed in self._by_view:
            for thing, one in placed.items():
                self._of.setdefault(thing, []).append(one)

    def are_held_by(self, joints: dict[str, list[str]]) -> bool:
        return joints == self._held_at_edge

    def told_of(self, thing: str) -> Told:
        """Whose area takes in a place of the thing, as far as the marks tell."""
        told = self._told.get(thing)
        if told is None:
            while len(self._told) >= KEPT:
                del self._told[next(iter(self._told))]
            covers = self._tell(self._of.get(thing, ()))
            told = self._told[thing] = Told(covers, tuple(hider for hider, does in covers.items() if does))
        return told

    def _tell(self, places: Iterable[_Placed]) -> dict[str, bool]:
        told: dict[str, bool] = {}
        for placed in places:
            for hider, (left, top, right, bottom) in self._boxes.get(placed.side, ()):
                if not told.get(hider, False):
                    told[hider] = any(left <= x <= right and top <= y <= bottom for x, y in placed.spots)
        return told

    @cached_property
    def _boxes(self) -> dict[str, list[tuple[str, Box]]]:
        """Side -> what has an area there, with its box."""
        found: dict[str, list[tuple[str, Box]]] = {}
        for hider in dict.fromkeys((*self._of, *self._held_at_edge)):
            for side, box in self._area(hider):
                found.setdefault(side, []).append((hider, box))
        return found

    def under(self, hider: str, thing: str) -> str | None:
        """How a thing lies to what the hider had covered, as it was drawn: `IN`, `OUT`, at the rim, or `NOTHING` where
        it covered nothing; None where nothing was drawn, or not on a side that shows the thing."""
        found = None
        for one in self._footprints.get(hider) or self._shared.get(hider, ()):
            if not one.outline:
                return NOTHING
            spots = self.spots(thing, one.side)
            if not spots:
                continue
            rim = self._rim(one)
            told = [lies_to(spot, one.outline, rim) for spot in spots]
            found = IN if IN in told else RIM_OF_IT if RIM_OF_IT in told else OUT
        return found

    def together(self, hider: str) -> frozenset[str]:
        """All that had covered together what is known to have been covered by it and others; empty where it is known
        alone, or not."""
        return frozenset() if hider in self._footprints else self._with.get(hider, frozenset())

    def share_under(self, hider: str, thing: str) -> float | None:
        """How much of what is marked of a thing lies within what the hider had covered, or at its edge; None where that
        is not known."""
        for one in self._footprints.get(hider, ()):
            spots = self.spots(thing, one.side)
            if one.outline and spots:
                rim = self._rim(one)
                return sum(lies_to(spot, one.outline, rim) != OUT for spot in spots) / len(spots)
        return None

    def _rim(self, one: _Covered) -> float:
        return rim_of(one.outline, self.diagonal(one.side), is_seen=one.is_seen)

    def covered_mm2(self, hider: str) -> float:
        """The area of what it had covered, as it was drawn; infinite where nothing was drawn."""
        return max((area(one.outline) for one in self._footprints.get(hider, ()) if one.outline), default=float("inf"))

    def depth_mm(self, hider: str, thing: str) -> float | None:
        """How far within what the hider had covered a thing lies, by the mark that lies furthest in; negative outside.
        By the area that its marks span where nothing was drawn; None where neither is known. Infinitely far outside of
        what covered nothing."""
        if any(not one.outline for one in self._footprints.get(hider, ())):
            return -float("inf")
        found = [_depth(spot, one.outline) for one in self._footprints.get(hider, ()) if one.outline
                 for spot in self.spots(thing, one.side)]
        if not found and hider not in self._footprints:
            found = [min(x - left, right - x, y - top, bottom - y) for side, (left, top, right, bottom)
                     in self._area(hider) for x, y in self.spots(thing, side)]
        return max(found, default=None)

    def spots(self, thing: str, side: str = "") -> tuple[Spot, ...]:
        """Where it is marked, in mm; of one side, where one is said."""
        return tuple(spot for placed in self._of.get(thing, ()) if side in ("", placed.side) for spot in placed.spots)

    def diagonal(self, side: str = "") -> float:
        """How large the device is, as far as marks tell: across all of them, in mm."""
        if side not in self._diagonals:
            spots = [spot for thing in self._of for spot in self.spots(thing, side)]
            xs, ys = [x for x, _ in spots] or [0.0], [y for _, y in spots] or [0.0]
            self._diagonals[side] = max(LEAST_MM, ((max(xs) - min(xs)) ** 2 + (max(ys) - min(ys)) ** 2) ** 0.5)
        return self._diagonals[side]

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


def rim_of(outline: tuple[Spot, ...], diagonal: float, *, is_seen: bool = False) -> float:
    """How wide the rim of what was covered is, where nothing is said; `diagonal` of the device, in the same unit."""
    left, top, right, bottom = _box(outline, 0)
    of_all, of_it = (SEEN_RIM, SEEN_OF_IT) if is_seen else (RIM, OF_IT)
    return min(of_all * diagonal, of_it * min(right - left, bottom - top))


def area(outline: tuple[Spot, ...]) -> float:
    """Of an outline, in the square of its unit."""
    return abs(sum(x1 * y2 - x2 * y1 for (x1, y1), (x2, y2) in zip(outline, (*outline[1:], *outline[:1])))) / 2


def contains(outline: tuple[Spot, ...], spot: Spot) -> bool:
    """Whether a place lies within an outline, by the crossings of a ray."""
    x, y = spot
    inside = False
    for (x1, y1), (x2, y2) in zip(outline, (*outline[1:], outline[0])):
        if (y1 > y) != (y2 > y) and x < (x2 - x1) * (y - y1) / (y2 - y1) + x1:
            inside = not inside
    return inside


def lies_to(spot: Spot, outline: tuple[Spot, ...], rim: float) -> str:
    """Within, without, or at the edge of an outline."""
    depth = _depth(spot, outline)
    return RIM_OF_IT if abs(depth) < rim else IN if depth > 0 else OUT


def _depth(spot: Spot, outline: tuple[Spot, ...]) -> float:
    """How far within an outline; negative outside."""
    x, y = spot
    nearest = float("inf")
    for (x1, y1), (x2, y2) in zip(outline, (*outline[1:], outline[0])):
        length2 = (x2 - x1) ** 2 + (y2 - y1) ** 2
        along = min(1.0, max(0.0, ((x - x1) * (x2 - x1) + (y - y1) * (y2 - y1)) / length2)) if length2 else 0.0
        nearest = min(nearest, ((x1 + along * (x2 - x1) - x) ** 2 + (y1 + along * (y2 - y1) - y) ** 2) ** 0.5)
    return nearest if contains(outline, spot) else -nearest


def _box(spots: tuple[Spot, ...], margin: float) -> Box:
    xs, ys = [x for x, _ in spots], [y for _, y in spots]
    return min(xs) - margin, min(ys) - margin, max(xs) + margin, max(ys) + margin

