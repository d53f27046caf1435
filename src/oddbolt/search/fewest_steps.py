"""Fewest steps: A* over sets of done units, one block (a run of one tool, capped by at most one removal) at a time.

Why this is exact (docs/methods/planning.md has the proofs in words):
- A sequence has as many steps as the least number of blocks it can be cut into.
- Doing more never costs later: leaving units out of a continuation keeps its blocks valid. So a block may always take
  every unit it can (of its tool, and manual ones aside) and, if any removal is at hand, exactly one.
- An act that is always a step of its own and is required may be done as soon as a step has ended.
- Each tool needs at least as many blocks as it has removals left, and as the longest chain of its units that must lie
  in different blocks; each removal left needs a block. These bounds add up where their blocks cannot be the same.
"""

from __future__ import annotations

import heapq
from collections.abc import Callable, Iterator

from msgspec import Struct

from oddbolt.conditions.case import Case
from oddbolt.conditions.chains import Chains
from oddbolt.conditions.frontier import Frontier
from oddbolt.conditions.network import bits
from oddbolt.rules.counting import ActKind

WIDER = 64  # sets of equal steps that a new one is compared with
CLOSED = "|"  # between two steps; a tool class (or None for manual acts only) says that a step of that tool is open
Open = str | None
Node = tuple[int, Open]
Move = tuple[Node, int, tuple[Open, int | None]]  # where to, steps begun, how: tool of the run and the unit after it


class SearchResult(Struct, frozen=True, kw_only=True):
    """What a search came to. `order` is None when nothing below the given limit was found."""

    value: int | None
    bound: int
    order: list[int] | None
    expansions: int


def walk(kinds: tuple[ActKind, ...], at: Open) -> tuple[int, Open]:
    """Steps begun by acts done one after another from an open or closed step, and how that leaves the step."""
    begun = 0
    for kind in kinds:
        if at == CLOSED or kind.own_step or (kind.tool_class is not None and at not in (None, kind.tool_class)):
            begun, at = begun + 1, None
        if kind.tool_class is not None:
            at = kind.tool_class
        if kind.own_step or kind.is_removal:
            at = CLOSED
    return begun, at


