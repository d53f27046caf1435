"""Answers to what was offered after an act, by one key each."""

from __future__ import annotations

from oddbolt.session.modes import Act
from oddbolt.session.recording.arming_acts import parted_by
from oddbolt.session.recording.offers import (
    CLOSED,
    ENOUGH,
    HANGING,
    HELD,
    MEANT,
    NO_ROLE,
    PARTED,
    ROLE,
    SHARED,
    SWUNG,
    TELL,
    Offer,
    after_lift,
)
from oddbolt.session.recording.recorder import Recorder, offer
from oddbolt.session.selection import WhosePlug
from oddbolt.session.verbs import groups, joints, lifting
from oddbolt.session.verbs.answers import hangs
from oddbolt.session.verbs.correcting.forgotten import held_by, held_by_group, held_by_marked
from oddbolt.session.verbs.correcting.retold import is_a
from oddbolt.session.verbs.parts import set_role
from oddbolt.session.verbs.plain import Done


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
        given = recorder.offered[place]
        if given.code == MEANT:
            return self.meant(given)
        if given.code == PARTED:
            return parted_by(recorder, given.about, given.choice)
        if given.code == TELL:
            offer(recorder, ())
            recorder.tell.retells(given.about)
            return True
        done = self._carry_out(given)
        if done is not None and given.asked:  # the next question about the same part
            offer(recorder, after_lift(recorder.session.teardown, given.about, given.asked))
        return done is not None

    def meant(self, given: Offer) -> bool:
        """What came off was the part on record, no second one: the lift is taken back and done again with that."""
        recorder = self.recorder
        offer(recorder, ())
        recorder.session.undo()
        done = recorder.do(lifting.lift, given.choice, recorder.t, recorder.selection.group or recorder.selection.thing)
        if done is None:
            return False
        recorder.choose(given.choice)
        recorder.say("meant", thing=given.choice)
        offer(recorder, after_lift(recorder.session.teardown, given.choice, (MEANT,)))
        return True

    def _carry_out(self, given: Offer) -> Done | None:
        do, teardown = self.recorder.do, self.recorder.session.teardown
        if given.code == HANGING:
            return do(hangs, given.about, given.choice == ENOUGH)
        if given.code == CLOSED:
            return do(held_by_marked, given.about, given.choice, self.recorder.t)
        if given.code == ROLE:
            return do(set_role, given.about, "" if given.choice == NO_ROLE else given.choice)
        if given.code == SWUNG:
            return do(is_a, given.about, given.choice)
        if given.code == HELD and given.choice in teardown.joint:
            return do(held_by_group, given.about, given.choice)
        if given.code == SHARED:
            return do(groups.join_groups, groups.split_from(given.choice), given.choice)
        if given.code == HELD:
            return do(held_by, given.about, given.choice, self.recorder.t)
        return do(joints.whose, given.about, given.choice)

    def ask_whose(self) -> bool:
        """The part that the plug in hand belongs to is said next, by the letter of its kind; of what is no plug a
        further part that it holds."""
        recorder, thing = self.recorder, self.recorder.selection.thing
        joint = recorder.session.teardown.joint.get(thing)
        if joint is None:
            recorder.say("choose-plug-whose", alarm=True)
            return False
        further = joint.kind != "connector"
        recorder.selection.unnamed = WhosePlug(joint=thing, further=further)
        recorder.say("holds-which-too" if further else "whose-plug", thing=thing)
        recorder.tell.kind_wanted(True)
        recorder.tell.armed()
        return True
