"""The Log: the photograph of a state with all that is recorded on it, what a click does, and what follows from it."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QImage, QKeySequence, QShortcut
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QTabWidget, QVBoxLayout, QWidget

from oddbolt.catalog.tables import mark_kinds, part_kinds
from oddbolt.instruments.protocols import Camera
from oddbolt.model.refusal import Refusal
from oddbolt.paint.palette import Palette
from oddbolt.reports import wording
from oddbolt.session import commands, recording
from oddbolt.session.line import NotUnderstood, complete, understand
from oddbolt.session.recording import Kind
from oddbolt.session.session import Change, Session
from oddbolt.ui.panels.alike import Alike
from oddbolt.ui.panels.asking import Asking
from oddbolt.ui.panels.clocks import Clocks
from oddbolt.ui.panels.depths import DepthList
from oddbolt.ui.panels.echo import problem_text, understood_text
from oddbolt.ui.panels.film import Film
from oddbolt.ui.panels.hand import Hand
from oddbolt.ui.panels.keys import KEYS
from oddbolt.ui.panels.letters import LetterBar
from oddbolt.ui.panels.liftbar import LiftBar
from oddbolt.ui.panels.pinning import ends_of, pins_of
from oddbolt.ui.panels.recorder import Recorder
from oddbolt.ui.panels.running import RunningList
from oddbolt.ui.panels.sheet import label, lay_out, scrolled, sheet
from oddbolt.ui.panels.states import ChoosePhoto, States
from oddbolt.ui.panels.tools import ToolColumn
from oddbolt.ui.widgets.line import CommandLine
from oddbolt.ui.widgets.overlay import within
from oddbolt.ui.widgets.photo import PhotoCanvas


class LogPanel(QWidget):
    """Recording. It shows and forwards: gestures to the recorder, photographs to the states."""

    def __init__(self, session: Session, palette: Palette, choose_photo: ChoosePhoto, camera: Camera | None = None) -> \
            None:
        super().__init__()
        self._session = session
        self.hand = Hand(session)
        self.recorder = Recorder(session, self.hand.obstacle_text)
        self.states = States(session, choose_photo, camera)
        self.canvas = PhotoCanvas(palette)
        self.letters = LetterBar()
        self.tools = ToolColumn()
        self.lift_bar = LiftBar()
        self.film = Film(session)
        self.running = RunningList(session)
        self.depths = DepthList(session)
        self.asking = Asking(session)
        self.clocks = Clocks(session)
        self.alike = Alike()
        self.line = CommandLine(lambda text: complete(session.teardown, text))
        self.echo = label("", "echo", wrap=True)
        self.state = label("", "faint")
        self.side = QComboBox()
        self.performed = label("", "faint", wrap=True)
        self.above, self.below = QTabWidget(), QTabWidget()
        self._comparing = False
        self._asked: list[str] = []
        self._build()
        self._wire()
        self._bind_keys()
        session.listen(self._on_change)
        self._fill_all()

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
        left.addWidget(self.line)
        left.addWidget(self.film)
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
        right.addWidget(self.above, 3)
        right.addWidget(self.below, 2)
        lay_out(self, left, side)

    def _wire(self) -> None:
        recorder, states, canvas = self.recorder, self.states, self.canvas
        canvas.clicked.connect(self._click)
        canvas.pin_clicked.connect(self._pin_clicked)
        canvas.pin_moved.connect(lambda n, x, y: recorder.do(
            commands.move_mark(self._session.teardown, states.shown, n, x, y)))
        canvas.end_dropped.connect(self._end_dropped)
        canvas.lassoed.connect(self._lassoed)
        canvas.files_dropped.connect(lambda paths: [states.add_file(Path(path)) for path in paths])
        recorder.said.connect(lambda text, alarm: self.say(text, alarm=alarm))
        recorder.chosen.connect(self._show_hand)
        recorder.kind_wanted.connect(self._kind_wanted)
        recorder.marking_changed.connect(self._show_marking)
        states.said.connect(lambda text, alarm: self.say(text, alarm=alarm))
        states.changed.connect(self._show_state)
        states.photos.arrived.connect(self._photo_arrived)
        self.letters.changed.connect(self._letter_changed)
        self.letters.fastener_asked.connect(lambda fastener: recorder.do(
            commands.add_fastener(self._session.teardown, fastener)))
        self.tools.kind_chosen.connect(self.choose_kind)
        self.tools.asked.connect(self.deed)
        self.lift_bar.kind_asked.connect(self.lift_as)
        self.hand.asked.connect(self.deed)
        self.hand.tool_chosen.connect(self._tool_chosen)
        self.hand.way_asked.connect(lambda method: recorder.do(
            recording.add_way(self._session.teardown, recorder.hand, method)))
        self.hand.behind_said.connect(lambda hiders: recorder.do(
            recording.set_behind(self._session.teardown, recorder.hand, hiders)))
        self.hand.safe_said.connect(lambda on: recorder.do(
            recording.set_isolates(self._session.teardown, recorder.hand, on)))
        self.asking.number_changed.connect(lambda n: self.above.setTabText(
            1, self.tr("Ask ({0})").format(n) if n else self.tr("Ask")))
        self.asking.shown.connect(self._questions_shown)
        self.alike.proposed.connect(lambda found: canvas.show_overlay(proposals=found))
        self.alike.accepted.connect(recorder.mark_also)
        self.alike.said.connect(lambda text, alarm: self.say(text, alarm=alarm))
        canvas.proposal_clicked.connect(self.alike.clicked)
        self.clocks.rang.connect(lambda text: self.say(text, alarm=True))
        self.line.textChanged.connect(self._echo_line)
        self.line.counted.connect(self._count_line)
        self.line.left.connect(canvas.setFocus)
        self.side.activated.connect(lambda _: setattr(states, "side", self.side.currentData()))
        self.above.currentChanged.connect(lambda _: self._show_pins())
        # Later, because showing a state fills the film again, which must not happen within its own signal.
        self.film.chosen.connect(lambda view: QTimer.singleShot(0, lambda: states.show(view)))

    def _bind_keys(self) -> None:
        keys = [(key.keys, lambda d=key.does: self.deed(d)) for key in KEYS]
        keys += [(row.key, lambda k=row.id: self.choose_kind(k)) for row in mark_kinds().values()]
        keys += [(f"Shift+{row.key}", lambda k=row.id: self.lift_as(k)) for row in part_kinds().values()]
        keys += [(str(n), lambda n=n: self.letters.choose(n - 1)) for n in range(1, 10)]
        taken: set[str] = set()
        for name, does in keys:
            assert name not in taken, f"two meanings of the key {name}"
            taken.add(name)
            QShortcut(QKeySequence(name), self, does, context=Qt.ShortcutContext.WidgetWithChildrenShortcut)

    def deed(self, name: str) -> None:
        """Do what a key or button of the table asks."""
        owner = next(o for o in (self, self.recorder, self.states, self.letters) if hasattr(o, name))
        getattr(owner, name)() if owner is not self.recorder or name != "release" else self.release()

    # -- showing

    def _on_change(self, change: Change) -> None:
        if change.kind == "opened":
            self.states.shown = ""
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
        removed = self._session.derived.replay.bench.removed
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
        self.film.refresh(self.states.shown)
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
        if self._comparing:
            self.compare()
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
        bench = self._session.derived.replay.bench
        self.canvas.show_pins(pins_of(self._session.teardown, view, bench if self.states.is_latest else None,
                                      self.recorder.hand, asked, set(self.recorder.selected)))
        self.canvas.show_overlay(ends=ends_of(self._session.teardown, view, self.recorder.hand,
                                              44 / self.canvas.scale_now()))

    def say(self, text: str, *, alarm: bool = False) -> None:
        """One calm line under the photograph."""
        self.echo.setText(text)
        self.echo.setProperty("alarm", alarm)
        self.echo.style().unpolish(self.echo)
        self.echo.style().polish(self.echo)

    def choose(self, thing: str) -> None:
        self.recorder.choose(thing)

    def _show_hand(self, thing: str) -> None:
        self.hand.show_thing(thing)
        self.clocks.show_thing(thing)
        self._show_pins()

    def _questions_shown(self, things: list[str]) -> None:
        self._asked = things
        self._show_pins()

    # -- gestures

    def _click(self, x: float, y: float) -> None:
        self.recorder.click(x, y)

    def _pin_clicked(self, place: int) -> None:
        view = self.states.view
        if view is None:
            return
        mark = view.marks[place]
        if not (self.above.currentWidget() is self.asking and self.asking.toggle(mark.thing)):
            self.recorder.pin(mark.thing, mark.x, mark.y)
        self.canvas.setFocus()

    def _end_dropped(self, number: int, x: float, y: float) -> None:
        near = self.canvas.pin_at(self.canvas.mapFromScene(x, y))
        view = self.states.view
        self.recorder.end_dropped(number, (x, y), view.marks[near].thing if view and near is not None else "")
        self._show_pins()

    def _lassoed(self, pins: list[int], corners: list[tuple[float, float]]) -> None:
        view, reaching = self.states.view, self.canvas.lasso_armed
        self.canvas.lasso_armed = False
        self.tools.show_switch("arm_reach", False)
        if view is None:
            return
        if reaching:
            self.recorder.reach([view.marks[n].thing for n in pins])
        elif self.recorder.kind is not None and self.recorder.kind.joint == "adhesive":
            middle = [(sum(x for x, _ in corners) / len(corners), sum(y for _, y in corners) / len(corners))]
            self.recorder.mark(middle, outline=corners[::max(1, len(corners) // 40)])
        elif self.recorder.kind is not None and self.recorder.kind.letter:
            self._mark_within(corners)
        else:
            self.recorder.selected = pins
            if pins:
                self.choose(view.marks[pins[0]].thing)
            self.say(self.tr("{0} marks drawn round").format(len(pins)))

    def _mark_within(self, corners: list[tuple[float, float]]) -> None:
        """Mark the screws of the present letter that were drawn round: those that look like one marked before."""
        view, teardown = self.states.view, self._session.teardown
        letter = self.recorder.kind.letter
        like = self.recorder.group or next((m.thing for m in reversed(view.marks) if m.thing in teardown.joint
                                            and teardown.joint[m.thing].fastener == letter), "")
        xs, ys = [x for x, _ in corners], [y for _, y in corners]
        image = self.states.photos.get(view.photo)
        self.alike.look(image or QImage(), teardown, view, like, (min(xs), min(ys), max(xs), max(ys)),
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
        joint = self.recorder.group or self.recorder.hand
        if view is not None:
            self.alike.look(self.states.photos.get(view.photo) or QImage(), self._session.teardown, view, joint)

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

    def _show_marking(self) -> None:
        kind = self.recorder.kind
        self.canvas.show_marking(kind is not None)
        self.tools.show_kind(kind)
        self.tools.show_switch("toggle_underside", bool(self.recorder.carrier))
        self.tools.show_switch("toggle_as_i_mark", self.recorder.as_i_mark)

    def lift_as(self, kind: str) -> None:
        self.recorder.lift_as(kind, self.canvas.pointer())

    def _kind_wanted(self, words: str) -> None:
        if words:
            self.above.setCurrentIndex(0)
            self.say(words)

    def _tool_chosen(self, tool: str) -> None:
        joint = self._session.teardown.joint.get(self.recorder.hand)
        if joint is not None:
            self.recorder.do(commands.set_tool(self._session.teardown, joint.id, self.hand.chosen_way(), tool))
            if joint.kind != "screw":
                self.tools.remember_tool(joint.kind, joint.type, tool)
                kind = self.recorder.kind
                if kind is not None and (kind.joint, kind.type) == (joint.kind, joint.type):
                    self.recorder.kind = replace(kind, tool=tool)

    # -- deeds of the keys table that are the panel's own

    def release(self) -> None:
        joint, way = self.recorder.hand, self.hand.chosen_way()
        before = len(self._session.teardown.log)
        self.recorder.release(way)
        if len(self._session.teardown.log) > before and joint in self._session.teardown.joint:
            self.clocks.follow(joint, way)

    def lift(self) -> None:
        self.recorder.lift()

    def swing(self) -> None:
        self.recorder.swing(self.canvas.pointer())

    def usual_act(self) -> None:
        """What a foot switch does: mark what is proposed, else release what is in hand, else lift what it held, else
        the next photograph."""
        if self.alike.is_proposing:
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
        self._show_marking()

    def toggle_marking(self) -> None:
        self.letters.toggle()

    def stop_marking(self) -> None:
        self.letters.clear(quiet=True)
        self.alike.clear()
        self.recorder.give_up()
        self.canvas.lasso_armed = False
        self.tools.show_switch("arm_reach", False)
        self._show_pins()

    def all_within_reach(self) -> None:
        view = self.states.view
        self.recorder.reach([mark.thing for mark in view.marks] if view else [])

    def arm_reach(self) -> None:
        self.canvas.lasso_armed = not self.canvas.lasso_armed
        self.tools.show_switch("arm_reach", self.canvas.lasso_armed)
        self.say(self.tr("Draw round what could be undone now"))

    def take_mark_away(self) -> None:
        """Delete the last mark of the chosen thing on this view."""
        view = self.states.view
        places = [n for n, mark in enumerate(view.marks) if mark.thing == self.recorder.hand] if view else []
        if places:
            self.recorder.do(commands.unmark(self._session.teardown, view.id, places[-1]))

    def compare(self) -> None:
        """Lay the state before over the left half; again: off."""
        picture = self.states.picture_before() if not self._comparing else None
        self._comparing = picture is not None
        self.canvas.show_wipe(picture)
        if picture is not None:
            self.say(self.tr("Left: the state before. The same key takes it off."))

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

    # -- the one line

    def _echo_line(self, text: str) -> None:
        if not text.strip():
            self.say("")
            return
        try:
            found = understand(self._session.teardown, text, self._session.seconds_now())
        except NotUnderstood as problem:
            self.say(problem_text(problem, text), alarm=True)
        except Refusal as refusal:
            self.say(str(refusal), alarm=True)
        else:
            self.say(understood_text(self._session.teardown, found))

    def _count_line(self, text: str) -> None:
        """Carry the line out; what is not understood stays in the line with its word selected."""
        try:
            found = understand(self._session.teardown, text, self._session.seconds_now())
        except NotUnderstood as problem:
            self.say(problem_text(problem, text), alarm=True)
            self.line.setSelection(problem.start, problem.end - problem.start)
            return
        except Refusal as refusal:
            self.say(str(refusal), alarm=True)
            return
        self.line.clear()
        if found.command is not None:
            if self.recorder.do(found.command):
                self.say(self.tr("Recorded: {0}").format(found.command.label))
        else:
            self.choose(found.things[0])
            self.say(self.hand.holds.text().replace("\n", "; "))

    def stop(self) -> None:
        """Before the window closes: no job and no timer goes on."""
        self.asking.stop()
        self.alike.stop()
        self.states.stop()
