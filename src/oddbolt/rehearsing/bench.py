"""A recorded device taken apart by a learner: each choice is judged by the rules of access at the moment it is made."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct

from oddbolt.model.things import HAND
from oddbolt.rules.counting import Count, count
from oddbolt.rules.device_state import DeviceState, Operation, whole
from oddbolt.search.planner import Planner

# What a choice can be. Those of STOPPED are not carried out.
FINE, LIVE, NEEDLESS, HIDDEN, TORN, GONE, TOOL, UNKNOWN = (
    "fine", "live", "needless", "hidden", "torn", "gone", "tool", "unknown")
STOPPED = (HIDDEN, TORN, GONE, TOOL, UNKNOWN)
DEGREES = 3  # of hints: how many things help now; two of which one does; the thing and its tool


class Judged(Struct, frozen=True, kw_only=True):
    """What a choice of a thing with a tool was."""

    thing: str
    tool: str
    codes: tuple[str, ...]
    things: tuple[str, ...] = ()  # what is in the way, or would be torn
    tools: tuple[str, ...] = ()  # those it is undone with
    hazards: tuple[str, ...] = ()

    @property
    def is_done(self) -> bool:
        return not any(code in STOPPED for code in self.codes)


class Hint(Struct, frozen=True, kw_only=True):
    """`things` are two of which one helps, or the one with its `tool`; `number` of things that help now."""

    degree: int
    number: int
    things: tuple[str, ...] = ()
    tool: str = ""


class Marks(Struct, frozen=True, kw_only=True):
    """How it went: what was done against the best, and what went wrong by kind."""

    steps: int
    best: int
    live: int
    best_live: int
    needless: int
    torn: int
    wrong_tool: int
    too_early: int
    hints: int
    is_there: bool


class Rehearsal:
    """The way to one part of a device as it is closed."""

    def __init__(self, planner: Planner, target: str) -> None:
        """Raises KeyError where there is no such part; one that never comes off can be tried all the same."""
        self.planner, self.target = planner, target
        self._structure = planner.structure
        self._carrier = self._structure.stand_in[target]
        self.best = planner.plan([target])
        self._best_way = {operation.joint: operation.way for operation in self.best.sequence if operation.joint}
        self.state = DeviceState(self._structure)
        self.done: list[Operation] = []
        self.judged: list[Judged] = []
        self.hints = 0
        self._helpful = planner.helpful_things(target) | {self._carrier}

    # -- choosing

    @property
    def things(self) -> list[str]:
        """Everything that is still in place and could be moved at some time."""
        return [thing for thing in (*self._structure.releases, *self._structure.removals)
                if self.state.is_in_place(thing)]

    def tools_of(self, thing: str) -> tuple[str, ...]:
        """With what a thing is undone: of each way the tool of its last act; a part by what it is lifted with."""
        removal = self._structure.removals.get(thing)
        if removal is not None:
            return (removal.acts[-1].tool,)
        return tuple(dict.fromkeys(way.acts[-1].tool for way in self._structure.releases[thing].ways))

    def choose(self, thing: str, tool: str = HAND) -> Judged:
        """Try to undo a thing with a tool; it is carried out unless it cannot be."""
        found = self._judge(thing, tool)
        self.judged.append(found)
        if found.is_done:
            for operation in self._operations(thing, tool):
                self.state.apply(operation)
                self.done.append(operation)
        return found

    def _judge(self, thing: str, tool: str) -> Judged:
        if thing not in self._structure.releases and thing not in self._structure.removals:
            return Judged(thing=thing, tool=tool, codes=(UNKNOWN,))
        tools = self.tools_of(thing)
        if not self.state.is_in_place(thing):
            return Judged(thing=thing, tool=tool, codes=(GONE,), tools=tools)
        obstacles = self.state.obstacles_of(thing)
        tied = tuple(one for obstacle in obstacles if obstacle.code == "tied" for one in obstacle.things)
        hidden = tuple(one for obstacle in obstacles if obstacle.code != "tied" for one in obstacle.things)
        if tied or hidden:  # what is tied and not hidden would be torn off
            return Judged(thing=thing, tool=tool, codes=(HIDDEN,) if hidden else (TORN,), things=hidden or tied,
                          tools=tools)
        if tool not in tools:
            return Judged(thing=thing, tool=tool, codes=(TOOL,), tools=tools)
        operations = self._operations(thing, tool)
        codes = [LIVE] if self._is_live(operations) else []
        codes += [NEEDLESS] if thing not in self._helpful else []
        return Judged(thing=thing, tool=tool, codes=tuple(codes) or (FINE,), tools=tools,
                      hazards=self._hazards(thing, operations))

    def _operations(self, thing: str, tool: str) -> list[Operation]:
        """Of several ways that end with the tool that of the best sequence, or else the first of the fewest acts."""
        if thing in self._structure.removals:
            return whole(self._structure, thing)
        ways = self._structure.releases[thing].ways
        with_it = [n for n, one in enumerate(ways) if one.acts[-1].tool == tool] or [0]
        way = min(with_it, key=lambda n: (n != self._best_way.get(thing), len(ways[n].acts)))
        return whole(self._structure, thing, way)

    def _is_live(self, operations: Sequence[Operation]) -> bool:
        counted = self._count([*self.done, *operations])
        return any(timed.live for timed in counted.timed[len(self.done):])

    def _hazards(self, thing: str, operations: Sequence[Operation]) -> tuple[str, ...]:
        if thing in self._structure.removals:
            return self._structure.removals[thing].part.hazards
        return self._structure.releases[thing].ways[operations[0].way].hazards

    def _count(self, operations: Sequence[Operation]) -> Count:
        return count(self._structure, self.planner.convention, self.planner.times, operations)

    # -- helping and marking

    def helping(self) -> list[str]:
        """Of the best way what can be done now, in its order. What was done besides never closes it."""
        free = []
        for operation in self.best.sequence:
            thing = operation.part or operation.joint
            if self.state.is_in_place(thing) and thing not in free and not self.state.obstacles_of(thing):
                free.append(thing)
        return free

    def hint(self, degree: int) -> Hint:
        """By degrees, from 1; each counts."""
        self.hints += 1
        free = self.helping()
        if not free or degree <= 1:
            return Hint(degree=1, number=len(free))
        if degree == 2:
            others = [thing for thing in self.things if thing not in free and self.state.obstacles_of(thing)]
            pair = (free[0], others[len(self.done) % len(others)]) if others else (free[0],)
            return Hint(degree=2, number=len(free), things=tuple(sorted(pair)))
        way = next(op for op in self.best.sequence if (op.part or op.joint) == free[0])
        tool = self.tools_of(free[0])[0] if way.part else self._structure.releases[free[0]].ways[way.way].acts[-1].tool
        return Hint(degree=3, number=len(free), things=(free[0],), tool=tool)

    @property
    def is_there(self) -> bool:
        """Whether the part is off."""
        return not self.state.is_in_place(self._carrier)

    def marks(self) -> Marks:
        counted = self._count(self.done)
        often = [code for one in self.judged for code in one.codes]
        best = self.best.count
        return Marks(steps=counted.steps, best=best.steps if best is not None else 0, live=counted.live_acts,
                     best_live=best.live_acts if best is not None else 0, needless=often.count(NEEDLESS),
                     torn=often.count(TORN), wrong_tool=often.count(TOOL), too_early=often.count(HIDDEN),
                     hints=self.hints, is_there=self.is_there)
