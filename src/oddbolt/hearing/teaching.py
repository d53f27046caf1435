"""Who listens to sentences that are read aloud, and learns the voice from them."""

from __future__ import annotations

import tempfile
from collections import Counter
from collections.abc import Iterable
from pathlib import Path
from typing import Self

import numpy as np

from oddbolt.hearing.acoustic import SILENT, WIDE, AcousticModel, OwnVoice
from oddbolt.hearing.grammar import Grammar, Pattern, Slot
from oddbolt.hearing.learning import Told, changing, learned
from oddbolt.hearing.listener import Pronounced
from oddbolt.hearing.pronouncing import WAYS
from oddbolt.hearing.sounds import dithered
from oddbolt.hearing.sphinx import SphinxListener, model_folder

LEAST_READ = -2.6  # likeness of a sentence that was read aloud, by whatever accent
LEAST_SENTENCES = 10  # of which a voice is learned
LEAST_TIMES, LEAST_SHARE = 3, 0.5  # so often somebody could have had a way of an accent, and had it


class SphinxTeacher(SphinxListener):
    """To be closed, or used with `with`. Raises NoListener where the extra is not installed."""

    def __init__(self, own: Pronounced) -> None:
        self._folder = tempfile.TemporaryDirectory(prefix="odd-bolt-voice-")  # into which cepstra are written
        super().__init__(own, mfclogdir=self._folder.name)
        self._told: list[Told] = []
        self._could, self._did = Counter[str](), Counter[str]()  # ways of accents

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        self.close()

    def close(self) -> None:
        self._folder.cleanup()

    def read(self, text: str, samples: np.ndarray) -> bool:
        """Whether that was read; if it was, it is kept to be learned from."""
        words, sound = text.split(), dithered(samples).tobytes()
        grammar = Grammar([Pattern("read", (Slot("text", {text: ""}),))])
        self._tell_words(grammar)
        self._cepstra()
        found, score = self._decode(grammar, sound)
        cepstra = self._cepstra()
        if found != words or len(cepstra) == 0:
            return False
        if self._likeness(score, sound, len(cepstra)) < LEAST_READ:
            return False
        parts = [(tuple(phones.split()), one.start_frame, min(one.end_frame + 1, len(cepstra)))
                 for one in self._decoder.seg() if (phones := self._decoder.lookup_word(one.word))]
        self._told.append(Told(changing(cepstra), parts))
        for word, (phones, _, _) in zip(words, (part for part in parts if part[0][0] not in SILENT)):
            ways = self.dictionary.in_all_ways(word)
            self._could.update(frozenset().union(*ways.values()))
            self._did.update(ways.get(" ".join(phones), ()))
        return True

    def learned(self) -> OwnVoice | None:
        """None where too little was read."""
        if len(self._told) < LEAST_SENTENCES:
            return None
        ways = tuple(way for way in WAYS if self._could[way] >= LEAST_TIMES
                     and self._did[way] >= LEAST_SHARE * self._could[way])
        return OwnVoice(learned(AcousticModel(model_folder()), self._told), ways)

    def _further(self, word: str) -> Iterable[str]:
        """In every accent: which of them it is, is found out."""
        return self.dictionary.not_shipped(word, self.dictionary.in_all_ways(word))

    def _cepstra(self) -> np.ndarray:
        """Of the last sound (frames, 13); whatever was written is deleted."""
        files = sorted(Path(self._folder.name).iterdir())
        bodies = [file.read_bytes() for file in files]
        for file in files:
            file.unlink()
        return np.frombuffer(bodies[-1][4:] if bodies else b"", ">f4").reshape(-1, WIDE).astype(float)
