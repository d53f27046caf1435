"""A table that is read, not written: rows are chosen, and Qt's button in the corner is gone."""

from __future__ import annotations

from PySide6.QtWidgets import QAbstractButton, QAbstractItemView, QTableWidget

from oddbolt.ui.pieces.sheet import tip


class PlainTable(QTableWidget):
    def __init__(self, name: str) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.verticalHeader().hide()
        self.setCornerButtonEnabled(False)
        corner = self.findChild(QAbstractButton)
        if corner is not None:
            corner.setToolTip(tip(name))
