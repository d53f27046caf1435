"""A piece of work on paper: everything that goes back, or the replacement of a part; looked at, printed, written."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QPushButton, QTextBrowser, QVBoxLayout, QWidget

from oddbolt.model.refusal import Refusal
from oddbolt.paint.documents.procedure import procedure_html, procedure_pdf
from oddbolt.paint.pages import PAGES_MM
from oddbolt.reassembly.rebuilding.jobs import Job, replacing, whole_job
from oddbolt.reports.as_html import to_html
from oddbolt.reports.content.procedure import Procedure, footer_text, procedure_page
from oddbolt.session.derived import Derived
from oddbolt.session.session import Session
from oddbolt.store.files import write_whole
from oddbolt.ui.background.answer import Answer
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.ui.pieces.suffix import suffixed
from oddbolt.words.names import name_of
from oddbolt.words.refusals import refusal_text
from oddbolt.words.translate import tr

HTML = "html"
FEW, MANY = "few", "many"
Made = tuple[Procedure | None, bool]  # the page, and whether it is not known what the spare brings


class PlanPage(QWidget):
    """The chosen job as a page; found in a job of its own."""

    said = Signal(str, bool)

    def __init__(self, session: Session, folder: Path) -> None:
        super().__init__()
        self._session, self._folder = session, folder
        self._answer = Answer(self, session, self._show, lambda words: self.said.emit(words, True),
                              faint=lambda faint: self.page.setEnabled(not faint))
        self.made: Procedure | None = None
        self.what, self.spare = QComboBox(), QComboBox()
        self.write = QPushButton(tr("Print or write…"))
        self.page = QTextBrowser()
        self.state = label("", "faint", wrap=True)
        self._build()

    def _build(self) -> None:
        self.spare.addItem(tr("If the spare brings nothing along"), MANY)
        self.spare.addItem(tr("If the spare brings everything along"), FEW)
        for combo in (self.what, self.spare):
            combo.setMinimumContentsLength(12)
            combo.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.what.setAccessibleName(tr("What is to be done"))
        self.spare.setAccessibleName(tr("What the spare brings along"))
        self.page.setAccessibleName(tr("The work as a page"))
        self.page.setOpenLinks(False)
        explain((self.what, tr("Everything back, or one part replaced: way in, swap and way back")),
                (self.spare, tr("It is not on record what the spare brings: in Parts it can be told")),
                (self.write, tr("As PDF on A4 or Letter, or as HTML, with pictures")),
                (self.page, tr("What is needed first, then step by step")))
        row = QHBoxLayout()
        row.addWidget(self.what, 2)
        row.addWidget(self.spare, 1)
        row.addWidget(self.write)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(row)
        box.addWidget(self.state)
        box.addWidget(self.page, 1)
        self.state.hide()
        self.what.currentIndexChanged.connect(lambda _: self._ask())
        self.spare.currentIndexChanged.connect(lambda _: self._ask())
        self.write.clicked.connect(lambda _: self._ask_where())

    def showEvent(self, _event: object) -> None:  # noqa: N802 (Qt's name)
        self.refresh()

    def refresh(self) -> None:
        """The parts that can be replaced, as the record has them now."""
        if not self.isVisible():
            return
        derived, chosen = self._session.derived, self.what.currentData()
        self.what.blockSignals(True)
        self.what.clear()
        self.what.addItem(tr("Put back everything that is off"), "")
        first = derived.priority_parts()
        for part in (*first, *(one for one in derived.structure.removals if one not in first)):
            self.what.addItem(tr("Replace {0}").format(name_of(self._session.teardown, part)), part)
        self.what.setCurrentIndex(max(0, self.what.findData(chosen)))
        self.what.blockSignals(False)
        self._ask()

    def choose(self, part: str) -> None:
        """The replacement of a part."""
        self.refresh()
        self.what.setCurrentIndex(max(0, self.what.findData(part)))

    def _ask(self) -> None:
        derived, part, which = self._session.derived, self.what.currentData() or "", self.spare.currentData()
        self._answer.ask(lambda stop: _find(derived, part, which, stop), part, which)

    def _show(self, found: Made | None) -> None:
        self.made, is_range = found if found is not None else (None, False)
        self.spare.setVisible(is_range)
        self.write.setEnabled(self.made is not None)
        self.page.setHtml(to_html(self.made.page) if self.made is not None else "")
        self.state.setText("" if self.made is not None else tr("It cannot be taken off"))
        self.state.setVisible(self.made is None)

    # -- printing

    def _ask_where(self) -> None:
        formats = {tr("PDF on {0} (*.pdf)").format(name): name for name in PAGES_MM if name != "A3"}
        formats[tr("Page with pictures (*.html)")] = HTML
        path, chosen = QFileDialog.getSaveFileName(self, tr("Print or write"), str(self._folder / "procedure.pdf"),
                                                   ";;".join(formats))
        if path:
            kind = formats.get(chosen) or (HTML if path.lower().endswith(".html") else next(iter(formats.values())))
            self.write_to(Path(suffixed(path, ".html" if kind == HTML else ".pdf")), kind)

    def write_to(self, path: Path, kind: str) -> None:
        """As HTML, or as PDF on a paper of that name."""
        made, photo = self.made, self._session.photo
        if made is None:
            return
        try:
            write_whole(path, procedure_html(made, photo).encode() if kind == HTML else procedure_pdf(
                made, photo, kind, partial(footer_text, self._session.teardown)))
        except Refusal as refusal:
            self.said.emit(tr("Nothing was written. {0}").format(refusal_text(refusal)), True)
            return
        self.said.emit(tr("Written to {0}").format(path), False)

    def stop(self) -> None:
        self._answer.stop()


def _find(derived: Derived, part: str, which: str, stop: Callable[[], bool]) -> Iterator[Made]:
    planner = derived.planner_for(stop=stop)
    if not part:
        yield procedure_page(planner, whole_job(planner)), False
        return
    found = replacing(planner, part)
    if found is None:
        yield None, False
        return
    job: Job = found.few if which == FEW else found.many
    yield procedure_page(planner, job), found.is_range
