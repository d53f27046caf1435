"""The way retold: what a person says of a way that is shown is kept, proves what it proves, and can be taken back."""

from __future__ import annotations

import json

import pytest

from oddbolt.effort.times import KnownTimes
from oddbolt.knowledge.checks.findings import access_findings
from oddbolt.knowledge.evidence import AllEvidence
from oddbolt.knowledge.settling import settle
from oddbolt.model import exchange
from oddbolt.model.checking.references import check_references
from oddbolt.model.refusal import Refusal
from oddbolt.rules.structure import structure_of
from oddbolt.search.planner import Planner
from oddbolt.session.recording.recorder import Recorder
from oddbolt.session.recording.telling_acts import TellingActs
from oddbolt.session.session import Session
from oddbolt.session.verbs.correcting import retold
from oddbolt.session.verbs.correcting.delete import delete_things
from oddbolt.session.verbs.joints import set_behind
from oddbolt.store.document import Document
from oddbolt.studies.doubts import without
from oddbolt.studies.retelling import (
    CONFIRMED,
    ENOUGH,
    GUESSED,
    WAY_CONFIRMED,
    known_of,
    known_without_plans,
    retell,
    things_of,
)
from oddbolt.words.recording.labels import label_text

# A cover; under it a bracket over the plug of an eye, and a horn beside it. All assumed, as recorded at a bench.
ORDER = ("lid-s", "lid", "horn-s", "horn", "bar-s", "bar", "plug", "eye")
WAY = ("lid-s", "lid", "bar-s", "bar", "plug", "eye")


def record(**more):
    parts = [{"id": "lid", "kind": "cover"}, {"id": "horn", "kind": "speaker"}, {"id": "bar", "kind": "bracket"},
             {"id": "eye", "kind": "camera", "role": ["rear_camera"]}]
    joints = [{"id": f"{part}-s", "kind": "screw", "of": [part, "tray"], "fastener": "A"}
              for part in ("lid", "horn", "bar")]
    joints.append({"id": "plug", "kind": "connector", "of": ["eye", "tray"], "ways": [{"tool": "spudger"}]})
    log = [{"id": f"e{n}", "do": "remove" if thing in ("lid", "horn", "bar", "eye") else "release", "thing": thing}
           for n, thing in enumerate(ORDER)]
    return settle(exchange.from_json({
        "format": "oddbolt-teardown", "version": 1, "device": {"base": "tray", "name": "Dunlin box"},
        "fasteners": [{"id": "A", "drive": "PH", "size": "00"}],
        "parts": [{"id": "tray", "kind": "frame"}, *({**part, "basis": "assumed"} for part in parts)],
        "joints": [{**joint, "basis": "assumed"} for joint in joints], "log": log, **more}))


def planner_of(teardown):
    return Planner(teardown, KnownTimes(teardown))


def behind(teardown, thing):
    return {x for names in teardown.thing(thing).behind for x in names}


def told(teardown, part="eye"):
    *_, found = retell(planner_of, teardown, part)
    return found


def test_a_way_that_works_clears_what_is_later_or_absent():
    before = record()
    assert "horn" in AllEvidence(before, structure_of(before)).of("plug").candidates
    after = retold.works(before, "eye", WAY).teardown
    evidence = AllEvidence(after, structure_of(after))
    assert set(evidence.of("plug").candidates) == {"lid", "bar"} and set(evidence.of("bar-s").candidates) == {"lid"}
    said = after.confirmed[0]
    assert (said.part, said.answer, said.operations, said.at_entry) == ("eye", "works", WAY, "e7")
    assert exchange.loads(exchange.dumps(after)) == after
    assert after.version == 1  # every reader keeps keys that it has not met


def test_what_is_in_the_way_hides_or_ties_until_a_way_without_it_works():
    after = retold.blocked(record(), "eye", WAY, "plug", ["horn"]).teardown
    assert behind(after, "plug") >= {"horn"}
    assert "horn" in things_of(planner_of(after).plan(["eye"]))
    again = retold.works(after, "eye", WAY).teardown
    assert "horn" not in behind(again, "plug")
    assert "horn" in behind(retold.blocked(again, "eye", WAY, "plug", ["horn"]).teardown, "plug")


