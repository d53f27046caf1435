"""Commands, undo and events of the open teardown, without any widget."""

from __future__ import annotations

from datetime import datetime, timedelta, timezone

import pytest
from oddbolt.session.recording import Kind

from oddbolt.model import exchange
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Fastener, Plane, View
from oddbolt.session import commands, entries, recording
from oddbolt.session.documents import begin_teardown, open_document
from oddbolt.session.prepare import Preparation
from oddbolt.session.session import Session
from oddbolt.store.document import Document

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


def every_command(session):
    """One of each command on the example, as functions of the session at that moment."""
    t = session.teardown
    return [
        commands.mark(t, "v0", "cover-screws", 10.04, 20), commands.unmark(t, "v0", 0),
        commands.move_mark(t, "v0", 0, 5, 6), recording.mark_new(t, "v0", Kind(letter="A"), [(1, 2)], part="pack")[0],
        commands.release(t, "pack-plug", 40), commands.release(t, "pack-glue", 50, way=2, outcome="damaged"),
        commands.remove(t, "pack", 60), commands.note(t, "warm", 61), commands.reach(t, ["pack"], 62),
        entries.set_outcome(t, "e1", "failed", 63), entries.set_seconds(t, "e1", 31.5, 64),
        entries.aid(t, "foam", True, 65, "pack"), commands.set_limits(t, "pack-glue", 0, 1, [{"angle_deg": [0, 20]}]),
        commands.set_order(t, "cover-screws", [4, 1, 3, 2]), commands.set_scale(t, "v0", 0.05, PLANE),
        commands.answer(t, "m", "years", 5),
        commands.set_parts(t, ["pack", "cover"], mass_g=12.5), commands.set_fact(t, ["pack"], "capacity", 2200, "mAh"),
        commands.set_fact(t, ["pack", "cover"], "material", "steel"), commands.set_fact(t, ["pack"], "capacity", None),
        commands.set_type(t, "pack-plug", "zif slide"), commands.set_spare(t, ["cover"], "public"),
        commands.set_fastener(t, Fastener(id="A", thread="M1.4")),
        commands.answer(t, "eu-2023-1669-tablet", "software_updates", None),
        commands.add_view(t, View(id="v9", photo="x.jpg")),
    ]


def test_a_very_long_device_name_still_makes_a_file(tmp_path):
    for _ in range(2):
        begin_teardown(Preparation(name="9" * 2_000, category="radio"), None, tmp_path, Clock()()).close()
    assert sorted(len(p.name) for p in tmp_path.glob("*.oddbolt")) == [88, 90]


def test_every_command_can_be_taken_back_and_done_again(session):
    for number in range(len(every_command(session))):
        before = exchange.to_json(session.teardown)
        command = every_command(session)[number]
        session.do(command)
        after = exchange.to_json(session.teardown)
        assert after != before and command.label
        assert session.undo_label() == command.label
        session.undo()
        assert exchange.to_json(session.teardown) == before, command.label
        assert session.redo_label() == command.label
        session.redo()
        assert exchange.to_json(session.teardown) == after, command.label
        session.undo()


def test_snapshots_are_never_changed_and_share_what_did_not_change(session):
    first = session.teardown
    session.do(commands.remove(first, "pack", 1))
    assert len(first.log) == 3 and len(session.teardown.log) == 4
    assert session.teardown.parts is first.parts and session.teardown.log[0] is first.log[0]


def test_derived_results_go_with_their_snapshot(session):
    derived = session.derived
    assert derived.priority_parts() == ["cover", "pack"]
    assert derived.planner is derived.planner and derived.tally is derived.tally
    assert derived.performed.steps == 1 and derived.verdict("eu-2023-1669-tablet").index[0] < 5
    session.do(commands.remove(session.teardown, "pack", 1))
    assert session.derived is not derived
    assert "pack" in session.derived.replay.state.removed


def test_events_name_what_happened(session):
    heard = []
    session.listen(lambda change: heard.append((change.kind, change.label)))
    session.do(commands.note(session.teardown, "x", 1))
    session.undo()
    session.redo()
    session.undo()
    session.undo()  # nothing left: nothing is told
    assert heard == [("done", "write a note"), ("undone", "write a note"), ("redone", "write a note"),
                     ("undone", "write a note")]


def test_the_clock_runs_from_the_last_act(session):
    assert session.seconds_now() == 33
    session.do(commands.note(session.teardown, "x", session.seconds_now()))
    session._clock.now += timedelta(seconds=12)
    assert session.seconds_now() == 45


@pytest.mark.parametrize("command", [
    lambda t: commands.remove(t, "chassis", 1),
    lambda t: recording.mark_new(t, "v0", Kind(letter="A"), [(1, 1)], part="chassis"),
    lambda t: commands.reach(t, ["nothing"], 1).change(t)])
def test_what_does_not_apply_is_refused(session, command):
    with pytest.raises(Refusal):
        command(session.teardown)


def test_marks_keep_their_numbers_in_a_row(session):
    for x in (1, 2, 3):
        session.do(commands.mark(session.teardown, "v0", "cover-screws", x, 0))
    session.do(commands.unmark(session.teardown, "v0", 1))
    assert [(m.n, m.x) for m in session.teardown.views[0].marks] == [(1, 412.0), (2, 2), (3, 3)]
    assert session.teardown.joint["cover-screws"].count == 4  # the count is the analyst's
    session.do(commands.mark(session.teardown, "v0", "cover-screws", 4, 0))
    session.do(commands.mark(session.teardown, "v0", "cover-screws", 5, 0))
    assert session.teardown.joint["cover-screws"].count == 5  # five marks are five screws


def test_ids_are_never_given_twice(session):
    for _ in range(4):
        session.do(commands.note(session.teardown, "x", 1))
    session.undo()
    session.do(commands.note(session.teardown, "y", 1))
    ids = [entry.id for entry in session.teardown.log]
    assert len(ids) == len(set(ids)) == 7
    exchange.check_references(session.teardown)


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
