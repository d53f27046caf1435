"""The Delete key as a list's own while it has the focus, not as the shortcut of the room round it."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QAbstractItemView


class DeleteKey(QObject):
    """Watches a list; tells when the key is pressed on a row of it."""

    pressed = Signal()

    def __init__(self, view: QAbstractItemView) -> None:
        super().__init__(view)
        self._view = view
        view.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:  # noqa: N802 (Qt's name)
        if not isinstance(event, QKeyEvent) or event.key() != Qt.Key.Key_Delete:
            return False
        if event.type() == QEvent.Type.ShortcutOverride:
            event.accept()
        elif event.type() == QEvent.Type.KeyPress and self._view.currentIndex().isValid():
            self.pressed.emit()
        return True
