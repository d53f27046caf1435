"""The working document: one SQLite file that is always on disk as far as it has been acknowledged.

A snapshot is stored as JSON records by section and place. A change writes the records that differ, and a row with the
differences and its label, in one transaction: so undo survives a restart too. Photographs are stored once by their
SHA-256; names point to them; thumbnails lie apart, so that a list of states never reads the photographs.
"""

from __future__ import annotations

import fcntl
import hashlib
import json
import os
import shutil
import sqlite3
from collections.abc import Callable
from contextlib import ExitStack, closing, suppress
from pathlib import Path
from typing import IO, Any

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.model import exchange
from oddbolt.model.label import Label
from oddbolt.model.refusal import Refusal
from oddbolt.model.shapes import ListOf, specs
from oddbolt.model.snapshot import succeed
from oddbolt.model.things import Teardown
from oddbolt.model.touched import Touched, touched_by
from oddbolt.store.migrations import MIGRATIONS, migrate

APPLICATION_ID = 0x4F444254  # "ODBT", in the file's header at byte 68
SUFFIX = ".oddbolt"
EXTRA = "extra"
_SECTIONS = {name: isinstance(spec.shape, ListOf) for name, spec in specs(Teardown).items()}

Place = tuple[str, int]
RowChange = tuple[str, int, Any, Any]  # section, place, JSON before (None: absent), JSON after


class CommandRow(Struct, frozen=True, kw_only=True):
    """A command as recorded; `undone` ones can be done again until another command follows."""

    number: int
    at: str
    label: Label
    undone: bool


