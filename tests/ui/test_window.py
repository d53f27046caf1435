"""The real window, driven with clicks and keys."""

from __future__ import annotations

import json

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMessageBox, QWidget

from oddbolt.model import exchange
from oddbolt.paint.pins import tag_box
from oddbolt.store.files import read_teardown
from oddbolt.ui.pieces.export_sheet import ExportSheet
from tests.ui_fixtures import blank_device, photo_bytes, settle, wait_for

LEFT = Qt.MouseButton.LeftButton


def click_photo(window, x, y):
    """A click at a place of the photograph."""
    canvas = window.log.canvas
    QTest.mouseClick(canvas.viewport(), LEFT, pos=canvas.mapFromScene(QPointF(x, y)))
    settle()


def press(window, key, modifier=Qt.KeyboardModifier.NoModifier):
    QTest.keyClick(window.log.canvas, key, modifier)
    settle()


def depth(window, part):
    """Steps that the list of depths shows for a part."""
    settle()
    depths = window.log.depths
    rows = [depths.topLevelItem(n) for n in range(depths.topLevelItemCount())]
    return next(row.text(1) for row in rows if row.data(0, Qt.ItemDataRole.UserRole) == part)


def log_of(window):
    return [(entry.do, entry.thing) for entry in window.session.teardown.log]


def test_a_short_teardown(make_window, clock):
    """Mark four screws, release, lift, undo, redo, next state; the depth changes, and all of it is on disk."""
    window = make_window()
    log = window.log
    log.show_state("v0")
    assert depth(window, "cell") == "2"
    log.letters.choose_part("cover")
    press(window, Qt.Key.Key_1)
    assert log.letters.letter == "A"
    for x, y in ((100, 100), (1100, 100), (1100, 700), (100, 700)):
        click_photo(window, x, y)
    joint = window.session.teardown.joints[-1]
    assert (joint.kind, joint.count, joint.of, joint.fastener, joint.basis) == (
        "screw", 4, ("cover", "tray"), "A", "assumed")
    marks = window.session.teardown.views[0].marks
    assert [(m.n, round(m.x / 100), round(m.y / 100)) for m in marks] == [(1, 1, 1), (2, 11, 1), (3, 11, 7), (4, 1, 7)]
    press(window, Qt.Key.Key_Escape)
    assert log.letters.letter == ""

    clock.forward(26)
    press(window, Qt.Key.Key_R)
    assert log_of(window) == [("release", joint.id)]
    assert window.session.teardown.log[0].t == 26
    assert window.figure.ledger.out == 4 and window.figure.ledger.odd == 4
    press(window, Qt.Key.Key_L)
    assert log_of(window)[-1] == ("remove", "cover")

    press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert log_of(window) == [("release", joint.id)]
    assert "Taken back: lift Cover" in log.echo.text()
    press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert log_of(window) == [] and window.figure.ledger.odd == 0
    press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert log_of(window) == [("release", joint.id), ("remove", "cover")]

    press(window, Qt.Key.Key_N)
    assert "State 2 of 2" in log.state.text()
    log.below.setCurrentIndex(0)
    assert log.performed.text().startswith("As performed: 1 step,")
    log.below.setCurrentIndex(1)
    log.letters.choose_part("cell")
    press(window, Qt.Key.Key_2)
    click_photo(window, 600, 400)
    assert depth(window, "cell") == "2 → 3"  # a screw of another tool holds the cell as well
    assert log.depths.topLevelItem(1).toolTip(1) .startswith("proven")
    path = window.session.path
    window.close()
    assert [(e.do, e.thing) for e in read_teardown(path).log] == [("release", joint.id), ("remove", "cover")]


def test_a_mark_is_chosen_moved_and_taken_away(make_window):
    window = make_window()
    window.log.show_state("v0")
    window.log.letters.choose_part("cover")
    press(window, Qt.Key.Key_1)
    click_photo(window, 300, 300)
    click_photo(window, 500, 300)
    press(window, Qt.Key.Key_Escape)
    canvas = window.log.canvas
    click_photo(window, 900, 600)  # beside all marks: nothing is chosen
    assert window.log.thing.name.text() == "Nothing chosen"
    click_photo(window, 300, 300)
    assert window.log.thing.name.text() == "Cover, A" and "2 A PH00" in window.log.thing.holds.text()
    start, end = canvas.mapFromScene(QPointF(500, 300)), canvas.mapFromScene(QPointF(700, 350))
    QTest.mousePress(canvas.viewport(), LEFT, pos=start)
    QTest.mouseMove(canvas.viewport(), start + QPoint(12, 6))
    QTest.mouseMove(canvas.viewport(), end)
    QTest.mouseRelease(canvas.viewport(), LEFT, pos=end)
    moved = window.session.teardown.views[0].marks[1]
    assert abs(moved.x - 700) < 6 and abs(moved.y - 350) < 6
    press(window, Qt.Key.Key_Delete)
    assert len(window.session.teardown.views[0].marks) == 1
    assert window.session.undo_label.code == "unmark"


