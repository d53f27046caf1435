"""A rubric of one's own, changed in a sheet: criteria with weights and scales, classes, parts; checked as it is
typed."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QFormLayout,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from oddbolt.model.refusal import Refusal
from oddbolt.scoring.method import INDEX, OF_ALL, OF_PARTS, Criterion, Method, problems
from oddbolt.scoring.rubrics import as_toml, keep
from oddbolt.scoring.scales import read_pairs, read_scale, scale_text, with_scale
from oddbolt.store.files import write_whole
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.words.judging.verdicts import measure_name
from oddbolt.words.names import role_name
from oddbolt.words.refusals import refusal_text
from oddbolt.words.translate import tr

NAME, MEASURE, WEIGHT, SCALE, WHAT = range(5)
# What a rubric may look at; formulas and sums of time are of methods that have no classes.
MEASURES = tuple(one for one in (*OF_PARTS, *OF_ALL)
                 if one not in ("by_verb", "edim", "access_time", "repair_effort", "freedom", "cost"))


class RubricSheet(QDialog):
    """Saved only when it adds up; what does not is said while it is typed."""

    def __init__(self, parent: QWidget, method: Method, kept: Callable[[Method], None]) -> None:
        super().__init__(parent)
        self.method = method
        self._kept = kept
        self.setWindowTitle(tr("Rubric of your own"))
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(860, 620)
        self.name, self.source = QLineEdit(method.name), QLineEdit(method.source)
        self.edition = QLineEdit(method.edition)
        self.scale = QLineEdit(f"{method.scale[0]:g} to {method.scale[1]:g}")
        self.classes = QLineEdit(", ".join(f"{name} {limit:g}" for name, limit in method.classes))
        self.weights = QLineEdit(", ".join(f"{role} {weight:g}" for role, weight in method.part_weights.items()))
        self.criteria = QTableWidget(0, 5)
        self.problem = label("", "problem", wrap=True)
        self.add, self.remove = QPushButton(tr("One more criterion")), QPushButton(tr("Take the criterion away"))
        self.even = QPushButton(tr("Weights to 100 %"))
        self.share = QPushButton(tr("Save a copy…"))
        self.buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Save | QDialogButtonBox.StandardButton.Cancel)
        self._build()
        for one in method.criteria:
            self._add_row(one)
        self._check()

    def _build(self) -> None:
        form = QFormLayout()
        for text, field, told in (
                (tr("Name"), self.name, tr("What it is called")), (tr("Source"), self.source, tr("Whose it is")),
                (tr("Edition"), self.edition, tr("Which state of it")),
                (tr("Scale"), self.scale, tr("From the least to the most points, as 0 to 10")),
                (tr("Classes"), self.classes, tr("Each with its lower limit, as good 7, fair 4, poor 0")),
                (tr("Parts"), self.weights, tr("Roles with their weights, as battery 0.5, display 0.5"))):
            field.setAccessibleName(text)
            explain((field, told))
            form.addRow(text, field)
            field.textChanged.connect(lambda _: self._check())
        self.criteria.setHorizontalHeaderLabels([tr("Criterion"), tr("Measured by"), tr("Weight"), tr("Points"),
                                                 tr("Of what")])
        self.criteria.verticalHeader().hide()
        self.criteria.setAccessibleName(tr("Criteria"))
        header = self.criteria.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(SCALE, QHeaderView.ResizeMode.Stretch)
        self.criteria.itemChanged.connect(lambda _: self._check())
        explain((self.criteria, tr("Points as “3: 10; 6: 8; more: 0” (at most 3 give 10), “from 5: 10; from 2: 4; "
                                   "less: 0” (at least), or words as “public: 10; none: 0”")),
                (self.add, tr("A criterion at the end")), (self.remove, tr("The one that is chosen")),
                (self.even, tr("Weights in proportion, so that they add up")),
                (self.share, tr("The file, to be handed on")))
        row = QHBoxLayout()
        for button in (self.add, self.remove, self.even):
            row.addWidget(button)
        row.addStretch(1)
        row.addWidget(self.share)
        box = QVBoxLayout(self)
        box.addLayout(form)
        box.addWidget(self.criteria, 1)
        box.addLayout(row)
        box.addWidget(self.problem)
        box.addWidget(self.buttons)
        self.add.clicked.connect(lambda _: self._add_row(Criterion(
            id="", name=tr("New criterion"), weight=0.0, measure="depth", rule="", confidence="ours",
            table=((3, self.method.scale[1]),), beyond=self.method.scale[0])))
        self.remove.clicked.connect(lambda _: self._remove())
        self.even.clicked.connect(lambda _: self._even())
        self.share.clicked.connect(lambda _: self._ask_copy())
        self.buttons.accepted.connect(self._save)
        self.buttons.rejected.connect(self.reject)

    # -- rows

    def _add_row(self, one: Criterion) -> None:
        self.criteria.blockSignals(True)
        n = self.criteria.rowCount()
        self.criteria.insertRow(n)
        for column, text in ((NAME, one.name), (WEIGHT, f"{one.weight * 100:g}"), (SCALE, scale_text(one)),
                             (WHAT, one.fact)):
            self.criteria.setItem(n, column, QTableWidgetItem(text))
        self.criteria.item(n, NAME).setData(Qt.ItemDataRole.UserRole, one)
        measure = QComboBox()
        for id_ in MEASURES if one.measure in MEASURES else (one.measure, *MEASURES):
            measure.addItem(measure_name(id_), id_)
        measure.setCurrentIndex(measure.findData(one.measure))
        measure.setAccessibleName(tr("Measured by"))
        measure.currentIndexChanged.connect(lambda _: self._check())
        self.criteria.setCellWidget(n, MEASURE, measure)
        self.criteria.blockSignals(False)
        self._check()

    def _remove(self) -> None:
        if self.criteria.currentRow() >= 0:
            self.criteria.removeRow(self.criteria.currentRow())
            self._check()

    def _even(self) -> None:
        """Weights in proportion to what they are, alike where they are nothing."""
        try:
            weights = [self._weight(n) for n in range(self.criteria.rowCount())]
        except Refusal as refusal:
            self._say(refusal_text(refusal))
            return
        whole = sum(weights)
        self.criteria.blockSignals(True)
        left = 100.0
        for n, weight in enumerate(weights):
            share = round(100 * weight / whole, 2) if whole else round(100 / len(weights), 2)
            share = round(left, 2) if n == len(weights) - 1 else share
            left -= share
            self.criteria.item(n, WEIGHT).setText(f"{share:g}")
        self.criteria.blockSignals(False)
        self._check()

    def _weight(self, n: int) -> float:
        ((_, weight),) = read_pairs(f"w {self.criteria.item(n, WEIGHT).text() or '0'}", tr("Weight"))
        return weight

    # -- what is typed

    def typed(self) -> Method:
        """The method as it stands in the sheet. Raises Refusal for what cannot be read."""
        low, high = read_scale(self.scale.text(), tr("Scale"))
        criteria, used = [], set[str]()
        for n in range(self.criteria.rowCount()):
            item = self.criteria.item(n, NAME)
            one: Criterion = item.data(Qt.ItemDataRole.UserRole)
            id_ = one.id or "_".join(item.text().lower().split())[:60] or f"criterion_{n + 1}"
            while id_ in used:
                id_ += "_"
            used.add(id_)
            measure = self.criteria.cellWidget(n, MEASURE).currentData()
            made = replace(one, id=id_, name=item.text().strip() or one.name, weight=self._weight(n) / 100,
                           measure=measure, fact=self.criteria.item(n, WHAT).text().strip())
            criteria.append(with_scale(made, self.criteria.item(n, SCALE).text(), item.text()))
        return replace(self.method, name=self.name.text().strip() or self.method.name,
                       source=self.source.text().strip() or "–", edition=self.edition.text().strip() or "–", kind=INDEX,
                       scale=(low, high), classes=tuple(read_pairs(self.classes.text(), tr("Classes"))),
                       part_weights=dict(read_pairs(self.weights.text(), tr("Parts"))), criteria=tuple(criteria))

    def _check(self) -> None:
        try:
            found = problems(self.typed())
        except Refusal as refusal:
            self._say(refusal_text(refusal))
            return
        self._say("\n".join(refusal_text(Refusal(_where(self, one.where), one.code, **one.figures))
                            for one in found[:3]))

    def _say(self, text: str) -> None:
        self.problem.setText(text)
        self.buttons.button(QDialogButtonBox.StandardButton.Save).setEnabled(not text)
        self.share.setEnabled(not text)

    def _save(self) -> None:
        try:
            method = self.typed()
            keep(method)
        except Refusal as refusal:
            self._say(refusal_text(refusal))
            return
        self._kept(method)
        self.accept()

    def _ask_copy(self) -> None:
        dialog = QFileDialog(self, tr("Save a copy of the rubric"), f"{self.method.id}.toml")
        dialog.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
        dialog.setDefaultSuffix("toml")
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.fileSelected.connect(self.save_copy)
        dialog.open()
        self.asked = dialog

    def save_copy(self, path: str) -> None:
        """The file as it stands, under the name that its reader will look for."""
        try:
            method = replace(self.typed(), id=Path(path).stem)
            write_whole(Path(path), as_toml(method).encode())
        except (Refusal, OSError) as error:
            self._say(refusal_text(error) if isinstance(error, Refusal) else str(error))


def _where(sheet: RubricSheet, path: str) -> str:
    """The name of the criterion instead of its place in a file."""
    if path.startswith("criterion["):
        n = int(path[len("criterion["):path.index("]")])
        item = sheet.criteria.item(n, NAME)
        return item.text() if item is not None else path
    return {"criterion": tr("Criteria"), "parts.weights": tr("Parts"), "classes.limits": tr("Classes"),
            "scale": tr("Scale")}.get(path, role_name(path))
