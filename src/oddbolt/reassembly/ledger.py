"""The ledger of bolts: every hole and every bolt by letter and number, from the first screw out to the last one back.

A hole is open while no bolt of its own letter is in it. A bolt that came out lies loose until it is back, lost or
thrown away. The odd-bolt figure is what is left over of either; it is zero when every hole has its bolt and none lies
on the tray.
"""

from __future__ import annotations

from collections import Counter

from msgspec import Struct

from oddbolt.catalog.defaults import ways_of
from oddbolt.model.snapshot import of_snapshot
from oddbolt.model.things import Joint, LogEntry, Teardown
from oddbolt.rules.replay import OUTCOMES_THAT_RELEASE, readings

NO_LETTER = "?"
LOST, FOUND, FAILED, DESTROYED = "lost", "found", "failed", "destroyed"


class LetterRow(Struct, frozen=True, kw_only=True):
    """The bolts of one letter. `open` are holes of this letter without a bolt of it; `wrong` of them hold another."""

    letter: str
    out: int = 0  # holes that were opened
    back: int = 0  # of these, holes that have a bolt of their letter again
    new: int = 0  # bolts that went in and had not come out
    discarded: int = 0
    lost: int = 0
    loose: int = 0  # out, and neither back, lost nor thrown away
    open: int = 0
    wrong: int = 0

    @property
    def odd(self) -> int:
        """Holes and bolts that are left over; a bolt that lies beside its hole is one."""
        return max(self.open, self.loose)


class OpenHoles(Struct, frozen=True, kw_only=True):
    """Where to look: holes of a group without their bolt, by number, and what is in them that does not belong."""

    joint: str
    numbers: tuple[int, ...]
    wrong: tuple[tuple[int, str], ...] = ()  # number, letter


class Ledger(Struct, frozen=True, kw_only=True):
    """All bolts by the log. Groups of unknown number (`uncertain`) are in no figure until their count is entered."""

    rows: tuple[LetterRow, ...] = ()
    holes: tuple[OpenHoles, ...] = ()
    uncertain: tuple[str, ...] = ()

    @property
    def out(self) -> int:
        return sum(row.out for row in self.rows)

    @property
    def back(self) -> int:
        return sum(row.back for row in self.rows)

    @property
    def odd(self) -> int:
        return sum(row.odd for row in self.rows)

    @property
    def is_closed(self) -> bool:
        """Whether every hole is known to have its bolt, and no bolt is left."""
        return not self.odd and not self.uncertain

    def row(self, letter: str) -> LetterRow:
        return next((row for row in self.rows if row.letter == letter), LetterRow(letter=letter))

    def open_of(self, joint: str) -> tuple[int, ...]:
        return next((one.numbers for one in self.holes if one.joint == joint), ())


class _Book:
    """The ledger while the log is read."""

    def __init__(self, teardown: Teardown) -> None:
        self._teardown = teardown
        self.inside: dict[str, dict[int, str | None]] = {}  # of each group that was opened: what is in its holes
        self.opened: dict[str, set[int]] = {}
        self.pools: dict[str, Counter[str]] = {name: Counter() for name in ("loose", "new", "discarded", "lost")}
        self.uncertain: dict[str, None] = {}

    def read(self, entry: LogEntry) -> None:
        joint = self._teardown.joint.get(entry.thing or "")
        if joint is None or joint.kind != "screw":
            if entry.fastener is not None:
                self._move(entry.fastener, entry, round(entry.quantity or 1))
        elif entry.do == "release" and entry.outcome in OUTCOMES_THAT_RELEASE:
            self._take_out(joint, entry)
        elif entry.do == "fasten" and entry.outcome != FAILED:
            self._put_in(joint, entry)
        elif entry.do not in ("release", "fasten"):
            self._move(entry.fastener or joint.fastener or NO_LETTER, entry, round(entry.quantity or 1))

    def _holes(self, joint: Joint) -> dict[int, str | None]:
        """The holes of a group, closed as long as nothing was read of them."""
        letter = joint.fastener or NO_LETTER
        return self.inside.setdefault(joint.id, dict.fromkeys(range(1, (joint.count or 0) + 1), letter))

    def _take_out(self, joint: Joint, entry: LogEntry) -> None:
        if joint.count is None:
            self.uncertain[joint.id] = None
            return
        holes, letters = self._holes(joint), []
        for number in entry.places or tuple(holes):
            inside = holes.get(number)
            if inside is not None:
                holes[number] = None
                self.opened.setdefault(joint.id, set()).add(number)
                letters.append(entry.fastener or inside)
        lost = min(round(entry.quantity or 1), len(letters)) if entry.outcome == LOST else 0
        gone = entry.discard or entry.outcome == DESTROYED or _is_thrown_away(self._teardown, joint, entry)
        for n, letter in enumerate(letters):
            self.pools["lost" if n < lost else "discarded" if gone else "loose"][letter] += 1

    def _put_in(self, joint: Joint, entry: LogEntry) -> None:
        if joint.count is None or joint.id not in self.inside:
            return
        holes, letter = self._holes(joint), entry.fastener or joint.fastener or NO_LETTER
        for number in entry.places or tuple(holes):
            if number in holes and holes[number] is None:
                holes[number] = letter
                if not entry.new and self.pools["loose"][letter]:
                    self.pools["loose"][letter] -= 1
                else:
                    self.pools["new"][letter] += 1

    def _move(self, letter: str, entry: LogEntry, number: int) -> None:
        """Loose bolts are lost or thrown away, or lost ones are found."""
        if not entry.discard and entry.outcome not in (LOST, FOUND):
            return
        one, other = ("lost", "loose") if entry.outcome == FOUND else (
            "loose", "discarded" if entry.discard else "lost")
        number = min(number, self.pools[one][letter])
        self.pools[one][letter] -= number
        self.pools[other][letter] += number

    def close(self) -> Ledger:
        rows: dict[str, Counter[str]] = {}
        holes = []
        for id_, numbers in self.opened.items():
            joint, inside = self._teardown.joint[id_], self.inside[id_]
            own = joint.fastener or NO_LETTER
            open_ = tuple(n for n in sorted(numbers) if inside[n] != own)
            wrong = tuple((n, letter) for n in open_ if (letter := inside[n]) is not None)
            rows.setdefault(own, Counter()).update(out=len(numbers), back=len(numbers) - len(open_), open=len(open_),
                                                   wrong=len(wrong))
            if open_:
                holes.append(OpenHoles(joint=id_, numbers=open_, wrong=wrong))
        for name, pool in self.pools.items():
            for letter, number in pool.items():
                rows.setdefault(letter, Counter())[name] += number
        return Ledger(rows=tuple(LetterRow(letter=letter, **row) for letter, row in sorted(rows.items())),
                      holes=tuple(holes), uncertain=tuple(self.uncertain))


def _is_thrown_away(teardown: Teardown, joint: Joint, entry: LogEntry) -> bool:
    ways = ways_of(teardown, joint)
    way = entry.way or 0
    return way < len(ways) and ways[way].is_renewed


@of_snapshot("log", "joints", "fasteners", "device")
def ledger_of(teardown: Teardown) -> Ledger:
    """The ledger by the whole log, over all passes."""
    book = _Book(teardown)
    for entry in readings(teardown):
        book.read(entry)
    return book.close()
