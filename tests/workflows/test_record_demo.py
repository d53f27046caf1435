"""The demo teardown recorded from nothing, through the real window, with both hands busy.

Every click, drag and key is counted, a menu by its clicks, each typed character too. The analyst knows the device; the
program does not. What the program guessed wrongly and matters is put right by the analyst, and that counts as well.
"""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QCursor
from PySide6.QtTest import QTest

from oddbolt.effort.times import KnownTimes
from oddbolt.model import exchange
from oddbolt.paint.palette import LIGHT
from oddbolt.paint.simulated_bench import demo_scene, middle_mm, simulated_bench
from oddbolt.planning.solve import Planner
from oddbolt.session.prepare import Preparation
from oddbolt.session.session import Session, begin_teardown
from oddbolt.store.files import read_json
from oddbolt.ui.window import Window
from tests.ui_fixtures import wait_for

DEMO = Path(__file__).resolve().parents[2] / "src" / "oddbolt" / "demo" / "dunlin-2.json"
# Where the analyst clicks on joints that the scene gives no place of their own, mm.
SPOTS = {"port-cable-run": (150, 92), "cell-glue": (100, 112), "processor-clips": (30, 44), "spreader-tack": (75, 48),
         "button-tack": (90, 5), "power-fit": (38, 1.5), "volume-fit": (80, 1.5), "antenna-right-tack": (244, 140),
         "antenna-left-tack": (5, 40), "cover-seam": (40, 140), "front-camera-pad": (160, 11), "display-seam": (60, 80)}
LEFT = Qt.MouseButton.LeftButton
SHIFT = Qt.KeyboardModifier.ShiftModifier


