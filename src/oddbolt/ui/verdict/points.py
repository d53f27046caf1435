"""Points of a verdict: each criterion with its parts, the rule, and the evidence, which leads to where it is from."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QBrush, QColor, QFont
from PySide6.QtWidgets import QHeaderView, QTreeWidget, QTreeWidgetItem

from oddbolt.model.things import Teardown
from oddbolt.paint.palette import Palette
from oddbolt.scoring.evaluate import CriterionScore, PartScore, Verdict
from oddbolt.scoring.measures.looking import Ground
from oddbolt.ui.pieces.sheet import tip
from oddbolt.ui.pieces.sorting import Row, sortable
from oddbolt.words.figures import points_text
from oddbolt.words.judging.verdicts import ground_text, part_score_text, score_text
from oddbolt.words.names import name_of, role_name
from oddbolt.words.translate import of_data, tr

GROUNDS = Qt.ItemDataRole.UserRole + 8
WAYS = ("depth", "time", "in-the-way", "edim", "tasks", "cost")  # grounds that are about a whole way


class PointsTree(QTreeWidget):
    """A click on a line says where its evidence is: a way in Access, a thing in the Log, a measurement."""

    part_asked = Signal(str)  # the way to it
    thing_asked = Signal(str)

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._palette = palette
        self._verdict: Verdict | None = None
        self._teardown: Teardown | None = None
        self.setColumnCount(4)
        self.setHeaderLabels([tr("Criterion and part"), tr("Weight"), tr("Points"), tr("What it rests on")])
        self.setAccessibleName(tr("Points"))
        self.setAlternatingRowColors(True)
        header = self.header()
        for column in range(3):
            header.setSectionResizeMode(column, QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(3, QHeaderView.ResizeMode.Stretch)
        self.setToolTip(tr("Each criterion with its points and what they rest on; open one for its parts. A double "
                           "click, or Return, goes to the evidence"))
        sortable(self, self._again)
        self.itemActivated.connect(self._activated)

    def _again(self) -> None:
        if self._verdict is not None and self._teardown is not None:
            self.show_verdict(self._verdict, self._teardown)

    def show_verdict(self, verdict: Verdict, teardown: Teardown) -> None:
        opened = {self.topLevelItem(n).text(0): self.topLevelItem(n).isExpanded()
                  for n in range(self.topLevelItemCount())}
        self._verdict, self._teardown = verdict, teardown
        self.clear()
        for n, score in enumerate(verdict.criteria):
            row = self._criterion_row(score)
            for part in score.parts:
                row.addChild(self._part_row(score, part))
            self.addTopLevelItem(row)
            row.setExpanded(opened.get(row.text(0), n == 0))

    def _criterion_row(self, score: CriterionScore) -> Row:
        criterion, teardown = score.criterion, self._teardown
        name = of_data(criterion.name)
        rest = "; ".join(ground_text(teardown, e) for e in score.evidence) or of_data(criterion.rule)
        if score.fails:
            rest = tr("{0}; below the legal minimum: no class").format(rest)
        weight = f"{criterion.weight:.0%}" if criterion.weight else ""
        row = Row([name, weight, score_text(criterion, score.points), rest])
        for column in (0, 3):
            row.setToolTip(column, tip(self._rule_tip(score)))
        font = row.font(0)
        font.setWeight(QFont.Weight.DemiBold)
        for column in range(3):
            row.setFont(column, font)
        if criterion.id in self._verdict.method.unconfirmed:
            row.setText(0, tr("{0}  (unconfirmed)").format(name))
        if score.fails:
            row.setForeground(2, QBrush(QColor(self._palette.warn)))
        row.setData(0, GROUNDS, score.evidence)
        return row

    def _part_row(self, score: CriterionScore, part: PartScore) -> Row:
        teardown = self._teardown
        texts = "; ".join(ground_text(teardown, evidence) for evidence in part.evidence)
        name = role_name(part.role)
        if part.part and name_of(teardown, part.part) != name:
            name = f"{name}: {name_of(teardown, part.part)}"
        if part.fails:
            texts = tr("{0}; no class of the method fits, the least points are given").format(texts)
        row = Row([name, f"{part.weight:.0%}" if part.weight else "", part_score_text(score, part), texts])
        row.setToolTip(3, tip(texts))
        if part.points[0] < part.points[1] or part.fails:
            row.setForeground(2, QBrush(QColor(self._palette.warn)))
        row.setData(0, GROUNDS, part.evidence)
        return row

    def _rule_tip(self, score: CriterionScore) -> str:
        criterion = score.criterion
        lines = [tr("Rule: {0}").format(of_data(criterion.rule)), tr("Confidence: {0}").format(criterion.confidence)]
        if criterion.table:
            rows = [tr("at most {0:g} steps: {1:g}").format(limit, points) if criterion.measure == "depth"
                    else tr("at most {0:g}: {1:g}").format(limit, points) for limit, points in criterion.table]
            lines.append("; ".join([*rows, tr("more: {0:g}").format(criterion.beyond)]))
        if criterion.at_least:
            rows = [tr("at least {0:g}: {1:g}").format(limit, points) for limit, points in criterion.at_least]
            lines.append("; ".join([*rows, tr("less: no class") if criterion.below is None
                                    else tr("less: {0:g}").format(criterion.below)]))
        if criterion.points:
            lines.append("; ".join(f"{word}: {points_text(points)}" for word, points in criterion.points.items()))
        if criterion.doubt:
            lines.append(tr("Not confirmed: {0}").format("; ".join(
                f"{row}: {points_text(points)}" for row, points in criterion.doubt.items())))
        return "\n".join(lines)

    def _activated(self, item: QTreeWidgetItem) -> None:
        grounds: tuple[Ground, ...] = item.data(0, GROUNDS) or ()
        for ground in grounds:
            thing = next((one for one in ground.things if self._is_thing(one)), "")
            if thing and ground.code in WAYS:
                self.part_asked.emit(thing)
                return
            if thing:
                self.thing_asked.emit(thing)
                return

    def _is_thing(self, one: str) -> bool:
        return self._teardown is not None and (one in self._teardown.part or one in self._teardown.joint)