def test_a_new_group_begins_when_asked_or_when_letter_or_part_change(make_window):
    window = make_window()
    window.log.show_state("v0")
    window.log.letters.choose_part("cover")
    press(window, Qt.Key.Key_1)
    click_photo(window, 100, 100)
    press(window, Qt.Key.Key_G)
    click_photo(window, 200, 100)
    press(window, Qt.Key.Key_2)
    click_photo(window, 300, 100)
    window.log.letters.choose_part("cell")
    click_photo(window, 400, 100)
    made = [(j.of[0], j.fastener, j.count) for j in window.session.teardown.joints[1:]]
    assert made == [("cover", "A", 1), ("cover", "A", 1), ("cover", "B", 1), ("cell", "B", 1)]


def test_an_act_against_the_record_asks_once_and_is_recorded_the_second_time(make_window):
    window = make_window()
    window.log.choose("glue")
    assert "Still behind Cover" in window.log.thing.holds.text()
    press(window, Qt.Key.Key_R)
    assert log_of(window) == [] and "Press again" in window.log.echo.text()
    press(window, Qt.Key.Key_R)
    assert log_of(window) == [("release", "glue")]
    press(window, Qt.Key.Key_R)
    assert len(log_of(window)) == 1 and "already" in window.log.echo.text()


def test_cautions_stand_at_the_act_they_belong_to(demo):
    demo.log.choose("battery")
    assert demo.log.thing.caution.isVisible() and "Lithium cell" in demo.log.thing.caution.text()
    demo.log.choose("cell-glue")
    assert "Solvent" in demo.log.thing.caution.text() and "12 °C" in demo.log.thing.caution.text()
    demo.log.choose("motor-screw")
    assert not demo.log.thing.caution.isVisible()


def test_the_way_chosen_is_the_way_recorded(make_window):
    window = make_window()
    window.log.choose("cover")
    press(window, Qt.Key.Key_L)
    window.log.choose("glue")
    way = window.log.thing.way
    assert way.isVisible() and [way.itemData(n) is None for n in range(way.count())].count(True) == 2
    window.log.thing.way.setCurrentIndex(1)
    press(window, Qt.Key.Key_R)
    assert window.session.teardown.log[-1].way == 1 and window.session.teardown.log[-1].tool == "tweezers"


def test_the_next_photo_at_the_end_is_a_new_state(make_window, tmp_path):
    new = photo_bytes(tmp_path / "new.jpg", 0x884422)
    window = make_window(choose_photo=lambda: new)
    assert "State 2 of 2" in window.log.state.text()
    window.log.choose("cover")
    press(window, Qt.Key.Key_L)
    press(window, Qt.Key.Key_N)
    view = window.session.teardown.views[-1]
    assert view.photo == "new.jpg" and view.at_entry == window.session.teardown.log[-1].id
    assert window.session.document.photo("new.jpg") == new.read_bytes()
    press(window, Qt.Key.Key_N)  # the same file again gets a name of its own
    assert window.session.teardown.views[-1].photo == "new-2.jpg"
    press(window, Qt.Key.Key_P)
    assert "State 3 of 4" in window.log.state.text()


@pytest.mark.parametrize("kind", ["missing", "text"])
def test_a_photo_that_cannot_be_read_changes_nothing(make_window, tmp_path, kind):
    path = tmp_path / "bad.jpg"
    if kind == "text":
        path.write_text("not a photograph")
    window = make_window(choose_photo=lambda: path)
    press(window, Qt.Key.Key_N)
    assert len(window.session.teardown.views) == 2 and str(path) in window.log.echo.text()


def test_a_device_without_photographs_says_what_to_do(make_window):
    data = blank_device()
    data["views"] = []
    window = make_window(data)
    assert "Press N" in window.log.echo.text()
    press(window, Qt.Key.Key_R)
    assert log_of(window) == []


# -- opening

BROKEN = {
    "empty": b"", "binary": bytes(range(256)), "deep": b"[" * 100_000, "nan": b'{"format": NaN}',
    "infinite": b'{"format": "oddbolt-teardown", "device": {"base": "b", "mass_g": 1e999}}',
}


