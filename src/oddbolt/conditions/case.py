"""One search problem: a network cut down to what matters for a goal, with the choices that are made outside the search.

Outside: which way each joint is released in, and what may be done live or against a policy. Inside: everything else.
"""

from __future__ import annotations

import itertools
from collections.abc import Container
from functools import reduce
from operator import or_

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.conditions.network import ALL, Condition, Network, bits, must_of, musts, reach_order, relevant, transposed
from oddbolt.rules.counting import ANY_SIDE, ActKind
from oddbolt.rules.device_state import Operation

LIVE = -1  # in place of a way: done before the device is safe
Exempt = tuple[str, int]  # a thing, and its way or LIVE


class Case(Struct, frozen=True, kw_only=True):
    """Units that may be used, with their conditions, towards a goal that can be reached."""

    network: Network
    given: dict[int, Condition]  # conditions before the cut
    conditions: dict[int, Condition]  # by unit, in the order in which they can be reached
    timing: dict[int, Condition]  # the same without safety: what a unit must wait for to have taken effect
    kinds: dict[int, tuple[ActKind, ...]]
    goal: Condition
    units: int  # the keys of `conditions` as a mask
    helpful: int  # those of them that can help towards the goal
    must: dict[int, int]
    after: dict[int, int]  # the other way round: units whose `must` has this one
    required: int  # units in every sequence that reaches the goal


class Reach(Struct, frozen=True, kw_only=True):
    """What can ever be done under some conditions, whatever the goal: found once, used for every goal."""

    conditions: dict[int, Condition]
    reached: int
    ordered: dict[int, Condition]  # of what can be done, within that, in the order in which it can be reached
    must: dict[int, int]
    after: dict[int, int]

    @classmethod
    def of(cls, conditions: dict[int, Condition]) -> Reach:
        order = reach_order(conditions)
        reached = sum(1 << n for n in order)
        ordered = {n: conditions[n].within(reached) for n in order}
        must = musts(ordered)
        return cls(conditions=conditions, reached=reached, ordered=ordered, must=must, after=transposed(must))


class Reaches:
    """Reaches of a network: without regard to what is kept to first, and for each set of exceptions from that."""

    def __init__(self, network: Network, keep: int = ALL) -> None:
        """`keep`: units that are looked at, where it is known that no other can help."""
        self._network = network
        self._keep = keep
        self._kept: dict[frozenset[Exempt] | None, Reach] = {}

    def plain(self) -> Reach:
        return self._get(None)

    def guarded(self, exempt: frozenset[Exempt]) -> Reach:
        return self._get(exempt)

    def _get(self, exempt: frozenset[Exempt] | None) -> Reach:
        if exempt not in self._kept:
            conditions = {n: unit.condition for n, unit in self._network.usable} if exempt is None \
                else guarded_conditions(self._network, exempt)
            if self._keep != ALL:
                conditions = {n: condition for n, condition in conditions.items() if self._keep >> n & 1}
            self._kept[exempt] = Reach.of(conditions)
        return self._kept[exempt]


def guarded_conditions(network: Network, exempt: frozenset[Exempt]) -> dict[int, Condition]:
    """Conditions under which nothing is done live, and no way held back is used, but what is exempt."""
    conditions = safe_conditions(network, {thing for thing, way in exempt if way == LIVE}) if network.isolates_first \
        else {n: unit.condition for n, unit in network.usable}
    return {n: condition for n, condition in conditions.items()
            if n not in network.held or network.held[n] in exempt}


def safe_conditions(network: Network, live: Container[str]) -> dict[int, Condition]:
    """Conditions under which nothing but `live` is done before the device is safe."""
    conditions = {}
    for n, unit in network.usable:
        if unit.needs_safe and unit.thing not in live:
            own, safe = unit.condition, network.safe
            conditions[n] = Condition(own.need | safe.need, own.anys + safe.anys, own.ors)
        else:
            conditions[n] = unit.condition
    return conditions


