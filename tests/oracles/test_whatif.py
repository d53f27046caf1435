"""What if: what is left out of the planning changes nothing; known changes do what they must."""

from __future__ import annotations

import pytest

from oddbolt.effort.times import KnownTimes
from oddbolt.model import exchange
from oddbolt.search.planner import Planner
from oddbolt.studies.whatif import CROSS, GONE, HALVED, IN_FRONT, ONE_TYPE, PART_GONE, PULL_TAB, changes, what_if
from tests.builders import last, planner_of
from tests.oracles.random_devices import random_device


@pytest.mark.parametrize("seed", range(60))
def test_only_what_a_change_can_reach_is_planned_anew(seed):
    record = exchange.from_json(random_device(seed, 9))
    parts = list(planner_of(record).structure.removals)
    quick = last(what_if(planner_of, record, parts))
    slow = last(what_if(planner_of, record, parts, from_scratch=True))
    assert [(o.kind, o.thing, [(e.part, e.steps) for e in o.effects if e.steps[0] != e.steps[1]]) for o in quick
            if any(e.steps[0] != e.steps[1] for e in o.effects)] == \
        [(o.kind, o.thing, [(e.part, e.steps) for e in o.effects if e.steps[0] != e.steps[1]]) for o in slow
         if any(e.steps[0] != e.steps[1] for e in o.effects)]


def test_incremental_and_from_scratch_agree_on_the_demo_and_less_is_planned(root):
    record = exchange.loads((root / "src/oddbolt/demo/dunlin-2.json").read_bytes())
    parts = [p.id for p in record.parts if p.role]
    quick = last(what_if(planner_of, record, parts))
    slow = last(what_if(planner_of, record, parts, from_scratch=True))
    quick_effects, slow_effects = ({(o.kind, o.thing, o.second, e.part): e for o in found for e in o.effects}
                                   for found in (quick, slow))
    for key in quick_effects.keys() | slow_effects.keys():
        one, other = quick_effects.get(key), slow_effects.get(key)
        told = one or other
        if one is None or other is None:  # of equally short plans another: no step, and hardly a second
            assert told.steps[0] == told.steps[1] and told.time_ms[1] == pytest.approx(told.time_ms[0], rel=0.01), key
        else:
            assert one.steps == other.steps and one.time_ms[1] == pytest.approx(other.time_ms[1], rel=0.01), key
    assert sum(o.planned for o in quick) < sum(o.planned for o in slow) / 1.5
    assert {o.kind for o in quick} >= {GONE, PULL_TAB, CROSS, IN_FRONT, HALVED, PART_GONE}


def test_each_change_does_what_it_says(example):
    """The example: 126.6 s in two steps to the pack, as the contract works it out by hand."""
    record = exchange.from_json(example)
    made = {(c.kind, c.thing): c.record for c in changes(Planner(record, KnownTimes(record, entered_only=True)))}
    entered = {key: Planner(value, KnownTimes(value, entered_only=True)).plan(["pack"]) for key, value in made.items()}
    assert (HALVED, "cover-screws") in entered and (ONE_TYPE, "") not in entered  # one driver already
    assert entered[HALVED, "cover-screws"].count.time_ms == 126_600 - 12_000
    without_glue = entered[GONE, "pack-glue"].count
    assert (without_glue.steps, without_glue.time_ms) == (2, 24_000 + 2_000 + 3_000 + 4_000)
    assert entered[PULL_TAB, "pack-glue"].count.time_ms == 24_000 + 2_000 + 3_000 + 3_600 + 45_000 + 4_000
    assert (GONE, "pack-plug") not in entered  # what makes safe is not left out
    assert exchange.to_json(record) == example  # nothing was changed by asking


def test_a_record_without_variants_keeps_all_its_parts_when_one_is_left_out(example):
    example["parts"].append({"id": "guard", "kind": "bracket", "only_in": ["other"]})
    example["joints"].append({"id": "guard-clip", "kind": "clip", "of": ["guard", "chassis"]})
    record = exchange.from_json(example)
    change = next(c for c in changes(planner_of(record)) if (c.kind, c.thing) == (GONE, "guard-clip"))
    present = planner_of(change.record).structure.present
    assert {"guard", "pack", "cover"} <= set(present)
    assert "guard-clip" not in planner_of(change.record).structure.releases


def test_a_pair_is_what_both_changes_at_once_come_to(root):
    record = exchange.loads((root / "src/oddbolt/demo/dunlin-2.json").read_bytes())
    parts = [p.id for p in record.parts if p.role]
    now = {part: planner_of(record).plan([part]).count.steps for part in parts}
    pairs = [o for o in last(what_if(planner_of, record, parts)) if o.second]
    assert pairs
    for pair in pairs[:3]:
        first = next(c for c in changes(planner_of(record)) if (c.kind, c.thing) == (pair.kind, pair.thing))
        both = next(c for c in changes(planner_of(first.record)) if (c.kind, c.thing) == pair.second)
        planner = planner_of(both.record)
        saved = {part: now[part] - planner.plan([part]).count.steps for part in parts}
        assert sum(saved.values()) == pair.steps
        assert {e.part for e in pair.effects} >= {part for part, steps in saved.items() if steps}
