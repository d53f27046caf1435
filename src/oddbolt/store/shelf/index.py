"""Cards that were found before, by file: an index that can be thrown away, and is where it cannot be read."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Mapping
from contextlib import closing, suppress
from pathlib import Path

import msgspec

from oddbolt.model.folders import cache_folder
from oddbolt.store.shelf.cards import Card, Stamp

LAYOUT = 1


def index_path() -> Path:
    return cache_folder() / "shelf.sqlite"


def kept(path: Path | None = None) -> dict[str, tuple[Stamp, Card]]:
    """What is kept, by the path of the file; nothing where there is no index, or it is of another layout."""
    path = path or index_path()
    try:
        with closing(sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True, timeout=1)) as db:
            if db.execute("PRAGMA user_version").fetchone()[0] != LAYOUT:
                return {}
            read = msgspec.msgpack.Decoder(Card).decode
            return {name: (Stamp(size, written), read(body))
                    for name, size, written, body in db.execute("SELECT path, size, written, body FROM card")}
    except (sqlite3.Error, OSError, msgspec.MsgspecError, TypeError):
        return {}


def keep(cards: Mapping[str, tuple[Stamp, Card]], gone: Iterable[str] = (), path: Path | None = None) -> None:
    """Keep these and forget what is gone. A cache that cannot be written to keeps nobody from working."""
    path = path or index_path()
    with suppress(OSError):
        path.parent.mkdir(parents=True, exist_ok=True)
    try:
        _write(path, cards, gone)
    except (sqlite3.Error, OSError):
        with suppress(OSError):
            path.unlink(missing_ok=True)  # whatever it was, it was no index of ours
        with suppress(sqlite3.Error, OSError):
            _write(path, cards, gone)


def _is_text(name: str) -> bool:
    """Whether a path is one: a name of other bytes is looked at anew each time."""
    try:
        name.encode()
    except UnicodeEncodeError:
        return False
    return True


def _write(path: Path, cards: Mapping[str, tuple[Stamp, Card]], gone: Iterable[str]) -> None:
    with closing(sqlite3.connect(path, timeout=2)) as db, db:
        if db.execute("PRAGMA user_version").fetchone()[0] != LAYOUT:
            db.execute("DROP TABLE IF EXISTS card")
            db.execute(f"PRAGMA user_version = {LAYOUT}")
        db.execute("CREATE TABLE IF NOT EXISTS card (path TEXT PRIMARY KEY, size INTEGER, written INTEGER, body BLOB)")
        encode = msgspec.msgpack.Encoder().encode
        db.executemany("INSERT OR REPLACE INTO card VALUES (?, ?, ?, ?)", [
            (name, stamp.size, stamp.written_ns, encode(card)) for name, (stamp, card) in cards.items()
            if _is_text(name)])
        db.executemany("DELETE FROM card WHERE path = ?", [(name,) for name in gone])
