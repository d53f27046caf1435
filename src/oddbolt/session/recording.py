"""Recording: what one gesture on the bench makes of the record. One click or one key for the usual case.

The part that comes off next need not be known while its screws are marked: joints are tied to a *next part*, a part
without kind and name, until something is lifted. Then what was released since the last lift belongs to it. What a joint
ties and what hides it are first guesses, marked as assumed; the guesses are in knowledge.guesses.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from oddbolt.catalog.defaults import ways_of
from oddbolt.catalog.tables import BondMethod, PartKind, bond_methods, joint_kind, part_kind
from oddbolt.knowledge.guesses import Guesses, other_end, settle
from oddbolt.model.places import Spot
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Act, Joint, LogEntry, Mark, Part, Refit, Teardown, View, Way
from oddbolt.rules.replay import OUTCOMES_THAT_RELEASE, readings
from oddbolt.session.commands import Command, change_joint, change_view, current_pass, free_id, log_entry
from oddbolt.words.wording import name_of

ASSUMED = "assumed"
OF_CABLES = ("connector", "routing")  # held by parts that have cables, not by brackets and the like
COUNTED = ("screw", "clip")  # each one of them has a mark and a number
CLOSE_MM = 25.0  # a part that is lifted lies no further from what held it: common practice, no source


@dataclass(frozen=True, slots=True, kw_only=True)
class Kind:
    """What a click marks: a screw letter, or a kind of joint with its type."""

    letter: str = ""
    joint: str = "screw"
    type: str = ""
    tool: str = ""  # where it is not the usual one


# -- what there is

def is_next(part: Part) -> bool:
    """Whether it is a part that has not been lifted and named yet."""
    return not part.kind and not part.name and part.basis == ASSUMED


def next_part(teardown: Teardown) -> str:
    """The next part that joints are tied to now; empty where there is none."""
    return next((part.id for part in reversed(teardown.parts) if is_next(part)), "")


def _this_pass(teardown: Teardown) -> list[LogEntry]:
    number = current_pass(teardown)
    return [entry for entry in readings(teardown) if entry.pass_ == number]


def lifted(teardown: Teardown) -> set[str]:
    return {entry.thing for entry in _this_pass(teardown) if entry.do == "remove" and entry.thing}


def released(teardown: Teardown) -> set[str]:
    return {entry.thing for entry in _this_pass(teardown)
            if entry.do == "release" and entry.thing and entry.outcome in OUTCOMES_THAT_RELEASE}


def since_last_lift(teardown: Teardown) -> list[str]:
    """Joints released since something was lifted or swung open, in order."""
    found: list[str] = []
    for entry in _this_pass(teardown):
        joint = teardown.joint.get(entry.thing or "")
        if entry.do == "remove" or (entry.do == "release" and joint is not None and joint.kind == "swing"):
            found.clear()
        elif entry.do == "release" and joint is not None and entry.outcome in OUTCOMES_THAT_RELEASE:
            found.append(joint.id)
    return list(dict.fromkeys(found))


def waiting(teardown: Teardown, hand: str = "") -> list[str]:
    """Joints of the next part that the next lift takes along: released since the last one, in hand, or open plugs."""
    own = next_part(teardown)
    ready = {*since_last_lift(teardown), hand}
    opened = released(teardown)  # a plug may be opened long before what it belongs to comes off
    return [joint.id for joint in teardown.joints if own and own in joint.of
            and (joint.id in ready or joint.kind in OF_CABLES and joint.id in opened)]


def _taken_along(teardown: Teardown, hand: str, kind: PartKind) -> list[str]:
    """Joints of the next part that a part of this kind takes along: plugs and runs only where it has cables."""
    return [j for j in waiting(teardown, hand) if kind.plugs or teardown.joint[j].kind not in OF_CABLES]


# -- marking

def mark_new(teardown: Teardown, view_id: str, kind: Kind, spots: Sequence[Spot], *, part: str = "", carrier: str = "",
             outline: Sequence[Spot] = ()) -> tuple[Command, str]:
    """A new joint of a kind with its marks. Ties `part`, or the next part, to `carrier`, or what is guessed.

    Returns the command and the id of the joint.
    """
    view = next(v for v in teardown.views if v.id == view_id)
    own = part or next_part(teardown) or free_id(teardown, "next-")
    stem = kind.letter.lower() if kind.letter else kind.joint
    id_ = free_id(teardown, f"{stem}-")
    below = carrier or _below(teardown, own, kind.joint)
    if own in (teardown.device.base, below):
        raise Refusal(own, "a joint ties a part to something else", "Choose the part that comes off")
    joint = Joint(id=id_, kind=kind.joint, type="" if kind.joint == "adhesive" else kind.type, of=(own, below),
                  fastener=kind.letter or None, count=max(1, len(spots)) if kind.joint in COUNTED else 1,
                  side=view.side, basis=ASSUMED, ways=_ways(kind))
    marks = tuple(Mark(thing=id_, n=n if kind.joint in COUNTED else None, x=round(x, 1), y=round(y, 1),
                       outline=tuple(outline)) for n, (x, y) in enumerate(spots, start=1))

    def change(before: Teardown) -> Teardown:
        parts = before.parts if own in before.part else (
            *before.parts, Part(id=own, basis=ASSUMED, on=None if below == before.device.base else carrier or None))
        after = replace(before, parts=parts, joints=(*before.joints, joint))
        return settle(change_view(after, view_id, lambda v: replace(v, marks=(*v.marks, *marks))), (id_,))

    what = f"a group of {kind.letter}" if kind.letter else kind.type or kind.joint
    return Command(label=f"mark {what}", change=change), id_


def _below(teardown: Teardown, part: str, kind: str) -> str:
    if kind == "connector":
        found = other_end(teardown, part)
        return found if found != part else teardown.device.base
    record = teardown.part.get(part)
    return (record.on if record else None) or teardown.device.base


def _ways(kind: Kind) -> tuple[Way, ...]:
    """The ways of a joint as marked; none where the catalogue's is meant."""
    if kind.joint == "adhesive":
        way = _way_by(bond_methods()[kind.type or "pry"])
        if kind.tool and way.inline:
            way = replace(way, acts=(replace(way.acts[0], tool=kind.tool),))
        return (way,)
    if kind.tool:
        return (Way(acts=(Act(tool=kind.tool),), reuse=joint_kind(kind.joint).reuse),)
    return ()


