"""Twenty mistakes of a made-up record put right through the window, each where it stands; no later act is lost."""

from __future__ import annotations

import pytest
from msgspec.structs import replace
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu, QMessageBox

from oddbolt.model import exchange
from oddbolt.model.things import Fastener, View
from oddbolt.rules.replay import in_order, readings
from oddbolt.session.standing import lifted, released
from oddbolt.session.verbs import entries, letters, lifting, marking, photos
from oddbolt.session.verbs.marking import Kind
from oddbolt.ui.correcting.asking import AskText
from oddbolt.ui.correcting.details import Details
from tests.ui_fixtures import settle, wait_for


@pytest.fixture
def window(make_window, example):
    """The example with a few acts more: two letters, clips, a note, a second photograph."""
    window = make_window(example)
    do = window.session.do
    do(letters.add_fastener, Fastener(id="B", drive="T", size="3"))
    do(marking.mark_more, "v0", "cover-screws", [(300, 200), (400, 300), (500, 400)])
    do(marking.mark_new, "v0", Kind(joint="clip"), [(600, 500)], part="pack")
    do(lifting.release, "pack-plug", 70)
    do(entries.note, "warm", 71)
    do(photos.add_view, View(id="v9", photo="v0.jpg", at_entry=window.session.teardown.log[-1].id))
    do(lifting.release, "pack-glue", 80, 2)
    window.log.show_state("v0")
    settle()
    return window


def now(window):
    return window.session.teardown


def popped():
    return next(one for one in reversed(QApplication.topLevelWidgets()) if isinstance(one, QMenu) and one.isVisible())


def choose(menu, *texts):
    """Through submenus; the last text is what is chosen."""
    for n, text in enumerate(texts):
        action = next((a for a in menu.actions() if a.text().startswith(text)), None)
        assert action is not None, (text, [a.text() for a in menu.actions()])
        if n + 1 < len(texts):
            menu = action.menu()
        else:
            assert action.isEnabled(), text
            action.trigger()
    for one in QApplication.topLevelWidgets():
        if isinstance(one, QMenu) and one.isVisible():
            one.close()
    settle()


def on_mark(window, thing, *texts, number=0):
    """The menu of a mark on the photograph, by the right button."""
    place = [n for n, m in enumerate(now(window).view["v0"].marks) if m.thing == thing][number]
    canvas = window.log.canvas
    spot = canvas.mapFromScene(canvas._pins[place].pos())
    assert canvas.pin_at(spot.toPointF()) is not None
    canvas.pin_asked.emit(place, canvas.mapToGlobal(spot))
    choose(popped(), *texts)


def on_entry(window, entry, *texts):
    running = window.log.running
    window.log.below.setCurrentIndex(0)
    settle()
    running.setCurrentIndex(running.model().index(running.model().row_of(entry)))
    running.customContextMenuRequested.emit(QPoint(5, 5))
    choose(popped(), *texts)


def answer(text):
    box = next(w for w in QApplication.topLevelWidgets() if isinstance(w, AskText) and w.isVisible())
    box.text.setText(text)
    box.accept()
    settle()


def confirmed(window, *told):
    box = next(w for w in QApplication.topLevelWidgets() if isinstance(w, QMessageBox) and w.isVisible())
    for text in told:
        assert text in box.informativeText()
    next(b for b in box.buttons() if b.text() == "Delete").click()
    settle()


def test_marks_and_joints_are_set_right_on_the_photograph(window):
    later = [entry.id for entry in now(window).log]
    on_mark(window, "cover-screws", "This one is of letter", "B", number=1)  # 1: one screw of another letter
    split = next(j for j in now(window).joints if j.fastener == "B")
    assert split.count == 1 and now(window).joint["cover-screws"].count == 3
    on_mark(window, "cover-screws", "Delete this mark", number=2)  # 2: a mark too many
    assert now(window).joint["cover-screws"].count == 2
    on_mark(window, split.id, "One group with", "Rear cover, A, as letter A")  # 3: it was of that letter after all
    assert split.id not in now(window).joint or "cover-screws" not in now(window).joint
    kept = next(j for j in now(window).joints if j.kind == "screw")
    assert kept.count == 3 and kept.fastener == "A"
    on_mark(window, kept.id, "All of them are of letter", "B")  # 4: the whole group, the last of it too
    assert now(window).joint[kept.id].fastener == "B"
    clip = next(j.id for j in now(window).joints if j.kind == "clip")
    on_mark(window, clip, "It is", "Film")  # 5: clips that are a film
    assert now(window).joint[clip].kind == "film"
    on_mark(window, clip, "Rename")  # 6: a name
    answer("edge film")
    assert now(window).joint[clip].name == "edge film"
    on_mark(window, clip, "Delete this mark")  # 7: an empty joint goes with its last mark
    assert clip not in now(window).joint
    assert [entry.id for entry in now(window).log][:len(later)] == later
    for _ in range(7):
        window.undo()
    assert now(window).joint["cover-screws"].count == 4 and now(window).joint[clip].kind == "clip"


