"""What if: every single change of a joint or part that a designer might make, and what it would do for each part.

Only what a change can reach is planned anew: a thing that can help nowhere on the way to a part cannot change that
part's plan (docs/methods/planning.md).
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from functools import cached_property, partial
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.catalog.tables import bond_methods, covering_kinds
from oddbolt.model.snapshot import succeed
from oddbolt.model.things import Act, Joint, Teardown, Way
from oddbolt.rules.counting import kind_of
from oddbolt.search.planner import Make, Plan, Planner

GONE, PULL_TAB, CROSS, IN_FRONT, HALVED, PART_GONE, ONE_TYPE = (
    "gone", "pull-tab", "cross-recess", "in-front", "halved", "part-gone", "one-type")
CROSS_TOOL = "ph00"
BEST_FEW = 6  # changes that are tried in pairs
ABSENT = "what-if: left out"


class Redesign:
    """One change: its kind, the thing it is made to (empty: the whole device), and the record as it would be, which is
    made when somebody asks for it."""

    def __init__(self, kind: str, thing: str, made: Callable[[], Teardown]) -> None:
        self.kind, self.thing = kind, thing
        self._made = made

    @cached_property
    def record(self) -> Teardown:
        return self._made()


class Effect(Struct, frozen=True, kw_only=True):
    """What a change does for one part: steps and ms before and after."""

    part: str
    steps: tuple[int, int]
    time_ms: tuple[int, int]


class Outcome(Struct, frozen=True, kw_only=True):
    """A change with its effects on the parts asked about, those without any left out."""

    kind: str
    thing: str
    effects: tuple[Effect, ...]
    planned: int  # parts that had to be planned anew
    second: tuple[str, str] | None = None  # kind and thing of a change made together with it
    singly: int = 0  # of a pair: steps that the two save by themselves, added up

    @property
    def steps(self) -> int:
        """Steps saved over all parts; negative where it costs some."""
        return sum(e.steps[0] - e.steps[1] for e in self.effects)

    @property
    def time_ms(self) -> int:
        return sum(e.time_ms[0] - e.time_ms[1] for e in self.effects)


def changes(planner: Planner) -> Iterator[Redesign]:
    """Every single change that can be made to the record, in the order of its joints and parts."""
    record = planner.teardown
    for joint in record.joints:
        if joint.id in planner.structure.releases:
            yield from _of_joint(planner, record, joint)
    for part in record.parts:
        if part.id in planner.structure.removals and part.kind in covering_kinds().dispensable:
            yield Redesign(PART_GONE, part.id, partial(without, record, part.id))
    tools = Counter(_tool(planner, joint) for joint in record.joints if joint.kind == "screw"
                    and joint.id in planner.structure.releases)
    if len(tools) > 1:
        yield Redesign(ONE_TYPE, "", partial(_of_one_type, planner, record, tools.most_common(1)[0][0]))


def _of_one_type(planner: Planner, record: Teardown, usual: str) -> Teardown:
    after = record
    for joint in record.joints:
        if joint.kind == "screw" and joint.id in planner.structure.releases:
            after = _with_ways(after, joint.id, _retooled(planner, joint, usual))
    return after


def _of_joint(planner: Planner, record: Teardown, joint: Joint) -> Iterator[Redesign]:
    if joint.kind != "swing" and joint.isolates is False:
        yield Redesign(GONE, joint.id, partial(without, record, joint.id))
    if joint.kind == "adhesive" and _tool(planner, joint) != "tweezers":
        yield Redesign(PULL_TAB, joint.id, partial(_with_pull_tab, planner, record, joint))
    if joint.kind == "screw" and _tool(planner, joint) != CROSS_TOOL:
        yield Redesign(CROSS, joint.id,
                       lambda: _with_ways(record, joint.id, _retooled(planner, joint, CROSS_TOOL)))
    if joint.kind == "connector" and joint.behind:
        yield Redesign(IN_FRONT, joint.id, lambda: _changed(record, replace(joint, behind=())))
    if joint.kind == "screw" and (joint.count or 1) > 1:
        yield Redesign(HALVED, joint.id, partial(_halved, planner, record, joint))


def _with_pull_tab(planner: Planner, record: Teardown, joint: Joint) -> Teardown:
    method = bond_methods()["pull"]
    acts = tuple(Act(**{"active_s": 45.0, **act}) for act in method.acts)
    pull = Way(acts=acts, inline=len(acts) == 1, reuse=method.reuse, hazards=method.hazards)
    return _with_ways(record, joint.id, (pull, *_timed_ways(planner, joint)))


def _halved(planner: Planner, record: Teardown, joint: Joint) -> Teardown:
    count = joint.count or 1
    share = (count - count // 2) / count
    ways = tuple(replace(way, acts=tuple(replace(act, active_s=(act.active_s or 0) * share) for act in way.acts))
                 for way in _timed_ways(planner, joint))
    return _with_ways(record, joint.id, ways)


def _tool(planner: Planner, joint: Joint) -> str:
    return planner.structure.releases[joint.id].ways[0].acts[-1].tool


def _timed_ways(planner: Planner, joint: Joint) -> tuple[Way, ...]:
    """The ways with the times that are known now, so that only the change makes a difference."""
    ways = planner.structure.releases[joint.id].ways
    return tuple(replace(way, acts=tuple(replace(act, active_s=planner.times.act_s(joint.id, w, a))
                                         for a, act in enumerate(way.acts))) for w, way in enumerate(ways))


def _retooled(planner: Planner, joint: Joint, tool: str) -> tuple[Way, ...]:
    return tuple(replace(way, acts=(*way.acts[:-1], replace(way.acts[-1], tool=tool)))
                 for way in _timed_ways(planner, joint))


def _changed(record: Teardown, joint: Joint) -> Teardown:
    return succeed(replace(record, joints=tuple(joint if j.id == joint.id else j for j in record.joints)), record)


def _with_ways(record: Teardown, joint_id: str, ways: tuple[Way, ...]) -> Teardown:
    """A joint with other ways; what was measured of the ways before is no longer a measurement of these."""
    log = tuple(entry for entry in record.log if joint_id not in (entry.thing, *entry.things))
    return _changed(replace(record, log=log), replace(record.joint[joint_id], ways=ways))


def without(record: Teardown, id_: str) -> Teardown:
    """The device without a part or joint: it is left out as the rules leave out what a variant does not have."""
    everything = not record.device.variant

    def kept(thing: Any) -> Any:
        if thing.id == id_:
            return replace(thing, only_in=(ABSENT,))
        return replace(thing, only_in=()) if everything and thing.only_in else thing

    device = replace(record.device, variant="what-if") if everything else record.device
    return replace(record, device=device, parts=tuple(map(kept, record.parts)), joints=tuple(map(kept, record.joints)))


def what_if(make: Make, record: Teardown, parts: Sequence[str], *,
            from_scratch: bool = False, pairs: bool = True) -> Iterator[list[Outcome]]:
    """All single changes, those first that save most steps, then time; then pairs of the best few, likewise.

    A `yield` is progress, the last is the answer. Of pairs the best are told that save more than either change by
    itself, unless `pairs` is off. `make` gives a planner for a record. `from_scratch` plans everything anew, to check
    what is left out.
    """
    planner = make(record)
    now = {part: planner.plan([part]) for part in parts}
    now = {part: plan for part, plan in now.items() if plan.feasible}
    near = {part: planner.helpful_things(part) for part in now}
    found: list[Outcome] = []
    made: dict[tuple[str, str], Redesign] = {}
    for change in changes(planner):
        touched = [part for part in now if from_scratch or not change.thing or change.thing in near[part]]
        effects = ()
        if touched:
            after = make(change.record) if from_scratch else planner_after(make, planner, change, touched, near)
            effects = _effects(after, now, touched, (change.thing,))
        if effects:
            found.append(Outcome(kind=change.kind, thing=change.thing, effects=effects, planned=len(touched)))
            made[change.kind, change.thing] = change
        yield []
    found.sort(key=_rank)
    both: list[Outcome] = []
    for pair in _pairs(make, found, made, now, near) if pairs else ():
        both.extend(pair)
        yield []
    yield [*found, *sorted(both, key=_rank)[:BEST_FEW]]


# -- on the network of before

SAME_ACCESS = (CROSS, HALVED, ONE_TYPE)  # changes by which nothing is opened or closed; only acts are others


def planner_after(make: Make, before: Planner, change: Redesign, touched: Sequence[str],
                  near: Mapping[str, frozenset[str]]) -> Planner:
    """A planner of the record as it would be: on the network of before with a few conditions or acts other than they
    were, looking only at what could help before (a change of this kind makes nothing helpful that was not); a new one
    where the change brings things or ways that the network does not have."""
    whole = make(change.record)
    if change.kind in (PULL_TAB, PART_GONE):
        return whole
    network, structure = before.network, whole.structure
    own = [(n, unit) for n, unit in network.usable if unit.joint and (unit.joint == change.thing or not change.thing)]
    if change.kind == GONE:
        changed = network.changed(structure, gone=sum(1 << n for n, _ in own))
    elif change.kind == IN_FRONT:
        changed = network.changed(structure, conditions={
            n: network.release_condition(structure.releases[unit.joint], unit.way)
            for n, unit in own if unit.operations[0].act == 0})
    else:
        changed = network.changed(structure, kinds={
            n: tuple(kind_of(structure, before.convention, whole.times, operation) for operation in unit.operations)
            for n, unit in own if change.thing or before.teardown.joint[unit.joint].kind == "screw"})
    things = frozenset().union(*(near[part] for part in touched))
    keep = sum(1 << n for n, unit in network.usable if unit.thing in things)
    after = Planner.changed(before, change.record, whole.times, changed, keep)
    if change.kind in SAME_ACCESS:
        vars(after)["reaches"] = before.reaches
    return after


def plan_after(after: Planner, part: str, was: Plan) -> Plan:
    """The plan after a change: what is shorter than the one of before, or else that one."""
    plan = after.plan_after(part, was) if after.is_changed else None
    return after.plan([part]) if plan is None else plan


def _rank(outcome: Outcome) -> tuple[int, int, str, str]:
    return -outcome.steps, -outcome.time_ms, outcome.kind, outcome.thing


def _effects(after: Planner, now: Mapping[str, Plan], touched: Iterable[str],
             changed: tuple[str, ...]) -> tuple[Effect, ...]:
    effects = []
    for part in touched:
        if part not in after.structure.present or part in changed:
            continue
        before = now[part]
        plan = plan_after(after, part, before)
        if plan.feasible and (plan.count.steps, plan.count.time_ms) != (before.count.steps, before.count.time_ms):
            effects.append(Effect(part=part, steps=(before.count.steps, plan.count.steps),
                                  time_ms=(before.count.time_ms, plan.count.time_ms)))
    return tuple(effects)


def _pairs(make: Make, found: Sequence[Outcome], made: Mapping[tuple[str, str], Redesign], now: Mapping[str, Plan],
           near: Mapping[str, frozenset[str]]) -> Iterator[list[Outcome]]:
    """Pairs of the best changes by themselves; of different things, and no change of the whole device."""
    best = [outcome for outcome in found if outcome.thing and (outcome.steps, outcome.time_ms) > (0, 0)][:BEST_FEW]
    for n, one in enumerate(best):
        first = made[one.kind, one.thing]
        partners = {(other.kind, other.thing): other for other in best[n + 1:] if other.thing != one.thing}
        for change in changes(make(first.record)) if partners else ():
            other = partners.get((change.kind, change.thing))
            if other is not None:
                touched = [part for part in now if near[part] & {one.thing, other.thing}]
                effects = _effects(make(change.record), now, touched, (one.thing, other.thing))
                pair = Outcome(kind=one.kind, thing=one.thing, second=(other.kind, other.thing), effects=effects,
                               planned=len(touched), singly=one.steps + other.steps)
                better = (pair.steps, pair.time_ms) > max((one.steps, one.time_ms), (other.steps, other.time_ms))
                yield [pair] if better else []
