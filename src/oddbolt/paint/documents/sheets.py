"""Pages of content as sheets: text flows over them, a heading stays with what follows it, a picture with its step, a
table goes on under its head. A sheet is drawn on paper (PDF) or on the screen, the same."""

from __future__ import annotations

import itertools
import tempfile
import textwrap
from collections.abc import Callable, Mapping, Sequence
from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import QBuffer, QMarginsF, QRectF, QSizeF, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QImage, QPageLayout, QPageSize, QPainter, QPdfWriter, QPen

from oddbolt.paint.documents.drawings import Drawn
from oddbolt.paint.documents.grids import laid_grid
from oddbolt.paint.documents.pieces import (
    CALM,
    DPI,
    INK,
    SMALL_MM,
    TEXT_MM,
    Piece,
    dots,
    font_of,
    text_piece,
)
from oddbolt.paint.pages import PAGES_MM
from oddbolt.reports.content.tree import (
    Block,
    Chapter,
    Contents,
    Drawing,
    Figure,
    Grid,
    Heading,
    Line,
    Page,
    Tick,
    Title,
)

MARGIN_MM, FOOT_MM = 16.0, 8.0
TITLE_MM, CHAPTER_MM, HEADING_MM = 6.0, 5.0, 4.2  # heights of type
LONGEST = 1200  # characters set in one piece; in the largest type it fills half a sheet
INSIDE_MM, BOX_MM = 9.0, 3.6
PICTURE_MM = (118.0, 66.0)
TALLEST_MM = 150.0  # of a picture or drawing
STOP, RULE = QColor("#A63A12"), QColor("#C9CEC8")
Footer = Callable[[int, int], str]  # page, of how many
Sheet = list[Piece]


class Pictures:
    """Pictures by number: their sizes are asked for when sheets are laid out, themselves only when one is drawn."""

    def size(self, number: int) -> tuple[int, int] | None:
        raise NotImplementedError

    def image(self, number: int) -> QImage:
        raise NotImplementedError


class HeldPictures(Pictures):
    """Pictures that are at hand."""

    def __init__(self, images: Mapping[int, QImage]) -> None:
        self._images = images

    def size(self, number: int) -> tuple[int, int] | None:
        image = self._images.get(number)
        return None if image is None or image.isNull() else (image.width(), image.height())

    def image(self, number: int) -> QImage:
        return self._images[number]


