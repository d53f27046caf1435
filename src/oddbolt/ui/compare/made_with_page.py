"""What each device is made with, and what it is judged to be, row by row."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QHeaderView, QTableWidgetItem, QVBoxLayout, QWidget

from oddbolt.comparing.profile import FIGURES, Profile
from oddbolt.scoring.evaluate import Verdict
from oddbolt.ui.compare.plain_table import PlainTable
from oddbolt.ui.pieces.sheet import explain
from oddbolt.words.figures import duration_text, figure_of, steps_text
from oddbolt.words.judging.comparing import made_with_name
from oddbolt.words.judging.verdicts import class_text, index_text
from oddbolt.words.names import kind_name, tool_text
from oddbolt.words.translate import of_data, tr


class MadeWithPage(QWidget):
    def __init__(self) -> None:
        super().__init__()
        self.table = PlainTable(tr("What each is made with"))
        self.table.setWordWrap(True)
        explain((self.table, tr("Verdicts by what is on record; then fasteners, tools and connectors of each")))
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.table)

    def show_all(self, names: Sequence[str], profiles: Sequence[Profile],
                 verdicts: Sequence[Sequence[Verdict]]) -> None:
        """Profiles by device; verdicts by method, each by device."""
        rows: list[tuple[str, list[str]]] = [(of_data(one[0].method.name), [
            ", ".join(text for text in (index_text(verdict), class_text(verdict)) if text) for verdict in one])
            for one in verdicts if one]
        for figure in FIGURES:
            values = [profile.figures[figure] for profile in profiles]
            rows.append((made_with_name(figure), [tr("not known") if value is None else figure_of(value)
                                                  for value in values]))
        for n in range(max((len(profile.passes) for profile in profiles), default=0)):
            rows.append((tr("As performed, pass {0}").format(n + 1), [
                tr("{0}, {1}").format(steps_text(profile.passes[n][0]), duration_text(profile.passes[n][1]))
                if n < len(profile.passes) else "–" for profile in profiles]))
        for title, counts in ((tr("Bolt {0}"), [profile.fasteners for profile in profiles]),
                              (tr("Connector {0}"), [profile.connectors for profile in profiles])):
            for name in dict.fromkeys(name for one in counts for name in one):
                said = (kind_name("connector", name) if counts[0] is profiles[0].connectors else name) or tr("not told")
                rows.append((title.format(said), [str(one[name]) if name in one else "–" for one in counts]))
        for tool in dict.fromkeys(tool for profile in profiles for tool in profile.tools):
            rows.append((tr("Tool: {0}").format(tool_text(tool)), [tr("needed") if tool in profile.tools else "–"
                                                                  for profile in profiles]))
        self.table.clear()
        self.table.setColumnCount(1 + len(names))
        self.table.setRowCount(len(rows))
        self.table.setHorizontalHeaderLabels(["", *names])
        for n, (name, texts) in enumerate(rows):
            differs = len(set(texts)) > 1
            for m, text in enumerate([name, *texts]):
                item = QTableWidgetItem(text)
                font = item.font()
                font.setBold(differs and m > 0)
                item.setFont(font)
                self.table.setItem(n, m, item)
        header = self.table.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.table.resizeRowsToContents()
