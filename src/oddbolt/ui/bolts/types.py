"""The screw types of this device: letter, recess, size, and how many there are by joints, by marks and by the log."""

from __future__ import annotations

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QBrush, QColor
from PySide6.QtWidgets import QHeaderView, QTreeWidget, QTreeWidgetItem

from oddbolt.paint.bolts import TAG_HEIGHT, tag_width
from oddbolt.paint.palette import Palette
from oddbolt.reassembly.bolts import BoltType, bolt_types
from oddbolt.session.session import Session
from oddbolt.ui.pieces.sheet import tip
from oddbolt.ui.pieces.sorting import BY, Row, sortable
from oddbolt.ui.theme.icons import tag_icon
from oddbolt.words.lengths import length_text
from oddbolt.words.names import fastener_text, name_of
from oddbolt.words.translate import tr

ROW = Qt.ItemDataRole.UserRole


class BoltTypes(QTreeWidget):
    """A row for each letter; the groups that differ are below it."""

    letter_chosen = Signal(str)

    def __init__(self, session: Session, palette: Palette) -> None:
        super().__init__()
        self._session = session
        self._warn = QBrush(QColor(palette.warn))
        names = (tr("Bolt"), tr("Recess"), tr("Thread"), tr("Length"), tr("Head"),
                 tr("Colour"), tr("Joints"), tr("Marks"), tr("Out"))
        self.setColumnCount(len(names))
        self.setHeaderLabels(names)
        self.setAccessibleName(tr("Screw types of this device"))
        self.setAlternatingRowColors(True)
        self.setIndentation(16)
        self.setIconSize(QSize(round(tag_width("A")), round(TAG_HEIGHT)))
        for column in range(len(names)):
            self.header().setSectionResizeMode(column, QHeaderView.ResizeMode.ResizeToContents)
        self.header().setStretchLastSection(True)
        sortable(self, self.refresh)
        self.currentItemChanged.connect(lambda item, _: self.letter_chosen.emit(item.data(0, ROW)) if item else None)

    @property
    def letter(self) -> str:
        item = self.currentItem()
        return item.data(0, ROW) if item is not None else ""

    def refresh(self) -> None:
        chosen = self.letter
        self.blockSignals(True)
        self.clear()
        for row in bolt_types(self._session.teardown):
            item = self._item(row)
            self.addTopLevelItem(item)
            if row.fastener.id == chosen:
                self.setCurrentItem(item)
        if self.currentItem() is None and self.topLevelItemCount():
            self.setCurrentItem(self.topLevelItem(0))
        self.blockSignals(False)

    def choose(self, letter: str) -> None:
        for n in range(self.topLevelItemCount()):
            if self.topLevelItem(n).data(0, ROW) == letter:
                self.setCurrentItem(self.topLevelItem(n))

    def _item(self, row: BoltType) -> QTreeWidgetItem:
        fastener, teardown = row.fastener, self._session.teardown
        length = length_text(fastener.length_mm) if fastener.length_mm else "–"
        head = f"{fastener.head} {length_text(fastener.head_mm)}" if fastener.head_mm else fastener.head
        joined = "?" if row.joined is None else str(row.joined)
        item = Row(["", f"{fastener.drive}{fastener.size}", fastener.thread or "–", length,
                                head or "–", fastener.colour or "–", joined, str(row.marked), str(row.out)])
        item.setIcon(0, tag_icon(fastener, self.font()))
        item.setData(0, ROW, fastener.id)
        item.setData(0, BY, ord(fastener.id[0]))
        item.setData(0, Qt.ItemDataRole.AccessibleTextRole, fastener.id)
        item.setToolTip(0, tip(fastener_text(fastener)))
        for column in (6, 7, 8):
            item.setTextAlignment(column, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        for joint in row.differs:
            record = teardown.joint[joint]
            name = name_of(teardown, joint)
            below = Row([tr("{0}: marked and counted differ").format(name)])
            below.setData(0, ROW, fastener.id)
            below.setFirstColumnSpanned(True)
            below.setForeground(0, self._warn)
            below.setToolTip(0, tip(tr("{0} counted").format(record.count)))
            item.addChild(below)
        if row.joined is not None and row.marked != row.joined:
            item.setForeground(7, self._warn)
            item.setToolTip(7, tr("Marks and joints do not come to the same number"))
        item.setExpanded(bool(row.differs))
        return item
