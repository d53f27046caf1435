"""Estimates against published worked examples; measured times in their place."""

from __future__ import annotations

import pytest

from oddbolt.catalog.tables import coarse_pitch_mm, most_index
from oddbolt.effort.estimates import most_s, most_tmu, screw_group_s, screw_turns
from oddbolt.effort.times import KnownTimes
from oddbolt.model import exchange
from oddbolt.model.things import Fastener
from tests.builders import device, joint, part

# K. B. Zandin, MOST Work Measurement Systems: printed examples with their totals, from memory (both recollections).
EXAMPLES = {"A6 B6 G1 A1 B0 P1 A0": 150, "A6 B6 G1 A1 B0 P3 A0": 170, "A1 B0 G1 A1 B0 P3 F10 A0 B0 P0 A0": 160,
            "A3 B0 G1 M6 X0 I6 A0": 160, "A1 B0 G3 M3 X0 I0 A0": 70, "A1 B0 G1 M1 X10 I0 A0": 130,
            "A10 B0 G1 A10 B0 P3 L24 A1 B0 P1 A0": 500}


@pytest.mark.parametrize("sequence", EXAMPLES)
def test_most_sequences_add_up_as_printed(sequence):
    assert most_tmu(sequence) == EXAMPLES[sequence]
    assert most_s(sequence) == pytest.approx(EXAMPLES[sequence] * 0.036)


def test_fasten_and_loosen_card():
    """Basic MOST data card, finger spins and wrist turns: the published limits (7 spins F10, 6 spins F10)."""
    assert [most_index("finger_spins", n) for n in (1, 2, 3, 6, 7, 8, 9, 16, 25, 35, 47, 61)] == \
        [1, 3, 6, 10, 10, 10, 16, 16, 24, 32, 42, 54]
    assert [most_index("wrist_turns", n) for n in (1, 3, 5, 9, 13, 17, 23, 29)] == [3, 6, 10, 16, 24, 32, 42, 54]
    assert most_index("finger_spins", 61 + 8) == 64


def test_pitches_of_iso_261():
    """ISO 261:1998, from memory, twice."""
    assert [coarse_pitch_mm(t) for t in ("M1", "M1.2", "M1.4", "M1.6", "M2", "M2.5", "M3", "M4")] == \
        [0.25, 0.25, 0.3, 0.35, 0.4, 0.45, 0.5, 0.7]


def test_a_small_screw_is_near_the_printed_screwdriver_example():
    """Zandin prints a small screwdriver with six spins as A1 B0 G1 A1 B0 P3 F10 A1 B0 P1 A0 = 180 TMU. Ours is broken
    loose first (L3) and the screw is laid aside (A1 B0 G1 A1 B0 P1), the driver is picked up once (A1 G1): 230 TMU."""
    six_turns = Fastener(id="A", thread="M1.4", length_mm=6 * 0.3 / 0.7)
    assert screw_turns(six_turns) == pytest.approx(6)
    assert screw_group_s(six_turns, 1) == pytest.approx((40 + 30 + 100 + 40 + 20) * 0.036)
    assert screw_group_s(six_turns, 4) == pytest.approx((4 * 210 + 20) * 0.036)


def teardown(log, **keys):
    data = device([part("cover"), part("cell")],
                  [joint("s", "cover", "base", kind="screw", fastener="A", count=4, ways=[{"tool": "ph00"}]),
                   joint("glue", "cell", "base", ways=[{"acts": [{"tool": "dropper", "active_s": 10},
                                                                {"tool": "card", "active_s": 30}]}])],
                  fasteners=[{"id": "A", "drive": "PH", "size": "00", "thread": "M1.6", "length_mm": 4}], log=log,
                  **keys)
    return exchange.from_json(data)


def entry(n, **keys):
    return {"id": f"e{n}", "do": "release", **keys}


def test_measured_before_entered_before_estimated():
    log = [entry(1, thing="s", seconds=20), entry(2, thing="s", seconds=26), entry(3, thing="s", seconds=90),
           entry(4, thing="s", seconds=5, outcome="failed")]
    found = KnownTimes(teardown(log)).act("s", 0, 0)
    assert (found.seconds, found.basis, found.readings) == (26, "measured", 3)
    assert found.low_s < 20 < 26 < found.high_s < 90  # the median is not as far off as one of its readings
    assert KnownTimes(teardown(log), entered_only=True).act("s", 0, 0).basis == "estimated"
    assert KnownTimes(teardown(log)).act("glue", 0, 0).basis == "entered"


def test_an_estimate_has_a_source_and_an_interval_around_it():
    found = KnownTimes(teardown([])).act("s", 0, 0)
    assert found.basis == "estimated" and "Zandin" in found.source
    assert found.low_s < found.seconds < found.high_s
    assert 10 < found.seconds < 45  # four small screws


def test_seconds_of_a_whole_way_are_shared_over_its_acts():
    times = KnownTimes(teardown([entry(1, thing="glue", way=0, seconds=80)]))
    assert (times.act_s("glue", 0, 0), times.act_s("glue", 0, 1)) == (20, 60)


def test_an_amended_reading_is_the_one_that_counts():
    log = [entry(1, thing="s", seconds=20), entry(2, thing="s", seconds=30, amends="e1")]
    assert KnownTimes(teardown(log)).act_s("s", 0, 0) == 30


def test_gaps_between_entries_are_never_a_measurement():
    log = [entry(1, thing="s", t=0), entry(2, thing="glue", t=500)]
    assert KnownTimes(teardown(log)).act("s", 0, 0).basis == "estimated"
