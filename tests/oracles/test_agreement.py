"""Agreement of analysts: published examples to the printed digits.

Krippendorff (2011): 4 x 12, 3 x 15 and two small ones (high, agreed twice). Cohen 1960; two tables with one observed
agreement; Fleiss 1971: 14 raters, 10 things, 5 classes (high). Hollander and Wolfe: tuna (high). Other figures were
recomputed for `next-methods.md`, section (i).
"""

from __future__ import annotations

import math

import numpy as np
import pytest

from oddbolt.comparing import agreement as a


def units(*rows):
    """Analysts' rows, a character a unit, as units."""
    values = [[None if c in ".*" else float(ord(c) - ord("0")) for c in row.replace(" ", "")] for row in rows]
    return list(zip(*values))


FOUR = units("1 2 3 3 2 1 4 1 2 . . .", "1 2 3 3 2 2 4 1 2 5 . 3", ". 3 3 3 2 3 4 2 2 5 1 .", "1 2 3 3 2 4 4 1 2 5 1 .")
THREE = units("* * * * * 3 4 1 2 1 1 3 3 * 3", "1 * 2 1 3 3 4 3 * * * * * * *", "* * 2 1 3 4 4 * 2 1 1 3 3 * 4")
HOUSE = units("3 3 4 2 . 3 1 2 4", "3 2 4 2 3 3 2 2 4", "3 3 4 3 3 . 1 2 5")


@pytest.mark.parametrize(("data", "metric", "value", "pairable"), [
    (FOUR, a.NOMINAL, .7434, 40), (FOUR, a.ORDINAL, .8154, 40), (FOUR, a.INTERVAL, .8491, 40),
    (FOUR, a.RATIO, .7974, 40), (THREE, a.NOMINAL, .6914, 26), (THREE, a.ORDINAL, .8067, 26),
    (THREE, a.INTERVAL, .8108, 26), (HOUSE, a.NOMINAL, .5695, 25), (HOUSE, a.ORDINAL, .8585, 25),
    (HOUSE, a.INTERVAL, .8356, 25), (units("0100000010", "1110010000"), a.NOMINAL, .0952, 20),
    (units("aabbdcccedda", "babbbccceddd"), a.NOMINAL, .6920, 24)])
def test_krippendorff(data, metric, value, pairable):
    found = a.alpha(data, metric)
    assert found.value == pytest.approx(value, abs=5e-5) and found.pairable == pairable


def test_the_same_data_by_another_metric_has_another_mark():
    assert [a.alpha(HOUSE, metric).mark for metric in (a.NOMINAL, a.ORDINAL)] == [a.POOR, a.GOOD]
    assert a.alpha(FOUR, a.NOMINAL).mark == a.TENTATIVE


def test_with_twelve_units_the_interval_is_the_message():
    found = a.alpha_with_interval(FOUR, a.NOMINAL)
    assert (found.low, found.high) == (pytest.approx(.399, abs=.06), pytest.approx(1.0, abs=.005))
    assert found == a.alpha_with_interval(FOUR, a.NOMINAL)  # the seed is named


def test_all_equal_is_not_defined_and_not_one():
    found = a.alpha_with_interval(units("1111", "1111"), a.NOMINAL)
    assert math.isnan(found.value) and found.mark == a.UNDEFINED
    assert math.isnan(a.cohen_kappa([[5, 0], [0, 0]]).value) and math.isnan(a.tau_b([1, 1, 1], [1, 2, 3])[0])
    assert a.alpha([], a.NOMINAL).units == 0


@pytest.mark.parametrize(("table", "weights", "value"), [
    ([[20, 5], [10, 15]], a.UNWEIGHTED, .40), ([[45, 15], [25, 15]], a.UNWEIGHTED, .1304),
    ([[25, 35], [5, 35]], a.UNWEIGHTED, .2593), ([[5, 2, 0], [1, 6, 2], [0, 1, 8]], a.UNWEIGHTED, .63592),
    ([[5, 2, 0], [1, 6, 2], [0, 1, 8]], a.LINEAR, .72015), ([[5, 2, 0], [1, 6, 2], [0, 1, 8]], a.QUADRATIC, .80867)])
def test_cohen(table, weights, value):
    assert a.cohen_kappa(table, weights).value == pytest.approx(value, abs=5e-5)


def test_the_error_of_kappa():
    found = a.cohen_kappa([[20, 5], [10, 15]])
    assert (found.observed, found.expected) == pytest.approx((.70, .50))
    assert found.se == pytest.approx(.12700, abs=5e-6)
    assert (found.low, found.high) == pytest.approx((.151, .649), abs=5e-4)
    rows = [(0, 0)] * 20 + [(0, 1)] * 5 + [(1, 0)] * 10 + [(1, 1)] * 15

    def kappa(some):
        table = np.zeros((2, 2))
        for one, other in some:
            table[int(one), int(other)] += 1
        return a.cohen_kappa(table).value

    low, middle, high = a._bootstrap(rows, kappa, 10_000, 1)
    assert (low, middle, high) == pytest.approx((.146, .400, .640), abs=.006)


def test_fleiss():
    rows = [(0, 0, 0, 0, 14), (0, 2, 6, 4, 2), (0, 0, 3, 5, 6), (0, 3, 9, 2, 0), (2, 2, 8, 1, 1), (7, 7, 0, 0, 0),
            (3, 2, 6, 3, 0), (2, 5, 3, 2, 2), (6, 5, 2, 1, 0), (0, 2, 2, 3, 7)]
    value, observed, expected = a.fleiss_kappa(rows)
    assert (value, observed, expected) == pytest.approx((.2099, .378, .2128), abs=5e-4)


@pytest.mark.parametrize(("one", "other", "tau", "p"), [
    ((12, 2, 1, 12, 2), (1, 4, 7, 1, 0), -.471405, .28275),
    ((44.4, 45.9, 41.9, 53.3, 44.7, 44.1, 50.7, 45.2, 60.1), (2.6, 3.1, 2.5, 5.0, 3.6, 4.0, 5.2, 2.8, 3.8), .444444,
     .11944),
    (range(1, 9), (1, 2, 3, 5, 4, 7, 8, 6), .785714, .00551), ((1, 2, 2, 3, 4, 5), (1, 2, 3, 3, 4, 5), .928571, None)])
def test_kendall(one, other, tau, p):
    found = a.tau_b(list(one), list(other))
    assert found[0] == pytest.approx(tau, abs=5e-7)
    assert p is None or found[1] == pytest.approx(p, abs=5e-5)
