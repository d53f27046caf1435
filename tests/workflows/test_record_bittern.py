"""The second demo device recorded from nothing, through the real window, by keys and clicks; what the program guessed
wrongly is set right by looking at the ways, as a person would. Acts are counted as for the first.
"""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt

from oddbolt.effort.times import KnownTimes
from oddbolt.paint.drawn_bench.instruments import demo_scene
from oddbolt.rules.device_state import DeviceState, apply_whole
from oddbolt.search.planner import Planner
from oddbolt.session.prepare import Preparation
from oddbolt.store.files import read_json
from oddbolt.ui.log.telling.way_strip import THING
from tests.ui_fixtures import settle, wait_for
from tests.workflows.test_record_demo import DEMO, Hands, hands_on, operations, wrong_depths

BITTERN = DEMO.with_name("bittern.json")
# Where the analyst clicks on joints that the scene gives no place of their own, mm.
SPOTS = {"mains-inlet": (5, 100), "mains-lead": (5, 104), "cover-clips": (110, 134), "knob-fit": (206, 70),
         "knob": (206, 72), "speaker-screws": (110, 60), "speaker": (110, 64)}
K = Qt.Key


@pytest.fixture
def hands(app, tmp_path, clock):
    """Of a radio, with the simulated bench on which the Bittern lies."""
    record = Preparation(name="Bittern", category="radio")
    with hands_on(record, tmp_path, clock, demo_scene("bittern"), SPOTS) as found:
        yield found


def isolates(h: Hands) -> None:
    """Say in the hand which power source it cuts: the arrow, then the entry."""
    next(a for a in h.log.thing.safe.menu().actions() if a.text() == "The mains").trigger()
    h.count(2)


def record(h: Hands) -> None:
    h.letter("PH", "1")
    h.key(K.Key_V)
    h.key(K.Key_Space)
    h.one(K.Key_Period, "mains-inlet")
    h.tool("hand")
    isolates(h)
    h.lift(K.Key_W, "mains-lead")
    h.one(K.Key_A, "foot-left-tack")
    h.tool("spudger")
    h.lift(K.Key_G, "foot-left")
    h.one(K.Key_A, "foot-right-tack")
    h.lift(K.Key_G, "foot-right")
    h.screws(1, "cover-screws", one_by_one=True)
    h.one(K.Key_C, "cover-clips")
    h.key(K.Key_H)
    h.of["top-cover"] = h.log.recorder.selection.thing
    h.of["cover-swing"] = next(j.id for j in h.now.joints if j.kind == "swing")
    h.key(K.Key_V)
    under_the_cover(h)
    supply(h)
    boards(h)


def under_the_cover(h: Hands) -> None:
    h.one(K.Key_Period, "cell-plug")
    h.key(K.Key_F2)  # whose: the cell's, which is still in
    h.tool("spudger")
    h.one(K.Key_Period, "speaker-plug")
    h.tool("tweezers")
    h.lift(K.Key_C, "top-cover")
    h.key(K.Key_F2)  # it would have been enough to leave it hanging
    h.key(K.Key_V)
    h.one(K.Key_F, "guard-label")
    h.letter("PH", "1")
    h.screws(2, "guard-screws", one_by_one=True)
    h.lift(K.Key_S, "supply-guard")
    h.key(K.Key_V)


def supply(h: Hands) -> None:
    h.one(K.Key_Equal, "charge")
    h.one(K.Key_C, "fuse-clips")
    h.tool("spudger")
    h.lift(K.Key_X, "fuse")
    h.one(K.Key_Period, "supply-plug")
    h.tool("spudger")
    h.screws(2, "supply-screws", one_by_one=True)
    h.lift(K.Key_P, "supply-board")
    h.screws(2, "strap-screws", one_by_one=True)
    h.lift(K.Key_B, "cell-strap")
    h.one(K.Key_Y, "cell-pads")
    h.tool("hand")
    h.lift(K.Key_A, "cell")


def boards(h: Hands) -> None:
    h.one(K.Key_C, "shield-clips")
    h.lift(K.Key_S, "tuner-shield")
    h.one(K.Key_B, "tuner-plug")
    h.lift(K.Key_P, "tuner-board")
    h.one(K.Key_X, "aerial-coax")
    h.letter("PH", "0")
    h.screws(3, "aerial-screw")
    h.lift(K.Key_N, "aerial")
    h.one(K.Key_Z, "display-plug")
    h.one(K.Key_Z, "display-far")
    h.lift(K.Key_W, "display-cable")
    h.screws(3, "display-screws", one_by_one=True)
    h.lift(K.Key_B, "display-bracket")
    h.one(K.Key_C, "display-clips")
    h.tool("pick")
    h.lift(K.Key_D, "display")
    h.one(K.Key_Period, "jack-plug")
    h.tool("tweezers")
    h.screws(3, "jack-screws", one_by_one=True)
    h.lift(K.Key_O, "jack-board")
    h.letter("T", "10")
    h.screws(4, "board-screws", one_by_one=True)
    h.lift(K.Key_Q, "main-board")


