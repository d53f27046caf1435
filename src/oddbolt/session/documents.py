"""Working documents: begun, opened, taken in from exchange files."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from datetime import datetime
from importlib.resources import as_file, files
from pathlib import Path

from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown
from oddbolt.session.derived import Derived
from oddbolt.session.prepare import Preparation, new_teardown
from oddbolt.session.session import Session
from oddbolt.store.document import Document
from oddbolt.store.twin import LeftOut


def begin_teardown(preparation: Preparation, earlier: Teardown | None, folder: Path, now: datetime) -> Document:
    """A new working document in `folder`, under the device's name, where none of that name is yet."""
    teardown = new_teardown(preparation, now.isoformat(), earlier)
    stem = "".join(c if c.isalnum() else "-" for c in (teardown.device.name or "teardown").lower()).strip("-")
    return Document.create(free_path(folder, stem or "teardown"), teardown)


LONGEST_NAME = 200  # bytes of a name that a person gives
LONGEST_STEM = 80  # characters of a name; file systems take 255 bytes


def free_path(folder: Path, stem: str) -> Path:
    """A path for a new document that nothing has yet."""
    folder.mkdir(parents=True, exist_ok=True)
    stem = stem[:LONGEST_STEM]
    target, n = folder / f"{stem}.oddbolt", 2
    while target.exists():
        target, n = folder / f"{stem}-{n}.oddbolt", n + 1
    return target


def rename(session: Session, name: str) -> None:
    """Give the open document's file another name in its folder. Raises Refusal and stays where it is where that cannot
    be."""
    stem = name.strip().removesuffix(".oddbolt")
    old = session.path
    if not stem or "/" in stem or "\0" in stem or stem.startswith(".") or len(stem.encode()) > LONGEST_NAME:
        raise Refusal("name", "no-file-name", name=stem[:80])
    target = old.with_name(f"{stem}.oddbolt")
    if target == old:
        return
    if target.exists() or target.is_symlink():
        raise Refusal(str(target), "file-exists")
    session.document.close()
    try:
        old.rename(target)
    except OSError as error:
        session.switch_to(Document.open(old))
        raise Refusal(str(target), "unwritable", error=error.strerror) from None
    session.switch_to(Document.open(target))


def open_document(path: Path, make_thumb: Callable[[bytes], bytes] | None, folder: Path,
                  tell: Callable[[list[LeftOut]], object] = lambda left_out: None) -> Document:
    """Open a working document, or take an exchange file into a new one in `folder`; `tell` hears which photographs did
    not come along. Refusals, and records that cannot be worked with, leave nothing behind."""
    from oddbolt.store.files import is_document, read_json
    from oddbolt.store.twin import take_in

    if is_document(path):
        return Document.open(path)
    teardown = read_json(path)
    Derived(teardown).build()
    document, left_out = take_in(teardown, path, free_path(folder, path.stem), make_thumb)
    tell(left_out)
    return document


DEMOS = ("dunlin-2", "bittern", "curlew")  # the demo devices, the main one first


def open_demo(folder: Path, name: str = DEMOS[0]) -> Document:
    """A demo as a working document of its own in the data folder; what was done to it stays. A new edition of the
    demo is a new file; where the one that is there is open elsewhere or damaged, so is the next."""
    from oddbolt.store.twin import import_json

    with as_file(files("oddbolt").joinpath("demo")) as source:
        record = source / f"{name}.json"
        edition = hashlib.sha256(record.read_bytes()).hexdigest()[:8]
        target = demo_folder(folder) / f"{name}-{edition}.oddbolt"
        if target.exists():
            try:
                return Document.open(target)
            except Refusal:
                target = free_path(target.parent, target.stem)
        target.parent.mkdir(parents=True, exist_ok=True)
        return import_json(record, target)[0]


def demo_folder(folder: Path) -> Path:
    return folder / "demo"