class Hands:
    """An analyst at the window, who counts."""

    def __init__(self, window):
        self.window, self.log, self.acts = window, window.log, 0
        self.scene = demo_scene()
        self.of: dict[str, str] = {}  # thing of the demo -> thing of the record

    @property
    def now(self):
        return self.window._session.teardown

    # -- gestures

    def key(self, key, shift=False):
        QTest.keyClick(self.log.canvas, key, SHIFT if shift else Qt.KeyboardModifier.NoModifier)
        self.acts += 1

    def spot(self, thing, n=0):
        spots = self.scene.spots.get(thing) or ([SPOTS[thing]] if thing in SPOTS else None)
        if spots:
            return self.scene.to_pixels(*spots[n], "back")
        part = thing if thing in self.scene.shapes else self.scene.records[thing]["of"][0]
        return self.scene.to_pixels(*middle_mm(self.scene, part), "back")

    def click(self, x, y):
        canvas = self.log.canvas
        QTest.mouseClick(canvas.viewport(), LEFT, pos=canvas.mapFromScene(QPointF(x, y)))
        self.acts += 1

    def point(self, x, y):
        """Move the pointer, which is no act."""
        canvas = self.log.canvas
        QCursor.setPos(canvas.viewport().mapToGlobal(canvas.mapFromScene(QPointF(x, y))))

    def drag_end(self, number, x, y):
        canvas = self.log.canvas
        end = next(e for e in canvas.overlay.ends if e.number == number)
        start, stop = canvas.mapFromScene(QPointF(*end.place)), canvas.mapFromScene(QPointF(x, y))
        QTest.mousePress(canvas.viewport(), LEFT, pos=start)
        QTest.mouseMove(canvas.viewport(), start + QPoint(9, 9))
        QTest.mouseMove(canvas.viewport(), stop)
        QTest.mouseRelease(canvas.viewport(), LEFT, pos=stop)
        self.acts += 1

    def choose(self, combo, data):
        """Open a list and take a row: two clicks."""
        row = combo.findData(data)
        assert row >= 0, data
        combo.setCurrentIndex(row)
        combo.activated.emit(row)
        self.acts += 2

    def letter(self, drive, size):
        menu = self.log.letters.more.menu()
        direct = [a for a in menu.actions() if a.text() == f"{drive}{size}"]
        action = direct[0] if direct else next(
            a for sub in menu.actions() if sub.menu() for a in sub.menu().actions() if a.text() == f"{drive}{size}")
        action.trigger()
        self.acts += 2 if direct else 3

    def behind(self, thing, hider):
        """Say in the hand's menu that something stood before it: open it, tick."""
        hand = self.log.hand
        if self.log.recorder.hand != self.of[thing]:
            self.log.choose(self.of[thing])
            self.acts += 1  # a click on its mark
        hand._fill_behind()
        names = {a.text(): a for a in hand.behind.menu().actions()}
        from oddbolt.reports import wording

        names[wording.name_of(self.now, self.of[hider])].trigger()
        self.acts += 2

    def tool(self, tool):
        self.choose(self.log.hand.tool, tool)

    def end_to_new(self, number, part, key):
        """Drag an end to where its part lies, and say what that is."""
        self.drag_end(number, *self.spot(part))
        self.key(key, shift=True)
        joint = self.now.joint[self.log.recorder.hand]
        self.of[part] = joint.of[number]

    def end_to(self, number, part):
        self.drag_end(number, *self.mark_of(part))

    def mark_of(self, part):
        mark = next(m for m in self.log.states.view.marks if m.thing == self.of[part])
        return mark.x, mark.y

    def lift_marked(self, part):
        """Click on a part's mark and lift it."""
        mark = next(m for m in self.log.states.view.marks if m.thing == self.of[part])
        self.key(Qt.Key.Key_Escape)
        self.click(mark.x, mark.y)
        self.key(Qt.Key.Key_L)
        if self.of[part] not in self.window._session.derived.replay.bench.removed:
            print("NOT LIFTED", part, self.log.recorder.hand, self.log.echo.text())

    # -- acts of the bench

    def plug(self, thing, key=Qt.Key.Key_B):
        """A click on a plug, marking of plugs being on, marks and opens it."""
        self.click(*self.spot(thing))
        self.of[thing] = self.log.recorder.hand

    def screws(self, digit, thing, *, one_by_one=False):
        """The letter; then round all of them, where one like them is marked on this photograph, else a click each."""
        self.key(getattr(Qt.Key, f"Key_{digit}"))
        spots = [self.spot(thing, n) for n in range(len(self.scene.spots[thing]))]
        letter = self.log.recorder.kind.letter
        joints = {j.id for j in self.now.joints if j.fastener == letter}
        known = any(m.thing in joints for m in self.log.states.view.marks)
        clicked = 0 if known and len(spots) > 1 else 1 if len(spots) > 2 else len(spots)
        clicked = len(spots) if one_by_one else clicked
        for spot in spots[:clicked]:
            self.click(*spot)
        if clicked < len(spots):
            self.round(spots[clicked:])
        self.of[thing] = self.log.recorder.hand
        found = [(m.x, m.y) for m in self.log.states.view.marks if m.thing == self.of[thing]]
        if len(found) != len(spots):
            self.log.states.photos.get(self.log.states.view.photo).save("/tmp/w/whole.png")
            print("MARKS", [(m.thing, m.x, m.y) for m in self.log.states.view.marks if 1700 < m.x < 2200])
        assert len(found) == len(spots), (thing, found, spots, self.log.echo.text(), self.log.alike._jobs.is_running("look"))

    def round(self, spots):
        """Draw round places, with Shift held: the screws among them that look like one marked are marked."""
        canvas, wide = self.log.canvas, 26
        xs, ys = [x for x, _ in spots], [y for _, y in spots]
        corners = [(min(xs) - wide, min(ys) - wide), (max(xs) + wide, min(ys) - wide),
                   (max(xs) + wide, max(ys) + wide), (min(xs) - wide, max(ys) + wide)]
        places = [canvas.mapFromScene(QPointF(*corner)) for corner in corners]
        QTest.mousePress(canvas.viewport(), LEFT, SHIFT, places[0])
        for place in places[1:]:
            QTest.mouseMove(canvas.viewport(), place)
        QTest.mouseRelease(canvas.viewport(), LEFT, SHIFT, places[-1])
        self.acts += 1
        wait_for(lambda: not self.log.alike._jobs.is_running("look"))

    def one(self, key, thing, times=1):
        for _ in range(times):
            self.key(key)
        self.click(*self.spot(thing))
        self.of[thing] = self.log.recorder.hand

    def lift(self, key, thing):
        self.point(*self.spot(thing))
        self.key(key, shift=True)
        self.of[thing] = self.log.recorder.hand


