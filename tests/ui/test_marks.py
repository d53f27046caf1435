"""Marks set right on the photograph: rows, orders, limits, protections, the other side, portraits; and the clocks."""

from __future__ import annotations

import pytest
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from oddbolt.catalog.tables import mark_kinds
from oddbolt.knowledge.checks.findings import left_on
from oddbolt.model.refusal import Refusal
from oddbolt.paint.images import make_thumb
from oddbolt.paint.palette import LIGHT
from oddbolt.session.documents import open_document
from oddbolt.session.modes import Gesture
from oddbolt.session.session import Session
from oddbolt.ui.log.chosen.clocks import read_rounds
from oddbolt.ui.log.chosen.limits import read_span
from oddbolt.ui.log.photograph.measure import read_sides
from oddbolt.ui.window import Window
from tests.ui.log_steps import CTRL, LEFT, K, click, letter, log_of, now, open_to_the_screws, place, press
from tests.ui_fixtures import photo_bytes, settle, wait_for


def row(window, first, last):
    view = window.log.canvas.viewport()
    QTest.mousePress(view, LEFT, CTRL, place(window, *first))
    QTest.mouseMove(view, place(window, *last))
    QTest.mouseRelease(view, LEFT, CTRL, place(window, *last))
    settle()


def marked_at(window, *spots):
    """Whether the marks of the view shown lie there, in this order."""
    marks = window.log.states.view.marks
    return len(marks) == len(spots) and all(abs(m.x - x) <= 2 and abs(m.y - y) <= 2 for m, (x, y) in zip(marks, spots))


def three_screws(window):
    letter(window)
    press(window, K.Key_1)
    for x in (200, 500, 900):
        click(window, x, 150)
    press(window, K.Key_Escape)
    click(window, 200, 150)
    return window.log.recorder.selection.thing


# -- a row

def test_a_row_of_screws_is_marked_in_one_go(bench):
    letter(bench)
    press(bench, K.Key_1)
    row(bench, (100, 200), (700, 200))
    strip = bench.log.row
    assert strip.isVisible() and len(bench.log.canvas.overlay.proposals) == 4 and not now(bench).joints
    QTest.keyClicks(strip.number, "7")
    QTest.keyClick(strip.number, K.Key_Return)
    assert now(bench).joints[0].count == 7
    assert marked_at(bench, *((100 + 100 * n, 200) for n in range(7)))
    row(bench, (100, 400), (300, 400))
    press(bench, K.Key_Return)  # seven again, of the same group
    assert now(bench).joints[0].count == 14 and [m.n for m in now(bench).views[0].marks] == list(range(1, 15))
    press(bench, K.Key_Z, CTRL)
    assert now(bench).joints[0].count == 7


def test_a_row_can_be_left_and_is_of_screws_or_clips(bench):
    row(bench, (100, 200), (700, 200))
    assert "letter, or clips" in bench.log.echo.text() and not bench.log.row.isVisible()
    press(bench, K.Key_C)
    row(bench, (100, 200), (700, 200))
    press(bench, K.Key_Escape)
    assert not bench.log.row.isVisible() and not bench.log.canvas.overlay.proposals and not now(bench).joints
    row(bench, (100, 200), (700, 200))
    press(bench, K.Key_Return)
    joint = now(bench).joints[0]
    assert (joint.kind, joint.count, [m.n for m in now(bench).views[0].marks]) == ("clip", 4, [1, 2, 3, 4])


# -- orders

def test_screws_are_numbered_anew_by_clicking_them(bench):
    group = three_screws(bench)
    press(bench, K.Key_R, CTRL)
    assert "order of undoing" in bench.log.echo.text()
    click(bench, 900, 150)
    assert [pin.text for pin in bench.log.canvas.pins] == ["A –", "A –", "A 1"]
    click(bench, 900, 150)  # taken back
    click(bench, 500, 150)
    click(bench, 900, 150)
    click(bench, 200, 150)
    assert [m.n for m in now(bench).views[0].marks if m.thing == group] == [3, 1, 2]
    assert [pin.text for pin in bench.log.canvas.pins] == ["A 3", "A 1", "A 2"]
    press(bench, K.Key_Z, CTRL)
    assert [m.n for m in now(bench).views[0].marks] == [1, 2, 3]


