"""How far analysts agree, in words: the figure with its metric, its interval and what that is called."""

from __future__ import annotations

import math
from collections.abc import Sequence

from oddbolt.comparing.agreement import Alpha
from oddbolt.comparing.analysts import Agreed, Orders
from oddbolt.comparing.criteria import OnCriterion
from oddbolt.words.figures import MINUS
from oddbolt.words.names import role_name
from oddbolt.words.translate import N_, from_table, of_data, tr

MATTERS = {"depth": N_("depth of the priority parts"), "time": N_("time to the priority parts"),
           "marks": N_("marks of the opinions")}
MARKS = {"good": N_("good"), "tentative": N_("tentative"), "poor": N_("poor"),
         "undefined": N_("not defined: all values are equal")}


def agreed_text(one: Agreed) -> str:
    names = ", ".join(role_name(name) if name and one.matter != "marks" else name or tr("the whole")
                      for name in one.names)
    return tr("{0}: {1} ({2})").format(from_table(MATTERS, one.matter), alpha_text(one.alpha), names)


def criterion_text(one: OnCriterion) -> str:
    """A criterion with how far the records give the same points, over its roles."""
    parts = [alpha_text(one.alpha)]
    if one.kappa is not None and not math.isnan(one.kappa.value):
        parts.insert(0, tr("kappa {0:.2f} ({1:.2f} to {2:.2f})").format(
            one.kappa.value, max(-1.0, one.kappa.low), min(1.0, one.kappa.high)))
    elif one.kappa is not None:
        parts.insert(0, tr("kappa not defined: both give the same to all"))
    both = sum(all(value is not None for value in row) for row in one.points)
    return tr("{0}: {1}; {2} of {3} parts given by all").format(
        of_data(one.criterion.name), ", ".join(parts), both, len(one.roles))


def alpha_text(found: Alpha) -> str:
    if math.isnan(found.value):
        return from_table(MARKS, found.mark)
    text = tr("alpha {0:.3f}, {1} metric, {2}").format(found.value, found.metric, from_table(MARKS, found.mark))
    if not math.isnan(found.low):
        text = tr("{0}; 19 of 20 draws {1:.2f} to {2:.2f}").format(text, found.low, found.high)
    return text.replace("-", MINUS)


def orders_text(one: Orders, names: Sequence[str]) -> str:
    pair = tr("{0} and {1}").format(names[one.one], names[one.other])
    if math.isnan(one.tau):
        return tr("order of the work, {0}: nothing to compare").format(pair)
    return tr("order of the work, {0}: tau-b {1:.2f}, p {2:.3f}, {3} parts").format(pair, one.tau, one.p, one.common)
