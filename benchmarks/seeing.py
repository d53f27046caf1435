"""Two photographs compared in the window, again and again: how long it takes, and what 200 of them leave in memory.

Each of 200 photographs of the simulated bench (2.4 megapixels, four of them in turn) is compared with the one before.
Against decoding both photographs. Aims: 2.5 s a pair on one core; the peak of memory after the last pair at most 1.25
times that after the tenth. From the root: .venv/bin/python -m benchmarks.seeing [--photographs 200]
"""

from __future__ import annotations

import argparse
import os
import resource
import statistics
import tempfile
import time
from collections.abc import Callable
from datetime import datetime, timezone
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QEventLoop, QTimer  # noqa: E402
from PySide6.QtGui import QImage  # noqa: E402
from PySide6.QtWidgets import QApplication  # noqa: E402

from oddbolt.instruments.simulated import Stand  # noqa: E402
from oddbolt.paint.drawn_bench.instruments import demo_scene  # noqa: E402
from oddbolt.paint.drawn_bench.photo import Shot, render  # noqa: E402
from oddbolt.paint.fonts import load_fonts  # noqa: E402
from oddbolt.paint.palette import LIGHT  # noqa: E402
from oddbolt.session.documents import begin_teardown  # noqa: E402
from oddbolt.session.prepare import Preparation  # noqa: E402
from oddbolt.session.session import Session  # noqa: E402
from oddbolt.ui.shell import application  # noqa: E402
from oddbolt.ui.theme.style import dress  # noqa: E402
from oddbolt.ui.window import Window  # noqa: E402

STEPS = ((), ("battery-lid-screws",), ("battery-lid-screws", "battery-lid"),
         ("battery-lid-screws", "battery-lid", "motor-screw", "motor"))
FIRST = 10  # pairs, until everything that is kept once is there


def pictures() -> list[bytes]:
    scene, found = demo_scene(), []
    for n, done in enumerate(STEPS):
        gone = {*done, "cover-swing", "label-film"}
        released = frozenset(thing for thing in gone if "of" in scene.records[thing]) | {scene.seam}
        stand = Stand(seed=n, shift_mm=(0.2 * n, -0.1 * n), turn_deg=0.05 * n, lamp=(0.3, 0.2), brightness=1)
        found.append(render(scene, Shot(released=released, removed=frozenset(gone - released), seed=n,
                                        shift_mm=stand.shift_mm, turn_deg=stand.turn_deg, parallax=True)))
    return found


def peak_mb() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def decoded_s(bodies: list[bytes]) -> float:
    times = []
    for n in range(1, len(bodies)):
        start = time.perf_counter()
        for body in bodies[n - 1:n + 1]:
            assert not QImage.fromData(body).isNull()
        times.append(time.perf_counter() - start)
    return statistics.median(times)


def run_until(done: Callable[[], bool]) -> None:
    """In an event loop, as the program has one: what is dropped is deleted by it."""
    loop, timer = QEventLoop(), QTimer()
    timer.timeout.connect(lambda: loop.quit() if done() else None)
    timer.start(3)
    loop.exec()


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--photographs", type=int, default=200)
    options = parser.parse_args()
    application()
    load_fonts()
    dress(QApplication.instance(), LIGHT)
    bodies = pictures()
    with tempfile.TemporaryDirectory() as name:
        now = datetime(2026, 5, 4, 9, 0, tzinfo=timezone.utc)
        session = Session(begin_teardown(Preparation(name="Dunlin 2", category="slate_tablet"), None, Path(name), now))
        window = Window(LIGHT)
        window.resize(1280, 800)
        window.fill(session, Path(name))
        window.show()
        window.show_workspace("log")
        states, seeing = window.log.states, window.log.seeing
        states.side = "back"
        times, peaks = [], []
        for n in range(options.photographs):
            assert states.add(f"photo-{n}.jpg", bodies[n % len(bodies)])
            start = time.perf_counter()
            run_until(lambda: not seeing.is_looking)
            times.append(time.perf_counter() - start)
            peaks.append(peak_mb())
        bare = decoded_s(bodies)
        middle = statistics.median(times[1:])
        print(f"{len(times) - 1} pairs of 2.4 megapixels: median {middle:.2f} s, {middle / bare:.0f} times decoding "
              "both photographs")
        first = peaks[min(FIRST, len(peaks) - 1)]
        print(f"peak of memory: {first:.0f} MB after {FIRST} pairs, {peaks[-1]:.0f} MB after the last, "
              f"{peaks[-1] / first:.2f} times")
        window.close()


if __name__ == "__main__":
    main()
