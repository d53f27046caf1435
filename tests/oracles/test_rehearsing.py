"""A learner's choices are judged right: against the rules read again plainly, on made-up devices and the demos."""

from __future__ import annotations

import random
from datetime import date, timedelta

import pytest
from benchmarks.devices import layered_device
from scripts.make_demo import FOLDER

from oddbolt.comparing.told import held
from oddbolt.effort.times import KnownTimes
from oddbolt.model import exchange
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import ToldWay
from oddbolt.rehearsing import back, bench, questions
from oddbolt.rehearsing.boxes import DAYS, LAST, Learner, Round
from oddbolt.rules.counting import count
from oddbolt.search.planner import Planner
from oddbolt.store.by_name import path_of
from oddbolt.store.files import read_json
from oddbolt.store.learners import FOLDER as LEARNERS
from oddbolt.store.learners import known_learners, read_learner, write_learner
from tests.builders import device, joint, part, planner


def make(record):
    return Planner(record, KnownTimes(record))


def cleared(data, out, thing):
    """Whether the file itself lets a thing go now, with `out` out: a reading of the JSON, without the program's rules.
    A part takes along what lies on it; every joint that ties it to what stays must be open; of `behind` one row is
    clear."""
    parts = {p["id"]: p for p in data["parts"]}
    joints = {j["id"]: j for j in data["joints"]}
    base = data["device"]["base"]

    def moves_with(id_):
        found, grown = {id_}, True
        while grown:
            more = {p for p, row in parts.items() if row.get("on", base) in found and p not in found and p not in out
                    and p != base}
            grown = bool(more)
            found |= more
        return found

    def is_clear(rows):
        return not rows or any(all(name in out for name in row) for row in rows)

    if thing in joints:
        ways = joints[thing].get("ways") or [{}]
        return is_clear(joints[thing].get("behind", [])) and any(is_clear(way.get("behind", [])) for way in ways)
    inside = moves_with(thing)
    ties = [j for j, row in joints.items() if j not in out and set(row["of"]) & inside and set(row["of"]) - inside]
    return is_clear(parts[thing].get("behind", [])) and not ties


def flat(seed):
    """A layered device in which nothing lies on anything, so that the plain reading above holds to the letter."""
    data = layered_device(random.Random(seed).randint(12, 30), seed)
    for one in data["parts"]:
        one.pop("on", None)
    return data


@pytest.mark.parametrize("kind", ["right", "greedy", "careless"])
def test_learners_of_three_kinds_are_judged_as_the_file_says(kind, long_run):
    for seed in range(200 if long_run else 25):
        rng = random.Random(f"{kind}{seed}")
        data = flat(seed)
        record = exchange.from_json(data)
        plans = make(record)
        targets = [p for p in plans.structure.removals if plans.plan([p]).feasible]
        learner = bench.Rehearsal(plans, rng.choice(targets))
        out: set[str] = set()
        for _ in range(300):
            if learner.is_there:
                break
            if kind == "right":
                hint = learner.hint(3)
                thing, tool = hint.things[0], hint.tool
            else:
                free = [one for one in learner.things if cleared(data, out, one)]
                thing = rng.choice(free if kind == "greedy" else [*learner.things, *out])
                tools = learner.tools_of(thing)
                tool = tools[0] if kind == "greedy" or rng.random() < 0.7 else "nonsense"
            allowed = thing not in out and cleared(data, out, thing)
            found = learner.choose(thing, tool)
            assert found.is_done == (allowed and tool in learner.tools_of(thing)), (kind, seed, found)
            if thing in out:
                assert found.codes == (bench.GONE,)
            elif not allowed:
                assert found.codes in ((bench.HIDDEN,), (bench.TORN,)) and set(found.things).isdisjoint(out)
            elif tool not in learner.tools_of(thing):
                assert found.codes == (bench.TOOL,)
            if found.is_done:
                out.add(thing)
        marks = learner.marks()
        assert not count(plans.structure, plans.convention, plans.times, learner.done).obstacles
        assert marks.is_there == (learner.target in out) and marks.steps >= (marks.best if marks.is_there else 0)
        if kind == "right":
            assert marks.is_there and marks.steps == marks.best and marks.live == marks.best_live
            assert (marks.needless, marks.torn, marks.wrong_tool, marks.too_early) == (0, 0, 0, 0)


