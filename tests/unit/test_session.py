"""Commands, undo and events of the open teardown, without any widget."""

from __future__ import annotations

import re
from datetime import datetime, timedelta, timezone
from pathlib import Path

import pytest

from oddbolt.model import exchange
from oddbolt.model.checking.references import check_references
from oddbolt.model.label import Label
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Fastener, Mark, Plane, View
from oddbolt.model.touched import touched_by
from oddbolt.session.documents import begin_teardown, open_document
from oddbolt.session.prepare import Preparation
from oddbolt.session.session import Session
from oddbolt.session.verbs import answers, entries, groups, joints, letters, lifting, marking, parts, photos
from oddbolt.session.verbs.correcting import change, delete, relog
from oddbolt.session.verbs.marking import Kind
from oddbolt.store.document import Document
from oddbolt.words.recording.labels import LABELS, label_text
from oddbolt.words.refusals import refusal_text

PLANE = Plane(to_mm=((0.05, 0, -3.5), (0, 0.05, 0), (0, -1e-6, 1)), lens=(500, 400, 600, -0.02))


class Clock:
    def __init__(self):
        self.now = datetime(2026, 3, 2, 9, tzinfo=timezone.utc)

    def __call__(self):
        return self.now


@pytest.fixture
def session(tmp_path, example):
    made = Session(Document.create(tmp_path / "one.oddbolt", exchange.from_json(example)), Clock())
    yield made
    made.close()


def every_verb():
    """One use of each verb on the example: the verb, its arguments and keys."""
    return [
        (marking.mark_more, ["v0", "cover-screws", [(10.04, 20)]]), (marking.unmark, ["v0", 0]),
        (marking.mark_more, ["v0", "cover-screws", [(10, 20), (11, 21)]]), (marking.move_mark, ["v0", 0, 5, 6]),
        (marking.mark_new, ["v0", Kind(letter="A"), [(1, 2)]], {"part": "pack"}),
        (marking.new_joint, [Kind(joint="connector", type="zif")], {"part": "pack"}),
        (marking.carry_marks, ["v0", [Mark(thing="pack", x=1, y=2)]]),
        (marking.set_angle, ["v0", "cover-screws", 90.0]),
        (lifting.release, ["pack-plug", 40]), (lifting.release, ["pack-glue", 50], {"way": 2, "outcome": "damaged"}),
        (lifting.release, ["pack-glue", 50], {"wait_s": 90.0, "temp_c": 65.0}),
        (lifting.mark_and_release, ["v0", Kind(joint="clip"), [(3, 4)], 51]),
        (lifting.meet_and_release, [Kind(joint="film"), 52], {"part": "pack"}), (lifting.lift, ["pack", 60]),
        (lifting.lift_as, ["speaker", 60], {"view_id": "v0", "spot": (9, 9)}), (lifting.swing_open, [60]),
        (lifting.swing_instead, ["cover", 60]), (entries.note, ["warm", 61]), (entries.reach, [["pack"], 62]),
        (entries.entry, ["clean", 62], {"thing": "pack"}), (entries.set_outcome, ["e1", "failed", 63]),
        (entries.set_seconds, ["e1", 31.5, 64]), (entries.aid, ["foam", True, 65, "pack"]),
        (entries.start_pass, ["2026-03-03T09:00:00+00:00"]),
        (joints.set_limits, ["pack-glue", 0, 1, [{"angle_deg": [0, 20]}]]),
        (joints.tie, ["pack-plug", 1, "cover"]), (joints.tie_to_new, ["pack-plug", "board", "v0", (5, 5)], {"end": 1}),
        (joints.set_tool, ["pack-plug", 0, "tweezers"]), (joints.add_way, ["pack-glue", "pull"]),
        (joints.set_isolates, ["pack-plug", False]), (joints.set_behind, ["pack-plug", []]),
        (joints.set_type, ["pack-plug", "zif slide"]), (groups.set_order, ["cover-screws", [4, 1, 3, 2]]),
        (photos.set_scale, ["v0", 0.05, PLANE]), (photos.add_view, [View(id="v9", photo="x.jpg")]),
        (answers.answer, ["m", "years", 5]), (answers.answer, ["eu-2023-1669-tablet", "software_updates", None]),
        (answers.answer_access, ["hides", "cover", {"pack": True}]),
        (parts.set_parts, [["pack", "cover"]], {"mass_g": 12.5}),
        (parts.set_fact, [["pack"], "capacity", 2200, "mAh"]),
        (parts.set_fact, [["pack", "cover"], "material", "steel"]),
        (parts.set_fact, [["pack"], "capacity", None]), (parts.set_spare, [["cover"], "public"]),
        (letters.set_fastener, [Fastener(id="A", thread="M1.4")]),
        (letters.add_fastener, [Fastener(id="Q", drive="T")]),
        (relog.strike, ["e2", 80]), (relog.reword, ["e1", "as I remember it", 80]),
        (relog.by_another_way, ["e1", 0, 80]), (relog.insert, ["e2", "note"], {"text": "forgotten"}),
        (relog.insert, ["e1", "release"], {"thing": "pack-plug"}),
        (relog.insert, ["e2", "remove"], {"thing": "cover"}),
        (change.set_kind, ["pack-glue", Kind(joint="clip"), 80]),
        (change.set_kind, ["cover-screws", Kind(joint="film"), 80]),
        (change.rename, ["pack", "Power pack"]), (change.rename, ["pack-plug", "the plug"]),
        (change.describe_device, [], {"model": "B-2", "serial": "7"}),
        (change.describe_device, [], {"name": "Bittern"}),
        (change.describe_pass, [1], {"by": "A. Heron"}), (change.move_view, ["v0", "e1"]),
        (delete.delete_things, [["pack"]]), (delete.delete_things, [["cover-screws"]]),
        (delete.delete_things, [["pack", "pack-plug"]]), (delete.delete_letter, ["A"]),
        (delete.delete_view, ["v0"]), (delete.delete_mark, ["v0", 0]),
        (parts.make_part, ["battery", "v0", (7, 7)]), (parts.weigh, ["pack", 9.5, 70]),
    ]


