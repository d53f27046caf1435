"""An answer that follows the record: found in a job, shown when it is there, faint while it is of an older record."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject

from oddbolt.model.things import Teardown
from oddbolt.session.session import Session
from oddbolt.ui.background.jobs import Jobs, Work


class Answer:
    """One question at a time. `of` is what the answer depends on: the snapshot first, then what was chosen.

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

    @property
    def is_stale(self) -> bool:
        """Whether something was asked that is not answered yet."""
        return self._asked is not None and not _same(self._asked, self._of)

    def ask(self, work: Work, *of: Any) -> None:
        """Find the answer for `of`; one that is on its way is not looked for again, one that is there is shown."""
        if _same(self._asked, of):
            if not self.is_stale:
                self._shows(self.value)
            return
        self._asked = of
        if self._faint is not None:
            self._faint(True)
        self._jobs.start("answer", work, lambda value: self._arrived(value, of), self._gone_wrong, self._progressed)

    def give(self, value: Any, *of: Any) -> None:
        """An answer that was at hand, without a job."""
        self._jobs.cancel("answer")
        self._asked = of
        self._arrived(value, of)

    def _arrived(self, value: Any, of: tuple[Any, ...]) -> None:
        if of[0] is not self._session.teardown:
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
        self._jobs.cancel("answer")
        self._asked = self._of
        if self._faint is not None:
            self._faint(False)

    def forget(self) -> None:
        """Another document: nothing is known any more."""
        self._jobs.cancel("answer")
        self._asked = self._of = self.value = None

    def stop(self) -> None:
        self._jobs.stop_all()


def _same(one: tuple[Any, ...] | None, other: tuple[Any, ...] | None) -> bool:
    """Snapshots are the same when they are one object; what was chosen, when it is equal."""
    if one is None or other is None or len(one) != len(other):
        return False
    return all(a is b or (not isinstance(a, Teardown) and a == b) for a, b in zip(one, other))
