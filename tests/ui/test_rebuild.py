"""Putting back through the real window: one key a step to zero odd bolts; wrong letters, lost screws, what is left out,
torques and checks are caught."""

from __future__ import annotations

import json

import pypdfium2
import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from oddbolt.instruments.protocols import BenchInstruments
from oddbolt.instruments.simulated import SimulatedFootSwitch, SimulatedScale, SimulatedTorqueDriver
from oddbolt.reassembly.rebuilding.progress import DONE, progress
from tests.builders import device, joint, part
from tests.ui.conftest import wait_for
from tests.ui_fixtures import settle

K = Qt.Key


@pytest.fixture
def rebuild(demo):
    demo.show_workspace("rebuild")
    settle()
    return demo.rebuild


def key(panel, code):
    QTest.keyClick(panel.bench, code)
    settle()


def choose(panel, button, *texts):
    """A choice in a menu of the bench, by the keys that open it."""
    key(panel, K.Key_N if button == "not so" else K.Key_W)
    menu = panel.bench.menu
    for text in texts:
        action = next(one for one in menu.actions() if text in one.text())
        menu = action.menu() or menu
    action.trigger()
    panel.bench.menu.close()
    settle()


def until(panel, thing):
    """Go on until the step that is about a thing is next; gives the acts that took."""
    acts = 0
    while panel.bench.step is not None and panel.bench.step.thing != thing:
        key(panel, K.Key_Space)
        acts += 1
    return acts


def test_the_demo_goes_back_to_zero_odd_bolts(demo, rebuild):
    """At most 1.3 acts a step; nothing is closed live; each part goes in by the rules."""
    assert demo.figure.ledger.odd == 37 and "1 of" in rebuild.bench.place.text()
    acts = 0
    while rebuild.bench.step is not None:
        key(rebuild, K.Key_Space)
        acts += 1
        assert acts < 200
    found = progress(demo.session.teardown)
    assert found.is_closed and demo.figure.ledger.odd == 0 and demo.figure.ledger.back == 37
    assert acts / len(found.plan.steps) <= 1.3
    assert not found.plan.closes_live and found.plan.is_feasible
    assert rebuild.bench.act.text() == "No bolt is left over"
    order = [step.thing for step in found.plan.steps]
    power = order.index("battery-plug")
    assert all(order.index(other) < power for other in ("display-plug", "port-plug", "cover-plug"))
    QTest.keyClick(demo, K.Key_Z, Qt.KeyboardModifier.ControlModifier)
    settle()
    assert not progress(demo.session.teardown).is_closed and rebuild.bench.step is not None


def test_a_step_is_told_with_its_figure_and_what_comes_next(rebuild):
    until(rebuild, "port-screws")
    bench = rebuild.bench
    assert bench.figure.text() == "12 N·cm" and "M2 × 5" in bench.more.text().replace(" x ", " × ")
    assert bench.reason.text() == "by the instruction" and bench.next.text().startswith("Next: Close Port plug")
    assert "3 places" in bench.picture.accessibleDescription()
    assert bench.act.font().pointSizeF() >= 20 and bench.figure.font().pointSizeF() >= 24


def test_a_torque_that_would_break_the_screw_is_stopped(demo, rebuild):
    until(rebuild, "speaker-left-screws")
    before = len(demo.session.teardown.log)
    assert "was it N·cm?" in rebuild.bench.alarm.text()
    key(rebuild, K.Key_Space)
    assert len(demo.session.teardown.log) == before and "Press again" in rebuild.bench.alarm.text()
    key(rebuild, K.Key_Space)
    assert len(demo.session.teardown.log) == before + 1


def test_a_wrong_letter_is_stopped_and_is_odd_when_it_is_in_all_the_same(demo, rebuild):
    until(rebuild, "battery-lid-screws")
    before = len(demo.session.teardown.log)
    choose(rebuild, "came wrong", "Another screw", "B")
    assert "too deep" in rebuild.bench.alarm.text() and len(demo.session.teardown.log) == before
    choose(rebuild, "came wrong", "Another screw", "B")
    ledger = demo.figure.ledger
    assert ledger.row("A").wrong == 3 and demo.session.teardown.log[-1].fastener == "B"
    while rebuild.bench.step is not None:
        key(rebuild, K.Key_Space)
    assert demo.figure.ledger.odd > 0 and "Not closed yet" in rebuild.bench.act.text()
    assert "number 1 holds a B" in rebuild.bench.more.text()
    choose(rebuild, "came wrong", "comes out again")  # the last step that was done
    assert rebuild.bench.step is not None


