"""The rules of access, separation, steps, time and power, one by one, on devices small enough to check by hand."""

from __future__ import annotations

import pytest

from oddbolt.model import exchange
from oddbolt.reassembly.findings import findings
from oddbolt.rules.replay import readings, replay
from oddbolt.search.planner import STEPS, TIME
from oddbolt.studies.replacement import replacement
from tests.builders import device, joint, part, planner


def steps_to(data, *targets, objective=STEPS):
    plan = planner(data).plan(targets, objective)
    assert plan.feasible and plan.optimal
    return plan.count.steps


def sequence_to(data, *targets, objective=STEPS):
    plan = planner(data).plan(targets, objective)
    return [op.part or f"{op.joint}.{op.way}.{op.act}" for op in plan.sequence]


# -- separation

def test_lifting_a_cover_clears_what_was_behind_a_thing_on_it():
    data = device([part("cover"), part("speaker", "cover"), part("cell", behind=[["speaker"]])],
                  [joint("screws", "cover", "base"),
                   joint("glue", "speaker", "cover", ways=[{"tool": "card", "active_s": 90}])])
    assert sequence_to(data, "cell") == ["screws.0.0", "cover", "cell"]


def test_lifting_the_board_clears_a_socket_on_its_underside_of_the_base():
    data = device([part("board"), part("card", "board", behind=[["base"]])],
                  [joint("plug", "card", "board", kind="connector", behind=[["base"]]), joint("s", "board", "base")])
    assert sequence_to(data, "card") == ["s.0.0", "board", "plug.0.0", "card"]


def test_lifting_the_board_does_not_clear_a_camera_of_the_shield_on_the_same_board():
    data = device([part("board"), part("shield", "board"), part("camera", "board", behind=[["shield"]])],
                  [joint("s", "board", "base"), joint("clips", "shield", "board")])
    assert sequence_to(data, "camera") == ["clips.0.0", "shield", "camera"]


def test_the_first_alternative_to_clear_opens():
    data = device([part("cover"), part("hatch"), part("cell", behind=[["cover"], ["hatch", "swing"]])],
                  [joint("glue", "cover", "base", tool="heat-mat"), joint("more", "cover", "base", tool="pick"),
                   joint("swing", "hatch", "base", kind="swing")])
    assert sequence_to(data, "cell") == ["swing.0.0", "hatch", "cell"]


def test_a_captive_part_is_as_deep_as_its_carrier_and_stands_for_it():
    data = device([part("board"), part("chip", "board", captive=True), part("lid", behind=[["chip"]])],
                  [joint("s", "board", "base", tool="ph00"), joint("pads", "chip", "board")])
    assert sequence_to(data, "lid") == ["s.0.0", "board", "lid"]
    assert steps_to(data, "chip") == steps_to(data, "board") == 1


def test_an_absent_part_leaves_what_lies_on_it_and_clears_what_names_it():
    data = device([part("tray", only_in=["a"]), part("radio", "tray", behind=[["tray"]])],
                  [joint("s", "tray", "radio", "base", tool="ph00"), joint("t", "tray", "base")],
                  device={"variant": "b"})
    assert sequence_to(data, "radio") == ["s.0.0", "radio"]


def test_a_contact_holds_nothing_and_a_behind_that_names_it_is_clear():
    data = device([part("speaker", behind=[["springs"]])], [joint("springs", "speaker", "base", kind="contact")])
    assert sequence_to(data, "speaker") == ["speaker"]


def test_the_base_is_freed_when_nothing_ties_it_and_nothing_is_left_on_it():
    data = device([part("cover"), part("cell")], [joint("s", "cover", "base", tool="ph00")])
    assert steps_to(data, "base") == 2
    assert set(sequence_to(data, "base")) == {"s.0.0", "cover", "cell"}


# -- steps: EN 45554:2020, "operation that finishes with the removal of a part, and/or with a change of tool"

COUNTED = {
    "pick and lift; card; screwdriver, lever and lift": ({}, 3),
    "pick; lift; card; screwdriver; lever and lift": ({"hand_is_tool": True}, 5),
    "pick and lift; card, screwdriver, lever and lift": ({"tool_groups": [["card", "ph00"]]}, 2),
    "scrape; lift; card; screwdriver, lever and lift": ({"own_step": ["scrape"]}, 4),
    "pick; uncover; card; screwdriver, lever and lift": ({"own_step": ["uncover"]}, 4),
    "as by default, and the cup that holds the cover": ({"each_tool": True}, 4),
}


