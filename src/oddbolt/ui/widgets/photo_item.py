"""A photograph as a scene item that draws quickly at every zoom: halves of it are kept, the nearest is drawn."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSizeF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPen, QPixmap
from PySide6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

SMALLEST_PX = 400  # no halves below this


class PhotoItem(QGraphicsItem):
    """Pixels of the full photograph are its coordinates, also while only a reduced reading is there."""

    def __init__(self) -> None:
        super().__init__()
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemUsesExtendedStyleOption)
        self._levels: list[QPixmap] = []
        self._size = QSizeF()
        self._wipe: QPixmap | None = None
        self._share = 0.5
        self._shown = 0  # identity of the image that is shown

    def is_null(self) -> bool:
        return not self._levels

    def set_image(self, image: QImage, full_size: tuple[int, int] | None = None) -> None:
        if self._levels and image.cacheKey() == self._shown:
            return
        self.prepareGeometryChange()
        self._shown = image.cacheKey()
        self._size = QSizeF(*full_size) if full_size else QSizeF(image.size())
        self._levels = [QPixmap.fromImage(image)] if not image.isNull() else []
        while self._levels and max(image.width(), image.height()) > 2 * SMALLEST_PX:
            image = image.scaled(image.size() / 2, Qt.AspectRatioMode.IgnoreAspectRatio,
                                 Qt.TransformationMode.SmoothTransformation)
            self._levels.append(QPixmap.fromImage(image))
        self.update()

    def set_wipe(self, image: QImage | None, share: float) -> None:
        self._wipe = QPixmap.fromImage(image) if image is not None else None
        self._share = share
        self.update()

    def set_wipe_share(self, share: float) -> None:
        self._share = share
        self.update()

    def boundingRect(self) -> QRectF:  # noqa: N802 (Qt's name)
        return QRectF(0, 0, self._size.width(), self._size.height())

    def paint(self, painter: QPainter, option: QStyleOptionGraphicsItem, widget: QWidget | None = None) -> None:
        if not self._levels:
            return
        wanted = painter.worldTransform().m11() * painter.device().devicePixelRatioF() * self._size.width()
        level = self._levels[0]
        for smaller in self._levels[1:]:
            if smaller.width() < wanted:
                break
            level = smaller
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        visible = option.exposedRect.intersected(self.boundingRect())
        painter.drawPixmap(visible, level, _part_of(level, visible, self._size))
        if self._wipe is not None:
            left = QRectF(0, 0, self._size.width() * self._share, self._size.height()).intersected(visible)
            painter.drawPixmap(left, self._wipe, _part_of(self._wipe, left, self._size))
            painter.setPen(QPen(QColor("#FFD9A8"), 0))
            painter.drawLine(left.topRight(), left.bottomRight())


def _part_of(pixmap: QPixmap, area: QRectF, size: QSizeF) -> QRectF:
    """The part of a reduced pixmap that shows an area of the whole."""
    sx, sy = pixmap.width() / size.width(), pixmap.height() / size.height()
    return QRectF(area.x() * sx, area.y() * sy, area.width() * sx, area.height() * sy)
