"""How firm: the range over all worlds by brute force, and what matters is what moves it."""

from __future__ import annotations

import itertools
import random

import pytest
from scripts.screenshots import all_assumed

from oddbolt.knowledge import questions
from oddbolt.knowledge.questions import Assumptions
from oddbolt.model import exchange
from oddbolt.studies.firmness import firmness, settled
from tests.builders import last, planner_of


def recorded():
    """Three covers lifted one after another, then a cell; what hides the cell's plug is assumed."""
    parts = [{"id": "base", "kind": "frame"}] + [{"id": f"c{n}", "kind": "cover", "basis": "seen"} for n in range(3)]
    parts.append({"id": "cell", "kind": "battery", "basis": "seen"})
    joints = [{"id": f"j{n}", "kind": "screw", "of": [f"c{n}", "base"], "basis": "seen", "count": 2,
               "ways": [{"tool": f"t{n + 5}", "active_s": 10}]} for n in range(3)]
    joints.append({"id": "plug", "kind": "connector", "of": ["cell", "base"], "basis": "assumed", "behind": [["c2"]],
                   "ways": [{"tool": "spudger", "active_s": 3}]})
    order = [("release", "j0"), ("remove", "c0"), ("release", "j1"), ("remove", "c1"), ("release", "j2"),
             ("remove", "c2"), ("release", "plug"), ("remove", "cell")]
    log = [{"id": f"e{n}", "t": n, "do": do, "thing": thing} for n, (do, thing) in enumerate(order)]
    return exchange.from_json({"format": "oddbolt-teardown", "version": 1, "device": {"base": "base"}, "parts": parts,
                               "joints": joints, "log": log})


def test_the_range_is_that_of_all_worlds():
    record = recorded()
    assumptions = Assumptions(record)
    pairs = list(assumptions.pairs)
    assert pairs and {thing for thing, _ in pairs} == {"plug"}
    found = last(firmness(planner_of, record, ["cell", "c0"]))
    cell, cover = found
    assert cover.is_firm and not cover.matters
    one_of = assumptions.of["plug"].one_of
    steps = []
    for choice in itertools.product((False, True), repeat=len(pairs)):
        world = dict(zip(pairs, choice))
        if one_of and sum(world["plug", x] for x in one_of) != 1:
            continue
        steps.append(planner_of(settled(assumptions, record, world)).plan(["cell"]).count.steps)
    assert cell.exact and cell.worlds == len(steps) and cell.steps == (min(steps), max(steps))
    assert not cell.is_firm and cell.matters[0][0] == "plug"


def test_a_record_without_assumptions_is_firm(example):
    record = exchange.from_json(example)
    assert all(f.is_firm and f.exact and f.worlds == 1 for f in last(firmness(planner_of, record, ["pack", "cover"])))


def test_many_assumptions_are_sampled_and_repeat(root):
    record = all_assumed(exchange.loads((root / "src/oddbolt/demo/dunlin-2.json").read_bytes()))
    parts = ["battery", "port-board", "speaker-left"]
    one, again = (last(firmness(planner_of, record, parts)) for _ in range(2))
    assert one == again and all(not f.exact and f.worlds == 24 for f in one)
    assert any(not f.is_firm and f.matters for f in one)
    for f in one:
        assert f.steps[0] <= f.steps[1] and f.time_ms[0] <= f.time_ms[1]


def test_where_there_are_few_worlds_questions_are_ranked_exactly(monkeypatch):
    record = recorded()
    parts = ["cell", "c0", "c2"]
    exact = last(questions.rank(record, parts))
    assert exact and exact == last(questions.rank(record, parts, seed=99))  # nothing is drawn
    monkeypatch.setattr(questions, "FEW", 0)
    sampled = {(q.kind, q.about): q.spread for q in last(questions.rank(record, parts, worlds=6000))}
    assert sampled.keys() == {(q.kind, q.about) for q in exact}
    for question in exact:
        assert abs(question.spread - sampled[question.kind, question.about]) < 0.06, (question, sampled)


def test_the_worlds_are_all_there_are(monkeypatch):
    assumptions = Assumptions(recorded())
    worlds = questions.every_world(assumptions)
    assert sum(p for _, p in worlds) == pytest.approx(1.0)
    drawn = {frozenset(w.items()) for w in (questions.draw(assumptions, assumptions.of, random.Random(n))
                                            for n in range(400))}
    known = {frozenset(world.items()): p for world, p in worlds}
    assert drawn <= known.keys() and sum(p for world, p in known.items() if world not in drawn) < 0.02
    monkeypatch.setattr(questions, "FEW", len(worlds) - 1)
    assert questions.every_world(assumptions) is None
