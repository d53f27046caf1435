"""The open teardown: one road for every change. Knows no widget; the window and tests listen to its events."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime, timedelta, timezone
from pathlib import Path
from typing import Any

from oddbolt.effort.times import KnownTimes
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown
from oddbolt.planning.bench import Count, Obstacle, Operation
from oddbolt.planning.replay import Replay, replay
from oddbolt.planning.solve import Planner
from oddbolt.reassembly.tally import BoltTally, tally_bolts
from oddbolt.scoring.evaluate import Verdict, evaluate
from oddbolt.scoring.method import load_method
from oddbolt.session.commands import Command, current_pass
from oddbolt.session.prepare import Preparation, new_teardown
from oddbolt.store.document import Document

Clock = Callable[[], datetime]


def utc_now() -> datetime:
    return datetime.now(timezone.utc)


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """What listeners are told after a change is on disk."""

    label: str
    kind: str  # done, undone, redone, opened


class Derived:
    """Results computed from one snapshot when first asked for; thrown away with it."""

    def __init__(self, teardown: Teardown) -> None:
        self.teardown = teardown
        self._planner: Planner | None = None
        self._verdicts: dict[str, Verdict] = {}
        self._replay: Replay | None = None
        self._tally: BoltTally | None = None

    @property
    def planner(self) -> Planner:
        if self._planner is None:
            self._planner = Planner(self.teardown, KnownTimes(self.teardown))
        return self._planner

    @property
    def replay(self) -> Replay:
        """The latest pass of the log, to its end."""
        if self._replay is None:
            self._replay = replay(self.teardown, self.planner.structure, current_pass(self.teardown))
        return self._replay

    @property
    def performed(self) -> Count:
        """What the latest pass comes to by the rules: its steps, times and live acts."""
        planner = self.planner
        return self.replay.counted(planner.structure, planner.convention, planner.times)

    def obstacles(self, thing: str) -> list[Obstacle]:
        """Why the rules would not allow the thing to be released or lifted now."""
        structure, bench = self.planner.structure, self.replay.bench
        if thing in structure.removals:
            return bench.obstacles(Operation(part=thing))
        if thing in structure.releases:
            ways = range(len(structure.releases[thing].ways))
            return min((bench.obstacles(Operation(thing, way, 0)) for way in ways), key=len)
        return []

    @property
    def tally(self) -> BoltTally:
        if self._tally is None:
            self._tally = tally_bolts(self.teardown)
        return self._tally

    def verdict(self, method: str) -> Verdict:
        if method not in self._verdicts:
            self._verdicts[method] = evaluate(self.teardown, load_method(method), KnownTimes(self.teardown))
        return self._verdicts[method]

    def priority_parts(self) -> list[str]:
        """Parts with a role, in file order."""
        present = self.planner.structure.present
        return [part.id for part in self.teardown.parts if part.role and part.id in present]


class Session:
    """A document with commands, undo, change events and derived results."""

    def __init__(self, document: Document, clock: Clock = utc_now) -> None:
        self._document = document
        self._clock = clock
        self._last_act: datetime | None = None
        self._paused_at: float | None = None
        self._stopwatch: datetime | None = None
        self._listeners: list[Callable[[Change], None]] = []
        self.derived = Derived(document.teardown)

    @property
    def teardown(self) -> Teardown:
        return self._document.teardown

    @property
    def path(self) -> Path:
        return self._document.path

    @property
    def document(self) -> Document:
        return self._document

    def listen(self, listener: Callable[[Change], None]) -> None:
        self._listeners.append(listener)

    def do(self, command: Command) -> None:
        """Carry a command out; when this returns it is on disk. A refusal leaves everything as it was."""
        after = command.change(self.teardown)
        now = self._clock()
        self._document.commit(after, command.label, now.isoformat())
        self._last_act, self._paused_at = now, None
        self._tell(Change(label=command.label, kind="done"))

    def undo(self) -> None:
        label = self._document.undo()
        if label is not None:
            self._tell(Change(label=label, kind="undone"))

    def redo(self) -> None:
        label = self._document.redo()
        if label is not None:
            self._tell(Change(label=label, kind="redone"))

    def undo_label(self) -> str:
        """What undo would take back; empty when there is nothing."""
        done = [row.label for row in self._document.commands() if not row.undone]
        return done[-1] if done else ""

    def redo_label(self) -> str:
        undone = [row.label for row in self._document.commands() if row.undone]
        return undone[0] if undone else ""

    def seconds_now(self) -> float:
        """Seconds from the start of the pass: the last entry's, and what has gone by since in this session."""
        if self._paused_at is not None:
            return self._paused_at
        number = current_pass(self.teardown)
        times = [entry.t for entry in self.teardown.log if entry.t is not None and entry.pass_ == number]
        since = (self._clock() - self._last_act).total_seconds() if self._last_act else 0
        return round((times[-1] if times else 0) + max(0.0, since))

    @property
    def is_paused(self) -> bool:
        return self._paused_at is not None

    def pause(self) -> None:
        """Stop the clock of the pass; the next act, or this again, sets it going from where it stood."""
        if self._paused_at is None:
            self._paused_at = self.seconds_now()
        else:
            times = [entry.t for entry in self.teardown.log if entry.t is not None]
            gone = self._paused_at - (times[-1] if times else 0)
            self._last_act, self._paused_at = self._clock() - timedelta(seconds=gone), None

    def start_stopwatch(self) -> None:
        """The next act takes the time from here on as its measured seconds."""
        self._stopwatch = self._clock()

    def stopwatch_s(self) -> float | None:
        return (self._clock() - self._stopwatch).total_seconds() if self._stopwatch else None

    def take_stopwatch(self) -> float | None:
        """The measured seconds, and the stopwatch is at rest again; None when it was not started."""
        seconds, self._stopwatch = self.stopwatch_s(), None
        return None if seconds is None else round(seconds, 1)

    def keep_on_desk(self, name: str, body: Any) -> None:
        """Keep what is no part of the record, as running countdowns; durable, and not undone."""
        self._document.keep_on_desk(name, body)

    def on_desk(self, name: str) -> Any:
        return self._document.on_desk(name)

    def now(self) -> datetime:
        return self._clock()

    def take_photo(self, name: str, body: bytes, thumb: bytes) -> str:
        """Keep a photograph under a free name like the one given; returns that name."""
        taken = set(self._document.photo_names())
        stem, dot, suffix = name.rpartition(".")
        free, n = name, 2
        while free in taken:
            free, n = f"{stem or suffix}-{n}{dot}{suffix if stem else ''}", n + 1
        self._document.add_photo(free, body, thumb)
        return free

    def switch_to(self, document: Document) -> None:
        """Go on with another document; the one before is closed."""
        before, self._document = self._document, document
        before.close()
        self._last_act = None
        self._tell(Change(label=document.path.name, kind="opened"))

    def close(self) -> None:
        self._document.close()

    def _tell(self, change: Change) -> None:
        if self.derived.teardown is not self.teardown:
            self.derived = Derived(self.teardown)
        for listener in self._listeners:
            listener(change)


