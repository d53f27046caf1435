"""Answers to what was offered after an act, by one key each."""

from __future__ import annotations

from oddbolt.session.modes import Act
from oddbolt.session.recording.offers import ENOUGH, HANGING, HELD, TELL
from oddbolt.session.recording.recorder import Recorder
from oddbolt.session.recording.recorder import offer as clear
from oddbolt.session.selection import WhosePlug
from oddbolt.session.verbs import joints
from oddbolt.session.verbs.answers import hangs
from oddbolt.session.verbs.correcting.forgotten import held_by


class AnsweringActs:
    """Holds nothing: what is offered stands in the recorder."""

    def __init__(self, recorder: Recorder) -> None:
        self.recorder = recorder
        recorder.acts |= {act: lambda n=n: self.answer(n) for n, act in enumerate(
            (Act.ANSWER_1, Act.ANSWER_2, Act.ANSWER_3, Act.ANSWER_4))}
        recorder.acts[Act.WHOSE] = self.ask_whose

    def answer(self, place: int) -> bool:
        """Take the offer at a place."""
        recorder = self.recorder
        if place >= len(recorder.offered):
            recorder.say("nothing-offered", alarm=True)
            return False
        offer = recorder.offered[place]
        if offer.code == TELL:
            recorder.tell.retells(offer.about)
            clear(recorder, ())
            return True
        if offer.code == HANGING:
            done = recorder.do(hangs, offer.about, offer.choice == ENOUGH)
        elif offer.code == HELD and offer.choice in recorder.session.teardown.joint:
            done = recorder.do(joints.tie, offer.choice, 0, offer.about)
        elif offer.code == HELD:
            done = recorder.do(held_by, offer.about, offer.choice, recorder.t)
        else:
            done = recorder.do(joints.whose, offer.about, offer.choice)
        return done is not None

    def ask_whose(self) -> bool:
        """The part that the plug in hand belongs to is said next, by the key that lifts its kind."""
        recorder, thing = self.recorder, self.recorder.selection.thing
        joint = recorder.session.teardown.joint.get(thing)
        if joint is None or joint.kind != "connector":
            recorder.say("choose-plug-whose", alarm=True)
            return False
        recorder.selection.unnamed = WhosePlug(joint=thing)
        recorder.say("whose-plug")
        recorder.tell.kind_wanted(True)
        recorder.tell.armed()
        return True
