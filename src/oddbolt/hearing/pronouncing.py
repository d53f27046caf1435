"""How words are pronounced: the recogniser's dictionary, words of the trade, second pronunciations of British English.

The dictionary that comes with the recogniser is American. Where an R is not said before a consonant or a pause, and the
vowel of `lot` is round, a word gets a second pronunciation by rule (J. C. Wells, Accents of English, 1982, from memory,
high). The rules are general: no word was looked at by itself.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Iterable
from itertools import combinations
from pathlib import Path

from oddbolt.hearing.listener import Pronounced

VOWELS = frozenset(["AA", "AE", "AH", "AO", "AW", "AY", "EH", "ER", "EY", "IH", "IY", "OW", "OY", "UH", "UW"])
GLIDING = frozenset(["IH", "IY", "EH", "UH", "AY", "AW"])  # vowels after which an R that is not said leaves a schwa
Way = Callable[[list[str]], list[str]]  # phones as they are said otherwise
MOST_WAYS = 5  # of one word that are tried together
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

    def further(self, word: str, ways: Collection[str] = ()) -> list[str]:
        """Those that it has to be told: of the trade, British ones, and the one of somebody with these ways."""
        known = [*self.shipped(word), *self._own.get(word, ())]
        made = [way for phones in known for way in (*british(phones), in_ways(phones, ways))]
        return self.not_shipped(word, [*self._own.get(word, ()), *made])

    def in_all_ways(self, word: str) -> dict[str, frozenset[str]]:
        """Every pronunciation that some accent could have, and by which ways."""
        found: dict[str, frozenset[str]] = {}
        for phones in (*self.shipped(word), *self._own.get(word, ())):
            for way, by in all_ways(phones).items():
                found.setdefault(way, by)
        return found

    def not_shipped(self, word: str, phones: Iterable[str]) -> list[str]:
        shipped = self.shipped(word)
        return [way for way in dict.fromkeys(phones) if way not in shipped]


def british(phones: str) -> tuple[str, ...]:
    """A pronunciation without the R before a consonant or a pause; the same with the round vowel of `lot`; and, R and
    all, the vowel of `goose` fronted, as in Scotland."""
    said = phones.split()
    plain = _without_r(said)
    return " ".join(plain), " ".join(_without_r(_rounded(said))), " ".join(_each("UW", "IY")(said))


def _without_r(said: list[str]) -> list[str]:
    found: list[str] = []
    for n, (phone, next_) in enumerate(zip(said, [*said[1:], ""])):
        if phone == "R" and next_ not in VOWELS:
            found += ["AH"] if n and said[n - 1] in GLIDING else []
        elif phone == "ER":
            found += ["AH", "R"] if next_ in VOWELS else ["AH"]
        else:
            found.append(phone)
    return found


def _rounded(said: list[str]) -> list[str]:
    return ["AO" if phone == "AA" and next_ != "R" else phone for phone, next_ in zip(said, [*said[1:], ""])]


def _each(phone: str, *others: str) -> Way:
    return lambda said: [other for one in said for other in (others if one == phone else (one,))]


def _nurse(*others: str) -> Way:
    """The vowel of `nurse`, which the dictionary writes like the end of `letter`."""
    def said_so(said: list[str]) -> list[str]:
        first = next((n for n, phone in enumerate(said) if phone in VOWELS), 0)
        return [other for n, one in enumerate(said)
                for other in (others if one == "ER" and (n == first or n < len(said) - 1) else (one,))]

    return said_so


def _open_end(said: list[str]) -> list[str]:
    return [*said[:-1], "AA"] if len(said) > 2 and said[-1] == "ER" else said


# How accents differ from the dictionary, in the order in which it is applied: which of them somebody has is found out
# when a voice is learned. Wells 1982, from memory, medium: by lexical sets, as far as the phones of the model go.
WAYS: dict[str, Way] = {
    "end-open": _open_end,  # letter
    "nurse-rounded": _nurse("AO"),
    "nurse-split": _nurse("AH", "R"),
    "r-dropped": _without_r,
    "lot-rounded": _rounded,
    "goose-fronted": _each("UW", "IY"),
    "goose-wide": _each("UW", "OW"),
    "th-stopped": lambda said: [{"TH": "T", "DH": "D"}.get(phone, phone) for phone in said],
    "strut-raised": _each("AH", "UH"),
    "price-rounded": _each("AY", "OY"),
    "fleece-wide": _each("IY", "EY"),
    "face-plain": _each("EY", "EH"),
    "goat-plain": _each("OW", "AO"),
    "trap-open": _each("AE", "AA"),
}


def in_ways(phones: str, ways: Collection[str]) -> str:
    said = phones.split()
    for way, change in WAYS.items():
        if way in ways:
            said = change(said)
    return " ".join(said)


def all_ways(phones: str) -> dict[str, frozenset[str]]:
    """Every pronunciation that some of the ways together make of one, and by the fewest ways."""
    does = [way for way in WAYS if in_ways(phones, (way,)) != phones][:MOST_WAYS]
    found = {phones: frozenset[str]()}
    for number in range(1, len(does) + 1):
        for some in combinations(does, number):
            found.setdefault(in_ways(phones, some), frozenset(some))
    return found