class StepSearch:
    """The search for one case, with all ways fixed or chosen inside (`case.choosable_inside`)."""

    def __init__(self, case: Case) -> None:
        self.case = case
        self.kinds = case.kinds
        self.extra = sum(kind.extra_steps for kinds in self.kinds.values() for kind in kinds)
        self.removals = self._mask(lambda kinds: len(kinds) == 1 and kinds[0].is_removal)  # in one act
        self.own = self._mask(lambda kinds: len(kinds) == 1 and kinds[0].own_step)
        self.joined = self._mask(lambda kinds: len(kinds) > 1)
        plain = case.units & ~self.own & ~self.joined
        self.of_tool: dict[Open, int] = {None: 0}
        for n in bits(plain):
            tool = self.kinds[n][0].tool_class
            self.of_tool[tool] = self.of_tool.get(tool, 0) | 1 << n
        for n in bits(self.joined):
            for kind in self.kinds[n]:
                self.of_tool.setdefault(kind.tool_class, 0)
        self.tools = [tool for tool in self.of_tool if tool is not None]
        manual = self.of_tool[None]
        self.runs = {tool: (mask | manual) & ~self.removals for tool, mask in self.of_tool.items()}
        self.caps = {tool: (mask | manual) & self.removals for tool, mask in self.of_tool.items()}
        self.fronts = Frontier(case)
        self.forced = self._forced_blocks()
        self.joined_steps = {n: (self._inner_steps(self.kinds[n]), self._uncapped_steps(self.kinds[n]))
                             for n in bits(self.joined & case.required)}

    def _mask(self, has: Callable[[tuple[ActKind, ...]], bool]) -> int:
        return sum(1 << n for n, kinds in self.kinds.items() if has(kinds))

    # -- the bound

    def _forced_blocks(self) -> list[tuple[Open, int, Chains]]:
        """Each tool with its required removals and the chains of its required units that lie in different blocks."""
        required = self.case.required
        found = []
        for tool in self.tools:
            mine = self.of_tool[tool] & required
            breakers = required & ~mine & ~(self.of_tool[None] & ~self.removals) & ~self.joined | mine & self.removals
            if mine:
                found.append((tool, mine & self.removals, Chains(self.case, mine, breakers, parting=self.removals)))
        return found

    @staticmethod
    def _inner_steps(kinds: tuple[ActKind, ...]) -> int:
        """Steps of a joined run that it shares with nothing before or after it."""
        steps, _ = walk(kinds, CLOSED)
        shared_first = not kinds[0].own_step
        shared_last = not kinds[-1].own_step and steps > shared_first
        return steps - shared_first - shared_last

    @staticmethod
    def _uncapped_steps(kinds: tuple[ActKind, ...]) -> int:
        """Steps that end within a joined run, or with it for good, and so without a removal."""
        steps, after = walk(kinds, CLOSED)
        return steps - (after != CLOSED)

    def left(self, done: int, at: Open = CLOSED) -> int:
        """A number of steps that any continuation needs at least; an open step is charged already.

        The open step may be one of the blocks of its tool (of any tool, while its acts are manual) where it can take
        what begins the longest chains, and one of those that removals and joined runs end; it is none of the others.
        """
        todo = self.case.required & ~done
        if not todo:
            return 0
        tooled, served = 0, 0
        for tool, removals, chains in self.forced:
            of_tool = todo & chains.mine
            chain = chains.known.get(of_tool)
            if chain is None:
                chain = chains.longest(of_tool)
            removed = (removals & of_tool).bit_count()
            blocks = max(chain, removed)
            tooled += blocks
            if blocks and at in (tool, None):
                served = max(served, blocks - max(chain - chains.goes_on(todo), removed - 1))
        capped = (self.removals & ~self.own & todo).bit_count()
        for n, (inner, uncapped) in self.joined_steps.items():
            if todo >> n & 1:
                tooled += inner
                capped += uncapped
        if at != CLOSED:
            tooled, capped = tooled - served, capped - (capped > 0)
        return max(tooled, capped) + (self.own & todo).bit_count()

    # -- moves

    def _close(self, done: int, tool: Open) -> Iterator[int]:
        """Units of a run in the order they open, preferred ones first; acts of this tool or manual ones aside."""
        run, front = self.runs[tool], self.fronts.of[done]
        while at_hand := front & run:
            bit = at_hand & -at_hand
            done |= bit
            n = bit.bit_length() - 1
            front = front ^ bit | self.fronts.opened(n, done)
            yield n
        self.fronts.of[done] = front

    def _closed(self, done: int, tool: Open) -> int:
        for n in self._close(done, tool):
            done |= 1 << n
        return done

    def moves(self, node: Node) -> list[Move]:
        done, at = node
        if at not in (CLOSED, None):
            return self._go_on(self._closed(done, at), done, at, 0)
        if at is None:  # manual acts so far: any tool may still join them
            return [move for tool, closed in self._tools_at_hand(done) for move in self._go_on(closed, done, tool, 0)]
        own = self.fronts.of[done] & self.own
        for n in bits(own & self.case.required):
            return [((self.fronts.after(done, n), CLOSED), 1, (CLOSED, n))]
        found: list[Move] = [((self.fronts.after(done, n), CLOSED), 1, (CLOSED, n)) for n in bits(own)]
        for n in bits(self.fronts.of[done] & self.joined):
            begun, after = walk(self.kinds[n], CLOSED)
            found.append(((self.fronts.after(done, n), after), begun, (CLOSED, n)))
        for tool, closed in self._tools_at_hand(done):
            found.extend(self._go_on(closed, done, tool, 1))
        return found

    def _tools_at_hand(self, done: int) -> list[tuple[Open, int]]:
        """Tools with something to do once manual acts have done what they can, each with all that its run can do.

        None at all leaves the bare hand.
        """
        manual = self._closed(done, None)
        front = self.fronts.of[manual]
        # A joined run may begin by hand and go on with a tool: the step it begins in may be of that tool or of none.
        joined = {kind.tool_class for n in bits(front & self.joined) for kind in self.kinds[n]}
        found: list[tuple[Open, int]] = [(tool, self._closed(manual, tool)) for tool in self.tools
                                         if front & self.of_tool[tool] or tool in joined]
        return found if found and None not in joined else [*found, (None, manual)]

    def _go_on(self, closed: int, start: int, tool: Open, begun: int) -> list[Move]:
        """What can end an open step, or begin the next within a joined run; `begun` steps are charged for it."""
        if self.case.goal.holds(closed):
            return [((closed, CLOSED), begun, (tool, None))]
        front = self.fronts.of[closed]
        found: list[Move] = [((self.fronts.after(closed, n), CLOSED), begun, (tool, n))
                             for n in bits(front & self.caps[tool])]
        if not found and (closed != start or not begun):
            found.append(((closed, CLOSED), begun, (tool, None)))
        if closed != start or not begun:
            for n in bits(front & self.joined):
                more, after = walk(self.kinds[n], tool)
                found.append(((self.fronts.after(closed, n), after), begun + more, (tool, n)))
        return found

    # -- the search

    def run(self, limit: int | None, budget: int) -> SearchResult:
        """Least steps below `limit` (None: no limit) within a number of expansions."""
        start: Node = (0, CLOSED)
        base = self.extra
        best_bound = base + self.left(0)
        if limit is not None and best_bound >= limit:
            return SearchResult(value=None, bound=best_bound, order=None, expansions=0)
        cost = {start: base}
        came: dict[Node, tuple[Node, tuple[Open, int | None]]] = {}
        heap: list[tuple[int, int, int, Node]] = [(best_bound, 0, 0, start)]
        tick = expansions = 0
        expanded: dict[int, list[int]] = {}  # by steps begun, some of the sets expanded between two steps
        while heap:
            estimate, _, _, node = heapq.heappop(heap)
            value = cost[node]
            if estimate > value + self.left(*node):
                continue  # reached more cheaply since
            if limit is not None and estimate >= limit:
                return SearchResult(value=None, bound=estimate, order=None, expansions=expansions)
            if self.case.goal.holds(node[0]):
                return SearchResult(value=value, bound=value, order=self._order(node, came), expansions=expansions)
            if node[1] == CLOSED and self._is_within(node[0], expanded.setdefault(value, [])):
                continue
            if expansions >= budget:
                return SearchResult(value=None, bound=estimate, order=None, expansions=expansions)
            expansions += 1
            if not expansions & 15:
                self.case.network.go_on()
            for after, steps, how in self.moves(node):
                if value + steps < cost.get(after, 1 << 30):
                    cost[after] = value + steps
                    came[after] = (node, how)
                    tick += 1
                    heapq.heappush(heap, (value + steps + self.left(*after), -after[0].bit_count(), tick, after))
        return SearchResult(value=None, bound=1 << 30, order=None, expansions=expansions)

    @staticmethod
    def _is_within(done: int, wider: list[int]) -> bool:
        """Whether another set reached in as many steps has all of this one, and so costs no more from there."""
        if any(done & ~other == 0 for other in wider):
            return True
        if len(wider) < WIDER:
            wider.append(done)
        return False

    def dive(self, width: int) -> SearchResult:
        """A good sequence quickly, with no claim: the best few nodes of each round are kept (beam search)."""
        beam: list[tuple[int, Node]] = [(self.extra, (0, CLOSED))]
        came: dict[Node, tuple[Node, tuple[Open, int | None]]] = {}
        seen = {(0, CLOSED)}
        expansions = 0
        while beam:
            reached = [(value, node) for value, node in beam if self.case.goal.holds(node[0])]
            if reached:
                value, node = min(reached, key=lambda pair: pair[0])
                return SearchResult(value=value, bound=0, order=self._order(node, came), expansions=expansions)
            nexts: dict[Node, int] = {}
            for value, node in beam:
                expansions += 1
                self.case.network.go_on()
                for after, steps, how in self.moves(node):
                    if after not in seen and value + steps < nexts.get(after, 1 << 30):
                        nexts[after] = value + steps
                        came[after] = (node, how)
            ranked = sorted(nexts, key=lambda node: (nexts[node] + self.left(*node), -node[0].bit_count()))[:width]
            seen.update(ranked)
            beam = [(nexts[node], node) for node in ranked]
        return SearchResult(value=None, bound=0, order=None, expansions=expansions)

    def _order(self, node: Node, came: dict[Node, tuple[Node, tuple[Open, int | None]]]) -> list[int]:
        moves = []
        while node in came:
            node, how = came[node]
            moves.append((node[0], how))
        order: list[int] = []
        for done, (tool, last) in reversed(moves):
            if tool != CLOSED:
                order.extend(self._close(done, tool))
            if last is not None:
                order.append(last)
        return order
