"""The plan of putting back on layered devices that have been taken apart whole, and the next step after one was done,
against a replay of the same log. Aims: 0.1 s for 200 operations, 2 s for 2,000; a step 0.3 s at 2,000.

From the root: .venv/bin/python -m benchmarks.putting_back
"""

from __future__ import annotations

import statistics
import time
from typing import Any

from benchmarks.devices import layered_device

from oddbolt.model import exchange
from oddbolt.model.things import Teardown
from oddbolt.reassembly.rebuilding.progress import progress
from oddbolt.rules.device_state import DeviceState, apply_whole
from oddbolt.rules.replay import replay
from oddbolt.rules.structure import structure_of
from oddbolt.session.verbs.rebuilding.steps import do_step

SIZES, STEPS = (200, 1000, 2000), 9


def main() -> None:
    for operations in SIZES:
        record = _taken_apart(layered_device(operations, 1))
        start = time.perf_counter()
        replay(record, structure_of(record))
        walked = time.perf_counter() - start
        start = time.perf_counter()
        found = progress(record)
        first = time.perf_counter() - start
        steps = []
        for _ in range(STEPS):
            assert found.current is not None
            record = do_step(record, found.plan.steps[found.current], 1.0).teardown
            start = time.perf_counter()
            found = progress(record)
            steps.append(time.perf_counter() - start)
        print(f"{operations} operations: the plan {first:.3f} s, {first / walked:.1f} times a replay of the log; then "
              f"{statistics.median(steps):.3f} s a step")


def _taken_apart(data: dict[str, Any]) -> Teardown:
    """With a log of everything, in the order in which it comes free."""
    structure = structure_of(exchange.from_json(data))
    state, left, log = DeviceState(structure), [*structure.releases, *structure.removals], []
    while True:
        free = [thing for thing in left if not state.obstacles_of(thing)]
        if not free:
            return exchange.from_json({**data, "log": log})
        for thing in free:
            apply_whole(state, thing)
            left.remove(thing)
            log.append({"id": f"e{len(log)}", "thing": thing,
                        "do": "remove" if thing in structure.removals else "release"})


if __name__ == "__main__":
    main()
