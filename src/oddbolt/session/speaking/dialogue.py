"""What was heard, until it counts: echoed, waiting a moment to be taken back, or asked about. Knows neither clock nor
window: whoever holds it says when the moment is over.

A sentence that was heard surely waits; then it counts. `No` takes it back, `yes` counts it at once, and whoever goes on
with another sentence has let it count. One that was not heard surely is asked about, and never counts by itself.
"""

from __future__ import annotations

from collections.abc import Callable
from enum import Enum

from msgspec import Struct

from oddbolt.hearing.grammar import Said
from oddbolt.hearing.listener import Heard
from oddbolt.session.speaking.sentences import ANSWER, NO, NOTE, REDO, UNDO, YES


class Turn(Enum):
    """What became of a sentence."""

    NOTHING = "nothing"  # nothing was understood
    WAITS = "waits"  # it is echoed, and counts when the moment is over
    ASKS = "asks"  # it is asked about
    COUNTED = "counted"
    TAKEN_BACK = "taken-back"
    DROPPED = "dropped"  # what was asked about was not meant


AT_ONCE = (YES, NO, UNDO, REDO, NOTE)  # answers; what is taken back by the same; what one goes on speaking after


class Dialogue(Struct):
    counts: Callable[[Said], None]  # carries a sentence out
    waits: Said | None = None  # heard surely, counts when the moment is over
    asked: Heard | None = None  # heard, not surely

    @property
    def is_open(self) -> bool:
        """Whether yes and no are about what was heard, and not about what the record asks."""
        return self.waits is not None or self.asked is not None

    def heard(self, heard: Heard) -> Turn:
        """The next sentence, or that nothing was understood."""
        said = heard.said
        if said is None:
            return Turn.NOTHING
        if not heard.is_sure and not (self.asked is not None and said.code in (YES, NO)):
            self.over()
            self.asked = heard
            return Turn.ASKS
        asked, self.asked = self.asked, None
        if asked is not None and said.code in (YES, NO, ANSWER):
            return self._answered(asked, said)
        if self.waits is not None and said.code in (NO, UNDO):
            self.waits = None
            return Turn.TAKEN_BACK
        if self.waits is not None and said.code == YES:
            self.over()
            return Turn.COUNTED
        self.over()
        if said.code in AT_ONCE:
            self.counts(said)
            return Turn.COUNTED
        self.waits = said
        return Turn.WAITS

    def _answered(self, asked: Heard, said: Said) -> Turn:
        """Yes: the first; the second answer: the other; no: neither."""
        second = said.code == ANSWER and said.tokens.get("answer") == "answer-2"
        meant = asked.other if second else None if said.code == NO else asked.said
        if meant is None:
            return Turn.DROPPED
        self.counts(meant)
        return Turn.COUNTED

    def over(self) -> bool:
        """The moment in which it could be taken back is over. Whether something counted."""
        said, self.waits = self.waits, None
        if said is None:
            return False
        self.counts(said)
        return True

    def take_back(self) -> bool:
        """By a key: what waits, or is asked about, does not count."""
        was = self.is_open
        self.waits, self.asked = None, None
        return was
