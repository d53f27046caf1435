"""The window before its content: on the screen at once, filled after its first paint.

Imports nothing but Qt and the colours; everything that takes time to load comes with the content.
"""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QRect, Qt, QTimer
from PySide6.QtGui import QColor, QGuiApplication, QPainter, QPaintEvent
from PySide6.QtWidgets import QApplication, QMainWindow

from oddbolt.paint.palette import DARK, LIGHT, Palette

RAIL_WIDTH = 78


def system_palette() -> Palette:
    """Dark or light, as the system is."""
    scheme = QGuiApplication.styleHints().colorScheme()
    return DARK if scheme == Qt.ColorScheme.Dark else LIGHT


def application(name: str = "odd-bolt") -> QApplication:
    """The application. Its style is told at the start: changed later, every widget is dressed twice."""
    return QApplication.instance() or QApplication([name, "-style", "Fusion"])


class Shell(QMainWindow):
    """Page and rail in their colours; `after_first_paint` is called once, when they are on the screen."""

    def __init__(self, palette: Palette, after_first_paint: Callable[[], None] | None = None) -> None:
        super().__init__()
        self._colours = palette
        self._after_first_paint = after_first_paint
        self.setObjectName("window")
        self.resize(1280, 800)

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802 (Qt's name)
        super().paintEvent(event)
        if self.centralWidget() is None:
            painter = QPainter(self)
            painter.fillRect(self.rect(), QColor(self._colours.page))
            rail = self._colours.accent if self._colours.name == "light" else self._colours.sheet
            painter.fillRect(QRect(0, 0, RAIL_WIDTH, self.height()), QColor(rail))
            painter.end()
        if self._after_first_paint is not None:
            does, self._after_first_paint = self._after_first_paint, None
            QTimer.singleShot(0, does)
