"""The running list: the log, entry by entry; what was corrected is struck out and stays."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PySide6.QtCore import QAbstractListModel, QModelIndex, QPersistentModelIndex, Qt
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QListView

from oddbolt.model.things import LogEntry, Teardown
from oddbolt.rules.replay import in_order
from oddbolt.session.session import Session
from oddbolt.ui.pieces.delete_key import DeleteKey
from oddbolt.ui.pieces.sheet import tip
from oddbolt.words.recording.entries import entry_text
from oddbolt.words.translate import tr

Index = QModelIndex | QPersistentModelIndex


class LogModel(QAbstractListModel):
    """Texts are made when a row is seen: a long log costs no more than a short one."""

    def __init__(self) -> None:
        super().__init__()
        self._teardown = Teardown.nothing()
        self._log: Sequence[LogEntry] = ()
        self._amended: frozenset[str] = frozenset()

    def show_log(self, teardown: Teardown) -> None:
        """Rows are added or taken away at the end where that is all that has changed."""
        old, new = self._log, in_order(teardown)
        kept = min(len(old), len(new))
        amended = frozenset(entry.amends for entry in new if entry.amends)
        self._amended, before, self._teardown = amended, self._amended, teardown
        if any(old[n] is not new[n] for n in range(kept)):
            self.beginResetModel()
            self._log = new
            self.endResetModel()
            return
        if len(new) > kept:
            self.beginInsertRows(QModelIndex(), kept, len(new) - 1)
            self._log = new
            self.endInsertRows()
        elif len(old) > kept:
            self.beginRemoveRows(QModelIndex(), kept, len(old) - 1)
            self._log = new
            self.endRemoveRows()
        if amended != before and kept:
            self.dataChanged.emit(self.index(0), self.index(kept - 1))

    def rowCount(self, _parent: Index = QModelIndex()) -> int:  # noqa: N802, B008 (Qt's name and default)
        return len(self._log)

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        entry = self._log[index.row()]
        if role == Qt.ItemDataRole.DisplayRole:
            return entry_text(self._teardown, entry)
        if role == Qt.ItemDataRole.ToolTipRole:
            return tip(entry_text(self._teardown, entry))
        if role == Qt.ItemDataRole.FontRole and entry.id in self._amended:
            font = QFont()
            font.setStrikeOut(True)
            return font
        return None

    def entry_at(self, row: int) -> str:
        return self._log[row].id if 0 <= row < len(self._log) else ""

    def row_of(self, entry_id: str) -> int:
        return next((n for n, entry in enumerate(self._log) if entry.id == entry_id), -1)


class RunningList(QListView):
    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.delete_key = DeleteKey(self)
        self._log = LogModel()
        self.setModel(self._log)
        self.setAccessibleName(tr("Running list"))
        self.setAlternatingRowColors(True)
        self.setUniformItemSizes(True)
        self.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)

    def entry(self) -> str:
        """The entry in hand; empty where none is."""
        return self._log.entry_at(self.currentIndex().row())

    def follow(self, at_entry: str | None) -> None:
        """Show the whole log; `at_entry` is where an earlier state stands in it, None for the present. Whoever works in
        the list keeps the entry in hand."""
        in_hand = self.entry() if self.hasFocus() else ""
        self._log.show_log(self._session.teardown)
        row = self._log.row_of(in_hand or at_entry or "")
        self.setCurrentIndex(self._log.index(row) if row >= 0 else QModelIndex())
        if row >= 0:
            self.scrollTo(self.currentIndex())
        else:
            self.scrollToBottom()
