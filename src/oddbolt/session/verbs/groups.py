"""Groups of screws set right later: split, joined, marks moved, numbered anew, without losing the log."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from oddbolt.knowledge.settling import settle
from oddbolt.model.naming import called
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Joint, LogEntry, Mark, Part, Refit, Teardown, View
from oddbolt.session.standing import released
from oddbolt.session.verbs.plain import (
    Done,
    change_instructions,
    change_joint,
    change_view,
    free_id,
    joint_of,
    label_of,
    log_entry,
    view_of,
)

SPLIT = "the group was split"  # text of the corrections; data, kept as it was


def split_group(teardown: Teardown, joint_id: str, view_id: str, places: Sequence[int], *,
                elsewhere: bool = True) -> Done:
    """Some marks of a group become a group of their own, on other photographs too unless whoever asks carries the marks
    there himself. A release on record is read as the release of both. `made` is the id of the new group."""
    joint, view = joint_of(teardown, joint_id), view_of(teardown, view_id)
    chosen = [n for n in places if n < len(view.marks) and view.marks[n].thing == joint_id]
    count = joint.count or sum(m.thing == joint_id for m in view.marks)
    if not chosen or len(chosen) >= count:
        raise Refusal(joint_id, "split-some")
    id_ = free_id(teardown, f"{joint_id}-")
    after = replace(teardown, joints=(*teardown.joints, replace(joint, id=id_, count=len(chosen), name="")))
    after = change_joint(after, joint_id, lambda j: replace(j, count=count - len(chosen)))
    # A number means the same screw on every photograph.
    numbers = {id_: sorted(n for n in {view.marks[k].n for k in chosen} if n is not None)}
    numbers[joint_id] = sorted({m.n for m in view.marks if m.thing == joint_id and m.n is not None} - {*numbers[id_]})

    def group_of(v: View, place: int, n: int | None) -> str:
        return id_ if (place in chosen if v.id == view_id else n in numbers[id_]) else joint_id

    def anew(v: View) -> View:
        return replace(v, marks=tuple(_numbered_in(m, group_of(v, place, m.n), numbers) if m.thing == joint_id else m
                                      for place, m in enumerate(v.marks)))

    after = replace(after, views=tuple(anew(v) if elsewhere or v.id == view_id else v for v in after.views))
    after = settle(_read_as(after, joint_id, (joint_id, id_)), (joint_id, id_))
    return Done(label_of("split", teardown, joint_id, count=len(chosen)), after, id_)


def split_from(joint_id: str) -> str:
    """The id of the group that a group with this id was split from; of no joint where it was not."""
    return joint_id.rpartition("-")[0]


def join_groups(teardown: Teardown, keep: str, other: str) -> Done:
    """Two groups of one letter become one. Entries that named the other name the one that is kept."""
    one, two = joint_of(teardown, keep), joint_of(teardown, other)
    if keep == other or (one.kind, one.fastener) != (two.kind, two.fastener):
        raise Refusal(other, "groups-differ")
    done = released(teardown)
    if (keep in done) != (other in done):
        raise Refusal(other, "half-released")
    count = None if one.count is None or two.count is None else one.count + two.count
    joints = tuple(replace(j, count=count) if j.id == keep else j for j in teardown.joints if j.id != other)
    views = tuple(_renumbered(replace(v, marks=tuple(replace(m, thing=keep) if m.thing == other else m
                                                     for m in v.marks))) for v in teardown.views)
    named = {entry.thing for entry in teardown.log if entry.do == "release"}
    log = tuple(_of_group(entry, keep, other, both=keep in named) for entry in teardown.log)
    after = replace(teardown, views=views, log=log, parts=tuple(_behind_of(p, keep, other) for p in teardown.parts),
                    joints=tuple(_behind_of(j, keep, other) for j in joints))
    after = change_instructions(after, lambda entry: replace(entry, thing=keep) if entry.thing == other else entry)
    return Done(label_of("join", teardown, keep, other=called(teardown, other)), settle(after, (keep,)))


def move_marks(teardown: Teardown, view_id: str, places: Sequence[int], joint_id: str) -> Done:
    """Marks go from one group to another of the same kind; the counts follow."""
    view, joint = view_of(teardown, view_id), joint_of(teardown, joint_id)
    chosen = [n for n in places if n < len(view.marks) and view.marks[n].thing in teardown.joint
              and view.marks[n].thing != joint_id]
    from_ = list(dict.fromkeys(view.marks[n].thing for n in chosen))
    if not chosen or any(teardown.joint[j].kind != joint.kind for j in from_):
        raise Refusal(joint_id, "choose-marks")
    taken = {id_: sum(view.marks[n].thing == id_ for n in chosen) for id_ in from_}
    for id_, number in taken.items():
        if (teardown.joint[id_].count or 0) <= number:
            raise Refusal(id_, "group-keeps-one")
    after = change_view(teardown, view_id, lambda v: _renumbered(replace(v, marks=tuple(
        replace(m, thing=joint_id) if n in chosen else m for n, m in enumerate(v.marks)))))
    for id_, number in taken.items():
        after = change_joint(after, id_, lambda j, k=number: replace(j, count=(j.count or k + 1) - k))
    after = change_joint(after, joint_id, lambda j: replace(j, count=(j.count or 0) + len(chosen)))
    return Done(label_of("move-marks", teardown, joint_id, count=len(chosen)), after)


def renumber(teardown: Teardown, view_id: str, joint_id: str, order: Sequence[int]) -> Done:
    """The order of undoing: `order` gives the places of the group's marks in the view, first first.

    A number means the same screw on every view, in the order of tightening and in the refit; they all follow.
    """
    view = view_of(teardown, view_id)
    own = [n for n, m in enumerate(view.marks) if m.thing == joint_id]
    if sorted(order) != own:
        raise Refusal(joint_id, "numbered-once")
    numbers = {view.marks[place].n: n for n, place in enumerate(order, start=1)}
    at = {place: n for n, place in enumerate(order, start=1)}

    def anew(v: View) -> View:
        return replace(v, marks=tuple(
            replace(m, n=at[k] if v.id == view_id else numbers.get(m.n, m.n)) if m.thing == joint_id else m
            for k, m in enumerate(v.marks)))

    after = change_joint(teardown, joint_id, lambda j: replace(j, order=tuple(numbers.get(n, n) for n in j.order)))
    after = replace(after, views=tuple(map(anew, after.views)))
    after = change_instructions(after, lambda entry: _passes_anew(entry, numbers) if entry.thing == joint_id else entry)
    return Done(label_of("renumber", teardown, joint_id), after)


def set_order(teardown: Teardown, joint_id: str, order: Sequence[int]) -> Done:
    """The order in which the screws of a group are tightened, by the numbers of their marks."""
    joint_of(teardown, joint_id)
    after = change_joint(teardown, joint_id, lambda j: replace(j, order=tuple(order)))
    return Done(label_of("order", teardown, joint_id), after)


def _passes_anew(refit: Refit, numbers: dict[int | None, int]) -> Refit:
    return replace(refit, places=tuple(numbers.get(n) or n for n in refit.places), passes=tuple(
        replace(one, order=tuple(numbers.get(n) or n for n in one.order)) for one in refit.passes))


def _numbered_in(mark: Mark, group: str, numbers: dict[str, list[int]]) -> Mark:
    """The mark as one of a group, whose screws had these numbers before."""
    own = numbers[group]
    return replace(mark, thing=group, n=own.index(mark.n) + 1 if mark.n in own else mark.n)


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
                              amends=entry.id, text=SPLIT)
    return after


def _of_group(entry: LogEntry, keep: str, other: str, *, both: bool) -> LogEntry:
    if other not in (entry.thing, *entry.things):
        return entry
    things = tuple(dict.fromkeys(keep if x == other else x for x in entry.things))
    # A group is released once: the second release of what is one group now was a part of the first.
    does = "loosen" if both and entry.do == "release" and entry.thing == other else entry.do
    return replace(entry, thing=keep if entry.thing == other else entry.thing, things=things, do=does)


def _behind_of(thing: Part | Joint, keep: str, other: str) -> Part | Joint:
    """A thing, or a way of it, that was behind the other group is behind the one that is kept."""
    if any(other in names for names in thing.behind):
        thing = replace(thing, behind=_kept_in(thing.behind, keep, other, thing.id))
    if isinstance(thing, Joint) and any(other in names for way in thing.ways for names in way.behind):
        thing = replace(thing, ways=tuple(replace(way, behind=_kept_in(way.behind, keep, other, thing.id))
                                          for way in thing.ways))
    return thing


def _kept_in(behind: tuple[tuple[str, ...], ...], keep: str, other: str, own: str) -> tuple[tuple[str, ...], ...]:
    named = (dict.fromkeys(keep if x == other else x for x in names) for names in behind)
    return tuple(tuple(x for x in names if x != own) for names in named)
