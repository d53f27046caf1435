"""The record and its commands as they lie in the file: one row a command, folded into the rows of the record at times.

An act writes one row, the command with its differences, chained to the one before. The rows of the record stand as they
were after the command in `fold`; what followed is read from the commands. So an act costs what a bare row costs, the
record is read without its history, and either is rebuilt from the other (`store.repair`). Command 0 is the record as it
was begun; nothing takes it back.
"""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable, Iterator, Sequence
from typing import Any

from msgspec import Struct

from oddbolt.model.label import Label
from oddbolt.store.file.rows import Place, RowChange, apply, dump
from oddbolt.store.file.sums import LAYOUTS, link, row_sum, seam, total_of, written

BEGUN = Label("begun")
FOLDS_FROM = 50  # commands that are folded when the document is closed; fewer are as quickly read
FOLDS_AT = 1000  # commands after which an act folds too, so that a long day is read no slower


class Damage(Exception):
    """What is in the file does not fit together; `where` is the table or the command, for people who help."""

    def __init__(self, where: str) -> None:
        super().__init__(where)
        self.where = where


class CommandText(Struct, frozen=True):
    """A command as it is stored."""

    number: int
    at: str
    label: str
    changes: str
    undone: bool
    link: str

    def fits_after(self, before: str) -> bool:
        return self.link == link(before, self.number, self.at, self.label, self.changes)


def command_of(row: tuple[Any, ...]) -> CommandText:
    """Raises Damage where a column holds what it cannot."""
    number, at, label, changes, undone, chain = row
    if type(number) is not int or undone not in (0, 1) \
            or not all(type(text) is str for text in (at, label, changes, chain)):
        raise Damage(f"command {number!r}"[:80])
    return CommandText(number, at, label, changes, bool(undone), chain)


COLUMNS = "number, at, label, changes, undone, link"


def changes_of(text: str) -> list[RowChange]:
    """What a command changed. Raises ValueError for what is not a list of changes."""
    found = json.loads(text, parse_constant=_refuse_constant)
    for change in found:
        section, place, _, _ = change
        if type(section) is not str or type(place) is not int:
            raise ValueError(change)
    return [tuple(change) for change in found]


def _refuse_constant(name: str) -> None:
    raise ValueError(name)


def begin(db: sqlite3.Connection, records: dict[Place, Any], at: str) -> None:
    """The first command and the rows of a new record, in the transaction of whoever calls."""
    rows = [(section, place, dump(body)) for (section, place), body in records.items()]
    changes = dump([(section, place, None, body) for (section, place), body in records.items()])
    label = BEGUN.dumps()
    db.execute(f"INSERT INTO command ({COLUMNS}) VALUES (0, ?, ?, ?, 0, ?)",
               (at, label, changes, link("", 0, at, label, changes)))
    db.executemany("INSERT INTO record VALUES (?, ?, ?)", rows)
    db.execute("INSERT INTO fold VALUES (1, 0, ?)", (total_of(rows),))
    _seal(db, 0, 1)


def _seal(db: sqlite3.Connection, last: int, rows: int) -> None:
    """Write into the header where the history stands."""
    layout = db.execute("PRAGMA user_version").fetchone()[0] % LAYOUTS
    db.execute(f"PRAGMA user_version = {layout + seam(last, rows)}")


def rows_in(db: sqlite3.Connection) -> tuple[dict[Place, Any], int, str]:
    """The rows of the record, the command after which they stand, and their sum. Raises Damage where it is another."""
    found = db.execute("SELECT number, total FROM fold").fetchall()
    if len(found) != 1 or type(found[0][0]) is not int or type(found[0][1]) is not str:
        raise Damage("fold")
    records: dict[Place, Any] = {}
    total = 0
    for section, place, body in db.execute("SELECT section, place, body FROM record ORDER BY section, place"):
        if type(section) is not str or type(place) is not int or type(body) is not str:
            raise Damage("record")
        records[section, place] = json.loads(body, parse_constant=_refuse_constant)
        total += row_sum(section, place, body)
    if written(total) != found[0][1]:
        raise Damage("record")
    return records, *found[0]


