"""What lies over a photograph besides its marks: ends of a joint, proposals, outlines, a lasso, a measured line."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QPainterPath, QPen, QPolygonF

HANDLE = 9.0
EDGE_PX = 6.0  # so near to the edge of a ghost it is taken hold of
LIGHT, DARK = QColor("#FFD9A8"), QColor(0, 0, 0, 160)


class End(Struct, frozen=True):
    """An end of the chosen joint: a handle that can be dragged to another part. Places in photograph pixels."""

    number: int  # which of the joint's parts
    start: tuple[float, float]  # the joint's mark
    place: tuple[float, float]
    text: str


class Proposal(Struct, frozen=True):
    """A place that may be another of the chosen kind."""

    x: float
    y: float
    radius: float
    score: float


class Shown(Struct, frozen=True):
    """Something seen between two photographs, with its number."""

    outline: tuple[tuple[float, float], ...]
    number: int
    is_ticked: bool
    is_current: bool


class Ghost(Struct, frozen=True):
    """What a part had covered; its edge can be dragged where it was drawn on this photograph."""

    outline: tuple[tuple[float, float], ...]
    of: str = ""  # the part; empty: it is of another photograph, and stays as it is


class Overlay:
    """Painted in the foreground of the view; holds what is shown, knows nothing of the teardown."""

    def __init__(self) -> None:
        self.ends: tuple[End, ...] = ()
        self.proposals: tuple[Proposal, ...] = ()
        self.outlines: tuple[tuple[tuple[float, float], ...], ...] = ()
        self.ghosts: tuple[Ghost, ...] = ()
        self.seen: tuple[Shown, ...] = ()
        self.edge: tuple[int, int, QPointF] | None = None  # ghost, corner, and where that is on its way to
        self.lasso: list[QPointF] = []  # photograph pixels
        self.line: list[QPointF] = []  # what is being measured
        self.line_text = ""
        self.dragged: tuple[int, QPointF] | None = None  # an end on its way

    def paint(self, painter: QPainter, scale: float) -> None:
        """Draw everything; `scale` is screen pixels for a photograph pixel, so that lines keep their width."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for n in range(len(self.ghosts)):  # what was covered by a part that is off
            painter.setBrush(QColor(255, 255, 255, 14))
            painter.setPen(QPen(QColor(255, 255, 255, 150), 1.4 / scale, Qt.PenStyle.DashLine))
            painter.drawPath(_path(self.dragged_outline(n), closed=True))
        tags: list[QRectF] = []
        for shown in self.seen:
            self._shown(painter, shown, scale, tags)
        for outline in self.outlines:
            self._stroke(painter, _path(outline, closed=True), 1.6 / scale, fill=QColor(255, 217, 168, 26))
        for proposal in self.proposals:
            spot, r = QPointF(proposal.x, proposal.y), max(proposal.radius, 7 / scale) + 3 / scale
            pen = QPen(LIGHT, 2.4 / scale, Qt.PenStyle.DashLine)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(DARK, 4.4 / scale))
            painter.drawEllipse(spot, r, r)
            painter.setPen(pen)
            painter.drawEllipse(spot, r, r)
        for end in self.ends:
            self._end(painter, end, scale)
        if len(self.lasso) > 1:
            points = [(p.x(), p.y()) for p in self.lasso]
            self._stroke(painter, _path(points, closed=True), 2 / scale, fill=QColor(255, 255, 255, 30))
        if self.line:
            points = [(p.x(), p.y()) for p in self.line]
            self._stroke(painter, _path(points, closed=len(points) == 4), 2 / scale)
            for x, y in points:
                painter.setPen(QPen(LIGHT, 2 / scale))
                painter.drawLine(QPointF(x - 8 / scale, y), QPointF(x + 8 / scale, y))
                painter.drawLine(QPointF(x, y - 8 / scale), QPointF(x, y + 8 / scale))

    def _shown(self, painter: QPainter, shown: Shown, scale: float, tags: list[QRectF]) -> None:
        """A full line where it is ticked, a broken one where not; the one that is named next is filled. Its number goes
        to the first corner at which there is none yet."""
        path = _path(shown.outline, closed=True)
        painter.setBrush(QColor(255, 217, 168, 50) if shown.is_current else Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(DARK, 3.6 / scale))
        painter.drawPath(path)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(LIGHT, 1.8 / scale, Qt.PenStyle.SolidLine if shown.is_ticked else Qt.PenStyle.DashLine))
        painter.drawPath(path)
        font = painter.font()
        font.setPixelSize(12)
        text, around = str(shown.number), path.boundingRect()
        wide, high = (QFontMetricsF(font).horizontalAdvance(text) + 10) / scale, 17 / scale
        places = [QRectF(x, y, wide, high) for y in (around.top() - high, around.bottom())
                  for x in (around.left(), around.right() - wide)]
        box = next((place for place in places if not any(place.intersects(tag) for tag in tags)), places[0])
        tags.append(box)
        painter.save()
        painter.translate(box.topLeft())
        painter.scale(1 / scale, 1 / scale)
        painter.setFont(font)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(LIGHT)
        inner = QRectF(0, 0, wide * scale, 17)
        painter.drawRoundedRect(inner, 3, 3)
        painter.setPen(QColor("#1E2B30"))
        painter.drawText(inner, Qt.AlignmentFlag.AlignCenter, text)
        painter.restore()

    def dragged_outline(self, place: int) -> tuple[tuple[float, float], ...]:
        """The outline of a ghost, with the corner that is being dragged where the pointer is."""
        outline = self.ghosts[place].outline
        if self.edge is None or self.edge[0] != place:
            return outline
        _, corner, spot = self.edge
        return (*outline[:corner], (spot.x(), spot.y()), *outline[corner + 1:])

    def edge_at(self, spot: QPointF, scale: float) -> tuple[int, int] | None:
        """The ghost, and its corner, whose edge is under a place, of those that can be dragged."""
        found = []
        for n, ghost in enumerate(self.ghosts):
            if not ghost.of:
                continue
            nearest = min((_to_segment(spot, a, b) for a, b in zip(
                ghost.outline, (*ghost.outline[1:], *ghost.outline[:1]))), default=float("inf"))
            if nearest <= EDGE_PX / scale:
                corner = min(range(len(ghost.outline)), key=lambda k, g=ghost: _distance(QPointF(*g.outline[k]), spot))
                found.append((nearest, n, corner))
        return min(found)[1:] if found else None

    def seen_at(self, spot: QPointF) -> int | None:
        """What was seen at a place, by its line: the smallest that lies there."""
        under = [(_path(one.outline, closed=True).boundingRect(), one.number - 1) for one in self.seen
                 if _path(one.outline, closed=True).contains(spot)]
        return min((rect.width() * rect.height(), n) for rect, n in under)[1] if under else None

    def _end(self, painter: QPainter, end: End, scale: float) -> None:
        place = QPointF(*end.place)
        if self.dragged is not None and self.dragged[0] == end.number:
            place = self.dragged[1]
        self._stroke(painter, _path([end.start, (place.x(), place.y())]), 2 / scale)
        r = HANDLE / scale
        painter.setPen(QPen(DARK, 2 / scale))
        painter.setBrush(LIGHT if end.number == 0 else QColor("#FFFFFF"))
        painter.drawRect(QRectF(place.x() - r * 0.7, place.y() - r * 0.7, r * 1.4, r * 1.4))
        painter.save()
        painter.translate(place)
        painter.scale(1 / scale, 1 / scale)
        font = painter.font()
        font.setPixelSize(12)
        painter.setFont(font)
        width = painter.fontMetrics().horizontalAdvance(end.text) + 10
        box = QRectF(11 if end.number else -11 - width, -9, width, 18)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(24, 30, 34, 225))
        painter.drawRoundedRect(box, 4, 4)
        painter.setPen(QColor("#FFFFFF"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, end.text)
        painter.restore()

    @staticmethod
    def _stroke(painter: QPainter, path: QPainterPath, width: float, fill: QColor | None = None) -> None:
        painter.setBrush(fill if fill is not None else Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(DARK, width * 2))
        painter.drawPath(path)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(LIGHT, width))
        painter.drawPath(path)

    # -- what is under a place

    def end_at(self, spot: QPointF, scale: float) -> int | None:
        """The handle of an end under a place, nearest first."""
        near = [(_distance(QPointF(*end.place), spot), end.number) for end in self.ends]
        within = [pair for pair in near if pair[0] <= (HANDLE + 5) / scale]
        return min(within)[1] if within else None

    def proposal_at(self, spot: QPointF, scale: float) -> int | None:
        near = [(_distance(QPointF(p.x, p.y), spot), n) for n, p in enumerate(self.proposals)]
        within = [(d, n) for d, n in near if d <= max(self.proposals[n].radius, 7 / scale) + 5 / scale]
        return min(within)[1] if within else None

    def lassoed(self, spots: Sequence[tuple[float, float]]) -> list[int]:
        """Which of the spots lie within the lasso."""
        return within(spots, [(p.x(), p.y()) for p in self.lasso])


