"""One entry of an instruction, with everything that it may say."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace
from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QComboBox, QFormLayout, QLineEdit, QWidget

from oddbolt.model.refusal import Refusal
from oddbolt.model.things import PROCEDURE_VERBS, KeepOff, Refit, Repeat, Teardown, Tightening, Use
from oddbolt.reassembly.tightening import torque_of
from oddbolt.ui.pieces.sheet import explain
from oddbolt.words.names import name_of
from oddbolt.words.rebuilding.steps import SUPPLIES
from oddbolt.words.recording.labels import entry_name
from oddbolt.words.translate import sentence, tr

STARTED = "started"


class EntryForm(QWidget):
    """Emits the entry as it is now when something in it was changed; what cannot be read stays and is said."""

    changed = Signal(object)
    said = Signal(str, bool)

    def __init__(self) -> None:
        super().__init__()
        self._entry: Refit | None = None
        self._filling = False
        self.do, self.thing, self.procedure = QComboBox(), QComboBox(), QComboBox()
        names = ("text", "align", "torque", "dose", "repeat", "wait", "off", "until", "back_to", "most", "label",
                 "only_if", "places")
        self.fields = {name: QLineEdit() for name in names}
        self.supply = QComboBox()
        self.flags = {name: QCheckBox() for name in ("started", "blocks", "new", "discard", "one_shot")}
        self._build()

    def _build(self) -> None:
        for verb in PROCEDURE_VERBS:
            self.do.addItem(sentence(entry_name(verb)), verb)
        self.supply.addItem("", "")
        for code, text in SUPPLIES.items():
            self.supply.addItem(tr(text), code)
        rows: list[tuple[str, QWidget, str]] = [
            (tr("Act"), self.do, tr("What is done")), (tr("Thing"), self.thing, tr("The part or joint")),
            (tr("Procedure"), self.procedure, tr("Another procedure that is done here")),
            (tr("Text"), self.fields["text"], tr("In words, as it is read aloud")),
            (tr("Torque"), self.fields["torque"], tr("Such as 7 N·cm; the unit as it is written somewhere else")),
            (tr("All loosely first"), self.flags["started"], tr("Started loosely, then tight")),
            (tr("Screws"), self.fields["places"], tr("Numbers of single screws, such as 1 3; none: all")),
            (tr("Dose"), self.fields["dose"], tr("Such as 2 strips of cell tabs, or 0.8 g of silicone")),
            (tr("Supply"), self.supply, tr("Where it comes from")),
            (tr("Align"), self.fields["align"], tr("What it is laid against")),
            (tr("Hold"), self.fields["repeat"], tr("How often and how long, such as 3 x 6-10 s")),
            (tr("Then wait"), self.fields["wait"], tr("Seconds before what follows")),
            (tr("Keep off, mm"), self.fields["off"], tr("How far from what is said in the text or pointed at")),
            (tr("Until"), self.fields["until"], tr("What is looked for before going on")),
            (tr("Else back to"), self.fields["back_to"], tr("The mark of an earlier entry")),
            (tr("At most"), self.fields["most"], tr("Rounds of going back")),
            (tr("Mark"), self.fields["label"], tr("A name that a later entry goes back to")),
            (tr("Only if"), self.fields["only_if"], tr("A condition in words")),
            (tr("Stops the line"), self.flags["blocks"], tr("Nothing follows before this check is fine")),
            (tr("A new one"), self.flags["new"], tr("What goes in is new")),
            (tr("Thrown away"), self.flags["discard"], tr("The old one is thrown away")),
            (tr("Cannot be moved"), self.flags["one_shot"], tr("It cannot be moved once it touches"))]
        form = QFormLayout(self)
        form.setContentsMargins(0, 0, 0, 0)
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        for name, widget, told in rows:
            widget.setAccessibleName(name)
            explain((widget, told))
            form.addRow(name, widget)
            if isinstance(widget, QComboBox):
                widget.setMinimumContentsLength(12)
                widget.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
                widget.activated.connect(lambda _: self._tell())
            elif isinstance(widget, QLineEdit):
                widget.editingFinished.connect(self._tell)
            elif isinstance(widget, QCheckBox):
                widget.toggled.connect(lambda _: self._tell())

    def show_entry(self, teardown: Teardown, entry: Refit | None) -> None:
        self._entry, self._filling = entry, True
        self.setEnabled(entry is not None)
        entry = entry or Refit(do="fit")
        self.thing.clear()
        self.thing.addItem("", "")
        for one in (*teardown.parts, *teardown.joints):
            self.thing.addItem(name_of(teardown, one.id), one.id)
        self.procedure.clear()
        self.procedure.addItem("", "")
        for other in teardown.procedures:
            self.procedure.addItem(other.name or other.id, other.id)
        self.do.setCurrentIndex(self.do.findData(entry.do))
        self.thing.setCurrentIndex(max(0, self.thing.findData(entry.thing or entry.on or "")))
        self.procedure.setCurrentIndex(max(0, self.procedure.findData(entry.procedure)))
        self.supply.setCurrentIndex(max(0, self.supply.findData(entry.uses[0].supply if entry.uses else "")))
        for name, text in _texts(entry).items():
            self.fields[name].setText(text)
        for name in ("blocks", "new", "discard", "one_shot"):
            self.flags[name].setChecked(getattr(entry, name))
        self.flags["started"].setChecked(any(one.level == STARTED for one in entry.passes))
        self._filling = False

    def _tell(self) -> None:
        if self._filling or self._entry is None:
            return
        try:
            entry = self._read(self._entry)
        except Refusal as refusal:
            self.said.emit(tr("“{0}” cannot be read; write it like the example in its hint").format(refusal.path), True)
            return
        if entry != self._entry:
            self._entry = entry
            self.changed.emit(entry)

    def _read(self, before: Refit) -> Refit:
        texts = {name: field.text().strip() for name, field in self.fields.items()}
        do, thing = self.do.currentData(), self.thing.currentData() or None
        passes = before.passes
        if texts["torque"] != _texts(before)["torque"] or self.flags["started"].isChecked() != any(
                one.level == STARTED for one in before.passes):
            passes = _passes(texts["torque"], before, started=self.flags["started"].isChecked())
        uses = before.uses
        if texts["dose"] != _texts(before)["dose"] or self.supply.currentData() != (
                before.uses[0].supply if before.uses else ""):
            uses = _uses(texts["dose"], self.supply.currentData())
        keep_off = before.keep_off
        if texts["off"] != _texts(before)["off"]:
            keep_off = tuple(replace(one, mm=_number(texts["off"])) for one in before.keep_off) or (
                (KeepOff(edge=tr("the edge"), mm=_number(texts["off"])),) if texts["off"] else ())
        only_if: Any = before.only_if if texts["only_if"] == _texts(before)["only_if"] else texts["only_if"] or None
        return replace(
            before, do=do, thing=None if do in ("apply", "procedure") else thing,
            on=thing if do == "apply" else before.on if thing is None else None, text=texts["text"],
            align=texts["align"], passes=passes, uses=uses, repeat=_repeat(texts["repeat"]),
            wait_s=_number(texts["wait"] or "0"),
            keep_off=keep_off, until=texts["until"], back_to=texts["back_to"], label=texts["label"], only_if=only_if,
            most=_whole(texts["most"]), places=tuple(n for word in texts["places"].split() if (n := _whole(word))),
            procedure=self.procedure.currentData() or "" if do == "procedure" else "",
            blocks=self.flags["blocks"].isChecked(), new=self.flags["new"].isChecked(),
            discard=self.flags["discard"].isChecked(), one_shot=self.flags["one_shot"].isChecked())


def _texts(entry: Refit) -> dict[str, str]:
    torque = next(((value, unit) for one in reversed(entry.passes) for value, unit in (torque_of(one),)
                   if value is not None), None)
    use = entry.uses[0] if entry.uses else None
    each = entry.repeat.each_s if entry.repeat is not None else ()
    only_if = entry.only_if
    return {"text": entry.text, "align": entry.align, "torque": f"{torque[0]:g} {torque[1]}" if torque else "",
            "dose": "" if use is None else " ".join(part for part in (
                "" if use.qty is None else f"{use.qty:g}", use.unit and tr("{0} of").format(use.unit), use.material)
                if part),
            "repeat": f"{entry.repeat.min} x {'-'.join(f'{one:g}' for one in dict.fromkeys(each))} s"
            if entry.repeat is not None and each else "",
            "wait": f"{entry.wait_s:g}" if entry.wait_s else "",
            "off": next((f"{one.mm:g}" for one in entry.keep_off if one.mm is not None), ""),
            "until": entry.until, "back_to": entry.back_to, "most": str(entry.most or ""), "label": entry.label,
            "only_if": only_if if isinstance(only_if, str) else "" if only_if is None else f"{only_if.get('is', '')}"
            if isinstance(only_if, dict) else str(only_if), "places": " ".join(map(str, entry.places))}


def _number(text: str) -> float:
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        raise Refusal(text, "no-number") from None
    if not 0 <= value < 1e6:
        raise Refusal(text, "no-number")
    return value


def _whole(text: str) -> int | None:
    if not text:
        return None
    value = _number(text)
    if value != int(value) or value < 1:
        raise Refusal(text, "no-number")
    return int(value)


def _passes(text: str, before: Refit, *, started: bool) -> tuple[Tightening, ...]:
    """Rounds with the order that they had."""
    order = next((one.order for one in reversed(before.passes) if one.order), ())
    first = (Tightening(level=STARTED, order=order),) if started else ()
    if not text:
        return (*first, Tightening(order=order)) if started else ()
    figure, _, unit = text.partition(" ")
    value, plain = _number(figure), unit.strip() or "N·cm"
    last = Tightening(order=order, torque_ncm=value) if plain == "N·cm" \
        else Tightening(order=order, torque=value, unit=plain)
    return (*first, last)


def _uses(text: str, supply: str) -> tuple[Use, ...]:
    """"2 strips of cell tabs", "1 piece of tape", "grease": amount and unit where they are told."""
    if not text:
        return ()
    figure, _, rest = text.partition(" ")
    try:
        qty: float | None = _number(figure)
    except Refusal:
        qty, rest = None, text
    unit, divided, material = rest.partition(tr(" of "))
    return (Use(material=(material if divided else rest).strip() or text, qty=qty, unit=unit.strip() if divided else "",
                supply=supply),)


def _repeat(text: str) -> Repeat | None:
    """"3 x 6-10 s": how often, and seconds from and to."""
    if not text:
        return None
    times, _, span = text.lower().replace("×", "x").removesuffix("s").strip().partition("x")
    each = tuple(_number(one.strip()) for one in span.strip().replace("–", "-").split("-") if one.strip())
    if not each or len(each) > 2:
        raise Refusal(text, "no-number")
    return Repeat(min=_whole(times.strip()) or 1, each_s=each)
