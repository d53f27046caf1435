"""Least busy time: acts, changes of tool and turns, as if every wait were over at once.

Nothing can be quicker than that, so it bounds the least time from below; and an order found here that never stands idle
is the quickest there is. Without waits two things hold that fail with them: leaving units out of a continuation never
costs, and a required unit at hand that needs no change may be done at once (both need changes that obey the triangle
inequality, which one fixed cost for a change and one for a turn does).
"""

from __future__ import annotations

import heapq
from collections.abc import Callable, Iterator
from functools import reduce
from operator import or_

from oddbolt.conditions.case import Case
from oddbolt.conditions.chains import Chains
from oddbolt.conditions.frontier import Frontier
from oddbolt.conditions.network import bits
from oddbolt.rules.counting import ANY_SIDE, ActKind
from oddbolt.search.fewest_steps import SearchResult

State = tuple[int, str | None, str | None]  # done units, tool in hand, side up; the last two None at first
START: State = (0, None, None)
WIDER = 64  # sets that a new one of the same tool and side is compared with


class Burden:
    """Busy time that any continuation still needs at least, ms.

    The lengths of all required units left; of a joint with several ways the shortest; a change of tool for each run of
    a tool that is forced on the longest chain of its units, and a turn likewise.
    """

    def __init__(self, case: Case) -> None:
        convention = case.network.convention
        self.change_ms, self.turn_ms = convention.tool_change_ms, convention.turn_ms
        self.case = case
        self.length = {n: _length(kinds) for n, kinds in case.kinds.items()}
        # A change inside a joined run may pass within its waits and leave a tool in hand: such tools are not counted.
        inner = {kind.tool_class for kinds in case.kinds.values() for kind in kinds[1:]}
        by_tool = self._chains(lambda kind: kind.tool_class)
        self._tools = {tool: chains for tool, chains in by_tool.items() if tool not in inner}
        self._sides = self._chains(lambda kind: None if kind.side == ANY_SIDE else kind.side)
        self._ways = self._shortest_ways()
        self._runs_on: dict[tuple[int, str], bool] = {}
        self._known: dict[int, tuple[int, frozenset[str], frozenset[str]]] = {}

    def _chains(self, key_of: Callable[[ActKind], str | None]) -> dict[str, Chains]:
        """Chains of required units by what their acts ask for; units that ask for another part them."""
        case = self.case
        of_key: dict[str, int] = {}
        for n in bits(case.required):
            for key in map(key_of, case.kinds[n]):
                if key is not None:
                    of_key[key] = of_key.get(key, 0) | 1 << n
        everything = reduce(or_, of_key.values(), 0)
        return {key: Chains(case, mask, everything & ~mask) for key, mask in of_key.items()}

    def _shortest_ways(self) -> list[list[int]]:
        """For each joint that must be released, in one of several ways, the units of each of these ways."""
        case, units = self.case, self.case.network.units
        masks = set(case.goal.anys)
        for n in bits(case.required):
            masks.update(case.conditions[n].anys)
        found: dict[str, list[int]] = {}
        for mask in masks:
            joints = {units[n].joint for n in bits(mask)}
            if len(joints) == 1 and "" not in joints and not mask & case.required:
                (joint,) = joints
                found[joint] = [sum(1 << m for m in bits(case.must[n] & ~case.required) if units[m].joint == joint)
                                for n in bits(mask)]
        return list(found.values())

    def left(self, state: State) -> int:
        """From after the units done, with a tool in hand and a side up; changes and turns included."""
        done, tool, side = state
        known = self._known.get(done)
        if known is None:
            known = self._known[done] = self._from(done)
        work, tools, sides = known
        if tools and (tool is None or tool in tools and self._goes_on(done, tool, self._tools)):
            work -= self.change_ms
        if sides and (side is None or side in sides and self._goes_on(done, side, self._sides)):
            work -= self.turn_ms
        return work

    def _goes_on(self, done: int, key: str, chains_of: dict[str, Chains]) -> bool:
        """Whether the tool in hand, or the side up, may serve the first run of its chains."""
        known = self._runs_on.get((done, key))
        if known is None:
            known = self._runs_on[done, key] = chains_of[key].goes_on(self.case.required & ~done)
        return known

    def _from(self, done: int) -> tuple[int, frozenset[str], frozenset[str]]:
        todo = self.case.required & ~done
        work = sum([self.length[n] for n in bits(todo)])
        for ways in self._ways:
            work += min([sum([self.length[n] for n in bits(way & ~done)]) for way in ways])
        tools, sides = [], []
        for chains_of, cost, left in ((self._tools, self.change_ms, tools), (self._sides, self.turn_ms, sides)):
            for key, chains in chains_of.items():
                mine = chains.mine & todo
                if mine:
                    left.append(key)
                    runs = chains.known.get(mine)
                    work += cost * (chains.longest(mine) if runs is None else runs)
        return work, frozenset(tools), frozenset(sides)


