"""A citizen of the desktop, judged by the usual validators where they are; a wheel that runs by itself."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import zipfile
from xml.etree import ElementTree

import pytest

from oddbolt.desktop.install import APP_ID, PLACES, _quoted, install, remove
from oddbolt.model import exchange
from oddbolt.store.document import Document


def run(*words, **keys):
    return subprocess.run([str(word) for word in words], capture_output=True, text=True, check=False, timeout=300,
                          **keys)


@pytest.fixture
def home(tmp_path):
    install(tmp_path / "share")
    return tmp_path / "share"


def validator(name):
    if shutil.which(name) is None:
        pytest.skip(f"{name} is not on this system")
    return name


def test_it_is_put_in_place_and_taken_away_by_the_program(tmp_path, root):
    environment = {**os.environ, "XDG_DATA_HOME": str(tmp_path / "share"), "PYTHONPATH": str(root / "src")}
    for _ in range(2):  # again is no fault
        done = run(sys.executable, "-m", "oddbolt", "--install-desktop", env=environment)
        assert done.returncode == 0 and done.stdout.count("written") == len(PLACES), done.stderr
    entry = (tmp_path / "share" / "applications" / f"{APP_ID}.desktop").read_text()
    assert f"Exec={sys.executable} -m oddbolt %f" in entry and "MimeType=application/x-oddbolt;" in entry
    gone = run(sys.executable, "-m", "oddbolt", "--remove-desktop", env=environment)
    assert gone.returncode == 0 and gone.stdout.count("removed") == len(PLACES)
    assert not [place for place in PLACES.values() if (tmp_path / "share" / place).exists()]
    assert remove(tmp_path / "share") == []
    (tmp_path / "file").write_text("")
    refused = run(sys.executable, "-m", "oddbolt", "--install-desktop",
                  env={**environment, "XDG_DATA_HOME": str(tmp_path / "file")})
    assert refused.returncode == 2 and "cannot be written" in refused.stderr


def test_the_entry_is_valid(home):
    done = run(validator("desktop-file-validate"), home / "applications" / f"{APP_ID}.desktop")
    assert (done.returncode, done.stdout + done.stderr) == (0, "")


def test_the_metadata_are_valid(home):
    done = run(validator("appstreamcli"), "validate", "--no-net", home / "metainfo" / f"{APP_ID}.metainfo.xml")
    assert done.returncode == 0, done.stdout


def test_the_file_type_is_known_by_its_magic(home, example, tmp_path):
    """Without its suffix too, and a database that is none of ours is not taken for one."""
    assert run(validator("update-mime-database"), home / "mime").returncode == 0
    xml = ElementTree.parse(home / "mime" / "application" / "x-oddbolt.xml").getroot()
    assert xml.attrib["type"] == "application/x-oddbolt"
    Document.create(tmp_path / "one.oddbolt", exchange.from_json(example)).close()
    body = (tmp_path / "one.oddbolt").read_bytes()
    magic = (home / "mime" / "magic").read_bytes()
    assert b"SQLite format 3\0" in magic and b"ODBT" in magic
    assert body[:16] == b"SQLite format 3\0" and body[68:72] == b"ODBT"
    assert ElementTree.parse(home / "icons/hicolor/scalable/apps" / f"{APP_ID}.svg").getroot().tag.endswith("svg")


@pytest.mark.parametrize(("word", "quoted"), [
    ("/usr/bin/odd-bolt", "/usr/bin/odd-bolt"), ("/a b/odd-bolt", '"/a b/odd-bolt"'), ("/100%/x", "/100%%/x"),
    ("/$HOME/x", '"/\\\\$HOME/x"'), ('/"q"/x', '"/\\\\"q\\\\"/x"')])
def test_paths_are_quoted_as_an_entry_wants_them(word, quoted):
    """Desktop entry specification, the Exec key (from memory)."""
    assert _quoted(word) == quoted


def test_a_wheel_alone_runs_the_demo(root, tmp_path):
    """Wheel and sdist, by the build backend that the project names."""
    built = run(sys.executable, "-c", "import sys; from hatchling.builders.wheel import WheelBuilder; "
                "from hatchling.builders.sdist import SdistBuilder; "
                "[print(path) for kind in (WheelBuilder, SdistBuilder) for path in kind(sys.argv[1]).build("
                "directory=sys.argv[2], versions=['standard'])]", root, tmp_path / "dist")
    assert built.returncode == 0, built.stderr
    wheel = next((tmp_path / "dist").glob("*.whl"))
    assert next((tmp_path / "dist").glob("*.tar.gz")).stat().st_size > 100_000
    with zipfile.ZipFile(wheel) as archive:
        names = archive.namelist()
        archive.extractall(tmp_path / "alone")
    for needed in (*(f"oddbolt/desktop/{name}" for name in PLACES), "oddbolt/demo/dunlin-2.json"):
        assert needed in names
    environment = {name: value for name, value in os.environ.items() if name != "PYTHONPATH"}
    environment |= {"PYTHONPATH": str(tmp_path / "alone"), "XDG_DATA_HOME": str(tmp_path / "data"),
                    "XDG_STATE_HOME": str(tmp_path / "state"), "QT_QPA_PLATFORM": "offscreen"}
    code = "import oddbolt, sys; from oddbolt.__main__ import main; print(oddbolt.__file__); sys.exit(main())"
    done = run(sys.executable, "-c", code, "--demo", "--shot", tmp_path / "demo.png", env=environment, cwd=tmp_path)
    assert str(tmp_path / "alone") in done.stdout and (tmp_path / "demo.png").stat().st_size > 50_000, done.stderr
