"""Recording through the real window: gestures, keys, questions, clocks, photographs, measuring."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QColor, QDropEvent, QGuiApplication, QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QToolButton, QWidget

from oddbolt.catalog.tables import mark_kinds
from oddbolt.instruments.protocols import BenchInstruments
from oddbolt.model import exchange
from oddbolt.model.label import Label
from oddbolt.paint.palette import DARK, LIGHT
from oddbolt.session.verbs.plain import Done
from oddbolt.ui.log.record_menu import RecordMenu
from oddbolt.ui.widgets.overlay import Proposal
from tests.ui.log_steps import (
    CTRL,
    LEFT,
    SHIFT,
    K,
    click,
    letter,
    log_of,
    now,
    open_to_the_screws,
    place,
    point,
    press,
    round_about,
)
from tests.ui_fixtures import blank_device, photo_bytes, settle, wait_for


def cover_with_screws(window):
    """A cover with two screws, lifted."""
    letter(window)
    press(window, K.Key_1)
    for x in (200, 900):
        click(window, x, 150)
    press(window, K.Key_C, SHIFT)


# -- the usual acts

def test_screws_then_a_kind_lift_the_part_and_invite_to_say_what_is_within_reach(bench):
    cover_with_screws(bench)
    assert [do for do, _ in log_of(bench)] == ["release", "remove"]
    part = now(bench).part[now(bench).log[-1].thing]
    assert (part.name, part.kind, part.role) == ("Cover", "cover", ("back_cover",))
    assert "What could be undone now" in bench.log.echo.text()
    press(bench, K.Key_Z, CTRL)
    assert log_of(bench) == [] and now(bench).joints[0].count == 2
    assert bench.session.redo_label.code == "lift" and bench.session.redo_label.data["thing"]["name"] == "Cover"


def test_point_and_press_marks_and_undoes(bench):
    press(bench, K.Key_Space)
    point(bench, 500, 400)
    press(bench, K.Key_B)
    assert log_of(bench) == [("release", "connector-1")]
    assert now(bench).joint["connector-1"].of[1] == "main-board"
    click(bench, 700, 400)  # the kind stays: a click does the next
    assert len(log_of(bench)) == 2
    press(bench, K.Key_K, SHIFT)
    camera = now(bench).log[-1].thing
    assert {j.of[0] for j in now(bench).joints} == {camera}
    press(bench, K.Key_Space)
    press(bench, K.Key_Escape)
    click(bench, 500, 400)
    assert bench.log.recorder.selection.thing == "connector-1" and len(log_of(bench)) == 3


def test_the_same_key_again_is_the_next_way_of_parting_glue(bench):
    for way in (*mark_kinds()["glue"].types, "pry"):
        press(bench, K.Key_A)
        assert bench.log.recorder.selection.kind.type == way
    press(bench, K.Key_A)
    click(bench, 300, 300)
    assert [a.tool for a in now(bench).joints[-1].ways[0].acts] == ["heat-mat", "pick"]


def parted_by(window):
    return [act.does for act in now(window).joints[-1].ways[0].acts]


def test_glue_pointed_at_is_parted_there_and_one_key_says_how(bench):
    """The same key again, still pointing at it, is the next way; F2 to F5 are the others. It stays one bond, and what
    is waited for follows."""
    log = bench.log
    press(bench, K.Key_Space)
    point(bench, 500, 400)
    press(bench, K.Key_A)
    assert log_of(bench) == [("release", "adhesive-1")] and parted_by(bench) == ["pry"]
    offered = [one.choice for one in log.recorder.offered]
    assert offered == ["solvent", "cup", "heat-cup", "tear"]
    assert "A again: heat" in log.answers.question.text()
    assert log.clocks.countdowns == []
    press(bench, K.Key_A)
    assert parted_by(bench) == ["heat", "pry"] and len(now(bench).joints) == 1
    assert [countdown.thing for countdown in log.clocks.countdowns] == ["adhesive-1"]
    press(bench, (K.Key_F2, K.Key_F3, K.Key_F4, K.Key_F5)[[one.choice for one in log.recorder.offered].index("tear")])
    assert parted_by(bench) == ["tear"] and log.clocks.countdowns == []
    assert len(now(bench).joints) == 1 and len(log_of(bench)) == 1
    point(bench, 700, 400)  # the next one is parted as the last one was
    press(bench, K.Key_A)
    assert len(now(bench).joints) == 2 and parted_by(bench) == ["tear"]
    for _ in range(2):  # taken back step by step: the second, then how the first was parted
        press(bench, K.Key_Z, CTRL)
    assert len(now(bench).joints) == 1 and parted_by(bench) == ["heat", "pry"]
    press(bench, K.Key_Z, CTRL)
    press(bench, K.Key_Z, CTRL)
    assert now(bench).joints == () and log_of(bench) == []


def test_the_same_key_elsewhere_or_after_something_else_marks_another(bench):
    press(bench, K.Key_Space)
    point(bench, 500, 400)
    press(bench, K.Key_Period)
    press(bench, K.Key_Period)
    assert [joint.type for joint in now(bench).joints] == ["lif"]
    press(bench, K.Key_F2)  # whose: something else was said since
    press(bench, K.Key_Period)
    assert [joint.type for joint in now(bench).joints] == ["lif", "lif"]
    point(bench, 700, 400)
    press(bench, K.Key_Period)
    assert [joint.type for joint in now(bench).joints] == ["lif"] * 3


def test_what_was_pointed_at_may_be_drawn_round_then(bench):
    press(bench, K.Key_Space)
    point(bench, 400, 400)
    press(bench, K.Key_A)
    round_about(bench, [(300, 300), (500, 300), (500, 500), (300, 500)])
    assert len(now(bench).joints) == 1 and len(now(bench).views[0].marks[0].outline) >= 3
    round_about(bench, [(700, 300), (800, 300), (800, 400), (700, 400)])
    assert len(now(bench).joints) == 2
    press(bench, K.Key_Z, CTRL)
    press(bench, K.Key_Z, CTRL)
    assert now(bench).views[0].marks[0].outline == () and len(now(bench).joints) == 1


def test_a_letter_that_is_brought_out_is_in_hand(bench):
    letter(bench)
    kind = bench.log.recorder.selection.kind
    assert kind is not None and kind.letter == "A"
    click(bench, 200, 150)
    assert [joint.fastener for joint in now(bench).joints] == ["A"]


def test_glue_drawn_round_is_an_area(bench):
    press(bench, K.Key_A)
    round_about(bench, [(300, 300), (500, 300), (500, 500), (300, 500)])
    mark = now(bench).views[0].marks[0]
    assert len(mark.outline) >= 3 and 350 < mark.x < 450
    assert len(bench.log.canvas.overlay.outlines) == 1


def test_a_part_is_drawn_round_and_named(bench):
    round_about(bench, [(300, 300), (600, 300), (600, 500), (300, 500)])
    assert "Which part is this" in bench.log.echo.text()
    press(bench, K.Key_A, SHIFT)
    cell = next(p for p in now(bench).parts if p.kind == "battery")
    mark = now(bench).views[0].marks[0]
    assert mark.thing == cell.id and len(mark.outline) >= 3 and log_of(bench) == []
    round_about(bench, [(700, 300), (800, 300), (800, 400), (700, 400)])
    press(bench, K.Key_Escape)
    press(bench, K.Key_K, SHIFT)  # the outline was left: this lifts a camera
    assert log_of(bench)[-1][0] == "remove"


def test_an_end_is_dragged_to_a_new_part_or_an_old_one(bench):
    press(bench, K.Key_B)
    click(bench, 500, 300)
    canvas = bench.log.canvas

    def drag(number, x, y):
        end = next(e for e in canvas.overlay.ends if e.number == number)
        start, stop = place(bench, *end.place), place(bench, x, y)
        QTest.mousePress(canvas.viewport(), LEFT, pos=start)
        QTest.mouseMove(canvas.viewport(), start + QPoint(9, 9))
        QTest.mouseMove(canvas.viewport(), stop)
        QTest.mouseRelease(canvas.viewport(), LEFT, pos=stop)

    drag(0, 800, 600)
    assert "What is there" in bench.log.echo.text()
    press(bench, K.Key_A, SHIFT)
    plug = now(bench).joint["connector-1"]
    assert now(bench).part[plug.of[0]].kind == "battery" and plug.isolates is True
    assert log_of(bench) == []  # named, not lifted
    press(bench, K.Key_Escape)
    click(bench, 500, 300)
    drag(1, 800, 600)  # it ties the cell already
    assert "already" in bench.log.echo.text()
    bench.log.thing.safe.click()
    assert now(bench).joint["connector-1"].isolates is False


def test_reach_by_lasso_and_by_key(bench):
    cover_with_screws(bench)
    press(bench, K.Key_N)
    press(bench, K.Key_2) if len(now(bench).fasteners) > 1 else None
    press(bench, K.Key_B)
    for x in (300, 600, 1000):
        click(bench, x, 500)
    press(bench, K.Key_Escape)
    press(bench, K.Key_J)
    assert bench.log.canvas.lasso_armed
    round_about(bench, [(250, 420), (700, 420), (700, 600), (250, 600)], Qt.KeyboardModifier.NoModifier)
    assert log_of(bench)[-1] == ("reach", ("connector-1", "connector-2"))
    press(bench, K.Key_W)
    assert log_of(bench)[-1][1] == ("connector-1", "connector-2", "connector-3")


def test_the_underside_of_what_was_lifted(bench):
    cover_with_screws(bench)
    press(bench, K.Key_Q, SHIFT)
    press(bench, K.Key_U)
    assert bench.log.recorder.selection.carrier == "main-board" and "underside" in bench.log.echo.text()
    press(bench, K.Key_Space)
    press(bench, K.Key_B)
    click(bench, 600, 300)
    press(bench, K.Key_P, SHIFT)
    board = now(bench).log[-1].thing
    assert now(bench).part[board].on == "main-board" and now(bench).joints[-1].behind == (("base",),)
    press(bench, K.Key_U)
    assert bench.log.recorder.selection.carrier == ""


def test_outcome_stopwatch_and_foot_switch(bench, clock):
    press(bench, K.Key_F)
    click(bench, 400, 400)
    press(bench, K.Key_K)
    clock.forward(17)
    bench.log.clocks.tick()
    assert "17 s" in bench.log.clocks.watch.text()
    press(bench, K.Key_Return)  # the usual act: release what is in hand
    assert now(bench).log[-1].do == "release" and now(bench).log[-1].seconds == 17
    for word in ("damaged", "destroyed", "stripped", "lost", "failed", "fine"):
        press(bench, K.Key_O)
        assert bench.session.undo_label.data["outcome"] == word
    assert now(bench).log[-1].amends == "e1" and now(bench).log[0].outcome == "ok"


def test_a_cover_swung_open_is_said_to_be_tethered(bench):
    press(bench, K.Key_Space)
    point(bench, 100, 100)
    press(bench, K.Key_C)
    press(bench, K.Key_H)
    assert "do not lift it far" in bench.log.echo.text()
    assert now(bench).joints[-1].kind == "swing" and now(bench).joints[-1].behind == (("clip-1",),)


def test_what_swings_just_after_a_lift_is_not_the_part_that_came_off(bench):
    """It is still chosen because it was lifted: a board that turns next was refused as being off already."""
    cover_with_screws(bench)
    cover = now(bench).log[-1].thing
    assert bench.log.recorder.selection.thing == cover
    point(bench, 400, 400)
    press(bench, K.Key_H)
    swing = next(j for j in now(bench).joints if j.kind == "swing")
    assert swing.of[0] != cover and log_of(bench)[-1] == ("release", swing.id)
    bench.session.undo()
    press(bench, K.Key_Space)
    point(bench, 450, 400)
    press(bench, K.Key_C)  # something is done since: whoever chooses the part that is off means it, and is told
    bench.log.choose(cover)
    press(bench, K.Key_H)
    assert all(j.kind != "swing" for j in now(bench).joints) and "off" in bench.log.echo.text()


def test_a_plug_of_a_cover_that_is_off_makes_it_a_swing(bench):
    cover_with_screws(bench)
    cover = now(bench).log[-1].thing
    mark = next(m for m in now(bench).views[0].marks if m.thing == cover)
    press(bench, K.Key_B)
    click(bench, 550, 500)
    canvas = bench.log.canvas
    end = next(e for e in canvas.overlay.ends if e.number == 0)
    start = place(bench, *end.place)
    QTest.mousePress(canvas.viewport(), LEFT, pos=start)
    QTest.mouseMove(canvas.viewport(), start + QPoint(9, 9))
    QTest.mouseMove(canvas.viewport(), place(bench, mark.x, mark.y))
    QTest.mouseRelease(canvas.viewport(), LEFT, pos=place(bench, mark.x, mark.y))
    assert "it was swung open" in bench.log.echo.text()
    swing = next(j for j in now(bench).joints if j.kind == "swing")
    assert now(bench).log[-1].amends == "e2" and now(bench).joint["connector-1"].behind == ((swing.id,),)
    press(bench, K.Key_R)
    press(bench, K.Key_C, SHIFT)
    assert log_of(bench)[-1] == ("remove", cover) and not bench.session.derived.replay.contradictions


def test_checks_are_said_as_one_goes(bench):
    letter(bench)
    letter(bench)
    for n, length in ((0, 3.0), (1, 5.0)):
        data = exchange.to_json(now(bench))
        data["fasteners"][n]["length_mm"] = length
        bench.session.do(lambda t, d=data: Done(Label("fastener", {"letter": "A"}), exchange.from_json(d)))
    press(bench, K.Key_1)
    assert "Look alike: A 3 mm, B 5 mm" in bench.log.echo.text()
    press(bench, K.Key_Escape)
    press(bench, K.Key_B)
    click(bench, 300, 200)
    bench.log.thing.safe.click()
    click(bench, 300, 300)
    press(bench, K.Key_R)
    assert "opened live" in bench.log.echo.text()


# -- groups

def test_groups_are_split_moved_and_joined(bench):
    letter(bench)
    press(bench, K.Key_1)
    for n in range(5):
        click(bench, 200 + 100 * n, 200)
    press(bench, K.Key_G)
    for n in range(2):
        click(bench, 200 + 100 * n, 600)
    press(bench, K.Key_Escape)
    round_about(bench, [(150, 150), (350, 150), (350, 250), (150, 250)])
    press(bench, K.Key_G, CTRL)
    assert sorted(j.count for j in now(bench).joints) == [2, 2, 3]
    round_about(bench, [(450, 150), (550, 150), (550, 250), (450, 250)])
    click(bench, 200, 600)
    press(bench, K.Key_M, CTRL)
    assert sorted(j.count for j in now(bench).joints) == [2, 2, 3] and now(bench).joint["a-2"].count == 3
    round_about(bench, [(150, 150), (350, 150), (350, 650), (150, 650)])
    press(bench, K.Key_J, CTRL)
    assert sorted(j.count for j in now(bench).joints) == [2, 5]
    for _ in range(3):
        press(bench, K.Key_Z, CTRL)
    assert sorted(j.count for j in now(bench).joints) == [2, 5] and len(now(bench).joints) == 2


# -- questions

def test_a_question_is_asked_answered_and_taken_back(make_window):
    data = blank_device()
    data["parts"] += [{"id": "horn", "name": "Horn", "kind": "speaker", "on": "tray", "basis": "assumed"}]
    data["parts"][1]["kind"] = "cover"
    data["joints"] += [
        {"id": "horn-s", "kind": "clip", "of": ["horn", "tray"], "basis": "assumed"},
        {"id": "plug", "kind": "connector", "of": ["cell", "tray"], "basis": "assumed", "ways": [{"tool": "spudger"}]}]
    data["views"][1]["marks"] = [{"thing": "plug", "x": 400, "y": 300}]
    data["log"] = [{"id": f"e{n}", "do": do, "thing": thing} for n, (do, thing) in enumerate(
        [("remove", "cover"), ("release", "horn-s"), ("remove", "horn"), ("release", "plug")])]
    window = make_window(data)
    asking = window.log.asking
    asking.refresh()
    wait_for(lambda: asking.question is not None)
    assert window.log.above.tabText(1).startswith("Ask (")
    press(window, K.Key_Q)  # shows the question
    assert asking.isVisible()
    while asking.question.kind != "hides" or asking.question.about != "horn":
        asking.later.click()
    assert "Which of these did Horn really hide?" in asking.text.text()
    assert not asking._rows["plug"].value
    click(window, 400, 300)  # tapped on the photograph
    assert asking._rows["plug"].value
    press(window, K.Key_Q)
    assert "horn" in now(window).joint["plug"].behind[0]
    assert now(window).answers[-1].criterion == "hides" and now(window).answers[-1].basis == "seen"
    press(window, K.Key_Z, CTRL)
    assert not now(window).answers and "horn" not in (now(window).joint["plug"].behind or [()])[0]


def test_what_stands_before_it_is_said_in_hand(bench):
    cover_with_screws(bench)
    press(bench, K.Key_N)
    press(bench, K.Key_B)
    click(bench, 600, 500)
    hand = bench.log.thing
    assert "Behind Cover (assumed)" in hand.behind.text()
    hand._fill_behind()
    hand.behind.menu().actions()[0].trigger()
    plug = now(bench).joint["connector-1"]
    assert plug.behind == () and plug.basis == "seen" and "Behind nothing" in hand.behind.text()


# -- time

def test_countdowns_run_beside_each_other_and_ring_once(bench, clock):
    clocks = bench.log.clocks
    press(bench, K.Key_A)
    press(bench, K.Key_A)
    click(bench, 500, 400)
    press(bench, K.Key_R)
    assert [round(c.left_s(clock())) for c in clocks.countdowns] == [300]
    clocks.minutes.setCurrentText("0:30")
    clocks.start.click()
    for wrong in ("", "soon", "-5", "0", "1:xx", "9" * 10_000):
        clocks.minutes.setCurrentText(wrong)
        clocks.start.click()
        assert len(clocks.countdowns) == 2 and "5:00" in clocks.problem.text()
    clock.forward(31)
    clocks.tick()
    clocks.tick()
    assert clocks.rings == 1 and "time is up" in bench.log.echo.text()
    clock.forward(300)
    clocks.tick()
    assert clocks.rings == 2
    clocks.drop(clocks.countdowns[0])
    assert len(clocks.countdowns) == 1


def test_the_clock_can_be_paused(bench, clock):
    press(bench, K.Key_F)
    click(bench, 300, 300)
    clock.forward(10)
    before = bench.session.seconds_now()
    bench.log.clocks.pause.click()
    clock.forward(500)
    assert bench.session.seconds_now() == before and "paused" in bench.log.clocks.clock.text()
    bench.log.clocks.pause.click()
    clock.forward(5)
    assert bench.session.seconds_now() == before + 5


# -- the one line

def type_line(window, text):
    press(window, K.Key_T)
    QTest.keyClicks(window.log.line, text)


def test_a_line_is_echoed_in_words_and_counts_on_enter(make_window):
    window = make_window()
    type_line(window, "2 PH00 A cover 26s")
    assert "A new joint of Cover: 2 A, released" in window.log.echo.text() and not now(window).log
    QTest.keyClick(window.log.line, K.Key_Return)
    assert now(window).log[-1].seconds == 26 and now(window).joints[-1].count == 2
    type_line(window, "lift cov")
    assert window.log.echo.text() == "Lift Cover"
    QTest.keyClick(window.log.line, K.Key_Return)
    type_line(window, "glue cell pull 40s damaged")
    QTest.keyClick(window.log.line, K.Key_Return)
    assert (now(window).log[-1].thing, now(window).log[-1].outcome) == ("glue", "damaged")
    type_line(window, "?cell")
    QTest.keyClick(window.log.line, K.Key_Return)
    assert window.log.recorder.selection.thing == "cell"


@pytest.mark.parametrize(("text", "words"), [
    ("frobnicate", "begins no line"), ("lift", "A part is missing"), ("lift nothing", "No part is called"),
    ("3 T5 A cover", "not the recess"), ("2 Z cover", "No fastener"), ("note", "A text is missing"),
    ("lift c", "could be several"), ("glue cell heat", "No way on record"), ("x" * 5000, "begins no line")])
def test_what_is_not_understood_says_where(make_window, text, words):
    window = make_window()
    window.log.line.setText(text)
    QTest.keyClick(window.log.line, K.Key_Return)
    assert words in window.log.echo.text() and not now(window).log and window.log.line.text() == text
    QTest.keyClick(window.log.line, K.Key_Escape)
    assert window.log.line.text() == ""


# -- photographs

def test_the_camera_draws_the_present_state_and_marks_stay(bench):
    press(bench, K.Key_B)
    press(bench, K.Key_V)
    assert now(bench).views[-1].photo == "camera-simulated.jpg"
    assert now(bench).views[-1].mm_per_px == pytest.approx(0.115)
    click(bench, 800, 600)
    press(bench, K.Key_V)
    assert [m.thing for m in now(bench).views[-1].marks] == ["connector-1"]
    press(bench, K.Key_V, SHIFT)
    assert now(bench).views[-1].side == "front" and not now(bench).views[-1].marks
    photo = bench.session.document.photo
    assert photo("camera-simulated.jpg") != photo("camera-simulated-2.jpg")


def test_a_camera_that_fails_says_so(bench):
    bench.log.states.camera.fault = "The camera does not answer; check its cable"
    number = len(now(bench).views)
    press(bench, K.Key_V)
    assert "check its cable" in bench.log.echo.text() and len(now(bench).views) == number
    bench.bench = bench.log.states._bench = BenchInstruments
    press(bench, K.Key_V)
    assert "No camera" in bench.log.echo.text()


def test_photographs_come_by_paste_by_drag_and_from_a_watched_folder(bench, tmp_path):
    number = len(now(bench).views)
    image = QImage(300, 200, QImage.Format.Format_RGB32)
    image.fill(QColor("red"))
    QGuiApplication.clipboard().setImage(image)
    bench.menus.actions["paste"].trigger()
    assert now(bench).views[-1].photo == "pasted.png"
    photo = photo_bytes(tmp_path / "dragged.jpg", 0x112233)
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(photo))])
    drop = QDropEvent(QPointF(50, 50), Qt.DropAction.CopyAction, data, LEFT, Qt.KeyboardModifier.NoModifier)
    bench.log.canvas.dropEvent(drop)
    assert now(bench).views[-1].photo == "dragged.jpg"
    folder = tmp_path / "in"
    folder.mkdir()
    photo_bytes(folder / "old.jpg")
    bench.log.states.watch(folder)
    photo_bytes(folder / "new.jpg", 0x445566)
    (folder / "notes.txt").write_text("x")
    bench.log.states.look_into_folder()
    bench.log.states.look_into_folder()
    assert now(bench).views[-1].photo == "new.jpg" and len(now(bench).views) == number + 3
    (folder / "new.jpg").unlink()
    (folder / "old.jpg").unlink()
    (folder / "notes.txt").unlink()
    folder.rmdir()
    bench.log.states.look_into_folder()  # the folder is gone: nothing happens
    bench.log.states.watch(None)
    QGuiApplication.clipboard().clear()
    bench.menus.actions["paste"].trigger()
    assert "no picture" in bench.log.echo.text()


def test_the_state_before_is_laid_over_and_marks_are_taken_over(make_window):
    window = make_window()
    press(window, K.Key_Slash)
    assert window.log.canvas._photo._wipe is not None
    QTest.mouseMove(window.log.canvas.viewport(), place(window, 300, 300))
    settle()
    assert window.log.canvas._photo._share == pytest.approx(0.25, abs=0.01)  # its edge follows the pointer
    press(window, K.Key_Slash)
    shares = []
    for _ in range(3):
        shares.append(window.log.canvas._photo._share)
        window.log.comparing.turn()
    assert shares == [1.0, 0.0, 1.0]  # by turns
    press(window, K.Key_Slash)
    assert window.log.canvas._photo._wipe is None and not window.log.comparing._beat.isActive()
    window.log.show_state("v0")
    press(window, K.Key_B)
    click(window, 200, 200)
    window.log.show_state("v1")
    press(window, K.Key_D, CTRL)
    wait_for(lambda: now(window).views[1].marks != ())  # nothing is seen on them to go by: as they lie
    assert [(m.thing, m.x, m.y) for m in now(window).views[1].marks] == [
        (m.thing, m.x, m.y) for m in now(window).views[0].marks if m.thing == "connector-1"]
    press(window, K.Key_D, CTRL)
    wait_for(lambda: "Nothing marked on the state before" in window.log.echo.text())


def test_a_photograph_taken_on_its_side_stands_upright(bench, tmp_path):
    from oddbolt.paint.images import image_size, read_image

    body = (Path(__file__).parent.parent / "data" / "turned.jpg").read_bytes()
    assert image_size(body) == (60, 90) and read_image(body).width() == 60
    bench.log.states.add("turned.jpg", body)
    assert bench.log.canvas.sceneRect().width() == 60


# -- measuring

def test_two_points_set_the_scale_and_measure(bench):
    press(bench, K.Key_Semicolon)
    measure = bench.log.measure
    click(bench, 100, 100)
    click(bench, 600, 100)
    assert "No scale yet" in measure.text.text()
    for wrong in ("", "abc", "-3", "0", "nan"):
        measure.known.setText(wrong)
        measure.set_scale.click()
        assert now(bench).views[-1].mm_per_px is None and "number above zero" in bench.log.echo.text()
    measure.known.setText("50,0")
    QTest.keyClick(measure.known, K.Key_Return)
    assert now(bench).views[-1].mm_per_px == pytest.approx(0.1, rel=0.02)
    assert "50.0 ± 0.2 mm" in measure.text.text() and "square on" in measure.text.text()
    measure.record.click()
    assert now(bench).log[-1].value == pytest.approx(50, abs=0.2) and now(bench).log[-1].unit == "mm"
    click(bench, 600, 400)
    assert "mm²" in measure.text.text()
    press(bench, K.Key_Escape)
    assert not measure.is_on and not bench.log.canvas.overlay.line


def test_a_card_sets_the_scale(bench):
    press(bench, K.Key_Semicolon)
    measure = bench.log.measure
    measure.card.click()
    for corner in ((100, 100), (956, 100), (956, 640), (100, 640)):
        click(bench, *corner)
    assert now(bench).views[-1].mm_per_px == pytest.approx(0.1, rel=0.02)
    measure.again()
    click(bench, 200, 200)
    click(bench, 700, 200)
    assert measure._mm == pytest.approx(50, abs=0.3) and "square on" not in measure.text.text()


# -- find alike

def test_others_alike_are_proposed_accepted_and_refused(bench):
    open_to_the_screws(bench)
    press(bench, K.Key_I)
    alike = bench.log.alike
    wait_for(lambda: alike.is_proposing)
    number = len(alike.shown)
    assert alike.isVisible() and number >= 4
    alike.slider.setValue(95)
    assert len(alike.shown) < number
    alike.slider.setValue(50)
    first = alike.shown[0]
    assert bench.log.recorder.selection.group == "a-1"
    click(bench, first.x, first.y)  # one by one
    assert now(bench).joint["a-1"].count == 2 and len(alike.shown) == number - 1
    alike.wrong.setChecked(True)
    alike._found.append(Proposal(1200.0, 900.0, 12.0, 0.6))  # a place on the cell that looked like one
    alike._show()
    wrong = alike.shown[-1]
    click(bench, wrong.x, wrong.y)
    wait_for(lambda: not alike._jobs.is_running("look"))
    assert all(abs(p.x - wrong.x) > 5 or abs(p.y - wrong.y) > 5 for p in alike.shown)
    left = len(alike.shown)
    assert left == number - 1
    press(bench, K.Key_Return)
    assert now(bench).joint["a-1"].count == 2 + left and not alike.isVisible()
    press(bench, K.Key_Z, CTRL)
    assert now(bench).joint["a-1"].count == 2  # all at once


# -- prepare

def test_prepare_begins_a_new_teardown(bench, tmp_path):
    prepare = bench.prepare
    bench.show_workspace("prepare")
    prepare.category.setCurrentIndex(prepare.category.findData("radio"))
    assert "qualified people" in prepare.cautions.text()
    prepare.test_strap.click()
    assert prepare.checks["strap"].isChecked() and "good" in prepare.strap.text()
    prepare.name.setText("Bittern")
    prepare.base.setText("Chassis")
    before = bench.session.path
    prepare.begin.click()
    assert bench.stack.currentWidget() is bench.log and bench.session.path != before
    record = now(bench)
    assert record.device.name == "Bittern" and record.part["base"].name == "Chassis" or record.part["base"].name
    assert [e.do for e in record.log] == ["inspect"]
    assert before.exists()
    bad = tmp_path / "bad.json"
    bad.write_text("{")
    prepare._choose_earlier = lambda: bad
    prepare.earlier.click()
    assert "not JSON" in prepare.problem.text()
    earlier = tmp_path / "earlier.json"
    earlier.write_text(json.dumps(blank_device()))
    prepare._choose_earlier = lambda: earlier
    prepare.earlier.click()
    assert "3 parts" in prepare.earlier_name.text()
    prepare.begin.click()
    assert "glue" in now(bench).joint and not now(bench).log[1:]


def test_a_second_pass_is_begun_from_the_menu(bench):
    press(bench, K.Key_F)
    click(bench, 400, 400)
    press(bench, K.Key_R)
    bench.menus.actions["pass"].trigger()
    bench.log.choose("film-1")
    press(bench, K.Key_R)
    assert [e.pass_ for e in now(bench).log] == [1, 2]


# -- manners

def test_targets_in_the_log_are_large_enough(bench):
    """At least 44 px for what is pressed while recording."""
    bench.log.above.setCurrentIndex(0)
    settle()
    log = bench.log
    for holder in (log.tools, log.lift_bar, log.letters, log.thing):
        for button in holder.findChildren(QAbstractButton):
            if button.isVisible() and button.objectName() in ("tool", "big", "answer"):
                assert button.height() >= 44 and button.width() >= 44, (button.text(), button.size())


def contrast(one: str, other: str) -> float:
    """WCAG 2.2 contrast ratio, from the relative luminance of sRGB (from memory, high)."""
    def luminance(name):
        parts = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4
                 for c in (QColor(name).redF(), QColor(name).greenF(), QColor(name).blueF())]
        return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]

    low, high = sorted((luminance(one), luminance(other)))
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize("palette", [LIGHT, DARK], ids=["light", "dark"])
def test_words_stand_out(palette):
    assert contrast("#000000", "#FFFFFF") == pytest.approx(21)
    for ink in (palette.ink, palette.faint, palette.warn):
        for ground in (palette.page, palette.sheet, palette.sunk):
            assert contrast(ink, ground) >= 4.5, (ink, ground)
    assert contrast(palette.on_accent, palette.accent) >= 4.5


def test_no_key_has_two_meanings_and_all_are_listed(bench):
    bench.help.show_keys()
    text = bench.help.manual.page.toPlainText()
    for word in ("Return", "mark screws", "board plug", "cell", "Shift"):
        assert word.lower() in text.lower()
    bench.help.manual.close()
    assert all(isinstance(w, QWidget) for w in bench.log.findChildren(QWidget))


def test_entries_with_the_figures_of_instruments(bench):
    letter(bench)
    press(bench, K.Key_1)
    click(bench, 300, 300)
    bench.bench().foot_switch.press()  # the usual act: release
    press(bench, K.Key_A, SHIFT)
    cell = bench.log.recorder.selection.thing
    bench.bench().scale.on_it_g = 128.4
    actions = {a.text().replace("&", ""): a for a in bench.menus.records.actions()}
    actions["Weigh what is in hand"].trigger()
    assert now(bench).part[cell].mass_g == pytest.approx(128.4, abs=0.3)
    assert (now(bench).log[-1].do, now(bench).log[-1].unit) == ("measure", "g")
    bench.bench().thermometer.setting_c, bench.bench().thermometer.on_for_s = 70, 600
    actions["Read the thermometer"].trigger()
    assert now(bench).log[-1].value == pytest.approx(70, abs=2) and now(bench).log[-1].unit == "degC"
    for text, do in (("Inspected", "inspect"), ("Cleaned", "clean"), ("Turned over", "turn"), ("Incident", "incident")):
        actions[text].trigger()
        assert now(bench).log[-1].do == do
    film = actions["Protective film"]
    film.trigger()
    assert (now(bench).log[-1].do, now(bench).log[-1].value) == ("aid", "on")
    bench.menus.records._show_aids()
    assert film.isChecked()
    film.trigger()
    assert now(bench).log[-1].value == "off"
    press(bench, K.Key_Z, CTRL)
    assert now(bench).log[-1].value == "on"
    nothing = RecordMenu(bench.log.recorder, bench.log.states, BenchInstruments,
                         lambda text, alarm: bench.log.say(text, alarm=alarm), lambda: None, lambda: None,
                         lambda: None)
    next(a for a in nothing.actions() if "Weigh" in a.text()).trigger()
    assert "No such instrument" in bench.log.echo.text()


def test_a_part_has_its_portrait(bench):
    cover_with_screws(bench)
    cover = bench.log.recorder.selection.thing
    states = len(bench.log.states.views)
    action = next(a for a in bench.menus.records.actions() if "Portrait" in a.text())
    action.trigger()
    assert now(bench).views[-1].photo == f"portrait-{cover}-simulated.jpg"
    assert now(bench).views[-1].portrait == cover and len(bench.log.states.views) == states
    assert bench.log.strip.count() == states and bench.log.thing.portrait.isVisible()
    bench.bench = bench.log.states._bench = BenchInstruments  # then from a file
    action.trigger()
    assert now(bench).views[-1].photo == f"portrait-{cover}.jpg"
    press(bench, K.Key_Z, CTRL)
    press(bench, K.Key_Z, CTRL)
    assert not bench.log.thing.portrait.isVisible()
    bench.log.choose("")
    action.trigger()
    assert "Choose the part" in bench.log.echo.text()


def test_a_plug_shows_which_way_it_opens(bench):
    press(bench, K.Key_Up, CTRL)
    assert "Choose a plug" in bench.log.echo.text()
    press(bench, K.Key_Z)
    click(bench, 500, 400)
    before = bench.log.canvas.grab().toImage()
    press(bench, K.Key_Up, CTRL)
    assert now(bench).views[0].marks[0].angle_deg == 270
    assert bench.log.canvas.pins[0].angle_deg == 270 and bench.log.canvas.grab().toImage() != before
    press(bench, K.Key_Left, CTRL)
    press(bench, K.Key_Z, CTRL)
    assert now(bench).views[0].marks[0].angle_deg == 270


# -- what is seen where

def test_a_mode_is_seen_beside_the_pointer(bench):
    badge, port = bench.log.canvas.mode.shown, bench.log.canvas.port

    def over(x=200, y=150):
        QTest.mouseMove(port, QPoint(x, y))
        return badge.text() if badge.isVisible() else ""

    assert over() == ""  # a click only chooses
    letter(bench)
    press(bench, K.Key_1)
    assert over() == "A PH00"
    press(bench, K.Key_Space)
    assert over() == "A PH00 + release"
    press(bench, K.Key_J)
    assert "draw round" in over()
    press(bench, K.Key_Escape)
    press(bench, K.Key_Space)
    press(bench, K.Key_Semicolon)
    assert over() == "measure"
    press(bench, K.Key_Escape)
    press(bench, K.Key_B)
    assert over(port.width() - 2, port.height() - 2) and port.rect().contains(badge.geometry())  # kept within
    press(bench, K.Key_Escape)
    assert over() == ""


def test_palettes_keep_their_place_whatever_is_in_hand(demo):
    log = demo.log

    def places():
        settle()
        pressed = *log.lift_bar.buttons.values(), *log.tools.findChildren(QToolButton), *log.thing.buttons.values()
        return [button.mapTo(log, QPoint(0, 0)) for button in pressed]

    first = places()
    assert log.thing.isVisible()
    teardown = demo.session.teardown
    for thing in ("battery", teardown.joints[0].id, next(j.id for j in teardown.joints if j.kind == "connector"),
                  next(j.id for j in teardown.joints if j.kind == "adhesive"), ""):
        log.choose(thing)
        assert places() == first, thing
    log.choose("battery")
    settle()
    assert log.thing.told.verticalScrollBar().maximum() > 0  # longer cautions are scrolled to


@pytest.mark.parametrize(("width", "height"), [(1024, 700), (1280, 800)])
def test_the_running_list_shows_eight_lines_when_it_is_asked_for(demo, width, height):
    demo.resize(width, height)
    demo.log.below.setCurrentIndex(1)
    settle()
    demo.log.below.setCurrentIndex(0)
    running = demo.log.running
    wait_for(lambda: running.viewport().height() >= 8 * running.sizeHintForRow(0))
    assert demo.height() == height


def test_what_comes_off_gets_the_name_that_was_typed(bench):
    bar = bench.log.lift_bar
    bar.name.setText("  Upper board ")
    QTest.keyClick(bar.name, K.Key_Return)
    assert bench.log.canvas.hasFocus()
    press(bench, K.Key_P, SHIFT)
    made = now(bench).part[bench.log.recorder.selection.thing]
    assert (made.name, made.kind) == ("Upper board", "board") and bar.name.text() == ""
    press(bench, K.Key_P, SHIFT)
    assert now(bench).parts[-1].name == "Board"
    for line, name, kind in (("lift board Upper board", "Upper board 2", "board"), ("lift motor", "Motor", "motor"),
                             ("lift camera Left eye", "Left eye", "camera"), ("lift shield", "Shield", "shield")):
        bench.log.line.setText(line)
        assert "Lift a" in bench.log.echo.text()
        QTest.keyClick(bench.log.line, K.Key_Return)
        made = now(bench).part[bench.log.recorder.selection.thing]
        assert (made.name, made.kind) == (name, kind) and now(bench).log[-1].do == "remove"
    bench.log.line.setText("lift nonsense")
    assert "No part is called" in bench.log.echo.text()
    press(bench, K.Key_Z, CTRL)
    assert "Shield" not in [part.name for part in now(bench).parts]


def test_the_line_starts_a_record_letters_roles_and_what_hid_nothing(bench):
    """A new letter, a role and a footprint of nothing, each echoed in words before it counts, each one undo."""
    line, echo = bench.log.line, bench.log.echo
    for typed, said in (("lift camera Left eye", "Lift a camera, called Left eye"),
                        ("2 IP3 zz Left new", "new letter ZZ, IP3"), ("role Left front", "Front camera"),
                        ("footprint Left none", "Left eye hid nothing"),
                        ("plug board Inner b2b", "a new Board, called Inner")):
        line.setText(typed)
        assert said.lower() in echo.text().lower(), (typed, echo.text())
        before = now(bench)
        QTest.keyClick(line, K.Key_Return)
        assert now(bench) != before and line.text() == "", (typed, echo.text())
    eye = next(part for part in now(bench).parts if part.name == "Left eye")
    assert eye.role == ("front_camera",) and eye.was_said("role")
    assert now(bench).fastener["ZZ"].drive == "IP"
    assert any(f.of == eye.id and not f.outline for view in now(bench).views for f in view.footprints)
    for typed, said in (("role Left wheel", "is no role of such a part"), ("footprint Left all", "drawn, not typed")):
        line.setText(typed)
        assert said in echo.text() and "none" in echo.text()
    line.clear()
    bench.log.canvas.setFocus()
    for _ in range(4):
        press(bench, K.Key_Z, CTRL)
    assert "ZZ" not in now(bench).fastener and now(bench).part[eye.id].role != ("front_camera",)
