"""Pictures of marks, drawn once and kept."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QFont, QPainter, QPixmap

from oddbolt.paint.bolts import TAG_HEIGHT
from oddbolt.paint.pins import RING, Pin, draw_pin, free_corners, width_of_tag


class PinSprites:
    """Pictures of pins by what they look like, kept; and free corners for their tags."""

    def __init__(self) -> None:
        self._kept: dict[tuple[object, ...], tuple[QPixmap, QPointF]] = {}
        self._widths: dict[tuple[str, bool, bool, str], float] = {}

    def clear(self) -> None:
        self._kept.clear()

    def picture(self, pin: Pin, corner: str, font: QFont, ratio: float) -> tuple[QPixmap, QPointF]:
        """The picture and the place of the pin's point in it."""
        key = (pin.text, pin.drive, pin.kind, pin.chosen, pin.asked, pin.angle_deg, corner)
        if key not in self._kept:
            self._kept[key] = self._draw(pin, corner, font, ratio)
        return self._kept[key]

    def free_corners(self, pins: Sequence[Pin], scale: float, font: QFont) -> list[str]:
        """For each mark the corner of its tag."""
        return free_corners(pins, scale, lambda pin: self.tag_width(pin, font))

    def tag_width(self, pin: Pin, font: QFont) -> float:
        key = (pin.text, pin.kind == "screw", pin.chosen, font.key())
        if key not in self._widths:
            self._widths[key] = width_of_tag(pin, font)
        return self._widths[key]

    def _draw(self, pin: Pin, corner: str, font: QFont, ratio: float) -> tuple[QPixmap, QPointF]:
        tag = self.tag_width(pin, font) if corner else 0.0
        reach_x, reach_y = RING + 8 + tag, RING + 8 + TAG_HEIGHT
        pixmap = QPixmap(round(2 * reach_x * ratio), round(2 * reach_y * ratio))
        pixmap.setDevicePixelRatio(ratio)
        pixmap.fill(Qt.GlobalColor.transparent)
        painter = QPainter(pixmap)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        anchor = QPointF(reach_x, reach_y)
        draw_pin(painter, pin, corner, font, anchor, tag)
        painter.end()
        return pixmap, anchor
