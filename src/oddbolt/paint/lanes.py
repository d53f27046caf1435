"""The lanes: a sequence in time, one lane for each tool; changes jump, waits are hatched, turns are marks, steps end.

The picture knows widths and places only; names and words come from whoever asks.
"""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QBuffer, QIODevice, QLineF, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QBrush, QColor, QFont, QFontInfo, QPainter, QPainterPath, QPen, QPolygonF
from PySide6.QtSvg import QSvgGenerator

from oddbolt.paint.palette import Palette
from oddbolt.paint.section import dots
from oddbolt.paint.time_axis import TimeAxis
from oddbolt.reports.content.lanes import LaneItem, Lanes
from oddbolt.reports.plain_text import writable_svg

LANE, BAR, HEAD, GUTTER, TITLE = 30.0, 18.0, 26.0, 128.0, 24.0
SHUT = 7.0  # a lane that has nothing in sight
LEAST_PX = 3.0  # of an act that takes no time to speak of


class LanesPicture:
    """Draws lanes along an axis of time; `name_of` words an item, `tool_name` a lane, `length_text` a time."""

    def __init__(self, lanes: Lanes, palette: Palette, axis: TimeAxis, name_of: Callable[[int], str],
                 tool_name: Callable[[str], str], length_text: Callable[[float], str]) -> None:
        self.lanes = lanes
        self.palette = palette
        self.axis = axis
        self.name_of = name_of
        self.tool_name = tool_name
        self.length_text = length_text
        self.shut: frozenset[str] = frozenset()  # lanes that take next to no room

    def x(self, t_s: float) -> float:
        return GUTTER + self.axis.x(t_s)

    @property
    def width(self) -> float:
        return self.x(self.lanes.total_s) + 40

    @property
    def height(self) -> float:
        return HEAD + sum(self._lane(tool) for tool in self.lanes.tools) + 6

    def _lane(self, tool: str) -> float:
        return SHUT if tool in self.shut else LANE

    def top(self, tool: str) -> float:
        """Where a lane begins."""
        before = self.lanes.tools[:self.lanes.tools.index(tool)]
        return HEAD + sum(self._lane(one) for one in before)

    def box(self, item: LaneItem) -> QRectF:
        lane = self._lane(item.tool)
        high = min(BAR, lane - 2)
        left = self.x(item.start_s)
        return QRectF(left, self.top(item.tool) + (lane - high) / 2,
                      max(LEAST_PX, self.x(item.start_s + item.active_s) - left), high)

    def without_a_bar(self, left: float, right: float) -> frozenset[str]:
        """Lanes that have nothing between two places of the picture."""
        seen = {item.tool for item in self.lanes.items
                if self.x(item.start_s) <= right and self.x(item.start_s + item.active_s + item.wait_s) >= left}
        return frozenset(self.lanes.tools) - seen

    def item_at(self, spot: QPointF) -> LaneItem | None:
        """The item under a point, short ones with some room about them."""
        near = [(abs(self.box(item).center().x() - spot.x()), item.place, item) for item in self.lanes.items
                if self.box(item).adjusted(-3, -5, 3, 5).contains(spot)]
        return min(near, key=lambda pair: pair[:2])[2] if near else None

    def place_at(self, x: float) -> int:
        """Where in the sequence something dropped at x comes: before the first item with its middle right of it."""
        return next((item.place for item in self.lanes.items if self.box(item).center().x() > x),
                    len(self.lanes.items))

    def draw(self, painter: QPainter, chosen: int | None = None, *, stale: bool = False) -> None:
        painter.setOpacity(0.45 if stale else 1.0)
        self._grid(painter)
        self._names(painter, 0.0)
        previous: LaneItem | None = None
        for item in self.lanes.items:
            self._wait(painter, item)
        for item in self.lanes.items:
            if previous is not None:
                self._between(painter, previous, item)
            previous = item
        self._breaks(painter)
        unnamed = [item for item in self.lanes.items if not self._bar(painter, item, item.place == chosen)]
        self._numbers(painter, unnamed)
        painter.setOpacity(1.0)

    def _numbers(self, painter: QPainter, unnamed: list[LaneItem]) -> None:
        """What is too narrow for its name gets its place in the sequence: in the bar, else beside it, where there is
        room before the next one on its lane."""
        font = QFont(painter.font())
        small = QFont(font)
        small.setPixelSize(round(QFontInfo(font).pixelSize() * 0.8))
        painter.setFont(small)
        painter.setPen(QColor(self.palette.ink))
        lefts: dict[str, list[float]] = {}
        for item in self.lanes.items:
            lefts.setdefault(item.tool, []).append(self.box(item).left())
        free: dict[str, float] = {}
        for item in unnamed:
            text, box = str(item.place + 1), self.box(item)
            wide = painter.fontMetrics().horizontalAdvance(text)
            if wide <= box.width() - 2:
                painter.setPen(QColor(self.palette.on_dark if item.kind == "lift" else self.palette.on_light))
                painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
                continue
            left = box.right() + 2
            following = next((x for x in lefts[item.tool] if x > box.left()), None)
            if left >= free.get(item.tool, 0.0) and (following is None or left + wide <= following):
                painter.setPen(QColor(self.palette.ink))
                painter.drawText(QRectF(left, box.y(), wide + 1, box.height()), Qt.AlignmentFlag.AlignVCenter, text)
                free[item.tool] = left + wide + 2
        painter.setFont(font)

    def _grid(self, painter: QPainter) -> None:
        p = self.palette
        right = self.width
        for tool in self.lanes.tools:
            y = self.top(tool) + self._lane(tool) / 2
            painter.setPen(QPen(QColor(p.line), 1))
            painter.drawLine(QLineF(GUTTER, y, right, y))
        painter.setPen(QColor(p.faint))
        step = next((s for s in (10, 30, 60, 120, 300, 600, 1800) if s * self.axis.px_per_s >= 56), 3600)
        for t in range(0, int(self.lanes.total_s + step / 2) + 1, step):
            if self.axis.is_folded(t):
                continue
            x = self.x(t)
            painter.drawText(QRectF(x - 30, 0, 60, HEAD - 10), Qt.AlignmentFlag.AlignCenter,
                             f"{t // 60}:{t % 60:02d}")
            painter.drawLine(QLineF(x, HEAD - 8, x, HEAD - 3))

    def _breaks(self, painter: QPainter) -> None:
        """Where a wait is folded: two strokes through all lanes, and how long it was."""
        for start, to in self.axis.folds:
            left, right = self.x(start), self.x(to)
            middle = (left + right) / 2
            painter.fillRect(QRectF(middle - 4, HEAD - 2, 8, self.height - HEAD - 2), QColor(self.palette.sheet))
            painter.setPen(QPen(QColor(self.palette.line), 1.4))
            for x in (middle - 4, middle + 4):
                painter.drawLine(QLineF(x - 2, self.height - 4, x + 2, HEAD - 2))
            painter.setPen(QColor(self.palette.faint))
            painter.drawText(QRectF(middle - 45, HEAD - 14, 90, 12), Qt.AlignmentFlag.AlignCenter,
                             self.length_text(to - start))

    def draw_names_at(self, painter: QPainter, left: float) -> None:
        """The tools' names again, on a ground of their own, for a picture scrolled by `left` pixels."""
        painter.fillRect(QRectF(left, 0, GUTTER - 2, self.height), QColor(self.palette.sheet))
        self._names(painter, left)

    def _names(self, painter: QPainter, left: float) -> None:
        painter.setPen(QColor(self.palette.ink))
        for tool in self.lanes.tools:
            if tool in self.shut:
                continue
            text = painter.fontMetrics().elidedText(self.tool_name(tool), Qt.TextElideMode.ElideRight, int(GUTTER) - 10)
            painter.drawText(QRectF(left, self.top(tool), GUTTER - 8, LANE), Qt.AlignmentFlag.AlignVCenter
                             | Qt.AlignmentFlag.AlignRight, text)

    def _wait(self, painter: QPainter, item: LaneItem) -> None:
        """A dotted bar behind the act, with whatever is done meanwhile on the other lanes."""
        if item.wait_s <= 0:
            return
        box = self.box(item)
        wait = QRectF(box.right(), box.y() + box.height() / 6,
                      self.x(item.start_s + item.active_s + item.wait_s) - box.right(), box.height() * 2 / 3)
        painter.setPen(QPen(QColor(self.palette.wait_dot), 1))
        painter.setBrush(dots(self.palette.wait, self.palette.wait_dot))
        painter.drawRect(wait)

    def _between(self, painter: QPainter, before: LaneItem, item: LaneItem) -> None:
        """A jump to another lane, a turn of the device, and the end of a step."""
        p = self.palette
        a, b = self.box(before), self.box(item)
        if before.tool != item.tool:
            path = QPainterPath(QPointF(a.right(), a.center().y()))
            middle = max(a.right() + 2, b.left() - 3)
            path.lineTo(middle, a.center().y())
            path.lineTo(middle, b.center().y())
            path.lineTo(b.left(), b.center().y())
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(p.faint), 1.3))
            painter.drawPath(path)
        if "any" not in (before.side, item.side) and before.side != item.side:
            x = b.left() - 5
            painter.setBrush(QBrush(QColor(p.ink)))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.drawPolygon(QPolygonF([QPointF(x - 5, HEAD - 4), QPointF(x + 5, HEAD - 4), QPointF(x, HEAD + 4)]))
        if before.step != item.step:
            x = b.left() - 2  # a wait before it belongs to the step before
            painter.setPen(QPen(QColor(p.faint), 0.6, Qt.PenStyle.DashLine))
            painter.drawLine(QLineF(x, HEAD, x, self.height - 4))

    def _bar(self, painter: QPainter, item: LaneItem, chosen: bool) -> bool:
        """Whether there was room for its name."""
        p = self.palette
        fills = {"screws": p.screws, "lift": p.lift, "plug": p.plug, "glue": p.glue, "film": p.film}
        fill = fills.get(item.kind, p.act)
        box = self.box(item)
        painter.setPen(QPen(QColor(p.warn if item.is_live else p.accent if chosen else p.line),
                            2.4 if chosen or item.is_live else 1))
        painter.setBrush(QColor(fill))
        painter.drawRoundedRect(box, 3, 3)
        if item.is_renewed:
            painter.setPen(QPen(QColor(p.glue_line), 2))
            painter.drawLine(QLineF(box.left() + 1, box.bottom() - 1, box.right() - 1, box.bottom() - 1))
        text = self.name_of(item.place)
        font = QFont(painter.font())
        painter.setFont(font)
        named = painter.fontMetrics().horizontalAdvance(text[:4]) + 8 < box.width()
        if named:
            painter.setPen(QColor(p.on_dark if item.kind == "lift" else p.on_light))
            shown = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(box.width()) - 6)
            painter.drawText(box.adjusted(3, 0, -3, 0), Qt.AlignmentFlag.AlignVCenter, shown)
        return named


def lanes_svg(pictures: list[tuple[str, LanesPicture]]) -> bytes:
    """Lanes below each other, each under its title, as SVG."""
    width = max(picture.width for _, picture in pictures)
    height = sum(picture.height + TITLE + 10 for _, picture in pictures)
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    made = QSvgGenerator()
    made.setOutputDevice(buffer)
    made.setSize(QSize(round(width), round(height)))
    made.setViewBox(QRectF(0, 0, width, height))
    painter = QPainter(made)
    for title, picture in pictures:
        painter.setPen(QColor(picture.palette.ink))
        painter.drawText(QPointF(4, 16), title)
        painter.translate(0, TITLE)
        picture.draw(painter)
        painter.translate(0, picture.height + 10)
    painter.end()
    return writable_svg(bytes(buffer.data()))
