"""What is offered after an act: the few likely answers to what the record cannot know, each one key away.

Nothing of it is obligatory: whoever goes on without an answer has answered too.
"""

from __future__ import annotations

import functools
from collections.abc import Callable, Sequence

from msgspec import Struct

from oddbolt.catalog.tables import bond_methods, covering_kinds, mark_kinds, part_kinds, roles_of
from oddbolt.knowledge.covering import places_of
from oddbolt.knowledge.owners import holds, perhaps_of
from oddbolt.model.things import ASSUMED, Joint, Teardown
from oddbolt.rules.replay import readings
from oddbolt.session.standing import is_next, lifted, released
from oddbolt.session.verbs.correcting.forgotten import SCREW
from oddbolt.session.verbs.groups import split_from
from oddbolt.session.verbs.lifting import lift_of
from oddbolt.session.verbs.marking import way_by

# Which part a plug belongs to; how a bond was parted; what hangs; then of a part that came off, in this order: whether
# it was one of its kind that is on record and still on; whether the others of a group of which it took those round it
# were its own too; which groups that are marked and closed held it; whether a
# cover that hung had to come off at all; what held it, where nothing on record did; its role; whether the way to it is
# looked at now.
WHOSE, PARTED, SWUNG = "whose", "parted", "swung"
MEANT, SHARED, CLOSED, HANGING, HELD, ROLE, TELL = "meant", "shared", "closed", "hanging", "held", "role", "tell"
NO_ROLE = "none"
SWINGS_TOO = ("display", "main board")  # kinds that open like a cover: common practice, no source
MOST_GROUPS = 2  # of screws that may have been of another part
MOST = 4  # answers at a time: one for each of the keys F2 to F5
# What is forgotten most of what holds a cover, a plate, or a cell: common practice, no source.
LARGE_HELD_BY, SMALL_HELD_BY, CELL_HELD_BY = ("clip", "glue"), (SCREW, "clip", "glue"), ("glue", "tab", SCREW)
USUAL_OWNERS = ("battery", "display", "camera", "port")  # of plugs, the likeliest first: common practice, no source
ENOUGH, NEEDED = "enough", "needed"


class Offer(Struct, frozen=True, kw_only=True):
    """One answer that may be given. `choice` is a kind of part or joint, a joint on record, a way of parting a bond, a
    role, or yes and no by their codes."""

    code: str
    about: str
    choice: str
    asked: tuple[str, ...] = ()  # codes asked about it so far


def after_release(teardown: Teardown, joint_id: str) -> tuple[Offer, ...]:
    """Whose plug? Asked where nobody has said. How was this bond parted? The other ways, but for the one that the same
    key again makes of it."""
    joint = teardown.joint.get(joint_id)
    if joint is not None and joint.kind == "adhesive":
        return tuple(Offer(code=PARTED, about=joint_id, choice=way) for way in _other_ways(teardown, joint)[1:MOST + 1])
    if joint is None or joint.kind != "connector" or not is_next(teardown.part[joint.of[0]]):
        return ()
    gone = lifted(teardown)
    plugged = {teardown.part[one.of[0]].kind for one in teardown.joints
               if one.kind == "connector" and one.of[0] in teardown.part and one.of[0] not in gone}
    off = {teardown.part[id_].kind for id_ in gone if id_ in teardown.part}
    # The plug of the cell is the first of its layer; what has its plug already, or is off, is asked about last.
    kinds = sorted(USUAL_OWNERS, key=lambda kind: kind == "battery" and kind in plugged | off)
    return tuple(Offer(code=WHOSE, about=joint_id, choice=kind) for kind in kinds[:MOST])


def next_way(teardown: Teardown, joint_id: str) -> str:
    """The way of parting a bond that the same key again makes of it."""
    return _other_ways(teardown, teardown.joint[joint_id])[0]


def _other_ways(teardown: Teardown, joint: Joint) -> list[str]:
    """Of parting a bond that was met by being parted, those after the one on record, round the table; of a pull tab,
    or where several ways are known, none."""
    types = next(row.types for row in mark_kinds().values() if row.kind == joint.kind and len(row.types) > 1)
    verbs = [[act.does for act in way_by(bond_methods()[type_]).acts] for type_ in types]
    now = [act.does for act in joint.ways[0].acts] if len(joint.ways) == 1 else []
    parted = sum(entry.do == "release" and entry.thing == joint.id for entry in readings(teardown))
    if parted != 1 or joint.basis != ASSUMED or now not in verbs:
        return []
    place = verbs.index(now)
    return [*types[place + 1:], *types[:place]]


