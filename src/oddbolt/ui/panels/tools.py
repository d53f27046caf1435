"""What a click on the photograph does: a column of kinds beside it, each with its key."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QGridLayout, QToolButton, QWidget

from oddbolt.catalog.tables import mark_kinds
from oddbolt.session.recording import Kind

TARGET = 44  # px; a finger in a glove


class ToolColumn(QWidget):
    """Kinds of joint as buttons, one of them active or none, and three switches below."""

    kind_chosen = Signal(str)
    asked = Signal(str)  # a deed of the keys table

    def __init__(self) -> None:
        super().__init__()
        self._kinds: dict[str, QToolButton] = {}
        self._switches: dict[str, QToolButton] = {}
        self._types: dict[str, int] = {}
        self._used: dict[tuple[str, str], str] = {}  # kind and type -> tool used last
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(4)
        for n, kind in enumerate(mark_kinds().values()):
            button = self._button(kind.name, kind.key)
            button.setCheckable(True)
            button.clicked.connect(lambda _, k=kind.kind: self.kind_chosen.emit(k))
            self._kinds[kind.kind] = button
            grid.addWidget(button, n // 2, n % 2)
        row = (len(self._kinds) + 1) // 2
        switches = ((self.tr("Undo as\nI mark"), "Space", "toggle_as_i_mark"),
                    (self.tr("Under-\nside"), "U", "toggle_underside"),
                    (self.tr("Within\nreach"), "W", "all_within_reach"), (self.tr("Draw\nround"), "J", "arm_reach"),
                    (self.tr("Find\nalike"), "I", "find_alike"), (self.tr("Mea-\nsure"), "X", "toggle_measuring"))
        for n, (name, key, deed) in enumerate(switches):
            button = self._button(name, key)
            button.setCheckable(deed.startswith(("toggle", "arm")))
            button.clicked.connect(lambda _, d=deed: self.asked.emit(d))
            self._switches[deed] = button
            grid.addWidget(button, row + n // 2, n % 2)
        grid.setRowStretch(row + 4, 1)

    def _button(self, name: str, key: str) -> QToolButton:
        button = QToolButton()
        button.setObjectName("tool")
        button.setText(f"{name}\n{key}")
        button.setAccessibleName(name.replace("-\n", "").replace("\n", " "))
        button.setFixedWidth(TARGET + 18)
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        return button

    def show_kind(self, kind: str) -> None:
        """Which kind a click marks; none for screws and for choosing."""
        for id_, button in self._kinds.items():
            button.setChecked(id_ == kind)

    def show_switch(self, deed: str, on: bool) -> None:
        self._switches[deed].setChecked(on)

    def next_type(self, kind: str, *, again: bool) -> Kind:
        """The kind with its type: the one used last, or the next one when the same key is pressed again."""
        row = mark_kinds()[kind]
        if again and row.types:
            self._types[kind] = (self._types.get(kind, 0) + 1) % len(row.types)
        type_ = row.types[self._types.get(kind, 0)] if row.types else ""
        self._kinds[kind].setToolTip(type_)
        return Kind(joint=kind, type=type_, tool=self._used.get((kind, type_), ""))

    def remember_tool(self, kind: str, type_: str, tool: str) -> None:
        """The tool taken last for a kind and type is the one for the next."""
        self._used[kind, type_] = tool
