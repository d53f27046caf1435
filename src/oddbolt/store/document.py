"""The working document: one SQLite file that is always on disk as far as it has been acknowledged.

An act is one row of `store.file.ledger`, on disk before it is acknowledged. Photographs are stored once by their
SHA-256, by which they are checked when they are read; names point to them; thumbnails lie apart, so that a list of
states never reads the photographs. What is wrong with a file ends here as a Refusal, never as an error of whoever reads
it.
"""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import sqlite3
import tempfile
from collections.abc import Callable, Iterator, Sequence
from contextlib import ExitStack, closing, contextmanager, suppress
from pathlib import Path
from typing import Any

from msgspec import Struct

from oddbolt.model.checking.references import check_references
from oddbolt.model.label import Label
from oddbolt.model.refusal import Refusal
from oddbolt.model.shapes import specs
from oddbolt.model.things import Teardown
from oddbolt.model.touched import Touched
from oddbolt.store.file import ledger
from oddbolt.store.file.hold import Hold, open_regular, sync_folder
from oddbolt.store.file.ledger import CommandText, Damage, Ledger
from oddbolt.store.file.migrations import MIGRATIONS, migrate, schema_of
from oddbolt.store.file.photos import DAMAGED, photo_in, photo_names_in, thumb_in
from oddbolt.store.file.rows import SECTIONS, after_rows, apply, differences, dump, rows_of, teardown_from, touched
from oddbolt.store.file.sums import LAYOUTS, photo_sum, thumb_sum

APPLICATION_ID = 0x4F444254  # "ODBT", in the file's header at byte 68
SUFFIX = ".oddbolt"
CHECKED = ("record", "command", "fold", "desk", "photo", "photo_thumb")  # photographs are checked when they are read
# What reading a file that is not as we wrote it can end in; nothing else is expected of `_sound`.
UNSOUND = (sqlite3.Error, ValueError, TypeError, KeyError, IndexError, AttributeError, RecursionError, OverflowError,
           MemoryError)


class CommandRow(Struct, frozen=True, kw_only=True):
    """A command as recorded; `undone` ones can be done again until another command follows."""

    number: int
    at: str
    label: Label
    undone: bool


