"""Makes the pictures in docs/screenshots, and those of the manual, from the demo.

Run from the root: .venv/bin/python -m scripts.screenshots
"""

from __future__ import annotations

import argparse
import os
import tempfile
import time
from collections.abc import Callable
from datetime import datetime, timezone
from pathlib import Path

from msgspec.structs import replace

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import Qt  # noqa: E402
from PySide6.QtTest import QTest  # noqa: E402

from oddbolt.knowledge.settling import settle  # noqa: E402
from oddbolt.model.label import Label  # noqa: E402
from oddbolt.model.things import Fastener, Teardown  # noqa: E402
from oddbolt.paint.drawn_bench.instruments import simulated_bench  # noqa: E402
from oddbolt.paint.fonts import load_fonts  # noqa: E402
from oddbolt.paint.palette import DARK, LIGHT, Palette  # noqa: E402
from oddbolt.rehearsing.bench import Rehearsal  # noqa: E402
from oddbolt.session.documents import DEMOS, begin_teardown, open_demo  # noqa: E402
from oddbolt.session.modes import Gesture  # noqa: E402
from oddbolt.session.prepare import Preparation  # noqa: E402
from oddbolt.session.session import Session  # noqa: E402
from oddbolt.session.speaking.shipped import shipped_sentences  # noqa: E402
from oddbolt.session.verbs.letters import add_fastener  # noqa: E402
from oddbolt.session.verbs.plain import Done  # noqa: E402
from oddbolt.session.verbs.rebuilding.steps import do_step  # noqa: E402
from oddbolt.ui.access.panel import demo_successor  # noqa: E402
from oddbolt.ui.log.pages import ASK, DEPTH
from oddbolt.ui.log.speaking.voice import State  # noqa: E402
from oddbolt.ui.log.telling.way_strip import PICTURE
from oddbolt.ui.rooms import ROOMS  # noqa: E402
from oddbolt.ui.shell import application  # noqa: E402
from oddbolt.ui.theme.style import dress  # noqa: E402
from oddbolt.ui.window import Window  # noqa: E402

ROOT = Path(__file__).resolve().parent.parent
FOLDER = ROOT / "docs" / "screenshots"
DEMO_FOLDER = ROOT / "src" / "oddbolt" / "demo"
MANUAL = ROOT / "src" / "oddbolt" / "ui" / "resources" / "manual"
MANUAL_PX = 640
MOST_TURNS = 4000  # 80 s and more: a busy machine takes its time


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--folder", type=Path, default=FOLDER)
    parser.add_argument("--dark", action="store_true")
    parser.add_argument("--size", default="1280x800")
    parser.add_argument("--text", type=float, default=1.0, help="text scale")
    parser.add_argument("--only", default="")
    options = parser.parse_args()
    options.folder.mkdir(parents=True, exist_ok=True)
    app = application()
    load_fonts()
    palette = DARK if options.dark else LIGHT
    dress(app, palette, options.text)
    with tempfile.TemporaryDirectory() as data:
        window = Window(palette)
        window.fill(Session(open_demo(Path(data))), Path(data))
        window.resize(*(int(n) for n in options.size.split("x")))
        window.show()
        window.log.show_state("s1-back")
        window.log.choose("battery-lid-screws")
        document = window.session.document
        _wait(lambda: all(document.thumb(view.photo) for view in document.teardown.views))
        for name in ("prepare", "log", "parts", "cables", "bolts", "sequence", "access", "verdict", "rebuild"):
            window.show_workspace("parts" if name == "cables" else name)
            if name == "parts":
                window.parts.tree.choose("battery")
            if name == "cables":
                window.parts.tabs.setCurrentIndex(1)
                window.parts.cables.moment.setValue(8)  # the cover open, tied by its cable
                window.parts.cables.drawing.choose(0)
            if name == "sequence":
                window.sequence.choose_targets(["port-board"])
                _wait(lambda: not window.sequence.planned.stale)
                window.sequence.planned.choose(10)
                window.sequence.tabs.setCurrentWidget(window.sequence.in_order)
            if name == "bolts":
                window.bolts.types.choose("B")
                window.bolts.identify.fields["diameter_mm"].setText("1.38")
            if name == "access":
                window.access.show_part("battery")
            if name == "verdict":
                _wait(lambda: window.verdict.headline.text() != "" and not window.verdict.is_judging)
            if name == "rebuild":
                _put_back(window, until="port-screws")
            QTest.qWait(150)
            if options.only in ("", name):
                _keep(window, options, name)
            if name == "access" and options.only in ("", "access-two"):
                window.access.compare_with(demo_successor())
                _wait(lambda: not window.access.section.stale and "−" in window.access.why.text.text())
                QTest.qWait(150)
                window.grab().save(str(options.folder / "access-two.png"))
                window.access.compare_with(None)
        window.close()
        if options.only in ("", "voice"):
            voice(options, palette, Path(data))
        if options.only in ("", "ask", "ways"):
            ask(options, palette, Path(data))
        if options.only in ("", "seen"):
            seen(options, palette, Path(data))
        if options.only in ("", "shelf", "compare", "analysts", "report", "rehearse"):
            telling(options, palette, Path(data))