def within(spots: Sequence[tuple[float, float]], corners: Sequence[tuple[float, float]]) -> list[int]:
    """Places in the list of the spots that lie within a polygon."""
    polygon = QPolygonF([QPointF(x, y) for x, y in corners])
    return [n for n, (x, y) in enumerate(spots) if polygon.containsPoint(QPointF(x, y), Qt.FillRule.OddEvenFill)]


def _path(points: Sequence[tuple[float, float]], *, closed: bool = False) -> QPainterPath:
    path = QPainterPath(QPointF(*points[0]))
    for x, y in points[1:]:
        path.lineTo(x, y)
    if closed:
        path.closeSubpath()
    return path


def _to_segment(spot: QPointF, a: tuple[float, float], b: tuple[float, float]) -> float:
    """How far a place is from a line between two."""
    x, y = b[0] - a[0], b[1] - a[1]
    length2 = x * x + y * y
    along = min(1.0, max(0.0, ((spot.x() - a[0]) * x + (spot.y() - a[1]) * y) / length2)) if length2 else 0.0
    return _distance(spot, QPointF(a[0] + along * x, a[1] + along * y))


def _distance(a: QPointF, b: QPointF) -> float:
    return ((a.x() - b.x()) ** 2 + (a.y() - b.y()) ** 2) ** 0.5
