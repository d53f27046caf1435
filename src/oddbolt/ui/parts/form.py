"""The sheet of a part, or of several at once: what it is, its figures, its spare; the catalogue on its kind."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QPixmap
from PySide6.QtWidgets import QComboBox, QGridLayout, QLabel, QLineEdit, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from oddbolt.catalog.components import Component, components
from oddbolt.model.quantity import read_figure, read_number
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Part
from oddbolt.reassembly.inventory import HEAT_TO, part_sheet
from oddbolt.session.session import Session
from oddbolt.session.verbs.parts import set_fact, set_parts, set_spare
from oddbolt.session.verbs.plain import Done
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.ui.workspace import carry_out
from oddbolt.words.figures import clock_text
from oddbolt.words.names import name_of, names_of, role_name
from oddbolt.words.refusals import at_field_text
from oddbolt.words.translate import of_data, tr

SPARES = ("", "public", "professional", "authorised", "maker", "none")
PORTRAIT_PX = 90
MOST_G = 100_000.0
LONGEST = 500  # characters of a field; a note may be longer
FACTS = ("function", "marking", "material")


MOST_NAMES = 40  # what is held by more says no more by naming them all


class PartForm(QWidget):
    """Fields write when they are left or on Return; what cannot be is said below its field and changes nothing."""

    said = Signal(str, bool)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.ids: list[str] = []
        self.title = label("", "title", wrap=True)
        self.portrait = label("")
        self.held = label("", "faint", wrap=True)
        self.fields: dict[str, QLineEdit] = {}
        self.problems: dict[str, QLabel] = {}
        self.kind, self.spare, self.heat = QComboBox(), QComboBox(), QComboBox()
        self.figures = label("", "", wrap=True)
        self.add = QPushButton(tr("Add"))
        self.about = label("", "", wrap=True)
        self._build()

    def _build(self) -> None:
        names = {"name": tr("Name"), "function": tr("Function"), "marking": tr("Marking"),
                 "material": tr("Material"), "mass": tr("Mass, g"), "hazards": tr("Hazards"),
                 "figure": tr("A figure, like: capacity 7900 mAh")}
        self.kind.setEditable(True)
        self.kind.addItems(sorted({*components(), "chip", "part"}))
        self.kind.lineEdit().setMaxLength(60)
        for value, text in zip(SPARES, (tr("not known"), tr("to anyone"), tr("to professionals"),
                                        tr("to authorised repairers"), tr("to the maker only"),
                                        tr("none"))):
            self.spare.addItem(text, value)
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(2)
        row = 0
        for name, widget, text in (("name", None, ""), ("kind", self.kind, tr("Kind")), ("function", None, ""),
                                   ("marking", None, ""), ("material", None, ""), ("mass", None, ""),
                                   ("spare", self.spare, tr("Spare")), ("hazards", None, ""),
                                   ("heat", self.heat, tr("Heat goes to"))):
            made = widget or self._field(name, names[name])
            made.setAccessibleName(text or names[name])
            made.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            grid.addWidget(label(text or names[name], "faint"), row, 0)
            grid.addWidget(made, row, 1)
            if name in self.problems:
                grid.addWidget(self.problems[name], row + 1, 1)
            row += 2
        grid.setColumnStretch(1, 1)
        figure = self._field("figure", names["figure"])
        figure.setPlaceholderText(names["figure"])
        self.add.clicked.connect(lambda _: self._left("figure"))
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(6)
        for item in (self.title, self.portrait, self.held):
            box.addWidget(item)
        box.addLayout(grid)
        for item in (self.figures, figure, self.problems["figure"], self.add, self.about):
            box.addWidget(item)
        box.addStretch(1)
        self._explain()
        self.kind.activated.connect(lambda _: self._write_kind())
        self.kind.lineEdit().editingFinished.connect(self._write_kind)
        self._heat_to: list[tuple[str, str]] = []  # the choices that stand in the field
        self.spare.activated.connect(lambda _: self._write_spare())
        self.heat.activated.connect(lambda _: self._do(set_fact, self.ids, HEAT_TO, self.heat.currentData() or None))

    def _explain(self) -> None:
        explain((self.kind, tr("What it is; a word of your own is taken too")),
                (self.spare, tr("To whom the part is sold")),
                (self.heat, tr("The part that takes its heat away")), (self.add, tr("Add the figure to the part")),
                *((self.fields[name], text) for name, text in (
                    ("name", tr("What people call it")), ("function", tr("What it is there for")),
                    ("marking", tr("What is printed on it")), ("material", tr("What it is made of")),
                    ("mass", tr("In grams; a scale that is connected writes it too")),
                    ("hazards", tr("As lithium, glass, mains; several with commas")),
                    ("figure", tr("A name, a number and a unit, as: capacity 7900 mAh")))))

    def _field(self, name: str, text: str) -> QLineEdit:
        field, problem = QLineEdit(), label("", "problem", wrap=True)
        field.setAccessibleName(text)
        field.setMaxLength(20_000)  # longer than anything sensible, so that what is pasted is refused, not cut
        field.editingFinished.connect(lambda: self._left(name))
        problem.hide()
        self.fields[name], self.problems[name] = field, problem
        return field

    # -- showing

    def show_parts(self, ids: Sequence[str]) -> None:
        """One part with everything, or what several have in common."""
        teardown = self._session.teardown
        self.ids = [id_ for id_ in ids if id_ in teardown.part]
        self.setEnabled(bool(self.ids))
        parts = [teardown.part[id_] for id_ in self.ids]
        one = parts[0] if len(parts) == 1 else None
        several = tr("{0} parts at once").format(len(parts))
        self.title.setText(name_of(teardown, one.id) if one else several)
        self._fill("name", [p.name for p in parts])
        self.fields["name"].setEnabled(one is not None)
        for name in FACTS:
            self._fill(name, [_fact(p, name) for p in parts])
        self._fill("mass", [f"{p.mass_g:g}" if p.mass_g is not None else "" for p in parts])
        self._fill("hazards", [", ".join(p.hazards) for p in parts])
        self._fill("figure", [""])
        self.kind.setEditText(_common([p.kind for p in parts]) or "")
        available = _common([p.spare.available if p.spare else "" for p in parts])
        self.spare.setCurrentIndex(max(0, self.spare.findData(available)))
        self._show_heat(parts)
        self._show_one(one)

    def _show_heat(self, parts: list[Part]) -> None:
        """Where the heat goes: the next part of the chain."""
        teardown, chosen = self._session.teardown, set(self.ids)
        others = [(name_of(teardown, part.id), part.id) for part in teardown.parts if part.id not in chosen]
        if others != self._heat_to:
            self._heat_to = others
            self.heat.clear()
            self.heat.addItem("–", "")
            for name, id_ in others:
                self.heat.addItem(name, id_)
        self.heat.setCurrentIndex(max(0, self.heat.findData(_common([_fact(p, HEAT_TO) for p in parts]))))

    def _fill(self, name: str, values: list[str]) -> None:
        field, common = self.fields[name], _common(values)
        field.blockSignals(True)
        field.setText(common or "")
        field.setProperty("shown", common or "")
        if name != "figure":
            field.setPlaceholderText("" if common is not None else tr("several"))
        field.blockSignals(False)
        self._tell(name, "")

    def _show_one(self, part: Part | None) -> None:
        """What only a single part has: portrait, what holds it, figures, the catalogue's words."""
        teardown = self._session.teardown
        self.figures.setVisible(part is not None)
        self.about.setVisible(part is not None)
        self.held.setVisible(part is not None)
        self.portrait.hide()
        if part is None:
            return
        sheet = part_sheet(teardown, part.id)
        lines = [tr("Held by {0}").format(names_of(teardown, sheet.held_by, MOST_NAMES))]
        if sheet.carries:
            lines.append(tr("Carries {0}").format(names_of(teardown, sheet.carries, MOST_NAMES)))
        if sheet.renew:
            lines.append(tr("Renewed with it: {0}").format(names_of(teardown, sheet.renew, MOST_NAMES)))
        if part.role:
            lines.append(tr("Priority part: {0}").format(", ".join(role_name(r) for r in part.role)))
        lines.append(tr("Evidence: {0}; seen on {1} photos; basis {2}").format(
            ", ".join(clock_text(entry.t or 0) for entry in teardown.log if entry.id in sheet.evidence)
            or tr("none in the log"), len(sheet.seen_on), part.basis))
        self.held.setText("\n".join(lines))
        own = [fact for fact in part.facts if fact.name not in (*FACTS, HEAT_TO)]
        figures = [f"{fact.name}: {fact.value} {fact.unit}".strip() + f"  ({fact.basis})" for fact in own]
        figures += [tr("measured: {0} {1}  ({2})").format(e.value, e.unit, clock_text(e.t or 0)) for e in teardown.log
                    if e.id in sheet.measured]
        self.figures.setText("\n".join(figures) or tr("No figures yet"))
        self._show_portrait(sheet.portraits)
        self.about.setText(_about_text(sheet.about) if isinstance(sheet.about, Component)
                           else tr("The catalogue has no words for this kind"))

    def _show_portrait(self, views: Sequence[str]) -> None:
        """The last portrait, with its size in mm where it has a scale."""
        view = next((v for v in self._session.teardown.views if views and v.id == views[-1]), None)
        picture = QPixmap()
        if view is not None:
            picture.loadFromData(self._session.document.thumb(view.photo) or b"", "JPEG")
        if not picture.isNull():
            self.portrait.setPixmap(picture.scaledToHeight(PORTRAIT_PX, Qt.TransformationMode.SmoothTransformation))
            self.portrait.setAccessibleName(tr("Portrait"))
            self.portrait.show()

    def _tell(self, name: str, text: str) -> None:
        self.problems[name].setText(text)
        self.problems[name].setVisible(bool(text))

    # -- writing

    def _left(self, name: str) -> None:
        """A field was left: write what is new in it; what several parts differ in stays unless something was typed."""
        text = self.fields[name].text().strip()
        if text == self.fields[name].property("shown") or not self.ids:
            return
        try:
            verb, arguments, keys = self._verb(name, text)
        except Refusal as refusal:
            self._tell(name, at_field_text(refusal))
            return
        self._tell(name, "")
        self._do(verb, self.ids, *arguments, **keys)

    @staticmethod
    def _verb(name: str, text: str) -> tuple[Callable[..., Done], tuple[Any, ...], dict[str, Any]]:
        """What writing a field comes to; raises Refusal for what the field cannot take."""
        if len(text) > LONGEST:
            raise Refusal(name, "too-long", number=len(text), most=LONGEST)
        if name == "name":
            return set_parts, (), {"name": text}
        if name == "mass":
            return set_parts, (), {"mass_g": _grams(text) if text else None}
        if name == "hazards":
            return set_parts, (), {"hazards": tuple(word.strip() for word in text.split(",") if word.strip())}
        if name == "figure":
            return set_fact, read_fact(text), {}
        return set_fact, (name, text or None), {}

    def _write_kind(self) -> None:
        text = self.kind.currentText().strip()
        parts = [self._session.teardown.part[id_] for id_ in self.ids if id_ in self._session.teardown.part]
        if parts and text != (_common([p.kind for p in parts]) or ""):
            self._do(set_parts, self.ids, kind=text)

    def _write_spare(self) -> None:
        if self.ids:
            self._do(set_spare, self.ids, self.spare.currentData())

    def _do(self, verb: Callable[..., Done], *args: Any, **keys: Any) -> None:
        carry_out(self._session, self.said.emit, verb, *args, echo=True, **keys)


