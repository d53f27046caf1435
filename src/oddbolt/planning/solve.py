"""The planner's front door: least steps or least time for a part or a set of parts, replayed before it is returned."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property

from oddbolt.model.things import Settings, Teardown
from oddbolt.planning.bench import Count, Operation, count
from oddbolt.planning.blocked import blocking_set
from oddbolt.planning.case import (
    Case,
    Reach,
    Reaches,
    cut_down,
    easier_case,
    live_choices,
    one_way_each,
    operations,
    supported,
    way_choices,
)
from oddbolt.planning.convention import Convention
from oddbolt.planning.costs import ActiveTimes
from oddbolt.planning.fastest import TimeSearch
from oddbolt.planning.network import Condition, Network, bits, relevant
from oddbolt.planning.steps import StepSearch
from oddbolt.planning.structure import Structure

STEPS, TIME = "steps", "time"
STEP_BUDGET = 20_000  # expansions for one set of targets
TIME_BUDGET = 12_000
TIE_BUDGET, TIE_LEAST = 150, 12  # expansions spent on telling equally short plans apart
TIE_WORK = 2_000  # of these times units
BEAM = 16  # nodes kept by the quick search that follows when the budget is spent
NONE: frozenset[str] = frozenset()


@dataclass(frozen=True, slots=True, kw_only=True)
class Plan:
    """A sequence that takes all targets off, and how good it is. Steps and bound of steps, or milliseconds of both."""

    targets: tuple[str, ...]
    objective: str
    feasible: bool
    count: Count | None = None
    lower_bound: int = 0  # in steps or in ms, as the objective is
    optimal: bool = False
    blocked_by: tuple[str, ...] = ()

    @property
    def sequence(self) -> tuple[Operation, ...]:
        return tuple(timed.operation for timed in self.count.timed) if self.count else ()

    @property
    def value(self) -> int:
        assert self.count is not None
        return self.count.steps if self.objective == STEPS else self.count.time_ms


class Planner:
    """Answers questions about one snapshot under one convention. Results are kept; the snapshot never changes."""

    def __init__(self, teardown: Teardown, times: ActiveTimes, settings: Settings | None = None,
                 stop: Callable[[], bool] | None = None) -> None:
        """`stop` is asked now and then while searching; where it says so `network.Stopped` is raised."""
        self.teardown = teardown
        self.structure = Structure(teardown)
        self.convention = Convention(settings or teardown.settings)
        self.times = times
        order = [entry.thing for entry in teardown.log if entry.thing and entry.do in ("release", "remove")]
        self.network = Network(self.structure, self.convention, times, prefer=order)
        self.network.stop = stop
        self.reaches = Reaches(self.network)
        self._kept: dict[tuple[tuple[str, ...], str], Plan] = {}

    @cached_property
    def never_free(self) -> tuple[str, ...]:
        """Parts that no sequence takes off, in file order; captive ones and the base aside."""
        reached = self.reaches.plain().reached
        return tuple(id_ for id_ in self.structure.removals if not reached & self.network.removed_by[id_])

    def helpful_things(self, part: str) -> frozenset[str]:
        """Parts and joints that can help on some way to a part, safety included; nothing else can change its plan."""
        goal = self.network.goal_of((self.structure.stand_in[part],))
        mask = 0
        for reach in (self.reaches.plain(), self.reaches.safe(frozenset())):
            mask |= relevant(reach.ordered, goal)
        units = (self.network.units[n] for n in bits(mask))
        return frozenset(unit.joint or unit.operations[0].part for unit in units)

    def plan(self, targets: Iterable[str], objective: str = STEPS) -> Plan:
        """The best sequence that ends with all `targets` off; proven or with an honest bound."""
        wanted = tuple(dict.fromkeys(targets))
        key = (tuple(dict.fromkeys(self.structure.stand_in[part] for part in wanted)), objective)
        if key not in self._kept:
            self._kept[key] = self._plan(key[0], objective)
        kept = self._kept[key]
        return Plan(targets=wanted, objective=objective, feasible=kept.feasible, count=kept.count,
                    lower_bound=kept.lower_bound, optimal=kept.optimal, blocked_by=kept.blocked_by)

    def _plan(self, targets: tuple[str, ...], objective: str) -> Plan:
        network = self.network
        goal = network.goal_of(targets)
        plain = self.reaches.plain()
        if not goal.holds(plain.reached):
            return Plan(targets=targets, objective=objective, feasible=False,
                        blocked_by=blocking_set(self.structure, targets))
        cases, complete = self._cases(plain, goal)
        search = self._least_steps if objective == STEPS else self._least_time
        order, case, bound = search(cases)
        if not complete:
            # Not every set of live acts was tried: only the problem without power bounds what was left out.
            bound = min(bound, search([self._case(plain, goal)])[2])
        counted = count(self.structure, self.convention, self.times, operations(case, order))
        assert not counted.obstacles, f"a plan broke the rules: {counted.obstacles}"
        value = counted.steps if objective == STEPS else counted.time_ms
        bound = min(bound, value)
        return Plan(targets=targets, objective=objective, feasible=True, count=counted, lower_bound=bound,
                    optimal=bound == value)

    def _case(self, reach: Reach, goal: Condition) -> Case | None:
        return cut_down(self.network, reach.conditions, goal, reach=reach)

    def _cases(self, plain: Reach, goal: Condition) -> tuple[list[Case], bool]:
        """One case for each set of acts that may be live; without regard to power there is just one."""
        if not self.convention.settings.isolate_first or not self.structure.sources:
            return [self._case(plain, goal)], True
        _, choices, complete = live_choices(self.network, goal, self.reaches)
        cases = [self._case(self.reaches.safe(live), goal) for live in choices]
        return [case for case in cases if case is not None], complete

    # -- steps

    def _least_steps(self, cases: Sequence[Case]) -> tuple[list[int], Case, int]:
        """(order, case, lower bound) over all cases and ways."""
        fixed: list[tuple[int, StepSearch]] = []
        bound = 1 << 30
        for case in cases:
            ways = list(way_choices(case))
            if not ways:
                ways = [one_way_each(case)]
                easier = StepSearch(easier_case(case))
                bound = min(bound, easier.run(None, STEP_BUDGET).bound)
            fixed.extend((search.extra + search.left(0), search) for search in map(StepSearch, ways))
        fixed.sort(key=lambda pair: pair[0])
        best: tuple[int, int, list[int], Case] | None = None
        budget = STEP_BUDGET
        for root, search in fixed:
            if best is not None and root > best[0]:
                break
            found = search.run(None if best is None else best[0] + 1, max(budget, 1))
            budget -= found.expansions
            bound = min(bound, found.bound)
            if found.order is None and (best is None or found.bound <= best[0]):
                found = search.dive(BEAM)
            if found.order is not None:
                candidate = self._judged(search.case, found.order)
                if best is None or candidate[:2] < best[:2]:
                    best = candidate
        assert best is not None
        return *self._quicker(best, cases), bound

    def _quicker(self, best: tuple[int, int, list[int], Case], cases: Sequence[Case]) -> tuple[list[int], Case]:
        """Of equally short plans the quicker one, if the quickest plan at all happens to be as short. No claim."""
        steps, time_ms, order, case = best
        for other in cases:
            # Each expansion looks at all units: large cases get fewer, so that a tie never costs more than the answer.
            budget = max(TIE_LEAST, min(TIE_BUDGET, TIE_WORK // max(1, len(other.conditions))))
            found = TimeSearch(other).run(time_ms, budget)
            if found.order is not None:
                candidate = self._judged(other, found.order)
                if candidate[:2] < (steps, time_ms):
                    steps, time_ms, order, case = candidate
        return order, case

    def _judged(self, case: Case, order: list[int]) -> tuple[int, int, list[int], Case]:
        order = supported(case, order)
        counted = count(self.structure, self.convention, self.times, operations(case, order))
        return counted.steps, counted.time_ms, order, case

    # -- time

    def _least_time(self, cases: Sequence[Case]) -> tuple[list[int], Case, int]:
        best: tuple[int, int, list[int], Case] | None = None
        bound = 1 << 60
        for case in cases:
            steps_order, steps_case, _ = self._least_steps([case])
            candidates = [self._by_time(steps_case, steps_order)]
            if best is not None:
                candidates.append(best)
            best = min(candidates, key=lambda candidate: candidate[:2])
            search = TimeSearch(case)
            found = search.run(best[0], TIME_BUDGET // len(cases))
            if found.order is not None:
                best = min(best, self._by_time(case, found.order), key=lambda candidate: candidate[:2])
            if found.bound >= best[0] and search.waiting and search.first_bound() < best[0]:
                # Proven among sequences of acts that open something; now against all others.
                easier = TimeSearch(case, free_setups=True).run(best[0], TIME_BUDGET // len(cases))
                of_case = easier.bound
                if of_case < best[0]:
                    whole = cut_down(self.network, case.given, case.goal, keep_all=True)
                    found = TimeSearch(whole).run(best[0], TIME_BUDGET // len(cases))
                    of_case = max(of_case, found.bound)
                    if found.order is not None:
                        best = min(best, self._by_time(whole, found.order), key=lambda candidate: candidate[:2])
            else:
                of_case = found.bound
            bound = min(bound, of_case)
        assert best is not None
        return best[2], best[3], bound

    def _by_time(self, case: Case, order: list[int]) -> tuple[int, int, list[int], Case]:
        """The order as it is or without what nothing stands on: an operation more can make a plan shorter."""
        whole = count(self.structure, self.convention, self.times, operations(case, order))
        steps, time_ms, pruned, case = self._judged(case, order)
        if (whole.time_ms, whole.steps) < (time_ms, steps):
            return whole.time_ms, whole.steps, order, case
        return time_ms, steps, pruned, case
