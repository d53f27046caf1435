"""What is typed and what is pressed come to the same record, entry for entry."""

from __future__ import annotations

import copy
from datetime import datetime, timezone

import pytest

from oddbolt.catalog.tables import bond_methods
from oddbolt.model import exchange
from oddbolt.session.modes import Gesture
from oddbolt.session.recording.arming_acts import ArmingActs
from oddbolt.session.recording.asked_acts import AskedActs
from oddbolt.session.recording.lifting_acts import LiftingActs
from oddbolt.session.recording.mark_acts import MarkActs
from oddbolt.session.recording.recorder import Listeners, Recorder
from oddbolt.session.recording.typed_acts import TypedActs
from oddbolt.session.session import Session
from oddbolt.session.typed_line import NotUnderstood
from oddbolt.session.verbs import entries, joints, lifting, marking, parts
from oddbolt.session.verbs.footprints import set_footprint
from oddbolt.session.verbs.marking import Kind
from oddbolt.store.document import Document
from oddbolt.words.refusals import refusal_text

RECORD = {
    "format": "oddbolt-teardown", "version": 1, "device": {"base": "tray"},
    "fasteners": [{"id": "A", "drive": "PH", "size": "00", "thread": "M1.6", "length_mm": 4, "head_mm": 3}],
    "parts": [{"id": "tray"}, {"id": "cover", "name": "Cover", "kind": "cover", "on": "tray"},
              {"id": "pack", "name": "Pack", "kind": "battery", "on": "tray"},
              {"id": "cam", "name": "Camera", "kind": "camera", "on": "tray"},
              {"id": "board", "name": "Main board", "kind": "board", "on": "tray"}],
    "joints": [
        {"id": "four", "kind": "screw", "of": ["cover", "tray"], "fastener": "A", "count": 4},
        {"id": "glue", "kind": "adhesive", "of": ["pack", "tray"], "ways": [
            {"tool": "spudger", "does": "pry", "active_s": 60, "reuse": "renew"},
            {"acts": [{"tool": "heat-mat", "does": "heat", "active_s": 10, "wait_s": 300},
                      {"tool": "card", "does": "slice", "active_s": 40}], "reuse": "renew"}]},
        {"id": "plug", "kind": "connector", "type": "zif", "of": ["board", "tray"]},
        {"id": "cell-plug", "kind": "connector", "type": "board-to-board", "of": ["pack", "board"]},
        {"id": "hinge", "kind": "routing", "of": ["board", "tray"]}],
    "views": [{"id": "v", "side": "back", "marks": [
        *({"thing": "four", "n": n, "x": 90 * n, "y": 100} for n in (1, 2, 3, 4)),
        {"thing": "pack", "x": 300, "y": 300}, {"thing": "plug", "x": 500, "y": 300}]}],
}


class Desk:
    """One record and both hands: keys pressed, lines typed."""

    def __init__(self, path, record):
        self.session = Session(Document.create(path, exchange.from_json(record)),
                               lambda: datetime(2026, 3, 2, 9, tzinfo=timezone.utc))
        self.told, self.refused = [], []
        self.recorder = Recorder(self.session, Listeners(
            said=lambda code, **figures: self.told.append(code), refused=self.refused.append))
        self.typed = TypedActs(LiftingActs(self.recorder))
        AskedActs(self.recorder)
        MarkActs(self.recorder)
        ArmingActs(self.recorder)
        self.recorder.selection.view = "v"

    def press(self, gesture, **what):
        return self.recorder.gesture(gesture, **what)

    def chosen(self, thing):
        self.recorder.choose(thing)
        return self

    def type(self, line):
        return self.press(Gesture.TYPED, line=line)

    @property
    def record(self):
        return exchange.to_json(self.session.teardown)


@pytest.fixture
def desks(tmp_path):
    made = []

    def make(record=RECORD):
        made.append(Desk(tmp_path / f"{len(made)}.oddbolt", copy.deepcopy(record)))
        return made[-1]

    yield make
    for desk in made:
        desk.session.close()


