"""The planner's front door: least steps or least time for a part or a set of parts, replayed before it is returned."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from functools import cached_property

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.conditions.case import (
    Case,
    Reach,
    Reaches,
    choosable_inside,
    cut_down,
    easier_case,
    exemptions,
    one_way_each,
    operations,
    supported,
    way_choices,
    without,
)
from oddbolt.conditions.network import Condition, Network, bits, relevant
from oddbolt.model.things import Settings, Teardown
from oddbolt.rules.blocked import blocking_set
from oddbolt.rules.counting import Convention, Count, count, number_steps
from oddbolt.rules.device_state import Operation
from oddbolt.rules.policies import APART, Breach, breaches, held_ways
from oddbolt.rules.structure import structure_of
from oddbolt.rules.times import ActiveTimes
from oddbolt.search.fewest_steps import SearchResult, StepSearch
from oddbolt.search.least_busy import Burden, BusySearch
from oddbolt.search.least_time import TimeSearch

STEPS, TIME = "steps", "time"
STEP_BUDGET, STEP_WORK = 20_000, 4_000_000  # expansions for one set of targets: at most, and times units
INSIDE_BUDGET = 1_500  # of these with the ways chosen inside, before each combination is tried by itself
NO_BOUND = 1 << 30
TIME_BUDGET, TIME_WORK = 12_000, 200_000  # at most, and times units
BUSY_BUDGET, BUSY_WORK = 5_000, 100_000
BEAM_WORK = 20_000  # width times the square of units, of the quick search for least time
TIE_BUDGET, TIE_WORK = 30, 1_500  # spent on telling equally short plans apart: at most, and times units
BEAM, DIVE_WORK = 16, 8_000  # nodes kept by the quick search when the budget is spent: at most, and times units


class Plan(Struct, frozen=True, kw_only=True):
    """A sequence that takes all targets off, and how good it is. Steps and bound of steps, or milliseconds of both."""

    targets: tuple[str, ...]
    objective: str
    feasible: bool
    count: Count | None = None
    lower_bound: int = 0  # in steps or in ms, as the objective is
    optimal: bool = False
    blocked_by: tuple[str, ...] = ()
    breaches: tuple[Breach, ...] = ()  # of all policies, kept or not

    @property
    def sequence(self) -> tuple[Operation, ...]:
        return tuple(timed.operation for timed in self.count.timed) if self.count else ()

    @property
    def value(self) -> int:
        assert self.count is not None
        return self.count.steps if self.objective == STEPS else self.count.time_ms


class CountedOrder(Struct, frozen=True):
    """An order of a case's units, counted by the plain rules."""

    case: Case
    order: list[int]
    count: Count

    @property
    def steps_first(self) -> tuple[int, int]:
        return self.count.steps, self.count.time_ms

    @property
    def time_first(self) -> tuple[int, int]:
        return self.count.time_ms, self.count.steps


class Attempt(Struct, frozen=True):
    """A search that may find the best, what it found if it has run, and a bound known otherwise."""

    search: StepSearch
    found: SearchResult | None = None
    floor: int = 0

    @property
    def root(self) -> int:
        return self.found.bound if self.found else max(self.floor, self.search.extra + self.search.left(0))


