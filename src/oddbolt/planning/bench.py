"""The plain rules, one operation at a time: what may be done next, and what a sequence counts to.

This follows the words of docs/format.md literally (assemblies as they are at the moment of lifting) and knows nothing
of the search. Every plan is replayed here before anyone sees it, and so is the log.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from oddbolt.model.things import Act, Way
from oddbolt.planning.convention import ActKind, Convention, number_steps
from oddbolt.planning.costs import ActiveTimes
from oddbolt.planning.structure import Alternatives, Entry, Structure

NEVER = None


@dataclass(frozen=True, slots=True)
class Operation:
    """One act of a joint's way, or (joint empty) the removal of a part."""

    joint: str = ""
    way: int = 0
    act: int = 0
    part: str = ""



@dataclass(frozen=True, slots=True)
class Obstacle:
    """Why an operation may not be done now."""

    code: str  # hidden, tied, way-order, way-taken, gone, unknown
    things: tuple[str, ...]


@dataclass(slots=True)
class Bench:
    """The state of the device on the mat, by the plain rules."""

    structure: Structure
    removed: dict[str, int] = field(default_factory=dict)  # part -> time it was out, ms
    lifted: list[tuple[frozenset[str], int]] = field(default_factory=list)  # assemblies lifted, with the time
    released: dict[str, int] = field(default_factory=dict)  # joint -> time its release took effect, ms
    under_way: dict[str, tuple[int, int]] = field(default_factory=dict)  # joint -> (way, acts done)

    def is_in_place(self, thing: str) -> bool:
        """Whether a part has not been lifted, a joint not released."""
        return thing not in self.released and thing not in self.removed

    def assembly(self, part: str) -> frozenset[str]:
        """The part with all that is still mounted on it."""
        found, waiting = set(), [part]
        while waiting:
            one = waiting.pop()
            found.add(one)
            waiting.extend(child for child in self.structure.children[one] if child not in self.removed)
        return frozenset(found)

    # -- when things were cleared, in ms, or NEVER

    def cleared_at(self, entry: Entry, parts: frozenset[str]) -> int | None:
        if entry.is_joint:
            return self.released.get(entry.id)
        times = [time for assembly, time in self.lifted if (entry.id in assembly) != (parts <= assembly)]
        return min(times, default=NEVER)

    def open_at(self, behind: Alternatives, parts: frozenset[str]) -> int | None:
        """When the first alternative was cleared; 0 where there is nothing to clear."""
        if not behind:
            return 0
        times = [self._alternative_at(alternative, parts) for alternative in behind]
        return min((time for time in times if time is not NEVER), default=NEVER)

    def _alternative_at(self, alternative: tuple[Entry, ...], parts: frozenset[str]) -> int | None:
        times = [self.cleared_at(entry, parts) for entry in alternative]
        return NEVER if NEVER in times else max(times)

    def obstacles(self, operation: Operation) -> list[Obstacle]:
        """Why the operation may not be done now; empty when it may."""
        return self._removal_obstacles(operation.part) if operation.part else self._act_obstacles(operation)

    def _removal_obstacles(self, part: str) -> list[Obstacle]:
        if part in self.removed:
            return [Obstacle("gone", (part,))]
        removal = self.structure.removals[part]
        found = []
        inside = self.assembly(part)
        ties = {id_ for one in inside for id_ in self.structure.joints_of[one]
                if id_ not in self.released and not self.structure.releases[id_].of <= inside}
        if ties:
            found.append(Obstacle("tied", tuple(id_ for id_ in self.structure.releases if id_ in ties)))
        if self.open_at(removal.behind, frozenset((part,))) is NEVER:
            found.append(Obstacle("hidden", self._hiders(removal.behind, frozenset((part,)))))
        return found

    def _act_obstacles(self, operation: Operation) -> list[Obstacle]:
        release = self.structure.releases[operation.joint]
        if operation.joint in self.released:
            return [Obstacle("gone", (operation.joint,))]
        way, done = self.under_way.get(operation.joint, (operation.way, 0))
        if way != operation.way:
            return [Obstacle("way-taken", (operation.joint,))]
        if done != operation.act:
            return [Obstacle("way-order", (operation.joint,))]
        if operation.act > 0:
            return []
        hiders = [self._hiders(behind, release.of) for behind in (release.behind, release.way_behind[way])
                  if self.open_at(behind, release.of) is NEVER]
        return [Obstacle("hidden", tuple(dict.fromkeys(name for names in hiders for name in names)))] if hiders else []

    def _hiders(self, behind: Alternatives, parts: frozenset[str]) -> tuple[str, ...]:
        """What still hides a thing: of its alternatives, the one with least left to clear."""
        left = [tuple(e.id for e in alternative if self.cleared_at(e, parts) is NEVER) for alternative in behind]
        return min(left, key=len, default=())

    def ready_at(self, operation: Operation) -> int:
        """When all that the operation needs has taken effect, ms. The operation has no obstacles."""
        if operation.part:
            removal = self.structure.removals[operation.part]
            times = [self.released[tie] for tie in removal.ties if tie in self.released]
            return max([self.open_at(removal.behind, frozenset((operation.part,))) or 0, *times])
        release = self.structure.releases[operation.joint]
        if operation.act == 0:
            return max(self.open_at(behind, release.of) or 0
                       for behind in (release.behind, release.way_behind[operation.way]))
        return 0  # the way's own waits are kept by the caller, which knows when the act before ended

    def is_safe(self, done_isolators: set[str]) -> bool:
        return all(any(id_ in done_isolators for id_ in ids) for ids in self.structure.sources.values())

    def apply(self, operation: Operation, end_ms: int = 0, effect_ms: int = 0) -> None:
        """Do the operation, obstacles or not: the log is what was done."""
        if operation.part:
            self.lifted.append((self.assembly(operation.part), end_ms))
            self.removed[operation.part] = end_ms
            return
        ways = self.structure.releases[operation.joint].ways
        self.under_way[operation.joint] = (operation.way, operation.act + 1)
        if operation.way >= len(ways) or operation.act + 1 >= len(ways[operation.way].acts):
            self.released[operation.joint] = effect_ms


