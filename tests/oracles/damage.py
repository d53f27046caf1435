"""Damage done to working documents: by disks, cables, careless programs, and by somebody who plants things."""

from __future__ import annotations

import random
import sqlite3
from contextlib import suppress

PAGE = 4096
TABLES = {"record": ("section", "place", "body"), "command": ("number", "at", "label", "changes", "undone", "link"),
          "fold": ("number", "total"), "photo": ("name", "sha256", "bytes", "sum"), "photo_blob": ("sha256", "body"),
          "photo_thumb": ("sha256", "body", "sum"), "desk": ("name", "body"), "migration": ("name",)}
VALUES = (None, "", "x", "{}", "[]", "null", "[[]]", '[["parts",0,null,null]]', '{"code":1}', "NaN", "[NaN]", 0, -1, 7,
          2 ** 62, 1.5, float("inf"), b"", b"\xff\xfe", "\ud800".encode("utf-8", "surrogatepass"), "9" * 5000,
          "[" * 3000, '{"id":"cover","kind":"\\ud800"}', "oddbolt" * 4000)
PLANTED = (
    "CREATE TRIGGER t AFTER INSERT ON command BEGIN DELETE FROM record; END",
    "CREATE TRIGGER t AFTER UPDATE ON fold BEGIN UPDATE photo SET sha256 = 'x'; END",
    "CREATE TABLE other (x)",
    "CREATE VIEW v AS SELECT * FROM record",
    "CREATE INDEX i ON command (at)",
    "ALTER TABLE record RENAME TO record_; CREATE VIEW record AS SELECT * FROM record_",
    "ALTER TABLE desk ADD COLUMN more",
    "DROP TABLE desk",
    "DROP TABLE photo_blob",
    "PRAGMA user_version = 3",
    "PRAGMA user_version = -5",
    "PRAGMA application_id = 1",
)


def _flip(body, rng):
    for _ in range(rng.choice((1, 1, 3, 20))):
        body[rng.randrange(len(body))] = rng.randrange(256)


def _blank(body, rng):
    start = rng.choice((rng.randrange(len(body)), rng.randrange(100)))
    length = min(rng.choice((1, 16, 512, PAGE)), len(body) - start)
    body[start:start + length] = bytes(length)


def _page_gone(body, rng):
    start = rng.randrange(max(1, len(body) // PAGE)) * PAGE
    body[start:start + PAGE] = rng.choice((bytes(PAGE), rng.randbytes(PAGE)))


def _pages_swapped(body, rng):
    one, other = (rng.randrange(max(1, len(body) // PAGE)) * PAGE for _ in range(2))
    body[one:one + PAGE], body[other:other + PAGE] = body[other:other + PAGE], body[one:one + PAGE]


def _cut(body, rng):
    del body[rng.randrange(len(body)):]


def _grown(body, rng):
    body += rng.randbytes(rng.choice((1, 100, PAGE)))


BYTES = {"bytes changed": _flip, "bytes blanked": _blank, "a page lost": _page_gone, "pages swapped": _pages_swapped,
         "cut short": _cut, "grown": _grown}


def damage(path, kind, rng):
    """Do one kind of damage to a document that nobody has open."""
    if kind in BYTES:
        body = bytearray(path.read_bytes())
        BYTES[kind](body, rng)
        path.write_bytes(body)
        return
    db = sqlite3.connect(path, isolation_level=None)
    with suppress(sqlite3.Error):
        if kind == "planted":
            db.executescript(rng.choice(PLANTED))
        elif kind == "a row lost":
            table = rng.choice(list(TABLES))
            db.execute(f"DELETE FROM {table} WHERE rowid IN (SELECT rowid FROM {table} ORDER BY random() LIMIT 1)"
                       if table not in ("record", "desk") else
                       f"DELETE FROM {table} WHERE {TABLES[table][0]} = (SELECT {TABLES[table][0]} FROM {table} "
                       "ORDER BY random() LIMIT 1)")
        else:
            table = rng.choice(list(TABLES))
            column, key = rng.choice(TABLES[table]), TABLES[table][0]
            rows = db.execute(f"SELECT {key} FROM {table}").fetchall()
            if rows:
                db.execute(f"UPDATE OR REPLACE {table} SET {column} = ? WHERE {key} = ?",
                           (rng.choice(VALUES), rng.choice(rows)[0]))
    db.close()


KINDS = (*BYTES, "planted", "a row lost", "a value changed", "a value changed")


def random_damage(path, seed):
    """Returns which kind it was."""
    rng = random.Random(seed)
    kind = KINDS[seed % len(KINDS)]
    damage(path, kind, rng)
    return kind
