"""The Log: the photograph of a state with all that is recorded on it, what a click does, and what follows from it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QHideEvent, QImage, QKeySequence, QShortcut
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QSplitter, QTabWidget, QVBoxLayout, QWidget

from oddbolt.catalog.tables import mark_kinds, part_kinds
from oddbolt.instruments.protocols import Camera
from oddbolt.model.refusal import Refusal
from oddbolt.paint.palette import Palette
from oddbolt.session.asked_acts import AskedActs
from oddbolt.session.change import OPENED, Change
from oddbolt.session.lifting_acts import LiftingActs
from oddbolt.session.modes import Act, Gesture
from oddbolt.session.recorder import Listeners, Recorder
from oddbolt.session.session import Session
from oddbolt.session.verbs import joints, parts, photos
from oddbolt.session.verbs.entries import entry
from oddbolt.ui.log.chosen.asking import Asking
from oddbolt.ui.log.chosen.clocks import Clocks
from oddbolt.ui.log.chosen.letters import LetterBar
from oddbolt.ui.log.chosen.lift_bar import LiftBar
from oddbolt.ui.log.chosen.limits import LimitsDialog
from oddbolt.ui.log.chosen.thing import ChosenThing
from oddbolt.ui.log.chosen.tools import ToolColumn
from oddbolt.ui.log.depths import DepthList
from oddbolt.ui.log.gestures import Desk, Gestures
from oddbolt.ui.log.keys import KEYS
from oddbolt.ui.log.one_line import OneLine
from oddbolt.ui.log.photograph.alike import Alike
from oddbolt.ui.log.photograph.comparing import Comparing
from oddbolt.ui.log.photograph.measure import Measure
from oddbolt.ui.log.photograph.pinning import ends_of, pins_of
from oddbolt.ui.log.photograph.row import RowOfMarks
from oddbolt.ui.log.photograph.states import ChoosePhoto, States
from oddbolt.ui.log.photograph.strip import Strip
from oddbolt.ui.log.running import RunningList
from oddbolt.ui.pieces.sheet import Echo, label, lay_out, scrolled, sheet
from oddbolt.ui.widgets.photo import PhotoCanvas
from oddbolt.ui.workspace import Workspace
from oddbolt.words.acts import comes_to
from oddbolt.words.labels import change_text
from oddbolt.words.names import side_name
from oddbolt.words.refusals import refusal_text
from oddbolt.words.said import said_text
from oddbolt.words.translate import tr

END_STUB_PX = 44


class LogPanel(Workspace):
    """Recording. It shows and forwards: gestures to the recorder, photographs to the states."""

    def __init__(self, session: Session, palette: Palette, choose_photo: ChoosePhoto, camera: Camera | None = None) -> \
            None:
        super().__init__(session)
        self.recorder = Recorder(session, Listeners(
            said=self._said, refused=self._refused, chosen=self._show_chosen, armed=self._show_armed,
            released=self._released, asks=self._asked_in_line, kind_wanted=self._kind_wanted))
        self.lifting, self.asked = LiftingActs(self.recorder), AskedActs(self.recorder)
        self.thing = ChosenThing(session)
        self.states = States(session, choose_photo, camera)
        self.canvas = PhotoCanvas(palette)
        self.letters = LetterBar()
        self.tools = ToolColumn()
        self.lift_bar = LiftBar()
        self.strip = Strip(session)
        self.running = RunningList(session)
        self.depths = DepthList(session)
        self.asking = Asking(session)
        self.clocks = Clocks(session)
        self.alike = Alike(lambda: (session.teardown, self.states.view), lambda name: session.document.photo(name))
        self.measure = Measure(lambda name: self.states.photos.get(name))
        self.row = RowOfMarks()
        self.comparing = Comparing(self.states, self.canvas)
        self.line = OneLine(self.recorder)
        self.gestures = Gestures(Desk(
            recorder=self.recorder, states=self.states, canvas=self.canvas, letters=self.letters, tools=self.tools,
            thing=self.thing, asking=self.asking, alike=self.alike, measure=self.measure, row=self.row))
        self.echo = Echo()
        self.state = label("", "faint")
        self.side = QComboBox()
        self.performed = label("", "faint", wrap=True)
        self.above, self.below = QTabWidget(), QTabWidget()
        self._asked_about: list[str] = []
        self._build()
        self._wire()
        self._wire_words()
        self._bind_keys()
        self._stale = False
        self._follow(None)
        self.clocks.take_from_desk()

    # -- putting together

    def _build(self) -> None:
        self.side.setAccessibleName(tr("Side of the next photograph"))
        for side in ("back", "front", "edge"):
            self.side.addItem(tr("next photo: {0}").format(side_name(side)), side)
        under = QHBoxLayout()
        under.addWidget(self.echo, 1)
        under.addWidget(self.state)
        under.addWidget(self.side)
        middle = QHBoxLayout()
        middle.setSpacing(6)
        column = scrolled(self.tools)
        column.setFixedWidth(self.tools.sizeHint().width() + 10)
        middle.addWidget(column)
        middle.addWidget(self.canvas, 1)
        left = QVBoxLayout()
        left.setSpacing(5)
        left.addWidget(self.letters)
        left.addLayout(middle, 1)
        left.addLayout(under)
        for widget in (self.alike, self.row, self.measure, self.line, self.strip):
            left.addWidget(widget)
        lay_out(self, left, self._side())

    def _side(self) -> QWidget:
        """What is in hand, what is being done, what was done and found."""
        for tabs, called, pages in (
                (self.above, tr("Doing"), ((scrolled(self.lift_bar), tr("Lift as")), (self.asking, tr("Ask")),
                                           (self.clocks, tr("Time")))),
                (self.below, tr("Done and found"), (
                    (sheet("", self.running, self.performed, stretch=1), tr("Running list")),
                    (self.depths, tr("Depth"))))):
            tabs.setDocumentMode(True)
            tabs.tabBar().setDrawBase(False)
            tabs.setAccessibleName(called)
            tabs.tabBar().setAccessibleName(called)
            for page, name in pages:
                tabs.addTab(page, name)
        self.below.setCurrentIndex(1)
        side = QWidget()
        right = QVBoxLayout(side)
        right.setContentsMargins(0, 0, 0, 0)
        right.setSpacing(5)
        right.addWidget(self.thing)
        both = QSplitter(Qt.Orientation.Vertical)
        both.addWidget(self.above)
        both.addWidget(self.below)
        both.setChildrenCollapsible(False)
        both.setStretchFactor(0, 3)
        both.setStretchFactor(1, 2)
        both.setSizes([300, 190])
        right.addWidget(both, 1)
        return side

    def _wire(self) -> None:
        """Who tells whom. What is said by anyone stands in the one line under the photograph."""
        states, canvas = self.states, self.canvas
        for speaker in (states, self.gestures, self.alike, self.measure, self.line, self.comparing, self.asking,
                        self.depths):
            speaker.said.connect(lambda text, alarm: self.say(text, alarm=alarm))
        self.clocks.rang.connect(lambda text: self.say(text, alarm=True))
        canvas.files_dropped.connect(lambda paths: [states.add_file(Path(path)) for path in paths])
        states.changed.connect(self._show_state)
        states.photos.arrived.connect(self._photo_arrived)
        self.lift_bar.kind_asked.connect(self.gestures.lift_as)
        self.asking.number_changed.connect(lambda n: self.above.setTabText(
            1, tr("Ask ({0})").format(n) if n else tr("Ask")))
        self.asking.shown.connect(self._questions_shown)
        self.line.left.connect(canvas.setFocus)
        self.side.activated.connect(lambda _: setattr(states, "side", self.side.currentData()))
        self.above.currentChanged.connect(lambda _: self._show_pins())
        self.below.currentChanged.connect(lambda _: self._follow_below())
        # Later, because showing a state fills the strip again, which must not happen within its own signal.
        self.strip.chosen.connect(lambda view: QTimer.singleShot(
            0, lambda: self.gestures.make(Gesture.SHOW, view=view)))
        self.recorder.acts |= {
            Act.STOPWATCH: self._stopwatch, Act.QUESTION: self._answer_question, Act.COMPARE: self.comparing.next_mode,
            Act.GO_TO_LINE: self.line.setFocus, Act.LIMITS: self.ask_limits, Act.CAMERA: states.take_picture,
            Act.TURN_OVER: states.turn_over, Act.NEXT: self._next_state, Act.PREVIOUS: self._previous_state,
            Act.SHOW: self._walk_to, Act.CARRY_MARKS: states.carry_marks,
            Act.OTHER_SIDE: lambda: states.copy_to_other_side(self.recorder.selection.marks)}

    def _wire_words(self) -> None:
        """What a person says in a panel goes to a verb."""
        do, recorder, states = self.recorder.do, self.recorder, self.states
        self.letters.fastener_asked.connect(lambda fastener: do(parts.add_fastener, fastener))
        self.thing.way_asked.connect(lambda method: do(joints.add_way, recorder.selection.thing, method))
        self.thing.behind_said.connect(lambda hiders: do(joints.set_behind, recorder.selection.thing, hiders))
        self.thing.limits_asked.connect(self.ask_limits)
        self.thing.safe_said.connect(lambda on: do(joints.set_isolates, recorder.selection.thing, on))
        self.alike.proposed.connect(lambda found: self.canvas.show_overlay(proposals=found))
        self.row.proposed.connect(lambda found: self.canvas.show_overlay(proposals=found))
        self.measure.line_changed.connect(lambda line: self.canvas.show_overlay(line=line))
        self.measure.scale_found.connect(lambda mm, plane: do(photos.set_scale, states.shown, mm, plane))
        self.measure.recorded.connect(lambda mm: do(
            entry, "measure", recorder.t, thing=recorder.selection.thing, value=mm, unit="mm", text="on photo"))

    def _bind_keys(self) -> None:
        make = self.gestures
        keys = [(key.keys, lambda g=key.gesture: make.deed(g)) for key in KEYS if key.keys != "Return"]
        keys += [(row.key, lambda k=row.id: make.kind(k)) for row in mark_kinds().values()]
        keys += [(f"Shift+{row.key}", lambda k=row.id: make.lift_as(k)) for row in part_kinds().values()]
        keys += [(str(n), lambda n=n: self.letters.choose(n - 1)) for n in range(1, 10)]
        taken: set[str] = set()
        for name, does in keys:
            assert name not in taken, f"two meanings of the key {name}"
            taken.add(name)
            QShortcut(QKeySequence(name), self, does, context=Qt.ShortcutContext.WidgetWithChildrenShortcut)

    # -- what the recorder tells

    def _said(self, code: str, *, alarm: bool = False, **figures: Any) -> None:
        self.say(said_text(self._session.teardown, code, figures), alarm=alarm)

    def _refused(self, refusal: Refusal) -> None:
        self.say(refusal_text(refusal), alarm=True)

    def _show_chosen(self, thing: str) -> None:
        self.thing.show_thing(thing)
        self.clocks.show_thing(thing)
        self._show_pins()

    def _show_armed(self) -> None:
        """Pointer, buttons and switches as the recorder is now."""
        chosen = self.recorder.selection
        self.canvas.show_marking(self.measure.is_on or chosen.kind is not None)
        self.canvas.lasso_armed = chosen.reaching
        self.letters.show_letter(chosen.kind.letter if chosen.kind is not None else "")
        self.tools.show_kind(chosen.kind)
        for gesture, on in ((Gesture.UNDERSIDE, bool(chosen.carrier)), (Gesture.UNDO_TOO, chosen.as_i_mark),
                            (Gesture.REACH, chosen.reaching), (Gesture.MEASURE, self.measure.is_on)):
            self.tools.show_switch(gesture, on)
        self._show_pins()

    def _released(self, joint: str, way: int) -> None:
        """A release whose acts wait: count the longest wait down."""
        self.clocks.follow(joint, way)

    def _asked_in_line(self, part: str) -> None:
        self.say(self.thing.in_a_line())

    def _kind_wanted(self, wanted: bool) -> None:
        if wanted:
            self.above.setCurrentIndex(0)

    # -- following the record

    def _on_change(self, change: Change) -> None:
        """The Log keeps up with what was chosen and said even while it is hidden; the rest waits until it is seen."""
        if change.kind == OPENED:
            self.states.shown = ""
            self.strip.forget()
            self.recorder.choose("")
            self.states.photos.clear()
            self.say("")
        else:
            self.say(change_text(change.kind, change.label))
        self.recorder.forget()
        if not self.isVisible() and change.kind != OPENED:
            self._stale = True
            self.depths.give_up()
            self.asking.give_up()
            return
        self._stale = False
        self._follow(change)
        self.asking.refresh()

    def hideEvent(self, event: QHideEvent) -> None:  # noqa: N802 (Qt's name)
        """What is being found is looked for again when the Log is seen again."""
        super().hideEvent(event)
        self._stale = True
        self.depths.give_up()
        self.asking.give_up()

    def refresh(self) -> None:
        self._follow(None)
        self.asking.refresh()

    def _follow(self, change: Change | None) -> None:
        """Show what a change touched; None: everything."""
        self.states.follow()
        if change is None or change.touches(("fasteners", "tools", "parts", "log", "views", "device", "joints")):
            self.letters.show_teardown(self._session.teardown, self._on_device())
        self._show_state()
        self._follow_below()

    def _follow_below(self) -> None:
        """The page in front; the other is filled when it is looked at."""
        if self.below.currentIndex() == 0:
            self.running.follow(self._at_entry())
            counted = self._session.derived.performed
            self.performed.setVisible(bool(counted.timed))
            self.performed.setText(tr("As performed: {0} by the times known").format(comes_to(counted)))
        else:
            QTimer.singleShot(0, self.depths.refresh)

    def _at_entry(self) -> str | None:
        """Where an earlier state that is shown stands in the log; None for the present."""
        view = self.states.view
        return view.at_entry if view is not None and not self.states.is_latest else None

    def _on_device(self) -> list[str]:
        """Parts that can still come off, in file order."""
        removed = self._session.derived.state.removed
        teardown = self._session.teardown
        return [id_ for id_ in self._session.derived.structure.removals
                if id_ not in removed and (teardown.part[id_].name or teardown.part[id_].kind)]

    # -- the state that is shown

    def show_state(self, view_id: str) -> None:
        self.states.show(view_id)

    def _show_state(self) -> None:
        view, chosen = self.states.view, self.recorder.selection
        if chosen.view and (view is None or view.id != chosen.view):
            chosen.group, chosen.marks, chosen.ordering = "", [], None
        chosen.view = view.id if view is not None else ""
        self.measure.show_view(view)
        self.strip.refresh(self.states.shown)
        if self.below.currentIndex() == 0:
            self.running.follow(self._at_entry())
        if view is None:
            self.state.setText(tr("No photograph yet"))
            self.say(tr("Press N to add the first photograph, or V for the camera"))
        else:
            if self.states.side:
                self.side.setCurrentIndex(self.side.findData(self.states.side))
            self.state.setText(tr("State {0} of {1}, {2}").format(
                self.states.place() + 1, len(self.states.views), side_name(view.side)))
            self.states.photos.show(view.photo)
        self.comparing.again()
        self._show_pins()
        self.thing.show_thing(chosen.thing)

    def _photo_arrived(self, name: str, image: QImage, size: tuple[int, int] | None) -> None:
        view = self.states.view
        if view is None or view.photo != name:
            return
        if image.isNull():
            image = QImage(1200, 800, QImage.Format.Format_RGB32)
            image.fill(Qt.GlobalColor.darkGray)
            size = None
            self.say(tr("The photograph {0} is not in the document or cannot be read").format(name), alarm=True)
        self.canvas.show_photo(image, size)

    def _show_pins(self) -> None:
        view, chosen = self.states.view, self.recorder.selection
        asked = self._asked_about if self.above.currentWidget() is self.asking else ()
        state = self._session.derived.state
        self.canvas.show_pins(pins_of(self._session.teardown, view, state if self.states.is_latest else None,
                                      chosen.thing, asked, set(chosen.marks), self.asked.numbers()))
        self.canvas.show_overlay(ends=ends_of(self._session.teardown, view, chosen.thing,
                                              END_STUB_PX / self.canvas.scale_now()))

    def say(self, text: str, *, alarm: bool = False) -> None:
        """One calm line under the photograph."""
        self.echo.say(text, alarm=alarm)

    def choose(self, thing: str) -> None:
        self.recorder.choose(thing)

    def _questions_shown(self, things: list[str]) -> None:
        self._asked_about = things
        self._show_pins()

    # -- acts that are the panel's own

    def _next_state(self) -> None:
        self._walked(self.states.next_photo)

    def _previous_state(self) -> None:
        self._walked(self.states.previous_photo)

    def _walk_to(self, view: str) -> None:
        self._walked(lambda: self.states.show(view))

    def _walked(self, walk: Any) -> None:
        """Whoever walks to another photograph has put down what was armed."""
        before = self.states.shown
        walk()
        if self.states.shown != before and self.recorder.selection.kind is not None:
            self.recorder.arm(None)

    def ask_limits(self, way: int | None = None) -> None:
        """Enter what protects the device in the act in hand."""
        thing = self.recorder.selection.thing
        if thing not in self._session.teardown.joint:
            self.say(tr("Choose the joint whose act has limits"), alarm=True)
            return
        self.limits = LimitsDialog(self._session, thing, self.thing.chosen_way() if way is None else way,
                                   self.states.view, self)
        self.limits.show()

    def _stopwatch(self) -> None:
        self.clocks.start_stopwatch()
        self.above.setCurrentWidget(self.clocks)

    def _answer_question(self) -> None:
        if self.above.currentWidget() is self.asking:
            self.asking.give_answer()
        else:
            self.above.setCurrentWidget(self.asking)

    def stop(self) -> None:
        """Before the window closes: no job and no timer goes on."""
        for one in (self.asking, self.alike, self.measure, self.depths, self.comparing, self.states, self.clocks):
            one.stop()
