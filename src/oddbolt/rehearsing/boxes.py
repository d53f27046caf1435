"""What a learner is asked again, and when: boxes of cards.

Reference: S. Leitner, So lernt man lernen, Freiburg 1972: five boxes; a card that is known goes one further, one that
is not goes back to the first. The days after which a box is due double: common practice. From memory.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import date, timedelta

from msgspec import Struct, field

DAYS = (0, 1, 2, 4, 8, 16)  # by box, from 1; 0 is none
LAST = len(DAYS) - 1


class Card(Struct, frozen=True):
    """A question in its box, and the day it was asked last."""

    box: int
    asked: date

    @property
    def due(self) -> date:
        return self.asked + timedelta(days=DAYS[min(self.box, LAST)])


class Round(Struct, frozen=True, kw_only=True):
    """One exercise that a learner did: which, of what, when, and how it went."""

    day: date
    exercise: str
    device: str
    right: int
    asked: int
    steps: int = 0
    best: int = 0
    live: int = 0
    torn: int = 0


class Learner(Struct, frozen=True, kw_only=True):
    name: str
    cards: Mapping[str, Card] = field(default_factory=dict)
    rounds: tuple[Round, ...] = ()

    def answered(self, question: str, *, right: bool, today: date) -> Learner:
        """The question is one box further, or in the first again; a new one stands in the first."""
        before = self.cards.get(question)
        box = min(LAST, (before.box if before is not None else 1) + 1) if right else 1
        return Learner(name=self.name, cards={**self.cards, question: Card(box, today)}, rounds=self.rounds)

    def done(self, round_: Round) -> Learner:
        return Learner(name=self.name, cards=self.cards, rounds=(*self.rounds, round_))

    def due(self, questions: Iterable[str], today: date) -> list[str]:
        """Those to be asked now: what went wrong first, then what is due longest, then what is new."""
        known = [(self.cards[one].box, self.cards[one].due, one) for one in questions if one in self.cards]
        ready = [one for box, day, one in sorted(known) if day <= today]
        return [*ready, *(one for one in questions if one not in self.cards)]
