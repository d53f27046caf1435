"""The one figure that is always in sight: bolts out, bolts back, and the difference."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFont, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from oddbolt.paint.bolts import recess_path
from oddbolt.paint.palette import Palette
from oddbolt.reassembly.ledger import Ledger
from oddbolt.ui.pieces.sheet import tip
from oddbolt.words.rebuilding.steps import letter_text
from oddbolt.words.translate import tr


class OddBoltFigure(QWidget):
    """Shows the ledger; its accessible name reads it out."""

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._palette = palette
        self._ledger = Ledger()
        self.setMinimumSize(QSize(276, 46))
        self.setAccessibleName(tr("Odd bolts"))

    @property
    def ledger(self) -> Ledger:
        return self._ledger

    def show_ledger(self, ledger: Ledger) -> None:
        self._ledger = ledger
        text = tr("{0} out, {1} back, {2} odd").format(ledger.out, ledger.back, ledger.odd)
        if ledger.uncertain:
            text += tr("; {0} groups of unknown number").format(len(ledger.uncertain))
        self.setAccessibleDescription(text)
        letters = "\n".join(letter_text(row) for row in ledger.rows)
        self.setToolTip(tip(f"{text}\n{letters}".strip()))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802 (Qt's name)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ledger, palette = self._ledger, self._palette
        x = 4.0
        for value, word in ((ledger.out, tr("out")), (ledger.back, tr("back"))):
            x = self._figure(painter, x, str(value), word, QColor(palette.ink))
        right = QRectF(x + 2, 3, self.width() - x - 6, self.height() - 6)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(palette.accent if ledger.odd == 0 else palette.warn))
        painter.drawRoundedRect(right, 8, 8)
        ink = QColor(palette.on_accent if palette.name == "light" or ledger.odd == 0 else palette.page)
        painter.save()
        painter.translate(QPointF(right.x() + 20, right.center().y()))
        painter.rotate(0 if ledger.odd == 0 else 18)
        painter.setBrush(ink)
        painter.drawEllipse(QPointF(0, 0), 12, 12)
        painter.fillPath(recess_path("PH", 7.5), QColor(palette.accent if ledger.odd == 0 else palette.warn))
        painter.restore()
        sign = "?" if ledger.uncertain else ""
        self._figure(painter, right.x() + 38, f"{ledger.odd}{sign}", tr("odd"), ink)
        painter.end()

    def _figure(self, painter: QPainter, x: float, value: str, word: str, ink: QColor) -> float:
        big, small = QFont(self.font()), QFont(self.font())
        big.setPixelSize(23)
        big.setWeight(QFont.Weight.DemiBold)
        small.setPixelSize(12)
        painter.setPen(ink)
        painter.setFont(big)
        width = painter.fontMetrics().horizontalAdvance(value)
        painter.drawText(QRectF(x, 0, width + 2, self.height()), Qt.AlignmentFlag.AlignVCenter, value)
        painter.setFont(small)
        x += width + 5
        painter.drawText(QRectF(x, 3, 46, self.height()), Qt.AlignmentFlag.AlignVCenter, word)
        return x + painter.fontMetrics().horizontalAdvance(word) + 14
