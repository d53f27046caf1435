"""A learner takes the device apart on its photographs: a thing, a tool, and what that was."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from oddbolt.model.things import View
from oddbolt.rehearsing.bench import DEGREES, Rehearsal
from oddbolt.rehearsing.photograph import best_view
from oddbolt.session.session import Session
from oddbolt.ui.pieces.sheet import Elided, explain, label
from oddbolt.ui.widgets.tap_photo import TapPhoto
from oddbolt.words.names import name_apart, name_of, tool_name
from oddbolt.words.rehearsing import hint_text, judged_text, marks_text
from oddbolt.words.translate import tr

THING = Qt.ItemDataRole.UserRole


class ApartPage(QWidget):
    """Things are tapped on the photograph or taken from the list; Return, or a double click, tries them."""

    ended = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.rehearsal: Rehearsal | None = None
        self._view: View | None = None
        self._degree = 0
        self.photo, self.things = TapPhoto(through=True), QListWidget()
        self.tool, self.search = QComboBox(), QLineEdit()
        self.undo, self.hint = QPushButton(tr("Undo it")), QPushButton(tr("Hint"))
        self.said, self.task, self.marks = QListWidget(), Elided("title"), label("", "faint", wrap=True)
        self._build()

    def _build(self) -> None:
        self.undo.setObjectName("go")
        self.search.setPlaceholderText(tr("Find a thing"))
        self.said.setWordWrap(True)
        for widget, name, told in (
                (self.things, tr("What is still in place"), tr("Choose what is undone next")),
                (self.search, tr("Find a thing"), tr("Only things with these letters")),
                (self.tool, tr("With which tool"), tr("The tools that the record knows of")),
                (self.said, tr("What each choice was"), tr("The newest stands at the top"))):
            widget.setAccessibleName(name)
            explain((widget, told))
        explain((self.undo, tr("Try it with this tool")), (self.hint, tr("A little help, then more; each counts")))
        side = QVBoxLayout()
        for widget in (self.task, self.search):
            side.addWidget(widget)
        side.addWidget(self.things, 3)
        row = QHBoxLayout()
        row.addWidget(self.tool, 1)
        row.addWidget(self.undo)
        row.addWidget(self.hint)
        side.addLayout(row)
        side.addWidget(self.said, 2)
        side.addWidget(self.marks)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(self.photo, 5)
        whole.addLayout(side, 4)
        self.photo.tapped.connect(self.choose)
        self.search.textChanged.connect(lambda _: self._fill())
        self.things.itemActivated.connect(lambda _: self.try_it())
        self.undo.clicked.connect(lambda _: self.try_it())
        self.hint.clicked.connect(lambda _: self._hint())

    def begin(self, rehearsal: Rehearsal) -> None:
        self.rehearsal, self._degree, self._view = rehearsal, 0, None
        teardown = self._session.teardown
        self.task.setText(tr("Take {0} out").format(name_of(teardown, rehearsal.target)))
        self.said.clear()
        self.tool.clear()
        tools = dict.fromkeys(["hand", *(tool for thing in rehearsal.things for tool in rehearsal.tools_of(thing))])
        for tool in sorted(tools, key=lambda one: (one != "hand", tool_name(teardown, one).lower())):
            self.tool.addItem(tool_name(teardown, tool), tool)
        self.search.clear()
        self._show()

    def choose(self, thing: str) -> None:
        """Take a thing in hand."""
        self.search.clear()
        for n in range(self.things.count()):
            if self.things.item(n).data(THING) == thing:
                self.things.setCurrentRow(n)

    def try_it(self) -> None:
        """Undo what is in hand with the tool that is chosen."""
        item = self.things.currentItem()
        if self.rehearsal is None or item is None or self.rehearsal.is_there:
            return
        found = self.rehearsal.choose(item.data(THING), self.tool.currentData())
        self._degree = 0
        self._say(judged_text(self._session.teardown, found))
        self._show()
        if self.rehearsal.is_there:
            self._say(tr("It is out. {0}.").format(marks_text(self.rehearsal.marks())))
            self.ended.emit()

    def _hint(self) -> None:
        if self.rehearsal is not None and not self.rehearsal.is_there:
            self._degree = min(DEGREES, self._degree + 1)
            self._say(hint_text(self._session.teardown, self.rehearsal.hint(self._degree)))
            self._show_marks()

    def _say(self, text: str) -> None:
        self.said.insertItem(0, text)

    # -- showing

    def _show(self) -> None:
        assert self.rehearsal is not None
        self._fill()
        self._show_marks()
        view = best_view(self.rehearsal)
        if view is not None and view is not self._view:
            self._view = view
            self.photo.show_view(view, self._session.photo(view.photo))

    def _show_marks(self) -> None:
        assert self.rehearsal is not None
        self.marks.setText(marks_text(self.rehearsal.marks()))
        for widget in (self.undo, self.hint):
            widget.setEnabled(not self.rehearsal.is_there)

    def _fill(self) -> None:
        if self.rehearsal is None:
            return
        teardown, words = self._session.teardown, self.search.text().casefold().split()
        held = self.things.currentItem()
        in_hand = held.data(THING) if held is not None else ""  # stays in hand, say for another tool
        self.things.clear()
        named = sorted((name_apart(teardown, thing), thing) for thing in self.rehearsal.things)
        for name, thing in named:
            if all(word in name.casefold() for word in words):
                item = QListWidgetItem(name)
                item.setData(THING, thing)
                self.things.addItem(item)
                if thing == in_hand:
                    self.things.setCurrentItem(item)
