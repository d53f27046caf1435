"""What stands for what in two records: a proposal that is set right by dragging, or by Return and Delete."""

from __future__ import annotations

from PySide6.QtCore import QMimeData, Qt, Signal
from PySide6.QtGui import QDragEnterEvent, QDragMoveEvent, QDropEvent, QKeyEvent
from PySide6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QListWidget,
    QListWidgetItem,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from oddbolt.comparing.matching import Corrections, Matched
from oddbolt.model.things import Teardown
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.words.names import name_apart
from oddbolt.words.translate import tr

MIME = "application/x-oddbolt-thing"
THING = Qt.ItemDataRole.UserRole


class _Theirs(QListWidget):
    """Things of the other record, to be dragged; what nothing stands for comes first."""

    def __init__(self) -> None:
        super().__init__()
        self.setDragEnabled(True)
        self.setAccessibleName(tr("Things of the other record"))
        explain((self, tr("Drag one onto what it stands for")))

    def mimeData(self, items: list[QListWidgetItem]) -> QMimeData:  # noqa: N802 (Qt's name)
        data = QMimeData()
        data.setData(MIME, items[0].data(THING).encode())
        return data

    def mimeTypes(self) -> list[str]:  # noqa: N802 (Qt's name)
        return [MIME]


class _Ours(QTreeWidget):
    """Things of the first record with their like."""

    dropped = Signal(str, str)  # thing of the first, thing of the other
    cleared = Signal(str)
    given = Signal(str)  # Return: takes what is in hand on the other side
    proposed = Signal(str)  # Backspace: the proposal again

    def __init__(self) -> None:
        super().__init__()
        self.setAcceptDrops(True)
        self.setDragDropMode(QAbstractItemView.DragDropMode.DropOnly)
        self.setRootIsDecorated(False)
        self.setColumnCount(2)
        self.setAccessibleName(tr("Things of the first record with their like"))
        explain((self, tr("Return takes what is in hand on the right, Delete lets it stand for nothing, Backspace "
                          "brings the proposal back")))

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:  # noqa: N802 (Qt's name)
        if event.mimeData().hasFormat(MIME):
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent) -> None:  # noqa: N802 (Qt's name)
        item = self.itemAt(event.position().toPoint())
        if item is not None and event.mimeData().hasFormat(MIME):
            self.setCurrentItem(item)
            event.acceptProposedAction()
        else:
            event.ignore()

    def dropEvent(self, event: QDropEvent) -> None:  # noqa: N802 (Qt's name)
        item = self.itemAt(event.position().toPoint())
        if item is not None and event.mimeData().hasFormat(MIME):
            self.dropped.emit(item.data(0, THING), bytes(event.mimeData().data(MIME).data()).decode())
            event.acceptProposedAction()

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802 (Qt's name)
        item = self.currentItem()
        acts = {Qt.Key.Key_Delete: self.cleared, Qt.Key.Key_Return: self.given, Qt.Key.Key_Enter: self.given,
                Qt.Key.Key_Backspace: self.proposed}
        if item is not None and Qt.Key(event.key()) in acts:
            acts[Qt.Key(event.key())].emit(item.data(0, THING))
            return
        super().keyPressEvent(event)


class MatchingPage(QWidget):
    """Tells a correction; whoever keeps it shows the page anew."""

    corrected = Signal(int, object)  # place of the other record, Corrections
    refused = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.which, self.ours, self.theirs = QComboBox(), _Ours(), _Theirs()
        self.which.setAccessibleName(tr("Which other record"))
        explain((self.which, tr("The record whose things are matched with those of the first")))
        self._records: tuple[Teardown, ...] = ()
        self._matched: list[Matched] = []
        self._told: dict[int, Corrections] = {}
        lists = QHBoxLayout()
        lists.addWidget(self.ours, 3)
        lists.addWidget(self.theirs, 2)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.which)
        box.addLayout(lists, 1)
        box.addWidget(label(tr("A proposal by role, name, kind and what things are tied to; what you set right stands "
                               "strong and is kept in a file beside the record."), "faint", wrap=True))
        self.which.currentIndexChanged.connect(lambda _: self._show())
        self.ours.dropped.connect(self._match)
        self.ours.cleared.connect(lambda thing: self._match(thing, None))
        self.ours.given.connect(self._give)
        self.ours.proposed.connect(self._propose)

    def show_matching(self, records: tuple[Teardown, ...], names: list[str], matched: list[Matched],
                      told: dict[int, Corrections]) -> None:
        self._records, self._matched, self._told = records, matched, told
        place = max(0, self.which.currentIndex())
        self.which.blockSignals(True)
        self.which.clear()
        self.which.addItems(names[1:])
        self.which.setCurrentIndex(min(place, len(names) - 2))
        self.which.blockSignals(False)
        self.ours.setHeaderLabels([names[0], tr("stands for")])
        self._show()

    def _show(self) -> None:
        n = self.which.currentIndex()
        if n < 0 or n >= len(self._matched):
            self.ours.clear()
            self.theirs.clear()
            return
        one, other, likes = self._records[0], self._records[n + 1], self._matched[n].things
        told = self._told.get(n + 1, Corrections())
        said = {**told.parts, **told.joints}
        in_hand = self.ours.currentItem().data(0, THING) if self.ours.currentItem() is not None else ""
        self.ours.clear()
        for thing in (*one.parts, *one.joints):
            if not one.is_present(thing) or thing.id == one.device.base:
                continue
            like = likes.get(thing.id)
            item = QTreeWidgetItem([name_apart(one, thing.id), name_apart(other, like) if like else "–"])
            item.setData(0, THING, thing.id)
            if thing.id in said:
                font = item.font(1)
                font.setBold(True)
                item.setFont(1, font)
            self.ours.addTopLevelItem(item)
            if thing.id == in_hand:
                self.ours.setCurrentItem(item)
        self.ours.header().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        taken = set(likes.values())
        self.theirs.clear()
        things = [thing for thing in (*other.parts, *other.joints) if other.is_present(thing)
                  and thing.id != other.device.base]
        for thing in sorted(things, key=lambda thing: thing.id in taken):
            text = name_apart(other, thing.id)
            item = QListWidgetItem(text if thing.id in taken else tr("{0}, stands for nothing").format(text))
            item.setData(THING, thing.id)
            self.theirs.addItem(item)

    def _match(self, thing: str, like: str | None) -> None:
        n = self.which.currentIndex()
        one, other = self._records[0], self._records[n + 1]
        if like is not None and (thing in one.part) != (like in other.part):
            self.refused.emit(tr("A part stands for a part, a joint for a joint"))
            return
        told = self._told.get(n + 1, Corrections())
        self.corrected.emit(n + 1, told.with_pair(one, thing, like))

    def _give(self, thing: str) -> None:
        item = self.theirs.currentItem()
        if item is not None:
            self._match(thing, item.data(THING))

    def _propose(self, thing: str) -> None:
        n = self.which.currentIndex()
        told = self._told.get(n + 1, Corrections())
        self.corrected.emit(n + 1, Corrections(parts={a: b for a, b in told.parts.items() if a != thing},
                                               joints={a: b for a, b in told.joints.items() if a != thing}))
