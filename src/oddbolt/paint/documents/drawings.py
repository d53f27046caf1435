"""What a report has drawn as lines (section, lanes, net, mats, chart), each with its size in units of its own."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct
from PySide6.QtCore import QBuffer, QIODevice, QPointF, QRectF, QSize, QSizeF
from PySide6.QtGui import QColor, QFont, QPainter
from PySide6.QtSvg import QSvgGenerator

from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown
from oddbolt.paint.documents.chart import ChartPicture
from oddbolt.paint.fonts import FAMILY
from oddbolt.paint.lanes import GUTTER, TITLE, LanesPicture
from oddbolt.paint.mat import draw_mat
from oddbolt.paint.mat_of import mat_of
from oddbolt.paint.net import NetPicture
from oddbolt.paint.palette import LIGHT
from oddbolt.paint.section import NARROWEST, SectionPicture
from oddbolt.paint.time_axis import TimeAxis
from oddbolt.reassembly.net import Net
from oddbolt.reports.content.lanes import idle_stretches, lane_items, lanes_of
from oddbolt.reports.content.report.ground import Chart, DrawnLanes, DrawnMat, Report
from oddbolt.reports.content.strata import DrawnSection
from oddbolt.reports.plain_text import writable_svg
from oddbolt.rules.counting import Count
from oddbolt.words.acts import short_operation
from oddbolt.words.figures import duration_text
from oddbolt.words.names import name_of, tool_name

WIDE = 1000.0
LONG_WAIT_S = 60.0
TEXT_PX = 12
SVG_UNITS = 8.0  # of an SVG for a millimetre of a mat
PhotoSize = Callable[[str], tuple[int, int] | None]  # width and height of a photograph by its name


class Drawn(Struct, frozen=True):
    """A drawing: its size in units, and how it is drawn from its upper left corner; `unit_mm` is what a unit is on
    paper at most."""

    size: QSizeF
    draw: Callable[[QPainter], None]
    unit_mm: float = 0.45


def drawn(report: Report, photo_size: PhotoSize) -> dict[str, Drawn]:
    """All drawings of a report by name; a mat whose photograph is not at hand is left out."""
    found: dict[str, Drawn] = {}
    for name, content in report.drawings.items():
        if isinstance(content, DrawnSection):
            found[name] = _section(content)
        elif isinstance(content, DrawnLanes):
            found[name] = _lanes(report, content)
        elif isinstance(content, Net):
            found[name] = _net(report.teardown, content)
        elif isinstance(content, Chart):
            picture = ChartPicture(content, LIGHT)
            found[name] = Drawn(picture.size, _with_font(picture.draw))
        else:
            mat = _mat(report.teardown, content, photo_size)
            if mat is not None:
                found[name] = mat
    return found


def _with_font(draw: Callable[[QPainter], object]) -> Callable[[QPainter], None]:
    """A painter's own font is in points of its device: here sizes are in units of the drawing."""
    def does(painter: QPainter) -> None:
        font = QFont(FAMILY)
        font.setPixelSize(TEXT_PX)
        painter.setFont(font)
        draw(painter)

    return does


def _section(content: DrawnSection) -> Drawn:
    teardowns = tuple(planner.teardown for planner in content.planners)
    picture = SectionPicture(content.section, teardowns, max(WIDE * 0.8, NARROWEST * len(content.section.columns)))
    return Drawn(picture.size, _with_font(lambda painter: picture.draw(painter, LIGHT)))


def _lanes(report: Report, content: DrawnLanes) -> Drawn:
    pictures = [(title, lanes_picture(report, counted)) for title, counted in content.lanes]
    high = sum(picture.height + TITLE + 10 for _, picture in pictures)

    def draw(painter: QPainter) -> None:
        for title, picture in pictures:
            painter.setPen(QColor(LIGHT.ink))
            painter.drawText(QPointF(4, 16), title)
            painter.translate(0, TITLE)
            picture.draw(painter)
            painter.translate(0, picture.height + 10)

    return Drawn(QSizeF(max(picture.width for _, picture in pictures), high), _with_font(draw))


def lanes_picture(report: Report, counted: Count) -> LanesPicture:
    """All of a sequence in one width, long waits folded."""
    teardown, structure = report.teardown, report.planner.structure
    lanes = lanes_of(lane_items(structure, counted))
    operations = [timed.operation for timed in counted.timed]
    axis = TimeAxis.fitting(WIDE - GUTTER - 40, lanes.total_s, idle_stretches(lanes, LONG_WAIT_S))
    return LanesPicture(lanes, LIGHT, axis, lambda place: short_operation(teardown, operations[place]),
                        lambda tool: tool_name(teardown, tool), duration_text)


def _net(teardown: Teardown, net: Net) -> Drawn:
    picture = NetPicture(net, {part: name_of(teardown, part) for part, _ in net.parts}, LIGHT, WIDE * 0.7)
    return Drawn(QSizeF(WIDE * 0.7, picture.height), _with_font(picture.draw))


def _mat(teardown: Teardown, content: DrawnMat, photo_size: PhotoSize) -> Drawn | None:
    view = content.layer.view
    size = photo_size(view.photo) if view is not None else None
    if size is None:
        return None
    try:
        mat = mat_of(teardown, content.layer, size, content.title)
    except Refusal:
        return None
    return Drawn(QSizeF(mat.width_mm, mat.height_mm), _with_font(lambda painter: draw_mat(painter, mat)), 1.0)


def as_svg(one: Drawn, title: str) -> bytes:
    """A drawing as a file of its own."""
    units = SVG_UNITS if one.unit_mm == 1.0 else 1.0
    width, high = one.size.width() * units, one.size.height() * units
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    made = QSvgGenerator()
    made.setOutputDevice(buffer)
    made.setSize(QSize(round(width), round(high)))
    made.setViewBox(QRectF(0, 0, width, high))
    made.setTitle(title)
    painter = QPainter(made)
    painter.fillRect(QRectF(0, 0, width, high), QColor(LIGHT.sheet))
    painter.scale(units, units)
    one.draw(painter)
    painter.end()
    return writable_svg(bytes(buffer.data()))
