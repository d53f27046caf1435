"""Records beside each other: what stands for what, facts told otherwise, merging, ways told, permutation p; each
against something else than the program's own answer."""

from __future__ import annotations

import json
import math
import random

import pytest
from benchmarks.devices import layered_device
from msgspec.structs import replace
from scipy import stats
from scripts.demo import curlew
from scripts.make_demo import FOLDER

from oddbolt.cli import commands as cli
from oddbolt.comparing.agreement import permutation_p, tau_b
from oddbolt.comparing.criteria import on_criteria
from oddbolt.comparing.devices import compared, matchings
from oddbolt.comparing.facts import THERE, differences
from oddbolt.comparing.matching import Corrections, matched
from oddbolt.comparing.profile import profile
from oddbolt.comparing.told import held
from oddbolt.effort.times import KnownTimes
from oddbolt.knowledge.checks.findings import access_findings
from oddbolt.model import exchange
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import ToldWay
from oddbolt.reassembly.findings import findings
from oddbolt.rules.counting import count
from oddbolt.rules.device_state import DeviceState
from oddbolt.scoring.method import load_method
from oddbolt.search.planner import Planner
from oddbolt.session.verbs.judging.merging import merged
from oddbolt.store.files import read_json
from oddbolt.store.matches import matches_path, read_matches, write_matches
from tests.builders import device, joint, part
from tests.oracles.test_causes import edited, named


def make(record):
    return Planner(record, KnownTimes(record))


@pytest.fixture(scope="module")
def two():
    return read_json(FOLDER / "curlew.json"), read_json(FOLDER / "curlew-2.json")


# -- permutation p: section (i) of the house's own reference, and scipy

def test_permutation_p_of_published_orders():
    """From memory, checked by scipy: orders 1..8 against 1 2 3 5 4 7 8 6 have tau .785714 and an exact p of .00551."""
    one, other = range(1, 9), [1, 2, 3, 5, 4, 7, 8, 6]
    assert tau_b(one, other)[0] == pytest.approx(0.785714, abs=1e-6)
    assert permutation_p(one, other) == pytest.approx(0.00551, abs=5e-6)
    ties = (12, 2, 1, 12, 2), (1, 4, 7, 1, 0)
    assert tau_b(*ties)[0] == pytest.approx(-0.471405, abs=1e-6)
    assert math.isnan(permutation_p((1, 1, 1), (1, 2, 3)))  # not defined


def test_permutation_p_agrees_with_scipy(long_run):
    rng = random.Random(4)
    for size in (4, 6, 7, 8, 12, 20):
        for _ in range(8 if long_run else 2):
            one, other = rng.sample(range(100), size), rng.sample(range(100), size)
            exact = stats.kendalltau(one, other, method="exact").pvalue
            assert permutation_p(one, other) == pytest.approx(exact, abs=1e-9 if size <= 8 else 0.02)
    tied = [rng.randint(1, 4) for _ in range(7)], [rng.randint(1, 4) for _ in range(7)]
    drawn = stats.permutation_test((tied[0],), lambda x: abs(stats.kendalltau(x, tied[1]).statistic),
                                   permutation_type="pairings", n_resamples=6000, alternative="greater", rng=1)
    assert permutation_p(*tied) == pytest.approx(drawn.pvalue, abs=0.02)


# -- the two records of the field camera

def test_what_ships_is_what_the_script_describes(two):
    for record, camera, name in zip(two, (curlew.ONE, curlew.TWO), ("curlew", "curlew-2")):
        assert exchange.dumps(record) == exchange.dumps(exchange.from_json(camera.teardown()))
        scene = json.loads((FOLDER / f"{name}.scene.json").read_text())
        assert scene == json.loads(json.dumps(camera.scene_json()))
        lifted = {entry.thing: entry.id for entry in record.log if entry.do == "remove"}
        expected = {(code, lifted.get(thing, thing) if code == "log-tied" else thing)
                    for code, thing in curlew.FAULTS[name]}
        assert {(one.code, one.thing) for one in (*findings(record),)} == expected
        assert {one.code for one in access_findings(record)} <= {code for code, _ in expected}


def test_each_fact_in_which_they_differ_is_told_and_nothing_else(two):
    both = matched(*two)
    assert both.parts["lens"] == "objective"  # by its role: neither name nor id is the same
    found = {(one.one, one.fact) for one in differences(*two, both)}
    assert found >= set(curlew.DIFFER)
    tools = {joint.id for joint in two[0].joints if joint.kind == "connector"}
    assert found == set(curlew.DIFFER) | {(plug, "ways") for plug in tools}


def test_what_it_is_made_with(two):
    found = profile(make(two[0]))
    assert found.fasteners == {"T8 M2.5 x 8": 6, "PH0 M2 x 5": 12, "PH00 M1.6 x 4": 6} and found.figures["bolts"] == 24
    assert found.figures["glue"] == 3 and found.connectors == {"wire-to-board": 2, "board-to-board": 1, "zif": 3}
    assert found.figures["renewed"] == 3 and found.figures["destroyed"] == 1 and len(found.passes) == 1


