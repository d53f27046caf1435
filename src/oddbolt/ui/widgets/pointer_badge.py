"""What a click would do now, beside the pointer: a mode is seen where one looks."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, QPoint, Qt
from PySide6.QtGui import QCursor
from PySide6.QtWidgets import QLabel, QWidget

from oddbolt.ui.pieces.sheet import label

BESIDE = QPoint(16, 18)  # px from the tip of the pointer


class PointerBadge(QObject):
    """Follows the pointer over a widget, which has to track it; nothing is shown where there is nothing to say."""

    def __init__(self, over: QWidget) -> None:
        super().__init__(over)
        self._over = over
        self.shown: QLabel = label("", "badge")
        self.shown.setParent(over)
        self.shown.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.shown.hide()
        over.setMouseTracking(True)
        over.installEventFilter(self)

    def say(self, text: str) -> None:
        self.shown.setText(text)
        self.shown.adjustSize()
        spot = self._over.mapFromGlobal(QCursor.pos())
        self._place(spot if self._over.rect().contains(spot) else None)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:  # noqa: N802 (Qt's name)
        if event.type() == QEvent.Type.MouseMove:
            self._place(event.position().toPoint())
        elif event.type() == QEvent.Type.Leave:
            self._place(None)
        return False

    def _place(self, spot: QPoint | None) -> None:
        """Beside the pointer, and within what it is over."""
        if spot is None or not self.shown.text():
            self.shown.hide()
            return
        room = self._over.size() - self.shown.size()
        x, y = (spot + BESIDE).toTuple()
        if x > room.width():
            x = spot.x() - BESIDE.x() - self.shown.width()
        if y > room.height():
            y = spot.y() - BESIDE.y() - self.shown.height()
        self.shown.move(max(0, x), max(0, y))
        self.shown.show()
        self.shown.raise_()