def test_of_several_things_in_the_way_one_is_guessed_and_none_is_certain():
    after = retold.blocked(record(), "eye", WAY, "plug", ["horn", "bar"]).teardown
    evidence = AllEvidence(after, structure_of(after)).of("plug")
    assert set(evidence.late) == {"horn", "bar"} and not evidence.hides
    assert len(behind(after, "plug") & {"horn", "bar"}) == 1


def test_what_is_needless_hides_nothing_else_on_the_way():
    before = retold.blocked(record(), "eye", WAY, "plug", ["horn"]).teardown
    way = told(before)
    assert "horn" in [item.thing for item in way.items]
    after = retold.needless(before, "eye", [item.thing for item in way.items], ["horn", "horn-s"]).teardown
    assert [item.thing for item in told(after).items] == [
        thing for thing in (item.thing for item in way.items) if thing not in ("horn", "horn-s")]
    assert after.joint["horn-s"].of == ("horn", "tray")  # it holds the horn as before


def test_a_plug_that_is_not_needed_waits_for_its_own_part():
    after = retold.needless(record(), "eye", WAY, ["plug"]).teardown
    owner = after.joint["plug"].of[0]
    assert owner not in ("eye", "tray") and not after.part[owner].kind
    assert things_of(planner_of(after).plan(["eye"]))[-1] == "eye" and "plug" not in things_of(
        planner_of(after).plan(["eye"]))


def test_something_else_that_held_it_is_met_and_undone_before_it():
    done = retold.something_else(record(), "eye", WAY, "plug", "film", 9.0)
    after, film = done.teardown, done.made
    assert after.joint[film].kind == "film" and film in behind(after, "plug")
    assert after.confirmed[-1].held_by == (film,)
    things = things_of(planner_of(after).plan(["eye"]))
    assert things.index(film) < things.index("plug")
    glued = retold.something_else(after, "eye", things, "eye", "glue", 9.0)
    assert glued.teardown.joint[glued.made].of[0] == "eye" and glued.made in things_of(
        planner_of(glued.teardown).plan(["eye"]))


def test_what_lay_over_the_very_first_thing_waits_for_nothing_that_came_later():
    """There is no entry before the first: the forgotten film stands at the end of the log, and hid what came first."""
    done = retold.something_else(record(), "eye", WAY, "lid-s", "film", 9.0)
    after, film = done.teardown, done.made
    assert behind(after, film) == set() and film in behind(after, "lid-s")
    assert all(planner_of(after).plan([part]).feasible for part in ("lid", "horn", "bar", "eye"))
    assert things_of(planner_of(after).plan(["lid"]))[0] == film


def test_single_yes_or_no_answers_are_kept_and_may_be_changed():
    before = retold.blocked(record(), "eye", WAY, "plug", ["horn"]).teardown
    after = retold.before(before, "bar", {"plug": True}).teardown
    assert "bar" not in behind(after, "plug") and [(p.thing, p.hider, p.hides) for p in after.pairs] == [
        ("plug", "bar", False)]
    again = retold.before(after, "bar", {"plug": False}).teardown
    assert "bar" in behind(again, "plug") and len(again.pairs) == 1


def test_whose_it_is_and_what_it_is():
    before = record()
    after = retold.not_mine(before, "eye", WAY, "plug", "horn").teardown
    assert after.joint["plug"].of[0] == "horn" and after.confirmed[-1].to == "horn"
    done = retold.belongs_to(before, "eye", WAY, "plug", "display")
    assert done.teardown.part[done.made].kind == "display" and done.teardown.joint["plug"].of[0] == done.made
    cell = retold.is_a(before, "eye", "battery").teardown
    assert cell.part["eye"].kind == "battery" and cell.joint["plug"].isolates is True
    assert retold.with_tool(before, "plug", ("pick", "hand")).teardown.joint["plug"].ways[0].acts[1].tool == "hand"
    assert retold.with_tool(before, "eye", ("tweezers",)).teardown.part["eye"].tool == "tweezers"


