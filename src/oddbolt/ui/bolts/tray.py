"""The tray: a row for each layer, a compartment for each group of bolts, as they lie while the device is open."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFont, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QToolTip, QWidget

from oddbolt.paint.bolts import draw_tag, recess_path
from oddbolt.paint.palette import Palette, letter_colour
from oddbolt.reassembly.tray import Compartment, TrayLayer, tray_layers
from oddbolt.session.session import Session
from oddbolt.ui.pieces.sheet import tip
from oddbolt.words.names import fastener_text, name_of, side_name
from oddbolt.words.translate import tr

ROW, GAP = 62.0, 8.0
BOLT = 15.0  # room for one bolt


class TrayView(QWidget):
    """Compartments are chosen by pointer or arrow keys."""

    compartment_chosen = Signal(str, int)  # joint, layer

    def __init__(self, session: Session, palette: Palette) -> None:
        super().__init__()
        self._session = session
        self._palette = palette
        self.layers: list[TrayLayer] = []
        self._boxes: list[tuple[QRectF, Compartment, int]] = []
        self._title_px = 108.0
        self.chosen = ""
        self.letter = ""  # compartments of this letter stand out
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Tray"))
        self.setAccessibleDescription(tr("Arrow keys choose a compartment"))

    def refresh(self) -> None:
        self.layers = tray_layers(self._session.teardown)
        self._lay_out()

    def show_letter(self, letter: str) -> None:
        self.letter = letter
        self.update()

    @property
    def layer(self) -> int:
        """The layer of the chosen compartment, else the first."""
        return next((n for _, c, n in self._boxes if c.joint == self.chosen), 0)

    def layer_name(self, number: int) -> str:
        return tr("Layer {0}").format(number + 1)

    def _lay_out(self) -> None:
        self._boxes = []
        self._title_px = self.fontMetrics().horizontalAdvance(tr("{0} bolts, {1}").format(888, tr("no photo"))) + 12.0
        width = max(360.0, float(self.width()))
        y = GAP
        for n, layer in enumerate(self.layers):
            x, top = self._title_px, y
            for compartment in layer.compartments:
                wide = max(62.0, 16 + BOLT * min(compartment.count or len(compartment.marks) or 1, 12))
                if x > self._title_px and x + wide > width - GAP:
                    x, top = self._title_px, top + ROW + GAP
                self._boxes.append((QRectF(x, top, wide, ROW), compartment, n))
                x += wide + GAP
            y = top + ROW + GAP
        self.setMinimumHeight(round(y))
        self.update()

    def sizeHint(self) -> QSize:  # noqa: N802 (Qt's name)
        return QSize(560, max(80, self.minimumHeight()))

    def resizeEvent(self, _event: object) -> None:  # noqa: N802
        self._lay_out()

    # -- choosing

    def _choose(self, number: int) -> None:
        _, compartment, layer = self._boxes[number]
        self.chosen = compartment.joint
        self.update()
        self.compartment_chosen.emit(compartment.joint, layer)

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        for n, (box, _, _) in enumerate(self._boxes):
            if box.contains(event.position()):
                self._choose(n)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        now = next((n for n, (_, c, _) in enumerate(self._boxes) if c.joint == self.chosen), -1)
        steps = {Qt.Key.Key_Right: 1, Qt.Key.Key_Down: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Up: -1}
        if event.key() in steps and self._boxes:
            self._choose(max(0, min(len(self._boxes) - 1, now + steps[event.key()])))
        else:
            super().keyPressEvent(event)

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent):
            hit = next((c for box, c, _ in self._boxes if box.contains(event.pos())), None)
            QToolTip.showText(event.globalPos(), tip(self._tip(hit)) if hit else "", self)
            return True
        return super().event(event)

    def _tip(self, compartment: Compartment) -> str:
        teardown = self._session.teardown
        fastener = teardown.fastener.get(compartment.letter)
        text = fastener_text(fastener) if fastener else ""
        return f"{name_of(teardown, compartment.joint)}\n{text}"

    # -- painting

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = self._palette
        seen: set[int] = set()
        width = float(self.width())
        exposed = QRectF(event.rect())
        for box, compartment, layer in self._boxes:
            if not (box.adjusted(-self._title_px - width, -4, width, 4)).intersects(exposed):
                continue
            if layer not in seen:
                seen.add(layer)
                self._title(painter, box.top(), layer)
            picked = compartment.joint == self.chosen
            painter.setPen(QPen(QColor(p.accent if picked else p.line), 2.4 if picked else 1))
            painter.setBrush(QColor(p.sunk))
            painter.drawRoundedRect(box, 6, 6)
            painter.setOpacity(1.0 if not self.letter or compartment.letter == self.letter else 0.45)
            self._compartment(painter, box, compartment)
            painter.setOpacity(1.0)
        if not self._boxes:
            painter.setPen(QColor(p.faint))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter,
                             tr("No screws yet: mark them in the Log, and they lie here by layer"))
        painter.end()

    def _title(self, painter: QPainter, top: float, number: int) -> None:
        layer = self.layers[number]
        font = QFont(self.font())
        font.setBold(True)
        painter.setFont(font)
        painter.setPen(QColor(self._palette.ink))
        line = float(self.fontMetrics().height())
        painter.drawText(QRectF(4, top + 6, self._title_px, line), Qt.AlignmentFlag.AlignLeft, self.layer_name(number))
        painter.setFont(self.font())
        painter.setPen(QColor(self._palette.faint))
        where = side_name(layer.view.side) if layer.view else tr("no photo")
        painter.drawText(QRectF(4, top + 6 + line, self._title_px, line), Qt.AlignmentFlag.AlignLeft,
                         tr("{0} bolts, {1}").format(layer.bolts, where))

    def _compartment(self, painter: QPainter, box: QRectF, compartment: Compartment) -> None:
        fastener = self._session.teardown.fastener.get(compartment.letter)
        drive = fastener.drive if fastener else ""
        painter.setFont(self.font())
        draw_tag(painter, box.x() + 6, box.y() + 6, compartment.letter, drive, compartment.count)
        colour, number = QColor(letter_colour(compartment.letter)), compartment.count or len(compartment.marks)
        for n in range(min(number, 12)):
            spot = QPointF(box.x() + 14 + BOLT * n, box.y() + 45)
            painter.setPen(QPen(colour, 1.4))
            painter.setBrush(QColor(self._palette.sheet))
            painter.drawEllipse(spot, 6, 6)
            painter.save()
            painter.translate(spot)
            painter.fillPath(recess_path(drive, 3.6), colour)
            painter.restore()
