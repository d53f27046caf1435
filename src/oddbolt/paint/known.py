"""The sign of how known a depth is: a dashed ring, a half disc, a disc."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QIcon, QPainter, QPen, QPixmap

from oddbolt.studies.retelling import CONFIRMED, GUESSED

ICON_PX = 16


def draw_known(painter: QPainter, known: str, middle: QPointF, radius: float, colour: str) -> None:
    """Hollow and dashed where it is guessed, half filled where the way is confirmed, else solid."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    box = QRectF(middle.x() - radius, middle.y() - radius, 2 * radius, 2 * radius)
    pen = QPen(QColor(colour), max(1.2, radius / 4))
    if known == GUESSED:
        pen.setStyle(Qt.PenStyle.CustomDashLine)
        pen.setDashPattern([1.6, 1.4])
    painter.setPen(pen)
    painter.setBrush(QColor(colour) if known == CONFIRMED else Qt.BrushStyle.NoBrush)
    painter.drawEllipse(box)
    if known not in (GUESSED, CONFIRMED):
        painter.setBrush(QColor(colour))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawPie(box, 90 * 16, 180 * 16)
    painter.restore()


def known_icon(known: str, colour: str, ratio: float = 2.0) -> QIcon:
    """The sign as an icon of a list."""
    made = QPixmap(round(ICON_PX * ratio), round(ICON_PX * ratio))
    made.setDevicePixelRatio(ratio)
    made.fill(Qt.GlobalColor.transparent)
    painter = QPainter(made)
    draw_known(painter, known, QPointF(ICON_PX / 2, ICON_PX / 2), ICON_PX / 2 - 3, colour)
    painter.end()
    return QIcon(made)
