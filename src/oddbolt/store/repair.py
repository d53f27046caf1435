"""A new document of what is whole in a damaged one. The damaged file is never written to.

What reaches furthest is taken: the commands from the beginning up to the first that does not fit, or the rows of the
record, where their sum is right, with the commands after them. Where neither holds, the rows that can still be read,
without those that name what is lost.
"""

from __future__ import annotations

import json
import re
import shutil
import sqlite3
import tempfile
from bisect import bisect_left
from collections.abc import Iterator
from contextlib import closing, suppress
from pathlib import Path
from typing import Any

from msgspec import Struct

from oddbolt.model import exchange
from oddbolt.model.refusal import Refusal
from oddbolt.model.repaired import BY_COMMANDS, BY_ROWS, BY_SCRAPS, WHOLE, Repaired
from oddbolt.model.things import Teardown
from oddbolt.store.document import UNSOUND, Document, take_history
from oddbolt.store.file.ledger import COLUMNS, CommandText, Damage, Ledger, changes_of, command_of, rows_in
from oddbolt.store.file.photos import DAMAGED, photo_in, thumb_in
from oddbolt.store.file.rows import Place, apply, teardown_from
from oddbolt.store.files import SQLITE_MAGIC, is_exchange

LOST_IN_FILE = re.compile(r"\$\.(\w+)\[(\d+)\]")
HEADER, PAGE_BYTES = 100, 4096
# The file format of SQLite, section 1.3 (from memory): magic, page size, rollback journal, fractions of a payload.
FIRST_BYTES = SQLITE_MAGIC + PAGE_BYTES.to_bytes(2, "big") + bytes((1, 1, 0, 64, 32, 32))
MOST_MISSED = 300  # numbers without a command, after which there are none
MOST_LOST = 10_000  # rows that are given up one by one


class Salvage(Struct):
    """What was found: the record to go on with, and what led to it."""

    how: str
    begun: Teardown  # the record before its commands
    commands: list[CommandText]  # after that, in order; those that were undone at the end
    last_at: str = ""  # when the last command that holds was given
    lost_commands: int = 0
    lost_rows: tuple[str, ...] = ()  # places of records that were given up


def repair(source: Path, target: Path) -> Iterator[Repaired | None]:
    """Make the new document at `target`, where nothing is yet; yields None while at work and last what was done.

    Raises Refusal where nothing of the record can be read, the source is an exchange file, or the target cannot be
    made.
    """
    if source.is_file() and is_exchange(source):
        raise Refusal(str(source), "exchange-not-repaired")
    with tempfile.TemporaryDirectory(dir=target.parent, prefix=".repair-") as name:
        copy = Path(name) / "copy.oddbolt"
        try:
            shutil.copyfile(source, copy)
            journal = Path(f"{source}-journal")
            if journal.is_file():
                shutil.copyfile(journal, Path(f"{copy}-journal"))
        except OSError as error:
            raise Refusal(str(source), "unreadable", error=error.strerror) from None
        _make_readable(copy)
        yield None
        try:
            with closing(sqlite3.connect(copy, isolation_level=None)) as db:
                db.execute("PRAGMA trusted_schema = OFF")
                yield from _repair(db, source, target)
        except UNSOUND as error:
            raise Refusal(str(source), "nothing-whole", error=str(error)) from None


