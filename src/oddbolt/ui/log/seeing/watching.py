"""The camera watches: a photograph by itself whenever hands were at the device and are gone. What shows nothing new is
not kept; what it shows is offered, and waits until somebody has a hand free."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec import Struct
from PySide6.QtCore import QObject, QTimer, Signal

from oddbolt.instruments.protocols import Camera, InstrumentFault
from oddbolt.paint.images import read_image
from oddbolt.session.recording.seeing.waiting import MOST_PAIRS
from oddbolt.ui.background.jobs import Jobs
from oddbolt.ui.background.pixels import pixels_of
from oddbolt.ui.log.photograph.states import States
from oddbolt.ui.log.seeing.seeing import HAND, NOT_SAME_SIDE, Seeing
from oddbolt.words.refusals import fault_text
from oddbolt.words.translate import N_, tr

if TYPE_CHECKING:
    from oddbolt.imaging.watching import Watch

EVERY_MS = 700
MOST_HANDS = 2  # in a row: then what reaches in is a cover that hangs open
OFF, CALM, BUSY, FULL, OTHER = "off", "calm", "busy", "full", "other"
STATES = {
    OFF: "", CALM: N_("Watching: nothing changed"), "moves": N_("Watching: hands are at it"),
    "reaches": N_("Watching: something reaches in"), "clear": N_("Watching: photographed"),
    BUSY: N_("Watching: looking what came off …"),
    FULL: N_("Waiting: much was seen, take it or leave it first"),
    OTHER: N_("Another layer, a cover that hangs, or turned over? V photographs it, ⇧V as the other side"),
}


class Glanced(Struct, frozen=True, eq=False):
    """What one look brought: a word of `imaging.watching`, and where it is clear the whole photograph."""

    says: str
    photograph: bytes = b""
    fault: str = ""


class Watching(QObject):
    """Asks the camera twice in three seconds or so; sifts what arrives in a folder where that is watched instead."""

    said = Signal(str, bool)
    told = Signal(str)  # how it stands, in words
    switched = Signal(bool)

    def __init__(self, states: States, seeing: Seeing) -> None:
        super().__init__()
        self._states, self._seeing = states, seeing
        self._jobs = Jobs(self)
        self._watch: Watch | None = None
        self._side, self._hands, self._last = "", 0, b""
        self._timer = QTimer(self)
        self._timer.setInterval(EVERY_MS)
        self._timer.timeout.connect(self.look)
        states.photographed.connect(self.anew)
        states.sift = self._sift
        seeing.judged.connect(self._judged)

    @property
    def is_on(self) -> bool:
        return self._watch is not None

    @property
    def is_looking(self) -> bool:
        return self._jobs.is_running("glance")

    def switch(self) -> None:
        """On, or off again."""
        if self.is_on:
            self.switch_off()
            self.said.emit(tr("The camera watches no more"), False)
        elif self._states.camera is None and not self._states.watches_folder:
            self.switched.emit(False)
            self.said.emit(tr("No camera is connected, and no folder is watched (File menu): nothing can be watched"),
                           True)
        else:
            self.anew(on=True)
            if self._states.camera is not None:
                self._timer.start()
            self.switched.emit(True)
            self.said.emit(tr("The camera watches: what changes is photographed whenever no hand is in the picture"),
                           False)

    def switch_off(self) -> None:
        self._timer.stop()
        self._jobs.cancel("glance")
        if self._watch is not None:
            self._watch, self._seeing.is_watched = None, False
            self.told.emit("")
            self.switched.emit(False)

    def anew(self, *, on: bool = False) -> None:
        """Whatever is seen next is what changes are told from."""
        if self.is_on or on:
            from oddbolt.imaging.watching import Watch

            self._jobs.cancel("glance")
            self._side = self._states.next_side
            self._seeing.is_watched = True
            self._watch = Watch(wanted=self._states.latest_of(self._side) is None)
            self._tell(CALM)

    def _tell(self, state: str) -> None:
        self.told.emit(tr(STATES[state]) if STATES[state] else "")

    def look(self) -> None:
        """One glance, in a job; nothing while the last one, or what it led to, is still looked at."""
        camera, watch = self._states.camera, self._watch
        if watch is None or camera is None or self.is_looking or self._seeing.is_looking:
            return
        if self._side != self._states.next_side:
            self.anew()
            return
        if len(self._seeing.acts.pairs) >= MOST_PAIRS:
            self._tell(FULL)
            return
        side = self._side
        self._jobs.start("glance", lambda: _glance(camera, side, watch), self._glanced,
                         lambda words: self.said.emit(words, True))

    def _glanced(self, found: Glanced) -> None:
        if found.fault:
            self.switch_off()
            self.said.emit(found.fault, True)
            return
        self._came(found)

    def _came(self, found: Glanced) -> None:
        if found.says != CALM:  # what came of the last photograph stands until something happens
            self._tell(found.says)
        if found.photograph:
            self._photographed(found.photograph)

    def _photographed(self, body: bytes) -> None:
        self._last, self._states.held = body, b""
        before = self._states.latest_of(self._states.next_side)
        if before is None:
            self._states.keep_seen(body, self._states.next_side)
            self._judged("")
        else:
            self._tell(BUSY)
            self._seeing.consider(before, body)

    def _judged(self, came_of_it: str) -> None:
        """A photograph was looked at: after a hand was in it another is taken, else hands have to come first."""
        if self._watch is None:
            return
        self._hands = self._hands + 1 if came_of_it == HAND else 0
        if came_of_it == HAND and self._hands < MOST_HANDS:
            return
        self._watch.keep()
        if came_of_it in (HAND, NOT_SAME_SIDE) and self._states.camera is None:
            self._states.held = self._last
        self._tell(OTHER if came_of_it in (HAND, NOT_SAME_SIDE) else "clear")

    def _sift(self, path: Path, body: bytes) -> bool:
        """Of photographs that arrive in a folder, one every second or so, those that are worth it: true where this one
        is taken care of, whether it was kept or not."""
        if self._watch is None or self._states.camera is not None:
            return False
        found = _judge(body, self._watch)
        if found is None:
            return False  # no photograph that can be read: said where it is added
        if not self._seeing.is_looking:  # what is clear stays so until it was looked at
            self._came(found)
        return True

    def stop(self) -> None:
        self._timer.stop()
        self._jobs.stop_all()


def _glance(camera: Camera, side: str, watch: Watch) -> Iterator[Glanced]:
    """The job: look, and photograph where it is clear."""
    try:
        found = _judge(camera.glance(side), watch)
        if found is not None and found.photograph:
            found = Glanced(found.says, camera.photograph(side))
    except InstrumentFault as fault:
        found = Glanced(OFF, fault=fault_text(fault))
    yield found or Glanced(CALM)


def _judge(body: bytes, watch: Watch) -> Glanced | None:
    from oddbolt.imaging.watching import CLEAR, GLANCE_PX

    image = read_image(body, GLANCE_PX)
    if image.isNull():
        return None
    says = watch.look(pixels_of(image).astype("float32"))
    return Glanced(says, body if says == CLEAR else b"")
