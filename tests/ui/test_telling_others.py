"""Compare, Report and the shelf through the real window: chosen, dragged, ticked, written, tagged, opened."""

from __future__ import annotations

import csv
import json
import os
import shutil
import sqlite3

import pypdfium2
import pytest
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt
from PySide6.QtGui import QDropEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from oddbolt.comparing.facts import differences
from oddbolt.comparing.matching import matched
from oddbolt.session.documents import DEMOS, open_demo
from oddbolt.session.shelf import shelf
from oddbolt.store.document import Document
from oddbolt.store.matches import matches_path, read_matches
from oddbolt.store.shelf.cards import DAMAGED, LOCKED, OPEN, UNREADABLE, WHOLE, first_look
from oddbolt.store.shelf.chosen import read_chosen
from oddbolt.store.shelf.index import index_path
from oddbolt.ui.compare.matching_page import MIME, THING
from oddbolt.ui.report.writing import FORMS
from oddbolt.ui.rooms import KEYS, ROOMS
from tests.ui.log_steps import K
from tests.ui_fixtures import settle, wait_for

FORM = {form.code: form for form in FORMS}


@pytest.fixture(autouse=True)
def own_folders(monkeypatch, tmp_path):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "xdg-data"))
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "xdg-cache"))


@pytest.fixture
def two(demo, tmp_path):
    """Compare with the field camera as two analysts recorded it."""
    demo.session.switch_to(open_demo(tmp_path / "camera", "curlew"))
    demo.compare.add_demo("curlew-2")
    demo.show_workspace("compare")
    found(demo.compare)
    return demo


def found(compare):
    """All that is looked for has been found."""
    settle()
    wait_for(lambda: not compare.is_finding and compare.depths.rows)


def made(report):
    settle()
    wait_for(lambda: report.made is not None and not report.is_making)


# -- the rail

def test_each_room_has_its_key_and_the_rail_is_whole_at_700(demo):
    demo.resize(1024, 700)
    for name in ROOMS:
        word = KEYS[name].removeprefix("Alt+")
        QTest.keyClick(demo, getattr(K, f"Key_{word}"), Qt.KeyboardModifier.AltModifier)
        settle()
        assert demo.stack.currentWidget() is demo.built[name]
    buttons = demo._rail.buttons()
    assert len(buttons) == len(ROOMS) == 12
    rail = buttons[0].parentWidget()
    tops = [button.geometry() for button in buttons]
    assert all(box.bottom() <= rail.height() for box in tops)
    assert all(a.bottom() <= b.top() for a, b in zip(tops, tops[1:]))


def test_while_nothing_is_open_the_shelf_is_there_and_the_others_are_not(demo):
    demo.files.close()
    settle()
    enabled = [name for n, name in enumerate(ROOMS) if demo._rail.button(n).isEnabled()]
    assert enabled == ["shelf", "prepare"]
    demo.show_workspace("shelf")
    assert demo.stack.currentWidget() is demo.built["shelf"]
    wait_for(lambda: demo.shelf.is_done)
    demo.show_workspace("report")
    assert demo.stack.currentWidget() is demo.built["prepare"]


# -- compare

def test_what_is_pointed_at_is_chosen_everywhere(two):
    page = two.compare.depths
    row = next(n for n in range(page.table.rowCount()) if page.table.item(n, 0).text() == "Rear camera")
    page.table.setCurrentCell(row, 0)
    assert page.chart.role == "rear_camera" and "Caution label over a screw" in page.why.text()
    point = next(n for n, one in enumerate(page.chart._chart.points) if one.role == "battery")
    QTest.mouseMove(page.chart, page.chart.picture.place(page.chart._chart.points[point]).toPoint())
    settle()
    assert page.table.item(page.table.currentRow(), 0).text() == "Battery"
    assert "Battery" in page.chart.said() and "steps" in page.chart.said()
    page.chart.setFocus()
    QTest.keyClick(page.chart, K.Key_Right)
    assert page.chart.point != point


def test_all_pages_are_filled(two):
    compare = two.compare
    texts = {compare.made_with.table.item(n, 0).text(): [compare.made_with.table.item(n, m).text() for m in (1, 2)]
             for n in range(compare.made_with.table.rowCount())}
    assert texts["Bolts"] == ["24", "23"] and texts["Joints destroyed"] == ["1", "0"]
    assert texts["Bolt PH0 M2 x 5"] == ["12", "11"] and "class" in texts["House rubric"][0]
    assert [name for name, _ in compare.strata.strata.pictures] == ["Curlew (W. Ansel)", "Curlew (M. Ferring)"]
    tops = {round(picture.placed[0].box.top(), 3) for _, picture in compare.strata.strata.pictures}
    assert len(tops) == 1  # one surface, one scale
    assert any("tau-b 0.80" in compare.analysts.agreement.item(n).text() for n in range(
        compare.analysts.agreement.count()))


