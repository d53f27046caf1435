"""The planner on devices of 20 to 2,000 operations, fixed seeds: what is proven, how far bounds are off, how it grows.

From the root: .venv/bin/python -m benchmarks.planner [--sizes 20 50 100 200] [--seeds 3] [--time] [--what-if]
[--solver 5]. Times are medians over seeds, and in times of a plain count of the same sequence in the same run.
"""

from __future__ import annotations

import argparse
import statistics
import time

from benchmarks.devices import layered_device
from msgspec import Struct
from tests.oracles.constraint_model import Model

from oddbolt.effort.times import KnownTimes
from oddbolt.model import exchange
from oddbolt.model.things import Teardown
from oddbolt.rules.counting import count
from oddbolt.search.planner import STEPS, TIME, Planner
from oddbolt.studies.whatif import what_if


class Run(Struct, frozen=True):
    """One device, one question."""

    seconds: float
    proven: int
    asked: int
    gap: float  # largest, of the value
    count_s: float


def all_parts(planner: Planner, objective: str) -> Run:
    """Every part that can be freed, one after another, on one planner."""
    start, proven, gap = time.perf_counter(), 0, 0.0
    parts = [p for p in planner.structure.removals if p not in planner.never_free]
    for part in parts:
        plan = planner.plan([part], objective)
        proven += plan.optimal
        gap = max(gap, (plan.value - plan.lower_bound) / max(1, plan.value))
    return Run(time.perf_counter() - start, proven, len(parts), gap, 0.0)


def whole(planner: Planner, objective: str) -> Run:
    """Everything that can be taken off."""
    parts = [p for p in planner.structure.removals if p not in planner.never_free]
    start = time.perf_counter()
    plan = planner.plan(parts, objective)
    seconds = time.perf_counter() - start
    start = time.perf_counter()
    count(planner.structure, planner.convention, planner.times, plan.sequence)
    return Run(seconds, int(plan.optimal), 1, (plan.value - plan.lower_bound) / max(1, plan.value),
               time.perf_counter() - start)


def against_a_solver(size: int, seeds: int, work: float) -> str:
    """All parts one after another, ours and a general-purpose constraint solver, where both prove; making the model and
    the planner included. The solver is told our value plus one as its horizon, and nothing else."""
    ratios, proven, asked = [], 0, 0
    for seed in range(seeds):
        data = layered_device(size, seed)
        start = time.perf_counter()
        record = exchange.from_json(data)
        planner = Planner(record, KnownTimes(record))
        parts = [p for p in planner.structure.removals if p not in planner.never_free]
        plans = {part: planner.plan([part]) for part in parts}
        ours = time.perf_counter() - start
        theirs = 0.0
        for part, plan in plans.items():
            start = time.perf_counter()
            answer = Model(data, [part], plan.value + 1).solve(work)
            theirs += time.perf_counter() - start
            proven += answer.proven
            asked += 1
            assert not answer.proven or not plan.optimal or answer.steps == plan.value
        ratios.append(theirs / ours)
    return (f"{size:5d}  all parts, steps, solver  {statistics.median(ratios):.0f} times as long as ours "
            f"({min(ratios):.0f} to {max(ratios):.0f}); it proves {proven} of {asked}, ours all")


def what_if_anew(size: int, seeds: int) -> str:
    """All single changes and their effect on eight parts: planned anew where they can matter, and all of it."""
    ratios, seconds = [], []
    for seed in range(seeds):
        record = exchange.from_json(layered_device(size, seed))
        planner = plain_planner(record)
        parts = [p for p in planner.structure.removals if p not in planner.never_free][5::max(1, size // 22)][:8]
        spent = []
        for from_scratch in (False, True):
            start = time.perf_counter()
            for _ in what_if(plain_planner, record, parts, from_scratch=from_scratch, pairs=False):
                pass
            spent.append(time.perf_counter() - start)
        ratios.append(spent[1] / spent[0])
        seconds.append(spent[0])
    return (f"{size:5d}  what if, 8 parts       median {statistics.median(seconds) * 1000:9.1f} ms, from scratch "
            f"{statistics.median(ratios):.1f} times as long")


def plain_planner(record: Teardown) -> Planner:
    return Planner(record, KnownTimes(record))


def report(name: str, size: int, runs: list[Run]) -> None:
    seconds = statistics.median(run.seconds for run in runs)
    plain = statistics.median(run.count_s for run in runs)
    ratio = f", {seconds / plain:.0f} times a plain count" if plain else ""
    print(f"{size:5d}  {name:22s} median {seconds * 1000:9.1f} ms  proven {sum(r.proven for r in runs)} of "
          f"{sum(r.asked for r in runs)}  largest gap {max(r.gap for r in runs):.1%}{ratio}", flush=True)


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--sizes", type=int, nargs="+", default=[20, 50, 100, 200])
    parser.add_argument("--seeds", type=int, default=3)
    parser.add_argument("--time", action="store_true", help="least time too")
    parser.add_argument("--solver", type=float, metavar="WORK", help="compare with CP-SAT, given so much work a part")
    parser.add_argument("--what-if", action="store_true")
    options = parser.parse_args()
    for size in options.sizes:
        for name, ask, objective in (("all parts, steps", all_parts, STEPS), ("whole, steps", whole, STEPS),
                                     ("all parts, time", all_parts, TIME), ("whole, time", whole, TIME)):
            if objective == TIME and not options.time:
                continue
            runs = []
            for seed in range(options.seeds):
                record = exchange.from_json(layered_device(size, seed))
                runs.append(ask(Planner(record, KnownTimes(record)), objective))
            report(name, size, runs)
        if options.what_if:
            print(what_if_anew(size, options.seeds), flush=True)
        if options.solver:
            print(against_a_solver(size, options.seeds, options.solver), flush=True)


if __name__ == "__main__":
    main()
