"""What went wrong: the log of errors as it stands in the state folder, to be read, copied and sent to whoever mends."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QFontDatabase, QGuiApplication
from PySide6.QtWidgets import QDialog, QHBoxLayout, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from oddbolt.ui.background.errors import log_path, log_text
from oddbolt.ui.pieces.sheet import label
from oddbolt.words.translate import tr


class WhatWentWrong(QDialog):
    """Stays open beside the window; reading changes nothing."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("What went wrong"))
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        text = log_text()
        self.text = QPlainTextEdit(text or tr("Nothing has gone wrong since the log was begun."))
        self.text.setReadOnly(True)
        self.text.setAccessibleName(tr("Errors, the newest last"))
        self.text.setFont(QFontDatabase.systemFont(QFontDatabase.SystemFont.FixedFont))
        self.copy = QPushButton(tr("Copy"))
        self.copy.setEnabled(bool(text))
        self.copy.clicked.connect(lambda _: QGuiApplication.clipboard().setText(text))
        close = QPushButton(tr("Close"))
        close.setDefault(True)
        close.clicked.connect(lambda _: self.close())
        buttons = QHBoxLayout()
        buttons.addWidget(self.copy)
        buttons.addStretch(1)
        buttons.addWidget(close)
        box = QVBoxLayout(self)
        box.addWidget(label(tr("Kept in {0}. It names files of yours; read it before you send it.").format(log_path()),
                            "faint", wrap=True))
        box.addWidget(self.text, 1)
        box.addLayout(buttons)
        self.resize(720, 420)
        self.text.moveCursor(self.text.textCursor().MoveOperation.End)
