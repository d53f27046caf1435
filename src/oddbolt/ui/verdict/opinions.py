"""Opinions: someone's own mark with reasons and marks of single matters, beside what the record says of each."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import (
    QComboBox,
    QFormLayout,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QListWidget,
    QPlainTextEdit,
    QPushButton,
    QTreeWidget,
    QVBoxLayout,
    QWidget,
)

from oddbolt.model.quantity import read_number
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Opinion, SubMark, Teardown
from oddbolt.scoring.evaluate import Verdict
from oddbolt.scoring.opinions import evidence_for
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.ui.pieces.sorting import Row
from oddbolt.words.figures import figure_of
from oddbolt.words.judging.verdicts import leaning_text
from oddbolt.words.refusals import at_field_text
from oddbolt.words.translate import tr

LONGEST = 2000


class OpinionsPage(QWidget):
    """One opinion at a time; what speaks for and against it stands below."""

    said = Signal(int, object)  # place, opinion or None

    def __init__(self) -> None:
        super().__init__()
        self._teardown: Teardown | None = None
        self._verdict: Verdict | None = None
        self.which = QComboBox()
        self.by, self.mark, self.of = QLineEdit(), QLineEdit(), QLineEdit()
        self.reasons = QPlainTextEdit()
        self.marks = QTreeWidget()
        self.problem = label("", "problem", wrap=True)
        self.problem.hide()
        self.evidence = QListWidget()
        self.keep, self.remove, self.add = QPushButton(tr("Keep")), QPushButton(tr("Take away")), QPushButton(tr("Add"))
        self._build()

    def _build(self) -> None:
        self.which.setAccessibleName(tr("Opinion"))
        self.reasons.setMaximumHeight(4 * self.fontMetrics().height())
        self.marks.setHeaderLabels([tr("Matter"), tr("Mark"), tr("Of")])
        self.marks.setRootIsDecorated(False)
        self.marks.setAccessibleName(tr("Marks of single matters"))
        self.marks.header().setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        for column in (1, 2):
            self.marks.header().setSectionResizeMode(column, QHeaderView.ResizeMode.ResizeToContents)
        self.evidence.setWordWrap(True)
        self.evidence.setAccessibleName(tr("What speaks for and against"))
        form = QFormLayout()
        form.setRowWrapPolicy(QFormLayout.RowWrapPolicy.WrapLongRows)
        figures = QHBoxLayout()
        for field, width in ((self.mark, 60), (self.of, 60)):
            field.setMaximumWidth(width)
            field.setMaxLength(12)
        figures.addWidget(self.mark)
        figures.addWidget(label(tr("of"), "faint"))
        figures.addWidget(self.of)
        figures.addStretch(1)
        for text, field in ((tr("Whose"), self.by), (tr("Mark"), figures), (tr("Reasons"), self.reasons)):
            form.addRow(text, field)
        self.by.setAccessibleName(tr("Whose"))
        self.mark.setAccessibleName(tr("Mark"))
        self.of.setAccessibleName(tr("Out of"))
        self.reasons.setAccessibleName(tr("Reasons"))
        explain((self.which, tr("Opinions on record, and a new one")), (self.by, tr("Who says so")),
                (self.mark, tr("A mark of one's own")), (self.of, tr("Out of how many")),
                (self.reasons, tr("Why")), (self.marks, tr("A name such as battery, and its mark: Return changes it")),
                (self.add, tr("One more matter")), (self.keep, tr("On record with this")),
                (self.remove, tr("This opinion is no longer on record")),
                (self.evidence, tr("What the record says of each matter: for (+) or against (−)")))
        buttons = QHBoxLayout()
        for button in (self.add, self.keep, self.remove):
            buttons.addWidget(button)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.which)
        box.addLayout(form)
        box.addWidget(self.marks, 1)
        box.addLayout(buttons)
        box.addWidget(self.problem)
        box.addWidget(self.evidence, 1)
        self.which.currentIndexChanged.connect(lambda _: self._show_one())
        self.add.clicked.connect(lambda _: self._add_row())
        self.keep.clicked.connect(lambda _: self._keep())
        self.remove.clicked.connect(lambda _: self.said.emit(self.which.currentIndex(), None))

    def show_opinions(self, teardown: Teardown, verdict: Verdict) -> None:
        is_other = self._teardown is None or self._teardown.opinions != teardown.opinions
        self._teardown, self._verdict = teardown, verdict
        if is_other:
            at = self.which.currentIndex()
            self.which.blockSignals(True)
            self.which.clear()
            for opinion in teardown.opinions:
                self.which.addItem(tr("{0}: {1} of {2}").format(opinion.by or tr("nobody named"), figure_of(
                    opinion.mark if opinion.mark is not None else "–"), figure_of(opinion.of or "–")))
            self.which.addItem(tr("A new opinion"))
            self.which.setCurrentIndex(min(max(0, at), self.which.count() - 1))
            self.which.blockSignals(False)
            self._show_one()
        self._show_evidence()

    @property
    def _opinion(self) -> Opinion | None:
        at = self.which.currentIndex()
        return self._teardown.opinions[at] if self._teardown and 0 <= at < len(self._teardown.opinions) else None

    def _show_one(self) -> None:
        opinion = self._opinion or Opinion()
        self.by.setText(opinion.by)
        self.mark.setText("" if opinion.mark is None else figure_of(opinion.mark))
        self.of.setText("10" if opinion.of is None else figure_of(opinion.of))
        self.reasons.setPlainText(opinion.reasons)
        self.marks.clear()
        for one in opinion.marks:
            self._add_row(one)
        self.remove.setEnabled(self._opinion is not None)
        self._show_evidence()

    def _add_row(self, one: SubMark | None = None) -> None:
        from PySide6.QtCore import Qt

        row = Row([one.name if one else "", "" if one is None or one.mark is None else figure_of(one.mark),
                   figure_of(one.of) if one and one.of else "10"])
        row.setFlags(row.flags() | Qt.ItemFlag.ItemIsEditable)
        self.marks.addTopLevelItem(row)
        if one is None:
            self.marks.setCurrentItem(row)
            self.marks.editItem(row, 0)

    def _keep(self) -> None:
        try:
            opinion = self._typed()
        except Refusal as refusal:
            self.problem.setText(at_field_text(refusal))
            self.problem.show()
            return
        self.problem.hide()
        self.said.emit(self.which.currentIndex(), opinion)

    def _typed(self) -> Opinion:
        def number(text: str, name: str) -> float | None:
            return read_number(text, name) if text.strip() else None

        rows = [self.marks.topLevelItem(n) for n in range(self.marks.topLevelItemCount())]
        marks = tuple(SubMark(name=row.text(0).strip()[:200], mark=number(row.text(1), row.text(0)),
                              of=number(row.text(2), row.text(0))) for row in rows if row.text(0).strip())
        return Opinion(by=self.by.text().strip()[:200], mark=number(self.mark.text(), tr("Mark")),
                       of=number(self.of.text(), tr("Mark")), reasons=self.reasons.toPlainText()[:LONGEST], marks=marks)

    def _show_evidence(self) -> None:
        self.evidence.clear()
        opinion, verdict, teardown = self._opinion, self._verdict, self._teardown
        if opinion is None or verdict is None or teardown is None:
            return
        for leaning in evidence_for(teardown, verdict, opinion):
            self.evidence.addItem(leaning_text(teardown, verdict, leaning))
        if not self.evidence.count():
            self.evidence.addItem(tr("The record says nothing of what is named here."))
