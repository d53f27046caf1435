"""The ways to the priority parts of a record under one convention, found when they are first asked for, and shared by
all methods that count alike."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import cached_property

from msgspec.structs import asdict

from oddbolt.effort.sums import Interval, time_of
from oddbolt.model.things import Settings, Teardown
from oddbolt.rules.times import ActiveTimes
from oddbolt.search.planner import Plan, Planner
from oddbolt.studies.replacement import Replacement, replacement
from oddbolt.studies.retelling import known_without_plans
from oddbolt.studies.whatif import plan_after

Times = Callable[[Teardown], ActiveTimes]


class Planned:
    """A record's ways under one convention."""

    def __init__(self, teardown: Teardown, times: ActiveTimes, settings: Settings,
                 stop: Callable[[], bool] | None = None) -> None:
        self.teardown = teardown
        self.settings = settings
        self.planner = Planner(teardown, times, settings, stop)
        self._known: dict[str, str] = {}
        self._took: dict[str, Interval] = {}
        self._plans: dict[str, Plan] = {}

    @cached_property
    def _by_role(self) -> dict[str, list[str]]:
        found: dict[str, list[str]] = {}
        for part in self.teardown.parts:
            for role in part.role if part.id in self.planner.structure.present else ():
                found.setdefault(role, []).append(part.id)
        return found

    def parts_with(self, role: str) -> list[str]:
        return self._by_role.get(role, [])

    def plan(self, part: str) -> Plan:
        if part not in self._plans:
            self._plans[part] = self.planner.plan([part])
        return self._plans[part]

    def planner_of(self, part: str) -> Planner:
        """The planner that made the plan of a part."""
        return self.planner

    def known(self, part: str) -> str:
        if part not in self._known:
            self._known[part] = known_without_plans(self.planner_of(part), self.plan(part))
        return self._known[part]

    def time(self, part: str) -> Interval:
        if part not in self._took:
            plan = self.plan(part)
            assert plan.count is not None
            self._took[part] = time_of(plan.count)
        return self._took[part]

    def replacement(self, part: str) -> Replacement:
        return replacement(self.planner, part, "steps")


class AllPlanned:
    """Ways of records by convention; what methods have in common is planned once."""

    def __init__(self, times: Times, stop: Callable[[], bool] | None = None) -> None:
        self.times = times
        self._stop = stop
        self._of_record: dict[int, tuple[Teardown, ActiveTimes]] = {}
        self._kept: dict[tuple[int, str], Planned] = {}

    def of(self, teardown: Teardown, settings: Settings) -> Planned:
        key = (id(teardown), repr(sorted((name, value) for name, value in asdict(settings).items()
                                         if name not in ("extra", "given"))))
        if key not in self._kept:
            # The record is kept too, so that its id is not used again.
            _, times = self._of_record.setdefault(id(teardown), (teardown, self.times(teardown)))
            self._kept[key] = Planned(teardown, times, settings, self._stop)
        return self._kept[key]


class Changed(Planned):
    """The ways of a changed record on the network of before, where only those that the change can touch are looked at
    anew."""

    def __init__(self, before: Planned, after: Planner, touched: Sequence[str]) -> None:
        self.teardown, self.settings, self.planner = after.teardown, before.settings, after
        self._known, self._took, self._plans = {}, {}, {}
        self._before = before
        self._touched = frozenset(touched)

    def plan(self, part: str) -> Plan:
        if part not in self._touched:
            return self._before.plan(part)
        if part not in self._plans:
            was = self._before.plan(part)
            self._plans[part] = plan_after(self.planner, part, was) if was.feasible else self.planner.plan([part])
        return self._plans[part]

    def planner_of(self, part: str) -> Planner:
        return self.planner if part in self._touched else self._before.planner
