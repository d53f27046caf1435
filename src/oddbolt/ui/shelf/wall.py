"""The wall of first photographs: a card each, drawn."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QAbstractListModel, QModelIndex, QPersistentModelIndex, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QKeyEvent, QPainter, QPainterPath, QPen, QPixmap
from PySide6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from oddbolt.paint.palette import Palette
from oddbolt.store.shelf.cards import DAMAGED, UNREADABLE, WHOLE, Card
from oddbolt.ui.pieces.sheet import tip
from oddbolt.ui.shelf.texts import about_text, open_text, reach_text, state_text, verdict_text, whole_text
from oddbolt.words.translate import tr

Index = QModelIndex | QPersistentModelIndex
CARD = Qt.ItemDataRole.UserRole
MOST_REACHES = 3  # of a card; the rest is in its tooltip
LINES = 7  # of text below the picture
PICTURE_SHARE = 0.5  # of the width of a card


class CardModel(QAbstractListModel):
    """Cards as they are asked for; the pictures of those that were seen are kept."""

    def __init__(self) -> None:
        super().__init__()
        self.cards: list[Card] = []
        self.tags: dict[str, tuple[str, ...]] = {}
        self._pictures: dict[tuple[str, int], QPixmap] = {}

    def show_cards(self, cards: Sequence[Card], tags: dict[str, tuple[str, ...]]) -> None:
        """In place where the same files stand in the same order, so that nothing jumps while they are examined."""
        same = [card.path for card in self.cards] == [card.path for card in cards]
        self.tags = tags
        if same:
            changed = [n for n, (old, new) in enumerate(zip(self.cards, cards)) if old is not new]
            self.cards = list(cards)
            for n in changed:
                self.dataChanged.emit(self.index(n), self.index(n))
            return
        self.beginResetModel()
        self.cards = list(cards)
        self.endResetModel()

    def rowCount(self, _parent: Index = QModelIndex()) -> int:  # noqa: N802, B008 (Qt's name and default)
        return len(self.cards)

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        card = self.cards[index.row()]
        if role == CARD:
            return card
        if role == Qt.ItemDataRole.DisplayRole:
            return card.name
        if role == Qt.ItemDataRole.ToolTipRole:
            return tip(whole_text(card, self.tags.get(card.path, ())))
        if role == Qt.ItemDataRole.AccessibleTextRole:
            return whole_text(card, self.tags.get(card.path, ()))
        return None

    def picture(self, card: Card) -> QPixmap:
        key = card.path, len(card.thumb)
        if key not in self._pictures:
            found = QPixmap()
            found.loadFromData(card.thumb)
            self._pictures[key] = found
        return self._pictures[key]


class _CardDelegate(QStyledItemDelegate):
    def __init__(self, model: CardModel, palette: Palette) -> None:
        super().__init__()
        self._model, self._palette = model, palette

    def sizeHint(self, option: QStyleOptionViewItem, _index: Index) -> QSize:  # noqa: N802 (Qt's name)
        line = QFontMetricsF(option.font).height()
        width = 15.5 * line
        return QSize(round(width), round(width * PICTURE_SHARE + LINES * line + 22))

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        card, p = self._model.cards[index.row()], self._palette
        box = QRectF(option.rect).adjusted(4, 4, -4, -4)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.setBrush(QColor(p.sunk))
        painter.setPen(QPen(QColor(p.accent if chosen else p.line), 2.4 if chosen else 1))
        painter.drawRoundedRect(box, 7, 7)
        picture = QRectF(box.x() + 1, box.y() + 1, box.width() - 2, box.width() * PICTURE_SHARE)
        self._picture(painter, card, picture, option.font)
        self._texts(painter, card, box.adjusted(9, picture.height() + 5, -9, -6), option.font)
        painter.restore()

    def _picture(self, painter: QPainter, card: Card, box: QRectF, font: QFont) -> None:
        path = QPainterPath()
        path.addRoundedRect(box, 6, 6)
        painter.save()
        painter.setClipPath(path)
        image = self._model.picture(card)
        if image.isNull():
            painter.fillRect(box, QColor(self._palette.page))
            painter.setPen(QColor(self._palette.faint))
            painter.setFont(font)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, tr("no photograph"))
        else:
            scale = max(box.width() / image.width(), box.height() / image.height())
            shown = QRectF(0, 0, box.width() / scale, box.height() / scale)
            shown.moveCenter(QRectF(image.rect()).center())
            painter.drawPixmap(box, image, shown)
        if card.state != WHOLE:
            wrong = card.state in (DAMAGED, UNREADABLE)
            text, metrics = state_text(card), QFontMetricsF(font)
            band = QRectF(box.x(), box.y(), metrics.horizontalAdvance(text) + 18, metrics.height() + 6)
            painter.fillRect(band, QColor(self._palette.warn if wrong else self._palette.accent))
            painter.setPen(QColor("#FFFFFF" if self._palette.name == "light" or wrong else self._palette.on_accent))
            painter.setFont(font)
            painter.drawText(band, Qt.AlignmentFlag.AlignCenter, text)
        painter.restore()

    def _texts(self, painter: QPainter, card: Card, box: QRectF, font: QFont) -> None:
        p, strong = self._palette, QFont(font)
        strong.setWeight(QFont.Weight.DemiBold)
        small = QFont(font)
        small.setPointSizeF(font.pointSizeF() * 0.92)
        y = box.y()
        odd = tr("{0} odd").format(card.odd) if card.is_examined and card.odd else ""
        y = self._line(painter, strong, p.ink, box, y, card.name, odd)
        y = self._line(painter, small, p.faint, box, y, about_text(card))
        for one in card.reaches[:MOST_REACHES]:
            y = self._line(painter, small, p.ink, box, y, reach_text(one))
        if len(card.reaches) > MOST_REACHES:
            y = self._line(painter, small, p.faint, box, y, tr("and {0} more").format(
                len(card.reaches) - MOST_REACHES))
        y = self._line(painter, small, p.ink, box, y, verdict_text(card))
        rest = [open_text(card), ", ".join(f"#{word}" for word in self._model.tags.get(card.path, ()))]
        self._line(painter, small, p.faint, box, y, " · ".join(one for one in rest if one))

    def _line(self, painter: QPainter, font: QFont, colour: str, box: QRectF, y: float, text: str,
              right: str = "") -> float:
        """A line, and what stands at its right end in a strong colour; where the next one begins."""
        metrics = QFontMetricsF(font)
        if not text or y + metrics.height() > box.bottom() + 3:
            return y
        painter.setFont(font)
        room = box.width()
        if right:
            room -= metrics.horizontalAdvance(right) + 8
            painter.setPen(QColor(self._palette.warn))
            painter.drawText(QRectF(box.x(), y, box.width(), metrics.height()), Qt.AlignmentFlag.AlignRight, right)
        painter.setPen(QColor(colour))
        painter.drawText(QRectF(box.x(), y, room, metrics.height()), Qt.AlignmentFlag.AlignLeft,
                         metrics.elidedText(text, Qt.TextElideMode.ElideRight, room))
        return y + metrics.height()


class Wall(QListView):
    """Return or a double click opens; T tags."""

    opened = Signal(str)
    tag_asked = Signal(str)

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self.cards = CardModel()
        self.setModel(self.cards)
        self._delegate = _CardDelegate(self.cards, palette)
        self.setItemDelegate(self._delegate)
        self.setViewMode(QListView.ViewMode.IconMode)
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.setMovement(QListView.Movement.Static)
        self.setUniformItemSizes(True)
        self.setSpacing(4)
        self.setVerticalScrollMode(QListView.ScrollMode.ScrollPerPixel)
        self.setAccessibleName(tr("Teardowns on the shelf"))
        self.setAccessibleDescription(tr("Return opens, T gives tags"))
        self.doubleClicked.connect(lambda index: self.opened.emit(index.data(CARD).path))

    @property
    def path(self) -> str:
        """The card in hand; empty where none is."""
        index = self.currentIndex()
        return index.data(CARD).path if index.isValid() else ""

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802 (Qt's name)
        if self.path and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.opened.emit(self.path)
        elif self.path and event.key() == Qt.Key.Key_T and not event.modifiers():
            self.tag_asked.emit(self.path)
        else:
            super().keyPressEvent(event)
