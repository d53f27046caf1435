"""The Verdict: index and class with, for every point, the rule that gave it and what it rests on."""

from __future__ import annotations

from collections.abc import Iterator

from PySide6.QtGui import QBrush, QColor, QFont
from PySide6.QtWidgets import (
    QComboBox,
    QFormLayout,
    QHeaderView,
    QListWidget,
    QListWidgetItem,
    QTreeWidget,
    QVBoxLayout,
    QWidget,
)

from oddbolt.paint.palette import Palette
from oddbolt.scoring.evaluate import CriterionScore, PartScore, Verdict
from oddbolt.scoring.method import Criterion
from oddbolt.session.derived import Derived
from oddbolt.session.session import Session
from oddbolt.session.verbs.answers import answer
from oddbolt.studies.retelling import GUESSED
from oddbolt.ui.background.answer import Answer
from oddbolt.ui.log.keys import TELL_KEYS
from oddbolt.ui.pieces.sheet import explain, label, lay_out, sheet, tip
from oddbolt.ui.pieces.sorting import Row, sortable
from oddbolt.ui.widgets.index_scale import IndexScale, class_text, index_text
from oddbolt.ui.workspace import Workspace
from oddbolt.words.figures import points_text
from oddbolt.words.names import name_of, names_of, role_name
from oddbolt.words.translate import of_data, tr
from oddbolt.words.verdicts import convention_text, ground_text

METHOD = "eu-2023-1669-tablet"


