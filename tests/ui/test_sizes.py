"""Usable on small screens and with large text: nothing needs more room than there is, and words stay whole."""

from __future__ import annotations

import pytest
from PySide6.QtWidgets import QAbstractButton, QScrollArea, QToolButton
from scripts import messages

from oddbolt.paint.palette import LIGHT
from oddbolt.ui.rooms import ROOMS
from oddbolt.ui.theme.style import dress
from oddbolt.words import translate
from tests.ui_fixtures import settle, wait_for


@pytest.fixture
def text_of(app):
    yield lambda scale: dress(app, LIGHT, scale)
    dress(app, LIGHT)


def out_of_sight(room):
    """Buttons that are cut by the window or by a column that scrolls up and down only."""
    found = []
    for one in room.findChildren(QAbstractButton):
        if not one.isVisible() or not one.text():
            continue
        box = one.rect().translated(one.mapTo(room, one.rect().topLeft()))
        holder = one.parentWidget()
        while holder is not None and holder is not room and not isinstance(holder, QScrollArea):
            holder = holder.parentWidget()
        if isinstance(holder, QScrollArea):
            port = holder.viewport()
            box = one.rect().translated(one.mapTo(port, one.rect().topLeft()))
            if box.left() < 0 or box.right() > port.width():
                found.append((one.text(), "beside its column"))
        elif not room.rect().contains(box):
            found.append((one.text(), "beyond the window"))
    return found


SIZES = [(1.0, 1024, 700), (1.5, 1280, 800), (1.5, 1366, 768)]


@pytest.mark.parametrize(("height", "icon"), [(700, 18), (800, 24)])
def test_names_of_rooms_stay_whole_in_a_low_window(demo, height, icon):
    demo.resize(1280, 800)
    demo.resize(1024, height)
    settle()
    buttons = [button for button in demo.findChildren(QToolButton) if button.parentWidget().objectName() == "rail"]
    assert len(buttons) == len(ROOMS)
    rail = buttons[0].parentWidget()
    assert rail.grab().toImage().pixelColor(1, rail.height() - 2).name() == LIGHT.accent.lower()
    assert all(button.height() >= button.sizeHint().height() for button in buttons)
    assert all(abs(button.iconSize().height() - icon) <= 2 for button in buttons)


@pytest.fixture
def longer(tmp_path):
    """The made-up language, a third longer, in use."""
    messages.write_stretched(tmp_path / "oddbolt.mo")
    translate.use_catalogue(tmp_path / "oddbolt.mo")
    yield
    translate.use_catalogue(None)


@pytest.mark.parametrize(("scale", "width", "height"), SIZES)
def test_every_workspace_fits(demo, text_of, scale, width, height):
    fits_everywhere(demo, text_of, scale, width, height)


@pytest.mark.parametrize(("scale", "width", "height"), SIZES)
def test_every_workspace_fits_in_a_longer_language(longer, request, text_of, scale, width, height):
    fits_everywhere(request.getfixturevalue("demo"), text_of, scale, width, height)


def fits_everywhere(demo, text_of, scale, width, height):
    text_of(scale)
    demo.resize(width, height)
    for name in ROOMS:
        demo.show_workspace(name)
        if name == "log":
            demo.log.speaking.show_page()
            demo.log.speaking.bar.show()  # with all its buttons
        settle()
        if name == "verdict":  # what it is judged by has the longest lines
            wait_for(lambda: demo.verdict.headline.text() and not demo.verdict.is_judging)
        demo.resize(width, height)
        settle()
        assert (demo.width(), demo.height()) == (width, height), name
        need = demo.minimumSizeHint()
        assert need.width() <= width and need.height() <= height, name
        assert out_of_sight(demo.stack.currentWidget()) == [], name
        if name == "rebuild":
            for page in (1, 2):
                demo.rebuild.tabs.setCurrentIndex(page)
                settle()
                need = demo.minimumSizeHint()
                assert need.width() <= width and need.height() <= height, (name, page)
                assert out_of_sight(demo.stack.currentWidget()) == [], (name, page)
