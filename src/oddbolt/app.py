"""The composition root: builds the services from the arguments and opens the window."""

from __future__ import annotations

import argparse
import hashlib
import os
import sys
from collections.abc import Sequence
from importlib.resources import as_file, files
from pathlib import Path

from PySide6.QtWidgets import QApplication

from oddbolt.model.refusal import Refusal
from oddbolt.session.session import Session, open_document
from oddbolt.store.document import Document
from oddbolt.ui.theme.style import dress, load_fonts, system_palette
from oddbolt.ui.widgets.images import make_thumb
from oddbolt.ui.window import Window

DEMO_STATE = "s1-back"  # the demo opens where there is most to see


def data_folder() -> Path:
    """Where new work lives until it is given a name and a place (XDG)."""
    base = os.environ.get("XDG_DATA_HOME") or str(Path.home() / ".local" / "share")
    return Path(base) / "odd-bolt"


def open_demo(folder: Path) -> Document:
    """The demo as a working document of its own; what was done to it stays. A new edition of the demo is a new file."""
    from oddbolt.store.twin import import_json

    with as_file(files("oddbolt").joinpath("demo")) as source:
        record = source / "dunlin-2.json"
        edition = hashlib.sha256(record.read_bytes()).hexdigest()[:8]
        target = folder / "demo" / f"dunlin-2-{edition}.oddbolt"
        if target.exists():
            return Document.open(target)
        target.parent.mkdir(parents=True, exist_ok=True)
        return import_json(record, target, make_thumb)[0]


def _first_document(options: argparse.Namespace, folder: Path) -> Document:
    if options.demo or options.file is None:
        return open_demo(folder)
    return open_document(options.file, make_thumb, folder)


def run(arguments: Sequence[str]) -> int:
    """Open the window; returns the exit code (2 when the file is refused)."""
    parser = argparse.ArgumentParser(prog="odd-bolt")
    parser.add_argument("file", nargs="?", type=Path, help="a working document (.oddbolt) or an exchange file")
    parser.add_argument("--demo", action="store_true", help="open the demo teardown")
    parser.add_argument("--shot", metavar="FILE", type=Path, help="save a picture of the window and end")
    options = parser.parse_args(arguments)
    if options.shot and not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")):
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    app = QApplication.instance() or QApplication([sys.argv[0]])
    app.setApplicationName("odd-bolt")
    app.setApplicationDisplayName("Odd Bolt")
    load_fonts()
    palette = system_palette()
    dress(app, palette)
    folder = data_folder()
    try:
        document = _first_document(options, folder)
    except Refusal as refusal:
        print(f"odd-bolt: {refusal}", file=sys.stderr)
        return 2
    window = Window(Session(document), palette, folder)
    if options.demo or options.file is None:
        window.log.show_state(DEMO_STATE)
    window.show()
    if options.shot:
        app.sendPostedEvents()
        app.processEvents()
        window.save_picture(options.shot)
        window.close()
        return 0
    return app.exec()