def test_on_the_demo_what_is_live_torn_needless_and_of_another_tool_is_said():
    learner = bench.Rehearsal(make(read_json(FOLDER / "curlew.json")), "lens")
    assert learner.choose("door-screws", "t8").codes == (bench.HIDDEN,)  # the label lies over one
    assert learner.choose("door-label", "tweezers").codes == (bench.FINE,)
    found = learner.choose("door-screws", "ph0")
    assert found.codes == (bench.TOOL,) and found.tools == ("t8",)
    for thing in ("door-screws", "door-seal", "door-hinge", "bracket-screws", "lens-bracket"):
        assert learner.choose(thing, learner.tools_of(thing)[0]).is_done
    assert learner.choose("lens", "hand").codes == (bench.TORN,) and learner.judged[-1].things == (
        "lens-plug", "lens-screws")
    assert learner.choose("lens-plug", "spudger").codes == (bench.LIVE,)  # the cell's was not opened first
    assert learner.choose("lamp-plug", "spudger").codes == (bench.LIVE, bench.NEEDLESS)
    assert learner.choose("lens-screws", "ph00").is_done and "glass" in learner.choose("lens", "hand").hazards
    marks = learner.marks()
    assert (marks.live, marks.best_live, marks.torn, marks.needless) == (2, 0, 1, 1)
    assert (marks.wrong_tool, marks.too_early) == (1, 1)
    assert learner.is_there and learner.choose("lens", "hand").codes == (bench.GONE,)
    assert learner.choose("nobody", "hand").codes == (bench.UNKNOWN,)


def test_hints_go_by_degrees_and_are_counted():
    learner = bench.Rehearsal(make(read_json(FOLDER / "curlew.json")), "cell")
    one, two, three = (learner.hint(degree) for degree in (1, 2, 3))
    assert one.things == () and one.number >= 1 and len(two.things) == 2
    assert three.things[0] in two.things and three.tool in learner.tools_of(three.things[0]) and learner.hints == 3


def test_putting_back_takes_what_can_go_in_and_refuses_what_would_close_over(long_run):
    """Any order of putting back that is taken is, read backwards, an order in which it comes off by the rules."""
    for seed in range(100 if long_run else 20):
        rng = random.Random(seed)
        plans = make(exchange.from_json(layered_device(rng.randint(14, 34), seed)))
        target = rng.choice([p for p in plans.structure.removals if plans.plan([p]).feasible])
        plan = plans.plan([target])
        putting, order = back.PuttingIn(plans, plan), []
        for _ in range(2000):
            if putting.is_closed:
                break
            thing = rng.choice(putting.off)
            if putting.choose(thing).code == back.FINE:
                order.append(thing)
        assert putting.is_closed, seed
        by_thing = {}
        for operation in plan.sequence:
            by_thing.setdefault(operation.part or operation.joint, []).append(operation)
        backwards = [operation for thing in reversed(order) for operation in by_thing[thing]]
        assert not count(plans.structure, plans.convention, plans.times, backwards).obstacles, seed


def test_torques_are_asked_by_the_instruction():
    plans = make(read_json(FOLDER / "dunlin-2.json"))
    putting = back.PuttingIn(plans, plans.plan(["battery"]))
    thing, told = next(iter(putting.torques.items()))
    assert putting.is_right_torque(thing, told * 1.05) and not putting.is_right_torque(thing, told * 1.3)
    assert putting.is_right_torque("nothing", 5) is None


# -- questions

