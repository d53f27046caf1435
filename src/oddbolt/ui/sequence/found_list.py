"""Lists that take long: what single changes would do for the priority parts; how firm their depths are."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from oddbolt.model.things import Teardown
from oddbolt.scoring.changes import DesignChange, design_changes
from oddbolt.scoring.measures.looking import Look
from oddbolt.scoring.method import fitting_methods, load_method
from oddbolt.scoring.planned import Planned
from oddbolt.search.planner import Make as MakeFor
from oddbolt.search.planner import Planner
from oddbolt.session.session import Session
from oddbolt.studies.firmness import Firmness, firmness
from oddbolt.studies.whatif import Outcome, what_if
from oddbolt.ui.background.answer import Answer
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.words.judging.studies import firmness_lines, outcome_lines
from oddbolt.words.judging.verdicts import points_line
from oddbolt.words.translate import tr

MOST = 40
Make = Callable[..., Planner]  # of a record, a question "is it to stop?" and, if need be, the policies kept


class FoundList(QWidget):
    """Found in a job when it is looked at, and anew after the record has changed. Kinds of it say what and in which
    words."""

    said = Signal(str, bool)

    def __init__(self, session: Session, maker: Callable[[], Make]) -> None:
        super().__init__()
        self._session = session
        self._maker = maker
        self._answer = Answer(self, session, self._arrived, self._gone_wrong, faint=self._set_faint,
                              progressed=self._progress)
        self._steps = 0
        self.found: list[Any] = []
        self.state = label("", "faint")
        self.stop_looking = QPushButton(tr("Cancel"))
        self.stop_looking.hide()
        self.list = QListWidget()
        self.list.setWordWrap(True)
        self.list.setAccessibleName(self._name())
        row = QHBoxLayout()
        row.addWidget(self.state, 1)
        row.addWidget(self.stop_looking)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(row)
        box.addWidget(self.list, 1)
        explain((self.list, self._name()), (self.stop_looking, tr("Give it up")))
        self.stop_looking.clicked.connect(lambda _: self._give_up())

    def showEvent(self, _event: object) -> None:  # noqa: N802 (Qt's name)
        self.refresh()

    def refresh(self) -> None:
        """Look anew where the record has changed and somebody looks."""
        if not self.isVisible():
            return
        teardown, parts, make = self._session.teardown, self._session.derived.priority_parts(), self._maker()
        self._steps = 0

        def work(stop: Callable[[], bool]) -> Iterator[list[Any]]:
            return self._work(lambda record: make(record, stop), teardown, parts)

        self._answer.ask(work)

    def _set_faint(self, faint: bool) -> None:
        self.list.setEnabled(not faint)  # what is shown is of an older record
        self.stop_looking.setVisible(faint)

    def _progress(self, _found: list[Any]) -> None:
        self._steps += 1
        self.state.setText(tr("Looking, {0}…").format(self._steps))

    def _give_up(self) -> None:
        self._answer.cancel()
        self._answer.forget()
        self.state.setText(tr("Given up"))

    def _gone_wrong(self, words: str) -> None:
        self.state.setText(words)
        self.said.emit(words, True)

    def _arrived(self, found: list[Any] | None) -> None:
        self.found = found or []
        self.list.clear()
        self.state.setText(self._summary())
        for one in self._shown():
            self.list.addItem(QListWidgetItem("\n".join(self._lines(one))))

    def stop(self) -> None:
        self._answer.stop()

    def _shown(self) -> list[Any]:
        return self.found[:MOST]

    # -- what each kind of list says for itself

    def _name(self) -> str:
        raise NotImplementedError

    def _work(self, make: MakeFor, teardown: Teardown, parts: list[str]) -> Iterator[list[Any]]:
        raise NotImplementedError

    def _summary(self) -> str:
        raise NotImplementedError

    def _lines(self, one: Any) -> list[str]:
        raise NotImplementedError


class WhatIfList(FoundList):
    """Single changes of the device, ranked by what they would do."""

    def _name(self) -> str:
        return tr("What single changes would do")

    def _work(self, make: MakeFor, teardown: Teardown, parts: list[str]) -> Iterator[list[Outcome | DesignChange]]:
        """What each would do for the parts, then for the points of the method that is made for the device."""
        outcomes: list[Outcome] = []
        for outcomes in what_if(make, teardown, parts):
            yield list(outcomes)
        look, designs = _look(make, teardown), list[DesignChange]()
        for found in design_changes(look, lambda record: make(record).times) if look is not None else ():
            designs = found
            yield list(outcomes)
        yield [*outcomes, *designs]

    @property
    def _outcomes(self) -> list[Outcome]:
        return [one for one in self.found if isinstance(one, Outcome)]

    def _shown(self) -> list[Outcome]:
        """Single changes, then pairs, which a long list must not push out."""
        pairs = [outcome for outcome in self._outcomes if outcome.second]
        return [*[outcome for outcome in self._outcomes if not outcome.second][:MOST - len(pairs)], *pairs]

    def _summary(self) -> str:
        helping = [outcome for outcome in self._outcomes if (outcome.steps, outcome.time_ms) > (0, 0)]
        pairs = sum(bool(outcome.second) for outcome in helping)
        return tr("{0} changes would help; {1} pairs").format(len(helping) - pairs, pairs)

    def _lines(self, one: Outcome) -> list[str]:
        design = next((other for other in self.found if isinstance(other, DesignChange)
                       and (other.kind, other.thing, other.second) == (one.kind, one.thing, one.second)), None)
        points = [points_line(design)] if design is not None else []
        return [*outcome_lines(self._session.teardown, one), *points]


def _look(make: MakeFor, teardown: Teardown) -> Look | None:
    """The record under the first method with points by steps that is made for its category."""
    methods = [load_method(id_) for id_ in fitting_methods(teardown.device.category)]
    method = next((one for one in methods if one.categories and any(
        criterion.measure == "depth" for criterion in one.criteria)), None)
    if method is None:
        return None
    planned = Planned(teardown, make(teardown).times, method.settings(teardown.settings))
    return Look(teardown=teardown, method=method, planned=planned)


class FirmList(FoundList):
    """Depths as ranges over what is still assumed, the widest first."""

    def _name(self) -> str:
        return tr("How firm the depths are")

    def _work(self, make: MakeFor, teardown: Teardown, parts: list[str]) -> Iterator[list[Firmness]]:
        return firmness(make, teardown, parts)

    def _summary(self) -> str:
        firm = sum(one.is_firm for one in self.found)
        exact = all(one.exact for one in self.found)
        how = tr("all cases") if exact else tr("a sample of cases")
        return tr("{0} of {1} firm, by {2}").format(firm, len(self.found), how)

    def _lines(self, one: Firmness) -> list[str]:
        return firmness_lines(self._session.teardown, one)
