"""Named migrations of the working document, each one transaction with its own record. Never edit one that shipped."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Callable

from oddbolt.model.label import TEXT, Label


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


MIGRATIONS: tuple[tuple[str, Callable[[sqlite3.Connection], None]], ...] = (
    ("first layout", _first_layout),
    ("desk", _desk),
    ("labels as codes", _labels_as_codes),
)


def migrate(db: sqlite3.Connection, have: int) -> None:
    """Bring a document from layout `have` to the newest; each step is one transaction."""
    db.execute("CREATE TABLE IF NOT EXISTS migration (number INTEGER PRIMARY KEY, name TEXT NOT NULL)")
    for number, (name, change) in enumerate(MIGRATIONS, start=1):
        if number > have:
            db.execute("BEGIN IMMEDIATE")
            try:
                change(db)
                db.execute("INSERT INTO migration VALUES (?, ?)", (number, name))
                db.execute(f"PRAGMA user_version = {number}")
                db.execute("COMMIT")
            except BaseException:
                db.execute("ROLLBACK")
                raise
