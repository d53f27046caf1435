"""The bolts letter by letter while putting back: out, back, new, thrown away, lost."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFont, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from oddbolt.paint.palette import Palette, letter_colour
from oddbolt.reassembly.ledger import Ledger, LetterRow
from oddbolt.ui.pieces.sheet import tip
from oddbolt.words.rebuilding.steps import letter_text
from oddbolt.words.translate import tr


class BoltStrip(QWidget):
    """A field for each letter, filled from the left as its bolts go back."""

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._palette = palette
        self._rows: tuple[LetterRow, ...] = ()
        self.setMinimumHeight(round(2.2 * self.fontMetrics().height()))
        self.setAccessibleName(tr("Bolts by letter"))

    def sizeHint(self) -> QSize:  # noqa: N802 (Qt's name)
        return QSize(300, round(2.2 * self.fontMetrics().height()))

    def show_ledger(self, ledger: Ledger) -> None:
        self._rows = tuple(row for row in ledger.rows if row.out)
        text = "\n".join(letter_text(row) for row in ledger.rows)
        self.setAccessibleDescription(text)
        self.setToolTip(tip(text))
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:  # noqa: N802
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        count = max(1, len(self._rows))
        width, height = (self.width() - 6 * (count - 1)) / count, self.height()
        font = QFont(self.font())
        for n, row in enumerate(self._rows):
            box = QRectF(n * (width + 6), 0, width, height)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(self._palette.line))
            painter.drawRoundedRect(box, 5, 5)
            colour = QColor(self._palette.warn if row.wrong or row.lost else letter_colour(row.letter))
            painter.setBrush(colour)
            painter.drawRect(QRectF(box.x(), box.bottom() - 6, box.width() * row.back / row.out, 6))
            font.setBold(True)
            painter.setFont(font)
            painter.setPen(QColor(self._palette.ink))
            text = f"{row.letter}  {row.back}/{row.out}" + (f"  +{row.new}" if row.new else "")
            painter.drawText(box.adjusted(4, 0, -4, -6), Qt.AlignmentFlag.AlignCenter, text)
        painter.end()