def _way_by(method: BondMethod) -> Way:
    acts = tuple(Act(**act) for act in method.acts)
    return Way(acts=acts, inline=len(acts) == 1, reuse=method.reuse, hazards=method.hazards)


def mark_more(teardown: Teardown, view_id: str, joint_id: str, spots: Sequence[Spot]) -> Command:
    """Further marks of a joint, all at once; a screw group grows with them."""

    def change(before: Teardown) -> Teardown:
        view = next(v for v in before.views if v.id == view_id)
        have = sum(m.thing == joint_id for m in view.marks)
        added = tuple(Mark(thing=joint_id, n=have + n, x=round(x, 1), y=round(y, 1))
                      for n, (x, y) in enumerate(spots, start=1))
        after = change_view(before, view_id, lambda v: replace(v, marks=(*v.marks, *added)))
        joint = before.joint[joint_id]
        if joint.kind in COUNTED and (joint.count or 0) < have + len(spots):
            after = change_joint(after, joint_id, lambda j: replace(j, count=have + len(spots)))
        return after

    number = f"{len(spots)} " if len(spots) > 1 else ""
    return Command(label=f"mark {number}{name_of(teardown, joint_id)}", change=change)


# -- releasing and lifting

def release_entries(before: Teardown, joints: Iterable[str], t: float, outcome: str = "ok") -> Teardown:
    after = before
    for id_ in joints:
        tool = ways_of(after, after.joint[id_])[0].acts[-1].tool
        after = log_entry(after, do="release", thing=id_, way=0, t=t, tool=tool, outcome=outcome)
    return after


def then_release(command: Command, joint_id: str, t: float, label: str) -> Command:
    """Marked and released in one gesture."""
    return Command(label=label, change=lambda before: release_entries(command.change(before), [joint_id], t))


