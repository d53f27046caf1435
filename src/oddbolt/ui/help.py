"""Help: the keys, what went wrong, and what this is."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QMessageBox

from oddbolt import __version__
from oddbolt.words.translate import tr

if TYPE_CHECKING:
    from oddbolt.ui.rooms import Rooms


class Help:
    """Messages that wait for nobody."""

    def __init__(self, window: Rooms) -> None:
        self._window = window

    def show_keys(self) -> None:
        self._manual("keys")

    def show_manual(self) -> None:
        """The manual, at the page of the workspace in front."""
        front = self._window.stack.currentWidget()
        self._manual(next((name for name, room in self._window.built.items() if room is front), "log"))

    def _manual(self, page: str) -> None:
        from oddbolt.ui.manual import Manual

        self.manual = Manual(self._window, page)
        self.manual.show()

    def show_what_went_wrong(self) -> None:
        """The log of errors, to be read and copied."""
        from oddbolt.ui.wrong import WhatWentWrong

        self.wrong = WhatWentWrong(self._window)
        self.wrong.show()

    def show_about(self) -> None:
        self._window.tell(tr("Odd Bolt {0}").format(__version__), tr(
            "Teardowns, counted and judged.\nQt for Python: LGPL 3. NumPy, SciPy and msgspec: BSD, 3 clauses. "
            "platformdirs: MIT. Inter typeface: SIL Open Font License 1.1.\n"
            "Cautions: local codes, the maker's service instructions and licensed practice come first."),
            QMessageBox.Icon.NoIcon)
