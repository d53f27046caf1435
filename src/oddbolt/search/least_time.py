"""Least time: best-first search over (done units, tool in hand, side up), with the clock and the waits still running.

Waits make time harder than steps: an act that could be done at once may be better left for a wait that has not begun.
So nothing is done "at once" unless no wait is left to begin but its own and those behind it. Labels of the same done
set, tool and side are compared by clock and by when each running wait ends; a label that is nowhere earlier is dropped.
Additional alternatives stay in the search: restricting it to smallest sets of operations would be wrong, because an
operation more can make another one possible earlier. By the letter of the rules even an act that opens nothing can
save time, when it carries a turn or a change of tool into a wait; to prove a time, such acts must be tried too.
"""

from __future__ import annotations

import heapq

from oddbolt.conditions.case import Case
from oddbolt.conditions.network import Condition, bits, musts
from oddbolt.rules.counting import ANY_SIDE
from oddbolt.search.fewest_steps import SearchResult
from oddbolt.search.least_busy import Burden

Pending = tuple[tuple[int, int], ...]  # units whose effect is still to come, with the time, by unit
Label = tuple[int, str | None, str | None, int, Pending]  # done, tool, side, clock, pending
SETUP = -1  # in place of a unit: a tool taken up or the device turned, for its own sake
START: Label = (0, None, None, 0, ())


