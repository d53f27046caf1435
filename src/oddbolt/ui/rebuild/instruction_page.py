"""The instruction at the desk: entries in their order, dragged; made first from the reverse of the log."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QBrush, QColor, QKeyEvent
from PySide6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QHBoxLayout,
    QInputDialog,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from oddbolt.model.things import CLOSED, OPEN, Refit
from oddbolt.paint.palette import Palette
from oddbolt.reassembly.rebuilding.instruction import closes_over, entries_from_log, proven_by
from oddbolt.reassembly.rebuilding.putting_back import Step, entries_of
from oddbolt.session.session import Session
from oddbolt.session.verbs.rebuilding import instruction
from oddbolt.ui.pieces.sheet import explain, label, scrolled, tip
from oddbolt.ui.rebuild.entry_form import EntryForm
from oddbolt.words.names import name_of, names_of
from oddbolt.words.rebuilding.steps import figure_text, step_text
from oddbolt.words.translate import tr

MOST_LOOKED_AT = 400  # releases and lifts of a device whose order is checked at every change
PROVEN = "\u2713"
PLACE = Qt.ItemDataRole.UserRole
Do = Callable[..., object]


class Entries(QListWidget):
    """A list whose lines are dragged, or moved by Alt and an arrow key."""

    shifted = Signal(int)
    removed = Signal()

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802 (Qt's name)
        by = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
        if by is not None and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.shifted.emit(by)
        elif event.key() == Qt.Key.Key_Delete:
            self.removed.emit()
        else:
            super().keyPressEvent(event)


class InstructionPage(QWidget):
    """Shows and edits; every change is a verb, and undone as one."""

    said = Signal(str, bool)

    def __init__(self, session: Session, palette: Palette, do: Do) -> None:
        super().__init__()
        self._session, self._palette, self._do = session, palette, do
        self.which, self.part, self.follows = QComboBox(), QComboBox(), QComboBox()
        self.list = Entries()
        self.form = EntryForm()
        self.state = label("", "problem", wrap=True)
        self.buttons = {name: QPushButton(text) for name, text in (
            ("new", tr("New procedure…")), ("gone", tr("Delete it")), ("log", tr("Make it from the log")),
            ("add", tr("Add")), ("remove", tr("Remove")), ("up", tr("Up")), ("down", tr("Down")))}
        self._build()

    def _build(self) -> None:
        self.list.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        self.list.setAccessibleName(tr("Entries of the instruction"))
        self.list.setWordWrap(True)
        for combo, name, told in (
                (self.which, tr("Instruction"), tr("How the whole device goes back, or a procedure with a name")),
                (self.part, tr("Replaces"), tr("The part that this procedure replaces")),
                (self.follows, tr("Goes on from"), tr("What has been done before this procedure begins"))):
            combo.setAccessibleName(name)
            combo.setMinimumContentsLength(10)
            combo.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            explain((combo, told))
        explain((self.list, tr("Drag an entry to another place, or Alt and an arrow key; what cannot go in there says "
                               "why")),
                (self.buttons["new"], tr("A way of working with a name")), (self.buttons["gone"], tr("Without it")),
                (self.buttons["log"], tr("The reverse of how it came off, to go on from")),
                (self.buttons["add"], tr("An entry behind the chosen one")),
                (self.buttons["remove"], tr("Without the chosen entry (Del)")),
                (self.buttons["up"], tr("Earlier (Alt+Up)")), (self.buttons["down"], tr("Later (Alt+Down)")))
        head, foot = QHBoxLayout(), QHBoxLayout()
        for widget in (self.which, self.part, self.follows):
            head.addWidget(widget, 1)
        for name in ("new", "gone"):
            head.addWidget(self.buttons[name])
        for name in ("add", "remove", "up", "down"):
            foot.addWidget(self.buttons[name])
        foot.addStretch(1)
        first = QHBoxLayout()
        first.addWidget(self.buttons["log"])
        first.addStretch(1)
        left = QVBoxLayout()
        left.addLayout(first)
        left.addWidget(self.list, 1)
        left.addWidget(self.state)
        left.addLayout(foot)
        side = scrolled(self.form)
        side.setFixedWidth(23 * self.fontMetrics().height())
        middle = QHBoxLayout()
        middle.addLayout(left, 1)
        middle.addWidget(side)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(head)
        box.addLayout(middle, 1)
        self._connect()

    def _connect(self) -> None:
        self.which.activated.connect(lambda _: self.refresh())
        self.part.activated.connect(lambda _: self._change())
        self.follows.activated.connect(lambda _: self._change())
        self.list.currentRowChanged.connect(lambda _: self._show_entry())
        self.list.model().rowsMoved.connect(lambda *_: self._moved())
        self.form.changed.connect(self._entry_changed)
        self.form.said.connect(self.said)
        acts: dict[str, Callable[[], None]] = {"new": self._ask_new, "gone": self._delete, "log": self._from_log,
                                               "add": self._add, "remove": self._remove, "up": lambda: self._shift(-1),
                                               "down": lambda: self._shift(1)}
        for name, act in acts.items():
            self.buttons[name].clicked.connect(lambda _, act=act: act())
        self.list.shifted.connect(self._shift)
        self.list.removed.connect(self._remove)

    # -- showing

    @property
    def procedure(self) -> str:
        """The id of the procedure that is shown; empty for the whole device."""
        return self.which.currentData() or ""

    @property
    def entries(self) -> tuple[Refit, ...]:
        teardown = self._session.teardown
        found = next((one for one in teardown.procedures if one.id == self.procedure), None)
        return teardown.refit if found is None else found.entries

    def showEvent(self, _event: object) -> None:  # noqa: N802 (Qt's name)
        self.refresh()

    def refresh(self) -> None:
        if not self.isVisible():
            return
        teardown, chosen, row = self._session.teardown, self.procedure, self.list.currentRow()
        self.which.clear()
        self.which.addItem(tr("The whole device"), "")
        for one in teardown.procedures:
            self.which.addItem(one.name or one.id, one.id)
        self.which.setCurrentIndex(max(0, self.which.findData(chosen)))
        self._show_procedure()
        self._fill(row)

    def _show_procedure(self) -> None:
        teardown = self._session.teardown
        own = next((one for one in teardown.procedures if one.id == self.procedure), None)
        for widget in (self.part, self.follows, self.buttons["gone"]):
            widget.setVisible(own is not None)
        if own is None:
            return
        self.part.clear()
        self.part.addItem(tr("replaces nothing"), "")
        for part in self._session.derived.structure.removals:
            self.part.addItem(tr("replaces {0}").format(name_of(teardown, part)), part)
        self.part.setCurrentIndex(max(0, self.part.findData(own.for_ or "")))
        self.follows.clear()
        for text, value in ((tr("from the closed device"), CLOSED), (tr("as the log left it"), OPEN)):
            self.follows.addItem(text, value)
        for other in teardown.procedures:
            if other.id != own.id:
                self.follows.addItem(tr("goes on from {0}").format(other.name or other.id), other.id)
        self.follows.setCurrentIndex(max(0, self.follows.findData(own.from_)))

    def _fill(self, row: int) -> None:
        teardown, entries = self._session.teardown, self.entries
        own = next((one for one in teardown.procedures if one.id == self.procedure), None)
        before = [] if own is None or own.from_ in (CLOSED, OPEN) else entries_of(teardown, own)[:-len(entries) or None]
        over = {} if self._session.derived.size > MOST_LOOKED_AT else {
            n - len(before): things for n, things in closes_over(teardown, [*before, *entries]).items()}
        proven = proven_by(teardown, entries) if own is None else set()
        self.list.blockSignals(True)
        self.list.clear()
        for n, entry in enumerate(entries):
            step = Step(do=entry.do, thing=entry.thing or entry.on or "", refit=entry, uses=entry.uses)
            text, figure = step_text(teardown, step), figure_text(step)
            if entry.do == "procedure":
                text = next((one.name or one.id for one in teardown.procedures if one.id == entry.procedure), "?")
            if figure and figure not in text:
                text = tr("{0}: {1}").format(text, figure)
            if n in over:
                text = tr("{0}. After this {1} could not go in").format(text, names_of(teardown, over[n], 3))
            item = QListWidgetItem(tr("{0}. {1}").format(n + 1, text) + (f"  {PROVEN}" if n in proven else ""))
            if n in proven:
                item.setToolTip(tip(tr("Done so in this pass")))
            item.setData(PLACE, n)
            if n in over:
                item.setForeground(QBrush(QColor(self._palette.warn)))
            self.list.addItem(item)
        self.list.setCurrentRow(min(max(row, 0), len(entries) - 1))
        self.list.blockSignals(False)
        self.state.setText(tr("{0} entries stand before something that could not go in any more").format(len(over))
                           if over else "")
        self.state.setVisible(bool(over))
        self._show_entry()

    def _show_entry(self) -> None:
        row = self.list.currentRow()
        self.form.show_entry(self._session.teardown, self.entries[row] if 0 <= row < len(self.entries) else None)

    # -- editing

    def _set(self, entries: Sequence[Refit], row: int | None = None) -> None:
        self._do(instruction.set_entries, self.procedure, tuple(entries), echo=False)
        self._fill(self.list.currentRow() if row is None else row)

    def _moved(self) -> None:
        """Dragged: the entries in the order of the list."""
        order = [self.list.item(n).data(PLACE) for n in range(self.list.count())]
        entries = self.entries
        if sorted(order) == list(range(len(entries))):
            self._set([entries[n] for n in order])

    def _shift(self, by: int) -> None:
        row, entries = self.list.currentRow(), list(self.entries)
        if 0 <= row < len(entries) and 0 <= row + by < len(entries):
            entries[row], entries[row + by] = entries[row + by], entries[row]
            self._set(entries, row + by)

    def _add(self) -> None:
        row, entries = self.list.currentRow(), list(self.entries)
        entries.insert(row + 1, Refit(do="check"))
        self._set(entries, row + 1)

    def _remove(self) -> None:
        row, entries = self.list.currentRow(), list(self.entries)
        if 0 <= row < len(entries):
            del entries[row]
            self._set(entries, row)

    def _entry_changed(self, entry: Refit) -> None:
        row, entries = self.list.currentRow(), list(self.entries)
        if 0 <= row < len(entries):
            entries[row] = entry
            self._set(entries, row)

    def _from_log(self) -> None:
        found = entries_from_log(self._session.teardown)
        if not found:
            self.said.emit(tr("Nothing was taken off in this pass"), True)
            return
        known = {(entry.do, entry.thing) for entry in self.entries if entry.thing}
        self._set([*self.entries, *(one for one in found if (one.do, one.thing) not in known)], 0)

    def _ask_new(self) -> None:
        dialog = QInputDialog(self)
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.setWindowTitle(tr("New procedure"))
        dialog.setLabelText(tr("What it is called"))
        dialog.setTextEchoMode(QLineEdit.EchoMode.Normal)
        dialog.textValueSelected.connect(self.add_procedure)
        dialog.open()
        self.asked = dialog

    def add_procedure(self, name: str) -> None:
        done: Any = self._do(instruction.add_procedure, name, echo=False)
        if done is not None:
            self.refresh()
            self.which.setCurrentIndex(self.which.findData(done.made))
            self.refresh()

    def _delete(self) -> None:
        self._do(instruction.delete_procedure, self.procedure, echo=False)
        self.refresh()

    def _change(self) -> None:
        if self.procedure:
            self._do(instruction.change_procedure, self.procedure, self.which.currentText(),
                     self.part.currentData() or "", self.follows.currentData(), echo=False)
            self.refresh()
