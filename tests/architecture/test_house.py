"""The plan of the house is kept, and what keeps it bites."""

from __future__ import annotations

import ast
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

LINT = [str(Path(sys.executable).parent / "lint-imports"), "--no-cache"]


def lint(folder: Path) -> subprocess.CompletedProcess[str]:
    return subprocess.run(LINT, cwd=folder, env={"PYTHONPATH": str(folder / "src"), "PATH": "/usr/bin:/bin"},
                          capture_output=True, text=True, check=False)


@pytest.fixture
def copy(root, tmp_path):
    shutil.copytree(root / "src", tmp_path / "src", ignore=shutil.ignore_patterns("__pycache__", "*.jpg", "*.ttf"))
    shutil.copy(root / "pyproject.toml", tmp_path)
    return tmp_path


def test_imports_point_down(root):
    run = lint(root)
    assert run.returncode == 0, run.stdout + run.stderr


@pytest.mark.parametrize(("module", "line"), [
    ("model/refusal.py", "import oddbolt.search.planner"),
    ("rules/structure.py", "import oddbolt.session.session"),
    ("knowledge/guesses.py", "import oddbolt.search.planner"),
    ("cli.py", "def f():\n    import oddbolt.ui.window"),  # a function's own import counts too
    ("store/files.py", "import oddbolt.reports.content.strata"),
    ("rules/device_state.py", "import oddbolt.conditions.network")])
def test_a_planted_import_is_found(copy, module, line):
    path = copy / "src" / "oddbolt" / module
    path.write_text(path.read_text() + f"\n\n{line}\n")
    assert lint(copy).returncode != 0


def test_a_package_outside_the_plan_is_found(copy):
    (copy / "src" / "oddbolt" / "helpers").mkdir()
    (copy / "src" / "oddbolt" / "helpers" / "__init__.py").touch()
    assert lint(copy).returncode != 0


def imported(path: Path) -> set[str]:
    """Modules that a file imports anywhere in it, functions included."""
    names = set()
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, ast.Import):
            names.update(alias.name for alias in node.names)
        elif isinstance(node, ast.ImportFrom) and node.module:
            names.add(node.module)
            names.update(f"{node.module}.{alias.name}" for alias in node.names)
    return names


ALLOWED = {"PySide6.QtWidgets": ("app.py", "ui/"), "PySide6.QtGui": ("app.py", "ui/", "paint/"),
           "PySide6": ("app.py", "ui/", "paint/"), "sqlite3": ("store/",)}


def strays(package: Path) -> list[str]:
    found = []
    for path in sorted(package.rglob("*.py")):
        place = path.relative_to(package).as_posix()
        for name in imported(path):
            for module, places in ALLOWED.items():
                if (name == module or name.startswith(f"{module}.")) and not place.startswith(places):
                    found.append(f"{place}: {name}")
    return found


def test_widgets_painting_and_the_database_stay_where_they_belong(root):
    assert strays(root / "src" / "oddbolt") == []


def test_a_planted_widget_is_found(copy):
    path = copy / "src" / "oddbolt" / "session" / "session.py"
    path.write_text(path.read_text() + "\n\ndef f():\n    from PySide6 import QtWidgets\n")
    assert strays(copy / "src" / "oddbolt")
    path = copy / "src" / "oddbolt" / "paint" / "bolts.py"
    path.write_text(path.read_text() + "\n\nimport PySide6.QtWidgets\n")
    assert any(stray.startswith("paint/bolts.py") for stray in strays(copy / "src" / "oddbolt"))


def test_package_inits_are_empty(root):
    for path in (root / "src" / "oddbolt").rglob("__init__.py"):
        if path.parent.name != "oddbolt":
            assert path.read_text() == "", path


@pytest.mark.skipif(sys.version_info >= (3, 12), reason="None is immortal from Python 3.12 on")
def test_the_pinned_qt_binding_keeps_none_alive():
    """PySide6 6.12.0 loses a reference to None at every void call on Python 3.11 and aborts after some thousands."""
    from PySide6.QtGui import QImage, QPainter, QPen

    image = QImage(8, 8, QImage.Format.Format_RGB32)
    painter = QPainter(image)
    pen = QPen()
    before = sys.getrefcount(None)
    for _ in range(1000):
        painter.setPen(pen)
    after = sys.getrefcount(None)
    painter.end()
    assert after > before - 100


def test_numbers_and_templates_are_loaded_only_when_needed():
    code = ("import sys, oddbolt.app, oddbolt.cli, oddbolt.ui.window; "
            "print([m for m in sys.modules if m.split('.')[0] in ('numpy', 'scipy', 'jinja2')])")
    run = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert run.stdout.strip() == "[]"


def test_no_registry_host_is_written_anywhere(root):
    files = subprocess.run(["git", "ls-files"], cwd=root, capture_output=True, text=True, check=True).stdout.split()
    hosts = ("py" + "pi.org", "python" + "hosted.org", "npm" + "js.org", "deb." + "debian.org")
    for name in files:
        path = root / name
        if path.suffix in (".py", ".md", ".toml", ".lock", ".tsv", ".sh", "") and path.is_file():
            text = path.read_text("utf-8", errors="ignore")
            assert not any(host in text for host in hosts), name
