"""Steps of recording, as a person does them: keys, clicks, drags on the Log of a real window."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QCursor
from PySide6.QtTest import QTest

from oddbolt.app import open_demo
from oddbolt.paint.drawn_bench.instruments import simulated_bench
from oddbolt.paint.palette import LIGHT
from oddbolt.session.documents import begin_teardown
from oddbolt.session.prepare import Preparation
from oddbolt.session.session import Session
from oddbolt.ui.window import Window
from tests.ui_fixtures import photo_bytes, settle

LEFT = Qt.MouseButton.LeftButton
K, CTRL, SHIFT = Qt.Key, Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


@pytest.fixture
def bench(app, tmp_path, clock):
    """A window on an empty record, with a photograph and the simulated bench."""
    session = Session(begin_teardown(Preparation(name="Dunlin box", category="slate_tablet"), None, tmp_path, clock()),
                      clock)
    window = Window(LIGHT)
    instruments = simulated_bench(lambda: session.teardown)
    window.fill(session, tmp_path, lambda: photo_bytes(tmp_path / "p.jpg"), lambda: instruments)
    window.show()
    window.activateWindow()
    QTest.qWaitForWindowExposed(window)
    press(window, K.Key_N)
    yield window
    window.close()
    window.deleteLater()
    settle()


def press(window, key, modifier=Qt.KeyboardModifier.NoModifier):
    QTest.keyClick(window.log.canvas, key, modifier)
    settle()


def place(window, x, y) -> QPoint:
    return window.log.canvas.mapFromScene(QPointF(x, y))


def click(window, x, y):
    QTest.mouseClick(window.log.canvas.viewport(), LEFT, pos=place(window, x, y))
    settle()


def point(window, x, y):
    QCursor.setPos(window.log.canvas.viewport().mapToGlobal(place(window, x, y)))


def round_about(window, corners, modifier=SHIFT):
    view = window.log.canvas.viewport()
    spots = [place(window, *corner) for corner in corners]
    QTest.mousePress(view, LEFT, modifier, spots[0])
    for spot in spots[1:]:
        QTest.mouseMove(view, spot)
    QTest.mouseRelease(view, LEFT, modifier, spots[-1])
    settle()


def now(window):
    return window.session.teardown


def log_of(window):
    return [(e.do, e.thing or e.things) for e in now(window).log]


def letter(window, name="PH00"):
    menu = window.log.letters.more.menu()
    menu.aboutToShow.emit()
    menu.aboutToShow.emit()
    next(a for a in menu.actions() if a.text() == name).trigger()
    settle()


def open_to_the_screws(window):
    """The cover clipped off, a photograph of what is below, one silver screw of the left loudspeaker marked."""
    press(window, K.Key_V)
    press(window, K.Key_Space)
    point(window, 400, 1200)
    press(window, K.Key_C)
    press(window, K.Key_H)
    press(window, K.Key_Space)
    press(window, K.Key_V)  # the cover is open: screws show
    letter(window)
    press(window, K.Key_1)
    click(window, 191, 983)


@pytest.fixture
def demo(app, tmp_path, clock):
    """A window on the demo."""
    window = Window(LIGHT)
    window.fill(Session(open_demo(tmp_path), clock), tmp_path)
    window.resize(1280, 800)
    window.show()
    window.activateWindow()
    QTest.qWaitForWindowExposed(window)
    settle()
    yield window
    window.close()
    window.deleteLater()
    settle()
