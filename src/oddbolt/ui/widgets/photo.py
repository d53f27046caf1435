"""The photograph of a state with its marks: pan, zoom, click to mark, drag to move a mark."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, QTimer, Signal
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
CORNERS = {"upper right": (1, -1), "upper left": (-1, -1), "lower right": (1, 1), "lower left": (-1, 1)}


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
        self._shown: list[Pin] = []
        self._sprites: dict[tuple[str, str, str, bool, str], tuple[QPixmap, QPointF]] = {}
        self._settle = QTimer(self)  # tags find new places when zooming has come to rest
        self._settle.setSingleShot(True)
        self._settle.setInterval(120)
        self._settle.timeout.connect(lambda: self.show_pins(self._shown))
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
        """Show marks in place of those shown. Tags go where they cover no other, as the zoom is now."""
        self._shown = list(pins)
        for item in self._pins:
            self._scene.removeItem(item)
        self._pins = []
        taken: list[QRectF] = []
        scale = self.transform().m11() or 1
        for pin in pins:
            corner = self._free_corner(pin, QPointF(pin.x * scale, pin.y * scale), taken)
            pixmap, anchor = self._sprite(pin, corner)
            item = QGraphicsPixmapItem(pixmap)
            item.setOffset(-anchor)
            item.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
            item.setPos(pin.x, pin.y)
            item.setOpacity(0.45 if pin.spent else 1.0)
            item.setZValue(2 if pin.chosen else 1)
            item.setToolTip(pin.text)
            self._scene.addItem(item)
            self._pins.append(item)

    def _free_corner(self, pin: Pin, spot: QPointF, taken: list[QRectF]) -> str:
        """The corner of a mark where its tag covers no tag or ring yet; names give way, letters never do."""
        width = self._tag_width(pin)
        ring = QRectF(spot.x() - RING, spot.y() - RING, 2 * RING, 2 * RING)
        chosen = ""
        for corner, (dx, dy) in CORNERS.items():
            left = spot.x() + (RING - 5 if dx > 0 else -(RING - 5) - width)
            top = spot.y() + (RING - 6 if dy > 0 else -(RING - 6) - TAG_HEIGHT)
            box = QRectF(left, top, width, TAG_HEIGHT)
            if not any(box.intersects(other) for other in taken):
                taken.append(box)
                chosen = corner
                break
        taken.append(ring)
        if chosen or (pin.kind != "screw" and not pin.chosen):
            return chosen
        return next(iter(CORNERS))

    def _tag_width(self, pin: Pin) -> float:
        if pin.kind == "screw":
            return tag_width(pin.text)
        return QFontMetricsF(self._tag_font(pin.chosen)).horizontalAdvance(pin.text) + 14

    def _tag_font(self, strong: bool) -> QFont:
        font = QFont(self.font())
        font.setPixelSize(12)
        font.setWeight(QFont.Weight.DemiBold if strong else QFont.Weight.Normal)
        return font

    def _sprite(self, pin: Pin, corner: str) -> tuple[QPixmap, QPointF]:
        key = (pin.text, pin.drive, pin.kind, pin.chosen, corner)
        if key not in self._sprites:
            self._sprites[key] = self._draw_sprite(pin, corner)
        return self._sprites[key]

    def _draw_sprite(self, pin: Pin, corner: str) -> tuple[QPixmap, QPointF]:
        """A mark as a picture, and the place of its point in it; without a corner it has no tag."""
        tag = self._tag_width(pin) if corner else 0.0
        reach_x, reach_y = RING + 2 + tag, RING + 2 + TAG_HEIGHT
        ratio = self.devicePixelRatioF()
        pixmap = QPixmap(round(2 * reach_x * ratio), round(2 * reach_y * ratio))
        pixmap.setDevicePixelRatio(ratio)
        pixmap.fill(Qt.GlobalColor.transparent)
        painter = QPainter(pixmap)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        anchor = QPointF(reach_x, reach_y)
        self._draw_point(painter, pin, anchor)
        if corner:
            dx, dy = CORNERS[corner]
            left = anchor.x() + (RING - 5 if dx > 0 else -(RING - 5) - tag)
            top = anchor.y() + (RING - 6 if dy > 0 else -(RING - 6) - TAG_HEIGHT)
            painter.setFont(self._tag_font(pin.chosen))
            if pin.kind == "screw":
                draw_tag(painter, left, top, pin.text, pin.drive)
            else:
                self._draw_name(painter, pin, QRectF(left, top, tag, TAG_HEIGHT))
        painter.end()
        return pixmap, anchor

    @staticmethod
    def _draw_point(painter: QPainter, pin: Pin, anchor: QPointF) -> None:
        """Ring for a screw, diamond for a plug, square for anything else."""
        light = QColor("#FFD9A8" if pin.chosen else "#FFFFFF")
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for colour, line in ((QColor(0, 0, 0, 150), 4.0), (light, 3.0 if pin.chosen else 2.0)):
            painter.setPen(QPen(colour, line))
            if pin.kind == "screw":
                painter.drawEllipse(anchor, RING - 2, RING - 2)
            elif pin.kind == "plug":
                painter.drawPolygon([anchor + QPointF(0, -7), anchor + QPointF(7, 0), anchor + QPointF(0, 7),
                                     anchor + QPointF(-7, 0)])
            else:
                painter.drawRect(QRectF(anchor.x() - 4, anchor.y() - 4, 8, 8))

    @staticmethod
    def _draw_name(painter: QPainter, pin: Pin, box: QRectF) -> None:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor("#B5541C") if pin.chosen else QColor(24, 30, 34, 225))
        painter.drawRoundedRect(box, 4, 4)
        painter.setPen(QColor("#FFFFFF"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, pin.text)

    def show_marking(self, marking: bool) -> None:
        """Whether a click marks: the pointer says so."""
        self.viewport().setCursor(Qt.CursorShape.CrossCursor if marking else Qt.CursorShape.ArrowCursor)

    # -- pan and zoom

    def fit(self) -> None:
        self._fits = True
        if not self._photo.pixmap().isNull():
            self.fitInView(self._photo, Qt.AspectRatioMode.KeepAspectRatio)
            self._settle.start()

    def zoom(self, factor: float) -> None:
        self._fits = False
        scale = self.transform().m11() * factor
        if 0.05 < scale < 12:
            self.scale(factor, factor)
            self._settle.start()

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