def test_a_very_long_device_name_still_makes_a_file(tmp_path):
    for _ in range(2):
        begin_teardown(Preparation(name="9" * 2_000, category="radio"), None, tmp_path, Clock()()).close()
    assert sorted(len(p.name) for p in tmp_path.glob("*.oddbolt")) == [88, 90]


@pytest.mark.parametrize("number", range(len(every_verb())))
def test_every_verb_is_labelled_taken_back_and_done_again(session, number):
    """Its label is a code with JSON data that is worded, now and when what it made is gone again."""
    verb, arguments, *keys = every_verb()[number]
    before = exchange.to_json(session.teardown)
    heard = []
    session.listen(heard.append)
    done = session.do(verb, *arguments, **(keys[0] if keys else {}))
    after = exchange.to_json(session.teardown)
    assert after != before and done.label.code in LABELS and Label.loads(done.label.dumps()) == done.label
    words = label_text(done.label)
    assert words and "{" not in words and session.undo_label == done.label
    session.undo()
    assert exchange.to_json(session.teardown) == before
    assert session.redo_label == done.label and label_text(session.redo_label) == words
    session.redo()
    assert exchange.to_json(session.teardown) == after
    assert [change.kind for change in heard] == ["done", "undone", "redone"]
    assert heard[0].touched.sections == heard[1].touched.sections == touched_of(before, after).sections


def touched_of(before, after):
    """By the exchange file: which sections differ, and which records and keys in them."""
    found = []
    for name in before.keys() | after.keys():
        old, new = before.get(name), after.get(name)
        if isinstance(old, list) or isinstance(new, list):
            old, new = old or [], new or []
            length = max(len(old), len(new))
            rows = zip(old + [None] * (length - len(old)), new + [None] * (length - len(new)))
            found += [(name, a, b) for a, b in rows if a != b]
        elif old != new:
            found.append((name, old, new))
    return touched_by(found)


def test_every_label_of_a_verb_is_worded_and_every_wording_is_of_one():
    """`assume` is of the script that draws the pictures; `begin-pass` and the like are above."""
    said = {"text"}
    for path in Path(marking.__file__).parent.rglob("*.py"):
        said |= set(re.findall(r'(?:Label|label_of)\(f?"([a-z-]+)"', path.read_text("utf-8")))
    assert said - LABELS.keys() <= {"text", "aid-on", "aid-off"}
    assert label_text(Label("text", {"text": "lift Deckel"})) == "lift Deckel"
    assert label_text(Label("of-a-newer-program")) == "of-a-newer-program"


