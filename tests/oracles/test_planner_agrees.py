"""The planner against an exhaustive search written separately, on random devices with every feature."""

from __future__ import annotations

import random

import pytest

from oddbolt.model import exchange
from oddbolt.rules.counting import count
from oddbolt.rules.device_state import Operation
from oddbolt.rules.times import Estimate
from oddbolt.search.planner import STEPS, TIME, Planner
from tests.oracles.exhaustive import Device
from tests.oracles.random_devices import random_device


class Entered:
    """Active times exactly as written in the file."""

    def __init__(self, teardown):
        self.teardown = teardown

    def act_s(self, joint, way, act):
        return self.teardown.joint[joint].ways[way].acts[act].active_s

    def removal_s(self, part, act=0):
        return self.teardown.part[part].lift[act].active_s

    def act(self, joint, way, act):
        return self._as_written(self.act_s(joint, way, act))

    def removal(self, part, act=0):
        return self._as_written(self.removal_s(part, act))

    @staticmethod
    def _as_written(seconds):
        return Estimate(seconds=seconds, low_s=seconds, high_s=seconds, basis="entered", source="")


def planner_for(data):
    teardown = exchange.from_json(data)
    return Planner(teardown, Entered(teardown))


def as_tuples(sequence):
    return tuple(("remove" if op.part else "release", op.part or op.joint, op.way, op.act) for op in sequence)


def check_plan(device, plan, target, best):
    """The value is the best one, the sequence is allowed, and both programs count it alike."""
    if best is None:
        assert not plan.feasible
        check_blocking(device, plan.blocked_by, target)
        return
    assert plan.feasible and plan.optimal
    sequence = as_tuples(plan.sequence)
    for n, op in enumerate(sequence):
        assert op in device.next_ops(sequence[:n]), (op, sequence)
    assert device.reached(sequence, target)
    assert device.steps(sequence) == plan.count.steps
    assert device.live(sequence) == plan.count.live_acts
    assert device.time_ms(sequence) == plan.count.time_ms
    live = plan.count.live_acts if device.settings["isolate_first"] else 0
    assert (live, plan.value) == best


def check_blocking(device, blocked_by, target):
    assert blocked_by
    kept = set(blocked_by)
    assert not device.can_free(target, kept)
    for one in kept:
        assert device.can_free(target, kept - {one})


def run(seeds, most_acts, objective, solve):
    compared = 0
    for seed in seeds:
        data = random_device(seed, most_acts)
        device, planner = Device(data), planner_for(data)
        for target in device.parts:
            plan = planner.plan([target], objective)
            try:
                check_plan(device, plan, target, solve(device, target))
            except AssertionError as error:
                raise AssertionError(f"seed {seed}, target {target}: {error}") from error
            compared += 1
    return compared


@pytest.mark.parametrize("part", range(6))
def test_steps_equal_exhaustive_search(part, long_run):
    size = 1700 if long_run else 500
    assert run(range(part * size, (part + 1) * size), 9, STEPS, Device.least_steps) > size


@pytest.mark.parametrize("part", range(6))
def test_times_equal_exhaustive_search(part, long_run):
    size = 1000 if long_run else 500
    assert run(range(20_000 + part * size, 20_000 + (part + 1) * size), 7, TIME, Device.least_time) > size


def test_replay_counts_any_allowed_sequence_alike(long_run):
    """Not only best plans: sequences drawn at random count to the same steps, live acts and time."""
    for seed in range(9000, 9000 + (1000 if long_run else 200)):
        data = random_device(seed, 12)
        device, planner = Device(data), planner_for(data)
        rng, done = random.Random(seed), ()
        while ops := device.next_ops(done):
            done = (*done, rng.choice(ops))
        operations = [Operation(part=op[1], act=op[3]) if op[0] == "remove" else Operation(*op[1:]) for op in done]
        counted = count(planner.structure, planner.convention, planner.times, operations)
        assert not counted.obstacles
        assert (counted.steps, counted.live_acts, counted.time_ms) == (
            device.steps(done), device.live(done), device.time_ms(done)), seed
