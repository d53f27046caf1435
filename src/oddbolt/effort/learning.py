"""Repeated teardowns of one model: Wright's learning curve, t_n = t_1 n^b, fitted to the times of n = 1, 2, 3, ...

References:
[1] T. P. Wright, Factors affecting the cost of airplanes, Journal of the Aeronautical Sciences 3 (1936) 122-128; the
    unit model (t_n is the time of the n-th, not the mean up to it).
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from msgspec import Struct

from oddbolt.catalog.tables import table
from oddbolt.model.refusal import Refusal


class LearningCurve(Struct, frozen=True, kw_only=True):
    """First time in s, exponent, and the rate: what a doubling of the number leaves of the time, with its 95 %
    interval."""

    first_s: float
    exponent: float
    exponent_se: float
    rate: float
    rate_low: float
    rate_high: float
    r2: float
    repetitions: int

    def time_s(self, n: float) -> float:
        """Time of the n-th repetition. Raises Refusal beyond twice the repetitions that were timed."""
        furthest = table("effort.toml")["learning"]["furthest_times"] * self.repetitions
        if not 1 <= n <= furthest:
            raise Refusal("repetition", "learning-too-far", value=n, most=furthest)
        return unit_time_s(self.first_s, self.exponent, n)

    def repetition_of(self, seconds: float) -> float:
        """The repetition at which a time is reached, as the curve goes on; said beside how far that is."""
        return (seconds / self.first_s) ** (1 / self.exponent)


def unit_time_s(first_s: float, exponent: float, n: float) -> float:
    return first_s * n ** exponent


def exponent_of(rate: float) -> float:
    """b of a rate such as 0.8 (eighty per cent): log2."""
    return math.log2(rate)


def fit(times_s: Sequence[float]) -> LearningCurve:
    """By least squares on logarithms. Raises Refusal for fewer than four times, or one that is not above zero."""
    least = table("effort.toml")["learning"]["least_repetitions"]
    if len(times_s) < least:
        raise Refusal("repetitions", "learning-too-few", number=len(times_s), least=least)
    if any(not 0 < value < math.inf for value in times_s):
        raise Refusal("repetitions", "time-above-zero")
    from scipy.stats import linregress, t

    n = len(times_s)
    found = linregress([math.log(k) for k in range(1, n + 1)], [math.log(value) for value in times_s])
    reach = float(t.ppf(0.975, n - 2)) * float(found.stderr)
    slope = float(found.slope)
    return LearningCurve(first_s=math.exp(float(found.intercept)), exponent=slope, exponent_se=float(found.stderr),
                         rate=2 ** slope, rate_low=2 ** (slope - reach), rate_high=2 ** (slope + reach),
                         r2=float(found.rvalue) ** 2, repetitions=n)
