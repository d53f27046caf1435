"""What all controls share: each says what it is for, tables are sorted by column, and nobody is shown an id."""

from __future__ import annotations

import re

import pytest
from PySide6.QtCore import QAbstractListModel, QAbstractTableModel, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QAbstractSlider,
    QAbstractSpinBox,
    QComboBox,
    QHeaderView,
    QLabel,
    QLineEdit,
    QListWidget,
    QScrollBar,
    QTabBar,
    QTreeWidget,
    QWidget,
)

from oddbolt.session.verbs.entries import note
from oddbolt.ui.pieces.sorting import Row, sortable
from oddbolt.ui.rooms import ROOMS
from tests.ui_fixtures import settle, wait_for

CONTROLS = (QAbstractButton, QComboBox, QLineEdit, QAbstractSpinBox, QAbstractSlider, QAbstractItemView)


def within_another(widget: QWidget) -> bool:
    """Qt's own pieces of a control that is asked itself."""
    above = widget.parentWidget()
    while above is not None:
        if isinstance(above, (QComboBox, QAbstractSpinBox, QLineEdit, QTabBar)):
            return True
        above = above.parentWidget()
    return isinstance(widget, (QScrollBar, QHeaderView)) or type(widget).__name__ == "QComboBoxListView"


@pytest.mark.parametrize("room", ROOMS)
def test_every_control_says_what_it_is_for(demo, room):
    demo.show_workspace(room)
    if room == "log":
        demo.log.speaking.show_page()  # the Log by voice is put together when it is first wanted
    settle()
    silent = [(type(one).__name__, one.accessibleName(), one.property("text"))
              for one in demo.stack.currentWidget().findChildren(QWidget)
              if isinstance(one, CONTROLS) and not within_another(one) and not one.toolTip()]
    assert silent == []


def column(tree: QTreeWidget, number: int) -> list[str]:
    return [tree.topLevelItem(n).text(number) for n in range(tree.topLevelItemCount())]


def click_header(tree: QTreeWidget, number: int) -> None:
    header = tree.header()
    spot = header.rect().center()
    spot.setX(header.sectionViewportPosition(number) + 5)
    QTest.mouseClick(header.viewport(), Qt.MouseButton.LeftButton, pos=spot)
    settle()


def test_numbers_are_sorted_as_numbers_and_what_is_not_known_comes_last(app):
    tree = QTreeWidget()
    tree.setColumnCount(2)
    called = []
    sortable(tree, lambda: called.append(1))
    for name, value in (("b 10", "–"), ("b 9", "12.5"), ("a", "3"), ("B 1", "120")):
        tree.addTopLevelItem(Row([name, value]))
    assert column(tree, 0) == ["b 10", "b 9", "a", "B 1"]  # as they came
    tree.sortByColumn(0, Qt.SortOrder.AscendingOrder)
    assert column(tree, 0) == ["a", "B 1", "b 9", "b 10"]
    tree.sortByColumn(1, Qt.SortOrder.AscendingOrder)
    assert column(tree, 1) == ["3", "12.5", "120", "–"]


def test_tables_are_sorted_by_column_and_put_back_by_a_third_click(demo):
    demo.show_workspace("bolts")
    settle()
    types = demo.bolts.types
    own = column(types, 1)
    click_header(types, 8)
    out = [int(text) for text in column(types, 8)]
    assert out == sorted(out)
    click_header(types, 8)
    assert [int(text) for text in column(types, 8)] == sorted(out, reverse=True)
    demo.session.do(note, "a change comes in between", 1)
    settle()
    assert [int(text) for text in column(types, 8)] == sorted(out, reverse=True)
    click_header(types, 8)
    assert column(types, 1) == own
    demo.show_workspace("sequence")
    demo.sequence.tabs.setCurrentIndex(0)
    order = demo.sequence.in_order
    wait_for(lambda: order.topLevelItemCount() > 0)
    click_header(order, 2)
    place = order.topLevelItem(order.topLevelItemCount() - 1).data(0, Qt.ItemDataRole.UserRole)
    longest = max(order.view.picture.lanes.items, key=lambda item: item.active_s)
    assert place == longest.place
    demo.show_workspace("parts")
    tree = demo.parts.tree
    first = [item.text(0) for item in tree._items(tree.tree.topLevelItem(0))]
    click_header(tree.tree, 2)
    root = tree.tree.topLevelItem(0)
    masses = [float(root.child(n).text(2)) for n in range(root.childCount()) if root.child(n).text(2) != "–"]
    assert masses == sorted(masses) and len(masses) > 5
    click_header(tree.tree, 2)
    click_header(tree.tree, 2)
    assert [item.text(0) for item in tree._items(tree.tree.topLevelItem(0))] == first


