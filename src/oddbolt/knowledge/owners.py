"""Whose? Which of the joints that wait for a part belong to the one that has just come off, by where things lie.

Practitioners undo screws of several parts and plugs of several owners in a row, and lift in another order; what was
undone last says little about whose it was (docs/methods/access.md has the figures). A group goes to the part that it
surrounds, a plug to the nearest part that has cables; what nobody claims goes on waiting.
"""

from __future__ import annotations

import functools
from collections.abc import Mapping, Sequence

from msgspec import Struct

from oddbolt.catalog.tables import PartKind, bond_methods, covering_kinds, part_kinds
from oddbolt.knowledge.covering import Box, Places, places_of
from oddbolt.model.places import Spot
from oddbolt.model.snapshot import of_snapshot
from oddbolt.model.things import ASSUMED, Joint, LogEntry, Teardown
from oddbolt.rules.replay import readings

OF_CABLES = ("connector", "routing")  # held by parts that have cables, not by brackets and the like
# Shares of the diagonal over all marks, so that they hold for a watch and for a laptop. Common practice, no source.
AROUND = 0.05  # a part is pointed at no further outside of what holds it
ABOUT = 0.12  # a bond, a clip or one screw lies no further from the part that it holds
BULKY_ABOUT = 0.22  # the same of a board or a cell
LARGE_ABOUT = 0.40  # the same of a cover
PLUG_ABOUT = 0.22  # a plug from the middle of the part that it belongs to
LONG_ABOUT = 0.32  # the same of a cable, which has one at each end
MOST_OF_IT = 0.75  # of the marks of a group
FEW_PLUGS = 2  # so many that are left open belong to a display that comes off


class Lift(Struct, frozen=True, kw_only=True):
    """What comes off: its kind, and where on which side it was pointed at, in mm, where that is known."""

    kind: PartKind
    part: str = ""  # where it is on record
    spot: Spot | None = None
    side: str = ""
    was_swung: bool = False  # a cover that hung open


def claimed(teardown: Teardown, waiting: Sequence[str], recent: Sequence[str], lift: Lift) -> list[str]:
    """Of the joints that wait, in order of release, those that the part takes along; `recent` was released since the
    last lift, of whatever part, and is all that it takes where nothing is known of places."""
    places = places_of(teardown)
    fixings = [j for j in waiting if teardown.joint[j].kind not in OF_CABLES
               and (lift.kind.kind == "battery" or not waits_for_cell(teardown, j))]
    is_large = lift.kind.kind in covering_kinds().large
    if is_large and not _is_open(teardown):
        # Before the device is open there is nothing else to be held, but for what lies on its other side.
        found = {joint for joint in fixings if places.spots(joint, lift.side) or not places.spots(joint)}
    else:
        found = set(_fixings(places, {j: teardown.joint[j].kind for j in fixings}, fixings,
                              [j for j in fixings if j in recent], lift))
    slides = {joint for joint in found if teardown.joint[joint].kind == "slide"}
    if is_large and slides != found:  # what something else holds does not slide as well: that is a tray
        found -= slides
    if lift.kind.kind == "battery":
        found.update(j for j in fixings if waits_for_cell(teardown, j))
    over = lies_over(teardown)
    found = {joint for joint in found if over.get(joint, joint) in found or over[joint] not in waiting}
    if lift.kind.plugs:
        plugs = [j for j in waiting if teardown.joint[j].kind == "connector"]
        found.update(_plugs(teardown, places, plugs, recent, lift))
        found.update(_runs(teardown, waiting, found, lift))
    found.update(joint for joint in waiting if over.get(joint) in found)
    return [joint for joint in waiting if joint in found]


def waits_for_cell(teardown: Teardown, joint_id: str) -> bool:
    """Whether a bond is parted as those of cells are, and the cell is still on."""
    joint = teardown.joint[joint_id]
    if joint.kind != "adhesive" or not is_bond_of_cell(joint):
        return False
    off = {entry.thing for entry in readings(teardown) if entry.do == "remove"}
    return all(part.kind != "battery" or part.id not in off for part in teardown.parts)


def is_bond_of_cell(joint: Joint) -> bool:
    """Whether it is parted as, for the most part, only bonds of cells are."""
    first = joint.ways[0].acts[0] if joint.ways else None
    return first is not None and any(
        row.of_cells and row.acts[0].get("does") == first.does and row.acts[0].get("tool") == first.tool
        for row in bond_methods().values())


