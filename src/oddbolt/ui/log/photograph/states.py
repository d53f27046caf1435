"""The states of the device: which photograph is shown, and where new ones come from."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from msgspec.structs import replace
from PySide6.QtCore import QBuffer, QIODevice, QObject, QTimer, Signal
from PySide6.QtGui import QGuiApplication, QImage

from oddbolt.imaging.sides import taken_over
from oddbolt.instruments.protocols import Bench, Camera, InstrumentFault
from oddbolt.instruments.watched import WatchedFolder
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Mark, View
from oddbolt.paint.images import image_size, is_quick, make_thumb, read_image
from oddbolt.session.session import Session
from oddbolt.session.verbs.marking import carry_marks
from oddbolt.session.verbs.photos import add_view
from oddbolt.session.verbs.plain import free_id
from oddbolt.ui.background.photos import Photos
from oddbolt.ui.log.photograph.aligning import Aligned, Aligning
from oddbolt.ui.workspace import carry_out
from oddbolt.words.refusals import fault_text, refusal_text
from oddbolt.words.translate import tr

ChoosePhoto = Callable[[], Path | None]
COMPARED_PX = 2000


# Large because each of its properties answers one question about the photograph that is shown.
class States(QObject):
    """Knows the view that is shown; adds views from a file, the clipboard, a folder or the camera."""

    changed = Signal()  # another view is shown, or none
    arrived = Signal(str)  # the view of a new photograph of a state
    said = Signal(str, bool)
    photographed = Signal()  # by hand: what is watched for begins anew

    def __init__(self, session: Session, choose_photo: ChoosePhoto, bench: Bench) -> None:
        super().__init__()
        self._session = session
        self._choose_photo = choose_photo
        self._bench = bench
        self.shown = ""
        self.side = ""  # of the next photograph; empty: as the one shown
        self.photos = Photos(session.photo, self)
        self.aligning = Aligning(session)
        self.aligning.said.connect(self.said)
        self._asked_twice: tuple[str, str] | None = None  # photographs that do not show the same, as was said once
        self._folder: WatchedFolder | None = None
        self.held = b""  # one that arrived there and is only taken in when somebody says so
        self.sift: Callable[[Path, bytes], bool] = lambda path, body: False  # who takes care of what arrives in it
        self._look = QTimer(self)
        self._look.setInterval(700)
        self._look.timeout.connect(self.look_into_folder)

    @property
    def camera(self) -> Camera | None:
        return self._bench().camera

    def _called(self, stem: str) -> str:
        """The name of a photograph; a drawn one says so wherever the record goes."""
        return f"{stem}-simulated.jpg" if self._bench().simulated else f"{stem}.jpg"

    @property
    def views(self) -> tuple[View, ...]:
        """The states, in the order in which they were taken; portraits of parts are none."""
        return tuple(view for view in self._session.teardown.views if view.portrait is None)

    @property
    def view(self) -> View | None:
        return next((view for view in self.views if view.id == self.shown), None)

    @property
    def next_side(self) -> str:
        """The side that the next photograph shows."""
        return self.side or (self.view.side if self.view else "back")

    @property
    def is_latest(self) -> bool:
        return bool(self.views) and self.view is self.views[-1]

    def show(self, view_id: str) -> None:
        self.shown = view_id
        self.changed.emit()

    def follow(self) -> None:
        """After a change: stay where one is, or go to the last state when that is gone."""
        if self.views and self.view is None:
            self.shown = self.views[-1].id

    def place(self) -> int:
        return next((n for n, view in enumerate(self.views) if view.id == self.shown), len(self.views))

    def next_photo(self) -> None:
        """Show the next state; at the end of the strip, add a photograph of the present one."""
        if self.place() + 1 < len(self.views):
            self.show(self.views[self.place() + 1].id)
            return
        path = self._choose_photo()
        if path is not None:
            self.add_file(path)

    def previous_photo(self) -> None:
        if 0 < self.place() <= len(self.views) and self.views:
            self.show(self.views[self.place() - 1].id)

    def before(self) -> View | None:
        """The state before the one shown, seen from the same side."""
        view = self.view
        same = [v for v in self.views[:self.place()] if view is not None and v.side == view.side]
        return same[-1] if same else None

    def picture_before(self) -> QImage | None:
        view = self.before()
        body = self._session.photo(view.photo) if view else None
        image = read_image(body, COMPARED_PX) if body else QImage()
        return None if image.isNull() else image

    # -- new photographs

    def add_file(self, path: Path) -> bool:
        body = self._read(path)
        return body is not None and self.add(path.name, body, str(path))

    def _read(self, path: Path) -> bytes | None:
        """The file's bytes; None, and said why, where it cannot be read."""
        try:
            return path.read_bytes()
        except OSError as error:
            self.said.emit(tr("{0} cannot be read: {1}").format(path, error.strerror), True)
            return None

    def add(self, name: str, body: bytes, where: str = "") -> bool:
        """Take a photograph of the present state into the document. Its scale is taken from the view before, if any
        was taken by the same camera; a file's is not known until it is measured."""
        side = self.next_side
        return self._keep(name, body, where, side=side, mm_per_px=self._scale_of(name, side),
                          marks=self._standing(side) if name.startswith("camera") else ())

    def _keep(self, name: str, body: bytes, where: str, *, quietly: bool = False, **keys: Any) -> bool:
        """Keep a photograph and its view; said why where that cannot be. A state is shown at once, a portrait not.
        `quietly`: whoever waits for photographs knows already what it shows."""
        quick = is_quick(body) or "portrait" in keys
        thumb = make_thumb(body) if quick else b""  # the strip makes what takes longer
        if not thumb and (quick or image_size(body) is None):
            self.said.emit(tr("{0} is not a photograph this program can read (JPEG, PNG, WebP, TIFF)").format(
                where or name), True)
            return False
        teardown, before = self._session.teardown, self.shown
        try:
            # The photograph first: a view without one would be worse than a photograph that no view shows.
            made = View(id=free_id(teardown, "v"), photo=self._session.take_photo(name, body, thumb),
                        at_entry=teardown.log[-1].id if teardown.log else None, **keys)
            self.shown = before if made.portrait else made.id
            self._session.do(add_view, made)
        except Refusal as refusal:
            self.shown = before
            self.said.emit(refusal_text(refusal), True)
            return False
        if not made.portrait and not quietly:
            self.arrived.emit(made.id)
        return True

    def keep_seen(self, body: bytes, side: str) -> str:
        """Keep a photograph that the camera took by itself; the id of its view, or nothing where it cannot be kept.
        Whoever looks at an earlier state goes on looking at it."""
        was, known = self.shown if not self.is_latest else "", set(self._session.teardown.view)
        name = self._called("camera")
        made = self._keep(name, body, "", quietly=True, side=side, mm_per_px=self._scale_of(name, side),
                          marks=self._standing(side))
        if made and was:
            self.show(was)
        return next((view for view in self._session.teardown.view if view not in known), "") if made else ""

    def latest_of(self, side: str) -> View | None:
        """The last state that shows a side."""
        return next((view for view in reversed(self.views) if view.side == side), None)

    def _scale_of(self, name: str, side: str) -> float | None:
        """The overhead camera stands still: its photographs of one side share their scale, measured or calibrated."""
        if not name.startswith("camera"):
            return None
        same = [v for v in self.views if v.side == side and v.photo.startswith("camera")]
        known = same[-1].mm_per_px if same else None
        return known or (self.camera.mm_per_px if self.camera is not None else None)

    def _standing(self, side: str) -> tuple[Mark, ...]:
        """Marks of the last state from this side, of what is still in place: the overhead camera stands still."""
        state = self._session.derived.state
        last = self.latest_of(side)
        return tuple(m for m in last.marks if state.is_in_place(m.thing)) if last is not None else ()

    def carry_marks(self) -> None:
        """Take over the marks of the state before, from the same side, of what is still in place: to where the things
        lie on this photograph. Where the two do not show the same that is said; asked for again they are taken over as
        they lie."""
        view, before = self.view, self.before()
        if view is None or before is None:
            self.said.emit(tr("There is no earlier state from this side"), True)
            return
        if self._asked_twice == (before.photo, view.photo):
            self._carry(before.id, view.id, lambda mark: mark)
            return
        self.said.emit(tr("Looking how the two photographs lie to each other …"), False)
        self.aligning.ask(before, view, lambda found: self._carry_aligned(before, view, found))

    def _carry_aligned(self, before: View, view: View, found: Aligned | None) -> None:
        if found is not None and not found.is_same_side:
            self._asked_twice = before.photo, view.photo
            self.said.emit(tr("These two do not show the same: turned over, or another layer. Nothing was taken over; "
                              "once more takes the marks over as they lie"), True)
            return
        self._carry(before.id, view.id, found.carry_mark if found is not None else lambda mark: mark)

    def _carry(self, before_id: str, view_id: str, placed: Callable[[Mark], Mark]) -> None:
        """As the record is by now: it may have changed while the photographs were looked at."""
        self._asked_twice = None
        views, state = self._session.teardown.view, self._session.derived.state
        if before_id not in views or view_id not in views:
            return
        own = {mark.thing for mark in views[view_id].marks}
        marks = [placed(m) for m in views[before_id].marks if state.is_in_place(m.thing) and m.thing not in own]
        size = image_size(self._session.photo(views[view_id].photo) or b"") or (float("inf"), float("inf"))
        seen = [m for m in marks if 0 <= m.x <= size[0] and 0 <= m.y <= size[1]
                and all(x >= 0 and y >= 0 for x, y in m.outline)]
        if seen:
            carry_out(self._session, self.said.emit, carry_marks, view_id, seen)
        else:
            self.said.emit(tr("Nothing marked on the state before is still in place and not marked here"), True)

    def copy_to_other_side(self, chosen: Sequence[int]) -> None:
        """Marks of this view onto the other one of the same state, the other way round where it is the other side:
        those drawn round, else all that the other does not have."""
        view = self.view
        same = [v for v in self.views if view is not None and v.at_entry == view.at_entry and v.id != view.id]
        if view is None or not same:
            self.said.emit(tr("There is no other photograph of this state: turn the device and take one"), True)
            return
        other = same[-1]
        theirs = {(m.thing, m.n) for m in other.marks}
        marks = [m for n, m in enumerate(view.marks) if (m.thing, m.n) not in theirs and (not chosen or n in chosen)]
        sizes = tuple(image_size(self._session.photo(v.photo) or b"") or (1.0, 1.0) for v in (view, other))
        places = {(m.thing, m.n): (m.x, m.y) for m in other.marks}
        shared = [((m.x, m.y), places[m.thing, m.n]) for m in view.marks if (m.thing, m.n) in places]
        if not marks:
            self.said.emit(tr("The other photograph has all these marks already"), True)
            return

        def over(spots: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
            return taken_over(spots, sizes, (view.mm_per_px, other.mm_per_px), turned=view.side != other.side,
                              shared=shared)

        copied = [replace(m, x=x, y=y, outline=tuple(over(m.outline)), angle_deg=None)
                  for m, (x, y) in zip(marks, over([(m.x, m.y) for m in marks]))]
        inside = [m for m in copied if 0 <= m.x <= sizes[1][0] and 0 <= m.y <= sizes[1][1]
                  and all(x >= 0 and y >= 0 for x, y in m.outline)]
        if not inside:
            self.said.emit(tr("By the scales of both these marks would lie beside the other photograph"), True)
        elif carry_out(self._session, self.said.emit, carry_marks, other.id, inside):
            self.show(other.id)

    def take_picture(self) -> None:
        """Photograph the present state by the overhead camera."""
        if self.camera is None and self.held:
            body, self.held = self.held, b""
            self.add(self._called("camera"), body)
            return
        if self.camera is None:
            self.said.emit(tr("No camera is connected: N takes a file, or watch a folder (File menu)"), True)
            return
        try:
            body = self.camera.photograph(self.next_side)
        except InstrumentFault as fault:
            self.said.emit(fault_text(fault), True)
            return
        if self.add(self._called("camera"), body):
            self.photographed.emit()

    def turn_over(self) -> None:
        """Front and back change places, and the camera takes a picture."""
        self.side = "back" if self.next_side == "front" else "front"
        self.take_picture()

    def portrait(self, part: str) -> None:
        """Photograph a part that is held up to the lens: by the camera, else from a file."""
        if part not in self._session.teardown.part:
            self.said.emit(tr("Choose the part that the portrait is of"), True)
            return
        try:
            body = self.camera.photograph("any") if self.camera is not None else None
        except InstrumentFault as fault:
            self.said.emit(fault_text(fault), True)
            return
        name = self._called(f"portrait-{part}") if body is not None else f"portrait-{part}.jpg"
        path = self._choose_photo() if body is None else None
        if path is not None:
            body = self._read(path)
        if body:
            self._keep(name, body, str(path or ""), side="any", portrait=part)

    def paste(self) -> None:
        """Take a picture from the clipboard."""
        image = QGuiApplication.clipboard().image()
        if image.isNull():
            self.said.emit(tr("There is no picture on the clipboard"), True)
            return
        buffer = QBuffer()
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        image.save(buffer, "PNG")
        self.add("pasted.png", bytes(buffer.data()))

    def watch(self, folder: Path | None) -> None:
        """Take in what arrives in a folder from now on; None stops that."""
        self._folder = WatchedFolder(folder) if folder is not None else None
        if folder is None:
            self._look.stop()
        else:
            self._look.start()
            self.said.emit(tr("New photographs in {0} come in by themselves").format(folder), False)

    @property
    def watches_folder(self) -> bool:
        return self._folder is not None

    def look_into_folder(self) -> None:
        for path in self._folder.arrived() if self._folder else []:
            body = self._read(path)
            if body is not None and not self.sift(path, body):
                self.add(path.name, body, str(path))

    def stop(self) -> None:
        self._look.stop()
        self.aligning.stop()
        self.photos.clear()
