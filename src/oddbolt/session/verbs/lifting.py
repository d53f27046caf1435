"""Releasing, lifting and swinging: what one gesture on the bench makes of the record.

What was released since the last lift belongs to what is lifted. What a joint ties and what hides it are first guesses,
marked as assumed; the guesses are in `knowledge.guesses`.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from msgspec.structs import replace

from oddbolt.catalog.defaults import ways_of
from oddbolt.catalog.tables import PartKind, covering_kinds, part_kind, part_kinds
from oddbolt.knowledge.apart import about
from oddbolt.knowledge.covering import UNKNOWN_MM_PER_PX, places_of
from oddbolt.knowledge.owners import OF_CABLES, Lift, far_ends, holds
from oddbolt.knowledge.settling import settle
from oddbolt.model.naming import called
from oddbolt.model.places import Spot
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import ASSUMED, Fastener, Joint, Mark, Part, Teardown, Way
from oddbolt.rules.replay import readings
from oddbolt.session.standing import is_next, lifted, middle, next_part, released, taken_along, waiting
from oddbolt.session.verbs.groups import split_group
from oddbolt.session.verbs.letters import add_fastener
from oddbolt.session.verbs.marking import Kind, label_of_kind, makes_safe, mark_new, new_joint
from oddbolt.session.verbs.plain import (
    Done,
    change_joint,
    change_parts,
    change_view,
    free_id,
    is_carried_by,
    is_named,
    joint_of,
    label_of,
    log_entry,
)

REACH = 0.40  # of the diagonal: a part lies no further from its plug, or the group that holds it; the same
CLOSE = 0.15  # of the diagonal: a part that is lifted was marked no further away; common practice, no source


# -- releasing

def release(teardown: Teardown, joint_id: str, t: float, way: int = 0, outcome: str = "ok",
            seconds: float | None = None, wait_s: float | None = None, temp_c: float | None = None) -> Done:
    """Log that a joint was released, all acts of one way. Refused for what is released already.

    `wait_s` and `temp_c`, where they are told, become those of the way's waiting act.
    """
    joint = joint_of(teardown, joint_id)
    if joint_id in released(teardown):
        raise Refusal(joint_id, "off-already", called=called(teardown, joint_id))
    ways = ways_of(teardown, joint)
    if way >= len(ways):
        raise Refusal(joint_id, "needs-the-acts")
    after = teardown
    if wait_s is not None or temp_c is not None:
        told = tuple(_with_wait(one, wait_s, temp_c) if n == way else one for n, one in enumerate(ways))
        after = change_joint(teardown, joint_id, lambda j: replace(j, ways=told))
    after = log_entry(after, do="release", thing=joint_id, way=way, t=t, outcome=outcome, seconds=seconds,
                      tool=ways[way].acts[-1].tool)
    return Done(label_of("release", teardown, joint_id), after)


def _with_wait(way: Way, wait_s: float | None, temp_c: float | None) -> Way:
    """The way with the wait and the temperature of its waiting act as told; of the first act where none waits."""
    place = next((n for n, act in enumerate(way.acts) if act.wait_s), 0)
    act = way.acts[place]
    if wait_s is not None:
        act = replace(act, wait_s=wait_s)
    if temp_c is not None:
        kept = tuple(limit for limit in act.limits if not isinstance(limit, dict) or "temp_c" not in limit)
        act = replace(act, limits=(*kept, {"temp_c": [temp_c, temp_c]}))
    return replace(way, acts=(*way.acts[:place], act, *way.acts[place + 1:]))


def mark_and_release(teardown: Teardown, view_id: str, kind: Kind, spots: Sequence[Spot], t: float, *, part: str = "",
                     carrier: str = "", outline: Sequence[Spot] = ()) -> Done:
    """Marked and released in one gesture."""
    _, after, id_ = mark_new(teardown, view_id, kind, spots, part=part, carrier=carrier, outline=outline)
    return Done(label_of_kind(kind, "mark-and-release"), release(after, id_, t).teardown, id_)


def meet_and_release(teardown: Teardown, kind: Kind, t: float, *, part: str = "", count: int = 1,
                     letter: Fastener | None = None, owner: tuple[str, str] | None = None, **told: Any) -> Done:
    """A joint that is met and released without a mark, as when it is typed; `made` is its id. A `letter` that the tray
    does not know yet comes onto it; an `owner`, kind and name of a part not on record, comes onto the record."""
    known = teardown if letter is None else add_fastener(teardown, letter).teardown
    if owner is not None:
        known, part = met_part(known, *owner)
    _, after, id_ = new_joint(known, kind, part=part, count=count)
    after = release(after, id_, t, **told).teardown
    return Done(label_of("release", after, id_), after, id_)


def _released_too(before: Teardown, joints: Iterable[str], t: float) -> Teardown:
    after = before
    for id_ in joints:
        after = release(after, id_, t).teardown
    return after


# -- lifting

def lift(teardown: Teardown, part_id: str, t: float, hand: str = "") -> Done:
    """Lift a part on record; what was released since the last lift and belongs to none belongs to it, and a group in
    hand that is not released yet is released first. Refused for what is off already."""
    if part_id not in teardown.part:
        raise Refusal(part_id, "no-such-thing", id=part_id)
    _refuse_gone(teardown, part_id)
    teardown = _told_apart(teardown, hand, lift_of(teardown, part_id))
    joints = taken_along(teardown, hand, _lift_of(teardown, part_kind(teardown.part[part_id].kind or "part"), part_id))
    implied = [j for j in joints if j not in released(teardown)]
    after = _tied_to(teardown, joints, next_part(teardown), part_id)
    after = log_entry(_released_too(after, implied, t), do="remove", thing=part_id, t=t)
    return Done(label_of("lift", teardown, part_id), after, part_id)


def _refuse_gone(teardown: Teardown, part_id: str) -> None:
    if part_id == teardown.device.base:
        raise Refusal(part_id, "base-stays")
    if part_id in lifted(teardown):
        raise Refusal(part_id, "off-already", called=called(teardown, part_id))


def lift_as(teardown: Teardown, kind_id: str, t: float, *, view_id: str = "", spot: Spot | None = None, hand: str = "",
            carrier: str = "", name: str = "") -> Done:
    """Lift a part of a kind: the one already on record where one is meant, else the next part, which gets its name;
    `name`, where a person gave one, is its name in either case.

    What was released since the last lift belongs to it; a group in hand that is not released yet is released first.
    `made` is the id of the part.
    """
    kind = part_kind(kind_id)
    known = _meant(teardown, kind, hand, view_id, middle(teardown, view_id, waiting(teardown, hand)) or spot)
    if known:
        _refuse_gone(teardown, known)
    coming = _lift_of(teardown, kind, known, view_id, spot)
    teardown = _told_apart(teardown, hand, coming)
    joints = taken_along(teardown, hand, coming)
    id_ = known or _id_of_next(teardown, joints, kind)
    after = _named(teardown, id_, kind, joints, carrier, view_id)
    if name:
        after = change_parts(after, [id_], lambda p: replace(p, name=free_name(after, name, id_)))
    after = _marked(after, id_, joints, view_id, spot)
    after = _released_too(after, [j for j in joints if j not in released(teardown)], t)
    if kind.kind == "board" and kind.unique:
        after = _lead_to(after, id_)
    elif kind.kind in ("board", "port"):
        after = _led_here(after, id_, view_id, spot)
    after = log_entry(after, do="remove", thing=id_, t=t)
    return Done(label_of("lift", after, id_), after, id_)


def _told_apart(teardown: Teardown, hand: str, coming: Lift) -> Teardown:
    """Of groups of which only some screws lie round what comes off, the others are a group of their own, which goes on
    waiting."""
    for joint_id in waiting(teardown, hand):
        view_id, own = about(teardown, teardown.joint[joint_id], coming)
        if own:
            others = [n for n, mark in enumerate(teardown.view[view_id].marks)
                      if mark.thing == joint_id and n not in own]
            teardown = split_group(teardown, joint_id, view_id, others).teardown
    return teardown


def _id_of_next(teardown: Teardown, joints: Sequence[str], kind: PartKind) -> str:
    """The next part's own id, unless some of its joints stay behind and wait for another part."""
    own = next_part(teardown)
    stays = any(own in j.of and j.id not in joints for j in teardown.joints) if own else True
    return free_id(teardown, f"{kind.id.replace(' ', '-')}-") if stays else own


