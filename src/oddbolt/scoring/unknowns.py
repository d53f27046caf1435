"""What is not known, ranked: how far each matter moves the index, its share of the variance, and what it tells of the
class.

Every combination is looked at while there are few, else a seeded sample. One matter at a time can miss what two do
together, so what an answer tells of the class, in bits, is what matters are ranked by.

References:
[1] C. E. Shannon, 1948: mutual information of a matter and the class.
[2] I. M. Sobol, Mathematics and Computers in Simulation 55 (2001) 271-280: first-order and total shares of the
variance.
"""

from __future__ import annotations

import itertools
import math
import random
from collections import Counter
from collections.abc import Hashable, Sequence

from msgspec import Struct

from oddbolt.scoring.choosing import Source

MOST = 10_000  # combinations that are all looked at
DRAWN = 1_500  # drawn where there are more
SEED = 1
Points = tuple[float, float]


class Move(Struct, frozen=True, kw_only=True):
    """A matter that could move a verdict: how far by itself, in which classes, and what knowing it tells of the
    class."""

    source: Source
    index: Points  # as it alone is one way or another, all else as it stands
    classes: tuple[str, ...]
    spread: float
    is_given: bool  # taken as it is in the verdict, though not certain
    bits: float = 0.0
    share: float = 0.0  # of the variance, by itself


def combinations(sizes: Sequence[int], most: int = MOST, drawn: int = DRAWN,
                 seed: int = SEED) -> tuple[list[tuple[int, ...]], bool]:
    """Places of levels, one for each matter: all combinations, or so many drawn with a seed; and whether all."""
    if math.prod(sizes) <= most:
        return list(itertools.product(*(range(size) for size in sizes))), True
    rng = random.Random(seed)
    return [tuple(rng.randrange(size) for size in sizes) for _ in range(drawn)], False


def entropy_bits(labels: Sequence[Hashable]) -> float:
    counts, n = Counter(labels), len(labels)
    return -sum(k / n * math.log2(k / n) for k in counts.values())


def information_bits(labels: Sequence[Hashable], places: Sequence[int]) -> float:
    """What knowing a matter tells of a label, in bits [1]; equally likely combinations."""
    by_place: dict[int, list[Hashable]] = {}
    for label, place in zip(labels, places):
        by_place.setdefault(place, []).append(label)
    left = sum(len(own) / len(labels) * entropy_bits(own) for own in by_place.values())
    return max(0.0, entropy_bits(labels) - left)


def variance(values: Sequence[float]) -> float:
    middle = math.fsum(values) / len(values)
    return math.fsum((value - middle) ** 2 for value in values) / len(values)


def first_order(values: Sequence[float], places: Sequence[int]) -> float:
    """Share of the variance that a matter explains by itself [2]; 0 where nothing varies."""
    whole = variance(values)
    if whole <= 1e-18:
        return 0.0
    by_place: dict[int, list[float]] = {}
    for value, place in zip(values, places):
        by_place.setdefault(place, []).append(value)
    middle = math.fsum(values) / len(values)
    return math.fsum(len(own) * (math.fsum(own) / len(own) - middle) ** 2
                     for own in by_place.values()) / len(values) / whole


def total_order(values: Sequence[float], choices: Sequence[Sequence[int]], matter: int) -> float:
    """Share of the variance that is left when all but one matter is known [2]; of a whole enumeration."""
    whole = variance(values)
    if whole <= 1e-18:
        return 0.0
    others: dict[tuple[int, ...], list[float]] = {}
    for value, choice in zip(values, choices):
        others.setdefault((*choice[:matter], *choice[matter + 1:]), []).append(value)
    return math.fsum(len(own) * variance(own) for own in others.values()) / len(values) / whole
