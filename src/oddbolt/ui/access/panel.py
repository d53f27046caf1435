"""Access: the section, and for the part under the pointer the way in, in words; two devices on one scale; what if."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from importlib.resources import as_file, files
from pathlib import Path

from PySide6.QtCore import Qt, Signal
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
)

from oddbolt.comparing.comparison import compare
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Settings, Teardown
from oddbolt.paint.palette import Palette
from oddbolt.reassembly.rebuilding.jobs import replacing
from oddbolt.reports.as_html import to_html
from oddbolt.reports.content import strata
from oddbolt.reports.content.strata import Column, DrawnSection, Ghost, Section, section_alone, section_of_both
from oddbolt.reports.content.way_in import way_in
from oddbolt.search.planner import Plan
from oddbolt.session.derived import AT_ONCE, Derived
from oddbolt.session.session import Session
from oddbolt.store.files import read_teardown
from oddbolt.studies.retelling import KNOWN, WAY_CONFIRMED, known_of
from oddbolt.studies.whatif import Redesign, changes
from oddbolt.ui.access.section import Key, SectionView
from oddbolt.ui.access.why import Why
from oddbolt.ui.background.answer import Answer
from oddbolt.ui.pieces.sheet import bring_in_sight, explain, label, lay_out, sheet
from oddbolt.ui.workspace import Workspace
from oddbolt.words.judging.studies import redesign_text
from oddbolt.words.judging.verdicts import convention_text
from oddbolt.words.known import known_text, with_sign
from oddbolt.words.names import name_of, names_of, role_name
from oddbolt.words.refusals import refusal_text
from oddbolt.words.translate import tr

PRIORITY, ALL = "priority", "all"
SHOWN = 8  # characters of a choice that are seen at least


class AccessPanel(Workspace):
    """The section of the priority parts, of all parts, and of any part added; beside it that of another device."""

    tells = Signal(str)  # a part, the way to which is to be looked at

    def __init__(self, session: Session, palette: Palette, folder: Path) -> None:
        super().__init__(session)
        self._folder = folder
        self._section = Answer(self, session, self._show, self._say_problem, faint=self._set_faint)
        self._ghost = Answer(self, session, self._show_ghost, self._say_problem)
        self._known = Answer(self, session, self._take_known, self._say_problem)
        self._added: list[str] = []
        self._part = ""
        self._columns: tuple[Column, ...] = ()
        self._other: Teardown | None = None  # the device compared with
        self._shown: DrawnSection | None = None
        self._redesigns: list[Redesign] = []
        self.section = SectionView(palette)
        self.words, self.why = QTextBrowser(), Why(session)
        self.words.setAccessibleName(tr("The way in, in words"))
        self.scope, self.order, self.add, self.change = QComboBox(), QComboBox(), QComboBox(), QComboBox()
        for combo, name in ((self.scope, tr("Which parts")), (self.order, tr("Order of the columns")),
                            (self.add, tr("Add a part to the section")),
                            (self.change, tr("What if: a change on the way to the chosen part"))):
            combo.setAccessibleName(name)
            combo.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            combo.setMinimumContentsLength(SHOWN)
        for text, value in ((tr("Priority parts"), PRIORITY), (tr("All parts"), ALL)):
            self.scope.addItem(text, value)
        for text, value in ((tr("Shared strata on top"), strata.SHARED), (tr("By depth"), strata.DEPTH),
                            (tr("By role"), strata.ROLE)):
            self.order.addItem(text, value)
        self.compare = QPushButton(tr("Compare with…"))
        self.alone = QPushButton(tr("This device alone"))
        self.cancel = QPushButton(tr("Cancel"))
        self.copy = QPushButton(tr("Copy the words"))
        self.tell = QPushButton(tr("Is this way right?"))
        self.convention = label("", "faint", wrap=True)
        self.blocked = label("", "echo", wrap=True)
        self._scroll = QScrollArea()
        explain((self.scope, tr("Which parts have a column")),
                (self.order, tr("How the columns stand beside each other")),
                (self.add, tr("A column for one more part")),
                (self.change, tr("A change of the device, and what it would take off this way")),
                (self.cancel, tr("Give it up; what is shown stays")),
                (self.alone, tr("Take the other device away")),
                (self.compare, tr("The same parts of another record beside these")),
                (self.tell, tr("Look at it on the photographs, act by act, and say that it works or what is wrong with "
                               "it")),
                (self.copy, tr("The way in as text, to be pasted")))
        self._build(palette)

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
        side = sheet(tr("The way in"), self.words, self.why, self.tell, self.copy, stretch=1)
        lay_out(self, left, side)
        menu = QMenu(self.compare)
        menu.addAction(tr("Dunlin 3, the successor of the demo"), lambda: self.compare_with(demo_successor()))
        menu.addAction(tr("Another record…"), self.ask_other)
        self.compare.setMenu(menu)
        self.cancel.hide()
        self.section.column_chosen.connect(self._column_chosen)
        self.scope.activated.connect(self._scope_chosen)
        self.order.activated.connect(lambda _: self.refresh())
        self.add.activated.connect(self._add_chosen)
        self.change.activated.connect(self._change_chosen)
        self.alone.clicked.connect(lambda _: self.compare_with(None))
        self.tell.clicked.connect(lambda _: self._part and self.tells.emit(self._part))
        self.cancel.clicked.connect(lambda _: self._cancel())
        self.copy.clicked.connect(lambda: QGuiApplication.clipboard().setText(self.words.toPlainText()))

    # -- following the record

    def opened(self) -> None:
        self._added, self._part, self._other = [], "", None
        self._section.forget()
        self._ghost.forget()
        self._known.forget()

    def resizeEvent(self, event: QResizeEvent) -> None:  # noqa: N802
        super().resizeEvent(event)
        self.section.fit_width(self._scroll.viewport().width())

    def show_part(self, part: str) -> None:
        """Choose a part, adding it to the section if it is not there."""
        self._part = part
        if part not in self._parts():
            self._added.append(part)
        self.refresh()

    @property
    def part(self) -> str:
        """The part whose way is shown."""
        return self._part

    def _parts(self) -> list[str]:
        derived = self._session.derived
        if self.scope.currentData() == ALL:
            return list(derived.structure.removals)
        return list(dict.fromkeys((*derived.priority_parts(), *self._added)))

    def refresh(self) -> None:
        """Show the section as the record is now: at once on a device of usual size, else when a job has found it."""
        self._ghost.forget()
        derived, other, order = self._session.derived, self._other, self.order.currentData()
        self._added = [part for part in self._added if part in derived.structure.present]
        parts = self._parts()
        of = (other, tuple(parts), order)
        if derived.size <= AT_ONCE and other is None and self.scope.currentData() == PRIORITY:
            self._section.give(section_alone(derived.planner, parts, order, lambda plan: derived.known_so_far(
                plan, plan.targets[0])), *of)
        else:
            self._section.ask(lambda stop: _sections(derived, other, parts, order, stop), *of)

    def _set_faint(self, faint: bool) -> None:
        self.cancel.setVisible(faint)
        self.section.set_stale(faint)

    def _cancel(self) -> None:
        self._section.cancel()
        self.say(tr("Given up; what is shown is the section before"))

    def say(self, text: str, *, alarm: bool = False) -> None:
        self.blocked.setText(text)
        self.blocked.setVisible(bool(text))

    def _say_problem(self, words: str) -> None:
        self.say(words, alarm=True)

    def _show(self, shown: DrawnSection | None) -> None:
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
        self.tell.setEnabled(not compared)
        self._fill_add(parts)
        self.say("\n".join(self._remarks(shown)))
        signs = ", ".join(with_sign(known, known_text(known)) for known in KNOWN)
        self.convention.setText(tr("{0} · {1} · thickness grows with the square root of the time").format(
            signs, convention_text(shown.planners[0].convention.settings)))
        if parts:
            self._column_chosen(chosen)
        else:
            self.why.clear()
            self.words.setPlainText(tr("No part of both devices has the same role.") if compared
                                    else tr("No part has a role yet. Add any part above."))

        undecided = [column.plan for column in shown.section.columns if column.known == WAY_CONFIRMED] \
            if not compared else []
        if undecided:
            derived = self._session.derived
            self._known.ask(lambda stop: _find_known(derived, undecided, stop),
                            tuple(plan.targets for plan in undecided))

    def _take_known(self, found: list[tuple[Plan, str]]) -> None:
        """What took further plans to tell."""
        derived = self._session.derived
        news = [known for plan, known in found if known != derived.known_so_far(plan, plan.targets[0])]
        for plan, known in found:
            derived.keep_known(plan, known)
        if news:
            self.refresh()

    def _remarks(self, shown: DrawnSection) -> list[str]:
        teardown = shown.planners[0].teardown
        lines = [tr("{0} cannot be taken off; kept in by {1}").format(
            name_of(teardown, plan.targets[0]), names_of(teardown, plan.blocked_by))
            for plan in shown.section.blocked]
        if shown.lonely:
            lines.append(tr("Left out, in one device alone: {0}").format(
                ", ".join(role_name(role) for role in shown.lonely)))
        return lines

    # -- which parts

    def _fill_add(self, shown: list[str]) -> None:
        self.add.clear()
        self.add.addItem(tr("Add a part"), "")
        for id_ in self._session.derived.structure.removals:
            if id_ not in shown:
                self.add.addItem(name_of(self._session.teardown, id_), id_)

    def _add_chosen(self, row: int) -> None:
        if part := self.add.itemData(row):
            self.show_part(part)

    def _scope_chosen(self, _row: int) -> None:
        self._added = []
        self.refresh()

    # -- another device

    def ask_other(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, tr("Compare with another record"), str(self._folder),
                                              tr("Records (*.oddbolt *.json)"))
        if name:
            try:
                self.compare_with(read_teardown(Path(name)))
            except Refusal as refusal:
                self.say(refusal_text(refusal), alarm=True)

    def compare_with(self, other: Teardown | None) -> None:
        """Show another device too, parts of the same role beside each other, on one scale and by one convention."""
        self._other = other
        self.refresh()

    # -- what if

    def _fill_redesigns(self, column: Column) -> None:
        """Changes of what lies on the way to the chosen part."""
        planner = self._shown.planners[0]
        things = {timed.operation.part or timed.operation.joint for timed in column.count.timed}
        self._redesigns = [one for one in changes(planner) if one.thing in things or not one.thing]
        self.change.clear()
        self.change.addItem(tr("What if… (on the way to {0})").format(name_of(planner.teardown, column.part)))
        for one in self._redesigns:
            self.change.addItem(redesign_text(planner.teardown, one.kind, one.thing))

    def _change_chosen(self, row: int) -> None:
        if row <= 0:
            self._ghost.forget()
            self.section.show_ghost(None)
            return
        redesign, section, name = self._redesigns[row - 1], self._shown.section, self.change.itemText(row)
        settings, derived = self._shown.planners[0].convention.settings, self._session.derived
        self._ghost.ask(lambda stop: _ghost(derived, redesign, settings, section, name, stop), self._part, row)

    def _show_ghost(self, ghost: Ghost | None) -> None:
        self.section.show_ghost(ghost)
        if ghost is not None:
            saved = sum(column.count.steps - after.steps for column, after in zip(self._columns, ghost.counts) if after)
            self.say(tr("{0}: {1} steps less over the parts shown; what would go is faint").format(
                ghost.label, saved))

    # -- the way in

    def _column_chosen(self, number: int) -> None:
        column = self._columns[number]
        planner = self._shown.planners[number % len(self._shown.planners)]
        alone = len(self._shown.planners) == 1
        if alone and (self._part != column.part or not self._redesigns):
            self._ghost.forget()
            self.section.show_ghost(None)
            self._fill_redesigns(column)
        self._part = column.part
        if alone:
            self.why.clear()
        else:
            first = number - number % 2
            self.why.show_pair(self._shown.planners, (self._columns[first].part, self._columns[first + 1].part))
        back = replacing(planner, column.part) if self._session.derived.size <= AT_ONCE else None
        self.words.setHtml(to_html(way_in(planner, column, back)))
        self.section.setAccessibleDescription(tr("{0}. Left and right choose a part").format(
            self.words.toPlainText().split("\n")[0]))
        box = self.section.column_box(number)
        bring_in_sight(self._scroll.horizontalScrollBar(), self._scroll.viewport().width(), box.left(), box.right())

    def stop(self) -> None:
        self._section.stop()
        self._known.stop()
        self._ghost.stop()
        self.why.stop()


def demo_successor() -> Teardown:
    """The record of the demo device's successor, which ships."""
    with as_file(files("oddbolt").joinpath("demo", "dunlin-3.json")) as path:
        return read_teardown(path)


def _sections(derived: Derived, other: Teardown | None, parts: list[str], order: str,
              stop: Callable[[], bool]) -> Iterator[DrawnSection | None]:
    """The section, alone or beside that of another device by the same convention; left at once when `stop` says so."""
    yield None
    planner = derived.planner_for(stop=stop)
    if other is None:
        yield section_alone(planner, parts, order, lambda plan: derived.known_so_far(plan, plan.targets[0]))
    else:
        second = derived.planner_for(settings=derived.teardown.settings, record=other, stop=stop)
        yield section_of_both(compare(planner, second))


def _find_known(derived: Derived, plans: list[Plan], stop: Callable[[], bool]) -> Iterator[list[tuple[Plan, str]]]:
    planner, found = derived.planner_for(stop=stop), []
    for plan in plans:
        found.append((plan, known_of(lambda record: derived.planner_for(record=record, stop=stop), planner, plan)))
        yield []
    yield found


def _ghost(derived: Derived, redesign: Redesign, settings: Settings, section: Section, name: str,
           stop: Callable[[], bool]) -> Iterator[Ghost | None]:
    yield None
    yield strata.ghost_of(section, name, derived.planner_for(settings=settings, record=redesign.record, stop=stop))
