"""The demo teardown recorded from nothing, through the real window, with both hands busy.

Every click, drag and key is counted, a menu by its clicks, each typed character too. The analyst knows the device; the
program does not. What the program guessed wrongly and matters is put right by the analyst, and that counts as well.
"""

from __future__ import annotations

from contextlib import contextmanager
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QCursor
from PySide6.QtTest import QTest

from oddbolt.effort.times import KnownTimes
from oddbolt.model import exchange
from oddbolt.paint.drawn_bench.instruments import demo_scene, middle_mm, simulated_bench
from oddbolt.paint.palette import LIGHT
from oddbolt.search.planner import Planner
from oddbolt.session.documents import begin_teardown
from oddbolt.session.prepare import Preparation
from oddbolt.session.recording.offers import PARTED
from oddbolt.session.session import Session
from oddbolt.store.files import read_json
from oddbolt.ui.window import Window
from tests.ui_fixtures import settle, wait_for

DEMO = Path(__file__).resolve().parents[2] / "src" / "oddbolt" / "demo" / "dunlin-2.json"
# Where the analyst clicks on joints that the scene gives no place of their own, mm.
SPOTS = {"port-cable-run": (150, 92), "cell-glue": (100, 112), "processor-clips": (30, 44), "spreader-tack": (75, 48),
         "button-tack": (90, 5), "power-fit": (38, 1.5), "volume-fit": (80, 1.5), "antenna-right-tack": (244, 140),
         "antenna-left-tack": (5, 40), "cover-seam": (40, 140), "front-camera-pad": (160, 11), "display-seam": (60, 80),
         "position-receiver": (60, 56)}
NEVER = -1  # steps of a part that does not come free by the record
LEFT = Qt.MouseButton.LeftButton
SHIFT = Qt.KeyboardModifier.ShiftModifier


class Hands:
    """An analyst at the window, who counts."""

    def __init__(self, window, scene=None, spots=None):
        self.window, self.log, self.acts = window, window.log, 0
        self.scene, self.spots = scene or demo_scene(), SPOTS if spots is None else spots
        self.of: dict[str, str] = {}  # thing of the demo -> thing of the record

    def count(self, acts=1):
        self.acts += acts

    @property
    def now(self):
        return self.window.session.teardown

    # -- gestures

    def key(self, key, shift=False):
        QTest.keyClick(self.log.canvas, key, SHIFT if shift else Qt.KeyboardModifier.NoModifier)
        self.count()

    def spot(self, thing, n=0):
        spots = self.scene.spots.get(thing) or ([self.spots[thing]] if thing in self.spots else None)
        if spots:
            return self.scene.to_pixels(*spots[n], "back")
        part = thing if thing in self.scene.shapes else self.scene.records[thing]["of"][0]
        return self.scene.to_pixels(*middle_mm(self.scene, part), "back")

    def click(self, x, y):
        canvas = self.log.canvas
        QTest.mouseClick(canvas.viewport(), LEFT, pos=canvas.mapFromScene(QPointF(x, y)))
        self.count()

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
        self.count()

    def choose(self, combo, data):
        """Open a list and take a row: two clicks."""
        row = combo.findData(data)
        assert row >= 0, data
        combo.setCurrentIndex(row)
        combo.activated.emit(row)
        self.count(2)

    def choose_tool(self, tool):
        """Open the menu of the last act and take a tool that lies there: two clicks; three where it lies elsewhere."""
        from oddbolt.words.names import tool_name
        from oddbolt.words.translate import sentence

        menu = self.log.act_strip.acts[-1].menu()
        menu.aboutToShow.emit()
        name = sentence(tool_name(self.now, tool))
        direct = [a for a in menu.actions() if a.text() == name]
        others = next(a.menu() for a in menu.actions() if a.menu() and a.text() == "Others")
        action = direct[0] if direct else next(a for a in others.actions() if a.text() == name)
        action.trigger()
        self.count(2 if direct else 3)

    def letter(self, drive, size):
        menu = self.log.letters.more.menu()
        menu.aboutToShow.emit()
        menu.aboutToShow.emit()
        direct = [a for a in menu.actions() if a.text() == f"{drive}{size}"]
        action = direct[0] if direct else next(
            a for sub in menu.actions() if sub.menu() for a in sub.menu().actions() if a.text() == f"{drive}{size}")
        action.trigger()
        self.count(2 if direct else 3)

    def behind(self, thing, hider):
        """Say in the hand's menu that something stood before it: open it, tick."""
        hand = self.log.thing
        if self.log.recorder.selection.thing != self.of[thing]:
            self.log.choose(self.of[thing])
            self.count()  # a click on its mark
        hand._fill_behind()
        names = {a.text(): a for a in hand.behind.menu().actions()}
        from oddbolt.words.names import name_of

        names[name_of(self.now, self.of[hider])].trigger()
        self.count(2)

    def tool(self, tool):
        self.choose_tool(tool)

    def end_to_new(self, number, part, key):
        """Drag an end to where its part lies, and say what that is."""
        self.drag_end(number, *self.spot(part))
        self.key(key, shift=True)
        joint = self.now.joint[self.log.recorder.selection.thing]
        self.of[part] = joint.of[number]

    # -- acts of the bench

    def screws(self, digit, thing, *, one_by_one=False, like=0):
        """The letter; then round all of them, where one like them is marked on this photograph, else a click each."""
        armed = self.log.recorder.selection.kind
        if armed is None or armed.letter != "ABCDEF"[digit - 1:digit]:
            self.key(getattr(Qt.Key, f"Key_{digit}"))
        spots = [self.spot(thing, n) for n in range(len(self.scene.spots[thing]))]
        letter = self.log.recorder.selection.kind.letter
        joints = {j.id for j in self.now.joints if j.fastener == letter}
        known = any(m.thing in joints for m in self.log.states.view.marks)
        clicked = 0 if known and len(spots) > 1 else 1 if len(spots) > 2 else len(spots)
        clicked = len(spots) if one_by_one else clicked
        for spot in spots[:clicked]:
            self.click(*spot)
        if clicked < len(spots):
            self.round(spots[clicked:])
        self.of[thing] = self.log.recorder.selection.thing
        found = [(m.x, m.y) for m in self.log.states.view.marks if m.thing == self.of[thing]]
        assert len(found) == len(spots), (thing, found, spots, self.log.echo.text())

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
        self.count()
        wait_for(lambda: not self.log.alike._jobs.is_running("look"))

    def one(self, key, thing, *, way=""):
        """Point and press the key of a kind: it is marked and undone there. Of a bond that was parted in another way
        than is taken for granted, the key of the answer, or the same key again."""
        self.point(*self.spot(thing))
        before = len(self.now.joints)
        self.key(key)
        self.of[thing] = self.log.recorder.selection.thing
        offered = [one.choice for one in self.log.recorder.offered if one.code == PARTED]
        if way in offered:
            self.key(getattr(Qt.Key, f"Key_F{2 + offered.index(way)}"))
        elif way and way != self.log.recorder.selection.kind.type:
            self.key(key)
        assert not way or self.log.recorder.selection.kind.type == way, (thing, way, offered)
        assert len(self.now.joints) == before + 1

    def lift(self, key, thing):
        self.point(*self.spot(thing))
        self.key(key, shift=True)
        self.of[thing] = self.log.recorder.selection.thing


