"""The sections of all devices, small, beside each other on one scale."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QPainter, QPaintEvent
from PySide6.QtWidgets import QScrollArea, QVBoxLayout, QWidget

from oddbolt.paint.palette import Palette
from oddbolt.paint.section import NARROWEST, SectionPicture
from oddbolt.reports.content.strata import DrawnSection
from oddbolt.ui.pieces.sheet import tip
from oddbolt.words.translate import tr

SCALE = 0.8
TITLE, BETWEEN = 26.0, 18.0


class _Strata(QWidget):
    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._palette = palette
        self.pictures: list[tuple[str, SectionPicture]] = []
        self.setAccessibleName(tr("Sections of all devices on one scale"))

    def show_sections(self, named: Sequence[tuple[str, DrawnSection]]) -> None:
        self.pictures = [(name, SectionPicture(
            drawn.section, tuple(planner.teardown for planner in drawn.planners),
            NARROWEST * SCALE * max(1, len(drawn.section.columns)) + 40, SCALE)) for name, drawn in named]
        wide = sum(picture.size.width() + BETWEEN for _, picture in self.pictures)
        high = max((picture.size.height() for _, picture in self.pictures), default=10.0) + TITLE
        self.setFixedSize(max(1, round(wide)), round(high))
        self.setToolTip(tip(tr("Thickness grows with the square root of the time, alike in all")))
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:  # noqa: N802 (Qt's name)
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(self._palette.sheet))
        x = 0.0
        for name, picture in self.pictures:
            font = QFont(painter.font())
            font.setWeight(QFont.Weight.DemiBold)
            painter.save()
            painter.setFont(font)
            painter.setPen(QColor(self._palette.ink))
            painter.drawText(QRectF(x + 14, 0, picture.size.width(), TITLE), Qt.AlignmentFlag.AlignVCenter, name)
            painter.restore()
            painter.save()
            painter.translate(QPointF(x, TITLE))
            picture.draw(painter, self._palette)
            painter.restore()
            x += picture.size.width() + BETWEEN
        painter.end()


class StrataPage(QWidget):
    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self.strata = _Strata(palette)
        self._area = QScrollArea()
        self._area.setWidget(self.strata)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self._area)

    def show_sections(self, named: Sequence[tuple[str, DrawnSection]]) -> None:
        self.strata.show_sections(named)