def _put_back(window: Window, until: str) -> None:
    """Step by step until the one about a thing is next."""
    while window.rebuild.bench.step.thing != until:
        window.session.do(do_step, window.rebuild.bench.step, window.session.seconds_now())


def telling(options: argparse.Namespace, palette: Palette, folder: Path) -> None:
    """The shelf with all demos on it, three records compared, two analysts, the report, a rehearsal."""
    os.environ["XDG_DATA_HOME"], os.environ["XDG_CACHE_HOME"] = str(folder / "xdg"), str(folder / "cache")
    (folder / "telling").mkdir()
    for name in DEMOS:
        open_demo(folder / "telling", name).close()
    window = Window(palette)
    window.fill(Session(open_demo(folder / "telling", "curlew")), folder / "telling")
    window.resize(*(int(n) for n in options.size.split("x")))
    window.show()

    def shoot(name: str) -> None:
        QTest.qWait(150)
        if options.only in ("", name):
            _keep(window, options, name)

    window.compare.add_demo("curlew-2")
    window.show_workspace("compare")
    _wait(lambda: window.compare.analysts.found and not window.compare.is_finding)
    window.compare.tabs.setCurrentWidget(window.compare.analysts)
    window.compare.analysts.tree.setCurrentItem(window.compare.analysts.tree.topLevelItem(1))
    shoot("analysts")
    window.session.switch_to(open_demo(folder / "telling"))
    window.compare.add_demo("dunlin-3")
    window.show_workspace("compare")
    window.compare.tabs.setCurrentWidget(window.compare.depths)
    _wait(lambda: not window.compare.is_finding)
    window.compare.depths.table.setCurrentCell(1, 0)
    shoot("compare")
    window.show_workspace("report")
    _wait(lambda: window.report.made is not None and not window.report.is_making)
    window.report.go_to("section")
    shoot("report")
    window.show_workspace("rehearse")
    page = window.rehearse.apart
    window.rehearse.part.setCurrentIndex(window.rehearse.part.findData("battery"))
    window.rehearse.start()
    for thing, tool in (("battery", "hand"), *((one, page.rehearsal.tools_of(one)[0]) for one in _way(page.rehearsal))):
        page.choose(thing)
        page.tool.setCurrentIndex(page.tool.findData(tool))
        page.try_it()
    page.hint.click()
    shoot("rehearse")
    window.shelf.add_folder(str(DEMO_FOLDER))
    window.show_workspace("shelf")
    _wait(lambda: window.shelf.is_done)
    QTest.qWait(300)
    shoot("shelf")
    window.close()


def _way(rehearsal: Rehearsal, most: int = 4) -> list[str]:
    """The first things of the best way."""
    return list(dict.fromkeys(one.part or one.joint for one in rehearsal.best.sequence))[:most]


def _keep(window: Window, options: argparse.Namespace, name: str) -> None:
    """The picture, and a smaller one for the manual in the program."""
    picture = window.grab()
    picture.save(str(options.folder / f"{name}.png"))
    if options.folder == FOLDER and name in ROOMS:
        picture.toImage().scaledToWidth(MANUAL_PX, Qt.TransformationMode.SmoothTransformation).save(
            str(MANUAL / f"{name}.jpg"), "JPEG", 86)


