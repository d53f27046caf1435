"""From the photograph, the keys and the buttons to the recorder: each signal becomes a gesture with its place.

The acts that need the window's own parts (measuring, proposals, photographs, the open question) are registered here
beside those of the recorder, so that the table of modes finds all of them in one place.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from msgspec import Struct
from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QImage

from oddbolt.catalog.tables import part_kinds
from oddbolt.model.places import Spot
from oddbolt.model.things import Mark
from oddbolt.session.modes import Act, Gesture, Mode
from oddbolt.session.recording.recorder import Recorder
from oddbolt.ui.log.chosen.asking import Asking
from oddbolt.ui.log.chosen.letters import LetterBar
from oddbolt.ui.log.chosen.lift_bar import LiftBar
from oddbolt.ui.log.chosen.thing import ChosenThing
from oddbolt.ui.log.chosen.tools import ToolColumn
from oddbolt.ui.log.photograph.alike import Alike
from oddbolt.ui.log.photograph.measure import Measure
from oddbolt.ui.log.photograph.row import RowOfMarks
from oddbolt.ui.log.photograph.states import States
from oddbolt.ui.widgets.overlay import within
from oddbolt.ui.widgets.photo import PhotoCanvas
from oddbolt.words.translate import tr


class Desk(Struct, frozen=True, kw_only=True):
    """What gestures are made on, and who they are forwarded to."""

    recorder: Recorder
    states: States
    canvas: PhotoCanvas
    letters: LetterBar
    lift_bar: LiftBar
    tools: ToolColumn
    thing: ChosenThing
    asking: Asking
    alike: Alike
    measure: Measure
    row: RowOfMarks


class Gestures(QObject):
    """Forwards; holds nothing but who is there."""

    said = Signal(str, bool)

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._desk = desk
        self.recorder, self.canvas, self.states = desk.recorder, desk.canvas, desk.states
        self._bind_photograph()
        self.recorder.acts |= {
            Act.MARK_ALIKE_ROUND: self._mark_alike_round, Act.PROPOSE_ROW: desk.row.draw,
            Act.TAKE_PROPOSAL: self._take_proposal, Act.TAKE_PROPOSALS: self._take_proposals,
            Act.LEAVE_PROPOSALS: self._leave_proposals, Act.FIND_ALIKE: self.find_alike,
            Act.MEASURE_POINT: lambda spot, **_: desk.measure.click(*spot), Act.ANSWER_MARK: self._answer_mark,
            Act.TOGGLE_MEASURING: self.toggle_measuring, Act.LEAVE_MEASURING: self.toggle_measuring,
            Act.TOGGLE_MARKING: desk.letters.toggle, Act.USUAL: self._usual}

    def _bind_photograph(self) -> None:
        canvas, desk = self.canvas, self._desk
        canvas.clicked.connect(lambda x, y: self.make(Gesture.CLICK_BESIDE, spot=(x, y)))
        canvas.pin_clicked.connect(self._pin_clicked)
        canvas.pin_moved.connect(lambda n, x, y: self.make(Gesture.MOVE_MARK, place=n, spot=(x, y)))
        canvas.end_dropped.connect(self._end_dropped)
        canvas.lassoed.connect(self._drawn_round)
        canvas.covered_drawn.connect(lambda corners: self.make(Gesture.DRAW_COVERED, corners=corners))
        canvas.proposal_clicked.connect(lambda n: self.make(Gesture.CLICK_PROPOSAL, place=n))
        canvas.seen_clicked.connect(lambda n: self.make(Gesture.CLICK_SEEN, place=n))
        canvas.edge_moved.connect(lambda part, corners: self.make(
            Gesture.MOVE_EDGE, part=part, view=self.states.shown, corners=corners))
        canvas.row_drawn.connect(lambda first, last: self.make(Gesture.DRAW_ROW, first=first, last=last))
        canvas.arrow_pressed.connect(lambda degrees: self.make(Gesture.ARROW, angle_deg=degrees))
        canvas.returned.connect(lambda: self.make(Gesture.USUAL))
        desk.letters.changed.connect(self._letter_changed)
        desk.tools.kind_chosen.connect(self.kind)
        desk.tools.asked.connect(self.deed)
        desk.thing.asked.connect(self.deed)
        desk.row.accepted.connect(self._row_accepted)
        desk.alike.accepted.connect(self.recorder.mark_also)

    def say(self, text: str, *, alarm: bool = False) -> None:
        self.said.emit(text, alarm)

    # -- every gesture goes through here

    def make(self, gesture: Gesture, **what: Any) -> bool:
        self.note_modes()
        return self.recorder.gesture(gesture, **what)

    def note_modes(self) -> None:
        """What only the window knows of the modes that are on."""
        chosen, desk = self.recorder.selection, self._desk
        chosen.measuring = desk.measure.is_on
        chosen.proposing = desk.row.is_proposing or desk.alike.is_proposing
        chosen.answering = desk.asking.isVisible()

    def deed(self, gesture: Gesture) -> bool:
        """A key or a button of the table of keys, with what it needs to know of the pointer."""
        pointed: dict[Gesture, Callable[[], dict[str, Any]]] = {
            Gesture.RELEASE: lambda: {"way": self._desk.thing.chosen_way()},
            Gesture.SWING: lambda: {"spot": self.canvas.pointer()}}
        return self.make(gesture, **pointed.get(gesture, dict)())

    def kind(self, kind: str) -> None:
        """A kind of joint, by key or button, with what the pointer is on."""
        spot = self.canvas.pointer()
        under = self.canvas.pin_at(self.canvas.mapFromScene(*spot)) if spot is not None else None
        self.make(Gesture.KIND, kind=kind, spot=spot, place=under)

    def letter(self, key: str, does: Callable[[], object]) -> None:
        """A plain letter: where a part is asked for it is the letter of its kind, else it does what it always does."""
        asked = self.recorder.selection.modes()[0] in (Mode.NAMING, Mode.POINTING)
        kind = next((row.id for row in part_kinds().values() if row.key == key), "") if asked else ""
        if kind:
            self.lift_as(kind)
        else:
            does()

    def lift_as(self, kind: str) -> None:
        name = self._desk.lift_bar.name
        if self.make(Gesture.LIFT_AS, kind=kind, spot=self.canvas.pointer(), name=name.text().strip()):
            name.clear()

    # -- on the photograph

    def _pin_clicked(self, place: int) -> None:
        mark = self._mark(place)
        if mark is not None:
            self.make(Gesture.CLICK_MARK, place=place, spot=(mark.x, mark.y))
        self.canvas.setFocus()

    def _mark(self, place: int | None) -> Mark | None:
        """The mark at a place of the picture; none where the picture of a hidden Log is older than the record."""
        view = self.states.view
        return view.marks[place] if view is not None and place is not None and place < len(view.marks) else None

    def _end_dropped(self, end: int, x: float, y: float) -> None:
        near = self._mark(self.canvas.pin_at(self.canvas.mapFromScene(x, y)))
        target = near.thing if near is not None else ""
        self.make(Gesture.DROP_END, end=end, spot=(x, y), target=target)
        self.recorder.tell.armed()  # the end goes back to where the record has it

    def _drawn_round(self, places: list[int], corners: list[Spot]) -> None:
        self.make(Gesture.DRAW_ROUND, corners=corners, places=places)

    def _letter_changed(self) -> None:
        letters = self._desk.letters
        if not self.make(Gesture.LETTER, letter=letters.letter, part=letters.part):
            self.recorder.tell.armed()  # refused: the bar shows what is armed all the same

    def _answer_mark(self, place: int, spot: Spot) -> None:
        """A mark that the open question asks about is ticked; any other is chosen as ever."""
        mark = self._mark(place)
        if mark is None or not self._desk.asking.toggle(mark.thing):
            inner = self.recorder.selection.modes().index(Mode.ANSWERING) + 1
            self.recorder.gesture(Gesture.CLICK_MARK, beyond=inner, place=place, spot=spot)

    # -- proposals

    def _take_proposal(self, place: int) -> None:
        if not self._desk.row.is_proposing:
            self._desk.alike.clicked(place)

    def _take_proposals(self) -> None:
        row, alike = self._desk.row, self._desk.alike
        (row if row.is_proposing else alike).accept_all()

    def _leave_proposals(self) -> None:
        self._desk.row.clear()
        self._desk.alike.clear()
        self.canvas.setFocus()

    def _row_accepted(self, places: list[Spot]) -> None:
        self.recorder.mark_also(places)
        self.canvas.setFocus()

    def _mark_alike_round(self, corners: Sequence[Spot], **_: Any) -> None:
        """Mark the screws of the present letter that were drawn round: those that look like one marked before."""
        view = self.states.view
        if view is None:
            return
        xs, ys = [x for x, _ in corners], [y for _, y in corners]
        image = self.states.photos.get(view.photo)
        self._desk.alike.look(image or QImage(), self._like(), (min(xs), min(ys), max(xs), max(ys)),
                              lambda places: self._found_round(places, corners))

    def _found_round(self, places: list[Spot], corners: Sequence[Spot]) -> None:
        inside = [places[n] for n in within(places, corners)]
        if inside:
            self.recorder.mark_also(inside)
        else:
            self.say(tr("Nothing in there looks like what is marked"), alarm=True)

    def find_alike(self) -> None:
        """Propose other places like the chosen joint, or the group that is being marked."""
        view = self.states.view
        if view is not None:
            self._desk.alike.look(self.states.photos.get(view.photo) or QImage(), self._like())

    def _like(self) -> str:
        """The joint whose marks others are found by: the group being marked; the last of the present letter, on this
        photograph or another; without a letter, the one that is chosen."""
        chosen, view = self.recorder.selection, self.states.view
        letter = chosen.kind.letter if chosen.kind is not None else ""
        if chosen.group or not letter:
            return chosen.group or chosen.thing
        own = [joint.id for joint in self.recorder.session.teardown.joints if joint.fastener == letter]
        here = [mark.thing for mark in view.marks if mark.thing in own] if view is not None else []
        return next(reversed([*own, *here]), "")

    # -- the usual act, measuring

    def _usual(self) -> None:
        """What a foot switch does where nothing is proposed or numbered: release what is chosen, else lift what it
        held, else the next photograph."""
        recorder = self.recorder
        thing = recorder.selection.thing
        if thing in recorder.session.teardown.joint and recorder.is_on(thing):
            self.deed(Gesture.RELEASE)
        elif thing:
            self.make(Gesture.LIFT)
        else:
            self.make(Gesture.CAMERA if self.states.camera else Gesture.NEXT)

    def toggle_measuring(self) -> None:
        """Measure instead of marking; again: back."""
        on = not self._desk.measure.is_on
        self._desk.measure.switch(on, self.states.view)
        self.recorder.selection.measuring = on
        self.recorder.tell.armed()
