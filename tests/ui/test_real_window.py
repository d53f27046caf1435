"""One pass on a real X11 window under Xvfb: the program starts with the demo, takes a key, and ends cleanly."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys

import pytest

from oddbolt.model import exchange
from oddbolt.store.document import Document

PROGRAM = """
import sys
from PySide6.QtCore import Qt, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from oddbolt import app
from tests.ui_fixtures import settle

def act():
    window = next(w for w in QApplication.topLevelWidgets() if w.objectName() == "window")
    window.activateWindow()
    QTest.qWaitForWindowActive(window)
    for _ in range(200):  # the window is there before its content
        settle()
        if window.centralWidget() is not None and window.figure.ledger.out:
            break
    QTest.keyClick(window, Qt.Key.Key_6, Qt.KeyboardModifier.AltModifier)
    QTest.qWait(200)
    print(QApplication.platformName(), window.stack.currentWidget() is window.access, window.figure.ledger.out,
          flush=True)
    window.close()

application = QApplication(sys.argv)
QTimer.singleShot(500, act)
sys.exit(app.run(["--demo"]))
"""


@pytest.fixture
def on_a_screen(tmp_path):
    """The environment of a program whose windows are on a screen of Xvfb."""
    if shutil.which("Xvfb") is None:
        pytest.skip("Xvfb is not installed")
    environment = {**os.environ, "QT_QPA_PLATFORM": "xcb", "XDG_DATA_HOME": str(tmp_path), "HOME": str(tmp_path)}
    read, write = os.pipe()
    server = subprocess.Popen(["Xvfb", "-displayfd", str(write), "-screen", "0", "1400x900x24", "-nolisten", "tcp"],
                              pass_fds=[write], stderr=subprocess.DEVNULL)
    try:
        os.close(write)
        with os.fdopen(read) as pipe:
            environment["DISPLAY"] = f":{pipe.readline().strip()}"
        yield environment
    finally:
        server.terminate()
        server.wait()


@pytest.mark.real_window
def test_the_program_under_xvfb(on_a_screen):
    run = subprocess.run([sys.executable, "-c", PROGRAM], env=on_a_screen, capture_output=True, text=True,
                         timeout=60, check=False)
    assert run.returncode == 0, run.stderr
    assert run.stdout.split() == ["xcb", "True", "37"]


@pytest.mark.real_window
@pytest.mark.parametrize(("module", "tests", "number"), [
    ("test_sequence.py", "dragged or illegal_place or targets_are_chosen or what_if or given_up or policies", 7),
    ("test_access.py", "ghosts or side_by_side or given_up", 3)])
def test_the_workspaces_of_the_planner_under_xvfb(on_a_screen, module, tests, number):
    """Targets, dragging to allowed and forbidden places, what if and giving up, in windows that a server draws."""
    run = subprocess.run([sys.executable, "-m", "pytest", f"tests/ui/{module}", "-k", tests, "-p", "no:cacheprovider"],
                         env=on_a_screen, capture_output=True, text=True, timeout=300, check=False)
    assert run.returncode == 0, run.stdout + run.stderr
    assert run.stdout.count(".") >= number  # else the names above no longer fit


def test_run_demo_draws_a_picture_without_a_display(tmp_path):
    """What ./run-demo --shot starts, without the set-up around it."""
    environment = {key: value for key, value in os.environ.items() if key not in ("DISPLAY", "WAYLAND_DISPLAY")}
    environment |= {"XDG_DATA_HOME": str(tmp_path), "QT_QPA_PLATFORM": "offscreen"}
    run = subprocess.run([sys.executable, "-m", "oddbolt", "--demo", "--shot", str(tmp_path / "a.png")],
                         env=environment, capture_output=True, text=True, timeout=60, check=False)
    assert run.returncode == 0 and (tmp_path / "a.png").stat().st_size > 100_000


def start(tmp_path, *arguments, code=""):
    """The program as it is started, in folders of its own; `code` runs when the window has been filled."""
    environment = {**os.environ, "XDG_DATA_HOME": str(tmp_path / "data"), "XDG_STATE_HOME": str(tmp_path / "state"),
                   "QT_QPA_PLATFORM": "offscreen"}
    program = f"""
import sys
from PySide6.QtCore import QTimer
from oddbolt import app
from oddbolt.ui.window import Window
fill = Window.fill
def filled(self, *args, **keys):
    fill(self, *args, **keys)
    QTimer.singleShot(300, lambda: look(self))
def look(window):
    room = next(name for name, room in window.built.items() if room is window.stack.currentWidget())
    message = window.message.text() + "|" + window.message.informativeText() if hasattr(window, "message") else ""
    print(window.session.path.name, room, message)
    {code or "pass"}
    window.close()
Window.fill = filled
sys.exit(app.run(sys.argv[1:]))
"""
    return subprocess.run([sys.executable, "-c", program, *map(str, arguments)], env=environment, capture_output=True,
                          text=True, timeout=90, check=False)


def test_a_file_that_cannot_be_opened_is_told_in_the_window(tmp_path):
    (tmp_path / "bad.json").write_text("{")
    for name, reason in (("bad.json", "not JSON"), ("missing.oddbolt", "no such file")):
        run = start(tmp_path, tmp_path / name)
        assert run.returncode == 0 and "Traceback" not in run.stderr, run.stderr
        assert run.stdout.split()[0] == "prepare" and f"{name} was not opened" in run.stdout and reason in run.stdout
    run = start(tmp_path, tmp_path / "bad.json", "--shot", tmp_path / "a.png")  # nobody is there to read a window
    assert run.returncode == 2 and "not JSON" in run.stderr and "Traceback" not in run.stderr


def test_a_plain_start_opens_what_was_open_last_or_offers_to_begin(tmp_path, example):
    first = start(tmp_path)
    assert first.stdout.split() == ["prepare"], first.stderr  # nothing is open
    assert not (tmp_path / "data").exists()  # and nothing was made
    Document.create(tmp_path / "own.oddbolt", exchange.from_json(example)).close()
    assert start(tmp_path, tmp_path / "own.oddbolt").stdout.split() == ["own.oddbolt", "log"]
    assert start(tmp_path).stdout.split() == ["own.oddbolt", "log"]
    (tmp_path / "own.oddbolt").unlink()
    assert start(tmp_path).stdout.split() == ["prepare"]
    (tmp_path / "state" / "odd-bolt" / "recent.json").write_bytes(b"\xff[[[")
    assert start(tmp_path).stdout.split() == ["prepare"]


def test_two_plain_starts_at_once_are_two_demos(tmp_path):
    other = "[sys.executable, '-m', 'oddbolt', '--demo', '--shot', os.environ['XDG_DATA_HOME'] + '/b.png']"
    run = start(tmp_path, "--demo", code=f"import subprocess, os; print(subprocess.run({other}).returncode)")
    assert run.stdout.split()[-1] == "0" and len(list((tmp_path / "data/odd-bolt/demo").glob("*.oddbolt"))) == 2


def test_a_preferred_look_is_there_from_the_first_paint_on(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
    looks = []
    for body in (None, '{"look": "dark"}', '{"look": "light"}'):
        if body is not None:
            (tmp_path / "config" / "odd-bolt").mkdir(parents=True, exist_ok=True)
            (tmp_path / "config" / "odd-bolt" / "settings.json").write_text(body)
        run = start(tmp_path, "--demo", code="print('look', window._colours.name)")
        looks.append(run.stdout.split()[-1])
        assert run.returncode == 0, run.stderr
    assert looks[1:] == ["dark", "light"]
