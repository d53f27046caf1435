"""Small pieces that all panels are put together from."""

from __future__ import annotations

import html

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QLayout, QScrollArea, QScrollBar, QVBoxLayout, QWidget

LEAST_OF_A_LINE_PX = 40
LONGEST_TIP = 1500  # characters


def sheet(title: str, *content: QWidget, stretch: int = 0) -> QFrame:
    """A titled panel with widgets below each other; `stretch` names the one that grows (from 1)."""
    frame = QFrame()
    frame.setObjectName("sheet")
    box = QVBoxLayout(frame)
    box.setContentsMargins(10, 8, 10, 10)
    box.setSpacing(6)
    if title:
        box.addWidget(label(title, "title"))
    for number, widget in enumerate(content, start=1):
        box.addWidget(widget, 1 if number == stretch else 0)
    return frame


def lay_out(panel: QWidget, left: QLayout, side: QWidget) -> None:
    """A panel's two columns: what it is about, and a side of fixed width that grows with the text."""
    side.setFixedWidth(21 * panel.fontMetrics().height())
    whole = QHBoxLayout(panel)
    whole.setContentsMargins(10, 8, 10, 8)
    whole.setSpacing(10)
    whole.addLayout(left, 1)
    whole.addWidget(side)


def scrolled(content: QWidget) -> QScrollArea:
    """Content that may be higher than its place; no frame, no focus of its own."""
    area = QScrollArea()
    area.setObjectName("plain")
    area.setWidget(content)
    area.setWidgetResizable(True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    content.setObjectName("inside")
    return area


def bring_in_sight(bar: QScrollBar, room: int, first: float, last: float) -> None:
    """Scroll no further than it takes for a span to be in sight, its beginning rather than its end."""
    bar.setValue(round(min(max(bar.value(), last - room), first)))


def label(text: str, look: str = "", *, wrap: bool = False) -> QLabel:
    made = QLabel()
    made.setTextFormat(Qt.TextFormat.PlainText)  # names come from files: nothing in them is taken for orders
    made.setText(text)
    made.setObjectName(look)
    made.setWordWrap(wrap)
    return made


class Elided(QLabel):
    """One line that is as wide as there is room for; what does not fit is told by a tooltip."""

    def __init__(self, look: str = "") -> None:
        super().__init__()
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setObjectName(look)

    def setText(self, text: str) -> None:  # noqa: N802 (Qt's name)
        super().setText(" ".join(text.split()))
        self.setToolTip(tip(self.text()))

    def minimumSizeHint(self) -> QSize:  # noqa: N802 (Qt's name)
        return QSize(LEAST_OF_A_LINE_PX, super().minimumSizeHint().height())

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802 (Qt's name)
        painter = QPainter(self)
        shown = self.fontMetrics().elidedText(self.text(), Qt.TextElideMode.ElideRight, self.contentsRect().width())
        self.style().drawItemText(painter, self.contentsRect(), self.alignment().value, self.palette(),
                                  self.isEnabled(), shown, self.foregroundRole())


def tip(text: str) -> str:
    """A text for a tooltip, which Qt would draw as a page of its own where it looks like one."""
    text = text[:LONGEST_TIP]
    return f"<p>{html.escape(text)}</p>" if "<" in text else text


def explain(*told: tuple[QWidget, str]) -> None:
    """What each control is for, for whoever rests the pointer on it."""
    for widget, text in told:
        widget.setToolTip(tip(text))


class Echo(QLabel):
    """The one calm line of a panel: what was done, or what is wrong."""

    def __init__(self) -> None:
        super().__init__()
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setObjectName("echo")
        self.setWordWrap(True)

    def say(self, text: str, *, alarm: bool = False) -> None:
        self.setText(text)
        self.setProperty("alarm", alarm)
        self.style().unpolish(self)
        self.style().polish(self)
