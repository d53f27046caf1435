"""What held a part that came off, where no photograph shows it."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from oddbolt.catalog.tables import mark_kinds, part_kinds
from oddbolt.knowledge.said.seen import HEADS, HELD, NEW_OFF, OFF, SMALL, Look, Seen
from oddbolt.model import exchange
from oddbolt.model.things import Mark
from oddbolt.session.recording.seeing.implied import went_there, what_held

SQUARE = ((100.0, 100.0), (300.0, 100.0), (300.0, 300.0), (100.0, 300.0))
LOOK = Look(size_mm=(20, 20), colour=(90, 90, 90))
CAME_OFF = Seen(code=NEW_OFF, before=SQUARE, after=SQUARE, look=LOOK)


def record(*joints, parts=(), log=(), marks=()):
    return exchange.from_json({
        "format": "oddbolt-teardown", "version": 2, "device": {"name": "Godwit 9", "base": "tray"},
        "parts": [{"id": "tray", "kind": "frame"}, {"id": "board", "kind": "board"},
                  {"id": "next-1", "basis": "assumed"}, *parts],
        "joints": list(joints), "views": [{"id": "v", "side": "back", "marks": list(marks)}],
        "log": [{"id": f"e{n}", "t": n, "pass": 1, **entry} for n, entry in enumerate(log)]})


def held(teardown, kind, about=(), told=None, **lift):
    found = what_held(teardown, teardown.view["v"], replace(CAME_OFF, kind=kind, **lift), about, told or {})
    return found.kind if found is not None else ""


def test_every_kind_of_part_names_a_joint_that_can_be_marked():
    assert {row.held_by for row in part_kinds().values() if row.held_by} <= set(mark_kinds())


@pytest.mark.parametrize(("kind", "by"), [("shield", "clip"), ("battery", "tab"), ("cable", "routing"), ("camera", ""),
                                          ("board", ""), ("", "")])
def test_what_holds_one_as_a_rule(kind, by):
    assert held(record(), kind) == by


def test_screws_that_went_there_hold_it_and_a_plug_does_not():
    screw = Seen(code=HEADS, spots=((150.0, 150.0),), before=((150.0, 150.0),))
    assert held(record(), "shield", [screw]) == ""
    assert held(record(), "shield", [Seen(code=SMALL, kind="zif", before=SQUARE)]) == "clip"
    assert held(record(), "shield", [Seen(code=SMALL, before=SQUARE)]) == ""  # it may be anything


def test_what_holds_it_by_the_record_is_enough():
    clip = {"id": "clips", "kind": "clip", "of": ["lid", "board"]}
    teardown = record(clip, parts=[{"id": "lid", "kind": "shield"}])
    assert held(teardown, "", code=OFF, thing="lid") == ""
    assert held(record(parts=[{"id": "lid", "kind": "shield"}]), "", code=OFF, thing="lid") == "clip"


@pytest.mark.parametrize(("joint", "kind", "by"), [("adhesive", "battery", ""), ("film", "battery", "tab"),
                                                   ("film", "antenna", ""), ("connector", "battery", "tab")])
def test_what_was_undone_there_by_hand_holds_it_unless_it_lies_across(joint, kind, by):
    teardown = record({"id": "one", "kind": joint, "of": ["next-1", "tray"]}, log=[{"do": "release", "thing": "one"}],
                      marks=[{"thing": "one", "x": 200, "y": 200}])
    assert held(teardown, kind) == by
    elsewhere = replace(teardown, views=(replace(teardown.views[0], marks=(Mark(thing="one", x=900, y=900),)),))
    assert held(elsewhere, kind) == part_kinds()[kind].held_by


def test_what_held_the_last_of_its_kind_holds_this_one_and_what_was_just_said_comes_first():
    first = {"id": "first", "kind": "antenna"}
    done = [{"do": "release", "thing": "tack"}, {"do": "remove", "thing": "first"}]
    pulled = record({"id": "tack", "kind": "adhesive", "of": ["first", "tray"],
                     "ways": [{"tool": "tweezers", "does": "pull"}]}, parts=[first], log=done)
    assert held(pulled, "antenna") == "tab" and held(pulled, "antenna", told={"antenna": "clip"}) == "clip"
    screwed = record({"id": "tack", "kind": "screw", "of": ["first", "tray"]}, parts=[first], log=done)
    assert held(screwed, "antenna") == ""


def test_a_place_is_about_where_a_part_lay_notches_and_all():
    notched = ((0.0, 0.0), (100.0, 0.0), (100.0, 100.0), (55.0, 100.0), (50.0, 10.0), (45.0, 100.0), (0.0, 100.0))
    assert went_there(notched, (50.0, 60.0)) and not went_there(notched, (160.0, 60.0))
    assert not went_there((), (0.0, 0.0))
    assert what_held(record(), record().view["v"], replace(CAME_OFF, kind="shield"), (), {}).code == HELD
