"""Rooms that tell others: to compare, the report, the shelf, to rehearse; built when they are first asked for."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, cast

from PySide6.QtWidgets import QStackedWidget, QWidget

from oddbolt.ui.shell import Shell

if TYPE_CHECKING:
    from oddbolt.session.session import Session
    from oddbolt.ui.compare.panel import ComparePanel
    from oddbolt.ui.rehearse.panel import RehearsePanel
    from oddbolt.ui.report.panel import ReportPanel
    from oddbolt.ui.shelf.panel import ShelfPanel

TELLING = ("shelf", "compare", "report", "rehearse")


class TellingRooms(Shell):
    """A shell that builds rooms; its kinds say which others there are."""

    session: Session
    folder: Path  # where new work lives
    stack: QStackedWidget
    built: dict[str, QWidget]

    def open_from_shelf(self, path: Path) -> None:
        raise NotImplementedError

    def _make(self, name: str) -> QWidget:
        raise NotImplementedError

    def room(self, name: str) -> QWidget:
        """A room, built when it is first asked for."""
        if name not in self.built:
            self.built[name] = self._make(name)
            self.stack.addWidget(self.built[name])
        return self.built[name]

    def _make_telling(self, name: str) -> QWidget:
        """What it stands on is imported with it."""
        session, palette, folder = self.session, self._colours, self.folder
        if name == "compare":
            from oddbolt.ui.compare.panel import ComparePanel

            compare = ComparePanel(session, palette, folder)
            compare.opened()
            return compare
        if name == "report":
            from oddbolt.ui.report.panel import ReportPanel

            report = ReportPanel(session, folder, lambda: self.compare.others())
            self.compare.chosen_changed.connect(report.others_changed)
            return report
        if name == "rehearse":
            from oddbolt.ui.rehearse.panel import RehearsePanel

            return RehearsePanel(session, folder)
        from oddbolt.ui.shelf.panel import ShelfPanel

        shelf = ShelfPanel(session, palette, folder)
        shelf.open_asked.connect(self.open_from_shelf)
        return shelf

    @property
    def compare(self) -> ComparePanel:
        return cast("ComparePanel", self.room("compare"))

    @property
    def report(self) -> ReportPanel:
        return cast("ReportPanel", self.room("report"))

    @property
    def rehearse(self) -> RehearsePanel:
        return cast("RehearsePanel", self.room("rehearse"))

    @property
    def shelf(self) -> ShelfPanel:
        return cast("ShelfPanel", self.room("shelf"))
