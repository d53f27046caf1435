"""What a person prefers, kept and read again whatever stands in the file; the manual, searched."""

from __future__ import annotations

import json

import pytest
from PySide6.QtCore import QUrl
from PySide6.QtGui import QTextDocument
from PySide6.QtWidgets import QPushButton

from oddbolt.model.folders import settings_path
from oddbolt.store import preferences
from oddbolt.store.preferences import Preferences
from oddbolt.ui.log.photograph.measure import read_sides
from oddbolt.ui.rooms import ROOMS
from oddbolt.ui.theme.style import BASE_PT, dress
from oddbolt.words import lengths
from oddbolt.words.acts import limit_text
from oddbolt.words.manual import pages
from tests.ui_fixtures import settle


@pytest.fixture(autouse=True)
def own_config(monkeypatch, tmp_path):
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))


@pytest.mark.parametrize("body", [b"", b"{", b"[]", b"null", b"\xff", b'{"text": 1e308, "look": 3, "folder": 7}',
                                  b'{"text": true, "language": "\\u0000", "simulated_bench": 1}', b"[" * 5000])
def test_a_file_of_settings_that_cannot_be_is_as_good_as_none(body):
    settings_path().parent.mkdir(parents=True)
    settings_path().write_bytes(body)
    assert preferences.read() == Preferences()


def test_settings_are_kept_and_text_is_seen_at_once(make_window, app, tmp_path):
    from oddbolt.paint.palette import LIGHT

    window = make_window()
    window.menus.actions["settings"].trigger()
    sheet = window.settings
    sheet.text.setCurrentIndex(sheet.text.findData(1.5))
    sheet.text.activated.emit(sheet.text.currentIndex())
    assert app.font().pointSizeF() == pytest.approx(BASE_PT * 1.5)
    sheet.look.setCurrentIndex(sheet.look.findData("dark"))
    sheet.folder.setText(str(tmp_path / "nowhere"))
    sheet.keep()
    assert "is no folder" in sheet.problem.text() and not settings_path().exists()
    sheet.folder.setText(str(tmp_path))
    sheet.simulated.setChecked(True)
    sheet.lengths.setCurrentIndex(1)
    sheet.keep()
    assert preferences.read() == Preferences(text=1.5, look="dark", lengths="in", simulated_bench=True,
                                             folder=str(tmp_path))
    assert json.loads(settings_path().read_text())["look"] == "dark"
    window.menus.actions["settings"].trigger()
    window.settings.text.setCurrentIndex(0)
    window.settings.text.activated.emit(0)
    window.settings.reject()  # what was only looked at is as it was
    assert app.font().pointSizeF() == pytest.approx(BASE_PT * 1.5)
    dress(app, LIGHT)


@pytest.fixture
def inches():
    lengths.use_unit("in")
    yield
    lengths.use_unit("mm")


def test_lengths_are_shown_and_read_as_preferred_and_kept_in_millimetres(inches, demo):
    """25.4 mm to the inch (ISO 80000-3, exact)."""
    demo.show_workspace("bolts")
    settle()
    bolts = demo.bolts
    fastener = demo.session.teardown.fasteners[0]
    row = bolts.types.topLevelItem(0)
    assert row.text(3) == f"{fastener.length_mm / 25.4:.3f} in" and row.text(4).endswith(" in")
    field = bolts.identify.fields["diameter_mm"]
    assert field.placeholderText() == "in"
    for typed, mm in (("0.0787", 2.0), ("2 mm", 2.0), ("2mm", 2.0), ('0.0787 "', 2.0)):
        field.setText(typed)
        assert bolts.identify.readings.diameter_mm == pytest.approx(mm, abs=0.002)
    assert read_sides("3.370 x 2.125") == pytest.approx((85.6, 53.98), abs=0.01)
    assert read_sides("85.6 x 53.98 mm") == (85.6, 53.98) and read_sides("85.6 mm x 53.98") == (85.6, 53.98)
    assert limit_text(demo.session.teardown, {"depth_mm": [0, 25.4]}) == "0.000 to 1.000 in deep"
    lengths.use_unit("mm")
    assert limit_text(demo.session.teardown, {"depth_mm": [0, 25.4]}) == "0 to 25.4 mm deep"
    assert read_sides("85.6 x 53.98") == (85.6, 53.98)


def test_every_workspace_has_its_page_and_pages_are_found_by_words(demo):
    assert set(ROOMS) <= {page.id for page in pages()}
    demo.show_workspace("bolts")
    demo.menus.actions["manual"].trigger()
    manual = demo.help.manual
    for room in ROOMS:  # its picture, from the demo
        manual.turn_to(room)
        kind = QTextDocument.ResourceType.ImageResource.value
        picture = manual.page.document().resource(kind, QUrl(f"manual:{room}"))
        assert picture.width() == 640 and f"manual:{room}" in manual.page.toHtml()
    manual.turn_to("bolts")
    assert "odd" in manual.page.toPlainText() and manual.list.currentItem().text() == "Bolts"
    manual.search.setText("calliper readings")
    settle()
    shown = [manual.list.item(n).text() for n in range(manual.list.count()) if not manual.list.item(n).isHidden()]
    assert shown == ["Bolts"] and manual.found.text() == "found: 1"
    manual.search.setText("no such word anywhere")
    assert manual.found.text() == "found: 0"
    manual.search.setText("")
    assert not any(manual.list.item(n).isHidden() for n in range(manual.list.count()))
    manual.close()
    assert demo.findChildren(QPushButton)