def test_a_match_is_set_right_by_dragging_and_kept_beside_the_record(two):
    page = two.compare.matching
    two.compare.tabs.setCurrentWidget(page)
    settle()

    def row(name):
        return next(page.ours.topLevelItem(n) for n in range(page.ours.topLevelItemCount())
                    if page.ours.topLevelItem(n).text(0) == name)

    item = row("Lens module")
    page.ours.scrollToItem(item)
    assert item.text(1) == "Objective"
    data = QMimeData()
    data.setData(MIME, b"display")
    spot = QPointF(page.ours.visualItemRect(item).center())
    page.ours.dropEvent(QDropEvent(spot, Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton,
                                   Qt.KeyboardModifier.NoModifier))
    found(two.compare)
    assert row("Lens module").text(1) == "Display" and row("Lens module").font(1).bold()
    assert read_matches(two.session.path)["curlew-2.json"].parts == {"lens": "display"}
    page.ours.setCurrentItem(row("Lens module"))
    QTest.keyClick(page.ours, K.Key_Delete)
    found(two.compare)
    assert row("Lens module").text(1) == "–"
    page.ours.setCurrentItem(row("Lens module"))
    theirs = [page.theirs.item(n) for n in range(page.theirs.count())]
    page.theirs.setCurrentItem(next(item for item in theirs if item.data(THING) == "objective"))
    QTest.keyClick(page.ours, K.Key_Return)
    found(two.compare)
    assert row("Lens module").text(1) == "Objective"
    page.ours.setCurrentItem(row("Lens module"))
    QTest.keyClick(page.ours, K.Key_Backspace)
    found(two.compare)
    assert not matches_path(two.session.path).exists() and not row("Lens module").font(1).bold()


def test_a_part_stands_for_a_part_only(two):
    page = two.compare.matching
    page._match("lens", "door-screws")
    assert "A part stands for a part" in two.compare.echo.text()
    assert not matches_path(two.session.path).exists()


def test_which_records_are_compared_is_kept_with_the_document(two, tmp_path):
    path = two.session.path
    two.session.switch_to(open_demo(tmp_path))
    assert two.compare.others() == []
    two.session.switch_to(Document.open(path))
    found(two.compare)
    assert [record.sessions[0].by for record in two.compare.others()] == ["M. Ferring"]
    two.compare.records.setCurrentRow(1)
    two.compare.take_away.click()
    found(two.compare)
    assert two.compare.others() == [] and not two.compare.tabs.isTabEnabled(4)


def test_six_records_at_most_and_variants_of_one(demo):
    demo.show_workspace("compare")
    demo.compare._fill_variants()
    variants = [action.text() for action in demo.compare.variants.actions()]
    assert variants
    demo.compare.add_record(demo.session.path, variants[0])
    assert demo.compare.others()[0].device.variant == variants[0]
    for _ in range(5):
        demo.compare.add_demo("dunlin-3")
    assert len(demo.compare.others()) == 5 and "Six records at most" in demo.compare.echo.text()
    found(demo.compare)
    assert demo.compare.depths.table.columnCount() == 7


def test_a_merged_record_takes_what_was_ticked(two, tmp_path, monkeypatch):
    page = two.compare.analysts
    two.compare.tabs.setCurrentWidget(page)
    page.merge.click()
    assert "Tick what is to be taken over" in two.compare.echo.text()
    rows = [page.tree.topLevelItem(n) for n in range(page.tree.topLevelItemCount())]
    wanted = next(item for item in rows if (item.text(0), item.text(1)) == ("Main board screws", "number"))
    assert wanted.text(2) == "4" and wanted.text(3) == "3"
    page.tree.setCurrentItem(wanted)
    assert page.here._picture.marks and page.there._picture.marks  # both photographs
    wanted.setCheckState(0, Qt.CheckState.Checked)
    target = tmp_path / "both.oddbolt"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(target), ""))
    page.merge.click()
    assert "1 facts taken over" in two.compare.echo.text()
    with Document.open(target) as document:
        one, other = two.session.teardown, two.compare.others()[0]
        left = differences(document.teardown, other, matched(document.teardown, other))
        assert len(left) == len(differences(one, other, matched(one, other))) - 1
        assert document.teardown.joint["board-screws"].count == 3
        assert document.photo_names() == two.session.document.photo_names()
        document.undo()
        assert document.teardown.joint["board-screws"].count == 4
    page.merge.click()  # there is a file already: nothing is replaced
    assert "Nothing was made" in two.compare.echo.text()


