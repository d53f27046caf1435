"""Tables on sheets: columns as wide as they need, rows that wrap, the head again where a table goes on."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace
from PySide6.QtCore import QLineF
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QPagedPaintDevice, QPainter, QPen

from oddbolt.paint.documents.pieces import CALM, INK, SMALL_MM, Piece, dots, font_of, text_piece
from oddbolt.reports.content.tree import ESTIMATED, GUESSED, Given, Grid
from oddbolt.words.figures import marked_text

CELL_MM, GAP_MM, PAD_MM = 2.7, 2.2, 0.7
LONGEST = 600  # characters of a cell; more is told to be more
RULE, FAINT = QColor("#24424D"), QColor("#DCDFD9")


def laid_grid(grid: Grid, width: float, device: QPagedPaintDevice) -> list[Piece]:
    """Caption, head and rows; columns without a title are for machines."""
    shown = [n for n, (_, title) in enumerate(grid.columns) if title]
    titles = [grid.columns[n][1] for n in shown]
    texts = [[marked_text(row[n].said, row[n].known)[:LONGEST] for n in shown] for row in grid.rows]
    widths = _widths(titles, texts, width, device)
    head = _row([Given(title) for title in titles], titles, widths, device, is_head=True)
    rows = [replace(_row([row[n] for n in shown], said, widths, device), again=head)
            for row, said in zip(grid.rows, texts)]
    caption = text_piece(grid.caption, font_of(SMALL_MM), CALM, width, device, above_mm=3.5)
    return [caption, head, *rows]


def _widths(titles: Sequence[str], texts: Sequence[Sequence[str]], width: float,
            device: QPagedPaintDevice) -> list[float]:
    """As wide as the widest text where that fits; else no narrower than the longest word, and the rest by need."""
    metrics, gap = QFontMetricsF(font_of(CELL_MM), device), dots(GAP_MM)
    strong = QFontMetricsF(font_of(CELL_MM, bold=True), device)
    whole, least = [], []
    room = width - gap * (len(titles) - 1)
    for n, title in enumerate(titles):
        column = [row[n] for row in texts]
        words = {word for text in column for word in text.split()}
        widest = max((metrics.horizontalAdvance(text) for text in set(column)), default=0.0)
        longest = max((metrics.horizontalAdvance(word) for word in words), default=0.0)
        headed = max((strong.horizontalAdvance(word) for word in title.split()), default=0.0)
        whole.append(max(widest, strong.horizontalAdvance(title)) + 2)
        least.append(min(max(longest, headed), room / 2) + 2)
    if sum(whole) <= room:
        return whole
    spare = room - sum(least)
    if spare <= 0:
        return [one * room / sum(least) for one in least]
    needs = [max(0.0, w - m) ** 0.5 for w, m in zip(whole, least)]  # a long text has many lines to spread over
    return [m + spare * need / sum(needs) for m, need in zip(least, needs)]


def _row(cells: Sequence[Given], texts: Sequence[str], widths: Sequence[float], device: QPagedPaintDevice, *,
         is_head: bool = False) -> Piece:
    pieces = [text_piece(text, _font(cell, is_head=is_head), CALM if cell.known in (ESTIMATED, GUESSED) else INK,
                         width, device) for cell, text, width in zip(cells, texts, widths)]
    pad, gap = dots(PAD_MM), dots(GAP_MM)
    high = max((piece.height for piece in pieces), default=0.0) + 2 * pad
    whole = sum(widths) + gap * (len(widths) - 1)

    def draw(painter: QPainter, x: float, y: float) -> None:
        at = x
        for piece, width in zip(pieces, widths):
            piece.draw(painter, at, y + pad)
            at += width + gap
        painter.setPen(QPen(RULE if is_head else FAINT, dots(0.35 if is_head else 0.15)))
        painter.drawLine(QLineF(x, y + high, x + whole, y + high))

    return Piece(high, dots(1.0 if is_head else 0.0), draw)


def _font(cell: Given, *, is_head: bool) -> QFont:
    return font_of(CELL_MM, bold=is_head, slanted=cell.known in (ESTIMATED, GUESSED))