def after_swing(teardown: Teardown, part: str) -> tuple[Offer, ...]:
    """What hangs: a cover unless somebody says that it is something else; asked when it opens first."""
    swings = sum(joint.kind == "swing" and joint.of[0] == part for joint in teardown.joints)
    if teardown.part[part].kind != "cover" or teardown.part[part].basis != ASSUMED or swings > 1:
        return ()
    return tuple(Offer(code=SWUNG, about=part, choice=kind) for kind in ("cover", *SWINGS_TOO))


def after_lift(teardown: Teardown, part_id: str, asked: tuple[str, ...] = ()) -> tuple[Offer, ...]:
    """The first question about a part that came off that was not asked yet: whether groups that are marked and still
    closed held it; whether a cover that hung had to come off for what follows; what held a part that came off as if by
    itself; which of several roles it has; whether the way to it is looked at."""
    for code, choices_of in QUESTIONS.items():
        if code not in asked and (choices := choices_of(teardown, part_id)):
            return tuple(Offer(code=code, about=part_id, choice=choice, asked=(*asked, code))
                         for choice in choices[:MOST])
    return ()


def _on_record(teardown: Teardown, part_id: str) -> list[str]:
    """Parts of its kind that were met by their plugs and are still on, where this one was met only by being lifted."""
    part = teardown.part[part_id]
    plugged = [joint.of[0] for joint in teardown.joints if joint.kind == "connector"]
    if part_id in plugged or part.was_said("role"):
        return []
    off = lifted(teardown)
    return [one.id for one in teardown.parts if one.kind == part.kind and one.id in plugged and one.id not in off
            and one.id != part_id and one.basis == ASSUMED and not one.id.startswith("main-")]


def _shared(teardown: Teardown, part_id: str) -> list[str]:
    """What is left, and still waits for a part, of groups of which this part took the screws that lay round it."""
    opened, found = released(teardown), []
    for rest in teardown.joints:
        whole = teardown.joint.get(split_from(rest.id))
        if whole is not None and whole.kind == "screw" and whole.of[0] == part_id \
                and rest.fastener == whole.fastener and is_next(teardown.part[rest.of[0]]) \
                and (rest.id in opened) == (whole.id in opened):
            found.append(rest.id)
    return found


def _still_closed(teardown: Teardown, part_id: str) -> list[str]:
    """Groups that were marked where it lay and never undone."""
    lift, places, opened = lift_of(teardown, part_id), places_of(teardown), released(teardown)
    return [joint.id for joint in teardown.joints
            if joint.kind == "screw" and joint.id not in opened and joint.basis == ASSUMED
            and (joint.of[0] == part_id or is_next(teardown.part[joint.of[0]])) and holds(places, joint.id, lift)]


def _hung(teardown: Teardown, part_id: str) -> tuple[str, ...]:
    return (ENOUGH, NEEDED) if any(j.kind == "swing" and part_id in j.of for j in teardown.joints) else ()


def _may_have_held(teardown: Teardown, part_id: str) -> tuple[str, ...]:
    own = [joint.kind for joint in teardown.joints if part_id in joint.of]
    if any(kind not in ("connector", "routing", "film") for kind in own):
        return ()
    kinds, kind = covering_kinds(), teardown.part[part_id].kind
    holds = (*LARGE_HELD_BY, SCREW) if kind in kinds.large else SMALL_HELD_BY if kind in kinds.small else ()
    if not teardown.fasteners:
        holds = tuple(one for one in holds if one != SCREW)
    if kind in _screwed():  # screws that went to what came off before, rather than others
        groups = perhaps_of(teardown, lift_of(teardown, part_id))[:MOST_GROUPS]
        usual = CELL_HELD_BY if kind == "battery" else SMALL_HELD_BY
        holds = (*groups, *(one for one in holds or usual if one != SCREW or teardown.fasteners))
    return holds


def _roles(teardown: Teardown, part_id: str) -> tuple[str, ...]:
    """Where its kind has several roles and another part has one of them: which is which."""
    part = teardown.part[part_id]
    roles = roles_of(part.kind)
    if len(roles) < 2 or part.was_said("role"):
        return ()
    others = {role for other in teardown.parts if other.id != part_id for role in other.role}
    return (*roles, NO_ROLE) if others.intersection(roles) else ()


def _tells(teardown: Teardown, part_id: str) -> tuple[str, ...]:
    """A part that matters is off: the way to it is fresh in mind."""
    return (TELL,) if teardown.part[part_id].role else ()


QUESTIONS: dict[str, Callable[[Teardown, str], Sequence[str]]] = {
    MEANT: _on_record, SHARED: _shared, CLOSED: _still_closed, HANGING: _hung, HELD: _may_have_held, ROLE: _roles,
    TELL: _tells}


@functools.cache
def _screwed() -> frozenset[str]:
    return frozenset(row.kind for row in part_kinds().values() if row.screwed)
