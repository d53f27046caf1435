"""Taken out of the record, with what hangs on it. What that is can be asked beforehand; undo brings all of it back."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.knowledge.settling import settle
from oddbolt.model.label import Label
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Answer, ConfirmedWay, Footprint, Joint, LogEntry, Part, Refit, Teardown, View
from oddbolt.rules.replay import in_order
from oddbolt.session.verbs.marking import COUNTED, unmark, view_with_mark
from oddbolt.session.verbs.plain import Done, change_joint, label_of, view_of


class Hangs(Struct, frozen=True, kw_only=True):
    """What goes along when things are deleted. Ids, but for the numbers."""

    parts: tuple[str, ...]
    joints: tuple[str, ...]
    entries: tuple[str, ...]
    views: tuple[str, ...]  # portraits of what is deleted
    marks: int
    answers: int


def hangs_on(teardown: Teardown, ids: Iterable[str]) -> Hangs:
    """What is deleted with these parts and joints. Raises Refusal where one must stay."""
    gone = set(ids)
    for id_ in gone:
        if id_ == teardown.device.base:
            raise Refusal(id_, "base-stays")
        if id_ not in teardown.part and id_ not in teardown.joint:
            raise Refusal(id_, "no-such-thing", id=id_)
    gone |= {joint.id for joint in teardown.joints if len([p for p in joint.of if p not in gone]) < 2}
    entries = _entries_of(teardown, gone)
    return Hangs(parts=tuple(p.id for p in teardown.parts if p.id in gone),
                 joints=tuple(j.id for j in teardown.joints if j.id in gone), entries=entries,
                 views=tuple(v.id for v in teardown.views if v.portrait in gone),
                 marks=sum(m.thing in gone for v in teardown.views for m in v.marks),
                 answers=sum(a.part in gone for a in teardown.answers))


def _entries_of(teardown: Teardown, gone: set[str]) -> tuple[str, ...]:
    """Entries that are about nothing but what goes, with the corrections of them."""
    found: set[str] = set()
    for entry in teardown.log:
        things = [name for name in (entry.thing, *entry.things) if name]
        if (things and all(name in gone for name in things)) or entry.amends in found:
            found.add(entry.id)
    return tuple(entry.id for entry in teardown.log if entry.id in found)


def delete_things(teardown: Teardown, ids: Iterable[str]) -> Done:
    """Parts and joints, and all that names only them."""
    ids = list(dict.fromkeys(ids))
    hangs = hangs_on(teardown, ids)
    gone = {*hangs.parts, *hangs.joints}
    parts = tuple(_part_without(teardown, part, gone) for part in teardown.parts if part.id not in gone)
    joints = tuple(_joint_without(joint, gone) for joint in teardown.joints if joint.id not in gone)
    after = replace(_without_entries(teardown, set(hangs.entries), gone), parts=parts, joints=joints)
    after = replace(
        after, views=tuple(replace(v, marks=tuple(m for m in v.marks if m.thing not in gone),
                                   footprints=_footprints_without(v.footprints, gone)) for v in after.views
                           if v.portrait not in gone),
        answers=tuple(_answer_without(answer, gone) for answer in after.answers if answer.part not in gone),
        confirmed=tuple(way for said in after.confirmed for way in _way_without(said, gone)),
        told=tuple(replace(way, things=tuple(thing for thing in way.things if thing not in gone))
                   for way in after.told if way.part not in gone),
        pairs=tuple(pair for pair in after.pairs if pair.thing not in gone and pair.hider not in gone),
        refit=_refit_without(after.refit, gone),
        procedures=tuple(replace(one, for_=None if one.for_ in gone else one.for_,
                                 entries=_refit_without(one.entries, gone)) for one in after.procedures))
    label = label_of("delete", teardown, ids[0]) if len(ids) == 1 else Label("delete-several", {"count": len(ids)})
    return Done(label, settle(after))


def _footprints_without(footprints: Iterable[Footprint], gone: set[str]) -> tuple[Footprint, ...]:
    """What several had covered together is of those that are left."""
    left = [(one, [part for part in one.whose if part not in gone]) for one in footprints]
    return tuple(replace(one, of=whose[0], with_=tuple(whose[1:])) for one, whose in left if whose)


def _refit_without(entries: Iterable[Refit], gone: set[str]) -> tuple[Refit, ...]:
    """Entries of putting back without those about what goes; what goes back to one of them goes back no more."""
    kept = [one for one in entries if one.thing not in gone]
    labels = {one.label for one in kept}
    return tuple(replace(one, on=None if one.on in gone else one.on, extra=_without_names(one.extra, gone),
                         back_to=one.back_to if one.back_to in labels else "",
                         keep_off=tuple(off for off in one.keep_off if off.thing not in gone)) for one in kept)


def _part_without(teardown: Teardown, part: Part, gone: set[str]) -> Part:
    on = part.on
    while on in gone:  # it lies on what the one that goes lay on
        on = teardown.part[on].on
    spare = part.spare
    if spare is not None and spare.includes is not None:
        spare = replace(spare, includes=tuple(name for name in spare.includes if name not in gone))
    return replace(part, on=on, behind=_behind_without(part.behind, gone), spare=spare)


def _joint_without(joint: Joint, gone: set[str]) -> Joint:
    ways = tuple(replace(way, behind=_behind_without(way.behind, gone), resupplied=way.resupplied if isinstance(
        way.resupplied, bool) else tuple(name for name in way.resupplied if name not in gone), acts=tuple(
        replace(act, limits=tuple(_without_names(limit, gone) for limit in act.limits)) for act in way.acts))
                 for way in joint.ways)
    return replace(joint, of=tuple(p for p in joint.of if p not in gone), ways=ways,
                   behind=_behind_without(joint.behind, gone))


def _behind_without(behind: tuple[tuple[str, ...], ...], gone: set[str]) -> tuple[tuple[str, ...], ...]:
    return tuple(tuple(name for name in names if name not in gone) for names in behind)


def _without_names(value: Any, gone: set[str]) -> Any:
    """Advice that names what goes, without that name."""
    if isinstance(value, Mapping):
        return {key: _without_names(item, gone) for key, item in value.items()
                if not (key == "thing" and item in gone)}
    if isinstance(value, (list, tuple)):
        return [_without_names(item, gone) for item in value]
    return value


def _answer_without(answer: Answer, gone: set[str]) -> Answer:
    """An answer about several things, about those that are left."""
    if not isinstance(answer.value, Mapping):
        return answer
    value = {key: [name for name in names if name not in gone] if isinstance(names, list) else
             {name: by for name, by in names.items() if name not in gone} if isinstance(names, Mapping) else names
             for key, names in answer.value.items()}
    return replace(answer, value=value)


def _way_without(said: ConfirmedWay, gone: set[str]) -> list[ConfirmedWay]:
    """What was said of a way, without what goes; nothing is left where that was what it was about."""
    left = {name: tuple(thing for thing in getattr(said, name) if thing not in gone)
            for name in ("operations", "by_things", "things", "held_by")}
    if said.part in gone or said.at in gone or said.to in gone or (said.things and not left["things"]) \
            or (said.by_things and not left["by_things"]):
        return []
    return [replace(said, **left)]


def _without_entries(teardown: Teardown, entries: set[str], gone: set[str]) -> Teardown:
    """Entries go, what stood behind them or showed their moment stands behind the one before."""
    before: dict[str, str | None] = {}
    last: str | None = None
    for entry in in_order(teardown):
        if entry.id in entries:
            before[entry.id] = last
        elif entry.amends is None:
            last = entry.id

    def left(entry: LogEntry) -> LogEntry:
        return replace(entry, thing=None if entry.thing in gone else entry.thing,
                       things=tuple(name for name in entry.things if name not in gone),
                       after=before.get(entry.after, entry.after) if entry.after else None)

    log = tuple(left(entry) for entry in teardown.log if entry.id not in entries)
    views = tuple(replace(v, at_entry=before[v.at_entry]) if v.at_entry in before else v for v in teardown.views)
    confirmed = tuple(replace(w, at_entry=before[w.at_entry]) if w.at_entry in before else w
                      for w in teardown.confirmed)
    return replace(teardown, log=_earlier_first(log), views=views, confirmed=confirmed)


def _earlier_first(log: tuple[LogEntry, ...]) -> tuple[LogEntry, ...]:
    """An entry may stand behind an earlier one only; where that is not so any more it stands where it is."""
    seen: set[str] = set()
    found = []
    for entry in log:
        found.append(replace(entry, after=None) if entry.after is not None and entry.after not in seen else entry)
        seen.add(entry.id)
    return tuple(found)


def delete_letter(teardown: Teardown, letter: str) -> Done:
    """A letter of the tray; screws that had it have none."""
    if letter not in teardown.fastener:
        raise Refusal(letter, "no-such-letter")
    return Done(Label("delete-letter", {"letter": letter}), replace(
        teardown, fasteners=tuple(f for f in teardown.fasteners if f.id != letter),
        joints=tuple(replace(j, fastener=None) if j.fastener == letter else j for j in teardown.joints)))


def delete_view(teardown: Teardown, view_id: str) -> Done:
    """A photograph with its marks; what is on record of the things stays. The picture itself stays in the document."""
    view = view_of(teardown, view_id)
    after = replace(teardown, views=tuple(v for v in teardown.views if v.id != view_id))
    return Done(Label("delete-view", {"photo": view.photo}), settle(after))


def delete_mark(teardown: Teardown, view_id: str, place: int) -> Done:
    """One mark, and with it one of its group: the count follows where it was what the marks come to. The last mark of
    a joint that is named nowhere else takes the joint along."""
    view = view_with_mark(teardown, view_id, place)
    thing = view.marks[place].thing
    joint = teardown.joint.get(thing)
    if joint is not None and _is_empty_without(teardown, view, thing):
        return Done(label_of("delete", teardown, thing), delete_things(teardown, (thing,)).teardown)
    _, after, _ = unmark(teardown, view_id, place)
    if joint is not None and joint.kind in COUNTED:
        most = max(_marks_of(v, thing) for v in teardown.views)
        left = max(_marks_of(v, thing) for v in after.views)
        if joint.count == most and left < most and left > 0:
            after = change_joint(after, thing, lambda j: replace(j, count=left, order=tuple(
                n for n in j.order if n <= left)))
    return Done(label_of("delete-mark", teardown, thing), after)


def _marks_of(view: View, thing: str) -> int:
    return sum(mark.thing == thing for mark in view.marks)


def _is_empty_without(teardown: Teardown, view: View, thing: str) -> bool:
    """Whether this is the last trace of a joint."""
    return sum(_marks_of(v, thing) for v in teardown.views) == 1 \
        and all(thing not in (entry.thing, *entry.things) for entry in teardown.log)

