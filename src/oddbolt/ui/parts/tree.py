"""All parts by assembly, with search and filter; several can be chosen at once."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from oddbolt.model.things import Part
from oddbolt.reassembly.inventory import Branch, tree_of
from oddbolt.session.session import Session
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.ui.pieces.sorting import Row, sortable
from oddbolt.words.names import name_of, part_kind_name
from oddbolt.words.translate import tr

ID = Qt.ItemDataRole.UserRole
Shape = tuple[Any, ...]


def _shape(branch: Branch) -> Shape:
    """Which parts stand where."""
    return (branch.part.id, *map(_shape, branch.below))


class PartTree(QWidget):
    """The tree and the line above it; what the filter leaves out is hidden, its carriers stay."""

    parts_chosen = Signal(object)  # ids
    menu_asked = Signal(object)  # where on the screen
    name_asked = Signal(str)
    delete_asked = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._held: dict[str, int] = {}
        self.search = QLineEdit()
        self.search.setPlaceholderText(tr("Search: name, kind, marking, material"))
        self.search.setAccessibleName(tr("Search parts"))
        self.search.setClearButtonEnabled(True)
        self.number = label("", "faint")  # of parts found
        self.filter = QComboBox()
        self.filter.setAccessibleName(tr("Which parts are shown"))
        for above in (self.search, self.filter):
            above.setMinimumHeight(34)
        for text, test in self._tests():
            self.filter.addItem(text, test)
        self.tree = QTreeWidget()
        self.tree.setHeaderLabels([tr("Part"), tr("Kind"), tr("Mass, g"), tr("Held by"), tr("Spare"), tr("Hazards")])
        self.tree.setAccessibleName(tr("Parts by assembly"))
        self.tree.setSelectionMode(QTreeWidget.SelectionMode.ExtendedSelection)
        self.tree.setUniformRowHeights(True)
        self.tree.setAlternatingRowColors(True)
        self.tree.header().setStretchLastSection(False)
        self.tree.header().setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        self.tree.header().setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        letter = self.fontMetrics().averageCharWidth()
        for column, letters in ((1, 15), (2, 10), (3, 10), (4, 13), (5, 12)):
            self.tree.setColumnWidth(column, letters * letter)
        line = QHBoxLayout()
        line.addWidget(self.search, 1)
        line.addWidget(self.number)
        line.addWidget(self.filter)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(line)
        box.addWidget(self.tree, 1)
        self._shape: Shape | None = None  # of what is shown
        self._explain()
        sortable(self.tree, self._as_assembled)
        self._rows: dict[str, tuple[QTreeWidgetItem, list[str]]] = {}
        self.search.textChanged.connect(lambda _: self._apply())
        self.filter.currentIndexChanged.connect(lambda _: self._apply())
        self.tree.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.tree.customContextMenuRequested.connect(
            lambda spot: self.menu_asked.emit(self.tree.viewport().mapToGlobal(spot)) if self.chosen() else None)
        self.tree.itemDoubleClicked.connect(lambda item, _: self.name_asked.emit(item.data(0, ID)))
        remove = QShortcut(QKeySequence.StandardKey.Delete, self.tree)
        remove.setContext(Qt.ShortcutContext.WidgetShortcut)
        remove.activated.connect(self.delete_asked)
        self.tree.setExpandsOnDoubleClick(False)
        self.tree.itemSelectionChanged.connect(lambda: self.parts_chosen.emit(self.chosen()))

    def _explain(self) -> None:
        explain((self.search, tr("Parts with all these words")), (self.filter, tr("Only parts of this sort")),
                (self.tree, tr("What lies on what; several are written at once, a double click gives a name")))

    def _tests(self) -> list[tuple[str, Callable[[Part], bool]]]:
        return [(tr("all parts"), lambda part: True), (tr("priority parts"), lambda part: bool(part.role)),
                (tr("without mass"), lambda part: part.mass_g is None and not part.captive),
                (tr("hazardous"), lambda part: bool(part.hazards)),
                (tr("chips and the like"), lambda part: part.captive),
                (tr("spare not known"), lambda part: not (part.spare and part.spare.available)),
                (tr("still in place"), self._is_in_place)]

    def _as_assembled(self) -> None:
        """In the order of the record again."""
        self._shape = None
        self.refresh()

    def _is_in_place(self, part: Part) -> bool:
        derived = self._session.derived
        stand_in = derived.structure.stand_in.get(part.id, part.id)
        return derived.state.is_in_place(stand_in)

    def chosen(self) -> list[str]:
        return [item.data(0, ID) for item in self.tree.selectedItems()]

    def refresh(self) -> None:
        """Show the parts as they are now; what was chosen stays chosen."""
        kept, teardown = set(self.chosen()), self._session.teardown
        self._held = {}
        for joint in teardown.joints:
            for part in joint.of:
                self._held[part] = self._held.get(part, 0) + 1
        tree = tree_of(teardown, self._session.derived.structure)
        shape, before = _shape(tree), self._shape
        self._shape = shape
        if shape == before and self.tree.topLevelItem(0) is not None:
            self._write_rows()
            return
        self.tree.blockSignals(True)
        self.tree.clear()
        self._rows = {}
        root = self._item(tree)
        self.tree.addTopLevelItem(root)
        self.tree.expandAll()
        self._apply()
        for item in self._items(root):
            if item.data(0, ID) in kept:
                item.setSelected(True)
        self.tree.blockSignals(False)
        if not self.chosen():
            root.setSelected(True)
            self.tree.setCurrentItem(root)

    def _item(self, branch: Branch) -> QTreeWidgetItem:
        part, words = branch.part, self._words(branch.part)
        item = Row(words)
        item.setData(0, ID, part.id)
        self._rows[part.id] = (item, words)
        for column in (2, 3):
            item.setTextAlignment(column, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        item.addChildren([self._item(below) for below in branch.below])
        return item

    def _words(self, part: Part) -> list[str]:
        number = f"{part.count} × " if part.count and part.count > 1 else ""
        return [number + name_of(self._session.teardown, part.id), part_kind_name(part.kind) if part.kind else "",
                f"{part.mass_g:g}" if part.mass_g is not None else "–", str(self._held.get(part.id, 0) or "–"),
                part.spare.available if part.spare and part.spare.available else "–", ", ".join(part.hazards)]

    def _write_rows(self) -> None:
        """The same parts in the same places: only what differs in their rows is written."""
        teardown = self._session.teardown
        for id_, (item, before) in self._rows.items():
            words = self._words(teardown.part[id_])
            if words != before:
                self._rows[id_] = (item, words)
                for column, word in enumerate(words):
                    item.setText(column, word)
        if self.search.text().strip() or self.filter.currentIndex() > 0:
            self._apply()

    def _items(self, item: QTreeWidgetItem) -> list[QTreeWidgetItem]:
        found = [item]
        for n in range(item.childCount()):
            found.extend(self._items(item.child(n)))
        return found

    def _apply(self) -> None:
        """Hide what neither search nor filter wants, but for carriers of what they want."""
        words, found = self.search.text().lower().split(), 0
        test = self.filter.currentData()

        def wanted(item: QTreeWidgetItem) -> bool:
            nonlocal found
            part = self._session.teardown.part.get(item.data(0, ID))
            if part is None:
                return False
            text = " ".join([item.text(0), item.text(1), part.id, part.kind,
                             *part.role, *(f"{f.name} {f.value}" for f in part.facts)])
            own = test(part) and all(word in text.lower() for word in words)
            found += own
            below = [wanted(item.child(n)) for n in range(item.childCount())]
            item.setHidden(not (own or any(below)))
            return own or any(below)

        root = self.tree.topLevelItem(0)
        if root is not None:
            wanted(root)
            root.setHidden(False)
        is_filtered = bool(words) or self.filter.currentIndex() > 0
        self.number.setText(tr("{0} of {1}").format(found, len(self._rows)) if is_filtered else "")

    def choose(self, part: str) -> None:
        root = self.tree.topLevelItem(0)
        for item in self._items(root) if root is not None else ():
            if item.data(0, ID) == part:
                self.tree.setCurrentItem(item)
                self.tree.scrollToItem(item)
