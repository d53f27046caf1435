"""Silhouettes of recesses, drawn from the geometry of their standards, and the tag of a fastener letter."""

from __future__ import annotations

import functools
import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QPainter, QPainterPath, QPen, QPolygonF

from oddbolt.paint.palette import letter_colour

TAG_HEIGHT = 19.0


def _polygon(points: list[tuple[float, float]]) -> QPainterPath:
    path = QPainterPath()
    path.addPolygon(QPolygonF([QPointF(x, y) for x, y in points]))
    path.closeSubpath()
    return path


def _lobes(count: int, r: float, inner: float) -> QPainterPath:
    """A lobed recess: outer radius `r`, valleys at `inner` of it."""
    middle, swing = r * (1 + inner) / 2, r * (1 - inner) / 2
    points = []
    for k in range(180):
        a = math.radians(2 * k - 90)
        radius = middle + swing * math.cos(count * (a + math.pi / 2))
        points.append((radius * math.cos(a), radius * math.sin(a)))
    return _polygon(points)


@functools.lru_cache(maxsize=256)
def recess_path(drive: str, r: float) -> QPainterPath:
    """The outline of a recess of outer radius `r`, centred on the origin. It is kept: draw it, do not change it.

    Proportions: ISO 4757 cross recesses (arm width about a fifth of the span; type Z with its four fine ticks),
    ISO 10664 hexalobular (valleys at 0.72 of the points), five lobes, three arms, ISO 2936 hexagon, slot.
    """
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.WindingFill)
    drive = drive.upper()
    if drive in ("PH", "PZ"):
        path.addRect(QRectF(-r, -r * 0.22, 2 * r, r * 0.44))
        path.addRect(QRectF(-r * 0.22, -r, r * 0.44, 2 * r))
        if drive == "PZ":
            for k in range(4):
                a = math.radians(45 + 90 * k)
                path.addEllipse(QPointF(math.cos(a) * r * 0.72, math.sin(a) * r * 0.72), r * 0.13, r * 0.13)
        return path
    if drive in ("T", "IP"):
        return _lobes(6, r, 0.72)
    if drive == "PL":
        return _lobes(5, r, 0.66)
    if drive == "Y":
        for k in range(3):
            a = math.radians(120 * k - 90)
            dx, dy = math.cos(a), math.sin(a)
            path.addPath(_polygon([(-dy * r * 0.2, dx * r * 0.2), (dy * r * 0.2, -dx * r * 0.2),
                                   (dx * r + dy * r * 0.2, dy * r - dx * r * 0.2),
                                   (dx * r - dy * r * 0.2, dy * r + dx * r * 0.2)]))
        return path
    if drive == "HX":
        return _polygon([(r * math.cos(math.radians(60 * k)), r * math.sin(math.radians(60 * k))) for k in range(6)])
    if drive == "SL":
        path.addRect(QRectF(-r, -r * 0.2, 2 * r, r * 0.4))
        return path
    path.addEllipse(QPointF(0, 0), r * 0.5, r * 0.5)
    return path


def tag_width(text: str) -> float:
    return TAG_HEIGHT + 5 + 7.5 * len(text)


def draw_tag(painter: QPainter, x: float, y: float, letter: str, drive: str, count: int | None = 1) -> float:
    """A fastener tag with its upper left corner at (x, y): recess, letter, and a count where it is not one.

    Returns the width used.
    """
    text = letter if count == 1 else f"{'?' if count is None else count} {letter}"
    width = tag_width(text)
    box = QRectF(x, y, width, TAG_HEIGHT)
    painter.setPen(QPen(QColor(255, 255, 255, 230), 1.4))
    painter.setBrush(QColor(letter_colour(letter)))
    painter.drawRoundedRect(box, 5, 5)
    painter.save()
    painter.translate(x + TAG_HEIGHT / 2 + 0.5, y + TAG_HEIGHT / 2)
    painter.fillPath(recess_path(drive, TAG_HEIGHT * 0.32), QColor("#FFFFFF"))
    painter.restore()
    font = QFont(painter.font())
    font.setPixelSize(12)
    font.setWeight(QFont.Weight.DemiBold)
    painter.setFont(font)
    painter.setPen(QColor("#FFFFFF"))
    painter.drawText(QRectF(x + TAG_HEIGHT - 1, y, width - TAG_HEIGHT - 2, TAG_HEIGHT),
                     Qt.AlignmentFlag.AlignCenter, text)
    return width
