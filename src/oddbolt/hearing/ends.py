"""Where a sentence begins and ends: by its level above the noise of the room, which is followed all the time."""

from __future__ import annotations

import numpy as np

from oddbolt.hearing.listener import RATE_HZ
from oddbolt.hearing.sounds import level_db

FRAME_S = 0.02
ABOVE_DB = 7.0  # above the room: speech
BEGINS_S, ENDS_S = 0.08, 0.65  # so long it is loud, or quiet, before a sentence has begun, or is over
BEFORE_S = 0.35  # kept from before it began
LONGEST_S = 12.0
QUIETEST_DB = -66.0  # no room is quieter for a microphone: digital silence would make a breath loud
FALLS, RISES = 0.2, 0.004  # how fast the level of the room is followed downwards and upwards, a frame


class SentenceEnds:
    """Is given sound as it comes, of any length; gives back a sentence when one is over."""

    def __init__(self, quiet_s: float = ENDS_S, longest_s: float = LONGEST_S, room_db: float | None = None) -> None:
        self._ends_s, self._longest_s = quiet_s, longest_s
        self._rest = np.zeros(0, np.int16)
        self._frames: list[np.ndarray] = []
        self.room_db = room_db  # None: as loud as what is heard first
        self._loud = self._quiet = 0
        self.is_speech = False
        self.level_db = QUIETEST_DB

    def take(self, samples: np.ndarray) -> list[np.ndarray]:
        """The sentences that are over with this sound."""
        found = []
        size = round(FRAME_S * RATE_HZ)
        self._rest = np.concatenate([self._rest, samples])
        while len(self._rest) >= size:
            frame, self._rest = self._rest[:size], self._rest[size:]
            sentence = self._frame(frame)
            if sentence is not None:
                found.append(sentence)
        return found

    def finish(self) -> np.ndarray | None:
        """The key was let go: what was said so far, if anything."""
        sentence = np.concatenate([*self._frames, self._rest]) if self.is_speech else None
        self._begin_again()
        self._rest = np.zeros(0, np.int16)
        return sentence

    def _frame(self, frame: np.ndarray) -> np.ndarray | None:
        level = max(level_db(frame), QUIETEST_DB)
        self.level_db = level
        self._frames.append(frame)
        if self.room_db is None:
            self.room_db = level
        is_loud = level > self.room_db + ABOVE_DB
        if not self.is_speech or not is_loud:
            self.room_db += (level - self.room_db) * (FALLS if level < self.room_db else RISES)
        self._loud, self._quiet = (self._loud + 1, 0) if is_loud else (0, self._quiet + 1)
        if not self.is_speech:
            self.is_speech = self._loud * FRAME_S >= BEGINS_S
            del self._frames[:-round((BEFORE_S + BEGINS_S) / FRAME_S)]
            return None
        if self._quiet * FRAME_S < self._ends_s and len(self._frames) * FRAME_S < self._longest_s:
            return None
        sentence = np.concatenate(self._frames)
        if self._quiet * FRAME_S < self._ends_s:  # nobody speaks so long: what hums is of the room from now on
            self.room_db = float(np.median([level_db(one) for one in self._frames]))
        self._begin_again()
        return sentence

    def _begin_again(self) -> None:
        self._frames, self._loud, self._quiet, self.is_speech = [], 0, 0, False
