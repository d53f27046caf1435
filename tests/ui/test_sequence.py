"""The Sequence workspace through the real window: lanes, targets, other orders, reasons, export, cancel."""

from __future__ import annotations

import csv

import pytest
from PySide6.QtCore import QObject, QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog

from oddbolt.paint.lanes import GUTTER
from oddbolt.paint.time_axis import BREAK_PX
from oddbolt.reports.content.lanes import idle_stretches
from oddbolt.rules.policies import KEEP
from oddbolt.session.verbs.entries import note
from oddbolt.studies.policy_cost import ISOLATE
from oddbolt.ui.background.jobs import Jobs
from tests.ui.log_steps import CTRL, LEFT, K
from tests.ui_fixtures import blank_device, settle, wait_for


def ready(window):
    wait_for(lambda: not window.sequence.planned.stale)


def at(window, *parts):
    window.sequence.choose_targets(parts)
    ready(window)


@pytest.fixture
def demo(demo):
    demo.show_workspace("sequence")
    ready(demo)
    return demo


def spot(view, place):
    box = view.picture.box(view.picture.lanes.items[place])
    return QPoint(round(box.center().x()), round(box.center().y() + 24))


def names(window):
    return [o.part or o.joint for o in window.sequence._sequence]


def test_performed_and_best_stand_on_one_scale(demo):
    sequence = demo.sequence
    assert sequence.planned.title == "Best" and sequence.performed.title == "As performed"
    assert sequence.performed.axis.px_per_s == sequence.planned.axis.px_per_s
    assert "As performed: 46 steps" in sequence.figures.text() and "proven" in sequence.figures.text()
    assert len(sequence.performed._operations) == 79


def test_the_whole_work_fits_and_is_zoomed_by_wheel_and_keys(demo):
    """At first nothing is out of sight to the right; the scale stays common to both."""
    sequence = demo.sequence
    at(demo, "battery")
    bar = sequence.area.horizontalScrollBar()
    assert bar.maximum() == 0 and sequence.performed.picture.width <= sequence.area.viewport().width()
    fits = sequence.planned.axis.px_per_s
    sequence.planned.setFocus()
    for key in (K.Key_Plus, K.Key_Plus, K.Key_Plus):
        QTest.keyClick(sequence.planned, key)
    assert sequence.planned.axis.px_per_s == sequence.performed.axis.px_per_s == pytest.approx(fits * 1.25 ** 3)
    demo.resize(1200, 780)
    settle()
    assert sequence.planned.axis.px_per_s == pytest.approx(fits * 1.25 ** 3)  # what was chosen by hand stays
    wheel = QWheelEvent(QPointF(300, 60), QPointF(300, 60), QPoint(), QPoint(0, -120), Qt.MouseButton.NoButton, CTRL,
                        Qt.ScrollPhase.NoScrollPhase, False)
    QApplication.sendEvent(sequence.planned, wheel)
    assert sequence.planned.axis.px_per_s == pytest.approx(fits * 1.25 ** 3 / 1.15)
    QTest.keyClick(sequence.planned, K.Key_0)
    settle()
    assert bar.maximum() == 0


def test_long_waits_fold_to_a_break_and_give_their_room_to_the_acts(demo):
    sequence = demo.sequence
    at(demo, "battery")
    picture, before = sequence.performed.picture, sequence.performed.axis.px_per_s
    waits = idle_stretches(picture.lanes, 60)
    assert waits and all(to - start >= 60 for start, to in waits)
    sequence.fold.click()
    settle()
    axis = sequence.performed.axis
    assert axis.folds == waits and axis.px_per_s > 1.3 * before
    assert sequence.area.horizontalScrollBar().maximum() == 0
    for start, to in waits:  # a wait is as wide as its break, and nothing that is done lies in it
        assert axis.x(to) - axis.x(start) == pytest.approx(BREAK_PX)
        assert not any(start < item.start_s < to for item in picture.lanes.items)
    item = picture.lanes.items[-1]
    assert picture.box(item).width() == pytest.approx(max(3, item.active_s * axis.px_per_s))
    lefts = [picture.box(item).left() for item in picture.lanes.items]
    assert lefts == sorted(lefts)
    QTest.mouseClick(sequence.performed, LEFT, pos=spot(sequence.performed, len(lefts) - 1))  # still under the pointer
    assert sequence.performed.chosen == len(lefts) - 1
    sequence.fold.click()
    settle()
    assert sequence.performed.axis.px_per_s == pytest.approx(before)


