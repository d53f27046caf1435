"""Depth against time: each priority part of each device a point, on one scale, with the span of its time."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QLineF, QPointF, QRectF, QSizeF, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPen, QPolygonF

from oddbolt.paint.palette import Palette
from oddbolt.reports.content.report.ground import Chart, ChartPoint
from oddbolt.words.figures import duration_text
from oddbolt.words.names import role_name
from oddbolt.words.translate import tr

LEFT, TOP, RIGHT, BOTTOM = 46.0, 34.0, 24.0, 42.0
# Told apart by shape as well as by colour (colours that the colour-blind tell apart: Okabe and Ito, 2008).
DEVICES = (("#0072B2", "disc"), ("#D55E00", "square"), ("#009E73", "diamond"), ("#CC79A7", "triangle"),
           ("#56B4E9", "cross"), ("#B8860B", "ring"))
TICKS_S = (10, 20, 30, 60, 120, 180, 300, 600, 900, 1200, 1800, 3600, 7200, 14400)
SIGN = 5.0
CORNERS = {"diamond": ((0, -1.2), (1.2, 0), (0, 1.2), (-1.2, 0)), "triangle": ((0, -1.2), (1.1, 0.9), (-1.1, 0.9))}


class ChartPicture:
    """A chart laid out for a size; time runs to the right, depth downwards, as one digs."""

    def __init__(self, chart: Chart, palette: Palette, width: float = 760.0, height: float = 420.0) -> None:
        self.chart = chart
        self._palette = palette
        self.size = QSizeF(width, height)
        points = chart.points
        self._most_s = 1.06 * max((point.high_s for point in points), default=60.0)
        self._most_steps = 1 + max((point.steps for point in points), default=1)

    def place(self, point: ChartPoint) -> QPointF:
        return QPointF(self.x(point.seconds), self.y(point.steps))

    def x(self, seconds: float) -> float:
        return LEFT + (self.size.width() - LEFT - RIGHT) * seconds / self._most_s

    def y(self, steps: float) -> float:
        return TOP + (self.size.height() - TOP - BOTTOM) * steps / self._most_steps

    def point_at(self, spot: QPointF) -> int | None:
        """The point nearest to a place, where it is near."""
        near = sorted(((self.place(point) - spot).manhattanLength(), n) for n, point in enumerate(self.chart.points))
        return near[0][1] if near and near[0][0] < 14 else None

    def draw(self, painter: QPainter, chosen: int | None = None, role: str = "") -> None:
        """`role`: its points stand out, and are joined from device to device."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(QRectF(QPointF(0, 0), self.size), QColor(self._palette.sheet))
        font = QFont(painter.font())
        font.setPixelSize(12)
        painter.setFont(font)
        self._axes(painter)
        self._legend(painter)
        points = self.chart.points
        if role:
            same = [self.place(point) for point in points if point.role == role]
            painter.setPen(QPen(QColor(self._palette.faint), 1.4, Qt.PenStyle.DotLine))
            painter.drawPolyline(QPolygonF(same))
        for n, point in enumerate(points):
            strong = n == chosen or point.role == role
            painter.setOpacity(1.0 if strong or not role else 0.4)
            self._point(painter, point, strong=strong)
        painter.setOpacity(1.0)
        self._names(painter, points, role)

    def _axes(self, painter: QPainter) -> None:
        p = self._palette
        right, bottom = self.size.width() - RIGHT, self.size.height() - BOTTOM
        step = max(1, round(self._most_steps / 8))
        for steps in range(0, self._most_steps + 1, step):
            painter.setPen(QPen(QColor(p.line), 1))
            painter.drawLine(QLineF(LEFT, self.y(steps), right, self.y(steps)))
            painter.setPen(QColor(p.faint))
            painter.drawText(QRectF(0, self.y(steps) - 8, LEFT - 8, 16), Qt.AlignmentFlag.AlignRight, str(steps))
        ticks = [tick for tick in TICKS_S if self._most_s / 24 <= tick < self._most_s]
        last = -100.0
        for tick in ticks:
            x = self.x(tick)
            if x - last < 56:
                continue
            last = x
            painter.setPen(QPen(QColor(p.line), 1))
            painter.drawLine(QLineF(x, TOP, x, bottom))
            painter.setPen(QColor(p.faint))
            painter.drawText(QRectF(x - 40, bottom + 4, 80, 16), Qt.AlignmentFlag.AlignHCenter, duration_text(tick))
        painter.setPen(QColor(p.ink))
        painter.drawText(QRectF(LEFT, bottom + 21, right - LEFT, 16), Qt.AlignmentFlag.AlignRight, tr("time"))
        painter.save()
        painter.translate(13, bottom)
        painter.rotate(-90)
        painter.drawText(QRectF(0, -10, bottom - TOP, 16), Qt.AlignmentFlag.AlignLeft, tr("steps"))
        painter.restore()

    def _legend(self, painter: QPainter) -> None:
        x = LEFT
        for n, name in enumerate(self.chart.devices):
            draw_device(painter, n, QPointF(x + 6, 15))
            painter.setPen(QColor(self._palette.ink))
            wide = min(QFontMetricsF(painter.font()).horizontalAdvance(name) + 4, 170.0)
            shown = QFontMetricsF(painter.font()).elidedText(name, Qt.TextElideMode.ElideRight, wide)
            painter.drawText(QRectF(x + 16, 6, wide, 18), Qt.AlignmentFlag.AlignVCenter, shown)
            x += wide + 34

    def _point(self, painter: QPainter, point: ChartPoint, *, strong: bool) -> None:
        colour = QColor(DEVICES[point.device % len(DEVICES)][0])
        painter.setPen(QPen(colour, 2.4 if strong else 1.1))
        y = self.y(point.steps)
        painter.drawLine(QLineF(self.x(point.low_s), y, self.x(point.high_s), y))
        draw_device(painter, point.device, self.place(point), SIGN * (1.5 if strong else 1.0))

    def _names(self, painter: QPainter, points: Sequence[ChartPoint], role: str) -> None:
        """Names beside their points where there is room; what would lie on another is left to the pointer."""
        metrics = QFontMetricsF(painter.font())
        taken = [QRectF(self.place(point) - QPointF(7, 7), QSizeF(14, 14)) for point in points]
        painter.setPen(QColor(self._palette.ink))
        order = sorted(points, key=lambda point: point.role != role)
        for point in order:
            spot, text = self.place(point), role_name(point.role)
            wide = metrics.horizontalAdvance(text)
            for dx, dy in ((9, -16), (-9 - wide, -16), (9, 3), (-9 - wide, 3)):
                box = QRectF(spot.x() + dx, spot.y() + dy, wide, 14)
                inside = box.left() > LEFT and box.right() < self.size.width() - 4
                if inside and not any(box.intersects(other) for other in taken):
                    taken.append(box)
                    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
                    break


def draw_device(painter: QPainter, number: int, spot: QPointF, size: float = SIGN) -> None:
    """The sign of a device: a shape and a colour of its own."""
    code, shape = DEVICES[number % len(DEVICES)]
    colour = QColor(code)
    painter.setPen(QPen(colour, 2))
    painter.setBrush(Qt.BrushStyle.NoBrush if shape in ("ring", "cross") else colour)
    if shape in ("disc", "ring"):
        painter.drawEllipse(spot, size, size)
    elif shape == "square":
        painter.drawRect(QRectF(spot.x() - size * 0.9, spot.y() - size * 0.9, size * 1.8, size * 1.8))
    elif shape == "cross":
        painter.drawLine(spot + QPointF(-size, -size), spot + QPointF(size, size))
        painter.drawLine(spot + QPointF(-size, size), spot + QPointF(size, -size))
    else:
        painter.drawPolygon(QPolygonF([spot + QPointF(x * size, y * size) for x, y in CORNERS[shape]]))
    painter.setBrush(Qt.BrushStyle.NoBrush)