def voice(options: argparse.Namespace, palette: Palette, folder: Path) -> None:
    """The bench radio by voice: the simulated microphone plays what ships, and the recogniser hears it."""
    (folder / "voice").mkdir()
    now = datetime(2026, 5, 4, 9, 0, tzinfo=timezone.utc)
    session = Session(begin_teardown(Preparation(name="Bittern", category="radio"), None, folder / "voice", now))
    bench = simulated_bench(lambda: session.teardown)
    window = Window(palette)
    window.fill(session, folder / "voice", bench=lambda: bench)
    window.resize(*(int(n) for n in options.size.split("x")))
    window.show()
    speaking = window.log.speaking
    speaking.page.microphone.setCurrentIndex(1)
    speaking.page.microphone.activated.emit(1)
    window.speak()
    voice = speaking.voice
    _wait(lambda: voice.state is not State.LOADING)
    sentences = [one.text for one in shipped_sentences()]
    said = ("take a picture", "unplug flexible cable wire to board", "lift away flexible cable",
            "four cross one alfa outer cover", "snap fits outer cover")
    for text in said:
        speaking.page.played.emit(sentences.index(text))
        _wait(lambda: voice.dialogue.is_open)
        if text != said[-1]:
            voice.count_now()
            QTest.qWait(300)
    QTest.qWait(150)
    window.grab().save(str(options.folder / "voice.png"))
    window.close()


def seen(options: argparse.Namespace, palette: Palette, folder: Path) -> None:
    """What the camera saw by itself, on the simulated bench, whose hands go ahead of the record."""
    now = datetime(2026, 5, 4, 9, 0, tzinfo=timezone.utc)
    (folder / "seen").mkdir()
    session = Session(begin_teardown(Preparation(name="Dunlin 2", category="slate_tablet"), None, folder / "seen", now))
    bench = simulated_bench(lambda: session.teardown)
    window = Window(palette)
    window.fill(session, folder / "seen", bench=lambda: bench)
    window.resize(*(int(n) for n in options.size.split("x")))
    window.show()
    window.show_workspace("log")
    session.do(add_fastener, Fastener(id="A", drive="PH", size="00", head_mm=2.5))
    log = window.log
    bench.hands.work(5)
    log.gestures.make(Gesture.WATCH)
    for number, pairs in ((0, 0), (2, 1), (3, 2)):
        if number:
            bench.hands.work(number)
        else:
            log.gestures.make(Gesture.CAMERA)
        _wait(lambda pairs=pairs: log.states.views and len(log.seen_acts.pairs) == pairs
              and not log.seeing.is_looking)
    log.gestures.make(Gesture.SEE)
    QTest.qWait(300)
    window.grab().save(str(options.folder / "seen.png"))
    window.close()


def _wait(condition: Callable[[], bool]) -> None:
    """Let jobs work until something is there. Raises TimeoutError, rather than take a picture of what is not."""
    for _ in range(MOST_TURNS):
        time.sleep(0.02)
        QTest.qWait(1)
        if condition():
            return
    raise TimeoutError("what the picture is to show did not come")


def ask(options: argparse.Namespace, palette: Palette, folder: Path) -> None:
    """The open questions, on the demo with everything about access assumed."""
    session = Session(open_demo(folder / "ask"))
    session.do(lambda teardown: Done(Label("assume"), all_assumed(teardown)))
    window = Window(palette)
    window.fill(session, folder)
    window.resize(*(int(n) for n in options.size.split("x")))
    window.show()
    window.show_workspace("log")
    window.log.show_state("s4-back")
    asking = window.log.asking
    asking.refresh()
    _wait(lambda: asking.question is not None)
    window.log.above.setCurrentIndex(ASK)
    window.log.choose("port-screws")
    QTest.qWait(200)
    if options.only in ("", "ask"):
        window.grab().save(str(options.folder / "ask.png"))
    if options.only in ("", "ways"):
        _ways(window, options.folder)
    window.close()


def _ways(window: Window, folder: Path) -> None:
    """The way to the port board, with one of its acts in hand."""
    way = window.log.way
    window.log.below.setCurrentIndex(DEPTH)
    window.tell_ways("port-board")
    _wait(lambda: way.way is not None and way.strip.count() > 0)
    way.strip.setCurrentRow(7)
    _wait(lambda: way.strip.item(7).data(PICTURE) is not None)
    _wait(lambda: way.strip.item(6).data(PICTURE) is not None)
    QTest.qWait(150)
    window.grab().save(str(folder / "ways.png"))


def all_assumed(teardown: Teardown) -> Teardown:
    base = teardown.device.base
    parts = tuple(p if p.id == base else replace(p, basis="assumed") for p in teardown.parts)
    return settle(replace(teardown, parts=parts, joints=tuple(replace(j, basis="assumed") for j in teardown.joints)))


if __name__ == "__main__":
    main()