def test_agreement_by_criterion_names_what_is_open(two):
    rows = {one.criterion.id: one for one in on_criteria(two, load_method("house-rubric"))}
    alike = [one for one in rows.values() if all(a == b for a, b in one.points)]
    other = [one for one in rows.values() if one not in alike]
    assert alike and other and all(len(row) == 2 for one in rows.values() for row in one.points)
    for one in alike:  # all the same to all: not defined; the same, but not to all: 1
        values = {value for row in one.points for value in row}
        assert math.isnan(one.kappa.value) == math.isnan(one.alpha.value) == (len(values) == 1)
        assert len(values) == 1 or one.kappa.value == one.alpha.value == pytest.approx(1.0)
    assert all(one.kappa.value < 1 and one.alpha.value < 1 for one in other)


# -- matching that a person corrects

def test_what_was_told_comes_first_and_never_twice(two):
    told = Corrections().with_pair(two[0], "lens", "display").with_pair(two[0], "display", None)
    both = matched(*two, told)
    assert both.parts["lens"] == "display" and "display" not in both.parts
    assert len(set(both.parts.values())) == len(both.parts)
    again = told.with_pair(two[0], "main-board", "display")  # whose like it was has none any more by what was told
    assert again.parts == {"display": None, "main-board": "display"}
    assert matched(*two, Corrections(parts={"lens": "not-there", "nobody": "cell"})).parts["lens"] == "objective"


def test_corrections_are_kept_beside_the_record(tmp_path, two):
    record = tmp_path / "own.oddbolt"
    assert read_matches(record) == {}
    told = {"other.json": Corrections(parts={"lens": None}, joints={"door-screws": "lens-screws"})}
    write_matches(record, told)
    assert read_matches(record) == told and matches_path(record).name == "own.matches.json"
    write_matches(record, {"other.json": Corrections()})
    assert not matches_path(record).exists()
    for text in ("nonsense", "[]", '{"format": "other", "version": 1, "records": {}}',
                 '{"format": "oddbolt-matches", "version": 1, "records": {"a": {"parts": {"a": 1}}}}', "[" * 100_000):
        matches_path(record).write_text(text)
        with pytest.raises(Refusal) as caught:
            read_matches(record)
        assert caught.value.code == "bad-matches"


def test_rows_follow_the_matching(two):
    planners = [make(two[0]), make(two[1])]
    rows = {row.role: row for row in compared(make, planners, with_causes=False)}
    assert [one.part for one in rows["rear_camera"].reached] == ["lens", "objective"]
    told = {1: Corrections(parts={"lens": None})}
    rows = [row for row in compared(make, planners, told, with_causes=False) if row.role == "rear_camera"]
    assert [[None if one is None else one.part for one in row.reached] for row in rows] == [
        ["lens", None], [None, "objective"]]


def test_three_records_stand_in_one_row_each(two):
    three = [make(two[0]), make(two[1]), make(replace(two[1], device=replace(two[1].device, name="Third")))]
    rows = compared(make, three)
    assert all(len(row.reached) == 3 and len(row.why) == 2 for row in rows)
    assert [row.why[0].difference for row in rows] == [row.why[1].difference for row in rows]
    for row in rows:
        for found in row.why:
            assert found.difference == sum(cause.steps for cause in found.causes) + found.remainder


# -- merging

def test_all_facts_taken_over_leave_nothing_that_differs(long_run):
    """Checked by looking for differences again; ids stay the first's, the log stays."""
    for seed in range(60 if long_run else 15):
        rng = random.Random(seed)
        one = named(exchange.from_json(layered_device(rng.randint(20, 40), seed)))
        other = edited(one, rng)
        both = matched(one, other)
        found = differences(one, other, both)
        after = merged(one, other, both, [x.key for x in found])
        assert differences(after, other, matched(after, other)) == [], seed
        some = [x for x in found if x.fact != THERE and rng.random() < 0.5]
        after = merged(one, other, both, [x.key for x in some])
        left = {x.key for x in differences(after, other, matched(after, other))}
        assert left == {x.key for x in found} - {x.key for x in some}, seed
        assert merged(one, other, both, []) == exchange.loads(exchange.dumps(one))


def test_things_come_in_with_ids_and_letters_of_their_own():
    one = exchange.from_json(device([part("lid", name="Lid")], [joint("s", "lid", "base", kind="screw", fastener="A")],
                                    fasteners=[{"id": "A", "drive": "T", "size": "5"}]))
    other = exchange.from_json(device(
        [part("lid", name="Lid"), part("s", name="Shield", behind=[["lid"]])],
        [joint("t", "lid", "base", kind="screw", fastener="A"), joint("u", "s", "base", kind="screw", fastener="B")],
        fasteners=[{"id": "A", "drive": "PH", "size": "00"}, {"id": "B", "drive": "T", "size": "5"}]))
    both = matched(one, other)
    after = merged(one, other, both, [x.key for x in differences(one, other, both)])
    shield = next(p for p in after.parts if p.name == "Shield")
    assert shield.id == "s-2" and shield.behind == (("lid",),)  # a joint has the id s here
    assert after.fastener[after.joint["s"].fastener].drive == "PH"
    assert after.joint["u"].fastener == "A" and after.joint["u"].of == ("s-2", "base")


