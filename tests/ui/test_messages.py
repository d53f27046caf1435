"""Every text that people read can be translated, whole; and there is room for languages that take more of it."""

from __future__ import annotations

import ast
import re
import subprocess
import sys
from pathlib import Path

import pytest
from PySide6.QtCore import QTranslator
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QComboBox, QDialogButtonBox, QLabel, QTabBar, QTreeWidget, QWidget
from scripts import messages

from oddbolt.ui.rooms import ROOMS
from oddbolt.ui.theme.language import use_language_of_dialogs
from oddbolt.words import translate
from tests.ui_fixtures import settle

SPOKEN = ("ui/", "words/", "paint/", "reports/", "cli/", "app.py")
# What looks like prose and is none: names of keys as Qt reads them, of classes and files, words of the file format.
NO_PROSE = re.compile(
    r"(Ctrl|Shift|Alt)\+|Return$|Space$|Del$|Ins$|Esc$|Inter|DejaVu|Fusion|Odd Bolt$|Letter$|Moisture$|any part$|"
    r"\w+Panel$|Workspace$|on photo$|torque driver$|(upper|lower) (left|right)$|protective film$|dummy plug$|"
    r"tape over terminals$|not caught$|a job failed$|odd-bolt job( ahead)?$|This plugin does not support$")
PROSE = re.compile(r"[A-Za-z]{2,} [A-Za-z]{2,}|^[A-Z][a-z]{2,}")
WRAPS = ("tr", "N_")


def problems(source: str) -> list[str]:
    """Prose that nobody can translate, and texts that are not handed over whole."""
    tree, found, fine = ast.parse(source), [], set()
    for node in ast.walk(tree):
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in WRAPS:
            text = node.args[0]
            fine |= {id(one) for one in ast.walk(text)}
            if isinstance(text, (ast.JoinedStr, ast.BinOp, ast.Call)):
                found.append(f"{node.lineno}: a text built from variables")
        elif isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and isinstance(
                node.func.value, ast.Call) and getattr(node.func.value.func, "id", "") in WRAPS \
                and node.func.attr in ("replace", "split", "partition", "removeprefix", "removesuffix", "strip"):
            found.append(f"{node.lineno}: a text cut apart")
        elif isinstance(node, (ast.Module, ast.ClassDef, ast.FunctionDef)) and ast.get_docstring(node) is not None:
            fine.add(id(node.body[0].value))
        elif isinstance(node, (ast.Assert, ast.Raise)):
            fine |= {id(one) for one in ast.walk(node)}
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr) and id(node) not in fine:
            text = " ".join(str(one.value) for one in node.values if isinstance(one, ast.Constant))
            fine |= {id(one) for one in node.values}
            words = re.sub(r"<[^>]*>|&\w+;|[\w.-]+[:=-]|\.\w+|-\w+|(Alt|Shift|Ctrl)\+", " ", text)
            if re.search(r"(?<![\w#])[A-Za-z]{3,}(?!\w)", words):
                found.append(f"{node.lineno}: {text!r}")
    for node in ast.walk(tree):
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in fine \
                and PROSE.search(re.sub(r"<[^>]*>", "", node.value)) and not NO_PROSE.match(node.value):
            found.append(f"{node.lineno}: {node.value!r}")
    return found


def spoken_files(root: Path) -> list[Path]:
    package = root / "src" / "oddbolt"
    return [path for path in sorted(package.rglob("*.py"))
            if path.relative_to(package).as_posix().startswith(SPOKEN) and path.name != "style.py"]


def test_every_text_is_extracted_whole(root):
    found = [f"{path.relative_to(root)}:{problem}" for path in spoken_files(root)
             for problem in problems(path.read_text("utf-8"))]
    assert found == []


@pytest.mark.parametrize("line", [
    'label("Nothing was found")', 'tr(f"found {n}")', 'tr("found " + name)', 'tr("a; b").split("; ")',
    'f"waits for {name}"', 'x = "Recorded"', 'tr("%s screws".replace("%s", n))'])
def test_a_planted_text_is_found(line):
    assert problems(line)


def test_figures_stand_in_every_translation(root):
    """The made-up language keeps every place for a figure."""
    places = re.compile(r"\{[^}]*\}")
    number = 0
    for message in messages.catalogue():
        if message.id:
            assert places.findall(messages.stretched(message.id)) == places.findall(message.id)
            number += 1
    assert number > 1000


