"""How deep the priority parts lie, as it stands after the last act."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import TYPE_CHECKING

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtWidgets import QHeaderView, QTreeWidget

from oddbolt.model.things import Teardown
from oddbolt.paint.known import ICON_PX, known_icon
from oddbolt.session.derived import AT_ONCE, Derived
from oddbolt.session.session import Session
from oddbolt.ui.background.answer import Answer
from oddbolt.ui.pieces.sheet import tip
from oddbolt.ui.pieces.sorting import BY, Row, sortable
from oddbolt.words.figures import duration_text
from oddbolt.words.known import known_meaning, known_text
from oddbolt.words.names import name_of, names_of
from oddbolt.words.times import time_text
from oddbolt.words.translate import tr

if TYPE_CHECKING:
    from oddbolt.search.planner import Plan


class DepthList(QTreeWidget):
    """Parts with a role: steps, time, proven or bounded, and whether the part is out already."""

    part_chosen = Signal(str)
    said = Signal(str, bool)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._answer = Answer(self, session, self._show, lambda words: self.said.emit(words, True),
                              faint=self._set_faint)
        self.setColumnCount(4)
        self.setHeaderLabels([tr("Part"), tr("Steps"), tr("Time"), ""])
        self.setIconSize(QSize(ICON_PX, ICON_PX))
        self.setRootIsDecorated(False)
        self.header().setStretchLastSection(False)
        self.setIndentation(0)
        self.setAlternatingRowColors(True)
        self.setAccessibleName(tr("Depth of the priority parts"))
        self.header().setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        for column in (1, 2, 3):
            self.header().setSectionResizeMode(column, QHeaderView.ResizeMode.ResizeToContents)
        self.itemActivated.connect(lambda item, _: self.part_chosen.emit(item.data(0, Qt.ItemDataRole.UserRole)))
        self.before: dict[str, str] = {}
        sortable(self, self.refresh)

    def refresh(self) -> None:
        """Show the depths as they are now: at once on a device of usual size, else when a job has found them; until
        then those of before are shown faintly."""
        derived = self._session.derived
        parts = derived.priority_parts()
        if derived.size <= AT_ONCE:
            self._answer.give({part: derived.planner.plan([part]) for part in parts})
        else:
            self._answer.ask(lambda stop: _plans(derived, parts, stop))

    def give_up(self) -> None:
        """What is being found is of a record that is past."""
        self._answer.cancel()

    def _set_faint(self, faint: bool) -> None:
        colour = self.palette().placeholderText() if faint else self.palette().text()
        for n in range(self.topLevelItemCount()):
            for column in range(self.columnCount()):
                self.topLevelItem(n).setForeground(column, colour)

    @property
    def is_faint(self) -> bool:
        """Whether what is shown is of an older record."""
        return self._answer.is_stale

    def _show(self, plans: dict[str, Plan]) -> None:
        teardown = self._session.teardown
        state, stand_in = self._session.derived.state, self._session.derived.structure.stand_in
        shown = {}
        self.clear()
        for part, plan in plans.items():
            steps, time, why = self._texts(teardown, plan)
            shown[part] = steps
            name = name_of(teardown, part)
            out = tr("out") if stand_in.get(part) in state.removed else ""
            if part in self.before and self.before[part] != steps:
                steps = f"{self.before[part]} → {steps}"
            known = self._session.derived.known_so_far(plan, part)
            item = Row([name, steps, time, out])
            item.setToolTip(0, tip(name))
            item.setIcon(0, known_icon(known, self.palette().text().color().name(), self.devicePixelRatioF()))
            item.setToolTip(0, tip(f"{name}. {known_meaning(known)}"))
            item.setData(0, Qt.ItemDataRole.AccessibleTextRole, f"{name}, {known_text(known)}")
            if plan.feasible:
                item.setData(1, BY, plan.count.steps)
                item.setData(2, BY, plan.count.time_ms)
            item.setData(0, Qt.ItemDataRole.UserRole, part)
            for column in (1, 2):
                item.setTextAlignment(column, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                item.setToolTip(column, tip(why))
            self.addTopLevelItem(item)
        self.before = shown

    def stop(self) -> None:
        self._answer.stop()

    @staticmethod
    def _texts(teardown: Teardown, plan: Plan) -> tuple[str, str, str]:
        if not plan.feasible:
            return "–", "–", tr("Cannot be taken off; kept in by {0}").format(names_of(teardown, plan.blocked_by))
        steps = str(plan.count.steps) if plan.optimal else f"{plan.lower_bound}–{plan.count.steps}"
        tip = tr("proven") if plan.optimal else tr("not proven: the range is what is certain")
        tip = tr("{0}; {1}").format(tip, time_text(plan.count))
        if plan.count.live_acts:
            tip = tr("{0}; {1} done live").format(tip, plan.count.live_acts)
        return steps, duration_text(plan.count.time_ms / 1000), tip


def _plans(derived: Derived, parts: list[str], stop: Callable[[], bool]) -> Iterator[dict[str, Plan]]:
    """Plans of all parts; left at once when `stop` says so."""
    yield {}
    planner, found = derived.planner_for(stop=stop), {}
    for part in parts:
        yield {}
        found[part] = planner.plan([part])
    yield found