def _lift_of(teardown: Teardown, kind: PartKind, known: str, view_id: str = "", spot: Spot | None = None) -> Lift:
    """A lift with its place in mm: where it was pointed at, else where the part is marked."""
    view = teardown.view.get(view_id)
    was_swung = any(joint.kind == "swing" and joint.of[0] == known for joint in teardown.joints)
    if spot is not None and view is not None:
        scale = view.mm_per_px or UNKNOWN_MM_PER_PX
        return Lift(kind=kind, part=known, spot=(spot[0] * scale, spot[1] * scale), side=view.side, was_swung=was_swung)
    marked = places_of(teardown).spots(known) if known else ()
    return Lift(kind=kind, part=known, spot=marked[-1] if marked else None, was_swung=was_swung)


def lift_of(teardown: Teardown, part_id: str) -> Lift:
    """The lift of a part that is on record, where it is marked."""
    kind = teardown.part[part_id].kind
    known = kind if kind in part_kinds() else "part"
    side = next((view.side for view in reversed(teardown.views) if any(m.thing == part_id for m in view.marks)), "")
    return replace(_lift_of(teardown, part_kind(known), part_id), side=side)


def swing_open(teardown: Teardown, t: float, *, view_id: str = "", spot: Spot | None = None, hand: str = "") -> Done:
    """The next part, or the part in hand, is a cover that opens but stays tied; what is behind it is behind the swing.
    `made` is the id of the cover."""
    view = teardown.view.get(view_id)
    kind = part_kind("display" if view is not None and view.side == "front" else "cover")  # until it is lifted
    known = hand if hand in teardown.part and hand != teardown.device.base and not is_next(teardown.part[hand]) else ""
    if known and known == _came_off_last(teardown):
        known = hand = ""  # it is still chosen because it was lifted: what swings is another
    if known:
        _refuse_gone(teardown, known)
    joints = [] if known else taken_along(teardown, hand, _lift_of(teardown, kind, known, view_id, spot))
    id_ = known or _swings_further(teardown, kind, joints) or _id_of_next(teardown, joints, kind)
    swing = free_id(teardown, "swing-")
    after = _marked(_named(teardown, id_, kind, joints, "", view_id), id_, joints, view_id, spot)
    after = _released_too(after, [j for j in joints if j not in released(teardown)], t)
    after = _with_swing(after, swing, id_)
    after = settle(log_entry(after, do="release", thing=swing, way=0, t=t, tool=_tool_of(after, swing)), (swing,))
    return Done(label_of("swing", after, id_), after, id_)