def _grams(text: str) -> float:
    value, unit = read_figure(text, "mass")
    factor = {"": 1.0, "g": 1.0, "kg": 1000.0, "mg": 0.001}.get(unit.lower())
    if factor is None:
        raise Refusal("mass", "no-mass-unit", unit=unit)
    return read_number(f"{value * factor:.6f}", "mass", most=MOST_G)


def read_fact(text: str) -> tuple[str, Any, str]:
    """Name, value and unit of "capacity 7900 mAh" or "state white". Raises Refusal for anything that is not both."""
    words = text.split()
    if len(words) < 2:
        raise Refusal("figure", "no-figure")
    for place in range(1, len(words)):
        try:
            value, unit = read_figure(words[place], "figure")
        except Refusal:
            continue
        return " ".join(words[:place]), value, " ".join([unit, *words[place + 1:]]).strip()
    return words[0], " ".join(words[1:]), ""


def _fact(part: Part, name: str) -> str:
    return next((str(fact.value) for fact in part.facts if fact.name == name), "")


def _common(values: Sequence[str]) -> str | None:
    """What all have; None where they differ."""
    return values[0] if values and all(value == values[0] for value in values) else None


def _about_text(about: Component) -> str:
    lines = [tr("{0}. {1}").format(of_data(about.name), of_data(about.what)),
             tr("Where: {0}").format(of_data(about.where)), tr("Held: {0}").format(of_data(about.held)),
             tr("Opened: {0}").format(of_data(about.opened)), tr("Renew: {0}").format(of_data(about.renew))]
    if about.note:
        lines.append(tr("Write down: {0}").format(", ".join(map(of_data, about.note))))
    return "\n".join(lines)
