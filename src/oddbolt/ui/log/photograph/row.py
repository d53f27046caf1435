"""Several marks in a row: Ctrl and a drag from the first to the last, and how many there are."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QSpinBox, QWidget

from oddbolt.model.places import Spot
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.ui.widgets.overlay import Proposal
from oddbolt.words.translate import tr


class RowOfMarks(QWidget):
    """A strip with the number, there while a row is proposed."""

    proposed = Signal(object)  # places to be shown
    accepted = Signal(object)  # places

    def __init__(self) -> None:
        super().__init__()
        self._ends: tuple[Spot, Spot] | None = None
        self.number = QSpinBox()
        self.number.setRange(2, 200)
        self.number.setValue(4)
        self.number.setMinimumHeight(40)
        self.number.setAccessibleName(tr("Number of marks in the row"))
        self.accept = QPushButton(tr("Mark the row  ⏎"))
        self.leave = QPushButton(tr("Leave  Esc"))
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(label(tr("From the first to the last"), "faint"))
        line.addWidget(self.number)
        line.addStretch(1)
        for button in (self.accept, self.leave):
            button.setObjectName("big")
            line.addWidget(button)
        explain((self.number, tr("How many there are in the row, the first and the last counted")),
                (self.accept, tr("Mark all that is proposed")), (self.leave, tr("Mark none of them")))
        self.number.valueChanged.connect(lambda _: self._show())
        self.number.lineEdit().returnPressed.connect(self.accept_all)
        self.accept.clicked.connect(lambda _: self.accept_all())
        self.leave.clicked.connect(lambda _: self.clear())
        self.hide()

    @property
    def is_proposing(self) -> bool:
        return self._ends is not None

    def draw(self, first: Spot, last: Spot) -> None:
        self._ends = first, last
        self.show()
        self._show()
        self.number.setFocus()
        self.number.selectAll()

    def places(self) -> list[Spot]:
        """Evenly from the first to the last, both included."""
        if self._ends is None:
            return []
        (x0, y0), (x1, y1) = self._ends
        last = self.number.value() - 1
        return [(x0 + (x1 - x0) * n / last, y0 + (y1 - y0) * n / last) for n in range(last + 1)]

    def _show(self) -> None:
        if self._ends is not None:
            self.proposed.emit([Proposal(x, y, 0, 1.0) for x, y in self.places()])

    def accept_all(self) -> None:
        places = self.places()
        self.clear()
        if places:
            self.accepted.emit(places)

    def clear(self) -> None:
        if self._ends is not None:
            self._ends = None
            self.hide()
            self.proposed.emit([])