def lift_as(teardown: Teardown, kind_id: str, t: float, *, view_id: str = "", spot: Spot | None = None, hand: str = "",
            carrier: str = "") -> tuple[Command, str]:
    """Lift a part of a kind: the one already on record where one is meant, else the next part, which gets its name.

    What was released since the last lift belongs to it; a group in hand that is not released yet is released first.
    Returns the command and the id of the part.
    """
    kind = part_kind(kind_id)
    known = _meant(teardown, kind, hand, view_id, _middle(teardown, view_id, waiting(teardown, hand)) or spot)
    own, id_ = next_part(teardown), known
    joints = _taken_along(teardown, hand, kind)
    left = own and [j.id for j in teardown.joints if own in j.of and j.id not in joints]
    if not id_:
        id_ = own if own and not left else free_id(teardown, f"{kind.id.replace(' ', '-')}-")
    implied = [j for j in joints if j not in released(teardown)]

    def change(before: Teardown) -> Teardown:
        after = _named(before, id_, kind, joints, own, carrier, view_id)
        after = _marked(after, id_, joints, view_id, spot)
        after = release_entries(after, implied, t)
        if kind.kind == "board" and kind.unique:
            after = _lead_to(after, id_)
        return log_entry(after, do="remove", thing=id_, t=t)

    name = name_of(teardown, known) if known else kind.name
    return Command(label=f"lift {name}", change=change), id_


def swing_open(teardown: Teardown, t: float, *, view_id: str = "", spot: Spot | None = None, hand: str = "") -> \
        tuple[Command, str]:
    """The next part is a cover that opens but stays tied; what is behind it is behind the swing."""
    kind = part_kind("cover")
    own = next_part(teardown)
    known = hand if hand in teardown.part and hand != teardown.device.base else ""
    joints = [] if known else waiting(teardown, hand)
    left = own and [j.id for j in teardown.joints if own in j.of and j.id not in joints]
    id_ = known or (own if own and not left else free_id(teardown, "cover-"))
    swing = free_id(teardown, "swing-")
    implied = [j for j in joints if j not in released(teardown)]

    def change(before: Teardown) -> Teardown:
        after = _named(before, id_, kind, joints, own, "", view_id)
        after = release_entries(_marked(after, id_, joints, view_id, spot), implied, t)
        joint = Joint(id=swing, kind="swing", of=(id_, before.device.base), side=after.part[id_].side, basis=ASSUMED)
        after = replace(after, joints=(*after.joints, joint))
        return settle(log_entry(after, do="release", thing=swing, way=0, t=t), (swing,))

    return Command(label=f"swing open {name_of(teardown, known) if known else kind.name}", change=change), id_


def lift_known(teardown: Teardown, part_id: str, t: float, hand: str = "") -> Command:
    """Lift a part on record; what was released since the last lift and belongs to none belongs to it."""
    if part_id == teardown.device.base:
        raise Refusal(part_id, "the base stays on the mat")
    kind = part_kind(teardown.part[part_id].kind or "part")
    joints = _taken_along(teardown, hand, kind)
    implied = [j for j in joints if j not in released(teardown)]

    def change(before: Teardown) -> Teardown:
        after = _tied_to(before, joints, next_part(before), part_id)
        return log_entry(release_entries(after, implied, t), do="remove", thing=part_id, t=t)

    return Command(label=f"lift {name_of(teardown, part_id)}", change=change)


def swing_instead(teardown: Teardown, part_id: str, t: float) -> Command:
    """A cover that was lifted while its plug was still in: it was swung open. The log keeps what it said, corrected."""
    entry = next((e for e in reversed(readings(teardown)) if e.do == "remove" and e.thing == part_id), None)
    if entry is None:
        raise Refusal(part_id, "it was not lifted")
    swing = free_id(teardown, "swing-")

    def change(before: Teardown) -> Teardown:
        joint = Joint(id=swing, kind="swing", of=(part_id, before.device.base), side=before.part[part_id].side,
                      basis=ASSUMED)
        after = replace(before, joints=(*before.joints, joint))
        return log_entry(after, do="release", thing=swing, way=0, t=t, amends=entry.id)

    return Command(label=f"{name_of(teardown, part_id)} was swung open, not lifted", change=change)


def meant_by(teardown: Teardown, kind_id: str, hand: str, view_id: str = "", spot: Spot | None = None) -> str:
    """The part on record that lifting a kind means now; empty where it means a part that is not on record."""
    return _meant(teardown, part_kind(kind_id), hand, view_id, spot)


