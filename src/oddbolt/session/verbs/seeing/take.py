"""What two photographs of a state say was done, taken over into the record: the same verbs as by hand, in an order
that the rules allow, each entry with `basis: seen`."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.catalog.tables import covering_kinds, mark_kinds
from oddbolt.knowledge.covering import area
from oddbolt.knowledge.said.seen import (
    HEADS,
    HELD,
    LIFTS,
    MOVED,
    NEW_OFF,
    OFF,
    OPENED,
    OUT,
    SEEN,
    SMALL,
    UNCOVERED,
    Outline,
    Seen,
    is_about,
)
from oddbolt.knowledge.settling import settle
from oddbolt.model.label import Label
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Mark, Teardown, View
from oddbolt.rules.replay import in_order, present_state, replay
from oddbolt.rules.structure import structure_of
from oddbolt.session.standing import is_next, lifted, released
from oddbolt.session.verbs.footprints import DRAWN, set_footprint
from oddbolt.session.verbs.groups import split_group
from oddbolt.session.verbs.lifting import lift, lift_as, mark_and_release, release
from oddbolt.session.verbs.marking import Kind
from oddbolt.session.verbs.plain import Done, change_view, free_id, view_of


class Round(Struct, frozen=True, kw_only=True):
    """What was chosen of what two photographs of a state differ in. `carried` says of marks of the one before how they
    lie on the one after, by their place; those beyond its edge are left out."""

    before: str
    after: str
    chosen: tuple[Seen, ...]
    carried: Callable[[Sequence[Mark]], Mapping[int, Mark]]
    looked_from: int | None = None  # entries of the log when it was shown to who had asked; None: all of them


def take_seen(teardown: Teardown, rounds: Sequence[Round], t: float, tools: Mapping[str, str]) -> Done:
    """Do what was seen, pair of photographs by pair, in the order in which they were taken. Marks of what is still
    there go to where it lies on each photograph. What was recorded by hand after a photograph had been taken was done
    after what it shows: what was seen is inserted before it, where the rules allow that. `tools` has those that rows of
    the kinds of joints are undone with now, where not the usual one. Refused where nothing is chosen, or the kind of
    something is not said."""
    chosen = [(one.after, seen) for one in rounds for seen in one.chosen if seen.code != MOVED]
    if not chosen:
        raise Refusal(rounds[-1].after if rounds else "", "nothing-ticked")
    unnamed = next((view for view, seen in chosen if seen.wants_kind), "")
    if unnamed:
        raise Refusal(unnamed, "kind-not-said")
    after, called = teardown, dict[_Called, _Called]()
    for one in rounds:
        as_chosen, then = view_of(teardown, one.before), view_of(after, one.before)
        now_called = [_as_called_now(as_chosen, then, seen, called) for seen in one.chosen if seen.code != MOVED]
        after = _taken(after, one, now_called, as_chosen.marks, t, tools)
        anew = {(was.thing, was.n): (now.thing, now.n)
                for was, now in zip(then.marks, view_of(after, one.before).marks)}
        called = {**anew, **{old: anew.get(new, new) for old, new in called.items()}}
    return Done(Label("take-seen", {"count": len(chosen)}), after)


def _taken(teardown: Teardown, round_: Round, chosen: Sequence[Seen], copied: Sequence[Mark], t: float,
           tools: Mapping[str, str]) -> Teardown:
    """One pair; `copied` are the marks of the photograph before when the one after was taken."""
    view = view_of(teardown, round_.after)
    after = _at_its_time(teardown, round_, chosen, t, tools)
    now = view_of(after, round_.before).marks  # of a group that was split some are of another by now
    return _carried(after, round_.after, copied, view.marks, round_.carried(now))


def _all_done(teardown: Teardown, round_: Round, chosen: Sequence[Seen], t: float, tools: Mapping[str, str]) -> \
        Teardown:
    """All that was chosen, after all that is on record."""
    after, first = teardown, len(teardown.log)
    waits = _in_order(chosen)
    while waits:  # the first that the rules allow; where they allow none, the record is not as the device
        one = next((one for one in waits if _is_free(after, one)), waits[0])
        waits.remove(one)
        own = len(after.log)
        after = _done(after, round_.before, round_.after, one, t, tools)
        if one.code != HELD:  # which no photograph shows
            after = replace(after, log=tuple(replace(entry, basis=SEEN) if n >= own and not entry.amends else entry
                                             for n, entry in enumerate(after.log)))
    made = [entry.id for entry in after.log[first:] if not entry.amends]
    view = view_of(teardown, round_.after)
    latest = [entry.id for entry in in_order(teardown) if not entry.amends][-1:]
    return _shown_from(after, view, made[-1]) if made and latest == [view.at_entry or ""] * len(latest) else after


def _at_its_time(teardown: Teardown, round_: Round, chosen: Sequence[Seen], t: float, tools: Mapping[str, str]) -> \
        Teardown:
    """Done as if nothing had been recorded by hand since the photograph was taken, and put before all that; at the end
    where nothing was, or where the rules do not allow what was recorded since after it."""
    view = view_of(teardown, round_.after)
    order = [entry for entry in in_order(teardown) if not entry.amends]
    place = next((n for n, entry in enumerate(order) if entry.id == view.at_entry), len(order))
    # What is recorded by hand while one looks at a photograph that was asked for is what it did not show.
    meanwhile = {entry.id for entry in teardown.log[:round_.looked_from]}
    since = {entry.id for entry in order[place + 1:] if entry.id in meanwhile and entry.basis != SEEN}
    plainly = _all_done(teardown, round_, chosen, t, tools)
    if not since:
        return plainly
    stands = order[place]
    then = replace(teardown, log=tuple(entry for entry in teardown.log
                                       if entry.id not in since and entry.amends not in since))
    after = _all_done(then, round_, chosen, stands.t or 0.0, tools)
    log, called = teardown.log, dict[str, str]()
    for entry in after.log[len(then.log):]:
        id_ = free_id(replace(teardown, log=log), "e")
        called[entry.id] = id_
        log = (*log, replace(entry, id=id_, amends=called.get(entry.amends or "", entry.amends),
                             after=None if entry.amends else called.get(entry.after or "", entry.after) or stands.id))
    made = [entry.id for entry in log[len(teardown.log):] if not entry.amends]
    after = settle(replace(after, log=log, views=tuple(
        replace(one, at_entry=teardown.view[one.id].at_entry) for one in after.views)))
    if made:
        after = _shown_from(after, view, made[-1])
    return plainly if _contradictions(after, stands.pass_) > _contradictions(plainly, stands.pass_) else after


def _shown_from(teardown: Teardown, view: View, entry: str) -> Teardown:
    """The photograph, and those after it that were taken before anything else was recorded, show what is so after an
    entry."""
    states = [one.id for one in teardown.views if one.portrait is None]
    later = set(states[states.index(view.id):])
    return replace(teardown, views=tuple(
        replace(one, at_entry=entry) if one.id in later and one.at_entry == view.at_entry else one
        for one in teardown.views))


def _contradictions(teardown: Teardown, pass_: int) -> int:
    return len(replay(teardown, structure_of(teardown), pass_).contradictions)


_Called = tuple[str, "int | None"]  # a mark: what it is of, and its number


def _as_called_now(then: View, now: View, one: Seen, called: Mapping[_Called, _Called]) -> Seen:
    """Something chosen by its marks, of a group that was split by what was taken before it: its marks are numbered
    anew."""
    if not one.places or then.marks == now.marks:
        return one
    places = {(mark.thing, mark.n): n for n, mark in enumerate(now.marks)}
    keys = [(then.marks[n].thing, then.marks[n].n) for n in one.places]
    found = [places[key] for key in (called.get(key, key) for key in keys) if key in places]
    if not found:
        return one
    thing = now.marks[found[0]].thing
    all_ = len(found) == sum(mark.thing == thing for mark in now.marks)  # the others went before
    return replace(one, places=() if all_ else tuple(found), thing=thing)


def _in_order(chosen: Sequence[Seen]) -> list[Seen]:
    """What nothing seen here held first; then for each part what held it, and the part; the smaller one first."""
    lifts = sorted((one for one in chosen if one.code in LIFTS), key=lambda one: area(one.before))
    others = [one for one in chosen if one.code not in LIFTS]
    of = {id(one): next((n for n, part in enumerate(lifts) if (one.before == part.before if one.code == HELD else
                                                               is_about(part.before, one))), -1) for one in others}
    found = [one for one in others if of[id(one)] < 0 and one.code != UNCOVERED]
    for n, part in enumerate(lifts):
        found += [*_joined([one for one in others if of[id(one)] == n and one.code != UNCOVERED]), part]
    return [*found, *(one for one in others if one.code == UNCOVERED)]


def _joined(about: Sequence[Seen]) -> list[Seen]:
    """Heads of one letter about one part are one group."""
    found: dict[object, Seen] = {}
    for n, one in enumerate(about):
        key = one.kind if one.code == HEADS else n
        found[key] = replace(found[key], spots=found[key].spots + one.spots) if key in found else one
    return list(found.values())


def _is_free(teardown: Teardown, one: Seen) -> bool:
    """Whether the rules allow it as the record is now."""
    return one.code not in (OUT, OPENED, OFF) or not present_state(teardown).obstacles_of(one.thing)


def _done(teardown: Teardown, before_id: str, after_id: str, one: Seen, t: float, tools: Mapping[str, str]) -> Teardown:
    """One of them, by its verb; what the record has by now done already is left."""
    if one.code in (OUT, OPENED):
        return _opened(teardown, before_id, one, t)
    if one.code == HEADS:
        return mark_and_release(teardown, before_id, Kind(letter=one.kind), one.spots, t).teardown
    if one.code in (SMALL, HELD):
        row = mark_kinds()[one.kind]
        kind = Kind(joint=row.kind, type=row.types[0] if row.types else "",
                    tool=tools.get(row.id, row.tools[0] if row.tools else ""))
        part = one.thing if one.code == HELD else ""
        return mark_and_release(teardown, before_id, kind, [one.middle], t, part=part).teardown
    part = one.thing
    if one.code == NEW_OFF:
        _, teardown, part = lift_as(teardown, one.kind, t, view_id=before_id, spot=one.middle)
    elif one.code == OFF and part not in lifted(teardown):
        teardown = lift_as(teardown, "part", t, view_id=before_id, spot=one.middle, hand=part).teardown \
            if is_next(teardown.part[part]) else lift(teardown, part, t).teardown
    if one.code in LIFTS:
        teardown = change_view(teardown, before_id, lambda v: replace(v, marks=tuple(
            replace(m, outline=_rounded(one.before)) if m.thing == part and not m.outline else m for m in v.marks)))
    covers = one.after and covers_others(teardown, part)
    basis = DRAWN if one.is_drawn else SEEN  # the edge that a person drew is not as fine as one that was seen
    return set_footprint(teardown, after_id, part, one.after, one.others, basis).teardown if covers else teardown


def covers_others(teardown: Teardown, part: str) -> bool:
    """Whether its kind hides what lies under it: what a camera or a plug had covered says little, and was measured to
    make depths worse (docs/methods/difference.md)."""
    kinds = covering_kinds()
    return teardown.part[part].kind in kinds.large | kinds.small | kinds.bulky


def _opened(teardown: Teardown, before_id: str, one: Seen, t: float) -> Teardown:
    thing = one.thing
    if thing in released(teardown):
        return teardown
    if one.places:  # some of a group only: they become a group of their own
        _, teardown, thing = split_group(teardown, thing, before_id, one.places, elsewhere=False)
    return release(teardown, thing, t).teardown


def _rounded(outline: Outline) -> Outline:
    return tuple((round(x, 1), round(y, 1)) for x, y in outline)


def _carried(teardown: Teardown, after_id: str, before: Sequence[Mark], own: Sequence[Mark],
             carried: Mapping[int, Mark]) -> Teardown:
    """Marks of what is still there go to where it lies on the photograph after; one that was set or moved there by
    hand stays, and those of what went are taken away."""
    state = present_state(teardown)
    was = {(mark.thing, mark.n): (mark.x, mark.y) for mark in before}
    by_hand = [mark for mark in own if was.get((mark.thing, mark.n)) != (mark.x, mark.y)]
    set_there = {mark.thing for mark in by_hand}
    marks = [mark for mark in view_of(teardown, after_id).marks if mark.thing in set_there or mark not in own]
    marks += [mark for mark in carried.values() if state.is_in_place(mark.thing) and mark.thing not in set_there]
    return change_view(teardown, after_id, lambda v: replace(v, marks=tuple(marks)))