class Ledger:
    """What has been read of a file, checked; kept up with it by whoever writes."""

    def __init__(self, db: sqlite3.Connection) -> None:
        """Raises Damage, ValueError or sqlite3.Error where the file does not hold a whole record."""
        self._db = db
        self.unfolded: set[Place] = set()
        self.records, self.folded, self.total = rows_in(db)
        self._read_commands()
        self.undo_label: Label | None = None
        self.redo_label: Label | None = None
        self.last, self.link = 0, ""
        self.read_seam()
        version = db.execute("PRAGMA user_version").fetchone()[0]
        if version - version % LAYOUTS != seam(self.last, self.rows):
            raise Damage("header")

    def _read_commands(self) -> None:
        """Check the chain, and go on from the rows with what followed them."""
        before, undone, expected = "", False, 0
        for command in self.commands():
            if command.number != expected or not command.fits_after(before) or (undone and not command.undone):
                raise Damage(f"command {expected}")
            before, undone, expected = command.link, command.undone, expected + 1
            if command.number > self.folded and not command.undone:
                self._take(changes_of(command.changes))
        if expected <= self.folded or not expected:
            raise Damage("command")
        self.rows = expected

    def commands(self) -> Iterator[CommandText]:
        return (command_of(row) for row in self._db.execute(f"SELECT {COLUMNS} FROM command ORDER BY number"))

    def _take(self, changes: list[RowChange]) -> None:
        apply(self.records, changes)
        self.unfolded.update((section, place) for section, place, _, _ in changes)

    def read_seam(self) -> None:
        """Where the history stands: the rows that undo would take back and redo do again, never the whole of it."""
        done, again = self.at_seam(undone=False), self.at_seam(undone=True)
        if done is None:
            raise Damage("command 0")
        self.last, self.link = done.number, done.link
        self.undo_label = Label.loads(done.label) if done.number else None
        self.redo_label = Label.loads(again.label) if again is not None else None

    def at_seam(self, *, undone: bool) -> CommandText | None:
        order = "WHERE undone = 1 ORDER BY number" if undone else "WHERE undone = 0 ORDER BY number DESC"
        row = self._db.execute(f"SELECT {COLUMNS} FROM command {order} LIMIT 1").fetchone()
        return None if row is None else command_of(row)

    # -- writing, in the transaction of whoever calls; what is kept here follows when that has ended well

    def take_history(self, commands: Sequence[CommandText]) -> None:
        """Write commands of another document after the first, linked anew; the document is read anew afterwards."""
        before = self.link
        for number, command in enumerate(commands, start=1):
            before = link(before, number, command.at, command.label, command.changes)
            self._db.execute(f"INSERT INTO command ({COLUMNS}) VALUES (?, ?, ?, ?, ?, ?)",
                             (number, command.at, command.label, command.changes, command.undone, before))
        _seal(self._db, sum(not command.undone for command in commands), 1 + len(commands))

    def append(self, at: str, label: str, changes: str) -> str:
        """Write a command; those that were undone are dropped. Returns its link."""
        if self.redo_label is not None:
            self._db.execute("DELETE FROM command WHERE undone = 1")
        number = self.last + 1
        chain = link(self.link, number, at, label, changes)
        self._db.execute(f"INSERT INTO command ({COLUMNS}) VALUES (?, ?, ?, ?, 0, ?)",
                         (number, at, label, changes, chain))
        _seal(self._db, number, number + 1)
        return chain

    def appended(self, label: Label, chain: str, changes: list[RowChange]) -> None:
        self._take(changes)
        self.last, self.link, self.rows = self.last + 1, chain, self.last + 2
        self.undo_label, self.redo_label = label, None

    def flip(self, command: CommandText, changes: list[RowChange]) -> tuple[int, str] | None:
        """Mark a command as undone, or as done again. Where the rows hold it already they go back with it: then where
        they stand afterwards."""
        self._db.execute("UPDATE command SET undone = ? WHERE number = ?", (not command.undone, command.number))
        _seal(self._db, command.number - (not command.undone), self.rows)
        if command.undone or command.number > self.folded:
            return None
        total = self._put(((section, place), body) for section, place, _, body in changes)
        self._stand_at(command.number - 1, total)
        return command.number - 1, total

    def flipped(self, changes: list[RowChange], stands: tuple[int, str] | None) -> None:
        self._take(changes)
        if stands is not None:
            self.folded, self.total = stands
            self.unfolded.difference_update((section, place) for section, place, _, _ in changes)
        self.read_seam()

    def fold(self) -> tuple[int, str]:
        """Write the rows as they are after the last command. Returns where they stand."""
        total = self._put((place, self.records.get(place)) for place in self.unfolded)
        self._stand_at(self.last, total)
        return self.last, total

    def was_folded(self, stands: tuple[int, str]) -> None:
        self.folded, self.total = stands
        self.unfolded.clear()

    @property
    def waiting(self) -> int:
        """Commands that the rows do not hold yet."""
        return self.last - self.folded

    def _put(self, rows: Iterable[tuple[Place, Any]]) -> str:
        total = int(self.total, 16)
        for (section, place), body in rows:
            old = self._db.execute("SELECT body FROM record WHERE section = ? AND place = ?",
                                   (section, place)).fetchone()
            total -= row_sum(section, place, old[0]) if old is not None else 0
            if body is None:
                self._db.execute("DELETE FROM record WHERE section = ? AND place = ?", (section, place))
            else:
                text = dump(body)
                self._db.execute("INSERT OR REPLACE INTO record VALUES (?, ?, ?)", (section, place, text))
                total += row_sum(section, place, text)
        return written(total)

    def _stand_at(self, number: int, total: str) -> None:
        self._db.execute("UPDATE fold SET number = ?, total = ?", (number, total))
