"""The strip of a way: one small picture for each release or lift, its number, its name and its tool."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QModelIndex, QPersistentModelIndex, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QImage, QKeyEvent, QPainter, QPen
from PySide6.QtWidgets import QListView, QListWidget, QListWidgetItem, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from oddbolt.paint.palette import Palette
from oddbolt.ui.log.telling.crops import SIZE
from oddbolt.ui.pieces.sheet import tip

THING, PICTURE, LINES, NUMBER, ASSUMED, GROUND = (Qt.ItemDataRole.UserRole + n for n in range(6))
GAP = 5


class WayStrip(QListWidget):
    """Shows and says what is chosen; the keys of the left and right arrow walk it."""

    chosen = Signal(str)  # thing
    pressed_return = Signal()

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self.setViewMode(QListView.ViewMode.IconMode)
        self.setFlow(QListView.Flow.LeftToRight)
        self.setMovement(QListView.Movement.Static)
        self.setWrapping(False)
        self.setUniformItemSizes(True)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setHorizontalScrollMode(QListWidget.ScrollMode.ScrollPerPixel)
        self._drawn = ItemDrawing(palette)
        self.setItemDelegate(self._drawn)
        self.setFixedHeight(self._drawn.size(self.fontMetrics().height()).height() + 20)
        self.currentItemChanged.connect(lambda item, _: item is not None and self.chosen.emit(item.data(THING)))
        # Chosen again, it is meant: when something is pointed at.
        self.itemClicked.connect(lambda item: self.chosen.emit(item.data(THING)))

    def show_items(self, items: Sequence[tuple[str, tuple[str, str], bool, str]], chosen: str) -> None:
        """Each: thing, its two lines, whether it is assumed, the ground of its picture while there is none."""
        self.blockSignals(True)
        self.clear()
        for n, (thing, lines, assumed, ground) in enumerate(items):
            item = QListWidgetItem(f"{n + 1}. {lines[0]}, {lines[1]}")
            for role, value in ((THING, thing), (LINES, lines), (NUMBER, n + 1), (ASSUMED, assumed), (GROUND, ground)):
                item.setData(role, value)
            item.setToolTip(tip("\n".join(lines)))
            self.addItem(item)
            if thing == chosen:
                self.setCurrentItem(item)
        self.blockSignals(False)

    def show_pictures(self, picture_of: Callable[[str], QImage | None]) -> None:
        for n in range(self.count()):
            if (picture := picture_of(self.item(n).data(THING))) is not None:
                self.item(n).setData(PICTURE, picture)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802 (Qt's name)
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.pressed_return.emit()
        else:
            super().keyPressEvent(event)


class ItemDrawing(QStyledItemDelegate):
    """A picture in a frame, dashed where nobody has confirmed it, and two lines below."""

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._palette = palette

    def size(self, line_px: int) -> QSize:
        return QSize(SIZE.width() + 2 * GAP, SIZE.height() + 2 * GAP + 2 * line_px + 2)

    def sizeHint(self, option: QStyleOptionViewItem, _index: QModelIndex | QPersistentModelIndex) -> QSize:  # noqa: N802
        return self.size(option.fontMetrics.height())

    def paint(self, painter: QPainter, option: QStyleOptionViewItem,
              index: QModelIndex | QPersistentModelIndex) -> None:
        colours, box, lines = self._palette, option.rect, index.data(LINES)
        picture = QRect(box.left() + GAP, box.top() + GAP, SIZE.width(), SIZE.height())
        is_chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if is_chosen:
            painter.fillRect(box.adjusted(1, 1, -1, -1), QColor(colours.accent))
        image = index.data(PICTURE)
        if isinstance(image, QImage) and not image.isNull():
            painter.drawImage(picture, image)
        else:
            painter.fillRect(picture, QColor(index.data(GROUND)))
        pen = QPen(QColor(colours.on_accent if is_chosen else colours.ink), 1.6)
        if index.data(ASSUMED):
            pen.setStyle(Qt.PenStyle.DashLine)
        painter.setPen(pen)
        painter.drawRect(QRectF(picture).adjusted(0.5, 0.5, -0.5, -0.5))
        self._number(painter, picture, str(index.data(NUMBER)))
        painter.setPen(QColor(colours.on_accent if is_chosen else colours.ink))
        metrics = option.fontMetrics
        for n, text in enumerate(lines):
            if n and not is_chosen:
                painter.setPen(QColor(colours.faint))
            place = QRect(picture.left(), picture.bottom() + 3 + n * metrics.height(), picture.width(),
                          metrics.height())
            painter.drawText(place, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter,
                             metrics.elidedText(text, Qt.TextElideMode.ElideRight, place.width()))
        painter.restore()

    def _number(self, painter: QPainter, picture: QRect, number: str) -> None:
        metrics = painter.fontMetrics()
        box = QRectF(picture.left() + 3, picture.top() + 3, max(18, metrics.horizontalAdvance(number) + 8),
                     metrics.height() + 1)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(self._palette.ink))
        painter.drawRoundedRect(box, 4, 4)
        painter.setPen(QColor(self._palette.sheet))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, number)