class Document:
    """An open working document. One writer at a time; others may read."""

    def __init__(self, path: Path, db: sqlite3.Connection, lock: IO[str] | None) -> None:
        self.path = path
        self._db = db
        self._lock = lock
        self._records = self._read_records()
        self.undo_label: Label | None = None
        self.redo_label: Label | None = None
        self._read_labels()
        self.teardown = _teardown_from(self._records, path)

    # -- opening and closing

    @classmethod
    def create(cls, path: Path, teardown: Teardown) -> Document:
        """A new document at a path where nothing is yet."""
        if path.exists():
            raise Refusal(str(path), "file-exists")
        with ExitStack() as undo:
            try:
                lock = undo.enter_context(_take_lock(path))
                db = undo.enter_context(closing(_connect(path)))
                db.execute("PRAGMA auto_vacuum = INCREMENTAL")
                db.execute(f"PRAGMA application_id = {APPLICATION_ID}")
                migrate(db, 0)
                db.execute("BEGIN IMMEDIATE")
                db.executemany("INSERT INTO record VALUES (?, ?, ?)", [
                    (section, place, _dump(body)) for (section, place), body in _records(teardown).items()])
                db.execute("COMMIT")
                document = cls(path, db, lock)
            except (sqlite3.Error, OSError) as error:
                raise Refusal(str(path), "document-not-made", error=str(error)) from None
            undo.pop_all()
            return document

    @classmethod
    def open(cls, path: Path, *, read_only: bool = False) -> Document:
        """Open a document; a newer layout or a file that is none is refused, an older one is upgraded on a copy kept
        beside it."""
        if not path.exists():
            raise Refusal(str(path), "no-such-file")
        with ExitStack() as undo:
            try:
                lock = None if read_only else undo.enter_context(_take_lock(path))
                if read_only:
                    _roll_back_what_was_broken_off(path)
                db = undo.enter_context(closing(_connect(path, read_only=read_only)))
                have = _layout(db, path)
                if have < len(MIGRATIONS):
                    if read_only:
                        raise Refusal(str(path), "older-layout")
                    shutil.copy2(path, path.with_suffix(f".layout-{have}{SUFFIX}"))
                    migrate(db, have)
                document = cls(path, db, lock)
            except (sqlite3.Error, ValueError) as error:
                raise Refusal(str(path), "document-unreadable", error=str(error)) from None
            undo.pop_all()
            return document

    def close(self) -> None:
        self._db.close()
        if self._lock is not None:
            with suppress(OSError):
                os.unlink(self._lock.name)
            self._lock.close()
            self._lock = None

    def __enter__(self) -> Document:
        return self

    def __exit__(self, *_: object) -> None:
        self.close()

    # -- changing

    def commit(self, teardown: Teardown, label: Label, at: str) -> Touched:
        """Make `teardown` the present state; it is on disk when this returns. Commands that were undone are dropped.

        What could not be read again, or names what is not there, is refused: better one act lost than the document.
        """
        changes = _changes(self._records, self.teardown, teardown)
        exchange.check_references(teardown, self.teardown)
        for section, place, _, body in changes:
            if body is not None and section in _SECTIONS:
                shape = specs(Teardown)[section].shape
                (shape.item if place >= 0 else shape).read(body, f"$.{section}" + (f"[{place}]" if place >= 0 else ""))

        def record() -> None:
            if self.redo_label is not None:
                self._db.execute("DELETE FROM command WHERE undone = 1")
            self._db.execute("INSERT INTO command (at, label, changes) VALUES (?, ?, ?)",
                             (at, label.dumps(), _dump(changes)))

        self._write(changes, record)
        self.undo_label, self.redo_label = label, None
        _apply(self._records, changes)
        self.teardown = teardown
        return _touched(changes)

    def undo(self) -> tuple[Label, Touched] | None:
        """Take back the last command, durably; returns its label and what it touched, or None when there is none."""
        return self._step_back("WHERE undone = 0 ORDER BY number DESC LIMIT 1", undone=1)

    def redo(self) -> tuple[Label, Touched] | None:
        """Do again the command that was undone last; returns its label and what it touched, or None."""
        return self._step_back("WHERE undone = 1 ORDER BY number LIMIT 1", undone=0)

    def _step_back(self, which: str, undone: int) -> tuple[Label, Touched] | None:
        row = self._db.execute(f"SELECT number, label, changes FROM command {which}").fetchone()
        if row is None:
            return None
        number, label, text = row
        changes = [(s, p, new, old) if undone else (s, p, old, new) for s, p, old, new in json.loads(text)]
        after = dict(self._records)
        _apply(after, changes)
        teardown = _after(self.teardown, after, changes, self.path)
        self._write(changes, lambda: (
            self._db.execute("UPDATE command SET undone = ? WHERE number = ?", (undone, number)),))
        self._records, self.teardown = after, teardown
        self._read_labels()
        return Label.loads(label), _touched(changes)

    def _read_labels(self) -> None:
        """What undo and redo would take back and do again: the two rows at the seam, never the whole history."""
        self.undo_label, self.redo_label = (
            Label.loads(row[0]) if (row := self._db.execute(f"SELECT label FROM command {which} LIMIT 1").fetchone())
            else None for which in ("WHERE undone = 0 ORDER BY number DESC", "WHERE undone = 1 ORDER BY number"))

    def _write(self, changes: list[RowChange], also: Callable[[], object]) -> None:
        try:
            self._db.execute("BEGIN IMMEDIATE")
            try:
                for section, place, _, body in changes:
                    if body is None:
                        self._db.execute("DELETE FROM record WHERE section = ? AND place = ?", (section, place))
                    else:
                        self._db.execute("INSERT OR REPLACE INTO record VALUES (?, ?, ?)",
                                         (section, place, _dump(body)))
                also()
                self._db.execute("COMMIT")
            except BaseException:
                self._db.execute("ROLLBACK")
                raise
        except sqlite3.Error as error:
            raise Refusal(str(self.path), "not-written", error=str(error)) from None

    def commands(self) -> list[CommandRow]:
        rows = self._db.execute("SELECT number, at, label, undone FROM command ORDER BY number")
        return [CommandRow(number=n, at=at, label=Label.loads(label), undone=bool(undone))
                for n, at, label, undone in rows]

    # -- photographs

    def add_photo(self, name: str, body: bytes, thumb: bytes = b"") -> str:
        """Keep a photograph under a name; equal ones are stored once. Returns its SHA-256."""
        digest = hashlib.sha256(body).hexdigest()
        self._write([], lambda: (
            self._db.execute("INSERT OR IGNORE INTO photo_blob VALUES (?, ?)", (digest, body)),
            thumb and self._db.execute("INSERT OR REPLACE INTO photo_thumb VALUES (?, ?)", (digest, thumb)),
            self._db.execute("INSERT OR REPLACE INTO photo VALUES (?, ?, ?)", (name, digest, len(body))),
        ))
        return digest

    def photo_names(self) -> list[str]:
        return [name for name, in self._db.execute("SELECT name FROM photo ORDER BY name")]

    def photo(self, name: str) -> bytes | None:
        return self._one("SELECT body FROM photo JOIN photo_blob USING (sha256) WHERE name = ?", name)

    def thumb(self, name: str) -> bytes | None:
        return self._one("SELECT body FROM photo JOIN photo_thumb USING (sha256) WHERE name = ?", name)

    def _one(self, query: str, name: str) -> Any:
        row = self._db.execute(query, (name,)).fetchone()
        return row[0] if row else None

    # -- the desk: what is no part of the record, and is not undone with it

    def keep_on_desk(self, name: str, body: Any) -> None:
        """Keep a JSON value under a name; it is on disk when this returns."""
        self._write([], lambda: self._db.execute("INSERT OR REPLACE INTO desk VALUES (?, ?)", (name, _dump(body))))

    def on_desk(self, name: str) -> Any:
        """What is kept under a name; None where nothing is."""
        text = self._one("SELECT body FROM desk WHERE name = ?", name)
        return None if text is None else json.loads(text)

    # -- reading

    def _read_records(self) -> dict[Place, Any]:
        rows = self._db.execute("SELECT section, place, body FROM record ORDER BY section, place")
        return {(section, place): json.loads(body) for section, place, body in rows}


