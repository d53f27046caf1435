"""What is done to marks that are there, and where one works: the mat or the underside, what is within reach."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from oddbolt.model.places import Spot
from oddbolt.rules.replay import readings
from oddbolt.session.modes import Act
from oddbolt.session.recording.recorder import Recorder, simpler
from oddbolt.session.verbs import marking
from oddbolt.session.verbs.footprints import set_footprint


class MarkActs:
    """Holds nothing: what is chosen stands in the selection."""

    def __init__(self, recorder: Recorder) -> None:
        self.recorder = recorder
        self.session = recorder.session
        self.selection = recorder.selection
        recorder.acts |= {Act.MOVE_MARK: self.move_mark, Act.OPENS_THERE: self.opens_there,
                          Act.DELETE_MARK: self.delete_mark, Act.UNDERSIDE: self.toggle_underside,
                          Act.ARM_REACH: self.arm_reach, Act.ARM_FOOTPRINT: self.arm_footprint,
                          Act.FOOTPRINT_ROUND: self.footprint_round, Act.COVERED_NOTHING: self.covered_nothing,
                          Act.MOVE_EDGE: self.move_edge}

    def move_mark(self, place: int, spot: Spot) -> None:
        self.recorder.do(marking.move_mark, self.selection.view, place, *spot)

    def delete_mark(self) -> None:
        """The last mark of the chosen thing on this photograph."""
        view = self.recorder.view
        places = [n for n, mark in enumerate(view.marks) if mark.thing == self.selection.thing] if view else []
        if places:
            self.recorder.do(marking.unmark, view.id, places[-1])
        else:
            self.recorder.say("no-mark-here", alarm=True)

    def opens_there(self, angle_deg: float) -> None:
        """The plug that is chosen opens that way."""
        view, thing = self.recorder.view, self.session.teardown.joint.get(self.selection.thing)
        if view is not None and thing is not None and thing.kind == "connector":
            self.recorder.do(marking.set_angle, view.id, thing.id, angle_deg)
        else:
            self.recorder.say("choose-plug", alarm=True)

    def toggle_underside(self) -> None:
        """Work on the underside of what was lifted last, or of the lifted part that is chosen; again: the mat."""
        removed, chosen = list(self.session.derived.state.removed), self.selection
        if chosen.carrier:
            chosen.carrier = ""
            self.recorder.say("on-the-mat")
        elif removed:
            chosen.carrier = chosen.thing if chosen.thing in removed else removed[-1]
            self.recorder.say("on-the-underside", thing=chosen.carrier)
        else:
            self.recorder.say("nothing-lifted", alarm=True)
        self.recorder.tell.armed()

    def _uncovering(self) -> str:
        """The part in hand that came off, else what was lifted last, or hangs open."""
        chosen, state = self.selection.thing, self.session.derived.state
        if chosen in state.removed:
            return chosen
        last = next((entry for entry in reversed(readings(self.session.teardown))
                     if entry.thing and (entry.do == "remove" or entry.do == "release"
                                         and self.session.teardown.joint[entry.thing].kind == "swing")), None)
        if last is None or last.thing is None:
            self.recorder.say("nothing-lifted", alarm=True)
            return ""
        return last.thing

    def arm_footprint(self) -> bool:
        """What is drawn round next is what the part had covered; again: no."""
        part = "" if self.selection.covering else self._uncovering()
        if not part and not self.selection.covering:
            return False
        self.selection.covering = part
        if part:
            self.recorder.say("draw-footprint", thing=part)
        self.recorder.tell.armed()
        return True

    def footprint_round(self, corners: Sequence[Spot], **_: Any) -> bool:
        """Of the part it was asked for, else of what was lifted last."""
        part, self.selection.covering = self.selection.covering or self._uncovering(), ""
        self.recorder.tell.armed()
        return bool(part) and self.recorder.do(set_footprint, self.selection.view, part, simpler(corners)) is not None

    def covered_nothing(self) -> bool:
        """Said on purpose: the part hid nothing."""
        part, self.selection.covering = self._uncovering(), ""
        self.recorder.tell.armed()
        return bool(part) and self.recorder.do(set_footprint, self.selection.view, part, ()) is not None

    def move_edge(self, part: str, view: str, corners: Sequence[Spot]) -> None:
        """The edge of what a part had covered was dragged."""
        self.recorder.do(set_footprint, view, part, corners)

    def arm_reach(self) -> None:
        """What is drawn round next could be undone now; again: no."""
        self.selection.reaching = not self.selection.reaching
        if self.selection.reaching:
            self.recorder.say("draw-reach")
        self.recorder.tell.armed()
