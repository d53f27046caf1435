"""Access: the section, and for the part under the pointer the way in, in words; two devices on one scale; what if."""

from __future__ import annotations

import html
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from importlib.resources import as_file, files
from pathlib import Path

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QGuiApplication, QResizeEvent
from PySide6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QScrollArea,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from oddbolt.effort.times import KnownTimes
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Settings, Teardown
from oddbolt.paint.palette import Palette
from oddbolt.reports.content import strata
from oddbolt.reports.content.strata import Column, Ghost, Section
from oddbolt.search.planner import Planner
from oddbolt.session.change import Change
from oddbolt.session.session import Session
from oddbolt.store.files import read_teardown
from oddbolt.studies.whatif import Redesign as Difference
from oddbolt.studies.whatif import changes
from oddbolt.ui.access.section import Key, SectionView
from oddbolt.ui.background.jobs import Jobs
from oddbolt.ui.log.depths import AT_ONCE_UNITS
from oddbolt.ui.pieces.sheet import bring_in_sight, label, lay_out, sheet
from oddbolt.words import wording

PRIORITY, ALL = "priority", "all"
SHOWN = 8  # characters of a choice that are seen at least


@dataclass(frozen=True, slots=True, kw_only=True)
class Shown:
    """A section with the planners that its plans are of: one, or two whose columns stand in turn."""

    planners: tuple[Planner, ...]
    section: Section
    lonely: tuple[str, ...] = ()  # roles that one of two devices does not have


