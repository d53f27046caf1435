"""Sequence: the work as it was done and the best there is, tool by tool; other orders tried by hand; and why."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from functools import partial
from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QScrollArea,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from oddbolt.model.things import Teardown
from oddbolt.paint.lanes import lanes_svg
from oddbolt.paint.palette import Palette
from oddbolt.rules.counting import Count, count
from oddbolt.rules.device_state import Operation
from oddbolt.rules.policies import breaches
from oddbolt.search.planner import STEPS, TIME, Plan, Planner
from oddbolt.session.session import Session
from oddbolt.studies.orders import Orders
from oddbolt.studies.policy_cost import ISOLATE, Price, prices
from oddbolt.ui.background.answer import Answer
from oddbolt.ui.pieces.sheet import Echo, bring_in_sight, explain, label, lay_out, scrolled, sheet, tip
from oddbolt.ui.sequence.common_scale import CommonScale
from oddbolt.ui.sequence.export import SVG, ask_export, sequence_csv
from oddbolt.ui.sequence.found_list import FirmList, FoundList, Make, WhatIfList
from oddbolt.ui.sequence.in_order import InOrder
from oddbolt.ui.sequence.lanes import LanesView
from oddbolt.ui.sequence.policies import Policies
from oddbolt.ui.sequence.texts import Searched, figures_text, why_text
from oddbolt.ui.workspace import Workspace
from oddbolt.words.acts import comes_to, obstacle_text, short_operation
from oddbolt.words.names import name_of, names_of
from oddbolt.words.translate import tr, within

ID = Qt.ItemDataRole.UserRole


class SequencePanel(Workspace):
    """Searches in a job; what is shown of an older record is faint until the new answer is there."""

    def __init__(self, session: Session, palette: Palette, folder: Path) -> None:
        super().__init__(session)
        self._folder = folder
        self._plan = Answer(self, session, self._arrived, partial(self.say, alarm=True), faint=self._set_faint)
        self._costs = Answer(self, session, self._priced, partial(self.say, alarm=True))
        self._found: Searched | None = None
        self._sequence: list[Operation] = []
        self._first: Operation | None = None  # the operation chosen before
        self._prices: dict[str, Price] = {}
        self.performed = LanesView(session, palette, movable=False)
        self.planned = LanesView(session, palette, movable=True)
        self.targets = QListWidget()
        self.targets.setAccessibleName(tr("Parts to be taken off"))
        self.objective = QComboBox()
        self.objective.setAccessibleName(tr("What is least"))
        self.objective.addItem(tr("Fewest steps"), STEPS)
        self.objective.addItem(tr("Least time"), TIME)
        self.hand = QCheckBox(tr("The bare hand is a tool"))
        self.figures, self.words = label("", "", wrap=True), label("", "", wrap=True)
        self.policies = Policies()
        self.what_if, self.firm = WhatIfList(session, self._maker), FirmList(session, self._maker)
        self._lists: tuple[FoundList, ...] = (self.what_if, self.firm)
        for found in self._lists:
            found.said.connect(lambda text, alarm: self.say(text, alarm=alarm))
        self.in_order = InOrder(session)
        self.tabs = QTabWidget()
        self.echo = Echo()
        self.again = QPushButton(tr("Best order again"))
        self.cancel = QPushButton(tr("Cancel"))
        self.export = QPushButton(tr("Export…"))
        self.fold = QCheckBox(tr("Fold long waits"))
        _explain(self)
        self._build()
        self.scale = CommonScale(self.area, (self.planned, self.performed))
        self.fold.toggled.connect(self.scale.fold_waits)
        for signal in (self.objective.currentIndexChanged, self.hand.toggled):
            signal.connect(lambda _: self.search())
        self.policies.changed.connect(self.search)
        self.targets.itemChanged.connect(lambda _: self.search())
        self.again.clicked.connect(lambda _: self._take_best())
        self.cancel.clicked.connect(lambda _: self._cancel())
        self.export.clicked.connect(lambda _: ask_export(self, self._folder, self._written, self.say))
        self.planned.item_chosen.connect(self._item_chosen)
        for view in (self.performed, self.planned):
            view.item_chosen.connect(lambda place, view=view: self.in_order.choose(view, place))
            view.item_chosen.connect(lambda place, view=view: _bring_in_sight(self.area, view, place))
            # a scroll moves what is painted, and the names have to stay
            self.area.horizontalScrollBar().valueChanged.connect(view.update)
        self.planned.dropped.connect(self.move)
        self.planned.hovered.connect(self._hovered)

    def _build(self) -> None:
        both = QWidget()
        stack = QVBoxLayout(both)
        stack.setContentsMargins(8, 6, 8, 6)
        stack.addWidget(self.performed)
        stack.addSpacing(10)
        stack.addWidget(self.planned)
        stack.addStretch(1)
        self.area = scrolled(both)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.area.setWidgetResizable(True)
        left = QVBoxLayout()
        left.addWidget(sheet("", self.fold, self.area, stretch=2), 1)
        row = QHBoxLayout()
        row.addWidget(self.echo, 1)
        self.fold.setToolTip(tip(tr("Where for a minute or more nothing is done but wait, the time is cut short (F)")))
        self.fold.setShortcut("F")
        for button in (self.cancel, self.again, self.export):
            button.setObjectName("big")
            row.addWidget(button)
        left.addLayout(row)
        side = QWidget()
        right = QVBoxLayout(side)
        right.setContentsMargins(0, 0, 0, 0)
        right.addWidget(sheet(tr("To be taken off"), self.targets, self.objective, self.hand, stretch=1), 3)
        self.words.setAlignment(Qt.AlignmentFlag.AlignTop)
        right.addWidget(sheet(tr("What it comes to"), self.figures))
        self.tabs.setDocumentMode(True)
        self.tabs.tabBar().setDrawBase(False)
        for named in (self.tabs, self.tabs.tabBar()):
            named.setAccessibleName(tr("Why, what is kept to, what if, and how firm"))
        self.tabs.addTab(self.in_order, tr("List"))
        self.tabs.addTab(scrolled(self.words), tr("Why"))
        self.tabs.setCurrentIndex(1)
        self.tabs.addTab(scrolled(self.policies), tr("Kept to"))
        self.tabs.addTab(self.what_if, tr("What if"))
        self.tabs.addTab(self.firm, tr("How firm"))
        right.addWidget(self.tabs, 3)
        lay_out(self, left, side)

    # -- following the record

    def opened(self) -> None:
        self._found, self._sequence = None, []
        self._plan.forget()
        self._costs.forget()
        self.targets.clear()

    def refresh(self) -> None:
        for found in self._lists:
            found.refresh()
        teardown, derived = self._session.teardown, self._session.derived
        kept = set(self._chosen()) if self.targets.count() else set()
        begun = self.targets.count() > 0
        self.targets.blockSignals(True)
        self.targets.clear()
        for part in derived.structure.removals:
            item = QListWidgetItem(name_of(teardown, part))
            item.setData(ID, part)
            first = part in derived.priority_parts()[:1]
            item.setCheckState(Qt.CheckState.Checked if (part in kept if begun else first) else Qt.CheckState.Unchecked)
            self.targets.addItem(item)
        self.targets.blockSignals(False)
        settings = teardown.settings
        if not begun:
            self.policies.set_kept([ISOLATE] if settings.isolate_first else [])
            self.hand.blockSignals(True)
            self.hand.setChecked(settings.hand_is_tool)
            self.hand.blockSignals(False)
        self.performed.show_sequence(derived.structure, derived.performed, tr("As performed"))
        self.policies.show_performed(teardown, breaches(derived.structure, derived.performed))
        self.search()

    def _chosen(self) -> list[str]:
        items = [self.targets.item(n) for n in range(self.targets.count())]
        return [item.data(ID) for item in items if item.checkState() == Qt.CheckState.Checked]

    def choose_targets(self, parts: Sequence[str]) -> None:
        """Take just these off."""
        self.targets.blockSignals(True)
        for n in range(self.targets.count()):
            item = self.targets.item(n)
            item.setCheckState(Qt.CheckState.Checked if item.data(ID) in parts else Qt.CheckState.Unchecked)
        self.targets.blockSignals(False)
        self.search()

    def _maker(self) -> Make:
        """Makes a planner for a record (and other policies than those kept, if told), for a job to use."""
        kept_now, hand_is_tool, derived = frozenset(self.policies.kept()), self.hand.isChecked(), self._session.derived

        def make(record: Teardown, stop: Callable[[], bool], kept: frozenset[str] = kept_now) -> Planner:
            settings = replace(record.settings, isolate_first=ISOLATE in kept, hand_is_tool=hand_is_tool)
            return derived.planner_for(settings=settings, policies=kept - {ISOLATE}, stop=stop, record=record)

        return make

    # -- searching

    def search(self) -> None:
        """Find the best sequence for what is chosen; the one shown is faint until then."""
        teardown, chosen, objective = self._session.teardown, self._chosen(), self.objective.currentData()
        self._prices = {}
        self._costs.forget()
        if not chosen:
            self._plan.cancel()
            self._plan.forget()
            self._found, self._sequence = None, []
            self._show()
            self.figures.setText(tr("Choose at least one part"))
            return
        make = self._maker()
        self._plan.ask(lambda stop: _search(make, teardown, chosen, objective, stop), tuple(chosen), objective,
                       tuple(self.policies.kept()), self.hand.isChecked())

    def _set_faint(self, faint: bool) -> None:
        self.planned.stale = faint
        self.cancel.setVisible(faint)
        self.planned.update()
        if faint:
            self.say(tr("Looking for the best sequence…"))

    def _cancel(self) -> None:
        self._plan.cancel()
        self.say(tr("The search was given up; what is shown is the answer before"))

    def _arrived(self, found: Searched | None) -> None:
        if found is None:
            return
        self._found = found
        self.say("" if found.plan.feasible else tr("This cannot be done; in the way: {0}").format(
            names_of(self._session.teardown, found.plan.blocked_by)), alarm=not found.plan.feasible)
        self._take_best()
        self._look_for_prices(found.plan)

    def _look_for_prices(self, plan: Plan) -> None:
        """What each policy that is kept costs this plan; in a job of its own, when the plan is shown already."""
        kept, teardown, make = self.policies.kept(), self._session.teardown, self._maker()
        if plan.feasible and kept:
            self._costs.ask(lambda stop: prices(lambda some: make(teardown, stop, some), kept, plan.targets,
                                                plan.objective), tuple(kept), plan)

    def _priced(self, found: dict[str, Price] | None) -> None:
        self._prices = found or {}
        self._tell_policies(self._counted(self._sequence))

    def _take_best(self) -> None:
        self._sequence = list(self._found.plan.sequence) if self._found is not None else []
        self._first = None
        self.planned.chosen = None
        self._show()

    # -- showing

    def _counted(self, sequence: Sequence[Operation]) -> Count | None:
        found = self._found
        if found is None or not sequence:
            return None
        return count(found.planner.structure, found.planner.convention, found.planner.times, sequence)

    def _show(self) -> None:
        counted, found = self._counted(self._sequence), self._found
        structure = found.planner.structure if found is not None else self._session.derived.structure
        own = found is not None and self._sequence != list(found.plan.sequence)
        self.planned.show_sequence(structure, counted, tr("Your order") if own else tr("Best"))
        self.scale.renew()
        self.in_order.show_view(self.in_order.view or self.planned)
        self.again.setEnabled(own)
        self.export.setEnabled(counted is not None)
        self._tell_figures(counted)
        self._tell_policies(counted)
        self._tell_why()

    def _tell_policies(self, counted: Count | None) -> None:
        broken = breaches(self._found.planner.structure, counted) if self._found is not None and counted else ()
        self.policies.show_plan(self._session.teardown, broken, counted.live_acts if counted else 0, self._prices)

    def _tell_figures(self, counted: Count | None) -> None:
        found = self._found
        self.figures.setText("" if found is None or counted is None or found.plan.count is None else figures_text(
            found, counted, self._session.derived.performed, is_own=self._sequence != list(found.plan.sequence)))

    def _item_chosen(self, place: int) -> None:
        if self._first is not None and self._first not in self._sequence:
            self._first = None
        self._tell_why()
        self._first = self._sequence[place] if place < len(self._sequence) else None

    def _tell_why(self) -> None:
        """The chain that leads to the chosen operation, and how it stands to the one chosen before."""
        found, place = self._found, self.planned.chosen
        if found is None or found.orders is None or not self._sequence:
            self.words.setText("")
            return
        operation = self._sequence[place] if place is not None and place < len(self._sequence) else self._sequence[-1]
        self.words.setText(why_text(found.planner, found.orders, operation, self._first))

    def say(self, text: str, *, alarm: bool = False) -> None:
        self.echo.say(text, alarm=alarm)

    # -- another order

    def move(self, place: int, before: int) -> None:
        """Try an operation at another place; where the rules forbid it, it stays and the reason is said."""
        if self._found is None or not 0 <= place < len(self._sequence):
            return
        operation, before = self._sequence[place], max(0, min(before, len(self._sequence)))
        trial = self._found.planner.moved(self._sequence, place, before)
        counted = self._counted(trial)
        if counted is None or trial == self._sequence:
            return
        if counted.obstacles:
            where, obstacle = counted.obstacles[0]
            name = short_operation(self._session.teardown, trial[where])
            self.say(tr("Not there: {0}: {1}").format(
                name, within(obstacle_text(self._session.teardown, obstacle))), alarm=True)
            return
        self._sequence = trial
        self.planned.chosen = trial.index(operation)
        self.say(tr("Now {0}").format(comes_to(counted)))
        self._show()

    def _hovered(self, place: int, before: int) -> None:
        """While it is dragged: what it would come to there."""
        counted = self._counted(self._found.planner.moved(self._sequence, place, before)) if self._found else None
        if counted is not None and counted.obstacles:
            self.say(tr("Not there: {0}").format(
                within(obstacle_text(self._session.teardown, counted.obstacles[0][1]))), alarm=True)
        elif counted is not None:
            self.say(tr("There: {0}").format(comes_to(counted)))

    def _written(self, form: str) -> bytes:
        """What is shown, as a drawing or a table."""
        shown = [(view.title, view.picture) for view in (self.performed, self.planned) if view.picture is not None]
        return lanes_svg(shown) if form == SVG else sequence_csv(self._found, self._counted(self._sequence))

    def stop(self) -> None:
        self._plan.stop()
        self._costs.stop()
        for found in self._lists:
            found.stop()


def _search(make: Make, teardown: Teardown, targets: list[str], objective: str,
            stop: Callable[[], bool]) -> Iterator[Searched | None]:
    """Plan, its orders and their number; left at once when `stop` says so."""
    yield None
    planner = make(teardown, stop)
    plan = planner.plan(targets, objective)
    if not plan.feasible:
        yield Searched(planner=planner, plan=plan, orders=None, number=None)
        return
    yield None
    safe = planner.network.isolates_first and plan.count.live_acts == 0
    orders = Orders(planner.network, plan.sequence, safe=safe)
    yield Searched(planner=planner, plan=plan, orders=orders, number=orders.number())


def _bring_in_sight(area: QScrollArea, view: LanesView, place: int) -> None:
    box, bars = view.box_of(place), (area.horizontalScrollBar(), area.verticalScrollBar())
    box.translate(view.pos())
    port = area.viewport().size()
    for bar, first, last, room in ((bars[0], box.left(), box.right(), port.width()),
                                   (bars[1], box.top(), box.bottom(), port.height())):
        bring_in_sight(bar, room, first, last)


def _explain(panel: SequencePanel) -> None:
    explain((panel.targets, tr("What is to come off; everything that it takes is found")),
            (panel.objective, tr("What the search makes least")),
            (panel.hand, tr("Whether going from a tool to the bare hand is a change of tool")),
            (panel.again, tr("Leave your own order for the best one")),
            (panel.cancel, tr("Give the search up; the answer before stays")),
            (panel.export, tr("What is shown, as a drawing or a table")))