def cut_down(network: Network, conditions: dict[int, Condition], goal: Condition,
             kinds: dict[int, tuple[ActKind, ...]] | None = None, *, keep_all: bool = False,
             reach: Reach | None = None) -> Case | None:
    """Keep what can be reached and can help; None when the goal cannot be reached. `kinds` stand in for the units'.

    `keep_all` keeps what cannot help towards the goal as well. `reach` is that of the conditions, where it is known.
    """
    reach = reach or Reach.of(conditions)
    if not goal.holds(reach.reached):
        return None
    goal = goal.within(reach.reached)
    helpful = relevant(reach.ordered, goal)
    wanted = reach.reached if keep_all else helpful
    # What a unit mentions that can help is helpful itself, so order and musts of the whole hold for the part.
    ordered = {n: condition for n, condition in reach.ordered.items() if wanted >> n & 1}
    must = {n: reach.must[n] for n in ordered}
    after = {n: reach.after[n] & wanted for n in ordered}
    timing = {n: network.units[n].condition.within(wanted) if network.units[n].needs_safe else condition
              for n, condition in ordered.items()}
    kinds = kinds or {}
    return Case(network=network, given=conditions, conditions=ordered, timing=timing, goal=goal, units=wanted,
                helpful=helpful, must=must, after=after,
                kinds={n: kinds.get(n, network.units[n].kinds) for n in ordered},
                required=must_of(goal, must, wanted))


def exemptions(network: Network, goal: Condition, reaches: Reaches,
               limit: int = 64) -> tuple[list[frozenset[Exempt]], bool]:
    """The smallest sets of exceptions with which the goal can be reached, and whether the list is complete.

    By widening: where everything that is guarded has been done and the goal is still out of reach, one of the things
    that are held back only for that must be done all the same.
    """
    if not goal.holds(reaches.plain().reached):
        return [], True
    helpful = relevant(reaches.plain().conditions, goal)
    if network.isolates_first:
        helpful |= relevant(safe_conditions(network, ()), goal)
    frontier, complete = [frozenset()], True
    while True:
        reaching, wider = [], {}
        for exempt in frontier:
            done = reaches.guarded(exempt).reached
            if goal.holds(done):
                reaching.append(exempt)
                continue
            for n in bits(helpful & ~done):
                unit = network.units[n]
                if unit.condition.holds(done):
                    if n in network.held and network.held[n] not in exempt:
                        wider[exempt | {network.held[n]}] = None
                    elif unit.needs_safe:
                        wider[exempt | {(unit.thing, LIVE)}] = None
        if reaching:
            return reaching, complete
        frontier = list(wider)
        if len(frontier) > limit:
            frontier, complete = frontier[:limit], False


def way_choices(case: Case, limit: int = 256) -> list[int] | None:
    """Units to be left out for one way of each joint, all combinations that steps can tell apart; quick ways first.

    None when there are more than `limit`. A further tool that counts as a step of its own makes its unit a choice too,
    when the goal can be reached without it.
    """
    dimensions: list[list[int]] = []  # each a list of masks to leave out
    for ways in _joints_with_ways(case):
        if len(ways) > 1:
            kept = _distinct_ways(case, ways)
            everything = sum(ways.values())
            dimensions.append([everything & ~ways[way] for way in kept])
    for n in case.conditions:
        if any(kind.extra_steps for kind in case.kinds[n]) and not case.required >> n & 1:
            dimensions.append([0, 1 << n])
    size = 1
    for dimension in dimensions:
        size *= len(dimension)
    if size > limit:
        return None
    return [reduce(or_, choice, 0) for choice in itertools.product(*dimensions)]


def choosable_inside(case: Case) -> bool:
    """Whether a search for fewest steps may choose ways as it goes: a unit begun in vain must cost nothing."""
    return not any(kind.extra_steps for n, kinds in case.kinds.items() for kind in kinds
                   if not case.required >> n & 1)


def without(case: Case, left_out: int) -> Case | None:
    """The case without some units; None when the goal is then out of reach."""
    if not left_out:
        return case
    return cut_down(case.network, {n: c for n, c in case.conditions.items() if not left_out >> n & 1}, case.goal,
                    case.kinds)


def _joints_with_ways(case: Case) -> list[dict[int, int]]:
    """For each joint of the case, its ways with the masks of their units."""
    units = case.network.units
    by_joint: dict[str, dict[int, int]] = {}
    for n in case.conditions:
        if units[n].joint:
            ways = by_joint.setdefault(units[n].joint, {})
            ways[units[n].way] = ways.get(units[n].way, 0) | 1 << n
    return list(by_joint.values())


