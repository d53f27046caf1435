"""What a method asks for: a form with an editor for each answer, those of one part at a time, and whose spare brings
what."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QCheckBox, QComboBox, QFormLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from oddbolt.model.quantity import read_number
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown
from oddbolt.scoring.asking import Ask, FixingAsk
from oddbolt.scoring.method import Method
from oddbolt.ui.pieces.sheet import explain, label, scrolled, tip
from oddbolt.ui.verdict.judging import Asked
from oddbolt.words.figures import figure_of
from oddbolt.words.judging.verdicts import asked_text
from oddbolt.words.names import name_of, role_name
from oddbolt.words.refusals import at_field_text
from oddbolt.words.translate import of_data, tr

Editor = QComboBox | QLineEdit
ABSENT = "absent"


class AnswersForm(QWidget):
    """Answers of the device, then of the part that is chosen."""

    answered = Signal(str, object, object)  # criterion, part or None, value
    fixed = Signal(str, object)  # joint, parts

    def __init__(self) -> None:
        super().__init__()
        self.editors: dict[tuple[str, str | None], Editor] = {}
        self.boxes: dict[tuple[str, str], QCheckBox] = {}
        self.problem = label("", "problem", wrap=True)
        self.problem.hide()
        self.part = QComboBox()
        self.part.setAccessibleName(tr("Part that the answers are for"))
        explain((self.part, tr("Answers below are for this part; where it has none, that for all parts counts")))
        self._form, self._of_part, self._fixings = QFormLayout(), QFormLayout(), QVBoxLayout()
        self._asked: Asked | None = None
        self._method: Method | None = None
        self._teardown: Teardown | None = None
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(0, 0, 6, 0)
        for form in (self._form, self._of_part):
            form.setRowWrapPolicy(QFormLayout.RowWrapPolicy.WrapAllRows)
            form.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.problem)
        column.addLayout(self._form)
        column.addWidget(self.part)
        column.addLayout(self._of_part)
        column.addLayout(self._fixings)
        column.addStretch(1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(scrolled(inside))
        self.part.currentIndexChanged.connect(lambda _: self._show_part())

    def show_asked(self, method: Method, asked: Asked, teardown: Teardown) -> None:
        """Build anew where something else is asked, and show what is answered."""
        same = self._asked == asked and self._method is not None and self._method.id == method.id
        self._asked, self._method, self._teardown = asked, method, teardown
        if not same:
            self._build()
        self._show_values()

    def _build(self) -> None:
        asked, teardown = self._asked, self._teardown
        self.editors.clear()
        self.boxes.clear()  # those of another method are about other things
        _empty(self._form)
        for one in asked.asks:
            if one.part is None and not (one.of is not None and one.of.per_part):
                self._add(self._form, one)
        parts = dict.fromkeys(one.part for one in asked.asks if one.part is not None)
        chosen = self.part.currentData()
        self.part.blockSignals(True)
        self.part.clear()
        if any(one.of is not None and one.of.per_part for one in asked.asks):
            self.part.addItem(tr("For all parts"), None)
        for part in parts:
            self.part.addItem(name_of(teardown, part), part)
        self.part.setCurrentIndex(max(0, self.part.findData(chosen)))
        self.part.blockSignals(False)
        self.part.setVisible(self.part.count() > 0)
        self._show_part()
        self._build_boxes()

    def _show_part(self) -> None:
        part = self.part.currentData()
        self.editors = {key: editor for key, editor in self.editors.items() if editor.parent() is not None
                        and self._form.indexOf(editor) >= 0}
        _empty(self._of_part)
        for one in self._asked.asks if self._asked is not None and self.part.count() else ():
            if one.part == part and (part is not None or (one.of is not None and one.of.per_part)):
                self._add(self._of_part, one)
        self._show_values()

    def _add(self, form: QFormLayout, ask: Ask) -> None:
        editor = self._editor(ask)
        name = asked_text(self._method, ask)
        editor.setAccessibleName(name)
        rule = of_data(ask.of.rule) if ask.of is not None else name
        editor.setToolTip(tip(rule))
        question = label(name)
        question.setBuddy(editor)
        question.setToolTip(tip(rule))
        form.addRow(question, editor)
        self.editors[ask.criterion, ask.part] = editor

    def _editor(self, ask: Ask) -> Editor:
        if not ask.words and not ask.numbers:
            field = QLineEdit()
            field.setMaxLength(20)
            field.setPlaceholderText(tr("not answered"))
            field.editingFinished.connect(lambda: self._typed(ask, field))
            return field
        box = QComboBox()
        box.addItem(tr("not answered"), None)
        for word in ask.words:
            box.addItem(of_data(word), word)
        for number in ask.numbers:
            box.addItem(f"{number:g}", int(number) if number == int(number) else number)
        box.activated.connect(lambda row: self.answered.emit(ask.criterion, ask.part, box.itemData(row)))
        return box

    def _typed(self, ask: Ask, field: QLineEdit) -> None:
        text, value = field.text().strip(), None
        if text:
            try:
                value = read_number(text, asked_text(self._method, ask), least=ask.low, most=ask.high)
            except Refusal as refusal:
                self.problem.setText(f"{asked_text(self._method, ask)}: {at_field_text(refusal)}")
                self.problem.show()
                return
        self.problem.hide()
        if value != self._answer(ask.criterion, ask.part):
            self.answered.emit(ask.criterion, ask.part, value)

    def _answer(self, criterion: str, part: str | None) -> Any:
        found = [a.value for a in self._teardown.answers if a.method == self._method.id and a.criterion == criterion
                 and a.part == part]
        return found[-1] if found else None

    def _show_values(self) -> None:
        if self._teardown is None:
            return
        for (criterion, part), editor in self.editors.items():
            value = self._answer(criterion, part)
            if isinstance(editor, QLineEdit):
                if not editor.hasFocus():
                    editor.setText("" if value is None else figure_of(value))
                continue
            if value is not None and editor.findData(value) < 0:
                editor.addItem(str(value), value)  # an answer from elsewhere is shown as it is
            editor.setCurrentIndex(max(0, editor.findData(value)))
        for key, box in self.boxes.items():
            box.blockSignals(True)
            box.setCheckState(self._state(*key))
            box.blockSignals(False)

    # -- parts that are not there, and whose spare brings a fixing

    def _build_boxes(self) -> None:
        _clear(self._fixings)
        for role in self._asked.absent:
            self._add_box(ABSENT, role, tr("The device has no {0}").format(role_name(role)),
                          lambda on, role=role: self.answered.emit(ABSENT, role, True if on else None))
        for fixing in self._asked.fixings:
            self._fixings.addWidget(label(tr("Which spares bring new fixing for {0}?").format(
                name_of(self._teardown, fixing.joint)), wrap=True))
            for part in fixing.parts:
                name = tr("the spare: {0}").format(name_of(self._teardown, part))
                self._add_box(fixing.joint, part, name, lambda _: None)
            told = QPushButton(tr("These and no others"))
            told.setToolTip(tr("Until it is said, what is not ticked is not known"))
            told.setAccessibleName(tr("These spares and no others bring new fixing for {0}").format(
                name_of(self._teardown, fixing.joint)))
            told.clicked.connect(lambda _, fixing=fixing: self._told(fixing))
            self._fixings.addWidget(told)

    def _add_box(self, what: str, one: str, text: str, does: Callable[[bool], None]) -> None:
        box = QCheckBox(text)
        box.setToolTip(tip(tr("Half ticked: not known yet") if what != ABSENT else text))
        box.setAccessibleName(text)
        box.toggled.connect(does)
        self.boxes[what, one] = box
        self._fixings.addWidget(box)

    def _state(self, what: str, one: str) -> Qt.CheckState:
        """Half ticked: not known yet."""
        if what == ABSENT:
            return Qt.CheckState.Checked if self._answer(ABSENT, one) is True else Qt.CheckState.Unchecked
        fixing = next(fixing for fixing in self._asked.fixings if fixing.joint == what)
        if one in fixing.known:
            return Qt.CheckState.Checked
        return Qt.CheckState.Unchecked if fixing.is_said else Qt.CheckState.PartiallyChecked

    def _told(self, fixing: FixingAsk) -> None:
        ticked = [part for part in fixing.parts if self.boxes[fixing.joint, part].checkState() == Qt.CheckState.Checked]
        self.fixed.emit(fixing.joint, _with(fixing.known, ticked, fixing.parts))


def _with(known: Sequence[str], ticked: Sequence[str], asked: Sequence[str]) -> list[str]:
    """What was said before of parts that are not asked about stays said."""
    return list(dict.fromkeys([*(part for part in known if part not in asked), *ticked]))


def _empty(form: QFormLayout) -> None:
    while form.rowCount():
        form.removeRow(0)


def _clear(box: QVBoxLayout) -> None:
    while box.count():
        widget = box.takeAt(0).widget()
        if widget is not None:
            widget.deleteLater()