def test_what_a_person_wrote_before_follows_what_they_say_now():
    written = set_behind(record(), "plug", ["horn"]).teardown
    assert written.joint["plug"].basis == "seen"
    assert behind(retold.blocked(written, "eye", WAY, "plug", ["bar"]).teardown, "plug") == {"horn", "bar"}
    assert behind(retold.before(written, "horn", {"plug": True}).teardown, "plug") == set()


def test_to_take_off_what_it_is_fixed_to_is_to_work_on_that():
    """A joint between a camera and a display cannot wait for the display to come off: it lies on it."""
    data = exchange.to_json(record())
    data["joints"].append({"id": "bond", "kind": "adhesive", "of": ["eye", "lid"], "basis": "assumed"})
    after = retold.blocked(exchange.from_json(data), "eye", ("bond", "eye"), "bond", ["lid"]).teardown
    assert after.part["eye"].on == "lid" and behind(after, "bond") == {"tray"}
    assert planner_of(after).plan(["eye"]).feasible


def test_nothing_comes_to_lie_on_itself():
    """Two parts fixed to each other, each said to be in the way of the bond: the second is no circle."""
    data = exchange.to_json(record())
    data["joints"].append({"id": "bond", "kind": "adhesive", "of": ["eye", "lid"], "basis": "assumed"})
    after = retold.blocked(exchange.from_json(data), "eye", ("bond", "eye"), "bond", ["lid"]).teardown
    again = retold.blocked(after, "lid", ("bond", "lid"), "bond", ["eye"]).teardown
    assert (again.part["eye"].on, again.part["lid"].on) == ("lid", None)
    check_references(again)


def with_more(parts=(), joints=(), **changed):
    """The record with more on it, and some of its parts changed."""
    data = exchange.to_json(record())
    data["parts"] = [{**part, **changed.get(part["id"], {})} for part in data["parts"]]
    data["parts"] += [{"basis": "assumed", **part} for part in parts]
    data["joints"] += [{"basis": "assumed", **joint} for joint in joints]
    return exchange.from_json(data)


def way_to(teardown, part="eye"):
    return things_of(planner_of(teardown).plan([part]))


def test_what_holds_a_thing_on_the_carrier_is_struck_out_the_thing_lies_elsewhere():
    """The bar comes off without the clip of a foam that was thought to lie on it: it does not."""
    before = with_more([{"id": "foam", "on": "bar"}], [{"id": "foam-c", "kind": "clip", "of": ["foam", "tray"]}])
    assert "foam-c" in way_to(before, "bar")
    after = retold.needless(before, "bar", way_to(before, "bar"), ["foam-c"]).teardown
    assert after.part["foam"].on is None and "foam-c" not in way_to(after, "bar")


def test_a_plug_of_what_is_fixed_there_leads_to_nobody_yet_and_one_that_was_told_leads_nowhere_else():
    fixed = [{"id": "bond", "kind": "adhesive", "of": ["foam", "bar"]},
             {"id": "foam-p", "kind": "connector", "of": ["foam", "tray"]}]
    before = with_more([{"id": "foam", "on": "bar"}], fixed)
    after = retold.needless(before, "bar", way_to(before, "bar"), ["foam-p"]).teardown
    assert after.part["foam"].on == "bar" and after.joint["foam-p"].of[0] not in ("foam", "bar")
    told_whose = with_more([{"id": "foam", "on": "bar"}], [fixed[0], {**fixed[1], "said": ["of"]}])
    after = retold.needless(told_whose, "bar", way_to(told_whose, "bar"), ["foam-p"]).teardown
    assert after.joint["foam-p"].of == ("foam", "bar") and "foam-p" not in way_to(after, "bar")


def test_what_a_swing_was_thought_to_wait_for_may_be_struck_out_and_so_may_the_swing():
    before = with_more(joints=[{"id": "turn", "kind": "swing", "of": ["lid", "tray"]}])
    data = exchange.to_json(before)
    data["log"].insert(1, {"id": "e90", "do": "release", "thing": "turn"})
    before = settle(exchange.from_json(data))
    assert "lid-s" in behind(before, "turn")
    after = retold.needless(before, "lid", ["lid-s", "turn", "lid"], ["lid-s"]).teardown
    assert "lid-s" not in behind(after, "turn") and "lid-s" not in way_to(after, "lid")
    after = retold.needless(before, "lid", ["lid-s", "turn", "lid"], ["turn"]).teardown
    assert "turn" not in way_to(after, "lid")


