"""Long work off the window's thread: a job is a generator, each `yield` is progress and a place to stop."""

from __future__ import annotations

import inspect
import logging
import threading
import time
from collections.abc import Callable, Iterator
from typing import Any

from PySide6.QtCore import QObject, QTimer, Signal

from oddbolt.model.refusal import Refusal
from oddbolt.words.refusals import refusal_text
from oddbolt.words.translate import tr

LOG = logging.getLogger("oddbolt.job")
Work = Callable[..., Iterator[Any]]  # takes nothing, or the question "is it to stop?"


GIVES_WAY_S = 2.0  # at most; an act is seen long before
_PAUSE_S = 0.004


class _Turn:
    """Whose turn it is. Jobs share one interpreter with the window: while an act is done and shown, they rest."""

    def __init__(self) -> None:
        self._rest_until = 0.0

    def give_way(self) -> None:
        """From the window's thread, as an act begins; over when what it changed has been drawn."""
        self._rest_until = time.monotonic() + GIVES_WAY_S
        QTimer.singleShot(30, self._over)

    def _over(self) -> None:
        self._rest_until = 0.0

    def rest(self, stopped: threading.Event) -> None:
        """From a job's thread: wait until it is its turn again, or it is given up."""
        while not stopped.is_set() and time.monotonic() < self._rest_until:
            time.sleep(_PAUSE_S)


TURN = _Turn()


class Job(QObject):
    """Runs one generator in a thread of its own. Signals arrive in the window's thread."""

    progressed = Signal(object)
    finished = Signal(object)  # what was yielded last
    failed = Signal(str)  # in words; what it was is in the log

    def __init__(self, work: Work, parent: QObject | None = None) -> None:
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
        """For work that looks itself whether it is still wanted, beside its yields. From the job's thread: it rests."""
        TURN.rest(self._stop)
        return self._stop.is_set()

    @property
    def is_given_up(self) -> bool:
        """The same from the window's thread, which must never rest."""
        return self._stop.is_set()

    def wait(self, seconds: float = 10) -> None:
        self._thread.join(seconds)

    @property
    def is_running(self) -> bool:
        return self._thread.is_alive()

    def _run(self) -> None:
        last: Any = None
        TURN.rest(self._stop)
        try:
            for last in self._work(self.is_stopped) if takes_stop(self._work) else self._work():
                if self._stop.is_set():
                    return
                self.progressed.emit(last)
                TURN.rest(self._stop)
        except Exception as error:  # noqa: BLE001 (the thread's boundary: logged, and told in the window's thread)
            if not self._stop.is_set():
                self.failed.emit(what_went_wrong(error))
            return
        if not self._stop.is_set():
            self.finished.emit(last)


def what_went_wrong(error: Exception) -> str:
    """A failure in words. What a person can mend is told as it is; anything else is ours, and goes into the log."""
    if isinstance(error, Refusal):
        return refusal_text(error)
    LOG.error("a job failed", exc_info=error)
    return tr("This could not be done: {0}. Help, What went wrong, has the whole of it.").format(type(error).__name__)


def takes_stop(work: Work) -> bool:
    """Whether work wants to be handed the question "is it to stop?"."""
    return bool(inspect.signature(work).parameters)


def _unless_given_up(job: Job, told: Callable[[Any], None]) -> Callable[[Any], None]:
    """What was on its way when a job was given up still comes in; it is not passed on."""
    return lambda value: None if job.is_given_up else told(value)


class Jobs:
    """The jobs of a panel: one of each name at a time, the older one is given up; all stopped at the end."""

    def __init__(self, parent: QObject) -> None:
        self._parent = parent
        self._running: dict[str, Job] = {}
        self._given_up: list[Job] = []  # cancelled, until they come to their next yield
        self._ended = False

    def start(self, name: str, work: Work, finished: Callable[[Any], None], failed: Callable[[str], None],
              progressed: Callable[[Any], None] | None = None) -> Job:
        """`failed` is told in words; nobody may leave it out."""
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