def _meant(teardown: Teardown, kind: PartKind, hand: str, view_id: str, spot: Spot | None) -> str:
    """A part on record that a lift of this kind means: the one in hand, the only one of its kind, a swung cover, one
    marked close to where one works."""
    gone = lifted(teardown)
    if hand in teardown.part and hand not in gone and hand != teardown.device.base and not is_next(teardown.part[hand]):
        return hand
    still = [p for p in teardown.parts if p.id not in gone and p.id != teardown.device.base and p.kind == kind.kind]
    if kind.unique:
        named = [p for p in still if kind.kind == kind.id or p.name == kind.name]
        return named[0].id if named else ""
    swung = {joint.of[0] for joint in teardown.joints if joint.kind == "swing"} & {p.id for p in still}
    if len(swung) == 1:
        return next(iter(swung))
    place = spot or _middle(teardown, view_id, waiting(teardown, hand))
    return _close_by(teardown, {p.id for p in still}, view_id, place)


def _close_by(teardown: Teardown, parts: set[str], view_id: str, spot: Spot | None) -> str:
    """The part whose mark on the view is nearest to a place, if it is near: a tenth of the photograph's marks' span."""
    view = next((v for v in teardown.views if v.id == view_id), None)
    if view is None or spot is None or not parts:
        return ""
    reach = CLOSE_MM / (view.mm_per_px or 0.1)
    near = [(((m.x - spot[0]) ** 2 + (m.y - spot[1]) ** 2) ** 0.5, m.thing) for m in view.marks if m.thing in parts]
    return min(near)[1] if near and min(near)[0] <= reach else ""


def _middle(teardown: Teardown, view_id: str, joints: Sequence[str]) -> Spot | None:
    """The middle of the marks of joints that are no plugs; None where there are none."""
    view = next((v for v in teardown.views if v.id == view_id), None)
    places = [(m.x, m.y) for m in view.marks if m.thing in joints
              and teardown.joint[m.thing].kind != "connector"] if view else []
    if not places:
        return None
    return sum(x for x, _ in places) / len(places), sum(y for _, y in places) / len(places)


def _named(before: Teardown, id_: str, kind: PartKind, joints: Sequence[str], own: str, carrier: str, view_id: str) -> \
        Teardown:
    """The next part under its own name, or a new part that takes over the joints."""
    view = next((v for v in before.views if v.id == view_id), None)
    after = before
    if id_ in after.part and after.part[id_].side == "any" and view is not None:
        after = replace(after, parts=tuple(replace(p, side=view.side) if p.id == id_ else p for p in after.parts))
    if id_ not in after.part or is_next(after.part[id_]):
        record = after.part.get(id_) or Part(id=id_, basis=ASSUMED)
        role = _free_role(after, kind)
        record = replace(record, kind=kind.kind, name=_free_name(after, kind.name), hazards=kind.hazards, role=role,
                         side=view.side if view else "any", on=carrier or record.on or _on(after, joints))
        parts = tuple(record if p.id == id_ else p for p in after.parts)
        after = replace(after, parts=parts if id_ in after.part else (*parts, record))
    after = _tied_to(after, joints, own, id_)
    for joint in joints:
        after = _makes_safe(after, joint)
    return after


def _tied_to(before: Teardown, joints: Sequence[str], old: str, new: str) -> Teardown:
    """Joints that tied the next part tie this one; a next part that nothing ties any more goes."""
    if not old or old == new:
        return before
    after = before
    for id_ in joints:
        of = tuple(dict.fromkeys(new if p == old else p for p in after.joint[id_].of))
        if len(of) > 1:
            after = _makes_safe(change_joint(after, id_, lambda j, of=of: replace(j, of=of)), id_)
    return _without_untied(after, old)


def _without_untied(before: Teardown, part: str) -> Teardown:
    """A next part that nothing ties any more goes."""
    if part in before.part and is_next(before.part[part]) and not any(part in j.of for j in before.joints):
        return replace(before, parts=tuple(p for p in before.parts if p.id != part))
    return before


def _makes_safe(before: Teardown, joint_id: str) -> Teardown:
    """The plug of a cell isolates: common practice. Said otherwise in hand, it stays otherwise."""
    joint = before.joint[joint_id]
    cell = any(before.part[p].kind == "battery" for p in joint.of if p in before.part)
    if joint.kind == "connector" and cell and joint.isolates is False and "isolates" not in joint.given:
        return change_joint(before, joint_id, lambda j: replace(j, isolates=True))
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


def _free_name(teardown: Teardown, name: str) -> str:
    taken = {part.name for part in teardown.parts}
    n, free = 1, name
    while free in taken:
        n += 1
        free = f"{name} {n}"
    return free


