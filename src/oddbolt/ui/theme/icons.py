"""Icons of the program, drawn."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QIcon, QPainter, QPainterPath, QPen, QPixmap

from oddbolt.paint.bolts import recess_path

SIZE = 28


def rail_icon(name: str, plain: str, chosen: str) -> QIcon:
    """An icon of the rail: `plain` and `chosen` are colours for the two states."""
    icon = QIcon()
    icon.addPixmap(_pixmap(name, plain), QIcon.Mode.Normal, QIcon.State.Off)
    icon.addPixmap(_pixmap(name, chosen), QIcon.Mode.Normal, QIcon.State.On)
    return icon


def _pixmap(name: str, colour: str) -> QPixmap:
    pixmap = QPixmap(SIZE * 2, SIZE * 2)
    pixmap.setDevicePixelRatio(2)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(QColor(colour), 2, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin))
    _draw(painter, name, QColor(colour))
    painter.end()
    return pixmap


def _draw(painter: QPainter, name: str, colour: QColor) -> None:
    if name == "prepare":  # a list being ticked
        for y in (7, 14, 21):
            painter.drawLine(QPointF(13, y), QPointF(24, y))
        for y in (7, 14):
            painter.drawPolyline([QPointF(4, y), QPointF(6.5, y + 2.5), QPointF(10, y - 3)])
        painter.drawRect(QRectF(4, 19, 5, 5))
    elif name == "log":  # a photograph with two marks on it
        painter.drawRoundedRect(QRectF(4, 6, 20, 16), 2, 2)
        painter.drawEllipse(QPointF(10, 12), 2, 2)
        painter.drawEllipse(QPointF(18, 17), 2, 2)
    elif name == "access":  # strata with a bore
        for y in (7, 13, 19):
            painter.drawLine(QPointF(4, y), QPointF(11, y))
            painter.drawLine(QPointF(18, y), QPointF(24, y))
        painter.drawRect(QRectF(12, 4, 5, 20))
    else:  # a balance
        painter.drawLine(QPointF(14, 5), QPointF(14, 23))
        painter.drawLine(QPointF(5, 9), QPointF(23, 9))
        path = QPainterPath()
        for x in (6, 22):
            path.moveTo(x - 4, 15)
            path.arcTo(QRectF(x - 4, 11, 8, 8), 180, 180)
            path.closeSubpath()
        painter.drawPath(path)
        painter.drawLine(QPointF(9, 23), QPointF(19, 23))


def window_icon() -> QIcon:
    pixmap = QPixmap(128, 128)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor("#24424D"))
    painter.drawRoundedRect(QRectF(4, 4, 120, 120), 26, 26)
    painter.setBrush(QColor("#E9B48D"))
    painter.drawEllipse(QPointF(64, 64), 40, 40)
    painter.translate(64, 64)
    painter.rotate(18)
    painter.fillPath(recess_path("PH", 24), QColor("#24424D"))
    painter.end()
    return QIcon(pixmap)
