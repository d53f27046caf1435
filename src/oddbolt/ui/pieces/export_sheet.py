"""Before a record is given away: what it tells beside the work, each to be left out or not."""

from __future__ import annotations

from PySide6.QtWidgets import QCheckBox, QDialog, QDialogButtonBox, QVBoxLayout, QWidget

from oddbolt.model.giving_away import AUTHOR, PLACE, SERIALS
from oddbolt.ui.pieces.sheet import label
from oddbolt.words.translate import tr


class ExportSheet(QDialog):
    """Asks once for each export. Everything is left out unless it is unticked."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Leave out of the export"))
        texts = {PLACE: tr("Where it was done: benches, and places in photographs"),
                 AUTHOR: tr("Who did it: analysts, and authors in photographs"),
                 SERIALS: tr("Serial numbers of the device, and of cameras in photographs")}
        self.boxes = {what: QCheckBox(text) for what, text in texts.items()}
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 14, 16, 14)
        column.setSpacing(8)
        column.addWidget(label(tr("Ticked is left out"), "title"))
        for box in self.boxes.values():
            box.setChecked(True)
            box.setMinimumHeight(30)
            column.addWidget(box)
        hint = label(tr("Where anything is ticked, photographs are written without what a camera notes beside the "
                        "picture; the document itself stays as it is. Notes and names are not looked through."),
                     "faint", wrap=True)
        hint.setMinimumWidth(420)
        column.addWidget(hint)
        buttons = QDialogButtonBox()
        self.go = buttons.addButton(tr("Export"), QDialogButtonBox.ButtonRole.AcceptRole)
        buttons.addButton(QDialogButtonBox.StandardButton.Cancel)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)

    def leave_out(self) -> tuple[str, ...]:
        return tuple(what for what, box in self.boxes.items() if box.isChecked())
