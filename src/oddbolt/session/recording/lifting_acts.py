"""Releasing, lifting, swinging, and what could be reached: the acts of the recorder that go into the log."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from oddbolt.catalog.tables import covering_kinds
from oddbolt.model.places import Spot
from oddbolt.session.modes import Act
from oddbolt.session.recording.offers import after_lift, after_swing
from oddbolt.session.recording.recorder import Recorder, offer, simpler
from oddbolt.session.standing import is_next, waiting
from oddbolt.session.typed_line import (
    ASKS,
    HID_NOTHING,
    LIFT,
    LIFT_AS,
    MEET,
    NOTE,
    REACH,
    RELEASE,
    ROLE,
    SWING,
    Parsed,
    understand,
)
from oddbolt.session.verbs import entries, lifting
from oddbolt.session.verbs.footprints import set_footprint
from oddbolt.session.verbs.parts import set_role


class LiftingActs:
    """What is done to the chosen thing; against the rules only when it is asked for twice."""

    def __init__(self, recorder: Recorder) -> None:
        self.recorder = recorder
        self.session = recorder.session
        self.selection = recorder.selection
        recorder.acts |= {Act.RELEASE: self.release, Act.LIFT: self.lift, Act.LIFT_AS: self.lift_as,
                          Act.SWING: self.swing, Act.REACH_ALL: self.reach_all, Act.REACH_ROUND: self.reach_round,
                          Act.OUTCOME: self.next_outcome, Act.TYPED: self.typed}

    # -- release

    def release(self, way: int = 0, **figures: Any) -> bool:
        """Log the release of the chosen joint. Its measured time is the stopwatch's, where that runs."""
        joint = self.selection.thing
        if joint not in self.session.teardown.joint:
            self.recorder.say("choose-joint", alarm=True)
            return False
        if not self._may("release", joint):
            return False
        was_safe = self.session.derived.is_isolated
        seconds = figures.pop("seconds", None)
        if not self.recorder.do(lifting.release, joint, self.recorder.t, way, **figures,
                                seconds=self.session.stopwatch_s() if seconds is None else seconds):
            return False
        self.session.take_stopwatch()
        self.recorder.warn_after_release(joint, way, was_safe)
        return True

    # -- lift, swing

    def lift(self) -> bool:
        """Lift the chosen part, or the part that the chosen joint holds."""
        teardown, thing = self.session.teardown, self.selection.thing
        part = thing if thing in teardown.part else ""
        if thing in teardown.joint:
            part = next((p for p in teardown.joint[thing].of if p in self.session.derived.structure.removals
                         and self.recorder.is_on(p)), "")
        if not part:
            self.recorder.say("choose-what-comes-off", alarm=True)
            return False
        if part in teardown.part and is_next(teardown.part[part]):
            return self.lift_as("part")
        if not self._may("lift", part, waiting(teardown, self._in_work)):
            return False
        if not self.recorder.do(lifting.lift, part, self.recorder.t, self._in_work):
            return False
        self._lifted(part)
        return True

    @property
    def _in_work(self) -> str:
        """The group that is being marked, else what is chosen: a lift takes it along."""
        return self.selection.group or self.selection.thing

    def lift_as(self, kind: str, spot: Spot | None = None, name: str = "") -> bool:
        """A kind was said, and perhaps a name: it names what comes off next, or means a part on record."""
        teardown, chosen = self.session.teardown, self.selection
        known = lifting.meant_by(teardown, kind, chosen.thing, chosen.view, spot)
        if known and not self._may("lift", known, waiting(teardown, chosen.thing)):
            self.recorder.choose(known)
            self.recorder.confirmed = ("lift", known)
            return False
        done = self.recorder.do(lifting.lift_as, kind, self.recorder.t, view_id=chosen.view, spot=spot,
                                hand=self._in_work, carrier=chosen.carrier, name=name)
        if done is None:
            return False
        self.recorder.choose(done.made)
        self._lifted(done.made)
        return True

    def swing(self, spot: Spot | None = None) -> bool:
        """The cover opens and stays tied."""
        done = self.recorder.do(lifting.swing_open, self.recorder.t, view_id=self.selection.view, spot=spot,
                                hand=self.selection.thing)
        if done is None:
            return False
        self.selection.group = ""
        self.recorder.choose(done.made)
        self.recorder.say("swung-open")
        offer(self.recorder, after_swing(self.session.teardown, done.made))
        return True

    def _lifted(self, part: str) -> None:
        """Once a layer opens, the cheapest evidence is asked for; never again for the same layer."""
        self.selection.group = ""
        if self.session.teardown.part[part].kind in covering_kinds().large:
            self.recorder.say("layer-opened")
        offer(self.recorder, after_lift(self.session.teardown, part))

    def _may(self, verb: str, thing: str, taken_along: Sequence[str] = ()) -> bool:
        """Whether the rules allow it, or it was asked for again after they did not."""
        obstacles = [o for o in self.session.derived.obstacles(thing)
                     if not (o.code == "tied" and set(o.things) <= set(taken_along))]
        if any(obstacle.code == "gone" for obstacle in obstacles):
            self.recorder.say("off-already", alarm=True, thing=thing)
            return False
        if obstacles and self.recorder.confirmed != (verb, thing):
            self.recorder.confirmed = (verb, thing)
            self.recorder.say("in-the-way", alarm=True, obstacles=obstacles)
            return False
        return True

    # -- reach, outcomes

    def reach_all(self) -> bool:
        view = self.recorder.view
        return self.reach([mark.thing for mark in view.marks] if view else [])

    def reach_round(self, corners: Sequence[Spot], places: Sequence[int] = ()) -> None:
        view = self.recorder.view
        self.selection.reaching = False
        self.recorder.tell.armed()
        self.reach([view.marks[n].thing for n in places] if view else [], corners)

    def reach(self, things: Sequence[str], corners: Sequence[Spot] = ()) -> bool:
        """Log what could be undone at this moment: of these, what is still in place; and what is marked later within
        what was drawn round."""
        view = self.recorder.view
        still = [thing for thing in dict.fromkeys(things) if self.recorder.is_on(thing)]
        area = (view.id, simpler(corners)) if view is not None and len(corners) > 2 else None
        if still or area is not None:
            marked = dict.fromkeys(mark.thing for mark in view.marks) if view is not None else {}
            among = [thing for thing in marked if self.recorder.is_on(thing)]
            return self.recorder.do(entries.reach, still, self.recorder.t, among, area) is not None
        self.recorder.say("nothing-in-place", alarm=True)
        return False

    def next_outcome(self) -> None:
        """What came of the last act: the next word."""
        last = entries.last_act(self.session.teardown)
        if last is None:
            self.recorder.say("nothing-done", alarm=True)
            return
        words = list(entries.OUTCOMES)
        word = words[(words.index(entries.outcome_of(last)) + 1) % len(words)]
        self.recorder.do(entries.set_outcome, last.id, word, self.recorder.t)

    # -- the typed line

    def typed(self, line: str) -> bool:
        """Carry a line out by the same acts; raises NotUnderstood. False where it was not done."""
        parsed = understand(self.session.teardown, line)
        return {NOTE: self._typed_note, ASKS: self._typed_ask, LIFT: self._typed_lift, LIFT_AS: self._typed_lift_as,
                SWING: self._typed_swing, RELEASE: self._typed_release, MEET: self._typed_meet,
                ROLE: self._typed_role, HID_NOTHING: self._typed_hid_nothing,
                REACH: self._typed_reach}[parsed.code](parsed)

    def _typed_note(self, parsed: Parsed) -> bool:
        return self.recorder.do(entries.note, parsed.text, self.recorder.t) is not None

    def _typed_role(self, parsed: Parsed) -> bool:
        self.recorder.choose(parsed.thing)
        return self.recorder.do(set_role, parsed.thing, parsed.text) is not None

    def _typed_hid_nothing(self, parsed: Parsed) -> bool:
        self.recorder.choose(parsed.thing)
        return self.recorder.do(set_footprint, self.selection.view, parsed.thing, ()) is not None

    def _typed_reach(self, _parsed: Parsed) -> bool:
        return self.reach_all()

    def _typed_ask(self, parsed: Parsed) -> bool:
        self.recorder.choose(parsed.thing)
        self.recorder.tell.asks(parsed.thing)
        return True

    def _typed_lift(self, parsed: Parsed) -> bool:
        self._choose_again(parsed.thing)
        return self.lift()

    def _typed_lift_as(self, parsed: Parsed) -> bool:
        return self.lift_as(parsed.thing, name=parsed.text)

    def _typed_swing(self, parsed: Parsed) -> bool:
        self._choose_again(parsed.thing)
        return self.swing()

    def _typed_release(self, parsed: Parsed) -> bool:
        self._choose_again(parsed.thing)
        return self.release(parsed.way, outcome=parsed.outcome, **parsed.figures())

    def _typed_meet(self, parsed: Parsed) -> bool:
        was_safe = self.session.derived.is_isolated
        done = self.recorder.do(lifting.meet_and_release, parsed.kind, self.recorder.t, part=parsed.part,
                                count=parsed.count or 1, letter=parsed.letter, owner=parsed.owner,
                                outcome=parsed.outcome, **parsed.figures())
        if done is None:
            return False
        self.recorder.choose(done.made)
        self.recorder.warn_after_release(done.made, 0, was_safe)
        return True

    def _choose_again(self, thing: str) -> None:
        """Choose, and still know what was asked for once."""
        asked = self.recorder.confirmed
        self.recorder.choose(thing)
        self.recorder.confirmed = asked if asked is not None and asked[1] == thing else None