@pytest.mark.parametrize("name", ["dunlin-2", "bittern", "curlew"])
def test_questions_have_one_right_answer_by_the_record(name):
    from oddbolt.catalog.components import connector_types
    from oddbolt.comparing.profile import type_of

    record = read_json(FOLDER / f"{name}.json")
    asked = questions.questions_of(record, 3)
    assert len(asked) > 12 and {one.kind for one in asked} == {"part", "screw", "plug", "opens"}
    assert len({one.id for one in asked}) == len(asked)
    for one in asked:
        right = one.options[one.right]
        assert 2 <= len(one.options) <= 4 and len(set(one.options)) == len(one.options)
        assert any(mark.thing == one.thing for mark in record.view[one.view].marks)
        if one.kind == "part":
            assert right == record.part[one.thing].kind
        elif one.kind == "screw":
            assert right == type_of(record.fastener[record.joint[one.thing].fastener])
        else:
            row = connector_types()[record.joint[one.thing].type]
            assert right == (row.type if one.kind == "plug" else row.opens)
    assert {one.id for one in questions.questions_of(record, 4)} == {one.id for one in asked}


def test_a_fault_is_the_only_one_in_its_way():
    plans = make(read_json(FOLDER / "curlew.json"))
    seen = set()
    for seed in range(24):
        one = questions.fault_question(plans, "lens", seed)
        found = held(plans, ToldWay(id="q", part="lens", things=one.way))
        told = {"left-out": bool(found.left_out), "needless": bool(found.needless), "swapped": bool(found.out_of_order)}
        right = one.options[one.right]
        assert [code for code, is_so in told.items() if is_so] == ([] if right == "nothing" else [right])
        seen.add(right)
    assert seen == set(questions.FAULTS)
    stuck = planner(device([part("a", behind=[["b"]]), part("b", behind=[["a"]])], [joint("j", "a", "base")]))
    assert questions.fault_question(stuck, "a") is None


# -- boxes, learners

def test_boxes_after_leitner():
    """Known: one box further, and due after twice the days; not known: in the first again (S. Leitner 1972, from
    memory)."""
    day, learner = date(2026, 1, 1), Learner(name="A")
    for box in range(2, LAST + 2):  # a new card stands in the first
        learner = learner.answered("q", right=True, today=day)
        assert learner.cards["q"].box == min(box, LAST)
        assert learner.due(["q"], day + timedelta(DAYS[min(box, LAST)] - 1)) == []
        day = learner.cards["q"].due
        assert learner.due(["q"], day) == ["q"]
    learner = learner.answered("q", right=False, today=day)
    assert learner.cards["q"].box == 1
    learner = learner.answered("known", right=True, today=day - timedelta(30)).answered("known", right=True,
                                                                                     today=day - timedelta(20))
    assert learner.due(["new", "known", "q"], day + timedelta(1)) == ["q", "known", "new"]


def test_progress_is_kept_and_hostile_files_are_refused(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    learner = read_learner("Ann").answered("q", right=True, today=date(2026, 3, 4)).done(
        Round(day=date(2026, 3, 4), exercise="apart", device="Curlew", right=3, asked=4, steps=7, best=6))
    write_learner(learner)
    assert read_learner("Ann") == learner and known_learners() == ["Ann"]
    kept = '{"format": "oddbolt-learner", "version": 1, "cards": %s, "rounds": %s}'
    for text in ("[", "{}", kept % ('{"a": [9, "2026-01-01"]}', "[]"), kept % ('{"a": [1, "soon"]}', "[]"),
                 kept % ("{}", '[{"day": "2026-01-01", "x": 1}]')):
        path_of(LEARNERS, "Ann").write_text(text)
        with pytest.raises(Refusal) as caught:
            read_learner("Ann")
        assert caught.value.code == "bad-learner"
    for name in ("", "../x", "a/b", ".x", "n" * 100):
        with pytest.raises(Refusal):
            path_of(LEARNERS, name)
