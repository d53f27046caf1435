"""Pages of content as PDF: text flows over sheets, a heading stays with what follows it, a picture with its step."""

from __future__ import annotations

import itertools
import textwrap
from collections.abc import Callable, Mapping, Sequence

from msgspec import Struct
from msgspec.structs import replace
from PySide6.QtCore import QBuffer, QIODevice, QMarginsF, QRectF, QSizeF, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QImage, QPageLayout, QPageSize, QPainter, QPdfWriter, QPen

from oddbolt.paint.fonts import FAMILY
from oddbolt.paint.pages import PAGES_MM
from oddbolt.reports.content.tree import Block, Figure, Heading, Line, Page, Tick, Title

DPI = 1200
MARGIN_MM, FOOT_MM = 16.0, 8.0
TEXT_MM, TITLE_MM, HEADING_MM, SMALL_MM = 3.5, 6.0, 4.2, 2.9  # heights of type
LONGEST = 1200  # characters set in one piece; in the largest type it fills half a sheet
INSIDE_MM, BOX_MM = 9.0, 3.6
PICTURE_MM = (118.0, 66.0)
INK, CALM, STOP = QColor("#101718"), QColor("#5D6A6C"), QColor("#A63A12")
Footer = Callable[[int, int], str]  # page, of how many


class _Piece(Struct, frozen=True):
    """Something on a sheet: its height in dots, the space above it, and how it is drawn at a place."""

    height: float
    above: float
    draw: Callable[[QPainter, float, float], None]


def document_pdf(page: Page, pictures: Mapping[int, QImage], paper: str, footer: Footer) -> bytes:
    """`pictures` by number; `paper` is a name of PAGES_MM. Nothing is cut: what is higher than a sheet is split by its
    pieces only."""
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setResolution(DPI)
    writer.setTitle(next((block.text for block in page.blocks if isinstance(block, Title)), ""))
    writer.setCreator("Odd Bolt")
    layout = QPageLayout(QPageSize(QSizeF(*PAGES_MM[paper]), QPageSize.Unit.Millimeter, paper),
                         QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0))
    layout.setMode(QPageLayout.Mode.FullPageMode)
    writer.setPageLayout(layout)
    painter = QPainter(writer)
    sheets = _Setting(painter, paper, pictures).sheets(page.blocks)
    left, foot = _dots(MARGIN_MM), _dots(PAGES_MM[paper][1] - MARGIN_MM + FOOT_MM / 2)
    for number, pieces in enumerate(sheets, start=1):
        if number > 1:
            writer.newPage()
        y = _dots(MARGIN_MM)
        for n, piece in enumerate(pieces):
            y += piece.above if n else 0
            piece.draw(painter, left, y)
            y += piece.height
        painter.setFont(_font(SMALL_MM))
        painter.setPen(CALM)
        painter.drawText(QRectF(left, foot, _dots(PAGES_MM[paper][0] - 2 * MARGIN_MM), _dots(FOOT_MM)),
                         Qt.AlignmentFlag.AlignLeft, footer(number, len(sheets)))
    painter.end()
    return bytes(buffer.data())


def _dots(mm: float) -> float:
    return mm * DPI / 25.4


def _font(height_mm: float, *, bold: bool = False) -> QFont:
    font = QFont(FAMILY)
    font.setPixelSize(round(_dots(height_mm)))
    font.setWeight(QFont.Weight.DemiBold if bold else QFont.Weight.Normal)
    font.setFeature(QFont.Tag("calt"), 0)  # shapes that stand for other letters are not found again in the PDF
    return font


def _in_parts(block: Block) -> list[Block]:
    """A text that might be higher than a sheet, as several; it goes on as lines of what it belongs to."""
    if isinstance(block, Figure) or len(block.text) <= LONGEST:
        return [block]
    first, *rest = textwrap.wrap(block.text, LONGEST)
    return [replace(block, text=first), *(Line(part, inside=isinstance(block, Tick)) for part in rest)]