def _free_role(teardown: Teardown, kind: PartKind) -> tuple[str, ...]:
    taken = {role for part in teardown.parts for role in part.role}
    return next(((role,) for role in kind.roles if role not in taken), kind.roles[:1] if len(kind.roles) == 1
                and kind.roles[0] == "speaker" else ())


def _marked(before: Teardown, id_: str, joints: Sequence[str], view_id: str, spot: Spot | None) -> Teardown:
    """A mark for a part where its joints are, else at the spot, unless it has one on the view."""
    view = next((v for v in before.views if v.id == view_id), None)
    if view is None or any(m.thing == id_ for m in view.marks):
        return before
    spot = _middle(before, view_id, joints) or spot
    if spot is None:
        return before
    mark = Mark(thing=id_, x=round(spot[0], 1), y=round(spot[1], 1))
    return change_view(before, view_id, lambda v: replace(v, marks=(*v.marks, mark)))


# -- ends

def tie(teardown: Teardown, joint_id: str, end: int, part_id: str) -> Command:
    """Change an end of a joint, as by dragging it to a part. What a person says is no longer assumed."""
    joint = teardown.joint[joint_id]
    if part_id in joint.of:
        raise Refusal(joint_id, f"it ties {name_of(teardown, part_id)} already")
    of = tuple(part_id if n == end else p for n, p in enumerate(joint.of))
    old = joint.of[end]

    def change(before: Teardown) -> Teardown:
        after = _makes_safe(change_joint(before, joint_id, lambda j: replace(j, of=of)), joint_id)
        return settle(_without_untied(after, old), (joint_id,))

    return Command(label=f"tie {name_of(teardown, joint_id)} to {name_of(teardown, part_id)}", change=change)


def tie_to_new(teardown: Teardown, joint_id: str, kind_id: str, view_id: str, spot: Spot, end: int = 0) -> \
        tuple[Command, str]:
    """Tie an end of a joint, the near one unless said, to a part that is met by this, of a kind, at a place."""
    seen, id_ = make_part(teardown, kind_id, view_id, spot)

    def change(before: Teardown) -> Teardown:
        after = seen.change(before)
        return tie(after, joint_id, end, id_).change(after)

    return Command(label=f"tie {name_of(teardown, joint_id)} to {part_kind(kind_id).name}", change=change), id_


def make_part(teardown: Teardown, kind_id: str, view_id: str, spot: Spot, *, carrier: str = "",
              outline: Sequence[Spot] = ()) -> tuple[Command, str]:
    """A part that is seen, not lifted: of a kind, at a place, perhaps with its outline."""
    kind = part_kind(kind_id)
    id_ = free_id(teardown, f"{kind.id.replace(' ', '-')}-")
    side = next(v.side for v in teardown.views if v.id == view_id)
    part = Part(id=id_, kind=kind.kind, name=_free_name(teardown, kind.name), hazards=kind.hazards, basis=ASSUMED,
                role=_free_role(teardown, kind), side=side, on=carrier or None)
    mark = Mark(thing=id_, x=round(spot[0], 1), y=round(spot[1], 1), outline=tuple(outline))
    return Command(label=f"mark {part.name}", change=lambda before: change_view(
        replace(before, parts=(*before.parts, part)), view_id, lambda v: replace(v, marks=(*v.marks, mark)))), id_


# -- groups

def split_group(teardown: Teardown, joint_id: str, view_id: str, places: Sequence[int]) -> tuple[Command, str]:
    """Some marks of a group become a group of their own. A release on record is read as the release of both."""
    joint, view = teardown.joint[joint_id], next(v for v in teardown.views if v.id == view_id)
    chosen = [n for n in places if view.marks[n].thing == joint_id]
    count = joint.count or sum(m.thing == joint_id for m in view.marks)
    if not chosen or len(chosen) >= count:
        raise Refusal(joint_id, "a group is split by choosing some of its marks, not none and not all")
    id_ = free_id(teardown, f"{joint_id}-")
    other = replace(joint, id=id_, count=len(chosen), name="")

    def change(before: Teardown) -> Teardown:
        after = replace(before, joints=(*before.joints, other))
        after = change_joint(after, joint_id, lambda j: replace(j, count=count - len(chosen)))
        after = change_view(after, view_id, lambda v: _renumbered(replace(v, marks=tuple(
            replace(m, thing=id_) if n in chosen else m for n, m in enumerate(v.marks)))))
        return settle(_read_as(after, joint_id, (joint_id, id_)), (joint_id, id_))

    return Command(label=f"split {len(chosen)} off {name_of(teardown, joint_id)}", change=change), id_


