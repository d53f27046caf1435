"""Anything at all, in any order, on the Log: keys, clicks, drags, buttons, photographs, undo and redo. Nothing fails
(tests/ui_fixtures.py listens), everything can be taken back and done again, and the file has what is shown."""

from __future__ import annotations

import random
import string

from PySide6.QtCore import QPoint, Qt, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QApplication

from oddbolt.model.exchange import to_json
from oddbolt.store.files import read_teardown
from tests.ui.log_steps import CTRL, LEFT, SHIFT, K, bench, demo  # noqa: F401
from tests.ui_fixtures import settle, wait_for

PLAIN, RIGHT = Qt.KeyboardModifier.NoModifier, Qt.MouseButton.RightButton
# Without V, which is rarer, and what goes on by itself afterwards: the camera that watches, and the microphone.
LETTERS = [getattr(K, f"Key_{one}") for one in string.ascii_uppercase + string.digits if one != "V"]
OTHERS = [getattr(K, f"Key_{name}") for name in (
    *(f"F{n}" for n in range(2, 10)), "F12", "Space", "Return", "Escape", "Delete", "Insert", "Tab", "Backspace",
    "Left", "Right", "Up", "Down", "Period", "Comma", "Slash", "Plus", "Minus", "PageUp", "PageDown", "Home", "End",
    "Semicolon", "BracketLeft", "Apostrophe", "Backslash", "Question")]
WITH_CTRL = [K.Key_D, K.Key_Y, K.Key_A, K.Key_E, K.Key_R, K.Key_C, K.Key_X, K.Key_M]
WORDS = ("release", "lift", "A4", "screw", "battery", "cover", "plug", "undo", "x" * 50, "ж", "-3", "1e99", "photo",
         "mm", "clip", "as", "@", "tray", "slide", "role", "footprint", "none")
STEPS = 120


class Child:
    """Somebody who plays with everything that is within reach."""

    def __init__(self, window, seed):
        self.window, self.rng = window, random.Random(seed)
        self.canvas, self.view = window.log.canvas, window.log.canvas.viewport()
        self.shut = QTimer(window)  # whatever asks something goes away unanswered
        self.shut.timeout.connect(self._shut)
        self.shut.start(60)

    def play(self, steps):
        ways = {self.letter: 30, self.other: 30, self.with_ctrl: 4, self.click: 20, self.drag: 14, self.type: 2,
                self.photograph: 3, self.line_of_seen: 6, self.take_back: 5, self.again: 3, self.work: 3, self.ways: 1,
                self.button: 6}
        for _ in range(steps):
            self.rng.choices(list(ways), list(ways.values()))[0]()
            settle()
            assert self.window.isVisible()
        self.shut.stop()
        wait_for(lambda: not self.window.log.seeing.is_looking)

    def _shut(self):
        for one in (QApplication.activePopupWidget(), QApplication.activeModalWidget()):
            if one is not None:
                one.close()

    def spot(self):
        return QPoint(self.rng.randrange(self.view.width()), self.rng.randrange(self.view.height()))

    def modifier(self):
        return self.rng.choice((PLAIN, PLAIN, PLAIN, SHIFT, CTRL, CTRL | SHIFT))

    def letter(self):
        QTest.mouseMove(self.view, self.spot())
        QTest.keyClick(self.canvas, self.rng.choice(LETTERS), self.rng.choice((PLAIN, PLAIN, SHIFT)))

    def other(self):
        QTest.keyClick(self.canvas, self.rng.choice(OTHERS), self.rng.choice((PLAIN, PLAIN, SHIFT)))

    def with_ctrl(self):
        QTest.keyClick(self.canvas, self.rng.choice(WITH_CTRL), CTRL)

    def click(self):
        way = QTest.mouseDClick if self.rng.random() < 0.1 else QTest.mouseClick
        way(self.view, self.rng.choice((LEFT, LEFT, LEFT, RIGHT)), self.modifier(), self.spot())

    def drag(self):
        at, modifier = self.spot(), self.modifier()
        QTest.mousePress(self.view, LEFT, modifier, at)
        for _ in range(self.rng.randint(1, 6)):
            at += QPoint(self.rng.randint(-160, 160), self.rng.randint(-120, 120))
            QTest.mouseMove(self.view, at)
        if self.rng.random() < 0.1:
            QTest.keyClick(self.canvas, K.Key_Escape)
        QTest.mouseRelease(self.view, LEFT, modifier, at)

    def type(self):
        line = self.window.log.line
        line.insert(" ".join(self.rng.choice(WORDS) for _ in range(self.rng.randint(1, 4))))
        QTest.keyClick(line, K.Key_Return)

    def photograph(self):
        QTest.keyClick(self.canvas, K.Key_V, self.rng.choice((PLAIN, PLAIN, SHIFT)))

    def line_of_seen(self):
        rows = self.window.log.seen_page.rows
        if rows:
            row = self.rng.choice(rows)
            QTest.mouseClick(self.rng.choice((row, row.tick)), LEFT)

    def take_back(self):
        for _ in range(self.rng.randint(1, 4)):
            QTest.keyClick(self.canvas, K.Key_Z, CTRL)

    def again(self):
        QTest.keyClick(self.canvas, K.Key_Z, CTRL | SHIFT)

    def work(self):
        """Something went on the simulated bench, and is photographed."""
        QTest.keyClick(self.canvas, K.Key_H, CTRL | SHIFT)
        QTest.keyClick(self.canvas, K.Key_V)
        if self.rng.random() < 0.5:
            wait_for(lambda: not self.window.log.seeing.is_looking)

    def ways(self):
        self.window.tell_ways()

    def button(self):
        some = [one for one in self.window.log.findChildren(QAbstractButton) if one.isVisible() and one.isEnabled()]
        self.rng.choice(some).click()


def values(teardown):
    return {key: value for key, value in to_json(teardown).items() if value}


def back_and_again(session, began):
    """All taken back, and all done again: the record as it is."""
    shown, number = values(session.teardown), 0
    assert values(read_teardown(session.path)) == shown
    while session.undo_label is not None:
        session.undo()
        number += 1
    assert values(session.teardown) == began
    for _ in range(number):
        session.redo()
    assert values(session.teardown) == shown


def seeds(long_run):
    return range(12) if long_run else range(1)


def test_anything_on_an_empty_record(bench, long_run):  # noqa: F811
    bench.resize(1280, 800)
    bench.session.undo()
    began = values(bench.session.teardown)
    bench.session.redo()
    for seed in seeds(long_run):
        Child(bench, seed).play(STEPS)
        back_and_again(bench.session, began)
        bench.log.seen_acts.clear()


def test_anything_on_a_record_that_is_whole(demo, long_run):  # noqa: F811
    began = values(demo.session.teardown)
    for seed in seeds(long_run):
        Child(demo, 100 + seed).play(STEPS)
        back_and_again(demo.session, began)
