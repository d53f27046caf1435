"""Safety policies of plans: kept before anything else as far as can be, against every sequence tried one by one."""

from __future__ import annotations

import copy
import random

import pytest

from oddbolt.catalog.policies import cell_limit_c
from oddbolt.model import exchange
from oddbolt.rules.counting import count
from oddbolt.rules.policies import APART, CELL, KEEP, POLICIES, breaches
from oddbolt.search.planner import STEPS, TIME, Planner
from tests.builders import device, joint, part
from tests.oracles.exhaustive import Device
from tests.oracles.random_devices import random_device
from tests.oracles.test_planner_agrees import Entered, as_tuples


class GuardedDevice(Device):
    """A second reading of the policies, on the plain file: what breaks one counts like a live act; heat and solvent
    wait for each other."""

    def is_live(self, done, op):
        return super().is_live(done, op) + (op[0] == "release" and op[3] == 0 and self.broken_by(op))

    def broken_by(self, op):
        way = self.joints[op[1]]["ways"][op[2]]
        hot = any(limit["temp_c"][1] > 60 for act in way.get("acts", [way]) for limit in act.get("limits", []))
        cell = any(self.data_part(p).get("kind") == "battery" for p in self.joints[op[1]]["of"])
        return way.get("reuse") == "destroyed" or (hot and cell)

    def data_part(self, id_):
        return next(p for p in self.data["parts"] if p["id"] == id_)

    def live(self, sequence):
        return sum(int(self.is_live(sequence[:n], op)) for n, op in enumerate(sequence))

    def ready(self, done, op, effect):
        mine = None if self.lifts(op) else self.act(op).get("does")
        other = {"heat": "soak", "soak": "heat"}.get(mine)
        return max([super().ready(done, op, effect),
                    *(effect[o] for o in done if other and not self.lifts(o) and self.act(o).get("does") == other)])


def risky_device(seed, most_acts):
    """A random device with hot, wet and destructive ways."""
    rng = random.Random(f"risky {seed}")
    data = random_device(seed, most_acts)
    data["settings"]["isolate_first"] = True
    for thing in (*data["parts"], *data["joints"]):
        thing.pop("only_in", None)
    for one in data["joints"]:
        for way in one["ways"]:
            if rng.random() < 0.4:
                way["reuse"] = "destroyed"
            for act in way.get("acts", [way]):
                act["does"] = rng.choice(("", "heat", "heat", "soak", "soak"))
                if rng.random() < 0.5:
                    act["limits"] = [{"temp_c": [50, rng.choice((55, 70))]}]
                if act["does"] and rng.random() < 0.7:
                    act["wait_s"] = rng.randint(10, 600) / 10
    return data


def planner_for(data, policies=POLICIES):
    record = exchange.from_json(data)
    return Planner(record, Entered(record), policies=policies)


@pytest.mark.parametrize(("objective", "most_acts", "seeds"), [(STEPS, 9, 400), (TIME, 7, 250)])
def test_plans_keep_policies_as_far_as_can_be(objective, most_acts, seeds, long_run):
    broken = delayed = 0
    for seed in range(seeds * (4 if long_run else 1)):
        data = risky_device(seed, most_acts)
        plain, planner = GuardedDevice(data), planner_for(data)
        for target in plain.parts:
            plan = planner.plan([target], objective)
            best = plain.least_steps(target) if objective == STEPS else plain.least_time(target)
            assert plan.feasible == (best is not None)
            if best is None:
                continue
            sequence = as_tuples(plan.sequence)
            where = f"seed {seed}, target {target}: {sequence}"
            assert (plain.live(sequence), plan.value) == best, where
            assert plain.time_ms(sequence) == plan.count.time_ms, where
            assert plan.optimal, where
            assert not [b for b in plan.breaches if b.policy == APART], where
            broken += bool(plan.breaches)
            delayed += objective == TIME and plan.count.time_ms > Device(data).time_ms(sequence)
    assert broken and (objective == STEPS or delayed)  # else nothing had to be broken, nothing waited


def hot_cell(limit_c, reuse="renew"):
    heat = {"tool": "heat-mat", "does": "heat", "active_s": 5, "wait_s": 100, "limits": [{"temp_c": [50, limit_c]}]}
    pry = {"tool": "card", "active_s": 10, "at_once": True}
    return device([part("cell", kind="battery")],
                  [joint("glue", "cell", "base", kind="adhesive", ways=[
                      {"acts": [heat, pry], "reuse": reuse}, {"tool": "card", "active_s": 900}])])


def test_a_cell_is_not_heated_above_its_limit_where_another_way_is_left():
    limit = cell_limit_c()
    for above, kept, way in ((10, (), 0), (10, (CELL,), 1), (0, (CELL,), 0)):
        plan = planner_for(hot_cell(limit + above), kept).plan(["cell"], TIME)
        assert plan.sequence[0].way == way
        assert [(b.policy, b.temp_c) for b in plan.breaches] == ([(CELL, limit + 10)] if above and not way else [])


def test_what_must_be_broken_is_said():
    data = hot_cell(cell_limit_c() + 10)
    data["joints"][0]["ways"].pop()
    plan = planner_for(data).plan(["cell"])
    assert plan.feasible and [(b.policy, b.things) for b in plan.breaches] == [(CELL, ("glue",))]


def test_nothing_is_destroyed_where_another_way_is_left():
    plan = planner_for(hot_cell(40, reuse="destroyed"), (KEEP,)).plan(["cell"], TIME)
    assert not plan.breaches and plan.sequence[0].way == 1


def wet_and_hot():
    """Two glues side by side: one soaks for a minute, one is heated for a minute."""
    def glue(id_, does, tool):
        return joint(f"{id_}-glue", id_, "base", kind="adhesive", ways=[
            {"acts": [{"tool": tool, "does": does, "active_s": 5, "wait_s": 60}, {"tool": "card", "active_s": 5}]}])
    return device([part("a"), part("b")], [glue("a", "soak", "dropper"), glue("b", "heat", "heat-mat")])


def test_solvent_and_heat_are_kept_apart_at_the_price_of_a_wait():
    told = planner_for(wet_and_hot(), ()).plan(["a", "b"], TIME)
    assert [b.policy for b in told.breaches] == [APART]
    kept = planner_for(wet_and_hot()).plan(["a", "b"], TIME)
    assert not kept.breaches and kept.optimal and told.optimal
    assert kept.count.time_ms > told.count.time_ms + 40_000
    assert kept.count.steps == told.count.steps


def test_the_work_as_performed_is_told_of_too():
    planner = planner_for(wet_and_hot(), ())
    sequence = planner.plan(["a", "b"], TIME).sequence
    again = count(planner.structure, planner.convention, planner.times, sequence)
    assert [b.things for b in breaches(planner.structure, again)] == [("a-glue", "b-glue")] or \
        [b.things for b in breaches(planner.structure, again)] == [("b-glue", "a-glue")]


def test_more_policies_never_come_cheaper():
    for seed in range(60):
        data = risky_device(seed, 9)
        free, kept = planner_for(data, ()), planner_for(copy.deepcopy(data), POLICIES)
        for target in free.structure.removals:
            one, other = free.plan([target], TIME), kept.plan([target], TIME)
            if one.feasible and one.count.live_acts == other.count.live_acts:
                assert other.value >= one.value, (seed, target)
