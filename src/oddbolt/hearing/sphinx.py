"""The recogniser that comes along as an extra: PocketSphinx (BSD), with the American English model of its wheel.

Each sentence is decoded twice: by the grammar of the moment, then by all of it that means something else. How far the
two lie apart is the confidence; a posterior of the first alone says nothing of what the grammar does not have. A second
front end, its frequencies warped, weighs the two against each other once more. A loop of free phones says whether it
was any sentence at all. What was tried and what it brought: docs/methods/voice.md.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import numpy as np

from oddbolt.hearing.grammar import Grammar, one_sentence
from oddbolt.hearing.listener import RATE_HZ, Heard, NoListener, Pronounced
from oddbolt.hearing.pronouncing import Dictionary
from oddbolt.hearing.sounds import dithered

# Tuned on the tuning half of scripts/voice_study.py.
LEAST_MARGIN = 50.0
LEAST_LIKENESS = -1.8
ALONE_LIKENESS = -1.3  # where nothing else fits at all, which says little: the search may have lost it
# Wider than the recogniser's own: with it no sentence was lost; the search through its lattice of words lost more.
BEAMS = {"beam": 1e-64, "wbeam": 1e-40, "pbeam": 1e-64, "maxhmmpf": -1, "bestpath": False}
LOOP = {"lw": 2.0, "beam": 1e-20, "pbeam": 1e-20}
WARP = {"warp_type": "inverse_linear", "warp_params": "0.9"}
DICTIONARY = "cmudict-en-us.dict"
MOST_APART = 1000.0  # a sentence that a front end loses altogether


def dictionary(own: Pronounced) -> Dictionary:
    """The words that can be recognised. Raises NoListener where the extra is not installed."""
    try:
        return Dictionary(_model() / DICTIONARY, own)
    except OSError as fault:
        raise NoListener(str(fault)) from fault


def _model() -> Path:
    try:
        import pocketsphinx
    except ImportError as missing:
        raise NoListener(str(missing)) from missing
    return Path(pocketsphinx.get_model_path()) / "en-us"


class SphinxListener:
    """Holds the decoders and the words they were told. Raises NoListener where the extra is not installed."""

    def __init__(self, own: Pronounced) -> None:
        self.dictionary, model = dictionary(own), _model()
        import pocketsphinx

        try:
            common = {"hmm": str(model / "en-us"), "samprate": RATE_HZ, "loglevel": "FATAL", "lm": None,
                      "dict": str(model / DICTIONARY)}
            self._decoder = pocketsphinx.Decoder(**common, **BEAMS)
            self._second = pocketsphinx.Decoder(**common, **BEAMS, **WARP)
            self._loop = pocketsphinx.Decoder(**common, **LOOP, allphone=str(model / "en-us-phone.lm.bin"))
        except (OSError, RuntimeError, ValueError) as fault:
            raise NoListener(str(fault)) from fault
        self._told: set[str] = set()

    def knows(self, word: str) -> bool:
        return self.dictionary.knows(word)

    def hear(self, grammar: Grammar, samples: np.ndarray) -> Heard:
        sound = dithered(samples).tobytes()
        if not sound or not grammar.patterns:
            return Heard()
        self._tell_words(grammar)
        words, score = self._decode(self._decoder, grammar.jsgf(), sound)
        frames = max(1, self._decoder.n_frames())
        said = grammar.understand(words)
        if said is None:
            return Heard()
        rest = grammar.without(said)
        others, runner_up = self._decode(self._decoder, rest.jsgf(), sound) if rest.patterns else ([], -math.inf)
        other = rest.understand(others)
        likeness = (score - _run(self._loop, sound)[1]) / frames
        if other is None:
            return Heard(said=said, margin=MOST_APART, likeness=likeness, is_sure=likeness >= ALONE_LIKENESS)
        margin = score - runner_up + self._once_more(said.words, other.words, sound)
        return Heard(said=said, other=other, margin=margin, likeness=likeness,
                     is_sure=margin >= LEAST_MARGIN and likeness >= LEAST_LIKENESS)

    def _once_more(self, words: Sequence[str], others: Sequence[str], sound: bytes) -> float:
        """How far two sentences lie apart for the second front end."""
        scores = [self._decode(self._second, one_sentence(some), sound)[1] for some in (words, others)]
        if not all(map(math.isfinite, scores)):
            return 0.0
        return max(-MOST_APART, min(MOST_APART, scores[0] - scores[1]))

    def _tell_words(self, grammar: Grammar) -> None:
        for word in sorted(grammar.words() - self._told):
            self._told.add(word)
            number = len(self.dictionary.shipped(word))
            for phones in self.dictionary.further(word):
                number += 1
                for decoder in (self._decoder, self._second):
                    decoder.add_word(word if number == 1 else f"{word}({number})", phones, False)

    @staticmethod
    def _decode(decoder: Any, jsgf: str, sound: bytes) -> tuple[list[str], float]:
        decoder.add_jsgf_string("now", jsgf)
        decoder.activate_search("now")
        return _run(decoder, sound)


def _run(decoder: Any, sound: bytes) -> tuple[list[str], float]:
    """Words and the logarithm of their score; minus infinity where nothing was found."""
    decoder.start_utt()
    decoder.process_raw(sound, full_utt=True)
    decoder.end_utt()
    found = decoder.hyp()
    if found is None or found.score <= 0:
        return [], -math.inf
    return found.hypstr.split(), 1024 * math.log(found.score)  # the score is a 1024th part, to fit its numbers
