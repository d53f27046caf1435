"""Compare: two to six records beside each other, and two analysts' records of one model."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from importlib.resources import as_file, files
from pathlib import Path

from msgspec import Struct
from msgspec.structs import replace
from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QIcon, QPainter, QPixmap
from PySide6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QMenu,
    QPushButton,
    QTabWidget,
    QVBoxLayout,
)

from oddbolt.comparing.analysts import agreed, orders
from oddbolt.comparing.criteria import on_criteria
from oddbolt.comparing.devices import Row, compared, matchings
from oddbolt.comparing.facts import Difference, Key, differences
from oddbolt.comparing.matching import Corrections, Matched
from oddbolt.comparing.profile import Profile, profile
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown
from oddbolt.paint.documents.chart import draw_device
from oddbolt.paint.palette import Palette
from oddbolt.reports.content.strata import DEPTH, DrawnSection, section_alone
from oddbolt.scoring.evaluate import Verdict, evaluate
from oddbolt.scoring.method import fitting_methods, load_method
from oddbolt.search.planner import Planner
from oddbolt.session.derived import Derived
from oddbolt.session.documents import free_path
from oddbolt.session.session import Session
from oddbolt.session.verbs.judging.merging import merged
from oddbolt.store.files import read_teardown
from oddbolt.store.matches import read_matches, write_matches
from oddbolt.store.photographs import photographs
from oddbolt.ui.background.answer import Answer
from oddbolt.ui.compare.analysts_page import AnalystsPage
from oddbolt.ui.compare.depths_page import DepthsPage
from oddbolt.ui.compare.made_with_page import MadeWithPage
from oddbolt.ui.compare.matching_page import MatchingPage
from oddbolt.ui.compare.strata_page import StrataPage
from oddbolt.ui.compare.told_page import ToldPage
from oddbolt.ui.pieces.sheet import Echo, explain, label, sheet, tip
from oddbolt.ui.workspace import Workspace
from oddbolt.words.judging.agreement import agreed_text, criterion_text, orders_text
from oddbolt.words.judging.comparing import names_apart
from oddbolt.words.judging.verdicts import convention_text
from oddbolt.words.refusals import refusal_text
from oddbolt.words.translate import of_data, tr

MOST = 6  # records beside each other, with the open one
DESK = "compare"  # the name under which the document keeps which records these were


class Beside(Struct, frozen=True):
    """Another record: its file, and the record itself, perhaps as another variant."""

    path: Path
    record: Teardown
    variant: str = ""


class Found(Struct, frozen=True, kw_only=True):
    """What a job has found so far."""

    rows: Sequence[Row]
    matched: Sequence[Matched]
    profiles: Sequence[Profile] = ()
    verdicts: Sequence[Sequence[Verdict]] = ()
    sections: Sequence[DrawnSection] = ()
    differences: Sequence[Difference] | None = None
    agreement: Sequence[str] = ()


class ComparePanel(Workspace):
    """The record that is open is the first; all by its convention."""

    refreshes_later = True  # lists are filled anew, and not from within their own signals

    made = Signal(str)  # a merged record was made: its path
    chosen_changed = Signal()

    def __init__(self, session: Session, palette: Palette, folder: Path) -> None:
        super().__init__(session)
        self._folder = folder
        self._answer = Answer(self, session, self._show, self._say_problem, faint=self._set_faint,
                              progressed=self._show_so_far)
        self._beside: list[Beside] = []
        self._told: dict[str, Corrections] = {}
        self.records, self.echo = QListWidget(), Echo()
        self.add, self.take_away = QPushButton(tr("Add")), QPushButton(tr("Take away"))
        self.cancel = QPushButton(tr("Cancel"))
        self.tabs, self.convention = QTabWidget(), label("", "faint", wrap=True)
        self.depths, self.made_with, self.strata = DepthsPage(palette), MadeWithPage(), StrataPage(palette)
        self.matching, self.analysts, self.told = MatchingPage(), AnalystsPage(), ToldPage(session)
        self._build()

    def _build(self) -> None:
        self.records.setAccessibleName(tr("Records that are compared"))
        self.records.setFlow(QListWidget.Flow.LeftToRight)
        self.records.setFixedHeight(3 * self.fontMetrics().height())
        self.records.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        menu = QMenu(self.add)
        menu.addAction(tr("Other records…"), self.ask_others)
        menu.addAction(tr("Dunlin 3, the successor of the demo"), lambda: self.add_demo("dunlin-3"))
        menu.addAction(tr("Curlew, as another analyst recorded it"), lambda: self.add_demo("curlew-2"))
        self.variants = menu.addMenu(tr("This record as another variant"))
        menu.aboutToShow.connect(self._fill_variants)
        self.add.setMenu(menu)
        explain((self.records, tr("The open record is the first; all are counted by its convention")),
                (self.add, tr("Another record, up to six; several at once may be chosen")),
                (self.take_away, tr("Take the chosen record away")),
                (self.cancel, tr("Give it up; what is shown stays")))
        row = QHBoxLayout()
        row.addWidget(self.records, 1)
        for button in (self.cancel, self.add, self.take_away):
            row.addWidget(button)
        for page, text in ((self.depths, tr("Depths and causes")), (self.made_with, tr("Made with")),
                           (self.strata, tr("Sections")), (self.matching, tr("What stands for what")),
                           (self.analysts, tr("Two analysts")), (self.told, tr("Ways told"))):
            self.tabs.addTab(page, text)
        box = QVBoxLayout(self)
        box.setContentsMargins(10, 8, 10, 8)
        box.addLayout(row)
        box.addWidget(sheet("", self.tabs, stretch=1), 1)
        box.addWidget(self.echo)
        box.addWidget(self.convention)
        self._set_faint(False)
        self.take_away.clicked.connect(lambda _: self._take_away())
        self.cancel.clicked.connect(lambda _: self._answer.cancel())
        self.matching.corrected.connect(self._corrected)
        self.matching.refused.connect(lambda words: self.say(words, alarm=True))
        self.analysts.merge_asked.connect(self.ask_merge)
        self.told.verb_asked.connect(lambda verb, args, keys: self.do(verb, *args, **keys))

    # -- which records

    def opened(self) -> None:
        self._answer.forget()
        self._beside = []
        self._told = {}
        if not self._session.document.is_open:
            return
        try:
            self._told = read_matches(self._session.path)
        except Refusal as refusal:
            self.say(refusal_text(refusal), alarm=True)
        kept = self._session.document.on_desk(DESK)
        for row in kept if isinstance(kept, list) else ():
            if isinstance(row, list) and len(row) == 2 and all(isinstance(one, str) for one in row):
                self._add(Path(row[0]), row[1], quiet=True)

    def others(self) -> list[Teardown]:
        """The records beside the open one, for the report."""
        return [one.record for one in self._beside]

    @property
    def teardowns(self) -> tuple[Teardown, ...]:
        return (self._session.teardown, *(one.record for one in self._beside))

    def ask_others(self) -> None:
        names, _ = QFileDialog.getOpenFileNames(self, tr("Compare with other records"), str(self._folder),
                                                tr("Records (*.oddbolt *.json)"))
        for name in names:
            self.add_record(Path(name))

    def add_demo(self, name: str) -> None:
        with as_file(files("oddbolt").joinpath("demo", f"{name}.json")) as path:
            self.add_record(path)

    def add_record(self, path: Path, variant: str = "") -> None:
        """Another record beside these; refused where there are six, or it cannot be read."""
        if self._add(path, variant):
            self._chosen_anew()

    def _add(self, path: Path, variant: str = "", *, quiet: bool = False) -> bool:
        if len(self._beside) + 1 >= MOST:
            self.say(tr("Six records at most stand beside each other"), alarm=True)
            return False
        try:
            record = self._session.teardown if variant and path == self._session.path else read_teardown(path)
        except Refusal as refusal:
            if not quiet:
                self.say(refusal_text(refusal), alarm=True)
            return False
        if variant:
            record = replace(record, device=replace(record.device, variant=variant))
        self._beside.append(Beside(path, record, variant))
        return True

    def _fill_variants(self) -> None:
        self.variants.clear()
        teardown = self._session.teardown
        words = dict.fromkeys(word for thing in (*teardown.parts, *teardown.joints) for word in thing.only_in)
        for word in words:
            if word != teardown.device.variant:
                self.variants.addAction(word.replace("&", "&&"),
                                        lambda word=word: self.add_record(self._session.path, word))
        self.variants.setEnabled(not self.variants.isEmpty())

    def _take_away(self) -> None:
        row = self.records.currentRow()
        if row < 1:
            self.say(tr("Choose one of the other records; the open one stays"))
            return
        self._beside.pop(row - 1)
        self._chosen_anew()

    def _chosen_anew(self) -> None:
        self.say("")
        if not self._session.document.is_read_only:
            try:
                self._session.document.keep_on_desk(DESK, [[str(one.path), one.variant] for one in self._beside])
            except Refusal as refusal:
                self.say(refusal_text(refusal), alarm=True)
        self.refresh()
        self.chosen_changed.emit()

    # -- finding

    def refresh(self) -> None:
        self.told.refresh()
        records = self.teardowns
        names = names_apart(records)
        row = self.records.currentRow()
        self.records.clear()
        for n, name in enumerate(names):
            item = QListWidgetItem(_sign(n), name)
            item.setToolTip(tip(str(self._beside[n - 1].path if n else self._session.path)))
            self.records.addItem(item)
        self.records.setCurrentRow(min(row, len(names) - 1))
        for n in (3, 4):
            self.tabs.setTabEnabled(n, len(names) > 1)
        self.take_away.setEnabled(len(names) > 1)
        self.convention.setText(convention_text(self._session.teardown.settings))
        if len(records) < 2:
            self.analysts.clear(tr("Add another record of the same model above."))
            self.say(tr("Only the open record is shown: add others above."))
        derived, told, paths = self._session.derived, self._told_by_place(), tuple(one.path for one in self._beside)
        self._answer.ask(lambda stop: _find(derived, records, names, told, stop), *records[1:], tuple(sorted(
            (n, repr(one)) for n, one in told.items())), paths)

    def _told_by_place(self) -> dict[int, Corrections]:
        return {n: self._told[one.path.name] for n, one in enumerate(self._beside, start=1)
                if one.path.name in self._told}

    @property
    def is_finding(self) -> bool:
        """Whether a job is on its way."""
        return self._answer.is_stale

    def _set_faint(self, faint: bool) -> None:
        self.cancel.setVisible(faint)

    def _show_so_far(self, found: Found | None) -> None:
        if found is not None:
            self._show(found)

    def _show(self, found: Found | None) -> None:
        if found is None:
            return
        records = self.teardowns
        names = names_apart(records)
        chosen = self.depths.table.currentRow()
        self.depths.show_rows(records, names, found.rows)
        if 0 <= chosen < len(found.rows):
            self.depths.table.setCurrentCell(chosen, 0)
        if found.profiles:
            self.made_with.show_all(names, found.profiles, found.verdicts)
        if found.sections:
            self.strata.show_sections(list(zip(names, found.sections)))
        if len(records) > 1:
            self.matching.show_matching(records, names, list(found.matched), self._told_by_place())
        if found.differences is not None:
            self.analysts.show_pair((records[0], records[1]), names, found.differences, found.agreement,
                                    (self._session.photo, self._photo_of(self._beside[0].path)), found.matched[0])

    @staticmethod
    def _photo_of(path: Path) -> Callable[[str], bytes | None]:
        def photo(name: str) -> bytes | None:
            try:
                with photographs(path) as read:
                    return read(name)
            except Refusal:
                return None

        return photo

    # -- setting right, merging

    def _corrected(self, place: int, told: Corrections) -> None:
        name = self._beside[place - 1].path.name
        before = self._told
        self._told = {**self._told, name: told}
        try:
            write_matches(self._session.path, self._told)
        except Refusal as refusal:
            self._told = before
            self.say(refusal_text(refusal), alarm=True)
            return
        self.say("")
        self.refresh()

    def ask_merge(self, taken: Sequence[Key]) -> None:
        if not taken:
            self.say(tr("Tick what is to be taken over from the second record first."), alarm=True)
            return
        start = free_path(self._session.path.parent, tr("{0} merged").format(self._session.path.stem))
        name, _ = QFileDialog.getSaveFileName(self, tr("Make a merged record"), str(start), "*.oddbolt")
        if name:
            self.merge_to(Path(name if name.endswith(".oddbolt") else f"{name}.oddbolt"), taken)

    def merge_to(self, path: Path, taken: Sequence[Key]) -> bool:
        """A copy of the open document with these facts as the second record tells them; it can be undone there."""
        from oddbolt.model.label import Label
        from oddbolt.store.document import Document

        found = self._answer.value
        records = self.teardowns
        try:
            record = merged(records[0], records[1], found.matched[0], taken)
            self._session.document.copy_to(path)
            with Document.open(path) as document:
                document.commit(record, Label("merge", {"count": len(taken)}), self._session.now().isoformat())
        except Refusal as refusal:
            self.say(tr("Nothing was made. {0}").format(refusal_text(refusal)), alarm=True)
            return False
        self.say(tr("{0} facts taken over; the merged record is {1}").format(len(taken), path))
        self.made.emit(str(path))
        return True

    def _say_problem(self, words: str) -> None:
        self.say(words, alarm=True)

    def say(self, text: str, *, alarm: bool = False) -> None:
        self.echo.say(text, alarm=alarm)

    def stop(self) -> None:
        self._answer.stop()
        self.told.stop()


def _sign(number: int) -> QIcon:
    pixmap = QPixmap(32, 32)
    pixmap.setDevicePixelRatio(2)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    draw_device(painter, number, QRectF(0, 0, 16, 16).center())
    painter.end()
    return QIcon(pixmap)


def _find(derived: Derived, records: Sequence[Teardown], names: Sequence[str], told: dict[int, Corrections],
          stop: Callable[[], bool]) -> Iterator[Found | None]:
    """First depths, then why they differ, then what each is made with and judged to be."""
    settings = records[0].settings

    def make(record: Teardown) -> Planner:
        return derived.planner_for(record=record, settings=settings, stop=stop)

    planners = [make(record) for record in records]
    matched = matchings(planners, told)
    found = Found(rows=compared(make, planners, told, with_causes=False), matched=matched)
    yield found
    profiles = []
    for planner in planners:
        profiles.append(profile(planner))
        yield None
    sections = [section_alone(planner, [part.id for part in planner.teardown.parts
                                        if part.role and part.id in planner.structure.present], DEPTH)
                for planner in planners]
    found = replace(found, profiles=profiles, sections=sections)
    yield found
    found = replace(found, rows=compared(make, planners, told))
    yield found
    verdicts = []
    for id_ in fitting_methods(records[0].device.category):
        method = load_method(id_)
        verdicts.append([evaluate(record, method, derived.planner_for(record=record).times) for record in records])
        yield None
    found = replace(found, verdicts=verdicts)
    if len(records) > 1:
        found = replace(found, differences=differences(records[0], records[1], matched[0]),
                        agreement=_agreement(planners[:2], names))
    yield found


def _agreement(planners: Sequence[Planner], names: Sequence[str]) -> list[str]:
    lines = [agreed_text(one) for one in agreed(planners)]
    lines += [orders_text(one, names) for one in orders(planners)]
    records = [planner.teardown for planner in planners]
    for id_ in fitting_methods(records[0].device.category):
        method = load_method(id_)
        lines += [f"{of_data(method.name)}, {criterion_text(one)}" for one in on_criteria(records, method)]
    return lines