def join_groups(teardown: Teardown, keep: str, other: str) -> Command:
    """Two groups of one letter become one. Entries that named the other name the one that is kept."""
    one, two = teardown.joint[keep], teardown.joint[other]
    if keep == other or (one.kind, one.fastener) != (two.kind, two.fastener):
        raise Refusal(other, "only groups of one kind and letter can be joined")
    done = released(teardown)
    if (keep in done) != (other in done):
        raise Refusal(other, "one of the groups is released and the other is not", "Release both or neither, then join")

    def change(before: Teardown) -> Teardown:
        count = None if one.count is None or two.count is None else one.count + two.count
        joints = tuple(replace(j, count=count) if j.id == keep else j for j in before.joints if j.id != other)
        views = tuple(_renumbered(replace(v, marks=tuple(replace(m, thing=keep) if m.thing == other else m
                                                         for m in v.marks))) for v in before.views)
        named = {entry.thing for entry in before.log if entry.do == "release"}
        log = tuple(_of_group(entry, keep, other, both=keep in named) for entry in before.log)
        behind = {"parts": tuple(_behind_of(p, keep, other) for p in before.parts),
                  "joints": tuple(_behind_of(j, keep, other) for j in joints)}
        refit = tuple(replace(r, thing=keep) if r.thing == other else r for r in before.refit)
        return settle(replace(before, views=views, log=log, refit=refit, **behind), (keep,))

    return Command(label=f"join {name_of(teardown, other)} to {name_of(teardown, keep)}", change=change)


def move_marks(teardown: Teardown, view_id: str, places: Sequence[int], joint_id: str) -> Command:
    """Marks go from one group to another of the same kind; the counts follow."""
    view = next(v for v in teardown.views if v.id == view_id)
    chosen = [n for n in places if view.marks[n].thing in teardown.joint and view.marks[n].thing != joint_id]
    from_ = {view.marks[n].thing for n in chosen}
    if not chosen or any(teardown.joint[j].kind != teardown.joint[joint_id].kind for j in from_):
        raise Refusal(joint_id, "choose marks of another group of the same kind")
    for id_ in from_:
        if (teardown.joint[id_].count or 0) <= sum(view.marks[n].thing == id_ for n in chosen):
            raise Refusal(id_, "a group keeps at least one", "Join the groups instead")

    def change(before: Teardown) -> Teardown:
        after = change_view(before, view_id, lambda v: _renumbered(replace(v, marks=tuple(
            replace(m, thing=joint_id) if n in chosen else m for n, m in enumerate(v.marks)))))
        for id_ in from_:
            number = sum(view.marks[n].thing == id_ for n in chosen)
            after = change_joint(after, id_, lambda j, k=number: replace(j, count=(j.count or k + 1) - k))
        return change_joint(after, joint_id, lambda j: replace(j, count=(j.count or 0) + len(chosen)))

    return Command(label=f"move {len(chosen)} marks to {name_of(teardown, joint_id)}", change=change)


def renumber(teardown: Teardown, view_id: str, joint_id: str, order: Sequence[int]) -> Command:
    """The order of undoing: `order` gives the places of the group's marks in the view, first first.

    A number means the same screw on every view, in the order of tightening and in the refit; they all follow.
    """
    view = next(v for v in teardown.views if v.id == view_id)
    own = [n for n, m in enumerate(view.marks) if m.thing == joint_id]
    if sorted(order) != own:
        raise Refusal(joint_id, "each mark of the group is numbered once")
    numbers = {view.marks[place].n: n for n, place in enumerate(order, start=1)}
    at = {place: n for n, place in enumerate(order, start=1)}

    def anew(v: View) -> View:
        return replace(v, marks=tuple(
            replace(m, n=at[k] if v.id == view_id else numbers.get(m.n, m.n)) if m.thing == joint_id else m
            for k, m in enumerate(v.marks)))

    def change(before: Teardown) -> Teardown:
        after = change_joint(before, joint_id, lambda j: replace(j, order=tuple(numbers.get(n, n) for n in j.order)))
        refit = tuple(_passes_anew(r, numbers) if r.thing == joint_id else r for r in before.refit)
        return replace(after, views=tuple(map(anew, after.views)), refit=refit)

    return Command(label=f"number {name_of(teardown, joint_id)} anew", change=change)


