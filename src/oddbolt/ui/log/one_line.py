"""The one line under the photograph: echoed in words as it is typed, carried out on Enter."""

from __future__ import annotations

from PySide6.QtCore import Signal

from oddbolt.model.refusal import Refusal
from oddbolt.session.line import NotUnderstood, complete, understand
from oddbolt.session.session import Session
from oddbolt.ui.log.echo import problem_text, understood_text
from oddbolt.ui.log.recorder import Recorder
from oddbolt.ui.widgets.line import CommandLine


class OneLine(CommandLine):
    """Knows the session; what it says stands where everything is said."""

    said = Signal(str, bool)
    asked = Signal(str)  # a part that was asked about

    def __init__(self, session: Session, recorder: Recorder) -> None:
        super().__init__(lambda text: complete(session.teardown, text))
        self._session = session
        self.recorder = recorder
        self.textChanged.connect(self._echo_line)
        self.counted.connect(self._count_line)

    def say(self, text: str, *, alarm: bool = False) -> None:
        self.said.emit(text, alarm)

    def _echo_line(self, text: str) -> None:
        if not text.strip():
            self.say("")
            return
        try:
            found = understand(self._session.teardown, text, self._session.seconds_now())
        except NotUnderstood as problem:
            self.say(problem_text(problem, text), alarm=True)
        except Refusal as refusal:
            self.say(str(refusal), alarm=True)
        else:
            self.say(understood_text(self._session.teardown, found))

    def _count_line(self, text: str) -> None:
        """Carry the line out; what is not understood stays in the line with its word selected."""
        try:
            found = understand(self._session.teardown, text, self._session.seconds_now())
        except NotUnderstood as problem:
            self.say(problem_text(problem, text), alarm=True)
            self.setSelection(problem.start, problem.end - problem.start)
            return
        except Refusal as refusal:
            self.say(str(refusal), alarm=True)
            return
        self.clear()
        if found.command is not None:
            if self.recorder.do(found.command):
                self.say(self.tr("Recorded: {0}").format(found.command.label))
        else:
            self.asked.emit(found.things[0])
