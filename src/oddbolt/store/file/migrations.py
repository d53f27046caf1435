"""Named migrations of the working document, each one transaction with its own record. Never edit one that shipped."""

from __future__ import annotations

import functools
import json
import sqlite3
from collections.abc import Callable
from contextlib import closing

from oddbolt.model.label import TEXT, Label
from oddbolt.store.file.sums import LAYOUTS, link, photo_sum, seam, thumb_sum, total_of


def _first_layout(db: sqlite3.Connection) -> None:
    """Records as JSON by section; the commands that made them; photographs apart from names and thumbnails."""
    for statement in (
        "CREATE TABLE record (section TEXT NOT NULL, place INTEGER NOT NULL, body TEXT NOT NULL,"
        " PRIMARY KEY (section, place)) WITHOUT ROWID",
        "CREATE TABLE command (number INTEGER PRIMARY KEY, at TEXT NOT NULL, label TEXT NOT NULL,"
        " changes TEXT NOT NULL, undone INTEGER NOT NULL DEFAULT 0)",
        "CREATE TABLE photo (name TEXT PRIMARY KEY, sha256 TEXT NOT NULL, bytes INTEGER NOT NULL)",
        "CREATE TABLE photo_blob (sha256 TEXT PRIMARY KEY, body BLOB NOT NULL)",
        "CREATE TABLE photo_thumb (sha256 TEXT PRIMARY KEY, body BLOB NOT NULL)",
    ):
        db.execute(statement)


def _desk(db: sqlite3.Connection) -> None:
    """What lies on the desk beside the record and is no part of it: running countdowns."""
    db.execute("CREATE TABLE desk (name TEXT PRIMARY KEY, body TEXT NOT NULL) WITHOUT ROWID")


def _labels_as_codes(db: sqlite3.Connection) -> None:
    """Labels were English words; they are codes with data now, and those words are kept as what they are.

    Whether a person had said that a joint does not make safe stood only in the key being written out: it is `said` now.
    """
    for number, label in db.execute("SELECT number, label FROM command").fetchall():
        db.execute("UPDATE command SET label = ? WHERE number = ?", (Label(TEXT, {"text": label}).dumps(), number))
    for place, body in db.execute("SELECT place, body FROM record WHERE section = 'joints'").fetchall():
        joint = json.loads(body)
        if joint.get("isolates") is False and joint.get("basis") in ("assumed", "seen"):
            joint["said"] = ["isolates"]
            db.execute("UPDATE record SET body = ? WHERE section = 'joints' AND place = ?",
                       (json.dumps(joint, ensure_ascii=False, separators=(",", ":")), place))


def _one_log(db: sqlite3.Connection) -> int:
    """An act writes one row: its command, linked to the one before. The record as it was begun becomes command 0; the
    rows of the record say after which command they stand, with a sum over them; names of photographs and small
    pictures have sums of their own."""
    db.execute("ALTER TABLE command ADD COLUMN link TEXT NOT NULL DEFAULT ''")
    db.execute("CREATE TABLE fold (one INTEGER PRIMARY KEY CHECK (one = 1), number INTEGER NOT NULL,"
               " total TEXT NOT NULL)")
    rows = db.execute("SELECT section, place, body FROM record ORDER BY section, place").fetchall()
    begun = {(section, place): json.loads(body) for section, place, body in rows}
    commands = db.execute("SELECT number, at, label, changes, undone FROM command ORDER BY number").fetchall()
    for _, _, _, changes, undone in reversed(commands):
        for section, place, old, _ in () if undone else json.loads(changes):
            begun.pop((section, place), None)
            if old is not None:
                begun[section, place] = old
    first = _compact([(section, place, None, body) for (section, place), body in sorted(begun.items())])
    db.execute("DELETE FROM command")
    before, done = "", 0
    for number, (at, label, changes, undone) in enumerate(
            [("", Label("begun").dumps(), first, 0), *(command[1:] for command in commands)]):
        before = link(before, number, at, label, changes)
        done = done if undone else number
        db.execute("INSERT INTO command (number, at, label, changes, undone, link) VALUES (?, ?, ?, ?, ?, ?)",
                   (number, at, label, changes, undone, before))
    db.execute("INSERT INTO fold VALUES (1, ?, ?)", (done, total_of(rows)))
    for table in ("photo", "photo_thumb"):
        db.execute(f"ALTER TABLE {table} ADD COLUMN sum TEXT NOT NULL DEFAULT ''")
    for name, digest, size in db.execute("SELECT name, sha256, bytes FROM photo").fetchall():
        db.execute("UPDATE photo SET sum = ? WHERE name = ?", (photo_sum(name, digest, size), name))
    for digest, in db.execute("SELECT sha256 FROM photo_thumb").fetchall():
        body = db.execute("SELECT body FROM photo_thumb WHERE sha256 = ?", (digest,)).fetchone()[0]
        db.execute("UPDATE photo_thumb SET sum = ? WHERE sha256 = ?", (thumb_sum(digest, body), digest))
    return seam(done, len(commands) + 1)


def _compact(body: object) -> str:
    return json.dumps(body, ensure_ascii=False, separators=(",", ":"))


# Its name, and what it does: gives what stands in the header beside the number of the layout, if anything does.
Migration = tuple[str, Callable[[sqlite3.Connection], int | None]]
MIGRATIONS: tuple[Migration, ...] = (
    ("first layout", _first_layout),
    ("desk", _desk),
    ("labels as codes", _labels_as_codes),
    ("one log", _one_log),
)


def migrate(db: sqlite3.Connection, have: int) -> None:
    """Bring a document from layout `have` to the newest; each step is one transaction."""
    migrate_through(db, have, MIGRATIONS)


def migrate_through(db: sqlite3.Connection, have: int,
                    migrations: tuple[Migration, ...]) -> None:
    """The same through a list of them, as for the layout of another day."""
    db.execute("CREATE TABLE IF NOT EXISTS migration (number INTEGER PRIMARY KEY, name TEXT NOT NULL)")
    for number, (name, change) in enumerate(migrations, start=1):
        if number > have:
            db.execute("BEGIN IMMEDIATE")
            try:
                more = change(db)
                if more is None:
                    version = db.execute("PRAGMA user_version").fetchone()[0]
                    more = version - version % LAYOUTS
                db.execute("INSERT INTO migration VALUES (?, ?)", (number, name))
                db.execute(f"PRAGMA user_version = {number + more}")
                db.execute("COMMIT")
            except BaseException:
                if db.in_transaction:
                    db.execute("ROLLBACK")
                raise


Schema = frozenset[tuple[str, str, str]]  # kind, name, the statement that made it


def schema_of(what: sqlite3.Connection | int) -> Schema:
    """What a document holds, or what one of this layout must hold: no more and no less."""
    if isinstance(what, int):
        return _schema_of_layout(MIGRATIONS[:what])
    rows = what.execute("SELECT type, name, sql FROM sqlite_master")
    return frozenset((kind, name, sql or "") for kind, name, sql in rows if not str(name).startswith("sqlite_stat"))


@functools.cache
def _schema_of_layout(migrations: tuple[Migration, ...]) -> Schema:
    with closing(sqlite3.connect(":memory:", isolation_level=None)) as db:
        migrate_through(db, 0, migrations)
        return schema_of(db)