class AccessPanel(QWidget):
    """The section of the priority parts, of all parts, and of any part added; beside it that of another device."""

    def __init__(self, session: Session, palette: Palette, folder: Path) -> None:
        super().__init__()
        self._session = session
        self._folder = folder
        self._jobs = Jobs(self)
        self._added: list[str] = []
        self._part = ""
        self._columns: tuple[Column, ...] = ()
        self._other: Teardown | None = None  # the device compared with
        self._shown: Shown | None = None
        self._differences: list[Difference] = []
        self._stale = True
        self.section = SectionView(palette)
        self.words = QTextBrowser()
        self.words.setAccessibleName(self.tr("The way in, in words"))
        self.scope, self.order, self.add, self.change = QComboBox(), QComboBox(), QComboBox(), QComboBox()
        for combo, name in ((self.scope, self.tr("Which parts")), (self.order, self.tr("Order of the columns")),
                            (self.add, self.tr("Add a part to the section")),
                            (self.change, self.tr("What if: a change on the way to the chosen part"))):
            combo.setAccessibleName(name)
            combo.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            combo.setMinimumContentsLength(SHOWN)
        for text, value in ((self.tr("Priority parts"), PRIORITY), (self.tr("All parts"), ALL)):
            self.scope.addItem(text, value)
        for text, value in ((self.tr("Shared strata on top"), strata.SHARED), (self.tr("By depth"), strata.DEPTH),
                            (self.tr("By role"), strata.ROLE)):
            self.order.addItem(text, value)
        self.compare = QPushButton(self.tr("Compare with…"))
        self.alone = QPushButton(self.tr("This device alone"))
        self.cancel = QPushButton(self.tr("Cancel"))
        self.copy = QPushButton(self.tr("Copy the words"))
        self.convention = label("", "faint", wrap=True)
        self.blocked = label("", "echo", wrap=True)
        self._scroll = QScrollArea()
        self._build(palette)
        session.listen(self._on_change)

    def _build(self, palette: Palette) -> None:
        self._scroll.setWidget(self.section)
        self._scroll.setWidgetResizable(False)
        self._scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        head, tools = QHBoxLayout(), QHBoxLayout()
        for widget in (self.scope, self.order, self.add):
            head.addWidget(widget, 1)
        tools.addWidget(self.change, 1)
        for widget in (self.cancel, self.alone, self.compare):
            tools.addWidget(widget)
        left = QVBoxLayout()
        left.addLayout(head)
        left.addLayout(tools)
        left.addWidget(self._scroll, 1)
        left.addWidget(self.blocked)
        left.addWidget(Key(palette))
        left.addWidget(self.convention)
        side = sheet(self.tr("The way in"), self.words, self.copy, stretch=1)
        lay_out(self, left, side)
        menu = QMenu(self.compare)
        menu.addAction(self.tr("Dunlin 3, the successor of the demo"), lambda: self.compare_with(demo_successor()))
        menu.addAction(self.tr("Another record…"), self.ask_other)
        self.compare.setMenu(menu)
        self.cancel.hide()
        self.section.column_chosen.connect(self._column_chosen)
        self.scope.activated.connect(self._scope_chosen)
        self.order.activated.connect(lambda _: self.refresh())
        self.add.activated.connect(self._add_chosen)
        self.change.activated.connect(self._change_chosen)
        self.alone.clicked.connect(lambda _: self.compare_with(None))
        self.cancel.clicked.connect(lambda _: self._cancel())
        self.copy.clicked.connect(lambda: QGuiApplication.clipboard().setText(self.words.toPlainText()))

    # -- following the record

    def _on_change(self, change: Change) -> None:
        if change.kind == "opened":
            self._added, self._part, self._other = [], "", None
        self._stale = True
        if self.isVisible():
            self.refresh()

    def showEvent(self, event: QEvent) -> None:  # noqa: N802
        super().showEvent(event)
        if self._stale:
            self.refresh()

    def resizeEvent(self, event: QResizeEvent) -> None:  # noqa: N802
        super().resizeEvent(event)
        self.section.fit_width(self._scroll.viewport().width())

    def show_part(self, part: str) -> None:
        """Choose a part, adding it to the section if it is not there."""
        self._part = part
        if part not in self._parts():
            self._added.append(part)
        self.refresh()

    def _parts(self) -> list[str]:
        derived = self._session.derived
        if self.scope.currentData() == ALL:
            return list(derived.planner.structure.removals)
        return list(dict.fromkeys((*derived.priority_parts(), *self._added)))

    def refresh(self) -> None:
        """Show the section as the record is now: at once on a device of usual size, else when a job has found it."""
        self._stale = False
        self._jobs.cancel("ghost")
        derived = self._session.derived
        self._added = [part for part in self._added if part in derived.planner.structure.present]
        small = len(derived.planner.network.units) <= AT_ONCE_UNITS
        if small and self._other is None and self.scope.currentData() == PRIORITY:
            self._jobs.cancel("section")
            self._show(Shown(planners=(derived.planner,), section=strata.build_section(
                derived.planner, self._parts(), self.order.currentData())))
            return
        self._set_stale(True)
        teardown, other, parts, order = self._session.teardown, self._other, self._parts(), self.order.currentData()
        self._jobs.start("section", lambda stop: _sections(teardown, other, parts, order, stop), self._show,
                         failed=lambda text: self._say(text))

    def _set_stale(self, stale: bool) -> None:
        self.cancel.setVisible(stale)
        self.section.set_stale(stale)

    def _cancel(self) -> None:
        self._jobs.cancel("section")
        self._set_stale(False)
        self._say(self.tr("Given up; what is shown is the section before"))

    def _say(self, text: str) -> None:
        self.blocked.setText(text)
        self.blocked.setVisible(bool(text))

    def _show(self, shown: Shown | None) -> None:
        if shown is not None and shown.planners[0].teardown is not self._session.teardown:
            return  # the record has changed while nobody looked
        self._set_stale(False)
        if shown is None:
            return
        self._shown = shown
        self._columns = shown.section.columns
        parts = [column.part for column in self._columns]
        chosen = parts.index(self._part) if self._part in parts else 0
        self.section.fit_width(self._scroll.viewport().width())
        self.section.show_section(shown.section, tuple(planner.teardown for planner in shown.planners), chosen)
        compared = len(shown.planners) > 1
        self.alone.setVisible(compared)
        for widget in (self.scope, self.order, self.add, self.change):
            widget.setEnabled(not compared)
        self._fill_add(parts)
        self._say("\n".join(self._remarks(shown)))
        self.convention.setText(convention_text(shown.planners[0].convention.settings))
        if parts:
            self._column_chosen(chosen)
        else:
            self.words.setPlainText(self.tr("No part of both devices has the same role.") if compared
                                    else self.tr("No part has a role yet. Add any part above."))

    def _remarks(self, shown: Shown) -> list[str]:
        teardown = shown.planners[0].teardown
        lines = [self.tr("{0} cannot be taken off; kept in by {1}").format(
            wording.name_of(teardown, plan.targets[0]), wording.names_of(teardown, plan.blocked_by))
            for plan in shown.section.blocked]
        if shown.lonely:
            lines.append(self.tr("Left out, in one device alone: {0}").format(
                ", ".join(role.replace("_", " ") for role in shown.lonely)))
        return lines

    # -- which parts

    def _fill_add(self, shown: list[str]) -> None:
        self.add.clear()
        self.add.addItem(self.tr("Add a part"), "")
        for id_ in self._session.derived.planner.structure.removals:
            if id_ not in shown:
                self.add.addItem(wording.name_of(self._session.teardown, id_), id_)

    def _add_chosen(self, row: int) -> None:
        if part := self.add.itemData(row):
            self.show_part(part)

    def _scope_chosen(self, _row: int) -> None:
        self._added = []
        self.refresh()

    # -- another device

    def ask_other(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, self.tr("Compare with another record"), str(self._folder),
                                              self.tr("Records (*.oddbolt *.json)"))
        if name:
            try:
                self.compare_with(read_teardown(Path(name)))
            except Refusal as refusal:
                self._say(str(refusal))

    def compare_with(self, other: Teardown | None) -> None:
        """Show another device too, parts of the same role beside each other, on one scale and by one convention."""
        self._other = other
        self.refresh()

    # -- what if

    def _fill_changes(self, column: Column) -> None:
        """Changes of what lies on the way to the chosen part."""
        planner = self._shown.planners[0]
        things = {timed.operation.part or timed.operation.joint for timed in column.count.timed}
        self._differences = [change for change in changes(planner) if change.thing in things or not change.thing]
        self.change.clear()
        self.change.addItem(self.tr("What if… (on the way to {0})").format(
            wording.name_of(planner.teardown, column.part)))
        for change in self._differences:
            self.change.addItem(wording.change_text(planner.teardown, change.kind, change.thing))

    def _change_chosen(self, row: int) -> None:
        self._jobs.cancel("ghost")
        if row <= 0:
            self.section.show_ghost(None)
            return
        change, section, name = self._differences[row - 1], self._shown.section, self.change.itemText(row)
        settings = self._shown.planners[0].convention.settings
        self._jobs.start("ghost", lambda stop: _ghost(change, settings, section, name, stop), self._show_ghost)

    def _show_ghost(self, ghost: Ghost | None) -> None:
        self.section.show_ghost(ghost)
        if ghost is not None:
            saved = sum(column.count.steps - after.steps for column, after in zip(self._columns, ghost.counts) if after)
            self._say(self.tr("{0}: {1} steps less over the parts shown; what would go is faint").format(
                ghost.label, saved))

    # -- the way in

    def _column_chosen(self, number: int) -> None:
        column = self._columns[number]
        planner = self._shown.planners[number % len(self._shown.planners)]
        alone = len(self._shown.planners) == 1
        if alone and (self._part != column.part or not self._differences):
            self.section.show_ghost(None)
            self._fill_changes(column)
        self._part = column.part
        self.words.setHtml(_path_html(self, planner, column))
        self.section.setAccessibleDescription(self.tr("{0}. Left and right choose a part").format(
            self.words.toPlainText().split("\n")[0]))
        box = self.section.column_box(number)
        bring_in_sight(self._scroll.horizontalScrollBar(), self._scroll.viewport().width(), box.left(), box.right())

    def stop(self) -> None:
        self._jobs.stop_all()