class VerdictPanel(Workspace):
    """Judged in a job: a verdict takes as long as the depths of all its parts."""

    refreshes_later = True  # the editors are replaced, and not from within their own signals

    def __init__(self, session: Session, palette: Palette) -> None:
        super().__init__(session)
        self._found = Answer(self, session, self._show, self._say_problem, faint=self._set_faint)
        self._palette = palette
        self._editors: dict[str, QComboBox] = {}
        self._verdict: Verdict | None = None  # that is shown
        self.scale = IndexScale(palette)
        self.headline = label("", "title")
        self.firm = label("", "faint", wrap=True)
        self.points = QTreeWidget()
        self.unknowns = QListWidget()
        self.assumed = QListWidget()
        self._questions = QFormLayout()
        self.source = label("", "faint", wrap=True)
        self._build()

    def _build(self) -> None:
        self.points.setColumnCount(4)
        self.points.setHeaderLabels([tr("Criterion and part"), tr("Weight"), tr("Points"),
                                     tr("What it rests on")])
        self.points.setAccessibleName(tr("Points"))
        explain((self.points, tr("Each criterion with its points and what they rest on; open one for its parts")),
                (self.unknowns, tr("What would move the class, the widest first")),
                (self.assumed, tr("What these points take for true without proof")))
        self.points.setAlternatingRowColors(True)
        sortable(self.points, lambda: self._fill_points(self._verdict) if self._verdict is not None else None)
        header = self.points.header()
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(1, QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(2, QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(3, QHeaderView.ResizeMode.Stretch)
        self.unknowns.setAccessibleName(tr("What is not known, widest first"))
        self.unknowns.setWordWrap(True)
        self.assumed.setAccessibleName(tr("What is assumed"))
        self.assumed.setWordWrap(True)
        font = self.headline.font()
        font.setPointSizeF(font.pointSizeF() * 1.7)
        self.headline.setFont(font)
        left = QVBoxLayout()
        left.addWidget(sheet("", self.headline, self.firm, self.scale))
        left.addWidget(self.points, 1)
        left.addWidget(self.source)
        questions = QWidget()
        self._questions.setContentsMargins(0, 0, 0, 0)
        self._questions.setRowWrapPolicy(QFormLayout.RowWrapPolicy.WrapAllRows)
        questions.setLayout(self._questions)
        right = QVBoxLayout()
        right.addWidget(sheet(tr("Answers this method asks for"), questions))
        right.addWidget(sheet(tr("What is not known, widest first"), self.unknowns, stretch=1), 1)
        right.addWidget(sheet(tr("What is assumed on the ways in"), self.assumed, stretch=1), 1)
        side = QWidget()
        side.setLayout(right)
        right.setContentsMargins(0, 0, 0, 0)
        lay_out(self, left, side)

    def opened(self) -> None:
        self._found.forget()

    def refresh(self) -> None:
        derived = self._session.derived
        self._found.ask(lambda: _judged(derived), self._session.teardown)

    def _set_faint(self, faint: bool) -> None:
        """What is shown is of an older record until it has been judged anew."""
        self.points.setEnabled(not faint)
        self.scale.setEnabled(not faint)
        if faint:
            self.firm.setText(tr("Judging…"))

    def say(self, text: str, *, alarm: bool = False) -> None:
        self.firm.setText(text)

    def _say_problem(self, words: str) -> None:
        self.say(words, alarm=True)

    def stop(self) -> None:
        self._found.stop()

    def _show(self, verdict: Verdict | None) -> None:
        if verdict is None:
            return
        self._verdict = verdict
        self.scale.show_verdict(verdict)
        self.headline.setText(tr("{0}, {1}").format(index_text(verdict), class_text(verdict)))
        self.firm.setText(tr("{0}. {1}").format(of_data(verdict.method.name), self._firmness(verdict)))
        self._fill_points(verdict)
        self._fill_unknowns(verdict)
        self._fill_assumed(verdict)
        self._fill_questions(verdict)
        self.source.setText(tr("{0} ({1}). Figures from memory; the text of the law decides.\n{2}").format(
            of_data(verdict.method.source), of_data(verdict.method.edition), convention_text(verdict.convention)))

    def _firmness(self, verdict: Verdict) -> str:
        if verdict.is_firm:
            return tr("The class is firm: nothing still unknown can change it.")
        if verdict.is_guessed and len(verdict.classes) == 1:
            number = sum(known == GUESSED for known in verdict.known.values())
            return tr("The class is not firm: {0} of the ways that it rests on are guessed. Look at them in the Log "
                      "({1}).").format(number, TELL_KEYS)
        return tr("The class is open: what is not known, at the right, decides it.")

    def _fill_points(self, verdict: Verdict) -> None:
        teardown = self._session.teardown
        opened = {self.points.topLevelItem(n).text(0): self.points.topLevelItem(n).isExpanded()
                  for n in range(self.points.topLevelItemCount())}
        self.points.clear()
        for score in verdict.criteria:
            name = of_data(score.criterion.name)
            rest = "; ".join(ground_text(teardown, e) for e in score.evidence) or of_data(score.criterion.rule)
            row = Row([name, f"{score.criterion.weight:.0%}", points_text(score.points), rest])
            row.setToolTip(0, tip(self._rule_tip(score)))
            row.setToolTip(3, tip(self._rule_tip(score)))
            font = row.font(0)
            font.setWeight(QFont.Weight.DemiBold)
            for column in range(3):
                row.setFont(column, font)
            if score.criterion.confidence != "high":
                row.setText(0, tr("{0}  (unconfirmed)").format(name))
            for part in score.parts:
                row.addChild(self._part_row(part))
            self.points.addTopLevelItem(row)
            row.setExpanded(opened.get(row.text(0), score.criterion.measure == "depth"))

    def _part_row(self, part: PartScore) -> Row:
        teardown = self._session.teardown
        texts = "; ".join(ground_text(teardown, evidence) for evidence in part.evidence)
        name = role_name(part.role)
        if part.part and name_of(teardown, part.part) != name:
            name = f"{name}: {name_of(teardown, part.part)}"
        if part.fails:
            texts = tr("{0}; no class of the method fits, the least points are given").format(texts)
        row = Row([name, f"{part.weight:.0%}", points_text(part.points), texts])
        row.setToolTip(3, tip(texts))
        if part.points[0] != part.points[1] or part.fails:
            row.setForeground(2, QBrush(QColor(self._palette.warn)))
        return row

    def _rule_tip(self, score: CriterionScore) -> str:
        criterion = score.criterion
        lines = [tr("Rule: {0}").format(of_data(criterion.rule)), tr("Confidence: {0}").format(criterion.confidence)]
        if criterion.table:
            rows = [tr("at most {0:g} steps: {1:g}").format(limit, points) for limit, points in criterion.table]
            lines.append("; ".join([*rows, tr("more: {0:g}").format(criterion.beyond)]))
        if criterion.points:
            lines.append("; ".join(f"{word}: {points_text(points)}" for word, points in criterion.points.items()))
        return "\n".join(lines)

    def _fill_unknowns(self, verdict: Verdict) -> None:
        self.unknowns.clear()
        names = {score.criterion.id: of_data(score.criterion.name) for score in verdict.criteria}
        for unknown in verdict.unknowns:
            where = f"{names[unknown.criterion]}, {role_name(unknown.role)}" if unknown.role \
                else names[unknown.criterion]
            self.unknowns.addItem(tr("{0}: {1:.2f} of the index").format(where, unknown.spread))
        if not verdict.unknowns:
            self.unknowns.addItem(tr("Nothing"))

    def _fill_assumed(self, verdict: Verdict) -> None:
        self.assumed.clear()
        teardown = self._session.teardown
        for id_ in verdict.assumed:
            parts = [part for part, plan in verdict.plans.items()
                     if any(id_ in (op.joint, op.part) for op in plan.sequence)]
            item = QListWidgetItem(tr("{0}, on the way to {1}").format(
                name_of(teardown, id_), names_of(teardown, parts)))
            self.assumed.addItem(item)
        if not verdict.assumed:
            self.assumed.addItem(tr("Nothing on the ways to the priority parts"))

    # -- answers

    def _fill_questions(self, verdict: Verdict) -> None:
        answers = {a.criterion: a.value for a in self._session.teardown.answers if a.method == verdict.method.id}
        asked = [score.criterion for score in verdict.criteria if score.criterion.measure == "answer"]
        if list(self._editors) != [criterion.id for criterion in asked]:
            while self._questions.rowCount():
                self._questions.removeRow(0)
            self._editors = {}
            for criterion in asked:
                editor = self._editor(criterion, verdict)
                self._editors[criterion.id] = editor
                question = label(of_data(criterion.name) if not criterion.unit or criterion.words
                                 else tr("{0}, {1}").format(of_data(criterion.name), of_data(criterion.unit)))
                question.setBuddy(editor)
                question.setToolTip(tip(of_data(criterion.rule)))
                self._questions.addRow(question, editor)
        for criterion in asked:
            self._show_answer(criterion.id, answers.get(criterion.id))

    def _editor(self, criterion: Criterion, verdict: Verdict) -> QComboBox:
        box = QComboBox()
        box.addItem(tr("not answered"), None)
        low, high = verdict.method.scale
        values = criterion.words or (range(round(criterion.at_least[0][0]) + 4) if criterion.at_least
                                     else range(round(low), round(high) + 1))
        for value in values:
            box.addItem(of_data(str(value)), value)
        box.activated.connect(lambda row: self._answer(criterion.id, box.itemData(row)))
        box.setAccessibleName(of_data(criterion.name))
        box.setToolTip(tip(of_data(criterion.rule)))
        return box

    def _show_answer(self, criterion: str, value: object) -> None:
        editor = self._editors[criterion]
        if value is not None and editor.findData(value) < 0:
            editor.addItem(str(value), value)  # an answer from elsewhere is shown as it is
        editor.setCurrentIndex(max(0, editor.findData(value)))

    def _answer(self, criterion: str, value: object) -> None:
        self.do(answer, METHOD, criterion, value, echo=False)


def _judged(derived: Derived) -> Iterator[Verdict | None]:
    yield None
    yield derived.verdict(METHOD)