def _passes_anew(refit: Refit, numbers: dict[int | None, int]) -> Refit:
    passes = refit.extra.get("passes")
    if not isinstance(passes, list):
        return refit
    anew = [{**one, "order": [numbers.get(n, n) for n in one["order"]]}
            if isinstance(one, dict) and isinstance(one.get("order"), list) else one for one in passes]
    return replace(refit, extra={**refit.extra, "passes": anew})


def _renumbered(view: View) -> View:
    """Marks of each thing numbered 1, 2, 3 in their order, where they have numbers."""
    numbers: dict[str, int] = {}
    marks = []
    for mark in view.marks:
        if mark.n is not None:
            numbers[mark.thing] = numbers.get(mark.thing, 0) + 1
            mark = replace(mark, n=numbers[mark.thing])
        marks.append(mark)
    return replace(view, marks=tuple(marks))


def _read_as(before: Teardown, thing: str, things: tuple[str, ...]) -> Teardown:
    """Entries that released one thing are corrected to have released these."""
    after = before
    amended = {entry.amends for entry in before.log}
    for entry in before.log:
        if entry.do in ("release", "fasten") and thing in (entry.thing, *entry.things) and entry.id not in amended:
            kept = tuple(dict.fromkeys(x for x in (entry.thing, *entry.things) if x))
            after = log_entry(after, do=entry.do, things=tuple(dict.fromkeys([*kept, *things])), way=entry.way,
                              act=entry.act, tool=entry.tool, seconds=entry.seconds, outcome=entry.outcome, t=entry.t,
                              amends=entry.id, text="the group was split")
    return after


def _of_group(entry: LogEntry, keep: str, other: str, *, both: bool) -> LogEntry:
    if other not in (entry.thing, *entry.things):
        return entry
    things = tuple(dict.fromkeys(keep if x == other else x for x in entry.things))
    # A group is released once: the second release of what is one group now was a part of the first.
    does = "loosen" if both and entry.do == "release" and entry.thing == other else entry.do
    return replace(entry, thing=keep if entry.thing == other else entry.thing, things=things, do=does)


def _behind_of(thing: Part | Joint, keep: str, other: str) -> Part | Joint:
    if not any(other in names for names in thing.behind):
        return thing
    behind = (dict.fromkeys(keep if x == other else x for x in names) for names in thing.behind)
    return replace(thing, behind=tuple(tuple(x for x in names if x != thing.id) for names in behind))


# -- what a person says of a joint

def add_way(teardown: Teardown, joint_id: str, method_id: str) -> Command:
    """Another way to part a bond, as it is known or was tried."""
    method = bond_methods()[method_id]
    way = _way_by(method)

    def change(before: Teardown) -> Teardown:
        ways = ways_of(before, before.joint[joint_id])
        return change_joint(before, joint_id, lambda j: replace(j, ways=(*ways, way)))

    return Command(label=f"another way for {name_of(teardown, joint_id)}: {method.name}", change=change)


def set_isolates(teardown: Teardown, joint_id: str, isolates: bool) -> Command:
    """Whether releasing it makes the device safe."""
    return Command(label=f"{name_of(teardown, joint_id)} {'makes safe' if isolates else 'does not make safe'}",
                   change=lambda before: change_joint(before, joint_id, lambda j: replace(
                       j, isolates=isolates, given=j.given | {"isolates"})))


def set_behind(teardown: Teardown, thing_id: str, hiders: Sequence[str]) -> Command:
    """What a person says stands before a thing; it is no longer assumed."""
    behind = (tuple(hiders),) if hiders else ()

    def said(thing: Part | Joint) -> Part | Joint:
        return replace(thing, behind=behind, basis="seen") if thing.id == thing_id else thing

    return Command(label=f"what {name_of(teardown, thing_id)} is behind", change=lambda before: replace(
        before, parts=tuple(map(said, before.parts)), joints=tuple(map(said, before.joints))))


def may_be_behind(teardown: Teardown, thing_id: str) -> list[str]:
    """What could stand before a thing, by the record: cleared before it was met, or on record as standing there."""
    guesses = Guesses(teardown)
    found = list(guesses.record.of(thing_id).candidates)
    found += [x for names in teardown.thing(thing_id).behind for x in names]
    return list(dict.fromkeys(found))
