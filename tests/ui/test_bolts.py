"""The Bolts workspace through the real window: types, tray, identification, torque, look-alikes, mats."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from oddbolt.model.label import Label
from tests.ui.log_steps import LEFT, K, now
from tests.ui_fixtures import blank_device, settle, wait_for


@pytest.fixture
def demo(demo):
    demo.show_workspace("bolts")
    settle()
    return demo


def rows(tree):
    return [[tree.topLevelItem(n).text(c) for c in range(tree.columnCount())] for n in range(tree.topLevelItemCount())]


def test_types_show_their_counts_by_every_account(demo):
    shown = rows(demo.bolts.types)
    assert [row[1:4] for row in shown][:2] == [["PH00", "M1.4", "3 mm"], ["PH00", "M1.4", "4.5 mm"]]
    assert shown[4][6:] == ["4", "2", "4"]  # joints, marks, out
    assert "do not come" in demo.bolts.types.topLevelItem(4).toolTip(7)


def test_a_group_whose_marks_and_count_differ_is_named(make_window):
    data = blank_device()
    data["joints"].append({"id": "lid", "kind": "screw", "of": ["cover", "tray"], "fastener": "A", "count": 3})
    data["views"][0]["marks"] = [{"thing": "lid", "n": n, "x": 100 * n, "y": 50} for n in (1, 2)]
    window = make_window(data)
    window.show_workspace("bolts")
    settle()
    item = window.bolts.types.topLevelItem(0)
    assert item.childCount() == 1 and "differ" in item.child(0).text(0)


def test_letter_tray_and_form_go_together(demo):
    bolts = demo.bolts
    assert len(bolts.tray.layers) == 7 and bolts.tray.letter == "A"
    box, compartment, layer = next(b for b in bolts.tray._boxes if b[1].letter == "D")
    QTest.mouseClick(bolts.tray, LEFT, pos=box.center().toPoint())
    assert bolts.types.letter == "D" and bolts.tray.chosen == compartment.joint
    assert bolts.identify.drive.currentData() == "T" and bolts.torque.thread.text() == "M2"
    assert "Layer" in bolts.echo.text()
    QTest.keyClick(bolts.tray, K.Key_Right)
    assert bolts.tray.chosen != compartment.joint
    QTest.keyClick(bolts.types, K.Key_Up)
    assert bolts.types.letter != bolts.tray.letter or bolts.types.letter == bolts.tray.letter


def test_a_screw_is_identified_as_one_types_and_written_down(demo):
    form, bolts = demo.bolts.identify, demo.bolts
    bolts.types.choose("B")
    assert form.list.topLevelItemCount() == 0 and not form.write.isEnabled()
    QTest.keyClicks(form.fields["diameter_mm"], "1,57")
    assert form.list.topLevelItem(0).text(1).startswith("M1.6") and "driver PH00" in form.advice.text()
    QTest.keyClicks(form.fields["pitch_mm"], "2.86/mm")  # turns, as counted
    assert "over 99 %" in form.list.topLevelItem(0).text(0)
    assert "rounds the cross" in form.advice.text()
    form.write.click()
    assert (now(demo).fastener["B"].thread, now(demo).fastener["B"].length_mm) == ("M1.6", 4.5)
    assert demo.session.undo_label == Label("fastener", {"letter": "B"})
    before = len(now(demo).fasteners)
    form.fields["diameter_mm"].setText("1.57")
    form.fields["pitch_mm"].setText("0.35 mm")
    form.add.click()
    assert len(now(demo).fasteners) == before + 1 and now(demo).fasteners[-1].id == "G"
    demo.menus.actions["undo"].trigger()
    demo.menus.actions["undo"].trigger()
    assert now(demo).fastener["B"].thread == "M1.4" and len(now(demo).fasteners) == before


@pytest.mark.parametrize("bad", ["-1", "0", "abc", "1.2.3", "3 kg", "1,5 mm 2", "9" * 10_000, "nan", "200"])
def test_bad_readings_get_a_message_at_the_field_and_change_nothing(demo, bad):
    form, before = demo.bolts.identify, now(demo)
    for name, field in form.fields.items():
        field.setText(bad)
        assert form.problems[name].isVisible() and form.problems[name].text(), name
        assert not form.write.isEnabled() and "Mend" in form.advice.text()
        field.setText("")
        assert not form.problems[name].isVisible()
    assert now(demo) is before


def test_a_photograph_proposes_head_and_recess(demo):
    bolts = demo.bolts
    bolts.types.choose("B")
    bolts.identify.photo.click()
    wait_for(lambda: "By the photo" in bolts.echo.text())
    assert bolts.identify.readings.head_mm == pytest.approx(2.5, abs=0.5)
    assert bolts.identify.drive.currentData() in ("PH", "PZ")


def test_without_a_scale_the_photograph_proposes_nothing(make_window):
    window = make_window()
    window.show_workspace("bolts")
    window.bolts.identify.photo.click()
    assert "No photograph with a scale" in window.bolts.echo.text()


def test_look_alikes_say_what_to_measure_and_what_a_swap_does(demo):
    bolts = demo.bolts
    assert bolts.tabs.tabText(1) == "Look-alikes (2)"
    text = bolts.alike.item(1).text()
    assert "A – B" in text and "measure the length: 1.5 mm" in text and "too deep, into Mid frame" in text
    bolts.alike.setCurrentRow(0)
    assert bolts.types.letter == "D"


def test_a_torque_is_judged_and_the_wrong_unit_on_record_is_first(demo):
    torque = demo.bolts.torque
    demo.bolts.tabs.setCurrentWidget(torque)
    demo.bolts.types.choose("C")
    assert "impossible" in torque.recorded.item(0).text() and "was it N·cm?" in torque.recorded.item(0).text()
    QTest.keyClicks(torque.value, "9")
    assert torque.verdict.text() == "plausible"
    torque.unit.setCurrentText("N·m")
    assert "breaks at" in torque.verdict.text()
    torque.value.setText("9 Ncm")  # a unit typed counts
    assert torque.verdict.text() == "plausible"
    for value, thread in (("-3", "M2"), ("x", "M2"), ("3", "W9"), ("3 parsec", "M2"), ("9" * 10_000, "M2")):
        torque.value.setText(value)
        torque.thread.setText(thread)
        assert torque.problem.isVisible() and torque.verdict.text() == ""


def test_mats_are_written_as_pdf_and_svg(demo, tmp_path, monkeypatch):
    asked = []

    def answer(path, chosen):
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (asked.append(a), (str(path), chosen))[1])

    answer(tmp_path / "all.pdf", "PDF on A3 (*.pdf)")
    demo.bolts.print_all.click()
    assert (tmp_path / "all.pdf").read_bytes().startswith(b"%PDF") and "sheets" in demo.bolts.echo.text()
    demo.bolts.tray._choose(0)
    answer(tmp_path / "one.svg", "SVG drawing (*.svg)")
    demo.bolts.print_layer.click()
    assert b"<svg" in (tmp_path / "one.svg").read_bytes()
    last = len(demo.bolts.tray._boxes) - 1
    demo.bolts.tray._choose(last)  # bolts that no photograph shows
    answer(tmp_path / "none.pdf", "")
    demo.bolts.print_layer.click()
    assert "no photograph" in demo.bolts.echo.text() and not (tmp_path / "none.pdf").exists()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: ("", ""))
    demo.bolts.print_all.click()


def test_an_empty_record_says_what_to_do_first(make_window):
    data = blank_device() | {"fasteners": [], "views": []}
    window = make_window(data)
    window.show_workspace("bolts")
    settle()
    assert window.bolts.types.topLevelItemCount() == 0 and not window.bolts.print_all.isEnabled()
    assert "No two types" in window.bolts.alike.item(0).text()
    QTest.mouseClick(window.bolts.tray, LEFT, pos=QPoint(5, 5))
    window.bolts.identify.fields["diameter_mm"].setText("1.57")
    window.bolts.identify.write.click()
    assert "Choose the letter" in window.bolts.echo.text()
    window.bolts.identify.add.click()
    assert [f.thread for f in window.session.teardown.fasteners] == ["M1.6"]


def test_the_order_of_tightening_is_a_plan_on_the_photograph(demo):
    bolts = demo.bolts
    bolts.tabs.setCurrentWidget(bolts.tightening)
    bolts.types.choose("B")
    words = bolts.tightening.words.text()
    assert "Main board, crosswise" in words and "started, loosely" in words
    bolts.tightening.school.setCurrentIndex(1)
    assert "1. tight, in the order shown" in bolts.tightening.words.text()
    bolts.types.choose("A")
    assert "as the refit says" in bolts.tightening.words.text() and "tight to 7 N·cm" in bolts.tightening.words.text()
    assert not bolts.tightening.school.isEnabled()
    assert not bolts.tightening.grab().toImage().isNull() and not bolts.tightening.picture._image.isNull()
    bolts.types.choose("E")
    bolts.tightening.show_joint("receiver-screws")
    assert "no photograph shows these screws" in bolts.tightening.words.text()
