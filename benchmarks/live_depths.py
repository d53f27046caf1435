"""Depths of the priority parts after each act of a recording: from the record to eight plans, on the window's thread.

From the root: .venv/bin/python -m benchmarks.live_depths [--operations 60] [--seeds 5]. Percentiles over acts, and in
times of a plain count of the whole sequence in the same run.
"""

from __future__ import annotations

import argparse
import statistics
import time

from benchmarks.devices import layered_device
from msgspec.structs import replace

from oddbolt.effort.times import KnownTimes
from oddbolt.model import exchange
from oddbolt.model.things import Teardown
from oddbolt.rules.counting import count
from oddbolt.search.planner import Planner


def growing(record: Teardown, acts: int) -> Teardown:
    """The record as it is when the first parts and joints have been entered."""
    parts = record.parts[:acts]
    known = {part.id for part in parts}
    joints = tuple(joint for joint in record.joints if set(joint.of) <= known)
    names = known | {joint.id for joint in joints}

    def entered(thing):
        behind = tuple(tuple(name for name in group if name in names) for group in thing.behind)
        return replace(thing, behind=tuple(group for group in behind if group))

    return replace(record, parts=tuple(map(entered, parts)), joints=tuple(map(entered, joints)))


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--operations", type=int, default=60)
    parser.add_argument("--seeds", type=int, default=5)
    options = parser.parse_args()
    spent, plain = [], []
    for seed in range(options.seeds):
        whole = exchange.from_json(layered_device(options.operations, seed))
        for acts in range(3, len(whole.parts) + 1):
            record = growing(whole, acts)
            start = time.perf_counter()
            planner = Planner(record, KnownTimes(record))
            for part in list(planner.structure.removals)[::max(1, len(record.parts) // 8)][:8]:
                planner.plan([part])
            spent.append(time.perf_counter() - start)
        plan = planner.plan([p for p in planner.structure.removals if p not in planner.never_free])
        start = time.perf_counter()
        count(planner.structure, planner.convention, planner.times, plan.sequence)
        plain.append(time.perf_counter() - start)
    ordered = sorted(spent)
    unit = statistics.median(plain)
    for name, value in (("median", statistics.median(ordered)), ("p95", ordered[int(0.95 * len(ordered))]),
                        ("worst", ordered[-1])):
        print(f"{name:7s} {value * 1000:7.1f} ms, {value / unit:6.1f} times a plain count")


if __name__ == "__main__":
    main()