def do(desk, verb, *args, **keys):
    """What a button or a dialog does: the verb itself."""
    return desk.recorder.do(verb, *args, **keys)


SAME = {
    "screws of a part": ("A cover", lambda d: d.chosen("four").press(Gesture.RELEASE)),
    "screws, all said": ("4 PH00 A cover 26s", lambda d: d.chosen("four").press(Gesture.RELEASE, seconds=26.0)),
    "a plug": ("plug main", lambda d: d.chosen("plug").press(Gesture.RELEASE)),
    "an outcome": ("plug main damaged", lambda d: d.chosen("plug").press(Gesture.RELEASE, outcome="damaged")),
    "glue, the first way": ("glue pack 40s", lambda d: d.chosen("glue").press(Gesture.RELEASE, seconds=40.0)),
    "glue with heat waits": ("glue pack heat 70C 5min", lambda d: d.chosen("glue").press(
        Gesture.RELEASE, way=1, wait_s=300.0, temp_c=70.0)),
    "a lift": ("lift board", lambda d: d.chosen("board").press(Gesture.LIFT)),
    "a swing": ("swing cover", lambda d: d.chosen("cover").press(Gesture.SWING)),
    "a note": ("note corner is bent", lambda d: do(d, entries.note, "corner is bent", d.recorder.t)),
    "a joint is met": ("peel board", lambda d: do(d, lifting.meet_and_release, Kind(joint="film"), d.recorder.t,
                                                  part="board", count=1, outcome="ok")),
    "screws are met": ("3 A board 9s", lambda d: do(d, lifting.meet_and_release, Kind(letter="A"), d.recorder.t,
                                                    part="board", count=3, outcome="ok", seconds=9.0)),
    "another one": ("plug board coax new", lambda d: do(
        d, lifting.meet_and_release, Kind(joint="connector", type="coaxial"), d.recorder.t, part="board", count=1,
        outcome="ok")),
    "a slide is met": ("slide cam", lambda d: do(d, lifting.meet_and_release, Kind(joint="slide"), d.recorder.t,
                                                 part="cam", count=1, outcome="ok")),
    "all within reach": ("reach", lambda d: d.press(Gesture.REACH_ALL)),
    "a role": ("role cam front", lambda d: do(d, parts.set_role, "cam", "front_camera")),
    "no role": ("role cam none", lambda d: do(d, parts.set_role, "cam", "")),
    "it hid nothing": ("footprint board none", lambda d: do(d, set_footprint, "v", "board", ())),
}
WITHOUT_LOG = ("a role", "no role", "it hid nothing")  # these say what is so, not what was done


@pytest.mark.parametrize("case", SAME)
def test_typed_equals_pressed(desks, case):
    line, pressed = SAME[case]
    typing, pressing = desks(), desks()
    if case == "a lift":
        for desk in (typing, pressing):
            for joint in ("plug", "cell-plug", "hinge"):
                do(desk, lifting.release, joint, 0.0)
    assert typing.type(line), (typing.told, typing.refused)
    assert pressed(pressing), (pressing.told, pressing.refused)
    assert typing.record == pressing.record
    assert typing.record != desks().record, "something was done"
    assert bool(typing.record.get("log")) == (case not in WITHOUT_LOG)


def test_a_typed_lift_takes_along_what_is_being_marked(desks):
    """Screws marked and not yet released are released by the lift that needs it, typed or pressed."""
    def mark(desk):
        desk.recorder.arm(Kind(letter="A"))
        desk.press(Gesture.CLICK_BESIDE, spot=(600, 600))
        desk.press(Gesture.CLICK_BESIDE, spot=(640, 600))

    typing, pressing = desks(), desks()
    for desk in (typing, pressing):
        mark(desk)
        for joint in ("four", "plug"):
            do(desk, lifting.release, joint, desk.recorder.t)
        desk.chosen(desk.recorder.selection.group)
    made = typing.recorder.selection.group
    assert made
    typing.type("lift cover")
    pressing.chosen("cover").press(Gesture.LIFT)
    assert typing.record == pressing.record
    acts = [(entry["do"], entry.get("thing")) for entry in typing.record["log"]]
    assert acts[-2:] == [("release", made), ("remove", "cover")]