# -- ways told

def things_of(plan):
    return list(dict.fromkeys(operation.part or operation.joint for operation in plan.sequence))


def test_ways_that_leave_out_are_mended_and_never_better_than_the_best(long_run):
    """On made-up devices: what is put in makes the way possible by the rules, read again operation by operation."""
    for seed in range(200 if long_run else 40):
        rng = random.Random(seed)
        record = exchange.from_json(layered_device(rng.randint(20, 45), seed))
        planner = make(record)
        parts = [p for p in planner.structure.removals if planner.plan([p]).feasible]
        target = rng.choice(parts)
        best = planner.plan([target])
        things = things_of(best)
        whole = held(planner, ToldWay(id="t", part=target, things=tuple(things)))
        assert whole.reaches and not whole.left_out and not whole.out_of_order and not whole.needless
        assert whole.mended.steps == best.count.steps
        kept = [thing for thing in things if rng.random() < 0.6]
        found = held(planner, ToldWay(id="t", part=target, things=tuple(kept)))
        assert found.reaches and found.mended.steps >= best.count.steps
        state = DeviceState(planner.structure)
        for timed in found.mended.timed:
            assert not state.obstacles(timed.operation), seed
            state.apply(timed.operation)
        assert target in {p for assembly, _ in state.lifted for p in assembly}
        assert not set(found.left_out) & set(kept) and found.is_too_good == bool(found.left_out)
        extra = [thing for thing in planner.structure.releases if thing not in planner.helpful_things(target)][:2]
        busy = held(planner, ToldWay(id="t", part=target, things=(*extra, *things)))
        assert not busy.reaches or set(extra) <= set(busy.needless)


def test_needless_things_can_go_by_a_count_of_their_own():
    record = read_json(FOLDER / "curlew.json")
    planner = make(record)
    things = [*things_of(planner.plan(["cell"]))[:-1], "lamp-plug", "lamp-screws", "cell"]
    found = held(planner, ToldWay(id="t", part="cell", things=tuple(things)))
    assert set(found.needless) == {"lamp-plug", "lamp-screws"}
    rest = [timed.operation for timed in found.mended.timed
            if (timed.operation.part or timed.operation.joint) not in found.needless]
    assert not count(planner.structure, planner.convention, planner.times, rest).obstacles


def test_the_leaflet_is_too_good(two):
    """Worked by hand: the leaflet leaves out the label, the seal, the bracket and its screws, and does the lens plug
    live."""
    found = held(make(two[0]), two[0].told[0])
    assert found.is_too_good and set(found.left_out) == {"door-label", "door-seal", "bracket-screws", "lens-bracket"}
    assert found.as_told.steps == 3 and found.mended.steps == found.best.count.steps == 6
    assert found.live == ("lens-plug",)


@pytest.mark.parametrize(("things", "reaches", "early"), [
    (("cell-plug", "cell"), True, ("cell-plug",)), (("cell", "door-screws"), True, ("cell",)),
    (("cell", "cell", "cell"), True, ()), ((), True, ()), (("desiccant",), True, ())])
def test_whatever_was_told_gives_an_answer(two, things, reaches, early):
    found = held(make(two[0]), ToldWay(id="t", part="cell", things=things))
    assert found.reaches == reaches and set(found.out_of_order) <= {*early, "cell"}
    assert found.unknown == (("desiccant",) if things == ("desiccant",) else ())


def test_a_part_that_never_comes_off_is_said_to():
    record = exchange.from_json(device([part("a", behind=[["b"]]), part("b", behind=[["a"]])], []))
    found = held(make(record), ToldWay(id="t", part="a", things=("b", "a")))
    assert not found.reaches and found.mended is None and not found.best.feasible


def test_told_ways_are_checked_when_read_and_kept(two):
    data = exchange.to_json(two[0])
    assert exchange.to_json(exchange.from_json(data))["told"] == data["told"]
    for key, value, path in (("part", "nobody", "$.told[0].part"),
                             ("things", ["cell", "nothing"], "$.told[0].things[1]")):
        broken = json.loads(json.dumps(data))
        broken["told"][0][key] = value
        with pytest.raises(Refusal) as caught:
            exchange.from_json(broken)
        assert caught.value.path == path


def test_the_command_line_names_two_analysts_apart(capsys):
    assert cli.run(["compare", str(FOLDER / "curlew.json"), str(FOLDER / "curlew-2.json")]) == 0
    assert "Curlew (M. Ferring) against Curlew (W. Ansel)" in capsys.readouterr().out
    assert matchings([make(read_json(FOLDER / "curlew.json"))]) == []
