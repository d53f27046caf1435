"""Releasing, lifting, swinging, and what could be reached: the acts of the recorder that go into the log."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from oddbolt.catalog.tables import covering_kinds
from oddbolt.model.places import Spot
from oddbolt.session.modes import Act
from oddbolt.session.recording.offers import MEANT, after_lift, after_swing
from oddbolt.session.recording.recorder import Recorder, offer, simpler
from oddbolt.session.standing import is_next, waiting
from oddbolt.session.verbs import entries, lifting

SAME_PLACE_PX = 12.0  # a pointer that was not meant to move


class LiftingActs:
    """What is done to the chosen thing; against the rules only when it is asked for twice."""

    def __init__(self, recorder: Recorder) -> None:
        self.recorder = recorder
        self.session = recorder.session
        self.selection = recorder.selection
        self._pressed: tuple[str, Spot | None] | None = None  # the key that lifted last, and where
        recorder.acts |= {Act.RELEASE: self.release, Act.LIFT: self.lift, Act.LIFT_AS: self.lift_as,
                          Act.SWING: self.swing, Act.REACH_ALL: self.reach_all, Act.REACH_ROUND: self.reach_round,
                          Act.OUTCOME: self.next_outcome}

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
                                seconds=self.session.stopwatch.seconds if seconds is None else seconds):
            return False
        self.session.stopwatch.stop()
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
        if self._is_pressed_again(kind, spot):
            return self.recorder.acts[Act.ANSWER_1]()
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
        self._pressed = (kind, spot)
        return True

    def _is_pressed_again(self, kind: str, spot: Spot | None) -> bool:
        """The same key at the same place, while it is asked whether a part on record was meant: it was."""
        offered = self.recorder.offered
        if not offered or offered[0].code != MEANT or self._pressed is None or self._pressed[0] != kind:
            return False
        before = self._pressed[1]
        if spot is None or before is None:
            return spot is before
        return abs(spot[0] - before[0]) + abs(spot[1] - before[1]) <= SAME_PLACE_PX

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