class Document:
    """An open working document. One writer at a time; others may read."""

    is_open = True  # see `store.nothing`

    def __init__(self, path: Path, db: sqlite3.Connection, hold: Hold | None) -> None:
        """Reads and checks all but the photographs; raises Refusal."""
        self.path = path
        self._db = db
        self._hold = hold
        self.is_read_only = hold is None
        self._lost: Refusal | None = None  # why nothing more can be written
        self._load()

    def _load(self) -> None:
        with _sound(self.path):
            _check_pages(self._db)
            self._ledger = Ledger(self._db)
            self.teardown = teardown_from(self._ledger.records, self.path)
            self._version = _data_version(self._db)
        if self._hold is not None:
            self._hold.take_stamp()

    @property
    def undo_label(self) -> Label | None:
        return self._ledger.undo_label

    @property
    def redo_label(self) -> Label | None:
        return self._ledger.redo_label

    # -- opening and closing

    @classmethod
    def create(cls, path: Path, teardown: Teardown, fill: Callable[[Document], object] | None = None,
               at: str = "") -> Document:
        """A new document at a path where nothing is yet. It is made under another name, with what `fill` puts in, and
        moved into place whole: a failure leaves nothing behind."""
        with _made_aside(path) as making, closing(_connect(making)) as db:
            _lay_out(db, teardown, at)
            if fill is not None:
                with Hold(making) as hold:
                    fill(cls(making, db, hold))
        return cls.open(path)

    @classmethod
    def open(cls, path: Path, *, read_only: bool = False) -> Document:
        """Open a document; a newer layout or a file that is none is refused, an older one is upgraded on a copy kept
        beside it."""
        os.close(open_regular(path))
        with ExitStack() as undo:
            hold = None if read_only else undo.enter_context(Hold(path))
            if read_only:
                _roll_back_what_was_broken_off(path)
            with _sound(path):
                db = undo.enter_context(closing(_connect(path, read_only=read_only)))
                have = _layout(db, path)
                if have < len(MIGRATIONS):
                    if read_only:
                        raise Refusal(str(path), "older-layout")
                    _upgrade(path, db, have)
            document = cls(path, db, hold)
            undo.pop_all()
            return document

    def close(self) -> None:
        """What was acknowledged is on disk already; the rows are brought up to it, for a quick next opening."""
        if self._hold is not None and self._ledger.waiting >= ledger.FOLDS_FROM:
            with suppress(Refusal):
                self._fold()
        self._db.close()
        if self._hold is not None:
            self._hold.close()

    def __enter__(self) -> Document:
        return self

    def __exit__(self, *_: object) -> None:
        self.close()

    def copy_to(self, target: Path) -> None:
        """The whole document under another path, where nothing is yet; this one stays the open one."""
        with _made_aside(target) as making, closing(sqlite3.connect(making)) as copy:
            self._db.backup(copy)

    # -- changing

    def commit(self, teardown: Teardown, label: Label, at: str) -> Touched:
        """Make `teardown` the present state; it is on disk when this returns. Commands that were undone are dropped.

        What could not be read again, or names what is not there, is refused: better one act lost than the document.
        """
        changes = differences(self._ledger.records, self.teardown, teardown)
        check_references(teardown, self.teardown)
        for section, place, _, body in changes:
            if body is not None and section in SECTIONS:
                shape = specs(Teardown)[section].shape
                (shape.item if place >= 0 else shape).read(body, f"$.{section}" + (f"[{place}]" if place >= 0 else ""))
        text = dump(changes)
        link = self._write(lambda: self._ledger.append(at, label.dumps(), text))
        self._ledger.appended(label, link, changes)
        self.teardown = teardown
        if self._ledger.waiting >= ledger.FOLDS_AT:
            with suppress(Refusal):  # the act is on disk; rows can wait
                self._fold()
        return touched(changes)

    def undo(self) -> tuple[Label, Touched] | None:
        """Take back the last command, durably; returns its label and what it touched, or None when there is none."""
        return self._step(back=True)

    def redo(self) -> tuple[Label, Touched] | None:
        """Do again the command that was undone last; returns its label and what it touched, or None."""
        return self._step(back=False)

    def _step(self, *, back: bool) -> tuple[Label, Touched] | None:
        with _sound(self.path):
            command = self._ledger.at_seam(undone=not back)
            if command is None or command.number == 0:
                return None
            changes = ledger.changes_of(command.changes)
            if back:
                changes = [(section, place, new, old) for section, place, old, new in changes]
            after = dict(self._ledger.records)
            apply(after, changes)
            teardown = after_rows(self.teardown, after, changes, self.path)
        stands = self._write(lambda: self._ledger.flip(command, changes))
        with _sound(self.path):
            self._ledger.flipped(changes, stands)
        self.teardown = teardown
        return Label.loads(command.label), touched(changes)

    def _fold(self) -> None:
        self._ledger.was_folded(self._write(self._ledger.fold))

    def _write(self, does: Callable[[], Any]) -> Any:
        """One transaction, on disk when this returns. Refused where somebody else has written since: then the document
        is read anew first."""
        if self._lost is not None:
            raise self._lost
        if self._hold is None:
            raise Refusal(str(self.path), "opened-for-reading")
        if not self._hold.is_in_place:
            raise Refusal(str(self.path), "moved-away")
        try:
            self._db.execute("BEGIN IMMEDIATE")  # from here on no other program can write through SQLite
            try:
                moved = self._hold.was_written or _data_version(self._db) != self._version
                found = None if moved else does()
                self._db.execute("ROLLBACK" if moved else "COMMIT")
            except BaseException:
                if self._db.in_transaction:  # a full disk has rolled back already
                    self._db.execute("ROLLBACK")
                raise
            if not moved:
                self._hold.take_stamp()
                return found
        except sqlite3.Error as error:
            if not self._hold.was_written:
                raise Refusal(str(self.path), "not-written", error=_why(error)) from None
        self._read_anew()
        raise Refusal(str(self.path), "changed-elsewhere")

    def _read_anew(self) -> None:
        """What another program left. Where that is no document any more nothing is written to it, and what was read
        before stays to be exported."""
        self._db.close()
        try:
            with _sound(self.path):
                self._db = _connect(self.path)
                if _layout(self._db, self.path) < len(MIGRATIONS):
                    raise Damage("layout")
            self._load()
        except Refusal as refusal:
            self._lost = Refusal(str(self.path), "overwritten", error=refusal.code)
            raise self._lost from None

    def commands(self) -> list[CommandRow]:
        with _sound(self.path):
            return [CommandRow(number=c.number, at=c.at, label=Label.loads(c.label), undone=c.undone)
                    for c in self._ledger.commands() if c.number]

    # -- photographs

    def add_photo(self, name: str, body: bytes, thumb: bytes = b"") -> str:
        """Keep a photograph under a name; equal ones are stored once. Returns its SHA-256."""
        digest = hashlib.sha256(body).hexdigest()
        self._write(lambda: (
            self._db.execute("INSERT OR IGNORE INTO photo_blob VALUES (?, ?)", (digest, body)),
            thumb and self._db.execute("INSERT OR REPLACE INTO photo_thumb VALUES (?, ?, ?)",
                                       (digest, thumb, thumb_sum(digest, thumb))),
            self._db.execute("INSERT OR REPLACE INTO photo VALUES (?, ?, ?, ?)",
                             (name, digest, len(body), photo_sum(name, digest, len(body)))),
        ))
        return digest

    def add_thumb(self, name: str, thumb: bytes) -> None:
        """Keep the small picture of a photograph that is there."""
        with _sound(self.path):
            row = self._db.execute("SELECT sha256 FROM photo WHERE name = ?", (name,)).fetchone()
        if row is not None:
            self._write(lambda: self._db.execute("INSERT OR REPLACE INTO photo_thumb VALUES (?, ?, ?)",
                                                 (row[0], thumb, thumb_sum(row[0], thumb))))

    def photo_names(self) -> list[str]:
        """Names that are as they were given; one that is damaged is none."""
        with _sound(self.path):
            return photo_names_in(self._db)

    def photo(self, name: str) -> bytes | None:
        """The bytes, as they were kept; None where there is none of that name. Refused where they have changed."""
        with _sound(self.path):
            found = photo_in(self._db, name)
        if found is DAMAGED:
            raise Refusal(str(self.path), "photo-damaged", name=name)
        return found

    def thumb(self, name: str) -> bytes | None:
        """The small picture; None where there is none, or it is damaged."""
        try:
            return thumb_in(self._db, name)
        except UNSOUND:
            return None

    # -- the desk: what is no part of the record, and is not undone with it

    def keep_on_desk(self, name: str, body: Any) -> None:
        """Keep a JSON value under a name; it is on disk when this returns."""
        self._write(lambda: self._db.execute("INSERT OR REPLACE INTO desk VALUES (?, ?)", (name, dump(body))))

    def on_desk(self, name: str) -> Any:
        """What is kept under a name; None where nothing is."""
        with _sound(self.path):
            row = self._db.execute("SELECT body FROM desk WHERE name = ?", (name,)).fetchone()
            return None if row is None else json.loads(row[0])