# -- ways told

def test_a_way_is_told_by_tapping_typing_and_dragging_and_can_be_undone(two):
    page = two.compare.told
    two.compare.tabs.setCurrentWidget(page)
    settle()
    wait_for(lambda: page.held is not None)
    assert "Too good: as told it would be 3 steps" in page.verdict.text()
    page.new.click()
    settle()
    assert len(two.session.teardown.told) == 2 and page.told.things == ()
    page.part.setCurrentIndex(page.part.findData("cell"))
    page.part.activated.emit(page.part.currentIndex())
    settle()
    page.view.setCurrentIndex(1)
    page.view.activated.emit(1)
    view = two.session.teardown.view[page.view.currentData()]
    for thing in ("cell-plug", "tray-screws"):
        mark = next(mark for mark in view.marks if mark.thing == thing)
        QTest.mouseClick(page.photo, Qt.MouseButton.LeftButton, pos=page.photo.spot(mark).toPoint())
        settle()
    QTest.keyClicks(page.add, "cell pad")
    QTest.keyClick(page.add, K.Key_Return)
    settle()
    assert page.told.things == ("cell-plug", "tray-screws", "cell-pad") and page.told.part == "cell"
    wait_for(lambda: page.held is not None and page.held.told == page.told)
    assert "Left out" in page.verdict.text() and "Door screws" in page.verdict.text()
    page.things.setCurrentRow(0)
    QTest.keyClick(page.things, K.Key_Delete)
    settle()
    assert page.told.things == ("tray-screws", "cell-pad")
    two.undo()
    settle()
    assert page.told.things == ("cell-plug", "tray-screws", "cell-pad")
    QTest.keyClicks(page.add, "no such thing")
    QTest.keyClick(page.add, K.Key_Return)
    assert "Nothing on record is called" in page.verdict.text()
    page.by.setText("A learner")
    page.by.editingFinished.emit()
    settle()
    assert two.session.teardown.told[1].by == "A learner"
    page.delete.click()
    settle()
    assert len(two.session.teardown.told) == 1


# -- the report

def test_the_preview_shows_what_is_ticked_and_is_written_as_it_is_seen(demo, tmp_path):
    report = demo.report
    demo.show_workspace("report")
    made(report)
    whole = report.preview.sheets.number
    assert whole > 40 and f"of {whole}" in report.where.text()
    report.sections.tick(("device", "section"))
    made(report)
    assert 1 < report.preview.sheets.number < 6
    report.go_to("section")
    assert report.preview.sheet == report.made.laid.begins["section"] == 2
    report.preview.setFocus()
    QTest.keyClick(report.preview, K.Key_Home)
    assert report.preview.sheet == 1
    for code in ("pdf", "html", "csv", "svg", "graphml", "json"):
        form = FORM[code]
        path = tmp_path / f"out{form.suffix}"
        report.write_to(path, form)
        wait_for(lambda path=path: "Written to" in report.echo.text() and path.name in report.echo.text())
    assert len(pypdfium2.PdfDocument(tmp_path / "out.pdf")) == report.preview.sheets.number
    with (tmp_path / "out-tables" / "depths.csv").open(newline="") as file:
        assert {row["part"] for row in csv.DictReader(file)} >= {"battery", "display"}
    assert json.loads((tmp_path / "out.json").read_text())["device"]["name"] == "Dunlin 2"
    report.write_to(tmp_path / "out-tables", FORM["csv"])
    wait_for(lambda: "Nothing was written" in report.echo.text())


def test_short_leaves_one_sheet_and_left_out_leaves_no_name(demo):
    report = demo.report
    demo.show_workspace("report")
    report.short.click()
    made(report)
    assert report.preview.sheets.number == 1 and not report.sections.isEnabled()
    report.short.click()
    report.sections.tick(("cover", "device"))
    report.leave_out["author"].click()
    made(report)
    texts = " ".join(getattr(block, "text", "") for block in report.made.report.page.blocks)
    assert "Ansel" not in texts and "Dunlin 2" in texts
    report.none.click()
    assert "Nothing is ticked" in report.echo.text() and not report.write.isEnabled()
    report.all.click()
    made(report)
    assert report.write.isEnabled()


