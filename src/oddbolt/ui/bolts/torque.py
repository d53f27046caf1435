"""Whether a torque can be: a number with its unit, judged for a thread and a strength class."""

from __future__ import annotations

from PySide6.QtWidgets import QComboBox, QGridLayout, QLineEdit, QListWidget, QVBoxLayout, QWidget

from oddbolt.catalog import torque
from oddbolt.model.quantity import read_figure
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Fastener
from oddbolt.reassembly.bolts import torques
from oddbolt.session.session import Session
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.words.names import name_of
from oddbolt.words.refusals import refusal_text
from oddbolt.words.screws import torque_text
from oddbolt.words.translate import tr


class Torque(QWidget):
    """A check by hand, and all torques on record below it."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._recess = ("", "")  # of the letter in hand
        self.value, self.thread = QLineEdit(), QLineEdit()
        self.unit, self.strength = QComboBox(), QComboBox()
        self.unit.addItems(torque.UNITS)
        self.unit.setCurrentText("N·cm")
        self.strength.addItems(torque.classes())
        self.strength.setCurrentText("8.8")
        self.problem = label("", "problem", wrap=True)
        self.verdict = label("", "", wrap=True)
        self.recorded = QListWidget()
        self.recorded.setWordWrap(True)
        self.recorded.setAccessibleName(tr("Torques on record"))
        grid = QGridLayout()
        for n, (text, widget) in enumerate(((tr("Torque"), self.value), (tr("Unit"), self.unit),
                                            (tr("Thread"), self.thread), (tr("Class"), self.strength))):
            widget.setAccessibleName(text)
            grid.addWidget(label(text, "faint"), n // 2 * 2, n % 2)
            grid.addWidget(widget, n // 2 * 2 + 1, n % 2)
        for field in (self.value, self.thread):
            field.setMaxLength(40)
            field.textChanged.connect(lambda _: self.refresh())
        for combo in (self.unit, self.strength):
            combo.currentIndexChanged.connect(lambda _: self.refresh())
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(6)
        box.addLayout(grid)
        box.addWidget(self.problem)
        box.addWidget(self.verdict)
        box.addWidget(label(tr("On record"), "title"))
        box.addWidget(self.recorded, 1)
        box.addWidget(label(tr("By ISO 898-7 and VDI 2230, from memory. The maker's instructions come first."),
                            "faint", wrap=True))
        explain((self.value, tr("What is told or read, as 12 or 0.12")), (self.unit, tr("The unit it is told in")),
                (self.thread, tr("As M2 or M1.4")), (self.strength, tr("The class on the head, where there is one")),
                (self.recorded, tr("Torques of this record, and whether they can be")))
        self.refresh()

    def show_fastener(self, fastener: Fastener) -> None:
        self._recess = fastener.drive, fastener.size
        self.thread.setText(fastener.thread)
        self.refresh()

    def refresh(self) -> None:
        self.problem.setText("")
        self.verdict.setText("")
        if self.value.text().strip():
            try:
                number, unit = read_figure(self.value.text(), tr("Torque"))
                check = torque.check_torque(number, unit or self.unit.currentText(), self.thread.text(),
                                            self.strength.currentText(), recess=self._recess)
            except Refusal as refusal:
                self.problem.setText(refusal_text(refusal))
            else:
                self.verdict.setText(torque_text(check))
        self.problem.setVisible(bool(self.problem.text()))

    def show_recorded(self) -> None:
        """All torques of the refit and the log, the impossible ones first."""
        teardown = self._session.teardown
        order = (torque.IMPOSSIBLE, torque.BREAKING, torque.LOW, torque.ABOVE_USUAL, torque.PLAUSIBLE)
        found = sorted(torques(teardown), key=lambda f: order.index(f.check.verdict) if f.check else -1)
        self.recorded.clear()
        for one in found:
            judged = torque_text(one.check) if one.check else \
                refusal_text(one.refusal) if one.refusal else ""
            self.recorded.addItem(f"{name_of(teardown, one.joint)}: {one.value:g} {one.unit}: {judged}")
        if not found:
            self.recorded.addItem(tr("No torque on record yet"))
