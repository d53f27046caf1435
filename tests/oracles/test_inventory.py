"""Parts and cables: mass by textbook geometry, kits against brute force, tethers by hand, the demo as it is meant."""

from __future__ import annotations

import itertools
import math
import random

import pytest
from PySide6.QtWidgets import QApplication
from scripts.study.screws import HELD_OUT, TRAINING, picture

from oddbolt.catalog.components import chip_kind, component_of, components, connector_types, expected, first_out
from oddbolt.imaging.finding.circles import snap
from oddbolt.imaging.recess import FOLDS, recess_families
from oddbolt.model import exchange
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Fastener, Mark, Part
from oddbolt.reassembly import inventory
from oddbolt.reassembly.bolts import LOOSE, OTHER_THREAD, TOO_LONG, bolt_types, likeness, look_alikes, torques
from oddbolt.reassembly.net import LIFTED, SWUNG, mating_cycles, net_of, untouched_net
from oddbolt.reassembly.tightening import GIVEN, crosswise, tightening_plan
from oddbolt.rules.blocked import can_free
from oddbolt.rules.kit import can_free_with, least_kit, tools_needed
from oddbolt.rules.structure import Structure
from tests.oracles.random_devices import random_device


@pytest.fixture(scope="module")
def demo(root):
    record = exchange.loads((root / "src/oddbolt/demo/dunlin-2.json").read_bytes())
    return record, Structure(record)


@pytest.fixture(scope="module")
def app():
    yield QApplication.instance() or QApplication(["tests"])


# -- what the demo shows

def test_the_demo_has_two_look_alikes_a_wrong_unit_and_a_missing_part(demo):
    record, structure = demo
    assert [(p.one, p.other, p.measure) for p in look_alikes(record)] == [("D", "F", "length_mm"),
                                                                          ("A", "B", "length_mm")]
    wrong = [f for f in torques(record) if f.check.verdict == "impossible"]
    assert [(f.joint, f.value, f.unit, f.check.slips[0]) for f in wrong] == [("speaker-left-screws", 12, "N·m", "N·cm")]
    assert [m.expected.id for m in inventory.missing(record, structure)] == ["position sensor (compass)"]
    balance = inventory.mass_balance(record, structure)
    assert abs(balance.unexplained_share) < 0.02 and not balance.without


def test_the_tether_picture_is_right_at_three_moments(demo):
    """The cover open on its cable; its plug out; the board lifted away from what it fed."""
    record, structure = demo
    at = {e.thing: e.id for e in record.log if e.do in ("release", "remove") and e.thing}
    assert not untouched_net(record, structure).tethers
    open_ = net_of(record, structure, 1, at["cover-swing"])
    assert [(t.part, t.to, t.link.joints) for t in open_.tethers] == [("back-cover", "main-board", ("cover-plug",))]
    assert dict(open_.parts)["back-cover"] == SWUNG
    loose = net_of(record, structure, 1, at["cover-plug"])
    assert not loose.tethers and [link.joints for link in loose.links if link.is_open] == [("battery-plug",),
                                                                                          ("cover-plug",)][::-1]
    end = net_of(record, structure, 1)
    assert not end.tethers and dict(end.parts)["main-board"] == LIFTED
    assert all(link.is_open for link in end.links if "main-board" in (link.one, link.other)
               and "position-receiver" not in (link.one, link.other))
    by_cable = [link for link in end.links if link.via == "coax-long"]
    assert {frozenset((link.one, link.other)) for link in by_cable} == {frozenset(("radio-board", "main-board")),
                                                                       frozenset(("main-board", "antenna-right"))}


def test_connectors_are_counted_and_described(demo):
    record, _ = demo
    cycles = {c.joint: c for c in mating_cycles(record)}
    assert cycles["battery-plug"].opened == 1 and not cycles["battery-plug"].is_worn
    assert all(c.type is not None for c in cycles.values())
    for row in connector_types().values():
        assert row.opens and row.breaks and row.cycles[0] <= row.cycles[1]