def digests_of(document: Document) -> dict[str, str]:
    """Name -> SHA-256 of each photograph: equal ones are the same picture."""
    with _sound(document.path):
        return {name: digest for name, digest in document._db.execute("SELECT name, sha256 FROM photo")
                if type(name) is str and type(digest) is str}


def take_history(document: Document, commands: Sequence[CommandText]) -> None:
    """Commands of another document, in one that has none yet: what repairs it hands over its history."""
    if commands:
        document._write(lambda: document._ledger.take_history(commands))
        document._load()


def _data_version(db: sqlite3.Connection) -> int:
    """Another number when somebody else has written through SQLite."""
    return int(db.execute("PRAGMA data_version").fetchone()[0])


@contextmanager
def _sound(path: Path) -> Iterator[None]:
    """The boundary: whatever reading a file ends in is a Refusal."""
    try:
        yield
    except Damage as damage:
        raise Refusal(str(path), "document-damaged", where=damage.where) from None
    except UNSOUND as error:
        busy = isinstance(error, sqlite3.OperationalError) and not str(error).startswith("Could not decode")
        if busy:
            raise Refusal(str(path), "document-unreadable", error=_why(error)) from None
        raise Refusal(str(path), "document-damaged", where=f"{type(error).__name__}: {error}"[:200]) from None


