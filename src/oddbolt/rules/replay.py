"""The log, walked again by the same rules as any plan: what it counts to, and where it contradicts them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.model.snapshot import is_added_to, of_snapshot
from oddbolt.model.things import LogEntry, Teardown
from oddbolt.rules.counting import Convention, Count, count
from oddbolt.rules.device_state import DeviceState, Obstacle, Operation, whole
from oddbolt.rules.structure import Structure, structure_of
from oddbolt.rules.times import ActiveTimes

NOT_DONE = "not_done"
PUT_BACK = ("fit", "fasten")
ACTS_ON_ONE = frozenset(("release", "remove", "loosen", "fit", "fasten"))
States = dict[int, DeviceState]  # by the number of the pass
OUTCOMES_THAT_RELEASE = frozenset(("ok", "damaged", "destroyed", "lost", "found"))


def added_to(after: Teardown, before: Teardown) -> tuple[LogEntry, ...] | None:
    """What was logged since, where nothing else of the log changed; None where something did."""
    known = len(before.log)
    added = after.log[known:]
    if not is_added_to(after.log, before.log) or any(entry.amends or entry.after for entry in added):
        return None
    return added


def _read_on(after: Teardown, known: Sequence[LogEntry], before: Teardown) -> Sequence[LogEntry] | None:
    added = added_to(after, before)
    if added is None or any(joint is not after.joint.get(joint.id) and
                            (joint.id not in after.joint or after.joint[joint.id].count != joint.count)
                            for joint in before.joints):  # an act on several is shared among them by count
        return None
    return [*known, *(one for entry in added for one in _one_by_one(after, entry))]


@of_snapshot("log", "joints", renewed=_read_on)
def readings(teardown: Teardown) -> Sequence[LogEntry]:
    """The log as amended; an act on several `things` is read as one act on each, in their order."""
    return [one for entry in as_amended(teardown) for one in _one_by_one(teardown, entry)]


@of_snapshot("log")
def in_order(teardown: Teardown) -> Sequence[LogEntry]:
    """The log as it is to be read: what was forgotten stands behind the entry that it names, in the order of entry."""
    inserted: dict[str, list[LogEntry]] = {}
    for entry in teardown.log:
        if entry.after is not None:
            inserted.setdefault(entry.after, []).append(entry)
    if not inserted:
        return teardown.log
    found: list[LogEntry] = []
    waiting = [entry for entry in reversed(teardown.log) if entry.after is None]
    while waiting:
        entry = waiting.pop()
        found.append(entry)
        waiting.extend(reversed(inserted.get(entry.id, ())))
    return found


@of_snapshot("log")
def as_amended(teardown: Teardown) -> Sequence[LogEntry]:
    """The log with each entry in its place, with the reading of the last entry that amends it; without what was not
    done after all."""
    amended: dict[str, LogEntry] = {}
    for entry in teardown.log:
        if entry.amends is not None:
            amended[entry.amends] = entry
    found = []
    for entry in in_order(teardown):
        if entry.amends is not None:
            continue
        reading, seen = entry, {entry.id}
        while reading.id in amended and amended[reading.id].id not in seen:
            reading = amended[reading.id]
            seen.add(reading.id)
        if reading is not entry:
            reading = replace(reading, id=entry.id, t=entry.t, pass_=entry.pass_, amends=None)
        if reading.outcome != NOT_DONE:
            found.append(reading)
    return found


def _one_by_one(teardown: Teardown, entry: LogEntry) -> list[LogEntry]:
    """An act on several things at once as one reading for each; measured seconds are shared by count."""
    if entry.do not in ACTS_ON_ONE or not entry.things:
        return [entry]
    things = list(dict.fromkeys([*([entry.thing] if entry.thing else []), *entry.things]))
    counts = [(teardown.joint[t].count or 1) if t in teardown.joint else 1 for t in things]
    return [replace(entry, thing=thing, things=(), seconds=None if entry.seconds is None
                    else entry.seconds * count / sum(counts)) for thing, count in zip(things, counts)]


def _also_of_the_new(after: Teardown, number: int, before: Teardown) -> int | None:
    """Entries are added at the end."""
    known = len(before.log)
    if after.sessions is not before.sessions or after.log[:known] != before.log:
        return None
    return max([number, *(entry.pass_ for entry in after.log[known:])])


@of_snapshot("log", "sessions", renewed=_also_of_the_new)
def current_pass(teardown: Teardown) -> int:
    """The pass that an entry made now belongs to: the last one begun."""
    return max([*(one.pass_ for one in teardown.sessions), *(entry.pass_ for entry in teardown.log)], default=1)


@of_snapshot("log", "joints", "sessions")
def this_pass(teardown: Teardown) -> Sequence[LogEntry]:
    """The readings of the present pass."""
    number = current_pass(teardown)
    return [entry for entry in readings(teardown) if entry.pass_ == number]


def present_state(teardown: Teardown) -> DeviceState:
    """The state of the device at the end of the present pass."""
    reached = states_reached(teardown).get(current_pass(teardown))
    return reached if reached is not None else DeviceState(structure_of(teardown))


class Contradiction(Struct, frozen=True, kw_only=True):
    """A log entry that the rules of access do not allow where it stands."""

    entry: str
    obstacle: Obstacle


class Replay(Struct, frozen=True, kw_only=True):
    """One pass of the log by the rules."""

    pass_: int
    operations: tuple[Operation, ...]
    entries: tuple[str, ...]  # for each operation, the log entry
    contradictions: tuple[Contradiction, ...]
    unknown: tuple[str, ...]  # entries that name a way or act that is not there, or a thing that cannot be moved
    state: DeviceState  # the state at the end

    def counted(self, structure: Structure, convention: Convention, times: ActiveTimes) -> Count:
        """Steps, time and live acts as performed. Contradicted operations are counted as done."""
        return count(structure, convention, times, self.operations)


def replay(teardown: Teardown, structure: Structure, pass_: int = 1, until: str | None = None) -> Replay:
    """Walk one pass; `until` stops after that entry (the state a view shows)."""
    state = DeviceState(structure)
    operations: list[Operation] = []
    entries: list[str] = []
    contradictions: list[Contradiction] = []
    unknown: list[str] = []
    for entry in readings(teardown):
        if entry.pass_ == pass_:
            wanted = _operations(structure, entry)
            if wanted is None:
                unknown.append(entry.id)
            moves = not _puts_back(state, entry) and _is_whole(state, entry)
            for operation in wanted or () if moves else ():
                for obstacle in state.obstacles(operation):
                    contradictions.append(Contradiction(entry=entry.id, obstacle=obstacle))
                state.apply(operation)
                operations.append(operation)
                entries.append(entry.id)
            if entry.do == "reach":
                contradictions.extend(_reach_contradictions(state, entry))
        if entry.id == until:
            break
    return Replay(pass_=pass_, operations=tuple(operations), entries=tuple(entries),
                  contradictions=tuple(contradictions), unknown=tuple(unknown), state=state)


def _one_further(after: Teardown, states: States, before: Teardown) -> States | None:
    """What was logged since is done to copies of the states before, where all else moves as it did."""
    new, old, added = structure_of(after), structure_of(before), added_to(after, before)
    if added is None or new.children is not old.children or not _released_alike(new, old, before):
        return None
    kept = {pass_: state.copy(new) for pass_, state in states.items()}
    return _walked(after, kept, [one for entry in added for one in _one_by_one(after, entry)])


def _released_alike(new: Structure, old: Structure, before: Teardown) -> bool:
    """Whether every joint that could be released is released by the same acts."""
    return new.releases is old.releases or all(
        new.releases.get(id_) is release or (id_ in new.releases and new.releases[id_].ways == release.ways)
        for id_, release in old.releases.items()) and all(
        id_ in old.releases or id_ not in before.joint for id_ in new.releases) and all(
        new.removals[id_] is removal or new.removals[id_].acts == removal.acts for id_, removal in old.removals.items())


def _walked(teardown: Teardown, states: States, entries: Iterable[LogEntry]) -> States:
    structure = structure_of(teardown)
    for entry in entries:
        operations = _operations(structure, entry)
        if not operations and entry.do not in PUT_BACK:
            continue
        state = states.setdefault(entry.pass_, DeviceState(structure))
        if not _puts_back(state, entry) and _is_whole(state, entry):
            for operation in operations or ():
                state.apply(operation)
    return states


def _puts_back(state: DeviceState, entry: LogEntry) -> bool:
    """Carry out an entry that puts something back; whether it is one."""
    thing = entry.thing or ""
    if entry.do not in PUT_BACK:
        return False
    if entry.outcome != "failed" and (not entry.places or thing not in state.structure.joint
                                      or state.turn_single(thing, entry.places, out=False)):
        state.put_back(state.structure.stand_in.get(thing, thing))
    return True


def _is_whole(state: DeviceState, entry: LogEntry) -> bool:
    """Whether a release undoes the whole joint: one of single screws does when they are the last."""
    return not entry.places or entry.do != "release" or not entry.thing \
        or state.turn_single(entry.thing, entry.places, out=True)


@of_snapshot("log", "parts", "joints", "fasteners", "device", renewed=_one_further)
def states_reached(teardown: Teardown) -> States:
    """For each pass with acts the state at its end, without asking whether the rules allowed each act: what was done
    was done."""
    return _walked(teardown, {}, readings(teardown))


def _operations(structure: Structure, entry: LogEntry) -> list[Operation] | None:
    """What the entry did; empty for entries that move nothing, None where it names something impossible."""
    if entry.do not in ("release", "remove") or entry.thing is None:
        return []
    if entry.do == "remove":
        part = structure.stand_in.get(entry.thing)
        if part not in structure.removals:
            return None
        lift = whole(structure, part)
        return lift if entry.act is None else lift[entry.act:entry.act + 1] or None
    if entry.outcome not in OUTCOMES_THAT_RELEASE or entry.thing in structure.idle_joints:
        return []
    release = structure.releases.get(entry.thing)
    way = entry.way or 0
    if release is None or way >= len(release.ways):
        return None
    acts = len(release.ways[way].acts)
    if entry.act is not None:
        return [Operation(entry.thing, way, entry.act)] if entry.act < acts else None
    return [Operation(entry.thing, way, act) for act in range(acts)]


def _reach_contradictions(state: DeviceState, entry: LogEntry) -> list[Contradiction]:
    """What was within reach had nothing in front of it; a `behind` that says otherwise is contradicted."""
    found: list[Contradiction] = []
    for thing in entry.things or ((entry.thing,) if entry.thing else ()):
        untouched = state.is_in_place(thing) and thing not in state.under_way
        hidden = [o for o in state.obstacles_of(thing) if o.code == "hidden"] if untouched else []
        found.extend(Contradiction(entry=entry.id, obstacle=Obstacle("reach", (thing, *o.things))) for o in hidden)
    return found
