"""A photograph of the record, near to the marks of one thing."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QImage, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from oddbolt.model.things import Mark, View
from oddbolt.paint.images import image_size, read_image
from oddbolt.paint.step_picture import draw_step
from oddbolt.reassembly.rebuilding.pictures import Picture
from oddbolt.words.translate import tr

READ_PX = 2000


class ThingPhoto(QWidget):
    """Where nothing is marked, the middle of the photograph."""

    def __init__(self, name: str, text_px: float) -> None:
        super().__init__()
        self._text_px = text_px
        self._picture: Picture | None = None
        self._image, self._ratio, self._letter = QImage(), 1.0, ""
        self.setAccessibleName(name)

    def show_marks(self, view: View | None, body: bytes | None, marks: Sequence[Mark], letter: str = "") -> None:
        """`body` is the photograph of the view; `letter` that of its screws."""
        whole = image_size(body) if body else None
        self._picture = None
        if view is not None and body and whole:
            self._image = read_image(body, READ_PX)
            self._ratio = self._image.width() / whole[0]
            self._picture, self._letter = Picture(view=view, marks=tuple(marks)), letter
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:  # noqa: N802 (Qt's name)
        painter = QPainter(self)
        if self._picture is None or self._image.isNull():
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap,
                             tr("No photograph shows it"))
        elif self._picture.marks:
            draw_step(painter, QRectF(self.rect()), self._picture, self._image, self._ratio, self._letter,
                      self._text_px)
        else:
            whole, room = QRectF(self._image.rect()), QRectF(self.rect())
            scale = max(room.width() / whole.width(), room.height() / whole.height())
            shown = QRectF(0, 0, room.width() / scale, room.height() / scale)
            shown.moveCenter(whole.center())
            painter.drawImage(room, self._image, shown)
        painter.end()