@pytest.mark.parametrize("kind", [*BROKEN, "folder", "missing", "bad-id", "newer"])
def test_a_refused_file_leaves_the_open_document_untouched(make_window, tmp_path, kind):
    window = make_window()
    before = window.session.teardown
    path = tmp_path / "refused.json"
    data = blank_device()
    if kind == "folder":
        path.mkdir()
    elif kind == "bad-id":
        data["joints"][0]["of"][1] = "nothing"
        path.write_text(json.dumps(data))
    elif kind == "newer":
        data["version"] = 7
        path.write_text(json.dumps(data))
    elif kind != "missing":
        path.write_bytes(BROKEN[kind])
    assert window.files.open_path(path) is False
    assert window.session.teardown is before
    assert isinstance(window.message, QMessageBox) and window.message.isVisible()
    text = window.message.informativeText()
    assert str(path) in text and "Traceback" not in text
    if kind == "bad-id":
        assert "$.joints[0].of[1]" in text
    window.message.close()
    window.log.choose("cover")
    press(window, Qt.Key.Key_L)
    assert log_of(window) == [("remove", "cover")]


def test_another_file_takes_the_place_of_the_open_one(make_window, tmp_path, example):
    window = make_window()
    (tmp_path / "radio.json").write_text(json.dumps(example))
    assert window.files.open_path(tmp_path / "radio.json")
    assert window.device.text() == "Bench radio"
    window.log.below.setCurrentIndex(0)
    assert window.log.running.model().rowCount() == 3
    assert "not in the document" in window.log.echo.text()  # its photograph did not come with it


def test_export_writes_what_was_recorded(make_window, tmp_path, monkeypatch):
    window = make_window()
    window.log.choose("cover")
    press(window, Qt.Key.Key_L)
    target = tmp_path / "out.json"
    asked = []
    monkeypatch.setattr("oddbolt.ui.files.QFileDialog.getSaveFileName", lambda *_: (str(tmp_path / "out"), ""))

    def answer():
        sheet = next(one for one in QApplication.topLevelWidgets() if isinstance(one, ExportSheet) and one.isVisible())
        asked.append(sheet.leave_out())
        sheet.boxes["author"].setChecked(len(asked) > 1)
        sheet.go.click()

    QTimer.singleShot(0, answer)
    window.files.ask_export()  # the suffix is added, and what goes out is asked once
    assert asked == [("place", "author", "serials")] and "out.json" in window.log.echo.text()
    assert exchange.loads(target.read_bytes()).log[0].thing == "cover"
    assert (tmp_path / "out.photos" / "v0.jpg").exists()


# -- Access and Verdict

def test_the_section_of_the_demo(demo):
    QTest.keyClick(demo, Qt.Key.Key_6, Qt.KeyboardModifier.AltModifier)
    assert demo.stack.currentWidget() is demo.access
    demo.access.show_part("battery")
    words = demo.access.words.toPlainText()
    assert "Cell" in words and "5 steps, proven" in words and "makes the device safe" in words
    assert "renew" in words and "lithium" in words
    assert "do not bend" in words and "licensed practice come first" in words
    view = demo.access.section
    QTest.keyClick(view, Qt.Key.Key_Right)
    assert demo.access.words.toPlainText() != words
    demo.access.show_part("strap-lug")
    assert "Strap lug" in demo.access.words.toPlainText()
    column = [c.part for c in demo.access._columns].index("front-camera")
    view._choose(column)
    assert "assumed" in demo.access.words.toPlainText()
    demo.access.copy.click()
    assert QApplication.clipboard().text() == demo.access.words.toPlainText()
    demo.access._scope_chosen(0)
    assert "strap-lug" not in [c.part for c in demo.access._columns]


def test_a_click_chooses_a_column(demo):
    demo.show_workspace("access")
    settle()
    view = demo.access.section
    box = view._picture.column_box(3)
    QTest.mouseClick(view, LEFT, pos=box.center().toPoint())
    assert view.chosen == 3
    assert demo.access._columns[3].part == demo.access._part


def test_layers_of_a_column_are_its_plan_and_do_not_overlap(demo):
    demo.show_workspace("access")
    settle()
    picture = demo.access.section._picture
    for n, column in enumerate(demo.access._columns):
        mine = [p for p in picture.placed if p.node.first <= n <= p.node.last]
        things = [thing for p in mine for thing in p.node.layer.things]
        assert things == [t.operation.part or t.operation.joint for t in column.count.timed]
        for upper, lower in zip(mine, mine[1:]):
            assert upper.box.bottom() <= lower.box.top()
        assert column.count.steps == column.plan.count.steps and not column.count.obstacles


