"""A check box whose text may take several lines; Qt's own takes one."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QWidget

from oddbolt.ui.pieces.sheet import label


class Tick(QWidget):
    """`box` is the check box; a click on the text counts too."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.box = QCheckBox()
        self.box.setAccessibleName(text)
        self.text = label(text, "", wrap=True)
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(7)
        line.addWidget(self.box)
        line.addWidget(self.text, 1)

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802 (Qt's name)
        if event.button() == Qt.MouseButton.LeftButton:
            self.box.click()
