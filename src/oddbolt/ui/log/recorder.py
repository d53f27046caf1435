"""What the gestures of the Log do: holds what is in hand and what a click marks, and forwards to the session.

No widget is shown here; the panel listens. Everything goes through session commands, so everything can be taken back.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QObject, Signal

from oddbolt.knowledge import warnings
from oddbolt.knowledge.guesses import LARGE_COVERS
from oddbolt.model.places import Spot
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import View
from oddbolt.rules.device_state import Obstacle
from oddbolt.session import commands, entries, recording
from oddbolt.session.recording import Kind
from oddbolt.session.session import Session
from oddbolt.words import wording


class Recorder(QObject):
    """The state of recording: what is chosen, what a click marks, where one works."""

    said = Signal(str, bool)  # words, alarm
    chosen = Signal(str)
    marking_changed = Signal()
    kind_wanted = Signal(str)  # what the next kind is for, in words; empty: no longer

    def __init__(self, session: Session, words: Callable[[Obstacle], str]) -> None:
        super().__init__()
        self._session = session
        self._obstacle_text = words
        self.hand = ""
        self.kind: Kind | None = None
        self.part = ""  # the part that the next screws hold; empty: the one that comes off next
        self.group = ""  # the joint that clicks add to
        self.carrier = ""  # the lifted part whose underside one works on
        self.as_i_mark = False
        self.view: View | None = None
        self.selected: list[int] = []  # marks drawn round
        self._dropped: tuple[str, int, Spot] | None = None  # a joint's end let go over nothing
        self._outlined: tuple[Spot, ...] = ()  # a part drawn round, waiting for its kind
        self._confirm: tuple[str, str] | None = None

    # -- small things

    def say(self, text: str, *, alarm: bool = False) -> None:
        self.said.emit(text, alarm)

    def do(self, command: commands.Command) -> bool:
        try:
            self._session.do(command)
        except Refusal as refusal:
            self.say(str(refusal), alarm=True)
            return False
        return True

    def made(self, make: Callable[[], tuple[commands.Command, str]]) -> str:
        """Carry out what makes something; returns its id, or empty when it was refused."""
        try:
            command, id_ = make()
        except Refusal as refusal:
            self.say(str(refusal), alarm=True)
            return ""
        return id_ if self.do(command) else ""

    @property
    def t(self) -> float:
        return self._session.seconds_now()

    def choose(self, thing: str) -> None:
        self._confirm = None
        self.hand = thing
        self.chosen.emit(thing)

    def forget(self) -> None:
        """After another document was opened or something was taken back: drop what is no longer there."""
        teardown = self._session.teardown
        if self.hand not in teardown.part and self.hand not in teardown.joint:
            self.hand = ""
        if self.group not in teardown.joint:
            self.group = ""
        if self.part not in teardown.part:
            self.part = ""
        if self.carrier not in self._session.derived.replay.state.removed:
            self.carrier = ""
        self._confirm, self.selected = None, []

    # -- what a click marks

    def set_kind(self, kind: Kind | None) -> None:
        self.kind = kind
        self.group = ""
        self.marking_changed.emit()
        if kind is None:
            return
        if kind.letter:
            for check in warnings.on_letter(self._session.teardown, kind.letter):
                lengths = ", ".join(f"{id_} {mm:g} mm" for id_, mm in check.figures)
                self.say(self.tr("Look alike: {0}. Measure one before it goes back.").format(lengths))
        else:
            self.say(self.tr("A click marks: {0}").format(kind.type or kind.joint))

    def new_group(self) -> None:
        """The next mark begins a group of its own."""
        self.group = ""
        self.say(self.tr("The next mark begins a new group"))

    def click(self, x: float, y: float) -> None:
        """A click beside all marks."""
        if self.view is None or self.kind is None:
            self.choose("")
        elif self.kind.letter and self.group:
            if self.do(recording.mark_more(self._session.teardown, self.view.id, self.group, [(x, y)])):
                self.choose(self.group)
        else:
            self.mark([(x, y)])

    def mark(self, spots: Sequence[Spot], *, part: str = "", outline: Sequence[Spot] = ()) -> str:
        """A new joint of the present kind; released at once where one undoes as one marks."""
        teardown, kind, view = self._session.teardown, self.kind, self.view
        if kind is None or view is None:
            return ""

        def make() -> tuple[commands.Command, str]:
            command, id_ = recording.mark_new(teardown, view.id, kind, spots, carrier=self.carrier, outline=outline,
                                              part=part or (self.part if kind.letter else ""))
            if self.as_i_mark and not kind.letter:
                command = recording.then_release(command, id_, self.t,
                                                 self.tr("mark and release {0}").format(kind.type or kind.joint))
            return command, id_

        made = self.made(make)
        if made:
            self.group = made if kind.letter else ""
            self.choose(made)
            if self.as_i_mark and not kind.letter:
                self._check(made)
        return made

    def mark_also(self, spots: Sequence[Spot]) -> None:
        """Several at once: more of the group that is being marked, or a new one of the present letter."""
        view, teardown = self.view, self._session.teardown
        joint = self.group or (self.hand if self.kind is None and self.hand in teardown.joint else "")
        if view is None or not spots:
            return
        if joint:
            self.do(recording.mark_more(teardown, view.id, joint, spots))
            self.choose(joint)
        else:
            self.mark(spots)

    def pin(self, thing: str, x: float, y: float) -> None:
        """A click on a mark: chooses; marks on a part what it is held by; releases where one undoes as one marks."""
        teardown = self._session.teardown
        if self.kind is not None and not self.kind.letter and thing in teardown.part and self.is_on(thing):
            self.mark([(x, y)], part=thing)
            return
        if self.kind is not None and not self.is_on(thing):
            self.click(x, y)  # what is gone is not in the way of a new mark
            return
        self.choose(thing)
        if self.as_i_mark and thing in teardown.joint and self.is_on(thing):
            self.release(0)

    def is_on(self, thing: str) -> bool:
        return self._session.derived.replay.state.is_in_place(thing)

    # -- release, lift, swing

    def release(self, way: int) -> None:
        """Log the release of the chosen joint; against the rules only when pressed twice."""
        if self.hand in self._session.teardown.joint and self._may("release", self.hand):
            joint = self.hand
            if self.do(commands.release(self._session.teardown, joint, self.t, way,
                                        seconds=self._session.take_stopwatch())):
                self._check(joint)

    def _check(self, joint: str) -> None:
        """What a practitioner at the next bench would say after a release."""
        performed = self._session.derived.performed.timed
        live = bool(performed) and performed[-1].operation.joint == joint and performed[-1].live
        for check in warnings.on_release(self._session.teardown, joint, live):
            name = wording.name_of(self._session.teardown, joint)
            self.say(wording.check_text(check, name), alarm=True)

    def lift(self) -> None:
        """Lift the chosen part, or the part that the chosen joint holds."""
        teardown = self._session.teardown
        part = self.hand if self.hand in teardown.part else ""
        if self.hand in teardown.joint:
            part = next((p for p in teardown.joint[self.hand].of
                         if p in self._session.derived.planner.structure.removals and self.is_on(p)), "")
        if not part:
            return
        if recording.is_next(teardown.part[part]):
            self.lift_as("part")
        elif self._may("lift", part):
            command = self.attempt(lambda: recording.lift_known(teardown, part, self.t, self.group or self.hand))
            if command is not None and self.do(command):
                self.group = ""
                self._after_lift(part)

    def attempt(self, make: Callable[[], commands.Command]) -> commands.Command | None:
        try:
            return make()
        except Refusal as refusal:
            self.say(str(refusal), alarm=True)
            return None

    def lift_as(self, kind: str, pointer: Spot | None = None) -> None:
        """A kind was said: it names what comes off next, or what a joint's end was dropped on."""
        if self._dropped is not None:
            self._name_dropped(kind)
            return
        if self._outlined:
            self._name_outlined(kind)
            return
        teardown = self._session.teardown
        view = self.view.id if self.view else ""
        known = recording.meant_by(teardown, kind, self.hand, view, pointer)
        if known and not self._may("lift", known, waiting=recording.waiting(teardown, self.hand)):
            self.choose(known)
            self._confirm = ("lift", known)
            return
        made = self.made(lambda: recording.lift_as(
            teardown, kind, self.t, view_id=view, spot=pointer, hand=self.group or self.hand, carrier=self.carrier))
        if made:
            self.group = ""
            self.choose(made)
            self._after_lift(made)

    def swing(self, pointer: Spot | None = None) -> None:
        """The cover opens and stays tied."""
        teardown = self._session.teardown
        made = self.made(lambda: recording.swing_open(
            teardown, self.t, view_id=self.view.id if self.view else "", spot=pointer, hand=self.hand))
        if made:
            self.choose(made)
            self.say(self.tr("Still tied by its cable: do not lift it far. ") + self._invitation())

    def _after_lift(self, part: str) -> None:
        """Once a layer opens, the cheapest evidence is asked for; never again for the same layer."""
        if self._session.teardown.part[part].kind in LARGE_COVERS:
            self.say(self._invitation())

    def _invitation(self) -> str:
        return self.tr("A layer opened. What could be undone now? W: all marks here, J: draw round it.")

    def _may(self, verb: str, thing: str, waiting: Sequence[str] = ()) -> bool:
        obstacles = [o for o in self._session.derived.obstacles(thing)
                     if not (o.code == "tied" and set(o.things) <= set(waiting))]
        if any(obstacle.code == "gone" for obstacle in obstacles):
            self.say(self.tr("{0} is off or open already").format(
                wording.name_of(self._session.teardown, thing)), alarm=True)
            return False
        if obstacles and self._confirm != (verb, thing):
            self._confirm = (verb, thing)
            self.say(self.tr("{0}, by the record. Press again if it was done all the same.").format(
                "; ".join(self._obstacle_text(obstacle) for obstacle in obstacles)), alarm=True)
            return False
        return True

    # -- ends, underside, reach

    def end_dropped(self, number: int, spot: Spot, target: str) -> None:
        """An end of the chosen joint was let go over a thing, or over nothing: then its kind is asked for."""
        teardown = self._session.teardown
        if self.hand not in teardown.joint:
            return
        part = target if target in teardown.part else ""
        if target in teardown.joint:
            part = teardown.joint[target].of[0]
        if part:
            command = self.attempt(lambda: recording.tie(teardown, self.hand, number, part))
            if command is not None and self.do(command):
                self._was_it_a_swing(part)
        else:
            self._dropped = self.hand, number, spot
            self.kind_wanted.emit(self.tr("What is there? Press its kind."))

    def _was_it_a_swing(self, part: str) -> None:
        """A plug of a cover that is off already, by the log: then the cover was swung open, it did not come off."""
        teardown = self._session.teardown
        joint = teardown.joint.get(self.hand)
        tied = joint is not None and joint.kind == "connector" and part in joint.of
        if tied and not self.is_on(part) and teardown.part[part].kind in LARGE_COVERS:
            command = self.attempt(lambda: recording.swing_instead(teardown, part, self.t))
            if command is not None and self.do(command):
                self.say(self.tr("{0}: its plug was still in, so it was swung open. Lift it when the plug is out.")
                         .format(wording.name_of(teardown, part)))

    def _name_dropped(self, kind: str) -> None:
        joint, number, spot = self._dropped
        self._dropped = None
        self.kind_wanted.emit("")
        view = self.view
        if view is not None:
            self.made(lambda: recording.tie_to_new(self._session.teardown, joint, kind, view.id, spot, end=number))
            self.choose(joint)

    def outline_drawn(self, corners: Sequence[Spot]) -> None:
        """A part was drawn round: its kind is asked for. Where it lies tells what it may cover."""
        self._outlined = tuple((round(x, 1), round(y, 1)) for x, y in corners)
        self.kind_wanted.emit(self.tr("Which part is this? Press its kind; Esc leaves it."))

    def _name_outlined(self, kind: str) -> None:
        corners, self._outlined = self._outlined, ()
        self.kind_wanted.emit("")
        view, teardown = self.view, self._session.teardown
        if view is None:
            return
        middle = sum(x for x, _ in corners) / len(corners), sum(y for _, y in corners) / len(corners)
        made = self.made(lambda: recording.make_part(teardown, kind, view.id, middle, carrier=self.carrier,
                                                     outline=corners))
        if made:
            self.choose(made)

    def give_up(self) -> None:
        """Leave what is half done."""
        self._dropped, self._outlined, self.selected = None, (), []
        self.kind_wanted.emit("")
        self.set_kind(None)

    def toggle_underside(self) -> None:
        """Work on the underside of what was lifted last, or of the lifted part in hand; again: back to the mat."""
        removed = list(self._session.derived.replay.state.removed)
        if self.carrier:
            self.carrier = ""
            self.say(self.tr("Back on the mat"))
        elif removed:
            self.carrier = self.hand if self.hand in removed else removed[-1]
            self.say(self.tr("On the underside of {0}; U again: back").format(
                wording.name_of(self._session.teardown, self.carrier)))
        else:
            self.say(self.tr("Nothing has been lifted yet"), alarm=True)
        self.marking_changed.emit()

    def reach(self, things: Sequence[str]) -> None:
        """Log what could be undone at this moment: of these, what is still in place."""
        still = [thing for thing in dict.fromkeys(things) if self.is_on(thing)]
        if still:
            self.do(commands.reach(self._session.teardown, still, self.t))
        else:
            self.say(self.tr("Nothing marked here is still in place"), alarm=True)

    # -- after the act

    def next_outcome(self) -> None:
        """What came of the last act: the next word."""
        last = entries.last_act(self._session.teardown)
        if last is None:
            self.say(self.tr("Nothing has been done yet"), alarm=True)
            return
        words = list(entries.OUTCOMES)
        word = words[(words.index(entries.outcome_of(last)) + 1) % len(words)]
        self.do(entries.set_outcome(self._session.teardown, last.id, word, self.t))
