"""Two questions before something is set right: what it should be called, and whether all of that may go."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QDialogButtonBox, QLineEdit, QMessageBox, QVBoxLayout, QWidget

from oddbolt.ui.pieces.sheet import label

WIDTH_PX = 420


class AskText(QDialog):
    """One line of text; `then` is called with it when it was given. It waits for nobody but its own window."""

    def __init__(self, parent: QWidget, title: str, text: str, then: Callable[[str], object]) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle(title)
        self.text = QLineEdit(text)
        self.text.setAccessibleName(title)
        self.text.setMinimumWidth(WIDTH_PX)
        self.text.selectAll()
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 14, 16, 14)
        column.addWidget(label(title, "faint"))
        column.addWidget(self.text)
        column.addWidget(buttons)
        self.accepted.connect(lambda: then(self.text.text()))
        self.open()


def confirm(parent: QWidget, title: str, text: str, verb: str, then: Callable[[], object]) -> QMessageBox:
    """Say what would go, and do it when that is what is wanted."""
    box = QMessageBox(QMessageBox.Icon.Question, title, title, QMessageBox.StandardButton.Cancel, parent)
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.setInformativeText(text)
    box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    box.addButton(verb, QMessageBox.ButtonRole.AcceptRole).clicked.connect(lambda _: then())
    box.setDefaultButton(QMessageBox.StandardButton.Cancel)  # Return alone deletes nothing
    box.open()
    return box