def test_the_order_of_tightening_is_kept_with_the_joint(bench):
    group = three_screws(bench)
    press(bench, K.Key_T, CTRL)
    click(bench, 900, 150)
    press(bench, K.Key_Return)  # the rest as they were
    assert now(bench).joint[group].order == (3, 1, 2)
    press(bench, K.Key_T, CTRL)
    click(bench, 500, 150)
    press(bench, K.Key_Escape)
    assert now(bench).joint[group].order == (3, 1, 2) and bench.log.recorder.selection.ordering is None
    press(bench, K.Key_Escape)
    click(bench, 1100, 700)
    press(bench, K.Key_R, CTRL)
    assert "two marks" in bench.log.echo.text()


# -- the other side

def test_marks_are_copied_to_the_other_side_of_the_same_state(bench, tmp_path):
    three_screws(bench)
    press(bench, K.Key_B, CTRL)
    assert "no other photograph of this state" in bench.log.echo.text()
    bench.log.states.side = "front"
    bench.log.states.add_file(photo_bytes(tmp_path / "front.jpg", 0x223344))
    bench.log.show_state(now(bench).views[0].id)
    press(bench, K.Key_B, CTRL)
    assert bench.log.states.view.side == "front"
    assert marked_at(bench, (1000, 150), (700, 150), (300, 150))  # the other way round
    assert now(bench).joints[0].count == 3  # the same screws, seen from behind
    bench.log.show_state(now(bench).views[0].id)
    press(bench, K.Key_B, CTRL)
    assert "all these marks already" in bench.log.echo.text()


# -- limits

def test_limits_are_entered_and_shown_at_the_act(bench):
    press(bench, K.Key_B)
    click(bench, 600, 300)
    press(bench, K.Key_C)
    click(bench, 300, 300)
    clips = bench.log.recorder.selection.thing
    press(bench, K.Key_L, CTRL)
    dialog = bench.log.limits
    for key, text in (("where", "left edge"), ("angle_deg", "0-20"), ("depth_mm", "3,5"), ("stop_mm", "8")):
        dialog.fields[key].setText(text)
    dialog.stop.setCurrentIndex(dialog.stop.findData(now(bench).views[0].marks[0].thing))
    dialog.write.click()
    limit = now(bench).joint[clips].ways[0].acts[-1].limits[0]
    assert limit == {"where": "left edge", "angle_deg": [0, 20], "depth_mm": [0, 3.5],
                     "keep_off": [{"thing": now(bench).views[0].marks[0].thing, "mm": 8}]}
    assert "angle 0 to 20°" in bench.log.thing.limits.text() and "keep 8" in bench.log.thing.limits.text()
    bench.log.thing.enter_limits.click()
    dialog = bench.log.limits
    assert dialog.fields["depth_mm"].text() == "0-3.5"
    dialog.which.setCurrentIndex(1)  # another place
    dialog.fields["where"].setText("right edge")
    dialog.write.click()
    assert len(now(bench).joint[clips].ways[0].acts[-1].limits) == 2
    bench.log.thing.enter_limits.click()
    bench.log.limits.take_off.click()
    assert [one["where"] for one in now(bench).joint[clips].ways[0].acts[-1].limits] == ["right edge"]
    assert bench.session.undo_label.code == "limits"


@pytest.mark.parametrize(("key", "text"), [("angle_deg", "120"), ("angle_deg", "-3"), ("depth_mm", "abc"),
                                           ("temp_c", "70-60"), ("hold_s", "1e99"), ("lift_mm", "nan"),
                                           ("stop_mm", "5"), ("depth_mm", "9" * 10_000)])
def test_bad_limits_get_a_message_and_change_nothing(bench, key, text):
    press(bench, K.Key_C)
    click(bench, 300, 300)
    before = now(bench)
    press(bench, K.Key_L, CTRL)
    dialog = bench.log.limits
    dialog.fields[key].setText(text)
    dialog.write.click()
    assert dialog.problem.text() and dialog.isVisible() and now(bench) is before
    dialog.close()


def test_limits_need_a_joint_in_hand(bench):
    press(bench, K.Key_L, CTRL)
    assert "Choose the joint" in bench.log.echo.text()


def test_spans_and_sides_are_read_as_people_write_them():
    assert read_span("0-20") == (0, 20) and read_span(" 3,5 ") == (0, 3.5) and read_span("60–70") == (60, 70)
    assert read_sides("85.6 x 54") == (85.6, 54) and read_sides("10,5x4 mm") == (10.5, 4) and read_sides(" ") is None
    assert read_rounds("3 x 0:10") == (3, 10) and read_rounds("90") == (1, 90)
    for read, text in ((read_span, ""), (read_span, "5-"), (read_sides, "85.6"), (read_sides, "0 x 4"),
                       (read_rounds, "0 x 5"), (read_rounds, "x"), (read_rounds, "100 x 1")):
        with pytest.raises(ValueError):
            read(text)


# -- protections and portraits

