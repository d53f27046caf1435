"""The Log: the photograph of a state with all that is recorded on it, the film of states, the running list."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QImage, QKeySequence, QShortcut
from PySide6.QtWidgets import QHBoxLayout, QSplitter, QVBoxLayout, QWidget

from oddbolt.model.refusal import Refusal
from oddbolt.model.things import View
from oddbolt.paint.palette import Palette
from oddbolt.reports import wording
from oddbolt.session import commands
from oddbolt.session.line import NotUnderstood, complete, understand
from oddbolt.session.session import Change, Session
from oddbolt.ui.panels.depths import DepthList
from oddbolt.ui.panels.echo import problem_text, understood_text
from oddbolt.ui.panels.film import Film
from oddbolt.ui.panels.hand import Hand
from oddbolt.ui.panels.letters import LetterBar
from oddbolt.ui.panels.running import RunningList
from oddbolt.ui.panels.sheet import label, lay_out, sheet
from oddbolt.ui.widgets.images import make_thumb, read_image
from oddbolt.ui.widgets.line import CommandLine
from oddbolt.ui.widgets.photo import PhotoCanvas, Pin

ChoosePhoto = Callable[[], Path | None]
KEPT_PHOTOS = 4  # decoded photographs kept at hand


class LogPanel(QWidget):
    """Recording. Every act goes through the session; this panel shows and forwards."""

    def __init__(self, session: Session, palette: Palette, choose_photo: ChoosePhoto) -> None:
        super().__init__()
        self._session = session
        self._choose_photo = choose_photo
        self._view = ""
        self._group = ""  # joint that clicks add marks to
        self._confirm: tuple[str, str] | None = None  # what a second press records against the rules
        self._images: dict[str, QImage] = {}
        self.canvas = PhotoCanvas(palette)
        self.letters = LetterBar()
        self.film = Film(session)
        self.running = RunningList(session)
        self.depths = DepthList(session)
        self.hand = Hand(session)
        self.line = CommandLine(lambda text: complete(session.teardown, text))
        self.echo = label("", "echo", wrap=True)
        self.state = label("", "faint")
        self.performed = label("", "faint", wrap=True)
        self._build()
        self._wire()
        session.listen(self._on_change)
        self._fill_all()

    def _build(self) -> None:
        under = QHBoxLayout()
        under.addWidget(self.echo, 1)
        under.addWidget(self.state)
        left = QVBoxLayout()
        left.setSpacing(6)
        left.addWidget(self.letters)
        left.addWidget(self.canvas, 1)
        left.addLayout(under)
        left.addWidget(self.line)
        left.addWidget(self.film)
        lists = QSplitter(Qt.Orientation.Vertical)
        lists.addWidget(sheet(self.tr("Running list"), self.running, self.performed, stretch=1))
        lists.addWidget(sheet(self.tr("Depth of the priority parts"), self.depths, stretch=1))
        lists.setChildrenCollapsible(False)
        side = QWidget()
        right = QVBoxLayout(side)
        right.setContentsMargins(0, 0, 0, 0)
        right.addWidget(self.hand)
        right.addWidget(lists, 1)
        lay_out(self, left, side)

    def _wire(self) -> None:
        self.canvas.clicked.connect(self._mark_at)
        self.canvas.pin_clicked.connect(self._choose_pin)
        self.canvas.pin_moved.connect(self._move_pin)
        self.letters.changed.connect(self._letter_changed)
        self.hand.release_asked.connect(self.release_chosen)
        self.hand.lift_asked.connect(self.lift_chosen)
        self.hand.photo_asked.connect(self.next_photo)
        self.line.textChanged.connect(self._echo_line)
        self.line.counted.connect(self._count_line)
        self.line.left.connect(self.canvas.setFocus)
        # Later, because showing a state fills the film again, which must not happen within its own signal.
        self.film.chosen.connect(lambda view: QTimer.singleShot(0, lambda: self.show_state(view)))
        for key, does in (("R", self.release_chosen), ("L", self.lift_chosen), ("N", self.next_photo),
                          ("P", self.previous_photo), ("M", self.letters.toggle), ("G", self.new_group),
                          ("Esc", self.letters.clear), ("T", self.line.setFocus), ("W", self.all_within_reach),
                          ("Del", self.take_mark_away)):
            QShortcut(QKeySequence(key), self, does, context=Qt.ShortcutContext.WidgetWithChildrenShortcut)
        for n in range(1, 10):
            QShortcut(QKeySequence(str(n)), self, lambda n=n: self.letters.choose(n - 1),
                      context=Qt.ShortcutContext.WidgetWithChildrenShortcut)

    # -- showing

    def _on_change(self, change: Change) -> None:
        self._confirm = None
        if change.kind == "opened":
            self._view = self._group = ""
            self.hand.thing = ""
            self._images.clear()
            self.say("")
        else:
            words = {"done": self.tr("Recorded: {0}"), "undone": self.tr("Taken back: {0}"),
                     "redone": self.tr("Done again: {0}")}
            self.say(words[change.kind].format(change.label))
        teardown = self._session.teardown
        if self.hand.thing not in teardown.part and self.hand.thing not in teardown.joint:
            self.hand.thing = ""
        if self._group not in teardown.joint:
            self._group = ""
        self._fill_all()

    def _fill_all(self) -> None:
        views = self._session.teardown.views
        if views and self._view not in {view.id for view in views}:
            self._view = views[-1].id
        self.letters.show_teardown(self._session.teardown, self._on_device())
        self.show_state(self._view)
        self._show_performed()
        QTimer.singleShot(0, self.depths.refresh)

    def _show_performed(self) -> None:
        counted = self._session.derived.performed
        self.performed.setVisible(bool(counted.timed))
        self.performed.setText(self.tr("As performed: {0} steps, {1} by the times known, {2} done live").format(
            counted.steps, wording.duration_text(counted.time_ms / 1000), counted.live_acts))

    def _on_device(self) -> list[str]:
        """Parts that can still come off, in file order."""
        removed = self._session.derived.replay.bench.removed
        return [id_ for id_ in self._session.derived.planner.structure.removals if id_ not in removed]

    def show_state(self, view_id: str) -> None:
        """Show one state of the film."""
        if view_id != self._view:
            self._group = ""
        self._view = view_id
        views = self._session.teardown.views
        view = self._current_view()
        self.film.refresh(view_id)
        self.running.refresh(view.at_entry if view is not None and view is not views[-1] else None)
        if view is None:
            self.state.setText(self.tr("No photograph yet"))
            self.say(self.tr("Press N to add the first photograph"))
        else:
            self.state.setText(self.tr("State {0} of {1}, {2}").format(
                views.index(view) + 1, len(views), wording.SIDES[view.side]))
            self._show_photo(view)
        self._show_pins()
        self.hand.show_thing(self.hand.thing)

    def _current_view(self) -> View | None:
        return next((view for view in self._session.teardown.views if view.id == self._view), None)

    def _show_photo(self, view: View) -> None:
        if view.photo not in self._images:
            while len(self._images) >= KEPT_PHOTOS:
                self._images.pop(next(iter(self._images)))
            body = self._session.document.photo(view.photo)
            image = read_image(body) if body else QImage()
            if image.isNull():
                image = QImage(1200, 800, QImage.Format.Format_RGB32)
                image.fill(Qt.GlobalColor.darkGray)
                self.say(self.tr("The photograph {0} is not in the document or cannot be read").format(view.photo),
                         alarm=True)
            self._images[view.photo] = image
        self.canvas.show_photo(self._images[view.photo])

    def _show_pins(self) -> None:
        view, teardown = self._current_view(), self._session.teardown
        bench = self._session.derived.replay.bench
        latest = view is not None and view is teardown.views[-1]
        pins = []
        for mark in view.marks if view else ():
            joint, part = teardown.joint.get(mark.thing), teardown.part.get(mark.thing)
            spent = latest and (mark.thing in bench.released or mark.thing in bench.removed)
            chosen = mark.thing == self.hand.thing
            if joint is not None and joint.kind == "screw" and joint.fastener:
                drive = teardown.fastener[joint.fastener].drive
                pins.append(Pin(mark.x, mark.y, joint.fastener, drive, "screw", spent, chosen))
            else:
                kind = "part" if part else "plug" if joint and joint.kind == "connector" else "other"
                pins.append(Pin(mark.x, mark.y, wording.name_of(teardown, mark.thing), "", kind, spent, chosen))
        self.canvas.show_pins(pins)

    def say(self, text: str, *, alarm: bool = False) -> None:
        """One calm line under the photograph."""
        self.echo.setText(text)
        self.echo.setProperty("alarm", alarm)
        self.echo.style().unpolish(self.echo)
        self.echo.style().polish(self.echo)

    # -- choosing and marking

    def choose(self, thing: str) -> None:
        self._confirm = None
        self.hand.show_thing(thing)
        self._show_pins()

    def _choose_pin(self, place: int) -> None:
        view = self._current_view()
        if view is not None:
            self.choose(view.marks[place].thing)
            self.canvas.setFocus()

    def _do(self, command: commands.Command) -> None:
        try:
            self._session.do(command)
        except Refusal as refusal:
            self.say(str(refusal), alarm=True)

    def _move_pin(self, place: int, x: float, y: float) -> None:
        self._do(commands.move_mark(self._session.teardown, self._view, place, x, y))

    def _letter_changed(self) -> None:
        self._group = ""
        self.canvas.show_marking(bool(self.letters.letter))

    def new_group(self) -> None:
        """The next mark begins a group of its own."""
        self._group = ""
        self.say(self.tr("The next mark begins a new group"))

    def _mark_at(self, x: float, y: float) -> None:
        view = self._current_view()
        if view is None or not self.letters.letter:
            self.choose("")
            return
        teardown = self._session.teardown
        try:
            group = self._group
            if group:
                self._session.do(commands.mark(teardown, view.id, group, x, y))
            else:
                command, group = commands.start_screw_group(teardown, self.letters.letter, self.letters.part, view.id,
                                                            x, y)
                self._session.do(command)
        except Refusal as refusal:
            self.say(str(refusal), alarm=True)
            return
        self._group = group
        self.choose(group)

    def take_mark_away(self) -> None:
        """Delete the last mark of the chosen thing on this view."""
        view = self._current_view()
        places = [n for n, mark in enumerate(view.marks) if mark.thing == self.hand.thing] if view else []
        if places:
            self._do(commands.unmark(self._session.teardown, self._view, places[-1]))

    # -- acts

    def release_chosen(self) -> None:
        """Log the release of the chosen joint; against the rules only when pressed twice."""
        thing = self.hand.thing
        if thing in self._session.teardown.joint and self._may("release", thing):
            self._do(commands.release(self._session.teardown, thing, self._session.seconds_now(),
                                      self.hand.chosen_way()))

    def lift_chosen(self) -> None:
        """Log that the chosen part, or the part the chosen joint holds, was lifted."""
        teardown = self._session.teardown
        part = self.hand.thing if self.hand.thing in teardown.part else ""
        if self.hand.thing in teardown.joint:
            still_on = self._on_device()
            part = next((id_ for id_ in teardown.joint[self.hand.thing].of if id_ in still_on), "")
        if part and self._may("lift", part):
            try:
                self._session.do(commands.remove(teardown, part, self._session.seconds_now()))
            except Refusal as refusal:
                self.say(str(refusal), alarm=True)

    def _may(self, verb: str, thing: str) -> bool:
        obstacles = self.hand.obstacles(thing)
        if any(obstacle.code == "gone" for obstacle in obstacles):
            self.say(self.tr("{0} is off or open already").format(
                wording.name_of(self._session.teardown, thing)), alarm=True)
            return False
        if obstacles and self._confirm != (verb, thing):
            self._confirm = (verb, thing)
            self.say(self.tr("{0}, by the record. Press again if it was done all the same.").format(
                "; ".join(self.hand.obstacle_text(obstacle) for obstacle in obstacles)), alarm=True)
            return False
        return True

    def all_within_reach(self) -> None:
        """Log that everything marked on this photograph that is still in place could be undone at this moment."""
        view, bench = self._current_view(), self._session.derived.replay.bench
        things = list(dict.fromkeys(mark.thing for mark in view.marks)) if view else []
        things = [thing for thing in things if thing not in bench.released and thing not in bench.removed]
        if things:
            self._do(commands.reach(self._session.teardown, things, self._session.seconds_now()))
        else:
            self.say(self.tr("Nothing marked here is still in place"), alarm=True)

    # -- the one line

    def _echo_line(self, text: str) -> None:
        if not text.strip():
            self.say("")
            return
        try:
            found = understand(self._session.teardown, text, self._session.seconds_now())
        except (NotUnderstood, Refusal) as problem:
            self.say(self._problem(problem, text), alarm=True)
        else:
            self.say(understood_text(self._session.teardown, found))

    @staticmethod
    def _problem(problem: NotUnderstood | Refusal, text: str) -> str:
        return problem_text(problem, text) if isinstance(problem, NotUnderstood) else str(problem)

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
        if found.command is not None:
            self._do(found.command)
            self.line.clear()
            self.say(self.tr("Recorded: {0}").format(found.command.label))
        else:
            self.choose(found.things[0])
            self.line.clear()
            self.say(self.hand.holds.text().replace("\n", "; "))

    # -- photographs

    def next_photo(self) -> None:
        """Show the next state; at the end of the film, add a photograph of the present one."""
        views = self._session.teardown.views
        place = next((n for n, view in enumerate(views) if view.id == self._view), len(views))
        if place + 1 < len(views):
            self.show_state(views[place + 1].id)
            return
        path = self._choose_photo()
        if path is not None:
            self.add_photo(path)

    def previous_photo(self) -> None:
        views = self._session.teardown.views
        place = next((n for n, view in enumerate(views) if view.id == self._view), 0)
        if place > 0:
            self.show_state(views[place - 1].id)

    def add_photo(self, path: Path) -> None:
        """Take a photograph of the present state into the document. Its scale is not known until it is measured."""
        try:
            body = path.read_bytes()
        except OSError as error:
            self.say(self.tr("{0} cannot be read: {1}").format(path, error.strerror), alarm=True)
            return
        thumb = make_thumb(body)
        if not thumb:
            self.say(self.tr("{0} is not a photograph this program can read (JPEG, PNG, WebP, TIFF)").format(path),
                     alarm=True)
            return
        teardown = self._session.teardown
        before = self._current_view()
        name = self._session.take_photo(path.name, body, thumb)
        view = View(id=commands.free_id(teardown, "v"), side=before.side if before else "back", photo=name,
                    at_entry=teardown.log[-1].id if teardown.log else None)
        self._view = view.id
        self._do(commands.add_view(teardown, view))