def demo_successor() -> Teardown:
    """The record of the demo device's successor, which ships."""
    with as_file(files("oddbolt").joinpath("demo", "dunlin-3.json")) as path:
        return read_teardown(path)


def _sections(teardown: Teardown, other: Teardown | None, parts: list[str], order: str,
              stop: Callable[[], bool]) -> Iterator[Shown | None]:
    """The section, alone or beside that of another device by the same convention; left at once when `stop` says so."""
    yield None
    planner = Planner(teardown, KnownTimes(teardown), stop=stop)
    if other is None:
        yield Shown(planners=(planner,), section=strata.build_section(planner, parts, order))
        return
    second = Planner(other, KnownTimes(other), teardown.settings, stop=stop)
    of_one, of_other, lonely = strata.matched(planner, second)
    sections = [strata.build_section(p, ids, strata.GIVEN) for p, ids in ((planner, of_one), (second, of_other))]
    yield Shown(planners=(planner, second), section=strata.side_by_side(*sections), lonely=tuple(lonely))


def _ghost(change: Difference, settings: Settings, section: Section, name: str,
           stop: Callable[[], bool]) -> Iterator[Ghost | None]:
    yield None
    yield strata.ghost_of(section, name, Planner(change.record, KnownTimes(change.record), settings, stop=stop))


