"""What one would expect of the device's category and has not found."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QVBoxLayout, QWidget

from oddbolt.reassembly import inventory
from oddbolt.session.session import Session
from oddbolt.session.verbs.answers import answer
from oddbolt.ui.pieces.sheet import label
from oddbolt.ui.workspace import carry_out
from oddbolt.words.names import expected_name
from oddbolt.words.translate import tr


class MissingList(QWidget):
    """What one would expect and has not found, each with a switch: not in this device."""

    said = Signal(str, bool)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._box = QVBoxLayout(self)
        self._box.setContentsMargins(6, 6, 6, 6)
        self.rows: list[tuple[QWidget, QCheckBox, str]] = []

    def show_rows(self, found: list[inventory.Missing]) -> None:
        while self._box.count():
            item = self._box.takeAt(0)
            if item.widget() is not None:
                item.widget().deleteLater()
        self.rows = []
        category = self._session.teardown.device.category
        if not found:
            nothing = tr("Nothing that a device of the category {0} usually has is missing")
            self._box.addWidget(label(nothing.format(category)))
        for one in found:
            row = QWidget()
            line = QHBoxLayout(row)
            line.setContentsMargins(0, 0, 0, 0)
            name = expected_name(one.expected)
            text = tr("{0}: {1} expected, {2} found").format(name, one.expected.number, one.found)
            line.addWidget(label(text), 1)
            box = QCheckBox(tr("not in this device"))
            box.setAccessibleName(tr("{0} is not in this device").format(name))
            box.setMinimumHeight(40)
            box.setChecked(one.answered)
            box.toggled.connect(lambda on, id_=one.expected.id: self._answer(id_, on))
            line.addWidget(box)
            self._box.addWidget(row)
            self.rows.append((row, box, one.expected.id))
        self._box.addStretch(1)

    def _answer(self, id_: str, on: bool) -> None:
        carry_out(self._session, self.said.emit, answer, inventory.PARTS_METHOD, inventory.ABSENT,
                  True if on else None, part=id_)
