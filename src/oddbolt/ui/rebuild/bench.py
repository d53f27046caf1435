"""Putting back with both hands busy: one step fills the room; one key or the foot switch does it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QPoint, Qt, Signal
from PySide6.QtGui import QImage, QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QInputDialog, QLabel, QMenu, QPushButton, QVBoxLayout, QWidget

from oddbolt.model.things import Teardown
from oddbolt.paint.images import image_size, read_image
from oddbolt.paint.palette import Palette
from oddbolt.reassembly.rebuilding.pictures import Picture, picture_of
from oddbolt.reassembly.rebuilding.progress import OPEN, Progress, gaps_before
from oddbolt.reassembly.rebuilding.putting_back import APPLY, CHECK, FASTEN, FIT, Step
from oddbolt.session.session import Session
from oddbolt.ui.pieces.sheet import explain, label
from oddbolt.ui.rebuild.picture import StepPicture
from oddbolt.ui.rebuild.strip import BoltStrip
from oddbolt.words.names import name_of
from oddbolt.words.rebuilding.steps import (
    details,
    figure_text,
    gap_text,
    matter_text,
    reason_text,
    step_text,
    where_to_look,
)
from oddbolt.words.translate import tr

PICTURE_PX = 2000
SOON = 3  # steps told of what comes next
OTHERS_TOLD = 12


class BenchView(QWidget):
    """Shows a step and says which button was meant; the panel carries out."""

    done = Signal()
    other_done = Signal(int)  # another step was done instead, by its place
    left_out = Signal()
    wrong_letter = Signal(str)  # another screw went in
    bolt = Signal(str, str)  # a letter, and what became of one of it: lost, discarded, found
    failed = Signal()
    again = Signal()
    amount = Signal(float, str)  # what was applied, where that is not what was told
    out_again = Signal(int)  # the step at this place was done and is undone

    def __init__(self, session: Session, palette: Palette) -> None:
        super().__init__()
        self._session = session
        self.progress: Progress | None = None
        self.picture, self.strip = StepPicture(), BoltStrip(palette)
        self.place, self.reason = label("", "faint"), label("", "faint", wrap=True)
        self.act, self.figure = label("", "", wrap=True), label("", "", wrap=True)
        self.more, self.alarm = label("", "", wrap=True), label("", "problem", wrap=True)
        self.next = label("", "faint", wrap=True)
        self.do = QPushButton(tr("Done"))
        self.not_so, self.wrong = QPushButton(tr("Not so…")), QPushButton(tr("Came out wrong…"))
        self._image: tuple[str, QImage, float] = "", QImage(), 1.0
        self._build()

    def _build(self) -> None:
        line = self.fontMetrics().height()
        _larger(self.act, 2.0)
        _larger(self.figure, 3.2)
        _larger(self.more, 1.2)
        _larger(self.alarm, 1.2)
        for button, name, times in ((self.do, "glove-go", 1.6), (self.not_so, "glove", 1.15),
                                    (self.wrong, "glove", 1.15)):
            button.setObjectName(name)
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            _larger(button, times)
        explain((self.do, tr("The step is done (Space, Return or the foot switch)")),
                (self.not_so, tr("Something else happened (N)")),
                (self.wrong, tr("It went in, and came out wrong (W)")))
        side = QVBoxLayout()
        side.setSpacing(8)
        for widget in (self.place, self.act, self.figure, self.more, self.alarm):
            side.addWidget(widget)
        side.addStretch(1)
        for widget in (self.reason, self.next, self.do):
            side.addWidget(widget)
        row = QHBoxLayout()
        row.addWidget(self.not_so, 1)
        row.addWidget(self.wrong, 1)
        side.addLayout(row)
        column = QWidget()
        column.setLayout(side)
        column.setFixedWidth(25 * line)
        left = QVBoxLayout()
        left.addWidget(self.picture, 1)
        left.addWidget(self.strip)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(12)
        whole.addLayout(left, 1)
        whole.addWidget(column)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Putting back, step by step"))
        self.do.clicked.connect(lambda _: self.done.emit())
        self.not_so.clicked.connect(lambda _: self._ask_not_so())
        self.wrong.clicked.connect(lambda _: self._ask_wrong())

    # -- showing

    @property
    def step(self) -> Step | None:
        found = self.progress
        return None if found is None or found.current is None else found.plan.steps[found.current]

    def show_progress(self, progress: Progress) -> None:
        self.progress = progress
        teardown, step = self._session.teardown, self.step
        self.strip.show_ledger(progress.ledger)
        self.do.setEnabled(step is not None)
        self.not_so.setEnabled(step is not None)
        self.wrong.setEnabled(bool(progress.states))
        if step is None:
            self._show_end(teardown, progress)
            return
        assert progress.current is not None
        self.place.setText(tr("Step {0} of {1}").format(progress.current + 1, len(progress.states)))
        self.act.setText(step_text(teardown, step))
        figure = figure_text(step)
        self.figure.setText(figure)
        self.figure.setVisible(bool(figure))
        self.more.setText("\n".join(details(teardown, step)))
        self.more.setVisible(bool(self.more.text()))
        gaps = gaps_before(progress) if step.do == FIT else ()
        self.say(gap_text(teardown, gaps) if gaps else "", alarm=True)
        self.reason.setText(reason_text(step))
        coming = [step_text(teardown, other) for other, state in zip(
            progress.plan.steps[progress.current + 1:], progress.states[progress.current + 1:]) if state == OPEN][:SOON]
        self.next.setText(tr("Next: {0}").format("; ".join(coming)) if coming else tr("This is the last"))
        self._show_picture(teardown, step)

    def _show_end(self, teardown: Teardown, progress: Progress) -> None:
        if not progress.states:
            self.place.setText("")
            self.act.setText(tr("Nothing is off"))
            lines = [tr("What the Log takes off is put back here.")]
        elif progress.is_closed:
            self.place.setText(tr("All {0} steps").format(len(progress.states)))
            self.act.setText(tr("No bolt is left over"))
            lines = []
        else:
            self.place.setText(tr("{0} of {1} steps done").format(progress.done, len(progress.states)))
            self.act.setText(tr("Not closed yet"))
            lines = [matter_text(teardown, matter) for matter in progress.matters]
            lines += where_to_look(teardown, progress.ledger)
        self.figure.setText(str(progress.ledger.odd) if progress.states else "")
        self.figure.setVisible(bool(progress.states))
        self.more.setText("\n".join(lines))
        self.more.setVisible(bool(lines))
        self.say("")
        self.reason.setText("")
        self.next.setText("")
        first = next(iter(teardown.pictured), None)
        self._show_photo(None if first is None else Picture(view=first, marks=()), "")

    def _show_picture(self, teardown: Teardown, step: Step) -> None:
        joint = teardown.joint.get(step.thing)
        self._show_photo(picture_of(teardown, step),
                         joint.fastener or "" if joint is not None and joint.kind == "screw" else "")

    def _show_photo(self, found: Picture | None, letter: str) -> None:
        name = found.view.photo if found is not None else ""
        if name != self._image[0]:
            body = self._session.photo(name) if name else None
            size = image_size(body) if body else None
            image = read_image(body, PICTURE_PX) if size is not None else QImage()
            self._image = name, image, image.width() / size[0] if size is not None else 1.0
        self.picture.show_picture(found, self._image[1], self._image[2], letter)

    def say(self, text: str, *, alarm: bool = False) -> None:
        self.alarm.setText(text)
        self.alarm.setVisible(bool(text))

    # -- choosing

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802 (Qt's name)
        keys: dict[int, Callable[[], object]] = {
            Qt.Key.Key_Space: self.do.click, Qt.Key.Key_Return: self.do.click, Qt.Key.Key_Enter: self.do.click,
            Qt.Key.Key_N: self.not_so.click, Qt.Key.Key_W: self.wrong.click}
        does = keys.get(event.key())
        if does is None:
            super().keyPressEvent(event)
        elif not event.isAutoRepeat():
            does()

    def _ask_not_so(self) -> None:
        """What happened instead: another step first, or this one is left out."""
        assert self.progress is not None and self.progress.current is not None
        teardown, menu = self._session.teardown, QMenu(self)
        step = self.step
        if step is not None and step.refit is not None and step.refit.back_to:
            menu.addAction(tr("Not yet: back to {0}").format(step.refit.back_to), self.again.emit)
        if step is not None and step.do == APPLY:
            menu.addAction(tr("Another amount…"), self._ask_amount)
        menu.addAction(tr("Left out"), self.left_out.emit)
        menu.addSection(tr("Done instead"))
        others = [n for n, state in enumerate(self.progress.states) if state == OPEN and n != self.progress.current]
        for n in others[:OTHERS_TOLD]:
            menu.addAction(step_text(teardown, self.progress.plan.steps[n]), partial(self.other_done.emit, n))
        self._open(menu, self.not_so)

    def _ask_amount(self) -> None:
        """How much went on, as it was weighed, measured or counted."""
        dialog = QInputDialog(self)
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.setWindowTitle(tr("Another amount"))
        dialog.setLabelText(tr("How much went on, such as 0.8 g, 1.2 cc or 2 strips"))
        dialog.textValueSelected.connect(self.take_amount)
        dialog.open()
        self.asked = dialog

    def take_amount(self, text: str) -> None:
        figure, _, unit = text.strip().replace(",", ".").partition(" ")
        try:
            amount = float(figure)
        except ValueError:
            amount = -1.0
        if not 0 <= amount < 1e6:
            self.say(tr("“{0}” is no amount; write it like 0.8 g").format(text.strip()), alarm=True)
            return
        self.amount.emit(amount, unit.strip())

    def _ask_wrong(self) -> None:
        """What is wrong with what went in, or with a screw of it."""
        assert self.progress is not None
        step, teardown, menu = self.step, self._session.teardown, QMenu(self)
        joint = teardown.joint.get(step.thing) if step is not None else None
        if step is not None and step.do == CHECK:
            menu.addAction(tr("The check failed"), self.failed.emit)
        if joint is not None and joint.kind == "screw" and step is not None and step.do == FASTEN:
            letter = joint.fastener or "?"
            for code, text in (("lost", tr("A screw is lost")), ("discarded", tr("A screw is worn: thrown away"))):
                menu.addAction(text, partial(self.bolt.emit, letter, code))
            own = menu.addMenu(tr("Another screw went in"))
            for other in teardown.fasteners:
                if other.id != joint.fastener:
                    own.addAction(other.id, partial(self.wrong_letter.emit, other.id))
        for row in self.progress.ledger.rows:
            if row.lost:
                menu.addAction(tr("A lost {0} is found").format(row.letter),
                               partial(self.bolt.emit, row.letter, "found"))
        done = [n for n, (one, state) in enumerate(zip(self.progress.plan.steps, self.progress.states))
                if state != OPEN and one.thing == one.anchor and one.thing]
        for n in reversed(done[-5:]):
            menu.addAction(tr("{0} comes out again").format(name_of(teardown, self.progress.plan.steps[n].thing)),
                           partial(self.out_again.emit, n))
        self._open(menu, self.wrong)

    def _open(self, menu: QMenu, button: QPushButton) -> None:
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(button.mapToGlobal(QPoint(0, 0)))
        self.menu = menu


def _larger(widget: QLabel | QPushButton, times: float) -> None:
    font = widget.font()
    font.setPointSizeF(font.pointSizeF() * times)
    if times >= 2:
        font.setBold(True)
    widget.setFont(font)
