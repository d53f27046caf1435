"""Time: the clock of the pass, the stopwatch, and countdowns, each tied to what it is for; seen and heard when due."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import (
    QApplication,
    QComboBox,
    QHBoxLayout,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from oddbolt.catalog.defaults import ways_of
from oddbolt.reports import wording
from oddbolt.session.session import Session
from oddbolt.ui.panels.sheet import label

TARGET = 44


@dataclass(slots=True)
class Countdown:
    """What it is for, and when it is due."""

    thing: str
    name: str
    started: datetime
    due: datetime
    rung: bool = False

    def left_s(self, now: datetime) -> float:
        return (self.due - now).total_seconds()


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
        self.pause = QPushButton(self.tr("Pause"))
        self.watch = QPushButton(self.tr("Stopwatch  K"))
        self.minutes = QComboBox()
        self.minutes.setEditable(True)
        self.minutes.addItems(["0:30", "1:00", "3:00", "5:00", "10:00"])
        self.minutes.setCurrentText("5:00")
        self.minutes.setAccessibleName(self.tr("Minutes and seconds to count down"))
        self.start = QPushButton(self.tr("Count down"))
        self.problem = label("", "echo", wrap=True)
        self._list = QVBoxLayout()
        self._rows: list[QWidget] = []
        top, below = QHBoxLayout(), QHBoxLayout()
        for row, widgets in ((top, (self.clock, self.pause, self.watch)), (below, (self.minutes, self.start))):
            for widget in widgets:
                widget.setMinimumHeight(TARGET)
                row.addWidget(widget)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(top)
        box.addLayout(below)
        box.addWidget(self.problem)
        box.addLayout(self._list)
        box.addStretch(1)
        self.pause.clicked.connect(lambda _: self._pause())
        self.watch.clicked.connect(lambda _: self.start_stopwatch())
        self.start.clicked.connect(lambda _: self._start_asked())
        self._beat = QTimer(self)
        self._beat.setInterval(500)
        self._beat.timeout.connect(self.tick)
        self._beat.start()
        self.tick()

    def show_thing(self, thing: str) -> None:
        """What the next countdown is for."""
        self.thing = thing

    def start_stopwatch(self) -> None:
        self._session.start_stopwatch()
        self.tick()

    def _pause(self) -> None:
        self._session.pause()
        self.tick()

    def _start_asked(self) -> None:
        try:
            seconds = read_duration(self.minutes.currentText())
        except ValueError:
            self.problem.setText(self.tr("A time is minutes and seconds, like 5:00, or seconds, like 90"))
            return
        self.problem.setText("")
        self.count_down(self.thing, seconds)

    def count_down(self, thing: str, seconds: float) -> None:
        """Start one for a thing (or none), beside those that run."""
        now = self._session.now()
        name = wording.name_of(self._session.teardown, thing) if thing else self.tr("Timer")
        self.countdowns.append(Countdown(thing, name, now, now + timedelta(seconds=seconds)))
        self.tick()

    def follow(self, joint_id: str, way: int) -> None:
        """A release whose acts wait: count the longest wait down."""
        ways = ways_of(self._session.teardown, self._session.teardown.joint[joint_id])
        waits = [act.wait_s for act in ways[way].acts] if way < len(ways) else []
        if waits and max(waits) > 0:
            self.count_down(joint_id, max(waits))

    def drop(self, countdown: Countdown) -> None:
        self.countdowns.remove(countdown)
        self.tick()

    def tick(self) -> None:
        """Show all times as they are now, and ring for what has become due."""
        minutes, seconds = divmod(round(self._session.seconds_now()), 60)
        paused = self._session.is_paused
        self.clock.setText(f"{minutes}:{seconds:02d}" + (self.tr(", paused") if paused else ""))
        self.pause.setText(self.tr("Go on") if paused else self.tr("Pause"))
        running = self._session.stopwatch_s()
        self.watch.setText(self.tr("Stopwatch  K") if running is None else self.tr("{0} s  K").format(round(running)))
        now = self._session.now()
        for countdown in self.countdowns:
            if countdown.left_s(now) <= 0 and not countdown.rung:
                countdown.rung = True
                self.rings += 1
                QApplication.beep()
                self.rang.emit(self.tr("{0}: the time is up").format(countdown.name))
        self._show_rows(now)

    def _show_rows(self, now: datetime) -> None:
        if len(self._rows) != len(self.countdowns):
            for row in self._rows:
                self._list.removeWidget(row)
                row.deleteLater()
            self._rows = [CountdownRow(countdown, self.drop) for countdown in self.countdowns]
            for row in self._rows:
                self._list.addWidget(row)
        for row in self._rows:
            row.show_at(now)


class CountdownRow(QWidget):
    def __init__(self, countdown: Countdown, drop) -> None:
        super().__init__()
        self.countdown = countdown
        self._bar = QProgressBar()
        self._bar.setTextVisible(True)
        self._bar.setMinimumHeight(TARGET)
        self._bar.setRange(0, max(1, round((countdown.due - countdown.started).total_seconds())))
        self._bar.setAccessibleName(countdown.name)
        off = QPushButton(self.tr("Off"))
        off.setMinimumSize(TARGET + 12, TARGET)
        off.setAccessibleName(self.tr("Take the countdown of {0} off").format(countdown.name))
        off.clicked.connect(lambda _: drop(countdown))
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(self._bar, 1)
        line.addWidget(off)

    def show_at(self, now: datetime) -> None:
        left = self.countdown.left_s(now)
        minutes, seconds = divmod(max(0, round(left)), 60)
        self._bar.setValue(min(self._bar.maximum(), self._bar.maximum() - max(0, round(left))))
        due = self.tr("{0}: due").format(self.countdown.name)
        self._bar.setFormat("  " + (due if left <= 0 else f"{self.countdown.name}  {minutes}:{seconds:02d}"))
        self._bar.setProperty("due", left <= 0)


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
