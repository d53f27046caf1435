"""Photographs in a document, each checked as it is read. Errors of SQLite are whoever reads to expect."""

from __future__ import annotations

import sqlite3
from hashlib import sha256

from oddbolt.store.file.sums import photo_sum, thumb_sum

DAMAGED = b"damaged"  # this very object: there is such a name, and what it points to is not what was kept


def photo_names_in(db: sqlite3.Connection) -> list[str]:
    return [name for name, digest, size, own in db.execute("SELECT name, sha256, bytes, sum FROM photo ORDER BY name")
            if type(name) is str and own == photo_sum(name, digest, size)]


def photo_in(db: sqlite3.Connection, name: str) -> bytes | None:
    """The bytes; None where there is none of that name, `DAMAGED` where they, or what points to them, have changed."""
    row = db.execute("SELECT sha256, bytes, sum FROM photo WHERE name = ?", (name,)).fetchone()
    if row is None:
        return None
    digest, size, own = row
    if own != photo_sum(name, digest, size):
        return DAMAGED
    found = db.execute("SELECT body FROM photo_blob WHERE sha256 = ?", (digest,)).fetchone()
    if found is None or type(found[0]) is not bytes or sha256(found[0]).hexdigest() != digest:
        return DAMAGED
    return found[0]


def thumb_in(db: sqlite3.Connection, name: str) -> bytes | None:
    """The small picture; None where there is none, or it is not the one of this photograph."""
    row = db.execute("SELECT photo.sha256, bytes, photo.sum, body, photo_thumb.sum FROM photo "
                     "JOIN photo_thumb ON photo.sha256 = photo_thumb.sha256 WHERE name = ?", (name,)).fetchone()
    if row is None:
        return None
    digest, size, own, body, body_sum = row
    fits = type(body) is bytes and own == photo_sum(name, digest, size) and body_sum == thumb_sum(digest, body)
    return body if fits else None