@pytest.fixture
def hands(app, tmp_path, clock):
    """A window on an empty record of a slate tablet, with the simulated bench."""
    session = Session(begin_teardown(Preparation(name="blank"), None, tmp_path, clock()), clock)
    window = Window(LIGHT)
    window.fill(session, tmp_path, bench=simulated_bench(lambda: session.teardown))
    window.show()
    window.activateWindow()
    QTest.qWaitForWindowExposed(window)
    yield Hands(window)
    window.close()
    window.deleteLater()
    QTest.qWait(10)


def record(h: Hands) -> None:
    """From the empty form to the bare frame."""
    K = Qt.Key
    h.window.show_workspace("prepare")
    QTest.mouseClick(h.window.prepare.begin, LEFT)
    h.acts += 1
    QTest.qWait(20)
    for drive, size in (("PH", "00"), ("PH", "00"), ("PH", "00"), ("T", "5"), ("Y", "000"), ("T", "5")):
        h.letter(drive, size)
    h.key(K.Key_V)
    h.key(K.Key_Space)  # from now on a click on anything but a screw marks and undoes it
    h.one(K.Key_S, "tray-latch")
    h.tool("tray-pin")
    h.lift(K.Key_R, "card-tray")
    h.one(K.Key_A, "cover-seam", times=2)  # glue, by heat
    h.choose(h.log.hand.way, "pry")  # it can be pried cold as well
    h.key(K.Key_H)
    h.of["back-cover"] = h.log.recorder.hand
    h.of["cover-swing"] = next(j.id for j in h.now.joints if j.kind == "swing")
    h.key(K.Key_V)
    make_safe(h, K)
    first_layer(h, K)
    h.key(K.Key_V)
    cell_and_port(h, K)
    board(h, K)
    h.key(K.Key_V)
    under_the_board(h, K)
    display(h, K)


def make_safe(h: Hands, K) -> None:
    """Under the cover: isolate, then free the cover of its cable."""
    h.one(K.Key_F, "label-film")
    h.screws(1, "battery-lid-screws", one_by_one=True)  # the label still covers one on the photograph
    h.lift(K.Key_B, "battery-lid")
    h.one(K.Key_B, "battery-plug")
    h.end_to_new(0, "battery", K.Key_A)
    h.screws(5, "cover-lid-screws")
    h.lift(K.Key_B, "cover-lid")
    h.one(K.Key_B, "cover-plug")
    h.lift(K.Key_C, "back-cover")


def first_layer(h: Hands, K) -> None:
    h.screws(3, "speaker-left-screws")
    h.lift(K.Key_L, "speaker-left")
    h.screws(1, "motor-screw")
    h.lift(K.Key_M, "motor")
    h.screws(1, "jack-screw")
    h.lift(K.Key_O, "jack")
    h.screws(1, "display-lid-screws")
    h.lift(K.Key_B, "display-lid")
    h.one(K.Key_B, "display-plug")
    h.end_to_new(0, "display", K.Key_D)
    h.one(K.Key_Z, "touch-plug")
    h.end_to(0, "display")
    h.screws(2, "camera-screws")
    h.lift(K.Key_B, "camera-bracket")
    h.one(K.Key_B, "rear-camera-plug")
    h.tool("plug-lifter")  # the next plugs of this type are taken with it too
    h.lift(K.Key_K, "rear-camera")
    h.one(K.Key_B, "front-camera-plug")
    h.one(K.Key_Y, "front-camera-pad")
    h.lift(K.Key_K, "front-camera")
    h.one(K.Key_X, "antenna-left-coax")
    h.one(K.Key_Y, "antenna-left-tack")
    h.lift(K.Key_N, "antenna-left")
    h.one(K.Key_B, "radio-plug")
    h.end_to_new(1, "array-board", K.Key_P)
    h.one(K.Key_X, "radio-coax")
    h.end_to_new(1, "coax-long", K.Key_W)
    h.screws(1, "radio-screws")
    h.lift(K.Key_P, "radio-board")
    h.one(K.Key_X, "coax-long-far")
    h.end_to_new(1, "antenna-right", K.Key_N)
    h.plug("coax-long-board")
    h.one(K.Key_D, "coax-clips")
    h.tool("tweezers")
    h.lift_marked("coax-long")
    h.one(K.Key_Y, "antenna-right-tack")
    h.lift_marked("antenna-right")
    h.one(K.Key_Z, "array-plug")
    h.plug("light-plug")
    h.end_to_new(1, "light-board", K.Key_P)
    h.screws(1, "array-screws")
    h.lift_marked("array-board")
    h.screws(3, "speaker-right-screws")
    h.lift(K.Key_L, "speaker-right")


