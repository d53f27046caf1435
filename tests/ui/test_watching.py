"""When the camera photographs by itself: hands were at it and are gone; that is told from light, grain and jitter."""

from __future__ import annotations

import random
from functools import cache

import numpy as np
import pytest
from PySide6.QtTest import QTest

from oddbolt.imaging.watching import CALM, CLEAR, GLANCE_PX, LOOKS_UNTIL_STILL, MOVES, REACHES, Watch
from oddbolt.paint.drawn_bench.instruments import demo_scene
from oddbolt.paint.drawn_bench.photo import HANDS, Photo, Shot, render, smaller
from oddbolt.session.modes import Mode
from oddbolt.ui.background.pixels import pixels_of
from oddbolt.ui.log.pages import SEEN
from oddbolt.ui.log.seeing.watching import CALM as W_CALM
from oddbolt.ui.log.seeing.watching import FULL, OTHER, STATES
from tests.ui.log_steps import LEFT, SHIFT, K, bench, now, press  # noqa: F401 (a fixture)
from tests.ui_fixtures import settle, wait_for

OPEN = frozenset(("tray-latch", "cover-seam", "cover-swing", "label-film"))


@cache
def frame(seed=0, done=(), hand=""):
    """The tablet with its cover open, lit and standing a little different at each glance."""
    scene, rng = demo_scene(), random.Random(seed)
    near = rng.uniform
    released = OPEN | {thing for thing in done if "of" in scene.records[thing]}
    shot = Shot(released=released | {scene.seam}, removed=frozenset(done) - released | {"card-tray"}, seed=seed,
                hand=hand, shift_mm=(near(-0.25, 0.25), near(-0.25, 0.25)), turn_deg=near(-0.05, 0.05), parallax=True,
                aside=True, lamp=(0.28 + near(-0.1, 0.1), 0.18 + near(-0.08, 0.08)), brightness=near(0.94, 1.06))
    return pixels_of(Photo(smaller(scene, GLANCE_PX), shot).draw()).astype(np.float32)


def test_where_nothing_happens_it_stays_calm(app):
    watch = Watch()
    assert {watch.look(frame(seed)) for seed in range(20)} == {CALM}


@pytest.mark.parametrize("hand", sorted(HANDS))
def test_a_hand_is_seen_and_once_it_is_gone_it_is_clear(app, hand):
    watch = Watch()
    watch.look(frame(1))
    assert watch.look(frame(2, hand=hand)) == MOVES
    assert watch.look(frame(2, hand=hand)) == REACHES  # held still: two equal pictures are no device without a hand
    assert watch.look(frame(3, ("battery-lid-screws",))) == MOVES  # it has just gone
    assert watch.look(frame(4, ("battery-lid-screws",))) == CLEAR  # a few screws are too small to be seen
    assert watch.look(frame(5, ("battery-lid-screws",))) == CLEAR  # until somebody says that it was looked at
    watch.keep()
    assert watch.look(frame(6, ("battery-lid-screws",))) == CALM


def test_whatever_changed_between_two_glances_is_noticed_without_a_hand(app):
    watch = Watch()
    watch.look(frame(1))
    assert watch.look(frame(2, ("battery-lid-screws", "battery-lid"))) == MOVES
    assert watch.look(frame(3, ("battery-lid-screws", "battery-lid"))) == CLEAR
    watch.keep()
    assert watch.look(frame(4, ("battery-lid-screws", "battery-lid"))) == CALM


