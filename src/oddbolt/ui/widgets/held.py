"""A foot switch that is held: one pedal for two meanings, while something is offered."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

HELD_MS = 600
RETURN = (Qt.Key.Key_Return, Qt.Key.Key_Enter)


class HeldReturn(QObject):
    """Return as a pedal presses it: short it is short, and long it is long, where `is_asked` says that long means
    something; otherwise it counts when it is pressed. What the keyboard repeats while it is held is nothing."""

    short, long = Signal(), Signal()

    def __init__(self, over: QWidget, is_asked: Callable[[], bool]) -> None:
        super().__init__(over)
        self._is_asked = is_asked
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(HELD_MS)
        self._timer.timeout.connect(self.long)
        over.installEventFilter(self)

    def eventFilter(self, _watched: QObject, event: QEvent) -> bool:  # noqa: N802 (Qt's name)
        if not isinstance(event, QKeyEvent) or event.key() not in RETURN \
                or event.type() not in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease):
            return False
        if event.isAutoRepeat():
            return True
        if event.type() == QEvent.Type.KeyPress:
            if self._is_asked():
                self._timer.start()
                return True
            return False
        if self._timer.isActive():
            self._timer.stop()
            self.short.emit()
            return True
        return False
