"""What sheets are set from: pieces with a height, and text that is measured as it will be drawn."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QPagedPaintDevice, QPainter

from oddbolt.paint.fonts import FAMILY

DPI = 1200
TEXT_MM, SMALL_MM = 3.5, 2.9  # heights of type
INK, CALM = QColor("#101718"), QColor("#5D6A6C")


class Piece(Struct, frozen=True):
    """Something on a sheet: its height in dots, the space above it, and how it is drawn at a place."""

    height: float
    above: float
    draw: Callable[[QPainter, float, float], None]
    chapter: str = ""  # begins this chapter, and a new sheet
    again: Piece | None = None  # what stands above it where it comes first on a sheet


def dots(mm: float) -> float:
    return mm * DPI / 25.4


def font_of(height_mm: float, *, bold: bool = False, slanted: bool = False) -> QFont:
    font = QFont(FAMILY)
    font.setPixelSize(round(dots(height_mm)))
    font.setWeight(QFont.Weight.DemiBold if bold else QFont.Weight.Normal)
    font.setItalic(slanted)
    font.setFeature(QFont.Tag("calt"), 0)  # shapes that stand for other letters are not found again in the PDF
    return font


def text_piece(text: str, font: QFont, colour: QColor, width: float, device: QPagedPaintDevice, *,
               indent_mm: float = 0, above_mm: float = 0) -> Piece:
    """A text wrapped to a width in dots; a word that no line holds is broken."""
    indent = dots(indent_mm)
    room, flags = width - indent, Qt.TextFlag.TextWordWrap
    metrics = QFontMetricsF(font, device)
    longest = max(text.split(), key=len, default="")
    if metrics.horizontalAdvance(longest) > room:
        flags |= Qt.TextFlag.TextWrapAnywhere
    high = metrics.boundingRect(QRectF(0, 0, room, 1e7), int(flags), text).height()

    def draw(painter: QPainter, x: float, y: float) -> None:
        painter.setFont(font)
        painter.setPen(colour)
        painter.drawText(QRectF(x + indent, y, room, high + 2), int(flags), text)

    return Piece(high, dots(above_mm), draw)