def test_lanes_with_nothing_in_sight_are_shut_when_the_scrolling_rests(demo):
    sequence = demo.sequence
    at(demo, "battery")
    sequence.scale.zoom(6)
    view, picture = sequence.performed, sequence.performed.picture
    bar = sequence.area.horizontalScrollBar()
    for place in (bar.maximum(), 0):
        bar.setValue(place)
        left = place + GUTTER if place else 0
        seen = {i.tool for i in picture.lanes.items if picture.box(i).left() <= place + sequence.area.viewport().width()
                and picture.x(i.start_s + i.active_s + i.wait_s) >= left}
        wait_for(lambda seen=seen: picture.shut == set(picture.lanes.tools) - seen)
    assert picture.shut and view.height() < 24 + 26 + 30 * len(picture.lanes.tools)
    QTest.keyClick(view, K.Key_0)
    wait_for(lambda: not picture.shut)  # with all of it in sight every lane is open


def test_what_is_too_narrow_for_its_name_is_read_in_the_list_and_chosen_with_it(demo):
    sequence = demo.sequence
    at(demo, "battery")
    rows = [sequence.in_order.topLevelItem(n) for n in range(sequence.in_order.topLevelItemCount())]
    assert [row.text(0) for row in rows] == [str(n + 1) for n in range(len(names(demo)))]
    assert len({row.text(1) for row in rows}) > 5 and all(row.text(2) for row in rows)
    sequence.in_order.setCurrentItem(rows[4])
    assert sequence.planned.chosen == 4
    QTest.mouseClick(sequence.planned, LEFT, pos=spot(sequence.planned, 1))
    assert sequence.planned.chosen == 1 and sequence.in_order.currentItem().text(0) == "2"
    sequence.performed.choose(7)  # the list goes over to the lanes that are used
    assert sequence.in_order.topLevelItemCount() == 79 and sequence.in_order.currentItem().text(0) == "8"


def test_targets_are_chosen_by_clicking_parts(demo):
    sequence = demo.sequence
    at(demo, "battery")
    assert names(demo)[-1] == "battery" and "Best: 5 steps" in sequence.figures.text()
    assert "Up to these parts:" in sequence.figures.text() and "needless for them:" in sequence.figures.text()
    item = next(sequence.targets.item(n) for n in range(sequence.targets.count())
                if sequence.targets.item(n).text() == "Left loudspeaker")
    item.setCheckState(Qt.CheckState.Checked)
    ready(demo)
    assert {"battery", "speaker-left"} <= set(names(demo))
    sequence.choose_targets([])
    assert "at least one part" in sequence.figures.text() and names(demo) == []


def test_policies_and_objective_are_switches(demo):
    at(demo, "battery")
    by_steps = demo.sequence._found.plan
    demo.sequence.objective.setCurrentIndex(1)
    ready(demo)
    assert demo.sequence._found.plan.count.time_ms <= by_steps.count.time_ms
    demo.sequence.hand.click()
    ready(demo)
    assert demo.sequence._found.planner.convention.settings.hand_is_tool
    assert demo.session.teardown.settings.hand_is_tool is False  # tried, not written


def test_an_operation_is_dragged_to_another_place(demo):
    sequence = demo.sequence
    at(demo, "battery", "speaker-left")
    view, before = sequence.planned, names(demo)
    place = before.index("speaker-left")
    first = sequence._found.plan.sequence
    boxes = [view.picture.box(i).center().x() for i in view.picture.lanes.items]
    legal = next(k for k in range(len(before) + 1) if k not in (place, place + 1)
                 and (k in (0, len(before)) or boxes[k] - boxes[k - 1] > 6)  # bars that can be told apart
                 and not sequence._counted(sequence._found.planner.moved(sequence._sequence, place, k)).obstacles)
    x = round(boxes[legal] - 2) if legal < len(boxes) else round(boxes[-1] + 12)
    start = spot(view, place)
    QTest.mousePress(view, LEFT, pos=start)
    QTest.mouseMove(view, QPoint(x, start.y()))
    assert "There" in sequence.echo.text()
    QTest.mouseRelease(view, LEFT, pos=QPoint(x, start.y()))
    assert names(demo) != before and sorted(names(demo)) == sorted(before)
    assert view.title == "Your order" and "Your order:" in sequence.figures.text()
    assert not sequence._counted(sequence._sequence).obstacles
    sequence.again.click()
    assert tuple(sequence._sequence) == first and view.title == "Best"


