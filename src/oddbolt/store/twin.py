"""JSON with a folder of photographs beside it, into a working document and out of one."""

from __future__ import annotations

from collections.abc import Callable, Collection
from contextlib import suppress
from pathlib import Path, PurePosixPath

from msgspec import Struct

from oddbolt.model import exchange
from oddbolt.model.giving_away import AUTHOR, without_tales_of
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown
from oddbolt.store.document import Document
from oddbolt.store.files import read_bytes, read_json, write_whole
from oddbolt.store.pictures import is_sound, kind_of, without_tales

MakeThumb = Callable[[bytes], bytes]
# Why a photograph was left out.
MISSING, NO_PICTURE, OUTSIDE, UNREADABLE, SPOKEN = "missing", "no-picture", "outside", "unreadable", "spoken"


class LeftOut(Struct, frozen=True):
    """A photograph that did not come along, and why."""

    name: str
    why: str


def photo_folder(json_path: Path) -> Path:
    """Where the photographs of an exchange file lie: a folder `NAME.photos` beside NAME.json, else beside the file."""
    folder = json_path.with_suffix(".photos")
    return folder if folder.is_dir() else json_path.parent


def import_json(source: Path, target: Path, make_thumb: MakeThumb | None = None) -> tuple[Document, list[LeftOut]]:
    """Make a working document of an exchange file and its photographs; returns it and what was left out.

    Taken in are pictures, by their content, from the twin's own folder: no link out of it, nothing hidden. A failure
    leaves nothing half-made.
    """
    return take_in(read_json(source), source, target, make_thumb)


def take_in(teardown: Teardown, source: Path, target: Path, make_thumb: MakeThumb | None = None) -> \
        tuple[Document, list[LeftOut]]:
    """The same for an exchange file that has been read already."""
    left_out: list[LeftOut] = []

    def fill(document: Document) -> None:
        sounds = {entry.sound for entry in teardown.log}
        for name in teardown.beside:
            body, why = (sound_beside if name in sounds else picture_beside)(photo_folder(source), name)
            if body is None:
                left_out.append(LeftOut(name, why))
            else:
                document.add_photo(name, body, make_thumb(body) if make_thumb and name not in sounds else b"")

    return Document.create(target, teardown, fill), left_out


def picture_beside(folder: Path, name: str) -> tuple[bytes | None, str]:
    return _beside(folder, name, kind_of)


def sound_beside(folder: Path, name: str) -> tuple[bytes | None, str]:
    """What was spoken, as a WAV file that is not too long."""
    return _beside(folder, name, is_sound)


def _beside(folder: Path, name: str, fits: Callable[[bytes], object]) -> tuple[bytes | None, str]:
    path = _inside(folder, name)
    if path is None:
        return None, OUTSIDE
    if not path.is_file():
        return None, MISSING
    try:
        body = read_bytes(path)
    except Refusal:
        return None, UNREADABLE
    return (body, "") if fits(body) else (None, NO_PICTURE)


def export_json(document: Document, target: Path, leave_out: Collection[str] = ()) -> list[LeftOut]:
    """Write the exchange file and, beside it, the folder of photographs; nothing outside of that folder.

    With anything in `leave_out` the photographs are written without what they tell beside the picture. Returns the
    photographs that were not written.
    """
    left_out: list[LeftOut] = []
    names = document.photo_names()
    folder = target.with_suffix(".photos")
    try:
        if names:
            if folder.is_symlink():
                raise Refusal(str(folder), "leads-elsewhere")
            folder.mkdir(exist_ok=True)
        for name in names:
            why = _export(document, folder, name, leave_out)
            if why:
                left_out.append(LeftOut(name, why))
        write_whole(target, exchange.dumps(without_tales_of(document.teardown, leave_out)).encode())
    except OSError as error:
        raise Refusal(str(target), "unwritable", error=error.strerror) from None
    finally:
        with suppress(OSError):
            folder.rmdir()  # where nothing came into it
    return left_out


def _export(document: Document, folder: Path, name: str, leave_out: Collection[str]) -> str:
    path = _inside(folder, name)
    if path is None:
        return OUTSIDE
    try:
        body = document.photo(name)
    except Refusal:
        return UNREADABLE
    if body is None:
        return MISSING
    if is_sound(body) and AUTHOR in leave_out:
        return SPOKEN  # a voice tells who it is
    if leave_out and not is_sound(body):
        try:
            body = without_tales(body)
        except ValueError:
            return NO_PICTURE
    path.parent.mkdir(parents=True, exist_ok=True)
    write_whole(path, body)
    return ""


def _inside(folder: Path, name: str) -> Path | None:
    """The photo's path, unless its name, or a link on the way, would lead out of the folder, or it is hidden."""
    pure = PurePosixPath(name)
    if pure.is_absolute() or not pure.parts or "\0" in name or any(part.startswith(".") for part in pure.parts):
        return None
    path = folder / Path(*pure.parts)
    try:
        real, home = path.resolve(), folder.resolve()
    except (OSError, RuntimeError):  # a circle of links
        return None
    return path if real.is_relative_to(home) and real != home else None
