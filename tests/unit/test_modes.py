"""What each gesture means in each mode: the table is whole, closed modes refuse and say so, and nothing changes."""

from __future__ import annotations

from itertools import combinations

import pytest

from oddbolt.model import exchange
from oddbolt.session.modes import CLOSED, EVERYWHERE, OWN, Act, Gesture, Mode, act_of, refusing_mode
from oddbolt.session.recording.arming_acts import ArmingActs
from oddbolt.session.recording.asked_acts import AskedActs
from oddbolt.session.recording.lifting_acts import LiftingActs
from oddbolt.session.recording.mark_acts import MarkActs
from oddbolt.session.recording.recorder import Listeners, Recorder
from oddbolt.session.recording.typed_acts import TypedActs
from oddbolt.session.selection import UNDOING, DrawnPart, Ordering
from oddbolt.session.session import Session
from oddbolt.session.verbs.marking import Kind
from oddbolt.store.document import Document
from oddbolt.words.recording.said import said_text

BASES = (Mode.MARKING_SCREWS, Mode.MARKING_CLIPS, Mode.MARKING_AREAS, Mode.MARKING_POINTS, Mode.CHOOSING)
OVER = tuple(mode for mode in Mode if mode not in BASES)
STACKS = [(*over, base) for base in BASES for n in range(3) for over in combinations(OVER, n)]

RECORD = {
    "format": "oddbolt-teardown", "version": 1, "device": {"base": "tray"},
    "fasteners": [{"id": "A", "drive": "PH", "size": "00", "thread": "M1.6", "length_mm": 4, "head_mm": 3}],
    "parts": [{"id": "tray"}, {"id": "cover", "name": "Cover", "kind": "cover", "on": "tray"},
              {"id": "board", "name": "Main board", "kind": "board", "on": "tray", "behind": [["cover"]]}],
    "joints": [
        {"id": "four", "kind": "screw", "of": ["cover", "tray"], "fastener": "A", "count": 3},
        {"id": "one", "kind": "screw", "of": ["board", "tray"], "fastener": "A", "behind": [["cover"]]},
        {"id": "plug", "kind": "connector", "type": "zif", "of": ["board", "tray"], "behind": [["cover"]]}],
    "views": [{"id": "v", "side": "back", "marks": [
        {"thing": "four", "n": n, "x": 100 * n, "y": 100} for n in (1, 2, 3)] + [
        {"thing": "one", "n": 1, "x": 400, "y": 300}, {"thing": "plug", "x": 500, "y": 300}]}],
}


@pytest.fixture
def bench(tmp_path):
    """A recorder without any window, and all it said."""
    session = Session(Document.create(tmp_path / "one.oddbolt", exchange.from_json(RECORD)))
    told: list[tuple[str, dict]] = []
    recorder = Recorder(session, Listeners(said=lambda code, **figures: told.append((code, figures))))
    TypedActs(LiftingActs(recorder))
    AskedActs(recorder)
    MarkActs(recorder)
    ArmingActs(recorder)
    recorder.selection.view = "v"
    yield recorder, told
    session.close()


def test_every_gesture_means_something_where_nothing_is_armed_or_belongs_to_a_mode():
    """No gesture is forgotten: it means something everywhere, or in some mode of its own."""
    somewhere = set(EVERYWHERE) | {gesture for own in OWN.values() for gesture in own}
    assert somewhere == set(Gesture)
    assert set(OWN) == set(Mode)


def test_every_act_can_be_reached_by_some_gesture():
    meant = set(EVERYWHERE.values()) | {act for own in OWN.values() for act in own.values()}
    assert meant == set(Act)


@pytest.mark.parametrize("stack", STACKS, ids=lambda stack: "+".join(mode.value for mode in stack))
def test_the_table_follows_its_rules(stack):
    closed = next((mode for mode in stack if mode in CLOSED), None)
    for gesture in Gesture:
        act = act_of(stack, gesture)
        owner = next((mode for mode in stack if gesture in OWN[mode]), None)
        if closed is not None and (owner is None or stack.index(owner) > stack.index(closed)):
            assert act is None, f"{closed} lets {gesture} through"
            assert refusing_mode(stack) is closed
        elif owner is not None:
            assert act is OWN[owner][gesture], "the innermost mode that knows a gesture takes it"
        else:
            assert act is EVERYWHERE.get(gesture)
    assert act_of(stack, Gesture.ESCAPE) is not None, "there is a way out of everything"


CLOSED_STATES = {
    Mode.NUMBERING: lambda selection: setattr(selection, "ordering", Ordering(joint="four", what=UNDOING, places=[0])),
    Mode.NAMING: lambda selection: setattr(selection, "unnamed", DrawnPart(corners=((1, 1), (9, 1), (9, 9)))),
}