def test_what_reaches_in_and_stays_is_no_hand(app):
    """A cover that hangs open over the rim."""
    watch = Watch()
    watch.look(frame(1))
    told = [watch.look(frame(2 + n // 9, hand="cloth")) for n in range(LOOKS_UNTIL_STILL + 2)]
    assert told[0] == MOVES and told[1] == REACHES and told[-1] == CLEAR


def test_pictures_of_another_size_begin_anew(app):
    watch = Watch()
    watch.look(frame(1))
    assert watch.look(np.zeros((100, 150, 3), np.float32)) == CALM
    assert watch.look(frame(1)) == CALM


# -- at the window

@pytest.fixture
def watched(bench):  # noqa: F811
    """The simulated bench with the cover open, watched; looked at when a test says so."""
    hands, log = bench.bench().hands, bench.log
    hands.work(5)
    for _ in range(3):
        hands.are_at_it()
    press(bench, K.Key_F11, SHIFT)
    log.watching._timer.stop()
    look(bench)
    press(bench, K.Key_V)
    settled(bench)
    look(bench)
    return bench


def settled(window):
    wait_for(lambda: not window.log.watching.is_looking and not window.log.seeing.is_looking)
    settle()


def look(window, times=1):
    for _ in range(times):
        window.log.watching.look()
        settled(window)


def test_it_photographs_by_itself_and_offers_when_a_hand_is_free(watched):
    log, hands = watched.log, watched.bench().hands
    views, acts = len(now(watched).views), len(now(watched).log)
    look(watched, 2)
    assert len(now(watched).views) == views and log.watching.is_on  # nothing changed
    hands.work(2)
    look(watched)
    assert log.seen_page.watching.text() == STATES["moves"]
    look(watched, 4)
    assert len(now(watched).views) == views + 1 and log.states.is_latest
    assert log.seen_acts.shown and log.seen_page.watching.text() == STATES["clear"]
    assert len(now(watched).log) == acts
    # A key and a click mean what they always mean, and no page comes in front: what came in by itself has taken none.
    assert log.recorder.selection.modes()[0] is Mode.CHOOSING and "Look at" in log.seen_page.take.text()
    assert not log.canvas.overlay.seen and log.above.currentIndex() != SEEN and "(" in log.above.tabText(SEEN)
    hands.work(2)
    look(watched, 5)
    pairs = len(log.seen_acts.pairs)
    assert pairs == 2
    press(watched, K.Key_F11)
    assert log.recorder.selection.modes()[0] in (Mode.NAMING_SEEN, Mode.LETTERING_SEEN)
    assert log.canvas.overlay.seen and log.above.currentIndex() == SEEN
    while log.seen_acts.unnamed:
        press(watched, K.Key_Delete)  # nothing of it: the kinds do not matter here
    press(watched, K.Key_Escape)
    assert not log.seen_acts.shown and len(now(watched).log) == acts


def test_a_photograph_that_shows_nothing_new_is_not_kept(watched):
    views = len(now(watched).views)
    watched.bench().hands._in_for = 3  # somebody reaches in and does nothing
    look(watched, 6)
    assert len(now(watched).views) == views and not watched.log.seen_acts.shown


def test_whoever_looks_at_an_earlier_state_goes_on_looking_at_it(watched):
    log = watched.log
    press(watched, K.Key_P)
    shown, views = log.states.shown, len(now(watched).views)
    watched.bench().hands.work(2)
    look(watched, 5)
    assert len(now(watched).views) == views + 1 and log.states.shown == shown


def test_another_layer_or_side_is_not_taken_for_this_one(watched):
    log, views = watched.log, len(now(watched).views)
    log.states.camera.draw = lambda side, stand: drawn(Shot(side="front", seed=stand.seed), stand.across_px)
    look(watched, LOOKS_UNTIL_STILL + 3)
    assert len(now(watched).views) == views and log.seen_page.watching.text() == STATES[OTHER]
    look(watched, 2)
    assert log.seen_page.watching.text() == STATES[OTHER]  # it stays said until something happens
    press(watched, K.Key_V, SHIFT)
    settled(watched)
    assert now(watched).views[-1].side == "front" and log.watching.is_on
    look(watched)
    assert log.seen_page.watching.text() == STATES[W_CALM]


def test_where_a_hand_stays_in_the_picture_no_photograph_is_kept(watched):
    log, views = watched.log, len(now(watched).views)
    log.states.camera.draw = lambda side, stand: drawn(Shot(
        released=OPEN | {demo_scene().seam}, removed=frozenset(("card-tray",)), hand="cloth", seed=4), stand.across_px)
    look(watched, 12)
    assert len(now(watched).views) == views and not log.seen_acts.shown


def drawn(shot, across_px):
    return render(smaller(demo_scene(), across_px) if across_px else demo_scene(), shot)


def test_it_can_be_switched_off_and_says_where_there_is_nothing_to_watch(watched, monkeypatch):
    log = watched.log
    log.seen_page.watch.click()
    assert not log.watching.is_on and not log.seen_page.watch.isChecked() and not log.seen_page.watching.text()
    views = len(now(watched).views)
    watched.bench().hands.work(2)
    look(watched, 4)
    assert len(now(watched).views) == views
    monkeypatch.setattr(type(log.states), "camera", None)
    watched.menus.records.watching.trigger()
    assert "nothing can be watched" in log.echo.text()
    assert not watched.menus.records.watching.isChecked() and not log.seen_page.watch.isChecked()


def test_a_camera_that_does_not_answer_ends_it_and_a_document_that_is_opened_too(watched, tmp_path):
    log = watched.log
    log.states.camera.fault = True
    look(watched)
    assert not log.watching.is_on and "camera" in log.echo.text().lower()
    log.states.camera.fault = False
    press(watched, K.Key_F11, SHIFT)
    assert log.watching.is_on and log.seen_page.watch.isChecked()
    watched.show_workspace("prepare")
    QTest.mouseClick(watched.prepare.begin, LEFT)
    settle()
    assert not log.watching.is_on


def test_much_that_waits_is_said_and_nothing_more_is_photographed(watched, monkeypatch):
    monkeypatch.setattr("oddbolt.ui.log.seeing.watching.MOST_PAIRS", 1)
    watched.bench().hands.work(2)
    look(watched, 5)
    views = len(now(watched).views)
    watched.bench().hands.work(2)
    look(watched, 5)
    assert len(now(watched).views) == views and watched.log.seen_page.watching.text() == STATES[FULL]
    watched.log.seen_page.take.click()  # looks at it
    press(watched, K.Key_Escape)
    look(watched, 5)
    assert len(now(watched).views) == views + 1


def test_of_photographs_that_arrive_in_a_folder_those_worth_it_are_taken_in(bench, tmp_path, monkeypatch):  # noqa: F811
    """The camera's own program saves one a second, hands and all."""
    log, folder = bench.log, tmp_path / "shots"
    folder.mkdir()
    monkeypatch.setattr(type(log.states), "camera", None)
    log.states.watch(folder)
    log.states._look.stop()
    press(bench, K.Key_F11, SHIFT)
    assert log.watching.is_on
    gone = ("battery-lid-screws", "battery-lid")
    frames = [(), (), "glove", (), (), "glove", "glove", gone, gone, gone]
    before = len(now(bench).views)
    for n, one in enumerate(frames):
        done = OPEN | set(one if isinstance(one, tuple) else gone if n > 4 else ())
        body = render(demo_scene(), Shot(
            released=frozenset(t for t in done if "of" in demo_scene().records[t]) | {demo_scene().seam}, seed=n,
            removed=frozenset(t for t in done if "of" not in demo_scene().records[t]) | {"card-tray"},
            hand=one if isinstance(one, str) else ""))
        (folder / f"{n}.jpg").write_bytes(body)
        for _ in range(2):
            log.states.look_into_folder()
        settled(bench)
        if n == 4:  # what was there before shows something else: it is asked
            assert log.seen_page.watching.text() == STATES[OTHER] and len(now(bench).views) == before
            press(bench, K.Key_V)
            settled(bench)
    assert len(now(bench).views) == before + 2 and len(list(folder.iterdir())) == len(frames)
    assert [one.code for one in log.seen_acts.shown if one.code == "new-off"]
    (folder / "bad.jpg").write_bytes(b"no picture")
    for _ in range(2):
        log.states.look_into_folder()
    assert "not a photograph" in log.echo.text()
    log.states.watch(None)


def test_what_was_recorded_meanwhile_is_gone_when_it_is_looked_at(watched):
    """While nobody looks, no act waits until proposals are found anew."""
    log = watched.log
    watched.bench().hands.work(2)
    look(watched, 5)
    number = len(log.seen_acts.shown)
    one = next(one for one in log.seen_acts.shown if one.code == "new-off")
    log.lifting.lift_as("bracket", one.middle)
    settle()
    assert len(log.seen_acts.shown) == number
    press(watched, K.Key_F11)
    assert not [one for one in log.seen_acts.shown if one.code == "new-off"]
    press(watched, K.Key_Escape)
    assert not log.seen_acts.shown


def test_the_oldest_goes_where_very_much_waits(watched, monkeypatch):
    monkeypatch.setattr("oddbolt.session.recording.seeing.seen_acts.MOST_PAIRS", 1)
    log = watched.log
    for _ in range(2):
        watched.bench().hands.work(2)
        look(watched, 5)
    assert len(log.seen_acts.pairs) == 1 and log.seen_acts.afters == [now(watched).views[-1].id]
    assert "oldest" in log.echo.text()
    assert all(log.seeing.pictures_of(n) is not None for n in range(len(log.seen_acts.shown)))
