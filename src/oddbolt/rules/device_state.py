"""The plain rules, one operation at a time: what may be done next.

This follows the words of docs/format.md literally (assemblies as they are at the moment of lifting) and knows nothing
of the search. Every plan is replayed here before anyone sees it, and so is the log.
"""

from __future__ import annotations

from collections.abc import Iterable, Set

from msgspec import Struct, field

from oddbolt.model.things import Act, Way
from oddbolt.rules.structure import Alternatives, Entry, Structure

NEVER = None


class Operation(Struct, frozen=True):
    """One act of a joint's way, or (joint empty) of the lift of a part, which is off with the last of them."""

    joint: str = ""
    way: int = 0
    act: int = 0
    part: str = ""


class Obstacle(Struct, frozen=True):
    """Why an operation may not be done now."""

    code: str  # hidden, tied, way-order, way-taken, gone, unknown
    things: tuple[str, ...]


class DeviceState(Struct):
    """The state of the device on the mat, by the plain rules."""

    structure: Structure
    removed: dict[str, int] = field(default_factory=dict)  # part -> time it was out, ms
    lifted: list[tuple[frozenset[str], int]] = field(default_factory=list)  # assemblies lifted, with the time
    released: dict[str, int] = field(default_factory=dict)  # joint -> time its release took effect, ms
    under_way: dict[str, tuple[int, int]] = field(default_factory=dict)  # joint or part -> (way, acts done)
    lifted_by: list[str] = field(default_factory=list)  # for each assembly lifted, the part that was taken off
    single: dict[str, frozenset[int]] = field(default_factory=dict)  # joint -> screws that are not as the others

    def copy(self, structure: Structure | None = None) -> DeviceState:
        """The same state, to go on from; on a structure in which every joint and part moves as it did, where one is
        given."""
        return DeviceState(structure or self.structure, removed=dict(self.removed), lifted=list(self.lifted),
                           released=dict(self.released), under_way=dict(self.under_way),
                           lifted_by=list(self.lifted_by), single=dict(self.single))

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
        return self._lift_obstacles(operation) if operation.part else self._act_obstacles(operation)

    def obstacles_of(self, thing: str) -> list[Obstacle]:
        """Why a part may not be lifted now, or a joint not be released: of its ways, by the one with fewest. Empty for
        what cannot be moved at all."""
        if thing in self.structure.removals:
            return self.obstacles(Operation(part=thing))
        if thing in self.structure.releases:
            ways = range(len(self.structure.releases[thing].ways))
            return min((self.obstacles(Operation(thing, way, 0)) for way in ways), key=len)
        return []

    def _lift_obstacles(self, operation: Operation) -> list[Obstacle]:
        part = operation.part
        if part in self.removed:
            return [Obstacle("gone", (part,))]
        if self.under_way.get(part, (0, 0))[1] != operation.act:
            return [Obstacle("way-order", (part,))]
        if operation.act > 0:
            return []
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
            if operation.act > 0:
                return 0
            removal = self.structure.removals[operation.part]
            times = [self.released[tie] for tie in removal.ties if tie in self.released]
            return max([self.open_at(removal.behind, frozenset((operation.part,))) or 0, *times])
        release = self.structure.releases[operation.joint]
        if operation.act == 0:
            return max(self.open_at(behind, release.of) or 0
                       for behind in (release.behind, release.way_behind[operation.way]))
        return 0  # the way's own waits are kept by the caller, which knows when the act before ended

    def is_safe(self, done_isolators: Set[str]) -> bool:
        return all(any(id_ in done_isolators for id_ in ids) for ids in self.structure.sources.values())

    def apply(self, operation: Operation, effect_ms: int = 0) -> None:
        """Do the operation, obstacles or not: the log is what was done."""
        if operation.part:
            part = operation.part
            if operation.act + 1 < len(self.structure.removals[part].acts):
                self.under_way[part] = (0, operation.act + 1)
                return
            self.under_way.pop(part, None)
            self.lifted.append((self.assembly(part), effect_ms))
            self.lifted_by.append(part)
            self.removed[part] = effect_ms
            return
        ways = self.structure.releases[operation.joint].ways
        self.under_way[operation.joint] = (operation.way, operation.act + 1)
        if operation.way >= len(ways) or operation.act + 1 >= len(ways[operation.way].acts):
            self.released[operation.joint] = effect_ms


    def put_back(self, thing: str) -> None:
        """A part lies where it belongs again, a joint holds again."""
        self.released.pop(thing, None)
        self.under_way.pop(thing, None)
        if self.removed.pop(thing, None) is not None:
            kept = [n for n, part in enumerate(self.lifted_by) if part != thing]
            self.lifted, self.lifted_by = [self.lifted[n] for n in kept], [self.lifted_by[n] for n in kept]

    def turn_single(self, joint: str, places: Iterable[int], *, out: bool) -> bool:
        """Single screws of a group come out or go in; whether the group is now as these are: all out, or all in."""
        is_out = joint in self.released
        if is_out == out:  # they come to be as the others are
            self.single[joint] = self.single.get(joint, frozenset()).difference(places)
            return False
        self.single[joint] = self.single.get(joint, frozenset()).union(places)
        count = self.structure.joint[joint].count
        if count is None or len(self.single[joint]) < count:
            return False
        del self.single[joint]
        return True


def apply_whole(state: DeviceState, thing: str, way: int = 0) -> None:
    """Lift a part, or release a joint by all acts of a way, whatever stands in the way of it."""
    for operation in whole(state.structure, thing, way):
        state.apply(operation)


def whole(structure: Structure, thing: str, way: int = 0) -> list[Operation]:
    """All acts of a lift, or of a way of a joint."""
    if thing in structure.removals:
        return [Operation(part=thing, act=act) for act in range(len(structure.removals[thing].acts))]
    return [Operation(joint=thing, way=way, act=act) for act in range(len(structure.releases[thing].ways[way].acts))]


def way_of(structure: Structure, operation: Operation) -> Way:
    """The way that an act of a joint belongs to."""
    return structure.releases[operation.joint].ways[operation.way]


def acts_with(structure: Structure, operation: Operation) -> tuple[Act, ...]:
    """All acts of the way, or of the lift, that an operation belongs to."""
    return structure.removals[operation.part].acts if operation.part else way_of(structure, operation).acts


def act_of(structure: Structure, operation: Operation) -> Act:
    return acts_with(structure, operation)[operation.act]


def is_last_act(structure: Structure, operation: Operation) -> bool:
    """Whether the joint is released, or the part off, with it."""
    return operation.act + 1 == len(acts_with(structure, operation))


def releases(structure: Structure, operation: Operation) -> bool:
    """Whether a joint is released with it."""
    return not operation.part and is_last_act(structure, operation)


def removes(structure: Structure, operation: Operation) -> bool:
    """Whether a part is off with it."""
    return bool(operation.part) and is_last_act(structure, operation)