@pytest.mark.parametrize("reading", COUNTED)
def test_steps_under_each_convention(reading):
    settings, steps = COUNTED[reading]
    data = device(
        [part("cover", does="uncover"), part("cell", behind=[["cover"]])],
        [joint("seam", "cover", "base",
               ways=[{"tool": "pick", "does": "scrape", "active_s": 1, "also": ["suction-cup"]}]),
         joint("glue", "cell", "base", behind=[["cover"]],
               ways=[{"acts": [{"tool": "card", "active_s": 1}, {"tool": "ph00", "active_s": 1}]}]),
         joint("lever", "cell", "base", behind=[["glue"]], tool="hand")], settings)
    assert steps_to(data, "cell") == steps


def test_first_tool_after_a_removal_is_no_change():
    data = device([part("a"), part("b", behind=[["a"]])],
                  [joint("s", "a", "base", tool="ph00"), joint("t", "b", "base", tool="t5", behind=[["a"]])])
    assert steps_to(data, "b") == 2


def test_two_removals_in_a_row_are_two_steps():
    data = device([part("a"), part("b", behind=[["a"]])], [])
    assert steps_to(data, "b") == 2


# -- time

def test_a_wait_goes_on_while_other_work_is_done():
    data = device([part("cell", active_s=4)],
                  [joint("glue", "cell", "base", ways=[{"acts": [{"tool": "dropper", "active_s": 8, "wait_s": 60},
                                                                {"tool": "card", "active_s": 20}]}]),
                   joint("s", "cell", "base", tool="ph00", ways=[{"tool": "ph00", "active_s": 30}])])
    plan = planner(data).plan(["cell"], TIME)
    # 8, change 3.6, screws 30, change within the wait, card at 68 for 20, lift 4
    assert plan.optimal and plan.count.time_ms == 92_000


def test_acts_at_once_let_nothing_between():
    data = device([part("cell", active_s=4)],
                  [joint("glue", "cell", "base", ways=[{"acts": [
                      {"tool": "heat-mat", "active_s": 5, "wait_s": 60}, {"tool": "card", "active_s": 20,
                                                                         "at_once": True}]}]),
                   joint("s", "cell", "base", ways=[{"tool": "ph00", "active_s": 30}])])
    plan = planner(data).plan(["cell"], TIME)
    # 5 + 60 + 20, change 3.6, 30, 4; the screws cannot use the wait
    assert plan.optimal and plan.count.time_ms == 122_600


def test_turns_are_charged_when_the_side_differs():
    data = device([part("a", side="front"), part("b", side="any"), part("c", side="back")], [],
                  {"turn_s": 10})
    plan = planner(data).plan(["a", "b", "c"], TIME)
    assert plan.count.time_ms == 13_000


# -- power

def battery(**settings):
    return device(
        [part("lid"), part("cell", kind="battery", behind=[["lid"]]), part("camera")],
        [joint("s", "lid", "base", tool="ph00"),
         joint("plug", "cell", "base", kind="connector", behind=[["lid"]], isolates=True),
         joint("glue", "cell", "base", kind="adhesive", behind=[["lid"]], tool="card"),
         joint("flex", "camera", "base", kind="connector")], settings)


def test_isolation_comes_first_even_when_it_costs_steps():
    assert steps_to(battery(), "camera") == 2
    assert steps_to(battery(isolate_first=False), "camera") == 1
    assert planner(battery(isolate_first=False)).plan(["camera"]).count.live_acts == 1
    assert planner(battery()).plan(["camera"]).count.live_acts == 0


def test_a_live_act_that_cannot_be_avoided_is_counted_once():
    data = battery()
    data["parts"][1]["behind"] = [["flex"]]
    data["joints"][0]["behind"] = [["flex"]]
    plan = planner(data).plan(["cell"])
    assert plan.count.live_acts == 1 and plan.optimal


def test_passive_joints_never_count():
    data = battery()
    data["joints"][3]["passive"] = True
    assert steps_to(data, "camera") == 1


def test_every_source_needs_its_isolator():
    data = battery()
    data["parts"].append(part("mains", isolates="mains"))
    data["joints"][1]["isolates"] = "cell"
    assert "mains" in sequence_to(data, "camera")


def test_without_an_isolator_nothing_counts_and_a_finding_says_so():
    data = battery()
    data["joints"][1]["isolates"] = False
    assert planner(data).plan(["camera"]).count.live_acts == 0
    assert "no-isolator" in {f.code for f in findings(exchange.from_json(data))}


# -- reach and replace

def test_replacing_takes_what_the_spare_does_not_bring():
    data = device([part("display", spare={"includes": ["frame-foam"]}), part("camera", "display"),
                   part("frame-foam", "display")], [joint("s", "display", "base", tool="ph00")])
    found = replacement(planner(data), "display", STEPS)
    assert found.targets == ("display", "camera")
    assert (found.few.count.steps, found.many.count.steps) == (2, 2)


