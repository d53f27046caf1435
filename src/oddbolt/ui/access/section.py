"""The section as a widget, and the key of its fills."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QBrush, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QToolTip, QWidget

from oddbolt.model.things import Teardown
from oddbolt.paint.palette import Palette
from oddbolt.paint.section import Placed, SectionPicture, legend
from oddbolt.reports.content.strata import Ghost, Section
from oddbolt.ui.pieces.sheet import tip
from oddbolt.words.figures import duration_text
from oddbolt.words.names import names_of
from oddbolt.words.times import estimate_text
from oddbolt.words.translate import tr


class SectionView(QWidget):
    """The picture as a widget: columns are chosen by pointer or arrow keys."""

    column_chosen = Signal(int)

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._palette = palette
        self._teardowns: tuple[Teardown, ...] = ()
        self._section = Section(columns=(), top=(), blocked=())
        self._ghost: Ghost | None = None
        self.stale = False
        self._picture: SectionPicture | None = None
        self.chosen = 0
        self.available_width = 800
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName(tr("Section"))
        self.setAccessibleDescription(tr("Left and right choose a part"))

    def show_section(self, section: Section, teardowns: tuple[Teardown, ...], chosen: int) -> None:
        """A section of one device, or of two whose columns stand in turn."""
        self._section, self._teardowns, self._ghost = section, teardowns, None
        self.chosen = chosen
        self._lay_out()

    def show_ghost(self, ghost: Ghost | None) -> None:
        """Strata that a change would take away, faint; None for the section as it is."""
        self._ghost = ghost
        self._lay_out()

    def set_stale(self, stale: bool) -> None:
        """A section of an older record is faint."""
        self.stale = stale
        self.update()

    def fit_width(self, width: int) -> None:
        self.available_width = width
        self._lay_out()

    def _lay_out(self) -> None:
        if not self._teardowns:
            return
        scale = max(1.0, self.fontMetrics().height() / 16)
        self._picture = SectionPicture(self._section, self._teardowns, self.available_width, scale, self._ghost)
        size = self._picture.size.toSize()
        self.setFixedSize(QSize(max(size.width(), self.available_width), size.height()))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802 (Qt's name)
        if self._picture is not None:
            painter = QPainter(self)
            painter.setFont(self.font())
            painter.setOpacity(0.4 if self.stale else 1.0)
            self._picture.draw(painter, self._palette, self.chosen)
            painter.end()

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        column = self._picture.column_at(event.position()) if self._picture else -1
        if column >= 0:
            self._choose(column)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(event.key(), 0)
        if step and 0 <= self.chosen + step < len(self._section.columns):
            self._choose(self.chosen + step)
        elif not step:
            super().keyPressEvent(event)

    def _choose(self, column: int) -> None:
        self.chosen = column
        self.update()
        self.column_chosen.emit(column)

    def column_box(self, column: int) -> QRectF:
        """Where a column is drawn."""
        return self._picture.column_box(column) if self._picture else QRectF()

    def layer_under(self, spot: QPointF) -> Placed | None:
        return self._picture.layer_at(spot) if self._picture else None

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            placed = self.layer_under(QPointF(event.pos()))
            QToolTip.showText(event.globalPos(), tip(self._tip(placed)) if placed else "", self)
            return True
        return super().event(event)

    def _tip(self, placed: Placed) -> str:
        layer, teardown = placed.node.layer, self._picture.teardown_of(placed.node.first)
        words = [layer.label, estimate_text(layer.known) if layer.known else duration_text(layer.seconds)]
        if layer.wait_s:
            words.append(tr("then wait {0}").format(duration_text(layer.wait_s)))
        if layer.hazards:
            words.append(tr("hazards: {0}").format(", ".join(layer.hazards)))
        if layer.live:
            words.append(tr("done live"))
        if layer.assumed:
            words.append(tr("assumed"))
        if self._picture.left_of(placed.node) < 1:
            words.append(tr("{0}: this would be less, or gone").format(self._ghost.label))
        words.append(tr("ties or is: {0}").format(names_of(teardown, layer.things)))
        return "\n".join(words)


class Key(QWidget):
    """The key of the fills."""

    def __init__(self, palette: Palette) -> None:
        super().__init__()
        self._palette = palette
        self.setAccessibleName(tr("Key of the section"))

    def _places(self) -> list[tuple[float, float, str, QBrush]]:
        """Left upper corner, text and fill of each entry; the row breaks where the width ends."""
        x, y, row = 4.0, 0.0, self.fontMetrics().height() + 8.0
        places = []
        for text, brush in legend(self._palette):
            width = 36.0 + self.fontMetrics().horizontalAdvance(text)
            if x + width > self.width() and x > 4:
                x, y = 4.0, y + row
            places.append((x, y, text, brush))
            x += width
        return places

    def resizeEvent(self, event: QResizeEvent) -> None:  # noqa: N802
        super().resizeEvent(event)
        self.setFixedHeight(round(self._places()[-1][1] + self.fontMetrics().height() + 8))

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802
        painter = QPainter(self)
        height = self.fontMetrics().height()
        for x, y, text, brush in self._places():
            painter.setBrush(brush)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.drawRoundedRect(QRectF(x, y + 4 + (height - 13) / 2, 20, 13), 2, 2)
            painter.setPen(self.palette().windowText().color())
            painter.drawText(QRectF(x + 25, y, 400, height + 8), Qt.AlignmentFlag.AlignVCenter, text)
        painter.end()
