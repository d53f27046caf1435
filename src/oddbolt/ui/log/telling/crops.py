"""Small pictures of the things of a way, cut from the photographs on which they are still in place."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from msgspec import Struct
from PySide6.QtCore import QObject, QPointF, QRect, QSize, Qt, Signal
from PySide6.QtGui import QColor, QImage, QPainter, QPen

from oddbolt.model.things import Mark, Teardown, View
from oddbolt.paint.images import image_size, read_image
from oddbolt.ui.background.jobs import Jobs

SIZE = QSize(104, 68)
READ_PX = 1600  # longest side that photographs are read at
LEAST_OF_WIDTH = 0.16  # of the photograph is seen around a thing, at least
ROOM = 1.5  # of what its marks span
RING_PX = 7


class Where(Struct, frozen=True, kw_only=True):
    """The photograph that shows a thing, and its marks there."""

    view: View
    marks: tuple[Mark, ...]


def where_seen(teardown: Teardown, thing: str) -> Where | None:
    """The last photograph that has a mark of the thing, the nearest to the moment at which it was undone; without any,
    of what holds the part, or of the part that swings."""
    joint = teardown.joint.get(thing)
    beside = joint.of[:1] if joint is not None else tuple(
        one.id for one in teardown.joints if thing in one.of[:1] and one.kind != "connector")
    for things in ((thing,), beside):
        for view in reversed(teardown.views):
            if view.portrait is None and (marks := tuple(m for m in view.marks if m.thing in things)):
                return Where(view=view, marks=marks)
    return None


class Crops(QObject):
    """Cuts pictures one photograph after the other, in jobs, and keeps them while their marks stay."""

    made = Signal()

    def __init__(self, body_of: Callable[[str], bytes | None], parent: QObject) -> None:
        super().__init__(parent)
        self._body_of = body_of
        self._jobs = Jobs(parent)
        self._kept: dict[str, tuple[Where, QImage]] = {}
        self._wanted: dict[str, Where] = {}
        self._ratio = 1.0

    def want(self, teardown: Teardown, things: Sequence[str], ratio: float) -> None:
        """From now on pictures of these; what is there already is not made again."""
        self._ratio = ratio
        self._wanted = {thing: found for thing in things if (found := where_seen(teardown, thing)) is not None
                        and (thing not in self._kept or self._kept[thing][0] != found)}
        self._next()

    def of(self, thing: str) -> QImage | None:
        return self._kept[thing][1] if thing in self._kept else None

    def forget(self) -> None:
        """Another document."""
        self._jobs.give_up_all()
        self._kept, self._wanted = {}, {}

    def stop(self) -> None:
        self._wanted = {}
        self._jobs.stop_all()

    def _next(self) -> None:
        if not self._wanted:
            return
        photo = next(iter(self._wanted.values())).view.photo
        some = {thing: found for thing, found in self._wanted.items() if found.view.photo == photo}
        body = self._body_of(photo) if photo else None  # the document is read in the window's thread
        if body is None:
            self._take(some, {})
        else:
            self._jobs.start("crop", lambda: iter((_cut_out(body, some, self._ratio),)),
                             lambda made: self._take(some, made), lambda _: self._take(some, {}))

    def _take(self, some: Mapping[str, Where], made: Mapping[str, QImage]) -> None:
        for thing, found in some.items():
            if self._wanted.get(thing) is found:
                del self._wanted[thing]
            if thing in made:
                self._kept[thing] = found, made[thing]
        self.made.emit()
        self._next()


def _cut_out(body: bytes, some: Mapping[str, Where], ratio: float) -> dict[str, QImage]:
    """Pictures by thing, all from one photograph, which is read once and reduced."""
    size = image_size(body)
    whole = read_image(body, READ_PX) if size is not None else QImage()
    if whole.isNull():
        return {}
    return {thing: _cut(whole, whole.width() / size[0], found.marks, ratio) for thing, found in some.items()}


def _cut(whole: QImage, scale: float, marks: Sequence[Mark], ratio: float) -> QImage:
    """What lies around the marks, with a ring at each."""
    spots = [(mark.x * scale, mark.y * scale) for mark in marks]
    around = spots + [(x * scale, y * scale) for mark in marks for x, y in mark.outline]
    left, right = min(x for x, _ in around), max(x for x, _ in around)
    top, bottom = min(y for _, y in around), max(y for _, y in around)
    shape = SIZE.width() / SIZE.height()
    width = max(LEAST_OF_WIDTH * whole.width(), ROOM * (right - left), ROOM * (bottom - top) * shape)
    width = min(width, whole.width(), whole.height() * shape)
    height = width / shape
    x = min(max(0.0, (left + right - width) / 2), whole.width() - width)
    y = min(max(0.0, (top + bottom - height) / 2), whole.height() - height)
    pixels = QSize(round(SIZE.width() * ratio), round(SIZE.height() * ratio))
    made = whole.copy(QRect(round(x), round(y), round(width), round(height))).scaled(
        pixels, Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation)
    painter = QPainter(made)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for colour, thick in (("#10181B", 4.0), ("#FFFFFF", 2.0)):
        painter.setPen(QPen(QColor(colour), thick * ratio))
        for sx, sy in spots:
            middle = QPointF((sx - x) / width * pixels.width(), (sy - y) / height * pixels.height())
            painter.drawEllipse(middle, RING_PX * ratio, RING_PX * ratio)
    painter.end()
    return made
