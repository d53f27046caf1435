"""What the record proves about who hides whom: log, reach entries, photographs, answers, the order of putting back.

A thing that was within reach at some moment is hidden by nothing that was still in place then (docs/format.md,
"Knowing and assuming"). So what may hide it is what had been cleared before it was first shown to be within reach, in
every pass. What is left of that after answers and the order of putting back is a candidate. Everything is derived.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable, Mapping
from functools import cached_property
from typing import Any

from msgspec import Struct, field
from msgspec.structs import replace

from oddbolt.knowledge.said.reaches import Reach, first_met, shown_within_reach, texts_of
from oddbolt.knowledge.said.retold import Retold
from oddbolt.model.snapshot import of_snapshot
from oddbolt.model.things import Joint, LogEntry, Teardown
from oddbolt.rules.replay import OUTCOMES_THAT_RELEASE, added_to, in_order, readings
from oddbolt.rules.structure import Structure, structure_of

ACCESS = "access"  # the method under which answers about access are kept
HIDES, WITHIN, WAY = "hides", "within", "way"  # kinds of question, docs/format.md says what their answers hold
HANGS = "hangs"  # whether a cover that hung open had to come off; answered where it is offered
AFTER_SCREWS = frozenset(("clip", "adhesive", "slide"))  # joints that may wait for the screws of the same part
LIFTABLE_JOINTS = frozenset(("swing", "film"))  # joints that uncover something when they are released


class Evidence(Struct, frozen=True, kw_only=True):
    """What is known of what hides one thing. Ids in the order in which they were cleared."""

    thing: str
    entry: str  # the log entry that shows it within reach; empty where none does
    candidates: tuple[str, ...]  # what may hide it and is not settled, with what is known to
    late: tuple[str, ...]  # cleared since the last moment at which it was not within reach: one of these hid it
    told: bool  # `late` rests on an answer, not on its absence from a reach entry
    hides: frozenset[str]  # answered, or certain by what the thing is: these do
    seen_past: frozenset[str]  # in place on a photograph that shows the thing, so they do not cover it from view

    @property
    def open(self) -> tuple[str, ...]:
        """What may hide it and has not been answered."""
        return tuple(x for x in self.candidates if x not in self.hides)


class _Pass(Struct):
    """One pass of the log: what was cleared, in order, and when each thing was first within reach."""

    cleared: list[str] = field(default_factory=list)
    entries: list[str] = field(default_factory=list)  # for each cleared thing, its entry
    met: dict[str, tuple[int, str]] = field(default_factory=dict)  # thing -> number cleared by then, entry
    reaches: list[Reach] = field(default_factory=list)
    without: dict[str, int] = field(default_factory=dict)  # thing -> number cleared when it was told not in reach yet


@of_snapshot("views")
def _marked_on(teardown: Teardown) -> dict[str, list[int]]:
    """Thing -> places of the views that it is marked on."""
    found: dict[str, list[int]] = {}
    for n, view in enumerate(teardown.views):
        for thing in dict.fromkeys(mark.thing for mark in view.marks):
            found.setdefault(thing, []).append(n)
    return found


def _walked(structure: Structure, joints: Mapping[str, Joint], passes: dict[int, _Pass],
            entries: Iterable[LogEntry]) -> dict[int, _Pass]:
    """The passes with these entries walked too; `passes` stay as they are."""
    found = dict(passes)
    for entry in entries:
        walk = found.get(entry.pass_)
        if walk is None or walk is passes.get(entry.pass_):
            walk = found[entry.pass_] = _Pass() if walk is None else _Pass(
                list(walk.cleared), list(walk.entries), dict(walk.met), list(walk.reaches))
        for thing in shown_within_reach(entry):
            walk.met.setdefault(thing, (len(walk.cleared), entry.id))
        if entry.do == "reach":
            walk.reaches.append(Reach.of(entry, len(walk.cleared)))
        if _uncovers(structure, joints, entry):
            walk.cleared.append(entry.thing)
            walk.entries.append(entry.id)
    return found


def _uncovers(structure: Structure, joints: Mapping[str, Joint], entry: LogEntry) -> bool:
    if entry.do == "remove":
        return entry.thing in structure.removals
    joint = joints.get(entry.thing or "")
    return (entry.do == "release" and joint is not None and joint.kind in LIFTABLE_JOINTS
            and entry.outcome in OUTCOMES_THAT_RELEASE)


def _walked_on(after: Teardown, passes: dict[int, _Pass], before: Teardown) -> dict[int, _Pass] | None:
    """Where only something was logged, that is walked."""
    if added_to(after, before) is None:
        return None
    new, old, known = structure_of(after), structure_of(before), len(readings(before))
    alike = new.children is old.children and all(
        joint is after.joint.get(joint.id) or (joint.id in after.joint and after.joint[joint.id].kind == joint.kind)
        for joint in before.joints)
    if not alike:
        return None
    return _walked(new, after.joint, passes, readings(after)[known:])


@of_snapshot("log", "parts", "joints", "fasteners", "device", renewed=_walked_on)
def _passes(teardown: Teardown) -> dict[int, _Pass]:
    return _walked(structure_of(teardown), teardown.joint, {}, readings(teardown))


class AllEvidence:
    """The evidence of one snapshot, gathered once."""

    def __init__(self, teardown: Teardown, structure: Structure) -> None:
        self.teardown = teardown
        self.structure = structure
        self.passes = {number: replace(walk, without={}) for number, walk in (
            _passes(teardown) if structure is structure_of(teardown)
            else _walked(structure, teardown.joint, {}, readings(teardown))).items()}
        self.asked: set[tuple[str, str, str]] = set()  # kind of question, about what, thing
        self.hung: set[str] = set()  # covers that might as well have been left hanging
        self._gone: dict[int, frozenset[str]] = {}  # view -> what had been cleared by then, as far as asked for
        self._answers = self._read_answers()
        self._retold = Retold(teardown, structure)
        self.said_after = self._retold.said_after
        self.is_retold = bool(teardown.confirmed or teardown.pairs)  # a person was shown a way, and answered
        self._back = self._order_of_putting_back()

    # -- reading

    def _read_answers(self) -> dict[str, dict[str, bool]]:
        """Thing -> hider -> whether it hides it."""
        found: dict[str, dict[str, bool]] = {}
        for answer in self.teardown.answers:
            if answer.method != ACCESS or not isinstance(answer.value, Mapping):
                continue
            if answer.criterion == HIDES and answer.part:
                for key, hides in (("hides", True), ("spares", False)):
                    for thing in texts_of(answer.value.get(key)):
                        found.setdefault(thing, {})[answer.part] = hides
                        self.asked.add((HIDES, answer.part, thing))
            elif answer.criterion == HANGS and answer.part:
                if answer.value.get("enough") is True:
                    self.hung.add(answer.part)
            elif answer.criterion == WITHIN and answer.part:
                self._read_within(answer.part, answer.value, found)
            elif answer.criterion == WAY and answer.part:
                self._read_way(answer.part, answer.value, found)
        return found

    def _read_way(self, opener: str, value: Mapping[str, Any], found: dict[str, dict[str, bool]]) -> None:
        """For each thing named, what was in its way from the opening of a layer on; nothing else in it was."""
        by = value.get("by")
        for thing, hiders in by.items() if isinstance(by, Mapping) else ():
            self.asked.add((WAY, opener, thing))
            for walk in self.passes.values():
                if opener in walk.cleared and thing in walk.met:
                    layer = walk.cleared[walk.cleared.index(opener):walk.met[thing][0]]
                    found.setdefault(thing, {}).update((x, x in hiders) for x in layer)

    def _read_within(self, hider: str, value: Mapping[str, Any], found: dict[str, dict[str, bool]]) -> None:
        """What could have been undone before `hider` was cleared is hidden by nothing from it on; the rest by some."""
        within, without = texts_of(value.get("within")), texts_of(value.get("without"))
        self.asked.update((WITHIN, hider, thing) for thing in (*within, *without))
        for walk in self.passes.values():
            if hider not in walk.cleared:
                continue
            place = walk.cleared.index(hider)
            for thing in within:
                found.setdefault(thing, {}).update(dict.fromkeys(walk.cleared[place:], False))
            for thing in without:
                walk.without[thing] = max(place, walk.without.get(thing, 0))

    def _order_of_putting_back(self) -> dict[str, int]:
        """Thing -> place in the order in which things went back, of what is said to have had to stand there: by itself
        an order of putting back proves nothing, it may be one of many."""
        named = [refit.thing for refit in self.teardown.refit
                 if refit.do in ("fit", "fasten", "route") and refit.proves_order]
        return {thing: place for place, thing in enumerate(dict.fromkeys(n for n in named if n))}

    def _gone_on(self, n: int) -> frozenset[str]:
        """What had been cleared when the view was taken."""
        if n not in self._gone:
            until = self._time_of(n)
            self._gone[n] = frozenset(x for things, places in self._cleared
                                      for x in things[:bisect_right(places, until)])
        return self._gone[n]

    def _time_of(self, n: int) -> int:
        return self._order.get(self.teardown.views[n].at_entry or "", -1)

    @cached_property
    def _cleared(self) -> list[tuple[list[str], list[int]]]:
        """For each pass what was cleared, and at which places of the log."""
        return [(walk.cleared, [self._order[entry] for entry in walk.entries]) for walk in self.passes.values()]

    @cached_property
    def _order(self) -> dict[str, int]:
        """Entry -> its place in the log."""
        return {entry.id: n for n, entry in enumerate(in_order(self.teardown))}

    @cached_property
    def _next_of_side(self) -> list[int | None]:
        """For each view the time of the next one that shows the same side; None for the newest."""
        times: dict[str, set[int]] = {}
        for n, view in enumerate(self.teardown.views):
            times.setdefault(view.side, set()).add(self._time_of(n))
        ordered = {side: sorted(found) for side, found in times.items()}
        found: list[int | None] = []
        for n, view in enumerate(self.teardown.views):
            later = ordered[view.side][bisect_right(ordered[view.side], self._time_of(n)):]
            found.append(later[0] if later else None)
        return found

    def _seen_past(self, thing: str, entry: str, possible: Iterable[str]) -> frozenset[str]:
        """What was in place on a photograph that shows the thing.

        A mark on the newest photograph there was when the thing was met may have been made by looking at the device,
        not at the photograph; it says nothing of what the photograph shows.
        """
        shown = _marked_on(self.teardown).get(thing)
        if not shown:
            return frozenset()
        met, following = self._order.get(entry, len(self.teardown.log)), self._next_of_side
        older = [self._gone_on(n) for n in shown if (later := following[n]) is not None and later < met]
        return frozenset(possible).difference(frozenset.intersection(*older)) if older else frozenset()

    # -- answering

    def is_met(self, thing: str) -> bool:
        """Whether some entry shows the thing within reach."""
        return any(thing in walk.met for walk in self.passes.values())

    def of(self, thing: str) -> Evidence:
        """What is known of what hides a part or joint."""
        parts = self._parts_of(thing)
        walks = [walk for walk in self.passes.values() if thing in walk.met]
        if not walks:
            return self._evidence(thing, parts, "", self._all_cleared, (), told=False)
        first = walks[0]
        met = [first_met(self.teardown, walk.met[thing], walk.reaches, thing) for walk in walks]
        cleared = first.cleared[:met[0][0]]
        for walk, (number, _) in zip(walks[1:], met[1:]):
            kept = set(walk.cleared[:number])
            cleared = [x for x in cleared if x in kept]
        for hidden in self._retold.hidden_by(thing):  # what it was said to hide was met after it
            if hidden in first.met:
                kept = set(first.cleared[:first.met[hidden][0]])
                cleared = [x for x in cleared if x in kept]
        late, told = self._late(first, thing)
        return self._evidence(thing, parts, met[0][1], cleared, late, told=told)

    @cached_property
    def _all_cleared(self) -> list[str]:
        return list(dict.fromkeys(x for walk in self.passes.values() for x in walk.cleared))

    def _late(self, walk: _Pass, thing: str) -> tuple[tuple[str, ...], bool]:
        """What was cleared between the last moment without the thing in reach and the moment it was; and whether told.

        A `reach` speaks of joints only: a part that was still tied could not be undone either, whatever hid it.
        """
        met = walk.met[thing][0]
        without = [one.number for one in walk.reaches
                   if one.number < met and one.is_without(thing) and thing in self.structure.releases]
        seen, told = max(without, default=-1), walk.without.get(thing, -1)
        if max(seen, told) < 0:
            return (), False
        return tuple(walk.cleared[max(seen, told):met]), told >= seen

    def _evidence(self, thing: str, parts: frozenset[str], entry: str, cleared: Iterable[str],
                  late: tuple[str, ...], *, told: bool) -> Evidence:
        answers = {**self._answers.get(thing, {}), **self._retold.pairs.get(thing, {})}
        cleared = list(cleared)
        cannot = self._cannot_hide(thing, parts)
        cannot.update(x for x, does in answers.items() if does is False)
        possible = [x for x in cleared if x not in cannot]
        possible += [x for x in self._own_screws(thing) if x not in cannot]
        if thing in self._back:
            possible = [x for x in possible if not self._went_back_before(x, thing)]
        if self._sits_on_lifted(parts, cleared) and answers.get(self.structure.base) is not False:
            possible.append(self.structure.base)
        allowed = self._retold.allowed.get(thing)
        if allowed is not None:  # it could be done when these were cleared, so nothing else hides it
            possible = [x for x in possible if x in allowed]
        one_of = [x for x in self._retold.one_of.get(thing, ()) if answers.get(x) is not False]
        if one_of:
            late, told = tuple(one_of), True
            possible += [x for x in one_of if x not in possible]
        hides = frozenset(x for x, does in answers.items() if does and self._is_on_record(x)) \
            | {x for x in self._certain(thing) if answers.get(x) is not False
               and not self._retold.pairs.get(x, {}).get(thing)}
        seen = self._seen_past(thing, entry, possible)
        late = tuple(x for x in late if x in possible)
        if told and len(late) == 1:
            hides |= {late[0]}
        return Evidence(thing=thing, entry=entry, candidates=tuple(dict.fromkeys([*possible, *sorted(hides)])),
                        late=() if hides & set(late) else late, told=told, hides=hides, seen_past=seen)

    def _own_screws(self, thing: str) -> list[str]:
        """Screws of the same part that were undone before its clips or its bond: those may wait for them."""
        release = self.structure.releases.get(thing)
        if release is None or release.joint.kind not in AFTER_SCREWS:
            return []
        done, screws = self._done, self._screws_of.get(release.joint.of[0], ())
        if thing not in done:
            return []
        return sorted((one for one in screws if done.get(one, done[thing]) < done[thing]), key=done.__getitem__)

    @cached_property
    def _done(self) -> dict[str, int]:
        """Joint -> its place in the order of releases; the first where there are several."""
        done = [entry.thing for entry in readings(self.teardown) if entry.do == "release" and entry.thing
                and entry.outcome in OUTCOMES_THAT_RELEASE]
        return {one: n for n, one in reversed(list(enumerate(done)))}

    @cached_property
    def _screws_of(self) -> dict[str, list[str]]:
        found: dict[str, list[str]] = {}
        for joint in self.teardown.joints:
            if joint.kind == "screw" and joint.of:
                found.setdefault(joint.of[0], []).append(joint.id)
        return found

    def _is_on_record(self, thing: str) -> bool:
        structure = self.structure
        return thing in structure.removals or thing in structure.releases or thing == structure.base

    def _certain(self, thing: str) -> frozenset[str]:
        """A cover swings open when all of its own that was undone before is: what would tear too. What was undone later
        did not hold it."""
        joint = self.teardown.joint.get(thing)
        if joint is None or joint.kind != "swing":
            return frozenset()
        done = self._done
        later = {one for one, n in done.items() if thing in done and n >= done[thing]}
        return frozenset(id_ for id_, release in self.structure.releases.items() if id_ != thing and id_ not in later
                         and (release.of == self.structure.releases[thing].of and release.joint.kind != "connector"
                              or release.joint.of[0] == joint.of[0] and id_ in done))

    def _parts_of(self, thing: str) -> frozenset[str]:
        structure = self.structure
        if thing in structure.releases:
            return structure.releases[thing].of
        return frozenset((structure.stand_in.get(thing, structure.base),))

    def _cannot_hide(self, thing: str, parts: frozenset[str]) -> set[str]:
        """What never hides it: what carries it, what lies on it, a joint itself."""
        around = [self.structure.above.get(part, frozenset()) for part in parts]
        carriers = frozenset.intersection(*around) if around else frozenset()
        # What is tied by the joint itself is moved by the release, it does not stand before it.
        return {thing, *self.hung, *(x for x in (*carriers, *parts) if x not in self.structure.releases)}

    def _sits_on_lifted(self, parts: frozenset[str], cleared: list[str]) -> bool:
        """Whether all it is made of had been lifted with its carrier, so that the base may have faced it."""
        if not parts or self.structure.base in parts:
            return False
        shared = frozenset.intersection(*(self.structure.above.get(part, frozenset()) for part in parts))
        return bool(shared & set(cleared))

    def _went_back_before(self, hider: str, thing: str) -> bool:
        """A part that was in place again when the thing was fastened does not stand before it."""
        return hider in self._back and thing in self._back and self._back[hider] < self._back[thing]
