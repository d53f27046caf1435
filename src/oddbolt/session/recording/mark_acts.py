"""What is done to marks that are there, and where one works: the mat or the underside, what is within reach."""

from __future__ import annotations

from oddbolt.model.places import Spot
from oddbolt.session.modes import Act
from oddbolt.session.recording.recorder import Recorder
from oddbolt.session.verbs import marking


class MarkActs:
    """Holds nothing: what is chosen stands in the selection."""

    def __init__(self, recorder: Recorder) -> None:
        self.recorder = recorder
        self.session = recorder.session
        self.selection = recorder.selection
        recorder.acts |= {Act.MOVE_MARK: self.move_mark, Act.OPENS_THERE: self.opens_there,
                          Act.DELETE_MARK: self.delete_mark, Act.UNDERSIDE: self.toggle_underside,
                          Act.ARM_REACH: self.arm_reach}

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

    def arm_reach(self) -> None:
        """What is drawn round next could be undone now; again: no."""
        self.selection.reaching = not self.selection.reaching
        if self.selection.reaching:
            self.recorder.say("draw-reach")
        self.recorder.tell.armed()