class Planner:
    """Answers questions about one snapshot under one convention. Results are kept; the snapshot never changes."""

    def __init__(self, teardown: Teardown, times: ActiveTimes, settings: Settings | None = None,
                 stop: Callable[[], bool] | None = None, policies: Iterable[str] = ()) -> None:
        """`stop` is asked now and then while searching; where it says so `network.Stopped` is raised.

        `policies`: those that plans keep to before anything else, as far as they can.
        """
        self.teardown = teardown
        self.structure = structure_of(teardown)
        self.policies = frozenset(policies)
        self.convention = Convention(settings or teardown.settings, keeps_apart=APART in self.policies)
        self.times = times
        self._stop = stop
        self._kept: dict[tuple[tuple[str, ...], str], Plan] = {}

    is_changed = False  # made of another by `changed`

    @cached_property
    def network(self) -> Network:
        """Read when it is first needed: what only counts a sequence does without."""
        order = [entry.thing for entry in self.teardown.log if entry.thing and entry.do in ("release", "remove")]
        return Network(self.structure, self.convention, self.times, prefer=order,
                       held=held_ways(self.structure, self.policies), stop=self._stop)

    @cached_property
    def reaches(self) -> Reaches:
        return Reaches(self.network)

    @classmethod
    def changed(cls, before: Planner, record: Teardown, times: ActiveTimes, network: Network, keep: int) -> Planner:
        """A planner of a record that differs in little from that of another: on its network as changed, of which only
        `keep` is looked at (a mask of units; what else there is must be known to be of no help)."""
        made = cls(record, times, before.convention.settings, network.stop, before.policies)
        made.structure = network.structure
        vars(made).update(network=network, reaches=Reaches(network, keep), is_changed=True)
        return made

    def plan_after(self, part: str, was: Plan) -> Plan | None:
        """The plan of fewest steps for a part, where another order is known from before the change: only what is
        shorter is looked for. None where that order cannot be gone on from, or
        what is done live would have to be chosen anew."""
        goal = self.network.goal_of((self.structure.stand_in[part],))
        guarded = self.network.isolates_first or bool(self.network.held)
        case = self._case(self.reaches.guarded(frozenset()) if guarded else self.reaches.plain(), goal)
        order = None if case is None else self._order_after(case, was)
        if order is None:
            return None
        _, steps = number_steps(kind for n in order for kind in case.kinds[n])
        found, bound = self._shorter(case, steps)
        best = self._judged(case, order if found is None else found)
        if (best.count.steps, best.count.time_ms) != (was.count.steps, was.count.time_ms):
            best = self._quicker(best, [case])  # what is told to be other is compared with what is as short
        if best.count.obstacles:
            return None
        bound = min(bound, best.count.steps)
        return Plan(targets=(part,), objective=STEPS, feasible=True, count=best.count, lower_bound=bound,
                    optimal=bound == best.count.steps)

    def _order_after(self, case: Case, was: Plan) -> list[int] | None:
        """The order of before, without what is left out; None where it does not come to the goal any more."""
        unit_of = {operation: n for n in case.conditions for operation in self.network.units[n].operations}
        order, done = list(dict.fromkeys(unit_of[o] for o in was.sequence if o in unit_of)), 0
        for n in order:
            if not case.conditions[n].holds(done):
                return None
            done |= 1 << n
        return supported(case, order) if case.goal.holds(done) else None

    def _shorter(self, case: Case, steps: int) -> tuple[list[int] | None, int]:
        """An order of fewer steps than so many, if there is one, and a lower bound of steps."""
        attempts, bound = self._ways(case, steps)
        best: list[int] | None = None
        budget = _share(STEP_WORK, case, STEP_BUDGET)
        for attempt in sorted(attempts, key=lambda attempt: attempt.root):
            if attempt.root >= steps:
                bound = min(bound, attempt.root)
                break
            found = attempt.found or attempt.search.run(steps, max(budget, 1))
            budget -= found.expansions
            bound = min(bound, max(found.bound, attempt.floor))
            if found.order is None and found.bound < steps:
                found = attempt.search.dive(max(1, min(BEAM, DIVE_WORK // len(attempt.search.case.conditions))))
            if found.order is not None and found.value is not None and found.value < steps:
                best, steps = found.order, found.value
        return best, bound

    @cached_property
    def never_free(self) -> tuple[str, ...]:
        """Parts that no sequence takes off, in file order; captive ones and the base aside."""
        reached = self.reaches.plain().reached
        return tuple(id_ for id_ in self.structure.removals if not reached & self.network.removed_by[id_])

    def helpful_things(self, part: str) -> frozenset[str]:
        """Parts and joints that can help on some way to a part, safety included; nothing else can change its plan."""
        goal = self.network.goal_of((self.structure.stand_in[part],))
        mask = 0
        for reach in (self.reaches.plain(), self.reaches.guarded(frozenset())):
            mask |= relevant(reach.ordered, goal)
        return frozenset(self.network.units[n].thing for n in bits(mask))

    def moved(self, sequence: Sequence[Operation], place: int, before: int) -> list[Operation]:
        """A sequence with one of its operations, and what is joined to it, put before another place."""
        operation = sequence[place]
        unit = next(u for u in self.network.units if operation in u.operations)
        run = [o for o in sequence if o in unit.operations]
        rest = [o for o in sequence[:before] if o not in run]
        return [*rest, *run, *(o for o in sequence[before:] if o not in run)]

    def plan(self, targets: Iterable[str], objective: str = STEPS) -> Plan:
        """The best sequence that ends with all `targets` off; proven or with an honest bound."""
        wanted = tuple(dict.fromkeys(targets))
        key = (tuple(dict.fromkeys(self.structure.stand_in[part] for part in wanted)), objective)
        if key not in self._kept:
            self._kept[key] = self._plan(key[0], objective)
        return replace(self._kept[key], targets=wanted)

    def _plan(self, targets: tuple[str, ...], objective: str) -> Plan:
        network = self.network
        goal = network.goal_of(targets)
        plain = self.reaches.plain()
        if not goal.holds(plain.reached):
            return Plan(targets=targets, objective=objective, feasible=False,
                        blocked_by=blocking_set(self.structure, targets, network.go_on))
        cases, complete = self._cases(plain, goal)
        search = self._least_steps if objective == STEPS else self._least_time
        best, bound = search(cases)
        if not complete:
            # Not every set of exceptions was tried: only the problem without any guard bounds what was left out.
            bound = min(bound, search([self._case(plain, goal)])[1])
        counted = best.count
        assert not counted.obstacles, f"a plan broke the rules: {counted.obstacles}"
        value = counted.steps if objective == STEPS else counted.time_ms
        bound = min(bound, value)
        return Plan(targets=targets, objective=objective, feasible=True, count=counted, lower_bound=bound,
                    optimal=bound == value, breaches=breaches(self.structure, counted))

    def _case(self, reach: Reach, goal: Condition) -> Case | None:
        return cut_down(self.network, reach.conditions, goal, reach=reach)

    def _cases(self, plain: Reach, goal: Condition) -> tuple[list[Case], bool]:
        """One case for each set of exceptions from power first and the policies kept; with neither just one."""
        if not self.network.isolates_first and not self.network.held:
            return [self._case(plain, goal)], True
        choices, complete = exemptions(self.network, goal, self.reaches)
        cases = [self._case(self.reaches.guarded(exempt), goal) for exempt in choices]
        return [case for case in cases if case is not None], complete

    # -- steps

    def _least_steps(self, cases: Sequence[Case]) -> tuple[CountedOrder, int]:
        """The best found and a lower bound, over all cases and ways."""
        attempts: list[Attempt] = []
        bound = NO_BOUND
        for case in cases:
            ways, of_case = self._ways(case)
            bound = min(bound, of_case)
            attempts.extend(ways)
        attempts.sort(key=lambda attempt: attempt.root)
        best: CountedOrder | None = None
        budget = min(_share(STEP_WORK, case, STEP_BUDGET) for case in cases)
        for attempt in attempts:
            if best is not None and attempt.root > best.count.steps:
                break
            found = attempt.found or attempt.search.run(None if best is None else best.count.steps + 1, max(budget, 1))
            budget -= found.expansions
            bound = min(bound, max(found.bound, attempt.floor))
            if found.order is None and (best is None or found.bound <= best.count.steps):
                found = attempt.search.dive(max(1, min(BEAM, DIVE_WORK // len(attempt.search.case.conditions))))
            if found.order is not None:
                candidate = self._judged(attempt.search.case, found.order)
                if best is None or candidate.steps_first < best.steps_first:
                    best = candidate
        assert best is not None
        return self._quicker(best, cases), bound

    def _ways(self, case: Case, limit: int | None = None) -> tuple[list[Attempt], int]:
        """Searches one of which finds the best, with ways fixed or chosen inside; and a bound of what is left out."""
        choices, floor = way_choices(case), 0
        if choices != [0] and choosable_inside(case):
            whole = StepSearch(case)
            found = whole.run(limit, INSIDE_BUDGET)
            if found.order is not None or (limit is not None and found.bound >= limit):
                return [Attempt(whole, found=found)], NO_BOUND
            floor = found.bound
        if choices is None:
            easier = StepSearch(easier_case(case)).run(None, _share(STEP_WORK, case, STEP_BUDGET))
            return [Attempt(StepSearch(one_way_each(case)))], max(floor, easier.bound)
        cuts = [cut for cut in (without(case, mask) for mask in choices) if cut is not None]
        return [Attempt(StepSearch(cut), floor=floor) for cut in cuts], NO_BOUND

    def _quicker(self, best: CountedOrder, cases: Sequence[Case]) -> CountedOrder:
        """Of equally short plans the quicker one, if the quickest plan at all happens to be as short. No claim."""
        for other in cases:
            # Large cases get fewer expansions, so that a tie never costs more than the answer.
            budget = _share(TIE_WORK, other, TIE_BUDGET)
            if budget <= best.count.steps:
                continue  # an expansion ends at a change: it could not come to an end
            found = BusySearch(other, Burden(other)).run(best.count.time_ms, budget)
            if found.order is not None:
                best = min(best, self._judged(other, found.order), key=lambda candidate: candidate.steps_first)
        return best

    def _judged(self, case: Case, order: list[int]) -> CountedOrder:
        return self._counted(case, supported(case, order))

    def _counted(self, case: Case, order: list[int]) -> CountedOrder:
        kinds = [kind for n in order for kind in case.kinds[n]]
        return CountedOrder(case, order, count(self.structure, self.convention, self.times, operations(case, order),
                                               kinds))

    # -- time

    def _least_time(self, cases: Sequence[Case]) -> tuple[CountedOrder, int]:
        best: CountedOrder | None = None
        bound = 1 << 60
        for case in cases:
            shortest, _ = self._least_steps([case])
            best = _sooner(best, self._by_time(shortest.case, shortest.order))
            burden = Burden(case)
            busy = BusySearch(case, burden).run(best.count.time_ms, _share(BUSY_WORK, case, BUSY_BUDGET))
            if busy.order is not None:
                best = _sooner(best, self._by_time(case, busy.order))
            of_case = busy.bound  # nothing is quicker than with every wait over at once
            search = TimeSearch(case, burden)
            if of_case < best.count.time_ms:
                order = search.dive(max(1, min(BEAM, BEAM_WORK // len(case.conditions) ** 2)))
                best = _sooner(best, self._by_time(case, order))
            if of_case < best.count.time_ms and search.waiting:
                best, waited = self._with_waits(case, search, best, _share(TIME_WORK, case, TIME_BUDGET) // len(cases))
                of_case = max(of_case, waited)
            bound = min(bound, of_case)
        assert best is not None
        return best, bound

    def _with_waits(self, case: Case, search: TimeSearch, best: CountedOrder, budget: int) -> tuple[CountedOrder, int]:
        """The best known, or what is quicker, and a bound, waits and all."""
        found = search.run(best.count.time_ms, budget)
        if found.order is not None:
            best = _sooner(best, self._by_time(case, found.order))
        value = best.count.time_ms
        if found.bound < value:
            return best, found.bound
        # Proven among sequences of acts that open something; now against all others.
        bound = TimeSearch(case, search.burden, free_setups=True).run(value, budget).bound
        if bound < value:
            whole = cut_down(self.network, case.given, case.goal, keep_all=True)
            found = TimeSearch(whole).run(value, budget)
            bound = max(bound, found.bound)
            if found.order is not None:
                best = _sooner(best, self._by_time(whole, found.order))
        return best, bound

    def _by_time(self, case: Case, order: list[int]) -> CountedOrder:
        """The order as it is or without what nothing stands on: an operation more can make a plan shorter."""
        return _sooner(self._judged(case, order), self._counted(case, order))


def _share(work: int, case: Case, most: int) -> int:
    """Expansions for a case, where each looks at all its units."""
    return min(most, work // max(1, len(case.conditions)))


def _sooner(one: CountedOrder | None, other: CountedOrder) -> CountedOrder:
    return other if one is None or other.time_first < one.time_first else one


Make = Callable[[Teardown], Planner]  # gives a planner for a record
