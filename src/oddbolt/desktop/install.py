"""A citizen of the desktop: menu entry, icon, file type and metadata, for the user who runs the program.

Follows the desktop entry, icon theme, shared MIME info and AppStream specifications (freedesktop.org, from memory; the
usual validators judge it in the tests). A distribution installs the same files system-wide: docs/packaging.md.
"""

from __future__ import annotations

import shutil
import subprocess
import sys
from importlib.resources import files
from pathlib import Path

from oddbolt.model.folders import desktop_folder
from oddbolt.model.refusal import Refusal
from oddbolt.store.files import write_whole

APP_ID = "org.oddbolt.OddBolt"
# Shipped file -> where it goes below the data folder.
PLACES = {f"{APP_ID}.desktop": f"applications/{APP_ID}.desktop",
          f"{APP_ID}.metainfo.xml": f"metainfo/{APP_ID}.metainfo.xml",
          "oddbolt.xml": "mime/packages/oddbolt.xml",
          "oddbolt.svg": f"icons/hicolor/scalable/apps/{APP_ID}.svg"}
# What tells the desktop; it finds out by itself, later, where one of these is not there.
TELLS = (("update-desktop-database", "applications"), ("update-mime-database", "mime"),
         ("gtk-update-icon-cache", "icons/hicolor"))


def program() -> str:
    """How this very program is started again, quoted for a desktop entry."""
    own = Path(sys.argv[0]).resolve()
    words = [str(own)] if own.name == "odd-bolt" else [sys.executable, "-m", "oddbolt"]
    return " ".join(_quoted(word) for word in words)


def _quoted(word: str) -> str:
    """By the rules of `Exec`: in quotes, with what means something in them escaped twice over, and no field codes."""
    word = word.replace("%", "%%")
    if not any(letter in word for letter in " \t\n\"'\\\\><~|&;$*?#()`"):
        return word
    for letter in ('\\', '"', "`", "$"):
        word = word.replace(letter, f"\\{letter}")
    return '"' + word.replace("\\", "\\\\") + '"'


def install(home: Path | None = None) -> list[Path]:
    """Write the files and tell the desktop; returns them. Raises Refusal where one cannot be written."""
    home = home or desktop_folder()
    written = []
    for name, place in PLACES.items():
        content = files("oddbolt.desktop").joinpath(name).read_text("utf-8")
        if name.endswith(".desktop"):
            lines = [line for line in content.splitlines() if not line.startswith("TryExec=")]
            content = "\n".join(f"Exec={program()} %f" if line.startswith("Exec=") else line for line in lines) + "\n"
        path = home / place
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise Refusal(str(path.parent), "unwritable", error=error.strerror) from None
        write_whole(path, content.encode())
        written.append(path)
    _tell(home)
    return written


def remove(home: Path | None = None) -> list[Path]:
    """Take away what `install` wrote; returns what was there."""
    home = home or desktop_folder()
    found = [home / place for place in PLACES.values() if (home / place).is_file()]
    for path in found:
        try:
            path.unlink()
        except OSError as error:
            raise Refusal(str(path), "unwritable", error=error.strerror) from None
    _tell(home)
    return found


def _tell(home: Path) -> None:
    for program_, folder in TELLS:
        tool = shutil.which(program_)
        if tool is not None and (home / folder).is_dir():
            subprocess.run([tool, str(home / folder)], check=False, capture_output=True, timeout=60)
