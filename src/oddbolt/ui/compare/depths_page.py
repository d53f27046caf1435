"""Depths and times side by side, with the chart; for the row in hand, what makes the difference."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHeaderView, QSplitter, QTableWidgetItem, QVBoxLayout, QWidget

from oddbolt.comparing.devices import Row
from oddbolt.model.things import Teardown
from oddbolt.paint.palette import Palette
from oddbolt.reports.content.report.ground import chart_of
from oddbolt.ui.compare.chart_view import ChartView
from oddbolt.ui.compare.plain_table import PlainTable
from oddbolt.ui.pieces.sheet import explain, label, tip
from oddbolt.words.judging.comparing import causes_text, reached_text
from oddbolt.words.known import known_text, with_sign
from oddbolt.words.names import name_of, role_name
from oddbolt.words.translate import tr


class DepthsPage(QWidget):
    """What is pointed at in the chart is chosen in the table, and the other way round."""

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self.chart, self.table = ChartView(palette), PlainTable(tr("Depths and times"))
        self.why = label("", "", wrap=True)
        self.rows: Sequence[Row] = ()
        self._records: Sequence[Teardown] = ()
        self._names: Sequence[str] = ()
        self.why.setAccessibleName(tr("What makes the difference"))
        self.why.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        explain((self.table, tr("One row a part that matters; choose one to see what makes the difference")))
        split = QSplitter(Qt.Orientation.Vertical)
        split.addWidget(self.chart)
        split.addWidget(self.table)
        split.setStretchFactor(0, 3)
        split.setStretchFactor(1, 2)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(split, 1)
        box.addWidget(self.why)
        self.chart.chosen.connect(self._role_pointed_at)
        self.table.currentCellChanged.connect(lambda row, *_: self._row_chosen(row))

    def show_rows(self, records: Sequence[Teardown], names: Sequence[str], rows: Sequence[Row]) -> None:
        self._records, self._names, self.rows = records, names, rows
        self.table.blockSignals(True)
        self.table.clear()
        self.table.setColumnCount(1 + len(names))
        self.table.setRowCount(len(rows))
        self.table.setHorizontalHeaderLabels([tr("Part"), *names])
        for n, row in enumerate(rows):
            self.table.setItem(n, 0, QTableWidgetItem(self._name(row)))
            for m, one in enumerate(row.reached):
                text = reached_text(one)
                known = one.known if one is not None and one.steps is not None else ""
                item = QTableWidgetItem(with_sign(known, text) if known else text)
                item.setToolTip(tip(known_text(known) if known else text))
                self.table.setItem(n, 1 + m, item)
        header = self.table.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.ResizeToContents)
        self.table.blockSignals(False)
        self.chart.show_chart(chart_of(names, rows))
        if rows:
            self.table.setCurrentCell(0, 0)
            self._row_chosen(0)
        else:
            self.why.setText(tr("None of the records has a part with a role."))

    def _name(self, row: Row) -> str:
        """The role, and the part's own name where a device has several of it."""
        if sum(other.role == row.role for other in self.rows) < 2:
            return role_name(row.role)
        record, one = next((record, one) for record, one in zip(self._records, row.reached) if one is not None)
        return tr("{0}: {1}").format(role_name(row.role), name_of(record, one.part))

    def _role_pointed_at(self, role: str) -> None:
        row = next((n for n, one in enumerate(self.rows) if one.role == role), -1)
        if row >= 0 and row != self.table.currentRow():
            self.table.setCurrentCell(row, 0)

    def _row_chosen(self, place: int) -> None:
        if not 0 <= place < len(self.rows):
            return
        row = self.rows[place]
        self.chart.show_role(row.role)
        lines = []
        for n, found in enumerate(row.why, start=1):
            if found is not None:
                pair = self._names[0], self._names[n]
                lines.append(tr("{0}: {1}").format(self._names[n], causes_text(
                    found, (self._records[0], self._records[n]), pair)) if found.difference
                    else tr("{0}: as many steps as {1}").format(self._names[n], self._names[0]))
        self.why.setText("\n".join(lines) or (tr("Looking for why they differ…") if any(row.reached[1:]) else ""))