def test_the_texts_are_extracted_as_written_in_the_readme(root, tmp_path):
    run = subprocess.run([sys.executable, "-m", "scripts.messages", "extract", str(tmp_path / "all.pot")], cwd=root,
                         capture_output=True, text=True, check=False)
    assert run.returncode == 0, run.stderr
    text = (tmp_path / "all.pot").read_text("utf-8")
    for known in ("Press N to add the first photograph", "undo bolts", "joint_kinds.toml", "eu-2023-1669-tablet.toml"):
        assert known in text


@pytest.fixture
def stretched(tmp_path):
    """The made-up language, in use."""
    path = tmp_path / "oddbolt.mo"
    messages.write_stretched(path)
    translate.use_catalogue(path)
    yield
    translate.use_catalogue(None)


def test_the_command_line_speaks_the_language_too(root, tmp_path):
    path = tmp_path / "en" / "LC_MESSAGES" / "oddbolt.mo"
    messages.write_stretched(path)
    code = ("import sys; from pathlib import Path; from oddbolt.words import translate; "
            "from oddbolt.cli import commands as cli; "
            f"translate.use_catalogue(Path({str(path)!r})); cli.use_system_language = lambda: None; "
            "sys.exit(cli.run(['assess', 'src/oddbolt/demo/dunlin-2.json', '--method', 'eu-2023-1669-tablet']))")
    run = subprocess.run([sys.executable, "-c", code], cwd=root, capture_output=True, text=True, check=False)
    assert run.returncode in (0, 1), run.stderr
    lines = [line for line in run.stdout.splitlines() if re.search(r"[a-z]{3}", line)]
    assert lines and all(messages.LONGER in line for line in lines), run.stdout


def _cancel() -> str:
    box = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
    return box.button(QDialogButtonBox.StandardButton.Cancel).text().replace("&", "")


def test_qts_own_dialogs_follow_the_language_of_the_program(app, tmp_path, monkeypatch):
    """A file of ours for a language brings Qt's along; without one nothing is mixed."""
    monkeypatch.setenv("LANGUAGE", "de")
    assert translate.use_system_language(tmp_path) == ""
    assert not use_language_of_dialogs(app, "")
    messages.write_stretched(tmp_path / "de" / "LC_MESSAGES" / "oddbolt.mo")
    try:
        language = translate.use_system_language(tmp_path)
        assert language == "de" and messages.LONGER in translate.tr("nothing")
        assert _cancel() == "Cancel"
        assert use_language_of_dialogs(app, language)
        assert _cancel() == "Abbrechen"
    finally:
        translate.use_catalogue(None)
        for translator in app.findChildren(QTranslator):
            app.removeTranslator(translator)
            translator.deleteLater()


def clipped(widget: QWidget) -> str:
    """The text of a control that has not the room it needs; empty where it has. What is elided on purpose has a
    tooltip or the whole of it elsewhere, and says so by its size policy."""
    if isinstance(widget, QAbstractButton) or isinstance(widget, QLabel) and not widget.wordWrap():
        need, text = widget.sizeHint().width(), widget.text()
    elif isinstance(widget, QLabel):
        height = widget.heightForWidth(widget.width())
        return widget.text() if height > widget.height() + 2 else ""
    else:
        return ""
    return text if text and need > widget.width() + 2 else ""


def in_sight(window, kind):
    return [widget for widget in window.findChildren(kind)
            if widget.isVisible() and not widget.visibleRegion().isEmpty()]


def untranslated(window) -> list[str]:
    """Texts of controls in sight that are still English: no record holds them, they are ours."""
    texts = [button.text() for button in in_sight(window, QAbstractButton)]
    for bar in in_sight(window, QTabBar):
        texts += [bar.tabText(n) for n in range(bar.count())]
    for tree in in_sight(window, QTreeWidget):
        if not tree.isHeaderHidden():
            texts += [tree.headerItem().text(n) for n in range(tree.columnCount())]
    return [text for text in texts if re.search(r"[a-z]{4}", re.sub(r"Shift|Ctrl|Return|Space|Esc|Del", "", text))
            and messages.LONGER not in text]


@pytest.fixture
def stretched_demo(stretched, request):
    return request.getfixturevalue("demo")


@pytest.mark.parametrize("room", ROOMS)
def test_no_control_is_clipped_in_a_longer_language(stretched_demo, room):
    window = stretched_demo
    window.resize(1280, 800)
    window.show_workspace(room)
    QTest.qWait(300)
    settle()  # what a job brought in the last moment has its place by now
    assert window.size().width() == 1280 and window.size().height() == 800, "the window can still be that small"
    found = [text for kind in (QAbstractButton, QLabel) for widget in in_sight(window, kind)
             if not isinstance(widget.parent(), QComboBox) and (text := clipped(widget))]
    assert found == []
    assert untranslated(window) == []
