"""Measures of the device as a whole, over its priority parts."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping

from oddbolt.rules.device_state import Operation
from oddbolt.scoring.choosing import ESTIMATE, Chooser, Source
from oddbolt.scoring.measures.looking import Ground, Look, Scored
from oddbolt.scoring.measures.marks import answer, mark
from oddbolt.scoring.method import Criterion

Measure = Callable[[Look, Criterion, Chooser], Scored]
ORDERS_LIMIT = 10_000  # feasible sets looked at; beyond them the number is a least one


def weighted_time_s(times: Mapping[str, float], weights: Mapping[str, float]) -> float:
    """Weighted mean of times, over those with a weight. Ours.

    >>> weighted_time_s({"a": 480, "b": 840, "c": 360, "d": 300}, {"a": .3, "b": .3, "c": .1, "d": .3})
    522.0
    """
    whole = sum(weights[name] for name in times)
    return sum(weights[name] * seconds for name, seconds in times.items()) / whole if whole else math.nan


def repair_effort_s(times: Mapping[str, float], chances: Mapping[str, float]) -> float:
    """Seconds of replacing that a life is expected to take: chance of failure times the time to replace. Ours."""
    return sum(chances[name] * seconds for name, seconds in times.items())


def cost_of_repair(rate_per_h: float, seconds: float, spare: float, consumables: float) -> float:
    """In the user's currency. Ours.

    >>> cost_of_repair(45, 21 * 60, 38, 3.5)
    57.25
    """
    return rate_per_h * seconds / 3600 + spare + consumables


def access_time(look: Look, criterion: Criterion, choose: Chooser) -> Scored:
    """Mean time to reach the priority parts, weighted by the method's weights; anywhere in the intervals."""
    times, grounds = {}, []
    for role in look.method.part_weights:
        for part in look.planned.parts_with(role):
            if look.planned.plan(part).feasible:
                took = look.planned.time(part)
                seconds = choose(Source(kind=ESTIMATE, role=role, things=(part,)),
                                 (took.high_s, took.seconds, took.low_s), took.seconds)
                times[role] = max(times.get(role, 0.0), seconds)
                grounds.append(Ground(code="time", things=(part,), basis=took.basis,
                                      value=f"{took.seconds:.0f},{took.low_s:.0f},{took.high_s:.0f}"))
    return Scored(value=weighted_time_s(times, look.method.part_weights), grounds=tuple(grounds))


def repair_effort(look: Look, criterion: Criterion, choose: Chooser) -> Scored:
    """Expected seconds of replacing over the life, for the parts whose chance of failure was answered."""
    times, chances, grounds = {}, {}, []
    for role in look.method.part_weights:
        for part in look.planned.parts_with(role):
            chance, many = look.number("chance_of_failure", part), look.planned.replacement(part).many
            if chance is not None and many.count is not None:
                times[part], chances[part] = many.count.time_ms / 1000, chance
                grounds.append(Ground(code="chance", things=(part,), value=f"{chance:g}", basis="told"))
    if not times:
        return Scored(value=math.nan, grounds=(Ground(code="no-rate", value="chance_of_failure"),))
    return Scored(value=repair_effort_s(times, chances), grounds=tuple(grounds))


def freedom(look: Look, criterion: Criterion, choose: Chooser) -> Scored:
    """Logarithm to base ten of the number of feasible orders in which the ways to all parts with a role, put together,
    can be done; a lower bound where there are many."""
    from oddbolt.studies.orders import Orders

    sequence: dict[tuple[str, str, int], Operation] = {}
    ways: dict[str, int] = {}
    for role in look.method.part_weights:
        for part in look.planned.parts_with(role):
            for operation in look.planned.plan(part).sequence:
                if ways.setdefault(operation.joint or operation.part, operation.way) == operation.way:
                    sequence.setdefault((operation.joint, operation.part, operation.act), operation)
    if not sequence:
        return Scored(value=math.nan, grounds=(Ground(code="no-part"),))
    found = Orders(look.planned.planner.network, list(sequence.values())).number(ORDERS_LIMIT)
    return Scored(value=math.log10(found.orders), grounds=(
        Ground(code="orders" if found.exact else "more-orders", value=f"{found.orders:.3g}"),))


MEASURES: dict[str, Measure] = {"answer": answer, "mark": mark, "access_time": access_time,
                                "repair_effort": repair_effort, "freedom": freedom}
