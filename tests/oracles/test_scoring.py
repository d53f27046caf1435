"""The index arithmetic of Delegated Regulation (EU) 2023/1669, annex IV, and the evaluator's honesty about unknowns."""

from __future__ import annotations

import pytest

from oddbolt.effort.times import KnownTimes
from oddbolt.model import exchange
from oddbolt.scoring.evaluate import evaluate, weighted_index
from oddbolt.scoring.method import load_method
from oddbolt.scoring.planned import AllPlanned
from oddbolt.scoring.standing import judged_fully
from tests.builders import device, joint, part

METHOD = load_method("eu-2023-1669-tablet")
IDS = ("disassembly_depth", "fasteners", "tools", "spare_parts", "software_updates", "repair_information")


def index(*points):
    return weighted_index(METHOD, dict(zip(IDS, points)))


def test_weights_sum_to_one():
    assert sum(criterion.weight for criterion in METHOD.criteria) == pytest.approx(1)
    assert sum(METHOD.part_weights.values()) == pytest.approx(1)


# Own arithmetic on the published weights 0.25 and five times 0.15, and the class limits 4.00, 3.35, 2.55, 1.75.
@pytest.mark.parametrize(("points", "value", "name"), [
    ((5, 5, 5, 5, 5, 5), 5.00, "A"), ((1, 1, 1, 1, 1, 1), 1.00, "E"), ((3, 4, 4, 4, 4, 4), 3.75, "B"),
    ((4, 3, 4, 3, 1, 5), 3.40, "B"), ((4, 4, 4, 4, 4, 4), 4.00, "A")])
def test_index_and_class(points, value, name):
    assert index(*points) == pytest.approx(value)
    assert METHOD.class_of(index(*points)) == name


@pytest.mark.parametrize(("value", "name"), [(4.0, "A"), (3.99, "B"), (3.35, "B"), (3.34, "C"), (2.55, "C"),
                                             (2.54, "D"), (1.75, "D"), (1.74, "E")])
def test_class_limits(value, name):
    assert METHOD.class_of(value) == name


ROLES = list(METHOD.part_weights)


def tablet(**change):
    parts = [part(role, role=[role]) for role in ROLES]
    joints = [joint(f"s-{role}", role, "base", tool="ph00") for role in ROLES]
    answers = [{"method": METHOD.id, "criterion": "spare_parts", "value": 5},
               {"method": METHOD.id, "criterion": "software_updates", "value": 7},
               {"method": METHOD.id, "criterion": "repair_information", "value": "public"}]
    data = device(parts, joints, answers=answers)
    data.update(change)
    return data


def verdict(data, method=METHOD):
    return judged_fully(exchange.from_json(data), method, AllPlanned(KnownTimes))


def test_a_device_with_everything_at_hand():
    """Each part one step, reusable screws, basic tools: 0.25 * 5 + 0.15 * (5 + 4 + 5 + 5 + 5)."""
    found = verdict(tablet())
    assert found.index == pytest.approx((4.85, 4.85)) and found.classes == ("A",) and found.is_firm
    assert not found.unknowns


def test_what_is_not_answered_is_a_range_and_is_ranked():
    data = tablet()
    data["answers"] = data["answers"][1:]
    data["parts"][1]["role"] = []
    found = verdict(data)
    assert found.index[1] - found.index[0] == pytest.approx(0.15 * 4 + 0.30 * 4 * (0.25 + 0.15 + 0.15), abs=0.05)
    # A part that is missing counts in three criteria at once: 0.66 of the index, the spare parts 0.60.
    assert [unknown.criterion for unknown in found.unknowns][:2] == ["no-part", "spare_parts"]
    assert not found.is_firm and set(found.classes) <= set("ABC")


def test_the_methods_convention_is_used_and_shown():
    data = tablet()
    data["joints"][0]["ways"] = [{"acts": [{"tool": "ph00", "does": "heat", "active_s": 1, "also": ["cup"]},
                                           {"tool": "ph00", "active_s": 1}]}]
    found = verdict(data)
    depth = found.criteria[0].parts[0]
    assert depth.evidence[0].value == "3" and depth.points == (4, 4)  # heat, its further tool, then screws and lift
    assert found.convention.own_step == ("heat", "clean") and found.convention.each_tool


@pytest.mark.parametrize(("way", "points"), [
    ({"reuse": "reusable"}, 5), ({"reuse": "renew", "resupplied": True}, 3), ({"reuse": "renew"}, 1),
    ({"reuse": "renew", "resupplied": ["battery"]}, 3), ({"reuse": "renew", "resupplied": ["display"]}, 1),
    ({"reuse": "destroyed"}, 1)])
def test_the_worst_fastener_on_the_way_counts(way, points):
    data = tablet()
    data["joints"][0]["ways"] = [{"tool": "ph00", "active_s": 1, **way}]
    score = verdict(data).criteria[1].parts[0]
    assert score.points == (points, points)
    assert score.fails == (way["reuse"] == "destroyed")
    assert score.evidence[0].things == ("s-battery",)


@pytest.mark.parametrize(("tool", "points"), [("hand", (5, 5)), ("ph00", (4, 4)), ("tray-pin", (2, 3)),
                                              ("heat-mat", (1, 1)), ("own-jig", (1, 5))])
def test_the_worst_tool_on_the_way_counts_and_unknown_classes_stay_open(tool, points):
    data = tablet()
    data["joints"][0]["ways"] = [{"tool": tool, "active_s": 1}]
    assert verdict(data).criteria[2].parts[0].points == points


def test_a_film_that_only_covers_is_no_fastener():
    data = tablet()
    data["joints"][0].update(kind="film", ways=[{"tool": "tweezers", "active_s": 1, "reuse": "destroyed"}])
    assert verdict(data).criteria[1].parts[0].points == (5, 5)


def test_a_tools_recorded_class_goes_before_the_catalogues():
    data = tablet(tools=[{"id": "own-jig", "class": "proprietary"}])
    data["joints"][0]["ways"] = [{"tool": "own-jig", "active_s": 1}]
    score = verdict(data).criteria[2].parts[0]
    assert score.points == (1, 1) and score.fails


def test_an_answer_that_does_not_fit_is_said_not_guessed():
    data = tablet()
    data["answers"][1]["value"] = "long"
    score = verdict(data).criteria[4]
    assert score.points == (1, 5) and score.evidence[0].code == "answer-not-understood"


def test_assumptions_on_the_way_are_named():
    data = tablet()
    data["joints"][0]["basis"] = "assumed"
    assert verdict(data).assumed == ("s-battery",)


def test_a_part_that_cannot_be_freed_gets_the_least_and_says_why():
    data = tablet()
    data["parts"][1]["behind"] = [["display"]]
    data["parts"][2]["behind"] = [["battery"]]
    score = verdict(data).criteria[0].parts[0]
    assert score.points == (1, 1) and score.fails and "battery" in score.evidence[0].things


def test_a_part_that_is_free_as_it_is_needs_no_tool():
    """A captive part of a base that nothing is left on: no operation, the bare hand."""
    record = exchange.from_json(device([part("screen", role=["display"], captive=True)], []))
    verdict = evaluate(record, METHOD, KnownTimes(record))
    tools = next(score for score in verdict.criteria if score.criterion.id == "tools")
    screen = next(score for score in tools.parts if score.role == "display")
    assert screen.part == "screen" and screen.points == (METHOD.scale[1],) * 2
