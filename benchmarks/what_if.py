"""What if, on the network of before, against every change planned from scratch in the same run; and a verdict by six
methods. Aims: ten times faster; six methods in half a second, all on 200 operations and eight parts.

From the root: .venv/bin/python -m benchmarks.what_if
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from functools import partial

from benchmarks.devices import layered_device
from msgspec.structs import replace

from oddbolt.effort.times import KnownTimes
from oddbolt.model import exchange
from oddbolt.model.things import Teardown
from oddbolt.scoring.evaluate import evaluate
from oddbolt.scoring.method import load_method
from oddbolt.scoring.planned import AllPlanned
from oddbolt.search.planner import Planner
from oddbolt.studies.whatif import what_if

OPERATIONS, PARTS, SEEDS = 200, 8, (1, 2, 3)
ROLES = ("battery", "display", "back_cover", "front_camera", "rear_camera", "charging_port", "button", "speaker")
METHODS = ("eu-2023-1669-tablet", "en-45554-profile", "fr-2020-1757", "edim", "difficulty", "house-rubric")


def main() -> None:
    ratios, verdicts = [], []
    for seed in SEEDS:
        record = exchange.from_json(layered_device(OPERATIONS, seed))
        planner = _make(record)
        parts = [part for part in planner.structure.removals if planner.plan([part]).feasible]
        parts = parts[::max(1, len(parts) // PARTS)][:PARTS]
        quick = _seconds(partial(_all, record, parts, from_scratch=False))
        slow = _seconds(partial(_all, record, parts, from_scratch=True))
        with_roles = replace(record, parts=tuple(replace(part, role=(ROLES[parts.index(part.id)],))
                                                 if part.id in parts else part for part in record.parts))
        judged = _seconds(partial(_by_six, with_roles))
        ratios.append(slow / quick)
        verdicts.append(judged)
        print(f"device {seed}: what if {quick:.2f} s, from scratch {slow:.2f} s, {slow / quick:.1f} times; "
              f"six methods {judged:.2f} s")
    print(f"median: {statistics.median(ratios):.1f} times faster than from scratch; six methods "
          f"{statistics.median(verdicts):.2f} s")


def _all(record: Teardown, parts: list[str], *, from_scratch: bool) -> None:
    for _ in what_if(_make, record, parts, pairs=False, from_scratch=from_scratch):
        pass


def _make(record: Teardown) -> Planner:
    return Planner(record, KnownTimes(record))


def _by_six(record: Teardown) -> None:
    plans = AllPlanned(KnownTimes)
    for method in METHODS:
        evaluate(record, load_method(method), KnownTimes(record), plans)


def _seconds(work: Callable[[], object]) -> float:
    start = time.process_time()
    work()
    return time.process_time() - start


if __name__ == "__main__":
    main()
