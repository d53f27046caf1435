"""How words are pronounced: the recogniser's dictionary, words of the trade, second pronunciations of British English.

The dictionary that comes with the recogniser is American. Where an R is not said before a consonant or a pause, and the
vowel of `lot` is round, a word gets a second pronunciation by rule (J. C. Wells, Accents of English, 1982, from memory,
high). The rules are general: no word was looked at by itself.
"""

from __future__ import annotations

import re
from pathlib import Path

from oddbolt.hearing.listener import Pronounced

VOWELS = frozenset(["AA", "AE", "AH", "AO", "AW", "AY", "EH", "ER", "EY", "IH", "IY", "OW", "OY", "UH", "UW"])
GLIDING = frozenset(["IH", "IY", "EH", "UH", "AY", "AW"])  # vowels after which an R that is not said leaves a schwa
_NUMBERED = re.compile(r"\(\d+\)$")


class Dictionary:
    """Words with their pronunciations. Raises OSError where the file cannot be read."""

    def __init__(self, path: Path, own: Pronounced) -> None:
        self._phones: dict[str, list[str]] = {}
        for line in path.read_text("utf-8").splitlines():
            word, _, phones = line.partition(" ")
            self._phones.setdefault(_NUMBERED.sub("", word), []).append(phones.strip())
        self._own = own

    def knows(self, word: str) -> bool:
        return word in self._phones or word in self._own

    def shipped(self, word: str) -> list[str]:
        """Those that the recogniser has already."""
        return self._phones.get(word, [])

    def further(self, word: str) -> list[str]:
        """Those that it has to be told: of the trade, and British ones."""
        shipped = self.shipped(word)
        own = [phones for phones in self._own.get(word, ()) if phones not in shipped]
        made = [way for phones in (*shipped, *own) for way in british(phones)]
        return [*own, *(way for way in dict.fromkeys(made) if way not in shipped and way not in own)]


def british(phones: str) -> tuple[str, ...]:
    """A pronunciation without the R before a consonant or a pause; the same with the round vowel of `lot`; and, R and
    all, the vowel of `goose` fronted, as in Scotland."""
    said = phones.split()
    after = [*said[1:], ""]
    found: list[str] = []
    rounded: list[str] = []
    for n, (phone, next_) in enumerate(zip(said, after)):
        if phone == "R" and next_ not in VOWELS:
            more = ["AH"] if n and said[n - 1] in GLIDING else []
        elif phone == "ER":
            more = ["AH", "R"] if next_ in VOWELS else ["AH"]
        else:
            more = [phone]
        found += more
        rounded += ["AO"] if phone == "AA" and next_ != "R" else more
    fronted = ["IY" if phone == "UW" else phone for phone in said]
    return " ".join(found), " ".join(rounded), " ".join(fronted)
