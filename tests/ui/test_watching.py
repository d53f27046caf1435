"""When the camera photographs by itself: hands were at it and are gone; and that is told from light, grain and jitter."""

from __future__ import annotations

import random
from functools import cache

import numpy as np
import pytest

from oddbolt.imaging.watching import CALM, CLEAR, GLANCE_PX, LOOKS_UNTIL_STILL, MOVES, REACHES, Watch
from oddbolt.paint.drawn_bench.instruments import demo_scene
from oddbolt.paint.drawn_bench.photo import HANDS, Photo, Shot, smaller
from oddbolt.ui.background.pixels import pixels_of

OPEN = frozenset(("tray-latch", "cover-seam", "cover-swing", "label-film"))


@cache
def frame(seed=0, done=(), hand=""):
    """The tablet with its cover open, lit and standing a little different at each glance."""
    scene, rng = demo_scene(), random.Random(seed)
    near = rng.uniform
    released = OPEN | {thing for thing in done if "of" in scene.records[thing]}
    shot = Shot(released=released | {scene.seam}, removed=frozenset(done) - released | {"card-tray"}, seed=seed, hand=hand,
                shift_mm=(near(-0.25, 0.25), near(-0.25, 0.25)), turn_deg=near(-0.05, 0.05), parallax=True, aside=True,
                lamp=(0.28 + near(-0.1, 0.1), 0.18 + near(-0.08, 0.08)), brightness=near(0.94, 1.06))
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
    assert watch.look(frame(4, ("battery-lid-screws",))) == CLEAR  # though a few screws are too small to be seen so small
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
