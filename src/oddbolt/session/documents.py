"""Working documents: begun, opened, taken in from exchange files."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from oddbolt.model.things import Teardown
from oddbolt.session.derived import Derived
from oddbolt.session.prepare import Preparation, new_teardown
from oddbolt.store.document import Document
from oddbolt.store.twin import LeftOut


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


def open_document(path: Path, make_thumb: Callable[[bytes], bytes] | None, folder: Path,
                  tell: Callable[[list[LeftOut]], object] = lambda left_out: None) -> Document:
    """Open a working document, or take an exchange file into a new one in `folder`; `tell` hears which photographs did
    not come along. Refusals, and records that cannot be worked with, leave nothing behind."""
    from oddbolt.store.files import is_document, read_json
    from oddbolt.store.twin import import_json

    if is_document(path):
        return Document.open(path)
    Derived(read_json(path)).build()
    document, left_out = import_json(path, free_path(folder, path.stem), make_thumb)
    tell(left_out)
    return document
