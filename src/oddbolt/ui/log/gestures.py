"""What gestures on the photograph and the keys of the Log come to: each is forwarded to whoever it concerns."""

from __future__ import annotations

from dataclasses import dataclass, replace

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QImage

from oddbolt.catalog.tables import mark_kinds
from oddbolt.session import commands
from oddbolt.session.recording import COUNTED, Kind
from oddbolt.session.session import Session
from oddbolt.ui.log.chosen.asking import Asking
from oddbolt.ui.log.chosen.clocks import Clocks
from oddbolt.ui.log.chosen.letters import LetterBar
from oddbolt.ui.log.chosen.thing import ChosenThing
from oddbolt.ui.log.chosen.tools import ToolColumn
from oddbolt.ui.log.photograph.alike import Alike
from oddbolt.ui.log.photograph.measure import Measure
from oddbolt.ui.log.photograph.numbering import Numbering
from oddbolt.ui.log.photograph.row import RowOfMarks
from oddbolt.ui.log.photograph.states import States
from oddbolt.ui.log.recorder import Recorder
from oddbolt.ui.widgets.overlay import within
from oddbolt.ui.widgets.photo import PhotoCanvas


@dataclass(frozen=True, slots=True, kw_only=True)
class Desk:
    """What gestures are made on, and who they are forwarded to."""

    session: Session
    recorder: Recorder
    states: States
    canvas: PhotoCanvas
    letters: LetterBar
    tools: ToolColumn
    hand: ChosenThing
    asking: Asking
    clocks: Clocks
    alike: Alike
    measure: Measure
    numbering: Numbering
    row: RowOfMarks


WITH_OUTLINE = ("adhesive", "clip", "film", "routing")  # joints that may be drawn round: an area, a run, an edge