@of_snapshot("log", "joints")
def lies_over(teardown: Teardown) -> dict[str, str]:
    """Film -> the joint that was undone next, before anything came off: a film is peeled for what is under it."""
    found: dict[str, str] = {}
    film = ""
    for entry in readings(teardown):
        joint = teardown.joint.get(entry.thing or "") if entry.do == "release" else None
        if joint is None:
            film = film if entry.do not in ("remove", "release") else ""
        elif joint.kind == "film":
            film = joint.id
        elif film:
            found[film], film = joint.id, ""
    return found


def _is_open(teardown: Teardown) -> bool:
    """Whether a cover has come off, or hangs open."""
    done = readings(teardown)
    return _opened_at(teardown, done) < len(done)


def _fixings(places: Places, kinds: Mapping[str, str], waiting: Sequence[str], recent: Sequence[str],
             lift: Lift) -> list[str]:
    if lift.was_swung:
        return []  # its own were undone before it swung
    if lift.spot is None:
        return list(recent)
    # A cover that is held round its edge is not held by a bond in its middle as well: that is what lies beneath.
    edged = any(len(places.spots(joint, lift.side)) > 1 and holds(places, joint, lift) for joint in waiting)
    found = [joint for joint in waiting if holds(places, joint, lift, wide=not edged)]
    # A small part that screws surround is not held by those beside it as well.
    around = [joint for joint in found if surrounds(places, joint, lift)]
    if around and lift.kind.kind not in covering_kinds().large | covering_kinds().bulky:
        found = [joint for joint in found if joint in around or kinds.get(joint) != "screw"]
    return [joint for joint in waiting if joint in found or joint in recent and not places.spots(joint)]


def surrounds(places: Places, joint: str, lift: Lift) -> bool:
    """Whether what was lifted here lies within what is undone there."""
    spots = places.spots(joint, lift.side)
    return len(spots) > 1 and lift.spot is not None and _within(
        lift.spot, _around(spots, AROUND * places.diagonal(lift.side)))


def holds(places: Places, joint: str, lift: Lift, *, wide: bool = True) -> bool:
    """Whether what is undone there may have held what was lifted here; without `wide` a single place counts only where
    it is near."""
    spots = places.spots(joint, lift.side)
    if not spots or lift.spot is None:
        return False
    size, kinds = places.diagonal(lift.side), covering_kinds()
    if surrounds(places, joint, lift):
        return True
    if not wide and len(spots) == 1:
        about = ABOUT
    else:
        about = LARGE_ABOUT if lift.kind.kind in kinds.large else \
            BULKY_ABOUT if lift.kind.kind in kinds.bulky else ABOUT
    return _distance(lift.spot, spots) <= about * size


def _plugs(teardown: Teardown, places: Places, waiting: Sequence[str], recent: Sequence[str], lift: Lift) -> list[str]:
    if lift.was_swung:
        return [joint for joint in waiting if joint in recent][-1:]
    just = [joint for joint in waiting if joint in recent]
    opened = sum(teardown.joint[joint].kind == "connector" for joint in recent if joint in teardown.joint)
    if len(just) == opened == 1:  # unplugged and lifted: whoever works part by part
        return just
    if lift.kind.kind in covering_kinds().large:
        return just if len(just) == FEW_PLUGS else list(waiting) if len(waiting) <= FEW_PLUGS else []
    if lift.spot is None:
        return just[:1]
    size = places.diagonal(lift.side)
    near = sorted((_distance(lift.spot, spots), joint) for joint in waiting
                  if (spots := places.spots(joint, lift.side)))
    if lift.kind.kind == "battery" and waiting:  # its plug is the first of its layer: power off before all else
        return list(waiting[:1])
    long = lift.kind.kind in ("cable", "antenna")  # one plug at each end
    reach = (LONG_ABOUT if long else PLUG_ABOUT) * size
    own = [joint for distance, joint in near if distance <= reach]
    if len(just) == FEW_PLUGS and set(own) & set(just):  # two plugs and then the part: both are its own
        return [joint for joint in own if joint in just]
    return own[:1 + long]


def perhaps_of(teardown: Teardown, lift: Lift) -> list[str]:
    """Groups of screws that went to parts lifted before and may be of this one, the nearest first: screws of several
    parts are undone in a row, and the first that comes off takes what is near. Where they lie does not decide it
    (taking them over by rule made more wrong than right), so it is asked."""
    if lift.spot is None:
        return []
    places = places_of(teardown)
    gone = {entry.thing for entry in readings(teardown) if entry.do == "remove" and entry.thing != lift.part}
    found = [joint.id for joint in teardown.joints
             if joint.kind == "screw" and joint.basis == ASSUMED and not joint.was_said("of") and joint.of[0] in gone
             and lift.part not in joint.of and holds(places, joint.id, lift)]
    return sorted(found, key=lambda joint: _distance(lift.spot, places.spots(joint, lift.side)))


