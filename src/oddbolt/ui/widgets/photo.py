"""The photograph of a state with its marks: pan, zoom, click to mark, drag marks and ends, draw round several."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import (
    QColor,
    QContextMenuEvent,
    QCursor,
    QDragEnterEvent,
    QDragMoveEvent,
    QDropEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QGraphicsItem, QGraphicsPixmapItem, QGraphicsScene, QGraphicsView, QWidget

from oddbolt.paint.palette import Palette
from oddbolt.paint.pins import RING, Pin
from oddbolt.ui.pieces.sheet import tip
from oddbolt.ui.widgets.overlay import End, Overlay, Proposal
from oddbolt.ui.widgets.photo_item import PhotoItem
from oddbolt.ui.widgets.pins import PinSprites
from oddbolt.ui.widgets.pointer_badge import PointerBadge
from oddbolt.words.translate import tr

DRAG_STARTS_PX = 5
MOVED = "moved"  # in place of a corner: it is not where the record has it, and is placed anew
SMALLEST, LARGEST = 0.02, 12.0
COVERED_KEYS = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier


# Large because Qt hands it eleven kinds of event, each in a method of its own.
class PhotoCanvas(QGraphicsView):
    """Emits places in pixels of the upright photograph. Knows nothing of the teardown."""

    clicked = Signal(float, float)
    pin_clicked = Signal(int)
    pin_moved = Signal(int, float, float)
    end_dropped = Signal(int, float, float)  # end of the chosen joint, place
    proposal_clicked = Signal(int)
    seen_clicked = Signal(int)
    edge_moved = Signal(object, object)  # the part of a ghost, its corners
    lassoed = Signal(object, object)  # pins within it, its corners
    covered_drawn = Signal(object)  # corners, drawn with both keys: what the part that came off had covered
    row_drawn = Signal(object, object)  # first place, last place
    files_dropped = Signal(object)  # paths
    arrow_pressed = Signal(float)  # Ctrl and an arrow key: a direction, degrees clockwise from the right
    pin_asked = Signal(int, object)  # the menu of a mark is wanted, at a place of the screen
    pin_opened = Signal(int)  # a mark clicked twice
    returned = Signal()  # the Return key, which elsewhere belongs to whatever has the focus

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._palette = palette
        # Made here and kept: asked for the one Qt makes, the binding loads every kind of widget to know its kind.
        self.port = QWidget()
        self.setViewport(self.port)
        self.mode = PointerBadge(self.port)  # what a click does, where it is done
        self._scene = QGraphicsScene(self)
        self.setScene(self._scene)
        self._photo = PhotoItem()
        self._scene.addItem(self._photo)
        self._pins: list[QGraphicsPixmapItem] = []
        self._shown: list[tuple[Pin, str]] = []  # with the corner of its tag
        self._drawn: tuple[list[Pin], float, str] = ([], 0.0, "")
        self._sprites = PinSprites()
        self.overlay = Overlay()
        self._marking = False
        self.lasso_armed = False  # the next drag draws round things
        self._settle = QTimer(self)  # tags find new places when zooming has come to rest
        self._settle.setSingleShot(True)
        self._settle.setInterval(120)
        self._settle.timeout.connect(lambda: self.show_pins(self.pins))
        self._fits = True
        self._pressed: QPointF | None = None
        self._held: int | None = None
        self._end: int | None = None
        self._edge: tuple[int, int] | None = None  # of a ghost: which one, which corner
        self._lassoing = self._in_row = self._wipe_follows = self._covered = False
        self.setAcceptDrops(True)
        self.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        self.setTransformationAnchor(QGraphicsView.ViewportAnchor.AnchorUnderMouse)
        self.setBackgroundBrush(QColor("#3B4442"))
        self.setFrameShape(QGraphicsView.Shape.NoFrame)
        for widget in (self, self.port):
            widget.setAccessibleName(tr("Photograph of the state"))
        self.setAccessibleDescription(tr("Click to mark, drag to pan, Shift and drag to draw round several, "
                                              "Ctrl and drag for a row, wheel to zoom, 0 to fit"))

    # -- content

    def show_photo(self, image: QImage, full_size: tuple[int, int] | None = None) -> None:
        """Show a photograph; `full_size` where the image is a reduced reading of a larger one."""
        self._photo.set_image(image, full_size)
        self._scene.setSceneRect(self._photo.boundingRect())
        if self._fits:
            self.fit()

    def show_wipe(self, image: QImage | None, share: float = 0.5, *, follows: bool = False) -> None:
        """Lay another photograph over the left part of this one, to compare; None takes it off. Its edge may follow
        the pointer."""
        self._photo.set_wipe(image, share)
        self._wipe_follows = follows and image is not None

    def set_wipe_share(self, share: float) -> None:
        self._photo.set_wipe_share(share)

    def show_pins(self, pins: Sequence[Pin]) -> None:
        """Show marks in place of those shown. Tags go where they cover no other, as the zoom is now."""
        scale = self.scale_now()
        drawn, self._drawn = self._drawn, (list(pins), scale, self.font().key())
        if drawn == self._drawn:
            return
        self.overlay.outlines = tuple(pin.outline for pin in pins if len(pin.outline) > 1)
        corners = self._sprites.free_corners(pins, scale, self.font())
        for item in self._pins[len(pins):]:
            self._scene.removeItem(item)
        del self._pins[len(pins):]
        before = self._shown
        for n, (pin, corner) in enumerate(zip(pins, corners)):
            if n == len(self._pins):
                item = QGraphicsPixmapItem()
                item.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIgnoresTransformations)
                self._scene.addItem(item)
                self._pins.append(item)
            elif n < len(before) and before[n] == (pin, corner):
                continue
            self._place(self._pins[n], pin, corner)
        self._shown = list(zip(pins, corners))

    def _place(self, item: QGraphicsPixmapItem, pin: Pin, corner: str) -> None:
        pixmap, anchor = self._sprites.picture(pin, corner, self.font(), self.devicePixelRatioF())
        item.setPixmap(pixmap)
        item.setOffset(-anchor)
        item.setPos(pin.x, pin.y)
        item.setOpacity(0.45 if pin.spent else 1.0)
        item.setZValue(2 if pin.chosen else 1)
        item.setToolTip(tip(pin.text))

    @property
    def pins(self) -> list[Pin]:
        """The marks that are shown."""
        return [pin for pin, _ in self._shown]

    def show_overlay(self, *, ends: Sequence[End] | None = None, proposals: Sequence[Proposal] | None = None,
                     line: Sequence[tuple[float, float]] | None = None) -> None:
        """Change what lies over the photograph; what is not given stays."""
        if ends is not None:
            self.overlay.ends = tuple(ends)
        if proposals is not None:
            self.overlay.proposals = tuple(proposals)
        if line is not None:
            self.overlay.line = [QPointF(x, y) for x, y in line]
        self.port.update()

    def drawForeground(self, painter: QPainter, rect: QRectF) -> None:  # noqa: N802 (Qt's name)
        self.overlay.paint(painter, self.scale_now())

    def show_marking(self, marking: bool) -> None:
        """Whether a click marks: the pointer says so."""
        self._marking = marking
        self.port.setCursor(Qt.CursorShape.CrossCursor if marking else Qt.CursorShape.ArrowCursor)

    def _on_photo(self, place: QPointF) -> QPointF:
        """A place drawn beyond the edge of the photograph is taken at its edge."""
        edge = self._scene.sceneRect()
        return QPointF(min(max(place.x(), edge.left()), edge.right()), min(max(place.y(), edge.top()), edge.bottom()))

    def scale_now(self) -> float:
        return self.transform().m11() or 1.0

    def pointer(self) -> tuple[float, float] | None:
        """Where the pointer is on the photograph, or None when it is elsewhere."""
        spot = self.port.mapFromGlobal(QCursor.pos())
        place = self.mapToScene(spot)
        inside = self.port.rect().contains(spot) and self._scene.sceneRect().contains(place)
        return (place.x(), place.y()) if inside else None

    # -- pan and zoom

    def fit(self) -> None:
        self._fits = True
        if not self._photo.is_null():
            self.fitInView(self._photo, Qt.AspectRatioMode.KeepAspectRatio)
            self._settle.start()

    def zoom(self, factor: float) -> None:
        self._fits = False
        if SMALLEST < self.scale_now() * factor < LARGEST:
            self.scale(factor, factor)
            self._settle.start()

    def resizeEvent(self, event: QResizeEvent) -> None:  # noqa: N802
        super().resizeEvent(event)
        if self._fits:
            self.fit()

    def wheelEvent(self, event: QWheelEvent) -> None:  # noqa: N802
        self.zoom(1.0015 ** event.angleDelta().y())

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        keys = {Qt.Key.Key_Plus: 1.25, Qt.Key.Key_Minus: 0.8}
        ways = {Qt.Key.Key_Right: 0.0, Qt.Key.Key_Down: 90.0, Qt.Key.Key_Left: 180.0, Qt.Key.Key_Up: 270.0}
        if event.key() in ways and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.arrow_pressed.emit(ways[event.key()])
        elif event.key() in keys:
            self.zoom(keys[event.key()])
        elif event.key() == Qt.Key.Key_0:
            self.fit()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.returned.emit()
        else:
            super().keyPressEvent(event)

    # -- clicks and drags

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
        place = self.mapToScene(event.position().toPoint())
        self._lassoing = self.lasso_armed or bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        self._covered = event.modifiers() & COVERED_KEYS == COVERED_KEYS
        self._in_row = not self._lassoing and bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if self._lassoing or self._in_row:
            self.overlay.lasso = [place]
            return
        self._end = self.overlay.end_at(place, self.scale_now())
        self._held = self.pin_at(event.position()) if self._end is None else None
        self._edge = self.overlay.edge_at(place, self.scale_now()) if self._held is None and self._end is None else None
        if self._held is None and self._end is None and self._edge is None:
            self.setDragMode(QGraphicsView.DragMode.ScrollHandDrag)
            super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        place = self.mapToScene(event.position().toPoint())
        if self._wipe_follows and self._pressed is None and self._scene.width():
            self.set_wipe_share(min(1.0, max(0.0, place.x() / self._scene.width())))
        if self._lassoing:
            self.overlay.lasso.append(place)
            self.port.update()
        elif self._in_row:
            self.overlay.lasso[1:] = [place]
            self.port.update()
        elif self._end is not None:
            self.overlay.dragged = (self._end, place)
            self.port.update()
        elif self._edge is not None and self._moved(event):
            self.overlay.edge = (*self._edge, place)
            self.port.update()
        elif self._held is not None and self._moved(event):
            self._pins[self._held].setPos(place)
            self._shown[self._held] = (self._shown[self._held][0], MOVED)
            self._drawn = ([], 0.0, "")
        else:
            super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        super().mouseReleaseEvent(event)
        self.setDragMode(QGraphicsView.DragMode.NoDrag)
        if event.button() != Qt.MouseButton.LeftButton or self._pressed is None:
            return
        moved, held, end, lassoing, in_row = self._moved(event), self._held, self._end, self._lassoing, self._in_row
        edge, corners = self._edge, self._dragged_edge()
        self._pressed = self._held = self._end = self._edge = self.overlay.dragged = self.overlay.edge = None
        self._lassoing = self._in_row = False
        spot = self._on_photo(self.mapToScene(event.position().toPoint()))
        if lassoing:
            self._close_lasso()
        elif in_row:
            first, self.overlay.lasso = self._on_photo(self.overlay.lasso[0]), []
            if moved:
                self.row_drawn.emit((first.x(), first.y()), (spot.x(), spot.y()))
        elif edge is not None and moved:
            self.edge_moved.emit(self.overlay.ghosts[edge[0]].of, corners)
        elif end is not None and moved:
            self.end_dropped.emit(end, spot.x(), spot.y())
        elif end is not None and (under := self.pin_at(event.position())) is not None:
            self.pin_clicked.emit(under)
        elif held is not None and moved:
            self.pin_moved.emit(held, spot.x(), spot.y())
        elif held is not None:
            self.pin_clicked.emit(held)
        elif not moved and self._scene.sceneRect().contains(self.mapToScene(event.position().toPoint())):
            self._click(spot)
        self.port.update()

    def _dragged_edge(self) -> tuple[tuple[float, float], ...]:
        """The corners of the ghost whose edge is being dragged."""
        return self.overlay.dragged_outline(self._edge[0]) if self._edge is not None else ()

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:  # noqa: N802
        pin = self.pin_at(QPointF(event.pos()))
        if pin is not None:
            self.pin_asked.emit(pin, event.globalPos())

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """While something is marked a double click is two clicks: screws lie close together."""
        pin = self.pin_at(event.position()) if not self._marking else None
        if pin is not None and event.button() == Qt.MouseButton.LeftButton:
            self.pin_opened.emit(pin)
        else:
            self.mousePressEvent(event)

    def _click(self, spot: QPointF) -> None:
        proposal = self.overlay.proposal_at(spot, self.scale_now())
        seen = self.overlay.seen_at(spot) if proposal is None and not self._marking else None
        if proposal is not None:
            self.proposal_clicked.emit(proposal)
        elif seen is not None:
            self.seen_clicked.emit(seen)
        else:
            self.clicked.emit(spot.x(), spot.y())

    def _close_lasso(self) -> None:
        pins = self.overlay.lassoed([(pin.x, pin.y) for pin, _ in self._shown])
        corners = [(p.x(), p.y()) for p in map(self._on_photo, self.overlay.lasso)]
        self.overlay.lasso = []
        self.port.update()
        if len(corners) > 2 and self._covered:
            self.covered_drawn.emit(corners)
        elif len(corners) > 2:
            self.lassoed.emit(pins, corners)

    def _moved(self, event: QMouseEvent) -> bool:
        return self._pressed is not None and (event.position() - self._pressed).manhattanLength() > DRAG_STARTS_PX

    # -- files

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:  # noqa: N802
        if event.mimeData().hasUrls():
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent) -> None:  # noqa: N802
        event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:  # noqa: N802
        self.files_dropped.emit([url.toLocalFile() for url in event.mimeData().urls() if url.isLocalFile()])
        event.acceptProposedAction()

    def changeEvent(self, event: QEvent) -> None:  # noqa: N802
        super().changeEvent(event)
        if event.type() == QEvent.Type.FontChange:
            self._sprites.clear()
            self._shown = [(pin, MOVED) for pin, _ in self._shown]
