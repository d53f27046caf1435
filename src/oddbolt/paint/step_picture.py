"""The photograph of the state before something came off, near what goes in, its places numbered in order; what must
not be touched is crossed."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFont, QImage, QPainter, QPen, QPolygonF

from oddbolt.paint.palette import LIGHT, letter_colour
from oddbolt.reassembly.rebuilding.pictures import Picture

LEAST_SHARE = 0.35  # of the photograph's width that is shown at least, so that one sees where one is
ROUND = QColor("#3B4442")  # as round the photograph in the Log
OUTLINE = QColor("#FFD9A8")


def draw_step(painter: QPainter, room: QRectF, picture: Picture, image: QImage, ratio: float, letter: str,
              line: float) -> None:
    """Into `room`; `ratio` is pixels of the image for one of the photograph, `line` the height of a line of text."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.save()
    painter.setClipRect(room)
    painter.fillRect(room, ROUND)
    shown, scale = _shown(picture, image, ratio, room)
    painter.drawImage(room, image, shown)

    def at(x: float, y: float) -> QPointF:
        return (QPointF(x, y) * ratio - shown.topLeft()) * scale + room.topLeft()

    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(OUTLINE, max(1.5, line / 6)))
    for mark in picture.marks:
        if len(mark.outline) > 2:
            painter.drawPolygon(QPolygonF([at(x, y) for x, y in mark.outline]))
    font = QFont(painter.font())
    font.setBold(True)
    font.setPixelSize(max(6, round(line)))
    painter.setFont(font)
    radius = 0.85 * line
    painter.setBrush(QColor(letter_colour(letter)) if letter else QColor(LIGHT.accent))
    for number, mark in enumerate(picture.marks, start=1):
        spot = at(mark.x, mark.y)
        painter.setPen(QPen(QColor("#FFFFFF"), line / 7))
        painter.drawEllipse(spot, radius, radius)
        painter.drawText(QRectF(spot.x() - 2 * line, spot.y() - line, 4 * line, 2 * line),
                         Qt.AlignmentFlag.AlignCenter, str(number))
    painter.setPen(QPen(QColor(LIGHT.warn), line / 4))
    for mark in picture.keep_off:
        spot = at(mark.x, mark.y)
        for dx in (-1, 1):
            painter.drawLine(spot + QPointF(-radius * dx, -radius), spot + QPointF(radius * dx, radius))
    painter.restore()


def step_image(picture: Picture, image: QImage, ratio: float, letter: str, size: QSize) -> QImage:
    """The same as an image of its own."""
    made = QImage(size, QImage.Format.Format_RGB32)
    painter = QPainter(made)
    draw_step(painter, QRectF(made.rect()), picture, image, ratio, letter, size.height() / 16)
    painter.end()
    return made


def _shown(picture: Picture, image: QImage, ratio: float, room: QRectF) -> tuple[QRectF, float]:
    """The piece of the image that fills the room, and pixels of the room for one of the image."""
    spots = [QPointF(mark.x, mark.y) for mark in (*picture.marks, *picture.keep_off)]
    spots += [QPointF(x, y) for mark in picture.marks for x, y in mark.outline]
    box = QPolygonF([spot * ratio for spot in spots]).boundingRect() if spots else QRectF(image.rect())
    side = 0.2 * max(box.width(), box.height(), 60.0)
    box = box.adjusted(-side, -side, side, side)
    width = max(box.width(), LEAST_SHARE * image.width(), box.height() * room.width() / room.height())
    scale = room.width() / width
    size = QPointF(width, room.height() / scale)
    return QRectF(box.center() - size / 2, box.center() + size / 2), scale
