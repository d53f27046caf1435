"""Rebuild: putting back step by step at the bench until no bolt is left over, and the work on paper."""

from __future__ import annotations

import shutil
from pathlib import Path
from typing import Any

from PySide6.QtCore import QProcess, Qt, QTimer
from PySide6.QtWidgets import QCheckBox, QTabWidget, QVBoxLayout, QWidget

from oddbolt.catalog.torque import BREAKING, IMPOSSIBLE
from oddbolt.instruments.protocols import Bench
from oddbolt.paint.palette import Palette
from oddbolt.reassembly.bolts import swaps_into
from oddbolt.reassembly.rebuilding.doses import SAME
from oddbolt.reassembly.rebuilding.progress import gaps_before, progress
from oddbolt.reassembly.rebuilding.putting_back import CHECK, FIT, Step
from oddbolt.session.session import Session
from oddbolt.session.verbs.rebuilding import steps
from oddbolt.ui.pieces.sheet import Echo, explain
from oddbolt.ui.rebuild.bench import BenchView
from oddbolt.ui.rebuild.instruction_page import InstructionPage
from oddbolt.ui.rebuild.plan_page import PlanPage
from oddbolt.ui.rebuild.readings import Readings
from oddbolt.ui.workspace import Workspace
from oddbolt.words.rebuilding.steps import figure_text, gap_text, step_text
from oddbolt.words.screws import swap_text, torque_text
from oddbolt.words.translate import tr

SPEAKERS = ("spd-say", "espeak-ng")