def test_what_is_not_known_of_a_spare_makes_a_range():
    data = device([part("display"), part("camera", "display"), part("foam", "display")],
                  [joint("s", "display", "base", tool="ph00")])
    found = replacement(planner(data), "display", STEPS)
    assert (found.few.count.steps, found.many.count.steps) == (1, 3)


# -- blocked

def test_what_can_never_come_off_is_explained_minimally():
    data = device([part("a", behind=[["b"]]), part("b", behind=[["a"]]), part("c", behind=[["a"]])], [])
    plan = planner(data).plan(["c"])
    assert not plan.feasible and set(plan.blocked_by) == {"a", "b", "c"}
    assert planner(data).never_free == ("a", "b", "c")


# -- the log

def log_entry(id_, do, thing, **keys):
    return {"id": id_, "do": do, "thing": thing, **keys}


def test_replay_names_entries_that_contradict_the_rules():
    data = device([part("cover"), part("cell", behind=[["cover"]])], [joint("s", "cover", "base", tool="ph00")],
                  log=[log_entry("e1", "remove", "cell"), log_entry("e2", "remove", "cover")])
    found = {(f.code, f.thing, f.others) for f in findings(exchange.from_json(data))}
    assert ("log-hidden", "e1", ("cover",)) in found
    assert ("log-tied", "e2", ("s",)) in found


def test_a_failed_release_does_not_release_and_another_way_stays_open():
    data = device([part("cell")], [joint("glue", "cell", "base", ways=[{"tool": "hand", "active_s": 1},
                                                                      {"tool": "card", "active_s": 1}])],
                  log=[log_entry("e1", "release", "glue", way=0, outcome="failed"),
                       log_entry("e2", "release", "glue", way=1), log_entry("e3", "remove", "cell")])
    teardown = exchange.from_json(data)
    walked = replay(teardown, planner(data).structure)
    assert not walked.contradictions
    assert [op.way for op in walked.operations if op.joint] == [1]


def test_an_amended_entry_is_read_as_amended_in_its_place():
    data = device([part("cell")], [joint("glue", "cell", "base")],
                  log=[log_entry("e1", "release", "glue"), log_entry("e2", "remove", "cell"),
                       log_entry("e3", "release", "glue", outcome="failed", amends="e1")])
    teardown = exchange.from_json(data)
    assert [(entry.id, entry.outcome) for entry in readings(teardown)] == [("e1", "failed"), ("e2", "ok")]
    assert replay(teardown, planner(data).structure).contradictions[0].obstacle.code == "tied"


def test_reach_that_contradicts_a_behind_is_a_finding():
    data = device([part("cover"), part("cell", behind=[["cover"]])], [joint("s", "cover", "base")],
                  log=[{"id": "e1", "do": "reach", "things": ["s", "cell"]}])
    found = [f for f in findings(exchange.from_json(data)) if f.code == "log-reach"]
    assert [f.others for f in found] == [("cell", "cover")]


FOUND = {
    "never-clear": (device([part("board"), part("chip", "board", behind=[["board"]])], []), "chip"),
    "held-by-nothing": (device([part("loose")], []), "loose"),
    "captive-isolator": (device([part("board"), part("fuse", "board", captive=True, isolates=True)],
                                [joint("s", "board", "base")]), "fuse"),
    "never-released": (device([part("a")], [joint("s", "a", "base"), joint("t", "a", "base")],
                              log=[log_entry("e1", "release", "s")]), "t"),
    "left-on": (device([part("a")], [joint("s", "a", "base")],
                       log=[{"id": "e1", "do": "aid", "text": "film", "value": "on"}]), "e1"),
    "first-met-at-refit": (device([part("a"), part("b")], [joint("s", "a", "base"), joint("t", "b", "base")],
                                  log=[log_entry("e1", "release", "s"), log_entry("e2", "release", "t"),
                                       log_entry("e3", "remove", "a")],
                                  refit=[{"do": "fit", "thing": "b"}]), "b"),
    "marks-differ": (device([part("a")], [joint("s", "a", "base", kind="screw", count=3)],
                            views=[{"id": "v", "marks": [{"thing": "s", "n": 1, "x": 1, "y": 1}]}]), "s"),
    "tally-differs": (device([part("a")], [joint("s", "a", "base", kind="screw", count=1)],
                             views=[{"id": "v", "tally": 2, "marks": [{"thing": "s", "n": 1, "x": 1, "y": 1}]}]), "v"),
}


@pytest.mark.parametrize("code", FOUND)
def test_each_finding_is_found_where_it_is(code):
    data, thing = FOUND[code]
    assert (code, thing) in {(f.code, f.thing) for f in findings(exchange.from_json(data))}


def test_a_sound_record_has_no_findings():
    data = device([part("a")], [joint("s", "a", "base")],
                  log=[log_entry("e1", "release", "s"), log_entry("e2", "remove", "a")])
    assert findings(exchange.from_json(data)) == []
