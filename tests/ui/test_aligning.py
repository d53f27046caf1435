"""Marks carried to where things lie on another photograph, and the wipe along it, in a real window."""

from __future__ import annotations

import numpy as np
import pytest
from msgspec.structs import replace

from oddbolt.instruments.simulated import Stand
from oddbolt.model.things import Mark
from oddbolt.paint.drawn_bench.instruments import demo_scene
from oddbolt.paint.drawn_bench.photo import Shot, render
from oddbolt.session.modes import Gesture
from oddbolt.session.verbs.correcting.delete import delete_mark
from tests.ui.log_steps import K, bench, click, now, press  # noqa: F401 (a fixture)
from tests.ui_fixtures import settle, wait_for

MOVED = Stand(seed=7, shift_mm=(2.4, -1.7), turn_deg=1.8, lamp=(0.4, 0.3), brightness=1.1)


def place(scene, stand, x, y):
    """Where a place of the device lies on a photograph from a stand, px."""
    turn = np.deg2rad(stand.turn_deg)
    rotate = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])
    return scene.per_mm * (np.array(stand.shift_mm) + rotate @ (np.array(scene.margin_mm) + (x, y)))


def shot(scene, stand, side="back", open_=True):
    seam = frozenset((scene.seam, "cover-swing")) if open_ else frozenset()
    return render(scene, Shot(side=side, released=seam, removed=frozenset(), seed=stand.seed, shift_mm=stand.shift_mm,
                              turn_deg=stand.turn_deg, lamp=stand.lamp, brightness=stand.brightness))


@pytest.fixture
def two(bench):  # noqa: F811
    """Two photographs of one state, the camera moved between them, with marks on the first."""
    scene, still = demo_scene(), Stand(seed=3, shift_mm=(0, 0), turn_deg=0, lamp=(0.28, 0.18), brightness=1)
    states = bench.log.states
    states.side = "back"
    assert states.add("one.jpg", shot(scene, still))
    spots = [(30.0, 40.0), (120.0, 30.0), (200.0, 60.0), (60.0, 120.0), (180.0, 130.0)]
    bench.log.recorder.do(_marked, states.shown, [place(scene, still, *spot) for spot in spots])
    return bench, scene, spots


def _marked(teardown, view, places):
    from oddbolt.session.verbs.plain import Done, change_view, label_of

    marks = tuple(Mark(thing="main-board", x=x, y=y, outline=((x, y), (x + 9, y + 9)))
                  for x, y in ((float(a), float(b)) for a, b in places))
    return Done(label_of("mark", teardown, "main-board"),
                change_view(teardown, view, lambda v: replace(v, marks=marks)))


def carry(window):
    window.log.gestures.make(Gesture.CARRY)
    wait_for(lambda: "Looking" not in window.log.echo.text())
    settle()


def test_marks_go_to_where_the_things_lie(two):
    window, scene, spots = two
    assert window.log.states.add("two.jpg", shot(scene, MOVED))
    view = window.log.states.shown
    carry(window)
    marks = now(window).view[view].marks
    off = [np.hypot(*(np.array((m.x, m.y)) - place(scene, MOVED, *spot))) for m, spot in zip(marks, spots)]
    assert len(marks) == len(spots) and max(off) < 1.5 and np.median(off) < 0.6
    assert marks[0].outline[0] == (marks[0].x, marks[0].y)
    window.undo()
    settle()
    assert now(window).view[view].marks == ()


def test_what_does_not_show_the_same_is_refused_and_once_more_takes_it_as_it_lies(two):
    window, scene, spots = two
    window.log.states.side = "back"  # as somebody says it is
    assert window.log.states.add("over.jpg", shot(scene, MOVED, side="front"))
    view = window.log.states.shown
    carry(window)
    assert now(window).view[view].marks == () and "do not show the same" in window.log.echo.text()
    window.log.gestures.make(Gesture.CARRY)
    settle()
    before = now(window).views[-2].marks
    assert [(m.x, m.y) for m in now(window).view[view].marks] == [(m.x, m.y) for m in before]


def test_the_wipe_lies_over_what_is_shown(two):
    window, scene, _ = two
    assert window.log.states.add("two.jpg", shot(scene, MOVED))
    settle()
    press(window, K.Key_Slash)
    item = window.log.canvas._photo
    first = item._wipe.cacheKey()
    wait_for(lambda: item._wipe is not None and item._wipe.cacheKey() != first)
    laid = item._wipe.toImage()
    x, y = (round(v * laid.width() / scene.photo_px[0]) for v in place(scene, MOVED, 78.0, 70.0))
    shown = window.log.states.photos.get(now(window).view[window.log.states.shown].photo)
    share = shown.width() / laid.width()
    near = [abs(laid.pixelColor(x + dx, y).lightness() - shown.pixelColor(round((x + dx) * share),
            round(y * share)).lightness()) for dx in range(-40, 41, 4)]
    assert np.median(near) < 25
    press(window, K.Key_Slash)
    press(window, K.Key_Slash)
    assert item._wipe is None


def test_a_record_that_changes_meanwhile_is_not_written_over(two):
    window, scene, _ = two
    assert window.log.states.add("two.jpg", shot(scene, MOVED))
    view, first = window.log.states.shown, now(window).views[-2].id
    window.log.gestures.make(Gesture.CARRY)
    window.session.do(delete_mark, first, 0)
    wait_for(lambda: now(window).view[view].marks != ())
    assert len(now(window).view[view].marks) == 4
