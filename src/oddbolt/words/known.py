"""How known a depth is, in words: the one language for lists, pictures, reports and screen readers."""

from __future__ import annotations

from oddbolt.studies.retelling import CONFIRMED, GUESSED, WAY_CONFIRMED
from oddbolt.words.translate import N_, from_table

KNOWN = {GUESSED: N_("guessed"), WAY_CONFIRMED: N_("way confirmed"), CONFIRMED: N_("confirmed")}
MEANS = {GUESSED: N_("Guessed: nobody has looked at this way twice and said that it works; three times, where it is "
                     "longer than twelve."),
         WAY_CONFIRMED: N_("Way confirmed: looked at twice, it works. It takes somebody else who looks, or two looks "
                           "more, or something that is assumed might still make it shorter."),
         CONFIRMED: N_("Confirmed: looked at twice and by somebody else, or four times, it works, and nothing that is "
                       "assumed would make it shorter.")}
SIGNS = {GUESSED: "◌", WAY_CONFIRMED: "◐", CONFIRMED: "●"}  # for plain text; pictures draw them


def known_text(known: str) -> str:
    return from_table(KNOWN, known)


def known_meaning(known: str) -> str:
    return from_table(MEANS, known)


def with_sign(known: str, text: str) -> str:
    """A figure with the sign of how known it is."""
    return f"{SIGNS[known]} {text}"