def test_a_typed_lift_against_the_rules_is_asked_twice(desks):
    desk = desks()
    assert not desk.type("lift board")
    assert desk.told[-1] == "in-the-way" and not desk.session.teardown.log
    assert desk.type("lift board")


@pytest.mark.parametrize("method", ["heat", "solvent"])
def test_what_waits_in_the_catalogue_waits_when_typed(desks, method):
    """A joint met by a line has the way of its method; a duration is its wait, and the acts are the catalogue's."""
    desk = desks()
    desk.type(f"glue board {method} 7min")
    made = next(joint for joint in desk.session.teardown.joints if joint.kind == "adhesive" and "board" in joint.of)
    catalogue = bond_methods()[method].acts
    assert [act.does for act in made.ways[0].acts] == [act.get("does", "") for act in catalogue]
    waits = [act.wait_s for act in made.ways[0].acts]
    assert 420 in waits and any(act.get("wait_s") for act in catalogue)


def test_a_typed_plug_of_a_cell_isolates(desks):
    """A plug met on a battery cuts its power, as one that is marked does; one on a board does not."""
    record = {**copy.deepcopy(RECORD), "joints": RECORD["joints"][:3]}
    del record["joints"][1]
    typing, marking_ = desks(record), desks(record)
    typing.type("plug pack b2b")
    marking_.recorder.do(marking.mark_new, "v", Kind(joint="connector", type="board-to-board"), [(310, 310)],
                         part="pack")
    for desk in (typing, marking_):
        made = next(j for j in desk.session.teardown.joints if j.kind == "connector" and "pack" in j.of)
        assert made.isolates is not False
    typing.type("plug board coax new")
    assert typing.session.teardown.joints[-1].isolates is False


@pytest.mark.parametrize(("line", "code", "at"), [
    ("?next-3", "unknown-name", (1, 7)), ("glue pack 9999C", "too-hot", (10, 15)), ("?", "name-missing", (1, 1)),
    ("3 A cover", "other-count", (0, 1)), ("PH1 A cover", "other-recess", (0, 3)), ("lift tray", "base", (5, 9)),
    ("plug", "name-missing", (4, 4)), ("glue pack solvent", "no-such-way", (0, 4)), ("", "empty", (0, 0)),
    ("role cam battery", "no-such-role", (9, 16)), ("role pack", "name-missing", (4, 4)),
    ("role", "name-missing", (4, 4)), ("footprint cam", "is-drawn", (10, 13)),
    ("footprint tray none", "base", (10, 14)),
    ("D cover", "not-a-line", (0, 1)), ("PH00 D nobody", "unknown-name", (7, 13)), ("PH00 D tray", "base", (7, 11)),
    ("PH00 D", "unknown-letter", (5, 6)),
    ("zzz", "not-a-line", (0, 3)), ("lift co bo", "unknown-name", (5, 10)), ("note", "text-missing", (4, 4)),
    ("reach cover", "stands-alone", (6, 11))])
def test_what_is_not_understood_is_said_with_its_place_and_nothing_happens(desks, line, code, at):
    desk = desks()
    before = desk.session.teardown
    with pytest.raises(NotUnderstood) as caught:
        desk.type(line)
    assert (caught.value.code, (caught.value.start, caught.value.end)) == (code, at)
    assert desk.session.teardown is before


def test_what_begins_no_line_is_told_with_all_that_may(desks):
    """Not only the letters of the screws that are on record."""
    with pytest.raises(NotUnderstood) as caught:
        desks().type("nonsense")
    assert {"lift", "plug", "note", "A"} <= set(caught.value.options)


