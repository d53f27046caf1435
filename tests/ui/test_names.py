"""Names are names: whatever somebody calls a thing is shown as it stands, reads no file and widens no window."""

from __future__ import annotations

import csv
import io

import pytest
from msgspec.structs import replace
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QListWidget, QTreeWidget, QTreeWidgetItem, QTreeWidgetItemIterator, QWidget

from oddbolt.model import exchange
from oddbolt.reports.as_csv import to_csv
from oddbolt.reports.content.tree import Table
from oddbolt.store.document import Document
from oddbolt.ui.rooms import ROOMS
from oddbolt.words.terminal import printable
from tests.ui_fixtures import settle

PICTURE = "<img src='/etc/hostname'><b>bold</b>"


def called(teardown, name):
    """Everything in it by one name."""
    return replace(
        teardown, device=replace(teardown.device, name=name, variant=""),
        parts=tuple(replace(part, name=name) for part in teardown.parts),
        joints=tuple(replace(joint, name=name) for joint in teardown.joints),
        tools=tuple(replace(tool, name=name) for tool in teardown.tools),
        log=tuple(replace(entry, text=name) for entry in teardown.log))


@pytest.mark.parametrize("name", [PICTURE, "W" * 300, "a\nb\nc" * 30])
def test_a_name_is_shown_as_it_stands(make_window, tmp_path, name):
    window = make_window()
    teardown = called(window.session.teardown, name)
    width, height = window.width(), window.height()
    window.session.switch_to(Document.create(tmp_path / "named.oddbolt", teardown))
    for room in ROOMS:
        window.show_workspace(room)
        settle()
        assert (window.width(), window.height()) == (width, height), room
        assert window.minimumSizeHint().width() <= 1024, wide(window.stack.currentWidget())
        shown = [window, *window.findChildren(QWidget)]
        labels = [one for one in shown if isinstance(one, QLabel) and "<" in one.text()]
        assert all(one.textFormat() == Qt.TextFormat.PlainText or "&lt;" in one.text() for one in labels)
        assert not [one.toolTip() for one in [*shown, *items(shown)] if "<img" in tool_tip(one)]
    assert name[:20] in window.device.text() or "\n" in name


def wide(room):
    """What needs so much room."""
    return [(type(one).__name__, one.objectName(), one.minimumSizeHint().width())
            for one in room.findChildren(QWidget) if one.isVisible() and one.minimumSizeHint().width() > 500][-6:]


def items(shown):
    for one in shown:
        if isinstance(one, QTreeWidget):
            walk = QTreeWidgetItemIterator(one)
            while walk.value():
                yield walk.value()
                walk += 1
        elif isinstance(one, QListWidget):
            yield from (one.item(n) for n in range(one.count()))


def tool_tip(one):
    if isinstance(one, QTreeWidgetItem):
        return " ".join(one.toolTip(n) for n in range(one.columnCount()))
    return one.toolTip()


def test_what_a_spreadsheet_would_compute_is_text(example):
    table = Table(columns=("a", "b"), rows=(("=1+1", 2), ("+cmd", True), ("@x", -1.5), ("-2", "fine"), ("\tx", "a=b")))
    rows = list(csv.reader(io.StringIO(to_csv(table).decode())))
    assert [row[0] for row in rows[1:]] == ["'=1+1", "'+cmd", "'@x", "'-2", "'\tx"]
    assert [row[1] for row in rows[1:]] == ["2", "yes", "-1.5", "fine", "a=b"]
    assert exchange.from_json(example)


def test_a_terminal_gets_no_orders():
    """ECMA-48 (from memory): a control sequence begins with ESC or the single character 0x9B."""
    assert printable("\x1b[31mred\x9b0m\x07 a\tb\n") == "\\x1b[31mred\\x9b0m\\x07 a\tb\n"
