"""The way retold, in a real window: the strip of pictures, its answers by key and by mouse, what is on record then."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from scripts.screenshots import all_assumed

from oddbolt.model.label import Label
from oddbolt.session.verbs.plain import Done
from oddbolt.studies.retelling import CONFIRMED, GUESSED, KNOWN, WAY_CONFIRMED
from oddbolt.ui.log.keys import TELL_KEYS
from oddbolt.ui.log.telling.way import STRIP, YES_OR_NO
from oddbolt.ui.log.telling.way_strip import PICTURE, THING
from tests.ui.log_steps import LEFT, SHIFT, K, click, letter, now, press
from tests.ui_fixtures import settle, wait_for


@pytest.fixture
def guessed(demo):
    """The demo with everything about access assumed, and the way to the port board shown."""
    demo.session.do(lambda teardown: Done(Label("assume"), all_assumed(teardown)))
    settle()
    demo.show_workspace("log")
    return demo


def shown(window, part):
    window.tell_ways(part)
    found(window, part)
    return window.log.way


def found(window, part=""):
    """Until the strip shows the way as the record has it now."""
    way = window.log.way
    wait_for(lambda: way.way is not None and (not part or way.way.part == part) and not way._found.is_stale)
    settle()
    return way.way


def things(way):
    return [way.strip.item(n).data(THING) for n in range(way.strip.count())]


def choose(way, thing):
    row = things(way).index(thing)
    way.strip.setCurrentRow(row)
    settle()
    return way.strip.visualItemRect(way.strip.item(row)).center()


def test_the_strip_stands_where_the_states_are_and_lights_up_what_is_chosen(guessed):
    log = guessed.log
    way = shown(guessed, "port-board")
    assert way.isVisible() and not log.strip.isVisible() and not log.line.isVisible()
    assert things(way)[-1] == "port-board" and way.way.known == GUESSED and "guessed" in way.depth.text()
    wait_for(lambda: way.strip.item(2).data(PICTURE) is not None)  # cut from the photographs
    choose(way, things(way)[4])
    assert log.recorder.selection.thing == things(way)[4]
    assert any(mark.thing == things(way)[4] for mark in log.states.view.marks)  # on the photograph that shows it
    press(guessed, K.Key_Escape)
    assert not way.isVisible() and log.strip.isVisible() and log.line.isVisible()


def test_right_is_one_key_and_then_yes_or_no_until_it_is_confirmed(guessed):
    way = shown(guessed, "back-cover")
    press(guessed, K.Key_F2)
    assert [(said.part, said.answer) for said in now(guessed).confirmed] == [("back-cover", "works")]
    found(guessed)
    asked = 0
    while way.way.part == "back-cover" and way.way.asks:
        assert way.pages.currentIndex() == YES_OR_NO and "before" in way.asking.question.text()
        press(guessed, K.Key_F3)  # no, none
        found(guessed)
        asked += 1
        assert asked < 20
    assert way.way.part != "back-cover"  # the next one that nobody has looked at
    assert len(now(guessed).pairs) >= asked and all(pair.hides for pair in now(guessed).pairs)
    assert way.number.text().startswith("0 of")  # one look makes no way firm
    press(guessed, K.Key_Escape)
    shown(guessed, "back-cover")
    assert way.way.wants_a_look and "once more" in way.depth.text() and way.pages.currentIndex() == STRIP
    press(guessed, K.Key_F2)
    found(guessed)
    assert guessed.session.derived.known_so_far(None, "back-cover") != CONFIRMED  # the same once more, just after
    assert "somebody else" in guessed.log.echo.text() or way.way.part != "back-cover"


def test_after_enough_answers_in_a_row_the_rest_waits(guessed, monkeypatch):
    monkeypatch.setattr("oddbolt.studies.retelling.ENOUGH", 2)
    way = shown(guessed, "back-cover")
    press(guessed, K.Key_F2)
    found(guessed)
    assert len(way.way.asks) > 1 and way.pages.currentIndex() == YES_OR_NO  # one answer: that it works
    press(guessed, K.Key_F3)
    found(guessed)
    assert way.way.part != "back-cover" and "once more later" in guessed.log.echo.text()
    press(guessed, K.Key_Escape)
    way = shown(guessed, "back-cover")
    assert way.pages.currentIndex() == YES_OR_NO and way.way.looks == 1  # asked on
    press(guessed, K.Key_F3)
    found(guessed)
    telling = guessed.log.recorder.selection.telling
    assert telling.part == way.way.part != "back-cover" and telling.answers == 0  # counted anew for the next


def test_a_way_that_is_looked_at_twice_is_confirmed(guessed):
    parts = guessed.session.derived.priority_parts()[:2]
    known = []
    for _ in range(4):
        for part in parts:
            way = shown(guessed, part)
            press(guessed, K.Key_F2)
            found(guessed)
            for _ in range(20):
                if way.way.part != part or not way.way.asks:
                    break
                press(guessed, K.Key_F3)
                found(guessed)
            press(guessed, K.Key_Escape)
        way = shown(guessed, parts[0])
        known.append(way.way.known)
        if known[-1] != GUESSED:
            assert "confirmed" in way.depth.text() and int(way.number.text().split()[0]) >= 1
        press(guessed, K.Key_Escape)
    assert known[0] != CONFIRMED == known[-1] and known == sorted(known, key=KNOWN.index)


def test_what_is_not_needed_goes_from_the_way_and_comes_back_with_undo(guessed):
    way = shown(guessed, "port-board")
    before = things(way)
    spare = next(one for one in before if now(guessed).thing(one).kind == "bracket" and one != "port-bracket")
    choose(way, spare)
    press(guessed, K.Key_F4)
    assert now(guessed).confirmed[-1].answer == "needless" and now(guessed).confirmed[-1].things == (spare,)
    found(guessed)
    assert spare not in things(way)
    guessed.undo()
    settle()
    found(guessed)
    assert things(way) == before and not now(guessed).confirmed


def test_what_is_in_the_way_is_tapped_on_the_photograph_or_on_the_strip(guessed):
    log, way = guessed.log, shown(guessed, "speaker-left")
    choose(way, "speaker-left")
    press(guessed, K.Key_F3)
    assert "Tap what is in the way" in log.echo.text() and "tap what is in its way" in log.canvas.mode.shown.text()
    log.show_state("s1-back")
    settle()
    place = next(n for n, mark in enumerate(log.states.view.marks) if mark.thing == "battery-lid-screws")
    log.canvas.pin_clicked.emit(place)
    settle()
    said = now(guessed).confirmed[-1]
    assert (said.answer, said.at, said.by_things) == ("blocked", "speaker-left", ("battery-lid-screws",))
    found(guessed)
    assert "battery-lid-screws" in things(way)
    choose(way, "speaker-left")
    press(guessed, K.Key_F3)
    other = things(way)[0]
    way.strip.scrollToItem(way.strip.item(0))
    QTest.mouseClick(way.strip.viewport(), LEFT, pos=way.strip.visualItemRect(way.strip.item(0)).center())
    settle()
    assert now(guessed).confirmed[-1].by_things == (other,)
    choose(way, "speaker-left")
    press(guessed, K.Key_F3)
    press(guessed, K.Key_Escape)
    assert "Nothing was pointed at" in log.echo.text() and way.isVisible()


def test_whose_a_plug_is_by_the_key_that_lifts_its_part(guessed):
    way = shown(guessed, "rear-camera")
    plug = next(one for one in things(way) if one in now(guessed).joint and now(guessed).joint[one].kind == "connector")
    choose(way, plug)
    press(guessed, K.Key_F5)
    assert "key that lifts its kind" in guessed.log.echo.text()
    lifts = len([e for e in now(guessed).log if e.do == "remove"])
    press(guessed, K.Key_D, SHIFT)
    assert now(guessed).part[now(guessed).joint[plug].of[0]].kind == "display"
    assert len([e for e in now(guessed).log if e.do == "remove"]) == lifts  # nothing was lifted by it
    assert now(guessed).confirmed[-1].answer == "not_mine"


def test_something_else_a_tool_and_another_kind_by_menu(guessed):
    way = shown(guessed, "speaker-left")
    choose(way, "speaker-left")
    holds = way.correcting.holds
    holds.aboutToShow.emit()
    next(action for action in holds.actions() if action.text() == "Film").trigger()
    settle()
    film = now(guessed).confirmed[-1].held_by[0]
    assert now(guessed).joint[film].kind == "film"
    found(guessed)
    assert film in things(way)
    choose(way, film)
    tools = way.correcting.tool
    tools.aboutToShow.emit()
    next(action for action in tools.actions() if action.text() == "Tweezers").trigger()
    settle()
    assert now(guessed).joint[film].ways[0].acts[0].tool == "tweezers"
    found(guessed)
    choose(way, "speaker-left")
    kinds = way.correcting.is_a
    kinds.aboutToShow.emit()
    next(action for action in kinds.actions() if action.text() == "Motor").trigger()
    settle()
    assert now(guessed).part["speaker-left"].kind == "motor"


def test_without_anything_chosen_it_is_said_and_nothing_is_changed(guessed):
    shown(guessed, "speaker-left")
    record = now(guessed)
    press(guessed, K.Key_F4)
    assert "Choose on the strip" in guessed.log.echo.text() and now(guessed) is record
    assert not guessed.log.way.correcting.needless.isEnabled()


def unscrewed_cover(bench):
    """A screw, and the cover that it held, off."""
    letter(bench)
    press(bench, K.Key_1)
    click(bench, 200, 200)
    press(bench, K.Key_R)
    press(bench, K.Key_C, SHIFT)
    return now(bench).log[-1].thing


def test_what_is_offered_after_an_act_comes_first(bench):
    """While a way is shown one may go on working: the answer keys answer the act just done."""
    cover = unscrewed_cover(bench)
    way = shown(bench, cover)
    press(bench, K.Key_B)
    click(bench, 400, 300)
    press(bench, K.Key_R)
    assert bench.log.recorder.offered and way.isVisible()
    plug = bench.log.recorder.selection.thing
    press(bench, K.Key_F2)
    assert now(bench).part[now(bench).joint[plug].of[0]].kind == "battery" and not now(bench).confirmed


def test_a_part_that_matters_offers_its_way_when_it_is_off(bench):
    cover = unscrewed_cover(bench)
    assert "shortest way" in bench.log.answers.question.text()
    press(bench, K.Key_F2)
    found(bench, cover)
    assert bench.log.way.isVisible() and bench.log.way.pages.currentIndex() == STRIP
    press(bench, K.Key_F2)
    assert now(bench).confirmed[0].part == cover
    found(bench)
    assert bench.session.derived.known_so_far(None, cover) == GUESSED and "second look" in bench.log.echo.text()
    assert bench.session.derived.looks_so_far(None, cover) == 1


def test_somebody_else_looks_and_that_is_the_second_look(bench):
    cover = unscrewed_cover(bench)
    press(bench, K.Key_F2)  # the way to it
    found(bench, cover)
    way = bench.log.way
    press(bench, K.Key_F2)
    found(bench, cover)
    assert way.way.wants_a_look and way.number.text().startswith("0 of")
    menu = way.correcting.who
    menu.aboutToShow.emit()
    [*_, other] = menu.actions()
    other.trigger()
    way.correcting.asked.setTextValue("B. Teal")
    way.correcting.asked.accept()
    settle()
    bench.activateWindow()  # a window manager does that
    settle()
    assert way.strip.hasFocus() and "B. Teal looks" in way.depth.text()
    assert "B. Teal" in bench.log.echo.text()
    press(bench, K.Key_F2)
    found(bench)
    assert [said.by for said in now(bench).confirmed][-1] == "B. Teal"
    assert bench.session.derived.known_so_far(None, cover) == WAY_CONFIRMED
    menu.aboutToShow.emit()
    assert "✓ B. Teal" in [action.text() for action in menu.actions()]


def test_the_menu_the_list_and_access_lead_to_it(guessed):
    actions = {a.text().replace("&", ""): a for a in guessed.menus.records.actions()}
    ways = actions["Are the ways right?"]
    assert ways.shortcut().toString() == TELL_KEYS
    ways.trigger()
    found(guessed)
    assert guessed.log.way.isVisible()
    guessed.log.way.close_button.click()
    settle()
    guessed.log.tell_ways.click()
    found(guessed)
    guessed.log.way.shut()
    settle()
    guessed.show_workspace("access")
    settle()
    guessed.access.show_part("battery")
    settle()
    guessed.access.tell.click()
    assert found(guessed, "battery").part == "battery" and guessed.log.isVisible()


def test_how_known_stands_beside_every_depth(guessed):
    log = guessed.log
    log.depths.refresh()
    settle()
    row = log.depths.topLevelItem(0)
    assert "guessed" in row.data(0, Qt.ItemDataRole.AccessibleTextRole) and not row.icon(0).isNull()
    assert "Guessed" in row.toolTip(0)
    guessed.show_workspace("access")
    settle()
    assert "guessed" in guessed.access.words.toPlainText() and "◌ guessed" in guessed.access.convention.text()
    assert {column.known for column in guessed.access._columns} == {GUESSED}
    guessed.show_workspace("verdict")
    wait_for(lambda: guessed.verdict.headline.text() != "")
    assert "firm" not in guessed.verdict.firm.text() or "not firm" in guessed.verdict.firm.text()


def test_another_document_takes_it_away_and_nothing_of_it_is_kept(guessed, tmp_path, clock):
    from oddbolt.session.documents import begin_teardown
    from oddbolt.session.prepare import Preparation

    shown(guessed, "port-board")
    guessed.session.switch_to(begin_teardown(Preparation(name="Other", category="radio"), None, tmp_path, clock()))
    settle()
    assert not guessed.log.way.isVisible() and guessed.log.recorder.selection.telling is None
    guessed.log.way.open()
    assert "No part has a role yet" in guessed.log.echo.text()


def test_return_on_the_strip_is_right_too(guessed):
    way = shown(guessed, "speaker-left")
    QTest.keyClick(way.strip, K.Key_Return)
    settle()
    assert now(guessed).confirmed[-1].answer == "works"
