"""Laws any planner has to keep, whatever the device: what is added to a device can only move an answer one way.

They follow from the rules (every feasible sequence of the one device is feasible in the other and costs no less), not
from this program. Live acts first would mix two orders, so it is off here.
"""

from __future__ import annotations

import copy
import random

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from oddbolt.conditions.case import choosable_inside, cut_down
from oddbolt.rules.counting import count
from oddbolt.search import planner as search_planner
from oddbolt.search.fewest_steps import CLOSED, StepSearch
from oddbolt.search.least_busy import START, Burden, BusySearch
from oddbolt.search.planner import STEPS, TIME
from tests.oracles.random_devices import random_device
from tests.oracles.test_planner_agrees import planner_for

SEEDS = st.integers(0, 10**6)
OBJECTIVES = st.sampled_from((STEPS, TIME))
NEVER = float("inf")
law = settings(deadline=None, derandomize=True, max_examples=120, database=None)


def device_of(seed):
    device = random_device(seed, 12)
    device["settings"]["isolate_first"] = False
    for thing in (*device["parts"], *device["joints"]):
        thing.pop("only_in", None)  # a part the variant does not have cannot be asked for
    return device


def values(device, objective):
    """The least value for each part; a part that cannot be freed costs more than anything."""
    planner = planner_for(device)
    found = {}
    for part in device["parts"][1:]:
        plan = planner.plan([part["id"]], objective)
        assert not plan.feasible or plan.optimal
        found[part["id"]] = plan.value if plan.feasible else NEVER
    return found


def never_less(dearer, cheaper):
    assert dearer.keys() == cheaper.keys()
    assert all(dearer[part] >= cheaper[part] for part in dearer), (dearer, cheaper)


@law
@given(SEEDS, OBJECTIVES)
def test_one_more_thing_in_the_way_never_helps(seed, objective):
    device, rng = device_of(seed), random.Random(seed)
    more = copy.deepcopy(device)
    thing = rng.choice((*more["parts"][1:], *more["joints"]))
    other = rng.choice([t["id"] for t in (*more["parts"], *more["joints"]) if t["id"] != thing["id"]])
    thing["behind"] = [[*dict.fromkeys((*group, other))] for group in thing.get("behind") or [[]]]
    never_less(values(more, objective), values(device, objective))


@law
@given(SEEDS, OBJECTIVES)
def test_a_joint_less_never_harms(seed, objective):
    device, rng = device_of(seed), random.Random(seed)
    fewer = copy.deepcopy(device)
    gone = fewer["joints"].pop(rng.randrange(len(fewer["joints"])))["id"]
    for thing in (*fewer["parts"], *fewer["joints"], *(way for joint in fewer["joints"] for way in joint["ways"])):
        if "behind" in thing:
            kept = [[name for name in names if name != gone] for names in thing["behind"]]
            thing["behind"] = [] if [] in kept else kept  # nothing left in one alternative: it is open
    never_less(values(device, objective), values(fewer, objective))


def cases_of(planner):
    plain = planner.reaches.plain()
    for part in planner.structure.removals:
        case = cut_down(planner.network, plain.conditions, planner.network.goal(part), reach=plain)
        if case is not None:
            yield case


def moves_from(start, is_goal, moves, most=60):
    """(state, what a move costs, state after it) from some states on, and (goal, 0, None) where one is reached."""
    waiting, seen = [start], set()
    while waiting and len(seen) < most:
        state = waiting.pop()
        if state in seen:
            continue
        seen.add(state)
        if is_goal(state[0]):
            yield state, 0, None
            continue
        for after, spent in moves(state):
            yield state, spent, after
            waiting.append(after)


def step_moves(search):
    return lambda node: [(after, steps) for after, steps, _ in search.moves(node)]


def busy_moves(search):
    return lambda state: [search.do(state, n) for n in search.moves(state)]


@law
@given(SEEDS)
@example(895213)  # an open step that can serve none of the blocks left
@example(34)  # one that cannot take what begins the longest chain
def test_the_bound_of_steps_never_falls_by_more_than_a_move_costs(seed):
    """Consistent, so also admissible: at the goal it is nought."""
    for case in cases_of(planner_for(device_of(seed))):
        if not choosable_inside(case):
            continue
        search = StepSearch(case)
        for node, steps, after in moves_from((0, CLOSED), case.goal.holds, step_moves(search)):
            if after is None:
                assert search.left(node[0]) == 0
            else:
                assert search.left(*node) <= steps + search.left(*after), (node, after)


@law
@given(SEEDS)
def test_the_bound_of_busy_time_never_falls_by_more_than_a_move_costs(seed):
    for case in cases_of(planner_for(device_of(seed))):
        search = BusySearch(case, Burden(case))
        for state, spent, after in moves_from(START, case.goal.holds, busy_moves(search)):
            if after is None:
                assert search.burden.left(state) == 0
            else:
                assert search.burden.left(state) <= spent + search.burden.left(after), (state, after)


