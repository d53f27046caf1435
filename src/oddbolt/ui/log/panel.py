"""The Log: the photograph of a state with all that is recorded on it, what a click does, and what follows from it."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QImage, QKeySequence, QShortcut
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QSplitter, QTabWidget, QVBoxLayout, QWidget

from oddbolt.catalog.tables import mark_kinds, part_kinds
from oddbolt.instruments.protocols import Camera
from oddbolt.paint.palette import Palette
from oddbolt.session import commands, entries, recording
from oddbolt.session.change import Change
from oddbolt.session.session import Session
from oddbolt.ui.log.chosen.asking import Asking
from oddbolt.ui.log.chosen.clocks import Clocks
from oddbolt.ui.log.chosen.groups import Groups
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
from oddbolt.ui.log.photograph.numbering import Numbering
from oddbolt.ui.log.photograph.pinning import ends_of, pins_of
from oddbolt.ui.log.photograph.row import RowOfMarks
from oddbolt.ui.log.photograph.states import ChoosePhoto, States
from oddbolt.ui.log.photograph.strip import Strip
from oddbolt.ui.log.recorder import Recorder
from oddbolt.ui.log.running import RunningList
from oddbolt.ui.pieces.sheet import Echo, label, lay_out, scrolled, sheet
from oddbolt.ui.widgets.photo import PhotoCanvas
from oddbolt.words import wording


class LogPanel(QWidget):
    """Recording. It shows and forwards: gestures to the recorder, photographs to the states."""

    def __init__(self, session: Session, palette: Palette, choose_photo: ChoosePhoto, camera: Camera | None = None) -> \
            None:
        super().__init__()
        self._session = session
        self.hand = ChosenThing(session)
        self.recorder = Recorder(session, self.hand.obstacle_text)
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
        self.groups = Groups(session, self.recorder)
        self.numbering = Numbering(session, self.recorder)
        self.row = RowOfMarks()
        self.comparing = Comparing(self.states, self.canvas)
        self.line = OneLine(session, self.recorder)
        self.gestures = Gestures(Desk(
            session=session, recorder=self.recorder, states=self.states, canvas=self.canvas, letters=self.letters,
            tools=self.tools, hand=self.hand, asking=self.asking, clocks=self.clocks, alike=self.alike,
            measure=self.measure, numbering=self.numbering, row=self.row))
        self.echo = Echo()
        self.state = label("", "faint")
        self.side = QComboBox()
        self.performed = label("", "faint", wrap=True)
        self.above, self.below = QTabWidget(), QTabWidget()
        self._asked: list[str] = []
        self._build()
        self._wire()
        self._bind_keys()
        session.listen(self._on_change)
        self._fill_all()
        self.clocks.take_from_desk()

    # -- putting together

    def _build(self) -> None:
        self.side.setAccessibleName(self.tr("Side of the next photograph"))
        for side in ("back", "front", "edge"):
            self.side.addItem(self.tr("next photo: {0}").format(wording.SIDES[side]), side)
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
        left.addWidget(self.alike)
        left.addWidget(self.row)
        left.addWidget(self.measure)
        left.addWidget(self.line)
        left.addWidget(self.strip)
        for tabs, pages in ((self.above, ((scrolled(self.lift_bar), self.tr("Lift as")), (self.asking, self.tr("Ask")),
                                          (self.clocks, self.tr("Time")))),
                            (self.below, ((sheet("", self.running, self.performed, stretch=1), self.tr("Running list")),
                                          (self.depths, self.tr("Depth"))))):
            tabs.setDocumentMode(True)
            tabs.tabBar().setDrawBase(False)
            called = self.tr("Doing") if tabs is self.above else self.tr("Done and found")
            tabs.setAccessibleName(called)
            tabs.tabBar().setAccessibleName(called)
            for page, name in pages:
                tabs.addTab(page, name)
        self.below.setCurrentIndex(1)
        side = QWidget()
        right = QVBoxLayout(side)
        right.setContentsMargins(0, 0, 0, 0)
        right.setSpacing(5)
        right.addWidget(self.hand)
        both = QSplitter(Qt.Orientation.Vertical)
        both.addWidget(self.above)
        both.addWidget(self.below)
        both.setChildrenCollapsible(False)
        both.setStretchFactor(0, 3)
        both.setStretchFactor(1, 2)
        both.setSizes([300, 190])
        right.addWidget(both, 1)
        lay_out(self, left, side)

    def _wire(self) -> None:
        """Who tells whom. What is said by anyone stands in the one line under the photograph."""
        recorder, states, canvas = self.recorder, self.states, self.canvas
        for speaker in (recorder, states, self.gestures, self.alike, self.measure, self.line, self.numbering,
                        self.comparing, self.asking):
            speaker.said.connect(lambda text, alarm: self.say(text, alarm=alarm))
        self.clocks.rang.connect(lambda text: self.say(text, alarm=True))
        canvas.returned.connect(lambda: self.deed("usual_act"))
        canvas.files_dropped.connect(lambda paths: [states.add_file(Path(path)) for path in paths])
        recorder.chosen.connect(self._show_hand)
        recorder.kind_wanted.connect(self._kind_wanted)
        states.changed.connect(self._show_state)
        states.photos.arrived.connect(self._photo_arrived)
        self.gestures.pins_changed.connect(self._show_pins)
        self.numbering.changed.connect(self._show_pins)
        self.letters.fastener_asked.connect(lambda fastener: recorder.do(
            commands.add_fastener(self._session.teardown, fastener)))
        self.tools.asked.connect(self.deed)
        self.lift_bar.kind_asked.connect(self.gestures.lift_as)
        self.hand.asked.connect(self.deed)
        self.asking.number_changed.connect(lambda n: self.above.setTabText(
            1, self.tr("Ask ({0})").format(n) if n else self.tr("Ask")))
        self.asking.shown.connect(self._questions_shown)
        self.line.left.connect(canvas.setFocus)
        self.line.asked.connect(self._asked_in_line)
        self.side.activated.connect(lambda _: setattr(states, "side", self.side.currentData()))
        self.above.currentChanged.connect(lambda _: self._show_pins())
        # Later, because showing a state fills the film again, which must not happen within its own signal.
        self.strip.chosen.connect(lambda view: QTimer.singleShot(0, lambda: states.show(view)))
        self._wire_words()

    def _wire_words(self) -> None:
        """What a person says in a panel becomes a command."""
        recorder, states = self.recorder, self.states
        self.hand.way_asked.connect(lambda method: recorder.do(
            recording.add_way(self._session.teardown, recorder.hand, method)))
        self.hand.behind_said.connect(lambda hiders: recorder.do(
            recording.set_behind(self._session.teardown, recorder.hand, hiders)))
        self.hand.limits_asked.connect(self.ask_limits)
        self.hand.safe_said.connect(lambda on: recorder.do(
            recording.set_isolates(self._session.teardown, recorder.hand, on)))
        self.alike.proposed.connect(lambda found: self.canvas.show_overlay(proposals=found))
        self.alike.accepted.connect(recorder.mark_also)
        self.row.proposed.connect(lambda found: self.canvas.show_overlay(proposals=found))
        self.row.accepted.connect(self.gestures.row_accepted)
        self.measure.line_changed.connect(lambda line: self.canvas.show_overlay(line=line))
        self.measure.scale_found.connect(lambda mm, plane: recorder.do(
            commands.set_scale(self._session.teardown, states.shown, mm, plane)))
        self.measure.recorded.connect(lambda mm: recorder.do(entries.entry(
            self._session.teardown, "measure", recorder.t, thing=recorder.hand, value=mm, unit="mm", text="on photo")))

    def _bind_keys(self) -> None:
        keys = [(key.keys, lambda d=key.does: self.deed(d)) for key in KEYS if key.keys != "Return"]
        keys += [(row.key, lambda k=row.id: self.gestures.choose_kind(k)) for row in mark_kinds().values()]
        keys += [(f"Shift+{row.key}", lambda k=row.id: self.gestures.lift_as(k)) for row in part_kinds().values()]
        keys += [(str(n), lambda n=n: self.letters.choose(n - 1)) for n in range(1, 10)]
        taken: set[str] = set()
        for name, does in keys:
            assert name not in taken, f"two meanings of the key {name}"
            taken.add(name)
            QShortcut(QKeySequence(name), self, does, context=Qt.ShortcutContext.WidgetWithChildrenShortcut)

    def deed(self, name: str) -> None:
        """Do what a key or button of the table asks."""
        owner = next(o for o in (self, self.gestures, self.recorder, self.states) if hasattr(o, name))
        getattr(owner, name)()

    # -- showing

    def _on_change(self, change: Change) -> None:
        if change.kind == "opened":
            self.states.shown = ""
            self.strip.forget()
            self.recorder.choose("")
            self.states.photos.clear()
            self.say("")
        else:
            words = {"done": self.tr("Recorded: {0}"), "undone": self.tr("Taken back: {0}"),
                     "redone": self.tr("Done again: {0}")}
            self.say(words[change.kind].format(change.label))
        self.recorder.forget()
        self.hand.thing = self.recorder.hand
        self._fill_all()
        self.asking.refresh()

    def _fill_all(self) -> None:
        self.states.follow()
        self.letters.show_teardown(self._session.teardown, self._on_device())
        self._show_state()
        counted = self._session.derived.performed
        self.performed.setVisible(bool(counted.timed))
        self.performed.setText(self.tr("As performed: {0} steps, {1} by the times known, {2} done live").format(
            counted.steps, wording.duration_text(counted.time_ms / 1000), counted.live_acts))
        QTimer.singleShot(0, self.depths.refresh)

    def _on_device(self) -> list[str]:
        """Parts that can still come off, in file order."""
        removed = self._session.derived.replay.state.removed
        teardown = self._session.teardown
        return [id_ for id_ in self._session.derived.planner.structure.removals
                if id_ not in removed and (teardown.part[id_].name or teardown.part[id_].kind)]

    def show_state(self, view_id: str) -> None:
        self.states.show(view_id)

    def _show_state(self) -> None:
        view = self.states.view
        if self.recorder.view is not None and (view is None or view.id != self.recorder.view.id):
            self.recorder.group, self.recorder.selected = "", []
        self.recorder.view = view
        self.measure.show_view(view)
        self.strip.refresh(self.states.shown)
        self.running.refresh(view.at_entry if view is not None and not self.states.is_latest else None)
        if view is None:
            self.state.setText(self.tr("No photograph yet"))
            self.say(self.tr("Press N to add the first photograph, or V for the camera"))
        else:
            if self.states.side:
                self.side.setCurrentIndex(self.side.findData(self.states.side))
            self.state.setText(self.tr("State {0} of {1}, {2}").format(
                self.states.place() + 1, len(self.states.views), wording.SIDES[view.side]))
            self.states.photos.show(view.photo)
        self.comparing.again()
        self._show_pins()
        self.hand.show_thing(self.recorder.hand)

    def _photo_arrived(self, name: str, image: QImage, size: tuple[int, int] | None) -> None:
        view = self.states.view
        if view is None or view.photo != name:
            return
        if image.isNull():
            image = QImage(1200, 800, QImage.Format.Format_RGB32)
            image.fill(Qt.GlobalColor.darkGray)
            size = None
            self.say(self.tr("The photograph {0} is not in the document or cannot be read").format(name), alarm=True)
        self.canvas.show_photo(image, size)

    def _show_pins(self) -> None:
        view = self.states.view
        asked = self._asked if self.above.currentWidget() is self.asking else ()
        bench = self._session.derived.replay.state
        self.canvas.show_pins(pins_of(self._session.teardown, view, bench if self.states.is_latest else None,
                                      self.recorder.hand, asked, set(self.recorder.selected), self.numbering.numbers()))
        self.canvas.show_overlay(ends=ends_of(self._session.teardown, view, self.recorder.hand,
                                              44 / self.canvas.scale_now()))

    def say(self, text: str, *, alarm: bool = False) -> None:
        """One calm line under the photograph."""
        self.echo.say(text, alarm=alarm)

    def choose(self, thing: str) -> None:
        self.recorder.choose(thing)

    def _show_hand(self, thing: str) -> None:
        self.hand.show_thing(thing)
        self.clocks.show_thing(thing)
        self._show_pins()

    def _questions_shown(self, things: list[str]) -> None:
        self._asked = things
        self._show_pins()

    def _asked_in_line(self, part: str) -> None:
        self.choose(part)
        self.say(self.hand.holds.text().replace("\n", "; "))

    def _kind_wanted(self, words: str) -> None:
        if words:
            self.above.setCurrentIndex(0)
            self.say(words)

    # -- deeds of the keys table that are the panel's own

    def compare(self) -> None:
        """The state before, wiped over this one; again: by turns; again: off."""
        self.comparing.next_mode()

    def copy_to_other_side(self) -> None:
        self.states.copy_to_other_side(self.recorder.selected)

    def ask_limits(self, way: int | None = None) -> None:
        """Enter what protects the device in the act in hand."""
        if self.recorder.hand not in self._session.teardown.joint:
            self.say(self.tr("Choose the joint whose act has limits"), alarm=True)
            return
        self.limits = LimitsDialog(self._session, self.recorder.hand,
                                   self.hand.chosen_way() if way is None else way, self.states.view, self)
        self.limits.show()

    def type_line(self) -> None:
        self.line.setFocus()

    def stopwatch(self) -> None:
        self.clocks.start_stopwatch()
        self.above.setCurrentWidget(self.clocks)

    def answer_question(self) -> None:
        if self.above.currentWidget() is self.asking:
            self.asking.give_answer()
        else:
            self.above.setCurrentWidget(self.asking)

    def stop(self) -> None:
        """Before the window closes: no job and no timer goes on."""
        self.asking.stop()
        self.alike.stop()
        self.measure.stop()
        self.depths.stop()
        self.comparing.stop()
        self.states.stop()
