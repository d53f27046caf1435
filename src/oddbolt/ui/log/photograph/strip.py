"""The strip of states: one small picture for each photograph, in the order they were taken."""

from __future__ import annotations

from contextlib import suppress

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QIcon, QPixmap
from PySide6.QtWidgets import QListView, QListWidget, QListWidgetItem

from oddbolt.model.refusal import Refusal
from oddbolt.model.things import SIDES, View
from oddbolt.session.session import Session
from oddbolt.ui.background.photos import Thumbs
from oddbolt.ui.pieces.delete_key import DeleteKey
from oddbolt.ui.pieces.sheet import tip
from oddbolt.words.names import side_name
from oddbolt.words.translate import tr

PICTURE = QSize(84, 56)


class Strip(QListWidget):
    """Shows thumbnails only; the photographs themselves are not read."""

    chosen = Signal(str)  # view

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown: tuple[tuple[str, str, str], ...] = ()
        self.delete_key = DeleteKey(self)
        self._thumbs = Thumbs(session.photo, self)
        self._thumbs.made.connect(self._thumb_made)
        self.setViewMode(QListView.ViewMode.IconMode)
        self.setFlow(QListView.Flow.LeftToRight)
        self.setMovement(QListView.Movement.Static)
        self.setWrapping(False)
        self.setIconSize(PICTURE)
        widest = max(self.fontMetrics().horizontalAdvance(f"88 · {side_name(side)}") for side in SIDES)
        self.setGridSize(QSize(max(92, widest + 12), 56 + 6 + self.fontMetrics().height()))
        self.setFixedHeight(56 + 28 + self.fontMetrics().height())
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName(tr("Strip of states"))
        self.currentRowChanged.connect(self._row_chosen)

    def refresh(self, view_id: str) -> None:
        """Show all states, this one chosen. What is shown already is not made again."""
        self.blockSignals(True)
        views = self._views()
        shown = tuple((view.id, view.photo, view.side) for view in views)
        if shown[:len(self._shown)] != self._shown or len(shown) < len(self._shown):
            self.clear()
            self._shown = ()
        for n in range(len(self._shown), len(views)):
            self.addItem(self._item(n + 1, views[n]))
        self._shown = shown
        row = next((n for n, view in enumerate(views) if view.id == view_id), -1)
        if row != self.currentRow():
            self.setCurrentRow(row)
        self.blockSignals(False)

    def _views(self) -> list[View]:
        return [view for view in self._session.teardown.views if view.portrait is None]

    def forget(self) -> None:
        """Another document: its photographs may have the same names."""
        self._shown = ()
        self._thumbs.clear()
        self.clear()

    def _item(self, number: int, view: View) -> QListWidgetItem:
        body = self._session.document.thumb(view.photo) if view.photo else b""
        if body is None:
            self._thumbs.want(view.photo)
        item = QListWidgetItem(_icon(body or b""), f"{number} · {side_name(view.side)}")
        item.setToolTip(tip(tr("State after {0}").format(view.at_entry) if view.at_entry
                            else tr("Before the first act")))
        return item

    def _thumb_made(self, name: str, thumb: bytes) -> None:
        with suppress(Refusal):  # it is made again the next time
            self._session.document.add_thumb(name, thumb)
        for n, (_, photo, _) in enumerate(self._shown):
            if photo == name:
                self.item(n).setIcon(_icon(thumb))

    def stop(self) -> None:
        self._thumbs.stop()

    def _row_chosen(self, row: int) -> None:
        views = self._views()
        if 0 <= row < len(views):
            self.chosen.emit(views[row].id)


def _icon(body: bytes) -> QIcon:
    thumb = QPixmap()
    thumb.loadFromData(body, "JPEG")
    if thumb.isNull():
        thumb = QPixmap(PICTURE)
        thumb.fill(Qt.GlobalColor.gray)
    return QIcon(thumb.scaled(PICTURE, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation))
