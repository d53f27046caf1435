"""Room beside the photograph for the page that comes to the front."""

from __future__ import annotations

from PySide6.QtWidgets import QSplitter, QWidget

LEAST_BELOW_PX = 120  # of what was done and found stays in sight beside what was seen


def give_room(page: QWidget, both: QSplitter, least: int = 0) -> None:
    """Room for a question with its answer, or for what was seen, when it comes to the front; `least` is left below."""
    port = page.parentWidget()
    missing = page.sizeHint().height() - port.height() if port is not None else 0
    if missing > 0:
        above, below = both.sizes()
        missing = min(missing, max(0, below - least))
        both.setSizes([above + missing, below - missing])
