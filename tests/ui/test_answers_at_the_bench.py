"""What is offered after an act, and what a part had covered: by keys and by mouse, in a real window."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint
from PySide6.QtTest import QTest

from oddbolt.rules.replay import readings
from oddbolt.ui.widgets.held import HELD_MS
from tests.ui.log_steps import CTRL, LEFT, SHIFT, K, click, letter, now, point, press, round_about
from tests.ui_fixtures import settle


def plug_at(bench, x, y):
    press(bench, K.Key_B)
    click(bench, x, y)
    if not now(bench).log or now(bench).log[-1].thing != bench.log.recorder.selection.thing:
        press(bench, K.Key_R)
    return bench.log.recorder.selection.thing


def shown(bench):
    return [button.text() for button in bench.log.answers.buttons if button.isVisible()]


def test_whose_plug_is_offered_and_answered_by_key_by_click_and_by_kind(bench):
    assert shown(bench) == [] and bench.log.answers.question.text() == ""
    high = bench.log.canvas.height()
    first = plug_at(bench, 200, 200)
    assert bench.log.answers.question.text() == "Whose plug is this?"
    assert shown(bench) == ["F2 Cell", "F3 Display", "F4 Camera", "F5 Port", "F6 another"]
    assert bench.log.canvas.height() == high  # nothing moves
    press(bench, K.Key_F2)
    assert now(bench).part[now(bench).joint[first].of[0]].kind == "battery" and shown(bench) == []
    second = plug_at(bench, 400, 200)
    assert shown(bench)[-2] == "F5 Cell"  # the cell has its plug; it is asked about last
    next(button for button in bench.log.answers.buttons if "Camera" in button.text()).click()
    assert now(bench).part[now(bench).joint[second].of[0]].kind == "camera"
    third = plug_at(bench, 600, 200)
    press(bench, K.Key_F6)
    assert "Whose plug?" in bench.log.echo.text()
    press(bench, K.Key_L, SHIFT)
    speaker = now(bench).joint[third].of[0]
    assert now(bench).part[speaker].kind == "speaker" and now(bench).log[-1].do == "release"  # nothing was lifted
    press(bench, K.Key_F6)
    press(bench, K.Key_Escape)
    assert now(bench).joint[third].of[0] == speaker
    press(bench, K.Key_F3)
    assert "Nothing is asked for" in bench.log.echo.text()


def test_screws_of_two_parts_marked_as_one_group_go_to_both(bench):
    letter(bench)
    press(bench, K.Key_1)
    for spot in ((100, 100), (200, 100), (200, 200), (100, 200), (700, 100), (800, 100), (750, 200)):
        click(bench, *spot)
    press(bench, K.Key_R)
    group = bench.log.recorder.selection.thing
    point(bench, 150, 140)
    press(bench, K.Key_L, SHIFT)
    assert [joint.count for joint in now(bench).joints] == [4, 3] and shown(bench) == ["F2 the other 3"]
    press(bench, K.Key_F2)
    assert [(joint.id, joint.count) for joint in now(bench).joints] == [(group, 7)]
    press(bench, K.Key_Z, CTRL)
    point(bench, 750, 140)
    press(bench, K.Key_L, SHIFT)
    assert len({joint.of[0] for joint in now(bench).joints}) == 2


@pytest.mark.parametrize("size", [(1280, 800), (1024, 700)])
def test_a_question_with_many_answers_is_read_in_full(bench, size):
    bench.resize(*size)
    settle()
    letter(bench)
    press(bench, K.Key_1)
    for spot in ((100, 100), (200, 100), (800, 100), (700, 100)):
        click(bench, *spot)
    press(bench, K.Key_R)
    for spot in ((450, 120), (760, 110)):
        point(bench, *spot)
        press(bench, K.Key_L, SHIFT)
    answers = bench.log.answers
    assert len(shown(bench)) == 4 and answers.question.text().endswith("Was there something?")
    for piece in (answers.question, *(button for button in answers.buttons if button.isVisible())):
        assert piece.width() >= piece.sizeHint().width(), piece.text()
    assert bench.log.canvas.rect().contains(answers.geometry())
    press(bench, K.Key_Escape)
    plug_at(bench, 400, 400)
    is_beside = answers.question.geometry().right() <= answers.buttons[0].geometry().left()
    assert is_beside == (size == (1280, 800))  # in one line again, where there is room


def test_what_may_have_held_a_cell_is_offered_as_cells_are_held(bench):
    point(bench, 100, 100)
    press(bench, K.Key_B, SHIFT)
    point(bench, 400, 400)
    press(bench, K.Key_A, SHIFT)
    assert shown(bench) == ["F2 Glue", "F3 Pull tab"]
    press(bench, K.Key_F3)
    held = now(bench).joints[-1]
    assert held.kind == "adhesive" and now(bench).part[held.of[0]].kind == "battery"
    assert [entry.do for entry in readings(now(bench))][-2:] == ["release", "remove"]


def test_going_on_is_an_answer_too(bench):
    plug = plug_at(bench, 200, 200)
    letter(bench)
    press(bench, K.Key_1)
    click(bench, 500, 500)
    assert shown(bench) == [] and not now(bench).part[now(bench).joint[plug].of[0]].kind
    bench.undo()
    settle()
    assert shown(bench) == []


def test_what_was_covered_is_drawn_shown_as_a_ghost_and_changed(bench):
    letter(bench)
    press(bench, K.Key_1)
    for spot in ((200, 200), (600, 500)):
        click(bench, *spot)
    press(bench, K.Key_R)
    press(bench, K.Key_C, SHIFT)
    cover = now(bench).log[-1].thing
    press(bench, K.Key_F12)
    QTest.mouseMove(bench.log.canvas.port, QPoint(200, 150))
    assert "covered" in bench.log.canvas.mode.shown.text() and bench.log.canvas.lasso_armed
    canvas = bench.log.canvas
    places = [canvas.mapFromScene(x, y) for x, y in ((150, 150), (650, 150), (650, 550), (150, 550))]
    QTest.mousePress(canvas.viewport(), LEFT, pos=places[0])
    for place in places[1:]:
        QTest.mouseMove(canvas.viewport(), place)
    QTest.mouseRelease(canvas.viewport(), LEFT, pos=places[-1])
    drawn = now(bench).views[-1].footprints
    assert [f.of for f in drawn] == [cover] and len(drawn[0].outline) >= 3
    assert [ghost.outline for ghost in canvas.overlay.ghosts] == [drawn[0].outline] and not canvas.lasso_armed
    press(bench, K.Key_V)
    assert now(bench).views[-1].footprints == () and bench.log.states.view.id == now(bench).views[-1].id
    press(bench, K.Key_P)
    press(bench, K.Key_F12, SHIFT)
    footprints = [f for v in now(bench).views for f in v.footprints]
    assert [(f.of, f.outline) for f in footprints] == [(cover, ())] and canvas.overlay.ghosts == ()
    bench.undo()
    settle()
    assert canvas.overlay.ghosts != ()
    round_about(bench, [(300, 300), (500, 300), (500, 500), (300, 500)])  # an ordinary drawing is none
    assert [f.of for v in now(bench).views for f in v.footprints] == [cover]


def test_the_pedal_held_takes_the_first_answer_and_pressed_briefly_does_the_usual_act(bench):
    letter(bench)
    press(bench, K.Key_Space)
    press(bench, K.Key_B)
    click(bench, 300, 300)
    canvas, plug = bench.log.canvas, now(bench).joints[-1].id
    assert bench.log.recorder.offered
    QTest.keyPress(canvas, K.Key_Return)
    QTest.qWait(HELD_MS + 150)
    QTest.keyRelease(canvas, K.Key_Return)
    settle()
    assert now(bench).part[now(bench).joint[plug].of[0]].kind == "battery"  # the first that was offered
    click(bench, 600, 300)
    entries = len(now(bench).log)
    QTest.keyPress(canvas, K.Key_Return)
    QTest.qWait(100)
    assert len(now(bench).log) == entries and len(now(bench).views) == 1  # nothing yet: it may be held
    QTest.keyRelease(canvas, K.Key_Return)
    settle()
    assert len(now(bench).log) > entries or len(now(bench).views) > 1  # the usual next act
    assert now(bench).part[now(bench).joints[-1].of[0]].kind != "battery"
