"""The photographs of a file by name, whichever kind of file it is: for whoever draws them outside of the window."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from oddbolt.model.refusal import Refusal
from oddbolt.store.files import is_document
from oddbolt.store.twin import photo_folder, picture_beside

Photo = Callable[[str], bytes | None]  # the bytes of a photograph; None where it is not at hand, or damaged


@contextmanager
def photographs(file: Path) -> Iterator[Photo]:
    """Those within a document, or beside an exchange file. In a thread of its own it is opened there."""
    if not is_document(file):
        yield lambda name: picture_beside(photo_folder(file), name)[0]
        return
    from oddbolt.store.document import Document

    with Document.open(file, read_only=True) as document:
        names = set(document.photo_names())

        def read(name: str) -> bytes | None:
            try:
                return document.photo(name) if name in names else None
            except Refusal:
                return None

        yield read
