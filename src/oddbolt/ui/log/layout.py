"""The Log put together: what stands where, who tells whom, and which key means which gesture."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint, Qt, QTimer
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QHBoxLayout, QSplitter, QVBoxLayout, QWidget

from oddbolt.catalog.tables import mark_kinds, part_kinds
from oddbolt.session.modes import Act, Gesture
from oddbolt.session.verbs import joints, letters, photos
from oddbolt.session.verbs.entries import entry
from oddbolt.ui.log.giving_room import LEAST_BELOW_PX, give_room
from oddbolt.ui.log.keys import KEYS, TELL_KEYS
from oddbolt.ui.log.low import Low
from oddbolt.ui.log.mode_text import show_mode
from oddbolt.ui.log.pages import ASK, DEPTH, RUNNING, SEEN
from oddbolt.ui.log.telling.crops import where_seen
from oddbolt.ui.log.walking import Walking
from oddbolt.ui.pieces.sheet import explain, lay_out, scrolled, sheet
from oddbolt.words.names import side_name
from oddbolt.words.translate import tr

if TYPE_CHECKING:
    from oddbolt.ui.log.log_pieces import LogPieces


LINES = 8  # of the running list are seen at least, when it is asked for


def put_together(panel: LogPieces) -> None:
    panel.side.setAccessibleName(tr("Side of the next photograph"))
    for side in ("back", "front", "edge"):
        panel.side.addItem(tr("next photo: {0}").format(side_name(side)), side)
    explain((panel.side, tr("Which side of the device lies up when the next photograph is taken")),
            (panel.line, tr("Type a line (T): what is done, with what, for how long; the manual has the grammar")),
            (panel.strip, tr("The photographs in order; a click goes back to a state, the menu sets things right")),
            (panel.running, tr("What was done, in order; a double click or the menu sets it right")),
            (panel.depths, tr("How deep the priority parts lie after the last act; a double click shows the way in")),
            (panel.tell_ways, tr("Look at the way to each priority part, and say that it works or what is wrong "
                                 "({0})").format(TELL_KEYS)))
    under = QHBoxLayout()
    under.addWidget(panel.echo, 1)
    under.addWidget(panel.state)
    under.addWidget(panel.side)
    middle = QHBoxLayout()
    middle.setSpacing(6)
    column = scrolled(panel.tools)
    # Its bar, where the column is higher than its place, takes nothing from the words.
    column.setFixedWidth(panel.tools.sizeHint().width() + max(10, column.verticalScrollBar().sizeHint().width() + 2))
    middle.addWidget(column)
    middle.addWidget(panel.canvas, 1)
    left = QVBoxLayout()
    left.setSpacing(5)
    left.addWidget(panel.letters)
    left.addLayout(middle, 1)
    left.addWidget(panel.act_strip)
    left.addLayout(panel.voice_strip)
    left.addLayout(under)
    for widget in (panel.alike, panel.row, panel.measure, panel.line, panel.strip, panel.way):
        left.addWidget(widget)
    lay_out(panel, left, side_of(panel))
    Low(panel)


def side_of(panel: LogPieces) -> QWidget:
    """What is in hand, what is being done, what was done and found."""
    for tabs, called, pages in (
            (panel.above, tr("Doing"), ((scrolled(panel.lift_bar), tr("Lift as")), (scrolled(panel.asking), tr("Ask")),
                                       (scrolled(panel.clocks), tr("Time")), (scrolled(panel.seen_page), tr("Seen")))),
            (panel.below, tr("Done and found"), (
                (sheet("", panel.running, panel.performed, stretch=1), tr("Running list")),
                (panel.depths, tr("Depth"))))):
        tabs.setDocumentMode(True)
        tabs.tabBar().setDrawBase(False)
        tabs.setAccessibleName(called)
        tabs.tabBar().setAccessibleName(called)
        for page, name in pages:
            tabs.addTab(page, name)
        tabs.setMinimumHeight(tabs.tabBar().sizeHint().height())  # pages scroll; the running list may take their room
    panel.below.setCornerWidget(panel.tell_ways)
    panel.below.setCurrentIndex(DEPTH)
    side = QWidget()
    right = QVBoxLayout(side)
    right.setContentsMargins(0, 0, 0, 0)
    right.setSpacing(5)
    right.addWidget(panel.thing)
    both = QSplitter(Qt.Orientation.Vertical)
    both.addWidget(panel.above)
    both.addWidget(panel.below)
    both.setChildrenCollapsible(False)
    both.setStretchFactor(0, 3)
    both.setStretchFactor(1, 2)
    both.setSizes([300, 190])
    # Later, when the page that was chosen has been laid out.
    panel.below.currentChanged.connect(lambda page: page == RUNNING and QTimer.singleShot(
        0, panel, lambda: give_lines(panel, both)))
    panel.above.currentChanged.connect(lambda page: page in (ASK, SEEN) and QTimer.singleShot(
        0, panel, lambda: give_room(panel.asking, both) if page == ASK else give_room(
            panel.seen_page, both, LEAST_BELOW_PX)))
    right.addWidget(both, 1)
    return side


def give_lines(panel: LogPieces, both: QSplitter) -> None:
    """Room for the running list when it is asked for; more than that, by hand, it keeps."""
    line = panel.running.sizeHintForRow(0) if panel.running.model().rowCount() else panel.running.fontMetrics().height()
    missing = LINES * line + 2 * panel.running.frameWidth() - panel.running.height()
    if missing > 0:
        above, below = both.sizes()
        both.setSizes([above - missing, below + missing])


def wire(panel: LogPieces) -> None:
    """Who tells whom. What is said by anyone stands in the one line under the photograph."""
    states, canvas = panel.states, panel.canvas
    for speaker in (states, panel.gestures, panel.alike, panel.measure, panel.line, panel.comparing, panel.asking,
                    panel.depths, panel.way, panel.act_strip, panel.seeing, panel.watching):
        speaker.said.connect(lambda text, alarm: panel.say(text, alarm=alarm))
    panel.clocks.rang.connect(lambda text: panel.say(text, alarm=True))
    canvas.files_dropped.connect(lambda paths: [states.add_file(Path(path)) for path in paths])
    states.changed.connect(panel.follow_state)
    states.photos.arrived.connect(panel.photo_arrived)
    panel.lift_bar.kind_asked.connect(panel.gestures.lift_as)
    panel.asking.number_changed.connect(lambda n: panel.above.setTabText(
        ASK, tr("Ask ({0})").format(n) if n else tr("Ask")))
    panel.asking.shown.connect(panel.questions_shown)
    panel.line.left.connect(canvas.setFocus)
    panel.way.pointed.connect(lambda thing: show_where(panel, thing))
    # A way that is told stands where the line and the states are.
    panel.way.opened.connect(lambda is_open: [one.setVisible(not is_open) for one in (panel.line, panel.strip)])
    panel.way.followed.connect(panel.recorder.tell.armed)
    panel.tell_ways.clicked.connect(lambda _: panel.way.open())
    panel.answers.asked.connect(panel.gestures.deed)
    panel.seeing.noted.connect(panel.seen_page.note)
    panel.watching.told.connect(panel.seen_page.tell_watching)
    panel.watching.switched.connect(panel.seen_page.watch.setChecked)
    panel.seen_page.asked.connect(panel.gestures.deed)
    panel.seen_page.ticked.connect(lambda place: (panel.seen_acts.look_at(), panel.gestures.make(
        Gesture.CLICK_SEEN, place=place)))
    panel.seen_page.chosen.connect(panel.seen_acts.choose)
    panel.act_strip.asked.connect(panel.gestures.deed)
    panel.pedal.short.connect(canvas.returned)
    panel.pedal.long.connect(lambda: panel.gestures.deed(Gesture.ANSWER_1))
    panel.thing.way.currentIndexChanged.connect(lambda _: panel.act_work.show())
    panel.lift_bar.named.connect(canvas.setFocus)
    panel.side.activated.connect(lambda _: setattr(states, "side", panel.side.currentData()))
    panel.above.currentChanged.connect(lambda _: panel.show_pins())
    panel.below.currentChanged.connect(lambda _: panel.follow_below())
    # Later, because showing a state fills the strip again, which must not happen within its own signal.
    panel.strip.chosen.connect(lambda view: QTimer.singleShot(
        0, lambda: panel.gestures.make(Gesture.SHOW, view=view)))
    walking = Walking(panel)
    panel.recorder.acts |= {
        Act.STOPWATCH: walking.show_stopwatch, Act.QUESTION: walking.answer_question,
        Act.SEE: panel.seeing.ask, Act.WATCH: panel.watching.switch,
        Act.COMPARE: panel.comparing.next_mode, Act.GO_TO_LINE: panel.line.setFocus, Act.LIMITS: panel.ask_limits,
        Act.CAMERA: states.take_picture, Act.TAKE_SEEN_ON: panel.seeing.take_on,
        Act.TURN_OVER: states.turn_over, Act.NEXT: walking.next_state, Act.PREVIOUS: walking.previous_state,
        Act.SHOW: walking.walk_to, Act.CARRY_MARKS: states.carry_marks,
        Act.OTHER_SIDE: lambda: states.copy_to_other_side(panel.recorder.selection.marks)}


def show_where(panel: LogPieces, thing: str) -> None:
    """The state on whose photograph a thing can be seen, unless it is shown."""
    view = panel.states.view
    if view is None or all(mark.thing != thing for mark in view.marks):
        found = where_seen(panel.recorder.session.teardown, thing)
        if found is not None:
            panel.gestures.make(Gesture.SHOW, view=found.view.id)


def wire_corrections(panel: LogPieces) -> None:
    """What was recorded is set right where it stands: marks, entries, photographs."""
    menus, canvas, running, strip = panel.corrections, panel.canvas, panel.running, panel.strip

    def thing_at(place: int) -> str:
        view = panel.states.view
        return view.marks[place].thing if view is not None and place < len(view.marks) else ""

    def ask_mark(place: int, where: QPoint) -> None:
        if thing_at(place):
            menus().of_mark(panel.states.shown, place).popup(where)

    canvas.pin_asked.connect(ask_mark)
    canvas.pin_opened.connect(lambda place: menus().ask_name(thing_at(place)))
    for one, asked in ((running, lambda: menus().of_entry(running.entry())),
                       (strip, lambda: menus().of_view(panel.states.shown, running.entry()))):
        one.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        one.customContextMenuRequested.connect(lambda spot, one=one, asked=asked: asked().popup(one.mapToGlobal(spot))
                                               if one.currentIndex().isValid() else None)
    running.doubleClicked.connect(lambda _: menus().ask_text(running.entry()))
    running.delete_key.pressed.connect(lambda: menus().strike_or_restore(running.entry()))
    strip.delete_key.pressed.connect(lambda: menus().ask_delete_view(panel.states.shown))


def wire_words(panel: LogPieces) -> None:
    """What a person says in a panel goes to a verb."""
    do, recorder, states = panel.recorder.do, panel.recorder, panel.states
    panel.letters.fastener_asked.connect(lambda fastener: do(letters.add_fastener, fastener))
    panel.thing.way_asked.connect(lambda method: do(joints.add_way, recorder.selection.thing, method))
    panel.thing.behind_said.connect(lambda hiders: do(joints.set_behind, recorder.selection.thing, hiders))
    panel.thing.limits_asked.connect(panel.ask_limits)
    panel.thing.safe_said.connect(lambda on: do(joints.set_isolates, recorder.selection.thing, on))
    for finder in (panel.alike, panel.row):
        finder.proposed.connect(lambda found: panel.canvas.show_overlay(proposals=found))
        finder.proposed.connect(lambda _: show_mode(panel))
    panel.measure.line_changed.connect(lambda line: panel.canvas.show_overlay(line=line))
    panel.measure.scale_found.connect(lambda mm, plane: do(photos.set_scale, states.shown, mm, plane))
    panel.measure.recorded.connect(lambda mm: do(
        entry, "measure", recorder.t, thing=recorder.selection.thing, value=mm, unit="mm", text="on photo"))


def bind_keys(panel: LogPieces) -> None:
    make = panel.gestures
    keys = [(key.keys, lambda g=key.gesture: make.deed(g)) for key in KEYS if key.keys != "Return"]
    keys += [(row.key, lambda k=row.id: make.kind(k)) for row in mark_kinds().values()]
    keys += [(f"Shift+{row.key}", lambda k=row.id: make.lift_as(k)) for row in part_kinds().values()]
    keys += [(str(n), lambda n=n: panel.letters.choose(n - 1)) for n in range(1, 10)]
    taken: set[str] = set()
    for name, does in keys:
        assert name not in taken, f"two meanings of the key {name}"
        taken.add(name)
        heard = (lambda name=name, does=does: make.letter(name, does)) if len(name) == 1 else does
        QShortcut(QKeySequence(name), panel, heard, context=Qt.ShortcutContext.WidgetWithChildrenShortcut)