@contextmanager
def hands_on(preparation, folder, clock, *scene):
    """A window on an empty record, with the simulated bench."""
    session = Session(begin_teardown(preparation, None, folder, clock()), clock)
    window = Window(LIGHT)
    instruments = simulated_bench(lambda: session.teardown)
    window.fill(session, folder, bench=lambda: instruments)
    window.show()
    window.activateWindow()
    QTest.qWaitForWindowExposed(window)
    yield Hands(window, *scene)
    window.close()
    window.deleteLater()
    settle()


@pytest.fixture
def hands(app, tmp_path, clock):
    """Of a slate tablet, on which the Dunlin 2 lies."""
    with hands_on(Preparation(name="blank"), tmp_path, clock) as found:
        yield found


def record(h: Hands) -> None:
    """From the empty form to the bare frame."""
    K = Qt.Key
    h.window.show_workspace("prepare")
    QTest.mouseClick(h.window.prepare.begin, LEFT)  # Prepare is no act
    settle()
    h.letter("PH", "00")
    h.key(K.Key_V)
    h.key(K.Key_Space)  # from now on a click on anything but a screw marks and undoes it
    h.one(K.Key_S, "tray-latch")
    h.lift(K.Key_R, "card-tray")
    h.one(K.Key_A, "cover-seam", way="heat")
    h.choose(h.log.thing.way, "pry")  # it can be pried cold as well
    h.key(K.Key_H)
    h.of["back-cover"] = h.log.recorder.selection.thing
    h.of["cover-swing"] = next(j.id for j in h.now.joints if j.kind == "swing")
    h.key(K.Key_V)
    power_and_port(h, K)
    loose_parts(h, K)
    display(h, K)
    cameras_and_radio(h, K)
    main_board(h, K)
    under_the_board(h, K)


def power_and_port(h: Hands, K) -> None:
    """Under the cover: isolate, free the cell, then what lies under it."""
    h.one(K.Key_F, "label-film")
    h.screws(1, "battery-lid-screws", one_by_one=True)  # the label still covers one on the photograph
    h.lift(K.Key_B, "battery-lid")
    h.one(K.Key_B, "battery-plug")
    h.one(K.Key_Y, "cell-glue")
    h.lift(K.Key_A, "battery")
    h.one(K.Key_D, "port-cable-run")
    h.one(K.Key_Z, "port-plug")
    h.key(K.Key_F4)  # whose: the port's, which comes off much later
    h.one(K.Key_F, "port-film")
    h.screws(1, "port-bracket-screws", one_by_one=True)  # under the film
    h.lift(K.Key_B, "port-bracket")
    h.letter("T", "5")
    h.screws(2, "port-screws")
    h.behind("port-screws", "port-bracket")
    h.lift(K.Key_O, "port-board")


