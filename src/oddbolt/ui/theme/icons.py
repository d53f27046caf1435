"""Icons of the program, drawn."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QIcon, QPainter, QPainterPath, QPen, QPixmap

from oddbolt.model.things import Fastener
from oddbolt.paint.bolts import TAG_HEIGHT, draw_tag, recess_path, tag_width

SIZE = 28


def rail_icon(name: str, plain: str, chosen: str, shut: str) -> QIcon:
    """An icon of the rail: `plain`, `chosen` and `shut` are colours for its states."""
    icon = QIcon()
    icon.addPixmap(_pixmap(name, plain), QIcon.Mode.Normal, QIcon.State.Off)
    icon.addPixmap(_pixmap(name, chosen), QIcon.Mode.Normal, QIcon.State.On)
    icon.addPixmap(_pixmap(name, shut), QIcon.Mode.Disabled, QIcon.State.Off)
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
    elif name == "bolts":  # a screw from the side, with its thread
        painter.drawRoundedRect(QRectF(7, 4, 14, 6), 2, 2)
        painter.drawLine(QPointF(11, 10), QPointF(11, 22))
        painter.drawLine(QPointF(17, 10), QPointF(17, 22))
        for y in (13, 16.5, 20):
            painter.drawLine(QPointF(10, y + 1.5), QPointF(18, y - 1.5))
        painter.drawLine(QPointF(11, 22), QPointF(17, 22))
    elif name == "sequence":  # bars on lanes, a jump between them
        for x, y, wide in ((4, 6, 8), (12, 13, 6), (16, 20, 8)):
            painter.drawRect(QRectF(x, y - 2, wide, 4))
        painter.drawPolyline([QPointF(12, 6), QPointF(12, 11)])
        painter.drawPolyline([QPointF(18, 13), QPointF(18, 18)])
    elif name == "parts":  # a tree of boxes
        painter.drawRect(QRectF(4, 4, 8, 6))
        painter.drawRect(QRectF(16, 12, 8, 5))
        painter.drawRect(QRectF(16, 20, 8, 5))
        painter.drawPolyline([QPointF(8, 10), QPointF(8, 22.5), QPointF(16, 22.5)])
        painter.drawLine(QPointF(8, 14.5), QPointF(16, 14.5))
    elif name == "rebuild":  # something goes in from above, into its place
        painter.drawPolyline([QPointF(5, 15), QPointF(5, 24), QPointF(23, 24), QPointF(23, 15)])
        painter.drawLine(QPointF(14, 4), QPointF(14, 18))
        painter.drawPolyline([QPointF(9.5, 13.5), QPointF(14, 18), QPointF(18.5, 13.5)])
    elif name in ("shelf", "compare", "report", "rehearse"):
        _draw_telling(painter, name)
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


def _draw_telling(painter: QPainter, name: str) -> None:
    """Rooms for telling others."""
    if name == "shelf":  # pictures on two boards
        for y in (12, 24):
            painter.drawLine(QPointF(3, y), QPointF(25, y))
        for x, y in ((5, 5), (15, 5), (5, 17), (15, 17)):
            painter.drawRect(QRectF(x, y, 7, 6))
    elif name == "compare":  # two bores of different depth from one surface
        painter.drawLine(QPointF(3, 6), QPointF(25, 6))
        painter.drawRect(QRectF(6, 6, 5, 18))
        painter.drawRect(QRectF(17, 6, 5, 10))
        painter.drawLine(QPointF(13, 16), QPointF(15, 16))
    elif name == "rehearse":  # two hands' turns at one thing: out and in again
        painter.drawEllipse(QPointF(14, 14), 3, 3)
        painter.drawArc(QRectF(5, 5, 18, 18), 30 * 16, 120 * 16)
        painter.drawArc(QRectF(5, 5, 18, 18), 210 * 16, 120 * 16)
        painter.drawPolyline([QPointF(3, 5), QPointF(6, 9.5), QPointF(11, 8.5)])
        painter.drawPolyline([QPointF(25, 23), QPointF(22, 18.5), QPointF(17, 19.5)])
    else:  # sheets, one behind the other
        painter.drawPolyline([QPointF(9, 7), QPointF(9, 4), QPointF(23, 4), QPointF(23, 20), QPointF(19, 20)])
        painter.drawRect(QRectF(5, 8, 14, 16))
        for y in (13, 16, 19):
            painter.drawLine(QPointF(8, y), QPointF(16, y))


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


def tag_icon(fastener: Fastener, font: QFont) -> QIcon:
    """The tag of a letter."""
    pixmap = QPixmap(round(tag_width(fastener.id)) * 2 + 4, round(TAG_HEIGHT) * 2 + 4)
    pixmap.setDevicePixelRatio(2)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setFont(font)
    draw_tag(painter, 1, 1, fastener.id, fastener.drive)
    painter.end()
    icon = QIcon()
    icon.addPixmap(pixmap, QIcon.Mode.Normal, QIcon.State.Off)
    icon.addPixmap(pixmap, QIcon.Mode.Normal, QIcon.State.On)
    return icon
