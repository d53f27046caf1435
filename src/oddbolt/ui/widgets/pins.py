"""Marks as they look on a photograph: small pictures drawn once, and where their tags find room."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from msgspec import Struct
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPen, QPixmap

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


class PinSprites:
    """Pictures of pins by what they look like, kept; and free corners for their tags."""

    def __init__(self) -> None:
        self._kept: dict[tuple[object, ...], tuple[QPixmap, QPointF]] = {}
        self._widths: dict[tuple[str, bool, str], float] = {}

    def clear(self) -> None:
        self._kept.clear()

    def picture(self, pin: Pin, corner: str, font: QFont, ratio: float) -> tuple[QPixmap, QPointF]:
        """The picture and the place of the pin's point in it."""
        key = (pin.text, pin.drive, pin.kind, pin.chosen, pin.asked, pin.angle_deg, corner)
        if key not in self._kept:
            self._kept[key] = self._draw(pin, corner, font, ratio)
        return self._kept[key]

    def free_corners(self, pins: Sequence[Pin], scale: float, font: QFont) -> list[str]:
        """For each mark the corner where its tag covers no tag or ring yet; names give way, letters never do."""
        taken = _Taken()
        return [self._free_corner(pin, QPointF(pin.x * scale, pin.y * scale), taken, font) for pin in pins]

    def _free_corner(self, pin: Pin, spot: QPointF, taken: _Taken, font: QFont) -> str:
        width = self.tag_width(pin, font)
        ring = QRectF(spot.x() - RING, spot.y() - RING, 2 * RING, 2 * RING)
        chosen = ""
        for corner in CORNERS:
            box = _tag_box(spot, corner, width)
            if taken.is_free(box):
                taken.take(box)
                chosen = corner
                break
        taken.take(ring)
        if chosen or (pin.kind != "screw" and not pin.chosen):
            return chosen
        return next(iter(CORNERS))

    def tag_width(self, pin: Pin, font: QFont) -> float:
        if pin.kind == "screw":
            return tag_width(pin.text)
        key = (pin.text, pin.chosen, font.key())
        if key not in self._widths:
            self._widths[key] = QFontMetricsF(_tag_font(font, pin.chosen)).horizontalAdvance(pin.text) + 14
        return self._widths[key]

    def _draw(self, pin: Pin, corner: str, font: QFont, ratio: float) -> tuple[QPixmap, QPointF]:
        tag = self.tag_width(pin, font) if corner else 0.0
        reach_x, reach_y = RING + 8 + tag, RING + 8 + TAG_HEIGHT
        pixmap = QPixmap(round(2 * reach_x * ratio), round(2 * reach_y * ratio))
        pixmap.setDevicePixelRatio(ratio)
        pixmap.fill(Qt.GlobalColor.transparent)
        painter = QPainter(pixmap)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        anchor = QPointF(reach_x, reach_y)
        _draw_point(painter, pin, anchor)
        if corner:
            box = _tag_box(anchor, corner, tag)
            painter.setFont(_tag_font(font, pin.chosen))
            if pin.kind == "screw":
                draw_tag(painter, box.left(), box.top(), pin.text, pin.drive)
            else:
                _draw_name(painter, pin, box)
        painter.end()
        return pixmap, anchor


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


def _tag_font(font: QFont, strong: bool) -> QFont:
    made = QFont(font)
    made.setPixelSize(12)
    made.setWeight(QFont.Weight.DemiBold if strong else QFont.Weight.Normal)
    return made


def _tag_box(spot: QPointF, corner: str, width: float) -> QRectF:
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
