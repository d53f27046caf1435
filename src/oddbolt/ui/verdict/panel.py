"""The Verdict: several methods side by side, one opened, with the rule and the evidence of every point, what is open,
and what would change it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QListWidget, QTabWidget, QVBoxLayout, QWidget

from oddbolt.model.refusal import Refusal
from oddbolt.paint.palette import Palette
from oddbolt.scoring.evaluate import Verdict
from oddbolt.scoring.method import INDEX, Method, fitting_methods, load_method
from oddbolt.scoring.rubrics import copy_of, take_in
from oddbolt.session.session import Session
from oddbolt.session.verbs.answers import answer
from oddbolt.session.verbs.judging.said import set_opinion, set_resupplied
from oddbolt.ui.background.answer import Answer
from oddbolt.ui.log.keys import TELL_KEYS
from oddbolt.ui.pieces.sheet import explain, label, scrolled, sheet
from oddbolt.ui.verdict.answers import AnswersForm
from oddbolt.ui.verdict.changing import ChangesPage
from oddbolt.ui.verdict.judging import Found, judge_all
from oddbolt.ui.verdict.opinions import OpinionsPage
from oddbolt.ui.verdict.points import PointsTree
from oddbolt.ui.verdict.rubric import RubricSheet
from oddbolt.ui.verdict.table import VerdictTable
from oddbolt.ui.widgets.contributions import Contributions
from oddbolt.ui.widgets.index_scale import IndexScale
from oddbolt.ui.workspace import Workspace
from oddbolt.words.judging.verdicts import class_text, convention_text, firm_text, index_text, move_text
from oddbolt.words.names import name_of, names_of
from oddbolt.words.refusals import refusal_text
from oddbolt.words.translate import of_data, tr

MOST_MOVES = 40


class VerdictPanel(Workspace):
    """Judged in a job: a verdict takes as long as the depths of all its parts, and how far it holds takes longer."""

    refreshes_later = True  # the editors are replaced, and not from within their own signals
    part_asked = Signal(str)  # the way to it
    thing_asked = Signal(str)  # a thing on the photographs

    def __init__(self, session: Session, palette: Palette) -> None:
        super().__init__(session)
        self._found = Answer(self, session, self._show, self._say_problem, faint=self._set_faint,
                             progressed=self._progressed)
        self._ids: list[str] = []  # methods that are evaluated
        self._opened = ""
        self._so_far: Found | None = None
        self._shown: Verdict | None = None
        self.table = VerdictTable()
        self.scale, self.chart = IndexScale(palette), Contributions(palette)
        self.headline, self.firm = label("", "title"), label("", "faint", wrap=True)
        self.points = PointsTree(palette)
        self.unknowns, self.assumed = QListWidget(), QListWidget()
        self.answers, self.changes, self.opinions = AnswersForm(), ChangesPage(session), OpinionsPage()
        self.source = label("", "faint", wrap=True)
        self.tabs, self.below = QTabWidget(), QTabWidget()
        self._build()
        self._connect()

    def _build(self) -> None:
        font = self.headline.font()
        font.setPointSizeF(font.pointSizeF() * 1.4)
        self.headline.setFont(font)
        for widget, name, told in (
                (self.unknowns, tr("What could move it"), tr("What could move the verdict, by what it tells of the "
                                                             "class; a double click answers or goes there")),
                (self.assumed, tr("What is assumed"), tr("What these points take for true without proof"))):
            widget.setAccessibleName(name)
            widget.setWordWrap(True)
            widget.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
            explain((widget, told))
        self._build_tabs()
        self._build_below()
        left = QVBoxLayout()
        left.addWidget(sheet("", self.table))
        left.addWidget(sheet("", self.headline, self.firm, self.scale))
        left.addWidget(self.below, 1)
        self.tabs.setFixedWidth(22 * self.fontMetrics().height())
        whole = QHBoxLayout(self)
        whole.setContentsMargins(10, 8, 10, 8)
        whole.setSpacing(10)
        whole.addLayout(left, 1)
        whole.addWidget(self.tabs)

    def _build_tabs(self) -> None:
        """At the side: what is asked, open, and would change it."""
        open_page = QWidget()
        column = QVBoxLayout(open_page)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.unknowns, 3)
        column.addWidget(label(tr("Assumed on the ways in"), "title"))
        column.addWidget(self.assumed, 1)
        for page, text in ((self.answers, tr("Answers")), (open_page, tr("Open")), (self.changes, tr("Change")),
                           (self.opinions, tr("Opinions"))):
            self.tabs.addTab(page, text)
        self.tabs.setTabToolTip(0, tr("What the method asks for"))
        self.tabs.setTabToolTip(1, tr("What could move the verdict"))
        self.tabs.setTabToolTip(2, tr("What would change the class"))
        self.tabs.setTabToolTip(3, tr("Someone's own mark, with what speaks for and against it"))

    def _build_below(self) -> None:
        """Points, shares of the index, source."""
        shares = QWidget()
        column = QVBoxLayout(shares)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.chart)
        column.addStretch(1)
        self.below.addTab(self.points, tr("Points"))
        source = QWidget()
        column = QVBoxLayout(source)
        column.setContentsMargins(0, 6, 0, 0)
        column.addWidget(self.source)
        column.addStretch(1)
        self.below.addTab(scrolled(shares), tr("Shares"))
        self.below.addTab(scrolled(source), tr("Source"))
        self.below.setTabToolTip(2, tr("Where the method is from, and what it does not cover"))
        self.below.setAccessibleName(tr("What the verdict rests on"))
        self.tabs.setAccessibleName(tr("What is asked, open, and would change it"))
        explain((self.below, tr("Points, shares of the index, source")),
                (self.tabs, tr("What is asked, what is open, what would change it, opinions")))
        self.below.setTabToolTip(0, tr("Each criterion with its points and what they rest on"))
        self.below.setTabToolTip(1, tr("What each criterion contributes: certain, open, and at most"))

    def _connect(self) -> None:
        self.table.opened.connect(self.open)
        self.table.chosen.connect(self._choose)
        self.table.copy_asked.connect(self._copy)
        self.table.edit_asked.connect(lambda id_: self._edit(load_method(id_)))
        self.table.take_in_asked.connect(self._ask_file)
        self.points.part_asked.connect(self.part_asked)
        self.points.thing_asked.connect(self.thing_asked)
        self.answers.answered.connect(lambda criterion, part, value: self.do(
            answer, self._opened, criterion, value, part, echo=False))
        self.answers.fixed.connect(lambda joint, parts: self.do(set_resupplied, joint, parts, echo=False))
        self.opinions.said.connect(lambda place, opinion: self.do(set_opinion, place, opinion, echo=False))
        self.unknowns.itemActivated.connect(lambda _: self._go_to_move(self.unknowns.currentRow()))

    # -- which methods

    def opened(self) -> None:
        self._found.forget()
        self._ids, self._opened, self._so_far = [], "", None

    def open(self, method: str) -> None:
        """Show what the verdict of a method rests on."""
        if method == self._opened:
            return
        self._opened = method
        if self._so_far is not None:
            self._show_opened(self._so_far)

    def _choose(self, method: str, on: bool) -> None:
        try:
            load_method(method)
        except Refusal as refusal:
            self.say(refusal_text(refusal), alarm=True)
            return
        if on and method not in self._ids:
            self._ids.append(method)
            self._opened = method
        elif not on and method in self._ids and len(self._ids) > 1:
            self._ids.remove(method)
            self._opened = self._opened if self._opened in self._ids else self._ids[0]
        self.refresh()

    def _copy(self, method: str) -> None:
        loaded = load_method(method)
        if loaded.kind != INDEX:
            self.say(tr("Only a method with points and classes can be copied and changed here."), alarm=True)
            return
        self._edit(copy_of(loaded, tr("{0}, own").format(of_data(loaded.name))))

    def _edit(self, method: Method) -> None:
        self.rubric = RubricSheet(self, method, self._rubric_kept)
        self.rubric.open()

    def _rubric_kept(self, method: Method) -> None:
        if method.id not in self._ids:
            self._ids.append(method.id)
        self._opened = method.id
        self._found.forget()
        self.refresh()

    def _ask_file(self) -> None:
        dialog = QFileDialog(self, tr("Take in a method file"), "", tr("Methods (*.toml)"))
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.fileSelected.connect(self.take_in)
        dialog.open()
        self.asked = dialog

    def take_in(self, path: str) -> None:
        """A method from elsewhere becomes one of one's own."""
        try:
            self._rubric_kept(take_in(Path(path)))
        except Refusal as refusal:
            self.say(refusal_text(refusal), alarm=True)

    # -- judging

    def refresh(self) -> None:
        teardown = self._session.teardown
        if not self._ids:
            self._ids = fitting_methods(teardown.device.category)
            self._opened = next((id_ for id_ in self._ids if load_method(id_).categories), self._ids[0])
        ids, opened, derived = tuple(self._ids), self._opened, self._session.derived

        def work(stop: Callable[[], bool]) -> Iterator[Found]:
            return judge_all(teardown, ids, opened, derived.plans(stop))

        self._found.ask(work, ids)

    def _set_faint(self, faint: bool) -> None:
        """What is shown is of an older record until it has been judged anew."""
        self.points.setEnabled(not faint)
        self.scale.setEnabled(not faint)
        if faint:
            self.firm.setText(tr("Judging…"))

    def _progressed(self, found: Found) -> None:
        """What is there is shown while the rest is looked into."""
        self._so_far = found
        if self._opened in found.verdicts:
            self.points.setEnabled(True)
            self.scale.setEnabled(True)
            self._show_opened(found, is_whole=False)
        else:
            self.table.show_verdicts(self._ids, found.verdicts, self._opened)

    def say(self, text: str, *, alarm: bool = False) -> None:
        self.firm.setText(text)

    def _say_problem(self, words: str) -> None:
        self.say(words, alarm=True)

    @property
    def is_judging(self) -> bool:
        """Whether something is still being looked into."""
        return self._found.is_stale

    def stop(self) -> None:
        self._found.stop()
        self.changes.stop()

    def _show(self, found: Found | None) -> None:
        if found is not None:
            self._so_far = found
            self._show_opened(found)

    def _show_opened(self, found: Found, *, is_whole: bool = True) -> None:
        self.table.show_verdicts(self._ids, found.verdicts, self._opened)
        verdict = found.verdicts.get(self._opened)
        if verdict is None or (not is_whole and verdict is self._shown):
            return
        self._shown = verdict
        teardown = self._session.teardown
        self.scale.setVisible(verdict.method.kind == INDEX and bool(verdict.method.classes))
        self.scale.show_verdict(verdict)
        self.chart.show_verdict(verdict)
        self.below.setTabVisible(1, verdict.method.kind == INDEX)
        self.headline.setText(", ".join(text for text in (index_text(verdict), class_text(verdict)) if text))
        self.firm.setText(tr("{0}. {1}").format(of_data(verdict.method.name), firm_text(verdict, TELL_KEYS)))
        self.points.show_verdict(verdict, teardown)
        self._fill_moves(verdict)
        self._fill_assumed(verdict)
        self.answers.show_asked(verdict.method, found.asked[self._opened], teardown)
        self.changes.show_method(self._opened)
        self.opinions.show_opinions(teardown, verdict)
        self.source.setText("\n".join((tr("{0} ({1}). Figures from memory; the text of the law decides.").format(
            of_data(verdict.method.source), of_data(verdict.method.edition)),
            *(of_data(note) for note in verdict.method.notes), convention_text(verdict.convention))))

    def _fill_moves(self, verdict: Verdict) -> None:
        self.unknowns.clear()
        standing = verdict.standing
        for move in standing.moves[:MOST_MOVES] if standing is not None else ():
            self.unknowns.addItem(move_text(self._session.teardown, verdict.method, move))
        if standing is None and verdict.method.kind == INDEX:
            self.unknowns.addItem(tr("Being looked into…"))
        elif not self.unknowns.count():
            self.unknowns.addItem(tr("Nothing"))

    def _fill_assumed(self, verdict: Verdict) -> None:
        self.assumed.clear()
        teardown = self._session.teardown
        for id_ in verdict.assumed:
            parts = [part for part, plan in verdict.plans.items()
                     if any(id_ in (op.joint, op.part) for op in plan.sequence)]
            self.assumed.addItem(tr("{0}, on the way to {1}").format(name_of(teardown, id_), names_of(teardown, parts)))
        if not verdict.assumed:
            self.assumed.addItem(tr("Nothing on the ways to the priority parts"))

    def _go_to_move(self, row: int) -> None:
        """To where a matter can be settled: its editor, or the thing it is about."""
        verdict = self._shown
        if verdict is None or verdict.standing is None or not 0 <= row < len(verdict.standing.moves):
            return
        source = verdict.standing.moves[row].source
        editor = self.answers.editors.get((source.criterion, None))
        if editor is not None or source.kind in ("tie", "no-part"):
            self.tabs.setCurrentIndex(0)
            (editor or self.answers).setFocus()
        elif source.things and source.things[0] in (*self._session.teardown.part, *self._session.teardown.joint):
            self.thing_asked.emit(source.things[0])