class Laid:
    """Sheets of a page of content on one kind of paper. To be made and drawn in one thread."""

    def __init__(self, page: Page, pictures: Pictures, drawings: Mapping[str, Drawn], paper: str,
                 footer: Footer) -> None:
        """`paper` is a name of PAGES_MM. Nothing is cut: what is higher than a sheet is split by its pieces only."""
        self.paper, self._footer = paper, footer
        self._metrics = QPdfWriter(QBuffer())  # what text is measured for
        self._metrics.setResolution(DPI)
        self._pictures, self._drawings = pictures, drawings
        self._width = dots(PAGES_MM[paper][0] - 2 * MARGIN_MM)
        self._high = dots(PAGES_MM[paper][1] - 2 * MARGIN_MM)
        self._chapters = [block for block in page.blocks if isinstance(block, Chapter)]
        self.title = next((block.text for block in page.blocks if isinstance(block, Title)), "") or next(
            (chapter.text for chapter in self._chapters), "")
        self._page_of: dict[str, int] = {}  # by chapter
        self.sheets = self._set(page.blocks)

    @property
    def chapters(self) -> list[tuple[str, int]]:
        """Names of chapters with their sheets, from 1."""
        return [(chapter.text, self._page_of[chapter.code]) for chapter in self._chapters]

    @property
    def begins(self) -> dict[str, int]:
        """By the code of a chapter the sheet on which it begins, from 1."""
        return dict(self._page_of)

    def draw(self, painter: QPainter, number: int) -> None:
        """Sheet `number`, from 1, in dots of DPI from the corner of the paper."""
        left, foot = dots(MARGIN_MM), dots(PAGES_MM[self.paper][1] - MARGIN_MM + FOOT_MM / 2)
        y = dots(MARGIN_MM)
        for n, piece in enumerate(self.sheets[number - 1]):
            y += piece.above if n else 0
            piece.draw(painter, left, y)
            y += piece.height
        painter.setFont(font_of(SMALL_MM))
        painter.setPen(CALM)
        painter.drawText(QRectF(left, foot, self._width, dots(FOOT_MM)), Qt.AlignmentFlag.AlignLeft,
                         self._footer(number, len(self.sheets)))

    # -- setting

    def _set(self, blocks: Sequence[Block]) -> list[Sheet]:
        sheets: list[Sheet] = [[]]
        used = 0.0

        def turn() -> None:
            nonlocal used
            sheets.append([])
            used = 0.0

        for group in self._groups(blocks):
            together = sum(piece.height + piece.above for piece in group)
            starts = group[0].chapter and sheets[-1]
            if starts or (sheets[-1] and used + together > self._high and together <= self._high):
                turn()
            for piece in group:
                if sheets[-1] and used + piece.height + piece.above > self._high:
                    turn()
                if piece.again is not None and not sheets[-1]:  # the head of a table that goes on
                    sheets[-1].append(piece.again)
                    used += piece.again.height
                used += piece.height + (piece.above if sheets[-1] else 0.0)
                if piece.chapter:
                    self._page_of[piece.chapter] = len(sheets)
                sheets[-1].append(piece)
        return sheets

    def _groups(self, blocks: Sequence[Block]) -> list[list[Piece]]:
        """What stays together: a heading or picture with what follows it, a step with the lines inside it."""
        groups: list[list[Piece]] = []
        joins = False
        for block in itertools.chain.from_iterable(map(_in_parts, blocks)):
            pieces = self._pieces(block)
            for n, piece in enumerate(pieces):
                if groups and not piece.chapter and (joins or (isinstance(block, Line) and block.inside) or (
                        0 < n <= (2 if isinstance(block, Grid) else 1) and isinstance(block, Grid | Figure | Drawing))):
                    groups[-1].append(piece)
                else:
                    groups.append([piece])
                joins = False
            if pieces:
                joins = isinstance(block, Title | Chapter | Heading) or (isinstance(block, Figure)
                                                                         and not block.caption)
        return groups

    def _pieces(self, block: Block) -> list[Piece]:
        if isinstance(block, Figure):
            return self._picture(block)
        if isinstance(block, Drawing):
            return self._drawing(block)
        if isinstance(block, Grid):
            return laid_grid(block, self._width, self._metrics)
        if isinstance(block, Contents):
            return [self._line_of_contents(chapter) for chapter in self._chapters]
        if isinstance(block, Title):
            return [self._text(block.text, font_of(TITLE_MM, bold=True), INK, above_mm=0)]
        if isinstance(block, Chapter):
            return [replace(self._text(block.text, font_of(CHAPTER_MM, bold=True), INK, above_mm=6),
                            chapter=block.code)]
        if isinstance(block, Heading):
            return [self._text(block.text, font_of(HEADING_MM, bold=True), INK, above_mm=5)]
        if isinstance(block, Tick):
            return [self._tick(block)]
        if isinstance(block, Line):
            text = f"{block.text} ({block.remark})" if block.remark else block.text
            return [self._text(text, font_of(TEXT_MM), INK, indent_mm=INSIDE_MM if block.inside else 0, above_mm=1)]
        return [self._text(block.text, font_of(SMALL_MM), CALM, above_mm=1.5)]

    def _text(self, text: str, font: QFont, colour: QColor, *, indent_mm: float = 0, above_mm: float) -> Piece:
        return text_piece(text, font, colour, self._width, self._metrics, indent_mm=indent_mm, above_mm=above_mm)

    def _line_of_contents(self, chapter: Chapter) -> Piece:
        """A chapter, dots, and the sheet that it begins on: known once all is set."""
        font = font_of(TEXT_MM)
        metrics = QFontMetricsF(font, self._metrics)

        def draw(painter: QPainter, x: float, y: float) -> None:
            painter.setFont(font)
            painter.setPen(INK)
            box, number = QRectF(x, y, self._width, metrics.height() * 1.2), str(self._page_of[chapter.code])
            painter.drawText(box, Qt.AlignmentFlag.AlignLeft, chapter.text)
            painter.drawText(box, Qt.AlignmentFlag.AlignRight, number)
            painter.setPen(QPen(RULE, dots(0.15)))
            base = y + metrics.ascent()
            painter.drawLine(round(x + metrics.horizontalAdvance(chapter.text) + dots(2)), round(base),
                             round(x + self._width - metrics.horizontalAdvance(number) - dots(2)), round(base))

        return Piece(metrics.height(), dots(1.2), draw)

    def _tick(self, block: Tick) -> Piece:
        """A box, the step, and behind it why it stands there; a check that stops the line has a bar beside it."""
        body = self._text(block.text, font_of(TEXT_MM, bold=True), INK, indent_mm=INSIDE_MM, above_mm=0)
        remark = self._text(block.remark, font_of(SMALL_MM), CALM, indent_mm=INSIDE_MM, above_mm=0) \
            if block.remark else None
        high = body.height + (remark.height if remark is not None else 0)

        def draw(painter: QPainter, x: float, y: float) -> None:
            painter.setPen(QPen(INK, dots(0.3)))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(x + dots(1.6), y + dots(0.4), dots(BOX_MM), dots(BOX_MM)))
            if block.is_check:
                painter.fillRect(QRectF(x - dots(2.5), y, dots(1.2), high), STOP)
            body.draw(painter, x, y)
            if remark is not None:
                remark.draw(painter, x, y + body.height)

        return Piece(high, dots(2.5), draw)

    def _picture(self, block: Figure) -> list[Piece]:
        size = self._pictures.size(block.number)
        if size is None:
            return []
        indent, widest = (0.0, 150.0) if block.caption else (INSIDE_MM, PICTURE_MM[0])
        width = min(dots(widest), self._width - dots(indent),
                    dots(block.tallest_mm or TALLEST_MM) * size[0] / size[1])
        high = width * size[1] / size[0]

        def draw(painter: QPainter, x: float, y: float) -> None:
            painter.drawImage(QRectF(x + dots(indent), y, width, high), self._pictures.image(block.number))

        return [Piece(high, dots(4), draw), *self._caption(block.caption)]

    def _drawing(self, block: Drawing) -> list[Piece]:
        drawn = self._drawings.get(block.name)
        if drawn is None or drawn.size.isEmpty():
            return []
        scale = min(self._width / drawn.size.width(), dots(block.tallest_mm or TALLEST_MM) / drawn.size.height(),
                    dots(drawn.unit_mm))

        def draw(painter: QPainter, x: float, y: float) -> None:
            painter.save()
            painter.translate(x, y)
            painter.scale(scale, scale)
            drawn.draw(painter)
            painter.restore()

        return [Piece(drawn.size.height() * scale, dots(4), draw), *self._caption(block.caption)]

    def _caption(self, caption: str) -> list[Piece]:
        return [self._text(caption, font_of(SMALL_MM), CALM, above_mm=1)] if caption else []


