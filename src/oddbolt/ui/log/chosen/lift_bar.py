"""What comes off, by kind: one button, or Shift and a letter, names the part and lifts it."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QGridLayout, QLineEdit, QSizePolicy, QToolButton, QVBoxLayout, QWidget

from oddbolt.catalog.tables import part_kinds
from oddbolt.ui.pieces.sheet import tip
from oddbolt.words.translate import of_data, tr

COLUMNS = 5
ROOM = 345  # px beside the photograph at the smallest window; longer words stand in fewer columns


class LiftBar(QWidget):
    """Kinds of part as buttons."""

    kind_asked = Signal(str)
    named = Signal()  # a name was typed; what comes off is said by a key

    def __init__(self) -> None:
        super().__init__()
        self.buttons: dict[str, QToolButton] = {}
        self.name = QLineEdit()
        self.name.setPlaceholderText(tr("Its name, or none; then its kind"))
        self.name.setAccessibleName(tr("Name of the part that is lifted next"))
        self.name.setToolTip(tip(tr("What comes off next is called this; without, it is called by its kind")))
        self.name.returnPressed.connect(self.named)
        grid = QGridLayout()
        grid.setSpacing(4)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(self.name)
        column.addLayout(grid)
        column.addStretch(1)
        for kind in part_kinds().values():
            button = QToolButton()
            button.setObjectName("tool")
            button.setText(f"{of_data(kind.short)}\n⇧{kind.key}")
            button.setToolTip(tip(tr("Lift: {0}, Shift+{1}").format(of_data(kind.name), kind.key)))
            button.setAccessibleName(tr("Lift a part of the kind {0}").format(of_data(kind.name)))
            button.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            button.clicked.connect(lambda _, k=kind.id: self.kind_asked.emit(k))
            self.buttons[kind.id] = button
        widest = max(button.sizeHint().width() for button in self.buttons.values())
        columns = max(2, min(COLUMNS, ROOM // widest))
        for n, button in enumerate(self.buttons.values()):
            grid.addWidget(button, n // columns, n % columns)
        for column in range(columns):
            grid.setColumnStretch(column, 1)
