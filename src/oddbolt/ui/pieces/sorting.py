"""Tables that are sorted by a click on a column; a third click puts the rows back in their own order."""

from __future__ import annotations

import re
from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QTreeWidget, QTreeWidgetItem

from oddbolt.ui.pieces.sheet import tip
from oddbolt.words.translate import tr

BY = Qt.ItemDataRole.UserRole + 1  # a number to sort by, where the text of a cell does not say it
_PIECES = re.compile(r"\d+(?:\.\d+)?|\D+")
_NOTHING = ("", "–", "?")


class Row(QTreeWidgetItem):
    """Compares numbers as numbers, within texts too; what is not known comes last."""

    def __lt__(self, other: QTreeWidgetItem) -> bool:
        column = max(0, self.treeWidget().sortColumn())
        return _key(self, column) < _key(other, column)


def _key(row: QTreeWidgetItem, column: int) -> tuple[bool, float, list[tuple[bool, float, str]]]:
    number, text = row.data(column, BY), row.text(column).strip()
    if number is not None:
        return False, float(number), []
    return text in _NOTHING, 0.0, [
        (False, float(piece), "") if piece[0].isdigit() else (True, 0.0, piece.casefold())
        for piece in _PIECES.findall(text)]


def sortable(tree: QTreeWidget, own_order: Callable[[], object]) -> None:
    """Let the columns be sorted by; `own_order` shows the rows anew in theirs."""
    header = tree.header()
    header.setSortIndicator(-1, Qt.SortOrder.AscendingOrder)
    header.setSortIndicatorClearable(True)
    tree.setSortingEnabled(True)
    header.sortIndicatorChanged.connect(lambda column, _: own_order() if column < 0 else None)
    header.setToolTip(tip(tr("A click sorts by a column; the third puts the rows back in their own order")))
