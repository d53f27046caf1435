"""The open teardown: one road for every change. Knows no widget; the window and tests listen to its events."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from datetime import datetime, timedelta, timezone
from pathlib import Path
from typing import Any

from oddbolt.effort.pace import Pace
from oddbolt.model.label import TEXT, Label
from oddbolt.model.refusal import Refusal
from oddbolt.model.snapshot import succeed
from oddbolt.model.things import Teardown
from oddbolt.rules.replay import current_pass
from oddbolt.session.change import DONE, OPENED, PACED, REDONE, UNDONE, Change
from oddbolt.session.derived import Derived
from oddbolt.session.verbs.plain import Done
from oddbolt.store.document import Document
from oddbolt.store.nothing import NothingOpen

Clock = Callable[[], datetime]


def utc_now() -> datetime:
    return datetime.now(timezone.utc)


class Stopwatch:
    """The next act takes the time from its start on as its measured seconds."""

    def __init__(self, clock: Clock) -> None:
        self._clock = clock
        self._started: datetime | None = None

    def start(self) -> None:
        self._started = self._clock()

    @property
    def seconds(self) -> float | None:
        """None while it is at rest."""
        return (self._clock() - self._started).total_seconds() if self._started else None

    def stop(self) -> None:
        self._started = None


class Session:
    """A document with verbs, undo, change events and derived results."""

    def __init__(self, document: Document | NothingOpen, clock: Clock = utc_now) -> None:
        self._document = document
        self._clock = clock
        self._last_act: datetime | None = None
        self._paused_at: float | None = None
        self.stopwatch = Stopwatch(clock)
        self._listeners: list[Callable[[Change], None]] = []
        self.begins: Callable[[], None] = lambda: None  # told before an act is carried out
        self.paces: Mapping[str, Pace] = {}  # at which estimates are given, where it was asked for
        self.derived = Derived(document.teardown, self.paces)

    @property
    def teardown(self) -> Teardown:
        return self._document.teardown

    @property
    def path(self) -> Path:
        return self._document.path

    @property
    def document(self) -> Document | NothingOpen:
        return self._document

    def listen(self, listener: Callable[[Change], None]) -> None:
        self._listeners.append(listener)

    def do(self, verb: Callable[..., Done], *args: Any, **keys: Any) -> Done:
        """Carry a verb out on the present snapshot; when this returns it is on disk. A refusal leaves everything as it
        was."""
        self.begins()
        done = verb(self.teardown, *args, **keys)
        succeed(done.teardown, self.teardown)
        now = self._clock()
        with self._follows():
            touched = self._document.commit(done.teardown, done.label, now.isoformat())
        self._last_act, self._paused_at = now, None
        self._tell(Change(label=done.label, kind=DONE, touched=touched))
        return done

    def undo(self) -> None:
        self.begins()
        with self._follows():
            back = self._document.undo()
        if back is not None:
            self._tell(Change(label=back[0], kind=UNDONE, touched=back[1]))

    def redo(self) -> None:
        self.begins()
        with self._follows():
            again = self._document.redo()
        if again is not None:
            self._tell(Change(label=again[0], kind=REDONE, touched=again[1]))

    @contextmanager
    def _follows(self) -> Iterator[None]:
        """Where another program wrote, the document was read anew: whoever shows it must too."""
        try:
            yield
        except Refusal as refusal:
            if refusal.code == "changed-elsewhere":
                self._tell(Change(label=Label(TEXT, {"text": self.path.name}), kind=OPENED))
            raise

    @property
    def undo_label(self) -> Label | None:
        """What undo would take back; None when there is nothing."""
        return self._document.undo_label

    @property
    def redo_label(self) -> Label | None:
        return self._document.redo_label

    def seconds_now(self) -> float:
        """Seconds from the start of the pass: the last entry's, and what has gone by since in this session."""
        if self._paused_at is not None:
            return self._paused_at
        number = current_pass(self.teardown)
        times = [entry.t for entry in self.teardown.log if entry.t is not None and entry.pass_ == number]
        since = (self._clock() - self._last_act).total_seconds() if self._last_act else 0
        return round(max(times, default=0) + max(0.0, since))

    @property
    def is_paused(self) -> bool:
        return self._paused_at is not None

    def pause(self) -> None:
        """Stop the clock of the pass; the next act, or this again, sets it going from where it stood."""
        if self._paused_at is None:
            self._paused_at = self.seconds_now()
        else:
            times = [entry.t for entry in self.teardown.log if entry.t is not None]
            gone = self._paused_at - max(times, default=0)
            self._last_act, self._paused_at = self._clock() - timedelta(seconds=gone), None

    def keep_on_desk(self, name: str, body: Any) -> None:
        """Keep what is no part of the record, as running countdowns; durable, and not undone."""
        with self._follows():
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
        with self._follows():
            self._document.add_photo(free, body, thumb)
        return free

    def photo(self, name: str) -> bytes | None:
        """The bytes of a photograph; None where there is none of that name, or it is damaged."""
        try:
            return self._document.photo(name)
        except Refusal:
            return None

    def use_paces(self, paces: Mapping[str, Pace]) -> None:
        """Estimate times at a person's paces by verb from now on, or at nobody's where there are none."""
        self.paces = dict(paces)
        self._tell(Change(label=Label(TEXT, {"text": ""}), kind=PACED))

    def switch_to(self, document: Document | NothingOpen) -> None:
        """Go on with another document; the one before is closed."""
        try:
            derived = Derived(document.teardown, self.paces).build()
        except BaseException:
            if document is not self._document:
                document.close()  # what was open stays open
            raise
        before, self._document = self._document, document
        if before is not document:
            before.close()
        self.derived = derived
        self._last_act = None
        self._tell(Change(label=Label(TEXT, {"text": document.path.name}), kind=OPENED))

    def close(self) -> None:
        self._document.close()

    def _tell(self, change: Change) -> None:
        if self.derived.teardown is not self.teardown or self.derived.paces is not self.paces:
            self.derived = Derived(self.teardown, self.paces)
        for listener in self._listeners:
            listener(change)
