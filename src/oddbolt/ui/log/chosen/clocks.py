"""Time: the clock of the pass, the stopwatch, and countdowns, each tied to what it is for; seen and heard when due."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime, timedelta

from msgspec import Struct
from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import (
    QApplication,
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from oddbolt.catalog.defaults import ways_of
from oddbolt.model.refusal import Refusal
from oddbolt.session.change import OPENED
from oddbolt.session.session import Session
from oddbolt.session.verbs.entries import last_act, set_seconds
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.words.figures import clock_text
from oddbolt.words.names import name_of
from oddbolt.words.refusals import refusal_text
from oddbolt.words.translate import tr

TARGET = 44


DESK = "countdowns"  # under which running ones are kept with the document
LATE_S = 24 * 3600.0  # what was due longer ago is of another day


class Countdown(Struct):
    """What it is for, and when it is due; it may go several rounds, as with a roller."""

    thing: str
    name: str
    started: datetime
    due: datetime
    rounds: int = 1
    rung: bool = False

    def left_s(self, now: datetime) -> float:
        return (self.due - now).total_seconds()

    def next_round(self) -> None:
        length = self.due - self.started
        self.started, self.due, self.rounds = self.due, self.due + length, self.rounds - 1

    def as_json(self) -> dict[str, object]:
        return {"thing": self.thing, "name": self.name, "started": self.started.isoformat(),
                "due": self.due.isoformat(), "rounds": self.rounds, "rung": self.rung}

    @classmethod
    def from_json(cls, kept: dict[str, object]) -> Countdown:
        """Raises KeyError, TypeError or ValueError for what `as_json` did not write."""
        started, due = (datetime.fromisoformat(str(kept[name])) for name in ("started", "due"))
        if started.tzinfo is None or due.tzinfo is None:
            raise ValueError(kept)
        return cls(str(kept["thing"]), str(kept["name"]), started, due, int(str(kept["rounds"])), bool(kept["rung"]))


class Clocks(QWidget):
    """Several countdowns at once; a release whose way waits starts its own."""

    rang = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.countdowns: list[Countdown] = []
        self.rings = 0
        self.thing = ""
        self.clock = label("", "title")
        self.pause = QPushButton(tr("Pause"))
        self.watch = QPushButton(tr("Stopwatch  K"))
        self.what = QComboBox()
        self.what.setEditable(True)
        self.what.addItems(["", tr("Heat plate"), tr("Solvent"), tr("Roller"), tr("Glue sets")])
        self.what.lineEdit().setPlaceholderText(tr("for what is in hand"))
        self.what.setAccessibleName(tr("What the countdown is for"))
        self.minutes = QComboBox()
        self.minutes.setEditable(True)
        self.minutes.addItems(["0:30", "1:00", "3:00", "5:00", "10:00", "3 x 0:10"])
        self.minutes.setCurrentText("5:00")
        self.minutes.setAccessibleName(tr("Minutes and seconds to count down"))
        self.start = QPushButton(tr("Count down"))
        self.took = QLineEdit()
        self.took.setPlaceholderText(tr("seconds"))
        self.took.setAccessibleName(tr("Seconds that the last act took"))
        self.write = QPushButton(tr("Last act took"))
        self.problem = label("", "echo", wrap=True)
        self._list, self._rows = QVBoxLayout(), list[QWidget]()
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        for widgets in ((self.clock, self.pause, self.watch), (self.what, self.minutes, self.start),
                        (self.took, self.write)):
            row = QHBoxLayout()
            for n, widget in enumerate(widgets):
                widget.setMinimumHeight(TARGET)
                row.addWidget(widget, 0 if n else 1)
            box.addLayout(row)
        box.addWidget(self.problem)
        box.addLayout(self._list)
        box.addStretch(1)
        _explain(self)
        self.pause.clicked.connect(lambda _: self._pause())
        self.watch.clicked.connect(lambda _: self.start_stopwatch())
        self.start.clicked.connect(lambda _: self._start_asked())
        self.write.clicked.connect(lambda _: self._write_seconds())
        self.took.returnPressed.connect(self._write_seconds)
        self._beat = QTimer(self)
        self._beat.setInterval(500)
        self._beat.timeout.connect(self.tick)
        self._beat.start()
        session.listen(lambda change: self.take_from_desk() if change.kind == OPENED else None)
        self.tick()

    def take_from_desk(self) -> None:
        """Go on with what ran when the document was closed; what has become due meanwhile rings now."""
        try:
            kept = [Countdown.from_json(row) for row in self._session.on_desk(DESK) or []]
        except (Refusal, TypeError, KeyError, ValueError, AttributeError, OverflowError):
            kept = []
        self.countdowns = [c for c in kept if c.left_s(self._session.now()) > -LATE_S]
        self.tick()

    def _keep(self) -> None:
        try:
            self._session.keep_on_desk(DESK, [c.as_json() for c in self.countdowns])
        except Refusal as refusal:
            self.problem.setText(refusal_text(refusal))

    def show_thing(self, thing: str) -> None:
        """What the next countdown is for."""
        self.thing = thing

    def start_stopwatch(self) -> None:
        self._session.stopwatch.start()
        self.tick()

    def _pause(self) -> None:
        self._session.pause()
        self.tick()

    def _start_asked(self) -> None:
        try:
            rounds, seconds = read_rounds(self.minutes.currentText())
        except ValueError:
            self.problem.setText(tr("A time is minutes and seconds, like 5:00, or seconds, like 90; several "
                                         "rounds are 3 x 0:10"))
            return
        self.problem.setText("")
        self.count_down(self.thing, seconds, rounds, self.what.currentText().strip())
        self.what.setCurrentIndex(0)

    def count_down(self, thing: str, seconds: float, rounds: int = 1, what: str = "") -> None:
        """Start one for a thing (or none), beside those that run."""
        now = self._session.now()
        of = name_of(self._session.teardown, thing) if thing else ""
        name = ", ".join(word for word in (what, of) if word) or tr("Timer")
        self.countdowns.append(Countdown(thing, name, now, now + timedelta(seconds=seconds), rounds))
        self._keep()
        self.tick()

    def _write_seconds(self) -> None:
        """The measured time of the last act, for whoever looked at another clock."""
        last = last_act(self._session.teardown)
        if last is None:
            self.problem.setText(tr("Nothing has been done yet"))
            return
        try:
            seconds = read_duration(self.took.text())
            self._session.do(set_seconds, last.id, seconds, self._session.seconds_now())
        except ValueError:
            self.problem.setText(tr("Enter the time as seconds, like 24, or minutes and seconds, like 1:05"))
        except Refusal as refusal:
            self.problem.setText(refusal_text(refusal))
        else:
            self.problem.setText("")
            self.took.clear()

    def follow(self, joint_id: str, way: int) -> None:
        """A release whose acts wait: count the longest wait down, in place of what it was thought to wait."""
        for running in [one for one in self.countdowns if one.thing == joint_id and not one.rung]:
            self.drop(running)
        ways = ways_of(self._session.teardown, self._session.teardown.joint[joint_id])
        waits = [act.wait_s for act in ways[way].acts] if way < len(ways) else []
        if waits and max(waits) > 0:
            self.count_down(joint_id, max(waits))

    def stop(self) -> None:
        self._beat.stop()

    def drop(self, countdown: Countdown) -> None:
        self.countdowns.remove(countdown)
        self._keep()
        self.tick()

    def tick(self) -> None:
        """Show all times as they are now, and ring for what has become due."""
        paused, clock = self._session.is_paused, clock_text(self._session.seconds_now())
        self.clock.setText(tr("{0}, paused").format(clock) if paused else clock)
        self.pause.setText(tr("Go on") if paused else tr("Pause"))
        running = self._session.stopwatch.seconds
        self.watch.setText(tr("Stopwatch  K") if running is None else tr("{0} s  K").format(round(running)))
        now = self._session.now()
        for countdown in self.countdowns:
            while countdown.left_s(now) <= 0 and not countdown.rung:
                self._ring(countdown)
        self._show_rows(now)

    def _ring(self, countdown: Countdown) -> None:
        self.rings += 1
        QApplication.beep()
        if countdown.rounds > 1:
            countdown.next_round()
            self.rang.emit(tr("{0}: next round, {1} to go").format(countdown.name, countdown.rounds))
        else:
            countdown.rung = True
            self.rang.emit(tr("{0}: the time is up").format(countdown.name))
        self._keep()

    def _show_rows(self, now: datetime) -> None:
        if [row.countdown for row in self._rows] != self.countdowns:
            for row in self._rows:
                self._list.removeWidget(row)
                row.deleteLater()
            self._rows = [CountdownRow(countdown, self.drop) for countdown in self.countdowns]
            for row in self._rows:
                self._list.addWidget(row)
        for row in self._rows:
            row.show_at(now)


class CountdownRow(QWidget):
    def __init__(self, countdown: Countdown, drop: Callable[[Countdown], None]) -> None:
        super().__init__()
        self.countdown = countdown
        self._bar = QProgressBar()
        self._bar.setTextVisible(True)
        self._bar.setMinimumHeight(TARGET)
        self._bar.setRange(0, max(1, round((countdown.due - countdown.started).total_seconds())))
        self._bar.setAccessibleName(countdown.name)
        off = QPushButton(tr("Off"))
        off.setMinimumSize(TARGET + 12, TARGET)
        off.setAccessibleName(tr("Take the countdown of {0} off").format(countdown.name))
        off.clicked.connect(lambda _: drop(countdown))
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(self._bar, 1)
        line.addWidget(off)

    def show_at(self, now: datetime) -> None:
        left = self.countdown.left_s(now)
        self._bar.setValue(min(self._bar.maximum(), self._bar.maximum() - max(0, round(left))))
        due = tr("{0}: due").format(self.countdown.name)
        rounds = f"  x {self.countdown.rounds}" if self.countdown.rounds > 1 else ""
        self._bar.setFormat("  " + (due if left <= 0 else f"{self.countdown.name}  {clock_text(max(0, left))}{rounds}"))
        self._bar.setProperty("due", left <= 0)


def read_rounds(text: str) -> tuple[int, float]:
    """Rounds and seconds of "3 x 0:10", or one round of what `read_duration` reads; raises ValueError as that does."""
    number, cross, rest = text.lower().partition("x")
    rounds = int(number) if cross else 1
    if not 1 <= rounds <= 99:
        raise ValueError(text)
    return rounds, read_duration(rest if cross else text)


def read_duration(text: str) -> float:
    """Seconds of "5:00", "90", "1,5 min"; raises ValueError for anything else, and for what is not above zero."""
    text = text.strip().lower().replace(",", ".")
    if ":" in text:
        minutes, seconds = text.split(":", 1)
        value = int(minutes) * 60 + float(seconds)
    elif text.endswith("min"):
        value = float(text[:-3]) * 60
    else:
        value = float(text.removesuffix("s"))
    if not 0 < value < 86400:
        raise ValueError(text)
    return value


def _explain(clocks: Clocks) -> None:
    explain((clocks.pause, tr("Stop the clock of the pass; the next act sets it going")),
            (clocks.watch, tr("Start the stopwatch; the next act takes its time (K)")),
            (clocks.what, tr("What the countdown is for; empty, for what is in hand")),
            (clocks.minutes, tr("Minutes and seconds, or rounds as 3 x 0:10")),
            (clocks.start, tr("Count down, ring when it is due, go on after a restart")),
            (clocks.took, tr("Seconds that the last act really took")),
            (clocks.write, tr("Write these seconds to the last act")))