def _connect(path: Path, *, read_only: bool = False) -> sqlite3.Connection:
    """Durable on commit: rollback journal and full synchronisation, as measured in docs/architecture.md."""
    uri = f"{path.resolve().as_uri()}?mode={'ro' if read_only else 'rwc'}"
    db = sqlite3.connect(uri, uri=True, isolation_level=None, timeout=5)
    if not read_only:
        db.execute("PRAGMA journal_mode = DELETE")
        db.execute("PRAGMA synchronous = FULL")
    return db


def _roll_back_what_was_broken_off(path: Path) -> None:
    """A journal that a killed writer left makes the file unreadable until somebody who may write rolls it back."""
    if Path(f"{path}-journal").exists():
        with suppress(Refusal, sqlite3.Error), _take_lock(path), closing(_connect(path)) as db:
            db.execute("PRAGMA application_id").fetchone()


def _layout(db: sqlite3.Connection, path: Path) -> int:
    if db.execute("PRAGMA application_id").fetchone()[0] != APPLICATION_ID:
        raise Refusal(str(path), "not-a-document")
    have = db.execute("PRAGMA user_version").fetchone()[0]
    if have > len(MIGRATIONS):
        raise Refusal(str(path), "newer-layout", layout=have, known=len(MIGRATIONS))
    return have


def _take_lock(path: Path) -> IO[str]:
    """One writer: a lock file beside the document. It falls with the process, however that ends."""
    try:
        lock = (path.parent / f".{path.name}.lock").open("w")
    except OSError as error:
        raise Refusal(str(path), "folder-not-writable", error=error.strerror) from None
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        lock.close()
        raise Refusal(str(path), "open-elsewhere") from None
    return lock


def _dump(body: Any) -> str:
    return json.dumps(body, ensure_ascii=False, separators=(",", ":"), allow_nan=False)


def _records(teardown: Teardown) -> dict[Place, Any]:
    """A snapshot as JSON records: section and place, place -1 where a section is no list."""
    found: dict[Place, Any] = {}
    for name in specs(Teardown):
        found.update(_section(name, teardown))
    for place, (name, value) in enumerate(teardown.extra.items()):
        found[EXTRA, place] = [name, value]
    return found


def _section(name: str, teardown: Teardown) -> dict[Place, Any]:
    spec = specs(Teardown)[name]
    value = getattr(teardown, spec.attribute)
    if _SECTIONS[name] and value:
        return {(name, place): spec.shape.item.write(item) for place, item in enumerate(value)}
    if spec.required or name in teardown.given or value != spec.default:
        return {(name, -1): spec.shape.write(value)}
    return {}


