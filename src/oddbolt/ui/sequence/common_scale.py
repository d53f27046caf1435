"""One scale for the lanes of two sequences: all of the longer one fits the width, until somebody zooms. Long waits can
be folded; lanes that have nothing in sight are shut when the scrolling rests."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QEvent, QObject, QTimer
from PySide6.QtWidgets import QScrollArea

from oddbolt.ui.sequence.lanes import LanesView

RESTS_AFTER_MS = 150
BESIDE_LANES_PX = 216  # names of tools on the left, and room on the right


class CommonScale(QObject):
    """Follows the width of the area and the zooming of the views."""

    def __init__(self, area: QScrollArea, views: Sequence[LanesView]) -> None:
        super().__init__(area)
        self._area, self._views = area, views
        self._by_hand = False
        self._folded = False
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(RESTS_AFTER_MS)
        self._rest.timeout.connect(self._shut_lanes)
        for signal in (area.horizontalScrollBar().valueChanged, area.horizontalScrollBar().rangeChanged):
            signal.connect(lambda *_: self._rest.start())
        area.installEventFilter(self)
        for view in views:
            view.zoomed.connect(self.zoom)

    def renew(self) -> None:
        """Other sequences are shown."""
        if self._by_hand:
            self._set(self._views[0].axis.px_per_s)
        else:
            self._fit()

    def fold_waits(self, folded: bool) -> None:
        self._folded = folded
        self.renew()

    def _fit(self) -> None:
        room = max(200, self._area.viewport().width() - BESIDE_LANES_PX)
        self._set(min(view.fitting(room, folded=self._folded) for view in self._views))

    def _set(self, px_per_s: float) -> None:
        for view in self._views:
            view.set_scale(px_per_s, folded=self._folded)
        self._rest.start()

    def _shut_lanes(self) -> None:
        for view in self._views:
            view.shut_lanes(self._area.viewport().width())

    def zoom(self, by: float) -> None:
        """Both by the same; 0 fits all of it."""
        self._by_hand = by > 0
        if not by:
            self._fit()
            return
        self._set(self._views[0].axis.px_per_s * by)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:  # noqa: N802 (Qt's name)
        if event.type() == QEvent.Type.Resize:
            QTimer.singleShot(0, self, self.renew)
        return False
