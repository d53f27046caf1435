"""The whole report of the demo as PDF against its photographs and drawings alone, set on sheets in the same run; the
short form; and the peak of memory of a report with 200 photographs, in a process of its own.

From the root: .venv/bin/python -m benchmarks.report
"""

from __future__ import annotations

import argparse
import resource
import statistics
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from msgspec.structs import replace

from oddbolt.effort.times import KnownTimes
from oddbolt.model.things import Teardown
from oddbolt.paint.documents.reports import ReportPictures, report_pdf
from oddbolt.paint.fonts import draw_without_window
from oddbolt.reports.content.report.compose import compose, compose_short, finished
from oddbolt.reports.content.tree import Drawing, Figure, Page
from oddbolt.search.planner import Planner
from oddbolt.store.files import read_json

DEMO = Path(__file__).resolve().parent.parent / "src" / "oddbolt" / "demo" / "dunlin-2.json"
ROUNDS, MANY = 5, 200


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--memory", action="store_true", help="only the report with many photographs")
    options = parser.parse_args()
    app = draw_without_window()
    record = read_json(DEMO)
    if options.memory:
        print(_many(record))
        return
    whole, pictures, short = [], [], []
    _whole(record)  # everything is loaded once
    for _ in range(ROUNDS):
        whole.append(_timed(lambda: _whole(record)))
        pictures.append(_timed(lambda: _pictures_alone(record)) - _timed(lambda: _composed(record)))
        short.append(_timed(lambda: _last(report_pdf(made := finished(compose_short(_planner(record))),
                                                     ReportPictures(made, _photo), "A4"))))
    a, b, c = (statistics.median(one) for one in (whole, pictures, short))
    print(f"the whole report {a:.2f} s, its photographs and drawings alone {b:.2f} s: {a / b:.2f} times; "
          f"the short form {c:.2f} s")
    run = subprocess.run([sys.executable, "-m", "benchmarks.report", "--memory"], capture_output=True, text=True,
                         check=True)
    print(f"{MANY} photographs: peak {run.stdout.strip()} MB")
    del app


def _planner(record: Teardown) -> Planner:
    return Planner(record, KnownTimes(record))


def _photo(name: str) -> bytes:
    return (DEMO.with_suffix(".photos") / name.split("#")[0]).read_bytes()


def _composed(record: Teardown) -> Any:
    return finished(compose(_planner(record)))


def _whole(record: Teardown) -> bytes:
    report = _composed(record)
    return _last(report_pdf(report, ReportPictures(report, _photo), "A4"))


def _pictures_alone(record: Teardown) -> bytes:
    report = _composed(record)
    blocks = tuple(block for block in report.page.blocks if isinstance(block, Figure | Drawing))
    bare = replace(report, page=Page(blocks))
    return _last(report_pdf(bare, ReportPictures(bare, _photo), "A4"))


def _many(record: Teardown) -> int:
    """With its states over and over, each a photograph of its own."""
    views = [replace(view, id=f"{view.id}-{n}", photo=f"{view.photo}#{n}")
             for n in range(MANY) for view in record.views if view.portrait is None][:MANY]
    _whole(replace(record, views=tuple(views)))
    return round(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)


def _last(making: Iterator[Any]) -> Any:
    *_, body = making
    return body


def _timed(does: Callable[[], object]) -> float:
    start = time.perf_counter()
    does()
    return time.perf_counter() - start


if __name__ == "__main__":
    main()
