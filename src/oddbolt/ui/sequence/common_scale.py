"""One scale for the lanes of two sequences: all of the longer one fits the width, until somebody zooms."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QEvent, QObject, QTimer
from PySide6.QtWidgets import QScrollArea

from oddbolt.ui.sequence.lanes import LanesView

BESIDE_LANES_PX = 216  # names of tools on the left, and room on the right


class CommonScale(QObject):
    """Follows the width of the area and the zooming of the views."""

    def __init__(self, area: QScrollArea, views: Sequence[LanesView]) -> None:
        super().__init__(area)
        self._area, self._views = area, views
        self._by_hand = False
        area.installEventFilter(self)
        for view in views:
            view.zoomed.connect(self.zoom)

    def renew(self) -> None:
        """Other sequences are shown."""
        if not self._by_hand:
            self._fit()

    def _fit(self) -> None:
        longest = max(1.0, *(view.total_s for view in self._views))
        room = max(200, self._area.viewport().width() - BESIDE_LANES_PX)
        for view in self._views:
            view.set_scale(room / longest)

    def zoom(self, by: float) -> None:
        """Both by the same; 0 fits all of it."""
        self._by_hand = by > 0
        if not by:
            self._fit()
            return
        scale = self._views[0].px_per_s * by
        for view in self._views:
            view.set_scale(scale)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:  # noqa: N802 (Qt's name)
        if event.type() == QEvent.Type.Resize:
            QTimer.singleShot(0, self, self.renew)
        return False