def test_a_protection_lies_on_what_is_in_hand(bench):
    press(bench, K.Key_B)
    click(bench, 600, 300)
    plug = bench.log.recorder.selection.thing
    bench.menus.records._aids["dummy plug"].trigger()
    assert [f.others for f in left_on(now(bench))] == [("dummy plug", plug)]
    assert bench.log.canvas.pins[0].text.endswith("+ dummy plug")
    bench.menus.records._show_aids()
    assert bench.menus.records._aids["dummy plug"].isChecked()
    bench.log.choose("")
    bench.menus.records._show_aids()
    assert not bench.menus.records._aids["dummy plug"].isChecked()  # nothing of it lies on the device as such
    bench.log.choose(plug)
    bench.menus.records._aids["dummy plug"].trigger()
    assert left_on(now(bench)) == [] and "+" not in bench.log.canvas.pins[0].text


def test_a_portrait_that_cannot_be_kept_is_said_and_changes_nothing(bench, monkeypatch):
    def full(*_):
        raise Refusal("one.oddbolt", "not-written", error="disk full")

    monkeypatch.setattr(bench.session, "take_photo", full)
    before, shown = now(bench), bench.log.states.shown
    bench.log.states.portrait("base")
    assert "disk full" in bench.log.echo.text() and now(bench) is before and bench.log.states.shown == shown
    monkeypatch.undo()
    monkeypatch.setattr(type(bench.log.states.camera), "photograph", lambda _camera, _side: b"no picture")
    bench.log.states.portrait("base")
    assert "not a photograph" in bench.log.echo.text() and now(bench) is before


# -- clocks

def test_countdowns_go_on_after_the_window_was_closed(bench, tmp_path, clock):
    clocks = bench.log.clocks
    clocks.what.setCurrentText("Roller")
    clocks.minutes.setCurrentText("3 x 0:10")
    clocks.start.click()
    clocks.minutes.setCurrentText("5:00")
    clocks.start.click()
    assert [(c.name, c.rounds) for c in clocks.countdowns] == [("Roller", 3), ("Timer", 1)]
    path = bench.session.path
    bench.close()
    clock.forward(15)
    again = Window(LIGHT)
    again.fill(Session(open_document(path, make_thumb, tmp_path), clock), tmp_path)
    again.show()
    clocks = again.log.clocks
    assert [(c.name, c.rounds, c.left_s(clock())) for c in clocks.countdowns] == [("Roller", 2, 5), ("Timer", 1, 285)]
    assert clocks.rings == 1 and "Roller: next round, 2 to go" in again.log.echo.text()
    clock.forward(20)
    clocks.tick()
    assert clocks.rings == 3 and clocks.countdowns[0].rung
    again.close()
    again.deleteLater()


def test_what_was_due_days_ago_is_gone(bench, tmp_path, clock):
    bench.log.clocks.count_down("", 60)
    path = bench.session.path
    bench.close()
    clock.forward(3 * 86400)
    again = Window(LIGHT)
    again.fill(Session(open_document(path, make_thumb, tmp_path), clock), tmp_path)
    assert again.log.clocks.countdowns == []
    again.close()
    again.deleteLater()


def test_seconds_of_the_last_act_are_written_down_later(bench):
    clocks = bench.log.clocks
    clocks.took.setText("24")
    clocks.write.click()
    assert "Nothing has been done" in clocks.problem.text()
    group = three_screws(bench)
    press(bench, K.Key_R)
    for wrong in ("", "soon", "-4", "nan"):
        clocks.took.setText(wrong)
        clocks.write.click()
        assert "like 24" in clocks.problem.text() and len(now(bench).log) == 1
    clocks.took.setText("1:05")
    QTest.keyClick(clocks.took, K.Key_Return)
    assert log_of(bench) == [("release", group), ("release", group)]
    assert now(bench).log[-1].seconds == 65 and now(bench).log[-1].amends == now(bench).log[0].id
    assert clocks.took.text() == "" and clocks.problem.text() == ""


# -- scale

def test_any_rectangle_sets_the_scale_and_its_plane_stays_with_the_document(bench, tmp_path, clock):
    press(bench, K.Key_Semicolon)
    measure = bench.log.measure
    measure.card.click()
    measure.known.setText("2 by 4")
    for corner in ((100, 100), (500, 100), (500, 300), (100, 300)):
        click(bench, *corner)
    assert "sides like" in bench.log.echo.text() and now(bench).views[0].plane is None
    measure.known.setText("40 x 20")
    for corner in ((100, 100), (500, 100), (500, 300), (100, 300)):
        click(bench, *corner)
    view = now(bench).views[0]
    assert view.mm_per_px == pytest.approx(0.1, rel=0.02) and view.plane is not None
    path = bench.session.path
    bench.close()
    with open_document(path, make_thumb, tmp_path) as document:
        assert document.teardown.views[0].plane.to_mm == view.plane.to_mm