def test_who_does_without_the_carrier_does_not_lie_behind_the_base():
    before = retold.before(with_more(eye={"on": "lid"}), "tray", {"eye": False}).teardown
    assert "tray" in behind(before, "eye") and "lid" in way_to(before)
    after = retold.needless(before, "eye", way_to(before), ["lid", "lid-s"]).teardown
    assert "tray" not in behind(after, "eye") and "lid" not in way_to(after)


def test_what_was_not_on_the_way_hides_nothing_on_it():
    """The horn is cleared with what carries it; who comes off without the carrier comes off without the horn."""
    before = with_more(horn={"on": "lid"}, eye={"behind": [["horn"]]})
    assert "horn" in AllEvidence(before, structure_of(before)).of("eye").candidates
    after = retold.needless(before, "eye", ["lid-s", "lid", "bar-s", "bar", "plug", "eye"], ["lid", "lid-s"]).teardown
    assert AllEvidence(after, structure_of(after)).of("eye").candidates == ("bar",)
    assert "horn" not in behind(after, "eye") and "lid" not in way_to(after)


def test_a_plug_that_is_undone_suffices_in_place_of_the_part_that_it_holds():
    """First the horn is in the way, then it need not come off: what held it, undone, was enough."""
    before = with_more(joints=[{"id": "horn-p", "kind": "connector", "of": ["horn", "tray"]}])
    before = retold.blocked(before, "eye", WAY, "eye", ["horn"]).teardown
    way = way_to(before)
    assert {"horn", "horn-p"} <= set(way)
    after = retold.needless(before, "eye", way, ["horn", "horn-s"]).teardown
    assert "horn-p" in behind(after, "eye") and "horn" not in way_to(after) and "horn-p" in way_to(after)


def test_what_is_still_in_the_way_when_its_carrier_is_off_does_not_lie_there():
    before = with_more(horn={"on": "lid"})
    after = retold.blocked(before, "eye", WAY, "plug", ["horn"]).teardown
    assert after.part["horn"].on is None and "horn" in way_to(after)


def test_a_part_in_the_way_of_what_lies_on_the_carrier_lies_there_too():
    """The foam came off after the lid, and hides what is on the lid: lifting the lid did not part them."""
    before = with_more([{"id": "foam"}], [{"id": "bond", "kind": "adhesive", "of": ["eye", "lid"]}], eye={"on": "lid"})
    data = exchange.to_json(before)
    data["log"].append({"id": "e91", "do": "remove", "thing": "foam"})
    before = settle(exchange.from_json(data))
    after = retold.blocked(before, "eye", ["lid-s", "lid", "bond", "eye"], "bond", ["foam"]).teardown
    assert after.part["foam"].on == "lid" and way_to(after).index("foam") < way_to(after).index("bond")


def test_what_a_way_does_without_does_not_cut_the_power_where_something_else_does():
    cuts = {"kind": "connector", "of": ["horn", "tray"], "isolates": True}
    before = with_more(joints=[{"id": "one", **cuts}, {"id": "two", **cuts}])
    after = retold.needless(before, "eye", ["one", *WAY], ["one"]).teardown
    assert after.joint["one"].isolates is False and after.joint["two"].isolates is True
    alone = retold.needless(with_more(joints=[{"id": "one", **cuts}]), "eye", ["one", *WAY], ["one"]).teardown
    assert alone.joint["one"].isolates is True  # power first: there is nothing else
    mains = with_more(joints=[{"id": "one", **cuts, "isolates": "mains"}, {"id": "two", **cuts}])
    kept = retold.needless(mains, "eye", ["one", *WAY], ["one"]).teardown
    assert kept.joint["one"].isolates == "mains"  # what cuts the cell does not cut the mains


# -- how known

def cheaply(teardown):
    planner = planner_of(teardown)
    return known_without_plans(planner, planner.plan(["eye"]))


