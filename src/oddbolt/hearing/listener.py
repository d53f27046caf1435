"""Who turns sound into words: a protocol, so that another recogniser can take the place of the one that comes along."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Protocol

import numpy as np
from msgspec import Struct

from oddbolt.hearing.grammar import Grammar, Said

RATE_HZ = 16_000  # of all sound in the program: one channel, 16 bits


class Heard(Struct, frozen=True, kw_only=True):
    """What a sentence was taken for, and how surely.

    `margin` is how much likelier, as a logarithm, the sound is from `said` than from `other`, the likeliest sentence
    that means something else. `likeness` compares `said` with any run of speech sounds at all, per hundredth of a
    second: far below nothing, what was heard is none of the sentences.
    """

    said: Said | None = None
    other: Said | None = None
    margin: float = 0.0
    likeness: float = 0.0
    is_sure: bool = False


class NoListener(Exception):
    """The recogniser is not installed, or does not start; `told` says what it says itself."""

    def __init__(self, told: str = "") -> None:
        super().__init__(told)
        self.told = told


class Listener(Protocol):
    def knows(self, word: str) -> bool:
        """Whether a word can be recognised."""
        ...

    def hear(self, grammar: Grammar, samples: np.ndarray) -> Heard:
        """The sentence of the grammar that the sound is; `samples` are 16-bit integers at 16 kHz, shape (n,)."""
        ...


Pronounced = Mapping[str, Sequence[str]]  # word -> pronunciations, phones with a space between