def _came_off_last(teardown: Teardown) -> str:
    """The part that was lifted last, where nothing was done since."""
    done = readings(teardown)
    return (done[-1].thing or "") if done and done[-1].do == "remove" else ""


def _swings_further(teardown: Teardown, kind: PartKind, joints: Sequence[str]) -> str:
    """The cover that hangs open already, and now opens all the way: nothing but a clip or a plug was in between."""
    held = [j for j in joints if teardown.joint[j].kind not in (*OF_CABLES, "clip", "film", "slide")]
    return "" if held else hanging_as(teardown, kind)


def swing_instead(teardown: Teardown, part_id: str, t: float) -> Done:
    """A cover that was lifted while its plug was still in: it was swung open. The log keeps what it said, corrected."""
    entry = next((e for e in reversed(readings(teardown)) if e.do == "remove" and e.thing == part_id), None)
    if entry is None:
        raise Refusal(part_id, "not-lifted")
    swing = free_id(teardown, "swing-")
    after = log_entry(_with_swing(teardown, swing, part_id), do="release", thing=swing, way=0, t=t, amends=entry.id)
    return Done(label_of("swing-instead", teardown, part_id), after, swing)


def _with_swing(teardown: Teardown, swing: str, part_id: str) -> Teardown:
    joint = Joint(id=swing, kind="swing", of=(part_id, teardown.device.base), side=teardown.part[part_id].side,
                  basis=ASSUMED)
    return replace(teardown, joints=(*teardown.joints, joint))


