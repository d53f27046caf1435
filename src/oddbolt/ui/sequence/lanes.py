"""Lanes as widgets: one sequence each, on a scale of its own setting; operations are dragged to another place."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRect, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFont, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PySide6.QtWidgets import QToolTip, QWidget

from oddbolt.paint.lanes import GUTTER, TITLE, LanesPicture
from oddbolt.paint.palette import Palette
from oddbolt.paint.time_axis import TimeAxis
from oddbolt.reports.content.lanes import LaneItem, idle_stretches, lane_items, lanes_of
from oddbolt.rules.counting import Count
from oddbolt.rules.device_state import Operation
from oddbolt.rules.structure import Structure
from oddbolt.session.session import Session
from oddbolt.ui.pieces.sheet import tip
from oddbolt.words.acts import short_operation
from oddbolt.words.figures import duration_text
from oddbolt.words.names import tool_name
from oddbolt.words.times import estimate_text
from oddbolt.words.translate import tr

LEAST_SCALE, MOST_SCALE = 0.005, 20.0
LONG_WAIT_S = 60.0  # from here on a wait in which nothing is done is folded, if asked for


class LanesView(QWidget):
    """One sequence with a title. `movable`: its operations can be dragged."""

    item_chosen = Signal(int)
    dropped = Signal(int, int)  # from, before which
    zoomed = Signal(float)  # by how much; 0: so that all of it fits
    hovered = Signal(int, int)  # dragged item, place it would come to

    def __init__(self, session: Session, palette: Palette, *, movable: bool) -> None:
        super().__init__()
        self._session = session
        self._palette = palette
        self._movable = movable
        self.picture: LanesPicture | None = None
        self._operations: tuple[Operation, ...] = ()
        self._dragged: tuple[LaneItem, QPointF, QPointF] | None = None
        self.title = ""
        self.axis = TimeAxis(2.0)
        self.chosen: int | None = None
        self.stale = False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("The plan, tool by tool") if movable else tr("As performed, tool by tool"))
        self.setAccessibleDescription(tr("Left and right choose an operation, plus and minus zoom, 0 fits all") + (
            tr(", Ctrl with left or right moves it") if movable else ""))

    def show_sequence(self, structure: Structure, counted: Count | None, title: str) -> None:
        """Show a counted sequence; None: nothing yet."""
        self.title = title
        teardown = self._session.teardown
        self._operations = tuple(t.operation for t in counted.timed) if counted is not None else ()
        if counted is None or not counted.timed:
            self.picture = None
        else:
            self.picture = LanesPicture(
                lanes_of(lane_items(structure, counted)), self._palette, self.axis,
                lambda place: short_operation(teardown, self._operations[place]),
                lambda tool: tool_name(teardown, tool), duration_text)
        if self.chosen is not None and self.chosen >= len(self._operations):
            self.chosen = None
        self._resize()

    def fitting(self, room_px: float, *, folded: bool) -> float:
        """Pixels for a second at which all of it fits."""
        total_s = self.picture.lanes.total_s if self.picture is not None else 0.0
        return TimeAxis.fitting(room_px, total_s, self._waits(folded)).px_per_s

    def _waits(self, folded: bool) -> tuple[tuple[float, float], ...]:
        return idle_stretches(self.picture.lanes, LONG_WAIT_S) if folded and self.picture is not None else ()

    def set_scale(self, px_per_s: float, *, folded: bool) -> None:
        self.axis = TimeAxis(min(MOST_SCALE, max(LEAST_SCALE, px_per_s)), self._waits(folded))
        if self.picture is not None:
            self.picture.axis = self.axis
        self._resize()

    def shut_lanes(self, port_px: int) -> None:
        """Lanes with nothing in sight take next to no room; `port_px` is how much of the width is in sight."""
        if self.picture is None or self._dragged is not None:
            return
        left = self._scrolled
        shut = self.picture.without_a_bar(left + GUTTER if left else 0.0, left + port_px)
        if shut != self.picture.shut and len(shut) < len(self.picture.lanes.tools):
            self.picture.shut = shut
            self._resize()

    def _resize(self) -> None:
        self.setFixedSize(self.sizeHint())
        self.update()

    def sizeHint(self) -> QSize:  # noqa: N802 (Qt's name)
        if self.picture is None:
            return QSize(560, 64)
        return QSize(round(max(560.0, self.picture.width)), round(self.picture.height + TITLE))

    # -- pointer and keys

    @property
    def _scrolled(self) -> int:
        """Pixels of the picture that are out of sight on the left."""
        return max(0, self.visibleRegion().boundingRect().left())

    def box_of(self, place: int) -> QRect:
        """Where an operation is drawn, with the names and the title that belong to it in sight."""
        if self.picture is None:
            return QRect()
        box = self.picture.box(self.picture.lanes.items[place]).translated(0, TITLE)
        return box.adjusted(-GUTTER - 8, 0, 8, 0).toAlignedRect()

    def _spot(self, position: QPointF) -> QPointF:
        return position - QPointF(0, TITLE)

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        if self._scrolled and event.position().x() < self._scrolled + GUTTER:
            return  # on the tools' names, which cover what lies there
        item = self.picture.item_at(self._spot(event.position())) if self.picture is not None else None
        if item is not None:
            self.choose(item.place)
            self._dragged = (item, event.position(), event.position()) if self._movable else None

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        if self._dragged is not None and self.picture is not None:
            self._dragged = (*self._dragged[:2], event.position())
            self.hovered.emit(self._dragged[0].place, self.picture.place_at(event.position().x()))
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        dragged, self._dragged = self._dragged, None
        if dragged is not None and self.picture is not None and abs(event.position().x() - dragged[1].x()) > 5:
            self.dropped.emit(dragged[0].place, self.picture.place_at(event.position().x()))
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        steps = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}
        moving = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier) and self._movable
        if event.key() in steps and self._operations:
            step = steps[event.key()]
            if moving and self.chosen is not None:
                self.dropped.emit(self.chosen, self.chosen + (2 if step > 0 else -1))
            else:
                now = self.chosen if self.chosen is not None else -1
                self.choose(max(0, min(len(self._operations) - 1, now + step)))
        elif event.key() in (Qt.Key.Key_Plus, Qt.Key.Key_Minus):
            self.zoomed.emit(1.25 if event.key() == Qt.Key.Key_Plus else 0.8)
        elif event.key() == Qt.Key.Key_0:
            self.zoomed.emit(0.0)
        else:
            super().keyPressEvent(event)

    def wheelEvent(self, event: QWheelEvent) -> None:  # noqa: N802
        """With Ctrl it zooms; without, whoever holds the view scrolls."""
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier and event.angleDelta().y():
            self.zoomed.emit(1.15 if event.angleDelta().y() > 0 else 1 / 1.15)
            event.accept()
        else:
            event.ignore()

    @property
    def operations(self) -> tuple[Operation, ...]:
        return self._operations

    def choose(self, place: int) -> None:
        self.chosen = place
        self.item_chosen.emit(place)
        self.update()

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and self.picture is not None:
            item = self.picture.item_at(self._spot(QPointF(event.pos())))
            text = ""
            if item is not None:
                text = tr("{0}\nstep {1}, at {2}, {3}").format(
                    short_operation(self._session.teardown, self._operations[item.place]), item.step,
                    duration_text(item.start_s), estimate_text(item.known))
            QToolTip.showText(event.globalPos(), tip(text), self)
            return True
        return super().event(event)

    # -- painting

    def paintEvent(self, _event: QPaintEvent) -> None:  # noqa: N802
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        font = QFont(self.font())
        font.setBold(True)
        painter.setFont(font)
        painter.setPen(QColor(self._palette.ink))
        painter.drawText(QPointF(4 + self._scrolled, 16), self.title)
        painter.setFont(self.font())
        painter.translate(0, TITLE)
        if self.picture is not None:
            self.picture.draw(painter, self.chosen, stale=self.stale)
            self._draw_drag(painter)
            if self._scrolled:
                self.picture.draw_names_at(painter, self._scrolled)
        painter.end()

    def _draw_drag(self, painter: QPainter) -> None:
        """Where the dragged operation would come."""
        if self._dragged is None or self.picture is None:
            return
        x = max(GUTTER, self._dragged[2].x())
        painter.setPen(QPen(QColor(self._palette.warn), 2))
        painter.drawLine(QPointF(x, 20), QPointF(x, self.picture.height - 4))
        box = self.picture.box(self._dragged[0])
        painter.setOpacity(0.5)
        painter.fillRect(box.translated(self._dragged[2].x() - self._dragged[1].x(), 0), QColor(self._palette.accent))
        painter.setOpacity(1.0)