def test_every_kind_of_the_demo_has_words_and_chips_are_told_by_name(demo):
    record, _ = demo
    assert not [p.id for p in record.parts if component_of(p) is None]
    assert chip_kind(Part(id="x", name="Main processor", kind="chip")) == "processor"
    assert chip_kind(Part(id="x", name="U7", kind="chip")) == "chip"
    for row in components().values():
        assert row.what and row.where and row.opened


# -- masses

def test_the_mass_of_a_bolt_is_that_of_its_metal():
    """Steel, 7.85 g/cm³ (textbook): M3 x 8 with a head of 5.6 mm, a shank of the pitch diameter 2.675 mm."""
    shank = math.pi / 4 * 2.675 ** 2 * 8
    head = math.pi / 4 * 5.6 ** 2 * 0.45 * 3
    found = inventory.bolt_mass_g(Fastener(id="A", thread="M3", length_mm=8, head_mm=5.6))
    assert found == pytest.approx(0.00785 * (shank + head), rel=1e-3) and 0.5 < found < 0.7
    assert inventory.bolt_mass_g(Fastener(id="A", thread="?", length_mm=8)) == 0
    assert inventory.bolt_mass_g(Fastener(id="A", thread="M3")) == 0


def test_what_waste_rules_ask_for_depends_on_kind_and_area(demo):
    record, structure = demo
    found = {row.id: parts for row, parts in inventory.to_take_out_first(record, structure)}
    assert found["batteries"] == ("battery",) and "main-board" in found["boards"]
    assert "light-board" not in found["boards"]  # below 10 cm²
    assert "2012/19/EU" in first_out()[1]


def test_what_is_missing_can_be_answered(demo):
    record, structure = demo
    answered = exchange.to_json(record)
    answered["answers"].append({"method": "parts", "criterion": "absent", "part": "position sensor (compass)",
                                "value": True})
    assert [m.answered for m in inventory.missing(exchange.from_json(answered), structure)] == [True]
    assert expected("no such category") == []


# -- kits

def _subsets(tools):
    for number in range(len(tools) + 1):
        yield from itertools.combinations(sorted(tools), number)


@pytest.mark.parametrize("seed", range(60))
def test_the_least_kit_is_least_by_brute_force(seed):
    """All subsets of the tools of a random device: none that frees the part avoids a rank this kit needs, and none
    inside the kit frees it."""
    structure = Structure(exchange.from_json(random_device(seed, 8)))
    rank = {tool: n % 3 for n, tool in enumerate(sorted({
        tool for id_, release in structure.releases.items() for way in release.ways for act in way.acts
        for tool in (act.tool, *act.also)} | {tool for p in structure.removals.values()
                                              for act in p.acts for tool in (act.tool, *act.also)}))}
    tools = [tool for tool in rank if tool != "hand"]
    for part in list(structure.removals)[:4]:
        kit = least_kit(structure, part, lambda tool: rank.get(tool, 0))
        assert (kit is not None) == can_free(structure, (part,))
        if kit is None or len(tools) > 9:
            continue
        free = [set(s) for s in _subsets(tools) if can_free_with(structure, part, s)]
        assert set(kit) in free and not any(other < set(kit) for other in free)
        worst = max((rank[tool] for tool in kit), default=-1)
        assert worst == min(max((rank[tool] for tool in other), default=-1) for other in free)


def test_tools_further_ones_included(demo):
    _, structure = demo
    from oddbolt.rules.device_state import Operation

    assert tools_needed(structure, Operation("cover-seam", 0, 1)) == {"pick", "suction-cup"}
    assert tools_needed(structure, Operation(part="battery")) == frozenset()


# -- bolts

def test_counts_by_joints_marks_and_log(demo):
    record, _ = demo
    rows = {row.fastener.id: row for row in bolt_types(record)}
    assert (rows["A"].joined, rows["A"].marked, rows["A"].out) == (13, 13, 13)
    assert (rows["E"].joined, rows["E"].marked) == (4, 2) and rows["F"].out == 0


