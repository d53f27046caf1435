"""What each criterion contributes to an index: what is certain, what is open, and what it could give at most."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from oddbolt.paint.palette import Palette
from oddbolt.scoring.evaluate import Verdict
from oddbolt.scoring.method import INDEX
from oddbolt.words.figures import points_text
from oddbolt.words.translate import of_data, tr

LEAST_PX = 2.0


class Contributions(QWidget):
    """A bar a criterion, as long as its weight times the scale."""

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._palette = palette
        self._verdict: Verdict | None = None
        self.setAccessibleName(tr("What each criterion contributes"))

    def show_verdict(self, verdict: Verdict) -> None:
        self._verdict = verdict if verdict.method.kind == INDEX else None
        self.setVisible(self._verdict is not None)
        if self._verdict is not None:
            rows = len(verdict.criteria)
            self.setFixedHeight(round(rows * self._row_px() + 4))
            self.setAccessibleDescription("; ".join(
                f"{of_data(s.criterion.name)} {points_text(s.points)}" for s in verdict.criteria))
        self.update()

    def _row_px(self) -> float:
        few = self._verdict is None or len(self._verdict.criteria) <= 8
        return (1.5 if few else 1.15) * self.fontMetrics().height()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802 (Qt's name)
        if self._verdict is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        method, palette, row = self._verdict.method, self._palette, self._row_px()
        metrics = self.fontMetrics()
        names = [of_data(score.criterion.name) for score in self._verdict.criteria]
        column = min(self.width() * 0.4, max(map(metrics.horizontalAdvance, names)) + 10)
        figures = metrics.horizontalAdvance("0.00 / 0.00") + 8
        low, high = method.scale
        most = max(score.criterion.weight for score in self._verdict.criteria) * high or 1.0
        room = self.width() - column - figures
        for n, (score, name) in enumerate(zip(self._verdict.criteria, names)):
            top, weight = n * row + 2, score.criterion.weight
            x = room / most
            painter.setPen(QColor(palette.ink))
            painter.drawText(QRectF(0, top, column - 8, row),
                             Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight,
                             metrics.elidedText(name, Qt.TextElideMode.ElideRight, int(column - 8)))
            box = QRectF(column, top + 2, max(LEAST_PX, weight * high * x), row - 5)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(palette.wait))
            painter.drawRect(box)
            sure, possible = (weight * points * x for points in score.points)
            painter.setBrush(QColor(palette.lift))
            painter.drawRect(QRectF(box.left(), box.top(), sure, box.height()))
            if possible > sure:
                painter.setBrush(QColor(palette.glue))
                painter.drawRect(QRectF(box.left() + sure, box.top(), possible - sure, box.height()))
            painter.setPen(QColor(palette.faint))
            text = f"{weight * score.points[0]:.2f} / {weight * high:.2f}"
            painter.drawText(QRectF(box.right() + 6, top, figures, row), Qt.AlignmentFlag.AlignVCenter, text)
        # What the three tones are stands in the tip, and in words beside each figure of the table.
        painter.end()
