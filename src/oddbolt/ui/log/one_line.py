"""The one line under the photograph: echoed in words as it is typed, carried out on Enter."""

from __future__ import annotations

from PySide6.QtCore import Signal

from oddbolt.model.refusal import Refusal
from oddbolt.session.modes import Gesture
from oddbolt.session.recording.recorder import Recorder
from oddbolt.session.typed_line import NotUnderstood, complete, understand
from oddbolt.ui.log.echo import parsed_text, problem_text
from oddbolt.ui.widgets.line import CommandLine
from oddbolt.words.refusals import refusal_text


class OneLine(CommandLine):
    """Hands what is typed to the recorder; what it says stands where everything is said."""

    said = Signal(str, bool)

    def __init__(self, recorder: Recorder) -> None:
        super().__init__(lambda text: complete(recorder.session.teardown, text))
        self._recorder = recorder
        self.textChanged.connect(self._echo_line)
        self.counted.connect(self._count_line)

    def say(self, text: str, *, alarm: bool = False) -> None:
        self.said.emit(text, alarm)

    def _echo_line(self, text: str) -> None:
        if not text.strip():
            self.say("")
            return
        teardown = self._recorder.session.teardown
        try:
            self.say(parsed_text(teardown, understand(teardown, text)))
        except NotUnderstood as problem:
            self.say(problem_text(problem, text), alarm=True)
        except Refusal as refusal:
            self.say(refusal_text(refusal), alarm=True)

    def _count_line(self, text: str) -> None:
        """Carry the line out; what is not understood, or not done, stays in the line, its word selected."""
        try:
            done = self._recorder.gesture(Gesture.TYPED, line=text)
        except NotUnderstood as problem:
            self.say(problem_text(problem, text), alarm=True)
            self.setSelection(problem.start, problem.end - problem.start)
            return
        if done:
            self.blockSignals(True)  # what was said of the act stays to be read
            self.clear()
            self.blockSignals(False)
