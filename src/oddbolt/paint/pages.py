"""Pages at true scale, in mm: PDF by Qt, with a ruler by which the print is checked. Texts come from whoever asks."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct
from PySide6.QtCore import QBuffer, QIODevice, QLineF, QMarginsF, QPointF, QRectF, QSizeF
from PySide6.QtGui import QColor, QFont, QPageLayout, QPageSize, QPainter, QPdfWriter, QPen

RESOLUTION_DPI = 1200
PAGES_MM = {"A4": (210.0, 297.0), "A3": (297.0, 420.0), "Letter": (215.9, 279.4)}  # ISO 216; ANSI/ASME Y14.1 A
MARGIN_MM = 10.0  # what common printers leave blank at most: common practice, no source
RULER_MM = 100
INK = QColor("#000000")


class Page(Struct, frozen=True, kw_only=True):
    """A page by name, upright or lying."""

    name: str = "A4"
    lying: bool = False

    @property
    def size_mm(self) -> tuple[float, float]:
        width, height = PAGES_MM[self.name]
        return (height, width) if self.lying else (width, height)


def pdf(page: Page, title: str, draw: list[Callable[[QPainter], None]]) -> bytes:
    """A PDF with a page for each function; they paint in mm from the upper left corner of the paper."""
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setResolution(RESOLUTION_DPI)
    writer.setTitle(title)
    writer.setCreator("Odd Bolt")
    upright = QPageSize(QSizeF(*PAGES_MM[page.name]), QPageSize.Unit.Millimeter, page.name)
    way = QPageLayout.Orientation.Landscape if page.lying else QPageLayout.Orientation.Portrait
    layout = QPageLayout(upright, way, QMarginsF(0, 0, 0, 0))
    layout.setMode(QPageLayout.Mode.FullPageMode)
    writer.setPageLayout(layout)
    painter = QPainter(writer)
    for number, paint in enumerate(draw):
        if number:
            writer.newPage()
        painter.save()
        painter.scale(RESOLUTION_DPI / 25.4, RESOLUTION_DPI / 25.4)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint(painter)
        painter.restore()
    painter.end()
    return bytes(buffer.data())


def draw_text(painter: QPainter, x_mm: float, y_mm: float, text: str, height_mm: float = 3.0, *,
              bold: bool = False) -> None:
    """Text with its baseline at a place; `height_mm` is that of the letters' box."""
    painter.save()
    painter.translate(x_mm, y_mm)
    painter.scale(height_mm / 100, height_mm / 100)  # fonts are laid out in whole pixels
    font = QFont(painter.font())
    font.setPixelSize(100)
    font.setBold(bold)
    painter.setFont(font)
    painter.setPen(INK)
    painter.drawText(QPointF(0, 0), text)
    painter.restore()


def draw_ruler(painter: QPainter, x_mm: float, y_mm: float) -> None:
    """A ruler of 100 mm: a line with a tick for each mm, longer ones for five and ten."""
    painter.setPen(QPen(INK, 0.15))
    painter.drawLine(QLineF(x_mm, y_mm, x_mm + RULER_MM, y_mm))
    for n in range(RULER_MM + 1):
        high = 4.0 if n % 10 == 0 else 3.0 if n % 5 == 0 else 2.0
        painter.drawLine(QLineF(x_mm + n, y_mm, x_mm + n, y_mm - high))
        if n % 10 == 0:
            draw_text(painter, x_mm + n - (0.8 if n < 100 else 1.8), y_mm + 3, str(n), 2.4)


def draw_dots(painter: QPainter, area_mm: QRectF, pitch_mm: float, dot_mm: float) -> int:
    """Dots on a square lattice centred in an area; returns their number."""
    across, down = int((area_mm.width() - dot_mm) / pitch_mm), int((area_mm.height() - dot_mm) / pitch_mm)
    left = area_mm.center().x() - across * pitch_mm / 2
    top = area_mm.center().y() - down * pitch_mm / 2
    painter.setPen(QPen(QColor(0, 0, 0, 0)))
    painter.setBrush(INK)
    for row in range(down + 1):
        for column in range(across + 1):
            painter.drawEllipse(QPointF(left + column * pitch_mm, top + row * pitch_mm), dot_mm / 2, dot_mm / 2)
    return (across + 1) * (down + 1)


def dot_sheet(page: Page, title: str, words: str, pitch_mm: float, dot_mm: float) -> bytes:
    """The sheet that lies under the device when it is measured: dots over the page, a ruler below them."""
    width, height = page.size_mm
    band = 14.0

    def draw(painter: QPainter) -> None:
        draw_dots(painter, QRectF(MARGIN_MM, MARGIN_MM, width - 2 * MARGIN_MM, height - 2 * MARGIN_MM - band),
                  pitch_mm, dot_mm)
        draw_ruler(painter, MARGIN_MM, height - MARGIN_MM - 4)
        draw_text(painter, MARGIN_MM + RULER_MM + 6, height - MARGIN_MM - 4, words, 2.6)

    return pdf(page, title, [draw])
