"""The photograph of a state with its marks: pan, zoom, click to mark, drag to move a mark."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QFont,
    QFontMetricsF,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPen,
    QPixmap,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QGraphicsItem, QGraphicsPixmapItem, QGraphicsScene, QGraphicsView

from oddbolt.paint.bolts import TAG_HEIGHT, draw_tag, tag_width
from oddbolt.paint.palette import Palette

RING = 11.0
DRAG_STARTS_PX = 5


@dataclass(frozen=True, slots=True)
class Pin:
    """A mark as it is shown."""

    x: float
    y: float
    text: str  # fastener letter, or a name
    drive: str  # empty for anything that is no screw
    kind: str  # screw, plug, part, other
    spent: bool  # released or lifted since: shown faintly
    chosen: bool


class PhotoCanvas(QGraphicsView):
    """Emits places in pixels of the upright photograph. Knows nothing of the teardown."""

    clicked = Signal(float, float)
    pin_clicked = Signal(int)
    pin_moved = Signal(int, float, float)

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._palette = palette
        self._scene = QGraphicsScene(self)
        self.setScene(self._scene)
        self._photo = QGraphicsPixmapItem()
        self._photo.setTransformationMode(Qt.TransformationMode.SmoothTransformation)
        self._scene.addItem(self._photo)
        self._pins: list[QGraphicsPixmapItem] = []
        self._sprites: dict[tuple[str, str, str, bool, bool, bool], tuple[QPixmap, QPointF]] = {}
        self._fits = True
        self._pressed: QPointF | None = None
        self._held: int | None = None
        self.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        self.setTransformationAnchor(QGraphicsView.ViewportAnchor.AnchorUnderMouse)
        self.setBackgroundBrush(QColor("#3B4442"))
        self.setFrameShape(QGraphicsView.Shape.NoFrame)
        for widget in (self, self.viewport()):
            widget.setAccessibleName(self.tr("Photograph of the state"))
        self.setAccessibleDescription(self.tr("Click to mark, drag to pan, wheel to zoom, 0 to fit"))

    # -- content

    def show_photo(self, image: QImage) -> None:
        self._photo.setPixmap(QPixmap.fromImage(image))
        self._scene.setSceneRect(QRectF(self._photo.pixmap().rect()))
        if self._fits:
            self.fit()

    def show_pins(self, pins: Sequence[Pin]) -> None:
        for item in self._pins:
            self._scene.removeItem(item)
        self._pins = []
        named: list[QRectF] = []
        for pin in pins:
            bare = pin.kind != "screw" and not pin.chosen and self._crowded(pin, named)
            pixmap, anchor = self._sprite(pin, bare)
            item = QGraphicsPixmapItem(pixmap)
            item.setOffset(-anchor)
            item.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
            item.setPos(pin.x, pin.y)
            item.setOpacity(0.45 if pin.spent else 1.0)
            item.setZValue(2 if pin.chosen else 1)
            item.setToolTip(pin.text)
            self._scene.addItem(item)
            self._pins.append(item)

    def _crowded(self, pin: Pin, named: list[QRectF]) -> bool:
        """Names keep a distance: one that would lie on another is shown as its point only, the name as a tip."""
        scale = self.transform().m11() or 1
        width = (7 * len(pin.text) + 22) / scale
        box = QRectF(pin.x, pin.y - 26 / scale, width, 24 / scale)
        if any(box.intersects(other) for other in named):
            return True
        named.append(box)
        return False

    def _sprite(self, pin: Pin, bare: bool) -> tuple[QPixmap, QPointF]:
        key = (pin.text, pin.drive, pin.kind, pin.spent, pin.chosen, bare)
        if key not in self._sprites:
            self._sprites[key] = self._draw_sprite(pin, bare)
        return self._sprites[key]

    def _draw_sprite(self, pin: Pin, bare: bool) -> tuple[QPixmap, QPointF]:
        font = QFont(self.font())
        font.setPixelSize(12)
        font.setWeight(QFont.Weight.DemiBold if pin.chosen else QFont.Weight.Normal)
        label = 0.0 if bare else tag_width(pin.text) if pin.kind == "screw" \
            else QFontMetricsF(font).horizontalAdvance(pin.text) + 14
        ratio = self.devicePixelRatioF()
        width, height = RING * 2 + 4 + label, RING * 2 + TAG_HEIGHT
        pixmap = QPixmap(round(width * ratio), round(height * ratio))
        pixmap.setDevicePixelRatio(ratio)
        pixmap.fill(Qt.GlobalColor.transparent)
        painter = QPainter(pixmap)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(font)
        anchor = QPointF(RING + 1, height - RING - 1)
        light = QColor("#FFD9A8" if pin.chosen else "#FFFFFF")
        for colour, line in ((QColor(0, 0, 0, 150), 4.0), (light, 3.0 if pin.chosen else 2.0)):
            painter.setPen(QPen(colour, line))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            if pin.kind == "screw":
                painter.drawEllipse(anchor, RING - 2, RING - 2)
            elif pin.kind == "plug":
                painter.drawPolygon([anchor + QPointF(0, -7), anchor + QPointF(7, 0), anchor + QPointF(0, 7),
                                     anchor + QPointF(-7, 0)])
            else:
                painter.drawRect(QRectF(anchor.x() - 4, anchor.y() - 4, 8, 8))
        if not bare and pin.kind == "screw":
            draw_tag(painter, RING + 5, 1, pin.text, pin.drive)
        elif not bare:
            box = QRectF(RING + 7, 1, label - 6, TAG_HEIGHT)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(24, 30, 34, 225) if not pin.chosen else QColor("#B5541C"))
            painter.drawRoundedRect(box, 4, 4)
            painter.setPen(QColor("#FFFFFF"))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, pin.text)
        painter.end()
        return pixmap, anchor

    def show_marking(self, marking: bool) -> None:
        """Whether a click marks: the pointer says so."""
        self.viewport().setCursor(Qt.CursorShape.CrossCursor if marking else Qt.CursorShape.ArrowCursor)

    # -- pan and zoom

    def fit(self) -> None:
        self._fits = True
        if not self._photo.pixmap().isNull():
            self.fitInView(self._photo, Qt.AspectRatioMode.KeepAspectRatio)

    def zoom(self, factor: float) -> None:
        self._fits = False
        scale = self.transform().m11() * factor
        if 0.05 < scale < 12:
            self.scale(factor, factor)

    def resizeEvent(self, event: QResizeEvent) -> None:  # noqa: N802 (Qt's name)
        super().resizeEvent(event)
        if self._fits:
            self.fit()

    def wheelEvent(self, event: QWheelEvent) -> None:  # noqa: N802
        self.zoom(1.0015 ** event.angleDelta().y())

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        keys = {Qt.Key.Key_Plus: 1.25, Qt.Key.Key_Minus: 0.8}
        if event.key() in keys:
            self.zoom(keys[event.key()])
        elif event.key() == Qt.Key.Key_0:
            self.fit()
        else:
            super().keyPressEvent(event)

    # -- clicks

    def pin_at(self, spot: QPointF) -> int | None:
        """The mark under a point of the viewport: the nearest one within its ring."""
        best, nearest = None, RING + 4
        for n, item in enumerate(self._pins):
            place = QPointF(self.mapFromScene(item.pos()))
            distance = ((place.x() - spot.x()) ** 2 + (place.y() - spot.y()) ** 2) ** 0.5
            if distance < nearest:
                best, nearest = n, distance
        return best

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        if event.button() != Qt.MouseButton.LeftButton:
            super().mousePressEvent(event)
            return
        self._pressed = event.position()
        self._held = self.pin_at(event.position())
        if self._held is None:
            self.setDragMode(QGraphicsView.DragMode.ScrollHandDrag)
            super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        if self._held is not None and self._moved(event):
            self._pins[self._held].setPos(self.mapToScene(event.position().toPoint()))
        else:
            super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        super().mouseReleaseEvent(event)
        self.setDragMode(QGraphicsView.DragMode.NoDrag)
        if event.button() != Qt.MouseButton.LeftButton or self._pressed is None:
            return
        moved, held = self._moved(event), self._held
        self._pressed = self._held = None
        spot = self.mapToScene(event.position().toPoint())
        if held is not None:
            if moved:
                self.pin_moved.emit(held, spot.x(), spot.y())
            else:
                self.pin_clicked.emit(held)
        elif not moved and self._scene.sceneRect().contains(spot):
            self.clicked.emit(spot.x(), spot.y())

    def _moved(self, event: QMouseEvent) -> bool:
        return self._pressed is not None and (event.position() - self._pressed).manhattanLength() > DRAG_STARTS_PX

    def changeEvent(self, event: QEvent) -> None:  # noqa: N802
        super().changeEvent(event)
        if event.type() == QEvent.Type.FontChange:
            self._sprites.clear()
