"""Open questions, in the moment: the one whose answer takes away most, answered as it is shown or changed first."""

from __future__ import annotations

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QScrollArea, QToolButton, QVBoxLayout, QWidget

from oddbolt.knowledge.evidence import HIDES, WAY, WITHIN
from oddbolt.knowledge.questions import Question, rank
from oddbolt.session.session import Session
from oddbolt.session.verbs.answers import answer_access
from oddbolt.ui.background.answer import Answer
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.ui.workspace import carry_out
from oddbolt.words.names import name_of
from oddbolt.words.translate import tr

MOST = 5  # more at a time would be nagging
LEAST_SPREAD = 0.05  # steps; below, an answer changes nothing a person would notice


class Asking(QWidget):
    """One question at a time. Its answer is a command, so it can be taken back."""

    number_changed = Signal(int)
    said = Signal(str, bool)
    shown = Signal(object)  # things asked about, to be seen on the photograph

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._found = Answer(self, session, self._take, lambda words: self.said.emit(words, True))
        self._questions: list[Question] = []
        self._place = 0
        self._rows: dict[str, Row] = {}
        self._soon = QTimer(self)  # acts follow each other quickly; questions need not
        self._soon.setSingleShot(True)
        self._soon.setInterval(300)
        self._soon.timeout.connect(self._look)
        self.text = label("", "title", wrap=True)
        self.worth = label("", "faint", wrap=True)
        self.answer = QPushButton(tr("Answer as shown  Q"))
        self.later = QPushButton(tr("Another question"))
        for button in (self.answer, self.later):
            button.setObjectName("big")
        self._list = QWidget()
        self._column = QVBoxLayout(self._list)
        self._column.setContentsMargins(2, 2, 2, 2)
        self._column.setSpacing(3)
        scroll = QScrollArea()
        scroll.setWidget(self._list)
        scroll.setWidgetResizable(True)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        buttons = QHBoxLayout()
        buttons.addWidget(self.answer)
        buttons.addWidget(self.later)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.text)
        box.addWidget(self.worth)
        box.addWidget(scroll, 1)
        box.addLayout(buttons)
        explain((self.answer, tr("Record the answer as it is ticked (Q)")),
                (self.later, tr("Leave this one for now")))
        self.answer.clicked.connect(lambda _: self.give_answer())
        self.later.clicked.connect(lambda _: self._show(self._place + 1))
        self._show(0)

    # -- finding questions

    def refresh(self) -> None:
        """Look for questions soon, in the background; what is shown stays until there is something newer."""
        self._soon.start()

    def _look(self) -> None:
        teardown = self._session.teardown
        parts = self._session.derived.priority_parts() or list(self._session.derived.structure.removals)
        self._found.ask(lambda stop: rank(teardown, parts, stop=stop))

    def give_up(self) -> None:
        """What is being found is of a record that is past."""
        self._soon.stop()
        self._found.cancel()

    def stop(self) -> None:
        self._soon.stop()
        self._found.stop()

    def _take(self, questions: list[Question] | None) -> None:
        self._questions = [q for q in questions or [] if q.spread > LEAST_SPREAD][:MOST]
        self._show(0)
        self.number_changed.emit(len(self._questions))

    @property
    def question(self) -> Question | None:
        return self._questions[self._place] if self._questions else None

    # -- showing one

    def _show(self, place: int) -> None:
        self._place = place % len(self._questions) if self._questions else 0
        for row in self._rows.values():
            self._column.removeWidget(row)
            row.deleteLater()
        self._rows = {}
        question, teardown = self.question, self._session.teardown
        self.answer.setEnabled(question is not None)
        self.later.setEnabled(len(self._questions) > 1)
        if question is None:
            self.text.setText(tr("Nothing to ask"))
            self.worth.setText(tr("What is known of access does not leave a depth open."))
            self.shown.emit([])
            return
        name = name_of(teardown, question.about)
        texts = {HIDES: tr("Which of these did {0} really hide?"),
                 WITHIN: tr("Which of these could have been undone before {0} came off?"),
                 WAY: tr("Since {0} opened: what was in the way of each?")}
        self.text.setText(texts[question.kind].format(name))
        worth = tr("The answer takes away about {0} steps of doubt.").format(f"{question.spread:.1f}")
        if not question.fresh:
            worth += " " + tr("That state has passed: from memory or the photographs, or leave it assumed.")
        self.worth.setText(worth)
        for thing in question.things:
            choices = {x: name_of(teardown, x) for x in question.choices.get(thing, ())}
            row = Row(name_of(teardown, thing), question.guess[thing], choices)
            self._rows[thing] = row
            self._column.addWidget(row)
        self._column.addStretch(1)
        self.shown.emit(list(question.things))

    def toggle(self, thing: str) -> bool:
        """A tap on the photograph; whether the thing is asked about."""
        row = self._rows.get(thing)
        if row is not None:
            row.toggle()
        return row is not None

    def give_answer(self) -> None:
        """Answer the question as it is shown now."""
        question = self.question
        if question is None:
            return
        given = {thing: row.value for thing, row in self._rows.items()}
        carry_out(self._session, self.said.emit, answer_access, question.kind, question.about, given)


class Row(QWidget):
    """A thing asked about: a switch, or a list of what may have been in its way."""

    def __init__(self, name: str, guess: bool | tuple[str, ...], choices: dict[str, str]) -> None:
        super().__init__()
        self._choices = choices
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        self._button = QToolButton()
        self._button.setObjectName("answer")
        self._button.setMinimumWidth(120)
        self._button.setAccessibleName(name)
        line.addWidget(label(name, "", wrap=True), 1)
        line.addWidget(self._button)
        self._is_list = not isinstance(guess, bool)
        if self._is_list:
            menu = QMenu(self._button)
            for id_, text in choices.items():
                action = QAction(text, menu)
                action.setCheckable(True)
                action.setChecked(id_ in guess)
                action.setData(id_)
                action.toggled.connect(lambda _: self._name())
                menu.addAction(action)
            self._button.setMenu(menu)
            self._button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        else:
            self._button.setCheckable(True)
            self._button.setChecked(guess)
            self._button.toggled.connect(lambda _: self._name())
        self._name()

    def _name(self) -> None:
        if self._is_list:
            self._button.setText(", ".join(self._choices[x] for x in self.value) or tr("nothing"))
        else:
            self._button.setText(tr("yes") if self._button.isChecked() else tr("no"))

    @property
    def value(self) -> bool | list[str]:
        if self._is_list:
            return [a.data() for a in self._button.menu().actions() if a.isChecked()]
        return self._button.isChecked()

    def toggle(self) -> None:
        if self._is_list:
            # Not showMenu: that waits in a loop of its own, while a new question may take this row away.
            self._button.menu().popup(self._button.mapToGlobal(self._button.rect().bottomLeft()))
        else:
            self._button.toggle()