@dataclass(frozen=True, slots=True, kw_only=True)
class Timed:
    """An operation of a counted sequence."""

    operation: Operation
    kind: ActKind
    tool: str
    step: int
    start_ms: int
    live: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Count:
    """What a sequence comes to under a convention."""

    timed: tuple[Timed, ...]
    steps: int
    time_ms: int
    live_acts: int
    obstacles: tuple[tuple[int, Obstacle], ...]  # place in the sequence, and why the rules forbid it there


def act_of(structure: Structure, operation: Operation) -> tuple[Way, Act]:
    way = structure.releases[operation.joint].ways[operation.way]
    return way, way.acts[operation.act]


def kind_of(structure: Structure, convention: Convention, times: ActiveTimes, operation: Operation) -> ActKind:
    if operation.part:
        part = structure.removals[operation.part].part
        return convention.kind(tool=part.tool, also=part.also, does=part.does, is_removal=True, side=part.side,
                               active_s=times.removal_s(part.id))
    release = structure.releases[operation.joint]
    _, act = act_of(structure, operation)
    return convention.kind(tool=act.tool, also=act.also, does=act.does, is_removal=False, side=release.joint.side,
                           active_s=times.act_s(operation.joint, operation.way, operation.act), wait_s=act.wait_s)


def tool_of(structure: Structure, operation: Operation) -> str:
    if operation.part:
        return structure.removals[operation.part].part.tool
    return act_of(structure, operation)[1].tool


def is_last_act(structure: Structure, operation: Operation) -> bool:
    return not operation.part and operation.act + 1 == len(act_of(structure, operation)[0].acts)


def count(structure: Structure, convention: Convention, times: ActiveTimes, sequence: Sequence[Operation]) -> Count:
    """Walk a sequence by the plain rules: steps, time, live acts, and every place where the rules forbid it."""
    bench = Bench(structure)
    kinds = [kind_of(structure, convention, times, operation) for operation in sequence]
    numbers, steps = number_steps(kinds)
    timed, obstacles, isolated, way_ready = [], [], set(), {}
    given: dict[str, int] = {}  # heat, solvent: until when, where the two are kept apart
    clock, tool, side = 0, None, None
    previous = None
    for place, (operation, kind, number) in enumerate(zip(sequence, kinds, numbers)):
        found = bench.obstacles(operation)
        if not found and not operation.part and operation.act and act_of(structure, operation)[1].at_once \
                and previous != Operation(operation.joint, operation.way, operation.act - 1):
            found = [Obstacle("way-order", (operation.joint,))]
        obstacles.extend((place, obstacle) for obstacle in found)
        setup = convention.setup_ms(kind, tool, side)
        ready = 0 if found else max(bench.ready_at(operation), way_ready.get(operation.joint, 0))
        start = max(clock + setup, ready, clear_of(given, kind))
        clock = start + kind.active_ms
        if kind.gives:
            given[kind.gives] = max(given.get(kind.gives, 0), clock + kind.wait_ms)
        tool, side = kind.leaves(tool, side)
        live = _counts_as_live(structure, operation) and bool(structure.sources) and not bench.is_safe(isolated)
        timed.append(Timed(operation=operation, kind=kind, tool=tool_of(structure, operation), step=number,
                           start_ms=start, live=live))
        bench.apply(operation, clock, clock + kind.wait_ms)
        if not operation.part:
            way_ready[operation.joint] = clock + kind.wait_ms
        if operation.part or is_last_act(structure, operation):
            isolated.add(operation.part or operation.joint)
        previous = operation
    return Count(timed=tuple(timed), steps=steps, time_ms=clock, live_acts=sum(t.live for t in timed),
                 obstacles=tuple(obstacles))


def clear_of(given: Mapping[str, int], kind: ActKind) -> int:
    """When what must be kept from the act is over, ms."""
    return max((until for what, until in given.items() if what != kind.gives), default=0) if kind.gives else 0


def _counts_as_live(structure: Structure, operation: Operation) -> bool:
    """Whether the operation is one that should only be done dead (a release once, at its first act)."""
    if operation.part:
        return structure.removals[operation.part].needs_safe
    return operation.act == 0 and structure.releases[operation.joint].needs_safe
