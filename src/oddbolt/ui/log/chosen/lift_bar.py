"""What comes off, by kind: one button, or Shift and a letter, names the part and lifts it."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QGridLayout, QSizePolicy, QToolButton, QWidget

from oddbolt.catalog.tables import part_kinds
from oddbolt.words.translate import tr

COLUMNS = 5


class LiftBar(QWidget):
    """Kinds of part as buttons."""

    kind_asked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.buttons: dict[str, QToolButton] = {}
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(4)
        for n, kind in enumerate(part_kinds().values()):
            button = QToolButton()
            button.setObjectName("tool")
            button.setText(f"{kind.short}\n⇧{kind.key}")
            button.setToolTip(tr("Lift: {0}, Shift+{1}").format(kind.name, kind.key))
            button.setAccessibleName(tr("Lift a part of the kind {0}").format(kind.name))
            button.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            button.clicked.connect(lambda _, k=kind.id: self.kind_asked.emit(k))
            self.buttons[kind.id] = button
            grid.addWidget(button, n // COLUMNS, n % COLUMNS)
        for column in range(COLUMNS):
            grid.setColumnStretch(column, 1)
