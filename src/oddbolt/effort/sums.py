"""How long a sequence takes, with its interval: acts are log-normal, their sum is taken for log-normal too.

References:
[1] L. F. Fenton, IRE Transactions on Communications Systems 8 (1960) 57-67 (the sum of log-normals by its mean and
    variance), with the covariances of what is off together.
What waits, changes of tool and turns come to is the convention's and is added as it is.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator

from msgspec import Struct

from oddbolt.catalog.defaults import verb_of
from oddbolt.effort.estimates import LIFT, TO_95, log_sd
from oddbolt.rules.counting import Count
from oddbolt.rules.times import ENTERED, ESTIMATED, MEASURED, Estimate
from oddbolt.search.planner import Planner


class Interval(Struct, frozen=True, kw_only=True):
    """Seconds as planned (the sum of usual times), and between which they lie nine times of ten; `basis` is the least
    known of what went into it, with the share of active time that each basis has."""

    seconds: float
    low_s: float
    high_s: float
    basis: str = MEASURED
    shares: tuple[tuple[str, float], ...] = ()


def total(estimates: Iterable[Estimate], fixed_s: float = 0.0) -> Interval:
    """The sum of independent or jointly wrong times [1], in seconds, and what is fixed added."""
    given = [one for one in estimates if one.seconds > 0]
    if not given:
        return Interval(seconds=fixed_s, low_s=fixed_s, high_s=fixed_s)
    groups: dict[tuple[float, str, float], float] = {}
    mean = variance = 0.0
    for one in given:
        own = log_sd(one.low_s, one.high_s) ** 2
        expected = one.seconds * math.exp(own / 2)
        mean += expected
        key = (one.shared_var, one.verb, one.verb_var)
        groups[key] = groups.get(key, 0.0) + expected
        # Every pair goes with what its two have in common; an act with itself has all of its variance in common.
        variance += expected ** 2 * (math.exp(own) - math.exp(min(own, one.shared_var + one.verb_var)))
    for (shared, verb, of_verb), expected in groups.items():
        for (other_shared, other_verb, other_of_verb), other in groups.items():
            common = math.sqrt(shared * other_shared)
            if verb == other_verb:
                common += math.sqrt(of_verb * other_of_verb)
            variance += expected * other * (math.exp(common) - 1)
    ratio = 1 + variance / mean ** 2
    reach, middle = TO_95 * math.sqrt(math.log(ratio)), mean / math.sqrt(ratio)
    return Interval(seconds=fixed_s + sum(one.seconds for one in given), low_s=fixed_s + middle * math.exp(-reach),
                    high_s=fixed_s + middle * math.exp(reach), basis=_basis(given), shares=_shares(given))


def _basis(given: list[Estimate]) -> str:
    return next((basis for basis in (ESTIMATED, ENTERED, MEASURED) if any(one.basis == basis for one in given)),
                MEASURED)


def _shares(given: list[Estimate]) -> tuple[tuple[str, float], ...]:
    whole = sum(one.seconds for one in given)
    found = ((basis, sum(one.seconds for one in given if one.basis == basis) / whole)
             for basis in (MEASURED, ENTERED, ESTIMATED))
    return tuple((basis, share) for basis, share in found if share)


def effort_rows(planner: Planner) -> Iterator[tuple[str, str, Estimate]]:
    """Each act of each way and each lift of what can be moved: the thing, the verb, and its time."""
    times, structure = planner.times, planner.structure
    for joint, release in structure.releases.items():
        for n, way in enumerate(release.ways):
            for place, act in enumerate(way.acts):
                yield joint, verb_of(release.joint, act), times.act(joint, n, place)
    for part, removal in structure.removals.items():
        for place, act in enumerate(removal.acts):
            yield part, act.does or LIFT, times.removal(part, place)


def time_of(counted: Count) -> Interval:
    """How long a counted sequence takes. Waits and changes stay as they are scheduled: what is done meanwhile would
    make up for some of a slower hand, so the interval is rather too wide."""
    active_s = sum(timed.kind.active_ms for timed in counted.timed) / 1000
    return total((timed.known for timed in counted.timed), counted.time_ms / 1000 - active_s)