def _changes(known: dict[Place, Any], before: Teardown, after: Teardown) -> list[RowChange]:
    """What differs between two snapshots of a document. Things that are the same objects are not looked into.

    Bodies are compared as they would be written: to Python 1 and true are the same, in the file they are not.
    """
    changes: list[RowChange] = []
    for name, spec in specs(Teardown).items():
        old, new = getattr(before, spec.attribute), getattr(after, spec.attribute)
        if old is new:
            continue
        if _SECTIONS[name] and old and new:
            same = min(len(old), len(new))
            for place in (*(n for n in range(same) if old[n] is not new[n]), *range(same, max(len(old), len(new)))):
                body = spec.shape.item.write(new[place]) if place < len(new) else None
                _note(changes, name, place, known.get((name, place)), body)
        else:
            was = {place: body for place, body in known.items() if place[0] == name}
            will = _section(name, after)
            for section, place in sorted(was.keys() | will.keys()):
                _note(changes, section, place, was.get((section, place)), will.get((section, place)))
    if before.extra is not after.extra:
        for place in range(max(len(before.extra), len(after.extra))):
            rows = [list(list(one.extra.items())[place]) if place < len(one.extra) else None for one in (before, after)]
            _note(changes, EXTRA, place, *rows)
    return changes


def _note(changes: list[RowChange], section: str, place: int, old: Any, new: Any) -> None:
    if (old is None) != (new is None) or (old is not None and _dump(old) != _dump(new)):
        changes.append((section, place, old, new))


def _touched(changes: list[RowChange]) -> Touched:
    return touched_by((section, old, new) for section, _, old, new in changes)


def _after(before: Teardown, records: dict[Place, Any], changes: list[RowChange], path: Path) -> Teardown:
    """The snapshot after some rows have changed; what did not change is shared with the one before."""
    if any(section not in _SECTIONS for section, *_ in changes):
        return _teardown_from(records, path)
    changed: dict[str, list[int]] = {}
    for section, place, _, _ in changes:
        changed.setdefault(section, []).append(place)
    keys: dict[str, Any] = {}
    try:
        for section, places in changed.items():
            spec = specs(Teardown)[section]
            if not _SECTIONS[section] or -1 in places:
                keys[spec.attribute] = spec.default if (section, -1) not in records and not _SECTIONS[section] \
                    else _list_of(section, records) if _SECTIONS[section] \
                    else spec.shape.read(records[section, -1], f"$.{section}")
                continue
            made = list(getattr(before, spec.attribute))
            for place in sorted(places):
                if (section, place) in records:
                    body = spec.shape.item.read(records[section, place], f"$.{section}[{place}]")
                    made[place:place + 1] = [body]
            gone = [place for place in places if (section, place) not in records]
            keys[spec.attribute] = tuple(made[:min(gone)] if gone else made)
        teardown = succeed(replace(before, **keys), before)
        exchange.check_references(teardown, before)
    except Refusal as refusal:
        raise refusal.at(f"{path} {refusal.path}") from None
    return teardown


def _list_of(section: str, records: dict[Place, Any]) -> tuple[Any, ...]:
    """A list section read anew."""
    item, found = specs(Teardown)[section].shape.item, []
    while (section, len(found)) in records:
        found.append(item.read(records[section, len(found)], f"$.{section}[{len(found)}]"))
    return tuple(found)


def _apply(records: dict[Place, Any], changes: list[RowChange]) -> None:
    for section, place, _, body in changes:
        if body is None:
            records.pop((section, place), None)
        else:
            records[section, place] = body


def _teardown_from(records: dict[Place, Any], path: Path) -> Teardown:
    whole: dict[str, Any] = {}
    for (section, place), body in sorted(records.items()):
        if section == EXTRA:
            whole[body[0]] = body[1]
        elif place < 0:
            whole[section] = body
        else:
            whole.setdefault(section, []).append(body)
    try:
        return exchange.from_json(whole)
    except Refusal as refusal:
        raise refusal.at(f"{path} {refusal.path}") from None
