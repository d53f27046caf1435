"""From what two photographs differ in to what may be taken over: proposals, in terms of the record.

Nothing is recorded here. What is sure is ticked from the start; what is unsure, or of which the kind has to be said,
is not. What the record knows already is not proposed again.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.knowledge.covering import UNKNOWN_MM_PER_PX, contains
from oddbolt.knowledge.said.seen import (
    HEADS,
    MOVED,
    NEW_OFF,
    OFF,
    OPENED,
    OUT,
    SMALL,
    UNCOVERED,
    Look,
    Outline,
    Seen,
    found_again,
    widened,
)
from oddbolt.model.places import Spot
from oddbolt.model.things import Mark, Teardown, View
from oddbolt.rules.device_state import DeviceState
from oddbolt.session.standing import is_next
from oddbolt.session.verbs.seeing.take import covers_others

if TYPE_CHECKING:
    from oddbolt.imaging.differing.difference import Difference, Place, Region, Screw

HEAD_MM, PLACE_MM = 2.4, 1.6  # of a head whose letter says nothing of it, and of another joint: radius looked at
SAME_PLACE = 0.5  # of what an outline and a region cover: so much they share where they are of one thing
EDGE = 0.05  # of its size: so far outside of a region lies the mark of what came off there
# How far two things of one kind look apart at most; and how much further the next kind has to be: a wrong suggestion
# costs two acts, none costs one. Chosen on the demo tablet.
ALIKE, CLEARLY, LEAST_APART = 0.25, 1.3, 0.02


class Looked(Struct, frozen=True):
    """What of the record is looked for, in pixels of the picture that is looked at."""

    screws: tuple[Screw, ...]  # by the place of the mark
    outlines: tuple[tuple[str, Outline], ...]
    places: tuple[Place, ...]


def looked_for(teardown: Teardown, view: View, scale: float) -> Looked:
    """Marks of a view; `scale` is how many pixels looked at one of the photograph is. What went already by the record
    is among them: it explains what is seen."""
    from oddbolt.imaging.differing.difference import Place, Screw

    per_mm = scale / (view.mm_per_px or UNKNOWN_MM_PER_PX)
    screws, outlines, places = [], [], []
    for n, mark in enumerate(view.marks):
        joint = teardown.joint.get(mark.thing)
        x, y = mark.x * scale, mark.y * scale
        if joint is not None and joint.kind == "screw":
            fastener = teardown.fastener.get(joint.fastener or "")
            head_mm = fastener.head_mm if fastener is not None and fastener.head_mm else HEAD_MM
            screws.append(Screw(joint=str(n), x=x, y=y, radius_px=head_mm / 2 * per_mm, part=joint.of[0]))
        elif joint is not None and not mark.outline:
            places.append(Place(thing=joint.id, x=x, y=y, radius_px=PLACE_MM * per_mm))
        elif joint is None and len(mark.outline) > 2:
            outlines.append((mark.thing, tuple((a * scale, b * scale) for a, b in mark.outline)))
    return Looked(tuple(screws), tuple(outlines), tuple(places))


class Suggested(Struct):
    """Kinds by likeness to what was named before, as long as the window is open; what was refused teaches nothing."""

    looks: dict[str, list[tuple[Look, str]]]  # code -> looks with what they were named

    def kind_of(self, code: str, look: Look) -> str:
        near = sorted((unlikeness(look, other), kind) for other, kind in self.looks.get(code, ()))
        if not near or near[0][0] > ALIKE:
            return ""
        distance, kind = near[0]
        others = [one for one, other in near if other != kind]
        return kind if not others or others[0] >= CLEARLY * distance + LEAST_APART else ""

    def learn(self, taken: Iterable[Seen]) -> None:
        for one in taken:
            if one.kind and one.look is not None:
                self.looks.setdefault(one.code, []).append((one.look, one.kind))

    def with_named(self, named: Iterable[Seen]) -> Suggested:
        """And by what is named by now and not taken over yet."""
        more = Suggested({code: list(looks) for code, looks in self.looks.items()})
        more.learn(named)
        return more


def unlikeness(one: Look, other: Look) -> float:
    """Of two looks, 0 where they are the same: of their sizes as ratios, of how bright they are as a ratio, and of the
    shares of red, green and blue, whatever the light."""
    import math

    def ratio(a: float, b: float) -> float:
        return abs(math.log(max(a, 0.1) / max(b, 0.1)))

    sizes = sum(ratio(a, b) for a, b in zip(one.size_mm, other.size_mm)) / 2
    bright, other_bright = sum(one.colour) + 12, sum(other.colour) + 12
    shares = sum(abs(a / bright - b / other_bright) for a, b in zip(one.colour, other.colour))
    return sizes / 2 + ratio(bright, other_bright) / 2 + 3 * shares


class Looking(Struct, frozen=True, kw_only=True):
    """Two views, what was found between their photographs, and how places of the one lie on the other."""

    before: View
    after: View
    found: Difference
    scale: float  # pixels that were looked at for one of the photograph before
    carry: Callable[[float, float], Spot]  # of whole photographs
    looked: tuple[Mark, ...] | None = None  # marks of the one before when they were compared; None: as they are

    @property
    def looked_at(self) -> tuple[Mark, ...]:
        return self.before.marks if self.looked is None else self.looked


def proposals(teardown: Teardown, looking: Looking, state: DeviceState, suggested: Suggested) -> tuple[Seen, ...]:
    """What may be taken over now, the surest first."""
    from oddbolt.imaging.differing.difference import CAME_OFF, HEAD
    from oddbolt.imaging.differing.difference import MOVED as ELSEWHERE
    from oddbolt.imaging.differing.difference import SMALL as LITTLE

    before, found = looking.before, looking.found
    marks = [mark for mark in before.marks if mark.thing in teardown.part or mark.thing in teardown.joint]
    later = [mark for mark in looking.after.marks if not state.is_in_place(mark.thing)]  # recorded on the one after
    regions = [_Region.of(region, looking) for region in found.regions]
    small = [region for region in regions if region.says == LITTLE]
    made, lifts = _came_off(teardown, looking, [region for region in regions if region.says == CAME_OFF], state,
                            suggested, marks, later)
    made += _screws(teardown, looking, lifts, state)
    made += _joints(teardown, marks, found.changed_at, lifts, state, looking)
    for region in small:
        if _is_known(region.before, marks, looking) or _is_known(region.after(looking), later, looking):
            continue
        made.append(_of(SMALL, region.before, looking, kind=suggested.kind_of(SMALL, region.look), look=region.look))
    made += _heads([region for region in regions if region.says == HEAD], [outline for _, outline in lifts],
                   marks, later, teardown, suggested, looking)
    made += [_of(MOVED, region.before, looking, look=region.look, is_sure=False)
             for region in regions if region.says == ELSEWHERE]
    return tuple(sorted(made, key=lambda one: (one.wants_kind, not one.is_sure, ORDER.index(one.code))))


_Lifts = list[tuple[str, Outline]]  # parts that came off, by their outlines on before; without a name where not known


def _came_off(teardown: Teardown, looking: Looking, off: Sequence[_Region], state: DeviceState, suggested: Suggested,
              marks: Sequence[Mark], later: Sequence[Mark]) -> tuple[list[Seen], _Lifts]:
    """Parts: by their outlines, by the marks that lie in a region, or not known yet; and what those that are off by the
    record had covered."""
    spent = {mark.thing for mark in marks if not state.is_in_place(mark.thing)}
    made: list[Seen] = []
    lifts: _Lifts = []
    drawn: list[Outline] = []
    for part in looking.found.lifted:
        mark = next((m for m in marks if m.thing == part), None)
        if mark is not None and state.is_in_place(part):
            edge = seen_edge(mark.outline, [region.before for region in off])
            made.append(replace(_of(OFF, edge or mark.outline, looking, thing=part), is_drawn=not edge))
            lifts.append((part, edge or mark.outline))
            drawn.append(mark.outline)
    for region in off:
        if any(_is_mostly(region.before, outline) for outline in (*drawn, *(edge for _, edge in lifts))):
            continue
        inside = [m for m in marks if m.thing in teardown.part and contains(widened(region.before, EDGE), (m.x, m.y))]
        gone = [m for m in inside if m.thing in spent]
        if gone:  # the record knows; what it had covered can be seen now
            made += _uncovered(teardown, gone, region.before, region.after(looking))
            continue
        there_now = region.after(looking)
        gone = [m for m in later if m.thing in teardown.part and contains(widened(there_now, EDGE), (m.x, m.y))]
        if gone:
            made += _uncovered(teardown, gone, region.before, there_now)
            continue
        there = _outermost(teardown, [m.thing for m in inside if not is_next(teardown.part[m.thing])])
        if there:
            made.append(_of(OFF, region.before, looking, thing=there))
        else:
            look = region.look
            made.append(_of(NEW_OFF, region.before, looking, kind=suggested.kind_of(NEW_OFF, look), look=look))
        lifts.append((there, region.before))
    return made, lifts


def seen_edge(outline: Outline, regions: Sequence[Outline]) -> Outline:
    """The region that a part with an outline left: it is finer than what a person drew. Empty where none is that."""
    from oddbolt.imaging.differing.outlines import overlap

    shared, edge = max(((overlap(outline, region), region) for region in regions), default=(0.0, ()))
    return edge if shared >= SAME_PLACE else ()


ORDER = (OUT, OFF, OPENED, HEADS, NEW_OFF, SMALL, UNCOVERED, MOVED)


class _Region(Struct, frozen=True):
    says: str
    before: Outline  # whole pixels
    look: Look
    radius: float

    @classmethod
    def of(cls, region: Region, looking: Looking) -> _Region:
        scale = looking.scale
        mm = (looking.before.mm_per_px or UNKNOWN_MM_PER_PX) / scale
        wide, high = (region.box[2] - region.box[0]) * mm, (region.box[3] - region.box[1]) * mm
        return cls(region.says, tuple((x / scale, y / scale) for x, y in region.outline),
                   Look(size_mm=(max(wide, high), min(wide, high)), colour=region.colour), region.radius_px / scale)

    def after(self, looking: Looking) -> Outline:
        return tuple(looking.carry(x, y) for x, y in self.before)

    @property
    def middle(self) -> Spot:
        xs, ys = [x for x, _ in self.before], [y for _, y in self.before]
        return (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2


def _of(code: str, outline: Outline, looking: Looking, *, thing: str = "", kind: str = "", look: Look | None = None,
        is_sure: bool = True) -> Seen:
    return Seen(code=code, thing=thing, before=outline, after=tuple(looking.carry(x, y) for x, y in outline), kind=kind,
                look=look, is_sure=is_sure)


def _is_mostly(outline: Outline, within: Outline) -> bool:
    return sum(contains(widened(within, EDGE), spot) for spot in outline) > len(outline) / 2


def _outermost(teardown: Teardown, parts: Sequence[str]) -> str:
    """Of parts that lie on one another the one that carries the others; of several that do not, none."""
    carried = {part for part in parts if teardown.part[part].on in parts}
    left = list(dict.fromkeys(part for part in parts if part not in carried))
    return left[0] if len(left) == 1 else ""


def _has_footprint(teardown: Teardown, part: str) -> bool:
    """Whether there is one, or none is wanted."""
    return not covers_others(teardown, part) or any(
        part in footprint.whose for view in teardown.views for footprint in view.footprints)


def _uncovered(teardown: Teardown, marks: Sequence[Mark], before: Outline, after: Outline) -> list[Seen]:
    """What the parts that had lain there had covered: one alone, or several together, of which nobody can tell which
    had covered what (footprints that were shared out among them made more depths wrong than none,
    docs/methods/difference.md). Nothing, where it is known of one of several already: the rest is not known."""
    gone = list(dict.fromkeys(mark.thing for mark in marks))
    whose = [part for part in gone if covers_others(teardown, part)]
    if not whose or (len(whose) == 1 < len(gone)) or any(_has_footprint(teardown, part) for part in whose):
        return []
    return [Seen(code=UNCOVERED, thing=whose[0], others=tuple(whose[1:]), before=before, after=after)]


def _screws(teardown: Teardown, looking: Looking, lifts: Sequence[tuple[str, Outline]], state: DeviceState) -> \
        list[Seen]:
    """A line a group: those that went. A part that came off implies what held it."""
    from oddbolt.imaging.differing.difference import GONE, PRESENT, UNSURE

    before, groups = looking.before, dict[str, list[tuple[int, str]]]()
    for verdict in looking.found.screws:
        place = found_again(looking.looked_at[int(verdict.screw.joint)], before.marks)
        mark = before.marks[place] if place is not None else None
        if place is None or mark is None or mark.thing not in teardown.joint or not state.is_in_place(mark.thing):
            continue
        says = verdict.says
        if says == UNSURE and any(contains(widened(outline, EDGE), (mark.x, mark.y)) for _, outline in lifts):
            says = GONE
        groups.setdefault(mark.thing, []).append((place, says))
    made = []
    for joint, told in groups.items():
        gone = [place for place, says in told if says == GONE]
        left = [place for place, says in told if says == PRESENT]
        unsure = [place for place, says in told if says == UNSURE]
        if not gone:
            continue
        some = bool(left) and len(gone) < (teardown.joint[joint].count or len(told))
        spots = tuple((before.marks[place].x, before.marks[place].y) for place in (gone if some else gone + unsure))
        made.append(Seen(code=OUT, thing=joint, places=tuple(gone) if some else (), spots=spots,
                         is_sure=len(gone) > len(unsure)))
    return made


def _joints(teardown: Teardown, marks: Sequence[Mark], changed: Sequence[str], lifts: Sequence[tuple[str, Outline]],
            state: DeviceState, looking: Looking) -> list[Seen]:
    """Other joints on record where something changed, and those of a part on record that came off."""
    gone = {part for part, _ in lifts if part}
    found: dict[str, Mark] = {}
    for mark in marks:
        joint = teardown.joint.get(mark.thing)
        if joint is None or joint.kind == "screw" or not state.is_in_place(joint.id):
            continue
        under = any(contains(outline, (mark.x, mark.y)) for _, outline in lifts)
        if joint.of[0] in gone or joint.id in changed and (not under or joint.kind in ("connector", "film")):
            found.setdefault(joint.id, mark)
    made = []
    for id_, mark in found.items():
        r = PLACE_MM / (looking.before.mm_per_px or UNKNOWN_MM_PER_PX)
        box = ((mark.x - r, mark.y - r), (mark.x + r, mark.y - r), (mark.x + r, mark.y + r), (mark.x - r, mark.y + r))
        made.append(_of(OPENED, mark.outline or box, looking, thing=id_))
    return made


def _is_known(outline: Outline, marks: Sequence[Mark], looking: Looking) -> bool:
    """Whether a small change is where something is marked: it is said by that, or went already by the record."""
    reach = PLACE_MM / (looking.before.mm_per_px or UNKNOWN_MM_PER_PX)
    xs, ys = [x for x, _ in outline], [y for _, y in outline]
    x, y = (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2
    wider = widened(outline, 0.15)
    return any(contains(wider, (mark.x, mark.y)) or (mark.x - x) ** 2 + (mark.y - y) ** 2 < reach ** 2
               for mark in marks)


def _heads(heads: Sequence[_Region], lifts: Sequence[Outline], marks: Sequence[Mark], later: Sequence[Mark],
           teardown: Teardown, suggested: Suggested, looking: Looking) -> list[Seen]:
    """Unmarked heads that went, as groups: those of one size about one part that came off, or about none."""
    groups: dict[tuple[int, str], list[_Region]] = {}
    for head in heads:
        if any((m.x - x) ** 2 + (m.y - y) ** 2 < (1.5 * head.radius) ** 2 for some, (x, y) in (
                (marks, head.middle), (later, looking.carry(*head.middle))) for m in some):
            continue
        near = next((n for n, outline in enumerate(lifts) if contains(widened(outline, 0.1), head.middle)), -1)
        letter = suggested.kind_of(HEADS, head.look) if HEADS in suggested.looks else _letter_of(teardown, head.look)
        groups.setdefault((near, letter), []).append(head)
    made = []
    for (_, letter), some in groups.items():
        spots = tuple(head.middle for head in some)
        xs, ys, r = [x for x, _ in spots], [y for _, y in spots], max(head.radius for head in some)
        box = ((min(xs) - r, min(ys) - r), (max(xs) + r, min(ys) - r), (max(xs) + r, max(ys) + r),
               (min(xs) - r, max(ys) + r))
        made.append(replace(_of(HEADS, box, looking, kind=letter, look=some[0].look), spots=spots))
    return made


def _letter_of(teardown: Teardown, look: Look) -> str:
    """The letter whose head is as large; the only letter; none where several fit."""
    known = {one.id: one.head_mm for one in teardown.fasteners if one.head_mm}
    fits = [id_ for id_, mm in known.items() if abs(mm - look.size_mm[0]) < 0.2 * mm]
    if len(teardown.fasteners) == 1:
        return teardown.fasteners[0].id
    return fits[0] if len(fits) == 1 else ""


def marks_carried(marks: Sequence[Mark], carry: Callable[[float, float], Spot], size: tuple[float, float]) -> \
        Mapping[int, Mark]:
    """Marks of the photograph before as they lie on the one after, of `size`, by their place; those beyond its edge
    are left out."""
    found = {}
    for n, mark in enumerate(marks):
        x, y = carry(mark.x, mark.y)
        outline = tuple((round(a, 1), round(b, 1)) for a, b in (carry(*spot) for spot in mark.outline))
        if 0 <= x <= size[0] and 0 <= y <= size[1] and all(a >= 0 and b >= 0 for a, b in outline):
            found[n] = replace(mark, x=round(x, 1), y=round(y, 1), outline=outline)
    return found
