"""Ways that somebody told: entered as a list, typed or tapped, and held against the best one."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from PySide6.QtCore import QEvent, QObject, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QCompleter,
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from oddbolt.comparing.told import Held, held
from oddbolt.model.things import ToldWay
from oddbolt.session.derived import Derived
from oddbolt.session.session import Session
from oddbolt.session.verbs.judging.told import add_told, change_told, delete_told
from oddbolt.ui.background.answer import Answer
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.ui.widgets.tap_photo import TapPhoto
from oddbolt.words.judging.comparing import held_lines
from oddbolt.words.names import name_apart, name_of, side_name
from oddbolt.words.translate import tr

THING = Qt.ItemDataRole.UserRole


class ToldPage(QWidget):
    """Everything typed or tapped is in the record at once, and can be undone."""

    verb_asked = Signal(object, object, object)  # verb, its arguments, its keys

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._answer = Answer(self, session, self._show_held, self._say)
        self.ways, self.part, self.things = QListWidget(), QComboBox(), QListWidget()
        self.by, self.source, self.add = QLineEdit(), QLineEdit(), QLineEdit()
        self.new, self.delete = QPushButton(tr("A told way")), QPushButton(tr("Delete it"))
        self.view, self.photo = QComboBox(), TapPhoto()
        self.verdict = label("", "", wrap=True)
        self.held: Held | None = None
        self._filling = False
        self._wants_last = False  # the one that was begun just now
        self._build()

    def _build(self) -> None:
        for widget, name, told in (
                (self.ways, tr("Told ways"), tr("What was told, by the part that it leads to")),
                (self.part, tr("To which part"), tr("The part that the way leads to")),
                (self.by, tr("Told by"), tr("A person; may stay empty")),
                (self.source, tr("Where it was told"), tr("A maker's instruction, a learner, a recording")),
                (self.things, tr("Things in the order told"), tr("Drag to another place; Delete takes one out")),
                (self.add, tr("Add a thing"), tr("Type a name and press Return, or tap things on the photograph")),
                (self.new, tr("A told way"), tr("Begin another one")),
                (self.delete, tr("Delete it"), tr("Take this told way out of the record")),
                (self.view, tr("Photograph"), tr("Which state is tapped on"))):
            widget.setAccessibleName(name)
            explain((widget, told))
        self.add.setPlaceholderText(tr("Add a thing: type its name"))
        self.things.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        self.things.installEventFilter(self)
        form = QFormLayout()
        for text, field in ((tr("To"), self.part), (tr("Told by"), self.by), (tr("Where"), self.source)):
            form.addRow(text, field)
        buttons = QHBoxLayout()
        buttons.addWidget(self.new)
        buttons.addWidget(self.delete)
        left, middle, right = QVBoxLayout(), QVBoxLayout(), QVBoxLayout()
        left.addWidget(self.ways, 1)
        left.addLayout(buttons)
        middle.addLayout(form)
        middle.addWidget(self.things, 1)
        middle.addWidget(self.add)
        right.addWidget(self.view)
        right.addWidget(self.photo, 1)
        row = QHBoxLayout()
        row.addLayout(left, 2)
        row.addLayout(middle, 3)
        row.addLayout(right, 4)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(row, 1)
        box.addWidget(self.verdict)
        self.ways.currentRowChanged.connect(lambda _: self._chosen())
        self.new.clicked.connect(lambda _: self._new())
        self.delete.clicked.connect(lambda _: self._delete())
        self.part.activated.connect(lambda _: self._write(part=self.part.currentData()))
        self.by.editingFinished.connect(lambda: self._write(by=self.by.text().strip()))
        self.source.editingFinished.connect(lambda: self._write(source=self.source.text().strip()))
        self.add.returnPressed.connect(self._typed)
        self.view.activated.connect(lambda _: self._show_photo())
        self.photo.tapped.connect(self.tap)
        self.things.model().rowsMoved.connect(lambda *_: self._reordered())

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:  # noqa: N802 (Qt's name)
        if watched is self.things and isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress \
                and event.key() == Qt.Key.Key_Delete and self.things.currentRow() >= 0:
            things = list(self._things())
            things.pop(self.things.currentRow())
            self._write(things=tuple(things))
            return True
        return super().eventFilter(watched, event)

    # -- showing

    def refresh(self) -> None:
        """As the record has it now."""
        teardown = self._session.teardown
        row = self.ways.currentRow()
        self._filling = True
        self.ways.clear()
        for one in teardown.told:
            text = name_of(teardown, one.part)
            item = QListWidgetItem(tr("{0}, {1}").format(text, one.source or one.by) if one.source or one.by else text)
            item.setData(THING, one.id)
            self.ways.addItem(item)
        self.part.clear()
        for part in self._session.derived.structure.removals:
            self.part.addItem(name_of(teardown, part), part)
        names = {name_apart(teardown, thing.id): thing.id for thing in (*teardown.parts, *teardown.joints)
                 if teardown.is_present(thing)}
        self._by_name = {name.casefold(): id_ for name, id_ in names.items()}
        completer = QCompleter(list(names), self.add)
        completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        completer.setFilterMode(Qt.MatchFlag.MatchContains)
        self.add.setCompleter(completer)
        shown = self.view.currentData()
        self.view.clear()
        for n, view in enumerate(teardown.pictured, start=1):
            self.view.addItem(tr("State {0}, {1}").format(n, side_name(view.side)), view.id)
        self.view.setCurrentIndex(max(0, self.view.findData(shown)))
        self._filling = False
        if teardown.told:
            last = len(teardown.told) - 1
            self.ways.setCurrentRow(last if self._wants_last else min(max(0, row), last))
        self._wants_last = False
        self._show_photo()
        self._chosen()

    @property
    def told(self) -> ToldWay | None:
        item = self.ways.currentItem()
        return None if item is None else next((one for one in self._session.teardown.told
                                               if one.id == item.data(THING)), None)

    def _things(self) -> tuple[str, ...]:
        return tuple(self.things.item(n).data(THING) for n in range(self.things.count()))

    def _show_photo(self) -> None:
        view = self._session.teardown.view.get(self.view.currentData() or "")
        self.photo.show_view(view, self._session.photo(view.photo) if view is not None else None)

    def _chosen(self) -> None:
        if self._filling:
            return
        told, teardown = self.told, self._session.teardown
        for widget in (self.part, self.by, self.source, self.things, self.add, self.delete, self.photo):
            widget.setEnabled(told is not None)
        self._filling = True
        row = self.things.currentRow()
        self.things.clear()
        self.by.setText(told.by if told is not None else "")
        self.source.setText(told.source if told is not None else "")
        if told is not None:
            self.part.setCurrentIndex(self.part.findData(told.part))
            for n, thing in enumerate(told.things, start=1):
                item = QListWidgetItem(tr("{0}. {1}").format(n, name_apart(teardown, thing)))
                item.setData(THING, thing)
                self.things.addItem(item)
            self.things.setCurrentRow(min(row, len(told.things) - 1))
        self._filling = False
        self.photo.show_places(told.things if told is not None else ())
        if told is None:
            self._answer.forget()
            self.verdict.setText(tr("A way that somebody told is held against the best one: what it leaves out, what "
                                    "it does for nothing, what it does live. Begin one on the left."))
            return
        derived = self._session.derived
        self._answer.ask(lambda stop: _held(derived, told, stop), told.id)

    def _show_held(self, found: Held | None) -> None:
        self.held = found
        if found is not None:
            self.verdict.setText("\n".join(held_lines(self._session.teardown, found)))

    def _say(self, words: str) -> None:
        self.verdict.setText(words)

    # -- acting

    def _ask(self, verb: Callable[..., Any], *args: Any, **keys: Any) -> None:
        self.verb_asked.emit(verb, args, keys)

    def _new(self) -> None:
        first = next(iter(self._session.derived.priority_parts()), None) or self.part.itemData(0)
        if first is not None:
            self._wants_last = True
            self._ask(add_told, first)
            self.add.setFocus()

    def _delete(self) -> None:
        if self.told is not None:
            self._ask(delete_told, self.told.id)

    def _write(self, **keys: Any) -> None:
        """What has changed of the way in hand."""
        told = self.told
        if self._filling or told is None or all(getattr(told, name) == value for name, value in keys.items()):
            return
        self._ask(change_told, told.id, **keys)

    def tap(self, thing: str) -> None:
        """The thing comes next; tapped again it goes."""
        things = self._things()
        self._write(things=tuple(one for one in things if one != thing) if thing in things else (*things, thing))

    def _typed(self) -> None:
        thing = self._by_name.get(self.add.text().strip().casefold())
        if thing is None:
            self.verdict.setText(tr("Nothing on record is called “{0}”.").format(self.add.text().strip()))
            return
        self.add.clear()
        self._write(things=(*self._things(), thing))

    def _reordered(self) -> None:
        if not self._filling:
            self._write(things=self._things())

    def stop(self) -> None:
        self._answer.stop()


def _held(derived: Derived, told: ToldWay, stop: Callable[[], bool]) -> Iterator[Held]:
    yield held(derived.planner_for(stop=stop), told)