def test_a_depth_is_guessed_then_its_way_confirmed_then_itself():
    before = record()
    way = told(before)
    assert way.known == GUESSED and all(item.is_assumed for item in way.items)
    after = retold.works(before, "eye", [item.thing for item in way.items]).teardown
    found = told(after)
    assert found.known == GUESSED and found.looks == 1 and not found.wants_a_look
    assert {ask.hider for ask in found.asks} <= {"lid", "bar"}
    assert found.asked_after(0) == found.asks[0] and found.asked_after(ENOUGH) is None
    while found.asks:
        after = retold.before(after, found.asks[0].hider, dict.fromkeys(found.asks[0].things, False)).teardown
        found = told(after)
    assert found.known == GUESSED and found.wants_a_look  # of what one look takes as right a fifth is not
    things = [item.thing for item in found.items]
    twice = retold.works(after, "eye", things).teardown
    assert told(twice).looks == 1  # said twice in a row by one person: one look
    after = looked_at_again(twice, things)
    plan = planner_of(after).plan(["eye"])
    assert told(after).known == known_of(planner_of, planner_of(after), plan) == WAY_CONFIRMED
    assert not told(after).wants_a_look
    for known in (WAY_CONFIRMED, CONFIRMED):  # of what two look at a twentieth is wrong
        after = looked_at_again(after, things)
        assert told(after).known == known
    plan = planner_of(after).plan(["eye"])
    assert known_of(planner_of, planner_of(after), plan) == CONFIRMED
    assert cheaply(after) in (WAY_CONFIRMED, CONFIRMED) and cheaply(before) == GUESSED


def looked_at_again(teardown, things):
    """By the same person, after another way."""
    between = retold.works(teardown, "lid", ("lid-s", "lid")).teardown
    return retold.works(between, "eye", things).teardown


def test_a_second_person_sees_what_the_first_overlooks():
    """Two looks by one person confirm the way; one more by another, with nothing left to ask, the depth."""
    before = record(sessions=[{"pass": 1, "by": "W. Ansel"}])
    one = retold.works(before, "eye", WAY).teardown
    two = retold.said_by(one, "B. Teal", retold.works, "eye", WAY).teardown
    assert [way.by for way in two.confirmed] == ["W. Ansel", "B. Teal"]
    assert told(one).looks == 1 and told(two).looks == 3 and told(two).known == WAY_CONFIRMED
    found, after = told(two), two
    while found.asks:
        after = retold.before(after, found.asks[0].hider, dict.fromkeys(found.asks[0].things, False)).teardown
        found = told(after)
    assert found.known == WAY_CONFIRMED
    assert told(looked_at_again(after, WAY)).known == CONFIRMED


def test_what_was_said_on_ways_to_other_parts_does_not_tell_that_this_one_needs_it():
    """Everything on the way to the eye was twice seen to work on a way to the horn: nobody said that the eye needs the
    bar. One look at its own way and it is confirmed; two, and with looks enough it is firm."""
    longer = (*WAY, "horn-s", "horn")
    others = retold.works(record(), "horn", longer).teardown
    others = retold.works(retold.works(others, "lid", ("lid-s", "lid")).teardown, "horn", longer).teardown
    before = told(others)
    assert (before.known, before.looks) == (GUESSED, 0) and all(item.is_assumed for item in before.items)
    assert cheaply(others) == GUESSED
    once = retold.works(others, "eye", WAY).teardown
    assert told(once).looks == 3 and cheaply(once) == WAY_CONFIRMED
    for by in ("B. Teal", "C. Knot"):  # others look, at the way to the horn
        once = retold.said_by(once, by, retold.works, "horn", longer).teardown
    assert told(once).looks == 3
    assert told(looked_at_again(once, WAY)).looks == 4


def test_a_long_list_takes_one_look_more(monkeypatch):
    one = retold.works(record(), "eye", WAY).teardown
    two = looked_at_again(one, WAY)
    three = looked_at_again(two, WAY)
    monkeypatch.setattr("oddbolt.studies.retelling.LONG_LIST", len(WAY) - 1)
    assert [told(after).known for after in (one, two, three)] == [GUESSED, GUESSED, WAY_CONFIRMED]
    assert [told(after).wants_a_look for after in (two, three)] == [not told(two).asks, False]
    assert cheaply(two) == GUESSED != cheaply(three) and any(item.is_assumed for item in told(two).items)


