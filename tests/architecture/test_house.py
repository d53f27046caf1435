"""The plan of the house is kept, and what keeps it bites."""

from __future__ import annotations

import ast
import re
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
    ("cli/papers.py", "def f():\n    import oddbolt.ui.window"),  # a function's own import counts too
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
    code = ("import sys, oddbolt.app, oddbolt.cli.commands, oddbolt.ui.window; "
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


# -- how large things may grow: a folder is a room one can see over, a class and a function fit on a page or two

FOLDER_LINES, CLASS_METHODS, CLASS_LINES, FUNCTION_LINES = 1800, 25, 300, 50
REASON = "# Large because "


def too_large(package: Path) -> list[str]:
    """What is larger than it may be. A class or function may be, where the line above it says why."""
    found, folders = [], {}
    for path in sorted(package.rglob("*.py")):
        text = path.read_text("utf-8")
        lines, place = text.splitlines(), path.relative_to(package).as_posix()
        folders[path.parent] = folders.get(path.parent, 0) + len(lines)
        for node in ast.walk(ast.parse(text)):
            if not isinstance(node, (ast.ClassDef, ast.FunctionDef)):
                continue
            first = min([node.lineno, *(one.lineno for one in node.decorator_list)])
            if lines[first - 2].strip().startswith(REASON):
                continue
            length = node.end_lineno - node.lineno + 1
            methods = sum(isinstance(one, ast.FunctionDef) for one in node.body)
            if isinstance(node, ast.FunctionDef) and length > FUNCTION_LINES:
                found.append(f"{place}: {node.name} has {length} lines")
            elif isinstance(node, ast.ClassDef) and (methods > CLASS_METHODS or length > CLASS_LINES):
                found.append(f"{place}: {node.name} has {methods} methods, {length} lines")
    found += [f"{folder.relative_to(package)}: {n} lines" for folder, n in folders.items() if n > FOLDER_LINES]
    return found


def test_nothing_outgrows_its_room(root):
    assert too_large(root / "src" / "oddbolt") == []


@pytest.mark.parametrize("planted", [
    "def long():\n" + "    x = 1\n" * 50, "class Many:\n" + "\n".join(f"    def f{n}(self): ..." for n in range(26)),
    "class Long:\n" + "    x = 1\n" * 300, "\n" * 1800])
def test_what_outgrows_its_room_is_found(copy, planted):
    (copy / "src" / "oddbolt" / "desktop" / "planted.py").write_text(planted + "\n")
    assert len(too_large(copy / "src" / "oddbolt")) == 1


def imports_of(package: Path) -> dict[str, set[str]]:
    """Module -> modules of the package that it imports anywhere in it, in functions and for type checkers too."""
    modules = {".".join(("oddbolt", *path.relative_to(package).with_suffix("").parts)): path
               for path in package.rglob("*.py") if path.name != "__init__.py"}
    return {name: imported(path) & modules.keys() for name, path in modules.items()}


def circles(graph: dict[str, set[str]]) -> list[str]:
    """Modules that cannot be put in an order in which each stands after what it imports."""
    left = dict(graph)
    while free := [name for name, needs in left.items() if not needs & left.keys()]:
        for name in free:
            del left[name]
    return sorted(left)


def test_no_modules_import_each_other_in_a_circle(root):
    assert circles(imports_of(root / "src" / "oddbolt")) == []


def test_a_circle_is_found(copy):
    path = copy / "src" / "oddbolt" / "rules" / "structure.py"
    path.write_text(path.read_text() + "\nimport oddbolt.rules.replay\n")
    assert "oddbolt.rules.structure" in circles(imports_of(copy / "src" / "oddbolt"))


def test_files_that_documents_name_are_there(root):
    """A path in a document leads somewhere: below the root, or below the package."""
    missing = []
    for page in (root / "README.md", root / "benchmarks" / "README.md", *sorted((root / "docs").rglob("*.md"))):
        for path in re.findall(r"`((?:[\w-]+/)+[\w.-]+\.(?:py|toml|json|md|tsv))`", page.read_text("utf-8")):
            if not any((base / path).exists() for base in (root, root / "src" / "oddbolt", page.parent)):
                missing.append(f"{page.name}: {path}")
    assert missing == []


def test_benchmarks_import_as_the_readme_names_them(root):
    """Each is run by its name as a module; none is left out of the table."""
    page = (root / "benchmarks" / "README.md").read_text("utf-8")
    scripts = {path.stem for path in (root / "benchmarks").glob("*.py")} - {"devices", "large_record"}
    assert set(re.findall(r"^\| `(\w+)\.py`", page, re.MULTILINE)) == scripts
    code = "; ".join(f"import benchmarks.{name}" for name in sorted(scripts))
    run = subprocess.run([sys.executable, "-c", code], cwd=root, capture_output=True, text=True, check=False)
    assert run.returncode == 0, run.stderr


def rich_texts(source: str) -> list[str]:
    """Where a text that may hold a name could be drawn as a page: labels not made by `label`, tips not by `tip`."""
    found = []
    for node in ast.walk(ast.parse(source)):
        if not isinstance(node, ast.Call):
            continue
        name = getattr(node.func, "id", getattr(node.func, "attr", ""))
        if name in ("QLabel", "QTextEdit", "QErrorMessage"):
            found.append(f"{node.lineno}: {name} is rich by itself")
        elif name == "QMessageBox" and "PlainText" not in source:
            found.append(f"{node.lineno}: a box of rich text")
        elif name == "setTextFormat" and "PlainText" not in ast.unparse(node) and "to_html" not in source:
            found.append(f"{node.lineno}: {ast.unparse(node)}")
        elif name in ("setToolTip", "showText", "setStatusTip", "setWhatsThis"):
            texts = [argument for argument in node.args if not isinstance(argument, ast.Constant)]
            if not any(_is_plain(argument) for argument in texts):
                found.append(f"{node.lineno}: {ast.unparse(node)[:80]}")
    return found


def _is_plain(node: ast.expr) -> bool:
    if isinstance(node, ast.IfExp):
        return _is_plain(node.body) and (_is_plain(node.orelse) or isinstance(node.orelse, ast.Constant))
    return isinstance(node, ast.Call) and getattr(node.func, "id", "") in ("tip", "tr")


def test_names_are_never_drawn_as_pages(root):
    package = root / "src" / "oddbolt" / "ui"
    found = [f"{path.relative_to(package)}:{one}" for path in sorted(package.rglob("*.py"))
             if path.name != "sheet.py" for one in rich_texts(path.read_text())]
    assert found == []
    assert len(rich_texts((package / "pieces" / "sheet.py").read_text())) == 1  # the label that all are made of


@pytest.mark.parametrize("planted", ["x.setToolTip(name)", "x.setToolTip(tr('{0}').format(name))", "QLabel(name)",
                                     "x.setTextFormat(Qt.TextFormat.RichText)", "QToolTip.showText(p, name, w)"])
def test_a_planted_page_is_found(planted):
    assert len(rich_texts(planted)) == 1
    assert not rich_texts("x.setToolTip(tip(name)); x.setToolTip(tr('What this is')); label(name)")