def test_a_letter_that_nobody_knows_is_made_by_its_recess(desks):
    """The first screws of a record are one line: letter, recess, count and part. One undo takes back both."""
    desk = desks()
    before = desk.record
    assert desk.type("3 TX5 d board 9s")
    made = desk.session.teardown.fastener["D"]
    assert (made.drive, made.size) == ("T", "5")
    joint = desk.session.teardown.joints[-1]
    assert (joint.fastener, joint.count, joint.of[0]) == ("D", 3, "board")
    assert desk.record["log"][-1]["seconds"] == 9
    desk.session.undo()
    assert desk.record == before
    desk.session.redo()
    assert desk.type("TX5 D cover") and len(desk.session.teardown.fasteners) == 2


def test_a_line_starts_a_record_with_a_part_that_nobody_named(desks):
    """On an empty record a line makes the letter, the part and the joint, and releases it; one undo takes all back."""
    empty = {"format": "oddbolt-teardown", "version": 1, "device": {"base": "tray"}, "parts": [{"id": "tray"}]}
    desk = desks(empty)
    before = desk.record
    assert desk.type("4 PH00 A cover Rear cover")
    made = desk.session.teardown.parts[-1]
    assert (made.kind, made.name, made.role) == ("cover", "Rear cover", ("back_cover",))
    assert desk.session.teardown.joints[-1].of[0] == made.id
    desk.session.undo()
    assert desk.record == before
    desk.session.redo()
    assert desk.type("clip cover") and desk.session.teardown.joints[-1].of[0] == made.id, "the one cover is meant"
    assert desk.type("lift Rear")
    assert desk.type("plug battery") and desk.type("glue battery heat 5min")
    cell = desk.session.teardown.parts[-1]
    assert cell.kind == "battery" and [j.of[0] for j in desk.session.teardown.joints[-2:]] == [cell.id] * 2
    assert desk.type("plug board Upper coax") and desk.type("plug board Lower coax")
    assert [part.name for part in desk.session.teardown.parts[-2:]] == ["Upper", "Lower"]
    with pytest.raises(NotUnderstood) as caught:
        desk.type("plug board")
    assert caught.value.code == "ambiguous"
    assert desk.type("2 A cover Inner"), "a kind with a name that nobody has is another one"
    assert sum(part.kind == "cover" for part in desk.session.teardown.parts) == 2


def test_a_question_about_a_next_part_is_answered(desks):
    """Parts that nobody knows yet have ids of the record; a question about one is a question."""
    desk = desks()
    desk.recorder.arm(Kind(letter="A"))
    desk.press(Gesture.CLICK_BESIDE, spot=(700, 700))
    next_part = desk.session.teardown.joints[-1].of[0]
    asked = []
    desk.recorder.tell.asks = asked.append
    assert desk.type(f"?{next_part}")
    assert asked == [next_part]


def test_a_typed_release_again_is_said(desks):
    desk = desks()
    desk.type("A cover")
    with pytest.raises(NotUnderstood) as caught:
        desk.type("A cover")
    assert caught.value.code == "released-already" and caught.value.options == ("four",)


def test_a_refusal_of_the_verb_reaches_the_person(desks):
    desk = desks()
    assert do(desk, lifting.release, "nowhere", 0.0) is None
    assert "nowhere" in refusal_text(desk.refused[-1])


@pytest.mark.parametrize("said", [True, False])
def test_what_a_person_said_holds_after_reopening(tmp_path, said):
    """A plug that is tied to a cell makes safe, by guess; not where a person has said that it does not."""
    record = {**copy.deepcopy(RECORD), "joints": RECORD["joints"][:3]}
    path = tmp_path / "kept.oddbolt"
    session = Session(Document.create(path, exchange.from_json(record)))
    if said:
        session.do(joints.set_isolates, "plug", True)
        session.do(joints.set_isolates, "plug", False)
    session.close()
    session = Session(Document.open(path))
    assert session.teardown.joint["plug"].isolates is False, "the same value, said or not"
    session.do(joints.tie, "plug", 0, "pack")
    assert session.teardown.joint["plug"].isolates is (not said)
    session.close()
    with Document.open(path) as document:
        again = exchange.from_json(exchange.to_json(document.teardown))
    assert again.joint["plug"].was_said("isolates") is said