def cell_and_port(h: Hands, K) -> None:
    h.one(K.Key_Y, "cell-glue")
    h.choose(h.log.hand.way, "solvent")
    h.key(K.Key_A, shift=True)
    h.one(K.Key_D, "port-cable-run")
    h.tool("hand")
    h.one(K.Key_F, "port-film")
    h.screws(1, "port-bracket-screws")
    h.behind("port-bracket-screws", "port-film")
    h.lift(K.Key_B, "port-bracket")
    h.one(K.Key_Z, "port-plug")
    h.screws(4, "port-screws")
    h.behind("port-screws", "port-bracket")
    h.lift(K.Key_O, "port-board")


def board(h: Hands, K) -> None:
    h.one(K.Key_F, "spreader-tack")
    h.lift(K.Key_H, "heat-spreader")
    h.one(K.Key_C, "processor-clips")
    h.tool("spudger")
    h.behind("processor-clips", "heat-spreader")
    h.lift(K.Key_S, "processor-shield")
    h.one(K.Key_Z, "button-plug")
    h.end_to_new(0, "button-cable", K.Key_U)
    h.screws(2, "board-screws")
    h.key(K.Key_R)
    h.screws(4, "board-posts")
    h.lift(K.Key_Q, "main-board")


def under_the_board(h: Hands, K) -> None:
    h.key(K.Key_U)
    h.one(K.Key_B, "receiver-plug")
    h.drag_end(1, *h.mark_of("main-board")) if h.now.joint[h.of["receiver-plug"]].of[1] != h.of["main-board"] else None
    h.lift(K.Key_P, "position-receiver")
    h.key(K.Key_U)
    h.one(K.Key_A, "button-tack", times=2)
    h.tool("spudger")
    h.behind("button-tack", "main-board")
    h.lift_marked("button-cable")
    h.one(K.Key_E, "power-fit")
    h.behind("power-fit", "button-cable")
    h.lift(K.Key_U, "power-key")
    h.one(K.Key_E, "volume-fit")
    h.behind("volume-fit", "button-cable")
    h.lift(K.Key_U, "volume-key")


def display(h: Hands, K) -> None:
    """From the front."""
    h.choose(h.log.side, "front")
    h.key(K.Key_V)
    h.one(K.Key_A, "display-seam", times=1)
    h.lift(K.Key_D, "display")


def wrong_depths(h: Hands) -> list[tuple[str, int, int]]:
    """Parts whose depth in the record differs from the shipped demo's."""
    true = read_json(DEMO)
    mine, theirs = (Planner(t, KnownTimes(t)) for t in (h.now, true))
    found = []
    for part, id_ in h.of.items():
        if part in theirs.structure.removals and id_ in mine.structure.removals:
            steps = mine.plan([id_]).count.steps, theirs.plan([part]).count.steps
            if steps[0] != steps[1]:
                found.append((part, *steps))
    return found


def operations(h: Hands) -> int:
    return sum(entry.do in ("release", "remove") for entry in h.now.log)


def debug(h):
    t = h.now
    back = {v: k for k, v in h.of.items()}
    for e in t.log:
        print(e.id, e.do, e.thing, back.get(e.thing), e.tool)
    for j in t.joints:
        print(j.id, back.get(j.id), [back.get(p, p) for p in j.of], [[back.get(x, x) for x in b] for b in j.behind], j.basis,
              [[a.tool for a in w.acts] for w in j.ways], j.isolates)
    for p in t.parts:
        print(p.id, back.get(p.id), p.name, p.on, [[back.get(x, x) for x in b] for b in p.behind], p.basis)
    m = Planner(t, KnownTimes(t))
    for part in ("battery", "back-cover", "display"):
        print(part, [back.get(o.part or o.joint, o.part or o.joint) for o in m.plan([h.of[part]]).sequence])


def test_the_demo_is_recorded_from_nothing(hands, capsys):
    record(hands)
    assert exchange.to_json(hands.now)
    print(hands.acts, operations(hands), wrong_depths(hands))
    debug(hands)
