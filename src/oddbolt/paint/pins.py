"""Marks as they look on a photograph, and where their tags find room."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

from msgspec import Struct
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPen

from oddbolt.paint.bolts import TAG_HEIGHT, draw_tag, tag_width

RING = 11.0
CORNERS = {"upper right": (1, -1), "upper left": (-1, -1), "lower right": (1, 1), "lower left": (-1, 1)}


class Pin(Struct, frozen=True):
    """A mark as it is shown."""

    x: float
    y: float
    text: str  # fastener letter, or a name
    drive: str  # empty for anything that is no screw
    kind: str  # screw, plug, part, other
    spent: bool  # released or lifted since: shown faintly
    chosen: bool
    outline: tuple[tuple[float, float], ...] = ()
    asked: bool = False  # an open question is about it
    angle_deg: float | None = None  # the direction in which a plug opens


def free_corners(pins: Sequence[Pin], scale: float, width_of: Callable[[Pin], float],
                 room: QRectF | None = None) -> list[str]:
    """For each mark the corner where its tag covers no tag or ring yet; names give way, letters never do. `scale` is
    units of the tags for a pixel of the photograph; a tag does not go beyond the `room`, where that is told."""
    taken = _Taken()
    return [_free_corner(pin, QPointF(pin.x * scale, pin.y * scale), taken, width_of(pin), room) for pin in pins]


def _free_corner(pin: Pin, spot: QPointF, taken: _Taken, width: float, room: QRectF | None) -> str:
    ring = QRectF(spot.x() - RING, spot.y() - RING, 2 * RING, 2 * RING)
    chosen = ""
    for corner in CORNERS:
        box = tag_box(spot, corner, width)
        if taken.is_free(box) and (room is None or room.contains(box)):
            taken.take(box)
            chosen = corner
            break
    taken.take(ring)
    if chosen or (pin.kind != "screw" and not pin.chosen):
        return chosen
    return next(iter(CORNERS))


def width_of_tag(pin: Pin, font: QFont) -> float:
    if pin.kind == "screw":
        return tag_width(pin.text)
    return QFontMetricsF(tag_font(font, pin.chosen)).horizontalAdvance(pin.text) + 14


def draw_pin(painter: QPainter, pin: Pin, corner: str, font: QFont, spot: QPointF, width: float) -> None:
    """A mark at a place, with its tag in a corner; without one where there is no corner."""
    _draw_point(painter, pin, spot)
    if corner:
        box = tag_box(spot, corner, width)
        painter.setFont(tag_font(font, pin.chosen))
        if pin.kind == "screw":
            draw_tag(painter, box.left(), box.top(), pin.text, pin.drive)
        else:
            _draw_name(painter, pin, box)


CELL = 64.0


class _Taken:
    """Boxes that are taken, in squares of a grid, so that a new one is held against its neighbours only."""

    def __init__(self) -> None:
        self._boxes: dict[tuple[int, int], list[QRectF]] = {}

    def is_free(self, box: QRectF) -> bool:
        return not any(box.intersects(other) for cell in _cells(box) for other in self._boxes.get(cell, ()))

    def take(self, box: QRectF) -> None:
        for cell in _cells(box):
            self._boxes.setdefault(cell, []).append(box)


def _cells(box: QRectF) -> Iterator[tuple[int, int]]:
    for column in range(int(box.left() // CELL), int(box.right() // CELL) + 1):
        for row in range(int(box.top() // CELL), int(box.bottom() // CELL) + 1):
            yield column, row


def tag_font(font: QFont, strong: bool) -> QFont:
    made = QFont(font)
    made.setPixelSize(12)
    made.setWeight(QFont.Weight.DemiBold if strong else QFont.Weight.Normal)
    return made


def tag_box(spot: QPointF, corner: str, width: float) -> QRectF:
    dx, dy = CORNERS[corner]
    left = spot.x() + (RING - 5 if dx > 0 else -(RING - 5) - width)
    top = spot.y() + (RING - 6 if dy > 0 else -(RING - 6) - TAG_HEIGHT)
    return QRectF(left, top, width, TAG_HEIGHT)


def _draw_point(painter: QPainter, pin: Pin, anchor: QPointF) -> None:
    """Ring for a screw, diamond for a plug, square for anything else; a dotted halo where a question is open."""
    light = QColor("#FFD9A8" if pin.chosen else "#FFFFFF")
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if pin.asked:
        painter.setPen(QPen(QColor("#FFD9A8"), 2.0, Qt.PenStyle.DotLine))
        painter.drawEllipse(anchor, RING + 0.5, RING + 0.5)
    for colour, line in ((QColor(0, 0, 0, 150), 4.0), (light, 3.0 if pin.chosen else 2.0)):
        painter.setPen(QPen(colour, line))
        if pin.kind == "screw":
            painter.drawEllipse(anchor, RING - 2, RING - 2)
        elif pin.kind == "plug":
            painter.drawPolygon([anchor + QPointF(0, -7), anchor + QPointF(7, 0), anchor + QPointF(0, 7),
                                 anchor + QPointF(-7, 0)])
            if pin.angle_deg is not None:
                _draw_arrow(painter, anchor, pin.angle_deg)
        else:
            painter.drawRect(QRectF(anchor.x() - 4, anchor.y() - 4, 8, 8))


def _draw_arrow(painter: QPainter, anchor: QPointF, angle_deg: float) -> None:
    """From the plug outwards, in the direction in which it opens."""
    painter.save()
    painter.translate(anchor)
    painter.rotate(angle_deg)
    painter.drawLine(QPointF(7, 0), QPointF(RING + 6, 0))
    painter.drawPolyline([QPointF(RING + 1, -4), QPointF(RING + 6, 0), QPointF(RING + 1, 4)])
    painter.restore()


def _draw_name(painter: QPainter, pin: Pin, box: QRectF) -> None:
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor("#B5541C") if pin.chosen else QColor(24, 30, 34, 225))
    painter.drawRoundedRect(box, 4, 4)
    painter.setPen(QColor("#FFFFFF"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, pin.text)
