"""Times in words, with how far they are known."""

from __future__ import annotations

from oddbolt.effort.sums import time_of
from oddbolt.rules.counting import Count
from oddbolt.rules.times import Estimate
from oddbolt.words.figures import interval_text
from oddbolt.words.translate import N_, from_table, tr

BASES = {"measured": N_("measured"), "entered": N_("entered"), "estimated": N_("estimated")}


def time_text(counted: Count) -> str:
    """How long a counted sequence takes, and between which limits nine times of ten."""
    took = time_of(counted)
    return interval_text(took.seconds, took.low_s, took.high_s)


def estimate_text(known: Estimate) -> str:
    """How long an act takes, between which limits, and how that is known."""
    return tr("{0}, {1}").format(interval_text(known.seconds, known.low_s, known.high_s),
                                 from_table(BASES, known.basis))