def test_a_search_says_how_many_it_found(demo):
    demo.show_workspace("parts")
    tree = demo.parts.tree
    assert tree.number.text() == ""
    QTest.keyClicks(tree.search, "moisture white")
    assert tree.number.text() == f"1 of {len(tree._rows)}"
    tree.search.setText("no such thing")
    assert tree.number.text().startswith("0 of")
    tree.search.setText("Bracket")  # as the kind is shown
    shown = [item for item in tree._items(tree.tree.topLevelItem(0)) if not item.isHidden()]
    assert 0 < int(tree.number.text().split()[0]) < len(shown)  # their carriers are shown and not counted
    tree.search.clear()
    assert tree.number.text() == ""


def unnamed_device() -> dict:
    """Ids that can be recognised anywhere, and no names."""
    return {"format": "oddbolt-teardown", "version": 1,
            "device": {"name": "Box", "base": "qqx-base", "category": "slate_tablet"},
            "fasteners": [{"id": "A", "drive": "PH", "size": "00"}],
            "parts": [{"id": "qqx-base", "kind": "frame"}, {"id": "qqx-c", "kind": "cover", "role": ["back_cover"]},
                      {"id": "qqx-1", "kind": "board", "behind": [["qqx-c"]]},
                      {"id": "qqx-2", "kind": "board", "role": ["battery"], "behind": [["qqx-c"]]}],
            "joints": [{"id": "qqx-s", "kind": "screw", "fastener": "A", "count": 2, "of": ["qqx-c", "qqx-base"]},
                       {"id": "qqx-p", "kind": "connector", "type": "zif", "of": ["qqx-1", "qqx-2"],
                        "behind": [["qqx-c"]]},
                       {"id": "qqx-g", "kind": "adhesive", "of": ["qqx-2", "qqx-base"], "behind": [["qqx-c"]],
                        "ways": [{"tool": "pick", "active_s": 30, "reuse": "renew"}]}],
            "views": [{"id": "qqx-v", "side": "back", "photo": "v.jpg",
                       "marks": [{"thing": "qqx-s", "x": 30, "y": 30, "n": 1}]}],
            "log": [{"id": "qqx-e1", "do": "release", "thing": "qqx-s", "t": 10, "seconds": 12},
                    {"id": "qqx-e2", "do": "remove", "thing": "qqx-c", "t": 20},
                    {"id": "qqx-e3", "do": "release", "thing": "qqx-p", "t": 30, "amends": None}]}


def texts_of(window) -> list[str]:
    found = [window.windowTitle()]
    for one in window.findChildren(QWidget):
        found += [one.toolTip(), one.accessibleName(), one.accessibleDescription()]
        if isinstance(one, (QLabel, QAbstractButton, QLineEdit)):
            found.append(one.text())
        if isinstance(one, QComboBox):
            found += [one.itemText(n) for n in range(one.count())]
        if isinstance(one, QListWidget):
            found += [one.item(n).text() for n in range(one.count())]
        elif isinstance(one, QAbstractItemView) and one.model() is not None:
            found += texts_in(one.model())
        if hasattr(one, "toPlainText"):
            found.append(one.toPlainText())
    for action in window.menus.actions.values():
        found.append(action.text())
    return found


def texts_in(model, parent=None) -> list[str]:
    parents = (parent,) if parent is not None else ()
    found = []
    is_list = isinstance(model, QAbstractListModel)  # one column
    is_flat = is_list or isinstance(model, QAbstractTableModel)  # nothing below
    for row in range(model.rowCount(*parents)):
        for number in range(1 if is_list else model.columnCount(*parents)):
            index = model.index(row, number, *parents)
            found += [str(model.data(index)), str(model.data(index, Qt.ItemDataRole.ToolTipRole))]
        below = model.index(row, 0, *parents)
        if not is_flat and model.hasChildren(below):
            found += texts_in(model, below)
    return found


@pytest.mark.parametrize("room", ROOMS)
def test_nobody_is_shown_an_id(make_window, room):
    """A part without a name is called by its kind, numbered where there are several; a joint by what it ties."""
    window = make_window(unnamed_device())
    for thing in ("qqx-1", "qqx-s", "qqx-p", "qqx-g"):
        window.log.choose(thing)
        window.show_workspace(room)
        if room == "sequence":
            wait_for(lambda: window.sequence._found is not None and not window.sequence.planned.stale)
        if room == "verdict":
            wait_for(lambda: window.verdict.points.topLevelItemCount() > 0)
        settle()
        shown = texts_of(window)
        assert [text for text in shown if re.search("qqx", text)] == []
    assert any("Board 2" in text for text in texts_of(window)) or room in ("prepare", "bolts", "verdict")
