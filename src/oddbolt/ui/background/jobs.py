"""Long work off the window's thread: a job is a generator, each `yield` is progress and a place to stop."""

from __future__ import annotations

import inspect
import threading
from collections.abc import Callable, Iterator
from typing import Any

from PySide6.QtCore import QObject, Signal


class Job(QObject):
    """Runs one generator in a thread of its own. Signals arrive in the window's thread."""

    progressed = Signal(object)
    finished = Signal(object)  # what was yielded last
    failed = Signal(str)

    def __init__(self, work: Callable[..., Iterator[Any]], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._work = work
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._run, daemon=True, name="odd-bolt job")

    def start(self) -> Job:
        self._thread.start()
        return self

    def cancel(self) -> None:
        """Stop at the next `yield`; nothing is told any more, not even what is on its way."""
        self._stop.set()
        self.blockSignals(True)

    def is_stopped(self) -> bool:
        """For work that looks itself whether it is still wanted, beside its yields."""
        return self._stop.is_set()

    def wait(self, seconds: float = 10) -> None:
        self._thread.join(seconds)

    @property
    def is_running(self) -> bool:
        return self._thread.is_alive()

    def _run(self) -> None:
        last: Any = None
        try:
            for last in self._work(self.is_stopped) if takes_stop(self._work) else self._work():
                if self._stop.is_set():
                    return
                self.progressed.emit(last)
        except Exception as error:  # noqa: BLE001 (told to whoever started it, in the window's thread)
            if not self._stop.is_set():
                self.failed.emit(f"{type(error).__name__}: {error}")
            return
        if not self._stop.is_set():
            self.finished.emit(last)


def takes_stop(work: Callable[..., Iterator[Any]]) -> bool:
    """Whether work wants to be handed the question "is it to stop?"."""
    return bool(inspect.signature(work).parameters)


def _unless_given_up(job: Job, told: Callable[[Any], None]) -> Callable[[Any], None]:
    """What was on its way when a job was given up still comes in; it is not passed on."""
    return lambda value: None if job.is_stopped() else told(value)


class Jobs:
    """The jobs of a panel: one of each name at a time, the older one is given up; all stopped at the end."""

    def __init__(self, parent: QObject) -> None:
        self._parent = parent
        self._running: dict[str, Job] = {}
        self._given_up: list[Job] = []  # cancelled, until they come to their next yield
        self._ended = False

    def start(self, name: str, work: Callable[..., Iterator[Any]], finished: Callable[[Any], None],
              progressed: Callable[[Any], None] | None = None, failed: Callable[[str], None] | None = None) -> Job:
        self.cancel(name)
        job = Job(work, self._parent)
        if self._ended:  # what one job brought came in after the end; nothing more is begun for it
            return job
        for signal, told in ((job.finished, finished), (job.progressed, progressed), (job.failed, failed)):
            if told is not None:
                signal.connect(_unless_given_up(job, told))
        self._running[name] = job
        return job.start()

    def cancel(self, name: str) -> None:
        job = self._running.pop(name, None)
        if job is not None:
            job.cancel()
            self._given_up.append(job)
        for old in [old for old in self._given_up if not old.is_running]:
            self._given_up.remove(old)
            old.deleteLater()

    def is_running(self, name: str) -> bool:
        return name in self._running and self._running[name].is_running

    def stop_all(self) -> None:
        """The end: everything is given up, and nothing is started any more."""
        self._ended = True
        self.give_up_all()

    def give_up_all(self) -> None:
        """Give everything up and wait until no thread of it is left."""
        for name in list(self._running):
            self.cancel(name)
        for job in self._given_up:
            job.wait()
