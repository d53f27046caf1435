"""Sums over a working document, by which damage is seen: one of all rows of the record, one chained over its commands.

They guard against disks, cables and careless programs, not against somebody who wants to deceive.
"""

from __future__ import annotations

from collections.abc import Iterable
from hashlib import sha256

MODULUS = 1 << 128


def row_sum(section: str, place: int, body: str) -> int:
    """Of one row as it is stored. Sums of rows are added, so one row can be exchanged without reading the others."""
    return int.from_bytes(sha256(f"{section}\0{place}\0{body}".encode()).digest()[:16], "big")


def total_of(rows: Iterable[tuple[str, int, str]]) -> str:
    """Of all rows, in any order."""
    return written(sum(row_sum(*row) for row in rows))


def written(total: int) -> str:
    return f"{total % MODULUS:032x}"


def photo_sum(name: str, sha256_: str, size: int) -> str:
    """Of a name and what it points to."""
    return sha256(f"{name}\0{sha256_}\0{size}".encode()).hexdigest()[:32]


def thumb_sum(sha256_: str, body: bytes) -> str:
    """Of a small picture and the photograph it is of."""
    return sha256(sha256_.encode() + b"\0" + body).hexdigest()[:32]


LAYOUTS, COUNTED = 64, 4096


def seam(last: int, rows: int) -> int:
    """Where the history stands and how many commands there are, for the header of the file beside the layout.

    The header is another page than the commands: where one of the two was not written after all, they differ. It is
    written with every transaction anyway.
    """
    return (last % COUNTED) * LAYOUTS + (rows % COUNTED) * LAYOUTS * COUNTED


def link(before: str, number: int, at: str, label: str, changes: str) -> str:
    """Of a command and, by the link before it, of all before it."""
    return sha256("\0".join((before, str(number), at, label, changes)).encode()).hexdigest()[:32]