def test_a_double_click_names_a_thing_but_never_while_something_is_marked(window):
    canvas = window.log.canvas
    place = canvas.mapFromScene(canvas._pins[0].pos())
    QTest.mouseDClick(canvas.viewport(), Qt.MouseButton.LeftButton, pos=place)
    answer("lid screws")
    assert now(window).joint["cover-screws"].name == "lid screws"
    window.log.letters.choose(0)
    settle()
    assert canvas._marking
    QTest.mouseDClick(canvas.viewport(), Qt.MouseButton.LeftButton, pos=place)
    settle()
    assert not [w for w in QApplication.topLevelWidgets() if isinstance(w, AskText) and w.isVisible()]


def test_the_log_is_set_right_in_the_running_list(window):
    note = next(e.id for e in now(window).log if e.text == "warm")
    glue = now(window).log[-1].id
    on_entry(window, "e2", "It was not done")  # 8: not lifted after all
    assert "cover" not in lifted(now(window)) and "pack-glue" in released(now(window))
    on_entry(window, "e2", "It was done after all")  # 9
    assert "cover" in lifted(now(window))
    on_entry(window, note, "Another text")  # 10
    answer("cold")
    assert next(e for e in readings(now(window)) if e.id == note).text == "cold"
    assert next(e for e in now(window).log if e.id == note).text == "warm"  # what was said stays
    on_entry(window, "e1", "Forgotten after this", "A note")  # 11
    answer("a label had to be cut")
    assert [e.text for e in in_order(now(window))][1] == "a label had to be cut"
    on_entry(window, glue, "Forgotten after this", "Lifted", "Battery pack")  # 12
    assert "pack" in lifted(now(window))
    window.activateWindow()
    window.log.running.setFocus()
    window.log.running.setCurrentIndex(window.log.running.model().index(window.log.running.model().row_of(glue)))
    QTest.keyClick(window.log.running, Qt.Key.Key_Delete)  # 13: the entry in hand, by the Delete key
    struck = [e for e in now(window).log if e.outcome == "not_done"]
    assert len(struck) == 2 and now(window).version == 2
    running = window.log.running
    running.setCurrentIndex(running.model().index(running.model().row_of(note)))
    running.doubleClicked.emit(running.currentIndex())
    answer("warm again")
    assert next(e for e in readings(now(window)) if e.id == note).text == "warm again"
    assert exchange.loads(exchange.dumps(now(window))) == now(window)


def test_a_release_by_another_way(window):
    view = now(window).view["v0"]
    window.session.do(marking.carry_marks, "v0", [replace(view.marks[0], thing="pack-glue", n=None, x=700, y=100)])
    settle()
    on_mark(window, "pack-glue", "It was undone", "way 1")  # 14
    assert next(e for e in readings(now(window)) if e.thing == "pack-glue").way == 0


def test_photographs_go_to_another_moment_or_away(window):
    strip = window.log.strip
    window.log.show_state("v9")
    settle()
    strip.setFocus()
    strip.customContextMenuRequested.emit(QPoint(5, 5))
    choose(popped(), "It shows another moment", "before the first act")  # 15
    assert now(window).view["v9"].at_entry is None
    window.log.show_state("v9")
    settle()
    marks = len(now(window).view["v9"].marks)
    QTest.keyClick(strip, Qt.Key.Key_Delete)  # 16
    confirmed(window, f"{marks} marks go with it")
    assert "v9" not in now(window).view and window.log.states.view is not None


def test_parts_and_letters_are_set_right_where_they_are_listed(window):
    window.show_workspace("parts")
    settle()
    tree = window.parts.tree
    tree.choose("pack")
    tree.name_asked.emit("pack")  # 17: a double click
    answer("Power pack")
    assert now(window).part["pack"].name == "Power pack"
    tree.choose("pack")
    tree.menu_asked.emit(QPoint(300, 300))
    choose(popped(), "Delete Power pack")  # 18: with what hangs on it, said beforehand
    confirmed(window, "Joints that go with it", "Entries of the log that speak of nothing else", "Undo brings all")
    assert "pack" not in now(window).part and "pack-glue" not in now(window).joint
    window.session.undo()
    window.show_workspace("bolts")
    settle()
    window.bolts.types.choose("B")
    window.bolts._menu(QPoint(5, 5))
    choose(popped(), "Delete letter B")  # 19
    confirmed(window, "0 groups")
    assert "B" not in now(window).fastener


def test_device_and_bench_are_said_again(window):
    window.menus.actions["details"].trigger()  # 20
    sheet = next(w for w in QApplication.topLevelWidgets() if isinstance(w, Details) and w.isVisible())
    sheet.of_device["name"].setText("Bittern")
    sheet.of_device["serial"].setText("B-0007")
    sheet.of_pass["by"].setText("A. Heron")
    sheet._keep()
    settle()
    assert (now(window).device.name, now(window).device.serial) == ("Bittern", "B-0007")
    assert now(window).sessions[0].by == "A. Heron" and window.device.text() == "Bittern"
    window.session.undo()
    assert now(window).device.name == "Bench radio" and now(window).sessions[0].by == "W. Ansel"
    wait_for(lambda: window.device.text() == "Bench radio")
