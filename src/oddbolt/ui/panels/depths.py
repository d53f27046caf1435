"""How deep the priority parts lie, as it stands after the last act."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHeaderView, QTreeWidget, QTreeWidgetItem

from oddbolt.planning.solve import Plan
from oddbolt.reports import wording
from oddbolt.session.session import Session


class DepthList(QTreeWidget):
    """Parts with a role: steps, time, proven or bounded, and whether the part is out already."""

    part_chosen = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
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
        derived, teardown = self._session.derived, self._session.teardown
        bench = derived.replay.bench
        shown = {}
        self.clear()
        for part in derived.priority_parts():
            plan = derived.planner.plan([part])
            steps, time, tip = self._texts(plan)
            shown[part] = steps
            name = wording.name_of(teardown, part)
            out = self.tr("out") if derived.planner.structure.stand_in[part] in bench.removed else ""
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

    def _texts(self, plan: Plan) -> tuple[str, str, str]:
        if not plan.feasible:
            blocked = wording.names_of(self._session.teardown, plan.blocked_by)
            return "–", "–", self.tr("Cannot be taken off; kept in by {0}").format(blocked)
        steps = str(plan.count.steps) if plan.optimal else f"{plan.lower_bound}–{plan.count.steps}"
        tip = self.tr("proven") if plan.optimal else self.tr("not proven: the range is what is certain")
        if plan.count.live_acts:
            tip += self.tr("; {0} done live").format(plan.count.live_acts)
        return steps, wording.duration_text(plan.count.time_ms / 1000), tip