def test_what_takes_something_back_voids_every_look_at_it():
    two = looked_at_again(retold.works(record(), "eye", WAY).teardown, WAY)
    assert told(two).looks == 2
    assert told(retold.blocked(two, "eye", WAY, "plug", ["horn"]).teardown).looks == 0


def test_with_more_cleared_it_can_still_be_done_with_less_nobody_knows():
    after = retold.works(record(), "eye", ("lid-s", "lid", "horn-s", "horn", "bar-s", "bar", "plug", "eye")).teardown
    assert cheaply(after) == GUESSED  # the horn stays on in the plan
    shorter = looked_at_again(retold.works(after, "eye", WAY).teardown, WAY)
    assert cheaply(shorter) != GUESSED
    against = retold.blocked(shorter, "eye", WAY, "eye", ["horn"]).teardown
    assert told(against).looks == 1  # with the horn off it was confirmed before, once
    assert told(retold.blocked(against, "eye", WAY, "horn-s", ["bar"]).teardown).looks == 0


def test_the_same_way_in_another_order_is_not_told_again():
    """Of orders that are equally good any may be planned."""
    before = retold.blocked(record(), "eye", WAY, "eye", ["horn"]).teardown
    order = ("lid-s", "lid", "bar-s", "horn-s", "bar", "horn", "plug", "eye")
    assert things_of(planner_of(before).plan(["eye"])) != list(order)
    after = looked_at_again(retold.works(before, "eye", order).teardown, order)
    assert set(things_of(planner_of(after).plan(["eye"]))) == set(order) and cheaply(after) != GUESSED


def test_a_record_without_assumptions_is_confirmed(example):
    teardown = exchange.from_json(example)
    planner = planner_of(teardown)
    assert {known_of(planner_of, planner, planner.plan([part])) for part in planner.structure.removals} == {CONFIRMED}


def test_a_confirmed_way_that_the_record_contradicts_is_a_finding():
    after = retold.works(record(), "eye", WAY).teardown
    assert not [f for f in access_findings(after) if f.code == "confirmed-blocked"]
    wrong = set_behind(after, "plug", ["horn"]).teardown
    found, = [f for f in access_findings(wrong) if f.code == "confirmed-blocked"]
    assert found.thing == "plug" and found.others == ("horn",)


def test_no_guess_keeps_in_what_came_off():
    """Said: the bracket waits for the plug. A guess that the plug waits for the bracket gives way to it."""
    after = retold.blocked(record(), "eye", WAY, "bar-s", ["plug"]).teardown
    assert "plug" in behind(after, "bar-s") and "bar" not in behind(after, "plug")
    assert all(planner_of(after).plan([part]).feasible for part in ("lid", "horn", "bar", "eye"))


def test_of_what_was_said_in_a_circle_the_first_gives_way_to_the_later():
    """Nobody's answers keep in what came off: the horn before the plug, then the eye before the horn."""
    first = retold.blocked(record(), "eye", WAY, "plug", ["horn"]).teardown
    assert behind(first, "plug") >= {"horn"}
    after = retold.blocked(first, "eye", WAY, "horn-s", ["eye"]).teardown
    assert "horn" not in behind(after, "plug") and "eye" in behind(after, "horn-s")
    assert not [one for one in access_findings(after) if one.code == "never-free"]
    assert [way.by_things for way in after.confirmed] == [("horn",), ("eye",)]  # what was said is kept
    again = retold.blocked(after, "eye", WAY, "plug", ["horn"]).teardown
    assert "horn" in behind(again, "plug") and "eye" not in behind(again, "horn-s")


# -- what is asked of a way that was looked at

def test_only_what_makes_the_way_shorter_is_asked_about():
    """Of many things that are assumed to be behind one hider most make no difference, as something else keeps them."""
    found = told(record())
    for ask in found.asks:
        if ask.saves > 0:
            assert planner_of(without(record(), ask.hider, ask.things)).plan(["eye"]).value == \
                found.plan.value - ask.saves
            for thing in ask.things if len(ask.things) > 1 else ():
                fewer = [one for one in ask.things if one != thing]
                assert planner_of(without(record(), ask.hider, fewer)).plan(["eye"]).value > \
                    found.plan.value - ask.saves


