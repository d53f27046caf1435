"""The Verdict: several methods side by side, what each rests on, what is open, what would change it, one's own
rubrics."""

from __future__ import annotations

import json

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLineEdit

from oddbolt.effort.pace import Pace
from oddbolt.scoring.changes import design_changes
from oddbolt.scoring.method import load_method, method_ids
from oddbolt.ui.verdict.judging import look_of
from oddbolt.words.judging.verdicts import design_text
from tests.ui.conftest import wait_for

TABLET, FRENCH, PROFILE, HOUSE = "eu-2023-1669-tablet", "fr-2020-1757", "en-45554-profile", "house-rubric"


@pytest.fixture
def panel(demo):
    demo.show_workspace("verdict")
    wait_for(lambda: demo.verdict.headline.text() != "")
    return demo.verdict


def lines(panel):
    rows = [panel.table.list.topLevelItem(n) for n in range(panel.table.list.topLevelItemCount())]
    return {row.text(0): [row.text(column) for column in range(1, 5)] for row in rows}


def judged(panel):
    wait_for(lambda: not panel.is_judging)


def texts(widget):
    return [widget.item(n).text() for n in range(widget.count())]


def test_a_verdict_shows_points_rule_and_evidence(panel):
    assert "class" in panel.headline.text()
    top = [panel.points.topLevelItem(n) for n in range(6)]
    assert top[0].childCount() == 9 and "proven" in top[0].child(0).text(3)
    assert "Confidence" in top[0].toolTip(0) and "at most 2 steps: 5" in top[0].toolTip(0)
    assert "Suction cup: commercially available" in top[2].child(0).text(3)
    assert "less: no class" in top[4].toolTip(0) and "Not confirmed: 6" in top[4].toolTip(0)


def test_methods_stand_side_by_side_and_what_is_firm_is_told(panel):
    judged(panel)
    found = lines(panel)
    assert len(found) >= 6 and "Repairability index, smartphones" not in found  # not what this device is
    tablet, house = found["Repairability index, slate tablets"], found["House rubric"]
    assert tablet[1] == "D to C" and tablet[3] == "no" and "E to B" in tablet[2]
    assert house[1] == "fair" and house[3] == "yes"
    assert "open" in panel.firm.text() and "1.63 to 3.50" in panel.firm.text()
    assert texts(panel.unknowns)[0].startswith("Spare parts: not answered. 0.60 of the index")
    assert any("bare hand" in text for text in texts(panel.unknowns))
    assert any("Front camera plug" in text for text in texts(panel.assumed))
    panel.open(PROFILE)
    assert panel.headline.text() == "profile, no total" and not panel.scale.isVisible()
    assert panel.points.topLevelItem(0).child(0).text(2) == "A or B"
    panel.open(HOUSE)
    assert "firm" in panel.firm.text() and "not firm" not in panel.firm.text()