class Gestures(QObject):
    """Forwards; holds nothing but who is there."""

    said = Signal(str, bool)
    pins_changed = Signal()

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._session = desk.session
        self.recorder, self.states, self.canvas = desk.recorder, desk.states, desk.canvas
        self.letters, self.tools, self.hand = desk.letters, desk.tools, desk.hand
        self.asking, self.clocks, self.alike, self.measure = desk.asking, desk.clocks, desk.alike, desk.measure
        self.numbering, self.row = desk.numbering, desk.row
        canvas, recorder = self.canvas, self.recorder
        canvas.clicked.connect(self._click)
        canvas.pin_clicked.connect(self._pin_clicked)
        canvas.pin_moved.connect(lambda n, x, y: recorder.do(
            commands.move_mark(self._session.teardown, self.states.shown, n, x, y)))
        canvas.end_dropped.connect(self._end_dropped)
        canvas.lassoed.connect(self._lassoed)
        canvas.proposal_clicked.connect(self._proposal_clicked)
        canvas.row_drawn.connect(self._row_drawn)
        canvas.arrow_pressed.connect(self._arrow)
        self.letters.changed.connect(self._letter_changed)
        self.tools.kind_chosen.connect(self.choose_kind)
        self.hand.tool_chosen.connect(self._tool_chosen)
        recorder.marking_changed.connect(self.show_marking)

    def say(self, text: str, *, alarm: bool = False) -> None:
        self.said.emit(text, alarm)

    # -- on the photograph

    def _click(self, x: float, y: float) -> None:
        if self.measure.is_on:
            self.measure.click(x, y)
        else:
            self.recorder.click(x, y)

    def _pin_clicked(self, place: int) -> None:
        view = self.states.view
        if view is None:
            return
        mark = view.marks[place]
        if self.measure.is_on:
            self.measure.click(mark.x, mark.y)
        elif self.numbering.is_on:
            self.numbering.click(place)
        elif not (self.asking.isVisible() and self.asking.toggle(mark.thing)):
            self.recorder.pin(mark.thing, mark.x, mark.y)
        self.canvas.setFocus()

    def _arrow(self, angle_deg: float) -> None:
        """The plug in hand opens that way."""
        view, thing = self.states.view, self._session.teardown.joint.get(self.recorder.hand)
        if view is not None and thing is not None and thing.kind == "connector":
            self.recorder.do(commands.set_angle(self._session.teardown, view.id, thing.id, angle_deg))
        else:
            self.say(self.tr("Choose a plug; Ctrl and an arrow key say which way it opens"), alarm=True)

    def _end_dropped(self, number: int, x: float, y: float) -> None:
        near = self.canvas.pin_at(self.canvas.mapFromScene(x, y))
        view = self.states.view
        self.recorder.end_dropped(number, (x, y), view.marks[near].thing if view and near is not None else "")
        self.pins_changed.emit()

    def _lassoed(self, pins: list[int], corners: list[tuple[float, float]]) -> None:
        view, reaching = self.states.view, self.canvas.lasso_armed
        self.canvas.lasso_armed = False
        self.tools.show_switch("arm_reach", False)
        if view is None:
            return
        if reaching:
            self.recorder.reach([view.marks[n].thing for n in pins])
        elif self.recorder.kind is not None and self.recorder.kind.joint in WITH_OUTLINE:
            middle = [(sum(x for x, _ in corners) / len(corners), sum(y for _, y in corners) / len(corners))]
            self.recorder.mark(middle, outline=corners[::max(1, len(corners) // 40)])
        elif self.recorder.kind is not None and self.recorder.kind.letter:
            self._mark_within(corners)
        else:
            self.recorder.selected = pins
            if not pins:
                self.recorder.outline_drawn(corners[::max(1, len(corners) // 40)])
                return
            self.recorder.choose(view.marks[pins[0]].thing)
            self.say(self.tr("{0} marks drawn round").format(len(pins)))

    def _proposal_clicked(self, place: int) -> None:
        if not self.row.is_proposing:
            self.alike.clicked(place)

    def _row_drawn(self, first: tuple[float, float], last: tuple[float, float]) -> None:
        kind = self.recorder.kind
        if kind is None or not (kind.letter or kind.joint in COUNTED):
            self.say(self.tr("A row is of screws or clips: choose a letter, or clips, first"), alarm=True)
        else:
            self.row.draw(first, last)

    def row_accepted(self, places: list[tuple[float, float]]) -> None:
        self.recorder.mark_also(places)
        self.canvas.setFocus()

    def _mark_within(self, corners: list[tuple[float, float]]) -> None:
        """Mark the screws of the present letter that were drawn round: those that look like one marked before."""
        view = self.states.view
        xs, ys = [x for x, _ in corners], [y for _, y in corners]
        image = self.states.photos.get(view.photo)
        self.alike.look(image or QImage(), self._like(), (min(xs), min(ys), max(xs), max(ys)),
                        lambda places: self._found_within(places, corners))

    def _found_within(self, places: list[tuple[float, float]], corners: list[tuple[float, float]]) -> None:
        inside = [places[n] for n in within(places, corners)]
        if inside:
            self.recorder.mark_also(inside)
        else:
            self.say(self.tr("Nothing in there looks like what is marked"), alarm=True)

    def find_alike(self) -> None:
        """Propose other places like the joint in hand, or the group that is being marked."""
        view = self.states.view
        if view is not None:
            self.alike.look(self.states.photos.get(view.photo) or QImage(), self._like())

    def _like(self) -> str:
        """The joint whose marks others are found by: the group being marked; the last of the present letter, on this
        photograph or another; without a letter, the one in hand."""
        teardown, view = self._session.teardown, self.states.view
        letter = self.recorder.kind.letter if self.recorder.kind is not None else ""
        if self.recorder.group or not letter:
            return self.recorder.group or self.recorder.hand
        own = [joint.id for joint in teardown.joints if joint.fastener == letter]
        here = [mark.thing for mark in view.marks if mark.thing in own] if view is not None else []
        return next(reversed([*own, *here]), "")

    def choose_kind(self, kind: str) -> None:
        """Marking of a kind of joint; the same again: its next type. Where one undoes as one marks and points at the
        photograph, the key marks there."""
        self.letters.clear(quiet=True)
        self.recorder.set_kind(self.tools.next_type(kind, self.recorder.kind))
        spot = self.canvas.pointer()
        if self.recorder.as_i_mark and spot is not None and len(mark_kinds()[kind].types) <= 1:
            under = self.canvas.pin_at(self.canvas.mapFromScene(*spot))  # point and press: it is done there
            self._click(*spot) if under is None else self._pin_clicked(under)

    def _letter_changed(self) -> None:
        self.recorder.part = self.letters.part
        if self.letters.letter:
            self.recorder.set_kind(Kind(letter=self.letters.letter))
        elif self.recorder.kind is None or self.recorder.kind.letter:
            self.recorder.set_kind(None)

    def lift_as(self, kind: str) -> None:
        self.recorder.lift_as(kind, self.canvas.pointer())

    def _tool_chosen(self, tool: str) -> None:
        joint = self._session.teardown.joint.get(self.recorder.hand)
        if joint is not None:
            self.recorder.do(commands.set_tool(self._session.teardown, joint.id, self.hand.chosen_way(), tool))
            if joint.kind != "screw":
                self.tools.remember_tool(joint.kind, joint.type, tool)
                kind = self.recorder.kind
                if kind is not None and (kind.joint, kind.type) == (joint.kind, joint.type):
                    self.recorder.kind = replace(kind, tool=tool)

    def release(self) -> None:
        joint, way = self.recorder.hand, self.hand.chosen_way()
        before = len(self._session.teardown.log)
        self.recorder.release(way)
        if len(self._session.teardown.log) > before and joint in self._session.teardown.joint:
            self.clocks.follow(joint, way)

    def swing(self) -> None:
        self.recorder.swing(self.canvas.pointer())

    def usual_act(self) -> None:
        """What a foot switch does: mark what is proposed, else release what is in hand, else lift what it held, else
        the next photograph."""
        if self.numbering.is_on:
            self.numbering.finish()
        elif self.row.is_proposing:
            self.row.accept_all()
        elif self.alike.is_proposing:
            self.alike.accept_all()
        elif self.recorder.hand in self._session.teardown.joint and self.recorder.is_on(self.recorder.hand):
            self.release()
        elif self.recorder.hand:
            self.recorder.lift()
        else:
            self.states.take_picture() if self.states.camera else self.states.next_photo()

    def toggle_as_i_mark(self) -> None:
        self.recorder.as_i_mark = not self.recorder.as_i_mark
        self.say(self.tr("A click marks and releases") if self.recorder.as_i_mark else self.tr("A click marks only"))
        self.show_marking()

    def toggle_marking(self) -> None:
        self.letters.toggle()

    def stop_marking(self) -> None:
        if self.numbering.is_on or self.row.is_proposing:  # one thing at a time is left
            self.numbering.give_up()
            self.row.clear()
            self.canvas.setFocus()
            return
        self.letters.clear(quiet=True)
        self.alike.clear()
        if self.measure.is_on:
            self.toggle_measuring()
        self.recorder.give_up()
        self.canvas.lasso_armed = False
        self.tools.show_switch("arm_reach", False)
        self.pins_changed.emit()

    def all_within_reach(self) -> None:
        view = self.states.view
        self.recorder.reach([mark.thing for mark in view.marks] if view else [])

    def arm_reach(self) -> None:
        self.canvas.lasso_armed = not self.canvas.lasso_armed
        self.tools.show_switch("arm_reach", self.canvas.lasso_armed)
        self.say(self.tr("Draw round what could be undone now"))

    def toggle_measuring(self) -> None:
        """Measure instead of marking; again: back."""
        on = not self.measure.is_on
        self.measure.switch(on, self.states.view)
        self.tools.show_switch("toggle_measuring", on)
        self.canvas.show_marking(on or self.recorder.kind is not None)

    def take_mark_away(self) -> None:
        """Delete the last mark of the chosen thing on this view."""
        view = self.states.view
        places = [n for n, mark in enumerate(view.marks) if mark.thing == self.recorder.hand] if view else []
        if places:
            self.recorder.do(commands.unmark(self._session.teardown, view.id, places[-1]))

    def show_marking(self) -> None:
        """Pointer, buttons and switches as the recorder is now."""
        kind = self.recorder.kind
        self.canvas.show_marking(kind is not None)
        self.tools.show_kind(kind)
        self.tools.show_switch("toggle_underside", bool(self.recorder.carrier))
        self.tools.show_switch("toggle_as_i_mark", self.recorder.as_i_mark)
