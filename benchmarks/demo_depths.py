"""All depths of the demo, proven, in one process after import."""

from __future__ import annotations

import statistics
import time
from pathlib import Path

from oddbolt.effort.times import KnownTimes
from oddbolt.search.planner import Planner
from oddbolt.store.files import read_json

DEMO = Path(__file__).resolve().parent.parent / "src" / "oddbolt" / "demo" / "dunlin-2.json"


def reference_ms() -> float:
    start = time.perf_counter()
    total = 0
    for n in range(1_000_000):
        total += n
    return (time.perf_counter() - start) * 1000


def depths_ms(teardown) -> tuple[float, int, int]:
    start = time.perf_counter()
    planner = Planner(teardown, KnownTimes(teardown))
    plans = [planner.plan([part]) for part in planner.structure.removals]
    return (time.perf_counter() - start) * 1000, sum(plan.optimal for plan in plans), len(plans)


def main() -> None:
    teardown = read_json(DEMO)
    ours, references = [], []
    for _ in range(15):
        references.append(reference_ms())
        taken, proven, parts = depths_ms(teardown)
        ours.append(taken)
    median = statistics.median(ours)
    print(f"{parts} parts, {proven} proven: median {median:.1f} ms (least {min(ours):.1f}, most {max(ours):.1f}); "
          f"{median / statistics.median(references):.2f} times a million additions; aim under 150 ms")


if __name__ == "__main__":
    main()
