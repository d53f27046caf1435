"""Acts of the Log that need its pages: from photograph to photograph, the stopwatch, the open question."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from oddbolt.ui.log.pages import ASK, TIME

if TYPE_CHECKING:
    from oddbolt.ui.log.log_pieces import LogPieces


class Walking:
    """Holds nothing."""

    def __init__(self, panel: LogPieces) -> None:
        self._panel = panel

    def next_state(self) -> None:
        self._walked(self._panel.states.next_photo)

    def previous_state(self) -> None:
        self._walked(self._panel.states.previous_photo)

    def walk_to(self, view: str) -> None:
        self._walked(lambda: self._panel.states.show(view))

    def _walked(self, walk: Callable[[], object]) -> None:
        """Whoever walks to another photograph has put down what was armed."""
        states, recorder = self._panel.states, self._panel.recorder
        before = states.shown
        walk()
        if states.shown != before and recorder.selection.kind is not None:
            recorder.arm(None)

    def show_stopwatch(self) -> None:
        self._panel.clocks.start_stopwatch()
        self._panel.above.setCurrentIndex(TIME)

    def answer_question(self) -> None:
        panel = self._panel
        if panel.above.currentIndex() == ASK:
            panel.asking.give_answer()
        else:
            panel.above.setCurrentIndex(ASK)
