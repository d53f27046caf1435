"""Rehearse: a learner takes a recorded device apart, puts it back, names its things; a trainer prints a sheet."""

from __future__ import annotations

from datetime import date
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout

from oddbolt.model.refusal import Refusal
from oddbolt.paint.documents.reports import ReportPictures
from oddbolt.paint.documents.sheets import document_pdf
from oddbolt.rehearsing.back import FINE, PuttingIn
from oddbolt.rehearsing.bench import Rehearsal
from oddbolt.rehearsing.boxes import Learner, Round
from oddbolt.rehearsing.questions import Question, fault_question, questions_of
from oddbolt.reports.content.procedure import footer_text
from oddbolt.reports.content.rehearsal import exercise
from oddbolt.reports.content.report.ground import Ground, Report
from oddbolt.session.session import Session
from oddbolt.store.files import write_whole
from oddbolt.store.learners import known_learners, read_learner, write_learner
from oddbolt.ui.pieces.sheet import Echo, explain, sheet
from oddbolt.ui.pieces.suffix import suffixed
from oddbolt.ui.rehearse.apart_page import ApartPage
from oddbolt.ui.rehearse.back_page import BackPage
from oddbolt.ui.rehearse.card_page import CardPage
from oddbolt.ui.workspace import Workspace
from oddbolt.words.names import name_of
from oddbolt.words.refusals import refusal_text
from oddbolt.words.translate import N_, tr

APART, BACK, NAME, FAULT = "apart", "back", "name", "fault"
EXERCISES = ((APART, N_("Take it apart")), (BACK, N_("Put it back")), (NAME, N_("Name it")),
             (FAULT, N_("Spot the fault")))
AT_ONCE = 12  # questions of a round


