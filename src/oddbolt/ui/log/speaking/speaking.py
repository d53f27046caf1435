"""The Log by voice: put together when it is first asked for, so that whoever does not speak pays nothing for it."""

from __future__ import annotations

import shutil
import subprocess
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PySide6.QtCore import QObject, QTimer
from PySide6.QtWidgets import QDialog, QSplitter

from oddbolt.catalog.tables import table
from oddbolt.hearing.apart import TeacherApart
from oddbolt.hearing.sounds import NoSound, read_wav
from oddbolt.instruments.microphones import Microphone, SimulatedMicrophone, SystemMicrophone
from oddbolt.model.refusal import Refusal
from oddbolt.session.change import OPENED, Change
from oddbolt.session.speaking.carrying_out import CarryingOut
from oddbolt.session.speaking.notes import type_note, untyped
from oddbolt.session.speaking.shipped import Sentence, shipped_sentences
from oddbolt.store import preferences
from oddbolt.store.own_voices import forget_voice, known_voices, read_voice
from oddbolt.ui.log.giving_room import LEAST_BELOW_PX, give_room
from oddbolt.ui.log.speaking.bar import VoiceBar
from oddbolt.ui.log.speaking.page import SIMULATED, VoicePage
from oddbolt.ui.log.speaking.talk_key import TalkKey
from oddbolt.ui.log.speaking.teaching import TeachingSheet
from oddbolt.ui.log.speaking.voice import Voice
from oddbolt.ui.pieces.sheet import scrolled
from oddbolt.words.refusals import refusal_text
from oddbolt.words.translate import tr

if TYPE_CHECKING:
    from oddbolt.ui.log.log_pieces import LogPieces

PLAYERS = ("pw-play", "paplay", "aplay")


