"""The Parts workspace through the real window: tree, sheet, batch, cables, missing, balance, tools."""

from __future__ import annotations

import json

import pytest
from PySide6.QtCore import QPointF
from PySide6.QtTest import QTest

from oddbolt.model.refusal import Refusal
from oddbolt.ui.parts.form import read_fact
from tests.ui.log_steps import LEFT, K, now
from tests.ui_fixtures import blank_device, settle, wait_for


@pytest.fixture
def demo(demo):
    demo.show_workspace("parts")
    settle()
    return demo


def shown(tree):
    """Names of the rows that are not hidden."""
    return [i.text(0) for i in tree._items(tree.tree.topLevelItem(0)) if not i.isHidden()]


def enter(field, text):
    field.clear()
    QTest.keyClicks(field, text)
    QTest.keyClick(field, K.Key_Return)
    settle()


def test_the_tree_is_by_assembly(demo):
    root = demo.parts.tree.tree.topLevelItem(0)
    assert root.text(0) == "Mid frame"
    board = next(i for i in demo.parts.tree._items(root) if i.text(0) == "Main board")
    assert {board.child(n).text(0) for n in range(board.childCount())} >= {"Processor shield", "Radio shield"}
    assert "Radio blank" not in shown(demo.parts.tree)  # the other variant's
    assert "2 × Strap lug" in shown(demo.parts.tree)


def test_search_and_filter_leave_the_carriers(demo):
    tree = demo.parts.tree
    QTest.keyClicks(tree.search, "moisture white")
    assert shown(tree) == ["Mid frame", "Main board", "Moisture indicator, board"]
    tree.search.clear()
    tree.filter.setCurrentText("hazardous")
    assert "Cell" in shown(tree) and "Rear camera" not in shown(tree)
    tree.filter.setCurrentText("still in place")
    assert "Cell" not in shown(tree)
    tree.filter.setCurrentText("all parts")
    QTest.keyClicks(tree.search, "no such thing at all")
    assert shown(tree) == ["Mid frame"]


def test_the_sheet_of_a_part_shows_what_is_known_and_what_its_kind_is(demo):
    demo.parts.tree.choose("battery")
    form = demo.parts.form
    assert form.title.text() == "Cell" and "Held by Battery plug, Cell adhesive" in form.held.text()
    assert "Renewed with it: Cell adhesive" in form.held.text() and "Priority part: Battery" in form.held.text()
    assert "capacity: 7900 mAh  (seen)" in form.figures.text()
    assert "tabs flat and slowly" in form.about.text() and "Write down: capacity" in form.about.text()


def test_fields_write_and_can_be_taken_back(demo):
    demo.parts.tree.choose("motor")
    form = demo.parts.form
    enter(form.fields["mass"], "1,8")
    enter(form.fields["marking"], "VM-3")
    enter(form.fields["figure"], "supply voltage 3.3 V")
    enter(form.fields["hazards"], "magnet, sharp")
    form.spare.setCurrentIndex(form.spare.findData("maker"))
    form.spare.activated.emit(form.spare.currentIndex())
    form.kind.setEditText("actuator")
    form.kind.lineEdit().editingFinished.emit()
    part = now(demo).part["motor"]
    assert (part.mass_g, part.hazards, part.spare.available) == (1.8, ("magnet", "sharp"), "maker")
    assert part.kind == "actuator"
    assert [(f.name, f.value, f.unit) for f in part.facts] == [("marking", "VM-3", ""), ("supply voltage", 3.3, "V")]
    assert "no words for this kind" in form.about.text() and form.ids == ["motor"]
    for _ in range(6):
        demo.menus.actions["undo"].trigger()
    part = now(demo).part["motor"]
    assert (part.mass_g, part.facts, part.kind) == (1.5, (), "motor")
    enter(form.fields["mass"], "")
    assert now(demo).part["motor"].mass_g is None


def test_several_parts_are_written_at_once(demo):
    tree, form = demo.parts.tree, demo.parts.form
    tree.tree.clearSelection()
    for item in tree._items(tree.tree.topLevelItem(0)):
        item.setSelected(item.text(1) == "Bracket")
    number = len(tree.chosen())
    assert number >= 5 and form.title.text() == f"{number} parts at once"
    assert form.fields["material"].text() == "steel" and form.fields["mass"].placeholderText() == "several"
    enter(form.fields["material"], "stainless steel")
    brackets = [p for p in now(demo).parts if p.kind == "bracket"]
    assert all(f.value == "stainless steel" for p in brackets for f in p.facts if f.name == "material")
    label = demo.session.undo_label
    assert (label.code, label.data["name"], len(label.data["things"])) == ("fact", "material", number)
    form.fields["mass"].editingFinished.emit()  # left as it was: several stay several
    assert len({p.mass_g for p in now(demo).parts if p.kind == "bracket"}) > 1


@pytest.mark.parametrize(("field", "text"), [
    ("mass", "-3"), ("mass", "heavy"), ("mass", "3 mm"), ("mass", "1e9"), ("mass", "200 kg"), ("mass", "1.2.3"),
    ("figure", "capacity"), ("name", "x" * 10_000), ("material", "y" * 10_000), ("hazards", "z" * 10_000)])