def test_a_lost_screw_is_made_up_by_a_new_one(demo, rebuild):
    until(rebuild, "port-screws")
    choose(rebuild, "came wrong", "A screw is lost")
    assert demo.figure.ledger.row("D").lost == 1
    while rebuild.bench.step is not None:
        key(rebuild, K.Key_Space)
    row = demo.figure.ledger.row("D")
    assert (row.out, row.back, row.new, row.lost) == (5, 5, 1, 1) and demo.figure.ledger.odd == 0
    choose(rebuild, "came wrong", "lost D")
    assert demo.figure.ledger.odd == 1 and "compartment D" in rebuild.bench.more.text()  # one bolt is left over


def gasketed():
    return device(
        [part("lid", name="Lid"), part("gasket", name="Gasket", kind="gasket", behind=[["lid"]])],
        [joint("screws", "lid", "base", kind="screw", tool="ph00", fastener="A", count=2),
         joint("latch", "lid", "base", kind="clip", name="Latch"),
         joint("odd", "gasket", "base", kind="screw", fastener="A", count=None, behind=[["lid"]])],
        fasteners=[{"id": "A", "drive": "PH", "size": "00"}],
        refit=[{"do": "fit", "thing": "gasket"}, {"do": "fit", "thing": "lid"},
               {"do": "press", "thing": "lid", "repeat": {"min": 2, "each_s": [1]}},
               {"do": "check", "text": "No gap", "blocks": True}],
        log=[{"id": f"e{n}", "do": do, "thing": thing, **more} for n, (do, thing, more) in enumerate((
            ("release", "latch", {}), ("release", "screws", {}), ("remove", "lid", {}),
            ("aid", "lid", {"text": "foam", "value": "on"}), ("remove", "gasket", {})))])


def test_what_is_left_out_or_on_stands_in_the_way_of_closing(make_window):
    window = make_window(gasketed())
    window.show_workspace("rebuild")
    settle()
    panel = window.rebuild
    assert panel.bench.step.thing == "gasket"
    choose(panel, "not so", "Left out")
    assert panel.bench.step.thing == "lid" and "left out: Gasket" in panel.bench.alarm.text()
    key(panel, K.Key_Space)
    assert panel.bench.step.thing == "lid" and "Press again" in panel.bench.alarm.text()
    key(panel, K.Key_Space)
    assert (panel.bench.step.do, panel.bench.step.thing) == ("press", "lid")
    key(panel, K.Key_Space)  # it is held for two seconds, and goes on by itself
    assert panel.bench.step.do == "press" and panel.bench.figure.text() == "2 s"
    wait_for(lambda: panel.bench.step.do != "press", 10)
    assert window.session.teardown.log[-1].do == "press" and window.session.teardown.version == 2
    until(panel, "latch")
    choose(panel, "not so", "Left out")
    assert panel.bench.step.do == "check"
    choose(panel, "came wrong", "The check failed")
    assert panel.bench.step.do == "check" and "Nothing follows" in panel.bench.alarm.text()
    key(panel, K.Key_Space)
    assert "Not closed yet" in panel.bench.act.text()
    told = panel.bench.more.text()
    assert "Left out: Gasket" in told and "Left out: Latch" in told and "Still on: foam" in told
    choose(panel, "came wrong", "Lid comes out again")
    assert panel.bench.step.thing == "lid"


def test_a_group_of_unknown_number_is_asked_for_before_it_goes_in(make_window):
    data = gasketed()
    data["joints"][2]["of"] = ["gasket", "base"]
    data["log"] = [{"id": "e1", "do": "release", "thing": "odd"}]
    data["refit"] = []
    window = make_window(data)
    window.show_workspace("rebuild")
    settle()
    key(window.rebuild, K.Key_Space)
    assert "Enter the number" in window.rebuild.bench.alarm.text() and len(window.session.teardown.log) == 1


def test_pedal_and_torque_driver_work_by_themselves(demo, rebuild, monkeypatch):
    driver, foot = SimulatedTorqueDriver(), SimulatedFootSwitch()
    instruments = BenchInstruments(torque_driver=driver, foot_switch=foot)
    monkeypatch.setattr(demo, "bench", lambda: instruments)
    monkeypatch.setattr(rebuild.readings, "instruments", lambda: instruments)
    demo._refresh()
    until(rebuild, "port-screws")
    driver.last_ncm = 11.8
    foot.press()
    settle()
    entry = demo.session.teardown.log[-1]
    assert (entry.do, entry.thing, entry.unit) == ("fasten", "port-screws", "N·cm") and 11 < entry.value < 13
    until(rebuild, "battery-lid-screws")
    driver.last_ncm = 400.0
    foot.press()
    settle()
    assert "impossible" in rebuild.bench.alarm.text() and demo.session.teardown.log[-1].value > 350