class RebuildPanel(Workspace):
    """What is done at the bench goes into the log by the one road; what would do harm is said first, and done when it
    is asked for again."""

    def __init__(self, session: Session, palette: Palette, folder: Path, bench: Bench) -> None:
        super().__init__(session)
        self.readings = Readings(session, bench)
        self._asked: tuple[Any, ...] = ()  # what was said to do harm, and is done when it is asked for again
        self._left_s = 0.0  # of a step that is held for a time
        self._clock = QTimer(self)
        self._clock.setInterval(1000)
        self._clock.timeout.connect(self._tick)
        self.bench, self.plan = BenchView(session, palette), PlanPage(session, folder)
        self.desk = InstructionPage(session, palette, self.do)
        self.aloud = QCheckBox(tr("Read each step aloud"))
        self._speaker = next((found for name in SPEAKERS if (found := shutil.which(name))), "")
        self._spoken = ""
        self.tabs, self.echo = QTabWidget(), Echo()
        self._build()

    def _build(self) -> None:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 6, 0, 0)
        column.addWidget(self.bench, 1)
        column.addWidget(self.aloud)
        self.tabs.addTab(page, tr("At the bench"))
        self.tabs.addTab(self.plan, tr("On paper"))
        self.tabs.addTab(self.desk, tr("Instruction"))
        self.tabs.setAccessibleName(tr("Putting back"))
        self.aloud.setEnabled(bool(self._speaker))
        explain((self.aloud, tr("By the system's speech program") if self._speaker
                 else tr("There is no speech program on this machine: spd-say or espeak-ng")),
                (self.tabs, tr("Step by step at the bench, or the whole on paper")))
        box = QVBoxLayout(self)
        box.setContentsMargins(10, 8, 10, 8)
        box.addWidget(self.tabs, 1)
        box.addWidget(self.echo)
        self.echo.hide()
        self.tabs.currentChanged.connect(lambda _: self.say(""))
        self.bench.done.connect(self.do_step)
        self.bench.other_done.connect(self._other_done)
        self.bench.left_out.connect(self._leave_out)
        self.bench.wrong_letter.connect(self._other_letter)
        self.bench.bolt.connect(lambda letter, what: self._carry(steps.move_bolt, letter, what, self._t))
        self.bench.failed.connect(self._fail)
        self.bench.out_again.connect(self._out_again)
        self.bench.again.connect(lambda: self.bench.step and self._carry(steps.go_back, self.bench.step, self._t))
        self.bench.amount.connect(self._other_amount)
        for page in (self.plan, self.desk):
            page.said.connect(lambda text, alarm: self.say(text, alarm=alarm))
        self.aloud.toggled.connect(lambda _: self._speak())

    @property
    def _t(self) -> float:
        return self._session.seconds_now()

    # -- following the record

    def opened(self) -> None:
        self._stop_clock()
        self._asked = ()

    def refresh(self) -> None:
        self._stop_clock()
        self.bench.show_progress(progress(self._session.teardown))
        self._warn_of_torque()
        self.readings.begin(self.bench.step)
        self.plan.refresh()
        self.desk.refresh()
        self._speak()

    def showEvent(self, event: Any) -> None:  # noqa: N802 (Qt's name)
        super().showEvent(event)
        self.bench.setFocus()

    @property
    def _is_at_bench(self) -> bool:
        return self.tabs.currentIndex() == 0

    def say(self, text: str, *, alarm: bool = False) -> None:
        """At the step, where that is in front; else below the page."""
        if self._is_at_bench and text:
            self.bench.say(text, alarm=alarm)
        self.echo.say("" if self._is_at_bench else text, alarm=alarm)
        self.echo.setVisible(bool(text) and not self._is_at_bench)

    def stop(self) -> None:
        self._stop_clock()
        self.plan.stop()

    def replace_part(self, part: str) -> None:
        """The whole job of replacing a part."""
        self.tabs.setCurrentWidget(self.plan)
        self.plan.choose(part)

    # -- steps

    def do_step(self) -> None:
        """The usual act: the step is done. One that is held for a time runs first; pressed again it is done at once."""
        step = self.bench.step
        if step is None:
            return
        if not self._is_at_bench:  # a foot switch must not do what nobody sees
            self.tabs.setCurrentIndex(0)
            return
        harm = self._harm(step)
        if harm and self._asked != ("step", step.do, step.thing):
            self._asked = ("step", step.do, step.thing)
            self.say(tr("{0} Press again to go on all the same.").format(harm), alarm=True)
            return
        seconds = _held_s(step)
        if seconds and not self._clock.isActive() and self._left_s == 0:
            self._left_s = seconds
            self._clock.start()
            self._tick()
            return
        self._stop_clock()
        measured, words = self.readings.measured(step)
        if self._carry(steps.do_step, step, self._t, **measured) and words:
            self.say(words, alarm=True)

    def _harm(self, step: Step) -> str:
        """Why a step should not be done as it stands."""
        check = self.readings.torque_told(step)
        if check is not None and check.verdict in (IMPOSSIBLE, BREAKING):
            return tr("{0}: {1}.").format(figure_text(step), torque_text(check))
        assert self.bench.progress is not None
        gaps = gaps_before(self.bench.progress) if step.do == FIT else ()
        return tr("{0}.").format(gap_text(self._session.teardown, gaps)) if gaps else ""

    def _warn_of_torque(self) -> None:
        step = self.bench.step
        check = self.readings.torque_told(step) if step is not None else None
        if step is not None and check is not None and check.verdict in (IMPOSSIBLE, BREAKING):
            self.say(torque_text(check), alarm=True)

    def _other_done(self, place: int) -> None:
        assert self.bench.progress is not None
        self._carry(steps.do_step, self.bench.progress.plan.steps[place], self._t)

    def _leave_out(self) -> None:
        if self.bench.step is not None:
            self._carry(steps.leave_out, self.bench.step, self._t)

    def _other_letter(self, letter: str) -> None:
        """A screw of another letter: what that does is said first."""
        step = self.bench.step
        if step is None:
            return
        teardown = self._session.teardown
        swaps = [swap_text(teardown, swap) for swap in swaps_into(teardown, letter, step.thing)]
        if self._asked != ("letter", letter, step.thing):
            self._asked = ("letter", letter, step.thing)
            self.say(tr("{0} does not belong here. {1} Choose it again if it is in all the same.").format(
                letter, "; ".join(swaps) + "." if swaps else ""), alarm=True)
            return
        self._carry(steps.do_step, step, self._t, letter=letter)

    def _fail(self) -> None:
        step = self.bench.step
        if step is not None and step.do == CHECK and self._carry(steps.fail_check, step, self._t):
            self.say(tr("Nothing follows before this check is fine.") if step.refit is not None and step.refit.blocks
                     else tr("The check failed; it is in the log."), alarm=True)

    def _other_amount(self, amount: float, unit: str) -> None:
        """Something was applied in another amount than told: written down, and held against it."""
        step = self.bench.step
        if step is None:
            return
        if self._carry(steps.do_step, step, self._t, quantity=amount, unit=unit):
            found, words = self.readings.held_against(step, amount, unit)
            if words:
                self.say(words, alarm=found != SAME)

    def _out_again(self, place: int) -> None:
        assert self.bench.progress is not None
        self._carry(steps.undo_step, self.bench.progress.plan.steps[place], self._t)

    def _carry(self, verb: Any, *args: Any, **keys: Any) -> bool:
        done = self.do(verb, *args, echo=False, **keys) is not None
        if done:
            self._asked = ()
        self.bench.setFocus(Qt.FocusReason.OtherFocusReason)
        return done

    # -- holding, reading aloud

    def _tick(self) -> None:
        if self._left_s <= 0:
            self._clock.stop()
            self._left_s = -1.0
            self.do_step()
            return
        self.bench.figure.setText(tr("{0:.0f} s").format(self._left_s))
        self.bench.figure.show()
        self._left_s = max(0.0, self._left_s - 1)

    def _stop_clock(self) -> None:
        self._clock.stop()
        self._left_s = 0.0

    def _speak(self) -> None:
        step = self.bench.step
        if not self.aloud.isChecked() or step is None or not self._speaker or not self.isVisible():
            return
        text = ". ".join(part for part in (step_text(self._session.teardown, step), figure_text(step)) if part)
        if text != self._spoken:
            self._spoken = text
            QProcess.startDetached(self._speaker, ["--", text])


def _held_s(step: Step) -> float:
    """Seconds that a step is held or waited for, as it is told."""
    if step.refit is None:
        return 0.0
    repeat = step.refit.repeat
    return step.refit.wait_s + (repeat.min * repeat.each_s[-1] if repeat is not None and repeat.each_s else 0.0)
