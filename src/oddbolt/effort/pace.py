"""The analyst's pace: how much slower or quicker than estimated a person is, by verb, from their own logs.

Location of ln(measured / estimated) by Huber's M-estimator with k = 1.345 and the scale fixed at 1.4826 MAD.
References:
[1] P. J. Huber, Robust Statistics, 1981; from memory. Standard error after his section 6.5.
Below five readings a pace is drawn towards 1 (normal prior, ours).
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from statistics import mean, median, stdev

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.catalog.tables import table
from oddbolt.effort.estimates import TO_95
from oddbolt.rules.times import ESTIMATED, Estimate

ALL = ""  # the pace over all verbs
ROUNDS = 200


class Location(Struct, frozen=True, kw_only=True):
    """A robust mean of logarithms with its standard error; `scale` is the spread of one."""

    mu: float
    se: float
    scale: float
    weights: tuple[float, ...]


class Pace(Struct, frozen=True, kw_only=True):
    """Measured over estimated time of a verb: the usual ratio, where it lies 19 times of 20, and the readings."""

    verb: str
    ratio: float
    low: float
    high: float
    readings: int
    se: float  # of the logarithm
    scatter: float  # of the logarithm of one act
    is_shrunk: bool = False


def huber(values: Sequence[float], k: float = 1.345) -> Location:
    """Huber's location of at least two values. Where more than half are equal their median is returned, with no error.

    >>> round(huber([0.0, 0.1, -0.1, 0.05, 5.0]).mu, 3)
    0.069
    """
    middle, n = median(values), len(values)
    scale = 1.4826 * median(abs(value - middle) for value in values)
    if scale == 0:
        return Location(mu=middle, se=0.0, scale=0.0, weights=(1.0,) * n)
    mu = middle
    for _ in range(ROUNDS):
        weights = [min(1.0, k / abs((value - mu) / scale)) if value != mu else 1.0 for value in values]
        moved = sum(w * value for w, value in zip(weights, values)) / sum(weights)
        if abs(moved - mu) < 1e-12:
            break
        mu = moved
    within = [max(-k, min(k, (value - mu) / scale)) for value in values]
    inside = sum(abs(value - mu) <= k * scale for value in values) / n
    se = scale * math.sqrt(sum(psi * psi for psi in within) / (n - 1)) / inside / math.sqrt(n) if inside else math.inf
    return Location(mu=mu, se=se, scale=scale, weights=tuple(weights))


def shrunk(n: int, mu: float, sd: float, prior_sd: float) -> tuple[float, float]:
    """A mean of `n` logarithms drawn towards 0, with its standard error: both weighed by their precision."""
    precision, prior = n / sd ** 2, 1 / prior_sd ** 2
    return precision * mu / (precision + prior), 1 / math.sqrt(precision + prior)


def pace_of(verb: str, ratios: Sequence[float]) -> Pace:
    """The pace of a verb from ratios of measured to estimated time, at least one."""
    rules, spread = table("effort.toml")["pace"], table("effort.toml")["spread"]
    logs = [math.log(ratio) for ratio in ratios]
    n = len(logs)
    if n < rules["few"]:
        sd = max(stdev(logs), spread["reading"]) if n > 1 else math.hypot(spread["reading"], spread["reading"])
        mu, se = shrunk(n, mean(logs), sd, rules["prior_sd"])
        reach = 1.959964 * se
        scatter = sd
    else:
        from scipy.stats import t

        found = huber(logs, rules["huber_k"])
        mu, se, scatter = found.mu, found.se, found.scale
        reach = float(t.ppf(0.975, n - 1)) * se
    return Pace(verb=verb, ratio=math.exp(mu), low=math.exp(mu - reach), high=math.exp(mu + reach), readings=n, se=se,
                scatter=max(scatter, spread["reading"]), is_shrunk=n < rules["few"])


def paced(estimate: Estimate, known: Mapping[str, Pace]) -> Estimate:
    """An estimate at a person's pace; as it is where nothing is known of it. What the verb has no reading for goes by
    the pace over all verbs, which says less of it."""
    pace = known.get(estimate.verb) or known.get(ALL)
    if pace is None or estimate.basis != ESTIMATED or estimate.seconds <= 0:
        return estimate
    of_verb = pace.se ** 2 if pace.verb else pace.se ** 2 + estimate.verb_var
    variance = of_verb + pace.scatter ** 2
    factor = math.exp(TO_95 * math.sqrt(variance))
    seconds = estimate.seconds * pace.ratio
    return replace(estimate, seconds=round(seconds, 2), low_s=round(seconds / factor, 2),
                   high_s=round(seconds * factor, 2), source=f"{estimate.source}, pace {pace.ratio:.2f}",
                   readings=pace.readings, shared_var=0.0, verb_var=of_verb)
