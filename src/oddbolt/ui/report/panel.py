"""Report: sections are ticked, the sheets are seen as they will be, and written in the form that is asked for."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path

from msgspec import Struct
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QMenu,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from oddbolt.effort.times import KnownTimes
from oddbolt.model.giving_away import AUTHOR, PLACE, SERIALS, without_tales_of
from oddbolt.model.things import Teardown
from oddbolt.paint.documents.reports import ReportPictures, report_sheets
from oddbolt.paint.documents.sheets import Laid
from oddbolt.reports.content.report.compose import SECTIONS, compose_from, compose_short
from oddbolt.reports.content.report.ground import Ground, Report
from oddbolt.session.derived import Derived
from oddbolt.session.session import Session
from oddbolt.store.photographs import photographs
from oddbolt.ui.background.answer import Answer
from oddbolt.ui.background.jobs import Jobs
from oddbolt.ui.pieces.sheet import Echo, Elided, explain, label, lay_out, sheet
from oddbolt.ui.pieces.suffix import suffixed
from oddbolt.ui.report.preview import Preview
from oddbolt.ui.report.section_list import SectionList
from oddbolt.ui.report.writing import FORMS, Form, written
from oddbolt.ui.workspace import Workspace
from oddbolt.words.translate import tr

PAPERS = ("A4", "Letter")


class _Made(Struct, frozen=True):
    """What a job has made: the report, its pictures (made), and its sheets."""

    report: Report
    pictures: ReportPictures
    laid: Laid


class ReportPanel(Workspace):
    """What is ticked is remembered for the session; everything is made in jobs and seen before it is written."""

    def __init__(self, session: Session, folder: Path, others: Callable[[], Sequence[Teardown]]) -> None:
        """`others` are the records that were chosen to be compared with."""
        super().__init__(session)
        self._folder, self._others = folder, others
        self._sheets = Answer(self, session, self._show, self._say_problem, faint=self._set_faint,
                              progressed=self._progress)
        self._jobs = Jobs(self)
        self._kept: Ground | None = None
        self._of: tuple[Derived, tuple[str, ...], tuple[Teardown, ...]] | None = None  # what the ground is of
        self._wanted = _Wanted()
        self._lock = threading.Lock()  # one job at a time works on a ground; one that is given up ends at its next step
        self.made: _Made | None = None
        self.preview, self.echo = Preview(), Echo()
        self.sections, self.paper = SectionList(), QComboBox()
        self.short = QCheckBox(tr("Short: a single page"))
        self.all, self.none = QPushButton(tr("All")), QPushButton(tr("None"))
        self.leave_out = {PLACE: QCheckBox(tr("benches")), AUTHOR: QCheckBox(tr("names of analysts")),
                          SERIALS: QCheckBox(tr("serial number"))}
        self.beside = Elided("faint")
        self.write, self.cancel, self.progress = QPushButton(tr("Write…")), QPushButton(tr("Cancel")), QProgressBar()
        self.where = label("", "faint")
        self._build()

    def _build(self) -> None:
        for paper in PAPERS:
            self.paper.addItem(tr("On {0}").format(paper), paper)
        self.paper.setAccessibleName(tr("Paper"))
        self.progress.setRange(0, 100)
        self.progress.setAccessibleName(tr("How much of it is made"))
        menu = QMenu(self.write)
        for form in FORMS:
            menu.addAction(tr(form.text), lambda form=form: self.ask_where(form))
        self.write.setMenu(menu)
        self._explain()
        ticks = QHBoxLayout()
        ticks.addWidget(self.all)
        ticks.addWidget(self.none)
        ticks.addStretch(1)
        row = QWidget()
        row.setLayout(ticks)
        ticks.setContentsMargins(0, 0, 0, 0)
        side = sheet(tr("What is in it"), self.short, self.sections, row, self.beside, label(tr("Left out"), "title"),
                     *self.leave_out.values(), self.paper, self.write, stretch=2)
        below = QHBoxLayout()
        below.addWidget(self.where)
        below.addWidget(self.progress, 1)
        below.addWidget(self.cancel)
        left = QVBoxLayout()
        left.addWidget(self.preview, 1)
        left.addLayout(below)
        left.addWidget(self.echo)
        lay_out(self, left, side)
        self._set_faint(False)
        self._connect()

    def _explain(self) -> None:
        explain((self.short, tr("Picture, section, verdict and the facts that matter, on one page")),
                (self.sections, tr("What the report is composed of; double click goes to it")),
                (self.all, tr("Tick every section")), (self.none, tr("Untick every section")),
                (self.paper, tr("The paper it is set for")), (self.cancel, tr("Give it up")),
                (self.preview, tr("The sheets as they will be on paper")),
                (self.write, tr("As a document, tables, drawings, structure or marked photographs")))
        for what, box in self.leave_out.items():
            box.setObjectName(what)
            box.setToolTip(tr("Not told in what is written; photographs never tell more than their picture"))
            box.toggled.connect(lambda _: self._ask())

    def _connect(self) -> None:
        self.sections.changed.connect(self._ask)
        self.sections.asked_for.connect(self.go_to)
        self.short.toggled.connect(self._short_toggled)
        self.all.clicked.connect(lambda _: self.sections.tick(SECTIONS))
        self.none.clicked.connect(lambda _: self.sections.tick(()))
        self.paper.currentIndexChanged.connect(lambda _: self._ask())
        self.cancel.clicked.connect(lambda _: self._give_up())
        self.preview.turned.connect(lambda number, of: self.where.setText(
            tr("Sheet {0} of {1}").format(number, of) if of else ""))

    # -- what is asked for

    def opened(self) -> None:
        self._sheets.forget()
        self._kept = self._of = None
        self.made = None
        self.preview.show_sheets(None)

    def refresh(self) -> None:
        others = self._others()
        names = ", ".join(other.device.name or tr("Unnamed device") for other in others)
        self.beside.setText(tr("Beside: {0}").format(names) if others else tr("Beside: choose records in Compare"))
        self._ask()

    def others_changed(self) -> None:
        """Other records were chosen to be compared with."""
        self._stale = True
        if self.isVisible():
            self.catch_up()

    def _short_toggled(self, is_short: bool) -> None:
        for widget in (self.sections, self.all, self.none):
            widget.setEnabled(not is_short)
        self._ask()

    def left_out(self) -> tuple[str, ...]:
        return tuple(what for what, box in self.leave_out.items() if box.isChecked())

    def _ask(self) -> None:
        """Make the sheets anew; what was made of the sections before is kept."""
        if not self.isVisible():
            self._stale = True
            return
        derived, left_out, others = self._session.derived, self.left_out(), tuple(self._others())
        sections, paper = () if self.short.isChecked() else self.sections.ticked(), self.paper.currentData()
        if not sections and not self.short.isChecked():
            self._sheets.forget()
            self._show(None)
            self.echo.say(tr("Nothing is ticked."))
            return
        self.echo.say("")
        had = self._of
        if self._kept is None or had is None or had[0] is not derived or had[1] != left_out or \
                len(had[2]) != len(others) or any(a is not b for a, b in zip(had[2], others)):
            self._kept = self._ground(derived, left_out, others)
            self._of = derived, left_out, others
        ground = self._kept
        path = self._session.path
        self._sheets.ask(lambda stop: _make(ground, sections, paper, path, self._lock, self._wanted, stop), sections,
                         left_out, paper, ground)

    def _ground(self, derived: Derived, left_out: Sequence[str], others: Sequence[Teardown]) -> Ground:
        record = without_tales_of(derived.teardown, left_out) if left_out else derived.teardown
        planner = derived.planner_for(record=record, stop=self._wanted)
        paces = derived.paces
        return Ground(planner, [without_tales_of(other, left_out) for other in others],
                      lambda one: KnownTimes(one, paces=paces), self._wanted)

    # -- what was made

    def _show(self, made: _Made | None) -> None:
        self.made = made
        self.preview.show_sheets(made.laid if made is not None else None)
        self.write.setEnabled(made is not None)

    def go_to(self, section: str) -> None:
        """The sheet on which a section begins."""
        names = dict(self._begins())
        if section in names:
            self.preview.go_to(names[section])

    def _begins(self) -> Iterator[tuple[str, int]]:
        if self.made is not None:
            yield "cover", 1
            yield from self.made.laid.begins.items()

    @property
    def is_making(self) -> bool:
        """Whether a job is on its way."""
        return self._sheets.is_stale

    def _set_faint(self, faint: bool) -> None:
        self.progress.setVisible(faint)
        self.cancel.setVisible(faint)
        if faint:
            self.progress.setValue(0)

    def _progress(self, share: object) -> None:
        if isinstance(share, float):
            self.progress.setValue(round(100 * share))

    def _give_up(self) -> None:
        self._sheets.cancel()
        self._jobs.stop_all()
        self._set_faint(False)
        self.say(tr("Given up"))

    def _say_problem(self, words: str) -> None:
        self.say(words, alarm=True)

    def say(self, text: str, *, alarm: bool = False) -> None:
        self.echo.say(text, alarm=alarm)

    # -- writing

    def ask_where(self, form: Form) -> None:
        device = self._session.teardown.device.name or self._session.path.stem
        stem = "".join(c if c.isalnum() else "-" for c in device.lower()).strip("-") or "report"
        name, _ = QFileDialog.getSaveFileName(self, tr(form.text), str(self._folder / f"{stem}{form.suffix}"),
                                              tr("Folder") if form.is_folder else f"*{form.suffix}")
        if name:
            self.write_to(Path(name if form.is_folder else suffixed(name, form.suffix)), form)

    def write_to(self, path: Path, form: Form) -> None:
        """Write what is seen, in a job; the file is there whole or not at all."""
        made = self.made
        if made is None:
            return
        self._set_faint(True)
        paper = self.paper.currentData()
        self._jobs.start("write", lambda: written(form, made.report, made.pictures, paper, path),
                         lambda _: self._wrote(path), self._not_written, self._progress)

    def _wrote(self, path: Path) -> None:
        self._set_faint(self._sheets.is_stale)
        self.say(tr("Written to {0}").format(path))

    def _not_written(self, words: str) -> None:
        self._set_faint(self._sheets.is_stale)
        self.say(tr("Nothing was written. {0}").format(words), alarm=True)

    def stop(self) -> None:
        self._sheets.stop()
        self._jobs.stop_all()


class _Wanted:
    """Whether the job that works on the ground is to stop: asked by its planners, which outlive the job."""

    def __init__(self) -> None:
        self.asked: Callable[[], bool] = lambda: False

    def __call__(self) -> bool:
        return self.asked()


def _make(ground: Ground, sections: Sequence[str], paper: str, path: Path, lock: threading.Lock, wanted: _Wanted,
          stop: Callable[[], bool]) -> Iterator[float | _Made]:
    """The share that is done, last what was made; no sections: the short form."""
    while not lock.acquire(timeout=0.05):
        yield 0.0
    wanted.asked = stop
    try:
        making = compose_from(ground, sections) if sections else compose_short(ground.planner)
        for made in making:
            if isinstance(made, Report):
                break
            yield 0.5 * made
        report = made
        with photographs(path) as photo:
            pictures = ReportPictures(report, photo)
            for n, one in enumerate(report.pictures, start=1):
                pictures.jpeg(one.number)
                yield 0.5 + 0.4 * n / len(report.pictures)
            laid = report_sheets(report, pictures, paper)
        yield _Made(report, pictures, laid)
    finally:
        lock.release()
