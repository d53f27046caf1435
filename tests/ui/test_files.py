"""The File menu: what was open last, copies, names, which copy is meant; nothing of one device is seen in another."""

from __future__ import annotations

import json

import pytest
from PySide6.QtGui import QImage

from oddbolt.app import _bench_of
from oddbolt.model import exchange
from oddbolt.session.documents import demo_folder
from oddbolt.session.modes import Gesture
from oddbolt.session.verbs.entries import note
from oddbolt.store.document import Document
from oddbolt.store.recent import recent, taken_into
from oddbolt.ui.menus import WITHOUT_A_DOCUMENT
from oddbolt.ui.rooms import ROOMS
from tests.ui_fixtures import blank_device, settle, wait_for


@pytest.fixture(autouse=True)
def own_state(monkeypatch, tmp_path):
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))


def document(path, name):
    data = blank_device()
    data["device"]["name"], data["views"] = name, []
    Document.create(path, exchange.from_json(data)).close()
    return path


def test_what_was_open_last_is_offered_and_what_is_gone_is_not(make_window, tmp_path):
    window = make_window()
    for n in range(12):
        assert window.files.open_path(document(tmp_path / f"{n}.oddbolt", f"device {n}"))
    (tmp_path / "10.oddbolt").unlink()
    assert [path.name for path in recent()][:2] == ["11.oddbolt", "9.oddbolt"] and len(recent()) == 9
    menu = window.menus.recent
    menu.aboutToShow.emit()
    assert [a.text() for a in menu.actions()][:2] == ["11.oddbolt", "9.oddbolt"]
    assert not menu.actions()[0].isEnabled()  # it is the one that is open
    menu.actions()[1].trigger()
    assert window.session.path.name == "9.oddbolt"
    before = window.session.document
    assert window.files.open_path(window.session.path) and window.session.document is before
    assert "is open here" in window.log.echo.text()


def test_a_copy_is_saved_and_the_open_one_goes_on(make_window, tmp_path, monkeypatch):
    window = make_window()
    window.session.do(note, "before", 1)
    path = window.session.path
    monkeypatch.setattr("oddbolt.ui.files.QFileDialog.getSaveFileName", lambda *_: (str(tmp_path / "kept"), ""))
    window.menus.actions["copy"].trigger()
    window.session.do(note, "after", 2)
    assert window.session.path == path and "kept.oddbolt" in str(list(tmp_path.glob("*.oddbolt")))
    with Document.open(tmp_path / "kept.oddbolt") as copy:
        assert copy.teardown.log[-1].text == "before" and copy.photo_names() == window.session.document.photo_names()
    window.menus.actions["copy"].trigger()
    assert "file already" in window.message.informativeText()
    window.message.close()


def test_the_file_gets_another_name_and_nothing_is_lost(make_window, tmp_path):
    window = make_window()
    window.session.do(note, "kept", 1)
    old = window.session.path
    window.files.rename("  Bench radio, second ")
    assert window.session.path == old.with_name("Bench radio, second.oddbolt") and not old.exists()
    assert window.session.teardown.log[-1].text == "kept" and window.session.undo_label is not None
    window.session.do(note, "goes on", 2)
    for name, reason in (("a/b", "no name for a file"), ("", "no name for a file"), (".x", "no name for a file")):
        window.files.rename(name)
        assert reason in window.message.informativeText()
        window.message.close()
    document(old.with_name("taken.oddbolt"), "other")
    window.files.rename("taken")
    assert "file already" in window.message.informativeText() and window.session.path.stem == "Bench radio, second"
    window.message.close()


def test_an_exchange_file_opened_twice_asks_which_copy_is_meant(make_window, tmp_path):
    window = make_window()
    source = tmp_path / "device.json"
    source.write_text(json.dumps({**blank_device(), "views": []}))
    assert window.files.open_path(source)
    first = window.session.path
    window.session.do(note, "work done in the copy", 1)
    assert window.files.open_path(document(tmp_path / "other.oddbolt", "other"))
    assert taken_into(source) == first and window.files.open_path(source) is False
    assert first.name in window.files.asked.informativeText()
    next(b for b in window.files.asked.buttons() if first.name in b.text()).click()
    assert window.session.path == first and window.session.teardown.log[-1].text == "work done in the copy"
    assert window.files.open_path(tmp_path / "other.oddbolt") and window.files.open_path(source) is False
    next(b for b in window.files.asked.buttons() if "again" in b.text()).click()
    settle()
    assert window.session.path not in (first, tmp_path / "other.oddbolt") and not window.session.teardown.log


