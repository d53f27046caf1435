"""Two photographs of a side are compared in a job as soon as the second is there; what they differ in is offered."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING

from msgspec import Struct
from PySide6.QtCore import QObject, Qt, Signal
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

CUT_FROM_PX = 1000  # across: of the smallest place that is shown some seventy
HAND, NOT_SAME_SIDE, NOTHING, KEPT = "hand", "not-same-side", "nothing", "kept"
REFUSED = {
    NOT_SAME_SIDE: N_("The photograph shows another layer, or the device was turned over: nothing is proposed"),
    HAND: N_("Something reaches over a good part of it (a hand, a cover that hangs open): nothing is proposed"),
}


class Pictures(Struct, frozen=True, eq=False):
    """Both, for small pictures of what is proposed; some two dozen pairs may wait."""

    before: QImage
    after: QImage
    scales: tuple[float, float]  # their pixels for one of the photographs

    @classmethod
    def of(cls, images: Sequence[QImage], scales: Sequence[float]) -> Pictures:
        """Of both as they were looked at: larger than what is cut out of them is shown they need not be."""
        small = [image.scaledToWidth(min(image.width(), CUT_FROM_PX), Qt.TransformationMode.SmoothTransformation)
                 for image in images]
        before, after = (scale * one.width() / image.width() for one, image, scale in zip(small, images, scales))
        return cls(*small, (before, after))


class Compared(Struct, frozen=True, eq=False):
    aligned: Aligned
    found: Difference
    pictures: Pictures


class _Wanted(Struct, frozen=True, kw_only=True):
    """A pair to be compared: the photograph before, and one after that is kept, or is only kept if it shows something
    new (`body`)."""

    before: str
    after: str = ""
    body: bytes = b""
    asked: bool = False


class Seeing(QObject):
    """One pair at a time, in the order in which the photographs came in. What was seen stays until it is taken over or
    left."""

    said = Signal(str, bool)
    noted = Signal(str)  # what came of it, for the page; empty while it is looked
    judged = Signal(str)  # what came of a photograph that is only kept if it shows something new: KEPT, NOTHING, ...

    def __init__(self, session: Session, states: States, acts: SeenActs) -> None:
        super().__init__()
        self._session, self._states, self.acts = session, states, acts
        self._jobs = Jobs(self)
        self._waiting: list[_Wanted] = []
        self._pictures: dict[tuple[str, str], Pictures] = {}
        self.is_watched = False  # keys are not taken by what comes in, not even by a photograph that was asked for
        self._left = 0  # how many were ticked and not taken when somebody walked to another photograph
        states.arrived.connect(self._arrived)

    @property
    def is_looking(self) -> bool:
        return self._jobs.is_running("see") or bool(self._waiting)

    def pictures_of(self, place: int) -> Pictures | None:
        """Of one that is shown: the two photographs."""
        return self._pictures.get(self.acts.views_of(place))

    def _arrived(self, view_id: str) -> None:
        """A photograph of the present state came in."""
        left, self._left = self._left, 0
        if left:
            self.said.emit(tr("{0} seen on the photograph before were not taken: P and F11 bring them "
                              "back").format(left), False)
        before = self._states.before()
        if before is not None and self._states.shown == view_id:
            self._want(_Wanted(before=before.id, after=view_id))

    def consider(self, before: View, body: bytes) -> None:
        """A photograph that the camera took by itself: kept where it shows something new. Then `judged` tells."""
        self._want(_Wanted(before=before.id, body=body))

    def ask(self) -> None:
        """Look at what waits; else: what came off between the photograph before and the one that is shown?"""
        if self.acts.look_at():
            return
        view, before = self._states.view, self._states.before()
        if view is None or before is None:
            self.said.emit(tr("There is no earlier state from this side"), True)
            return
        self.give_up()
        self.said.emit(tr("Looking what came off between the two photographs …"), False)
        self._want(_Wanted(before=before.id, after=view.id, asked=True))

    def take_on(self) -> None:
        """What is ticked is recorded, and what was done since is photographed."""
        if self.acts.ticked and self.acts.take():
            self._states.take_picture()

    def _want(self, wanted: _Wanted) -> None:
        self._waiting.append(wanted)
        if len(self._waiting) == 1:  # else the first is looked at; asking its thread would be wrong as it ends
            self._next()

    def _next(self) -> None:
        """The next pair whose photographs are still there."""
        while self._waiting:
            wanted, views = self._waiting[0], self._session.teardown.view
            if wanted.before in views and (wanted.body or wanted.after in views) and self._look(wanted):
                return
            self._waiting.pop(0)
            self._judge(wanted, NOTHING)

    def _look(self, wanted: _Wanted) -> bool:
        views = self._session.teardown.view
        before = views[wanted.before]
        bodies = [self._session.photo(before.photo) or b"",
                  wanted.body or self._session.photo(views[wanted.after].photo) or b""]
        sizes = [image_size(body) for body in bodies]
        size = sizes[1]
        if sizes[0] is None or size is None:
            if wanted.asked:
                self.said.emit(tr("One of the two photographs cannot be read"), True)
            return False
        teardown = self._session.teardown
        self.noted.emit("")
        self._jobs.start("see", lambda: _compare(teardown, before, bodies),
                         lambda found: self._compared(wanted, before, size, found), self._failed)
        return True

    def _failed(self, words: str) -> None:
        self.said.emit(words, True)
        self._done(self._waiting[0] if self._waiting else None, NOTHING)

    def _done(self, wanted: _Wanted | None, came_of_it: str) -> None:
        """With the first that waited; on to the next."""
        if wanted is not None and self._waiting and self._waiting[0] is wanted:
            self._waiting.pop(0)
        if wanted is not None:
            self._judge(wanted, came_of_it)
        self._next()

    def _judge(self, wanted: _Wanted, came_of_it: str) -> None:
        if wanted.body:
            self.judged.emit(came_of_it)

    def _compared(self, wanted: _Wanted, looked: View, size: tuple[int, int], compared: Compared | None) -> None:
        """In the window's thread: the record may have gone on, or the photographs be gone."""
        views = self._session.teardown.view
        gone = wanted.before not in views or (not wanted.body and wanted.after not in views)
        walked = not wanted.body and not self._is_present(wanted)
        if gone or walked:
            self._done(wanted, NOTHING)
        else:
            self._done(wanted, self._came_of(wanted, looked, size, compared))

    def _is_present(self, wanted: _Wanted) -> bool:
        """Whether nobody has walked to an older photograph meanwhile."""
        return self._states.shown == wanted.after or self._states.is_latest and not wanted.asked

    def _came_of(self, wanted: _Wanted, looked: View, size: tuple[int, int], compared: Compared | None) -> str:
        asked = wanted.asked
        if compared is None and wanted.body:
            return NOT_SAME_SIDE
        if compared is None:
            self._note(tr("Next to nothing can be seen on the photograph before: nothing is proposed"), asked=asked)
            return NOTHING
        refused = compared.found.refused
        if refused:
            if not wanted.body:
                self._note(tr(REFUSED[refused]), asked=asked or refused == HAND)
            return refused
        after = wanted.after
        if wanted.body:
            if not compared.found.tells_something:
                return NOTHING
            after = self._states.keep_seen(wanted.body, looked.side)
            if not after:
                return NOTHING
        views = self._session.teardown.view
        self._states.aligning.keep(views[wanted.before], views[after], compared.aligned)
        looking = Looking(before=views[wanted.before], after=views[after], found=compared.found,
                          scale=compared.aligned.scales[0], carry=compared.aligned.carry, looked=looked.marks)
        self._pictures[wanted.before, after] = self._shared(wanted.before, compared.pictures)
        is_shown = self.acts.show(looking, size, asks=wanted.asked or not (wanted.body or self.is_watched))
        waits = {pair.views for pair in self.acts.pairs}
        self._pictures = {views: known for views, known in self._pictures.items() if views in waits}
        if is_shown:
            return KEPT
        if not wanted.body:
            self._note(tr("Nothing that could be told came off between the two photographs"), asked=asked)
        return KEPT

    def _shared(self, before: str, pictures: Pictures) -> Pictures:
        """The picture before is the one after of the pair before it: held once."""
        same = next((known for (_, after), known in self._pictures.items() if after == before), None)
        if same is None or same.after.size() != pictures.before.size():
            return pictures
        return Pictures(same.after, pictures.after, pictures.scales)

    def _note(self, text: str, *, asked: bool) -> None:
        """On the page; in the one line only where somebody asked, or has to do something."""
        self.noted.emit(text)
        if asked:
            self.said.emit(text, False)

    def follow(self) -> None:
        """The record, or the photograph that is shown, is another."""
        if self.acts.shown and self._states.shown not in self.acts.afters and not self._states.is_latest:
            self._left = len(self.acts.ticked)
            self.acts.clear()
        else:
            self.acts.refresh()
        if not self.acts.shown:
            self._pictures.clear()

    def give_up(self) -> None:
        self._jobs.cancel("see")
        for wanted in self._waiting:
            self._judge(wanted, NOTHING)
        self._waiting.clear()
        self.acts.clear()
        self._pictures.clear()

    def stop(self) -> None:
        self._waiting.clear()
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
        yield Compared(aligned, found, Pictures.of(pair.images, pair.scales))
