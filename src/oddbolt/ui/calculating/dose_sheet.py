"""Doses: the mass that fills a gap, the gap that a weighed mass fills; written down at the thing they are for."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QDialog, QFormLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from oddbolt.catalog.tables import table
from oddbolt.effort.doses import Figure, gap_mm, mass_g
from oddbolt.effort.extents import extent_of
from oddbolt.model.quantity import read_number
from oddbolt.model.refusal import Refusal
from oddbolt.session.session import Session
from oddbolt.session.verbs.judging.dosing import apply_dose
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.ui.workspace import carry_out
from oddbolt.words.names import name_of
from oddbolt.words.refusals import refusal_text
from oddbolt.words.translate import of_data, tr

LARGEST = 1e6
SCALE_U_G = 0.02  # of a pocket scale: common practice, no source
SHARE_U = 0.02  # of area and density, where nothing better is told: common practice, no source


class DoseSheet(QDialog):
    """Both ways at once: whichever of gap and mass is typed last gives the other."""

    def __init__(self, parent: QWidget, session: Session, thing: str) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle(tr("Doses"))
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        teardown = session.teardown
        self.thing, self.material = QComboBox(), QComboBox()
        for one in (*teardown.parts, *teardown.joints):
            self.thing.addItem(name_of(teardown, one.id), one.id)
        self.thing.setCurrentIndex(max(0, self.thing.findData(thing)))
        for row in table("doses.toml")["material"]:
            name = tr("{0} (unconfirmed)") if row["confidence"] == "low" else "{0}"
            self.material.addItem(name.format(of_data(row["name"])), row["id"])
        self.density, self.area, self.gap = QLineEdit(), QLineEdit(), QLineEdit("0.5")
        self.allowance, self.mass = QLineEdit("15"), QLineEdit()
        self.problem, self.answer = label("", "problem", wrap=True), label("", "", wrap=True)
        self.write = QPushButton(tr("Write down"))
        self.write.setObjectName("go")
        self._by_mass = False
        self._filling = False
        self._build()
        self._material_chosen()
        self._thing_chosen()

    def _build(self) -> None:
        form = QFormLayout()
        for text, field, told in (
                (tr("For"), self.thing, tr("The part or joint that it is put on")),
                (tr("Material"), self.material, tr("What is put on; the maker's figure for its density comes first")),
                (tr("Density, g/cm³"), self.density, tr("From the data sheet; else the middle of what is usual")),
                (tr("Area, mm²"), self.area, tr("From its outline on a photograph with a scale, where it has one")),
                (tr("Gap, mm"), self.gap, tr("How thick the layer is to be")),
                (tr("Allowance, %"), self.allowance, tr("What is put on more than the gap holds")),
                (tr("Mass, g"), self.mass, tr("What was weighed, or what the gap takes"))):
            field.setAccessibleName(text)
            explain((field, told))
            form.addRow(text, field)
        explain((self.write, tr("Into the log: mass, gap, area and density")))
        box = QVBoxLayout(self)
        box.addLayout(form)
        box.addWidget(self.problem)
        box.addWidget(self.answer)
        box.addWidget(self.write)
        self.setMinimumWidth(420)
        self.material.activated.connect(lambda _: self._material_chosen())
        self.thing.activated.connect(lambda _: self._thing_chosen())
        for field in (self.density, self.area, self.gap, self.allowance, self.mass):
            field.textEdited.connect(lambda _, field=field: self._typed(field))
        self.write.clicked.connect(lambda _: self._write())

    def _row(self) -> dict[str, object]:
        return next(row for row in table("doses.toml")["material"] if row["id"] == self.material.currentData())

    def _material_chosen(self) -> None:
        low, high = self._row()["density"]
        self.density.setText(f"{(low + high) / 2:.3g}")
        self._reckon()

    def _thing_chosen(self) -> None:
        teardown = self._session.teardown
        joint = teardown.joint.get(self.thing.currentData())
        extent = extent_of(teardown, joint) if joint is not None else None
        if extent is not None:
            self.area.setText(f"{extent.area_mm2:.0f}")
        self._reckon()

    def _typed(self, field: QLineEdit) -> None:
        self._by_mass = field is self.mass if field in (self.mass, self.gap) else self._by_mass
        self._reckon()

    def _figures(self) -> tuple[float, float, float]:
        return tuple(read_number(field.text(), field.accessibleName(), least=1e-6, most=LARGEST)
                     for field in (self.area, self.density, self.mass if self._by_mass else self.gap))

    def _reckon(self) -> None:
        self.write.setEnabled(False)
        try:
            area, density, given = self._figures()
            allowance = read_number(self.allowance.text() or "0", self.allowance.accessibleName(), most=1000) / 100
            if self._by_mass:
                gap = gap_mm(Figure(given, SCALE_U_G), Figure(area, SHARE_U * area), Figure(density, SHARE_U * density))
                self.gap.setText(f"{gap.value:.3g}")
                text = tr("{0:.3g} g fill a gap of {1:.3f} mm, ± {2:.3f} mm").format(given, gap.value, gap.u)
            else:
                mass = mass_g(area, given, density, allowance)
                self.mass.setText(f"{mass:.3g}")
                text = tr("{0:.3g} mm over {1:.0f} mm² take {2:.3g} g, {3:.0f} % more than the gap holds").format(
                    given, area, mass, 100 * allowance)
        except Refusal as refusal:
            self._say(refusal_text(refusal) if self.area.text() else tr("Enter the area."))
            return
        low, high = self._row()["gap_mm"]
        usual = "" if low <= float(self.gap.text()) <= high else tr("\nUsual for it are {0:g} to {1:g} mm.").format(
            low, high)
        self._say("", text + usual)
        self.write.setEnabled(True)

    def _say(self, problem: str, answer: str = "") -> None:
        self.problem.setText(problem)
        self.problem.setVisible(bool(problem))
        self.answer.setText(answer)

    def _write(self) -> None:
        area, density, _ = self._figures()
        done = carry_out(self._session, lambda text, _: self._say(text), apply_dose, self.thing.currentData(),
                         material=self.material.currentData(), mass_g=float(self.mass.text().replace(",", ".")),
                         gap_mm=float(self.gap.text().replace(",", ".")), area_mm2=area, density_g_cm3=density,
                         t=self._session.seconds_now(), weighed=self._by_mass)
        if done is not None:
            self.accept()