def test_a_new_record_never_shows_the_photograph_of_another(make_window, tmp_path):
    window = make_window()
    wait_for(lambda: window.log.canvas.sceneRect().width() > 0)
    assert not window.log.canvas._photo.is_null()
    assert window.files.open_path(document(tmp_path / "empty.oddbolt", "empty"))
    settle()
    assert window.log.canvas._photo.is_null() and window.log.canvas.pins == []
    picture = window.log.canvas.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
    middle = {picture.pixel(x, y) for x in range(100, 500, 40) for y in range(100, 400, 40)}
    assert len(middle) == 1  # the bare mat


def test_prepare_offers_to_open_and_to_look_at_the_demo(make_window):
    window = make_window()
    window.show_workspace("prepare")
    window.prepare.demo_asked.emit("dunlin-2")
    assert window.session.teardown.device.name == "Dunlin 2" and window.stack.currentWidget() is window.log
    before = window.session.document
    window.files.show_demo()
    assert window.session.document is before


def test_close_leaves_nothing_open_and_prepare_begins_the_next(make_window, tmp_path):
    window = make_window()
    path = window.session.path
    window.session.do(note, "kept", 1)
    window.show_workspace("parts")
    window.menus.actions["shut"].trigger()
    settle()
    assert window.stack.currentWidget() is window.prepare and "No teardown" in window.device.text()
    assert not window.figure.isVisible() and window.windowTitle() == "Odd Bolt"
    with Document.open(path) as closed:  # nobody holds it any more
        assert closed.teardown.log[-1].text == "kept"
    enabled = {name for name, action in window.menus.actions.items() if action.isEnabled()}
    assert enabled == set(WITHOUT_A_DOCUMENT)
    for room in ROOMS:  # by key or by click
        window.show_workspace(room)
        assert window.stack.currentWidget() is (window.shelf if room == "shelf" else window.prepare)
    assert [window._rail.button(n).isEnabled() for n in range(len(ROOMS))] == [room in ("shelf", "prepare")
                                                                             for room in ROOMS]
    window.undo()
    window.log.gestures.make(Gesture.CAMERA)
    window.log.recorder.do(note, "nowhere", 1)
    assert "no teardown is open" in window.log.echo.text() and window.session.teardown.log == ()
    window.prepare.name.setText("Bench radio")
    window.prepare.begin.click()
    assert window.stack.currentWidget() is window.log and window.session.teardown.device.name == "Bench radio"
    assert window.figure.isVisible() and all(action.isEnabled() for name, action in window.menus.actions.items()
                                             if name not in ("undo", "redo"))


def test_what_another_program_holds_can_be_opened_for_reading(make_window, tmp_path):
    window = make_window()
    path = document(tmp_path / "held.oddbolt", "held")
    with Document.open(path):
        assert window.files.open_path(path) is False
        next(b for b in window.message.buttons() if "reading" in b.text()).click()
        assert window.session.path == path and "for reading only" in window.where.text()
        window.log.recorder.do(note, "not kept", 1)
        assert "for reading only" in window.log.echo.text() and window.session.teardown.log == ()
    window.message.close()


def test_simulated_instruments_are_beside_the_demo_and_nothing_else(make_window, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    window = make_window()
    work = tmp_path / "work"
    window.bench = window.log.states._bench = _bench_of(window.session, demo_folder(work), simulated=False)
    assert window.log.states.camera is None
    window.files.show_demo()
    assert window.log.states.camera is not None and "simulated" in window.where.text()
    assert window.files.open_path(document(tmp_path / "real.oddbolt", "real"))
    assert window.log.states.camera is None and "simulated" not in window.where.text()
    window.files.show_demo()
    assert len(window._feet) == 2  # the same foot switches, for the usual act and to talk, are not listened to twice
    asked = _bench_of(window.session, demo_folder(work), simulated=True)
    assert window.files.open_path(tmp_path / "real.oddbolt") and asked().simulated