def test_the_report_follows_the_record_and_the_records_beside_it(demo):
    from oddbolt.session.verbs.parts import set_parts

    report = demo.report
    demo.show_workspace("report")
    report.sections.tick(("comparison", "parts"))
    made(report)
    assert "Beside: choose records" in report.beside.text()
    demo.compare.add_demo("dunlin-3")
    settle()
    made(report)
    assert "Dunlin 3" in report.beside.text() and "chart" in report.made.report.drawings
    demo.session.do(set_parts, ["battery"], name="Renamed cell")
    made(report)
    assert "Renamed cell" in str(report.made.report.page)


def test_what_is_being_made_can_be_given_up(demo):
    report = demo.report
    demo.show_workspace("report")
    settle()
    assert report.is_making and not report.progress.isHidden() and not report.cancel.isHidden()
    report.cancel.click()
    settle()
    assert not report.is_making and report.progress.isHidden() and "Given up" in report.echo.text()
    report.sections.tick(("device",))
    made(report)
    assert report.made is not None


# -- the shelf

@pytest.fixture
def boards(tmp_path):
    """A folder of its own with every kind of file."""
    folder = tmp_path / "boards"
    folder.mkdir()
    for name in DEMOS:
        open_demo(folder / "made", name).close()
    paths = sorted((folder / "made" / "demo").iterdir())
    for path, name in zip(paths, ("bittern", "curlew", "dunlin-2")):
        path.rename(folder / f"{name}.oddbolt")
    shutil.rmtree(folder / "made")
    (folder / "cut.oddbolt").write_bytes((folder / "curlew.oddbolt").read_bytes()[:9000])
    (folder / "text.oddbolt").write_text("no document")
    (folder / "notes.json").write_text('{"a": 1}')
    (folder / "broken.json").write_text('{"format": "oddbolt-teardown", ')
    (folder / "sub").mkdir()
    (folder / "sub" / "own.json").write_text(json.dumps({"format": "oddbolt-teardown", "device": {
        "base": "b", "name": "Teal", "category": "other"}, "parts": [{"id": "b"}]}))
    (folder / ".hidden.oddbolt").write_bytes(b"x")
    return folder


def test_a_first_look_never_raises_and_says_what_is_wrong(boards):
    states = {path.name: first_look(path).state for path in boards.iterdir() if path.is_file()}
    assert states["curlew.oddbolt"] == WHOLE and states["text.oddbolt"] == DAMAGED
    assert states["cut.oddbolt"] in (DAMAGED, UNREADABLE) and states["broken.json"] == DAMAGED
    card = first_look(boards / "curlew.oddbolt")
    assert (card.name, card.category, card.date, card.by) == ("Curlew", "camera", "2026-06-02", "W. Ansel")
    with Document.open(boards / "bittern.oddbolt"):
        assert first_look(boards / "bittern.oddbolt").state == LOCKED
    assert first_look(boards / "bittern.oddbolt").state == WHOLE
    for path in (boards / "nothing.oddbolt", boards / "sub", boards):
        assert first_look(path).state == UNREADABLE


def cards(folder, **keys):
    *_, last = shelf([folder], lambda body: b"", **keys)
    return last


def test_the_shelf_knows_what_it_has_seen_and_sees_what_is_new(boards, tmp_path, app):
    at = tmp_path / "index.sqlite"
    found_ = cards(boards, at=at)
    assert {path.split("/")[-1] for path in found_.cards} == {
        "bittern.oddbolt", "curlew.oddbolt", "dunlin-2.oddbolt", "cut.oddbolt", "text.oddbolt", "broken.json",
        "own.json"}
    camera = found_.cards[str(boards / "curlew.oddbolt")]
    assert camera.is_examined and camera.odd == 24 and camera.findings == 1 and camera.classes == ("fair",)
    assert {one.role: one.steps for one in camera.reaches}["rear_camera"] == 6
    first = next(iter(shelf([boards], lambda body: b"", at=at)))
    assert first.cards[camera.path] == camera and first.is_done
    with sqlite3.connect(boards / "curlew.oddbolt") as db:
        db.execute("UPDATE record SET body = '[' WHERE section = 'device'")
    db.close()
    assert cards(boards, at=at).cards[camera.path].state == DAMAGED
    at.write_bytes(b"no index any more")
    assert cards(boards, at=at).cards[str(boards / "bittern.oddbolt")].is_examined  # thrown away, and made anew
    assert next(iter(shelf([boards], lambda body: b"", at=at))).cards[str(boards / "bittern.oddbolt")].is_examined


