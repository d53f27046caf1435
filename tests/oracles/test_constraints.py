"""The planner against a general-purpose solver (OR-Tools CP-SAT) on devices too large to try everything."""

from __future__ import annotations

import random

import pytest
from benchmarks.devices import layered_device

from oddbolt.model import exchange
from oddbolt.search.planner import Planner
from tests.builders import planner_of
from tests.oracles.constraint_model import Model

SLACK = 1  # steps that the solver may use beyond ours: nothing better is kept from it, nothing much worse is tried


def targets_of(planner: Planner, rng: random.Random) -> list[list[str]]:
    """Two parts, a set of three, and everything."""
    parts = [part for part in planner.structure.removals if part not in planner.never_free]
    return [[rng.choice(parts)], [rng.choice(parts)], rng.sample(parts, min(3, len(parts))), parts]


def compare(seeds, sizes, work):
    proven = asked = 0
    for seed in seeds:
        data = layered_device(sizes[seed % len(sizes)], seed)
        planner = planner_of(exchange.from_json(data))
        for targets in targets_of(planner, random.Random(seed)):
            ours = planner.plan(targets)
            theirs = Model(data, targets, ours.value + SLACK).solve(work)
            asked += 1
            proven += theirs.proven
            where = f"seed {seed}, {targets}: ours {ours.value} (at least {ours.lower_bound}), theirs {theirs}"
            assert theirs.steps is None or theirs.steps >= ours.lower_bound, where
            assert theirs.bound <= ours.value, where
            if theirs.proven:
                assert ours.lower_bound <= theirs.steps <= ours.value, where
                assert not ours.optimal or theirs.steps == ours.value, where
    return proven, asked


def test_fewest_steps_are_those_of_a_constraint_solver(long_run):
    if long_run:
        proven, asked = compare(range(200), (20, 30, 40, 50), work=20)
    else:
        proven, asked = compare(range(12), (20, 25), work=4)
    print(f"proven by the solver: {proven} of {asked}")
    assert proven >= 0.6 * asked  # else hardly anything was compared


def test_the_solver_refuses_one_step_less_than_ours():
    data = layered_device(20, 3)
    planner = planner_of(exchange.from_json(data))
    part = next(reversed(planner.structure.removals))
    ours = planner.plan([part])
    assert ours.optimal
    assert Model(data, [part], ours.value - 1).solve(20).steps is None


@pytest.mark.parametrize("seed", [0])
def test_the_solver_knows_a_device_made_harder(seed):
    """The comparison can fail: with one thing more in the way it is no longer the same device."""
    data = layered_device(20, seed)
    planner = planner_of(exchange.from_json(data))
    part = next(p for p in planner.structure.removals if planner.plan([p]).value <= 3)
    last = next(reversed(planner.structure.removals))
    harder = {**data, "parts": [{**p, "behind": [[last]]} if p["id"] == part else p for p in data["parts"]]}
    ours = planner.plan([part]).value
    theirs = Model(harder, [part], ours + 1).solve(20)
    assert theirs.steps is None or theirs.steps > ours