def _tool_of(teardown: Teardown, joint_id: str) -> str:
    return ways_of(teardown, teardown.joint[joint_id])[0].acts[-1].tool


# -- which part is meant

def meant_by(teardown: Teardown, kind_id: str, hand: str, view_id: str = "", spot: Spot | None = None) -> str:
    """The part on record that lifting a kind means now; empty where it means a part that is not on record."""
    return _meant(teardown, part_kind(kind_id), hand, view_id, spot)


def _meant(teardown: Teardown, kind: PartKind, hand: str, view_id: str, spot: Spot | None) -> str:
    """A part on record that a lift of this kind means: the one in hand where it may be of this kind, the only one of
    its kind, a swung cover, one marked close to where one works."""
    gone = lifted(teardown)
    if hand in teardown.part and hand not in gone and hand != teardown.device.base \
            and not is_next(teardown.part[hand]) and _may_be(teardown, hand, kind):
        return hand
    still = [p for p in teardown.parts if p.id not in gone and p.id != teardown.device.base and p.kind == kind.kind]
    hanging = _hanging(teardown, kind, hand, view_id, spot)
    if hanging:
        return hanging
    if kind.unique:
        named = [p for p in still if kind.kind == kind.id or p.name == kind.name]
        return named[0].id if named else ""
    place = spot or middle(teardown, view_id, waiting(teardown, hand))
    plugged = _by_its_plug(teardown, [p.id for p in still], view_id, place, far=not kind.several)
    if plugged:
        return plugged
    return _close_by(teardown, {p.id for p in still}, view_id, place)


def _may_be(teardown: Teardown, part_id: str, kind: PartKind) -> bool:
    """Whether what is called a part of some kind may be meant by this one: a cover that was swung open is still chosen
    when the cell beneath it is lifted."""
    part = teardown.part[part_id]
    return kind.id == "part" or part.kind in ("", "part", kind.kind) or hanging_as(teardown, kind) == part_id


def _hanging(teardown: Teardown, kind: PartKind, hand: str, view_id: str, spot: Spot | None) -> str:
    """A cover that was swung open and is meant now. What was undone since it hangs, and surrounds the place, is of
    another part."""
    found = hanging_as(teardown, kind)
    if not found:
        return ""
    lift = _lift_of(teardown, kind, "", view_id, spot)
    places = places_of(teardown)
    others = [j for j in waiting(teardown, hand) if teardown.joint[j].kind not in OF_CABLES and holds(places, j, lift)]
    return "" if others else found


def hanging_as(teardown: Teardown, kind: PartKind) -> str:
    """The only cover that hangs open and may be of this kind: it was named a cover for want of a better word, and may
    be a display, a board, a keyboard."""
    if kind.kind not in covering_kinds().large | {"board"}:
        return ""
    gone, present = lifted(teardown), {part.kind for part in teardown.parts}
    swung = list(dict.fromkeys(joint.of[0] for joint in teardown.joints if joint.kind == "swing"
                               and joint.of[0] not in gone))
    fits = [one for one in swung if teardown.part[one].kind == kind.kind or (
        kind.kind != "display" and teardown.part[one].basis == ASSUMED and kind.kind not in present)]
    return fits[0] if len(fits) == 1 else ""


