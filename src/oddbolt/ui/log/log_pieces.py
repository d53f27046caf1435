"""The pieces of the Log, made but not yet put together."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtGui import QImage
from PySide6.QtWidgets import QComboBox, QPushButton, QTabWidget, QVBoxLayout

from oddbolt.instruments.protocols import Bench
from oddbolt.paint.palette import Palette
from oddbolt.session.recording.answering_acts import AnsweringActs
from oddbolt.session.recording.arming_acts import ArmingActs
from oddbolt.session.recording.asked_acts import AskedActs
from oddbolt.session.recording.lifting_acts import LiftingActs
from oddbolt.session.recording.mark_acts import MarkActs
from oddbolt.session.recording.recorder import Recorder
from oddbolt.session.recording.seeing.seen_acts import SeenActs
from oddbolt.session.recording.telling_acts import TellingActs
from oddbolt.session.recording.tool_acts import ToolActs
from oddbolt.session.recording.typed_acts import TypedActs
from oddbolt.session.session import Session
from oddbolt.ui.log.chosen.act_strip import ActStrip
from oddbolt.ui.log.chosen.act_work import ActWork
from oddbolt.ui.log.chosen.answers import Answers
from oddbolt.ui.log.chosen.asking import Asking
from oddbolt.ui.log.chosen.clocks import Clocks
from oddbolt.ui.log.chosen.letters import LetterBar
from oddbolt.ui.log.chosen.lift_bar import LiftBar
from oddbolt.ui.log.chosen.thing import ChosenThing
from oddbolt.ui.log.chosen.tools import ToolColumn
from oddbolt.ui.log.depths import DepthList
from oddbolt.ui.log.gestures import Desk, Gestures
from oddbolt.ui.log.one_line import OneLine
from oddbolt.ui.log.photograph.alike import Alike
from oddbolt.ui.log.photograph.comparing import Comparing
from oddbolt.ui.log.photograph.measure import Measure
from oddbolt.ui.log.photograph.row import RowOfMarks
from oddbolt.ui.log.photograph.states import ChoosePhoto, States
from oddbolt.ui.log.photograph.strip import Strip
from oddbolt.ui.log.running import RunningList
from oddbolt.ui.log.seeing.seeing import Seeing
from oddbolt.ui.log.seeing.seen_page import SeenPage
from oddbolt.ui.log.seeing.watching import Watching
from oddbolt.ui.log.telling.way import WayPanel
from oddbolt.ui.pieces.sheet import Echo, Elided, label
from oddbolt.ui.widgets.held import HeldReturn
from oddbolt.ui.widgets.photo import PhotoCanvas
from oddbolt.ui.workspace import Workspace
from oddbolt.words.translate import tr

if TYPE_CHECKING:
    from oddbolt.ui.correcting.corrections import Corrections


class LogPieces(Workspace):
    """Each piece by its name; what shows the record in them is the panel's."""

    def __init__(self, session: Session, recorder: Recorder, palette: Palette, choose_photo: ChoosePhoto,
                 bench: Bench) -> None:
        super().__init__(session)
        self.colours = palette
        self.recorder = recorder
        self.lifting, self.asked = LiftingActs(self.recorder), AskedActs(self.recorder)
        self.typed = TypedActs(self.lifting)
        self.marks = MarkActs(self.recorder)
        self.arming = ArmingActs(self.recorder)
        self.thing = ChosenThing(session)
        self.states = States(session, choose_photo, bench)
        self.canvas = PhotoCanvas(palette)
        self.letters = LetterBar()
        self.tools = ToolColumn()
        self.lift_bar = LiftBar()
        self.strip = Strip(session)
        self.running = RunningList(session)
        self.depths = DepthList(session)
        self.asking = Asking(session)
        self.clocks = Clocks(session)
        self.alike = Alike(lambda: (session.teardown, self.states.view), session.photo)
        self.measure = Measure(lambda name: self.states.photos.get(name))
        self.row = RowOfMarks()
        self.comparing = Comparing(self.states, self.canvas)
        self.seen_acts = SeenActs(self.recorder)
        self.seeing = Seeing(session, self.states, self.seen_acts)
        self.watching = Watching(self.states, self.seeing)
        self.seen_page = SeenPage()
        self.line = OneLine(self.recorder)
        self.gestures = Gestures(Desk(
            recorder=self.recorder, states=self.states, canvas=self.canvas, letters=self.letters, tools=self.tools,
            lift_bar=self.lift_bar, thing=self.thing, asking=self.asking, alike=self.alike, measure=self.measure,
            row=self.row))
        self.answering = AnsweringActs(self.recorder)
        self.answers = Answers(self.canvas.port)
        self.pedal = HeldReturn(self.canvas, lambda: bool(self.recorder.offered))
        self.telling = TellingActs(self.recorder)
        self.with_what = ToolActs(self.recorder)
        self.act_strip = ActStrip()
        self.act_work = ActWork(self.recorder, self.with_what, self.act_strip, self.thing, self.states, self.canvas)
        self.way = WayPanel(session, self.telling, palette)
        self.voice_strip = QVBoxLayout()  # empty as long as nobody speaks to the bench
        self.echo = Echo()
        self.state = label("", "faint")
        self.side = QComboBox()
        self.performed = Elided("faint")
        self.tell_ways = QPushButton(tr("Are these ways right?"))
        self.tell_ways.setObjectName("offer")
        self.above, self.below = QTabWidget(), QTabWidget()

    def corrections(self) -> Corrections:
        """Menus that set right what was recorded; loaded when the first one is wanted."""
        from oddbolt.ui.correcting.corrections import Corrections

        return Corrections(self, self._session, self.recorder.do, lambda text, alarm: self.say(text, alarm=alarm))

    def follow_state(self) -> None:
        """Another state is shown."""
        raise NotImplementedError

    def follow_below(self) -> None:
        """Another page is in front."""
        raise NotImplementedError

    def show_pins(self) -> None:
        raise NotImplementedError

    def photo_arrived(self, name: str, image: QImage, size: tuple[int, int] | None) -> None:
        raise NotImplementedError

    def questions_shown(self, things: list[str]) -> None:
        raise NotImplementedError

    def ask_limits(self, way: int | None = None) -> None:
        raise NotImplementedError
