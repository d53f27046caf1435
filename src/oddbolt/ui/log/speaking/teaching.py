"""Teaching the program a voice: sentences are read aloud, one after the other."""

from __future__ import annotations

from concurrent.futures.process import BrokenProcessPool

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import (
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from oddbolt.hearing.listener import NoListener
from oddbolt.instruments.microphones import Microphone
from oddbolt.instruments.protocols import InstrumentFault
from oddbolt.model.refusal import Refusal
from oddbolt.paint.palette import Palette
from oddbolt.session.speaking.lesson import Lesson, Stage, Teacher, teaching_sentences
from oddbolt.store.by_name import path_of
from oddbolt.store.own_voices import FOLDER, known_voices, write_voice
from oddbolt.ui.log.speaking.bar import Level
from oddbolt.ui.log.speaking.text import no_listener_text
from oddbolt.ui.pieces.sheet import Echo, explain, label
from oddbolt.words.refusals import fault_text, refusal_text
from oddbolt.words.translate import N_, from_table, tr

POLL_MS = 50
STAGES = {Stage.LOADING: N_("loading…"), Stage.READING: N_("read it aloud"), Stage.CHECKING: N_("listening to it…"),
          Stage.AGAIN: N_("that was not clear, or another sentence: once more"), Stage.LEARNING: N_("learning…"),
          Stage.DONE: ""}
WIDE_PX, BAR_PX = 560, 18
LARGER = 1.6  # the sentence, than other text: it is read from the bench


class TeachingSheet(QDialog):
    """`name` is whose voice was learned, once it is accepted."""

    def __init__(self, parent: QWidget, palette: Palette, microphone: Microphone, teacher: Teacher) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Teach it a voice"))
        self.lesson = Lesson(teacher, microphone, teaching_sentences())
        self.name = QLineEdit()
        self.name.setAccessibleName(tr("Whose voice"))
        self.name.setPlaceholderText(tr("A name"))
        self.sentence = label("", "title", wrap=True)
        self.state, self.level = label("", "faint"), Level(palette)
        self.progress = QProgressBar()
        self.progress.setRange(0, len(self.lesson.sentences))
        self.progress.setAccessibleName(tr("Sentences read"))
        self.progress.setTextVisible(False)
        self.progress.setFixedHeight(BAR_PX)
        self.problem = Echo()
        self.begin, self.leave_out = QPushButton(tr("Begin")), QPushButton(tr("Leave it out"))
        self.enough, self.cancel = QPushButton(tr("That is enough")), QPushButton(tr("Cancel"))
        explain((self.begin, tr("Listen from now on")), (self.leave_out, tr("Go on with the next sentence")),
                (self.enough, tr("Learn from what was read so far; ten sentences are the least")),
                (self.cancel, tr("Nothing is kept")))
        self._timer = QTimer(self)
        self._timer.setInterval(POLL_MS)
        self._build()
        self._show()

    def _build(self) -> None:
        told = label(tr("Read the sentences aloud as you speak at the bench, with the usual noise around. It goes on "
                        "by itself and takes some three minutes. The sound is not kept, only how the voice differs "
                        "from what the recogniser expects; it stays on this machine."), "faint", wrap=True)
        told.setMinimumWidth(WIDE_PX)
        head = QGridLayout()
        head.addWidget(label(tr("Whose voice"), "faint"), 0, 0)
        head.addWidget(self.name, 0, 1)
        line = QHBoxLayout()
        line.addWidget(self.level)
        line.addWidget(self.state, 1)
        buttons = QHBoxLayout()
        buttons.addWidget(self.leave_out)
        buttons.addStretch(1)
        for button in (self.cancel, self.enough, self.begin):
            buttons.addWidget(button)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 14, 16, 14)
        column.setSpacing(10)
        column.addLayout(head)
        column.addWidget(told)
        column.addWidget(self.sentence, 1)
        column.addLayout(line)
        column.addWidget(self.progress)
        column.addWidget(self.problem)
        column.addLayout(buttons)
        large = self.sentence.font()
        large.setPointSizeF(LARGER * self.font().pointSizeF())
        self.sentence.setFont(large)
        self.sentence.setMinimumHeight(4 * self.fontMetrics().height())
        self.begin.setDefault(True)
        for button in (self.leave_out, self.enough, self.cancel):
            button.setAutoDefault(False)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.name.textChanged.connect(self._named)
        self.begin.clicked.connect(lambda _: self.listen())
        self.leave_out.clicked.connect(lambda _: self._do(self.lesson.skip))
        self.enough.clicked.connect(lambda _: self._do(self.lesson.learn))
        self.cancel.clicked.connect(lambda _: self.reject())
        self.finished.connect(lambda _: self._stop())
        self._timer.timeout.connect(self.poll)

    def listen(self) -> None:
        """From now on, where there is a name to keep it by, and a microphone and a recogniser are there."""
        try:
            path_of(FOLDER, self.name.text())
            self.lesson.start()
        except Refusal as refusal:
            self.problem.say(refusal_text(refusal), alarm=True)
            self.name.setFocus()
            return
        except (InstrumentFault, NoListener) as fault:
            self._failed(fault)
            return
        self.problem.say("")
        self.setFocus()  # on no button: hands are at the device
        self._timer.start()
        self._show()

    def _named(self, name: str) -> None:
        known = name.strip() in known_voices()
        self.problem.say(tr("The voice of {0} is learned anew").format(name.strip()) if known else "")

    def poll(self) -> None:
        try:
            self.lesson.poll()
        except (InstrumentFault, NoListener, BrokenProcessPool) as fault:
            self._failed(fault)
            return
        if self.lesson.stage is Stage.DONE:
            self._keep()
        self._show()

    def _do(self, what) -> None:  # type: ignore[no-untyped-def]
        what()
        self.poll()

    def _failed(self, fault: InstrumentFault | NoListener | BrokenProcessPool) -> None:
        self._stop()
        self._show()
        text = fault_text(fault) if isinstance(fault, InstrumentFault) else no_listener_text(fault)
        self.problem.say(text, alarm=True)

    def _keep(self) -> None:
        self._stop()
        self._show()
        if self.lesson.voice is None:
            self.problem.say(tr("Too few sentences were read to learn a voice; begin again"), alarm=True)
            return
        try:
            write_voice(self.name.text(), self.lesson.voice)
        except Refusal as refusal:
            self.problem.say(refusal_text(refusal), alarm=True)
            return
        self.accept()

    def _stop(self) -> None:
        self._timer.stop()
        self.lesson.stop()

    def _show(self) -> None:
        lesson, is_on = self.lesson, self._timer.isActive()
        reads = is_on and lesson.stage in (Stage.READING, Stage.AGAIN)
        self.sentence.setText(lesson.text if is_on and lesson.stage not in (Stage.LOADING, Stage.LEARNING) else "")
        self.state.setText(tr("{0} of {1}: {2}").format(
            min(lesson.at + 1, len(lesson.sentences)), len(lesson.sentences), from_table(STAGES, lesson.stage))
            if lesson.text and is_on else from_table(STAGES, lesson.stage) if is_on else "")
        self.level.show_level(lesson.level_db, is_open=reads)
        self.progress.setValue(lesson.at)
        self.name.setEnabled(not is_on)
        self.begin.setVisible(not is_on)
        self.leave_out.setVisible(is_on)
        self.enough.setVisible(is_on)
        self.leave_out.setEnabled(reads)
        self.enough.setEnabled(reads and lesson.is_enough)