def test_bad_entries_get_a_message_at_the_field_and_change_nothing(demo, field, text):
    demo.parts.tree.choose("motor")
    form, before = demo.parts.form, now(demo)
    form.fields[field].setText(text)
    form.fields[field].editingFinished.emit()
    assert form.problems[field].isVisible() and form.problems[field].text() and now(demo) is before


def test_figures_are_read_as_they_are_said():
    assert read_fact("capacity 7900 mAh") == ("capacity", 7900, "mAh")
    assert read_fact("nominal voltage 3,85 V") == ("nominal voltage", 3.85, "V")
    assert read_fact("state white") == ("state", "white", "")
    assert read_fact("size 12 mm wide") == ("size", 12, "mm wide")
    with pytest.raises(Refusal):
        read_fact("capacity")


def test_cables_at_three_moments_of_the_log(demo):
    parts = demo.parts
    parts.tabs.setCurrentIndex(1)
    cables, ids = parts.cables, [e.id for e in now(demo).log]
    cables.moment.setValue(0)
    assert cables.when.text() == "Untouched" and not cables.tethers.isVisible()
    swung = next(n for n, e in enumerate(now(demo).log, 1) if e.thing == "cover-swing")
    cables.moment.setValue(swung)
    assert cables.tethers.text() == "Back cover is still tied to Main board by Cover plug"
    cables.moment.setValue(len(ids))
    assert not cables.tethers.isVisible()
    QTest.keyClick(cables.drawing, K.Key_Down)
    assert "What breaks" in cables.words.text() and "usual 10 to 30 matings" in cables.words.text()
    place = next(p for p in cables.drawing._picture.places if p.part == "display")
    QTest.mouseClick(cables.drawing, LEFT, pos=(place.box.center() + QPointF(12, 12)).toPoint())
    assert parts.form.ids == ["display"]
    path = cables.drawing._picture._path(cables._net.links[3], 3)
    QTest.mouseClick(cables.drawing, LEFT, pos=(path.pointAtPercent(0.3) + QPointF(12, 12)).toPoint())
    assert cables.drawing.chosen == 3
    joint = cables._net.links[3].joints[0]
    cables.types[0].setCurrentIndex(cables.types[0].findData("zif back-flip"))
    cables.types[0].activated.emit(0)
    assert now(demo).joint[joint].type == "zif back-flip" and "away from the cable" in cables.words.text()


def test_what_is_missing_is_answered(demo):
    parts = demo.parts
    assert parts.tabs.tabText(2) == "Missing (1)"
    parts.tabs.setCurrentIndex(2)
    box = parts.missing.rows[0][1]
    box.click()
    assert now(demo).answers[-1].part == "position sensor (compass)" and parts.tabs.tabText(2) == "Missing"
    assert parts.missing.rows[0][1].isChecked()
    parts.missing.rows[0][1].click()
    assert parts.tabs.tabText(2) == "Missing (1)"


def test_balance_and_tools_are_told(demo):
    parts = demo.parts
    parts.tabs.setCurrentIndex(3)
    text = parts.balance.text()
    assert "not explained: 8.9 g (1.6%)" in text and "2012/19/EU" in text and "Local rules come first" in text
    assert "Processor → Thermal pad → Processor shield → Graphite sheet → Back cover" in text
    assert "Moisture indicator, port: red" in text and "Port seal: closes Charging port board" in text
    parts.tabs.setCurrentIndex(4)
    wait_for(lambda: "looking" not in parts.work.text())
    text = parts.work.text()
    assert "Left loudspeaker: Cross recess, type H driver PH00, Opening pick, Suction cup" in text
    assert "Cover seam: is renewed, comes with the spare" in text and "supplied with the product: Tray pin" in text


def test_names_are_shown_as_they_are_and_an_empty_record_does_no_harm(make_window):
    data = blank_device()
    data["parts"][1]["name"] = "<b>Cover</b> & co"
    data["device"]["category"] = "no such"
    window = make_window(data)
    window.show_workspace("parts")
    settle()
    for n in range(window.parts.tabs.count()):
        window.parts.tabs.setCurrentIndex(n)
        settle()
    assert "&lt;b&gt;Cover" in window.parts.balance.text()
    assert "has not been weighed" in window.parts.balance.text()
    wait_for(lambda: "looking" not in window.parts.work.text())


def test_another_record_forgets_the_chosen_cable(demo, tmp_path):
    parts = demo.parts
    parts.tabs.setCurrentIndex(1)
    parts.cables.drawing.choose(0)
    assert parts.cables.types[0].isVisible()
    (tmp_path / "other.json").write_text(json.dumps(blank_device() | {"views": []}))
    assert demo.files.open_path(tmp_path / "other.json")
    settle()
    assert not parts.cables.types[0].isVisible() and parts.cables.words.text() == ""
    parts.cables.types[0].activated.emit(0)  # a late signal does no harm
