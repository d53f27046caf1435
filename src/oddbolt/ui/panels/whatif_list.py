"""What if: single changes of the device, ranked by what they would do for the priority parts."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from oddbolt.effort.times import KnownTimes
from oddbolt.model.things import Settings, Teardown
from oddbolt.planning.solve import Planner
from oddbolt.planning.whatif import Outcome, what_if
from oddbolt.reports import wording
from oddbolt.session.session import Session
from oddbolt.ui.binding.jobs import Jobs
from oddbolt.ui.panels.sheet import label

MOST = 40


class WhatIfList(QWidget):
    """Found in a job when it is looked at, and anew after the record has changed."""

    said = Signal(str, bool)

    def __init__(self, session: Session, settings: Callable[[], Settings]) -> None:
        super().__init__()
        self._session = session
        self._settings = settings
        self._jobs = Jobs(self)
        self._of: Teardown | None = None  # the record that the list is of
        self._steps = 0
        self.outcomes: list[Outcome] = []
        self.state = label("", "faint")
        self.stop_looking = QPushButton(self.tr("Cancel"))
        self.stop_looking.hide()
        self.list = QListWidget()
        self.list.setWordWrap(True)
        self.list.setAccessibleName(self.tr("What single changes would do"))
        row = QHBoxLayout()
        row.addWidget(self.state, 1)
        row.addWidget(self.stop_looking)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(row)
        box.addWidget(self.list, 1)
        self.stop_looking.clicked.connect(lambda _: self._give_up())

    def showEvent(self, _event: object) -> None:  # noqa: N802 (Qt's name)
        self.refresh()

    def refresh(self) -> None:
        """Look anew where the record has changed and somebody looks."""
        teardown = self._session.teardown
        if not self.isVisible() or teardown is self._of:
            return
        self._of, self._steps = teardown, 0
        parts, settings = self._session.derived.priority_parts(), self._settings()
        self.list.setEnabled(False)  # what is shown is of an older record
        self.stop_looking.show()
        self._jobs.start("what if", lambda stop: _look(teardown, settings, parts, stop), self._arrived,
                         self._progress, lambda text: self.said.emit(text, True))

    def _progress(self, _found: list[Outcome]) -> None:
        self._steps += 1
        self.state.setText(self.tr("Looking, change {0}…").format(self._steps))

    def _give_up(self) -> None:
        self._jobs.cancel("what if")
        self._of = None
        self.stop_looking.hide()
        self.list.setEnabled(True)
        self.state.setText(self.tr("Given up"))

    def _arrived(self, found: list[Outcome] | None) -> None:
        self.outcomes = found or []
        self.stop_looking.hide()
        self.list.setEnabled(True)
        self.list.clear()
        helping = [outcome for outcome in self.outcomes if (outcome.steps, outcome.time_ms) > (0, 0)]
        self.state.setText(self.tr("{0} changes would help").format(len(helping)))
        for outcome in self.outcomes[:MOST]:
            lines = wording.outcome_lines(self._session.teardown, outcome)
            item = QListWidgetItem("\n".join(lines))
            item.setData(Qt.ItemDataRole.UserRole, outcome.thing)
            self.list.addItem(item)

    def stop(self) -> None:
        self._jobs.stop_all()


def _look(teardown: Teardown, settings: Settings, parts: list[str],
          stop: Callable[[], bool]) -> Iterator[list[Outcome]]:
    return what_if(lambda record: Planner(record, KnownTimes(record), settings, stop), teardown, parts)