def begin_teardown(preparation: Preparation, earlier: Teardown | None, folder: Path, now: datetime) -> Document:
    """A new working document in `folder`, under the device's name, where none of that name is yet."""
    teardown = new_teardown(preparation, now.isoformat(), earlier)
    stem = "".join(c if c.isalnum() else "-" for c in (teardown.device.name or "teardown").lower()).strip("-")
    return Document.create(free_path(folder, stem or "teardown"), teardown)


LONGEST_STEM = 80  # characters of a name; file systems take 255 bytes


def free_path(folder: Path, stem: str) -> Path:
    """A path for a new document that nothing has yet."""
    folder.mkdir(parents=True, exist_ok=True)
    stem = stem[:LONGEST_STEM]
    target, n = folder / f"{stem}.oddbolt", 2
    while target.exists():
        target, n = folder / f"{stem}-{n}.oddbolt", n + 1
    return target


def open_document(path: Path, make_thumb: Callable[[bytes], bytes], folder: Path) -> Document:
    """Open a working document, or take an exchange file into a new one in `folder`. Refusals leave nothing behind."""
    from oddbolt.store.files import is_document
    from oddbolt.store.twin import import_json

    if not path.exists() or path.is_dir():
        raise Refusal(str(path), "this is a folder, not a file" if path.is_dir() else "there is no such file")
    if is_document(path):
        return Document.open(path)
    document, _ = import_json(path, free_path(folder, path.stem), make_thumb)
    return document
