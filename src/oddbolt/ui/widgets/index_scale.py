"""The index on its scale: class bands, and the stretch in which it may still lie."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QPainter, QPaintEvent, QPolygonF
from PySide6.QtWidgets import QWidget

from oddbolt.paint.palette import Palette
from oddbolt.scoring.evaluate import Verdict
from oddbolt.words.judging.verdicts import class_text, index_text
from oddbolt.words.translate import tr


class IndexScale(QWidget):
    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._palette = palette
        self._verdict: Verdict | None = None
        self.setMinimumHeight(6 * self.fontMetrics().height())
        self.setAccessibleName(tr("Index"))

    def show_verdict(self, verdict: Verdict) -> None:
        self._verdict = verdict
        self.setAccessibleDescription(f"{index_text(verdict)}, {class_text(verdict)}")
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802 (Qt's name)
        if self._verdict is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        method, palette = self._verdict.method, self._palette
        low, high = method.scale
        line = self.fontMetrics().height()  # 16 px at the usual text size; everything grows with it
        left, width, top, band = 12.0, self.width() - 24.0, 2.75 * line, 1.6 * line

        def x_of(value: float) -> float:
            return left + (value - low) / (high - low) * width

        bands = sorted(method.classes, key=lambda pair: pair[1])
        for n, (name, limit) in enumerate(bands):
            end = bands[n + 1][1] if n + 1 < len(bands) else high
            box = QRectF(x_of(limit), top, x_of(end) - x_of(limit) - 2, band)
            reached = name in self._verdict.classes
            standing = self._verdict.standing
            possible = standing is not None and name in standing.classes
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(palette.lift if reached else palette.screws if possible else palette.line))
            painter.drawRoundedRect(box, 3, 3)
            font = QFont(self.font())
            font.setWeight(QFont.Weight.DemiBold if reached else QFont.Weight.Normal)
            painter.setFont(font)
            painter.setPen(QColor(palette.on_dark if reached else palette.faint))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, name)
            painter.setFont(self.font())
            painter.setPen(QColor(palette.faint))
            painter.drawText(QRectF(max(0.0, x_of(limit) - 2 * line), top + band + 2, 4 * line, line + 2),
                             Qt.AlignmentFlag.AlignHCenter if n else Qt.AlignmentFlag.AlignLeft, f"{limit:.2f}")
        painter.drawText(QRectF(x_of(high) - 4 * line, top + band + 2, 4 * line, line + 2),
                         Qt.AlignmentFlag.AlignRight, f"{high:.2f}")
        self._draw_standing(painter, x_of, top)
        start, end = (x_of(value) for value in self._verdict.index)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(palette.warn))
        painter.drawRoundedRect(QRectF(start - 2, top - 10, max(4.0, end - start + 4), 6), 3, 3)
        for x in (start, end):
            painter.drawPolygon(QPolygonF([QPointF(x, top - 1), QPointF(x - 6, top - 13), QPointF(x + 6, top - 13)]))
        painter.setPen(QColor(palette.ink))
        text = index_text(self._verdict)
        middle = min(max((start + end) / 2, left + 60), left + width - 60)
        painter.drawText(QRectF(middle - 8 * line, 0.6 * line, 16 * line, 1.3 * line),
                         Qt.AlignmentFlag.AlignHCenter, text)
        painter.end()

    def _draw_standing(self, painter: QPainter, x_of: Callable[[float], float], top: float) -> None:
        """Over all that is open: a thin line under the stretch."""
        if self._verdict is None or self._verdict.standing is None:
            return
        start, end = (x_of(value) for value in self._verdict.standing.index)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(self._palette.glue_line))
        painter.drawRect(QRectF(start, top - 6, max(2.0, end - start), 2))
        for x in (start, end):
            painter.drawRect(QRectF(x - 1, top - 10, 2, 9))
