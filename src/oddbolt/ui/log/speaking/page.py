"""The page of the voice: what can be said now, what opens the ear and by which microphone, and notes to be typed."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from oddbolt.hearing.grammar import Grammar
from oddbolt.model.things import LogEntry, Teardown
from oddbolt.session.speaking.ear import Opens
from oddbolt.ui.log.speaking.text import sayable, slots_of
from oddbolt.ui.pieces.sheet import explain, label, tip
from oddbolt.words.figures import clock_text
from oddbolt.words.names import name_of
from oddbolt.words.translate import N_, tr

OPENS = {Opens.HELD: N_("while F10 is held"), Opens.WORD: N_("after “odd bolt”")}
SYSTEM, SIMULATED = "system", "simulated"
MICROPHONES = {SYSTEM: N_("the system's microphone"), SIMULATED: N_("simulated: plays sentences")}
LINES = 5


class VoicePage(QWidget):
    switched = Signal(bool)
    chosen = Signal()  # another microphone, or another way of opening
    played = Signal(int)  # a sentence of the simulated microphone
    note_typed = Signal(str, str)  # entry, text
    note_asked = Signal(str)  # a sound to be played
    whose_chosen = Signal(str)  # a learned voice; empty: anybody's
    teach_asked = Signal()
    forget_asked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.switch = QPushButton(tr("Listen"))
        self.switch.setObjectName("offer")
        self.switch.setCheckable(True)
        self.opens, self.microphone = QComboBox(), QComboBox()
        for opens, text in OPENS.items():
            self.opens.addItem(tr(text), opens)
        for name, text in MICROPHONES.items():
            self.microphone.addItem(tr(text), name)
        self.whose = QComboBox()
        self.teach, self.forget = QPushButton(tr("Teach…")), QPushButton(tr("Forget"))
        for button in (self.teach, self.forget):
            button.setObjectName("offer")
        self.says = QListWidget()
        self.notes = QListWidget()
        self.typed = QLineEdit()
        self.typed.setPlaceholderText(tr("Type what was said, Enter keeps it"))
        self.listen = QPushButton(tr("Play"))
        self.listen.setObjectName("offer")
        self.can = QTreeWidget()
        self.can.setHeaderLabel(tr("What can be said now"))
        self._shown: Grammar | None = None
        self._put_together()
        self._wire()

    def _put_together(self) -> None:
        for widget, name, told in (
                (self.switch, "", tr("Begin to listen, or end it; the recogniser works on this machine only")),
                (self.opens, tr("When the bench listens"), tr("A key or pedal that is held, or the start word")),
                (self.microphone, tr("Microphone"), tr("Where the sound comes from")),
                (self.whose, tr("Whose voice"), tr("Anybody's, or one that was learned, which is heard better")),
                (self.teach, "", tr("Read 32 sentences aloud, so that your voice is heard better")),
                (self.forget, "", tr("Delete what was learned of this voice, at the second press")),
                (self.says, tr("Sentences to be played"), tr("A double click plays a sentence, as if it were said")),
                (self.notes, tr("Notes to be typed"), tr("Spoken notes that nobody has typed yet")),
                (self.typed, tr("Text of the note"), tr("The sound stays with the note")),
                (self.listen, "", tr("Play the chosen note")),
                (self.can, tr("What can be said now"), tr("Every sentence that means something now"))):
            if name:
                widget.setAccessibleName(name)
            explain((widget, told))
        self.notes_head = label(tr("Spoken notes to be typed"), "title")
        grid = QGridLayout()
        grid.setColumnStretch(1, 1)
        grid.addWidget(self.switch, 0, 0)
        grid.addWidget(self.opens, 0, 1)
        grid.addWidget(self.microphone, 1, 0, 1, 2)
        voices = QGridLayout()
        voices.setColumnStretch(0, 1)
        for n, widget in enumerate((self.whose, self.teach, self.forget)):
            voices.addWidget(widget, 0, n)
        self.says.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        for few in (self.says, self.notes):
            few.setMaximumHeight(LINES * self.fontMetrics().height() + 8)
        under = QGridLayout()
        under.addWidget(self.typed, 0, 0)
        under.addWidget(self.listen, 0, 1)
        box = QVBoxLayout(self)
        box.setContentsMargins(4, 4, 4, 4)
        box.setSpacing(5)
        box.addLayout(grid)
        box.addLayout(voices)
        box.addWidget(self.can, 1)
        box.addWidget(self.notes_head)
        box.addWidget(self.notes)
        box.addLayout(under)
        box.addWidget(self.says)
        self.can.setMinimumHeight(9 * self.fontMetrics().height())
        self.show_sentences(())
        self.show_notes(Teardown.nothing(), ())

    def _wire(self) -> None:
        for box in (self.opens, self.microphone, self.whose):
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            box.setMinimumContentsLength(8)
        for box in (self.opens, self.microphone):
            box.activated.connect(lambda _: self.chosen.emit())
        self.whose.activated.connect(lambda _: self.whose_chosen.emit(self.whose.currentData()))
        self.teach.clicked.connect(lambda _: self.teach_asked.emit())
        self.forget.clicked.connect(lambda _: self._forget())
        self.switch.clicked.connect(self.switched)
        self.says.itemActivated.connect(lambda item: self.played.emit(self.says.row(item)))
        self.typed.returnPressed.connect(self._type)
        self.listen.clicked.connect(lambda _: self.note_asked.emit(self._note(1)))

    def sizeHint(self) -> QSize:  # noqa: N802 (Qt's name)
        return QSize(super().sizeHint().width(), 30 * self.fontMetrics().height())

    # -- what is shown

    def show_voices(self, names: Sequence[str], chosen: str) -> None:
        """Those that were learned, and whose is listened to."""
        self.whose.clear()
        self.whose.addItem(tr("anybody's voice"), "")
        for name in names:
            self.whose.addItem(name, name)
        self.whose.setCurrentIndex(max(0, self.whose.findData(chosen)))
        self.forget.setText(tr("Forget"))
        self.forget.setVisible(bool(self.whose.currentData()))

    def show_sentences(self, texts: Sequence[str]) -> None:
        """Those that the simulated microphone can play."""
        self.says.clear()
        self.says.addItems(list(texts))
        self.says.setVisible(bool(texts))

    def show_grammar(self, grammar: Callable[[], Grammar], *, is_on: bool) -> None:
        """What can be said now; only while it is seen, and where it changed."""
        self.switch.setChecked(is_on)
        self.switch.setText(tr("End it") if is_on else tr("Listen"))
        if not self.isVisible():
            return
        now = grammar()
        if now is self._shown:
            return
        self._shown = now
        opened = {self.can.topLevelItem(n).text(0) for n in range(self.can.topLevelItemCount())
                  if self.can.topLevelItem(n).isExpanded()}
        is_first = not self.can.topLevelItemCount()
        self.can.clear()
        for head, lines in (*sayable(now), *slots_of(now)):
            item = QTreeWidgetItem(self.can, [head])
            for line in lines:
                child = QTreeWidgetItem(item, [line])
                child.setToolTip(0, tip(line))
            item.setExpanded(head in opened or (is_first and self.can.topLevelItemCount() == 1))

    def show_notes(self, teardown: Teardown, notes: Sequence[LogEntry]) -> None:
        row = self.notes.currentRow()
        self.notes.clear()
        for entry in notes:
            about = name_of(teardown, entry.thing) if entry.thing else ""
            item = QListWidgetItem("  ".join(word for word in (clock_text(entry.t or 0), about, entry.sound) if word))
            item.setData(Qt.ItemDataRole.UserRole, (entry.id, entry.sound))
            self.notes.addItem(item)
        self.notes.setCurrentRow(min(max(row, 0), self.notes.count() - 1))
        for widget in (self.notes_head, self.notes, self.typed, self.listen):
            widget.setVisible(bool(notes))

    def _forget(self) -> None:
        """At the second press: a lesson takes minutes, and nothing brings it back."""
        if self.forget.text() == tr("Forget"):
            self.forget.setText(tr("Really?"))
        else:
            self.forget_asked.emit(self.whose.currentData())

    def _note(self, place: int) -> str:
        item = self.notes.currentItem()
        return item.data(Qt.ItemDataRole.UserRole)[place] if item is not None else ""

    def _type(self) -> None:
        text, entry = self.typed.text().strip(), self._note(0)
        if text and entry:
            self.typed.clear()
            self.note_typed.emit(entry, text)
