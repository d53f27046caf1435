"""What was heard, under the photograph: whether one is listened to, the sentence in words, and the moment in which it
can be taken back, running out.
"""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from oddbolt.paint.palette import Palette
from oddbolt.session.modes import Gesture
from oddbolt.session.speaking.ear import Opens
from oddbolt.ui.log.speaking.voice import State, Voice
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.words.translate import N_, from_table, tr

STATES = {State.OFF: "", State.LOADING: N_("loading…"), State.CLOSED: N_("not listening"), State.OPEN: N_("listening"),
          State.HEARING: N_("hearing you"), State.WORKING: N_("understanding…"), State.NOTING: N_("keeping a note")}
QUIET = (State.OPEN, State.CLOSED)
HINTS = {Opens.HELD: N_("Hold F10 and say what is done; tapped, it listens to one sentence"),
         Opens.WORD: N_("Say “odd bolt”, then what is done")}
FLOOR_DB, CEILING_DB = -60.0, -12.0  # of the level that is drawn


class Level(QWidget):
    """How loud it is, as a row of strokes; filled while one is listened to."""

    STROKES, WIDE, GAP = 7, 4, 3

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._ink, self._faint, self._line = (QColor(palette.ink), QColor(palette.faint), QColor(palette.line))
        self._share, self._is_open = 0.0, False
        self.setFixedSize(self.STROKES * (self.WIDE + self.GAP), 22)

    def show_level(self, level_db: float, *, is_open: bool) -> None:
        share = min(1.0, max(0.0, (level_db - FLOOR_DB) / (CEILING_DB - FLOOR_DB)))
        if (share, is_open) != (self._share, self._is_open):
            self._share, self._is_open = share, is_open
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802 (Qt's name)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        lit = round(self._share * self.STROKES)
        for n in range(self.STROKES):
            high = 5 + 15 * (n + 1) / self.STROKES
            painter.setBrush((self._ink if self._is_open else self._faint) if n < lit else self._line)
            painter.drawRoundedRect(QRectF(n * (self.WIDE + self.GAP), 21 - high, self.WIDE, high), 1.5, 1.5)


class Running(QWidget):
    """The moment that is left, as a line that becomes shorter."""

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._ink, self._share = QColor(palette.ink), 0.0
        self.setFixedHeight(3)

    def show_share(self, share: float) -> None:
        if share != self._share:
            self._share = share
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802 (Qt's name)
        painter = QPainter(self)
        painter.fillRect(QRectF(0, 0, self.width() * self._share, self.height()), self._ink)


class VoiceBar(QFrame):
    asked = Signal(object)  # a gesture
    page_asked = Signal()

    def __init__(self, voice: Voice, palette: Palette) -> None:
        super().__init__()
        self._voice = voice
        self.setObjectName("sheet")
        self.level, self.running = Level(palette), Running(palette)
        self.state = label("", "faint")
        self.heard = label("", "", wrap=True)
        self.counts = QPushButton(tr("Counts  ⏎"))
        self.not_that = QPushButton(tr("Not that  Esc"))
        self.what = QPushButton(tr("What can I say?"))
        explain((self.counts, tr("Let what was heard count at once")),
                (self.not_that, tr("Take back what was heard; “no” does the same")),
                (self.what, tr("Every sentence that means something now")))
        for button in (self.counts, self.not_that, self.what):
            button.setObjectName("offer")
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.counts.clicked.connect(lambda _: self.asked.emit(Gesture.USUAL))
        self.not_that.clicked.connect(lambda _: self.asked.emit(Gesture.ESCAPE))
        self.what.clicked.connect(lambda _: self.page_asked.emit())
        self.level.setAccessibleName(tr("Level of the microphone"))
        self.running.setAccessibleName(tr("Time left to take it back"))
        under = QHBoxLayout()
        under.setSpacing(10)
        under.addWidget(self.state)
        under.addWidget(self.running, 1)
        text = QVBoxLayout()
        text.setSpacing(1)
        text.addWidget(self.heard)
        text.addLayout(under)
        line = QHBoxLayout(self)
        line.setContentsMargins(10, 4, 8, 4)
        line.setSpacing(10)
        line.addWidget(self.level)
        line.addLayout(text, 1)
        for widget in (self.counts, self.not_that, self.what):
            line.addWidget(widget)
        voice.changed.connect(self.show_voice)
        self.show_voice()

    def show_voice(self) -> None:
        voice = self._voice
        self.setVisible(voice.is_on)
        if voice.ear is None:
            return
        state, is_open = voice.state, voice.dialogue.is_open
        self.level.show_level(voice.ear.level_db, is_open=voice.ear.is_open)
        self.running.show_share(voice.share_left)
        for button in (self.counts, self.not_that):
            button.setVisible(is_open)
        self.what.setVisible(not is_open)
        self.state.setText(from_table(STATES, state) if voice.dialogue.waits is None or state not in QUIET
                           else tr("counts in a moment; “no” takes it back"))
        heard = voice.echo or tr(HINTS[voice.ear.opens])
        if heard != self.heard.text():
            self.heard.setText(heard)
