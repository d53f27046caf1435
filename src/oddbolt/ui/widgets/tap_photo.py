"""A photograph of a state whose marks are tapped one after the other."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFont, QImage, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from oddbolt.model.things import Mark, View
from oddbolt.paint.images import image_size, read_image
from oddbolt.words.translate import tr

READ_PX = 1400
NEAR_PX = 22.0  # a tap counts for a mark that is not further away
LIGHT, DARK = QColor("#FFFFFF"), QColor(0, 0, 0, 160)


class TapPhoto(QWidget):
    """Marks that stand in the told way bear their place in it. With `through`, further taps on a spot go through all
    that is marked there."""

    tapped = Signal(str)

    def __init__(self, *, through: bool = False) -> None:
        super().__init__()
        self._through, self._tapped = through, ""
        self._view: View | None = None
        self._image, self._ratio = QImage(), 1.0
        self._places: dict[str, int] = {}
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(tr("Photograph to tap things on"))
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def minimumSizeHint(self) -> QSize:  # noqa: N802 (Qt's name)
        return QSize(180, 120)

    def show_view(self, view: View | None, body: bytes | None) -> None:
        whole = image_size(body) if body else None
        self._view = view
        self._image = read_image(body, READ_PX) if body and whole else QImage()
        self._ratio = self._image.width() / whole[0] if whole and not self._image.isNull() else 1.0
        self.update()

    def show_places(self, things: tuple[str, ...]) -> None:
        self._places = {thing: n for n, thing in enumerate(things, start=1)}
        self.update()

    def _room(self) -> tuple[QRectF, float]:
        """Where the picture is drawn, and pixels of the room for one of the photograph."""
        scale = min(self.width() / max(1, self._image.width()), self.height() / max(1, self._image.height()))
        size = self._image.size() * scale
        left, top = (self.width() - size.width()) / 2, (self.height() - size.height()) / 2
        box = QRectF(left, top, size.width(), size.height())
        return box, scale * self._ratio

    def spot(self, mark: Mark) -> QPointF:
        box, scale = self._room()
        return box.topLeft() + QPointF(mark.x, mark.y) * scale

    def paintEvent(self, _event: QPaintEvent) -> None:  # noqa: N802 (Qt's name)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        if self._image.isNull():
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, tr("No photograph of a state"))
            painter.end()
            return
        painter.drawImage(self._room()[0], self._image)
        font = QFont(painter.font())
        font.setBold(True)
        painter.setFont(font)
        for mark in self._view.marks if self._view is not None else ():
            spot, place = self.spot(mark), self._places.get(mark.thing)
            radius = 10.0 if place else 6.0
            painter.setBrush(QColor("#B5541C") if place else Qt.BrushStyle.NoBrush)
            for colour, line in ((DARK, 4.0), (LIGHT, 1.8)):
                painter.setPen(QPen(colour, line))
                painter.drawEllipse(spot, radius, radius)
            if place:
                painter.drawText(QRectF(spot.x() - 14, spot.y() - 10, 28, 20), Qt.AlignmentFlag.AlignCenter, str(place))
        painter.end()

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802 (Qt's name)
        near = sorted(((self.spot(mark) - event.position()).manhattanLength(), mark.thing)
                      for mark in (self._view.marks if self._view is not None else ()))
        things = list(dict.fromkeys(thing for far, thing in near if far <= NEAR_PX))
        if things:
            next_ = things.index(self._tapped) + 1 if self._through and self._tapped in things else 0
            self._tapped = things[next_ % len(things)]
            self.tapped.emit(self._tapped)
