"""An answer that follows the record: found in a job, shown when it is there, faint while it is of an older record."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, QTimer

from oddbolt.model.things import Teardown
from oddbolt.session.derived import Derived
from oddbolt.session.session import Session
from oddbolt.ui.background.jobs import Jobs, Work

SLOW_S = 0.5  # what takes longer is not begun before the record has been left alone for a moment
QUIET_MS = 300


class Answer:
    """One question at a time. An answer depends on what follows from the record, at whose pace it may be, and on `of`,
    what was chosen.

    `shows` is handed the value; `faint` whether what is shown is of something older; `failed` the words of a failure.
    A late answer is never shown: what was asked before is given up, and what comes when the record has changed while
    nobody looked is dropped, to be asked anew when somebody does.
    """

    def __init__(self, parent: QObject, session: Session, shows: Callable[[Any], None],
                 failed: Callable[[str], None], *, faint: Callable[[bool], None] | None = None,
                 progressed: Callable[[Any], None] | None = None) -> None:
        self._jobs = Jobs(parent)
        self._session = session
        self._shows, self._failed, self._faint, self._progressed = shows, failed, faint, progressed
        self._asked: tuple[Any, ...] | None = None
        self._of: tuple[Any, ...] | None = None
        self.value: Any = None
        self._work: Work | None = None  # what waits for the record to be left alone
        self._begun = 0.0  # when the job on its way began
        self._is_slow = False
        self._quiet = QTimer(parent)
        self._quiet.setSingleShot(True)
        self._quiet.setInterval(QUIET_MS)
        self._quiet.timeout.connect(self._begin)

    @property
    def is_stale(self) -> bool:
        """Whether something was asked that is not answered yet."""
        return self._asked is not None and not _same(self._asked, self._of)

    def ask(self, work: Work, *of: Any) -> None:
        """Find the answer for `of`; one that is on its way is not looked for again, one that is there is shown."""
        of = (self._session.derived, *of)
        if _same(self._asked, of):
            if not self.is_stale:
                self._shows(self.value)
            return
        self._asked = of
        if self._faint is not None:
            self._faint(True)
        self._give_up()
        self._work = work
        if self._is_slow:
            self._quiet.start()
        else:
            self._begin()

    def _begin(self) -> None:
        work, of, self._work = self._work, self._asked, None
        if work is None or of is None:
            return
        self._begun = time.monotonic()
        self._jobs.start("answer", work, lambda value: self._arrived(value, of), self._gone_wrong, self._progressed)

    def _give_up(self) -> None:
        self._took()
        self._quiet.stop()
        self._work = None
        self._jobs.cancel("answer")

    def _took(self) -> None:
        """Remember whether the job that ends, or is given up, was slow."""
        if self._begun:
            self._is_slow = time.monotonic() - self._begun > SLOW_S
            self._begun = 0.0

    def give(self, value: Any, *of: Any) -> None:
        """An answer that was at hand, without a job."""
        self._give_up()
        self._asked = (self._session.derived, *of)
        self._arrived(value, self._asked)

    def _arrived(self, value: Any, of: tuple[Any, ...]) -> None:
        self._took()
        if of[0] is not self._session.derived:
            self._asked = self._of
            return
        self._of, self.value = of, value
        if self._faint is not None:
            self._faint(False)
        self._shows(value)

    def _gone_wrong(self, words: str) -> None:
        self.cancel()
        self._failed(words)

    def cancel(self) -> None:
        """Give up what is being looked for; what is shown stays, of whatever it is."""
        self._give_up()
        self._asked = self._of
        if self._faint is not None:
            self._faint(False)

    def forget(self) -> None:
        """Another document: nothing is known any more."""
        self._give_up()
        self._asked = self._of = self.value = None

    def stop(self) -> None:
        self._give_up()
        self._jobs.stop_all()


def _same(one: tuple[Any, ...] | None, other: tuple[Any, ...] | None) -> bool:
    """What follows from a record is the same when it is one object; what was chosen, when it is equal."""
    if one is None or other is None or len(one) != len(other):
        return False
    return all(a is b or (not isinstance(a, Derived | Teardown) and a == b) for a, b in zip(one, other))