def _make_readable(copy: Path) -> None:
    """Give a copy the header and the length that SQLite insists on; pages that are gone are then empty ones."""
    body = bytearray(copy.read_bytes())
    if len(body) < HEADER:
        return
    if not body.startswith(SQLITE_MAGIC) or body[16:18] != PAGE_BYTES.to_bytes(2, "big"):
        body[:len(FIRST_BYTES)] = FIRST_BYTES
    pages = max(int.from_bytes(body[28:32], "big"), -(-len(body) // PAGE_BYTES))
    if pages > 4 * len(body) // PAGE_BYTES + 64:  # a length that cannot be
        pages = -(-len(body) // PAGE_BYTES)
    body[28:32] = pages.to_bytes(4, "big")
    body[32:40] = bytes(8)  # no list of free pages: nothing is written to the copy
    body[92:96] = body[24:28]
    body += bytes(pages * PAGE_BYTES - len(body))
    copy.write_bytes(body)


def _repair(db: sqlite3.Connection, source: Path, target: Path) -> Iterator[Repaired | None]:
    found = _salvage(db, source)
    yield None
    lost_photos: list[str] = []

    def fill(document: Document) -> None:
        take_history(document, found.commands)
        for name in _photo_names(db, document.teardown):
            photo = _photo(db, name)
            if photo is None:
                lost_photos.append(name)
            else:
                document.add_photo(name, *photo)

    Document.create(target, found.begun, fill).close()
    yield Repaired(target, found.how, found.last_at, found.lost_commands, found.lost_rows, tuple(lost_photos))


def _salvage(db: sqlite3.Connection, source: Path) -> Salvage:
    commands = _commands_in(db)
    last = max(commands, default=0)
    found: list[Salvage] = []
    with suppress(Damage, Refusal, *UNSOUND):
        fitting = _fitting(commands, 0, "")
        found.append(_by_commands(fitting, source, BY_COMMANDS, last + 1 - len(fitting)))
        with suppress(Damage, *UNSOUND):
            Ledger(db)
            found[0].how = WHOLE
    with suppress(Damage, Refusal, *UNSOUND):
        records, number, _ = rows_in(db)
        fitting = _fitting(commands, number + 1, commands[number].link) if number in commands else []
        at = commands[number].at if number in commands else ""
        found.append(_going_on(records, fitting, source, BY_ROWS, at, last - number - len(fitting)))
    return min(found, key=lambda one: one.lost_commands) if found else _by_scraps(db, source)


def _commands_in(db: sqlite3.Connection) -> dict[int, CommandText]:
    """Those that can be read, by their number."""
    found: dict[int, CommandText] = {}
    with suppress(*UNSOUND):
        for row in db.execute(f"SELECT {COLUMNS} FROM command ORDER BY number"):
            with suppress(Damage, *UNSOUND):
                found[row[0]] = command_of(row)
    number, missed = max(found, default=-1) + 1, 0
    while missed < MOST_MISSED:  # past a page that cannot be read they are asked for one by one
        row = None
        with suppress(*UNSOUND):
            row = db.execute(f"SELECT {COLUMNS} FROM command WHERE number = ?", (number,)).fetchone()
        with suppress(Damage, *UNSOUND):
            found[number] = command_of(row)
            missed = -1
        number, missed = number + 1, missed + 1
    return found


def _fitting(commands: dict[int, CommandText], number: int, before: str) -> list[CommandText]:
    """From this number to the last that is linked to the one before it."""
    found: list[CommandText] = []
    while number in commands and commands[number].fits_after(before):
        found.append(commands[number])
        number, before = number + 1, commands[number].link
    return found


def _by_commands(commands: list[CommandText], source: Path, how: str, lost: int) -> Salvage:
    """The record as it was begun; that it goes on from there to a record that can be read is tried here."""
    records: dict[Place, Any] = {}
    apply(records, changes_of(commands[0].changes))
    return _going_on(records, commands[1:], source, how, commands[0].at, lost)


def _going_on(records: dict[Place, Any], commands: list[CommandText], source: Path, how: str, at: str,
              lost: int) -> Salvage:
    """A record, and what follows it as far as it leads to a record that can be read."""
    begun = teardown_from(records, source)

    def reads(number: int) -> bool:
        after = dict(records)
        try:
            for command in commands[:number]:
                if not command.undone:
                    apply(after, changes_of(command.changes))
            teardown_from(after, source)
        except (Refusal, *UNSOUND):
            return False
        return True

    holds = len(commands)
    if not reads(holds):  # up to the first that leads to what cannot be read
        holds = bisect_left(range(1, holds), True, key=lambda number: not reads(number))
    return Salvage(how, begun, commands[:holds], commands[holds - 1].at if holds else at, lost + len(commands) - holds)


def _by_scraps(db: sqlite3.Connection, source: Path) -> Salvage:
    records: dict[Place, Any] = {}
    with suppress(*UNSOUND):
        for section, place, body in db.execute("SELECT section, place, body FROM record ORDER BY section, place"):
            with suppress(*UNSOUND):
                records[str(section), int(place)] = json.loads(body)
    whole: dict[str, Any] = {}
    for (section, place), body in sorted(records.items()):
        if section != "extra":
            whole[section] = body if place < 0 else [*whole.get(section, ()), body]
    lost: list[str] = []
    for _ in range(MOST_LOST):
        try:
            return Salvage(BY_SCRAPS, exchange.from_json(whole), [], lost_rows=tuple(lost))
        except Refusal as refusal:
            place = LOST_IN_FILE.match(refusal.path)
            if place is None or place[1] not in whole:
                raise Refusal(str(source), "nothing-whole", error=refusal.path) from None
            row = whole[place[1]].pop(int(place[2]))
            lost.append(f"{place[1]}: {row.get('id', place[2]) if isinstance(row, dict) else place[2]}")
    raise Refusal(str(source), "nothing-whole", error="")


def _photo_names(db: sqlite3.Connection, teardown: Teardown) -> list[str]:
    try:
        return [str(name) for name, in db.execute("SELECT name FROM photo ORDER BY name")]
    except UNSOUND:
        return list(teardown.beside)


def _photo(db: sqlite3.Connection, name: str) -> tuple[bytes, bytes] | None:
    """Photograph and small picture; None where the photograph is not as it was kept."""
    body, thumb = None, None
    with suppress(*UNSOUND):
        body = photo_in(db, name)
    with suppress(*UNSOUND):
        thumb = thumb_in(db, name)
    return None if body is None or body is DAMAGED else (body, thumb or b"")
