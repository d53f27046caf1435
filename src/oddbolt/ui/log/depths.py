"""How deep the priority parts lie, as it stands after the last act."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHeaderView, QTreeWidget, QTreeWidgetItem

from oddbolt.effort.times import KnownTimes
from oddbolt.model.things import Teardown
from oddbolt.search.planner import Plan, Planner
from oddbolt.session.session import Session
from oddbolt.ui.background.jobs import Jobs
from oddbolt.words import wording

AT_ONCE_UNITS = 100  # operations of a device whose depths are found before one could see that they were stale


class DepthList(QTreeWidget):
    """Parts with a role: steps, time, proven or bounded, and whether the part is out already."""

    part_chosen = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._jobs = Jobs(self)
        self.setColumnCount(4)
        self.setHeaderLabels([self.tr("Part"), self.tr("Steps"), self.tr("Time"), ""])
        self.setRootIsDecorated(False)
        self.header().setStretchLastSection(False)
        self.setIndentation(0)
        self.setAlternatingRowColors(True)
        self.setAccessibleName(self.tr("Depth of the priority parts"))
        self.header().setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        for column in (1, 2, 3):
            self.header().setSectionResizeMode(column, QHeaderView.ResizeMode.ResizeToContents)
        self.itemActivated.connect(lambda item, _: self.part_chosen.emit(item.data(0, Qt.ItemDataRole.UserRole)))
        self.before: dict[str, str] = {}

    def refresh(self) -> None:
        """Show the depths as they are now: at once on a device of usual size, else when a job has found them; until
        then those of before are shown faintly."""
        derived = self._session.derived
        parts = derived.priority_parts()
        if len(derived.planner.network.units) <= AT_ONCE_UNITS:
            self._jobs.cancel("depths")
            self._show({part: derived.planner.plan([part]) for part in parts})
            return
        for n in range(self.topLevelItemCount()):
            for column in range(self.columnCount()):
                self.topLevelItem(n).setForeground(column, self.palette().placeholderText())
        teardown = self._session.teardown
        self._jobs.start("depths", lambda stop: _plans(teardown, parts, stop), self._show)

    def _show(self, plans: dict[str, Plan]) -> None:
        derived, teardown = self._session.derived, self._session.teardown
        bench = derived.replay.state
        shown = {}
        self.clear()
        for part, plan in plans.items():
            if part not in teardown.part:
                continue
            steps, time, tip = self._texts(plan)
            shown[part] = steps
            name = wording.name_of(teardown, part)
            out = self.tr("out") if derived.planner.structure.stand_in.get(part) in bench.removed else ""
            if part in self.before and self.before[part] != steps:
                steps = f"{self.before[part]} → {steps}"
            item = QTreeWidgetItem([name, steps, time, out])
            item.setToolTip(0, name)
            item.setData(0, Qt.ItemDataRole.UserRole, part)
            for column in (1, 2):
                item.setTextAlignment(column, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                item.setToolTip(column, tip)
            self.addTopLevelItem(item)
        self.before = shown

    def stop(self) -> None:
        self._jobs.stop_all()

    def _texts(self, plan: Plan) -> tuple[str, str, str]:
        if not plan.feasible:
            blocked = wording.names_of(self._session.teardown, plan.blocked_by)
            return "–", "–", self.tr("Cannot be taken off; kept in by {0}").format(blocked)
        steps = str(plan.count.steps) if plan.optimal else f"{plan.lower_bound}–{plan.count.steps}"
        tip = self.tr("proven") if plan.optimal else self.tr("not proven: the range is what is certain")
        if plan.count.live_acts:
            tip += self.tr("; {0} done live").format(plan.count.live_acts)
        return steps, wording.duration_text(plan.count.time_ms / 1000), tip


def _plans(teardown: Teardown, parts: list[str], stop: Callable[[], bool]) -> Iterator[dict[str, Plan]]:
    """Plans of all parts; left at once when `stop` says so."""
    planner, found = Planner(teardown, KnownTimes(teardown), stop=stop), {}
    for part in parts:
        yield {}
        found[part] = planner.plan([part])
    yield found
