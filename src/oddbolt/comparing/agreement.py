"""How far several analysts agree: Krippendorff's alpha, Cohen's and Fleiss' kappa, Kendall's tau-b.

A figure stands with its metric: the same classes may agree well as an order and poorly as names.

References:
[1] K. Krippendorff, Computing Krippendorff's alpha-reliability (2011): coincidences, metrics, the 4 x 12 example.
[2] J. Cohen, Educational and Psychological Measurement 20 (1960) 37-46; weights: Psychological Bulletin 70 (1968).
[3] J. L. Fleiss, J. Cohen, B. S. Everitt, Psychological Bulletin 72 (1969) 323-327: the large-sample error of kappa.
[4] J. L. Fleiss, Psychological Bulletin 76 (1971) 378-382: more than two raters.
[5] M. G. Kendall, Rank correlation methods, 4th ed. 1970; tau-b by scipy.
From memory, agreed twice, and recomputed (docs/methods/agreement.md).
"""

from __future__ import annotations

import itertools
import math
from collections import Counter
from collections.abc import Callable, Sequence

import numpy as np
from msgspec import Struct

NOMINAL, ORDINAL, INTERVAL, RATIO = "nominal", "ordinal", "interval", "ratio"
METRICS = (NOMINAL, ORDINAL, INTERVAL, RATIO)
UNWEIGHTED, LINEAR, QUADRATIC = "unweighted", "linear", "quadratic"
GOOD, TENTATIVE, POOR, UNDEFINED = "good", "tentative", "poor", "undefined"
GOOD_FROM, TENTATIVE_FROM = 0.800, 0.667  # [1]
Unit = Sequence[float | None]  # what each analyst gave one thing; None: nothing


class Alpha(Struct, frozen=True, kw_only=True):
    """Krippendorff's alpha with its metric; `value` is nan where all values are equal: then it is not defined."""

    value: float
    metric: str
    pairable: int
    units: int
    low: float = math.nan  # of the bootstrap over units, 95 %
    high: float = math.nan

    @property
    def mark(self) -> str:
        if math.isnan(self.value):
            return UNDEFINED
        return GOOD if self.value >= GOOD_FROM else TENTATIVE if self.value >= TENTATIVE_FROM else POOR


class Kappa(Struct, frozen=True, kw_only=True):
    """Cohen's kappa of a square table with its error [3]."""

    value: float
    observed: float
    expected: float
    se: float

    @property
    def low(self) -> float:
        return self.value - 1.959964 * self.se

    @property
    def high(self) -> float:
        return self.value + 1.959964 * self.se


def alpha(units: Sequence[Unit], metric: str) -> Alpha:
    """Of units with what each analyst gave them; those with fewer than two values are left out [1]."""
    kept = [[value for value in unit if value is not None] for unit in units]
    kept = [unit for unit in kept if len(unit) >= 2]
    values = sorted({value for unit in kept for value in unit})
    place = {value: n for n, value in enumerate(values)}
    together = np.zeros((len(values), len(values)))
    for unit in kept:
        counts = Counter(unit)
        for one, a in counts.items():
            for other, b in counts.items():
                together[place[one], place[other]] += (a * b - a * (one == other)) / (len(unit) - 1)
    totals = together.sum(axis=1)
    number = float(totals.sum())
    apart = _distances(values, totals, metric)
    chance = np.outer(totals, totals) - np.diag(totals)
    expected = float((chance * apart).sum())
    value = 1 - (number - 1) * float((together * apart).sum()) / expected if expected else math.nan
    return Alpha(value=value, metric=metric, pairable=round(number), units=len(kept))


def _distances(values: Sequence[float], totals: np.ndarray, metric: str) -> np.ndarray:
    if metric == NOMINAL:
        return 1.0 - np.eye(len(values))
    at = np.asarray(values, float)
    if metric == INTERVAL:
        return (at[:, None] - at[None, :]) ** 2
    if metric == RATIO:
        total = at[:, None] + at[None, :]
        return np.divide(at[:, None] - at[None, :], total, out=np.zeros_like(total), where=total != 0) ** 2
    upto = np.cumsum(totals) - totals / 2  # each value in the middle of those that are equal
    return (upto[:, None] - upto[None, :]) ** 2


def alpha_with_interval(units: Sequence[Unit], metric: str, rounds: int = 2000, seed: int = 1) -> Alpha:
    """With its bootstrap over units: with few of them the interval is the message. The seed is named so that it can be
    repeated."""
    found = alpha(units, metric)
    paired = [unit for unit in units if sum(value is not None for value in unit) >= 2]
    if len(paired) < 2 or math.isnan(found.value):
        return found
    low, _, high = _bootstrap(paired, lambda some: alpha(some, metric).value, rounds, seed)
    return Alpha(value=found.value, metric=metric, pairable=found.pairable, units=found.units, low=low, high=high)