def _path_html(panel: QWidget, planner: Planner, column: Column) -> str:
    """The way to a part as it can be read aloud, with its cautions."""
    teardown, plan = planner.teardown, column.plan
    proven = panel.tr("proven") if plan.optimal else panel.tr("at least {0}").format(plan.lower_bound)
    rows, step = [], 0
    for number_of_step, text, remark in strata.path_in_words(planner, column):
        if number_of_step != step:
            step = number_of_step
            rows.append(f"<p style='margin:9px 0 2px 0; font-weight:600'>{panel.tr('Step')} {step}</p>")
        note = f" <span style='color:gray'>({html.escape(remark)})</span>" if remark else ""
        rows.append(f"<p style='margin:1px 0 1px 10px'>{html.escape(text)}{note}</p>")
    carrier = planner.structure.stand_in[column.part]
    through = "" if carrier == column.part else panel.tr(" comes off with {0}:").format(
        wording.name_of(teardown, carrier))
    head = (f"<p style='font-size:large; font-weight:600'>"
            f"{html.escape(wording.name_of(teardown, column.part))}</p><p>{html.escape(through)} "
            f"<span style='font-weight:600'>{column.count.steps} {panel.tr('steps')}</span>, {proven}; "
            f"{wording.duration_text(column.count.time_ms / 1000)}; "
            f"{panel.tr('{0} acts live').format(column.count.live_acts)}</p>")
    return head + "".join(rows) + _cautions_html(column)


def _cautions_html(column: Column) -> str:
    texts = wording.caution_texts(hazard for layer in column.layers for hazard in layer.hazards)
    if not texts:
        return ""
    lines = "".join(f"<p style='margin:3px 0 3px 10px'>{html.escape(text)}</p>" for text in texts)
    return (f"<p style='margin:12px 0 2px 0; font-weight:600'>Cautions</p>{lines}"
            f"<p style='margin:3px 0 3px 10px; color:gray'>{html.escape(wording.CAUTIONS_FIRST)}</p>")


def convention_text(settings: Settings) -> str:
    """The convention in a sentence; it is part of every result."""
    hand = "bare hand counts as a tool" if settings.hand_is_tool else "bare hand not counted as a tool"
    words = ["Fewest steps (EN 45554)", hand]
    if settings.own_step:
        words.append(f"a step of their own: {', '.join(settings.own_step)}")
    if settings.each_tool:
        words.append("each further tool at the same time one step more")
    if settings.tool_groups:
        words.append("tools that count as one: " + "; ".join(", ".join(group) for group in settings.tool_groups))
    words.append("power isolated first" if settings.isolate_first else "power isolated when it comes")
    words.append(f"change of tool {settings.tool_change_s:g} s, turn {settings.turn_s:g} s")
    words.append("thickness grows with the square root of the time")
    return " · ".join(words)