def test_without_a_sheet_of_dots_there_is_a_message(bench):
    press(bench, K.Key_Semicolon)
    bench.log.measure.dots.click()
    wait_for(lambda: not bench.log.measure._jobs.is_running("dots"))
    assert "No sheet of dots" in bench.log.echo.text() and now(bench).views[0].plane is None


def test_the_sheet_of_dots_is_written_on_the_paper_chosen(bench, tmp_path, monkeypatch):
    target = tmp_path / "sheet.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(target), "PDF on Letter (*.pdf)"))
    bench.menus.actions["dots"].trigger()
    assert target.read_bytes().startswith(b"%PDF") and "check its ruler" in bench.log.echo.text()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "no" / "x.pdf"), ""))
    bench.menus.actions["dots"].trigger()
    assert "cannot be written" in bench.log.echo.text() and not (tmp_path / "no").exists()


# -- find alike, from another photograph

def test_marks_of_another_photograph_are_seeds_and_wrong_ones_are_remembered(bench, tmp_path):
    open_to_the_screws(bench)
    other = tmp_path / "other.jpg"
    other.write_bytes(bench.log.states.camera.photograph("back"))  # moved and lit differently, no marks
    bench.log.states.add_file(other)
    bench.log.choose("")
    assert bench.log.states.view.marks == () and bench.log.recorder.selection.group == ""
    press(bench, K.Key_I)
    alike = bench.log.alike
    wait_for(lambda: alike.is_proposing)
    assert len(alike.shown) >= 5 and any(abs(p.x - 191) < 12 and abs(p.y - 983) < 12 for p in alike.shown)
    refused = alike.shown[-1]
    score = refused.score
    alike.wrong.setChecked(True)
    click(bench, refused.x, refused.y)
    wait_for(lambda: not alike._jobs.is_running("look"))
    press(bench, K.Key_Escape)
    letter_again = bench.log.letters
    letter_again.choose(0)
    press(bench, K.Key_I)  # a new proposal: what was wrong before still counts
    wait_for(lambda: alike.is_proposing)
    now_there = [p for p in alike._found if abs(p.x - refused.x) < 6 and abs(p.y - refused.y) < 6]
    assert all(p.score < score * 0.6 for p in now_there)
    press(bench, K.Key_Escape)


def test_walking_to_another_photograph_puts_down_what_was_armed(bench):
    """P, N and a click on the strip; the camera's photograph of the present state keeps it, since the work goes on."""
    press(bench, K.Key_N)
    armed = bench.log.recorder
    for walk in (lambda: press(bench, K.Key_P), lambda: press(bench, K.Key_N),
                 lambda: bench.log.strip.chosen.emit(now(bench).views[0].id)):
        press(bench, K.Key_Z)
        assert armed.selection.kind is not None
        shown = bench.log.states.shown
        walk()
        wait_for(lambda before=shown: bench.log.states.shown != before)
        assert armed.selection.kind is None, "nobody marks on a photograph what was meant for another"
    press(bench, K.Key_Z)
    press(bench, K.Key_V)
    wait_for(lambda: len(now(bench).views) > 2)
    assert armed.selection.kind is not None


def test_a_kind_key_again_changes_the_type_and_says_so(bench):
    """Glue is pried, warmed or dissolved: the same key goes through them, and never unseen."""
    texts = []
    for type_ in (*mark_kinds()["glue"].types, "pry"):
        press(bench, K.Key_A)
        assert bench.log.recorder.selection.kind.type == type_
        texts.append(bench.log.echo.text())
    assert len(set(texts)) >= 3 and all(texts)


def test_a_click_beside_while_numbering_records_nothing(bench):
    letter(bench)
    press(bench, K.Key_1)
    for x in (200, 300, 400):
        click(bench, x, 300)
    joint = bench.log.recorder.selection.group
    press(bench, K.Key_Escape)
    bench.log.choose(joint)
    assert bench.log.gestures.make(Gesture.ORDER_UNDOING)
    before = now(bench)
    click(bench, 700, 600)
    assert now(bench) is before and len(now(bench).views[-1].marks) == 3
    assert bench.log.echo.text(), "it is said"
    press(bench, K.Key_R)
    assert now(bench) is before, "nor is anything released meanwhile"
    press(bench, K.Key_Escape)
    click(bench, 700, 600)
    assert now(bench) is before