class TimeSearch:
    """The search for one case; ways are chosen inside it.

    With `free_setups` a tool may be taken up and the device turned within a wait without any act. That is easier than
    any use of acts that open nothing, so a time that cannot be beaten so is proven against them too.
    """

    def __init__(self, case: Case, burden: Burden | None = None, *, free_setups: bool = False) -> None:
        self.case = case
        self.free_setups = free_setups
        units = case.network.units
        self.convention = case.network.convention
        self.kinds = case.kinds
        self.excludes = {n: units[n].excludes for n in case.conditions}
        self.wait = {n: kinds[-1].wait_ms for n, kinds in self.kinds.items()}
        self.waiting = sum(1 << n for n, wait in self.wait.items() if wait)
        self.burden = burden or Burden(case)
        self.length = self.burden.length
        self.must = musts(case.timing) if self.waiting else {}
        self.tails = self._tails()
        self.tails_behind = {b: [(tail, n) for tail, n in self.tails if self.must[n] >> b & 1]
                             for b in bits(self.waiting)}
        self.tail_of = {n: tail for tail, n in self.tails}

    def _tails(self) -> list[tuple[int, int]]:
        """(least time from the start of a required unit to the end of the plan, unit), longest first."""
        tails: dict[int, int] = {}
        if self.waiting:
            for n in sorted(bits(self.case.required), key=lambda n: self.must[n].bit_count(), reverse=True):
                after = [tail for w, tail in tails.items() if self.must[w] >> n & 1 and w != n]
                tails[n] = self.length[n] + (self.wait[n] + max(after) if after else 0)
        return sorted(((tail, n) for n, tail in tails.items()), reverse=True)

    # -- the bound

    def left_until(self, label: Label) -> int:
        """A time before which no continuation ends."""
        done, tool, side, clock, pending = label
        todo = self.case.required & ~done
        if not todo:
            return clock
        work = clock + self.burden.left((done, tool, side))
        for tail, n in self.tails:
            if todo >> n & 1:
                work = max(work, clock + tail)
                break
        for b, time in pending:
            for tail, n in self.tails_behind[b]:
                if todo >> n & 1:
                    work = max(work, time + tail)
                    break
        return work

    def first_bound(self) -> int:
        return self.left_until(START)

    # -- moves

    def _ready(self, condition: Condition, done: int, times: dict[int, int]) -> int:
        """When what the condition needs has taken effect; 0 for what has already."""
        ready = 0
        for b, time in times.items():
            if condition.need >> b & 1:
                ready = max(ready, time)
        for mask in condition.anys:
            ready = max(ready, min(times.get(n, 0) for n in bits(mask & done)))
        for clauses in condition.ors:
            ready = max(ready, min(
                max([times.get(n, 0) for n in bits(need)]
                    + [min(times.get(n, 0) for n in bits(mask & done)) for mask in anys], default=0)
                for need, anys in clauses if done & need == need and all(done & mask for mask in anys)))
        return ready

    def do(self, label: Label, n: int) -> Label:
        done, tool, side, clock, pending = label
        times = dict(pending)
        ready = self._ready(self.case.timing[n], done, times) if times else 0
        for kind in self.kinds[n]:
            start = max(clock + self.convention.setup_ms(kind, tool, side), ready)
            if kind.gives:  # what must be kept from it is over first
                start = max([start, *(t for b, t in times.items() if self.kinds[b][-1].gives not in ("", kind.gives))])
            clock = start + kind.active_ms
            tool, side = kind.leaves(tool, side)
            ready = clock + kind.wait_ms
        if ready > clock:
            times[n] = ready
        left = tuple(sorted((b, time) for b, time in times.items() if time > clock)) if times else ()
        return (done | 1 << n, tool, side, clock, left)

    def _at_hand(self, done: int, pending: Pending) -> list[int]:
        conditions, excludes = self.case.conditions, self.excludes
        units = self.case.units
        if not pending and not self.waiting & self.case.helpful & ~done:
            units = self.case.helpful  # no wait is left in which an act that opens nothing could carry a change
        return [n for n in bits(units & ~done)
                if not excludes[n] & done and conditions[n].holds(done)]

    def _at_once(self, label: Label, at_hand: list[int]) -> int | None:
        """A unit that some best continuation begins with, if the exchange argument finds one."""
        done, tool, side, clock, pending = label
        unstarted = self.waiting & ~done
        times = dict(pending)
        for n in at_hand:
            kinds = self.kinds[n]
            if len(kinds) > 1 or not self.case.required >> n & 1 or kinds[0].gives:
                continue
            kind = kinds[0]
            if (kind.tool_class is not None and kind.tool_class != tool) or kind.side not in (ANY_SIDE, side):
                continue
            if any(w != n and not self.must[w] >> n & 1 for w in bits(unstarted)):
                continue
            if times and self._ready(self.case.timing[n], done, times) > clock:
                continue
            return n
        return None

    def _setups(self, label: Label) -> list[Label]:
        """Labels after a change of tool or a turn that serves something still to come."""
        done, tool, side, clock, pending = label
        todo = self.case.helpful & ~done
        found = []
        if tool is not None:
            tools = {kind.tool_class for n in bits(todo) for kind in self.kinds[n]} - {None, tool}
            found.extend((done, t, side, clock + self.convention.tool_change_ms) for t in sorted(tools))
        if side is not None:
            sides = {kind.side for n in bits(todo) for kind in self.kinds[n]} - {ANY_SIDE, side}
            found.extend((done, tool, s, clock + self.convention.turn_ms) for s in sorted(sides))
        return [(*state, tuple(pair for pair in pending if pair[1] > state[3])) for state in found]

    # -- a good sequence quickly

    def dive(self, width: int) -> list[int] | None:
        """An order found with no claim: of the labels with as many units done, the best few are gone on with.

        After each unit, required ones that need no change, no turn and no waiting are done at once, those with the most
        time behind them first.
        """
        came: list[tuple[int, list[int]]] = [(-1, [])]
        shelves: list[dict[tuple[int, str | None, str | None], tuple[int, int, Label]]] = [
            {} for _ in range(self.case.units.bit_count() + 1)]
        shelves[0][START[:3]] = (self.first_bound(), 0, START)
        best: tuple[int, int] | None = None
        for shelf in shelves:
            self.case.network.go_on()
            for until, number, label in sorted(shelf.values(), key=lambda kept: kept[:2])[:width]:
                if best is not None and until >= best[0]:
                    continue
                if self.case.goal.holds(label[0]):
                    best = (until, number)
                    continue
                for n in self._at_hand(label[0], label[4]):
                    after, order = self._follow(self.do(label, n), n)
                    until = self.left_until(after)
                    place = shelves[after[0].bit_count()]
                    if after[:3] not in place or until < place[after[:3]][0]:
                        place[after[:3]] = (until, len(came), after)
                        came.append((number, order))
        if best is None:
            return None
        found: list[int] = []
        number = best[1]
        while number >= 0:
            number, order = came[number]
            found[:0] = order
        return found

    def _follow(self, label: Label, n: int) -> tuple[Label, list[int]]:
        """A label once all is done that comes for nothing, and the units done, the given one first."""
        order = [n]
        while True:
            done, tool, side, clock, pending = label
            times = dict(pending)
            ready = [m for m in bits(self.case.required & ~done)
                     if len(self.kinds[m]) == 1 and self.kinds[m][0].tool_class in (None, tool)
                     and self.kinds[m][0].side in (ANY_SIDE, side) and self.case.conditions[m].holds(done)
                     and (not times or self._ready(self.case.timing[m], done, times) <= clock)]
            if not ready:
                return label, order
            m = max(ready, key=lambda m: (bool(self.wait[m]), self.tail_of.get(m, 0)))
            label = self.do(label, m)
            order.append(m)

    # -- the search

    def run(self, limit: int, budget: int) -> SearchResult:
        """The least time below `limit` ms; without an order, `limit` stands and the bound says how far it is proven."""
        heap: list[tuple[int, int, int, Label]] = [(self.first_bound(), 0, 0, START)]
        came: dict[int, tuple[int, int]] = {}  # label number -> (label before, unit done)
        best_of: dict[tuple[int, str | None, str | None], list[tuple[int, Pending]]] = {}
        number = expansions = 0
        while heap:
            estimate, _, own, label = heapq.heappop(heap)
            if estimate >= limit:
                break
            if self.case.goal.holds(label[0]):
                order = []
                while own:
                    own, n = came[own]
                    order.append(n)
                return SearchResult(value=estimate, bound=estimate, order=order[::-1], expansions=expansions)
            if expansions >= budget:
                return SearchResult(value=None, bound=estimate, order=None, expansions=expansions)
            if (label[3], label[4]) not in best_of.get(label[:3], [(label[3], label[4])]):
                continue  # dropped since it was pushed
            expansions += 1
            if not expansions & 15:
                self.case.network.go_on()
            at_hand = self._at_hand(label[0], label[4])
            once = self._at_once(label, at_hand)
            nexts = [(n, self.do(label, n)) for n in (at_hand if once is None else [once])]
            if self.free_setups and label[4] and once is None:
                nexts.extend((SETUP, after) for after in self._setups(label))
            for n, after in nexts:
                if not self._keep(best_of, after):
                    continue
                until = self.left_until(after)
                if until < limit:
                    number += 1
                    came[number] = (own, n)
                    heapq.heappush(heap, (until, -after[0].bit_count(), number, after))
        return SearchResult(value=None, bound=limit, order=None, expansions=expansions)

    def _keep(self, best_of: dict[tuple[int, str | None, str | None], list[tuple[int, Pending]]],
              label: Label) -> bool:
        """Whether no known label is at least as early everywhere; drops those that this one beats."""
        known = best_of.setdefault(label[:3], [])
        mine = (label[3], label[4])
        if any(_no_later(other, mine) for other in known):
            return False
        known[:] = [other for other in known if not _no_later(mine, other)]
        known.append(mine)
        return True


def _no_later(one: tuple[int, Pending], other: tuple[int, Pending]) -> bool:
    """Whether everything possible from `other` is possible from `one`, no later."""
    clock, pending = other
    if one[0] > clock:
        return False
    if not one[1]:
        return True
    times = dict(pending)
    return all(time <= max(clock, times.get(n, 0)) for n, time in one[1])
