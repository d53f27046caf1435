"""Questions one by one: what is shown, what it may be, and whether that was right."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QListWidget, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from oddbolt.rehearsing.questions import OPTIONS, Question
from oddbolt.session.session import Session
from oddbolt.ui.pieces.sheet import Elided, explain, label
from oddbolt.ui.widgets.thing_photo import ThingPhoto
from oddbolt.words.names import name_apart
from oddbolt.words.rehearsing import option_text, question_text
from oddbolt.words.translate import tr

TEXT_PX = 13.0


class CardPage(QWidget):
    """1 to 4 answer, Return goes on."""

    answered = Signal(object, bool)  # Question, whether it was right
    ended = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._left: list[Question] = []
        self.question: Question | None = None
        self.right = self.asked = 0
        self.shown = ThingPhoto(tr("The thing that is asked about"), TEXT_PX)
        self.shown.setMinimumHeight(120)
        self.shown.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.task, self.way = Elided("title"), QListWidget()
        self.verdict, self.count = Elided(), label("", "faint")
        self.options = [QPushButton() for _ in range(OPTIONS)]
        self.next = QPushButton(tr("Next"))
        self.next.setObjectName("go")
        explain((self.next, tr("The next question (Return)")))
        self.way.setAccessibleName(tr("The way that is told"))
        explain((self.way, tr("Is it right?")))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        side = QVBoxLayout()
        for widget in (self.task, self.way, *self.options, self.verdict):
            side.addWidget(widget, 8 if widget is self.way else 0)
        side.addStretch(1)
        side.addWidget(self.count)
        side.addWidget(self.next)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(self.shown, 3)
        whole.addLayout(side, 2)
        for n, button in enumerate(self.options):
            button.clicked.connect(lambda _, n=n: self.answer(n))
            explain((button, tr("Key {0}").format(n + 1)))
            button.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)  # a long name is no wide window
        self.next.clicked.connect(lambda _: self._go_on())

    def begin(self, questions: Sequence[Question]) -> None:
        self._left, self.right, self.asked = list(questions), 0, 0
        self._go_on()

    def _go_on(self) -> None:
        self.question = self._left.pop(0) if self._left else None
        self.verdict.setText("")
        self.next.setEnabled(False)
        if self.question is None:
            for button in self.options:
                button.hide()
            self.task.setText(tr("Nothing more to ask today. {0} of {1} right.").format(self.right, self.asked))
            self.way.hide()
            self.shown.hide()
            if self.asked:
                self.ended.emit()
            return
        one, teardown = self.question, self._session.teardown
        self.task.setText(question_text(teardown, one))
        self.way.clear()
        self.way.addItems([tr("{0}. {1}").format(n, name_apart(teardown, thing))
                           for n, thing in enumerate(one.way, start=1)])
        self.way.setVisible(bool(one.way))
        self.shown.setVisible(bool(one.view))
        view = teardown.view.get(one.view)
        if view is not None:
            self.shown.show_marks(view, self._session.photo(view.photo),
                                  [mark for mark in view.marks if mark.thing == one.thing])
        for n, button in enumerate(self.options):
            button.setVisible(n < len(one.options))
            button.setEnabled(True)
            if n < len(one.options):
                text = " ".join(option_text(one, one.options[n]).split())
                button.setText(tr("{0}  {1}").format(n + 1, text).replace("&", "&&"))
                explain((button, tr("Key {0}: {1}").format(n + 1, text)))
        self.count.setText(tr("{0} more").format(len(self._left)))
        self.setFocus()

    def answer(self, option: int) -> None:
        one = self.question
        if one is None or option >= len(one.options) or not self.options[option].isEnabled():
            return
        right = one.is_right(option)
        self.asked += 1
        self.right += right
        self.verdict.setText(tr("Right.") if right else tr("No: {0}.").format(option_text(one, one.options[one.right])))
        for button in self.options:
            button.setEnabled(False)
        self.next.setEnabled(True)
        self.answered.emit(one, right)
        self.next.setFocus()

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802 (Qt's name)
        place = event.key() - Qt.Key.Key_1.value
        if 0 <= place < OPTIONS:
            self.answer(place)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.next.isEnabled():
            self._go_on()
        else:
            super().keyPressEvent(event)
