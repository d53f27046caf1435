"""The picture of a step, as large as the room allows."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from oddbolt.paint.step_picture import ROUND, draw_step
from oddbolt.reassembly.rebuilding.pictures import Picture
from oddbolt.words.translate import tr


class StepPicture(QWidget):
    """Shows a picture near its marks."""

    def __init__(self) -> None:
        super().__init__()
        self._picture: Picture | None = None
        self._image, self._ratio, self._letter = QImage(), 1.0, ""
        self.setMinimumSize(QSize(240, 160))
        self.setAccessibleName(tr("Photograph before it came off"))

    def show_picture(self, picture: Picture | None, image: QImage, ratio: float, letter: str) -> None:
        """`image` is the photograph, reduced by `ratio`."""
        self._picture, self._image, self._ratio, self._letter = picture, image, ratio, letter
        count = len(picture.marks) if picture is not None else 0
        self.setAccessibleDescription(tr("{0} places are marked").format(count) if picture is not None
                                      else tr("No photograph shows it"))
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:  # noqa: N802 (Qt's name)
        painter = QPainter(self)
        if self._picture is None or self._image.isNull():
            painter.fillRect(self.rect(), ROUND)
            painter.setPen(QColor("#E4E9E8"))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, tr("No photograph shows it"))
        else:
            draw_step(painter, QRectF(self.rect()), self._picture, self._image, self._ratio, self._letter,
                      1.2 * self.fontMetrics().height())
        painter.end()
