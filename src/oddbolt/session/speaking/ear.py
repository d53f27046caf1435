"""The ear of the bench: a microphone, what opens it, and the sentences and notes that come in. Knows no window: whoever
holds it asks it some times a second, and says how much time has gone by.
"""

from __future__ import annotations

from enum import Enum

import numpy as np

from oddbolt.hearing.ends import SentenceEnds
from oddbolt.instruments.microphones import Microphone

OPEN_S = 25.0  # after the start word, and after each sentence that was understood
NOTE_QUIET_S, NOTE_MOST_S = 1.8, 60.0  # a note ends when one is silent so long, or after so much
TAP_S = 0.35  # the key let go sooner was tapped: one sentence is listened to


class Opens(Enum):
    """What opens the ear."""

    HELD = "held"  # a key or a pedal that is held, or tapped for one sentence
    WORD = "word"  # the start word


class Ear:
    def __init__(self, microphone: Microphone, opens: Opens) -> None:
        self._microphone, self.opens = microphone, opens
        self._ends = SentenceEnds()
        self._note: SentenceEnds | None = None
        self._pressed_at_s: float | None = None
        self._is_tapped = False
        self._open_until_s = self._now_s = 0.0

    def start(self) -> None:
        """Raises InstrumentFault."""
        self._microphone.start()

    def stop(self) -> None:
        self._microphone.stop()

    @property
    def is_open(self) -> bool:
        """Whether what is said now is meant for the bench."""
        return self._pressed_at_s is not None or self._is_tapped or self._now_s < self._open_until_s

    @property
    def is_speech(self) -> bool:
        """Whether somebody speaks to the bench now."""
        return self._ends.is_speech

    @property
    def is_noting(self) -> bool:
        return self._note is not None

    @property
    def level_db(self) -> float:
        return (self._note or self._ends).level_db

    # -- what opens it

    def press(self) -> None:
        """The key to talk goes down."""
        if self._pressed_at_s is None:
            self._pressed_at_s = self._now_s

    def release(self) -> np.ndarray | None:
        """It goes up: what was said so far, if anything; a note goes on until it is silent. Only tapped, one sentence
        is listened to; tapped again, none."""
        pressed, self._pressed_at_s = self._pressed_at_s, None
        if pressed is None or self.is_noting:
            return None
        if self._now_s - pressed < TAP_S and not self._ends.is_speech:
            self.tap()
            return None
        return self._ends.finish()

    def tap(self) -> None:
        self._is_tapped = not self._is_tapped

    def stay_open(self) -> None:
        """Something was understood: whoever opened it by the start word may go on."""
        if self.opens is Opens.WORD:
            self._open_until_s = self._now_s + OPEN_S

    # -- what comes in

    def listen(self, gone_s: float) -> tuple[list[np.ndarray], np.ndarray | None]:
        """Sentences that are over, and a note that is; raises InstrumentFault. Closed and to be held, it follows the
        level of the room and keeps nothing."""
        self._now_s += gone_s
        samples = self._microphone.read()
        if self._note is not None:
            notes = self._note.take(samples)
            if notes:
                self._note = None
            return [], notes[0] if notes else None
        found = self._ends.take(samples)
        if not self.is_open and self.opens is Opens.HELD:
            self._ends.finish()
            return [], None
        if found:
            self._is_tapped = False
        return found, None

    def begin_note(self) -> None:
        """What is said next is kept as it is."""
        self._ends.finish()
        self._note = SentenceEnds(NOTE_QUIET_S, NOTE_MOST_S, self._ends.room_db)

    def end_note(self) -> np.ndarray | None:
        """What was said of a note so far, if one was begun."""
        note, self._note = self._note, None
        return note.finish() if note is not None else None