class Teller:
    """The analyst who looks at the ways, and knows the device: says what is wrong with a strip."""

    def __init__(self, h: Hands, true) -> None:
        self.h, self.true = h, Planner(true, KnownTimes(true))
        self.way = h.log.way

    def tell(self, part: str) -> None:
        self._open(part)
        self.h.count(2)
        for _ in range(30):
            shown = self._shown()
            if shown.part != self.h.of[part]:  # enough was asked for once, or all: the window went on
                self._open(part)
                shown = self._shown()
                if not shown.asks:
                    return
                self.h.count(2)
            asked = shown.asked_after(self.h.log.telling.selection.telling.answers)
            if shown.looks and not shown.asks:
                return
            if asked is not None:
                self._yes_or_no(shown)
            elif shown.looks:
                self._open(part)
                self.h.count(2)
            elif not (self._blocked(part, shown) or self._needless(part, shown)):
                self._answer(1)

    def _open(self, part: str) -> None:
        self.h.window.tell_ways(self.h.of[part])

    def _answer(self, number: int) -> None:
        self.h.key((K.Key_F2, K.Key_F3, K.Key_F4, K.Key_F5)[number - 1])

    def _point(self, own: str) -> None:
        self.h.log.telling.point(own)  # tapped on the photograph
        self.h.count()

    def _shown(self):
        wait_for(lambda: self.way.way is not None and not self.way._found.is_stale)
        settle()
        return self.way.way

    def _own(self, thing: str) -> str:
        return next(own for true, own in self.h.of.items() if true == thing)

    def _true(self, own: str) -> str:
        return next((true for true, one in self.h.of.items() if one == own), "")

    def _choose(self, own: str) -> None:
        things = [self.way.strip.item(n).data(THING) for n in range(self.way.strip.count())]
        self.way.strip.setCurrentRow(things.index(own))
        self.h.count()
        settle()

    def _blocked(self, part: str, shown) -> bool:
        """What is in the way is tapped; of several that would do, what is on the shortest way."""
        state = DeviceState(self.true.structure)
        best = {one.part or one.joint for one in self.true.plan([part]).sequence}
        for item in shown.items:
            true = self._true(item.thing)
            for obstacle in state.obstacles_of(true):
                thing = self.true.teardown.thing(true)
                any_of = [one for names in thing.behind for one in names] if obstacle.code == "hidden" else ()
                left = [one for one in (*obstacle.things, *any_of) if state.is_in_place(one)]
                wanted = [self._own(one) for one in sorted(left, key=lambda one: one not in best)]
                if obstacle.code in ("hidden", "tied") and wanted:
                    self._choose(item.thing)
                    self._answer(2)
                    self._point(wanted[0])
                    return True
            apply_whole(state, true)
        return False

    def _needless(self, part: str, shown) -> bool:
        """What the shortest way does without, and the rest of this one too: a part rather than what holds it, which
        goes with it."""
        needed = {one.part or one.joint for one in self.true.plan([part]).sequence}
        spare = [item.thing for item in shown.items if self._true(item.thing) not in needed]
        spare.reverse()
        struck = next((own for own in sorted(spare, key=lambda own: own not in self.h.now.part)
                       if self._goes_without(own, shown)), "")
        if struck:
            self._choose(struck)
            self._answer(3)
        return bool(struck)

    def _goes_without(self, own: str, shown) -> bool:
        state = DeviceState(self.true.structure)
        for item in shown.items:
            true = self._true(item.thing)
            if item.thing != own and true and state.is_in_place(true):
                if state.obstacles_of(true):
                    return False
                apply_whole(state, true)
        return True

    def _yes_or_no(self, shown) -> None:
        ask = shown.asks[0]
        hider = self._true(ask.hider)
        hidden = [hider in {x for names in self.true.teardown.thing(self._true(one)).behind for x in names}
                  for one in ask.things]
        if any(hidden) and not all(hidden):
            for one, is_hidden in zip(ask.things, hidden):
                if not is_hidden:
                    self.way.asking.things[one].click()
                    self.h.count()
            self.way.asking.ticked.click()
            self.h.count()
        else:
            self._answer(2 if all(hidden) else 1)
        settle()


def test_the_bench_radio_is_recorded_from_nothing(hands, capsys):
    """By the ways told, all depths of the parts that matter as in the shipped record; acts counted."""
    true = read_json(BITTERN)
    record(hands)
    before, first = wrong_depths(hands, true)[0], hands.acts
    teller = Teller(hands, true)
    for part in ("knob", "cell", "display", "jack-board", "top-cover"):
        if part in hands.of:
            teller.tell(part)
    wrong = [row for row in wrong_depths(hands, true)[0] if row[0] in ("cell", "display", "jack-board", "top-cover")]
    with capsys.disabled():
        print(f"\n{first} acts for {operations(hands)} operations: {first / operations(hands):.2f} each, "
              f"{hands.acts - first} to tell the ways; wrong {before} then {wrong}")
    assert wrong == []