def _why(error: Exception) -> str:
    """The system's own reason, where it has one."""
    return getattr(error, "strerror", None) or str(error)


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def _connect(path: Path, *, read_only: bool = False) -> sqlite3.Connection:
    """Durable on commit: rollback journal and full synchronisation, as measured in docs/architecture.md. What the file
    itself says is not trusted to run anything."""
    uri = f"{path.resolve().as_uri()}?mode={'ro' if read_only else 'rw'}"
    db = sqlite3.connect(uri, uri=True, isolation_level=None, timeout=5)
    try:
        db.execute("PRAGMA trusted_schema = OFF")
        db.execute("PRAGMA cell_size_check = ON")
        if not read_only:
            db.execute("PRAGMA journal_mode = DELETE")
            db.execute("PRAGMA synchronous = FULL")
    except BaseException:
        db.close()
        raise
    return db


def _lay_out(db: sqlite3.Connection, teardown: Teardown, at: str) -> None:
    db.execute("PRAGMA auto_vacuum = INCREMENTAL")
    db.execute(f"PRAGMA application_id = {APPLICATION_ID}")
    migrate(db, 0)
    db.execute("BEGIN IMMEDIATE")
    db.execute("DELETE FROM command")  # an empty record as the migrations leave it
    db.execute("DELETE FROM fold")
    ledger.begin(db, rows_of(teardown), at)
    db.execute("COMMIT")


@contextmanager
def _made_aside(path: Path) -> Iterator[Path]:
    """A new file of another name beside a path where nothing is; moved there whole when all went well, else gone."""
    if path.exists() or path.is_symlink():
        raise Refusal(str(path), "file-exists")
    making: Path | None = None
    try:
        handle, name = tempfile.mkstemp(dir=path.parent, prefix=f".{path.name[:60]}.", suffix=".making")
        os.close(handle)
        making = Path(name)
        yield making
        os.chmod(making, 0o666 & ~_umask())
        _move_into_place(making, path)
    except (sqlite3.Error, OSError) as error:
        raise Refusal(str(path), "document-not-made", error=_why(error)) from None
    finally:
        if making is not None:
            for left in (making, Path(f"{making}-journal")):
                left.unlink(missing_ok=True)


def _move_into_place(making: Path, path: Path) -> None:
    """Under its name whole, and never over another file."""
    try:
        os.link(making, path)
    except FileExistsError:
        raise Refusal(str(path), "file-exists") from None
    except OSError:  # a file system without hard links
        if path.exists():
            raise Refusal(str(path), "file-exists") from None
        os.rename(making, path)
    sync_folder(path.parent)


def _upgrade(path: Path, db: sqlite3.Connection, have: int) -> None:
    _check_schema(db, have)
    _check_pages(db)
    shutil.copy2(path, path.with_suffix(f".layout-{have}{SUFFIX}"))
    migrate(db, have)


def _roll_back_what_was_broken_off(path: Path) -> None:
    """A journal that a killed writer left makes the file unreadable until somebody who may write rolls it back."""
    journal = Path(f"{path}-journal")
    if not journal.exists():
        return
    try:
        with Hold(path), closing(_connect(path)) as db:
            db.execute("PRAGMA application_id").fetchone()
    except Refusal as refusal:
        if refusal.code == "file-not-writable":
            raise Refusal(str(path), "journal-left", journal=journal.name) from None
    except sqlite3.OperationalError:
        raise Refusal(str(path), "journal-left", journal=journal.name) from None
    except sqlite3.Error:
        pass  # what is wrong with it is found by whoever reads


def _layout(db: sqlite3.Connection, path: Path) -> int:
    if db.execute("PRAGMA application_id").fetchone()[0] != APPLICATION_ID:
        raise Refusal(str(path), "not-a-document")
    have = int(db.execute("PRAGMA user_version").fetchone()[0]) % LAYOUTS
    if have > len(MIGRATIONS):
        raise Refusal(str(path), "newer-layout", layout=have, known=len(MIGRATIONS))
    _check_schema(db, have)
    return have


def _check_schema(db: sqlite3.Connection, layout: int) -> None:
    """Our tables as we made them and nothing else: a trigger or a view would act in our name."""
    if schema_of(db) != schema_of(layout):
        raise Damage("schema")


def _check_pages(db: sqlite3.Connection) -> None:
    """SQLite's own look at the pages of what is read at once."""
    known = {name for kind, name, _ in schema_of(db) if kind == "table"}
    for table in CHECKED:
        if table in known and db.execute(f"PRAGMA quick_check({table})").fetchone() != ("ok",):
            raise Damage(table)
