"""Opening and writing files: the exchange JSON here, the working document by store.document."""

from __future__ import annotations

import os
import re
import shutil
import tempfile
from collections.abc import Mapping
from pathlib import Path

from oddbolt.model import exchange
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown
from oddbolt.store.file.hold import open_regular, sync_folder

SQLITE_MAGIC = b"SQLite format 3\x00"
LARGEST_BYTES = 500_000_000  # of an exchange file or a photograph


def read_bytes(path: Path) -> bytes:
    """The bytes of a file, or a Refusal that says what is wrong with the path."""
    with os.fdopen(open_regular(path), "rb") as file:
        size = os.fstat(file.fileno()).st_size
        if size > LARGEST_BYTES:
            raise Refusal(str(path), "file-too-large", megabytes=size // 1_000_000, most=LARGEST_BYTES // 1_000_000)
        try:
            return file.read()
        except OSError as error:
            raise Refusal(str(path), "unreadable", error=error.strerror) from None


def is_document(path: Path) -> bool:
    """Whether a file looks like a working document (SQLite), by its first bytes."""
    try:
        with os.fdopen(open_regular(path), "rb") as file:
            return file.read(len(SQLITE_MAGIC)) == SQLITE_MAGIC
    except (Refusal, OSError):
        return False


def is_exchange(path: Path) -> bool:
    """Whether a file is taken for an exchange file: by its name, unless its first bytes are a document's."""
    return path.suffix == ".json" and not is_document(path)


def read_json(path: Path) -> Teardown:
    return exchange.loads(read_bytes(path))


def read_teardown(path: Path) -> Teardown:
    """A teardown from an exchange file or a working document; neither is changed."""
    if is_document(path):
        from oddbolt.store.document import Document

        with Document.open(path, read_only=True) as document:
            return document.teardown
    return read_json(path)


def read_with_digests(path: Path) -> tuple[Teardown, dict[str, str]]:
    """A teardown, and for each photograph that is at hand what tells equal ones: its SHA-256."""
    if not is_document(path):
        return read_json(path), {}
    from oddbolt.store.document import Document, digests_of

    with Document.open(path, read_only=True) as document:
        return document.teardown, digests_of(document)


def write_whole(path: Path, content: bytes) -> None:
    """Write a file so that it is there whole or not at all: temporary file, flush, fsync, rename."""
    try:
        handle, name = tempfile.mkstemp(dir=path.parent, prefix=f".{path.name}.")
    except OSError as error:
        raise Refusal(str(path), "unwritable", error=error.strerror) from None
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        os.chmod(name, 0o644)
        os.replace(name, path)
        sync_folder(path.parent)
    except OSError as error:
        Path(name).unlink(missing_ok=True)
        raise Refusal(str(path), "unwritable", error=error.strerror) from None


def write_folder(path: Path, files: Mapping[str, bytes]) -> None:
    """Write a folder of files so that it is there whole or not at all; an empty one that is there is filled. Names are
    taken without what would lead elsewhere.

    Raises Refusal `folder-exists` where there is something already.
    """
    if path.is_symlink() or (path.exists() and not (path.is_dir() and not any(path.iterdir()))):
        raise Refusal(str(path), "folder-exists")
    made = ""
    try:
        made = tempfile.mkdtemp(dir=path.parent, prefix=f".{path.name}.")
        for name, content in _plain_names(files).items():
            write_whole(Path(made) / name, content)
        os.chmod(made, 0o755)
        os.replace(made, path)
        sync_folder(path.parent)
    except OSError as error:
        raise Refusal(str(path), "unwritable", error=error.strerror) from None
    finally:
        if made:
            shutil.rmtree(made, ignore_errors=True)


def _plain_names(files: Mapping[str, bytes]) -> dict[str, bytes]:
    """Letters, digits, dot, dash and underscore, and each name once."""
    found: dict[str, bytes] = {}
    for name, content in files.items():
        stem, dot, ending = name.rpartition(".") if "." in name else (name, "", "")
        plain = re.sub(r"[^A-Za-z0-9_-]+", "_", stem)[:80] or "_"
        number, chosen = 1, f"{plain}{dot}{ending}"
        while chosen in found:
            number += 1
            chosen = f"{plain}-{number}{dot}{ending}"
        found[chosen] = content
    return found


def make_room(path: Path) -> None:
    """The folder of a file that is about to be written; raises Refusal."""
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise Refusal(str(path), "unwritable", error=error.strerror) from None
