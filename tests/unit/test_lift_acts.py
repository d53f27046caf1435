"""A lift in several acts: a suction cup, then a pull by hand; with nothing between, off with the last."""

from __future__ import annotations

import copy

import pytest

from oddbolt.comparing.facts import differences
from oddbolt.comparing.matching import matched
from oddbolt.effort.times import KnownTimes
from oddbolt.model import exchange
from oddbolt.model.refusal import Refusal
from oddbolt.reports.as_json import plan_json
from oddbolt.reports.content.lanes import lane_items
from oddbolt.reports.content.strata import build_section
from oddbolt.rules.counting import count
from oddbolt.rules.device_state import DeviceState, Operation, whole
from oddbolt.rules.kit import least_kit
from oddbolt.rules.replay import replay
from oddbolt.rules.structure import Structure
from oddbolt.search.planner import TIME
from oddbolt.session.verbs import acts
from oddbolt.session.verbs.correcting import retold
from oddbolt.session.verbs.judging.merging import merged
from oddbolt.words.acts import operation_text
from tests.builders import device, joint, part, planner, planner_of

CUP = {"tool": "suction-cup", "active_s": 4, "wait_s": 2}
PULL = {"tool": "hand", "active_s": 3, "does": "pull"}


def lid(**keys):
    return {"id": "lid", "acts": [dict(CUP), dict(PULL)], **keys}


def test_the_cup_and_the_pull_end_one_step_and_the_tool_before_another():
    """EN 45554:2020: a step finishes with the removal of a part and/or a change of tool. A driver for the screws,
    the cup in its place, and the lift: two."""
    own = planner(device([lid()], [joint("s", "lid", "base", tool="ph00", kind="screw")]))
    counted = own.plan(["lid"]).count
    assert [(t.operation.part, t.operation.act, t.step) for t in counted.timed] == [
        ("", 0, 1), ("lid", 0, 2), ("lid", 1, 2)]
    assert counted.steps == 2 and counted.time_ms == 1000 + 3600 + 4000 + 2000 + 3000  # the pull waits for the cup
    assert planner(device([{"id": "lid", "active_s": 7}], [joint("s", "lid", "base", tool="ph00")])).plan(
        ["lid"]).count.steps == 1


def test_the_bare_hand_counts_as_a_tool_where_it_does():
    data = device([lid()], [joint("s", "lid", "base", tool="ph00")], settings={"hand_is_tool": True})
    assert planner(data).plan(["lid"]).count.steps == 3


def test_nothing_comes_between_and_it_is_off_with_the_last():
    own = planner(device([lid(), part("cell", behind=[["lid"]])], [joint("clip", "cell", "base")]))
    structure, first = own.structure, Operation(part="lid")
    state = DeviceState(structure)
    assert [o.code for o in state.obstacles(Operation(part="lid", act=1))] == ["way-order"]
    state.apply(first)
    assert state.is_in_place("lid") and [o.code for o in state.obstacles(first)] == ["way-order"]
    assert [o.code for o in state.obstacles(Operation(part="cell"))] == ["tied", "hidden"]
    order = [first, Operation("clip"), *whole(structure, "lid")[1:]]
    counted = count(structure, own.convention, own.times, order)
    assert [(place, o.code) for place, o in counted.obstacles] == [(2, "way-order")]
    state.apply(Operation(part="lid", act=1))
    assert not state.is_in_place("lid")
    state.put_back("lid")
    assert not state.obstacles(first)


def test_what_needs_a_dead_device_counts_once_and_least_time_uses_the_wait_of_no_lift():
    data = device([lid(needs_safe=True), part("pack", isolates=True, behind=[["lid"]])],
                  [joint("s", "pack", "base", tool="ph00")])
    plan = planner(data).plan(["lid"], TIME)
    assert plan.optimal and plan.count.live_acts == 1 and plan.count.time_ms == 9000


def test_the_log_names_the_whole_lift_or_one_act_and_shares_its_seconds():
    log = [{"id": "e1", "do": "remove", "thing": "lid", "seconds": 14}]
    record = exchange.from_json(device([lid()], [], log=log))
    structure, times = Structure(record), KnownTimes(record)
    done = replay(record, structure)
    assert done.operations == tuple(whole(structure, "lid")) and done.entries == ("e1", "e1")
    assert (times.removal_s("lid", 0), times.removal_s("lid", 1)) == pytest.approx((8, 6))  # 4 to 3, as entered
    one = exchange.from_json(device([lid()], [], log=[{"id": "e1", "do": "remove", "thing": "lid", "act": 0}]))
    assert replay(one, Structure(one)).state.is_in_place("lid")
    none = exchange.from_json(device([lid()], [], log=[{"id": "e1", "do": "remove", "thing": "lid", "act": 5}]))
    assert replay(none, Structure(none)).unknown == ("e1",)


