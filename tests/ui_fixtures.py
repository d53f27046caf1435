"""A real window on a real document, failing on any Qt warning, on any error that is logged or not caught in a slot or a
thread, and on any job that is left running."""

from __future__ import annotations

import json
import logging
import sys
import threading
import time
from datetime import datetime, timedelta, timezone
from pathlib import Path

import pytest
from PySide6.QtCore import QTimer, QtMsgType, qInstallMessageHandler
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest

from oddbolt.paint.fonts import load_fonts
from oddbolt.paint.images import make_thumb
from oddbolt.paint.palette import LIGHT
from oddbolt.session.documents import open_document
from oddbolt.session.session import Session
from oddbolt.ui.shell import application
from oddbolt.ui.theme.style import dress
from oddbolt.ui.window import Window

HARMLESS = ("propagateSizeHints", "JPEG data", "does not support raise()", "does not support grabbing")


@pytest.fixture(scope="session")
def app():
    made = application("tests")
    load_fonts()
    dress(made, LIGHT)
    yield made


class Heard(logging.Handler):
    """Errors that the program writes into its log."""

    def __init__(self, said: list[str]):
        super().__init__(logging.ERROR)
        self._said = said

    def emit(self, record):
        self._said.append(self.format(record))


def jobs_running() -> list[threading.Thread]:
    return [thread for thread in threading.enumerate() if thread.name == "odd-bolt job" and thread.is_alive()]


@pytest.fixture
def expected_errors() -> list[str]:
    """A test that lets something go wrong on purpose looks into this and empties it."""
    return []


@pytest.fixture(autouse=True)
def no_qt_complaints(app, monkeypatch, expected_errors):
    """Qt's warnings, exceptions in slots and threads and logged errors are failures, and so is a job left running."""
    said = expected_errors

    def take(kind, _context, text):
        if kind in (QtMsgType.QtWarningMsg, QtMsgType.QtCriticalMsg) and not any(h in text for h in HARMLESS):
            said.append(text)

    monkeypatch.setattr(sys, "excepthook", lambda *error: said.append(repr(error[1])))
    monkeypatch.setattr(threading, "excepthook", lambda args: said.append(repr(args.exc_value)))
    heard = Heard(said)
    logging.getLogger("oddbolt").addHandler(heard)
    before = qInstallMessageHandler(take)
    yield
    QTest.qWait(0)
    qInstallMessageHandler(before)
    logging.getLogger("oddbolt").removeHandler(heard)
    assert said == [], "; ".join(said)
    end = time.monotonic() + 5
    while jobs_running() and time.monotonic() < end:
        time.sleep(0.01)
    assert jobs_running() == [], "a job was left running"


def wait_for(condition, seconds=240):
    """Let jobs work and their signals arrive. QTest.qWait alone keeps other threads from running Python. The seconds
    are there for what never comes: on a busy machine a comparison of two photographs has taken over a minute."""
    end = time.monotonic() + seconds
    while not condition() and time.monotonic() < end:
        time.sleep(0.005)
        QTest.qWait(1)
    QTest.qWait(5)
    assert condition()


def settle():
    """Until what was put off to the event loop has run, twice over: what it put off in turn too."""
    for _ in range(2):
        done = []
        QTimer.singleShot(0, lambda done=done: done.append(True))
        wait_for(lambda done=done: done)


class Clock:
    """Time that only moves when told to."""

    def __init__(self):
        self.now = datetime(2026, 3, 2, 9, tzinfo=timezone.utc)

    def __call__(self):
        return self.now

    def forward(self, seconds):
        self.now += timedelta(seconds=seconds)


def photo_bytes(path: Path, colour: int = 0x446655) -> Path:
    image = QImage(1200, 800, QImage.Format.Format_RGB32)
    image.fill(colour)
    image.save(str(path), "JPEG", 90)
    return path


def blank_device() -> dict:
    """A field box with a cover and a cell; nothing recorded yet but two photographs."""
    return {
        "format": "oddbolt-teardown", "version": 1,
        "device": {"name": "Dunlin box", "base": "tray", "category": "slate_tablet"},
        "fasteners": [{"id": "A", "drive": "PH", "size": "00", "thread": "M1.6", "length_mm": 4, "head_mm": 3},
                      {"id": "B", "drive": "T", "size": "5", "thread": "M2", "length_mm": 5, "head_mm": 3.8}],
        "parts": [{"id": "tray", "name": "Tray"},
                  {"id": "cover", "name": "Cover", "on": "tray", "role": ["back_cover"]},
                  {"id": "cell", "name": "Cell", "kind": "battery", "on": "tray", "role": ["battery"],
                   "behind": [["cover"]]}],
        "joints": [{"id": "glue", "name": "Cell glue", "kind": "adhesive", "of": ["cell", "tray"],
                    "behind": [["cover"]], "ways": [{"tool": "card", "active_s": 40, "reuse": "renew"},
                                                    {"tool": "tweezers", "active_s": 90, "reuse": "renew"}]}],
        "views": [{"id": "v0", "side": "back", "photo": "v0.jpg"}, {"id": "v1", "side": "back", "photo": "v1.jpg"}],
    }


@pytest.fixture
def clock():
    return Clock()


@pytest.fixture
def make_window(app, tmp_path, clock):
    """Opens a window on an exchange-file object; closes it at the end."""
    opened = []

    def make(data=None, choose_photo=None):
        data = data or blank_device()
        folder = tmp_path / f"in{len(opened)}"
        folder.mkdir()
        for view in data.get("views", []):
            photo_bytes(folder / view["photo"])
        (folder / "one.json").write_text(json.dumps(data))
        document = open_document(folder / "one.json", make_thumb, tmp_path / "work")
        window = Window(LIGHT)
        window.fill(Session(document, clock), tmp_path / "work", choose_photo)
        window.show()
        window.activateWindow()
        QTest.qWaitForWindowExposed(window)
        QTest.qWait(30)
        opened.append(window)
        return window

    yield make
    for window in opened:
        window.close()
        window.deleteLater()
    QTest.qWait(10)
