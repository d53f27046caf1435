"""The Access workspace through the real window: orders, all parts, what if as ghosts, two devices on one scale."""

from __future__ import annotations

import json

import pytest
from benchmarks.devices import layered_device
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from oddbolt.effort.times import KnownTimes
from oddbolt.model import exchange
from oddbolt.reports.content import strata
from oddbolt.search.planner import Planner
from oddbolt.ui.access.panel import demo_successor
from tests.ui.log_steps import LEFT, K
from tests.ui_fixtures import settle, wait_for


@pytest.fixture
def access(demo):
    demo.show_workspace("access")
    settle()
    return demo.access


def choose(combo, value):
    """As a person does: the entry, then what it sets off."""
    row = next(n for n in range(combo.count()) if value in (combo.itemData(n), combo.itemText(n)))
    combo.setCurrentIndex(row)
    combo.activated.emit(row)


def settled(access):
    wait_for(lambda: not access._section.is_stale and not access._ghost.is_stale)


def left_of(access, change, thing):
    """What a change on the way to the cell leaves of the layer of one thing."""
    access.show_part("battery")
    choose(access.change, change)
    settled(access)
    picture = access.section._picture
    return picture.left_of(next(p for p in picture.placed if p.node.layer.things == (thing,)).node)


def depths(access):
    return [(column.count.steps, column.count.time_ms) for column in access._columns]


def test_columns_stand_by_depth_by_role_or_by_what_they_share(access):
    shared = [column.part for column in access._columns]
    choose(access.order, strata.DEPTH)
    assert depths(access) == sorted(depths(access))
    choose(access.order, strata.ROLE)
    roles = [min(access._session.teardown.part[column.part].role) for column in access._columns]
    assert roles == sorted(roles)
    choose(access.order, strata.SHARED)
    assert [column.part for column in access._columns] == shared


def test_all_parts_stand_in_the_section_and_the_chosen_one_is_in_sight(access):
    access.show_part("battery")
    choose(access.order, strata.DEPTH)
    choose(access.scope, "all")
    settled(access)
    planner = access._session.derived.planner
    assert {c.part for c in access._columns} == set(planner.structure.removals) - set(planner.never_free)
    box, bar = access.section.column_box(access.section.chosen), access._scroll.horizontalScrollBar()
    assert access._columns[access.section.chosen].part == "battery"
    assert bar.value() <= box.left() and box.right() <= bar.value() + access._scroll.viewport().width()


def test_a_change_on_the_way_shows_what_would_go_as_ghosts(access):
    assert left_of(access, "Without Cover seam", "cover-seam") == 0.0
    n = access.section.chosen
    column, after = access._columns[n], access.section._picture.ghost.counts[n]
    assert after.steps < column.count.steps
    assert "steps less" in access.blocked.text()
    plain = access.section.grab().toImage()
    choose(access.change, access.change.itemText(0))
    assert access.section._ghost is None and access.section.grab().toImage() != plain


def test_an_act_made_quicker_is_half_a_ghost(access):
    assert 0.3 < left_of(access, "Battery plug bracket (screw) with half the screws", "battery-lid-screws") < 0.8


def test_two_devices_stand_side_by_side_on_one_scale(access):
    access.compare.menu().actions()[0].trigger()
    settled(access)
    pairs = list(zip(access._columns[::2], access._columns[1::2]))
    own, other = access._session.teardown, demo_successor()
    assert len(pairs) > 5
    for one, two in pairs:
        assert set(own.part[one.part].role) & set(other.part[two.part].role)
    other_planner = Planner(other, KnownTimes(other), own.settings)
    for _, two in pairs:
        assert two.count.steps == other_planner.plan([two.part]).count.steps
    picture = access.section._picture
    tops = {round(p.box.y()) for p in picture.placed if p.node in picture.section.top}
    assert len(tops) == 1  # one surface
    cells = [n for n, column in enumerate(access._columns) if column.part == "battery"]
    QTest.mouseClick(access.section, LEFT, pos=picture.column_box(cells[1]).center().toPoint())
    assert "3 steps" in access.words.toPlainText()
    wait_for(lambda: "Dunlin 2 alone has Cover seam" in access.why.text.text())
    assert access.why.text.text().startswith("Dunlin 3 against Dunlin 2: −2 steps") and access.why.isVisible()
    access.alone.click()
    settled(access)
    assert not access.why.isVisible()
    QTest.keyClick(access.section, K.Key_Left)
    assert "5 steps" in access.words.toPlainText()
    assert "Cell" in access.section.accessibleDescription()
    access.alone.click()
    settled(access)
    assert not access.alone.isVisible() and access.scope.isEnabled()


def test_another_record_is_chosen_and_what_cannot_be_read_is_refused(access, tmp_path, monkeypatch):
    record = exchange.to_json(demo_successor())
    good, bad = tmp_path / "other.json", tmp_path / "bad.json"
    text = json.dumps(record).replace('"port-board"', '"tail-board"')  # an id of its own
    good.write_text(text)
    record["joints"][0]["kind"] = 3
    bad.write_text(json.dumps(record))
    shown = access._columns
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(bad), ""))
    access.ask_other()
    assert "joints[0].kind" in access.blocked.text() and access._columns is shown
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(good), ""))
    access.ask_other()
    settled(access)
    assert len(access._shown.planners) == 2
    for n in range(len(access._columns)):
        access.section._choose(n)  # each column tells its way, whosever ids it has
        assert "proven" in access.words.toPlainText()
    assert "tail-board" in [column.part for column in access._columns]
    access.alone.click()
    settled(access)
    choose(access.change, access.change.itemText(1))  # and what if is back
    settled(access)
    assert access.section._ghost is not None


def test_a_large_device_is_searched_in_the_background_and_can_be_given_up(demo):
    big = exchange.from_json(layered_device(200, 1))
    demo.show_workspace("access")
    settle()
    access, shown = demo.access, demo.access._columns
    access.compare_with(big)
    assert access.section.stale and access.cancel.isVisible()
    access.cancel.click()
    assert not access.section.stale and access._columns is shown and "Given up" in access.blocked.text()


def test_devices_without_a_common_role_have_nothing_to_compare(access):
    access.compare_with(exchange.from_json(layered_device(20, 1)))
    settled(access)
    assert not access._columns and "same role" in access.words.toPlainText()
    assert "alone" in access.blocked.text()
