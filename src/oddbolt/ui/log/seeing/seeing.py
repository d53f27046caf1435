"""Two photographs of a side are compared in a job as soon as the second is there; what they differ in is offered."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING

from msgspec import Struct
from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QImage

from oddbolt.model.things import Teardown, View
from oddbolt.paint.images import image_size
from oddbolt.session.recording.seeing.proposals import Looking, looked_for
from oddbolt.session.recording.seeing.seen_acts import SeenActs
from oddbolt.session.session import Session
from oddbolt.ui.background.jobs import Jobs
from oddbolt.ui.log.photograph.aligning import Aligned, read_pair, registered
from oddbolt.ui.log.photograph.states import States
from oddbolt.words.translate import N_, tr

if TYPE_CHECKING:
    from oddbolt.imaging.differing.difference import Difference

HAND = "hand"
REFUSED = {
    "not-same-side": N_("The photograph shows another layer, or the device was turned over: nothing is proposed"),
    HAND: N_("Something reaches over a good part of it (a hand, a cover that hangs open): nothing is proposed"),
}


class Pictures(Struct, frozen=True, eq=False):
    """Both as they were looked at, for small pictures of what is proposed."""

    before: QImage
    after: QImage
    scales: tuple[float, float]


class Compared(Struct, frozen=True, eq=False):
    aligned: Aligned
    found: Difference
    pictures: Pictures


class Seeing(QObject):
    """One pair at a time, the latest one."""

    said = Signal(str, bool)
    noted = Signal(str)  # what came of it, for the page; empty while it is looked

    def __init__(self, session: Session, states: States, acts: SeenActs) -> None:
        super().__init__()
        self._session, self._states, self.acts = session, states, acts
        self._jobs = Jobs(self)
        self.pictures: Pictures | None = None
        self._left = 0  # how many were ticked and not taken when another photograph came in their place
        states.arrived.connect(self._arrived)

    @property
    def is_looking(self) -> bool:
        return self._jobs.is_running("see")

    def _arrived(self, view_id: str) -> None:
        """A photograph of the present state came in."""
        left, self._left = self._left, 0
        self.give_up()
        if left:
            self.said.emit(tr("{0} seen on the photograph before were not taken: P and F11 bring them "
                              "back").format(left), False)
        before = self._states.before()
        if before is not None and self._states.shown == view_id:
            self._look(before, self._session.teardown.view[view_id], asked=False)

    def ask(self) -> None:
        """What came off between the photograph before and the one that is shown?"""
        view, before = self._states.view, self._states.before()
        if view is None or before is None:
            self.said.emit(tr("There is no earlier state from this side"), True)
            return
        self.give_up()
        self.said.emit(tr("Looking what came off between the two photographs …"), False)
        self._look(before, view, asked=True)

    def take_on(self) -> None:
        """What is ticked is recorded, and what was done since is photographed."""
        if self.acts.ticked and self.acts.take():
            self._states.take_picture()

    def _look(self, before: View, after: View, *, asked: bool) -> None:
        bodies = [self._session.photo(view.photo) or b"" for view in (before, after)]
        sizes = [image_size(body) for body in bodies]
        size = sizes[1]
        if sizes[0] is None or size is None:
            if asked:
                self.said.emit(tr("One of the two photographs cannot be read"), True)
            return
        teardown = self._session.teardown
        self.noted.emit("")
        self._jobs.start("see", lambda: _compare(teardown, before, bodies),
                         lambda found: self._compared(before.id, after.id, size, found, asked=asked),
                         lambda words: self.said.emit(words, True))

    def _compared(self, before_id: str, after_id: str, size: tuple[int, int], compared: Compared | None, *,
                  asked: bool) -> None:
        """In the window's thread: the record may have gone on, or the photographs be gone."""
        views = self._session.teardown.view
        if before_id not in views or after_id not in views or self._states.shown != after_id:
            return
        if compared is None:
            self._note(tr("Next to nothing can be seen on the photograph before: nothing is proposed"), asked=asked)
            return
        self._states.aligning.keep(views[before_id], views[after_id], compared.aligned)
        if compared.found.refused:
            self._note(tr(REFUSED[compared.found.refused]), asked=asked or compared.found.refused == HAND)
            return
        self.pictures = compared.pictures
        looking = Looking(before=views[before_id], after=views[after_id], found=compared.found,
                          scale=compared.aligned.scales[0], carry=compared.aligned.carry)
        if self.acts.show(looking, size):
            return
        self.pictures = None
        self._note(tr("Nothing that could be told came off between the two photographs"), asked=asked)

    def _note(self, text: str, *, asked: bool) -> None:
        """On the page; in the one line only where somebody asked, or has to do something."""
        self.noted.emit(text)
        if asked:
            self.said.emit(text, False)

    def follow(self) -> None:
        """The record, or the photograph that is shown, is another."""
        if self.acts.shown and self._states.shown != self.acts.views[1]:
            self._left = len(self.acts.ticked)
            self.acts.clear()
        else:
            self.acts.refresh()
        if not self.acts.shown:
            self.pictures = None

    def give_up(self) -> None:
        self._jobs.cancel("see")
        self.acts.clear()
        self.pictures = None

    def stop(self) -> None:
        self._jobs.stop_all()


def _compare(teardown: Teardown, before: View, bodies: Sequence[bytes]) -> Iterator[Compared | None]:
    """The job: read both, register, compare."""
    from oddbolt.imaging.differing.difference import differ

    pair = yield from read_pair(bodies, before)
    aligned = yield from registered(pair)
    if aligned is None:
        return
    looked = looked_for(teardown, before, pair.scales[0])
    found = None
    for step in differ(pair.before, pair.after, aligned.found, pair.mask, looked.screws, looked.outlines,
                       looked.places):
        found = step
        yield None
    if found is not None:
        yield Compared(aligned, found, Pictures(*pair.images, pair.scales))
