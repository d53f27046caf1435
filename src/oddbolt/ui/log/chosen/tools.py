"""What a click on the photograph does: a column of kinds beside it, each with its key."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QGridLayout, QToolButton, QWidget

from oddbolt.catalog.tables import mark_kinds
from oddbolt.session.modes import Gesture
from oddbolt.session.recording.kinds import means
from oddbolt.session.verbs.marking import Kind
from oddbolt.ui.log.keys import BY_GESTURE, WORDS
from oddbolt.ui.pieces.sheet import tip
from oddbolt.words.recording.said import type_name
from oddbolt.words.translate import of_data, sentence, tr

MARGIN_PX = 4  # of a button's text
TARGET = 44  # px; a finger in a glove
STAYS_ON = (Gesture.UNDO_TOO, Gesture.UNDERSIDE, Gesture.REACH, Gesture.MEASURE)


class ToolColumn(QWidget):
    """Kinds of joint as buttons, one of them active or none, and three switches below."""

    kind_chosen = Signal(str)
    asked = Signal(object)  # a gesture of the table of keys

    def __init__(self) -> None:
        super().__init__()
        self._kinds: dict[str, QToolButton] = {}
        self._switches: dict[Gesture, QToolButton] = {}
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(3)
        grid.setVerticalSpacing(1)
        for n, kind in enumerate(mark_kinds().values()):
            button = self._button(of_data(kind.short), kind.key)
            button.setCheckable(True)
            button.clicked.connect(lambda _, k=kind.id: self.kind_chosen.emit(k))
            button.setToolTip(tip(tr("Mark: {0} ({1})").format(of_data(kind.name), kind.key)))
            self._kinds[kind.id] = button
            grid.addWidget(button, n // 2, n % 2)
        row = (len(self._kinds) + 1) // 2
        switches = ((tr("+ Release"), Gesture.UNDO_TOO), (tr("Beneath"), Gesture.UNDERSIDE),
                    (tr("All free"), Gesture.REACH_ALL), (tr("Some free"), Gesture.REACH),
                    (tr("Find alike"), Gesture.FIND_ALIKE), (tr("Measure"), Gesture.MEASURE))
        for n, (name, gesture) in enumerate(switches):
            button = self._button(name, BY_GESTURE[gesture])
            button.setCheckable(gesture in STAYS_ON)
            button.setToolTip(tip(f"{sentence(tr(WORDS[gesture]))} ({BY_GESTURE[gesture]})"))
            button.clicked.connect(lambda _, g=gesture: self.asked.emit(g))
            self._switches[gesture] = button
            grid.addWidget(button, row + n // 2, n % 2)
        grid.setRowStretch(row + 4, 1)
        every = (*self._kinds.values(), *self._switches.values())
        width = max(TARGET + 20, *(button.sizeHint().width() for button in every))
        for button in every:
            button.setFixedWidth(width)

    def _button(self, name: str, key: str) -> QToolButton:
        button = QToolButton()
        button.setObjectName("tool")
        button.setText(f"{name}\n{key}")
        button.setAccessibleName(name)
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        return button

    def show_kind(self, kind: Kind | None) -> None:
        """Which kind a click marks, and of which type; none for screws and for choosing."""
        for id_, button in self._kinds.items():
            row = mark_kinds()[id_]
            on = means(row, kind)
            button.setChecked(on)
            if on and kind is not None and len(row.types) > 1:
                button.setToolTip(tip(type_name(kind.joint, kind.type)))

    def show_tools(self, names: Mapping[str, str]) -> None:
        """Kinds whose tool is remembered, each with its name: it stands on the key."""
        for id_, button in self._kinds.items():
            row = mark_kinds()[id_]
            tool = names.get(id_, "")
            first = of_data(row.short)
            room = button.width() - 2 * MARGIN_PX
            second = button.fontMetrics().elidedText(f"{row.key} · {tool}", Qt.TextElideMode.ElideRight, room) if tool \
                else row.key
            button.setText(f"{first}\n{second}")
            button.setAccessibleDescription(tool)

    def show_switch(self, gesture: Gesture, on: bool) -> None:
        self._switches[gesture].setChecked(on)
