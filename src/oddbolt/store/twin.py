"""JSON with a folder of photographs beside it, into a working document and out of one."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path, PurePosixPath

from oddbolt.model import exchange
from oddbolt.model.refusal import Refusal
from oddbolt.store.document import Document
from oddbolt.store.files import read_bytes, read_json, write_whole

MakeThumb = Callable[[bytes], bytes]


def photo_folder(json_path: Path) -> Path:
    """Where the photographs of an exchange file lie: a folder `NAME.photos` beside NAME.json, else beside the file."""
    folder = json_path.with_suffix(".photos")
    return folder if folder.is_dir() else json_path.parent


def import_json(source: Path, target: Path, make_thumb: MakeThumb | None = None) -> tuple[Document, list[str]]:
    """Make a working document of an exchange file and its photographs; returns it and the photos that were not found.

    A failure leaves nothing half-made.
    """
    teardown = read_json(source)
    if target.exists():
        raise Refusal(str(target), "file-exists")
    missing = []

    def fill(document: Document) -> None:
        for name in dict.fromkeys(view.photo for view in teardown.views if view.photo):
            path = _inside(photo_folder(source), name)
            if path is None or not path.is_file():
                missing.append(name)
                continue
            body = read_bytes(path)
            document.add_photo(name, body, make_thumb(body) if make_thumb else b"")

    return Document.create(target, teardown, fill), missing


def export_json(document: Document, target: Path) -> None:
    """Write the exchange file and, beside it, the folder of photographs."""
    names = document.photo_names()
    if names:
        folder = target.with_suffix(".photos")
        folder.mkdir(exist_ok=True)
        for name in names:
            path = _inside(folder, name)
            body = document.photo(name)
            if path is not None and body is not None:
                path.parent.mkdir(parents=True, exist_ok=True)
                write_whole(path, body)
    write_whole(target, exchange.dumps(document.teardown).encode())


def _inside(folder: Path, name: str) -> Path | None:
    """The photo's path, unless its name would lead out of the folder."""
    pure = PurePosixPath(name)
    if pure.is_absolute() or ".." in pure.parts or not pure.parts:
        return None
    return folder / Path(*pure.parts)
