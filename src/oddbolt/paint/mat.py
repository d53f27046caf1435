"""The mat: the photograph's outline at true scale with a numbered place for each bolt, on as many sheets as needed."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from msgspec import Struct
from PySide6.QtCore import QBuffer, QIODevice, QLineF, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPen, QPolygonF
from PySide6.QtSvg import QSvgGenerator

from oddbolt.model.places import Spot
from oddbolt.paint.bolts import recess_path
from oddbolt.paint.pages import INK, MARGIN_MM, RULER_MM, Page, draw_ruler, draw_text, pdf
from oddbolt.paint.palette import letter_colour
from oddbolt.reports.plain_text import writable_svg

BAND_MM = 16.0  # below the drawing, for the ruler and the words
OVERLAP_MM = 8.0  # of neighbouring sheets, to be glued
PLACE_MM = 2.6  # radius of a bolt's place
SVG_UNITS = 100  # units of the drawing for a mm
FAINT = 0.28  # how strongly the photograph is printed



class Place(Struct, frozen=True, kw_only=True):
    """A bolt's place: mm from the upper left corner of the photograph, its number on the mat and its letter."""

    x_mm: float
    y_mm: float
    number: int
    letter: str
    drive: str


class Mat(Struct, frozen=True, kw_only=True):
    """A layer at true scale."""

    width_mm: float
    height_mm: float
    title: str
    places: tuple[Place, ...]
    outlines: tuple[tuple[Spot, ...], ...] = ()  # of parts, mm
    picture: QImage | None = None


class Tile(Struct, frozen=True, kw_only=True):
    """What one sheet shows: a part of the mat, mm, and its place among the sheets."""

    column: int
    row: int
    part: QRectF


def tiles(mat: Mat, page: Page) -> list[Tile]:
    """The sheets a mat takes, row by row; neighbours overlap."""
    width, height = page.size_mm
    wide, high = width - 2 * MARGIN_MM, height - 2 * MARGIN_MM - BAND_MM
    return [Tile(column=k, row=n, part=QRectF(x, y, min(wide, mat.width_mm - x), min(high, mat.height_mm - y)))
            for n, y in enumerate(_starts(mat.height_mm, high)) for k, x in enumerate(_starts(mat.width_mm, wide))]


def _starts(length: float, room: float) -> list[float]:
    starts = [0.0]
    while starts[-1] + room < length - 1e-6:
        starts.append(starts[-1] + room - OVERLAP_MM)
    return starts


def best_page(mat: Mat, name: str) -> Page:
    """Upright or lying, whichever takes fewer sheets."""
    return min((Page(name=name), Page(name=name, lying=True)), key=lambda page: len(tiles(mat, page)))


def mat_pdf(mats: Sequence[Mat], page_name: str, words: str) -> bytes:
    """All mats as one PDF; `words` stand beside the ruler of each sheet. Sheets of one paper, each mat its own way."""
    lying = [best_page(mat, page_name).lying for mat in mats]
    page = Page(name=page_name, lying=sum(lying) * 2 > len(lying))
    sheets: list[Callable[[QPainter], None]] = []
    for mat in mats:
        own = tiles(mat, page)
        number = len(own)
        for tile in own:
            sheets.append(lambda painter, m=mat, t=tile, n=number: _sheet(painter, m, t, n, page, words))
    return pdf(page, mats[0].title if mats else "", sheets)


def _sheet(painter: QPainter, mat: Mat, tile: Tile, number: int, page: Page, words: str) -> None:
    _, height = page.size_mm
    painter.save()
    painter.translate(MARGIN_MM - tile.part.x(), MARGIN_MM - tile.part.y())
    painter.setClipRect(tile.part.adjusted(-0.2, -0.2, 0.2, 0.2))
    draw_mat(painter, mat)
    painter.restore()
    frame = tile.part.translated(MARGIN_MM - tile.part.x(), MARGIN_MM - tile.part.y())
    painter.setPen(QPen(QColor("#777777"), 0.1, Qt.PenStyle.DashLine))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if number > 1:
        painter.drawRect(frame)
    base = height - MARGIN_MM - 4
    draw_ruler(painter, MARGIN_MM, base)
    name = f"{mat.title}   {chr(ord('A') + tile.row)}{tile.column + 1}" if number > 1 else mat.title
    draw_text(painter, MARGIN_MM, base - 6, name, 3.0, bold=True)
    draw_text(painter, MARGIN_MM + RULER_MM + 5, base, words, 2.4)


def draw_mat(painter: QPainter, mat: Mat) -> None:
    """The whole mat, mm."""
    whole = QRectF(0, 0, mat.width_mm, mat.height_mm)
    if mat.picture is not None and not mat.picture.isNull():
        painter.setOpacity(FAINT)
        painter.drawImage(whole, mat.picture)
        painter.setOpacity(1.0)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(INK, 0.35))
    painter.drawRect(whole)
    painter.setPen(QPen(QColor("#555555"), 0.25))
    for outline in mat.outlines:
        painter.drawPolygon(QPolygonF([QPointF(x, y) for x, y in outline]))
    for place in mat.places:
        _draw_place(painter, place)


def _draw_place(painter: QPainter, place: Place) -> None:
    """A ring at the bolt's place with a fine cross in it, its recess and letter beside it, its number below."""
    spot = QPointF(place.x_mm, place.y_mm)
    colour = QColor(letter_colour(place.letter))
    painter.setBrush(QColor("#FFFFFF"))
    painter.setPen(QPen(colour, 0.4))
    painter.drawEllipse(spot, PLACE_MM, PLACE_MM)
    painter.setPen(QPen(INK, 0.1))
    for dx, dy in ((0.8, 0.0), (0.0, 0.8)):
        painter.drawLine(QLineF(place.x_mm - dx, place.y_mm - dy, place.x_mm + dx, place.y_mm + dy))
    painter.save()
    painter.translate(place.x_mm + PLACE_MM + 1.4, place.y_mm - 1.4)
    painter.fillPath(recess_path(place.drive, 1.1), colour)
    painter.restore()
    draw_text(painter, place.x_mm + PLACE_MM + 2.9, place.y_mm - 0.4, place.letter, 2.8, bold=True)
    draw_text(painter, place.x_mm + PLACE_MM + 0.5, place.y_mm + 2.7, str(place.number), 2.4)


def mat_svg(mat: Mat) -> bytes:
    """One mat as SVG: its size in mm, the whole on one drawing. Without the photograph, so that it stays small."""
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    made = QSvgGenerator()
    made.setOutputDevice(buffer)
    made.setResolution(round(25.4 * SVG_UNITS))
    made.setSize(QSize(round(mat.width_mm * SVG_UNITS), round(mat.height_mm * SVG_UNITS)))
    made.setViewBox(QRectF(0, 0, mat.width_mm * SVG_UNITS, mat.height_mm * SVG_UNITS))
    made.setTitle(mat.title)
    painter = QPainter(made)
    painter.scale(SVG_UNITS, SVG_UNITS)
    draw_mat(painter, Mat(width_mm=mat.width_mm, height_mm=mat.height_mm, title=mat.title, places=mat.places,
                          outlines=mat.outlines))
    painter.end()
    return writable_svg(bytes(buffer.data()))