def test_an_answer_narrows_the_index_and_can_be_taken_back(demo, panel):
    judged(panel)
    before = panel.headline.text()
    editor = panel.answers.editors["spare_parts", None]
    editor.setCurrentIndex(editor.findData(3))
    editor.activated.emit(editor.currentIndex())
    wait_for(lambda: panel.headline.text() != before)
    judged(panel)
    # One class by what is missing, and still not firm: rows are unconfirmed, the text is silent, spares are open.
    assert "not firm" in panel.firm.text() or "open" in panel.firm.text()
    assert not any("Spare parts: not answered" in text for text in texts(panel.unknowns))
    QTest.keyClick(demo, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    wait_for(lambda: panel.headline.text() == before)


def test_a_mark_is_typed_and_what_is_no_mark_is_said(demo, panel):
    judged(panel)
    panel.open(FRENCH)
    ease = panel.points.topLevelItem(1)
    assert "Cell: 5 steps" in ease.text(3) and "Display: 6 steps" in ease.text(3)  # evidence beside the empty mark
    assert "Suction cup" in panel.points.topLevelItem(2).text(3) and "removable" in panel.points.topLevelItem(3).text(3)
    field = panel.answers.editors["1.1", None]
    assert isinstance(field, QLineEdit)
    field.setFocus()
    QTest.keyClicks(field, "11")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert "0 to 10" in panel.answers.problem.text() and not demo.session.teardown.answers[2:]
    field.clear()
    QTest.keyClicks(field, "7,4")
    QTest.keyClick(field, Qt.Key.Key_Return)
    wait_for(lambda: any(a.criterion == "1.1" and a.value == 7.4 for a in demo.session.teardown.answers))


def test_whose_spare_brings_a_fixing_is_asked_and_open_until_it_is_said(demo, panel):
    judged(panel)
    boxes = {part: box for (joint, part), box in panel.answers.boxes.items() if joint == "cover-seam"}
    assert boxes["back-cover"].checkState() == Qt.CheckState.Checked
    assert boxes["battery"].checkState() == Qt.CheckState.PartiallyChecked
    boxes["battery"].setCheckState(Qt.CheckState.Checked)
    buttons = panel.answers.findChildren(type(panel.table.methods))
    button = next(one for one in buttons if "Cover seam" in one.accessibleName())
    button.click()
    wait_for(lambda: demo.session.teardown.joint["cover-seam"].ways[0].resupplied is not True)
    assert set(demo.session.teardown.joint["cover-seam"].ways[0].resupplied) == {"back-cover", "battery"}
    assert demo.session.teardown.version == 2
    judged(panel)
    battery = next(p for p in panel._shown.criteria[1].parts if p.role == "battery")
    assert battery.points == (3, 3)


def test_what_would_change_the_class(panel):
    judged(panel)
    panel.tabs.setCurrentIndex(2)
    wait_for(lambda: panel.changes.list.count() > 3)
    found = texts(panel.changes.list)
    assert "Up to class C (2.59): Spare parts answered 4" in found
    assert any("Without Cover seam" in text and "class C" in text for text in found)
    panel.open(PROFILE)
    wait_for(lambda: "no class" in panel.changes.state.text())


def test_what_would_change_the_class_goes_by_the_pace_in_use(demo, panel):
    """At a pace three times slower the house rubric, which asks for times, has other changes to tell of."""
    def told(pace):
        """Whether the page tells of the changes as they are found at a pace."""
        look = look_of(demo.session.teardown, HOUSE, pace.plans())
        *_, designs = design_changes(look, pace.plans().times)
        lines = [design_text(demo.session.teardown, look.method, one) for one in designs[:10]]
        return lambda: len(lines) == 10 and set(lines) <= set(texts(panel.changes.list))

    panel.open(HOUSE)
    panel.tabs.setCurrentIndex(2)
    usual = told(demo.session.derived)
    wait_for(usual)
    demo.session.use_paces({verb: Pace(verb=verb, ratio=3.0, low=2.7, high=3.3, readings=12, se=.05, scatter=.1)
                            for verb in ("unscrew", "lift", "unplug", "pry", "peel", "unclip")})
    assert panel._opened == HOUSE
    wait_for(told(demo.session.derived))
    assert not usual()


def test_looking_for_changes_can_be_given_up(panel):
    panel.tabs.setCurrentIndex(2)
    wait_for(lambda: panel.changes.give_up.isVisible())
    panel.changes.give_up.click()
    assert panel.changes.state.text() == "Given up"


def test_evidence_leads_to_where_it_is_from(demo, panel):
    row = panel.points.topLevelItem(0).child(0)
    panel.points.itemActivated.emit(row, 0)
    assert demo.stack.currentWidget() is demo.access
    demo.show_workspace("verdict")
    fasteners = panel.points.topLevelItem(1).child(0)
    panel.points.itemActivated.emit(fasteners, 0)
    assert demo.stack.currentWidget() is demo.log


def test_an_opinion_stands_beside_the_computed_points(demo, panel):
    judged(panel)
    panel.tabs.setCurrentIndex(3)
    page = panel.opinions
    page.which.setCurrentIndex(page.which.count() - 1)
    page.by.setText("R. Ostler")
    page.mark.setText("2")
    page.of.setText("10")
    page.reasons.setPlainText("The battery is glued in.")
    page.add.click()
    page.marks.topLevelItem(0).setText(0, "display")
    page.marks.topLevelItem(0).setText(1, "12")
    number = len(demo.session.teardown.opinions)
    page.keep.click()
    assert page.problem.isVisible() or "mark" in panel.firm.text()  # 12 of 10 is refused
    assert len(demo.session.teardown.opinions) == number
    page.marks.topLevelItem(0).setText(1, "3")
    page.keep.click()
    wait_for(lambda: len(demo.session.teardown.opinions) == number + 1)
    kept = demo.session.teardown.opinions[-1]
    assert (kept.by, kept.mark, kept.marks[0].name, kept.marks[0].mark) == ("R. Ostler", 2, "display", 3)
    judged(panel)
    page.which.setCurrentIndex(number)
    found = texts(page.evidence)
    assert any(text.startswith(("+ display", "− display")) for text in found)
    assert any("battery" in text for text in found)  # named in the reasons
    QTest.keyClick(demo, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    wait_for(lambda: len(demo.session.teardown.opinions) == number)


def test_a_rubric_of_ones_own_is_copied_changed_checked_and_kept(panel, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    judged(panel)
    panel.open(HOUSE)
    panel.table.copy.click()
    sheet = panel.rubric
    save = sheet.buttons.button(sheet.buttons.StandardButton.Save)
    assert save.isEnabled()
    sheet.name.setText("Saltmarsh rubric")
    sheet.criteria.item(0, 2).setText("50")
    assert "add up to 1.25" in sheet.problem.text() and not save.isEnabled()
    sheet.even.click()
    assert not sheet.problem.text()
    sheet.criteria.item(0, 3).setText("3: 10; 2: 8; more: 0")
    assert "one way" in sheet.problem.text() and "Steps" in sheet.problem.text()
    sheet.criteria.item(0, 3).setText("3: 10; 40: 4; more: 0")
    sheet.classes.setText("good 7, poor 1")
    assert "0 to 1" in sheet.problem.text()
    sheet.classes.setText("good 7, poor 0")
    sheet.criteria.item(1, 3).setText("nonsense")
    assert "nonsense" in sheet.problem.text()
    sheet.criteria.item(1, 3).setText("100000: 9; more: 0")
    save.click()
    own = next(id_ for id_ in method_ids() if load_method(id_).is_own)
    wait_for(lambda: "Saltmarsh rubric" in lines(panel))
    judged(panel)
    assert lines(panel)["Saltmarsh rubric"][1] in ("good", "poor") and panel.table.edit.isEnabled()
    assert load_method(own).criteria[1].table == ((100000, 9),)
    panel.table.edit.click()
    panel.rubric.save_copy(str(tmp_path / "handed-on.toml"))
    panel.rubric.reject()
    panel.take_in(str(tmp_path / "handed-on.toml"))
    assert "handed-on" in method_ids()
    panel.take_in(str(tmp_path / "handed-on.toml"))
    assert "here already" in panel.firm.text()
    (tmp_path / "broken.toml").write_text("id = [")
    panel.take_in(str(tmp_path / "broken.toml"))
    assert "broken.toml" in panel.firm.text()


def test_methods_are_chosen_and_left_out(panel):
    judged(panel)
    panel._choose("eu-2023-1669-phone", True)
    wait_for(lambda: "Repairability index, smartphones" in lines(panel))
    panel._choose("eu-2023-1669-phone", False)
    wait_for(lambda: "Repairability index, smartphones" not in lines(panel))


def test_a_device_of_another_kind_is_not_scored_as_a_tablet(make_window, root):
    window = make_window(json.loads((root / "src" / "oddbolt" / "demo" / "bittern.json").read_text()) | {"views": []})
    window.show_workspace("verdict")
    panel = window.verdict
    wait_for(lambda: panel.headline.text() != "")
    judged(panel)
    assert not [name for name in lines(panel) if "slate tablets" in name or "French" in name]