def loose_parts(h: Hands, K) -> None:
    h.letter("Y", "000")
    h.screws(3, "cover-lid-screws")
    h.lift(K.Key_B, "cover-lid")
    h.one(K.Key_B, "cover-plug")
    h.lift(K.Key_C, "back-cover")
    h.key(K.Key_F2)  # it would have been enough to leave it hanging
    h.screws(1, "motor-screw")
    h.lift(K.Key_M, "motor")
    h.screws(1, "jack-screw")
    h.lift(K.Key_O, "jack")
    h.screws(4, "speaker-left-screws", like=1)
    h.lift(K.Key_L, "speaker-left")
    h.screws(4, "speaker-right-screws")
    h.lift(K.Key_L, "speaker-right")


def display(h: Hands, K) -> None:
    """Its plugs, then from the front."""
    h.screws(1, "display-lid-screws")
    h.lift(K.Key_B, "display-lid")
    h.one(K.Key_B, "display-plug")
    h.one(K.Key_Z, "touch-plug")
    h.key(K.Key_V, shift=True)
    h.one(K.Key_A, "display-seam")
    h.lift(K.Key_D, "display")
    h.key(K.Key_V, shift=True)


def cameras_and_radio(h: Hands, K) -> None:
    h.screws(5, "camera-screws", like=1)
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
    h.one(K.Key_X, "coax-long-board")
    h.one(K.Key_D, "coax-clips")
    h.tool("tweezers")
    h.behind("coax-clips", "radio-board")  # no: it was in nobody's way
    h.lift(K.Key_W, "coax-long")
    h.one(K.Key_Y, "antenna-right-tack")
    h.lift(K.Key_N, "antenna-right")
    h.one(K.Key_Z, "array-plug")
    h.one(K.Key_Z, "light-plug")
    h.screws(1, "array-screws")
    h.lift(K.Key_P, "array-board")


def main_board(h: Hands, K) -> None:
    h.one(K.Key_Z, "button-plug")
    h.one(K.Key_F, "spreader-tack")
    h.lift(K.Key_H, "heat-spreader")
    h.one(K.Key_C, "processor-clips")
    h.lift(K.Key_S, "processor-shield")
    h.screws(5, "board-screws")
    h.screws(2, "board-posts", one_by_one=True)  # the sheet lay over one of them
    h.lift(K.Key_Q, "main-board")


def under_the_board(h: Hands, K) -> None:
    h.one(K.Key_A, "button-tack", way="pry")
    h.lift(K.Key_U, "button-cable")
    h.one(K.Key_E, "power-fit")
    h.behind("power-fit", "button-cable")
    h.lift(K.Key_U, "power-key")
    h.one(K.Key_E, "volume-fit")
    h.behind("volume-fit", "button-cable")
    h.lift(K.Key_U, "volume-key")
    h.log.choose(h.of["main-board"])
    h.acts += 1  # a click on its mark
    h.key(K.Key_U)
    h.one(K.Key_B, "receiver-plug")
    h.key(K.Key_3)
    for spot in ((57, 52), (63, 52)):
        h.click(*h.scene.to_pixels(*spot, "back"))
    h.of["receiver-screws"] = h.log.recorder.selection.thing
    h.lift(K.Key_P, "position-receiver")


def wrong_depths(h: Hands, true=None) -> tuple[list[tuple[str, int, int]], int]:
    """Parts whose depth in the record differs from the shipped demo's, and how many lifted ones were compared."""
    true = read_json(DEMO) if true is None else true
    mine, theirs = (Planner(t, KnownTimes(t)) for t in (h.now, true))
    found, number = [], 0
    for part, id_ in h.of.items():
        if part in theirs.structure.removals and id_ in mine.structure.removals:
            counted = mine.plan([id_]).count
            steps = counted.steps if counted else NEVER, theirs.plan([part]).count.steps
            number += id_ in h.window.session.derived.state.removed
            if steps[0] != steps[1]:
                found.append((part, *steps))
    return found, number


def operations(h: Hands) -> int:
    return sum(entry.do in ("release", "remove") for entry in h.now.log)


def test_the_demo_is_recorded_from_nothing(hands, capsys):
    """All depths as in the shipped demo; at most 1.85 acts an operation on average; everything can be taken back."""
    record(hands)
    wrong, number = wrong_depths(hands)
    with capsys.disabled():
        print(f"\n{hands.acts} acts for {operations(hands)} operations: {hands.acts / operations(hands):.2f} each; "
              f"{number} depths compared")
    lifted = [e for e in read_json(DEMO).log if e.do == "remove"]
    assert wrong == [] and number == len(lifted)
    assert hands.acts / operations(hands) <= 1.85
    record_of = exchange.to_json(hands.now)
    session = hands.window.session
    for _ in range(len(session.document.commands())):
        session.undo()
    assert not session.teardown.log and not session.teardown.joints and not session.teardown.views
    for _ in range(len(session.document.commands())):
        session.redo()
    assert exchange.to_json(session.teardown) == record_of
