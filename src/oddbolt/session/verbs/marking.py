"""Marks on a photograph: joints are met by marking them."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.catalog.tables import BondMethod, bond_methods, joint_kind
from oddbolt.knowledge.guesses import other_end
from oddbolt.knowledge.settling import settle
from oddbolt.model.label import Label
from oddbolt.model.places import Spot
from oddbolt.model.refusal import Refusal
from oddbolt.model.snapshot import succeed
from oddbolt.model.things import ASSUMED, Act, Joint, Mark, Part, Teardown, View, Way
from oddbolt.session.standing import next_part
from oddbolt.session.verbs.plain import Done, change_joint, change_view, free_id, joint_of, label_of, view_of

COUNTED = ("screw", "clip")  # each one of them has a mark and a number
CHARGE, CAPACITOR = "charge", "capacitor"  # a joint that is a stored charge, and the power source that it cuts


class Kind(Struct, frozen=True, kw_only=True):
    """What a click marks: a screw letter, or a kind of joint with its type."""

    letter: str = ""
    joint: str = "screw"
    type: str = ""
    tool: str = ""  # where it is not the usual one


def label_of_kind(kind: Kind, code: str = "mark-kind") -> Label:
    """The label of marking a new joint of a kind."""
    if kind.letter:
        return Label("mark-letter", {"letter": kind.letter})
    return Label(code, {"kind": kind.joint, **({"type": kind.type} if kind.type else {})})


# -- joints that are met

def new_joint(teardown: Teardown, kind: Kind, *, part: str = "", carrier: str = "", count: int = 1,
              side: str = "any") -> Done:
    """A joint that is met, by whatever gesture: tied and guessed, assumed. Ties `part`, or the next part, to `carrier`,
    or what is guessed. `made` is its id."""
    after, id_ = _met(teardown, kind, part, carrier, count, side)
    return Done(label_of_kind(kind), settle(after, (id_,)), id_)


def _met(teardown: Teardown, kind: Kind, part: str, carrier: str, count: int, side: str) -> tuple[Teardown, str]:
    if kind.letter and kind.letter not in teardown.fastener:
        raise Refusal(kind.letter, "no-such-letter")
    own = part or next_part(teardown) or free_id(teardown, "next-")
    id_ = free_id(teardown, f"{kind.letter.lower() if kind.letter else kind.joint}-")
    below = carrier or _below(teardown, own, kind.joint)
    if own in (teardown.device.base, below):
        raise Refusal(own, "ties-itself")
    joint = Joint(id=id_, kind=kind.joint, type="" if kind.joint == "adhesive" else kind.type, of=(own, below),
                  fastener=kind.letter or None, count=max(1, count) if kind.joint in COUNTED else 1,
                  side=side, basis=ASSUMED, ways=ways_of_kind(kind))
    parts = teardown.parts if own in teardown.part else (
        *teardown.parts, Part(id=own, basis=ASSUMED, on=None if below == teardown.device.base else carrier or None))
    return makes_safe(replace(teardown, parts=parts, joints=(*teardown.joints, joint)), id_), id_


def _below(teardown: Teardown, part: str, kind: str) -> str:
    if kind == "connector":
        found = other_end(teardown, part)
        return found if found != part else teardown.device.base
    record = teardown.part.get(part)
    return (record.on if record else None) or teardown.device.base


def ways_of_kind(kind: Kind) -> tuple[Way, ...]:
    """The ways of a joint as marked; none where the catalogue's is meant."""
    if kind.joint == "adhesive":
        way = way_by(bond_methods()[kind.type or "pry"])
        if kind.tool and way.inline:
            way = replace(way, acts=(replace(way.acts[0], tool=kind.tool),))
        return (way,)
    if kind.tool:
        return (Way(acts=(Act(tool=kind.tool),), reuse=joint_kind(kind.joint).reuse),)
    return ()


def way_by(method: BondMethod) -> Way:
    """A way of parting a bond as the catalogue has it."""
    acts = tuple(Act(**act) for act in method.acts)
    return Way(acts=acts, inline=len(acts) == 1, reuse=method.reuse, hazards=method.hazards)


def makes_safe(before: Teardown, joint_id: str) -> Teardown:
    """The plug of a cell isolates, and so does letting a stored charge off: common practice. What a person said of it
    stays."""
    joint = before.joint[joint_id]
    if joint.kind == CHARGE and joint.isolates is False and not joint.was_said("isolates"):
        return change_joint(before, joint_id, lambda j: replace(j, isolates=CAPACITOR))
    cell = any(before.part[p].kind == "battery" for p in joint.of if p in before.part)
    if joint.kind == "connector" and cell and joint.isolates is False and not joint.was_said("isolates"):
        return change_joint(before, joint_id, lambda j: replace(j, isolates=True))
    return before