@pytest.mark.parametrize("mode", CLOSED)
@pytest.mark.parametrize("gesture", list(Gesture), ids=lambda gesture: gesture.value)
def test_a_closed_mode_refuses_says_so_and_changes_nothing(bench, mode, gesture):
    recorder, told = bench
    if gesture in OWN[mode]:
        pytest.skip("its own")
    recorder.arm(Kind(letter="A"))
    CLOSED_STATES[mode](recorder.selection)
    record, before = recorder.session.teardown, repr(recorder.selection)
    assert recorder.gesture(gesture) is False
    assert recorder.session.teardown is record and repr(recorder.selection) == before
    (code, figures), = told
    assert code == "not-now" and figures["alarm"]
    assert said_text(record, code, {k: v for k, v in figures.items() if k != "alarm"}), "it is said in words"


@pytest.mark.parametrize("base", BASES)
def test_a_gesture_that_means_nothing_is_said_too(bench, base):
    """A row is drawn where nothing is counted; a proposal is clicked where none stands."""
    recorder, told = bench
    kinds = {Mode.MARKING_SCREWS: Kind(letter="A"), Mode.MARKING_CLIPS: Kind(joint="clip"),
             Mode.MARKING_AREAS: Kind(joint="adhesive"), Mode.MARKING_POINTS: Kind(joint="connector"),
             Mode.CHOOSING: None}
    recorder.arm(kinds[base])
    assert recorder.selection.modes() == (base,)
    meaningless = [gesture for gesture in Gesture if act_of((base,), gesture) is None]
    assert meaningless
    record = recorder.session.teardown
    for gesture in meaningless:
        told.clear()
        assert recorder.gesture(gesture) is False
        assert [code for code, _ in told] == ["not-now"]
    assert recorder.session.teardown is record


def test_a_stray_click_while_numbering_is_refused_and_the_order_goes_on(bench):
    recorder, told = bench
    recorder.choose("four")
    assert recorder.gesture(Gesture.ORDER_UNDOING)
    recorder.gesture(Gesture.CLICK_MARK, place=2, spot=(300, 100))
    assert not recorder.gesture(Gesture.CLICK_BESIDE, spot=(700, 700))
    assert told[-1][0] == "not-now"
    recorder.gesture(Gesture.CLICK_MARK, place=4, spot=(500, 300))
    assert told[-1][0] == "of-another-group"
    recorder.gesture(Gesture.CLICK_MARK, place=0, spot=(100, 100))
    recorder.gesture(Gesture.CLICK_MARK, place=1, spot=(200, 100))  # the last one: the order is whole
    numbers = {(mark.x, mark.n) for mark in recorder.session.teardown.view["v"].marks if mark.thing == "four"}
    assert numbers == {(300, 1), (100, 2), (200, 3)}
    assert recorder.selection.ordering is None and len(recorder.session.teardown.view["v"].marks) == 5


def test_escape_leaves_one_mode_after_the_other(bench):
    recorder, _ = bench
    recorder.arm(Kind(letter="A"))
    recorder.selection.ordering = Ordering(joint="four", what=UNDOING)
    recorder.gesture(Gesture.ESCAPE)
    assert recorder.selection.modes() == (Mode.MARKING_SCREWS,)
    recorder.gesture(Gesture.ESCAPE)
    assert recorder.selection.modes() == (Mode.CHOOSING,)


def test_the_same_kind_again_is_its_next_type_and_that_is_said(bench):
    recorder, told = bench
    recorder.gesture(Gesture.KIND, kind="plug")
    assert told[-1][0] == "click-marks"
    first = recorder.selection.kind.type
    recorder.gesture(Gesture.KIND, kind="plug")
    code, figures = told[-1]
    assert code == "type-changed" and figures["before"] == first and figures["type"] == recorder.selection.kind.type
    assert figures["type"] != first
    assert first not in ("", figures["type"])


def test_what_is_released_or_lifted_is_not_done_again(bench):
    recorder, told = bench
    recorder.choose("four")
    assert recorder.gesture(Gesture.RELEASE)
    entries = len(recorder.session.teardown.log)
    assert not recorder.gesture(Gesture.RELEASE)
    assert told[-1][0] == "off-already"
    recorder.choose("cover")
    assert recorder.gesture(Gesture.LIFT)
    assert len(recorder.session.teardown.log) == entries + 1
    assert not recorder.gesture(Gesture.LIFT)
    assert told[-1][0] == "off-already" and len(recorder.session.teardown.log) == entries + 1


def test_against_the_rules_only_when_asked_twice(bench):
    recorder, told = bench
    recorder.choose("board")
    assert not recorder.gesture(Gesture.LIFT)
    assert told[-1][0] == "in-the-way" and not recorder.session.teardown.log
    recorder.choose("one")  # something else in between: it is forgotten
    recorder.choose("board")
    assert not recorder.gesture(Gesture.LIFT)
    assert recorder.gesture(Gesture.LIFT)
    assert [entry.thing for entry in recorder.session.teardown.log] == ["board"]
