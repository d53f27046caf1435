"""Parts: the tree, the cables between them, what is missing, what it all weighs, and what is needed for the work."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QTabWidget, QVBoxLayout, QWidget

from oddbolt.paint.palette import Palette
from oddbolt.reassembly import inventory
from oddbolt.reports.as_html import to_html
from oddbolt.reports.content.inventory import Kits, balance_page, work_page
from oddbolt.session.session import Session
from oddbolt.session.verbs.joints import set_type
from oddbolt.ui.background.answer import Answer
from oddbolt.ui.parts.cables import NetView
from oddbolt.ui.parts.form import PartForm
from oddbolt.ui.parts.missing import MissingList
from oddbolt.ui.parts.tree import PartTree
from oddbolt.ui.pieces.sheet import Echo, label, lay_out, scrolled, sheet
from oddbolt.ui.workspace import Workspace
from oddbolt.words.translate import tr

if TYPE_CHECKING:
    from oddbolt.ui.correcting.corrections import Corrections


class PartsPanel(Workspace):
    """Shows and forwards; a tab is filled when it is looked at."""

    def __init__(self, session: Session, palette: Palette) -> None:
        super().__init__(session)
        self._kits = Answer(self, session, self._write_work, self._say_problem, progressed=self._write_work)
        self.tree = PartTree(session)
        self.form = PartForm(session)
        self.cables = NetView(session, palette)
        self.missing = MissingList(session)
        self.balance, self.work = label("", "", wrap=True), label("", "", wrap=True)
        for text in (self.balance, self.work):
            text.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
            text.setAlignment(Qt.AlignmentFlag.AlignTop)
            text.setTextFormat(Qt.TextFormat.RichText)
        self.echo = Echo()
        self.tabs = QTabWidget()
        self.tabs.setDocumentMode(True)
        self.tabs.tabBar().setDrawBase(False)
        for named in (self.tabs, self.tabs.tabBar()):
            named.setAccessibleName(tr("Views of the parts"))
        self._unfilled: set[int] = set()
        self._fill = (self.tree.refresh, self.cables.refresh, self._show_missing, self._show_balance, self._show_work)
        for page, name in ((self.tree, tr("Assemblies")), (self.cables, tr("Cables")),
                           (scrolled(self.missing), tr("Missing")), (scrolled(self.balance), tr("Balance")),
                           (scrolled(self.work), tr("Tools and orders"))):
            self.tabs.addTab(page, name)
        left = QVBoxLayout()
        left.addWidget(self.tabs, 1)
        left.addWidget(self.echo)
        side = QWidget()
        right = QVBoxLayout(side)
        right.setContentsMargins(0, 0, 0, 0)
        right.addWidget(sheet("", scrolled(self.form), stretch=1))
        lay_out(self, left, side)
        self.tree.parts_chosen.connect(self.form.show_parts)
        self.tree.menu_asked.connect(self._menu)
        self.tree.name_asked.connect(lambda part: self._corrections().ask_name(part))
        self.tree.delete_asked.connect(lambda: self._corrections().ask_delete(self.tree.chosen()))
        self.cables.part_chosen.connect(self._part_chosen)
        self.cables.type_said.connect(self._type_said)
        self.form.said.connect(lambda text, alarm: self.say(text, alarm=alarm))
        self.missing.said.connect(lambda text, alarm: self.say(text, alarm=alarm))
        self.tabs.currentChanged.connect(lambda _: self._fill_page())

    # -- showing

    def _corrections(self) -> Corrections:
        from oddbolt.ui.correcting.corrections import Corrections

        return Corrections(self, self._session, self.do, lambda text, alarm: self.say(text, alarm=alarm))

    def _menu(self, where: QPoint) -> None:
        """Of one part what can be set right; several can be deleted together."""
        chosen, corrections = self.tree.chosen(), self._corrections()
        if len(chosen) == 1:
            corrections.of_thing(chosen[0]).popup(where)
        elif chosen:
            corrections.ask_delete(chosen)

    def opened(self) -> None:
        self.say("")
        self.cables.forget()
        self._kits.forget()

    def refresh(self) -> None:
        self._unfilled = set(range(len(self._fill)))
        self._fill_page()

    def _fill_page(self) -> None:
        if 0 in self._unfilled:  # the form goes with the tree
            self._unfilled.discard(0)
            self.tree.refresh()
            self.form.show_parts(self.tree.chosen())
            self._name_missing()
        place = self.tabs.currentIndex()
        if place in self._unfilled and self.isVisible():
            self._unfilled.discard(place)
            self._fill[place]()

    def _part_chosen(self, part: str) -> None:
        self.tree.choose(part)
        self.form.show_parts([part])

    def _type_said(self, joint: str, type_: str) -> None:
        self.do(set_type, joint, type_)

    def _name_missing(self) -> None:
        open_ = [m for m in self._missing() if not m.answered]
        self.tabs.setTabText(2, tr("Missing ({0})").format(len(open_)) if open_ else tr("Missing"))

    def _missing(self) -> list[inventory.Missing]:
        return inventory.missing(self._session.teardown, self._session.derived.structure)

    def _show_missing(self) -> None:
        self.missing.show_rows(self._missing())

    def _show_balance(self) -> None:
        self.balance.setText(to_html(balance_page(self._session.teardown, self._session.derived.structure)))

    def _show_work(self) -> None:
        """The kit used, the least kit for each priority part, and what to order. The kits take a moment."""
        teardown, derived = self._session.teardown, self._session.derived
        self._write_work({})
        structure, parts = derived.structure, derived.priority_parts()
        self._kits.ask(lambda: inventory.least_kits(teardown, structure, parts))

    def _write_work(self, kits: Kits | None) -> None:
        derived = self._session.derived
        self.work.setText(to_html(work_page(self._session.teardown, derived.structure, derived.priority_parts(),
                                            kits or {})))

    def stop(self) -> None:
        self._kits.stop()

    def say(self, text: str, *, alarm: bool = False) -> None:
        self.echo.say(text, alarm=alarm)

    def _say_problem(self, words: str) -> None:
        self.say(words, alarm=True)