def test_snapshots_are_never_changed_and_share_what_did_not_change(session):
    first = session.teardown
    session.do(lifting.lift, "pack", 1)
    assert len(first.log) == 3 and len(session.teardown.log) == 4
    assert session.teardown.parts is first.parts and session.teardown.log[0] is first.log[0]


def test_derived_results_go_with_their_snapshot(session):
    derived = session.derived
    assert derived.priority_parts() == ["cover", "pack"]
    assert derived.planner is derived.planner and derived.ledger is derived.ledger
    assert derived.performed.steps == 1 and derived.verdict("eu-2023-1669-tablet").index[0] < 5
    session.do(lifting.lift, "pack", 1)
    assert session.derived is not derived
    assert "pack" in session.derived.state.removed


def test_events_name_what_happened(session):
    heard = []
    session.listen(lambda change: heard.append((change.kind, change.label.code)))
    session.do(entries.note, "x", 1)
    session.undo()
    session.redo()
    session.undo()
    session.undo()  # nothing left: nothing is told
    assert heard == [("done", "note"), ("undone", "note"), ("redone", "note"), ("undone", "note")]


def test_the_clock_runs_from_the_last_act(session):
    assert session.seconds_now() == 33
    session.do(entries.note, "x", session.seconds_now())
    session._clock.now += timedelta(seconds=12)
    assert session.seconds_now() == 45


@pytest.mark.parametrize(("verb", "arguments", "code"), [
    (lifting.lift, ["chassis", 1], "base-stays"), (lifting.lift, ["nothing", 1], "no-such-thing"),
    (marking.mark_new, ["v0", Kind(letter="A"), [(1, 1)], "chassis"], None),
    (entries.reach, [["nothing"], 1], "no-such-thing"), (lifting.lift, ["cover", 9], "off-already"),
    (lifting.release, ["cover-screws", 9], "off-already"), (lifting.release, ["pack-glue", 9, 7], "needs-the-acts"),
    (marking.mark_new, ["v99", Kind(letter="A"), [(1, 1)]], "no-such-view"),
    (letters.add_fastener, [Fastener(id="A")], "letter-taken"), (joints.tie, ["pack-plug", 1, "pack"], "ties-already")])
def test_what_does_not_apply_is_refused_and_changes_nothing(session, verb, arguments, code):
    before = session.teardown
    if code is None:
        arguments, code, keys = arguments[:-1], "ties-itself", {"part": arguments[-1]}
    else:
        keys = {}
    with pytest.raises(Refusal) as refused:
        session.do(verb, *arguments, **keys)
    assert refused.value.code == code and refusal_text(refused.value) and session.teardown is before
    assert session.undo_label is None


def test_marks_keep_their_numbers_in_a_row(session):
    for x in (1, 2, 3):
        session.do(marking.mark_more, "v0", "cover-screws", [(x, 0)])
    session.do(marking.unmark, "v0", 1)
    assert [(m.n, m.x) for m in session.teardown.views[0].marks] == [(1, 412.0), (2, 2), (3, 3)]
    assert session.teardown.joint["cover-screws"].count == 4  # the count is the analyst's
    session.do(marking.mark_more, "v0", "cover-screws", [(4, 0)])
    session.do(marking.mark_more, "v0", "cover-screws", [(5, 0)])
    assert session.teardown.joint["cover-screws"].count == 5  # five marks are five screws


def test_ids_are_never_given_twice(session):
    for _ in range(4):
        session.do(entries.note, "x", 1)
    session.undo()
    session.do(entries.note, "y", 1)
    ids = [entry.id for entry in session.teardown.log]
    assert len(ids) == len(set(ids)) == 7
    check_references(session.teardown)


def test_an_exchange_file_opens_as_a_document_of_its_own(tmp_path, example_path):
    first = open_document(example_path, lambda body: b"", tmp_path / "work")
    second = open_document(example_path, lambda body: b"", tmp_path / "work")
    assert first.path.name == "bench-radio.oddbolt" and second.path.name == "bench-radio-2.oddbolt"
    first.close()
    second.close()
    with open_document(first.path, lambda body: b"", tmp_path) as again:
        assert again.path == first.path
    for bad in (tmp_path, tmp_path / "missing"):
        with pytest.raises(Refusal):
            open_document(bad, lambda body: b"", tmp_path)
