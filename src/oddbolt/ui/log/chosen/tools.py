"""What a click on the photograph does: a column of kinds beside it, each with its key."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QGridLayout, QToolButton, QWidget

from oddbolt.catalog.tables import MarkKind, mark_kinds
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
        grid.setSpacing(3)
        for n, kind in enumerate(mark_kinds().values()):
            button = self._button(kind.short, kind.key)
            button.setCheckable(True)
            button.clicked.connect(lambda _, k=kind.id: self.kind_chosen.emit(k))
            self._kinds[kind.id] = button
            grid.addWidget(button, n // 2, n % 2)
        row = (len(self._kinds) + 1) // 2
        switches = ((self.tr("Undo too"), "Space", "toggle_as_i_mark"),
                    (self.tr("Under"), "U", "toggle_underside"),
                    (self.tr("Reach, all"), "W", "all_within_reach"), (self.tr("Reach ◌"), "J", "arm_reach"),
                    (self.tr("Find alike"), "I", "find_alike"), (self.tr("Measure"), ";", "toggle_measuring"))
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
        button.setAccessibleName(name)
        button.setFixedWidth(TARGET + 20)
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        return button

    def show_kind(self, kind: Kind | None) -> None:
        """Which kind a click marks; none for screws and for choosing."""
        for id_, button in self._kinds.items():
            button.setChecked(kind is not None and not kind.letter and _means(mark_kinds()[id_], kind))

    def show_switch(self, deed: str, on: bool) -> None:
        self._switches[deed].setChecked(on)

    def next_type(self, id_: str, now: Kind | None) -> Kind:
        """The kind with its type: the one used last, or the next one when the same key is pressed again."""
        row = mark_kinds()[id_]
        if now is not None and not now.letter and _means(row, now) and row.types:
            self._types[id_] = (self._types.get(id_, 0) + 1) % len(row.types)
        place = self._types.get(id_, 0)
        type_ = row.types[place] if row.types else ""
        usual = row.tools[place] if place < len(row.tools) else ""
        self._kinds[id_].setToolTip(type_)
        return Kind(joint=row.kind, type=type_, tool=self._used.get((row.kind, type_), usual))

    def remember_tool(self, kind: str, type_: str, tool: str) -> None:
        """The tool taken last for a kind and type is the one for the next."""
        self._used[kind, type_] = tool


def _means(row: MarkKind, kind: Kind) -> bool:
    return row.kind == kind.joint and (not row.types or kind.type in row.types)