class _Setting:
    """Sets blocks on sheets."""

    def __init__(self, painter: QPainter, paper: str, pictures: Mapping[int, QImage]) -> None:
        self._painter, self._pictures = painter, pictures
        self._width = _dots(PAGES_MM[paper][0] - 2 * MARGIN_MM)
        self._high = _dots(PAGES_MM[paper][1] - 2 * MARGIN_MM)

    def sheets(self, blocks: Sequence[Block]) -> list[list[_Piece]]:
        sheets: list[list[_Piece]] = [[]]
        used = 0.0
        for group in self._groups(blocks):
            together = sum(piece.height + piece.above for piece in group)
            if sheets[-1] and used + together > self._high and together <= self._high:
                sheets.append([])
                used = 0.0
            for piece in group:
                if sheets[-1] and used + piece.height + piece.above > self._high:
                    sheets.append([])
                    used = 0.0
                used += piece.height + (piece.above if sheets[-1] else 0.0)
                sheets[-1].append(piece)
        return sheets

    def _groups(self, blocks: Sequence[Block]) -> list[list[_Piece]]:
        """What stays together: a heading or picture with what follows it, a step with the lines inside it."""
        groups: list[list[_Piece]] = []
        joins = False
        for block in itertools.chain.from_iterable(map(_in_parts, blocks)):
            piece = self._piece(block)
            if piece is None:
                continue
            if groups and (joins or (isinstance(block, Line) and block.inside)):
                groups[-1].append(piece)
            else:
                groups.append([piece])
            joins = isinstance(block, Title | Heading | Figure)
        return groups

    def _piece(self, block: Block) -> _Piece | None:
        if isinstance(block, Figure):
            return self._picture(block.number)
        if isinstance(block, Title):
            return self._text(block.text, _font(TITLE_MM, bold=True), INK, above_mm=0)
        if isinstance(block, Heading):
            return self._text(block.text, _font(HEADING_MM, bold=True), INK, above_mm=5)
        if isinstance(block, Tick):
            return self._tick(block)
        if isinstance(block, Line):
            text = f"{block.text} ({block.remark})" if block.remark else block.text
            return self._text(text, _font(TEXT_MM), INK, indent_mm=INSIDE_MM if block.inside else 0, above_mm=1)
        return self._text(block.text, _font(SMALL_MM), CALM, above_mm=1.5)

    def _text(self, text: str, font: QFont, colour: QColor, *, indent_mm: float = 0, above_mm: float) -> _Piece:
        indent = _dots(indent_mm)
        width, flags = self._width - indent, Qt.TextFlag.TextWordWrap
        longest = max(text.split(), key=len, default="")
        if QFontMetricsF(font, self._painter.device()).horizontalAdvance(longest) > width:
            flags |= Qt.TextFlag.TextWrapAnywhere  # a word that no line holds
        high = QFontMetricsF(font, self._painter.device()).boundingRect(
            QRectF(0, 0, width, 1e7), int(flags), text).height()

        def draw(painter: QPainter, x: float, y: float) -> None:
            painter.setFont(font)
            painter.setPen(colour)
            painter.drawText(QRectF(x + indent, y, width, high + 2), int(flags), text)

        return _Piece(high, _dots(above_mm), draw)

    def _tick(self, block: Tick) -> _Piece:
        """A box, the step, and behind it why it stands there; a check that stops the line has a bar beside it."""
        body = self._text(block.text, _font(TEXT_MM, bold=True), INK, indent_mm=INSIDE_MM, above_mm=0)
        remark = self._text(block.remark, _font(SMALL_MM), CALM, indent_mm=INSIDE_MM, above_mm=0) \
            if block.remark else None
        high = body.height + (remark.height if remark is not None else 0)

        def draw(painter: QPainter, x: float, y: float) -> None:
            painter.setPen(QPen(INK, _dots(0.3)))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(x + _dots(1.6), y + _dots(0.4), _dots(BOX_MM), _dots(BOX_MM)))
            if block.is_check:
                painter.fillRect(QRectF(x - _dots(2.5), y, _dots(1.2), high), STOP)
            body.draw(painter, x, y)
            if remark is not None:
                remark.draw(painter, x, y + body.height)

        return _Piece(high, _dots(2.5), draw)

    def _picture(self, number: int) -> _Piece | None:
        image = self._pictures.get(number)
        if image is None or image.isNull():
            return None
        width = min(_dots(PICTURE_MM[0]), self._width - _dots(INSIDE_MM))
        high = width * image.height() / image.width()

        def draw(painter: QPainter, x: float, y: float) -> None:
            painter.drawImage(QRectF(x + _dots(INSIDE_MM), y, width, high), image)

        return _Piece(high, _dots(4), draw)
