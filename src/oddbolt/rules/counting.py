"""What a sequence counts to: how steps are counted, changes of tool and turns charged, live acts found.

The settings are made ready for counting in `Convention`; `count` walks a sequence by the plain rules.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.catalog.policies import gives
from oddbolt.model.things import HAND, Act, Settings
from oddbolt.rules.device_state import DeviceState, Obstacle, Operation, act_of, is_last_act, removes
from oddbolt.rules.structure import Structure
from oddbolt.rules.times import ActiveTimes, Estimate

ANY_SIDE = "any"


def milliseconds(seconds: float) -> int:
    """Times are added as whole milliseconds, so that a bound and a value can be compared exactly."""
    return round(seconds * 1000)


class ActKind(Struct, frozen=True, kw_only=True):
    """What the counting rules need to know of an act."""

    tool_class: str | None  # None: a manual act that is aside
    own_step: bool  # always a step of its own
    extra_steps: int  # further tools at the same time, where each counts
    is_removal: bool  # a part is off with it
    side: str
    active_ms: int
    wait_ms: int = 0
    gives: str = ""  # heat or solvent, where acts that give the one are kept from those that give the other

    def leaves(self, tool: str | None, side: str | None) -> tuple[str | None, str | None]:
        """The tool in hand and the side up after it, from those before it."""
        return (tool if self.tool_class is None else self.tool_class), (side if self.side == ANY_SIDE else self.side)


class Convention:
    """Settings as used; `settings` is what is printed with every result."""

    def __init__(self, settings: Settings, *, keeps_apart: bool = False) -> None:
        """`keeps_apart`: no solvent while heat is on, and no heat while solvent soaks."""
        self.settings = settings
        self.keeps_apart = keeps_apart
        self.tool_change_ms = milliseconds(settings.tool_change_s)
        self.turn_ms = milliseconds(settings.turn_s)
        self._group = {tool: f"group {n}" for n, tools in enumerate(settings.tool_groups) for tool in tools}
        self._own = frozenset(settings.own_step)

    def tool_class(self, tool: str) -> str | None:
        if tool == HAND and not self.settings.hand_is_tool:
            return None
        return self._group.get(tool, tool)

    def setup_ms(self, kind: ActKind, tool: str | None, side: str | None) -> int:
        """The change of tool and the turn before an act; the first tool and the first side cost nothing."""
        change = self.tool_change_ms if kind.tool_class is not None and tool not in (None, kind.tool_class) else 0
        turn = self.turn_ms if kind.side != ANY_SIDE and side not in (None, kind.side) else 0
        return change + turn

    def kind(self, act: Act, *, is_removal: bool, side: str, active_s: float) -> ActKind:
        return ActKind(tool_class=self.tool_class(act.tool), own_step=bool(act.does) and act.does in self._own,
                       extra_steps=len(act.also) if self.settings.each_tool else 0, is_removal=is_removal, side=side,
                       active_ms=milliseconds(active_s), wait_ms=milliseconds(act.wait_s),
                       gives=gives(act.does, act.tool) if self.keeps_apart and not is_removal else "")


def number_steps(kinds: Iterable[ActKind]) -> tuple[list[int], int]:
    """The step each act belongs to, from 1, and the number of steps with further tools counted.

    EN 45554:2020: a step is an operation that finishes with the removal of a part and/or with a change of tool.
    """
    numbers: list[int] = []
    step, is_open, tool, extra = 0, False, None, 0
    for kind in kinds:
        changes = kind.tool_class is not None and tool is not None and kind.tool_class != tool
        if not is_open or changes or kind.own_step:
            step, is_open, tool = step + 1, True, None
        numbers.append(step)
        extra += kind.extra_steps
        if kind.tool_class is not None:
            tool = kind.tool_class
        if kind.is_removal or kind.own_step:
            is_open, tool = False, None
    return numbers, step + extra


class Timed(Struct, frozen=True, kw_only=True):
    """An operation of a counted sequence."""

    operation: Operation
    kind: ActKind
    tool: str
    step: int
    start_ms: int
    live: bool
    known: Estimate  # its active time, with how that is known


class Count(Struct, frozen=True, kw_only=True):
    """What a sequence comes to under a convention."""

    timed: tuple[Timed, ...]
    steps: int
    time_ms: int
    live_acts: int
    obstacles: tuple[tuple[int, Obstacle], ...]  # place in the sequence, and why the rules forbid it there


def kind_of(structure: Structure, convention: Convention, times: ActiveTimes, operation: Operation) -> ActKind:
    act = act_of(structure, operation)
    if operation.part:
        return convention.kind(act, is_removal=removes(structure, operation),
                               side=structure.removals[operation.part].part.side,
                               active_s=times.removal_s(operation.part, operation.act))
    return convention.kind(act, is_removal=False, side=structure.releases[operation.joint].joint.side,
                           active_s=times.act_s(operation.joint, operation.way, operation.act))


def count(structure: Structure, convention: Convention, times: ActiveTimes, sequence: Sequence[Operation],
          kinds: Sequence[ActKind] | None = None) -> Count:
    """Walk a sequence by the plain rules: steps, time, live acts, and every place where the rules forbid it. `kinds` of
    its operations, where they are known."""
    state = DeviceState(structure)
    kinds = kinds or [kind_of(structure, convention, times, operation) for operation in sequence]
    numbers, steps = number_steps(kinds)
    timed, obstacles, isolated, way_ready = [], [], set(), {}
    given: dict[str, int] = {}  # heat, solvent: until when, where the two are kept apart
    clock, tool, side = 0, None, None
    previous = None
    for place, (operation, kind, number) in enumerate(zip(sequence, kinds, numbers)):
        found = state.obstacles(operation)
        if not found and operation.act and (operation.part or act_of(structure, operation).at_once) \
                and previous != replace(operation, act=operation.act - 1):
            found = [Obstacle("way-order", (operation.part or operation.joint,))]
        obstacles.extend((place, obstacle) for obstacle in found)
        setup = convention.setup_ms(kind, tool, side)
        thing = operation.part or operation.joint
        ready = 0 if found else max(state.ready_at(operation), way_ready.get(thing, 0))
        start = max(clock + setup, ready, clear_of(given, kind))
        clock = start + kind.active_ms
        if kind.gives:
            given[kind.gives] = max(given.get(kind.gives, 0), clock + kind.wait_ms)
        tool, side = kind.leaves(tool, side)
        live = _counts_as_live(structure, operation) and bool(structure.sources) and not state.is_safe(isolated)
        timed.append(Timed(operation=operation, kind=kind, tool=act_of(structure, operation).tool, step=number,
                           start_ms=start, live=live, known=time_known(times, operation)))
        state.apply(operation, clock + kind.wait_ms)
        way_ready[thing] = clock + kind.wait_ms
        if is_last_act(structure, operation):
            isolated.add(thing)
        previous = operation
    return Count(timed=tuple(timed), steps=steps, time_ms=clock, live_acts=sum(t.live for t in timed),
                 obstacles=tuple(obstacles))


def time_known(times: ActiveTimes, operation: Operation) -> Estimate:
    """The active time of an operation, with how it is known."""
    if operation.part:
        return times.removal(operation.part, operation.act)
    return times.act(operation.joint, operation.way, operation.act)


def clear_of(given: Mapping[str, int], kind: ActKind) -> int:
    """When what must be kept from the act is over, ms."""
    return max((until for what, until in given.items() if what != kind.gives), default=0) if kind.gives else 0


def _counts_as_live(structure: Structure, operation: Operation) -> bool:
    """Whether the operation is one that should only be done dead (a release, or a lift, once, at its first act)."""
    thing = structure.removals[operation.part] if operation.part else structure.releases[operation.joint]
    return operation.act == 0 and thing.needs_safe
