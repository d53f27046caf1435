"""The rooms of the window: built, and what they stand on imported, when they are first asked for."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PySide6.QtWidgets import QMessageBox, QStackedWidget, QWidget

from oddbolt.paint.palette import Palette
from oddbolt.ui.telling_rooms import TELLING, TellingRooms

if TYPE_CHECKING:
    from oddbolt.instruments.protocols import Bench
    from oddbolt.session.session import Session
    from oddbolt.ui.access.panel import AccessPanel
    from oddbolt.ui.background.photos import Ahead
    from oddbolt.ui.bolts.panel import BoltsPanel
    from oddbolt.ui.log.panel import LogPanel
    from oddbolt.ui.parts.panel import PartsPanel
    from oddbolt.ui.prepare.panel import PreparePanel
    from oddbolt.ui.prints.prints import Prints
    from oddbolt.ui.rebuild.panel import RebuildPanel
    from oddbolt.ui.sequence.panel import SequencePanel
    from oddbolt.ui.verdict.panel import VerdictPanel

Offers = Sequence[tuple[str, Callable[[], object]]]
# In the order of the work, in groups.
GROUPS = (("shelf",), ("prepare", "log", "parts", "bolts"), ("sequence", "access", "verdict"), ("rebuild",),
          ("compare", "report"), ("rehearse",))
ROOMS = tuple(name for group in GROUPS for name in group)
# Rooms that are there while nothing is open.
WITHOUT_A_DOCUMENT = ("shelf", "prepare")
KEYS = {"shelf": "Alt+Home", "rehearse": "Alt+End",
        **{name: f"Alt+{number % 10}" for number, name in enumerate(ROOMS[1:-1], start=1)}}


class Rooms(TellingRooms):
    """A shell with rooms. Whoever fills it gives the session, the files and what is connected."""

    session: Session
    bench: Bench  # what is connected now: it follows the record that is open
    folder: Path  # where new work lives
    ask_earlier: Callable[[], object]  # for an earlier model to begin from
    ask_open: Callable[[], object]
    show_demo: Callable[[str], object]
    begin: Callable[..., object]  # a teardown that was prepared
    first_state: str
    ahead: Ahead | None = None  # the photograph shown first, being decoded
    choose_photo: Callable[[], Path | None]

    def __init__(self, palette: Palette, after_first_paint: Callable[[], None] | None = None) -> None:
        super().__init__(palette, after_first_paint)
        self.stack = QStackedWidget()
        self.built: dict[str, QWidget] = {}
        self._prints: Prints | None = None

    def say(self, text: str, *, alarm: bool = False) -> None:
        raise NotImplementedError

    def tell(self, title: str, text: str, icon: QMessageBox.Icon = QMessageBox.Icon.Warning,
             offers: Offers = ()) -> None:
        """In a box that waits for nobody; `offers` are buttons more, and what they do."""
        raise NotImplementedError

    def show_workspace(self, name: str) -> None:
        raise NotImplementedError

    def undo(self) -> None:
        raise NotImplementedError

    def redo(self) -> None:
        raise NotImplementedError

    def speak(self) -> None:
        """In the Log: listen, or end it."""
        self.show_workspace("log")
        self.log.speaking.show_page()
        self.log.speaking.switch(not self.log.speaking.voice.is_on)

    def begin_pass(self) -> None:
        raise NotImplementedError

    def ask_settings(self) -> None:
        raise NotImplementedError

    def ask_details(self) -> None:
        raise NotImplementedError

    def ask_times(self) -> None:
        """How the analyst's readings lie to the estimates."""
        from oddbolt.ui.calculating.times_sheet import TimesSheet

        self.times = TimesSheet(self, self.session, self.folder)
        self.times.open()

    def ask_heating(self) -> None:
        """How long a cover is to be warmed."""
        from oddbolt.ui.calculating.heating_guide import HeatingGuide

        self.heating = HeatingGuide(self)
        self.heating.show()

    def ask_doses(self) -> None:
        """How much fills a gap, for the thing in hand."""
        from oddbolt.ui.calculating.dose_sheet import DoseSheet

        self.doses = DoseSheet(self, self.session, self.log.recorder.selection.thing)
        self.doses.show()

    def show_part(self, part: str) -> None:
        raise NotImplementedError

    def show_thing(self, thing: str) -> None:
        raise NotImplementedError

    def _make(self, name: str) -> QWidget:
        """What a room stands on is imported with it."""
        session, palette, folder, bench = self.session, self._colours, self.folder, self.bench
        if name == "prepare":
            from oddbolt.ui.prepare.panel import PreparePanel

            room = PreparePanel(folder, self.ask_earlier, bench)
            room.begun.connect(self.begin)
            room.open_asked.connect(self.ask_open)
            room.demo_asked.connect(self.show_demo)
            room.heating_asked.connect(self.ask_heating)
            return room
        if name == "log":
            from oddbolt.ui.log.panel import LogPanel

            return LogPanel(session, palette, self.choose_photo, bench, self.first_state, self.ahead)
        if name == "parts":
            from oddbolt.ui.parts.panel import PartsPanel

            return PartsPanel(session, palette)
        if name == "bolts":
            from oddbolt.ui.bolts.panel import BoltsPanel

            return BoltsPanel(session, palette, self.prints)
        if name == "sequence":
            from oddbolt.ui.sequence.panel import SequencePanel

            return SequencePanel(session, palette, folder)
        if name == "access":
            from oddbolt.ui.access.panel import AccessPanel

            access = AccessPanel(session, palette, folder)
            access.tells.connect(self.tell_ways)
            return access
        if name == "rebuild":
            from oddbolt.ui.rebuild.panel import RebuildPanel

            return RebuildPanel(session, palette, folder, bench)
        if name in TELLING:
            return self._make_telling(name)
        from oddbolt.ui.verdict.panel import VerdictPanel

        verdict = VerdictPanel(session, palette)
        verdict.part_asked.connect(self.show_part)
        verdict.thing_asked.connect(self.show_thing)
        return verdict

    @property
    def prepare(self) -> PreparePanel:
        return cast("PreparePanel", self.room("prepare"))

    @property
    def log(self) -> LogPanel:
        return cast("LogPanel", self.room("log"))

    @property
    def parts(self) -> PartsPanel:
        return cast("PartsPanel", self.room("parts"))

    @property
    def bolts(self) -> BoltsPanel:
        return cast("BoltsPanel", self.room("bolts"))

    @property
    def sequence(self) -> SequencePanel:
        return cast("SequencePanel", self.room("sequence"))

    @property
    def access(self) -> AccessPanel:
        return cast("AccessPanel", self.room("access"))

    @property
    def verdict(self) -> VerdictPanel:
        return cast("VerdictPanel", self.room("verdict"))

    @property
    def rebuild(self) -> RebuildPanel:
        return cast("RebuildPanel", self.room("rebuild"))

    @property
    def prints(self) -> Prints:
        if self._prints is None:
            from oddbolt.ui.prints.prints import Prints

            self._prints = Prints(self.session, self.folder, self)
            self._prints.said.connect(lambda text, alarm: self.say(text, alarm=alarm))
        return self._prints