def turned_out(before: Teardown, part_id: str, kind: PartKind) -> Teardown:
    """A cover that hangs is of this kind: it gets its name, its role and its hazards."""
    if before.part[part_id].kind == kind.kind:
        return before
    name, role = free_name(before, kind.name, part_id), free_role(before, kind)
    return change_parts(before, [part_id], lambda p: replace(p, kind=kind.kind, name=name, role=role,
                                                             hazards=kind.hazards))


def _by_its_plug(teardown: Teardown, parts: Sequence[str], view_id: str, spot: Spot | None, *, far: bool) -> str:
    """A part that was named as the owner of a plug, or as held by a group, and is still on: the one nearest to that. Of
    a kind of which there are often several it must be near: a second thing is a second thing."""
    places, view = places_of(teardown), teardown.view.get(view_id)
    named = [(part, joint.id) for joint in teardown.joints for part in joint.of if part in parts and (
        part == joint.of[0] if joint.kind == "connector" else joint.was_said("of"))]
    if spot is None or view is None:
        return named[0][0] if len({part for part, _ in named}) == 1 else ""
    scale = view.mm_per_px or UNKNOWN_MM_PER_PX
    x, y = spot[0] * scale, spot[1] * scale
    near = [(min(((x - a) ** 2 + (y - b) ** 2) ** 0.5 for a, b in spots), part)
            for part, joint in named if (spots := places.spots(joint))]
    nearest, part = min(near, default=(0.0, ""))
    return part if far or nearest <= REACH * places.diagonal(view.side) else ""


def _close_by(teardown: Teardown, parts: set[str], view_id: str, spot: Spot | None) -> str:
    """The part whose mark on the view is nearest to a place, if it is near."""
    view = teardown.view.get(view_id)
    if view is None or spot is None or not parts:
        return ""
    reach = CLOSE * places_of(teardown).diagonal(view.side) / (view.mm_per_px or UNKNOWN_MM_PER_PX)
    near = [(((m.x - spot[0]) ** 2 + (m.y - spot[1]) ** 2) ** 0.5, m.thing) for m in view.marks if m.thing in parts]
    return min(near)[1] if near and min(near)[0] <= reach else ""


def met_part(teardown: Teardown, kind_id: str, name: str = "") -> tuple[Teardown, str]:
    """A part of a kind that is said, not seen: without a place. The teardown with it, and its id."""
    kind = part_kind(kind_id)
    id_ = free_id(teardown, f"{kind.id.replace(' ', '-')}-")
    part = Part(id=id_, kind=kind.kind, name=free_name(teardown, name or kind.name), hazards=kind.hazards,
                basis=ASSUMED, role=free_role(teardown, kind))
    return replace(teardown, parts=(*teardown.parts, part)), id_


# -- what a lifted part gets

def _named(before: Teardown, id_: str, kind: PartKind, joints: Sequence[str], carrier: str, view_id: str) -> Teardown:
    """The next part under its own name, or a new part that takes over the joints."""
    view, after, own = before.view.get(view_id), before, next_part(before)
    if id_ in after.part and after.part[id_].side == "any" and view is not None:
        after = change_parts(after, [id_], lambda p: replace(p, side=view.side))
    if any(joint.kind == "swing" and joint.of[0] == id_ for joint in after.joints):
        after = turned_out(after, id_, kind)
    if id_ not in after.part or is_next(after.part[id_]):
        record = after.part.get(id_) or Part(id=id_, basis=ASSUMED)
        record = replace(record, kind=kind.kind, name=free_name(after, kind.name), hazards=kind.hazards,
                         role=free_role(after, kind), side=view.side if view else "any",
                         on=carrier or record.on or _on(after, joints))
        after = change_parts(after, [id_], lambda _: record) if id_ in after.part \
            else replace(after, parts=(*after.parts, record))
    elif after.part[id_].on is None and after.part[id_].basis == ASSUMED:
        below = carrier or _on(after, joints)  # it was met by its plug; what came off before carried it
        if not is_carried_by(after, below, id_):
            after = change_parts(after, [id_], lambda p: replace(p, on=below))
    after = _tied_to(after, joints, own, id_)
    for joint in joints:
        after = makes_safe(after, joint)
    return after


