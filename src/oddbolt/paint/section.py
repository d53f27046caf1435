"""Draws the section: columns bored from the surface down to each part, layers as thick as the time they take."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from msgspec import Struct
from PySide6.QtCore import QPointF, QRectF, QSizeF, Qt
from PySide6.QtGui import QBrush, QColor, QFont, QFontMetricsF, QImage, QPainter, QPainterPath, QPen

from oddbolt.model.things import Teardown
from oddbolt.paint.bolts import TAG_HEIGHT, draw_tag, tag_width
from oddbolt.paint.known import draw_known
from oddbolt.paint.palette import Palette
from oddbolt.reports.content import strata
from oddbolt.reports.content.strata import Ghost, Layer, Node, Section
from oddbolt.words.figures import duration_text
from oddbolt.words.names import name_of
from oddbolt.words.translate import tr

HEAD = 78.0  # room for the names above the surface
LEFT = 14.0
FOOT = 40.0
GAP = 8.0
THINNEST = 25.0
NARROWEST = 96.0


class Placed(Struct, frozen=True):
    """A layer where it is drawn."""

    node: Node
    box: QRectF


class SectionPicture:
    """A section laid out for a width. Thickness grows with the square root of the time, so that ten seconds and five
    minutes can stand in one picture; the figure says the time."""

    def __init__(self, section: Section, teardowns: Sequence[Teardown], width: float, scale: float = 1.0,
                 ghost: Ghost | None = None) -> None:
        """`teardowns`: of one device, or of two whose columns stand in turn. `ghost`: strata that a change would take
        away are drawn faint, as far as it would take them."""
        self.section = section
        self.ghost = ghost
        self.teardowns = teardowns
        self.scale = scale
        number = max(1, len(section.columns))
        self.column_width = max(NARROWEST * scale, (width - 2 * LEFT) / number)
        self.placed: list[Placed] = []
        self._bottom = HEAD * scale
        for node in section.top:
            self._place(node, HEAD * scale)
        self.size = QSizeF(2 * LEFT + number * self.column_width, self._bottom + FOOT * scale)

    def _thickness(self, layer: Layer) -> float:
        return self.scale * (max(THINNEST, 5.0 * layer.total_s ** 0.5) + (6 if layer.is_target else 0))

    def _place(self, node: Node, y: float) -> None:
        height = self._thickness(node.layer)
        x = LEFT + node.first * self.column_width
        width = (node.last - node.first + 1) * self.column_width - GAP
        self.placed.append(Placed(node, QRectF(x, y, width, height)))
        self._bottom = max(self._bottom, y + height)
        for under in node.under:
            self._place(under, y + height + 2)

    def column_box(self, n: int) -> QRectF:
        return QRectF(LEFT + n * self.column_width, 0, self.column_width - GAP, self.size.height())

    def teardown_of(self, n: int) -> Teardown:
        """The record that a column is of."""
        return self.teardowns[n % len(self.teardowns)]

    def column_at(self, spot: QPointF) -> int:
        """The column under a point, or -1."""
        return next((n for n in range(len(self.section.columns)) if self.column_box(n).contains(spot)), -1)

    def layer_at(self, spot: QPointF) -> Placed | None:
        return next((placed for placed in self.placed if placed.box.contains(spot)), None)

    # -- drawing

    def draw(self, painter: QPainter, palette: Palette, chosen: int = -1) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        base = QFont(painter.font())
        painter.fillRect(QRectF(QPointF(0, 0), self.size), QColor(palette.sheet))
        for n in range(len(self.section.columns)):
            self._head(painter, palette, base, n, n == chosen)
        y = (HEAD - 3) * self.scale
        painter.setPen(QPen(QColor(palette.accent), 2.5))
        painter.drawLine(QPointF(LEFT, y), QPointF(self.size.width() - LEFT - GAP, y))
        if len(self.teardowns) > 1:
            painter.setPen(QPen(QColor(palette.faint), 1, Qt.PenStyle.DotLine))
            for n in range(2, len(self.section.columns), 2):
                x = self.column_box(n).x() - GAP / 2
                painter.drawLine(QPointF(x, 8), QPointF(x, self.size.height() - 8))
        for placed in self.placed:
            self._layer(painter, palette, base, placed, chosen)
            self._ghosted(painter, palette, placed)
        painter.setFont(base)

    def left_of(self, node: Node) -> float:
        """The share of a layer that the change would leave; the most over the columns it runs across."""
        if self.ghost is None:
            return 1.0
        return max(self.ghost.left[n].get(thing, 1.0)
                   for n in range(node.first, node.last + 1) for thing in node.layer.things)

    def _ghosted(self, painter: QPainter, palette: Palette, placed: Placed) -> None:
        left = self.left_of(placed.node)
        if left >= 1.0:
            return
        box = QRectF(placed.box)
        box.setTop(box.top() + box.height() * left)
        veil = QColor(palette.sheet)
        veil.setAlpha(190)
        painter.setBrush(veil)
        painter.setPen(QPen(QColor(palette.ink), 1.2, Qt.PenStyle.DotLine))
        painter.drawRoundedRect(box, 3, 3)

    def _font(self, base: QFont, size: float, *, strong: bool = False) -> QFont:
        font = QFont(base)
        font.setPixelSize(round(size * self.scale))
        font.setWeight(QFont.Weight.DemiBold if strong else QFont.Weight.Normal)
        return font

    def _head(self, painter: QPainter, palette: Palette, base: QFont, n: int, chosen: bool) -> None:
        column = self.section.columns[n]
        box = self.column_box(n)
        if chosen:
            wash = QColor(palette.accent)
            wash.setAlpha(28)
            painter.fillRect(box.adjusted(-GAP / 2, 0, GAP / 2, 0), wash)
        font = self._font(base, 12.5, strong=True)
        painter.setFont(font)
        painter.setPen(QColor(palette.ink))
        teardown = self.teardown_of(n)
        name = name_of(teardown, column.part)
        if len(self.teardowns) > 1:
            name = f"{QFontMetricsF(font).elidedText(name, Qt.TextElideMode.ElideRight, box.width())}\n" \
                   f"{teardown.device.name}"
        painter.drawText(QRectF(box.x(), 4 * self.scale, box.width(), 32 * self.scale),
                         int(Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignBottom | Qt.TextFlag.TextWordWrap),
                         name)
        painter.setFont(self._font(base, 11))
        painter.setPen(QColor(palette.faint))
        count, bound = column.count.steps, column.plan.lower_bound
        steps = str(count) if column.plan.optimal else tr("{0} to {1}").format(bound, count)
        lines = [tr("1 step") if steps == "1" else tr("{0} steps").format(steps),
                 duration_text(column.count.time_ms / 1000)]
        if self.ghost is not None:
            after = self.ghost.counts[n]
            if after is None:
                lines = [tr("{0} steps → none").format(steps), lines[1]]
            elif (after.steps, after.time_ms) != (column.count.steps, column.count.time_ms):
                saved = (column.count.time_ms - after.time_ms) / 1000
                sign = "−" if saved > 0 else "+"
                lines = [tr("{0} → {1} steps").format(steps, after.steps), f"{sign}{duration_text(abs(saved))}"]
                painter.setPen(QColor(palette.ink))
        sign = 5.0 * self.scale
        width = min(painter.fontMetrics().horizontalAdvance(lines[0]), box.width() - 4 * sign)
        draw_known(painter, column.known, QPointF(box.center().x() - width / 2 - 2 * sign, (38 + 7.5) * self.scale),
                   sign * 0.8, palette.ink)
        for line, text in enumerate(lines):
            painter.drawText(QRectF(box.x() - 6, (38 + 15 * line) * self.scale, box.width() + 12, 16 * self.scale),
                             Qt.AlignmentFlag.AlignHCenter, text)

    def _fill(self, palette: Palette, layer: Layer) -> tuple[QBrush, str]:
        if layer.is_target:
            return QBrush(QColor(palette.target)), palette.on_dark if palette.name == "light" else palette.on_light
        if layer.kind == strata.WAIT:
            return dots(palette.wait, palette.wait_dot), palette.ink
        if layer.kind == strata.GLUE:
            return stripes(palette.glue, palette.glue_line), palette.on_light
        if layer.kind == strata.LIFT:
            return QBrush(QColor(palette.lift)), palette.on_dark
        colour = {strata.SCREWS: palette.screws, strata.PLUG: palette.plug, strata.FILM: palette.film}
        return QBrush(QColor(colour.get(layer.kind, palette.act))), palette.on_light

    def _layer(self, painter: QPainter, palette: Palette, base: QFont, placed: Placed, chosen: int) -> None:
        layer, box = placed.node.layer, placed.box
        brush, ink = self._fill(palette, layer)
        painter.setPen(QPen(QColor(ink), 1.2, Qt.PenStyle.DashLine) if layer.assumed else Qt.PenStyle.NoPen)
        painter.setBrush(brush)
        painter.drawRoundedRect(box, 3, 3)
        if layer.destroyed:
            _torn_edge(painter, box, QColor(palette.sheet))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        x, right = box.x() + 7 * self.scale, box.right() - 6 * self.scale
        y = box.y() + (box.height() - TAG_HEIGHT) / 2
        for letter, number in layer.bolts:
            text = letter if number == 1 else f"{'?' if number is None else number} {letter}"
            if x + tag_width(text) > right:
                break
            painter.setFont(base)
            drive = self.teardown_of(placed.node.first).fastener[letter].drive
            x += draw_tag(painter, x, y, letter, drive, number) + 4
        font = self._font(base, 12 if layer.is_target else 11.5, strong=layer.is_target)
        metrics = QFontMetricsF(font)
        painter.setFont(font)
        painter.setPen(QColor(ink))
        remark = self._remark(layer)
        signs = self._signs(layer)
        room = 20 * len(signs)
        if remark and right - x > metrics.horizontalAdvance(remark) + room + 70:
            painter.drawText(QRectF(x, box.y(), right - x, box.height()),
                             Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, remark)
            right -= metrics.horizontalAdvance(remark) + 8
        if right - room - x > 16:
            label = metrics.elidedText(layer.label, Qt.TextElideMode.ElideRight, right - room - x)
            painter.drawText(QRectF(x, box.y(), right - x, box.height()), Qt.AlignmentFlag.AlignVCenter, label)
            x += metrics.horizontalAdvance(label) + 4
        for name in signs:
            if x + 18 <= right + 4:
                draw_sign(painter, name, QPointF(x + 9, box.center().y()), QColor(ink))
                x += 20

    @staticmethod
    def _remark(layer: Layer) -> str:
        words = [tr("power off")] if layer.isolates else []
        if layer.wait_s:
            words.append(tr("wait {0}").format(duration_text(layer.wait_s)))
        elif not layer.is_target:
            words.append(duration_text(layer.seconds))
        if layer.destroyed:
            words.append(tr("destroyed"))
        elif layer.renew:
            words.append(tr("renew"))
        return " · ".join(words)

    @staticmethod
    def _signs(layer: Layer) -> list[str]:
        """Small drawn signs that follow the label."""
        return [name for name, shown in (("hazard", bool(layer.hazards)), ("live", layer.live),
                                         ("renew", layer.renew or layer.destroyed)) if shown]


def draw_sign(painter: QPainter, name: str, centre: QPointF, ink: QColor) -> None:
    """The signs of the program, 14 px wide: hazard (triangle), live (bolt of lightning), renew (turning arrow)."""
    x, y = centre.x(), centre.y()
    path = QPainterPath()
    painter.setPen(QPen(ink, 1.5, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if name == "hazard":
        path.moveTo(x, y - 6)
        path.lineTo(x + 7, y + 6)
        path.lineTo(x - 7, y + 6)
        path.closeSubpath()
        path.moveTo(x, y - 2)
        path.lineTo(x, y + 1.6)
        path.moveTo(x, y + 4)
        path.lineTo(x, y + 4.1)
    elif name == "live":
        path.moveTo(x + 2, y - 7)
        path.lineTo(x - 3, y + 1)
        path.lineTo(x + 2, y + 1)
        path.lineTo(x - 2, y + 7)
    else:
        path.arcMoveTo(QRectF(x - 5, y - 5, 10, 10), 60)
        path.arcTo(QRectF(x - 5, y - 5, 10, 10), 60, 280)
        path.moveTo(x + 2.5, y - 7)
        path.lineTo(x + 2.5, y - 4.2)
        path.lineTo(x + 5.6, y - 4.2)
    painter.drawPath(path)


def _torn_edge(painter: QPainter, box: QRectF, colour: QColor) -> None:
    path = QPainterPath(QPointF(box.x(), box.bottom()))
    for k, x in enumerate(_steps(box.x(), box.right(), 6)):
        path.lineTo(x, box.bottom() - (4 if k % 2 else 0))
    path.lineTo(box.right(), box.bottom())
    painter.fillPath(path, colour)


def _steps(start: float, stop: float, step: float) -> Iterator[float]:
    while start < stop:
        yield start
        start += step
    yield stop


def stripes(ground: str, line: str) -> QBrush:
    tile = QImage(10, 10, QImage.Format.Format_RGB32)  # no QPixmap: it is painted off the window's thread too
    tile.fill(QColor(ground))
    painter = QPainter(tile)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(QColor(line), 2))
    for shift in (-10, 0, 10):
        painter.drawLine(QPointF(shift, 10), QPointF(shift + 10, 0))
    painter.end()
    return QBrush(tile)


def dots(ground: str, dot: str) -> QBrush:
    tile = QImage(8, 8, QImage.Format.Format_RGB32)
    tile.fill(QColor(ground))
    painter = QPainter(tile)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(dot))
    painter.drawEllipse(QPointF(4, 4), 1.2, 1.2)
    painter.end()
    return QBrush(tile)


def legend(palette: Palette) -> list[tuple[str, QBrush]]:
    """What the fills mean, for the key under the picture."""
    return [(tr("undo bolts"), QBrush(QColor(palette.screws))), (tr("open a plug"), QBrush(QColor(palette.plug))),
            (tr("part glue"), stripes(palette.glue, palette.glue_line)),
            (tr("peel a film"), QBrush(QColor(palette.film))),
            (tr("wait"), dots(palette.wait, palette.wait_dot)), (tr("other act"), QBrush(QColor(palette.act))),
            (tr("lift a part"), QBrush(QColor(palette.lift))), (tr("the part"), QBrush(QColor(palette.target)))]
