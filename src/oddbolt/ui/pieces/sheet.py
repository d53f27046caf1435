"""Small pieces that all panels are put together from."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QLayout, QScrollArea, QScrollBar, QVBoxLayout, QWidget


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
    made = QLabel(text)
    made.setObjectName(look)
    made.setWordWrap(wrap)
    return made


class Echo(QLabel):
    """The one calm line of a panel: what was done, or what is wrong."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("echo")
        self.setWordWrap(True)

    def say(self, text: str, *, alarm: bool = False) -> None:
        self.setText(text)
        self.setProperty("alarm", alarm)
        self.style().unpolish(self)
        self.style().polish(self)
