"""What protects the device in an act, entered: how flat and deep a pick goes, what it keeps off, heat, hold."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QDialog, QFormLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from oddbolt.catalog.defaults import verb_of, ways_of
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Act, View
from oddbolt.session.session import Session
from oddbolt.session.verbs.joints import SINGLES, SPANS, set_limits
from oddbolt.ui.pieces.sheet import label
from oddbolt.words.acts import limit_text
from oddbolt.words.names import name_of, tool_name
from oddbolt.words.refusals import refusal_text
from oddbolt.words.translate import tr


class LimitsDialog(QDialog):
    """Stays open beside the window; nothing is changed before Write."""

    def __init__(self, session: Session, joint: str, way: int, view: View | None, parent: QWidget | None = None) -> \
            None:
        super().__init__(parent)
        self._session = session
        self._joint, self._way = joint, way
        teardown = session.teardown
        self.setWindowTitle(tr("Limits of {0}").format(name_of(teardown, joint)))
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.act, self.which = QComboBox(), QComboBox()
        for act in self._acts():
            tool = tool_name(teardown, act.tool)
            self.act.addItem(f"{verb_of(teardown.joint[joint], act)}, {tool}")
        self.act.setCurrentIndex(self.act.count() - 1)
        self.fields = {key: QLineEdit() for key in ("where", *SPANS, *SINGLES, "stop_mm")}
        self.stop = QComboBox()
        self.stop.addItem("", "")
        seen = [mark.thing for mark in view.marks] if view else []
        for thing in dict.fromkeys([*seen, *(p.id for p in teardown.parts), *(j.id for j in teardown.joints)]):
            if thing != joint:
                self.stop.addItem(name_of(teardown, thing), thing)
        self.problem = label("", "echo", wrap=True)
        self.write = QPushButton(tr("Write"))
        self.write.setObjectName("go")
        self.write.setDefault(True)
        self.take_off = QPushButton(tr("Take off"))
        self.guide = QPushButton(tr("Heating guide…"))
        self.guide.setToolTip(tr("How long it is to be warmed, and how warm the cell is then"))
        self.guide.clicked.connect(lambda _: self._ask_guide())
        self._build()
        self.act.currentIndexChanged.connect(lambda _: self._show_act())
        self.which.currentIndexChanged.connect(lambda _: self._show_limit())
        self.write.clicked.connect(lambda _: self._write())
        self.take_off.clicked.connect(lambda _: self._set(self._others()))
        self._show_act()

    def _build(self) -> None:
        form = QFormLayout()
        keep = QHBoxLayout()
        keep.addWidget(self.stop, 1)
        keep.addWidget(self.fields["stop_mm"])
        names = {"where": tr("Along"), "angle_deg": tr("Angle, °"), "depth_mm": tr("Depth, mm"),
                 "temp_c": tr("Temperature, °C"), "hold_s": tr("Hold, s"),
                 "lift_mm": tr("Lift at most, mm"), "stop_mm": tr("Stop distance, mm")}
        hints = {"where": tr("long edge"), "angle_deg": "0-20", "depth_mm": "0-4", "temp_c": "60-70",
                 "hold_s": "30", "lift_mm": "40", "stop_mm": "8"}
        self.stop.setAccessibleName(tr("What the tool keeps off"))
        form.addRow(tr("Act"), self.act)
        form.addRow(tr("Place"), self.which)
        for key, field in self.fields.items():
            field.setPlaceholderText(hints[key])
            field.setAccessibleName(names[key])
            if key != "stop_mm":
                form.addRow(names[key], field)
        self.fields["stop_mm"].setFixedWidth(90)
        form.addRow(tr("Stop distance, mm, off"), keep)
        buttons = QHBoxLayout()
        buttons.addWidget(self.take_off)
        buttons.addWidget(self.guide)
        buttons.addStretch(1)
        buttons.addWidget(self.write)
        box = QVBoxLayout(self)
        box.addLayout(form)
        box.addWidget(self.problem)
        box.addLayout(buttons)
        for widget in (self.act, self.which, self.stop, self.take_off, *self.fields.values()):
            widget.setMinimumHeight(34)
        self.setMinimumWidth(420)

    def _acts(self) -> tuple[Act, ...]:
        teardown = self._session.teardown
        joint = teardown.joint.get(self._joint)
        ways = ways_of(teardown, joint) if joint is not None else ()
        return ways[self._way].acts if self._way < len(ways) else ()

    def _limits(self) -> list[Any]:
        acts = self._acts()
        return list(acts[self.act.currentIndex()].limits) if self.act.currentIndex() < len(acts) else []

    def _others(self) -> list[Any]:
        """The limits of the act but the one shown."""
        return [limit for n, limit in enumerate(self._limits()) if n != self.which.currentIndex()]

    def _ask_guide(self) -> None:
        from oddbolt.ui.calculating.heating_guide import HeatingGuide

        self.heating = HeatingGuide(self)
        self.heating.show()

    # -- showing

    def _show_act(self) -> None:
        self.which.blockSignals(True)
        self.which.clear()
        for limit in self._limits():
            self.which.addItem(limit_text(self._session.teardown, limit))
        self.which.addItem(tr("another place"))
        self.which.setCurrentIndex(0)
        self.which.blockSignals(False)
        self._show_limit()

    def _show_limit(self) -> None:
        limits, n = self._limits(), self.which.currentIndex()
        limit = limits[n] if n < len(limits) and isinstance(limits[n], dict) else {}
        self.take_off.setEnabled(n < len(limits))
        for key, field in self.fields.items():
            field.setText(_span_text(limit.get(key, "")))
        keep = next(iter(limit.get("keep_off", ())), {})
        self.stop.setCurrentIndex(max(0, self.stop.findData(keep.get("thing", ""))))
        self.fields["stop_mm"].setText(_span_text(keep.get("mm", "")))
        self.problem.setText("")

    # -- writing

    def _write(self) -> None:
        try:
            limit = self._read()
        except _Problem as problem:
            self.problem.setText(str(problem))
            problem.field.setFocus()
            problem.field.selectAll()
            return
        limits, n = self._limits(), self.which.currentIndex()
        if n < len(limits):
            limits[n] = {**{key: value for key, value in limits[n].items() if key not in _KEYS}, **limit} \
                if isinstance(limits[n], dict) else limit
        elif limit:
            limits.append(limit)
        self._set([one for one in limits if one])

    def _set(self, limits: list[Any]) -> None:
        try:
            self._session.do(set_limits, self._joint, self._way, self.act.currentIndex(), limits)
        except Refusal as refusal:
            self.problem.setText(refusal_text(refusal))
            return
        self.close()

    def _read(self) -> dict[str, Any]:
        """The limit as entered; raises _Problem with the field that is wrong."""
        found: dict[str, Any] = {}
        if where := self.fields["where"].text().strip()[:200]:
            found["where"] = where
        for key, most in (*SPANS.items(), *SINGLES.items()):
            field = self.fields[key]
            if not field.text().strip():
                continue
            try:
                low, high = read_span(field.text())
                if high > most:
                    raise ValueError
            except ValueError:
                raise _Problem(field, tr("{0}: a number like 20, or a span like 0-20, up to {1:g}").format(
                    field.accessibleName(), most)) from None
            found[key] = [low, high] if key in SPANS else high
        mm, thing = self.fields["stop_mm"], self.stop.currentData()
        if thing or mm.text().strip():
            try:
                distance = read_span(mm.text())[1]
                if not thing or not 0 < distance <= SPANS["depth_mm"]:
                    raise ValueError
            except ValueError:
                raise _Problem(mm, tr("A stop distance is a number of mm and the thing to keep off")) from None
            found["keep_off"] = [{"thing": thing, "mm": distance}]
        return found


_KEYS = frozenset(("where", "keep_off", *SPANS, *SINGLES))


class _Problem(Exception):
    def __init__(self, field: QLineEdit, text: str) -> None:
        super().__init__(text)
        self.field = field


def _span_text(value: Any) -> str:
    if isinstance(value, list) and value:
        return f"{value[0]:g}-{value[-1]:g}"
    return f"{value:g}" if isinstance(value, (int, float)) else str(value)


def read_span(text: str) -> tuple[float, float]:
    """Two numbers of "0-20", or 0 and one number; a decimal comma will do. Raises ValueError for anything else."""
    low, dash, high = text.strip().replace(",", ".").replace("–", "-").partition("-")
    values = (float(low), float(high)) if dash else (0.0, float(low))
    if not 0 <= values[0] <= values[1] < float("inf"):
        raise ValueError(text)
    return values
