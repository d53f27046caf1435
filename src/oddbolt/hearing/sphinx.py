"""The recogniser that comes along as an extra: PocketSphinx (BSD), with the American English model of its wheel.

A sentence is decoded by the grammar of the moment, and then by all of it that means something else, place by place. How
far the two lie apart is the confidence; a posterior of the first alone says nothing of what was pruned away. A loop of
free phones says whether it was any sentence at all. What was tried and what it brought: docs/methods/voice.md.
"""

from __future__ import annotations

import math
import tempfile
from collections.abc import Iterable, Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import numpy as np

from oddbolt.hearing.acoustic import AcousticModel, OwnVoice
from oddbolt.hearing.grammar import Grammar, Said
from oddbolt.hearing.listener import RATE_HZ, Heard, NoListener, Pronounced
from oddbolt.hearing.pronouncing import Dictionary
from oddbolt.hearing.sounds import dithered

# Tuned on the tuning half of scripts/voice_study.py.
LEAST_MARGIN = 45.0
LEAST_LIKENESS, LEAST_OF_LEARNED = -1.7, -1.3  # of anybody, and of a voice that was learned
# Scores are given relative to the best of the sounds that are looked at: only where all are, two searches can be
# compared. Wider beams than the recogniser's own lose no sentence; its second search, through a lattice, loses some.
SEARCH = {"compallsen": True, "beam": 1e-64, "wbeam": 1e-40, "pbeam": 1e-64, "maxhmmpf": -1, "bestpath": False}
LOOP = {"compallsen": True, "lw": 2.0, "beam": 1e-20, "pbeam": 1e-20}
LAST_FRAMES = 3
DICTIONARY = "cmudict-en-us.dict"


def dictionary(own: Pronounced) -> Dictionary:
    """The words that can be recognised. Raises NoListener where the extra is not installed."""
    try:
        return Dictionary(_model() / DICTIONARY, own)
    except OSError as fault:
        raise NoListener(str(fault)) from fault


def _model() -> Path:
    try:
        import pocketsphinx
    except (ImportError, OSError) as missing:  # OSError: a library of the system is missing
        raise NoListener(str(missing)) from missing
    return Path(pocketsphinx.get_model_path()) / "en-us"


def model_folder() -> Path:
    """Of the acoustic model. Raises NoListener."""
    return _model() / "en-us"


@contextmanager
def _means(voice: OwnVoice | None) -> Iterator[dict[str, str]]:
    """What a decoder is told of a voice while it is made; nothing for anybody's."""
    if voice is None:
        yield {}
        return
    with tempfile.NamedTemporaryFile(prefix="odd-bolt-", suffix=".means") as file:
        file.write(AcousticModel(model_folder()).means_file(voice))
        file.flush()
        yield {"mean": file.name}


class SphinxListener:
    """Holds the decoders and the words they were told; `more` is said to the first of them besides. Raises NoListener
    where the extra is not installed."""

    def __init__(self, own: Pronounced, voice: OwnVoice | None = None, **more: Any) -> None:
        self.dictionary, model = dictionary(own), _model()
        self._ways = voice.ways if voice is not None else ()
        self._least_likeness = LEAST_LIKENESS if voice is None else LEAST_OF_LEARNED
        import pocketsphinx

        try:
            common = {"hmm": str(model_folder()), "samprate": RATE_HZ, "loglevel": "FATAL", "lm": None,
                      "dict": str(model / DICTIONARY)}
            with _means(voice) as own_means:
                common |= own_means
                self._decoder = pocketsphinx.Decoder(**common, **SEARCH, **more)
                self._loop = pocketsphinx.Decoder(**common, **LOOP, allphone=str(model / "en-us-phone.lm.bin"))
        except (OSError, RuntimeError, ValueError) as fault:
            raise NoListener(str(fault)) from fault
        self._known: set[str] = set()

    def knows(self, word: str) -> bool:
        return self.dictionary.knows(word)

    def hear(self, grammar: Grammar, samples: np.ndarray) -> Heard:
        sound = dithered(samples).tobytes()
        if not sound or not grammar.patterns:
            return Heard()
        self._tell_words(grammar)
        words, score = self._decode(grammar, sound)
        frames = max(1, self._decoder.n_frames())
        said = grammar.understand(words)
        if said is None:  # the search ended in nothing: each kind of sentence by itself
            said, score = self._likeliest([Grammar([pattern]) for pattern in grammar.patterns], sound)
        if said is None:
            return Heard()
        other, runner_up = self._likeliest(grammar.without(said), sound)
        if other is not None and runner_up > score:  # it had been pruned away
            said, score = other, runner_up
            other, runner_up = self._likeliest(grammar.without(said), sound)
        margin, likeness = score - runner_up, self._likeness(score, sound, frames)
        # Where nothing else could be found at all, the search has lost it, and says nothing.
        return Heard(said=said, other=other, margin=margin, likeness=likeness, is_sure=other is not None
                     and margin >= LEAST_MARGIN and likeness >= self._least_likeness)

    def _likeness(self, score: float, sound: bytes, frames: int) -> float:
        return (score - _run(self._loop, sound)[1]) / frames

    def _likeliest(self, grammars: Sequence[Grammar], sound: bytes) -> tuple[Said | None, float]:
        """The likeliest sentence of several grammars, with its score."""
        best: tuple[Said | None, float] = None, -math.inf
        for grammar in grammars:
            words, score = self._decode(grammar, sound)
            said = grammar.understand(words)
            if said is not None and score > best[1]:
                best = said, score
        return best

    def _further(self, word: str) -> Iterable[str]:
        """Pronunciations that the recogniser does not have yet."""
        return self.dictionary.further(word, self._ways)

    def _tell_words(self, grammar: Grammar) -> None:
        for word in sorted(grammar.words() - self._known):
            self._known.add(word)
            number = len(self.dictionary.shipped(word))
            for phones in self._further(word):
                number += 1
                self._decoder.add_word(word if number == 1 else f"{word}({number})", phones, False)

    def _decode(self, grammar: Grammar, sound: bytes) -> tuple[list[str], float]:
        self._decoder.add_jsgf_string("now", grammar.jsgf())
        self._decoder.activate_search("now")
        return _run(self._decoder, sound)


def _run(decoder: Any, sound: bytes) -> tuple[list[str], float]:
    """Words and the logarithm of their score; minus infinity where nothing was found."""
    decoder.start_utt()
    decoder.process_raw(sound, full_utt=True)
    decoder.end_utt()
    found = decoder.hyp()
    if found is None or found.score <= 0:
        return [], -math.inf
    # In the midst of a word the sound ended: that is no sentence, whatever its beginning reads like.
    if max((segment.end_frame for segment in decoder.seg()), default=0) < decoder.n_frames() - LAST_FRAMES:
        return [], -math.inf
    return found.hypstr.split(), 1024 * math.log(found.score)  # the score is a 1024th part, to fit its numbers