class Speaking(QObject):
    """Voice, strip and page of one Log."""

    def __init__(self, panel: LogPieces) -> None:
        super().__init__(panel)
        self._panel = panel
        recorder = panel.recorder
        carry = CarryingOut(recorder=recorder, seen=panel.seen_acts, telling=panel.telling, tools=panel.with_what,
                            deed=panel.gestures.deed)
        self.voice = Voice(recorder, carry, lambda: len(panel.seen_acts.shown))
        self.bar, self.page = VoiceBar(self.voice, panel.colours), VoicePage()
        self.key = TalkKey(panel)
        self.simulated = SimulatedMicrophone()
        self._sentences: list[Sentence] = []
        self._playing: subprocess.Popen[bytes] | None = None
        self._place = panel.above.addTab(scrolled(self.page), tr("Say"))
        panel.voice_strip.addWidget(self.bar)
        self._wire()
        recorder.session.listen(self._follow)

    def _wire(self) -> None:
        panel, voice, page = self._panel, self.voice, self.page
        voice.said.connect(lambda text, alarm: panel.say(text, alarm=alarm))
        voice.changed.connect(self._show)
        voice.noted.connect(self._show_notes)
        self.bar.asked.connect(panel.gestures.deed)
        self.bar.page_asked.connect(self.show_page)
        self.key.pressed.connect(voice.press)
        self.key.released.connect(voice.release)
        page.switched.connect(self.switch)
        page.chosen.connect(self._chosen)
        page.played.connect(self._say)
        page.note_typed.connect(lambda entry, text: panel.recorder.do(type_note, entry, text, panel.recorder.t))
        page.note_asked.connect(self.play)
        page.whose_chosen.connect(self.hear_voice_of)
        page.teach_asked.connect(self.teach)
        page.forget_asked.connect(self.forget)
        panel.above.currentChanged.connect(lambda _: self._show())
        self.hear_voice_of(preferences.read().voice)
        self._chosen()
        self._show_notes()

    # -- on and off

    def show_page(self) -> None:
        above = self._panel.above
        above.setCurrentIndex(self._place)
        both = above.parentWidget()
        if isinstance(both, QSplitter):
            QTimer.singleShot(0, self, lambda: give_room(self.page, both, LEAST_BELOW_PX))

    def switch(self, on: bool) -> None:
        if on:
            self.voice.switch_on(self._microphone(), self.page.opens.currentData())
        else:
            self.voice.switch_off()
        self._show()

    def listen_once(self) -> None:
        """The second foot switch: one sentence is listened to; where nobody listens yet, that is begun."""
        if not self.voice.is_on:
            self.switch(True)
        self.voice.tap()

    def _microphone(self) -> Microphone:
        return self.simulated if self.page.microphone.currentData() == SIMULATED else SystemMicrophone()

    def _chosen(self) -> None:
        """Another microphone or another way of opening: heard by from now on."""
        is_simulated = self.page.microphone.currentData() == SIMULATED
        if is_simulated and not self._sentences:
            self._sentences = shipped_sentences()
        self.page.show_sentences([one.text for one in self._sentences] if is_simulated else [])
        if self.voice.is_on:
            self.switch(True)

    def _say(self, place: int) -> None:
        """A shipped sentence, as if somebody held the key and said it."""
        if self.voice.ear is None or not self.voice.ear.is_open:
            self.listen_once()
        self.simulated.say(read_wav(self._sentences[place].sound()))

    # -- whose voice

    def hear_voice_of(self, name: str) -> None:
        """From now on; empty: anybody's. What cannot be read is said, and anybody's voice is heard."""
        try:
            voice = read_voice(name) if name else None
        except Refusal as refusal:
            self._panel.say(refusal_text(refusal), alarm=True)
            name, voice = "", None
        was_on = self.voice.is_on
        self.voice.switch_off()
        self.voice.listener.use(voice)
        before = preferences.read()
        if before.voice != name:
            self._try(lambda: preferences.write(replace(before, voice=name)))
        self.page.show_voices(known_voices(), name)
        if was_on:
            self.switch(True)

    def teach(self) -> None:
        """A sheet of its own; while it is open the bench does not listen."""
        self.switch(False)
        sheet = TeachingSheet(self._panel, self._panel.colours, self._microphone(),
                              TeacherApart(table("spoken.toml")["pronounced"]))
        is_learned, name = sheet.exec() == QDialog.DialogCode.Accepted, sheet.name.text().strip()
        sheet.deleteLater()
        if is_learned:
            self.hear_voice_of(name)
            self._panel.say(tr("The voice of {0} was learned").format(name))

    def forget(self, name: str) -> None:
        if name:
            self._try(lambda: forget_voice(name))
            self.hear_voice_of("")

    def _try(self, what: Callable[[], None]) -> None:
        try:
            what()
        except Refusal as refusal:
            self._panel.say(refusal_text(refusal), alarm=True)

    # -- what is shown

    def _follow(self, change: Change) -> None:
        if change.kind == OPENED:
            self.voice.take_back()
        self._show()
        if change.kind == OPENED or change.touches(("log",)):
            self._show_notes()

    def _show(self) -> None:
        self.key.on = self.voice.is_on
        self.page.show_grammar(self.voice.grammar_shown, is_on=self.voice.is_on)

    def _show_notes(self) -> None:
        teardown = self._panel.recorder.session.teardown
        self.page.show_notes(teardown, untyped(teardown))

    # -- notes

    def play(self, name: str) -> None:
        """A note, by a program of the system."""
        body = self._panel.recorder.session.photo(name) if name else None
        try:
            if body is None:
                raise NoSound("no-sound")
            read_wav(body)
        except NoSound:
            self._panel.say(tr("The note {0} is not there or cannot be read").format(name), alarm=True)
            return
        player = next((path for program in PLAYERS if (path := shutil.which(program))), None)
        if player is None:
            self._panel.say(tr("No program is there that plays sound: {0}").format(", ".join(PLAYERS)), alarm=True)
            return
        self._stop_playing()
        with tempfile.NamedTemporaryFile(suffix=".wav", delete=False) as file:
            file.write(body)
        self._sound = Path(file.name)
        self._playing = subprocess.Popen([player, file.name], stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL,
                                         stderr=subprocess.DEVNULL)

    def _stop_playing(self) -> None:
        if self._playing is not None:
            self._playing.terminate()
            self._playing.wait()
            self._playing = None
            self._sound.unlink(missing_ok=True)

    def stop(self) -> None:
        self._stop_playing()
        self.voice.stop()
