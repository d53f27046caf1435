"""Times and pace: how the analyst's own readings lie to the estimates, by verb, and whether to estimate so from now
on."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QCheckBox,
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QListWidget,
    QPushButton,
    QTreeWidget,
    QVBoxLayout,
    QWidget,
)

from oddbolt.effort.learning import fit
from oddbolt.effort.own_logs import paces, pass_times_s
from oddbolt.effort.pace import ALL, Pace
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown
from oddbolt.session.session import Session
from oddbolt.store.files import read_teardown
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.ui.pieces.sorting import BY, Row, sortable
from oddbolt.words.judging.verdict_lines import learning_lines
from oddbolt.words.refusals import at_field_text as reason_and_advice
from oddbolt.words.refusals import refusal_text
from oddbolt.words.translate import of_data, tr


class TimesSheet(QDialog):
    """Pace from the log of this record and of others of the same person that are added here."""

    def __init__(self, parent: QWidget, session: Session, folder: Path) -> None:
        super().__init__(parent)
        self._session, self._folder = session, folder
        self.setWindowTitle(tr("Times and pace"))
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(620, 560)
        self._others: dict[str, Teardown] = {}
        self.found: dict[str, Pace] = {}
        self.table = QTreeWidget()
        self.logs = QListWidget()
        self.add, self.drop = QPushButton(tr("Add a log…")), QPushButton(tr("Without this log"))
        self.use = QCheckBox(tr("Estimate at this pace"))
        self.use.setChecked(bool(session.paces))
        self.learning, self.problem = label("", "faint", wrap=True), label("", "problem", wrap=True)
        self._build()
        self.refresh()

    def _build(self) -> None:
        self.table.setHeaderLabels([tr("Verb"), tr("Pace"), tr("19 of 20 times"), tr("Readings")])
        self.table.setRootIsDecorated(False)
        self.table.setAlternatingRowColors(True)
        self.table.setAccessibleName(tr("Pace by verb"))
        self.table.header().setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        sortable(self.table, self.refresh)
        self.logs.setMaximumHeight(5 * self.fontMetrics().height())
        self.logs.setAccessibleName(tr("Logs"))
        explain((self.table, tr("Measured over estimated time: above 1 is slower than the estimates")),
                (self.logs, tr("Whose readings are looked at; they should be of one person")),
                (self.add, tr("Another record of the same person")), (self.drop, tr("Leave the chosen log out")),
                (self.use, tr("In every plan and verdict, until it is taken back; what was measured stays as it is")))
        row = QHBoxLayout()
        row.addWidget(self.add)
        row.addWidget(self.drop)
        row.addStretch(1)
        box = QVBoxLayout(self)
        box.addWidget(label(tr("How your own readings lie to the estimates: Huber's location of the logarithms; below "
                               "five readings drawn towards 1."), "faint", wrap=True))
        box.addWidget(self.table, 1)
        box.addWidget(self.learning)
        box.addWidget(label(tr("Logs"), "title"))
        box.addWidget(self.logs)
        box.addLayout(row)
        box.addWidget(self.problem)
        box.addWidget(self.use)
        self.problem.hide()
        self.add.clicked.connect(lambda _: self._ask())
        self.drop.clicked.connect(lambda _: self._drop())
        self.use.toggled.connect(lambda _: self._apply())

    def refresh(self) -> None:
        self.found = paces((self._session.teardown, *self._others.values()))
        self.table.clear()
        for verb, pace in self.found.items():
            row = Row([of_data(verb) if verb != ALL else tr("all verbs"), f"{pace.ratio:.2f}",
                       tr("{0:.2f} to {1:.2f}").format(pace.low, pace.high),
                       tr("{0}, drawn towards 1").format(pace.readings) if pace.is_shrunk else str(pace.readings)])
            row.setData(1, BY, pace.ratio)
            row.setData(3, BY, pace.readings)
            self.table.addTopLevelItem(row)
        self.use.setEnabled(bool(self.found))
        if not self.found:
            self.table.addTopLevelItem(Row([tr("No act has a measured time yet"), "", "", ""]))
        self.logs.clear()
        self.logs.addItems([tr("This record"), *(Path(path).name for path in self._others)])
        try:
            passes = pass_times_s((self._session.teardown, *self._others.values()))
            self.learning.setText("\n".join(learning_lines(fit(passes))))
        except Refusal as refusal:
            self.learning.setText(reason_and_advice(refusal))

    def _ask(self) -> None:
        dialog = QFileDialog(self, tr("A record of the same person"), str(self._folder),
                             tr("Teardowns (*.oddbolt *.json)"))
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.fileSelected.connect(self.add_log)
        dialog.open()
        self.asked = dialog

    def add_log(self, path: str) -> None:
        """The readings of another record too; what cannot be read is said."""
        try:
            self._others[path] = read_teardown(Path(path))
        except Refusal as refusal:
            self.problem.setText(refusal_text(refusal))
            self.problem.show()
            return
        self.problem.hide()
        self.refresh()
        if self.use.isChecked():
            self._apply()

    def _drop(self) -> None:
        row = self.logs.currentRow()
        if row > 0:
            del self._others[list(self._others)[row - 1]]
            self.refresh()
            if self.use.isChecked():
                self._apply()

    def _apply(self) -> None:
        self._session.use_paces(self.found if self.use.isChecked() else {})
