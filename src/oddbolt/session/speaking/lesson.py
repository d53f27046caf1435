"""A lesson: sentences are read aloud one after the other, and a voice is learned from them. Knows no window: whoever
holds it asks it some times a second.
"""

from __future__ import annotations

from collections.abc import Sequence
from concurrent.futures import Future
from enum import Enum
from typing import Protocol

import numpy as np

from oddbolt.catalog.tables import table
from oddbolt.hearing.acoustic import OwnVoice
from oddbolt.hearing.ends import SentenceEnds
from oddbolt.hearing.teaching import LEAST_SENTENCES
from oddbolt.instruments.microphones import Microphone

QUIET_S = 0.9  # a sentence that is read has longer pauses than one that is said


def teaching_sentences() -> tuple[str, ...]:
    return tuple(table("spoken.toml")["teaching"]["sentences"])


class Teacher(Protocol):
    def begin(self) -> Future[bool]: ...

    def read(self, text: str, samples: np.ndarray) -> Future[bool]: ...

    def learned(self) -> Future[OwnVoice | None]: ...

    def stop(self) -> None: ...


class Stage(Enum):
    LOADING = "loading"
    READING = "reading"
    CHECKING = "checking"  # whether it was that sentence
    AGAIN = "again"  # it was not, or not clear
    LEARNING = "learning"
    DONE = "done"


class Lesson:
    def __init__(self, teacher: Teacher, microphone: Microphone, sentences: Sequence[str]) -> None:
        self._teacher, self._microphone, self.sentences = teacher, microphone, sentences
        self.at, self.read = 0, 0
        self.stage = Stage.LOADING
        self.voice: OwnVoice | None = None
        self._ends = SentenceEnds(QUIET_S)
        self._waits: Future[bool] | Future[OwnVoice | None] | None = None

    @property
    def text(self) -> str:
        return self.sentences[self.at] if self.at < len(self.sentences) else ""

    @property
    def level_db(self) -> float:
        return self._ends.level_db

    @property
    def is_enough(self) -> bool:
        """Whether a voice can be learned from what was read."""
        return self.read >= LEAST_SENTENCES

    def start(self) -> None:
        """From the first sentence on. Raises InstrumentFault, NoListener."""
        self.at = self.read = 0
        self.stage = Stage.LOADING
        self._waits = self._teacher.begin()
        self._microphone.start()

    def stop(self) -> None:
        self._microphone.stop()
        self._teacher.stop()

    def skip(self) -> None:
        """The sentence is left out."""
        if self.stage in (Stage.READING, Stage.AGAIN):
            self._next()

    def learn(self) -> None:
        """From what was read so far."""
        if self.is_enough and self.stage in (Stage.READING, Stage.AGAIN):
            self._begin_learning()

    def poll(self) -> None:
        """What was read since. Raises InstrumentFault, NoListener, BrokenProcessPool."""
        if self.stage is Stage.DONE:
            return
        found = self._ends.take(self._microphone.read())
        waits = self._waits
        if waits is not None:
            if waits.done():
                self._waits = None
                self._answered(waits.result())
            return  # what is said meanwhile is not listened to
        if found and self.stage in (Stage.READING, Stage.AGAIN):
            self.stage = Stage.CHECKING
            self._waits = self._teacher.read(self.text, found[-1])

    def _answered(self, result: bool | OwnVoice | None) -> None:
        if self.stage is Stage.LOADING:
            self.stage = Stage.READING
        elif self.stage is Stage.LEARNING:
            self.voice = result if isinstance(result, OwnVoice) else None
            self.stage = Stage.DONE
        elif result:
            self.read += 1
            self._next()
        else:
            self.stage = Stage.AGAIN

    def _next(self) -> None:
        self._ends.finish()
        self.at += 1
        self.stage = Stage.READING
        if self.at < len(self.sentences):
            return
        if self.is_enough:
            self._begin_learning()
        else:
            self.stage = Stage.DONE

    def _begin_learning(self) -> None:
        self.stage = Stage.LEARNING
        self._waits = self._teacher.learned()
