"""The program's own font, which ships with it."""

from __future__ import annotations

import os
from pathlib import Path

from PySide6.QtGui import QFontDatabase, QGuiApplication

import oddbolt

FAMILY = "Inter"
FOLDER = Path(oddbolt.__file__).parent / "ui" / "resources" / "fonts"


def draw_without_window() -> QGuiApplication:
    """Ready to paint where there is no window; to be held as long as something is painted."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    app = QGuiApplication.instance() or QGuiApplication(["odd-bolt"])
    load_fonts()
    return app


def load_fonts() -> None:
    """So that it looks the same on every machine; DejaVu Sans fills gaps where it is there."""
    for name in ("Inter-Regular.ttf", "Inter-SemiBold.ttf"):
        QFontDatabase.addApplicationFont(str(FOLDER / name))
