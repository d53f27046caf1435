"""The one line to type into: completed as it is typed, echoed in words, counted on Enter."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QStringListModel, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QCompleter, QLineEdit

from oddbolt.words.translate import tr


class CompletedLine(QLineEdit):
    """Asks `complete` for what a line could become; says when to count, and to be left."""

    counted = Signal(str)
    left = Signal()

    def __init__(self, complete: Callable[[str], list[str]]) -> None:
        super().__init__()
        self.complete = complete
        self._model = QStringListModel(self)
        completer = QCompleter(self._model, self)
        completer.setCompletionMode(QCompleter.CompletionMode.UnfilteredPopupCompletion)
        completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self.setCompleter(completer)
        self.textEdited.connect(lambda text: self._model.setStringList(self.complete(text)))

    def is_own(self, key: int) -> bool:
        """Whether a key is the line's own while one types, not one of the panel."""
        return key == Qt.Key.Key_Escape

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ShortcutOverride and self.is_own(event.key()):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802 (Qt's name)
        popup = self.completer().popup()
        if event.key() == Qt.Key.Key_Escape and not popup.isVisible():
            self.clear()
            self.left.emit()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            popup.hide()
            self.counted.emit(self.text())
        else:
            super().keyPressEvent(event)


class CommandLine(CompletedLine):
    """The one line of the Log."""

    def __init__(self, complete: Callable[[str], list[str]]) -> None:
        super().__init__(complete)
        self.setPlaceholderText(tr("T to type: 4 PH00 A cover · plug pack b2b · glue pack heat 70C 5min · "
                                        "lift board · ?board"))
        self.setAccessibleName(tr("One line"))
