"""What the shelf tells of a teardown, and what a first look at its file gives without reading it whole."""

from __future__ import annotations

import fcntl
import json
import os
import sqlite3
from collections.abc import Iterable, Iterator
from contextlib import closing
from pathlib import Path
from typing import Any

import msgspec
from msgspec import Struct

from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown
from oddbolt.store.file.hold import open_regular
from oddbolt.store.file.photos import thumb_in
from oddbolt.store.files import SQLITE_MAGIC, read_bytes

WHOLE, OPEN, LOCKED, DAMAGED, UNREADABLE, OLDER = "whole", "open", "locked", "damaged", "unreadable", "older"
STATES = (WHOLE, OPEN, LOCKED, DAMAGED, UNREADABLE, OLDER)
DEEPEST = 3  # folders within a chosen one that are looked into
MOST_FILES = 5000
MARK = b'"oddbolt-teardown"'  # stands near the beginning of an exchange file
BEGINNING = 4096
LONGEST = 300  # characters of a name on a card


class Reach(Struct, frozen=True):
    """Depth and time of a part that matters; None: it cannot be taken off."""

    role: str
    name: str
    steps: int | None
    seconds: float | None
    known: str


class Card(Struct, frozen=True, kw_only=True):
    """A teardown on the shelf. What takes planning (`is_examined`) is not there at the first look."""

    path: str
    state: str = WHOLE
    why: str = ""  # what is wrong with it
    name: str = ""
    model: str = ""
    category: str = ""
    variant: str = ""
    by: str = ""
    date: str = ""  # the day it was begun
    thumb: bytes = b""
    is_examined: bool = False
    reaches: tuple[Reach, ...] = ()
    method: str = ""  # id of the method of the verdict
    classes: tuple[str, ...] = ()
    index: tuple[float, float] = (0.0, 0.0)
    odd: int = 0
    findings: int = 0
    guessed: int = 0  # ways that nobody has looked at


class Stamp(Struct, frozen=True):
    """How a file looks from outside: another after each write."""

    size: int
    written_ns: int


def stamp_of(path: Path) -> Stamp | None:
    try:
        found = os.stat(path)
    except OSError:
        return None
    return Stamp(found.st_size, found.st_mtime_ns)


def teardown_files(folders: Iterable[Path]) -> Iterator[Path]:
    """Documents and exchange files of these folders and what is in them, each once; no link is followed, nothing hidden
    is looked into."""
    seen: set[Path] = set()
    number = 0
    for folder in folders:
        top = str(folder)
        for where, names, files in os.walk(top):
            depth = len(Path(where).relative_to(top).parts)
            names[:] = sorted(name for name in names if not name.startswith(".") and not name.endswith(".photos")) \
                if depth < DEEPEST else []
            for name in sorted(files):
                path = Path(where) / name
                if name.startswith(".") or path.suffix not in (".oddbolt", ".json") or path in seen \
                        or name.endswith(".matches.json"):
                    continue
                seen.add(path)
                if path.suffix == ".json" and not _is_exchange(path):
                    continue
                number += 1
                if number > MOST_FILES:
                    return
                yield path


def _is_exchange(path: Path) -> bool:
    try:
        with os.fdopen(open_regular(path), "rb") as file:
            return MARK in file.read(BEGINNING)
    except (Refusal, OSError):
        return False


def first_look(path: Path) -> Card:
    """Names, day, person and the first photograph; damage that shows at once. Never raises."""
    card = Card(path=str(path), name=path.stem)
    try:
        if path.suffix == ".json":
            return _look_at_exchange(card, path)
        return _look_at_document(card, path)
    except Refusal as refusal:
        state = UNREADABLE if refusal.code != "document-damaged" else DAMAGED
        return msgspec.structs.replace(card, state=state, why=refusal.code)
    except sqlite3.OperationalError:
        return msgspec.structs.replace(card, state=UNREADABLE, why="document-unreadable")
    except (sqlite3.Error, ValueError, KeyError, TypeError, AttributeError, RecursionError):
        return msgspec.structs.replace(card, state=DAMAGED, why="document-damaged")
    except OSError as error:
        return msgspec.structs.replace(card, state=UNREADABLE, why=error.strerror or "unreadable")


def _look_at_document(card: Card, path: Path) -> Card:
    with os.fdopen(open_regular(path), "rb") as file:
        is_held = _is_held(file.fileno())
        if file.read(len(SQLITE_MAGIC)) != SQLITE_MAGIC:
            raise Refusal(str(path), "document-damaged", where="header")
    with closing(sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True, timeout=0.05)) as db:
        db.execute("PRAGMA trusted_schema = OFF")
        rows = db.execute("SELECT section, place, body FROM record WHERE section IN ('device', 'sessions') "
                          "ORDER BY section, place").fetchall()
        device = next(json.loads(body) for section, _, body in rows if section == "device")
        passes = [json.loads(body) for section, _, body in rows if section == "sessions"]
        thumb = b""
        for (body,) in db.execute("SELECT body FROM record WHERE section = 'views' ORDER BY place LIMIT 8"):
            view = json.loads(body)
            if view.get("photo") and not view.get("portrait"):
                thumb = thumb_in(db, view["photo"]) or b""
                break
    found = _told(card, device, passes[0] if passes and isinstance(passes[0], list) else passes)
    return msgspec.structs.replace(found, thumb=thumb, state=LOCKED if is_held else WHOLE)


def _look_at_exchange(card: Card, path: Path) -> Card:
    data = json.loads(read_bytes(path))
    return _told(card, data["device"], data.get("sessions", []))


def card_of(path: Path, teardown: Teardown) -> Card:
    """Of a record that is open: its file is left alone."""
    device = {"name": teardown.device.name, "model": teardown.device.model, "category": teardown.device.category,
              "variant": teardown.device.variant}
    passes = [{"by": one.by, "started": one.started} for one in teardown.sessions]
    return _told(Card(path=str(path), name=path.stem, state=OPEN), device, passes)


def _told(card: Card, device: dict[str, Any], passes: list[dict[str, Any]]) -> Card:
    first = min((one for one in passes if isinstance(one, dict)), key=lambda one: str(one.get("started", "")),
                default={})
    by = ", ".join(dict.fromkeys(_text(one["by"]) for one in passes if isinstance(one, dict) and one.get("by")))
    return msgspec.structs.replace(
        card, name=_text(device.get("name") or card.name), model=_text(device.get("model", "")),
        category=_text(device.get("category", "other")), variant=_text(device.get("variant", "")), by=by,
        date=_text(first.get("started", ""))[:10])


def _text(value: object) -> str:
    """As a text that can be written down: lone halves of pairs are no characters."""
    return str(value).encode("utf-8", "replace").decode()[:LONGEST]


def _is_held(file: int) -> bool:
    """Whether a program works on it: asked for a moment, and given back."""
    try:
        fcntl.flock(file, fcntl.LOCK_SH | fcntl.LOCK_NB)
    except OSError:
        return True
    fcntl.flock(file, fcntl.LOCK_UN)
    return False