def _tied_to(before: Teardown, joints: Sequence[str], old: str, new: str) -> Teardown:
    """Joints that tied the next part tie this one; a next part that nothing ties any more goes."""
    if not old or old == new:
        return before
    after = before
    for id_ in joints:
        of = tuple(dict.fromkeys(new if p == old else p for p in after.joint[id_].of))
        if len(of) > 1:
            after = makes_safe(change_joint(after, id_, lambda j, of=of: replace(j, of=of)), id_)
    return without_untied(after, old)


def without_untied(before: Teardown, part: str) -> Teardown:
    """A next part that nothing ties or names any more goes."""
    if part in before.part and is_next(before.part[part]) and not is_named(before, part):
        return replace(before, parts=tuple(p for p in before.parts if p.id != part))
    return before


def _on(teardown: Teardown, joints: Sequence[str]) -> str | None:
    """An already lifted part that it is tied to, else the base (None)."""
    gone = lifted(teardown)
    for id_ in joints:
        joint = teardown.joint[id_]
        if joint.kind != "connector":
            for other in joint.of[1:]:
                if other in gone:
                    return other
    return None


def _lead_to(before: Teardown, board: str) -> Teardown:
    """Plugs that were taken to lead to the base, for want of a board on record, lead to the main board."""
    base, after = before.device.base, before
    for joint in before.joints:
        if joint.kind == "connector" and joint.of[1:] == (base,) and joint.of[0] != board:
            after = change_joint(after, joint.id, lambda j: replace(j, of=(j.of[0], board)))
    return after


def _led_here(before: Teardown, board: str, view_id: str, spot: Spot | None) -> Teardown:
    """Plugs close to a small board that came off, and far from the others, lead to it and not to the main board."""
    lift = _lift_of(before, part_kind(before.part[board].kind), board, view_id, spot)
    for joint_id in far_ends(before, lift):
        joint = before.joint[joint_id]
        before = change_joint(before, joint_id, lambda j, joint=joint: replace(j, of=(joint.of[0], board)))
    return before


def free_name(teardown: Teardown, name: str, but: str = "") -> str:
    """The name, with a number where a part other than `but` has it."""
    taken = {part.name for part in teardown.parts if part.id != but}
    n, free = 1, name
    while free in taken:
        n += 1
        free = f"{name} {n}"
    return free


def free_role(teardown: Teardown, kind: PartKind) -> tuple[str, ...]:
    taken = {role for part in teardown.parts for role in part.role}
    return next(((role,) for role in kind.roles if role not in taken), kind.roles[:1] if len(kind.roles) == 1
                and kind.roles[0] == "speaker" else ())


def _marked(before: Teardown, id_: str, joints: Sequence[str], view_id: str, spot: Spot | None) -> Teardown:
    """A mark for a part where its joints are, else at the spot, unless it has one on the view."""
    view = before.view.get(view_id)
    if view is None or any(m.thing == id_ for m in view.marks):
        return before
    spot = middle(before, view_id, joints) or spot
    if spot is None:
        return before
    mark = Mark(thing=id_, x=round(spot[0], 1), y=round(spot[1], 1))
    return change_view(before, view_id, lambda v: replace(v, marks=(*v.marks, mark)))