def _length(kinds: tuple[ActKind, ...]) -> int:
    """The least time that a unit keeps the analyst, ms: its acts, and the waits between joined ones."""
    return sum(kind.active_ms for kind in kinds) + sum(kind.wait_ms for kind in kinds[:-1])


class BusySearch:
    """A* over done units, tool in hand and side up."""

    def __init__(self, case: Case, burden: Burden) -> None:
        self.case = case
        self.burden = burden
        self.kinds = case.kinds
        self.fronts = Frontier(case)
        self._free_in: dict[tuple[str | None, str | None], int] = {}

    def _free(self, tool: str | None, side: str | None) -> int:
        """Required units of one act that need no change and no turn, and commit to none."""
        mask = self._free_in.get((tool, side))
        if mask is None:
            mask = 0
            for n in bits(self.case.required):
                kind = self.kinds[n][0]
                if len(self.kinds[n]) == 1 and kind.tool_class in (None, tool) and kind.side in (ANY_SIDE, side):
                    mask |= 1 << n
            self._free_in[tool, side] = mask
        return mask

    def _at_once(self, state: State) -> Iterator[int]:
        """Units done at once, in the order they open, preferred ones first."""
        done, tool, side = state
        free, fronts = self._free(tool, side), self.fronts
        while at_hand := fronts.of[done] & free:
            n = (at_hand & -at_hand).bit_length() - 1
            done = fronts.after(done, n)
            yield n

    def do(self, state: State, n: int) -> tuple[State, int]:
        """The state after a unit at hand and all that is then done at once, and the busy time of it."""
        done, tool, side = state
        spent = 0
        before = 0
        for kind in self.kinds[n]:
            setup = self.case.network.convention.setup_ms(kind, tool, side)
            spent += max(setup, before) + kind.active_ms  # a change passes within the wait of a joined act
            before = kind.wait_ms
            tool, side = kind.leaves(tool, side)
        done = self.fronts.after(done, n)
        for m in self._at_once((done, tool, side)):
            done |= 1 << m
            spent += self.burden.length[m]
        return (done, tool, side), spent

    def moves(self, state: State) -> Iterator[int]:
        """Units to go on with; of required ones that lead to the same tool and side the first alone."""
        front = self.fronts.of[state[0]]
        seen = set()
        for n in bits(front):
            if self.case.required >> n & 1 and len(self.kinds[n]) == 1:
                kind = self.kinds[n][0]
                key = kind.leaves(state[1], state[2])
                if key in seen:
                    continue
                seen.add(key)
            yield n

    def run(self, limit: int, budget: int) -> SearchResult:
        """The least busy time below `limit` ms; without an order the bound says how far it is proven."""
        start, spent = START, 0
        first = []
        for n in self._at_once(start):
            start = (start[0] | 1 << n, None, None)
            spent += self.burden.length[n]
            first.append(n)
        cost = {start: spent}
        came: dict[State, tuple[State, int]] = {}
        heap: list[tuple[int, int, int, State]] = [(spent + self.burden.left(start), 0, 0, start)]
        expanded: dict[tuple[str | None, str | None], list[tuple[int, int]]] = {}
        tick = expansions = 0
        while heap:
            estimate, _, _, state = heapq.heappop(heap)
            value = cost[state]
            if estimate > value + self.burden.left(state):
                continue
            if estimate >= limit:
                return SearchResult(value=None, bound=limit, order=None, expansions=expansions)
            if self.case.goal.holds(state[0]):
                return SearchResult(value=value, bound=value, order=first + self._order(state, came),
                                    expansions=expansions)
            if self._is_within(state[0], value, expanded.setdefault(state[1:], [])):
                continue
            if expansions >= budget:
                return SearchResult(value=None, bound=estimate, order=None, expansions=expansions)
            expansions += 1
            if not expansions & 15:
                self.case.network.go_on()
            for n in self.moves(state):
                after, spent = self.do(state, n)
                if value + spent < cost.get(after, 1 << 60):
                    cost[after] = value + spent
                    came[after] = (state, n)
                    tick += 1
                    heapq.heappush(heap, (value + spent + self.burden.left(after), -after[0].bit_count(), tick, after))
        return SearchResult(value=None, bound=limit, order=None, expansions=expansions)

    @staticmethod
    def _is_within(done: int, value: int, wider: list[tuple[int, int]]) -> bool:
        """Whether another state with the same tool and side had all of this one done, no later."""
        if any(other_value <= value and done & ~other == 0 for other, other_value in wider):
            return True
        if len(wider) < WIDER:
            wider.append((done, value))
        return False

    def _order(self, state: State, came: dict[State, tuple[State, int]]) -> list[int]:
        moves = []
        while state in came:
            state, n = came[state]
            moves.append((state, n))
        order: list[int] = []
        for before, n in reversed(moves):
            done, tool, side = before
            for kind in self.kinds[n]:
                tool, side = kind.leaves(tool, side)
            order.append(n)
            order.extend(self._at_once((done | 1 << n, tool, side)))
        return order
