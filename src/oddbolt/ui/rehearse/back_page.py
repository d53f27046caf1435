"""A learner puts back what the way to a part took off, in an order that closes over nothing, with its torques."""

from __future__ import annotations

import random

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from oddbolt.model.quantity import read_number
from oddbolt.model.refusal import Refusal
from oddbolt.rehearsing.back import FINE, PuttingIn
from oddbolt.session.session import Session
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.words.names import name_apart
from oddbolt.words.refusals import refusal_text
from oddbolt.words.rehearsing import placed_text
from oddbolt.words.translate import tr

THING = Qt.ItemDataRole.UserRole
MOST_NCM = 10_000


class BackPage(QWidget):
    ended = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.putting: PuttingIn | None = None
        self._asked = ""  # the group whose torque is asked
        self.right_torques = self.asked_torques = 0
        self.things, self.said = QListWidget(), QListWidget()
        self.put, self.torque = QPushButton(tr("Put it in")), QLineEdit()
        self.task = label("", "title")
        self.put.setObjectName("go")
        self.said.setWordWrap(True)
        for widget, name, told in (
                (self.things, tr("What is off"), tr("Choose what goes in next")),
                (self.torque, tr("Torque, N·cm"), tr("The torque of these screws by the instruction; Return answers")),
                (self.said, tr("What each choice was"), tr("The newest stands at the top"))):
            widget.setAccessibleName(name)
            explain((widget, told))
        explain((self.put, tr("Try whether it can go in now")))
        self.torque.setPlaceholderText(tr("Torque, N·cm"))
        left, right, row = QVBoxLayout(), QVBoxLayout(), QHBoxLayout()
        row.addWidget(self.torque, 1)
        row.addWidget(self.put)
        left.addWidget(self.task)
        left.addWidget(self.things, 1)
        left.addLayout(row)
        right.addWidget(self.said)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addLayout(left, 1)
        whole.addLayout(right, 1)
        self.things.itemActivated.connect(lambda _: self.try_it())
        self.put.clicked.connect(lambda _: self.try_it())
        self.torque.returnPressed.connect(self._answer_torque)

    def begin(self, putting: PuttingIn, seed: int) -> None:
        self.putting, self._asked = putting, ""
        self.right_torques = self.asked_torques = 0
        self.said.clear()
        self._order = list(putting.off)
        random.Random(seed).shuffle(self._order)
        self.task.setText(tr("Everything back, in order"))
        self._show()

    def try_it(self) -> None:
        item = self.things.currentItem()
        if self.putting is None or item is None or self._asked:
            return
        found = self.putting.choose(item.data(THING))
        self._say(placed_text(self._session.teardown, found))
        if found.code == FINE and found.thing in self.putting.torques:
            self._asked = found.thing
            self._say(tr("{0}: with which torque, in N·cm?").format(name_apart(self._session.teardown, found.thing)))
        self._show()
        self._end()

    def _answer_torque(self) -> None:
        if self.putting is None or not self._asked:
            return
        try:
            value = read_number(self.torque.text(), "torque", least=0, most=MOST_NCM)
        except Refusal as refusal:
            self._say(refusal_text(refusal))
            return
        right = self.putting.is_right_torque(self._asked, value)
        self.asked_torques += 1
        self.right_torques += bool(right)
        told = self.putting.torques[self._asked]
        self._say(tr("Right: {0:g} N·cm.").format(told) if right else tr("No: the instruction says {0:g} N·cm.").format(
            told))
        self._asked = ""
        self.torque.clear()
        self._show()
        self._end()

    def _end(self) -> None:
        if self.putting is not None and self.putting.is_closed and not self._asked:
            wrong = sum(one.code != FINE for one in self.putting.placed)
            self._say(tr("Closed. {0} wrong choices, {1} of {2} torques right.").format(
                wrong, self.right_torques, self.asked_torques))
            self.ended.emit()

    def _say(self, text: str) -> None:
        self.said.insertItem(0, text)

    def _show(self) -> None:
        assert self.putting is not None
        off = set(self.putting.off)
        row = self.things.currentRow()
        self.things.clear()
        for thing in self._order:
            if thing in off:
                item = QListWidgetItem(name_apart(self._session.teardown, thing))
                item.setData(THING, thing)
                self.things.addItem(item)
        self.things.setCurrentRow(min(max(0, row), self.things.count() - 1))
        self.torque.setEnabled(bool(self._asked))
        self.put.setEnabled(not self._asked and bool(off))
        (self.torque if self._asked else self.things).setFocus()
