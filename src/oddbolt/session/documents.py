"""Working documents: begun, opened, taken in from exchange files."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown
from oddbolt.session.prepare import Preparation, new_teardown
from oddbolt.store.document import Document


def begin_teardown(preparation: Preparation, earlier: Teardown | None, folder: Path, now: datetime) -> Document:
    """A new working document in `folder`, under the device's name, where none of that name is yet."""
    teardown = new_teardown(preparation, now.isoformat(), earlier)
    stem = "".join(c if c.isalnum() else "-" for c in (teardown.device.name or "teardown").lower()).strip("-")
    return Document.create(free_path(folder, stem or "teardown"), teardown)


LONGEST_STEM = 80  # characters of a name; file systems take 255 bytes


def free_path(folder: Path, stem: str) -> Path:
    """A path for a new document that nothing has yet."""
    folder.mkdir(parents=True, exist_ok=True)
    stem = stem[:LONGEST_STEM]
    target, n = folder / f"{stem}.oddbolt", 2
    while target.exists():
        target, n = folder / f"{stem}-{n}.oddbolt", n + 1
    return target


def open_document(path: Path, make_thumb: Callable[[bytes], bytes], folder: Path) -> Document:
    """Open a working document, or take an exchange file into a new one in `folder`. Refusals leave nothing behind."""
    from oddbolt.store.files import is_document
    from oddbolt.store.twin import import_json

    if not path.exists() or path.is_dir():
        raise Refusal(str(path), "is-a-folder" if path.is_dir() else "no-such-file")
    if is_document(path):
        return Document.open(path)
    document, _ = import_json(path, free_path(folder, path.stem), make_thumb)
    return document
