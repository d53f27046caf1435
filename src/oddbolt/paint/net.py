"""The net of boards and cables as a picture: parts as boxes, cables as lines, what is tethered in a strong colour."""

from __future__ import annotations

from msgspec import Struct
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QPainter, QPainterPath, QPen

from oddbolt.paint.palette import Palette
from oddbolt.reassembly.net import IN_PLACE, SWUNG, Link, Net

BOX = (128.0, 30.0)
ROW = 40.0


class NetPlace(Struct, frozen=True):
    """Where a part stands: its box, and how far it is from the middle (negative: to the left)."""

    part: str
    box: QRectF
    column: int


def lay_out(net: Net, width: float) -> tuple[list[NetPlace], float]:
    """Boxes in columns about the part with the most cables; returns them with the height they take."""
    near: dict[str, list[str]] = {part: [] for part, _ in net.parts}
    for link in net.links:
        near[link.one].append(link.other)
        near[link.other].append(link.one)
    columns: dict[int, list[str]] = {}
    left = {part for part, _ in net.parts}
    middle = 0.0
    while left:
        hub = max(sorted(left), key=lambda part: len(set(near[part])))
        left.discard(hub)
        columns.setdefault(0, []).append(hub)
        sides: dict[int, list[str]] = {-1: [], 1: []}
        for part in dict.fromkeys(near[hub]):
            if part in left:
                side = -1 if len(sides[-1]) < len(sides[1]) else 1
                sides[side].append(part)
                left.discard(part)
        for side in (-1, 1):
            wave, step = sides[side], 1
            while wave:
                columns.setdefault(side * step, []).extend(wave)
                beyond = [n for part in wave for n in dict.fromkeys(near[part]) if n in left]
                wave = list(dict.fromkeys(beyond))
                left -= set(wave)
                step += 1
    lowest, highest = min(columns, default=0), max(columns, default=0)
    number = highest - lowest + 1
    wide = min(BOX[0], width / (number * 1.4)) if number > 1 else BOX[0]  # lines need a third of the room
    room = (width - wide) / max(1, number - 1)
    tallest = max((len(parts) for parts in columns.values()), default=1)
    height, places = tallest * ROW + 24, []
    for column, parts in sorted(columns.items()):
        x = (column - lowest) * room
        middle = (height - len(parts) * ROW) / 2
        places += [NetPlace(part, QRectF(x, middle + n * ROW, wide, BOX[1]), column) for n, part in enumerate(parts)]
    return places, height


class NetPicture:
    """Draws one net; names come from whoever asks."""

    def __init__(self, net: Net, names: dict[str, str], palette: Palette, width: float) -> None:
        self.net = net
        self.names = names
        self.palette = palette
        self.places, self.height = lay_out(net, width)
        self.at = {place.part: place for place in self.places}

    def link_at(self, spot: QPointF) -> int | None:
        """The cable under a point."""
        best, nearest = None, 7.0
        for n, link in enumerate(self.net.links):
            path = self._path(link, n)
            steps = (path.pointAtPercent(k / 40) for k in range(41))
            distance = min((p - spot).manhattanLength() for p in steps)
            if distance < nearest:
                best, nearest = n, distance
        return best

    def part_at(self, spot: QPointF) -> str:
        return next((place.part for place in self.places if place.box.contains(spot)), "")

    def _path(self, link: Link, number: int) -> QPainterPath:
        a, b = self.at[link.one], self.at[link.other]
        if a.box.center().x() > b.box.center().x():
            a, b = b, a
        twins = [n for n, other in enumerate(self.net.links) if {other.one, other.other} == {link.one, link.other}]
        shift = (twins.index(number) - (len(twins) - 1) / 2) * 7
        start = QPointF(a.box.right(), a.box.center().y() + shift)
        end = QPointF(b.box.left(), b.box.center().y() + shift)
        if a.column == b.column:
            start, end = QPointF(a.box.right(), a.box.center().y()), QPointF(b.box.right(), b.box.center().y())
        path = QPainterPath(start)
        bend = 30.0 if a.column == b.column else max(8.0, abs(end.x() - start.x()) / 2)
        into = end + QPointF(bend, 0) if a.column == b.column else end - QPointF(bend, 0)
        path.cubicTo(start + QPointF(bend, 0), into, end)
        return path

    def draw(self, painter: QPainter, chosen: int | None = None) -> None:
        p = self.palette
        tethers = {id(tether.link) for tether in self.net.tethers}
        for n, link in enumerate(self.net.links):
            strong = id(link) in tethers
            pen = QPen(QColor(p.warn if strong else p.faint if link.is_open else p.lift), 3.2 if strong else 1.8)
            if link.is_open:
                pen.setStyle(Qt.PenStyle.DotLine)
            if link.via and not link.is_open:
                pen.setWidthF(pen.widthF() + 1.2)
            if n == chosen:
                painter.setPen(QPen(QColor(p.accent), pen.widthF() + 5, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
                painter.setOpacity(0.35)
                painter.drawPath(self._path(link, n))
                painter.setOpacity(1.0)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(pen)
            painter.drawPath(self._path(link, n))
        state = dict(self.net.parts)
        held = {end for tether in self.net.tethers for end in (tether.part,)}
        for place in self.places:
            self._box(painter, place, state[place.part], place.part in held)

    def _box(self, painter: QPainter, place: NetPlace, state: str, tethered: bool) -> None:
        p = self.palette
        pen = QPen(QColor(p.warn if tethered else p.line if state == IN_PLACE else p.faint), 2.4 if tethered else 1.2)
        if state != IN_PLACE:
            pen.setStyle(Qt.PenStyle.DashLine)
        painter.setPen(pen)
        painter.setBrush(QColor(p.sunk if state == IN_PLACE else p.page))
        painter.drawRoundedRect(place.box, 6, 6)
        painter.setPen(QColor(p.ink if state in (IN_PLACE, SWUNG) else p.faint))
        font = QFont(painter.font())
        font.setItalic(state != IN_PLACE)
        painter.setFont(font)
        text = painter.fontMetrics().elidedText(self.names[place.part], Qt.TextElideMode.ElideRight,
                                                int(place.box.width()) - 12)
        painter.drawText(place.box, Qt.AlignmentFlag.AlignCenter, text)
        font.setItalic(False)
        painter.setFont(font)