class RehearsePanel(Workspace):
    """Nothing of it changes the record."""

    def __init__(self, session: Session, folder: Path) -> None:
        super().__init__(session)
        self._folder = folder
        self.learner, self.exercise, self.part = QComboBox(), QComboBox(), QComboBox()
        self.begin, self.paper, self.echo = QPushButton(tr("Begin")), QPushButton(tr("Sheet…")), Echo()
        self.apart, self.back, self.cards = ApartPage(session), BackPage(session), CardPage(session)
        self.stack = QStackedWidget()
        self._seed = 1
        self._started = ""
        self._build()

    def _build(self) -> None:
        for combo in (self.learner, self.exercise, self.part):
            combo.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            combo.setMinimumContentsLength(8)
        self.learner.setEditable(True)
        self.learner.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        for code, text in EXERCISES:
            self.exercise.addItem(tr(text), code)
        for widget, name, told in (
                (self.learner, tr("Learner"), tr("Whose progress is kept; a new name begins a new file")),
                (self.exercise, tr("Exercise"), tr("What is rehearsed")),
                (self.part, tr("Part"), tr("The part that it is about"))):
            widget.setAccessibleName(name)
            explain((widget, told))
        line = self.learner.lineEdit()
        if line is not None:
            line.setPlaceholderText(tr("Name of the learner"))
            line.setAccessibleName(tr("Learner"))
            explain((line, tr("Whose progress is kept; a new name begins a new file")))
        self.begin.setObjectName("go")
        explain((self.begin, tr("Begin the exercise anew")),
                (self.paper, tr("The exercise on paper, and its solution, as two PDF")))
        row = QHBoxLayout()
        for widget in (self.learner, self.exercise, self.part):
            row.addWidget(widget, 1)
        row.addWidget(self.begin)
        row.addWidget(self.paper)
        for page in (self.apart, self.back, self.cards):
            self.stack.addWidget(page)
        box = QVBoxLayout(self)
        box.setContentsMargins(10, 8, 10, 8)
        box.addLayout(row)
        box.addWidget(sheet("", self.stack, stretch=1), 1)
        box.addWidget(self.echo)
        self.begin.clicked.connect(lambda _: self.start())
        self.exercise.activated.connect(lambda _: self.start())
        self.part.activated.connect(lambda _: self.start())
        self.paper.clicked.connect(lambda _: self.ask_paper())
        self.apart.ended.connect(self._apart_ended)
        self.back.ended.connect(self._back_ended)
        self.cards.answered.connect(self._answered)
        self.cards.ended.connect(self._cards_ended)

    # -- following the record

    def refresh(self) -> None:
        """The parts as the record has them; what is being rehearsed begins anew, since it is of the record before."""
        name, part, teardown = self.learner.currentText(), self.part.currentData(), self._session.teardown
        self.learner.clear()
        self.learner.addItems(known_learners())
        self.learner.setEditText(name)
        derived = self._session.derived
        first = derived.priority_parts()
        self.part.clear()
        for one in (*first, *(other for other in derived.structure.removals if other not in first)):
            self.part.addItem(name_of(teardown, one), one)
        self.part.setCurrentIndex(max(0, self.part.findData(part)))
        self.start()

    def start(self) -> None:
        """The exercise that is chosen, from its beginning."""
        part, kind = self.part.currentData(), self.exercise.currentData()
        self.part.setEnabled(kind != NAME)
        self.say("")
        if part is None:
            self.say(tr("Nothing of this record can be taken off."))
            return
        planner = self._session.derived.planner
        self._started = kind
        if kind == APART:
            self.apart.begin(Rehearsal(planner, part))
            self.stack.setCurrentWidget(self.apart)
        elif kind == BACK:
            plan = planner.plan([part])
            if plan.count is None:
                self.say(tr("By the record it cannot be taken off."), alarm=True)
                return
            self.back.begin(PuttingIn(planner, plan), self._seed)
            self.stack.setCurrentWidget(self.back)
        else:
            self.cards.begin(self._questions(kind, part))
            self.stack.setCurrentWidget(self.cards)
        self._seed += 1

    def _questions(self, kind: str, part: str) -> list[Question]:
        planner = self._session.derived.planner
        if kind == FAULT:
            found = [fault_question(planner, part, seed) for seed in range(self._seed, self._seed + 4)]
            return list({one.id: one for one in found if one is not None}.values())
        asked = {one.id: one for one in questions_of(planner.teardown, self._seed)}
        learner = self._read()
        due = learner.due(asked, self._today()) if learner is not None else list(asked)
        return [asked[id_] for id_ in due[:AT_ONCE]]

    # -- progress

    def _today(self) -> date:
        return self._session.now().date()

    def _read(self) -> Learner | None:
        """Whose progress is kept; None where no name is given, or the file is none of ours."""
        if not self.learner.currentText().strip():
            return None
        try:
            return read_learner(self.learner.currentText())
        except Refusal as refusal:
            self.say(refusal_text(refusal), alarm=True)
            return None

    def _keep(self, learner: Learner) -> None:
        try:
            write_learner(learner)
        except Refusal as refusal:
            self.say(refusal_text(refusal), alarm=True)
            return
        if self.learner.findText(learner.name) < 0:
            self.learner.addItem(learner.name)

    def _answered(self, question: Question, right: bool) -> None:
        learner = self._read()
        if learner is not None:
            self._keep(learner.answered(question.id, right=right, today=self._today()))

    def _done(self, **figures: int) -> None:
        learner = self._read()
        if learner is None:
            if not self.learner.currentText().strip():
                self.say(tr("Not kept: no learner is named"))
            return
        device = self._session.teardown.device.name
        self._keep(learner.done(Round(day=self._today(), exercise=self._started, device=device, **figures)))
        number = len(learner.rounds) + 1
        self.say(tr("{0}: round 1 is kept").format(learner.name) if number == 1
                 else tr("{0}: {1} rounds are kept").format(learner.name, number))

    def _apart_ended(self) -> None:
        assert self.apart.rehearsal is not None
        marks = self.apart.rehearsal.marks()
        judged = self.apart.rehearsal.judged
        self._done(right=sum(one.is_done for one in judged), asked=len(judged), steps=marks.steps, best=marks.best,
                   live=marks.live, torn=marks.torn)

    def _back_ended(self) -> None:
        assert self.back.putting is not None
        placed = self.back.putting.placed
        self._done(right=sum(one.code == FINE for one in placed) + self.back.right_torques,
                   asked=len(placed) + self.back.asked_torques)

    def _cards_ended(self) -> None:
        self._done(right=self.cards.right, asked=self.cards.asked)

    # -- on paper

    def ask_paper(self) -> None:
        if self.part.currentData() is None:
            return
        name, _ = QFileDialog.getSaveFileName(self, tr("Sheet, and its solution beside it"),
                                              str(self._folder / "exercise.pdf"), "*.pdf")
        if name:
            self.write_paper(Path(suffixed(name, ".pdf")))

    def write_paper(self, path: Path) -> None:
        """The sheet, and NAME-solution.pdf beside it; neither is replaced without asking."""
        solution = path.with_name(f"{path.stem}-solution.pdf")
        try:
            if solution.exists():
                raise Refusal(str(solution), "file-exists")
            planner = self._session.derived.planner
            ground = Ground(planner)
            pages = exercise(ground, self.part.currentData(), self._seed)
            report = Report(page=pages[0], planner=planner, pictures=tuple(ground.pictures), drawings={})
            pictures = ReportPictures(report, self._session.photo)
            for target, page in zip((path, solution), pages):
                write_whole(target, document_pdf(page, pictures, "A4", partial(footer_text, planner.teardown)))
        except Refusal as refusal:
            self.say(tr("Nothing was written. {0}").format(refusal_text(refusal)), alarm=True)
            return
        self.say(tr("Written to {0} and {1}").format(path, solution.name))

    def say(self, text: str, *, alarm: bool = False) -> None:
        self.echo.say(text, alarm=alarm)
