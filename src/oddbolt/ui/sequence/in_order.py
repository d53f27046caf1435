"""The operations of a sequence as a numbered list: what is too narrow in the lanes for a name is read here."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHeaderView, QTreeWidget, QTreeWidgetItem

from oddbolt.session.session import Session
from oddbolt.ui.pieces.sheet import explain, tip
from oddbolt.ui.pieces.sorting import BY, Row, sortable
from oddbolt.ui.sequence.lanes import LanesView
from oddbolt.words.acts import short_operation
from oddbolt.words.figures import duration_text
from oddbolt.words.names import tool_name
from oddbolt.words.times import estimate_text
from oddbolt.words.translate import tr


class InOrder(QTreeWidget):
    """Follows the lanes that were used last; a row and its bar are chosen together."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.view: LanesView | None = None
        self.setHeaderLabels([tr("No."), tr("What"), tr("Time")])
        self.setAccessibleName(tr("Operations in order"))
        self.setRootIsDecorated(False)
        self.setUniformRowHeights(True)
        self.setAlternatingRowColors(True)
        self.header().setStretchLastSection(False)
        self.header().setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
        for column in (0, 2):
            self.header().setSectionResizeMode(column, QHeaderView.ResizeMode.ResizeToContents)
        explain((self, tr("The operations of the lanes used last; a row and its bar are chosen together")))
        sortable(self, lambda: self.show_view(self.view) if self.view is not None else None)
        self.currentItemChanged.connect(lambda item, _: self._chosen(item))

    def show_view(self, view: LanesView) -> None:
        self.view = view
        self.blockSignals(True)
        self.clear()
        teardown, picture = self._session.teardown, view.picture
        for item in picture.lanes.items if picture is not None else ():
            name = short_operation(teardown, view.operations[item.place])
            row = Row([str(item.place + 1), name, duration_text(item.active_s)])
            row.setToolTip(1, tip(tr("{0}, by: {1}").format(name, tool_name(teardown, item.tool))))
            row.setData(2, BY, item.active_s)
            row.setToolTip(2, tip(estimate_text(item.known)))
            row.setTextAlignment(0, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            row.setTextAlignment(2, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            row.setData(0, Qt.ItemDataRole.UserRole, item.place)
            self.addTopLevelItem(row)
        self._mark(view.chosen)
        self.blockSignals(False)

    def choose(self, view: LanesView, place: int) -> None:
        """What was chosen in the lanes."""
        if view is not self.view:
            self.show_view(view)
        self.blockSignals(True)
        self._mark(place)
        self.blockSignals(False)

    def _mark(self, place: int | None) -> None:
        for n in range(self.topLevelItemCount()):
            row = self.topLevelItem(n)
            if row.data(0, Qt.ItemDataRole.UserRole) == place:
                self.setCurrentItem(row)
                self.scrollToItem(row)

    def _chosen(self, row: QTreeWidgetItem | None) -> None:
        if row is not None and self.view is not None:
            self.view.choose(row.data(0, Qt.ItemDataRole.UserRole))