def document_pdf(page: Page, pictures: Pictures, paper: str, footer: Footer,
                 drawings: Mapping[str, Drawn] | None = None) -> bytes:
    """The sheets as PDF, with a bookmark for each chapter."""
    laid = Laid(page, pictures, drawings or {}, paper, footer)
    with tempfile.TemporaryDirectory(prefix="odd-bolt-") as folder:  # in memory it would be there several times
        path = Path(folder) / "sheets.pdf"
        _write_pdf(laid, path, paper)
        if laid.chapters:
            _add_bookmarks(path, laid.chapters)
        return path.read_bytes()


def _write_pdf(laid: Laid, path: Path, paper: str) -> None:
    writer = QPdfWriter(str(path))
    writer.setResolution(DPI)
    writer.setTitle(laid.title)
    writer.setCreator("Odd Bolt")
    layout = QPageLayout(QPageSize(QSizeF(*PAGES_MM[paper]), QPageSize.Unit.Millimeter, paper),
                         QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0))
    layout.setMode(QPageLayout.Mode.FullPageMode)
    writer.setPageLayout(layout)
    painter = QPainter(writer)
    try:
        for number in range(1, len(laid.sheets) + 1):
            if number > 1:
                writer.newPage()
            laid.draw(painter, number)
    finally:
        painter.end()


def _add_bookmarks(path: Path, chapters: Sequence[tuple[str, int]]) -> None:
    from pypdf import PdfWriter

    made = PdfWriter(path, incremental=True)  # what is new is written behind; nothing is copied
    for text, number in chapters:
        made.add_outline_item(title=text, page_number=number - 1)
    made.page_mode = "/UseOutlines"
    made.write(path)
    made.close()


def _in_parts(block: Block) -> list[Block]:
    """A text that might be higher than a sheet, as several; it goes on as lines of what it belongs to."""
    if isinstance(block, Figure | Drawing | Grid | Contents) or len(block.text) <= LONGEST:
        return [block]
    first, *rest = textwrap.wrap(block.text, LONGEST)
    return [replace(block, text=first), *(Line(part, inside=isinstance(block, Tick)) for part in rest)]
