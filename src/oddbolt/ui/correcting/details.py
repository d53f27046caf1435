"""What the device is and who took it apart where: said again after the work has begun."""

from __future__ import annotations

from PySide6.QtWidgets import QComboBox, QDialog, QDialogButtonBox, QGridLayout, QLineEdit, QVBoxLayout, QWidget

from oddbolt.catalog.tables import categories
from oddbolt.rules.replay import current_pass
from oddbolt.session.session import Session
from oddbolt.session.verbs.correcting.change import describe
from oddbolt.ui.pieces.sheet import label
from oddbolt.ui.workspace import Say, carry_out
from oddbolt.words.translate import of_data, tr


class Details(QDialog):
    """Fields of the device and of the present pass. What is changed is one act."""

    def __init__(self, parent: QWidget, session: Session, say: Say) -> None:
        super().__init__(parent)
        self._session, self._say = session, say
        self.setWindowTitle(tr("Device and bench"))
        teardown = session.teardown
        self._number = current_pass(teardown)
        device = teardown.device
        one = next((p for p in teardown.sessions if p.pass_ == self._number), None)
        self.category = QComboBox()
        for row in categories():
            self.category.addItem(of_data(row.name), row.category)
        if self.category.findData(device.category) < 0:
            self.category.addItem(device.category, device.category)
        self.category.setCurrentIndex(self.category.findData(device.category))
        self.of_device = {name: QLineEdit(getattr(device, name)) for name in ("name", "model", "variant", "serial")}
        self.of_pass = {name: QLineEdit(getattr(one, name) if one else "") for name in ("by", "place")}
        rows = ((tr("Name"), self.of_device["name"]), (tr("Model"), self.of_device["model"]),
                (tr("Variant"), self.of_device["variant"]), (tr("Category"), self.category),
                (tr("Serial number"), self.of_device["serial"]), (tr("Analyst"), self.of_pass["by"]),
                (tr("Bench"), self.of_pass["place"]))
        grid = QGridLayout()
        for n, (text, field) in enumerate(rows):
            field.setAccessibleName(text)
            field.setMinimumWidth(320)
            grid.addWidget(label(text, "faint"), n, 0)
            grid.addWidget(field, n, 1)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        buttons.accepted.connect(self._keep)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 14, 16, 14)
        column.addLayout(grid)
        column.addWidget(label(tr("Analyst and bench are those of pass {0}.").format(self._number), "faint"))
        column.addWidget(buttons)

    def _keep(self) -> None:
        device = self._session.teardown.device
        told = {name: field.text().strip() for name, field in self.of_device.items()}
        told["category"] = self.category.currentData()
        changed = {name: text for name, text in told.items() if text != getattr(device, name)}
        one = next((p for p in self._session.teardown.sessions if p.pass_ == self._number), None)
        of_pass = {name: field.text().strip() for name, field in self.of_pass.items()}
        of_pass = {name: text for name, text in of_pass.items() if text != (getattr(one, name) if one else "")}
        if (changed or of_pass) and carry_out(self._session, self._say, describe, changed, self._number, of_pass,
                                              echo=True) is None:
            return
        self.accept()