@law
@given(SEEDS, OBJECTIVES)
def test_another_way_never_harms(seed, objective):
    device, rng = device_of(seed), random.Random(seed)
    more = copy.deepcopy(device)
    joint = rng.choice(more["joints"])
    joint["ways"].append({"acts": [{"tool": rng.choice(("hand", "saw")), "active_s": rng.randint(0, 60) / 10}]})
    never_less(values(device, objective), values(more, objective))


@law
@given(SEEDS, OBJECTIVES)
def test_two_tools_that_count_as_one_never_harm(seed, objective):
    device = device_of(seed)
    merged = copy.deepcopy(device)
    merged["settings"]["tool_groups"] = [*device["settings"].get("tool_groups", []), ["ph00", "t5"]]
    never_less(values(device, objective), values(merged, objective))


@law
@given(SEEDS)
def test_a_stricter_convention_never_counts_fewer_steps(seed):
    device = device_of(seed)
    for key in ("hand_is_tool", "each_tool"):
        loose, strict = copy.deepcopy(device), copy.deepcopy(device)
        loose["settings"][key], strict["settings"][key] = False, True
        never_less(values(strict, STEPS), values(loose, STEPS))


@law
@given(SEEDS)
def test_a_longer_act_never_saves_time(seed):
    device, rng = device_of(seed), random.Random(seed)
    longer = copy.deepcopy(device)
    way = rng.choice(rng.choice(longer["joints"])["ways"])
    act = rng.choice(way.get("acts", [way]))
    act[rng.choice(("active_s", "wait_s"))] = 60.0
    never_less(values(longer, TIME), values(device, TIME))


@law
@given(SEEDS, OBJECTIVES)
def test_names_and_places_in_the_file_do_not_matter(seed, objective):
    device, rng = device_of(seed), random.Random(seed)
    other = copy.deepcopy(device)
    tail = other["parts"][1:]
    rng.shuffle(tail)
    other["parts"][1:] = tail
    rng.shuffle(other["joints"])
    swapped = {"ph00": "t5", "t5": "ph00"}
    for thing in other["parts"]:
        for act in thing.get("acts", [thing]):
            if "tool" in act:
                act["tool"] = swapped.get(act["tool"], act["tool"])
    for joint in other["joints"]:
        for way in joint["ways"]:
            for act in way.get("acts", [way]):
                act["tool"] = swapped.get(act["tool"], act["tool"])
    assert values(other, objective) == values(device, objective)


@law
@given(SEEDS, OBJECTIVES)
def test_more_targets_never_cost_less(seed, objective):
    device, rng = device_of(seed), random.Random(seed)
    planner = planner_for(device)
    ids = [part["id"] for part in device["parts"][1:]]
    rng.shuffle(ids)
    known = 0.0
    for many in range(1, len(ids) + 1):
        plan = planner.plan(ids[:many], objective)
        value = plan.value if plan.feasible else NEVER
        assert value >= known, ids[:many]
        known = value


@law
@given(SEEDS, OBJECTIVES)
def test_an_answer_is_what_its_sequence_counts(seed, objective):
    device = device_of(seed)
    device["settings"]["each_tool"] = False  # else one act may count for several steps
    planner = planner_for(device)
    for part in planner.structure.removals:
        plan = planner.plan([part], objective)
        if plan.feasible:
            again = count(planner.structure, planner.convention, planner.times, plan.sequence)
            assert not again.obstacles
            assert (again.steps, again.time_ms) == (plan.count.steps, plan.count.time_ms)
            assert plan.lower_bound <= plan.value
            assert len({op.part for op in plan.sequence if op.part}) <= again.steps <= len(plan.sequence)


@pytest.mark.parametrize("objective", [STEPS, TIME])
def test_a_bound_claimed_early_is_never_refuted(objective, monkeypatch, long_run):
    """With hardly any work allowed an answer may be poor, but its bound has to hold against the full search."""
    stopped = 0
    for seed in range(400 if long_run else 80):
        device = device_of(seed)
        exact = values(device, objective)
        with monkeypatch.context() as patch:
            patch.setattr(search_planner, "STEP_BUDGET", 1)
            patch.setattr(search_planner, "TIME_BUDGET", 1)
            planner = planner_for(device)
            for part, best in exact.items():
                plan = planner.plan([part], objective)
                if plan.feasible:
                    assert plan.lower_bound <= best <= plan.value, (seed, part)
                    stopped += not plan.optimal
                else:
                    assert best == NEVER, (seed, part)
    assert stopped  # else nothing was cut short
