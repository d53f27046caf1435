"""What two photographs say was done: from findings to proposals, and from what is taken over to the record."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from oddbolt.imaging.differing.difference import (
    CAME_OFF,
    GONE,
    HEAD,
    PRESENT,
    SMALL,
    UNSURE,
    Difference,
    Region,
    Screw,
    Verdict,
)
from oddbolt.imaging.differing.regions import MOVED as ELSEWHERE
from oddbolt.knowledge.guesses import Guesses
from oddbolt.knowledge.said.seen import HEADS, HELD, MOVED, NEW_OFF, OFF, OPENED, OUT, UNCOVERED, Look, Seen
from oddbolt.knowledge.said.seen import SMALL as LITTLE
from oddbolt.model import exchange
from oddbolt.model.label import Label
from oddbolt.model.refusal import Refusal
from oddbolt.rules.replay import readings, replay
from oddbolt.rules.structure import structure_of
from oddbolt.session.derived import Derived
from oddbolt.session.recording.recorder import Listeners, Recorder
from oddbolt.session.recording.seeing.proposals import (
    Looking,
    Suggested,
    looked_for,
    marks_carried,
    proposals,
    unlikeness,
)
from oddbolt.session.recording.seeing.seen_acts import SeenActs
from oddbolt.session.recording.seeing.waiting import hull
from oddbolt.session.session import Session
from oddbolt.session.verbs.correcting.delete import delete_things
from oddbolt.session.verbs.footprints import set_footprint
from oddbolt.session.verbs.joints import set_behind
from oddbolt.session.verbs.lifting import lift, release
from oddbolt.session.verbs.plain import Done
from oddbolt.session.verbs.seeing.take import Round, take_seen
from oddbolt.store.document import Document
from oddbolt.words.recording.seen import seen_text

RECORD = {
    "format": "oddbolt-teardown", "version": 1, "device": {"base": "tray"},
    "fasteners": [{"id": "A", "drive": "PH", "size": "00", "head_mm": 2.5},
                  {"id": "B", "drive": "T", "size": "5", "head_mm": 4}],
    "parts": [{"id": "tray"}, {"id": "main-board", "kind": "board", "name": "Main board", "basis": "assumed"},
              {"id": "plate", "name": "Plate", "kind": "bracket", "basis": "assumed"}],
    "joints": [
        {"id": "a-1", "kind": "screw", "of": ["plate", "tray"], "fastener": "A", "count": 4, "basis": "assumed"},
        {"id": "plug", "kind": "connector", "type": "zif", "of": ["main-board", "tray"], "basis": "assumed",
         "behind": [["plate"]]}],
    "views": [{"id": "v1", "side": "back", "photo": "one.jpg", "mm_per_px": 0.1, "marks": [
        *({"thing": "a-1", "n": n, "x": x, "y": y} for n, (x, y) in enumerate(
            ((110, 110), (290, 110), (110, 190), (290, 190)), start=1)),
        {"thing": "plate", "x": 200, "y": 150}, {"thing": "plug", "x": 500, "y": 300}]},
        {"id": "v2", "side": "back", "photo": "two.jpg", "mm_per_px": 0.1}],
}
PLATE = ((100, 100), (300, 100), (300, 200), (100, 200))


def region(says, left, top, right, bottom, colour=(90.0, 90.0, 90.0)):
    return Region(says=says, box=(left, top, right, bottom), area_px=(right - left) * (bottom - top), broken=0.7,
                  coloured=0.1, colour=colour, outline=((left, top), (right, top), (right, bottom), (left, bottom)))


def verdicts(*says):
    return tuple(Verdict(screw=Screw(joint=str(n), x=0, y=0, radius_px=12), says=one, head=0.0, ring=0.0)
                 for n, one in enumerate(says))


@pytest.fixture
def session(tmp_path):
    made = Session(Document.create(tmp_path / "one.oddbolt", exchange.from_json(RECORD)))
    yield made
    made.close()


def looking(session, **found):
    views = session.teardown.view
    return Looking(before=views["v1"], after=views["v2"], found=Difference(**found), scale=1.0,
                   carry=lambda x, y: (x + 7.0, y - 3.0))


def seen(session, **found):
    return proposals(session.teardown, looking(session, **found), session.derived.state, Suggested({}))


# -- proposals

def test_a_group_of_which_all_went_is_one_line(session):
    (one,) = seen(session, screws=verdicts(GONE, GONE, GONE, UNSURE))
    assert (one.code, one.thing, one.places, one.is_sure) == (OUT, "a-1", (), True)
    assert seen(session, screws=verdicts(PRESENT, PRESENT, UNSURE, PRESENT)) == ()
    (doubtful,) = seen(session, screws=verdicts(GONE, UNSURE, UNSURE, UNSURE))
    assert not doubtful.is_sure and seen_text(session.teardown, doubtful).endswith("out?")


def test_of_a_group_of_which_some_went_only_those_are_proposed(session):
    (one,) = seen(session, screws=verdicts(GONE, GONE, PRESENT, PRESENT))
    assert one.places == (0, 1) and "2 of 4" in seen_text(session.teardown, one)


def test_a_part_that_came_off_implies_what_held_it(session):
    found = seen(session, screws=verdicts(UNSURE, UNSURE, UNSURE, UNSURE),
                 regions=(region(CAME_OFF, 95, 95, 305, 205),))
    assert [(one.code, one.thing) for one in found] == [(OUT, "a-1"), (OFF, "plate")]
    assert found[1].after[0] == (102.0, 92.0)  # where it lies on the photograph after


def test_what_a_person_drew_gives_way_to_the_edge_that_was_seen(session):
    """Drawn too large, the part would be told to have covered the plug beside it; where no change shows an edge, the
    drawn one counts as one that is drawn."""
    drawn = ((80.0, 80.0), (330.0, 80.0), (330.0, 230.0), (80.0, 230.0))
    session.do(_with_outline, "plate", drawn)
    went = {"lifted": ("plate",), "screws": verdicts(GONE, GONE, GONE, GONE)}
    regions = region(CAME_OFF, 100, 100, 300, 200), region(CAME_OFF, 305, 90, 325, 220)
    _, seen_one = seen(session, **went, regions=regions)
    assert (seen_one.code, seen_one.before, seen_one.is_drawn) == (OFF, tuple(map(tuple, PLATE)), False)
    _, drawn_one = seen(session, **went)
    assert (drawn_one.before, drawn_one.is_drawn) == (drawn, True)
    _, elsewhere = seen(session, **went, regions=(region(CAME_OFF, 100, 100, 180, 140),))
    assert elsewhere.before == drawn and elsewhere.is_drawn
    for one, basis in ((seen_one, "seen"), (drawn_one, "told")):
        after = take_seen(session.teardown, [as_round(one)], 5.0, {}).teardown
        (footprint,) = after.view["v2"].footprints
        assert footprint.basis == basis and len(footprint.outline) == 4
        assert next(mark.outline for mark in after.view["v1"].marks if mark.thing == "plate") == drawn


def _with_outline(teardown, thing, outline):
    view = teardown.view["v1"]
    marks = tuple(replace(mark, outline=outline) if mark.thing == thing else mark for mark in view.marks)
    return Done(Label("test"), replace(teardown, views=(replace(view, marks=marks), *teardown.views[1:])))


def test_what_nobody_marked_waits_for_its_kind(session):
    found = seen(session, regions=(region(CAME_OFF, 600, 100, 700, 200), region(SMALL, 800, 300, 880, 330),
                                   region(HEAD, 790, 100, 815, 125), region(HEAD, 890, 100, 930, 140)))
    told = {(one.code, one.kind, one.wants_kind) for one in found}
    # A head of 2.5 mm is an A, one of 4 mm a B; the kinds of the others are asked for.
    assert told == {(HEADS, "A", False), (HEADS, "B", False), (NEW_OFF, "", True), (LITTLE, "", True)}
    assert [one.wants_kind for one in found] == [False, False, True, True]


def test_a_plug_on_record_that_changed_is_opened_and_not_proposed_twice(session):
    found = seen(session, changed_at=("plug",), regions=(region(SMALL, 480, 290, 520, 310),))
    assert [(one.code, one.thing) for one in found] == [(OPENED, "plug")]


def test_what_moved_is_shown_and_never_ticked(session):
    (one,) = seen(session, regions=(region(ELSEWHERE, 600, 100, 900, 400),))
    assert one.code == MOVED and not one.is_sure


def test_of_what_the_record_knows_only_what_it_had_covered_is_left(session):
    session.do(release, "a-1", 4.0)
    session.do(lift, "plate", 5.0)
    (one,) = seen(session, screws=verdicts(GONE, GONE, GONE, GONE), regions=(region(CAME_OFF, 95, 95, 305, 205),))
    assert (one.code, one.thing, one.is_sure) == (UNCOVERED, "plate", True)


def test_what_several_had_covered_is_taken_over_as_covered_together(session):
    record = exchange.to_json(session.teardown)
    record["parts"].append({"id": "lid", "name": "Lid", "kind": "bracket"})
    record["views"][0]["marks"].append({"thing": "lid", "x": 400, "y": 150})
    record["log"] = [{"id": "e1", "do": "remove", "thing": "plate"}, {"id": "e2", "do": "remove", "thing": "lid"}]
    told = exchange.from_json(record)
    one = Looking(before=told.view["v1"], after=told.view["v2"], scale=1.0, carry=lambda x, y: (x, y),
                  found=Difference(regions=(region(CAME_OFF, 100, 100, 500, 200),)))
    (found,) = proposals(told, one, Derived(told).state, Suggested({}))
    assert (found.code, found.thing, found.others) == (UNCOVERED, "plate", ("lid",))
    assert seen_text(told, found) == "what Plate, Lid had covered"
    after = take_seen(told, [as_round(found, carried={})], 9.0, {}).teardown
    (footprint,) = after.view["v2"].footprints
    assert footprint.whose == ("plate", "lid") and exchange.loads(exchange.dumps(after)) == after
    again = replace(one, after=after.view["v2"])
    assert proposals(after, again, Derived(after).state, Suggested({})) == ()  # it is known by now
    alone = set_footprint(after, "v2", "lid", [(300, 100), (500, 100), (500, 200)]).teardown
    assert [one.whose for one in alone.view["v2"].footprints] == [("lid",)]
    left = delete_things(after, ["lid"]).teardown
    assert [one.whose for one in left.view["v2"].footprints] == [("plate",)]


def test_of_several_that_had_covered_a_place_one_at_least_hid_what_is_there():
    """A noisy or of independent priors p, the place telling L = 9 of at least one: of one alone p L / (p L + 1 - p); of
    two each p L / (p L + (1 - p) (n + (1 - n) L)), n that the other does not hide it. Worked by hand."""
    record = exchange.from_json({**RECORD, "parts": [*RECORD["parts"], {"id": "lid", "kind": "bracket"}],
                                 "log": [{"id": "e1", "do": "remove", "thing": "plate"},
                                         {"id": "e2", "do": "remove", "thing": "lid"},
                                         {"id": "e3", "do": "release", "thing": "a-2"}],
                                 "joints": [{"id": "a-2", "kind": "press-fit", "of": ["main-board", "tray"],
                                             "basis": "assumed"}],
                                 "views": [{"id": "v2", "side": "back", "photo": "two.jpg", "mm_per_px": 0.1,
                                            "marks": [{"thing": "a-2", "x": 500, "y": 500}]}]})
    outline = [(100, 100), (900, 100), (900, 900), (100, 900)]
    alone = Guesses(set_footprint(record, "v2", "plate", outline).teardown).guess("a-2").odds
    both = Guesses(set_footprint(record, "v2", "plate", outline, ["lid"]).teardown).guess("a-2").odds
    prior = 0.2
    assert alone["plate"] == pytest.approx(prior * 9 / (prior * 9 + 1 - prior))
    of_two = prior * 9 / (prior * 9 + (1 - prior) * ((1 - prior) + prior * 9))
    assert (both["plate"], both["lid"]) == (pytest.approx(of_two), pytest.approx(of_two)) and of_two < alone["plate"]


def test_marks_are_looked_for_by_their_size(session):
    looked = looked_for(session.teardown, session.teardown.view["v1"], 0.5)
    assert len(looked.screws) == 4 and looked.screws[0].radius_px == pytest.approx(6.25)
    assert [one.thing for one in looked.places] == ["plug"] and looked.outlines == ()


def test_likeness_goes_by_ratios_and_not_by_light():
    one = Look(size_mm=(20, 10), colour=(100, 110, 105))
    assert unlikeness(one, one) == 0
    brighter = Look(size_mm=(20, 10), colour=(120, 132, 126))
    red = Look(size_mm=(20, 10), colour=(180, 60, 50))
    assert unlikeness(one, brighter) < 0.15 < unlikeness(one, red)


# -- taking over

def as_round(*chosen, carried=None, before="v1", after="v2"):
    def moved(marks):
        return marks_carried(marks, lambda x, y: (x + 7.0, y - 3.0), (2000, 1500)) if carried is None else carried

    return Round(before=before, after=after, chosen=chosen, carried=moved)


def taken(session, *chosen, carried=None):
    return session.do(take_seen, [as_round(*chosen, carried=carried)], 9.0, {})


def test_what_is_taken_over_stands_in_an_order_that_the_rules_allow(session):
    off = Seen(code=OFF, thing="plate", before=PLATE, after=PLATE)
    taken(session, Seen(code=OPENED, thing="plug", before=((490, 290), (510, 290), (510, 310))), off,
          Seen(code=OUT, thing="a-1", spots=((110, 110), (290, 110), (110, 190), (290, 190))))
    log = session.teardown.log
    assert [(entry.do, entry.thing) for entry in log] == [("release", "a-1"), ("remove", "plate"), ("release", "plug")]
    assert {entry.basis for entry in log} == {"seen"}
    view = session.teardown.view["v2"]
    assert view.at_entry == log[-1].id and [(f.of, f.basis) for f in view.footprints] == [("plate", "seen")]
    outlined = next(mark for mark in session.teardown.view["v1"].marks if mark.thing == "plate")
    assert outlined.outline == PLATE
    session.undo()
    assert exchange.to_json(session.teardown) == exchange.to_json(exchange.from_json(RECORD))


def test_marks_of_what_is_left_go_to_where_it_lies_now(session):
    taken(session, Seen(code=OUT, thing="a-1", places=(0, 1), spots=((110, 110), (290, 110))))
    split = [joint for joint in session.teardown.joints if joint.kind == "screw"]
    assert sorted(joint.count for joint in split) == [2, 2]
    marks = session.teardown.view["v2"].marks
    assert sorted((mark.thing, mark.x, mark.y) for mark in marks) == [
        ("a-1", 117.0, 187.0), ("a-1", 297.0, 187.0), ("plate", 207.0, 147.0), ("plug", 507.0, 297.0)]


def test_heads_and_small_things_and_parts_come_onto_the_record(session):
    around = ((600, 100), (700, 100), (700, 200), (600, 200))
    taken(session, Seen(code=HEADS, kind="A", spots=((610, 110), (690, 190)), before=around),
          Seen(code=LITTLE, kind="board-to-board", before=((800, 300), (880, 300), (880, 330), (800, 330))),
          Seen(code=NEW_OFF, kind="shield", before=around, after=around))
    told = [(entry.do, session.teardown.thing(entry.thing).kind) for entry in session.teardown.log]
    assert told == [("release", "connector"), ("release", "screw"), ("remove", "shield")]
    shield = session.teardown.log[-1].thing
    screws = next(one for one in session.teardown.joints if one.id != "a-1" and one.kind == "screw")
    assert screws.of[0] == shield and screws.count == 2


@pytest.mark.parametrize(("chosen", "code"), [
    ((), "nothing-ticked"), ((Seen(code=NEW_OFF, before=PLATE),), "kind-not-said"),
    ((Seen(code=MOVED, before=PLATE),), "nothing-ticked")])
def test_what_cannot_be_taken_over_is_refused_and_nothing_changes(session, chosen, code):
    with pytest.raises(Refusal) as refused:
        taken(session, *chosen)
    assert refused.value.code == code and not session.teardown.log


# -- the acts

@pytest.fixture
def acts(session):
    told = []
    recorder = Recorder(session, Listeners(said=lambda code, **figures: told.append(code)))
    made = SeenActs(recorder)
    made.show(looking(session, screws=verdicts(GONE, GONE, GONE, GONE), regions=(
        region(CAME_OFF, 600, 100, 700, 200), region(SMALL, 800, 300, 880, 330),
        region(ELSEWHERE, 900, 500, 1200, 900))), (2000.0, 1500.0))
    return made


def codes(acts):
    return [one.code for one in acts.shown]


def test_lines_stay_where_they_are_while_they_are_named(acts):
    before = codes(acts)
    assert before == [OUT, MOVED, NEW_OFF, LITTLE] and acts.current == 2
    acts.name("shield")
    acts.type("film")
    # Below them what held it, which no photograph shows.
    assert codes(acts) == [*before, HELD] and [one.kind for one in acts.shown] == ["", "", "shield", "film", "clip"]
    assert [acts.is_ticked(n) for n in range(4)] == [True, False, True, True] and acts.current == -1
    acts.tick(4)  # nothing held it
    assert not acts.is_ticked(4)
    assert acts.take() and not acts.shown
    assert sorted(entry.do for entry in acts.session.teardown.log) == ["release", "release", "remove"]


def test_what_merely_moved_may_be_named_all_the_same(acts):
    acts.tick(1)
    assert acts.current == 1 and not acts.is_ticked(1)
    acts.name("cable")
    assert acts.shown[1].code == NEW_OFF and acts.is_ticked(1)


def test_dropped_it_is_asked_about_no_more_and_refused_it_teaches_nothing(acts):
    acts.drop()
    assert codes(acts) == [OUT, MOVED, LITTLE] and acts.current == 2
    acts.leave()
    assert not acts.shown and not acts.suggested.looks and not acts.session.teardown.log
    assert not acts.recorder.selection.seeing and not acts.recorder.selection.seen


def test_what_was_named_and_taken_suggests_the_next(acts, session):
    acts.name("shield")
    acts.drop()
    acts.take()
    acts.show(looking(session, regions=(region(CAME_OFF, 1000, 100, 1102, 199),)), (2000.0, 1500.0))
    assert [(one.code, one.kind) for one in acts.shown] == [(NEW_OFF, "shield"), (HELD, "clip")]
    assert acts.is_ticked(0)


def test_what_is_recorded_meanwhile_is_proposed_no_more(acts, session):
    session.do(release, "a-1", 3.0)
    acts.refresh()
    assert codes(acts) == [MOVED, NEW_OFF, LITTLE]


def test_the_hull_of_an_outline():
    assert set(hull(((0, 0), (10, 0), (5, 5), (10, 10), (0, 10)))) == {(0, 0), (10, 0), (10, 10), (0, 10)}


# -- of several pairs, and at their time

def by_hand(session):
    """Something recorded by hand after the second photograph had been taken."""
    record = exchange.to_json(session.teardown)
    record["log"] = [{"id": "e1", "do": "note", "text": "begun"}]
    record["views"][1] |= {"at_entry": "e1", "marks": list(record["views"][0]["marks"])}
    record["views"].append({"id": "v3", "side": "back", "photo": "three.jpg", "mm_per_px": 0.1, "at_entry": "e1",
                            "marks": list(record["views"][0]["marks"])})
    session.document.commit(exchange.from_json(record), Label("test"), "2026-03-01T10:00:00+00:00")
    session.do(release, "plug", 30.0)


OUT_A = Seen(code=OUT, thing="a-1", spots=((110, 110), (290, 110), (110, 190), (290, 190)))
OFF_PLATE = Seen(code=OFF, thing="plate", before=PLATE, after=PLATE)


def test_what_was_seen_stands_before_what_was_recorded_since_its_photograph(session):
    by_hand(session)
    session.do(take_seen, [as_round(OFF_PLATE, OUT_A)], 60.0, {})
    assert [entry.thing for entry in readings(session.teardown)] == [None, "a-1", "plate", "plug"]
    assert replay(session.teardown, structure_of(session.teardown)).contradictions == ()
    seen_ones = [entry for entry in session.teardown.log if entry.basis == "seen"]
    assert {entry.after for entry in seen_ones} == {"e1"}
    # Both photographs that were taken after that show it.
    assert [session.teardown.view[id_].at_entry for id_ in ("v2", "v3")] == [seen_ones[-1].id] * 2
    session.undo()
    assert [entry.thing for entry in session.teardown.log] == [None, "plug"]


def test_what_could_not_have_stood_there_stands_at_the_end(session):
    """The plug held the plate, by what is known; it was undone by hand after the photograph, so it is said."""
    by_hand(session)
    session.do(set_behind, "plug", [])
    session.do(set_behind, "plate", ["plug"])
    session.do(take_seen, [as_round(OUT_A, OFF_PLATE)], 60.0, {})
    assert [entry.thing for entry in readings(session.teardown)] == [None, "plug", "a-1", "plate"]
    assert replay(session.teardown, structure_of(session.teardown)).contradictions == ()
    assert session.teardown.view["v2"].at_entry == "e1"


def test_pairs_are_taken_in_their_order_and_marks_go_along(session):
    """Two of the four screws went before one photograph, the others before the next: the group was split meanwhile."""
    by_hand(session)
    session.undo()
    all_, two = Seen(code=OUT, thing="a-1"), Seen(code=OUT, thing="a-1", places=(0, 1), spots=((110, 110), (290, 110)))
    others = Seen(code=OUT, thing="a-1", places=(2, 3), spots=((110, 190), (290, 190)))
    for later in (others, all_):
        rounds = [as_round(two), as_round(later, before="v2", after="v3")]
        after = take_seen(session.teardown, rounds, 60.0, {}).teardown
        screws = [entry.thing for entry in after.log if entry.do == "release"]
        assert len(set(screws)) == 2 and {after.joint[thing].count for thing in screws} == {2}
        assert {mark.thing for mark in after.view["v2"].marks} == {"plate", "plug", screws[1]}
        assert {mark.thing for mark in after.view["v3"].marks} == {"plate", "plug"}
    with pytest.raises(Refusal):
        take_seen(session.teardown, [as_round(), as_round(before="v2", after="v3")], 60.0, {})


def test_what_a_part_had_covered_is_kept_though_something_was_recorded_since(session):
    """Nothing is done, so nothing stands anywhere in the log; the footprint is there all the same."""
    by_hand(session)
    session.do(lift, "plate", 31.0)
    session.do(take_seen, [as_round(Seen(code=UNCOVERED, thing="plate", before=PLATE, after=PLATE))], 60.0, {})
    assert [(one.of, one.basis) for one in session.teardown.view["v2"].footprints] == [("plate", "seen")]
    assert session.teardown.view["v2"].at_entry == "e1"
