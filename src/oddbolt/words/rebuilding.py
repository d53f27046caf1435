"""Putting back, in words: the ledger of bolts."""

from __future__ import annotations

from oddbolt.reassembly.ledger import LetterRow
from oddbolt.words.translate import N_, tr

MORE = {"new": N_("{0} new"), "discarded": N_("{0} thrown away"), "lost": N_("{0} lost"), "wrong": N_("{0} wrong")}


def letter_text(row: LetterRow) -> str:
    """The bolts of a letter in a line: "A: 7 out, 6 back, 1 new"."""
    figures = [tr("{0}: {1} out, {2} back").format(row.letter, row.out, row.back)]
    figures += [tr(text).format(getattr(row, name)) for name, text in MORE.items() if getattr(row, name)]
    return ", ".join(figures)