# -- the record

def test_what_is_deleted_goes_from_what_was_said():
    after = retold.works(record(), "eye", WAY).teardown
    after = retold.before(after, "bar", {"plug": False}).teardown
    less = delete_things(after, ["bar"]).teardown
    assert less.confirmed[0].operations == ("lid-s", "lid", "plug", "eye") and less.pairs == ()
    assert delete_things(after, ["eye"]).teardown.confirmed == ()


@pytest.mark.parametrize(("key", "value", "path"), [
    ("confirmed", [{"id": "c", "part": "nobody", "answer": "works"}], "$.confirmed[0].part"),
    ("confirmed", [{"id": "c", "part": "eye", "answer": "perhaps"}], "$.confirmed[0].answer"),
    ("confirmed", [{"id": "c", "part": "eye", "answer": "works", "operations": ["nobody"]}],
     "$.confirmed[0].operations[0]"),
    ("confirmed", [{"id": "c", "part": "eye", "answer": "blocked"}], "$.confirmed[0].at"),
    ("confirmed", [{"id": "c", "part": "eye", "answer": "needless"}], "$.confirmed[0].things"),
    ("confirmed", [{"id": "c", "part": "eye", "answer": "blocked", "at": "plug", "held_by": ["eye"]}],
     "$.confirmed[0].held_by[0]"),
    ("pairs", [{"thing": "plug", "hider": "plug", "hides": True}], "$.pairs[0].hider"),
    ("pairs", [{"thing": "plug", "hider": "nobody", "hides": True}], "$.pairs[0].hider"),
])
def test_what_does_not_fit_is_refused_with_its_place(key, value, path):
    with pytest.raises(Refusal) as refused:
        record(**{key: value})
    assert refused.value.path == path


def test_something_unknown_may_hold_it():
    said = [{"id": "c", "part": "eye", "answer": "blocked", "at": "plug", "held_by": ["something"]}]
    assert json.loads(exchange.dumps(record(confirmed=said)))["confirmed"] == said


@pytest.mark.parametrize(("verb", "args", "code"), [
    (retold.blocked, ("eye", WAY, "plug", ["plug"]), "behind-itself"),
    (retold.blocked, ("eye", WAY, "plug", []), "blocked-by-nothing"),
    (retold.needless, ("eye", WAY, ["eye"]), "part-needs-itself"),
    (retold.is_a, ("tray", "display"), "no-part"),
])
def test_what_means_nothing_is_refused(verb, args, code):
    with pytest.raises(Refusal) as refused:
        verb(record(), *args)
    assert refused.value.code == code


def test_told_and_taken_back_survives_a_restart(tmp_path):
    session = Session(Document.create(tmp_path / "a.oddbolt", record()))
    before = session.teardown
    done = session.do(retold.works, "eye", WAY)
    assert label_text(done.label) == "the way to Camera works" or "works" in label_text(done.label)
    session.document.close()
    again = Session(Document.open(tmp_path / "a.oddbolt"))
    assert again.teardown.confirmed[0].operations == WAY
    again.undo()
    assert again.teardown == before
    again.document.close()


# -- what is pointed at

def test_answers_without_anything_shown_or_chosen_are_said(tmp_path):
    session = Session(Document.create(tmp_path / "a.oddbolt", record()))
    recorder = Recorder(session)
    acts, said = TellingActs(recorder), []
    recorder.tell.said = lambda code, **_: said.append(code)
    assert not acts.works() and not acts.strike() and not acts.ask_what_blocks()
    acts.show(told(session.teardown))
    assert not acts.strike() and said[-1] == "choose-needless"
    acts.choose("lid")
    assert not acts.ask_whose() and said[-1] == "choose-whose"
    acts.choose("plug")
    assert acts.ask_whose() and said[-1] == "point-whose"
    assert not acts.point("lid-s") and said[-1] == "point-a-part"
    assert acts.point("horn") and session.teardown.joint["plug"].of[0] == "horn"
    session.document.close()