def test_the_file_keeps_acts_and_refuses_them_beside_the_keys_for_one():
    data = device([lid()], [])
    assert exchange.to_json(exchange.from_json(data))["parts"][1]["acts"] == data["parts"][1]["acts"]
    for name, value in (("tool", "pick"), ("also", ["pick"]), ("does", "pull"), ("active_s", 3)):
        broken = copy.deepcopy(data)
        broken["parts"][1][name] = value
        with pytest.raises(Refusal) as caught:
            exchange.from_json(broken)
        assert (caught.value.path, caught.value.code) == ("$.parts[1].acts", "acts-beside-tool")
    broken = copy.deepcopy(data)
    broken["parts"][1]["acts"][0]["wait_s"] = -1
    with pytest.raises(Refusal) as caught:
        exchange.from_json(broken)
    assert caught.value.path == "$.parts[1].acts[0].wait_s"


def test_verbs_make_a_lift_of_two_acts_and_one_act_keeps_the_parts_own_keys():
    record = exchange.from_json(device([part("lid")], []))
    record = acts.add_act(record, "lid", 0, "suction-cup", -1).teardown
    record = acts.set_wait(record, "lid", 0, 0, 5, 9).teardown
    record = acts.set_verb(record, "lid", 0, 1, "pull").teardown
    assert [(a.tool, a.does, a.wait_s, a.wait_to_s) for a in record.part["lid"].lift] == [
        ("suction-cup", "", 5, 9), ("hand", "pull", 0, None)]
    with pytest.raises(Refusal, match="waits-when-off"):
        acts.set_wait(record, "lid", 0, 1, 5)
    record = retold.with_tool(record, "lid", ("card", "hand")).teardown
    assert [a.tool for a in record.part["lid"].lift] == ["card", "hand"]
    record = acts.remove_act(record, "lid", 0, 0).teardown
    assert exchange.to_json(record)["parts"][1] == {"id": "lid", "active_s": 1, "does": "pull"}
    with pytest.raises(Refusal, match="only-act"):
        acts.remove_act(record, "lid", 0, 0)


def test_reports_tell_each_act():
    own = planner(device([lid(name="Lid")], []))
    plan = own.plan(["lid"])
    told = plan_json(own, plan)
    assert [(o["op"], o["act"], o["tool"]) for o in told["operations"]] == [
        ("remove", 0, "suction-cup"), ("remove", 1, "hand")]
    assert told["parts_removed"] == ["lid"] and told["tools"] == ["suction-cup"] and told["joints_released"] == []
    assert [operation_text(own.teardown, own.structure, o) for o in plan.sequence] == [
        "lift Lid with suction cup", "pull Lid by hand"]
    assert [item.tool for item in lane_items(own.structure, plan.count)] == ["suction-cup", "hand"]
    layers = build_section(own, ["lid"]).columns[0].layers
    assert [(layer.label, layer.is_target) for layer in layers] == [("Lid: lift", False), ("Lid", True)]
    assert "act" not in plan_json(one := planner(device([part("lid")], [])), one.plan(["lid"]))["operations"][0]


def test_the_kit_needs_the_tools_of_all_its_acts():
    structure = Structure(exchange.from_json(device([lid()], [])))
    assert least_kit(structure, "lid", lambda _: 0) == ["suction-cup"]


def test_another_record_is_compared_and_merged_in_how_a_part_is_lifted():
    one = exchange.from_json(device([part("lid", name="Lid", kind="cover")], []))
    other = exchange.from_json(device([lid(name="Lid", kind="cover")], []))
    both = matched(one, other)
    found = next(d for d in differences(one, other, both) if d.fact == "lift")
    assert (found.here, found.there) == ((("hand", ""),), (("suction-cup", ""), ("hand", "pull")))
    taken = merged(one, other, both, [found.key])
    assert [a.tool for a in taken.part["lid"].lift] == ["suction-cup", "hand"] and taken.part["lid"].said == ("acts",)
    assert planner_of(taken).plan(["lid"]).count.steps == 1
