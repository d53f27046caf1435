"""The bench radio recorded by its photographs: what they say was done is named where it has to be and taken over by one
key; what none of them shows is recorded by hand. Acts are counted by sort.
"""

from __future__ import annotations

import os

import pytest
from PySide6.QtCore import Qt

from oddbolt.paint.drawn_bench.instruments import demo_scene
from oddbolt.session.prepare import Preparation
from oddbolt.store.files import read_json
from tests.workflows.test_record_bittern import BITTERN, SPOTS, isolates
from tests.workflows.test_record_demo import hands_on, operations
from tests.workflows.test_record_seen import SeenHands, all_taken_back, told_and_counted

K = Qt.Key
MATTER = ("cell", "display", "jack-board", "top-cover")  # the knob, which is before the main board, is left in


def look(h: SeenHands) -> None:
    """A photograph of what is on record already."""
    h.photograph()
    if h.log.seen_acts.shown:
        h.sort = "refused"
        h.key(K.Key_Escape)
    h.sort = "by hand"


def the_radio(h: SeenHands) -> None:
    h.letter("PH", "1")
    look(h)
    h.key(K.Key_Space)
    the_cover(h)
    h.by_hand(K.Key_F, "guard-label")
    h.letter("PH", "1")
    h.see(("guard-screws", "B"), ("supply-guard", "S"))
    the_supply(h)
    the_boards(h)


def the_cover(h: SeenHands) -> None:
    h.by_hand(K.Key_Period, "mains-inlet")
    h.tool("hand")
    isolates(h)
    h.lift_by_hand(K.Key_W, "mains-lead")
    h.by_hand(K.Key_A, "foot-left-tack")
    h.tool("spudger")
    h.lift_by_hand(K.Key_G, "foot-left")
    h.by_hand(K.Key_A, "foot-right-tack")
    h.lift_by_hand(K.Key_G, "foot-right")
    h.see(("cover-screws", "A"))
    h.by_hand(K.Key_C, "cover-clips")
    h.world.do("cover-swing")
    h.key(K.Key_H)
    h.of["top-cover"] = h.log.recorder.selection.thing
    h.of["cover-swing"] = next(j.id for j in h.now.joints if j.kind == "swing")
    look(h)
    h.by_hand(K.Key_Period, "cell-plug")
    h.key(K.Key_F2)  # whose: the cell's, which is still in
    h.tool("spudger")
    h.by_hand(K.Key_Period, "speaker-plug")
    h.tool("tweezers")
    h.lift_by_hand(K.Key_C, "top-cover")
    h.key(K.Key_F2)  # it would have been enough to leave it hanging
    look(h)


def the_supply(h: SeenHands) -> None:
    h.by_hand(K.Key_Equal, "charge")
    h.by_hand(K.Key_C, "fuse-clips")
    h.tool("spudger")
    h.see(("fuse", "X"), ("supply-plug", "."))
    h.see(("supply-screws", "B"), ("supply-board", "P"))
    h.see(("strap-screws", "B"), ("cell-strap", "B"))
    h.by_hand(K.Key_Y, "cell-pads")
    h.tool("hand")
    h.see(("cell", "A"))


def the_boards(h: SeenHands) -> None:
    h.by_hand(K.Key_C, "shield-clips")
    h.see(("tuner-shield", "S"))
    h.see(("tuner-plug", "B"), ("tuner-board", "P"))
    h.letter("PH", "0")
    h.see(("aerial-coax", "X"), ("aerial-screw", "C"), ("aerial", "N"))
    h.see(("display-plug", "Z"), ("display-far", "Z"), ("display-cable", "W"))
    h.see(("display-screws", "C"), ("display-bracket", "B"))
    h.by_hand(K.Key_C, "display-clips")
    h.tool("pick")
    h.see(("display", "D"))
    h.see(("jack-plug", "."), ("jack-screws", "C"), ("jack-board", "O"))
    h.letter("T", "10")
    h.see(("board-screws", "D"), ("main-board", "Q"))
    h.taken()


@pytest.fixture
def hands(app, tmp_path, clock):
    record = Preparation(name="Bittern", category="radio")
    with hands_on(record, tmp_path, clock, demo_scene("bittern"), SPOTS) as found:
        yield found


@pytest.mark.parametrize("wrong", [0.0, pytest.param(0.1, marks=pytest.mark.skipif(
    not os.environ.get("ODD_BOLT_LONG"), reason="with ./run-tests --long"))])
def test_the_bench_radio_is_recorded_by_its_photographs(hands, capsys, wrong):
    h, true = SeenHands(hands, wrong), read_json(BITTERN)
    the_radio(h)
    first, _, _, after = told_and_counted(h, true, MATTER, capsys)
    assert after == []
    h.lies.are_refused(h)
    assert first / operations(h) <= (2.9 if wrong else 2.7) and len(h.missed) <= operations(h) / 5
    all_taken_back(h)