def test_a_depth_row_leads_to_its_section(demo):
    wait_for(lambda: demo.log.depths.topLevelItemCount() > 1)
    item = demo.log.depths.topLevelItem(1)
    demo.log.depths.itemActivated.emit(item, 0)
    assert demo.stack.currentWidget() is demo.access and demo.access._part == "battery"


def test_the_demo_is_what_the_issue_asks(demo):
    teardown = demo.session.teardown
    assert len(teardown.parts) >= 40 and len(teardown.joints) >= 40 and len(teardown.fasteners) == 6
    assert {view.side for view in teardown.views} == {"back", "front"} and len(teardown.views) >= 8
    kinds = {joint.type for joint in teardown.joints if joint.kind == "connector"}
    assert {"board-to-board", "zif", "coaxial"} <= kinds
    assert {"contact", "swing", "film", "routing"} <= {joint.kind for joint in teardown.joints}
    assert any(entry.do == "incident" for entry in teardown.log)
    assert sum(entry.do == "reach" for entry in teardown.log) >= 5
    assert all(plan.optimal for plan in (demo.session.derived.planner.plan([part])
                                         for part in demo.session.derived.planner.structure.removals))
    document = demo.session.document
    assert all(document.photo(view.photo) for view in teardown.views)
    wait_for(lambda: all(document.thumb(view.photo) for view in teardown.views))  # made after the window is there


# -- manners

def test_every_control_has_a_name_and_can_be_reached(demo):
    for name, tab in (("prepare", 0), ("log", 0), ("parts", 0), ("parts", 1), ("parts", 2), ("bolts", 0), ("bolts", 1),
                      ("bolts", 2), ("bolts", 3), ("sequence", 0), ("access", 0), ("verdict", 0)):
        demo.show_workspace(name)
        if name in ("parts", "bolts"):
            getattr(demo, name).tabs.setCurrentIndex(tab)
        settle()
        for widget in demo.findChildren(QWidget):
            if widget.isVisible() and widget.focusPolicy() & Qt.FocusPolicy.TabFocus and widget.isEnabled() \
                    and not widget.objectName().startswith("qt_"):
                named = widget.accessibleName() or getattr(widget, "text", lambda: "")() or widget.toolTip()
                assert named, f"{widget} in {widget.parent()}"


def test_help_keys_and_about_wait_for_nobody(demo):
    demo.help.show_keys()
    assert demo.help.manual.isVisible() and "release" in demo.help.manual.page.toPlainText()
    demo.help.manual.close()
    demo.help.show_about()
    assert "Open Font" in demo.message.informativeText()
    demo.message.close()


def test_zoom_keeps_marks_their_size_and_0_fits_again(make_window):
    window = make_window()
    canvas = window.log.canvas
    before = canvas.transform().m11()
    canvas.setFocus()
    QTest.keyClick(canvas, Qt.Key.Key_Plus)
    assert canvas.transform().m11() > before
    QTest.keyClick(canvas, Qt.Key.Key_0)
    assert abs(canvas.transform().m11() - before) < 1e-6


def test_a_picture_of_the_window_can_be_saved(make_window, tmp_path):
    window = make_window()
    window.save_picture(tmp_path / "shot.png")
    assert (tmp_path / "shot.png").read_bytes().startswith(b"\x89PNG")


def test_tags_on_the_photograph_cover_no_other_tag(demo):
    """On the fullest state of the demo, at the usual size: every letter has a place of its own."""
    demo.log.show_state("s1-back")
    QTest.qWait(200)
    canvas = demo.log.canvas
    scale = canvas.transform().m11()
    corners = canvas._sprites.free_corners(canvas.pins, scale, canvas.font())
    screws = [corner for pin, corner in zip(canvas.pins, corners) if pin.kind == "screw"]
    assert len(screws) == 32 and all(screws)  # the others lie under brackets, films and the board
    sprites, font = canvas._sprites, canvas.font()
    tags = [(pin, tag_box(QPointF(pin.x * scale, pin.y * scale), corner, sprites.tag_width(pin, font)))
            for pin, corner in zip(canvas.pins, corners) if corner]
    crossing = [(one.text, other.text) for n, (one, a) in enumerate(tags) for other, b in tags[:n] if a.intersects(b)]
    assert all(len(one) == 1 or len(other) == 1 for one, other in crossing), "names give way to each other"
    assert len(crossing) <= 5, "letters never give way; few have no room"