def within_drawn(teardown: Teardown, part: str) -> list[str]:
    """Screws that were undone before a part came off and lie within what it had covered, as it was drawn, but went to
    one that has less claim to them: a part that waits to be known, one that had covered another place or more, one of
    a kind that screws do not hold. What a person said stays, and so does what was undone before the device was open."""
    done = readings(teardown)
    off = next((n for n, entry in enumerate(done) if entry.do == "remove" and entry.thing == part), 0)
    places, opened = places_of(teardown), _opened_at(teardown, done)
    before = {entry.thing for entry in done[opened:off] if entry.do == "release"}
    return [joint.id for joint in teardown.joints
            if joint.kind == "screw" and joint.id in before and joint.basis == ASSUMED and not joint.was_said("of")
            and part not in joint.of and (places.share_under(part, joint.id) or 0.0) >= MOST_OF_IT
            and _has_less_claim(teardown, places, joint.of[0], part, joint.id)]


def _opened_at(teardown: Teardown, done: Sequence[LogEntry]) -> int:
    """Where in the log the device was open: until then there is nothing but what holds the first cover."""
    for n, entry in enumerate(done):
        thing = teardown.part.get(entry.thing or "") if entry.do == "remove" else teardown.joint.get(entry.thing or "")
        if thing is not None and (thing.kind == "swing" or thing.kind in covering_kinds().large):
            return n
    return len(done)


def _has_less_claim(teardown: Teardown, places: Places, holder: str, part: str, joint: str) -> bool:
    kinds, record = covering_kinds(), teardown.part[holder]
    if kinds.large & {record.kind, teardown.part[part].kind}:  # its outline takes in what is of others
        return False
    if not record.kind and not record.name:
        return True
    there = places.share_under(holder, joint)
    if there is not None:
        return there < MOST_OF_IT or places.covered_mm2(part) < places.covered_mm2(holder)
    return record.kind not in _screwed()


@functools.cache
def _screwed() -> frozenset[str]:
    """Kinds of part that as a rule screws hold."""
    return frozenset(row.kind for row in part_kinds().values() if row.screwed) | covering_kinds().small


def far_ends(teardown: Teardown, lift: Lift) -> list[str]:
    """Plugs that were taken to lead to the main board and probably lead to the small board that came off here."""
    if lift.spot is None:
        return []
    places = places_of(teardown)
    spots = {joint.id: found[0] for joint in teardown.joints
             if joint.kind == "connector" and (found := places.spots(joint.id, lift.side))}
    if len(spots) < FEW_PLUGS:
        return []
    middle = sum(x for x, _ in spots.values()) / len(spots), sum(y for _, y in spots.values()) / len(spots)
    size = places.diagonal(lift.side)
    found = []
    for joint_id, spot in spots.items():
        joint, near = teardown.joint[joint_id], _distance(lift.spot, [spot])
        if len(joint.of) > 1 and "main" in joint.of[1] and joint.basis == ASSUMED and lift.part not in joint.of \
                and near <= PLUG_ABOUT * size and near < _distance(middle, [spot]):
            found.append(joint_id)
    return found


def _runs(teardown: Teardown, waiting: Sequence[str], found: set[str], lift: Lift) -> list[str]:
    """A run of its cable is drawn out next to one of its plugs."""
    done = [entry.thing for entry in readings(teardown) if entry.do == "release" and entry.thing in teardown.joint
            and teardown.joint[entry.thing].kind in OF_CABLES]
    own = {joint for joint in done if joint in found or lift.part and teardown.joint[joint].of[0] == lift.part}
    return [joint for joint in waiting if teardown.joint[joint].kind == "routing" and joint in done
            and own.intersection(done[max(0, done.index(joint) - 1):done.index(joint) + 2])]


def _around(spots: Sequence[Spot], margin: float) -> Box:
    xs, ys = [x for x, _ in spots], [y for _, y in spots]
    return min(xs) - margin, min(ys) - margin, max(xs) + margin, max(ys) + margin


def _within(spot: Spot, box: Box) -> bool:
    return box[0] <= spot[0] <= box[2] and box[1] <= spot[1] <= box[3]


def _distance(spot: Spot, spots: Sequence[Spot]) -> float:
    return min(((spot[0] - x) ** 2 + (spot[1] - y) ** 2) ** 0.5 for x, y in spots)