def test_search_sort_filter_tag_and_open(demo, boards):
    panel = demo.shelf
    demo.show_workspace("shelf")
    panel.add_folder(str(boards))
    wait_for(lambda: panel.is_done and len(panel.wall.cards.cards) > 6)

    def names():
        return [card.name for card in panel.wall.cards.cards]

    assert names()[0] == "Curlew" and demo.session.path.name.startswith("dunlin-2")
    assert [card.state for card in panel.wall.cards.cards if card.path == str(demo.session.path)] == [OPEN]
    panel.order.setCurrentIndex(panel.order.findData("deep"))
    panel.order.activated.emit(0)
    assert names()[0] == "Bittern"
    panel.search.setText("ferring radio")
    assert names() == ["Bittern"]
    panel.search.setText("")
    panel.category.setCurrentIndex(panel.category.findData(f"!{DAMAGED}"))
    panel.category.activated.emit(0)
    assert "text" in names() and "Curlew" not in names()
    panel.category.setCurrentIndex(0)
    panel.category.activated.emit(0)
    camera = str(boards / "curlew.oddbolt")
    panel.give_tags(camera, "marsh,  lens , marsh")
    assert read_chosen().tags[camera] == ("marsh", "lens") and read_chosen().folders == (str(boards),)
    panel.tag.setCurrentIndex(panel.tag.findData("lens"))
    panel.tag.activated.emit(0)
    assert names() == ["Curlew"]
    QTest.keyClick(panel.wall, K.Key_Return)
    settle()
    assert demo.session.path == boards / "curlew.oddbolt" and demo.stack.currentWidget() is demo.built["log"]
    assert index_path().exists()
    panel.take_folder_away(str(boards))
    assert read_chosen().folders == ()
    wait_for(lambda: panel.is_done)


def test_a_damaged_card_says_so_and_offers_to_repair(demo, boards):
    panel = demo.shelf
    demo.show_workspace("shelf")
    panel.add_folder(str(boards))
    wait_for(lambda: panel.is_done and len(panel.wall.cards.cards) > 6)
    row = next(n for n, card in enumerate(panel.wall.cards.cards) if card.name == "text")
    index = panel.wall.cards.index(row)
    assert "damaged" in index.data(Qt.ItemDataRole.ToolTipRole)
    before = demo.session.path
    panel.wall.setCurrentIndex(index)
    panel.wall.doubleClicked.emit(index)
    settle()
    assert demo.session.path == before  # a message says why; what is open stays
    rect = panel.wall.visualRect(index)
    assert not rect.isEmpty() and panel.wall.indexAt(rect.center() + QPoint(0, 0)) == index


def test_hostile_files_on_the_shelf_are_cards_that_say_so(tmp_path):
    """Pipes, links in circles, names that are no text, records that are none: no exception, nothing is made up."""
    folder = tmp_path / "hostile"
    folder.mkdir()
    os.mkfifo(folder / "pipe.oddbolt")
    os.symlink(folder, folder / "loop")
    (folder / "deep.json").write_bytes(b'{"format": "oddbolt-teardown", "device": ' + b"[" * 100_000)
    (folder / "null.json").write_text('{"format": "oddbolt-teardown", "device": null}')
    (folder / "kinds.json").write_text('{"format": "oddbolt-teardown", "device": {"name": {"a": 1}, "category": 5}, '
                                       '"sessions": [1, null, {"by": [1], "started": 5}]}')
    (folder / "half.json").write_text('{"format": "oddbolt-teardown", "device": {"name": "\\ud800"}}')
    with open(os.fsencode(folder) + b"/\xff\xfe.json", "wb") as file:
        file.write(b'{"format": "oddbolt-teardown", "device": {"base": "b", "name": "x"}, "parts": [{"id": "b"}]}')
    with sqlite3.connect(folder / "other.oddbolt") as db:
        db.execute("CREATE TABLE x (a)")
    db.close()
    found_ = cards(folder, at=tmp_path / "index.sqlite")
    states = {path.rsplit("/", 1)[1]: card.state for path, card in found_.cards.items()}
    assert states.pop("\udcff\udcfe.json") == WHOLE and set(states.values()) == {DAMAGED, UNREADABLE}
    assert set(states) == {"pipe.oddbolt", "deep.json", "null.json", "kinds.json", "half.json", "other.oddbolt"}
    assert cards(folder, at=tmp_path / "index.sqlite").cards == found_.cards
