"""Depth against time of all devices, to point at: what is under the pointer is told, its like elsewhere stands out."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QSize, Qt, Signal
from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QToolTip, QWidget

from oddbolt.paint.documents.chart import ChartPicture
from oddbolt.paint.palette import Palette
from oddbolt.reports.content.report.ground import Chart
from oddbolt.ui.pieces.sheet import tip
from oddbolt.words.figures import interval_text, steps_text
from oddbolt.words.names import role_name
from oddbolt.words.translate import tr


class ChartView(QWidget):
    """Arrow keys go from point to point."""

    chosen = Signal(str)  # a role

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._palette = palette
        self._chart = Chart(devices=(), points=())
        self.picture = ChartPicture(self._chart, palette)
        self.point: int | None = None
        self.role = ""
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(tr("Depth against time"))
        self.setAccessibleDescription(tr("Left and right go from point to point"))

    def minimumSizeHint(self) -> QSize:  # noqa: N802 (Qt's name)
        return QSize(300, 170)

    def sizeHint(self) -> QSize:  # noqa: N802 (Qt's name)
        return QSize(700, 330)

    def show_chart(self, chart: Chart) -> None:
        self._chart = chart
        self.point = None
        self._lay_out()

    def show_role(self, role: str) -> None:
        self.role = role
        self.update()

    def said(self) -> str:
        """The point in hand, in words."""
        if self.point is None:
            return ""
        one = self._chart.points[self.point]
        took = interval_text(one.seconds, one.low_s, one.high_s)
        return tr("{0}, {1}: {2}, {3}").format(role_name(one.role), self._chart.devices[one.device],
                                               steps_text(one.steps), took)

    def _lay_out(self) -> None:
        self.picture = ChartPicture(self._chart, self._palette, self.width(), self.height())
        self.update()

    def resizeEvent(self, _event: object) -> None:  # noqa: N802 (Qt's name)
        self._lay_out()

    def paintEvent(self, _event: QPaintEvent) -> None:  # noqa: N802 (Qt's name)
        painter = QPainter(self)
        self.picture.draw(painter, self.point, self.role)
        painter.end()

    def _choose(self, point: int | None) -> None:
        if point == self.point:
            return
        self.point = point
        if point is not None:
            self.role = self._chart.points[point].role
            self.chosen.emit(self.role)
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802 (Qt's name)
        point = self.picture.point_at(event.position())
        if point is not None:
            self._choose(point)

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ToolTip and isinstance(event, QHelpEvent):
            self._choose(self.picture.point_at(event.pos().toPointF()))
            QToolTip.showText(event.globalPos(), tip(self.said()), self)
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802 (Qt's name)
        by = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        if not by or not self._chart.points:
            super().keyPressEvent(event)
            return
        order = sorted(range(len(self._chart.points)), key=lambda n: self._chart.points[n].seconds)
        place = order.index(self.point) + by if self.point is not None else (0 if by > 0 else -1)
        self._choose(order[place % len(order)])
        QToolTip.showText(self.mapToGlobal(self.picture.place(self._chart.points[self.point or 0]).toPoint()),
                          tip(self.said()), self)
