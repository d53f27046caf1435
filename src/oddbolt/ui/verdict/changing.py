"""What would change a verdict, found in a job when it is looked at: sets of facts, then changes of the design."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QFont
from PySide6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from oddbolt.scoring.changes import DesignChange, Enough, design_changes, smallest_sets
from oddbolt.scoring.method import INDEX, load_method
from oddbolt.scoring.standing import Judging
from oddbolt.session.derived import Derived
from oddbolt.session.session import Session
from oddbolt.ui.background.answer import Answer
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.words.judging.verdicts import design_text, enough_text
from oddbolt.words.translate import tr

MOST = 30


class ChangesPage(QWidget):
    """Facts that move the class up or down, and designs that do."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._method = ""
        self._answer = Answer(self, session, self._arrived, self._gone_wrong, faint=self._set_faint,
                              progressed=lambda _: self._progress())
        self._steps = 0
        self.state = label("", "faint", wrap=True)
        self.give_up = QPushButton(tr("Cancel"))
        self.give_up.hide()
        self.list = QListWidget()
        self.list.setWordWrap(True)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setAccessibleName(tr("What would change the class"))
        explain((self.list, tr("The smallest sets of facts that move the class, then changes of the design")),
                (self.give_up, tr("Give it up")))
        row = QHBoxLayout()
        row.addWidget(self.state, 1)
        row.addWidget(self.give_up)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(row)
        box.addWidget(self.list, 1)
        self.give_up.clicked.connect(lambda _: self._cancel())

    def show_method(self, method: str) -> None:
        self._method = method
        self.refresh()

    def showEvent(self, _event: object) -> None:  # noqa: N802 (Qt's name)
        self.refresh()

    def refresh(self) -> None:
        """Look anew where the record has changed, or another method is opened, and somebody looks."""
        if not self.isVisible() or not self._method:
            return
        derived, method, self._steps = self._session.derived, self._method, 0

        def work(stop: Callable[[], bool]) -> Iterator[list[Any]]:
            return _changes(derived, method, stop)

        self._answer.ask(work, method)

    def _set_faint(self, faint: bool) -> None:
        self.list.setEnabled(not faint)
        self.give_up.setVisible(faint)

    def _progress(self) -> None:
        self._steps += 1
        self.state.setText(tr("Looking, {0}…").format(self._steps))

    def _cancel(self) -> None:
        self._answer.cancel()
        self._answer.forget()
        self.state.setText(tr("Given up"))

    def _gone_wrong(self, words: str) -> None:
        self.state.setText(words)

    def _arrived(self, found: list[Any] | None) -> None:
        self.list.clear()
        teardown, method = self._session.teardown, load_method(self._method)
        if method.kind != INDEX:
            self.state.setText(tr("This method has no class that could change."))
            return
        sets = [one for one in found or () if isinstance(one, Enough)]
        designs = [one for one in found or () if isinstance(one, DesignChange)]
        moving = sum(one.moves_class for one in designs)
        self.state.setText(tr("{0} sets of facts move the class; {1} changes of the design move the index, {2} of them "
                              "the class").format(len(sets), len(designs), moving))
        self._fill(tr("Facts that would turn out otherwise"), [enough_text(teardown, method, one) for one in sets])
        self._fill(tr("Changes of the design"), [design_text(teardown, method, one) for one in designs[:MOST]])

    def _fill(self, heading: str, lines: list[str]) -> None:
        """A heading that cannot be chosen, and its lines."""
        head = QListWidgetItem(heading)
        head.setFlags(Qt.ItemFlag.NoItemFlags | Qt.ItemFlag.ItemIsEnabled)
        font = head.font()
        font.setWeight(QFont.Weight.DemiBold)
        head.setFont(font)
        self.list.addItem(head)
        self.list.addItems(lines or [tr("None found")])

    def stop(self) -> None:
        self._answer.stop()


def _changes(derived: Derived, method_id: str, stop: Callable[[], bool]) -> Iterator[list[Any]]:
    plans = derived.plans(stop)
    judging = Judging(derived.teardown, load_method(method_id), plans)
    sets: list[Any] = []
    for found in smallest_sets(judging):
        sets = list(found)
        yield sets
    designs: list[Any] = []
    for changed in design_changes(judging.base, plans.times) if judging.method.kind == INDEX else ():
        designs = list(changed)
        yield sets
    yield [*sets, *designs]