def test_the_scale_reads_how_much_went_on(make_window):
    scale = SimulatedScale(on_it_g=52.0)
    data = gasketed() | {"refit": [{"do": "apply", "on": "base",
                                    "uses": [{"material": "silicone", "qty": 1, "unit": "cc"}]},
                                   {"do": "fit", "thing": "lid"}]}
    data["log"] = data["log"][:3]
    window = make_window(data)
    window.show_workspace("rebuild")
    window.rebuild.readings.instruments = lambda: BenchInstruments(scale=scale)
    window.rebuild.refresh()
    settle()
    assert window.rebuild.bench.step.do == "apply"
    scale.on_it_g = 50.0
    key(window.rebuild, K.Key_Space)
    entry = window.session.teardown.log[-1]
    assert (entry.do, entry.unit) == ("apply", "g") and 1.7 < entry.quantity < 2.3
    assert "more than was told (1 cc of silicone)" in window.rebuild.bench.alarm.text()  # 0.97 g/cm3


def test_the_last_step_comes_back_after_the_window_was_closed_hard(demo, rebuild):
    """Every step is a command of the document."""
    until(rebuild, "port-screws")
    before = list(rebuild.bench.progress.states)
    again = type(demo.session.document).open(demo.session.path, read_only=True)
    assert list(progress(again.teardown).states) == before and before.count(DONE) > 40
    again.close()


def test_a_replacement_is_looked_at_and_written(demo, rebuild, tmp_path):
    rebuild.replace_part("battery")
    page = rebuild.plan
    wait_for(lambda: page.made is not None and "replace Cell" in page.page.toPlainText())
    text = page.page.toPlainText()
    assert "2 strips cell tabs (comes with the spare)" in text and "batteries are kept apart" in text
    assert "7 N·cm" in text and "Starts, charges" in text
    page.write_to(tmp_path / "swap.pdf", "A4")
    assert "Written to" in rebuild.echo.text() and rebuild.echo.isVisible()
    rebuild.do_step()  # the foot switch: it shows the step, and does nothing that nobody sees
    assert rebuild.tabs.currentIndex() == 0 and len(demo.session.teardown.log) == 93
    rebuild.tabs.setCurrentWidget(page)
    settle()
    pdf = pypdfium2.PdfDocument(tmp_path / "swap.pdf")
    words = " ".join(sheet.get_textpage().get_text_range() for sheet in pdf)
    assert "7 N·cm" in words and "1 of 2" in words
    page.write_to(tmp_path / "swap.html", "html")
    assert "data:image/jpeg" in (tmp_path / "swap.html").read_text()
    page.what.setCurrentIndex(0)
    wait_for(lambda: "put back" in page.page.toPlainText())


def test_each_step_is_read_aloud_only_when_asked_for(rebuild, monkeypatch):
    spoken = []
    monkeypatch.setattr("oddbolt.ui.rebuild.panel.QProcess.startDetached",
                        lambda program, words: spoken.append(words[-1]))
    rebuild._speaker = "/usr/bin/spd-say"
    key(rebuild, K.Key_Space)
    assert spoken == [] and not rebuild.aloud.isChecked()
    rebuild.aloud.setEnabled(True)
    rebuild.aloud.setChecked(True)
    until(rebuild, "port-screws")
    assert spoken[-1] == "Screw in 3 D T5 (Port board). 12 N·cm" and len(spoken) == len(set(spoken))


def test_nothing_off_says_so(make_window):
    data = gasketed() | {"log": []}
    window = make_window(json.loads(json.dumps(data)))
    window.show_workspace("rebuild")
    settle()
    assert window.rebuild.bench.act.text() == "Nothing is off" and not window.rebuild.bench.do.isEnabled()