def easier_case(case: Case) -> Case:
    """A case that costs no more steps, for a bound where the ways are too many to try all.

    Each joint with several ways gets, for each of them, one manual act that opens when the way does; further tools
    count only where they cannot be avoided.
    """
    conditions, kinds = dict(case.conditions), dict(case.kinds)
    free = ActKind(tool_class=None, own_step=False, extra_steps=0, is_removal=False, side=ANY_SIDE, active_ms=0)
    for ways in _joints_with_ways(case):
        if len(ways) > 1:
            for mask in ways.values():
                first, *_, last = (*bits(mask), *bits(mask))
                conditions[last], kinds[last] = case.conditions[first], (free,)
                for n in bits(mask & ~(1 << last)):
                    del conditions[n]
    for n in conditions:
        if not case.required >> n & 1:
            kinds[n] = tuple(replace(kind, extra_steps=0) for kind in kinds[n])
    easier = cut_down(case.network, conditions, case.goal, kinds)
    assert easier is not None
    return easier


def one_way_each(case: Case) -> Case:
    """The case with one way fixed for each joint, the first in which the goal stays within reach."""
    left_out = 0
    for ways in _joints_with_ways(case):
        left_out |= sum(ways.values()) & ~next(iter(ways.values()))
    cut = without(case, left_out)
    if cut is not None:
        return cut
    for ways in _joints_with_ways(case):
        for mask in ways.values() if len(ways) > 1 else ():
            cut = without(case, sum(ways.values()) & ~mask)
            if cut is not None:
                case = cut
                break
    return case


def _distinct_ways(case: Case, ways: dict[int, int]) -> list[int]:
    """Ways without those that another way can replace in any sequence without adding a step."""
    listed = sorted(ways, key=lambda way: sum(k.active_ms + k.wait_ms for n in bits(ways[way])
                                              for k in case.kinds[n]))
    kept: list[int] = []
    for way in listed:
        if not any(_replaces(case, ways[other], ways[way]) for other in kept):
            kept = [other for other in kept if not _replaces(case, ways[way], ways[other])]
            kept.append(way)
    return kept


def _replaces(case: Case, new: int, old: int) -> bool:
    """Whether the acts of one way can stand in the places of some acts of another, in order.

    Leaving acts out never adds a step, and neither does a manual act aside that goes with its neighbour; so it is
    enough that each act of the new way is such an act or finds one with the same tool, and that it can start wherever
    the old one can. (Beside an act that is a step of its own a manual act has no neighbour: then all must be alike.)
    """
    first_new, first_old = next(bits(new)), next(bits(old))
    conditions = case.conditions
    if conditions[first_new] not in (Condition(), conditions[first_old]):
        return False
    if any(len(case.kinds[n]) > 1 for n in bits(new)):
        return False
    old_kinds = [kind for n in bits(old) for kind in case.kinds[n]]
    new_kinds = [case.kinds[n][0] for n in bits(new)]
    if any(kind.own_step for kind in new_kinds):
        return len(new_kinds) == len(old_kinds) and all(
            (a.tool_class, a.own_step) == (b.tool_class, b.own_step) and a.extra_steps <= b.extra_steps
            for a, b in zip(new_kinds, old_kinds))
    place = 0
    for kind in new_kinds:
        if kind.tool_class is None and not kind.extra_steps:
            continue
        while place < len(old_kinds):
            other = old_kinds[place]
            place += 1
            if (other.tool_class, other.own_step) == (kind.tool_class, kind.own_step) \
                    and other.extra_steps >= kind.extra_steps:
                break
        else:
            return False
    return True


def supported(case: Case, order: list[int]) -> list[int]:
    """The order without units that nothing later stands on: every kept unit is needed by the goal or a kept one."""
    place = {n: k for k, n in enumerate(order)}
    keep: set[int] = set()
    waiting: list[tuple[Condition, int]] = [(case.goal, len(order))]
    while waiting:
        condition, before = waiting.pop()
        chosen = set(bits(condition.need))
        options = [((0, (mask,)),) for mask in condition.anys] + list(condition.ors)
        for clauses in options:
            best: set[int] | None = None
            for need, anys in clauses:
                picked = set(bits(need))
                for mask in anys:
                    done = [n for n in bits(mask) if place.get(n, before) < before]
                    picked.add(min(done, key=lambda n: (n not in keep and n not in chosen, place[n])) if done else -1)
                if all(place.get(n, before) < before for n in picked) \
                        and (best is None or len(picked - keep - chosen) < len(best - keep - chosen)):
                    best = picked
            assert best is not None, "a condition that did not hold"
            chosen |= best
        for n in chosen - keep:
            keep.add(n)
            waiting.append((case.conditions[n], place[n]))
    return [n for n in order if n in keep]


def operations(case: Case, order: list[int]) -> list[Operation]:
    return [operation for n in order for operation in case.network.units[n].operations]
