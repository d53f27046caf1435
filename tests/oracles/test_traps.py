"""Instance classes that refuted plausible shortcuts of the search, kept small enough to try every sequence.

Each device is built so that the shortcut named gives a worse answer than the best; the best comes from the exhaustive
search, the shortcut's answer from counting its sequence.
"""

from __future__ import annotations

from oddbolt.rules.counting import count
from oddbolt.rules.device_state import Operation
from oddbolt.search.planner import STEPS, TIME
from tests.builders import device, joint, part
from tests.oracles.exhaustive import Device
from tests.oracles.test_planner_agrees import as_tuples, planner_for

FREE = {"tool_change_s": 3.6, "turn_s": 3.6, "isolate_first": False}


def glue(id_, *of, wait, active=1, tool="dropper", then=1, **keys):
    """A joint whose way soaks and is then opened by hand."""
    acts = [{"tool": tool, "active_s": active, "wait_s": wait}, {"tool": tool, "active_s": then}]
    return joint(id_, *of, kind="adhesive", ways=[{"acts": acts}], **keys)


def best(data, target, objective):
    """The planner's plan, which is what trying everything comes to."""
    plain, planner = Device(data), planner_for(data)
    plan = planner.plan([target] if isinstance(target, str) else target, objective)
    assert plan.feasible and plan.optimal
    if isinstance(target, str):
        found = plain.least_steps(target) if objective == STEPS else plain.least_time(target)
        assert (0, plan.value) == found
    assert plain.steps(as_tuples(plan.sequence)) == plan.count.steps
    return planner, plan


def counted(planner, *things):
    """What a sequence comes to; a name with a number is that act of a joint, else a part."""
    operations = [Operation(part=thing) if isinstance(thing, str) else Operation(thing[0], 0, thing[1])
                  for thing in things]
    found = count(planner.structure, planner.convention, planner.times, operations)
    assert not found.obstacles
    return found


def test_what_can_be_done_at_once_may_have_to_wait_for_a_soak_to_begin():
    """Shortcut: a required act with the tool in hand is done at once. It delays the soak that all else waits for."""
    data = device([part("target", behind=[["x", "soak"]])],
                  [joint("x", "target", "base", ways=[{"tool": "dropper", "active_s": 100}]),
                   glue("soak", "target", "base", wait=600)], FREE)
    planner, plan = best(data, "target", TIME)
    at_once = counted(planner, ("x", 0), ("soak", 0), ("soak", 1), "target")
    assert plan.count.time_ms == at_once.time_ms - 100_000
    assert plan.sequence[0].joint == "soak"


def test_an_operation_more_can_be_quicker_than_a_smallest_set():
    """Shortcut: search among smallest sets of operations. An alternative that is not needed lets a soak begin early."""
    data = device([part("late", behind=[["work"]]), part("early"), part("target", behind=[["soak", "late"]])],
                  [joint("work", "late", "base", ways=[{"tool": "hand", "active_s": 100}]),
                   glue("soak", "target", "base", wait=200, behind=[["late"], ["early"]])], FREE)
    planner, plan = best(data, "target", TIME)
    smallest = counted(planner, ("work", 0), "late", ("soak", 0), ("soak", 1), "target")
    assert "early" in [operation.part for operation in plan.sequence]
    assert plan.count.time_ms < smallest.time_ms - 90_000
    assert len(plan.sequence) == len(smallest.timed) + 1


def test_a_removal_at_hand_may_better_end_a_later_step():
    """Shortcut: of several removals at hand the first is done. One kept back saves a step later."""
    data = device([part("cap", behind=[["bolt"]]), part("door", behind=[["bolt"]]),
                   part("target", behind=[["last", "cap"]])],
                  [joint("bolt", "door", "base", tool="ph00"),
                   joint("pin", "target", "base", tool="t5", behind=[["door"]]),
                   joint("last", "target", "base", tool="ph00", behind=[["pin"]])], FREE)
    planner, plan = best(data, "target", STEPS)
    first = counted(planner, ("bolt", 0), "cap", "door", ("pin", 0), ("last", 0), "target")
    assert (plan.count.steps, first.steps) == (3, 4)
    order = [operation.part for operation in plan.sequence if operation.part]
    assert order.index("door") < order.index("cap")


def test_an_act_that_opens_nothing_can_carry_a_turn_into_a_wait():
    """Shortcut: leave out what opens nothing. Doing it turns the device while the soak runs."""
    data = device([part("target", behind=[["soak"]], side="front"), part("idle", side="front", active_s=0)],
                  [glue("soak", "target", "base", wait=60, side="back", then=0)], {**FREE, "turn_s": 3.6})
    best(data, "target", TIME)


def test_a_joined_run_ends_a_step_that_no_removal_can_end():
    """Shortcut: a step for each removal. The change of tool within joined acts ends one without."""
    acts = [{"tool": "heat-gun", "active_s": 5, "wait_s": 5}, {"tool": "pick", "active_s": 5, "at_once": True}]
    data = device([part("a"), part("b"), part("target")],
                  [joint(f"{id_}-glue", id_, "base", kind="adhesive", ways=[{"acts": acts}])
                   for id_ in ("a", "b", "target")], FREE)
    planner, plan = best(data, ["a", "b", "target"], STEPS)
    assert plan.count.steps == 6 and plan.lower_bound == 6


def test_ways_begun_in_vain_stay_out_of_the_answer():
    """The search may take acts of two ways of a joint up in passing; the answer has one way, whole."""
    ways = [{"acts": [{"tool": "ph00", "active_s": 1}, {"tool": "t5", "active_s": 1}]},
            {"acts": [{"tool": "t5", "active_s": 1}, {"tool": "ph00", "active_s": 1}]}]
    data = device([part("lid"), part("target", behind=[["lid"]])],
                  [joint("screws", "lid", "base", tool="ph00"), joint("odd", "target", "base", ways=ways)], FREE)
    _, plan = best(data, "target", STEPS)
    assert len({operation.way for operation in plan.sequence if operation.joint == "odd"}) == 1
    assert sum(operation.joint == "odd" for operation in plan.sequence) == 2
