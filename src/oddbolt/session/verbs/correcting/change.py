"""What was said of a thing, said otherwise: its kind, its letter, its name, its moment; and the device itself."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from msgspec.structs import replace

from oddbolt.knowledge.settling import settle
from oddbolt.model.label import Label
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Pass, Teardown
from oddbolt.rules.replay import in_order
from oddbolt.session.verbs.correcting.relog import fit_ways
from oddbolt.session.verbs.groups import join_groups, split_group
from oddbolt.session.verbs.marking import COUNTED, Kind, makes_safe, ways_of_kind
from oddbolt.session.verbs.plain import Done, change_joint, joint_of, label_of, view_of

OF_DEVICE = ("name", "model", "serial", "category", "variant", "notes")
OF_PASS = ("by", "place", "started")


def set_kind(teardown: Teardown, joint_id: str, kind: Kind, t: float) -> Done:
    """Another kind of joint than it was taken for: glue that is clips. Its ways are those of the kind."""
    joint = joint_of(teardown, joint_id)
    if kind.letter and kind.letter not in teardown.fastener:
        raise Refusal(kind.letter, "no-such-letter")
    marks = max((sum(m.thing == joint_id for m in view.marks) for view in teardown.views), default=0)
    count = max(1, marks) if kind.joint in COUNTED else 1
    made = replace(joint, kind=kind.joint, type="" if kind.joint == "adhesive" else kind.type,
                   fastener=kind.letter or None, count=count, ways=ways_of_kind(kind), order=(),
                   isolates=joint.isolates if joint.was_said("isolates") else False)
    after = makes_safe(change_joint(teardown, joint_id, lambda _: made), joint_id)
    counted = kind.joint in COUNTED
    views = tuple(replace(view, marks=_numbered(view.marks, joint_id, counted=counted)) for view in after.views)
    after = fit_ways(replace(after, views=views), joint_id, t)
    return Done(label_of("set-kind", teardown, joint_id, kind=kind.joint, **({"type": kind.type} if kind.type else {})),
                settle(after))


def _numbered(marks: Sequence, thing: str, *, counted: bool) -> tuple:
    number, found = 0, []
    for mark in marks:
        if mark.thing == thing:
            number += 1
            mark = replace(mark, n=number if counted else None)
        found.append(mark)
    return tuple(found)


def set_letter(teardown: Teardown, joint_id: str, letter: str) -> Done:
    """The screws of a group are of another letter."""
    joint = joint_of(teardown, joint_id)
    if joint.kind != "screw":
        raise Refusal(joint_id, "no-screws")
    if letter not in teardown.fastener:
        raise Refusal(letter, "no-such-letter")
    after = change_joint(teardown, joint_id, lambda j: replace(j, fastener=letter))
    return Done(label_of("set-letter", teardown, joint_id, letter=letter), after)


def marks_to_letter(teardown: Teardown, view_id: str, places: Sequence[int], letter: str) -> Done:
    """These marks of one group are of another letter: the whole group, or what is split off it. `made` is the group
    they are in."""
    view = view_of(teardown, view_id)
    things = {view.marks[n].thing for n in places if n < len(view.marks)}
    if len(things) != 1:
        raise Refusal(view_id, "choose-marks")
    joint_id = things.pop()
    joint = joint_of(teardown, joint_id)
    if len(set(places)) >= (joint.count or 1):
        done = set_letter(teardown, joint_id, letter)
        return Done(done.label, done.teardown, joint_id)
    _, after, made = split_group(teardown, joint_id, view_id, places)
    return Done(label_of("marks-to-letter", teardown, joint_id, count=len(set(places)), letter=letter),
                set_letter(after, made, letter).teardown, made)


def rename(teardown: Teardown, id_: str, name: str) -> Done:
    """Another name of a part, a joint or a tool, wherever it stands."""
    name = " ".join(name.split())
    if id_ in teardown.part or id_ in teardown.joint:
        label = label_of("rename", teardown, id_, name=name)
        return Done(label, replace(
            teardown, parts=tuple(replace(p, name=name) if p.id == id_ else p for p in teardown.parts),
            joints=tuple(replace(j, name=name) if j.id == id_ else j for j in teardown.joints)))
    if all(tool.id != id_ for tool in teardown.tools):
        raise Refusal(id_, "no-such-thing", id=id_)
    return Done(Label("rename-tool", {"tool": id_, "name": name}), replace(
        teardown, tools=tuple(replace(tool, name=name) if tool.id == id_ else tool for tool in teardown.tools)))


def describe_device(teardown: Teardown, **keys: str) -> Done:
    """What the device is called and which one it is."""
    for name in keys:
        if name not in OF_DEVICE:
            raise Refusal(name, "unknown-word", word=name, known=list(OF_DEVICE))
    after = replace(teardown, device=replace(teardown.device, **keys))
    return Done(Label("device", {"keys": sorted(keys)}), settle(after) if "variant" in keys else after)


def describe_pass(teardown: Teardown, number: int, **keys: str) -> Done:
    """By whom, where and when a pass was done."""
    for name in keys:
        if name not in OF_PASS:
            raise Refusal(name, "unknown-word", word=name, known=list(OF_PASS))
    there = any(one.pass_ == number for one in teardown.sessions)
    passes = teardown.sessions if there else (*teardown.sessions, Pass(pass_=number))
    return Done(Label("pass", {"number": number}), replace(teardown, sessions=tuple(
        replace(one, **keys) if one.pass_ == number else one for one in passes)))


def describe(teardown: Teardown, device: Mapping[str, str], number: int, of_pass: Mapping[str, str]) -> Done:
    """Device and pass in one act."""
    after = describe_device(teardown, **device).teardown if device else teardown
    after = describe_pass(after, number, **of_pass).teardown if of_pass else after
    return Done(Label("device", {"keys": sorted((*device, *of_pass))}), after)


def move_view(teardown: Teardown, view_id: str, at_entry: str | None) -> Done:
    """A photograph shows another moment: after this entry; None: before the first act."""
    view = view_of(teardown, view_id)
    order = {entry.id: n for n, entry in enumerate(in_order(teardown))}
    if at_entry is not None and at_entry not in order:
        raise Refusal(at_entry, "no-such-entry")
    moved = replace(view, at_entry=at_entry)

    def moment(entry: str | None) -> int:
        return -1 if entry is None else order.get(entry, -1)

    others = [v for v in teardown.views if v.id != view_id]
    place = sum(moment(v.at_entry) <= moment(at_entry) for v in others)
    ordered = all(moment(a.at_entry) <= moment(b.at_entry) for a, b in zip(others, others[1:]))
    place = place if ordered else teardown.views.index(view)
    after = replace(teardown, views=(*others[:place], moved, *others[place:]))
    return Done(Label("move-view", {"photo": view.photo}), settle(after))


def join_as(teardown: Teardown, keep: str, other: str, letter: str) -> Done:
    """Two groups of screws become one of the letter that is meant, which is that of either."""
    one, two = joint_of(teardown, keep), joint_of(teardown, other)
    if letter not in (one.fastener, two.fastener):
        raise Refusal(other, "groups-differ")
    for id_ in (keep, other):
        teardown = set_letter(teardown, id_, letter).teardown
    return join_groups(teardown, keep, other)
