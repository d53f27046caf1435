"""The heating guide: what lies above and below a bond, what warms it, how long that takes, how warm the cell is
then."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QFormLayout,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from oddbolt.catalog.tables import caution, table
from oddbolt.effort.heating import THICKEST_MM, Guide, Layer, guide
from oddbolt.model.quantity import read_figure, read_length_mm
from oddbolt.model.refusal import Refusal
from oddbolt.ui.background.jobs import Jobs
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.words.lengths import with_unit
from oddbolt.words.reckoning import ASSUMPTIONS, guide_lines
from oddbolt.words.refusals import refusal_text
from oddbolt.words.translate import from_table, of_data, tr

USUAL = (("glass", "0.7"), ("tape", "0.2"), ("cell", "3"))  # cover, bond, what lies behind
MOST_LAYERS = 6
FIELD_PX = 30
QUIET_MS = 250


class HeatingGuide(QDialog):
    """Reckoned in a job whenever a figure has been left alone for a moment; a guide, never a permission."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Heating guide"))
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self._jobs = Jobs(self)
        self._quiet = QTimer(self)
        self._quiet.setSingleShot(True)
        self._quiet.setInterval(QUIET_MS)
        self._quiet.timeout.connect(self._reckon)
        usual = table("heating.toml")["usual"]
        self.source = QComboBox()
        for row in table("heating.toml")["from"]:
            self.source.addItem(of_data(row["name"]), row["id"])
        self.source_c, self.release_c = QLineEdit(f"{usual['source_c']:g}"), QLineEdit(f"{usual['release_c']:g}")
        self.start_c = QLineEdit(f"{usual['start_c']:g}")
        self.layers: list[tuple[QComboBox, QLineEdit]] = []
        self.more, self.less = QPushButton(tr("One more layer")), QPushButton(tr("Without the last"))
        self.problem = label("", "problem", wrap=True)
        self.answer = label("", "", wrap=True)
        self.found: Guide | None = None
        self._grid = QGridLayout()
        self._build()
        for material, thickness in USUAL:
            self._add_layer(material, thickness)
        self.finished.connect(lambda _: self._jobs.stop_all())
        self._changed()

    def _build(self) -> None:
        form = QFormLayout()
        for text, field, told in (
                (tr("Warmed by"), self.source, tr("How heat gets into the cover")),
                (tr("Source, °C"), self.source_c, tr("What the plate or the air is set to")),
                (tr("Release, °C"), self.release_c, tr("At which the bond is to let go; the maker's figure first")),
                (tr("Start, °C"), self.start_c, tr("How warm the device is before"))):
            field.setAccessibleName(text)
            explain((field, told))
            form.addRow(text, field)
            (field.currentIndexChanged if isinstance(field, QComboBox) else field.textChanged).connect(
                lambda _: self._changed())
        explain((self.more, tr("What lies behind the last one")), (self.less, tr("Take the last layer away")))
        row = QHBoxLayout()
        row.addWidget(self.more)
        row.addWidget(self.less)
        row.addStretch(1)
        self.answer.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        box = QVBoxLayout(self)
        box.addLayout(form)
        box.addWidget(label(tr("Layers, from the warm side: cover, bond, what lies behind"), "title"))
        box.addLayout(self._grid)
        box.addLayout(row)
        box.addWidget(self.problem)
        box.addWidget(self.answer)
        box.addWidget(label("\n".join(from_table(ASSUMPTIONS, name) for name in ASSUMPTIONS), "faint", wrap=True))
        lithium = caution("lithium")
        if lithium is not None:
            box.addWidget(label(of_data(lithium.text), "echo", wrap=True))
        for widget in (self.source, self.source_c, self.release_c, self.start_c):
            widget.setMinimumHeight(FIELD_PX)
        self.answer.setMinimumHeight(4 * self.fontMetrics().height())
        self.resize(520, 620)
        self.more.clicked.connect(lambda _: self._add_layer("cell", "1"))
        self.less.clicked.connect(lambda _: self._drop_layer())

    def _add_layer(self, material: str, thickness: str) -> None:
        combo, field = QComboBox(), QLineEdit(thickness)
        for row in table("heating.toml")["material"]:
            name = tr("{0} (figures unconfirmed)") if row["confidence"] == "low" else "{0}"
            combo.addItem(name.format(of_data(row["name"])), row["id"])
        combo.setCurrentIndex(combo.findData(material))
        n = len(self.layers)
        combo.setAccessibleName(tr("Material of layer {0}").format(n + 1))
        field.setAccessibleName(tr("Thickness of layer {0}, mm").format(n + 1))
        explain((combo, tr("What the layer is of")), (field, tr("How thick it is, in mm")))
        field.setMaximumWidth(90)
        for widget in (combo, field):
            widget.setMinimumHeight(FIELD_PX)
        self._grid.addWidget(combo, n, 0)
        self._grid.addWidget(field, n, 1)
        self.layers.append((combo, field))
        combo.currentIndexChanged.connect(lambda _: self._changed())
        field.textChanged.connect(lambda _: self._changed())
        self._changed()

    def _drop_layer(self) -> None:
        if len(self.layers) > 1:
            for widget in self.layers.pop():
                self._grid.removeWidget(widget)
                widget.deleteLater()
            self._changed()

    def _changed(self) -> None:
        self.more.setEnabled(len(self.layers) < MOST_LAYERS)
        self.less.setEnabled(len(self.layers) > 1)
        self._quiet.start()

    def _typed(self) -> tuple[list[Layer], dict[str, float]]:
        layers = [Layer(material=combo.currentData(), thickness_mm=read_length_mm(
            with_unit(field.text()), field.accessibleName(), THICKEST_MM)) for combo, field in self.layers]
        figures = {}
        for name, field in (("source_c", self.source_c), ("release_c", self.release_c), ("start_c", self.start_c)):
            figures[name], _ = read_figure(field.text(), field.accessibleName())
        return layers, figures

    def _reckon(self) -> None:
        try:
            layers, figures = self._typed()
        except Refusal as refusal:
            self._say(refusal_text(refusal))
            return
        source = self.source.currentData()
        self.answer.setText(tr("Reckoning…"))

        def work(stop: Callable[[], bool]) -> Iterator[Guide | Refusal]:
            yield _guide(layers, source, figures)

        self._jobs.start("guide", work, self._arrived, self._say)

    def _arrived(self, found: Guide | Refusal | None) -> None:
        if isinstance(found, Refusal):
            self._say(refusal_text(found))
        elif found is not None:
            self._say("")
            self.found = found
            self.answer.setText("\n".join(guide_lines(found, float(self.release_c.text().replace(",", ".")))))

    def _say(self, text: str) -> None:
        self.problem.setText(text)
        self.problem.setVisible(bool(text))
        if text:
            self.found = None
            self.answer.setText("")


def _guide(layers: list[Layer], source: str, figures: dict[str, float]) -> Guide | Refusal:
    try:
        return guide(layers, source, **figures)
    except Refusal as refusal:
        return refusal
