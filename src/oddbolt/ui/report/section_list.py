"""Sections of a report, to be ticked."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QListWidget, QListWidgetItem

from oddbolt.reports.content.report.compose import SECTIONS, section_name
from oddbolt.words.translate import tr

SECTION = Qt.ItemDataRole.UserRole


class SectionList(QListWidget):
    """All are ticked at first."""

    changed = Signal()
    asked_for = Signal(str)  # double click, or Return: go there

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(tr("Sections of the report"))
        for section in SECTIONS:
            item = QListWidgetItem(section_name(section))
            item.setData(SECTION, section)
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Checked)
            self.addItem(item)
        self.itemChanged.connect(lambda _: self.changed.emit())
        self.itemActivated.connect(lambda item: self.asked_for.emit(item.data(SECTION)))

    def ticked(self) -> tuple[str, ...]:
        items = [self.item(n) for n in range(self.count())]
        return tuple(item.data(SECTION) for item in items if item.checkState() == Qt.CheckState.Checked)

    def tick(self, sections: Sequence[str]) -> None:
        """Tick these sections and no others."""
        self.blockSignals(True)
        for n in range(self.count()):
            item = self.item(n)
            item.setCheckState(Qt.CheckState.Checked if item.data(SECTION) in sections else Qt.CheckState.Unchecked)
        self.blockSignals(False)
        self.changed.emit()