def test_an_illegal_place_refuses_and_says_why(demo):
    at(demo, "battery")
    sequence, before = demo.sequence, names(demo)
    place = before.index("battery-plug")
    start = spot(sequence.planned, place)
    QTest.mousePress(sequence.planned, LEFT, pos=start)
    QTest.mouseMove(sequence.planned, QPoint(130, start.y()))
    QTest.mouseRelease(sequence.planned, LEFT, pos=QPoint(130, start.y()))
    assert names(demo) == before and "Not there" in sequence.echo.text() and "still behind" in sequence.echo.text()


def test_operations_are_moved_by_keys_too(demo):
    at(demo, "battery", "speaker-left")
    sequence = demo.sequence
    moved = False
    for place in range(len(sequence._sequence)):
        before = names(demo)
        sequence.planned.choose(place)
        QTest.keyClick(sequence.planned, K.Key_Right, CTRL)
        if names(demo) != before:
            moved = True
            break
    assert moved and sequence.planned.chosen == place + 1
    QTest.keyClick(sequence.planned, K.Key_Left)
    assert sequence.planned.chosen == place


def test_why_in_words(demo):
    at(demo, "port-board")
    sequence = demo.sequence
    assert "waits for Cell" in sequence.words.text() or "waits for Port cable" in sequence.words.text()
    sequence.planned.choose(names(demo).index("cover-seam"))
    assert "waits for nothing" in sequence.words.text()
    sequence.planned.choose(names(demo).index("port-board"))
    assert "Cover seam must come before Charging port board" in sequence.words.text()
    sequence.planned.choose(names(demo).index("cover-seam"))
    assert "Cover seam must come before Charging port board" in sequence.words.text()
    number = sequence._found.number
    assert f"Orders of these {len(names(demo))} operations" in sequence.figures.text() and number.orders > 1


def test_the_search_can_be_given_up_and_follows_the_record(demo):
    sequence = demo.sequence
    at(demo, "battery")
    before = names(demo)
    sequence.choose_targets(list(sequence._found.planner.structure.removals))
    assert sequence.planned.stale and sequence.cancel.isVisible()
    sequence.cancel.click()
    assert not sequence.planned.stale and names(demo) == before and "given up" in sequence.echo.text()
    at(demo, "battery")
    demo.session.do(note, "x", 4000)
    ready(demo)
    assert names(demo)[-1] == "battery"


def test_what_cannot_be_freed_says_what_is_in_the_way(make_window):
    data = blank_device()
    data["parts"][2]["behind"] = [["glue"]]
    data["joints"][0]["behind"] = [["cell"]]
    window = make_window(data)
    window.show_workspace("sequence")
    ready(window)
    at(window, "cell")
    assert "cannot be done; in the way" in window.sequence.echo.text() and not window.sequence.export.isEnabled()


def test_export_as_table_and_drawing(demo, tmp_path, monkeypatch):
    at(demo, "battery")
    for name in ("plan.csv", "plan.svg"):
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, n=name: (str(tmp_path / n), ""))
        demo.sequence.export.click()
    rows = list(csv.reader((tmp_path / "plan.csv").read_text("utf-8").splitlines()))
    assert rows[0][:2] == ["step", "start_s"] and len(rows) == len(names(demo)) + 1 and rows[-1][8] == "lift Cell"
    assert b"<svg" in (tmp_path / "plan.svg").read_bytes()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(tmp_path / "no" / "x.csv"), ""))
    demo.sequence.export.click()
    assert "cannot be written" in demo.sequence.echo.text()


def test_depths_of_a_large_device_come_from_the_background(make_window):
    """More operations than are planned at once: the window stays, old depths are faint, new ones arrive."""
    data = blank_device()
    data["parts"] += [{"id": f"p{n}", "name": f"Part {n}", "on": "tray", "behind": [["cover"]]} for n in range(70)]
    data["joints"] += [{"id": f"j{n}", "kind": "clip", "of": [f"p{n}", "tray"], "behind": [["cover"]]}
                       for n in range(70)]
    window = make_window(data)
    depths = window.log.depths
    wait_for(lambda: depths.topLevelItemCount() == 2)
    assert [depths.topLevelItem(n).text(0) for n in range(2)] == ["Cover", "Cell"]
    window.session.do(note, "x", 5)
    settle()  # the depths follow a moment after the act
    wait_for(lambda: not depths.is_faint)
    assert depths.topLevelItem(1).text(1) == "2"


