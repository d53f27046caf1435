"""What gives way in a low window: lines of what is told of the thing in hand, and the sum under the running list."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QObject

from oddbolt.ui.log.chosen.thing import FEW_LINES, TOLD_LINES

if TYPE_CHECKING:
    from oddbolt.ui.log.log_pieces import LogPieces

LOW_LINES = 40  # lines of text in a Log below which it is low


class Low(QObject):
    def __init__(self, panel: LogPieces) -> None:
        super().__init__(panel)
        self._panel = panel
        panel.installEventFilter(self)

    def eventFilter(self, _watched: QObject, event: QEvent) -> bool:  # noqa: N802 (Qt's name)
        if event.type() in (QEvent.Type.Resize, QEvent.Type.FontChange):
            panel = self._panel
            is_low = panel.height() < LOW_LINES * panel.fontMetrics().height()
            panel.thing.give_lines(FEW_LINES if is_low else TOLD_LINES)
            panel.performed.setMaximumHeight(0 if is_low else 2 * panel.fontMetrics().height())
        return False