def _bootstrap(rows: Sequence[Unit], of: Callable[[Sequence[Unit]], float], rounds: int,
               seed: int) -> tuple[float, float, float]:
    """Percentiles 2.5, 50 and 97.5 over draws with replacement; those in which it is not defined are left out."""
    rng = np.random.default_rng(seed)
    found = [of([rows[n] for n in rng.integers(0, len(rows), len(rows))]) for _ in range(rounds)]
    defined = [value for value in found if not math.isnan(value)]
    if not defined:
        return math.nan, math.nan, math.nan
    low, middle, high = np.percentile(defined, (2.5, 50, 97.5))
    return float(low), float(middle), float(high)


def cohen_kappa(counts: Sequence[Sequence[float]], weights: str = UNWEIGHTED) -> Kappa:
    """Of a square table of two analysts' classes [2]; its error [3] is of the unweighted kappa, else nan."""
    table = np.asarray(counts, float)
    shares = table / table.sum()
    rows, columns = shares.sum(axis=1), shares.sum(axis=0)
    size = len(table)
    apart = np.abs(np.subtract.outer(np.arange(size), np.arange(size))) / max(1, size - 1)
    agree = np.eye(size) if weights == UNWEIGHTED else 1 - apart if weights == LINEAR else 1 - apart ** 2
    observed, expected = float((agree * shares).sum()), float((agree * np.outer(rows, columns)).sum())
    if expected >= 1:
        return Kappa(value=math.nan, observed=observed, expected=expected, se=math.nan)
    value = (observed - expected) / (1 - expected)
    se = _kappa_se(shares, rows, columns, value, expected, float(table.sum())) if weights == UNWEIGHTED else math.nan
    return Kappa(value=value, observed=observed, expected=expected, se=se)


def _kappa_se(shares: np.ndarray, rows: np.ndarray, columns: np.ndarray, value: float, expected: float,
              number: float) -> float:
    diagonal = np.diag(shares)
    first = float((diagonal * (1 - (rows + columns) * (1 - value)) ** 2).sum())
    crossed = shares * (columns[:, None] + rows[None, :]) ** 2
    second = (1 - value) ** 2 * float(crossed.sum() - np.diag(crossed).sum())
    third = (value - expected * (1 - value)) ** 2
    return math.sqrt(max(0.0, first + second - third) / (number * (1 - expected) ** 2))


def fleiss_kappa(counts: Sequence[Sequence[int]]) -> tuple[float, float, float]:
    """Of things by classes, each thing rated equally often: kappa, observed and expected agreement [4]."""
    table = np.asarray(counts, float)
    raters = table[0].sum()
    observed = float(((table ** 2).sum(axis=1) - raters).mean() / (raters * (raters - 1)))
    shares = table.sum(axis=0) / table.sum()
    expected = float((shares ** 2).sum())
    return (observed - expected) / (1 - expected) if expected < 1 else math.nan, observed, expected


def tau_b(one: Sequence[float], other: Sequence[float]) -> tuple[float, float]:
    """Kendall's tau-b of two orders, and the two-sided p [5]; nan where one of them does not order at all."""
    from scipy.stats import kendalltau

    if len(set(one)) < 2 or len(set(other)) < 2:
        return math.nan, math.nan
    found = kendalltau(one, other)
    return float(found.statistic), float(found.pvalue)


ALL_ORDERS = 8  # so many things and fewer: every order is looked at
DRAWN_ORDERS, SEED = 10_000, 1


def permutation_p(one: Sequence[float], other: Sequence[float]) -> float:
    """Two-sided p of tau-b: the share of orders of the one that agree with the other as strongly or more; over all
    orders of few things, else over drawn ones (and then the one that is there is counted among them). nan where tau is
    not defined."""
    tau, _ = tau_b(one, other)
    if math.isnan(tau):
        return math.nan
    first, second = np.asarray(one, float), np.asarray(other, float)
    size = len(first)
    rows, columns = np.triu_indices(size, 1)
    signs = np.sign(second[rows] - second[columns])
    own = np.sign(np.subtract.outer(first, first))

    def strengths(orders: np.ndarray) -> np.ndarray:
        return np.abs((own[orders[:, rows], orders[:, columns]] * signs).sum(axis=1))

    here = strengths(np.arange(size)[None])[0] - 1e-9
    if size <= ALL_ORDERS:
        return float((strengths(np.array(list(itertools.permutations(range(size))))) >= here).mean())
    rng = np.random.default_rng(SEED)
    drawn = rng.permuted(np.tile(np.arange(size), (DRAWN_ORDERS, 1)), axis=1)
    hits = sum(int((strengths(some) >= here).sum()) for some in np.array_split(drawn, 20))
    return (hits + 1) / (DRAWN_ORDERS + 1)
