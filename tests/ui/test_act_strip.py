"""The strip of acts under the photograph: how what is in hand was done, by key and by mouse; facts in passing."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from oddbolt.session.modes import Mode
from oddbolt.ui.log.chosen.act_strip import FACT, WAIT
from tests.ui.log_steps import SHIFT, K, now, press
from tests.ui_fixtures import settle, wait_for


@pytest.fixture
def log(demo):
    demo.show_workspace("log")
    settle()
    demo.log.window_of_it = demo
    return demo.log


def choose(log, thing):
    log.choose(thing)
    log.canvas.setFocus()
    settle()
    return log.act_strip


def typed(log, text):
    QTest.keyClicks(log.act_strip.field, text)
    QTest.keyClick(log.act_strip.field, K.Key_Return)
    settle()


def menu_of(strip, place=-1):
    menu = strip.acts[place].menu()
    menu.aboutToShow.emit()
    return menu


def item(menu, text):
    for action in menu.actions():
        if action.text().startswith(text):
            return action
        if action.menu() is not None and (found := item(action.menu(), text)) is not None:
            return found
    return None


def test_the_acts_of_what_is_in_hand_stand_under_the_photograph(log):
    strip = choose(log, "cover-seam")
    assert [act.accessibleName() for act in strip.acts] == [
        "Heat plate: heat · wait 5 min", "Opening pick: pry · + suction cup"]
    assert "renewed" in strip.keys[next(g for g in strip.keys if g.value == "reuse")].accessibleName()
    choose(log, "battery")
    assert len(strip.acts) == 1 and "lift" in strip.acts[0].accessibleName()  # a lift has an act too
    choose(log, "")
    assert strip.acts  # of what was done last


def test_a_wait_is_typed_echoed_and_taken_back(log):
    strip = choose(log, "cover-seam")
    before = now(log.window_of_it).joint["cover-seam"].ways[0].acts[0].wait_s
    press(log.window_of_it, K.Key_F8)
    assert strip.field.isVisible() and strip.field.hasFocus() and strip.is_typing
    QTest.keyClicks(strip.field, "4-6 min")
    assert "4 min to 6 min" in log.echo.text()
    QTest.keyClick(strip.field, K.Key_Return)
    settle()
    act = now(log.window_of_it).joint["cover-seam"].ways[0].acts[0]
    assert (act.wait_s, act.wait_to_s) == (240, 360) and "4 min to 6 min" in strip.acts[0].accessibleName()
    assert not strip.field.isVisible() and log.canvas.hasFocus()
    press(log.window_of_it, K.Key_F8)
    typed(log, "soon")
    assert strip.is_typing and "no wait" in log.echo.text()  # it stays to be mended
    QTest.keyClick(strip.field, K.Key_Escape)
    settle()
    assert not strip.is_typing
    log.recorder.session.undo()
    assert now(log.window_of_it).joint["cover-seam"].ways[0].acts[0].wait_s == before


def test_while_a_wait_is_typed_letters_are_no_keys_of_the_log(log):
    strip = choose(log, "cover-seam")
    entries = len(now(log.window_of_it).log)
    press(log.window_of_it, K.Key_F8)
    QTest.keyClicks(strip.field, "rlabcq5")
    assert strip.field.text() == "rlabcq5" and len(now(log.window_of_it).log) == entries
    assert log.recorder.selection.kind is None


def test_keys_change_the_last_act(log):
    strip = choose(log, "cover-seam")
    tool = now(log.window_of_it).joint["cover-seam"].ways[0].acts[-1].tool
    press(log.window_of_it, K.Key_F7)
    assert now(log.window_of_it).joint["cover-seam"].ways[0].acts[-1].tool != tool
    press(log.window_of_it, K.Key_F8, SHIFT)
    assert not now(log.window_of_it).joint["cover-seam"].ways[0].acts[-1].at_once
    press(log.window_of_it, K.Key_F7, SHIFT)
    assert now(log.window_of_it).joint["cover-seam"].ways[0].acts[-1].also
    press(log.window_of_it, K.Key_F9, SHIFT)
    assert now(log.window_of_it).joint["cover-seam"].ways[0].discard and "thrown away" in strip.keys[
        next(g for g in strip.keys if g.value == "reuse")].accessibleName()
    for _ in range(4):
        log.recorder.session.undo()
    assert now(log.window_of_it).joint["cover-seam"].ways[0].acts[-1].tool == tool


def test_the_menu_of_an_act_changes_that_act(log):
    strip = choose(log, "cover-seam")
    item(menu_of(strip, 0), "Tweezers").trigger()
    settle()
    acts = now(log.window_of_it).joint["cover-seam"].ways[0].acts
    assert (acts[0].tool, acts[1].tool) == ("tweezers", "pick")
    item(menu_of(strip, 1), "A further act after").trigger()
    settle()
    assert len(strip.acts) == 3
    item(menu_of(strip, 2), "Without this act").trigger()
    settle()
    if any(e.thing == "cover-seam" and e.act is not None for e in now(log.window_of_it).log):
        assert len(strip.acts) == 3 and "by their numbers" in log.echo.text()  # its entries would mean other acts
        log.recorder.session.undo()
    assert len(strip.acts) == 2
    item(menu_of(strip, 1), "soak").trigger()
    settle()
    assert now(log.window_of_it).joint["cover-seam"].ways[0].acts[1].does == "soak"
    item(menu_of(strip, 1), "One of your own").trigger()
    settle()
    typed(log, "Bent needle")
    assert now(log.window_of_it).joint["cover-seam"].ways[0].acts[1].tool == "bent-needle"
    assert item(menu_of(strip, 0), "Bent needle") is not None  # and lies there from now on


def test_a_fact_is_told_of_what_the_pointer_is_on(log):
    log.show_state(next(v.id for v in now(log.window_of_it).views if any(
        m.thing in now(log.window_of_it).part and not now(log.window_of_it).part[m.thing].captive for m in v.marks)))
    settle()
    view = log.states.view
    place = next(n for n, mark in enumerate(view.marks) if mark.thing in now(log.window_of_it).part
                 and not now(log.window_of_it).part[mark.thing].captive)
    mark = view.marks[place]
    log.canvas.setFocus()

    def points_at_it():
        """The photograph has its place only when it was read."""
        QTest.mouseMove(log.canvas.viewport(), log.canvas.mapFromScene(mark.x, mark.y))
        settle()
        return log.canvas.pin_at(log.canvas.mapFromScene(*log.canvas.pointer())) == place

    wait_for(points_at_it)
    choose(log, "")
    press(log.window_of_it, K.Key_Insert)
    assert log.act_strip.is_typing
    typed(log, "bent")
    fact = next(f for f in now(log.window_of_it).part[mark.thing].facts if f.name == "condition")
    assert fact.value == "bent"
    told = next(m for m in now(log.window_of_it).view[view.id].marks if m.thing == mark.thing)
    assert "bent" in told.fact and any("bent" in pin.text for pin in log.canvas.pins)  # seen on the photograph
    press(log.window_of_it, K.Key_Insert)
    assert log.act_strip._types == FACT
    QTest.keyClick(log.act_strip.field, K.Key_Escape)
    log.recorder.session.undo()
    assert not any(f.name == "condition" for f in now(log.window_of_it).part[mark.thing].facts)


def test_by_its_button_too_and_nothing_is_lost_by_other_keys(log):
    strip = choose(log, "cover-seam")
    QTest.mouseClick(strip.keys[next(g for g in strip.keys if g.value == "wait")], Qt.MouseButton.LeftButton,
                     pos=QPoint(5, 5))
    settle()
    assert strip._types == WAIT
    log.recorder.choose("battery")  # something else is chosen meanwhile: what is typed stays
    settle()
    assert strip.is_typing
    QTest.keyClick(strip.field, K.Key_Return)  # empty: nothing is written
    assert not strip.is_typing


def test_where_a_part_is_asked_for_its_plain_letter_is_enough(log):
    joint = next(j for j in now(log.window_of_it).joints if j.kind == "screw")
    choose(log, joint.id)
    press(log.window_of_it, K.Key_F6)
    assert log.recorder.selection.modes()[0] is Mode.NAMING
    press(log.window_of_it, K.Key_L)  # elsewhere: lift
    assert now(log.window_of_it).part[now(log.window_of_it).joint[joint.id].of[1]].kind == "speaker"
    assert log.recorder.selection.modes()[0] is not Mode.NAMING


def test_the_key_of_a_kind_shows_the_tool_that_was_taken_last(log):
    log.recorder.used.remember_tool("film", "", "tweezers")
    log.recorder.tell.armed()
    settle()
    film, clip = log.tools._kinds["film"], log.tools._kinds["clip"]
    assert "Tw" in film.text() and film.accessibleDescription() == "Tweezers" and "Tw" not in clip.text()


def test_a_lift_in_two_acts_is_told_in_its_menu_counted_and_taken_back(log):
    window, strip = log.window_of_it, choose(log, "battery")
    before = now(window).part["battery"]
    assert not strip.keys[next(g for g in strip.keys if g.value == "wait")].isEnabled()  # it is off with its only act
    item(menu_of(strip, 0), "A further act before").trigger()
    settle()
    item(menu_of(strip, 0), "Suction cup").trigger()
    settle()
    lift = now(window).part["battery"].lift
    assert [act.tool for act in lift] == ["suction-cup", before.tool] and len(strip.acts) == 2
    assert "Suction cup" in strip.acts[0].accessibleName() and "suction-cup" in {
        timed.tool for timed in window.session.derived.planner.plan(["battery"]).count.timed}
    log.canvas.setFocus()
    press(window, K.Key_F8)
    typed(log, "30")
    assert now(window).part["battery"].lift[0].wait_s == 30
    assert item(menu_of(strip, 1), "Wait…") is None  # nothing is left to wait for
    press(window, K.Key_F7)  # the tool of the last act
    assert [act.tool for act in now(window).part["battery"].lift][0] == "suction-cup"
    item(menu_of(strip, 0), "Without this act").trigger()
    settle()
    assert len(strip.acts) == 1 and not now(window).part["battery"].acts
    for _ in range(5):
        log.recorder.session.undo()
    assert now(window).part["battery"] == before