def test_what_single_changes_would_do(demo):
    panel = demo.sequence
    panel.tabs.setCurrentWidget(panel.what_if)
    wait_for(lambda: bool(panel.what_if.found) and panel.what_if.list.isEnabled())
    first = panel.what_if.list.item(0).text()
    assert "steps" in first and "Cell" in first and "changes would help" in panel.what_if.state.text()
    assert any("together" in panel.what_if.list.item(n).text() for n in range(panel.what_if.list.count()))
    assert any("index +" in panel.what_if.list.item(n).text() for n in range(panel.what_if.list.count()))
    assert any("class C" in panel.what_if.list.item(n).text() for n in range(panel.what_if.list.count())
               if "Without Cover seam" in panel.what_if.list.item(n).text())
    assert any("Cover seam with pull tabs" in panel.what_if.list.item(n).text()
               for n in range(panel.what_if.list.count()))
    demo.session.do(note, "x", 4000)
    wait_for(lambda: panel.what_if.stop_looking.isVisible() or panel.what_if.list.isEnabled())
    panel.what_if.stop_looking.click()
    assert not panel.what_if.stop_looking.isVisible() and panel.what_if.list.isEnabled()


def test_how_firm_the_depths_are(demo):
    panel = demo.sequence
    panel.tabs.setCurrentWidget(panel.firm)
    wait_for(lambda: bool(panel.firm.found))
    assert "of 10 firm" in panel.firm.state.text()
    assert any(panel.firm.list.item(n).text().startswith("Cell: 5 steps") for n in range(panel.firm.list.count()))


def test_names_stay_and_the_chosen_comes_in_sight(demo):
    sequence = demo.sequence
    view, bar = sequence.performed, sequence.area.horizontalScrollBar()
    view.setFocus()
    for _ in range(4):
        QTest.keyClick(view, K.Key_Plus)
    settle()
    for _ in range(len(view._operations)):
        QTest.keyClick(view, K.Key_Right)
    assert view.chosen == len(view._operations) - 1 and bar.value() > 0
    last = view.picture.box(view.picture.lanes.items[view.chosen]).toAlignedRect().translated(0, 24)
    assert view.visibleRegion().boundingRect().contains(last.center())
    scrolled = view.grab().toImage()
    inked = {scrolled.pixelColor(view._scrolled + x, y).name() for x in range(126) for y in range(50, 140)}
    assert len(inked) > 3  # words are there, not only the ground of the sheet
    covered = next(item for item in view.picture.lanes.items
                   if view.picture.box(item).center().x() < view._scrolled + 126)
    QTest.mouseClick(view, LEFT, pos=spot(view, covered.place))
    assert view.chosen == len(view._operations) - 1
    for _ in range(len(view._operations)):
        QTest.keyClick(view, K.Key_Left)
    assert view.chosen == 0 and bar.value() == 0


def test_policies_are_switches_that_say_what_they_cost_and_where_they_are_broken(demo):
    at(demo, "battery")
    policies = demo.sequence.policies
    wait_for(lambda: "costs" in policies.lines[ISOLATE].text())
    assert not policies.boxes[KEEP].isChecked() and "destroyed" in policies.lines[KEEP].text()
    before = demo.sequence._found.plan.count.live_acts
    policies.boxes[KEEP].setChecked(True)
    ready(demo)
    wait_for(lambda: "cannot be kept" in policies.lines[KEEP].text() and "costs" in policies.lines[KEEP].text())
    policies.boxes[ISOLATE].setChecked(False)
    ready(demo)
    assert demo.sequence._found.plan.count.live_acts > before
    assert "live" in policies.lines[ISOLATE].text()
    assert "destroyed" in policies.performed.text()  # what was done is told of too


def test_an_answer_that_comes_in_for_an_older_record_is_dropped(demo):
    at(demo, "battery")
    old, asked = demo.sequence._found, demo.sequence._plan._asked
    demo.show_workspace("log")
    demo.session.do(note, "x", 4000)
    demo.sequence._found = None
    demo.sequence._plan._arrived(old, asked)  # as a job does that was under way while the record changed
    assert demo.sequence._found is None
    demo.show_workspace("sequence")
    ready(demo)
    assert demo.sequence._found.planner.teardown is demo.session.teardown


def test_what_is_on_its_way_when_a_job_is_given_up_is_not_told(app):
    parent, told = QObject(), []
    jobs = Jobs(parent)
    job = jobs.start("count", lambda: iter((1, 2)), told.append, told.append)
    job.wait()
    jobs.cancel("count")  # finished, but nothing has come in yet
    settle()
    assert told == []
    jobs.start("count", lambda: iter((1, 2)), told.append, told.append)
    wait_for(lambda: told == [2])
    jobs.stop_all()
    assert not jobs.start("count", lambda: iter((3,)), told.append, told.append).is_running
    settle()
    assert told == [2]
