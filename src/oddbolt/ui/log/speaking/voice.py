"""The bench by voice: the ear, the recogniser apart, and what becomes of each sentence.

The window asks the ear some times a second. A sentence that is over is handed to the recogniser, which works in a
process of its own; while it works, and while somebody speaks, nothing that waits to count counts: it may be taken back.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Callable
from concurrent.futures import Future
from concurrent.futures.process import BrokenProcessPool
from copy import deepcopy
from enum import Enum
from typing import Any

import numpy as np
from PySide6.QtCore import QObject, QTimer, Signal

from oddbolt.catalog.tables import table
from oddbolt.hearing.apart import ListenerApart
from oddbolt.hearing.grammar import Grammar, Said
from oddbolt.hearing.listener import RATE_HZ, Heard, NoListener
from oddbolt.hearing.sounds import write_wav
from oddbolt.instruments.microphones import Microphone
from oddbolt.instruments.protocols import InstrumentFault
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown
from oddbolt.session.modes import Act
from oddbolt.session.recording.recorder import Recorder
from oddbolt.session.speaking.carrying_out import CarryingOut
from oddbolt.session.speaking.dialogue import Dialogue, Turn
from oddbolt.session.speaking.ear import Ear, Opens
from oddbolt.session.speaking.notes import spoken_note
from oddbolt.session.speaking.sentences import NO, UNDO, YES, Moment, awake, grammar_of, woken
from oddbolt.session.typed_line import NotUnderstood
from oddbolt.ui.log.speaking.text import no_listener_text, refused_text, that_can_be, turn_text
from oddbolt.words.refusals import fault_text, refusal_text
from oddbolt.words.translate import tr

POLL_MS = 50
PAUSE_S = 1.6  # in which what was heard can be taken back
NOTE_NAME = "note.wav"


class State(Enum):
    OFF = "off"
    LOADING = "loading"
    CLOSED = "closed"
    OPEN = "open"
    HEARING = "hearing"  # somebody speaks
    WORKING = "working"  # a sentence is being recognised
    NOTING = "noting"


class Working(Enum):
    """For whom a sentence is recognised: whoever was listened to already, or perhaps says the start word."""

    AWAKE, PERHAPS = True, False


class Voice(QObject):
    changed = Signal()
    said = Signal(str, bool)
    noted = Signal()

    def __init__(self, recorder: Recorder, carry: CarryingOut, seen: Callable[[], int]) -> None:
        super().__init__()
        self.recorder, self._carry, self._seen = recorder, carry, seen
        carry.note = self.begin_note
        self.listener = ListenerApart(table("spoken.toml")["pronounced"])
        self.dialogue = Dialogue(self._counts)
        self.ear: Ear | None = None
        self.pause_s = PAUSE_S
        self.echo = ""  # what was heard last, in words
        self._left_s = 0.0  # until what waits counts
        self._sentences: deque[tuple[np.ndarray, Working]] = deque()
        self._working: tuple[Future[Heard], np.ndarray, Working] | None = None
        self._loading: Future[Any] | None = None
        self._made: tuple[Teardown, tuple[object, ...], Grammar] | None = None  # the grammar of the moment
        self._timer = QTimer(self)
        self._timer.setInterval(POLL_MS)
        self._timer.timeout.connect(lambda: self.poll(POLL_MS / 1000))
        recorder.acts |= {Act.COUNT_HEARD: self.count_now, Act.TAKE_BACK_HEARD: self.take_back}

    # -- on and off

    @property
    def is_on(self) -> bool:
        return self.ear is not None

    @property
    def state(self) -> State:
        ear = self.ear
        if ear is None:
            return State.OFF
        if self._loading is not None:
            return State.LOADING
        if ear.is_noting:
            return State.NOTING
        if ear.is_speech:
            return State.HEARING
        if self._working is not None or self._sentences:
            return State.WORKING
        return State.OPEN if ear.is_open else State.CLOSED

    @property
    def share_left(self) -> float:
        """Of the pause in which what was heard can be taken back; 0 where nothing waits."""
        return self._left_s / self.pause_s if self.dialogue.waits is not None and self.pause_s else 0.0

    def switch_on(self, microphone: Microphone, opens: Opens) -> bool:
        """Listen from now on; False, and it is said why, where the microphone or the recogniser is not there."""
        self.switch_off()
        ear = Ear(microphone, opens)
        try:
            self.listener.knows("")
            self._loading = self.listener.begin()
            ear.start()
        except NoListener as fault:
            self.said.emit(no_listener_text(fault), True)
            return False
        except InstrumentFault as fault:
            self.said.emit(fault_text(fault), True)
            return False
        self.ear = ear
        self._timer.start()
        self.changed.emit()
        return True

    def switch_off(self) -> None:
        """What waits to count is taken back; a note that was begun is kept."""
        self._timer.stop()
        ear, self.ear = self.ear, None
        if ear is not None:
            self._keep_note(ear.end_note())
            ear.stop()
        self._working = None
        self._sentences.clear()
        self.take_back()
        self.changed.emit()

    def stop(self) -> None:
        self.switch_off()
        self.listener.stop()

    # -- the key to talk

    def press(self) -> None:
        if self.ear is not None:
            self.ear.press()
            self.changed.emit()

    def release(self) -> None:
        sound = self.ear.release() if self.ear is not None else None
        if sound is not None:
            self._sentences.append((sound, Working.AWAKE))
        self.changed.emit()

    def tap(self) -> None:
        """One sentence is listened to, as a pedal asks for it that cannot be held."""
        if self.ear is not None:
            self.ear.tap()
            self.changed.emit()

    # -- time goes on

    def poll(self, gone_s: float) -> None:
        """What has come from the ear and from the recogniser, and what is over."""
        if self.ear is None or not self._loaded():
            return
        is_open = self.ear.is_open or self.ear.opens is Opens.HELD
        try:
            sentences, note = self.ear.listen(gone_s)
        except InstrumentFault as fault:
            self.switch_off()
            self.said.emit(fault_text(fault), True)
            return
        self._keep_note(note)
        self._sentences.extend((sound, Working(is_open)) for sound in sentences)
        self._recognise()
        # Whoever speaks may be about to take it back.
        if self.dialogue.waits is not None and self.state not in (State.HEARING, State.WORKING):
            self._left_s -= gone_s
            if self._left_s <= 0:
                self.count_now()
        self.changed.emit()

    def _loaded(self) -> bool:
        if self._loading is None:
            return True
        if not self._loading.done():
            return False
        loading, self._loading = self._loading, None
        try:
            loading.result()
        except (NoListener, BrokenProcessPool) as fault:
            self.switch_off()
            self.said.emit(no_listener_text(fault), True)
            return False
        return True

    # -- a sentence

    def grammar(self) -> Grammar:
        """What can be said now; raises NoListener where no recogniser is installed."""
        self.listener.knows("")
        return self._grammar(self.listener.knows, is_there=True)

    def grammar_shown(self) -> Grammar:
        """The same; without a recogniser as if it knew every word."""
        try:
            return self.grammar()
        except NoListener:
            return self._grammar(lambda word: True, is_there=False)

    def _grammar(self, knows: Callable[[str], bool], *, is_there: bool) -> Grammar:
        """Made anew only where the moment is another one: it is asked for many times a second."""
        recorder = self.recorder
        teardown, chosen, asked = recorder.session.teardown, recorder.selection, self.dialogue.asked is not None
        made_for = (deepcopy(chosen), recorder.offered, self._seen(), asked, is_there)
        if self._made is None or self._made[0] is not teardown or self._made[1] != made_for:
            self._made = teardown, made_for, grammar_of(Moment(
                teardown=teardown, selection=chosen, offered=recorder.offered, seen=self._seen(), asked=asked,
                knows=knows))
        return self._made[2]

    def _recognise(self) -> None:
        """The next sentence to the recogniser, or what it heard."""
        if self._working is None and self._sentences:
            self._hear(*self._sentences.popleft())
        elif self._working is not None and self._working[0].done():
            future, sound, whose = self._working
            self._working = None
            try:
                heard = future.result()
            except (NoListener, BrokenProcessPool):
                self.said.emit(tr("The recogniser stopped and is begun again; say it once more"), True)
                return
            self._heard(heard, sound, whose)

    def _hear(self, sound: np.ndarray, whose: Working) -> None:
        try:
            grammar = self.grammar()
            future = self.listener.hear(grammar if whose is Working.AWAKE else woken(grammar), sound)
            self._working = future, sound, whose
        except NoListener as fault:
            self.switch_off()
            self.said.emit(no_listener_text(fault), True)

    def _heard(self, heard: Heard, sound: np.ndarray, whose: Working) -> None:
        assert self.ear is not None
        if whose is Working.PERHAPS:
            heard = awake(heard)
            if heard.is_sure:
                self.ear.stay_open()
            if heard.said is None:  # the start word alone, or talk that is not meant for the bench
                self._show(tr("Yes?") if heard.is_sure else self.echo)
                return
        goes_on = heard.said is not None and heard.said.code not in (YES, NO, UNDO)
        if goes_on and self.dialogue.over():
            # What waited counts; now other things can be said, and the sound is heard once more.
            self._note_open()
            self._hear(sound, Working.AWAKE)
            return
        heard, refused = that_can_be(self.recorder.session.teardown, heard)
        if refused:
            self.said.emit(refused, True)
        turn = self.dialogue.heard(heard)
        if turn is not Turn.NOTHING:
            self.ear.stay_open()
        self._left_s = self.pause_s
        text = turn_text(self.recorder.session.teardown, turn, heard)
        self._show(text if text is not None else self.echo)
        self._note_open()

    def _show(self, text: str) -> None:
        self.echo = text
        self.changed.emit()

    def _note_open(self) -> None:
        """The table of modes knows whether something was heard that does not count yet."""
        if self.recorder.selection.heard != self.dialogue.is_open:
            self.recorder.selection.heard = self.dialogue.is_open
            self.recorder.tell.armed()

    def _counts(self, said: Said) -> None:
        self.recorder.selection.heard = False  # or else the act's own gesture would be about what was heard
        try:
            self._carry(said)
        except NotUnderstood as problem:
            self.said.emit(refused_text(problem, said), True)
        except Refusal as refusal:
            self.said.emit(refusal_text(refusal), True)

    # -- by keys

    def count_now(self) -> bool:
        """What waits counts at once; what is asked about is meant."""
        asked, self.dialogue.asked = self.dialogue.asked, None
        done = self.dialogue.over()
        if asked is not None and asked.said is not None:
            self._counts(asked.said)
            done = True
        self._note_open()
        self.changed.emit()
        return done

    def take_back(self) -> bool:
        was = self.dialogue.take_back()
        if was:
            self._show(tr("Taken back"))
        self._note_open()
        return was

    # -- notes

    def begin_note(self) -> None:
        if self.ear is not None:
            self.ear.begin_note()
            self._show(tr("Speak; silence ends the note"))

    def _keep_note(self, sound: np.ndarray | None) -> None:
        if sound is None:
            return
        recorder = self.recorder
        try:
            name = recorder.session.take_photo(NOTE_NAME, write_wav(sound), b"")
        except Refusal as refusal:
            self.said.emit(refusal_text(refusal), True)
            return
        if recorder.do(spoken_note, name, recorder.t, recorder.selection.thing):
            self._show(tr("Note of {0:.0f} s kept, to be typed later").format(len(sound) / RATE_HZ))
            self.noted.emit()
