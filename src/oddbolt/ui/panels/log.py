"""The Log: the photograph of a state with all that is recorded on it, the film of states, the running list."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QSize, Qt, QTimer
from PySide6.QtGui import QIcon, QImage, QKeySequence, QPixmap, QShortcut
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QListView,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from oddbolt.model.refusal import Refusal
from oddbolt.model.things import LogEntry, View
from oddbolt.paint.palette import Palette
from oddbolt.planning.bench import Obstacle, Operation
from oddbolt.reports import wording
from oddbolt.session import commands
from oddbolt.session.session import Change, Session
from oddbolt.ui.panels.depths import DepthList
from oddbolt.ui.panels.letters import LetterBar
from oddbolt.ui.panels.sheet import label, sheet, side_width
from oddbolt.ui.widgets.images import make_thumb, read_image
from oddbolt.ui.widgets.photo import PhotoCanvas, Pin

ChoosePhoto = Callable[[], Path | None]
ROLE = Qt.ItemDataRole.UserRole


class LogPanel(QWidget):
    """Recording. Every act goes through the session; this panel shows and forwards."""

    def __init__(self, session: Session, palette: Palette, choose_photo: ChoosePhoto) -> None:
        super().__init__()
        self._session = session
        self._choose_photo = choose_photo
        self._view = ""
        self._chosen = ""  # part or joint
        self._group = ""  # joint that clicks add marks to
        self._confirm: tuple[str, str] | None = None  # what a second press records against the rules
        self._images: dict[str, QImage] = {}
        self.canvas = PhotoCanvas(palette)
        self.letters = LetterBar()
        self.film = QListWidget()
        self.running = QListWidget()
        self.depths = DepthList(session)
        self.way = QComboBox()
        self.hand = label("", "title", wrap=True)
        self.holds = label("", "faint", wrap=True)
        self.caution = label("", "caution", wrap=True)
        self.echo = label("", "echo", wrap=True)
        self.state = label("", "faint")
        self._build()
        self._wire()
        session.listen(self._on_change)
        self._fill_all()

    # -- putting together

    def _build(self) -> None:
        self.film.setFlow(QListView.Flow.LeftToRight)
        self.film.setIconSize(QSize(84, 56))
        self.film.setGridSize(QSize(92, 78))
        self.film.setFixedHeight(100)
        self.film.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.film.setViewMode(QListView.ViewMode.IconMode)
        self.film.setMovement(QListView.Movement.Static)
        self.film.setWrapping(False)
        self.film.setAccessibleName(self.tr("Film of states"))
        self.running.setAccessibleName(self.tr("Running list"))
        self.running.setAlternatingRowColors(True)
        self.running.setWordWrap(True)
        self.running.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.way.setAccessibleName(self.tr("Way of releasing"))
        self.release_button = self._button(self.tr("Release  R"), self.release_chosen)
        self.lift_button = self._button(self.tr("Lift  L"), self.lift_chosen)
        self.photo_button = self._button(self.tr("Next photo  N"), self.next_photo)
        acts = QHBoxLayout()
        for button in (self.release_button, self.lift_button, self.photo_button):
            acts.addWidget(button)
        acts_row = QWidget()
        acts_row.setLayout(acts)
        acts.setContentsMargins(0, 0, 0, 0)
        photo = QVBoxLayout()
        photo.setContentsMargins(0, 0, 0, 0)
        photo.setSpacing(6)
        photo.addWidget(self.letters)
        photo.addWidget(self.canvas, 1)
        under = QHBoxLayout()
        under.addWidget(self.echo, 1)
        under.addWidget(self.state)
        photo.addLayout(under)
        photo.addWidget(self.film)
        left = QWidget()
        left.setLayout(photo)
        lists = QSplitter(Qt.Orientation.Vertical)
        lists.addWidget(sheet(self.tr("Running list"), self.running, stretch=1))
        lists.addWidget(sheet(self.tr("Depth of the priority parts"), self.depths, stretch=1))
        lists.setChildrenCollapsible(False)
        right = QVBoxLayout()
        right.setContentsMargins(0, 0, 0, 0)
        right.addWidget(sheet(self.tr("In hand"), self.hand, self.holds, self.caution, self.way, acts_row))
        right.addWidget(lists, 1)
        side = QWidget()
        side.setLayout(right)
        side.setFixedWidth(side_width(self))
        whole = QHBoxLayout(self)
        whole.setContentsMargins(10, 8, 10, 8)
        whole.setSpacing(10)
        whole.addWidget(left, 1)
        whole.addWidget(side)

    def _button(self, text: str, does: Callable[[], None]) -> QPushButton:
        button = QPushButton(text)
        button.clicked.connect(does)
        return button

    def _wire(self) -> None:
        self.canvas.clicked.connect(self._mark_at)
        self.canvas.pin_clicked.connect(self._choose_pin)
        self.canvas.pin_moved.connect(self._move_pin)
        self.letters.changed.connect(self._letter_changed)
        self.film.currentRowChanged.connect(self._film_chosen)
        for key, does in (("R", self.release_chosen), ("L", self.lift_chosen), ("N", self.next_photo),
                          ("P", self.previous_photo), ("M", self.letters.toggle), ("G", self.new_group),
                          ("Esc", self.letters.clear), ("Del", self.take_mark_away)):
            QShortcut(QKeySequence(key), self, does, context=Qt.ShortcutContext.WidgetWithChildrenShortcut)
        for n in range(1, 10):
            QShortcut(QKeySequence(str(n)), self, lambda n=n: self.letters.choose(n - 1),
                      context=Qt.ShortcutContext.WidgetWithChildrenShortcut)

    # -- showing

    def _on_change(self, change: Change) -> None:
        self._confirm = None
        if change.kind == "opened":
            self._view = self._chosen = self._group = ""
            self._images.clear()
        else:
            words = {"done": self.tr("Recorded: {0}"), "undone": self.tr("Taken back: {0}"),
                     "redone": self.tr("Done again: {0}")}
            self.say(words[change.kind].format(change.label))
        teardown = self._session.teardown
        if self._chosen not in teardown.part and self._chosen not in teardown.joint:
            self._chosen = ""
        if self._group not in teardown.joint:
            self._group = ""
        self._fill_all()

    def _fill_all(self) -> None:
        views = self._session.teardown.views
        if views and self._view not in {view.id for view in views}:
            self._view = views[-1].id
        self.letters.show_teardown(self._session.teardown, self._on_device())
        self._fill_film()
        self._fill_running()
        self._show_view()
        QTimer.singleShot(0, self.depths.refresh)

    def _on_device(self) -> list[str]:
        """Parts that can still come off, in file order."""
        removed = self._session.derived.replay.bench.removed
        return [id_ for id_ in self._session.derived.planner.structure.removals if id_ not in removed]

    def _fill_film(self) -> None:
        views = self._session.teardown.views
        self.film.blockSignals(True)
        self.film.clear()
        for n, view in enumerate(views, start=1):
            thumb = QPixmap()
            thumb.loadFromData(self._session.document.thumb(view.photo) or b"")
            if thumb.isNull():
                thumb = QPixmap(96, 60)
                thumb.fill(Qt.GlobalColor.gray)
            item = QListWidgetItem(QIcon(thumb), f"{n} · {wording.SIDES[view.side]}")
            item.setToolTip(self.tr("State after {0}").format(view.at_entry) if view.at_entry
                            else self.tr("Before the first act"))
            self.film.addItem(item)
        rows = [n for n, view in enumerate(views) if view.id == self._view]
        if rows:
            self.film.setCurrentRow(rows[0])
        self.film.blockSignals(False)

    def _fill_running(self) -> None:
        self.running.clear()
        teardown = self._session.teardown
        amended = {entry.amends for entry in teardown.log if entry.amends}
        for entry in teardown.log:
            item = QListWidgetItem(self._entry_text(entry))
            item.setData(ROLE, entry.id)
            if entry.id in amended:
                font = item.font()
                font.setStrikeOut(True)
                item.setFont(font)
            self.running.addItem(item)
        at = next((v.at_entry for v in teardown.views if v.id == self._view), None)
        is_last = bool(teardown.views) and teardown.views[-1].id == self._view
        rows = [n for n, entry in enumerate(teardown.log) if entry.id == at]
        row = len(teardown.log) - 1 if is_last or not rows else rows[0]
        if self.running.count():
            self.running.scrollToItem(self.running.item(row))
            if rows and not is_last:
                self.running.setCurrentRow(row)

    def _entry_text(self, entry: LogEntry) -> str:
        teardown = self._session.teardown
        minutes, seconds = divmod(round(entry.t or 0), 60)
        name = wording.name_of(teardown, entry.thing) if entry.thing else ""
        joint = teardown.joint.get(entry.thing or "")
        if joint is not None and joint.kind == "screw":
            name = f"{wording.fixing_text(teardown, joint)}, {name}"
        words = [f"{minutes}:{seconds:02d}", {"remove": self.tr("lift")}.get(entry.do, entry.do), name]
        if entry.do == "reach":
            words.append(self.tr("{0} things").format(len(entry.things)))
        if entry.seconds is not None:
            words.append(f"· {wording.duration_text(entry.seconds)}")
        if entry.outcome != "ok":
            words.append(f"· {entry.outcome}")
        if entry.text and entry.do not in ("release", "remove"):
            words.append(f"· {entry.text}" if name else entry.text)
        if entry.amends:
            words.append(self.tr("· corrects {0}").format(entry.amends))
        return "  ".join(word for word in words if word)

    def _current_view(self) -> View | None:
        return next((view for view in self._session.teardown.views if view.id == self._view), None)

    def _show_view(self) -> None:
        view = self._current_view()
        if view is None:
            self.state.setText(self.tr("No photograph yet"))
            self.say(self.tr("Press N to add the first photograph"))
            self.canvas.show_pins([])
            self._show_hand()
            return
        if view.photo not in self._images:
            thumb = self._session.document.thumb(view.photo)
            if thumb is not None and not self._images:
                QTimer.singleShot(0, self._show_full)
            else:
                self._load(view.photo)
        if view.photo in self._images:
            self.canvas.show_photo(self._images[view.photo])
        number = self._session.teardown.views.index(view) + 1
        total = len(self._session.teardown.views)
        self.state.setText(self.tr("State {0} of {1}, {2}").format(number, total, wording.SIDES[view.side]))
        self._show_pins()
        self._show_hand()

    def _load(self, name: str) -> None:
        if len(self._images) > 4:
            self._images.pop(next(iter(self._images)))
        body = self._session.document.photo(name)
        image = read_image(body) if body else QImage()
        if image.isNull():
            image = QImage(1200, 800, QImage.Format.Format_RGB32)
            image.fill(Qt.GlobalColor.darkGray)
            self.say(self.tr("The photograph {0} is not in the document or cannot be read").format(name), alarm=True)
        self._images[name] = image

    def _show_full(self) -> None:
        view = self._current_view()
        if view is not None and view.photo not in self._images:
            self._load(view.photo)
            self.canvas.show_photo(self._images[view.photo])
            self._show_pins()

    def _show_pins(self) -> None:
        view = self._current_view()
        if view is None:
            return
        teardown = self._session.teardown
        latest = view is teardown.views[-1]
        bench = self._session.derived.replay.bench
        pins = []
        for mark in view.marks:
            joint, part = teardown.joint.get(mark.thing), teardown.part.get(mark.thing)
            spent = latest and (mark.thing in bench.released or mark.thing in bench.removed)
            chosen = mark.thing == self._chosen
            if joint is not None and joint.kind == "screw" and joint.fastener:
                drive = teardown.fastener[joint.fastener].drive
                pins.append(Pin(mark.x, mark.y, joint.fastener, drive, "screw", spent, chosen))
            else:
                kind = "part" if part else "plug" if joint and joint.kind == "connector" else "other"
                pins.append(Pin(mark.x, mark.y, wording.name_of(teardown, mark.thing), "", kind, spent, chosen))
        self.canvas.show_pins(pins)

    def _show_hand(self) -> None:
        """What is chosen, what it ties, and what still holds it."""
        teardown = self._session.teardown
        thing = teardown.part.get(self._chosen) or teardown.joint.get(self._chosen)
        self.way.setVisible(False)
        self.caution.setVisible(False)
        self.release_button.setEnabled(self._chosen in teardown.joint)
        self.lift_button.setEnabled(thing is not None)
        if thing is None:
            self.hand.setText(self.tr("Nothing chosen"))
            self.holds.setText(self.tr("Click a mark, or choose a letter and click a screw"))
            return
        self.hand.setText(wording.name_of(teardown, self._chosen))
        if self._chosen in teardown.joint:
            joint = teardown.joint[self._chosen]
            what = wording.fixing_text(teardown, joint) if joint.kind == "screw" else joint.type or joint.kind
            text = self.tr("{0}; ties {1}").format(what, wording.names_of(teardown, joint.of))
            if len(joint.ways) > 1:
                self.way.setVisible(True)
                self.way.clear()
                for way in joint.ways:
                    tools = [wording.tool_name(teardown, act.tool) for act in way.acts]
                    self.way.addItem(", ".join(dict.fromkeys(tools)))
        else:
            text = teardown.part[self._chosen].kind
        self.holds.setText(f"{text}\n{self._held_text()}")
        self._show_cautions()

    def _show_cautions(self) -> None:
        """The cautions of the act in hand, once and calmly; they can be read again as long as it is in hand."""
        teardown = self._session.teardown
        if self._chosen in teardown.part:
            hazards = list(teardown.part[self._chosen].hazards)
        else:
            hazards = [hazard for way in teardown.joint[self._chosen].ways for hazard in way.hazards]
        texts = wording.caution_texts(hazards)
        self.caution.setVisible(bool(texts))
        self.caution.setText("\n".join(texts))
        self.caution.setToolTip(wording.CAUTIONS_FIRST)

    def _held_text(self) -> str:
        obstacles = self._obstacles(self._chosen)
        if not obstacles:
            return self.tr("Free now")
        return "; ".join(self._obstacle_text(obstacle) for obstacle in obstacles)

    def _obstacles(self, thing: str) -> list[Obstacle]:
        structure, bench = self._session.derived.planner.structure, self._session.derived.replay.bench
        if thing in structure.removals:
            return bench.obstacles(Operation(part=thing))
        if thing in structure.releases:
            ways = range(len(structure.releases[thing].ways))
            return min((bench.obstacles(Operation(thing, way, 0)) for way in ways), key=len)
        return []

    def _obstacle_text(self, obstacle: Obstacle) -> str:
        names = wording.names_of(self._session.teardown, obstacle.things)
        return {"hidden": self.tr("Still behind {0}"), "tied": self.tr("Still tied by {0}"),
                "gone": self.tr("Off or open already"),
                "way-taken": self.tr("Another way has been begun")}.get(
                    obstacle.code, self.tr("Not now")).format(names)

    def say(self, text: str, *, alarm: bool = False) -> None:
        """One calm line under the photograph."""
        self.echo.setText(text)
        self.echo.setProperty("alarm", alarm)
        self.echo.style().unpolish(self.echo)
        self.echo.style().polish(self.echo)

    # -- acting

    def _do(self, command: commands.Command) -> None:
        try:
            self._session.do(command)
        except Refusal as refusal:
            self.say(str(refusal), alarm=True)

    def show_state(self, view_id: str) -> None:
        """Show one state of the film."""
        self._view = view_id
        self._group = ""
        self._fill_film()
        self._fill_running()
        self._show_view()

    def choose(self, thing: str) -> None:
        self._chosen = thing
        self._confirm = None
        self._show_pins()
        self._show_hand()

    def _choose_pin(self, place: int) -> None:
        view = self._current_view()
        if view is not None:
            self.choose(view.marks[place].thing)
            self.canvas.setFocus()

    def _move_pin(self, place: int, x: float, y: float) -> None:
        self._do(commands.move_mark(self._session.teardown, self._view, place, x, y))

    def _letter_changed(self) -> None:
        self._group = ""
        self.canvas.marking = bool(self.letters.letter)
        self.canvas.viewport().setCursor(
            Qt.CursorShape.CrossCursor if self.canvas.marking else Qt.CursorShape.ArrowCursor)

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
            if self._group:
                self._session.do(commands.mark(teardown, view.id, self._group, x, y))
                self._chosen = self._group
            else:
                command, joint = commands.start_screw_group(teardown, self.letters.letter, self.letters.part, view.id,
                                                            x, y)
                self._session.do(command)
                self._group = self._chosen = joint
        except Refusal as refusal:
            self.say(str(refusal), alarm=True)
            return
        self._show_pins()
        self._show_hand()

    def take_mark_away(self) -> None:
        """Delete the last mark of the chosen thing on this view."""
        view = self._current_view()
        places = [n for n, mark in enumerate(view.marks) if mark.thing == self._chosen] if view else []
        if places:
            self._do(commands.unmark(self._session.teardown, self._view, places[-1]))

    def release_chosen(self) -> None:
        """Log the release of the chosen joint; against the rules only when pressed twice."""
        if self._chosen in self._session.teardown.joint and self._may("release", self._chosen):
            way = max(0, self.way.currentIndex()) if self.way.isVisible() else 0
            self._do(commands.release(self._session.teardown, self._chosen, self._session.seconds_now(), way))

    def lift_chosen(self) -> None:
        """Log that the chosen part, or the part the chosen joint holds, was lifted."""
        part = self._part_in_hand()
        if part and self._may("lift", part):
            self._do(commands.remove(self._session.teardown, part, self._session.seconds_now()))

    def _part_in_hand(self) -> str:
        teardown = self._session.teardown
        if self._chosen in teardown.part:
            return self._chosen
        joint = teardown.joint.get(self._chosen)
        still_on = self._on_device()
        return next((part for part in joint.of if part in still_on), "") if joint else ""

    def _may(self, verb: str, thing: str) -> bool:
        obstacles = self._obstacles(thing)
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
        """Take a photograph of the present state into the document."""
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
        name = self._session.take_photo(path.name, body, thumb)
        before = self._current_view()
        view = View(id=commands.free_id(teardown, "v"), side=before.side if before else "back", photo=name,
                    at_entry=teardown.log[-1].id if teardown.log else None)
        self._view = view.id
        self._do(commands.add_view(teardown, view))

    def _film_chosen(self, row: int) -> None:
        views = self._session.teardown.views
        if 0 <= row < len(views):
            QTimer.singleShot(0, lambda: self.show_state(views[row].id))
