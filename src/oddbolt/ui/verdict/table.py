"""Verdicts by several methods side by side: one line a method, one of them opened."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PySide6.QtCore import QPoint, Qt, Signal
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QHBoxLayout, QHeaderView, QMenu, QPushButton, QTreeWidget, QVBoxLayout, QWidget

from oddbolt.model.refusal import Refusal
from oddbolt.scoring.evaluate import Verdict
from oddbolt.scoring.method import INDEX, load_method, method_ids
from oddbolt.ui.pieces.sheet import explain, tip
from oddbolt.ui.pieces.sorting import BY, Row
from oddbolt.words.judging.verdicts import classes_text, index_text, range_text, span_of
from oddbolt.words.translate import of_data, tr

ID = Qt.ItemDataRole.UserRole + 7
LINES_SHOWN = 5
LEAST_SHOWN = 2  # lines, where the window is low or its text large


class VerdictTable(QWidget):
    """The methods that are evaluated, with what each of them says."""

    opened = Signal(str)  # a method
    chosen = Signal(str, bool)  # a method is to be evaluated, or no more
    copy_asked = Signal(str)
    edit_asked = Signal(str)
    take_in_asked = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.list = QTreeWidget()
        self.list.setHeaderLabels([tr("Method"), tr("Result"), tr("Class"), tr("Over all that is open"), tr("Firm")])
        self.list.setRootIsDecorated(False)
        self.list.setAlternatingRowColors(True)
        self.list.setAccessibleName(tr("Verdicts by several methods"))
        header = self.list.header()
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        for column in range(1, 5):
            header.setSectionResizeMode(column, QHeaderView.ResizeMode.ResizeToContents)
        line = 1.5 * self.fontMetrics().height()
        self.list.setMinimumHeight(round((LEAST_SHOWN + 1.6) * line))
        self.list.setMaximumHeight(round((LINES_SHOWN + 1.6) * line))
        self.methods = QPushButton(tr("Methods…"))
        self.copy = QPushButton(tr("Copy and change…"))
        self.edit = QPushButton(tr("Change…"))
        explain((self.list, tr("Each method with its verdict; choose one to see what it rests on")),
                (self.methods, tr("Which methods are evaluated, and a file with a method of your own")),
                (self.copy, tr("A rubric of your own, beginning with this one")),
                (self.edit, tr("Criteria, weights and scales of this rubric of your own")))
        buttons = QHBoxLayout()
        for button in (self.methods, self.copy, self.edit):
            buttons.addWidget(button)
        buttons.addStretch(1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(6)
        box.addWidget(self.list)
        box.addLayout(buttons)
        self.list.currentItemChanged.connect(self._moved)
        self.methods.clicked.connect(lambda _: self._menu())
        self.copy.clicked.connect(lambda _: self.copy_asked.emit(self._current()))
        self.edit.clicked.connect(lambda _: self.edit_asked.emit(self._current()))
        for button in (self.copy, self.edit):
            button.setEnabled(False)  # until there is a method to copy
        self._ids: list[str] = []

    def show_verdicts(self, ids: Sequence[str], found: Mapping[str, Verdict], opened: str) -> None:
        """A line for each method that is evaluated, the opened one chosen."""
        self.list.blockSignals(True)
        if list(ids) != self._ids:
            self._ids = list(ids)
            self.list.clear()
            for id_ in ids:
                row = Row([of_data(load_method(id_).name), "…", "", "", ""])
                row.setData(0, ID, id_)
                self.list.addTopLevelItem(row)
        for n in range(self.list.topLevelItemCount()):
            row = self.list.topLevelItem(n)
            verdict = found.get(row.data(0, ID))
            if verdict is not None:
                self._fill(row, verdict)
            font = row.font(0)
            font.setWeight(QFont.Weight.DemiBold if row.data(0, ID) == opened else QFont.Weight.Normal)
            row.setFont(0, font)
            if row.data(0, ID) == opened:
                self.list.setCurrentItem(row)
        self.list.blockSignals(False)
        self.copy.setEnabled(bool(self._current()))
        self.edit.setEnabled(opened in self._ids and load_method(opened).is_own)

    def _fill(self, row: Row, verdict: Verdict) -> None:
        method, standing = verdict.method, verdict.standing
        row.setText(1, index_text(verdict))
        row.setData(1, BY, verdict.index[0])
        row.setText(2, tr("none") if verdict.fails else span_of(verdict.classes))
        row.setText(3, "" if standing is None else
                    f"{range_text(standing.index, method.decimals)}, {span_of(standing.classes)}")
        row.setText(4, "" if method.kind != INDEX else "…" if standing is None else
                    tr("yes") if verdict.is_firm else tr("no"))
        row.setToolTip(0, tip(tr("{0}. {1} ({2})").format(
            of_data(method.name), of_data(method.source), of_data(method.edition))))
        row.setToolTip(3, tip("" if standing is None else classes_text(standing.classes)))

    def _current(self) -> str:
        row = self.list.currentItem()
        return row.data(0, ID) if row is not None else ""

    def _moved(self) -> None:
        if self._current():
            self.opened.emit(self._current())

    def _menu(self) -> None:
        menu = QMenu(self)
        for id_ in method_ids():
            try:
                method = load_method(id_)
            except Refusal:
                name = tr("{0} (cannot be read)").format(id_)
            else:
                name = tr("{0} (own)").format(of_data(method.name)) if method.is_own else of_data(method.name)
            action = menu.addAction(name)
            action.setCheckable(True)
            action.setChecked(id_ in self._ids)
            action.toggled.connect(lambda on, one=id_: self.chosen.emit(one, on))
        menu.addSeparator()
        menu.addAction(tr("Take in a method file…"), self.take_in_asked.emit)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(self.methods.mapToGlobal(QPoint(0, self.methods.height())))
        self.menu = menu