# -- marks

def mark_new(teardown: Teardown, view_id: str, kind: Kind, spots: Sequence[Spot], *, part: str = "", carrier: str = "",
             outline: Sequence[Spot] = ()) -> Done:
    """A new joint of a kind with its marks; `made` is its id."""
    view = view_of(teardown, view_id)
    after, id_ = _met(teardown, kind, part, carrier, len(spots), view.side)
    marks = tuple(Mark(thing=id_, n=n if kind.joint in COUNTED else None, x=round(x, 1), y=round(y, 1),
                       outline=tuple(outline)) for n, (x, y) in enumerate(spots, start=1))
    after = succeed(change_view(after, view_id, lambda v: replace(v, marks=(*v.marks, *marks))), teardown)
    # What holds a part that is still on can hide nothing else yet, so that only its own access is to be guessed.
    held = after.joint[id_].of[0]
    late = any(entry.do == "remove" and entry.thing == held for entry in after.log)
    return Done(label_of_kind(kind), settle(after, (id_,), unmet=late), id_)


def mark_more(teardown: Teardown, view_id: str, joint_id: str, spots: Sequence[Spot]) -> Done:
    """Further marks of a joint, all at once; a group that is counted grows with them."""
    view, joint = view_of(teardown, view_id), joint_of(teardown, joint_id)
    have = sum(m.thing == joint_id for m in view.marks)
    added = tuple(Mark(thing=joint_id, n=have + n, x=round(x, 1), y=round(y, 1))
                  for n, (x, y) in enumerate(spots, start=1))
    after = change_view(teardown, view_id, lambda v: replace(v, marks=(*v.marks, *added)))
    if joint.kind in COUNTED and (joint.count or 0) < have + len(spots):
        after = change_joint(after, joint_id, lambda j: replace(j, count=have + len(spots)))
    if len(spots) == 1:
        return Done(label_of("mark", teardown, joint_id), after)
    return Done(label_of("mark-more", teardown, joint_id, count=len(spots)), after)


def view_with_mark(teardown: Teardown, view_id: str, place: int) -> View:
    """The view; refused where it has no such mark."""
    view = view_of(teardown, view_id)
    if not 0 <= place < len(view.marks):
        raise Refusal(view_id, "no-such-mark")
    return view


def unmark(teardown: Teardown, view_id: str, place: int) -> Done:
    """Take one mark off a view; the numbers of its fellows close up. The joint's count is left alone."""
    view = view_with_mark(teardown, view_id, place)
    thing = view.marks[place].thing
    kept, number = [], 0
    for n, mark in enumerate(view.marks):
        if n == place:
            continue
        if mark.thing == thing and mark.n is not None:
            number += 1
            mark = replace(mark, n=number)
        kept.append(mark)
    after = change_view(teardown, view_id, lambda v: replace(v, marks=tuple(kept)))
    return Done(label_of("unmark", teardown, thing), after)


def move_mark(teardown: Teardown, view_id: str, place: int, x: float, y: float) -> Done:
    view = view_with_mark(teardown, view_id, place)
    after = change_view(teardown, view_id, lambda v: replace(v, marks=tuple(
        replace(m, x=round(x, 1), y=round(y, 1)) if n == place else m for n, m in enumerate(v.marks))))
    return Done(label_of("move-mark", teardown, view.marks[place].thing), after)


def draw_round(teardown: Teardown, view_id: str, place: int, outline: Sequence[Spot]) -> Done:
    """A mark is of an area: that which was drawn, and its place the middle."""
    mark = view_with_mark(teardown, view_id, place).marks[place]
    x, y = (sum(v) / len(outline) for v in zip(*outline))
    after = change_view(teardown, view_id, lambda v: replace(v, marks=tuple(
        replace(m, x=round(x, 1), y=round(y, 1), outline=tuple(outline)) if n == place else m
        for n, m in enumerate(v.marks))))
    return Done(label_of("move-mark", teardown, mark.thing), settle(after, (mark.thing,)))


def carry_marks(teardown: Teardown, view_id: str, marks: Sequence[Mark]) -> Done:
    """Marks from another view, taken over as they are given."""
    view_of(teardown, view_id)
    after = change_view(teardown, view_id, lambda v: replace(v, marks=(*v.marks, *marks)))
    return Done(Label("carry-marks", {"count": len(marks)}), after)


def set_angle(teardown: Teardown, view_id: str, thing: str, angle_deg: float) -> Done:
    """The direction in which a connector opens, on all its marks of a view; clockwise from the photograph's right."""
    after = change_view(teardown, view_id, lambda v: replace(v, marks=tuple(
        replace(m, angle_deg=angle_deg) if m.thing == thing else m for m in v.marks)))
    return Done(label_of("angle", teardown, thing, angle_deg=angle_deg), after)
