"""Working on a large record in the window: an act until it is seen, undo until it is seen, a typed mass; opening it.

Offscreen, until the paint ends; a bare commit of one row is printed beside. Aims: each at most 100 ms at the median and
200 at the 95th percentile, opening to a usable window at most 2 s (import aside), peak memory at most 350 MB.
From the root: .venv/bin/python -m benchmarks.large_session [--acts 40] [--profile act|undo|mass|open]
"""

from __future__ import annotations

import argparse
import cProfile
import os
import pstats
import resource
import sqlite3
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from benchmarks.large_record import large_record  # noqa: E402
from PySide6.QtCore import QBuffer, QIODevice, QTimer  # noqa: E402
from PySide6.QtGui import QColor, QImage  # noqa: E402
from PySide6.QtTest import QTest  # noqa: E402
from PySide6.QtWidgets import QApplication  # noqa: E402

from oddbolt.model import exchange  # noqa: E402
from oddbolt.paint.fonts import load_fonts  # noqa: E402
from oddbolt.paint.images import make_thumb  # noqa: E402
from oddbolt.paint.palette import LIGHT  # noqa: E402
from oddbolt.session.modes import Gesture  # noqa: E402
from oddbolt.session.session import Session
from oddbolt.session.verbs.marking import Kind  # noqa: E402
from oddbolt.session.verbs.parts import set_parts  # noqa: E402
from oddbolt.store.document import Document  # noqa: E402
from oddbolt.ui.shell import application  # noqa: E402
from oddbolt.ui.theme.style import dress  # noqa: E402
from oddbolt.ui.window import Window  # noqa: E402


def make_document(path: Path) -> None:
    with Document.create(path, exchange.from_json(large_record())) as document:
        image = QImage(1200, 800, QImage.Format.Format_RGB32)
        for n in range(len(document.teardown.views)):
            image.fill(QColor.fromHsv(n * 359 // 200, 60, 120))
            buffer = QBuffer()
            buffer.open(QIODevice.OpenModeFlag.WriteOnly)
            image.save(buffer, "JPEG", 85)
            body = bytes(buffer.data())
            document.add_photo(f"v{n}.jpg", body, make_thumb(body))


def open_window(path: Path) -> Window:
    window = Window(LIGHT)
    window.resize(1280, 800)
    window.fill(Session(Document.open(path)), path.parent)
    window.show()
    settle(window)
    return window


def settle(window: Window) -> None:
    """Until the paint has ended: what was put off to the event loop runs, and the window is drawn."""
    done = []
    QTimer.singleShot(0, lambda: done.append(True))
    while not done:
        QApplication.processEvents()
    QApplication.processEvents()
    window.repaint()


def timed(times: list[float], does: Callable[[], object], window: Window) -> None:
    start = time.perf_counter()
    does()
    settle(window)
    times.append((time.perf_counter() - start) * 1000)


def bare_commits(folder: Path, number: int) -> list[float]:
    db = sqlite3.connect(folder / "bare.db", isolation_level=None)
    db.execute("PRAGMA journal_mode = DELETE")
    db.execute("PRAGMA synchronous = FULL")
    db.execute("CREATE TABLE t (n INTEGER PRIMARY KEY, body TEXT)")
    found = []
    for n in range(number):
        start = time.perf_counter()
        db.execute("BEGIN IMMEDIATE")
        db.execute("INSERT INTO t VALUES (?, ?)", (n, "x" * 100))
        db.execute("COMMIT")
        found.append((time.perf_counter() - start) * 1000)
    db.close()
    return found


def report(name: str, times: list[float], bare: float) -> None:
    ordered = sorted(times)
    print(f"{name}: median {statistics.median(times):.0f} ms, p95 {ordered[int(len(ordered) * 0.95)]:.0f} ms, "
          f"{statistics.median(times) / bare:.1f} times a bare commit")


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--acts", type=int, default=40)
    parser.add_argument("--profile", choices=("act", "undo", "mass", "open"))
    options = parser.parse_args()
    application()
    load_fonts()
    dress(QApplication.instance(), LIGHT)
    with tempfile.TemporaryDirectory() as name:
        path = Path(name) / "large.oddbolt"
        make_document(path)
        profile = cProfile.Profile()
        opening: list[float] = []
        open_window(path).close()  # imports
        for _ in range(3):
            start = time.perf_counter()
            if options.profile == "open":
                profile.enable()
            window = open_window(path)
            profile.disable()
            opening.append(time.perf_counter() - start)
            if len(opening) < 3:
                window.close()
                window.deleteLater()
        print(f"opening to a usable window: median {statistics.median(opening):.2f} s of 3 (aim at most 2)")
        bare = statistics.median(bare_commits(Path(name), options.acts))
        print(f"a bare commit: {bare:.1f} ms")
        work(window, options, profile, bare)
        peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
        print(f"peak memory {peak:.0f} MB (aim at most 350)")
        if options.profile:
            pstats.Stats(profile).sort_stats("cumulative").print_stats(60)
        window.close()


def work(window: Window, options: argparse.Namespace, profile: cProfile.Profile, bare: float) -> None:
    """Acts on the Log: joints of the last parts released by key; each taken back; a mass typed in Parts."""
    log, session = window.log, window.session
    left = [joint.id for joint in session.teardown.joints if log.recorder.is_on(joint.id)]
    acts: list[float] = []
    undone: list[float] = []
    masses: list[float] = []
    for joint in left[:options.acts]:
        log.choose(joint)
        settle(window)
        if options.profile == "act":
            profile.enable()
        timed(acts, lambda: (log.gestures.deed(Gesture.RELEASE), log.gestures.deed(Gesture.RELEASE)), window)
        profile.disable()
    done = len(session.teardown.log) - 3000
    for _ in range(min(done, options.acts)):
        if options.profile == "undo":
            profile.enable()
        timed(undone, session.undo, window)
        profile.disable()
    marks: list[float] = []
    lifts: list[float] = []
    for n in range(min(options.acts, 20)):
        log.recorder.arm(Kind(joint="connector", type="zif"))
        settle(window)
        timed(marks, lambda n=n: log.gestures.make(Gesture.CLICK_BESIDE, spot=(50.0 + 50 * n, 60.0)), window)
    log.recorder.arm(None)
    for part in [id_ for id_ in session.derived.structure.removals if log.recorder.is_on(id_)][-10:][::-1]:
        log.choose(part)
        settle(window)
        timed(lifts, lambda: (log.gestures.deed(Gesture.LIFT), log.gestures.deed(Gesture.LIFT)), window)
    window.show_workspace("parts")
    settle(window)
    QTest.qWait(300)
    for n in range(min(options.acts, 20)):
        if options.profile == "mass":
            profile.enable()
        timed(masses, lambda n=n: session.do(set_parts, [f"p{n + 1}"], mass_g=2.0 + n), window)
        profile.disable()
    print(f"{done} acts recorded")
    report("a release until it is seen", acts, bare)
    report("undo until it is seen", undone, bare)
    report("a new mark until it is seen", marks, bare)
    report("a lift against the rules, asked twice, until it is seen", lifts, bare)
    report("a typed mass until it is seen", masses, bare)


if __name__ == "__main__":
    main()
