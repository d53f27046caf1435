"""Small pieces that all panels are put together from."""

from __future__ import annotations

from PySide6.QtWidgets import QFrame, QLabel, QVBoxLayout, QWidget


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


def side_width(widget: QWidget) -> int:
    """Width of a side panel; grows with the text."""
    return 21 * widget.fontMetrics().height()


def label(text: str, look: str = "", *, wrap: bool = False) -> QLabel:
    made = QLabel(text)
    made.setObjectName(look)
    made.setWordWrap(wrap)
    return made
