"""One pass on a real X11 window under Xvfb: the program starts with the demo, takes a key, and ends cleanly."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys

import pytest

PROGRAM = """
import sys
from PySide6.QtCore import Qt, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from oddbolt import app

def act():
    window = next(w for w in QApplication.topLevelWidgets() if w.objectName() == "window")
    window.activateWindow()
    QTest.qWaitForWindowActive(window)
    QTest.keyClick(window, Qt.Key.Key_6, Qt.KeyboardModifier.AltModifier)
    QTest.qWait(200)
    print(QApplication.platformName(), window.stack.currentIndex(), window.figure.tally.out, flush=True)
    window.close()

application = QApplication(sys.argv)
QTimer.singleShot(1500, act)
sys.exit(app.run(["--demo"]))
"""


@pytest.mark.real_window
@pytest.mark.skipif(shutil.which("Xvfb") is None, reason="Xvfb is not installed")
def test_the_program_under_xvfb(tmp_path):
    environment = {**os.environ, "QT_QPA_PLATFORM": "xcb", "XDG_DATA_HOME": str(tmp_path), "HOME": str(tmp_path)}
    read, write = os.pipe()
    server = subprocess.Popen(["Xvfb", "-displayfd", str(write), "-screen", "0", "1400x900x24", "-nolisten", "tcp"],
                              pass_fds=[write], stderr=subprocess.DEVNULL)
    try:
        os.close(write)
        with os.fdopen(read) as pipe:
            environment["DISPLAY"] = f":{pipe.readline().strip()}"
        run = subprocess.run([sys.executable, "-c", PROGRAM], env=environment, capture_output=True, text=True,
                             timeout=60, check=False)
        assert run.returncode == 0, run.stderr
        assert run.stdout.split() == ["xcb", "5", "37"]
    finally:
        server.terminate()
        server.wait()


def test_run_demo_draws_a_picture_without_a_display(tmp_path):
    """What ./run-demo --shot starts, without the set-up around it."""
    environment = {key: value for key, value in os.environ.items() if key not in ("DISPLAY", "WAYLAND_DISPLAY")}
    environment |= {"XDG_DATA_HOME": str(tmp_path), "QT_QPA_PLATFORM": "offscreen"}
    run = subprocess.run([sys.executable, "-m", "oddbolt", "--demo", "--shot", str(tmp_path / "a.png")],
                         env=environment, capture_output=True, text=True, timeout=60, check=False)
    assert run.returncode == 0 and (tmp_path / "a.png").stat().st_size > 100_000


def test_the_window_refuses_a_bad_file_at_the_start(tmp_path):
    (tmp_path / "bad.json").write_text("{")
    environment = {**os.environ, "XDG_DATA_HOME": str(tmp_path), "QT_QPA_PLATFORM": "offscreen"}
    run = subprocess.run([sys.executable, "-m", "oddbolt", str(tmp_path / "bad.json")], env=environment,
                         capture_output=True, text=True, timeout=60, check=False)
    assert run.returncode == 2 and "not JSON" in run.stderr and "Traceback" not in run.stderr
