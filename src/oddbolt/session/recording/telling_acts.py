"""The way retold: a strip with the way to a part is shown, and a person says that it works or what is wrong with it.

Which way, and what to ask of it, is found in the background (`studies.retelling`); here it is only shown and answered.
Something may have to be pointed at (what is in the way, whose it is): on the photograph, on the strip, or by the key
that lifts a part of its kind.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from oddbolt.knowledge.said.retold import BLOCKED, NOT_MINE
from oddbolt.session.modes import Act
from oddbolt.session.recording.recorder import Recorder, offer
from oddbolt.session.selection import Telling
from oddbolt.session.verbs.correcting import retold
from oddbolt.studies.retelling import Retelling

ANSWERS = (Act.ANSWER_1, Act.ANSWER_2, Act.ANSWER_3, Act.ANSWER_4)


def answers_about(told: Telling | None, part: str) -> int:
    """How many were given in a row about this part."""
    return told.answers if told is not None and told.part == part else 0


class TellingActs:
    """Holds nothing: what is told stands in the selection."""

    def __init__(self, recorder: Recorder) -> None:
        self.recorder = recorder
        self.selection = recorder.selection
        recorder.acts |= {Act.TELL_1: lambda: self.usual(0), Act.TELL_2: lambda: self.usual(1),
                          Act.TELL_3: lambda: self.usual(2), Act.TELL_4: lambda: self.usual(3),
                          Act.TELL_MARK: self.point_mark, Act.TELL_KIND: self.point_kind,
                          Act.LEAVE_POINTING: self.leave_pointing, Act.LEAVE_TELLING: lambda: self.show(None)}

    # -- what is shown

    def show(self, found: Retelling | None) -> None:
        """The way that is told now; None: none."""
        told = None
        if found is not None:
            before = self.selection.telling
            things = tuple(item.thing for item in found.items)
            at = before.at if before is not None and before.part == found.part and before.at in things else ""
            wants = before.wants if before is not None and at else ""  # it is pointed at just now
            answers = answers_about(before, found.part)
            ask = found.asked_after(answers)
            told = Telling(part=found.part, operations=things, at=at, wants=wants, answers=answers,
                           hider=ask.hider if ask is not None else "", hidden=ask.things if ask is not None else ())
        self.selection.telling = told
        self.recorder.tell.told()

    def choose(self, thing: str) -> None:
        """An item of the strip; where something is pointed at, that is it."""
        told = self.selection.telling
        if told is None:
            return
        if told.wants:
            self.point(thing)
            return
        told.at = thing
        self.recorder.choose(thing)
        self.recorder.tell.told()

    # -- answers

    def usual(self, place: int) -> bool:
        """The answer keys: to what was offered after an act, if something was, else to the way that is shown."""
        told = self.selection.telling
        if self.recorder.offered or told is None:
            return self.recorder.acts[ANSWERS[place]]()
        if told.hider:
            return self.could(dict.fromkeys(told.hidden, place == 0)) if place < 2 else False
        return (self.works, self.ask_what_blocks, self.strike, self.ask_whose)[place]()

    def works(self) -> bool:
        told = self.selection.telling
        return told is not None and self._do(retold.works)

    def strike(self, things: Sequence[str] = ()) -> bool:
        """What is chosen on the strip, or these, need not be done."""
        told = self._chosen("choose-needless", things)
        return told is not None and self._do(retold.needless, list(things) or [told.at])

    def held_by(self, kind: str) -> bool:
        """Something else, which was forgotten, holds what is chosen or lies over it."""
        told = self._chosen("choose-held")
        return told is not None and self._do(retold.something_else, told.at, kind, self.recorder.t)

    def could(self, could: Mapping[str, bool]) -> bool:
        """Which of these could have been done before what hides them by the record was cleared."""
        told = self.selection.telling
        return told is not None and bool(told.hider) and self._answered(retold.before, told.hider, could)

    def with_tools(self, thing: str, tools: Sequence[str]) -> bool:
        return self._answered(retold.with_tool, thing, tools)

    def is_a(self, part: str, kind: str) -> bool:
        return self._answered(retold.is_a, part, kind)

    # -- who looks

    @property
    def looks_now(self) -> str:
        """Who looks at the ways."""
        passes = self.recorder.session.teardown.sessions
        return self.selection.looks or (passes[-1].by if passes else "")

    def people(self) -> list[str]:
        """Whoever recorded, or said anything of a way, the one who looks now among them."""
        teardown = self.recorder.session.teardown
        names = (*(one.by for one in teardown.sessions), *(way.by for way in teardown.confirmed), self.looks_now)
        return [name for name in dict.fromkeys(names) if name]

    def looks(self, by: str) -> None:
        """From now on somebody else looks."""
        if not by:
            return
        self.selection.looks = by
        self.recorder.say("looks", by=by)

    # -- what has to be pointed at

    def ask_what_blocks(self) -> bool:
        return self._ask(BLOCKED, "choose-blocked", "point-blocked")

    def ask_whose(self) -> bool:
        told = self._chosen("choose-whose")
        if told is None:
            return False
        if told.at not in self.recorder.session.teardown.joint:
            self.recorder.say("choose-whose", alarm=True)
            return False
        return self._ask(NOT_MINE, "choose-whose", "point-whose")

    def _ask(self, wants: str, choose: str, point: str) -> bool:
        told = self._chosen(choose)
        if told is None:
            return False
        told.wants = wants
        self.recorder.say(point, thing=told.at)
        self.recorder.tell.kind_wanted(wants == NOT_MINE)
        self.recorder.tell.armed()
        return True

    def _chosen(self, choose: str, things: Sequence[str] = ()) -> Telling | None:
        """What is told, with something chosen on the strip; else that is asked for."""
        told = self.selection.telling
        if told is None or not (told.at or things):
            self.recorder.say(choose, alarm=True)
            return None
        return told

    def point_mark(self, place: int, **_: Any) -> bool:
        view = self.recorder.view
        return view is not None and 0 <= place < len(view.marks) and self.point(view.marks[place].thing)

    def point(self, thing: str) -> bool:
        """The thing that is meant."""
        told = self.selection.telling
        if told is None or not told.wants:
            return False
        teardown, wants = self.recorder.session.teardown, told.wants
        if wants == NOT_MINE and thing not in teardown.part:
            self.recorder.say("point-a-part", alarm=True)
            return False
        self._leave_pointing()
        verb, meant = (retold.blocked, [thing]) if wants == BLOCKED else (retold.not_mine, thing)
        return self._do(verb, told.at, meant)

    def point_kind(self, kind: str, **_: Any) -> bool:
        """The part that is meant, by the key that lifts its kind."""
        told = self.selection.telling
        if told is None or told.wants != NOT_MINE:
            self.recorder.say("point-blocked", thing=told.at if told is not None else "", alarm=True)
            return False
        self._leave_pointing()
        return self._do(retold.belongs_to, told.at, kind)

    def leave_pointing(self) -> None:
        self._leave_pointing()
        self.recorder.say("not-pointed")

    def _leave_pointing(self) -> None:
        if self.selection.telling is not None:
            self.selection.telling.wants = ""
        self.recorder.tell.kind_wanted(False)
        self.recorder.tell.armed()

    def _do(self, verb: Any, *args: Any) -> bool:
        told = self.selection.telling
        offer(self.recorder, ())
        args = (told.part, told.operations, *args)
        if self.selection.looks:
            verb, args = retold.said_by, (self.selection.looks, verb, *args)
        return self._answered(verb, *args)

    def _answered(self, verb: Any, *args: Any) -> bool:
        """Counted before it is written down: what is shown next follows from both."""
        told = self.selection.telling
        if told is not None:
            told.answers += 1
        done = self.recorder.do(verb, *args) is not None
        if told is not None and not done:
            told.answers -= 1
        return done