def test_one_key_gives_the_whole_job_of_a_part_that_is_chosen(demo):
    demo.show_workspace("access")
    wait_for(lambda: demo.access.part != "")
    demo.access.show_part("rear-camera")
    wait_for(lambda: demo.access.part == "rear-camera")
    QTest.keyClick(demo, K.Key_B, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    settle()
    assert demo.rebuild.plan.what.currentData() == "rear-camera"
    wait_for(lambda: demo.rebuild.plan.made is not None)
    demo.show_workspace("parts")
    settle()
    demo.parts.tree.choose("display")
    QTest.keyClick(demo, K.Key_B, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    settle()
    assert demo.rebuild.plan.what.currentData() == "display"
    wait_for(lambda: "replace Display" in demo.rebuild.plan.page.toPlainText())


def test_another_amount_is_written_down_and_held_against_what_was_told(demo, rebuild):
    while rebuild.bench.step.do != "apply" or not rebuild.bench.step.refit:
        key(rebuild, K.Key_Space)
    rebuild.bench.take_amount("three")
    assert "no amount" in rebuild.bench.alarm.text()
    rebuild.bench.take_amount("3 strips")
    settle()
    entry = demo.session.teardown.log[-1]
    assert (entry.do, entry.quantity, entry.unit) == ("apply", 3, "strips")
    assert "more than was told (2 strips of cell tabs), 150%" in rebuild.bench.alarm.text()


# -- the instruction at the desk

@pytest.fixture
def desk(demo, rebuild):
    rebuild.tabs.setCurrentWidget(rebuild.desk)
    settle()
    return rebuild.desk


def told(desk):
    return [desk.list.item(n).text() for n in range(desk.list.count())]


def test_entries_are_moved_and_what_would_be_closed_over_is_said(demo, desk):
    assert told(desk)[2] == "3. Screw in 3 D T5 (Port board): 12 N·cm" and desk.list.count() == 14
    desk.list.setCurrentRow(0)
    for _ in range(4):  # the port board after the cell that lies over it
        QTest.keyClick(desk.list, K.Key_Down, Qt.KeyboardModifier.AltModifier)
    settle()
    assert [entry.thing for entry in demo.session.teardown.refit][4] == "port-board"
    assert "After this Charging port board" in told(desk)[0]  # its cable, and its screws, before it is in
    for _ in range(4):
        QTest.keyClick(demo, K.Key_Z, Qt.KeyboardModifier.ControlModifier)
        settle()
    assert demo.session.teardown.refit[0].thing == "port-board" and "could not go in" not in " ".join(told(desk))


def test_an_entry_is_edited_and_what_cannot_be_read_is_said(demo, rebuild, desk):
    desk.list.setCurrentRow(11)
    torque = desk.form.fields["torque"]
    assert torque.text() == "12 N·m"
    torque.setText("twelve")
    torque.editingFinished.emit()
    assert "cannot be read" in rebuild.echo.text() and rebuild.echo.isVisible()
    assert demo.session.teardown.refit[11].passes[0].torque == 12
    torque.setText("12 N·cm")
    torque.editingFinished.emit()
    settle()
    assert demo.session.teardown.refit[11].passes[-1].torque_ncm == 12
    desk.form.fields["repeat"].setText("2 x 5-8 s")
    desk.form.fields["repeat"].editingFinished.emit()
    desk.form.fields["dose"].setText("0.5 g of thread lock")
    desk.form.fields["dose"].editingFinished.emit()
    settle()
    entry = demo.session.teardown.refit[11]
    assert (entry.repeat.min, entry.repeat.each_s) == (2, (5, 8))
    assert (entry.uses[0].qty, entry.uses[0].unit, entry.uses[0].material) == (0.5, "g", "thread lock")
    rebuild.tabs.setCurrentIndex(0)
    until(rebuild, "speaker-left-screws")
    assert rebuild.bench.figure.text() == "12 N·cm" and rebuild.bench.alarm.text() == ""
    rebuild.tabs.setCurrentWidget(desk)
    settle()
    assert told(desk)[0].endswith("\u2713") and told(desk)[2].endswith("\u2713")  # proven by putting back
    assert not told(desk)[11].endswith("\u2713")


def test_a_procedure_is_made_from_the_log_and_laid_over_the_replacement(demo, rebuild, desk):
    desk.add_procedure("Swap the cell")
    assert desk.procedure == "swap-the-cell" and desk.list.count() == 0
    desk.part.setCurrentIndex(desk.part.findData("battery"))
    desk.part.activated.emit(desk.part.currentIndex())
    desk.buttons["log"].click()
    settle()
    count = desk.list.count()
    assert count > 70 and "could not go in" not in " ".join(told(desk))
    desk.list.setCurrentRow(count - 1)
    desk.buttons["add"].click()
    desk.form.fields["text"].setText("Charge rises")
    desk.form.fields["text"].editingFinished.emit()
    settle()
    assert demo.session.teardown.procedures[0].entries[-1].text == "Charge rises"
    rebuild.replace_part("battery")
    wait_for(lambda: "Charge rises" in rebuild.plan.page.toPlainText())
    assert "without a place here" in rebuild.plan.page.toPlainText()  # what this replacement does without
    rebuild.tabs.setCurrentWidget(desk)
    settle()
    desk.buttons["gone"].click()
    settle()
    assert demo.session.teardown.procedures == () and desk.procedure == ""
