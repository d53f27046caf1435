"""F10, held or tapped, wherever in the window the focus is: the key to talk. A pedal sends it too."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QApplication, QWidget

TALK_KEY = Qt.Key.Key_F10


class TalkKey(QObject):
    """Listens to the key while it is `on`; what the keyboard repeats while it is held is nothing."""

    pressed, released = Signal(), Signal()

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self.on = False
        self._is_down = False
        application = QApplication.instance()
        if application is not None:
            application.installEventFilter(self)

    def eventFilter(self, _watched: QObject, event: QEvent) -> bool:  # noqa: N802 (Qt's name)
        if event.type() == QEvent.Type.WindowDeactivate and self._is_down:  # it goes up elsewhere, and is not told
            self._up()
        if not self.on or event.type() not in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease) \
                or not isinstance(event, QKeyEvent) or event.key() != TALK_KEY:
            return False
        if not event.isAutoRepeat():
            is_press = event.type() == QEvent.Type.KeyPress
            if is_press and not self._is_down:
                self._is_down = True
                self.pressed.emit()
            elif not is_press and self._is_down:
                self._up()
        return True

    def _up(self) -> None:
        self._is_down = False
        self.released.emit()
