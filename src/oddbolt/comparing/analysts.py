"""Several analysts' records of one model: how far they agree on depths, times, marks and the order of the work."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence

from msgspec import Struct

from oddbolt.comparing.agreement import INTERVAL, RATIO, Alpha, Unit, alpha_with_interval, permutation_p, tau_b
from oddbolt.model.things import Teardown
from oddbolt.rules.replay import readings
from oddbolt.search.planner import Planner

DEPTH, TIME, MARKS = "depth", "time", "marks"


class Agreed(Struct, frozen=True, kw_only=True):
    """How far they agree on a matter; `names` are the roles or marks that at least two of them gave."""

    matter: str
    alpha: Alpha
    names: tuple[str, ...]


class Orders(Struct, frozen=True, kw_only=True):
    """Two records, by their places, and how their orders of taking off what has the same role agree; `p` by
    permuting."""

    one: int
    other: int
    common: int
    tau: float
    p: float


def agreed(planners: Sequence[Planner]) -> list[Agreed]:
    """On what at least two records say of the same roles, each by the metric that fits it."""
    roles = list(dict.fromkeys(role for planner in planners for part in planner.teardown.parts for role in part.role
                               if part.id in planner.structure.present))
    matters: list[tuple[str, str, list[str], Callable[[Planner, str], float | None]]] = [
        (DEPTH, INTERVAL, roles, lambda planner, role: _of_role(planner, role, time=False)),
        (TIME, RATIO, roles, lambda planner, role: _of_role(planner, role, time=True)),
        (MARKS, INTERVAL, _marks_named(planners), lambda planner, name: _mark(planner.teardown, name))]
    found = []
    for matter, metric, names, value in matters:
        units: dict[str, Unit] = {name: [value(planner, name) for planner in planners] for name in names}
        both = [name for name in names if sum(one is not None for one in units[name]) >= 2]
        if both:
            found.append(Agreed(matter=matter, names=tuple(both),
                                alpha=alpha_with_interval([units[name] for name in both], metric)))
    return found


def _of_role(planner: Planner, role: str, *, time: bool) -> float | None:
    """Steps or seconds to the part of a role, of several the one that takes most; None where there is none to reach."""
    found = []
    for part in planner.teardown.parts:
        if role in part.role and part.id in planner.structure.present:
            plan = planner.plan([part.id])
            if plan.count is None:
                return None
            found.append(plan.count.time_ms / 1000 if time else plan.count.steps)
    return float(max(found)) if found else None


def _marks_named(planners: Sequence[Planner]) -> list[str]:
    return list(dict.fromkeys(["", *(mark.name for planner in planners for opinion in planner.teardown.opinions
                                     for mark in opinion.marks)]))


def _mark(teardown: Teardown, name: str) -> float | None:
    """A mark as a share of what it is out of; the first opinion of a record counts. An empty name is the whole."""
    for opinion in teardown.opinions[:1]:
        for own, mark, of in [("", opinion.mark, opinion.of), *((m.name, m.mark, m.of) for m in opinion.marks)]:
            if own == name and mark is not None and of:
                return mark / of
    return None


def orders(planners: Sequence[Planner]) -> list[Orders]:
    """Each two records: the order in which what has the same role came off."""
    found = []
    came = [_came_off(planner.teardown) for planner in planners]
    for one, other in itertools.combinations(range(len(planners)), 2):
        common = [role for role in came[one] if role in came[other]]
        places = [came[one][role] for role in common], [came[other][role] for role in common]
        tau, p = tau_b(*places)[0], permutation_p(*places)
        found.append(Orders(one=one, other=other, common=len(common), tau=tau, p=p))
    return found


def _came_off(teardown: Teardown) -> dict[str, int]:
    """By role, the place in the log at which its part first came off."""
    found: dict[str, int] = {}
    for n, entry in enumerate(readings(teardown)):
        part = teardown.part.get(entry.thing or "") if entry.do == "remove" else None
        for role in part.role if part is not None else ():
            found.setdefault(role, n)
    return found
