"""The program's own font, which ships with it."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtGui import QFontDatabase

import oddbolt

FAMILY = "Inter"
FOLDER = Path(oddbolt.__file__).parent / "ui" / "resources" / "fonts"


def load_fonts() -> None:
    """So that it looks the same on every machine; DejaVu Sans fills gaps where it is there."""
    for name in ("Inter-Regular.ttf", "Inter-SemiBold.ttf"):
        QFontDatabase.addApplicationFont(str(FOLDER / name))
