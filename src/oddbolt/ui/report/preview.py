"""The sheets of a report as they will be on paper, one below the other."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QRect, QSize, Qt, Signal
from PySide6.QtGui import QColor, QImage, QKeyEvent, QPainter, QPaintEvent, QPalette, QResizeEvent
from PySide6.QtWidgets import QScrollArea, QWidget

from oddbolt.paint.documents.pieces import DPI
from oddbolt.paint.documents.sheets import Laid
from oddbolt.paint.pages import PAGES_MM
from oddbolt.words.translate import tr

GAP_PX = 14
KEPT = 6  # drawn sheets that are kept
WIDEST_PX = 900


class _Sheets(QWidget):
    """All sheets; only those in sight are drawn."""

    def __init__(self) -> None:
        super().__init__()
        self.laid: Laid | None = None
        self._room = 1  # pixels across
        self._drawn: dict[tuple[int, int], QImage] = {}

    def show_sheets(self, laid: Laid | None) -> None:
        self.laid = laid
        self._drawn.clear()
        self.update()

    def fit(self, width: int) -> None:
        """As wide as there is room, and as high as all sheets."""
        self._room = width
        self.setFixedSize(width, max(1, self._top(self.number + 1)))
        self.update()

    @property
    def number(self) -> int:
        return len(self.laid.sheets) if self.laid is not None else 0

    def _size(self) -> QSize:
        if self.laid is None:
            return QSize(1, 1)
        wide, high = PAGES_MM[self.laid.paper]
        width = max(1, min(WIDEST_PX, self._room - 2 * GAP_PX))
        return QSize(width, round(width * high / wide))

    def _top(self, number: int) -> int:
        """Where a sheet begins, from 1."""
        return GAP_PX + (number - 1) * (self._size().height() + GAP_PX)

    def box(self, number: int) -> QRect:
        size = self._size()
        return QRect(QPoint((self._room - size.width()) // 2, self._top(number)), size)

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802 (Qt's name)
        painter = QPainter(self)
        for number in range(1, self.number + 1):
            box = self.box(number)
            if box.intersects(event.rect()):
                painter.drawImage(box, self._image(number))
        painter.end()

    def _image(self, number: int) -> QImage:
        assert self.laid is not None
        ratio = self.devicePixelRatioF()
        key = number, round(self._size().width() * ratio)
        if key not in self._drawn:
            size = self._size() * ratio
            image = QImage(size, QImage.Format.Format_RGB32)
            image.fill(Qt.GlobalColor.white)
            painter = QPainter(image)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            scale = size.width() / (PAGES_MM[self.laid.paper][0] / 25.4 * DPI)
            painter.scale(scale, scale)
            self.laid.draw(painter, number)
            painter.end()
            while len(self._drawn) >= KEPT:
                self._drawn.pop(next(iter(self._drawn)))
            self._drawn[key] = image
        return self._drawn[key]


class Preview(QScrollArea):
    """Scrolled by wheel and keys; tells which sheet is in sight."""

    turned = Signal(int, int)  # sheet in sight, of how many

    def __init__(self) -> None:
        super().__init__()
        self.sheets = _Sheets()
        self.setWidget(self.sheets)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("The report, sheet by sheet"))
        self.setAccessibleDescription(tr("Page up and page down turn the sheets, Home and End go to the first and the "
                                         "last"))
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)  # the width must not hang on the height
        palette = self.viewport().palette()
        palette.setColor(QPalette.ColorRole.Window, QColor("#8D9694"))
        self.viewport().setPalette(palette)
        self.viewport().setAutoFillBackground(True)
        self.verticalScrollBar().valueChanged.connect(lambda _: self._tell())

    def show_sheets(self, laid: Laid | None) -> None:
        """Other sheets, with the place in them kept."""
        before = self.verticalScrollBar().value()
        self.sheets.show_sheets(laid)
        self._fit()
        self.verticalScrollBar().setValue(before)
        self._tell()

    def go_to(self, number: int) -> None:
        self.verticalScrollBar().setValue(self.sheets.box(number).top() - GAP_PX)

    @property
    def sheet(self) -> int:
        """The sheet that fills most of the sight."""
        middle = self.verticalScrollBar().value() + self.viewport().height() // 2
        return next((n for n in range(1, self.sheets.number + 1) if self.sheets.box(n).bottom() >= middle),
                    self.sheets.number)

    def _tell(self) -> None:
        self.turned.emit(self.sheet, self.sheets.number)

    def _fit(self) -> None:
        self.sheets.fit(self.viewport().width())

    def resizeEvent(self, event: QResizeEvent) -> None:  # noqa: N802 (Qt's name)
        shown = self.sheet
        super().resizeEvent(event)
        if event.size().width() != event.oldSize().width():
            self._fit()
            if self.sheets.number:
                self.go_to(shown)

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802 (Qt's name)
        turns = {Qt.Key.Key_PageDown: self.sheet + 1, Qt.Key.Key_PageUp: self.sheet - 1, Qt.Key.Key_Home: 1,
                 Qt.Key.Key_End: self.sheets.number}
        if event.key() in turns and self.sheets.number:
            self.go_to(min(self.sheets.number, max(1, turns[Qt.Key(event.key())])))
            return
        super().keyPressEvent(event)
