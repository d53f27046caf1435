"""Two analysts of one model: how far they agree, each fact that they tell otherwise with both photographs, and a record
made of both, fact by fact."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QHeaderView,
    QListWidget,
    QPushButton,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from oddbolt.comparing.facts import Difference, Key
from oddbolt.comparing.matching import Matched
from oddbolt.model.things import Teardown, View
from oddbolt.ui.pieces.sheet import explain, tip
from oddbolt.ui.widgets.thing_photo import ThingPhoto
from oddbolt.words.judging.comparing import fact_name, fact_text, thing_of
from oddbolt.words.translate import tr

PLACE = Qt.ItemDataRole.UserRole
PICTURE_HIGH, TEXT_PX = 150, 11.0
AGREEMENT_LINES = 8
Photo = Callable[[str], bytes | None]


def seen_on(record: Teardown, things: Sequence[str]) -> View | None:
    """The photograph that shows one of some things best: the last one with a mark of the first that is marked; for
    parts that are not, of what holds them; else the first photograph of all."""
    names = [*things, *(joint.id for thing in things for joint in record.joints if thing in joint.of)]
    for name in names:
        found = [view for view in record.views if view.photo and any(mark.thing == name for mark in view.marks)]
        if found:
            return found[-1]
    return next(iter(record.pictured), None)


class AnalystsPage(QWidget):
    """A tick takes the second analyst's fact over."""

    merge_asked = Signal(object)  # keys of the facts that are taken over
    other_asked = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.agreement = QListWidget()
        self.tree, self.merge = QTreeWidget(), QPushButton(tr("Make a merged record…"))
        self.all, self.none = QPushButton(tr("All of the second")), QPushButton(tr("All of the first"))
        self.here = ThingPhoto(tr("In the first record"), TEXT_PX)
        self.there = ThingPhoto(tr("In the second record"), TEXT_PX)
        for seen in (self.here, self.there):
            seen.setFixedHeight(PICTURE_HIGH)
        self._records: tuple[Teardown, Teardown] | None = None
        self._photos: tuple[Photo, Photo] | None = None
        self._likes: tuple[dict[str, str], dict[str, str]] = {}, {}  # by record, its things by those of the other
        self.found: Sequence[Difference] = ()
        self.agreement.setAccessibleName(tr("How far they agree"))
        self.agreement.setWordWrap(True)
        self.agreement.setMaximumHeight(AGREEMENT_LINES * self.fontMetrics().height())
        self.tree.setAccessibleName(tr("Facts told otherwise"))
        self.tree.setRootIsDecorated(False)
        self.tree.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        explain((self.agreement, tr("Each figure with its measure; where it is not defined it says so")),
                (self.tree, tr("A tick takes what the second says over into the merged record")),
                (self.all, tr("Tick every fact")), (self.none, tr("Untick every fact")),
                (self.merge, tr("A new document: the first with the ticked facts of the second; log and photographs "
                                "are the first's")))
        self._build()

    def _build(self) -> None:
        pictures, buttons = QHBoxLayout(), QHBoxLayout()
        pictures.addWidget(self.here)
        pictures.addWidget(self.there)
        for button in (self.none, self.all):
            buttons.addWidget(button)
        buttons.addStretch(1)
        buttons.addWidget(self.merge)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.agreement)
        box.addWidget(self.tree, 1)
        box.addLayout(pictures)
        box.addLayout(buttons)
        self.tree.currentItemChanged.connect(lambda item, _: self._chosen(item))
        self.merge.clicked.connect(lambda _: self.merge_asked.emit(self.taken()))
        self.all.clicked.connect(lambda _: self._tick(Qt.CheckState.Checked))
        self.none.clicked.connect(lambda _: self._tick(Qt.CheckState.Unchecked))

    def show_pair(self, records: tuple[Teardown, Teardown], names: Sequence[str], found: Sequence[Difference],
                  agreement: Sequence[str], photos: tuple[Photo, Photo], both: Matched) -> None:
        self._records, self.found, self._photos = records, found, photos
        self._likes = (both.back.things, both.things)
        self.agreement.clear()
        self.agreement.addItems(list(agreement))
        self.tree.clear()
        self.tree.setHeaderLabels([tr("What"), tr("Fact"), names[0], names[1]])
        for n, one in enumerate(found):
            item = QTreeWidgetItem([thing_of(records, one), fact_name(one.fact),
                                    fact_text(records[0], one.fact, one.here),
                                    fact_text(records[0], one.fact, one.there)])
            item.setData(0, PLACE, n)
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(0, Qt.CheckState.Unchecked)
            for column in range(4):
                item.setToolTip(column, tip(item.text(column)))
            self.tree.addTopLevelItem(item)
        header = self.tree.header()
        header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        header.setSectionResizeMode(1, QHeaderView.ResizeMode.ResizeToContents)
        self.merge.setEnabled(bool(found))
        if found:
            self.tree.setCurrentItem(self.tree.topLevelItem(0))

    def clear(self, words: str) -> None:
        self.agreement.clear()
        self.agreement.addItem(words)
        self.tree.clear()
        self.found = ()
        self.merge.setEnabled(False)

    def taken(self) -> list[Key]:
        items = [self.tree.topLevelItem(n) for n in range(self.tree.topLevelItemCount())]
        return [self.found[item.data(0, PLACE)].key for item in items if item.checkState(0) == Qt.CheckState.Checked]

    def _tick(self, state: Qt.CheckState) -> None:
        for n in range(self.tree.topLevelItemCount()):
            self.tree.topLevelItem(n).setCheckState(0, state)

    def _chosen(self, item: QTreeWidgetItem | None) -> None:
        if item is None or self._records is None or self._photos is None:
            return
        one = self.found[item.data(0, PLACE)]
        things = one.one, one.other
        for n, seen in enumerate((self.here, self.there)):
            record, elsewhere = self._records[n], self._records[1 - n]
            named = [things[n]] if things[n] else []
            if not named:  # where it would be: at what it ties, or lies on
                there = elsewhere.joint.get(things[1 - n])
                part = elsewhere.part.get(things[1 - n])
                carrier = (part.on or elsewhere.device.base,) if part is not None else ()
                around = there.of if there is not None else carrier
                named = [like for name in around if (like := self._likes[n].get(name))]
            self._show_thing(seen, record, named, self._photos[n], is_there=bool(things[n]))

    def _show_thing(self, seen: ThingPhoto, record: Teardown, things: Sequence[str], photo: Photo, *,
                    is_there: bool) -> None:
        """The thing; where the record has none of it (not `is_there`), the photograph on which it would be."""
        thing, view = things[0] if things else "", seen_on(record, things)
        joint = record.joint.get(thing)
        marks = [mark for mark in view.marks if is_there and mark.thing == thing] if view is not None else []
        seen.show_marks(view, photo(view.photo) if view is not None else None, marks,
                        (joint.fastener or "") if joint is not None else "")
