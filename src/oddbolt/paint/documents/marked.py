"""A photograph with its marks burned in: letters, names, outlines of parts."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QFont, QImage, QPainter, QPen, QPolygonF

from oddbolt.model.things import Teardown, View
from oddbolt.paint.fonts import FAMILY
from oddbolt.paint.pins import draw_pin, free_corners, width_of_tag
from oddbolt.paint.pins_of import pins_of

TAGS_ACROSS = 46.0  # tags are as high as the longer side by this
TAG_PX = 20.0  # the height that they are drawn for


def marked_image(image: QImage, ratio: float, teardown: Teardown, view: View) -> QImage:
    """A copy with marks; `ratio` is pixels of the image for one of the photograph."""
    made = image.convertToFormat(QImage.Format.Format_RGB32)
    painter = QPainter(made)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    scale = max(made.width(), made.height()) / TAGS_ACROSS / TAG_PX
    pins = pins_of(teardown, view, None, "", (), (), {})
    font = QFont(FAMILY)
    font.setPixelSize(12)
    for pin in pins:
        if len(pin.outline) > 2:
            corners = QPolygonF([QPointF(x, y) * ratio for x, y in pin.outline])
            for colour, line in ((QColor(0, 0, 0, 150), 3.2), (QColor("#FFFFFF"), 1.4)):
                painter.setPen(QPen(colour, line * scale))
                painter.drawPolygon(corners)
    painter.scale(scale, scale)
    widths = {id(pin): width_of_tag(pin, font) for pin in pins}
    room = QRectF(0, 0, made.width() / scale, made.height() / scale)
    corners_of = free_corners(pins, ratio / scale, lambda pin: widths[id(pin)], room)
    for pin, corner in zip(pins, corners_of):
        draw_pin(painter, pin, corner, font, QPointF(pin.x, pin.y) * ratio / scale, widths[id(pin)])
    painter.end()
    return made
