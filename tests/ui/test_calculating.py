"""Times and pace, the heating guide, doses: asked for in the window, refused in words, kept in the record."""

from __future__ import annotations

import json

import pytest

from oddbolt.model import exchange
from tests.ui.conftest import settle, wait_for


@pytest.fixture
def heating(demo):
    demo.menus.actions["heating"].trigger()
    wait_for(lambda: demo.heating.found is not None)
    yield demo.heating
    demo.heating.close()


def test_the_heating_guide_says_how_long_and_how_warm_the_cell_is(heating):
    """The usual layers are those of the worked oracle: 41.9 s, the cell at 54 C."""
    text = heating.answer.text()
    assert "60 °C after 42 s" in text and "cell is then at 54 °C" in text and "burns from 56 °C" in text
    before = heating.found
    heating.release_c.setText("70")
    wait_for(lambda: heating.found is not None and heating.found is not before)
    assert "Do not heat it so" in heating.answer.text()
    heating.less.click()  # no cell behind any more
    wait_for(lambda: "cell" not in heating.answer.text() and heating.found is not None)


@pytest.mark.parametrize(("field", "text", "says"), [
    ("release_c", "90", "below the source"), ("source_c", "900", "150"), ("start_c", "warm", "number"),
    ("source_c", "", "number")])
def test_figures_that_cannot_be_are_said(heating, field, text, says):
    getattr(heating, field).setText(text)
    wait_for(lambda: says in heating.problem.text())
    assert heating.answer.text() == "" and heating.found is None


def test_a_thickness_that_cannot_be_is_said_and_layers_come_and_go(heating):
    heating.layers[0][1].setText("-3")
    wait_for(lambda: heating.problem.isVisible())
    heating.layers[0][1].setText("0,7 mm")
    wait_for(lambda: heating.found is not None)
    for _ in range(6):
        heating.more.click()
    assert len(heating.layers) == 6 and not heating.more.isEnabled()
    for _ in range(8):
        heating.less.click()
    assert len(heating.layers) == 1 and not heating.less.isEnabled()


def test_it_is_offered_in_prepare_and_at_the_limits_of_an_act(demo):
    demo.show_workspace("prepare")
    demo.prepare.heating_asked.emit()
    assert demo.heating.isVisible()
    demo.heating.close()
    demo.show_workspace("log")
    demo.log.choose("cover-seam")
    demo.log.ask_limits()
    demo.log.limits.guide.click()
    assert demo.log.limits.heating.isVisible()
    demo.log.limits.heating.close()
    demo.log.limits.close()
    settle()


def test_a_dose_is_reckoned_both_ways_and_written_down(demo):
    demo.show_workspace("log")
    demo.log.choose("cell-glue")
    demo.ask_doses()
    sheet = demo.doses
    sheet.material.setCurrentIndex(sheet.material.findData("thermal-gel-high"))
    sheet.density.setText("3.0")
    sheet.area.setText("400")
    sheet.gap.setText("0.5")
    sheet._typed(sheet.gap)
    assert sheet.mass.text() == "0.69"  # worked: 0.600 g and 15 %
    sheet.mass.setText("0.75")
    sheet._typed(sheet.mass)
    assert sheet.gap.text() == "0.625" and "0.625 mm, ± 0.0" in sheet.answer.text()
    sheet.area.setText("-1")
    sheet._typed(sheet.area)
    assert not sheet.write.isEnabled() and sheet.problem.text()
    sheet.area.setText("400")
    sheet._typed(sheet.area)
    number = len(demo.session.teardown.log)
    sheet.write.click()
    entry = demo.session.teardown.log[-1]
    assert len(demo.session.teardown.log) == number + 1
    assert (entry.do, entry.thing, entry.quantity, entry.unit) == ("apply", "cell-glue", 0.75, "g")
    assert entry.value["gap_mm"] == 0.625 and entry.basis == "done"
    again = exchange.loads(exchange.dumps(demo.session.teardown))
    assert again.log[-1].value == entry.value


def test_the_pace_is_shown_and_used_when_asked_for(demo, root, tmp_path):
    demo.ask_times()
    sheet = demo.times
    rows = {sheet.table.topLevelItem(n).text(0): sheet.table.topLevelItem(n).text(1)
            for n in range(sheet.table.topLevelItemCount())}
    assert rows["unscrew"] == "0.89" and "all verbs" in rows
    plain = demo.session.derived.times.removal("strap-lug").seconds
    sheet.use.setChecked(True)
    assert demo.session.derived.times.removal("strap-lug").seconds == pytest.approx(
        plain * demo.session.paces["lift"].ratio, rel=0.01)
    assert demo.session.derived.planner.times is demo.session.derived.times
    sheet.add_log(str(root / "src" / "oddbolt" / "demo" / "bittern.json"))
    assert sheet.logs.count() == 2 and demo.session.paces["unscrew"].readings > 15
    broken = tmp_path / "broken.json"
    broken.write_text("{")
    sheet.add_log(str(broken))
    assert sheet.problem.isVisible() and sheet.logs.count() == 2
    sheet.logs.setCurrentRow(1)
    sheet.drop.click()
    assert sheet.logs.count() == 1
    sheet.use.setChecked(False)
    assert not demo.session.paces and demo.session.derived.times.removal("strap-lug").seconds == plain
    sheet.reject()


def test_learning_over_the_passes_of_a_record(make_window, root):
    data = json.loads((root / "src" / "oddbolt" / "demo" / "bittern.json").read_text()) | {"views": []}
    first = [e for e in data["log"] if e["do"] in ("release", "remove") and e.get("seconds")]
    for number, share in ((2, .8), (3, .7), (4, .64)):
        data["log"] += [{**{k: v for k, v in e.items() if k not in ("after", "amends")}, "id": f"{e['id']}-{number}",
                         "pass": number, "seconds": e["seconds"] * share} for e in first]
    window = make_window(data)
    window.ask_times()
    assert "each doubling leaves 80" in window.times.learning.text()
    window.times.reject()