def test_likeness_and_what_a_swap_does(example):
    one = Fastener(id="A", drive="PH", size="00", thread="M1.6", length_mm=3, head_mm=2.5, colour="black")
    assert likeness(one, Fastener(id="B", drive="T", size="5", thread="M1.6", length_mm=3)) == 0
    assert likeness(one, Fastener(id="B", drive="PH", size="00", thread="M1.6", length_mm=3, colour="silver")) == 0
    assert likeness(one, Fastener(id="B", drive="PH", size="00", thread="M1.6", length_mm=3.5, colour="black")) > \
        likeness(one, Fastener(id="B", drive="PH", size="00", thread="M1.6", length_mm=5, colour="black"))
    example["fasteners"] = [{"id": "A", "drive": "PH", "size": "00", "thread": "M1.6", "length_mm": 4},
                            {"id": "B", "drive": "PH", "size": "00", "thread": "M1.4", "length_mm": 5.5}]
    example["joints"].append({"id": "other", "kind": "screw", "of": ["pack", "chassis"], "fastener": "B", "count": 2})
    pair = look_alikes(exchange.from_json(example))[0]
    codes = {(s.code, s.letter) for s in pair.swaps}
    assert (TOO_LONG, "B") in codes and (OTHER_THREAD, "A") in codes and pair.worst_mm == 1.5
    example["joints"][0]["hole_mm"] = 4.5  # half a millimetre to spare
    assert look_alikes(exchange.from_json(example))[0].worst_mm == 1.0
    example["fasteners"][1] |= {"thread": "M1.2", "length_mm": 4.5}
    codes = {(s.code, s.letter) for s in look_alikes(exchange.from_json(example))[0].swaps}
    assert (LOOSE, "B") in codes


# -- the recess on a photograph

def test_the_recess_family_is_proposed_from_a_photograph(app):
    """Drawn pictures, a hasty click on each of five screws; docs/methods/screws.md has the figures by family."""
    rng, right, number = random.Random(1), 0, 0
    fold_of = {family: fold for fold, families in FOLDS.items() for family in families}
    for seed in [*TRAINING, *HELD_OUT][::2]:
        made = picture(seed)
        for x, y in made.same[:5]:
            cx, cy, _ = snap(made.pixels, x + rng.uniform(-2, 2), y + rng.uniform(-2, 2), made.radius)
            found = recess_families(made.pixels, cx, cy, made.radius)
            number += 1
            right += bool(found) and fold_of[found[0][0]] == fold_of[made.recess]
    assert right / number > 0.7, (right, number)


# -- tightening

def test_crosswise_goes_over_the_middle_on_a_circle_and_a_rectangle():
    """Common practice, no source: opposite first, then the ones between."""
    four = {n: Mark(thing="s", n=n, x=x, y=y) for n, (x, y) in enumerate(((0, 0), (100, 0), (100, 60), (0, 60)), 1)}
    assert crosswise(four) in ((1, 3, 2, 4), (1, 3, 4, 2))
    six = {n + 1: Mark(thing="s", n=n + 1, x=math.cos(n * math.pi / 3) * 50 + 50, y=math.sin(n * math.pi / 3) * 50 + 50)
           for n in range(6)}
    order = crosswise(six)
    assert order[:2] == (1, 4) and sorted(order) == list(range(1, 7))
    assert crosswise({7: four[1]}) == (7,)


def test_rounds_are_those_of_the_refit_or_of_the_school(example):
    record = exchange.from_json(example)
    plan = tightening_plan(record, "cover-screws")
    assert plan.source == "refit" and [r.level for r in plan.rounds] == ["started", "tight"]
    assert (plan.rounds[1].torque, plan.rounds[1].unit) == (9, "N·cm")
    example["views"][0]["marks"] = [{"thing": "cover-screws", "n": n, "x": 100.0 * n, "y": 5.0} for n in range(1, 5)]
    assert tightening_plan(exchange.from_json(example), "cover-screws").rounds[1].order == (1, 3, 2, 4)
    example["refit"] = []
    assert tightening_plan(exchange.from_json(example), "cover-screws").source == "order"
    one = tightening_plan(exchange.from_json(example), "cover-screws", GIVEN)
    assert [(r.level, r.order) for r in one.rounds] == [("tight", (1, 3, 2, 4))]
    example["views"] = []
    example["log"] = []
    with pytest.raises(Refusal, match="no-numbered-screws"):
        tightening_plan(exchange.from_json(example), "cover-screws")
