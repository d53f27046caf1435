"""Parts: the tree, the cables between them, what is missing, what it all weighs, and what is needed for the work."""

from __future__ import annotations

from collections.abc import Iterator
from html import escape

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QTabWidget, QVBoxLayout, QWidget

from oddbolt.catalog.components import first_out
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown
from oddbolt.paint.palette import Palette
from oddbolt.reassembly import inventory
from oddbolt.rules.kit import least_kit
from oddbolt.rules.structure import Structure
from oddbolt.session import commands
from oddbolt.session.change import Change
from oddbolt.session.session import Session
from oddbolt.ui.background.jobs import Jobs
from oddbolt.ui.parts.cables import NetView
from oddbolt.ui.parts.form import PartForm
from oddbolt.ui.parts.missing import MissingList
from oddbolt.ui.parts.tree import PartTree
from oddbolt.ui.pieces.sheet import Echo, label, lay_out, scrolled, sheet
from oddbolt.words import wording


class PartsPanel(QWidget):
    """Shows and forwards; a tab is filled when it is looked at."""

    def __init__(self, session: Session, palette: Palette) -> None:
        super().__init__()
        self._session = session
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
            named.setAccessibleName(self.tr("Views of the parts"))
        self._jobs = Jobs(self)
        self._stale: set[int] = set()
        self._fill = (self.tree.refresh, self.cables.refresh, self._show_missing, self._show_balance, self._show_work)
        for page, name in ((self.tree, self.tr("Assemblies")), (self.cables, self.tr("Cables")),
                           (scrolled(self.missing), self.tr("Missing")), (scrolled(self.balance), self.tr("Balance")),
                           (scrolled(self.work), self.tr("Tools and orders"))):
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
        self.cables.part_chosen.connect(self._part_chosen)
        self.cables.type_said.connect(self._type_said)
        self.form.said.connect(lambda text, alarm: self.say(text, alarm=alarm))
        self.missing.said.connect(lambda text, alarm: self.say(text, alarm=alarm))
        self.tabs.currentChanged.connect(lambda _: self._refresh())
        session.listen(self._on_change)
        self._stale = set(range(len(self._fill)))

    # -- showing

    def showEvent(self, _event: object) -> None:  # noqa: N802 (Qt's name)
        self._refresh()

    def _on_change(self, change: Change) -> None:
        self._stale = set(range(len(self._fill)))
        if change.kind == "opened":
            self.say("")
            self.cables.forget()
        if self.isVisible():
            self._refresh()

    def _refresh(self) -> None:
        if 0 in self._stale:  # the form goes with the tree
            self._stale.discard(0)
            self.tree.refresh()
            self.form.show_parts(self.tree.chosen())
            self._name_missing()
        place = self.tabs.currentIndex()
        if place in self._stale and self.isVisible():
            self._stale.discard(place)
            self._fill[place]()

    def _part_chosen(self, part: str) -> None:
        self.tree.choose(part)
        self.form.show_parts([part])

    def _type_said(self, joint: str, type_: str) -> None:
        try:
            self._session.do(commands.set_type(self._session.teardown, joint, type_))
        except Refusal as refusal:
            self.say(str(refusal), alarm=True)

    def _name_missing(self) -> None:
        open_ = [m for m in self._missing() if not m.answered]
        self.tabs.setTabText(2, self.tr("Missing ({0})").format(len(open_)) if open_ else self.tr("Missing"))

    def _missing(self) -> list[inventory.Missing]:
        return inventory.missing(self._session.teardown, self._session.derived.planner.structure)

    def _show_missing(self) -> None:
        self.missing.show_rows(self._missing())

    def _show_balance(self) -> None:
        """Masses, materials, hazards, and what waste rules ask for first."""
        teardown, structure = self._session.teardown, self._session.derived.planner.structure
        found = inventory.mass_balance(teardown, structure)
        weighed = self.tr("Parts as weighed: {0:.1f} g; bolts by their geometry: {1:.1f} g")
        lines = [_head(self.tr("Mass")), weighed.format(found.parts_g, found.bolts_g)]
        if found.whole_g:
            lines.append(self.tr("The whole: {0:g} g; not explained: {1:.1f} g ({2:.1%})").format(
                found.whole_g, found.unexplained_g, found.unexplained_share))
        else:
            lines.append(self.tr("The whole has not been weighed: what is not explained is not known"))
        if found.without:
            lines.append(self.tr("Without mass: {0}").format(wording.names_of(teardown, found.without)))
        lines.append(_head(self.tr("Materials")))
        lines += [f"{name or self.tr('not told')}: {grams:.1f} g" for name, grams in
                  inventory.materials_g(teardown, structure)]
        lines.append(_head(self.tr("Hazards")))
        lines += [f"{hazard}: {wording.names_of(teardown, parts)}" for hazard, parts in
                  inventory.hazards(teardown, structure)] or [self.tr("none on record")]
        lines.append(_head(self.tr("Heat, from source to sink")))
        lines += [" → ".join(wording.name_of(teardown, part) for part in chain) for chain in
                  inventory.heat_paths(teardown, structure)] or [self.tr("no path on record")]
        lines.append(_head(self.tr("Seals and moisture")))
        lines += [self.tr("{0}: closes {1}").format(wording.name_of(teardown, seal), wording.name_of(teardown, at))
                  for seal, at in inventory.seals(teardown, structure)]
        lines += [f"{wording.name_of(teardown, dot)}: {state or self.tr('not looked at')}" for dot, state in
                  inventory.moisture(teardown, structure)]
        lines.append(_head(self.tr("To be taken out of waste first")))
        lines += [f"{row.name}: {wording.names_of(teardown, parts)}" for row, parts in
                  inventory.to_take_out_first(teardown, structure)] or [self.tr("nothing on record")]
        lines.append(self.tr("By {0}. Local rules come first.").format(first_out()[1]))
        self.balance.setText(_page(lines))

    def _show_work(self) -> None:
        """The kit used, the least kit for each priority part, and what to order. The kits take a moment."""
        teardown, derived = self._session.teardown, self._session.derived
        self._write_work({})
        structure, parts = derived.planner.structure, derived.priority_parts()
        self._jobs.start("kits", lambda: _kits(teardown, structure, parts), self._write_work, self._write_work,
                         lambda text: self.say(text, alarm=True))

    def _write_work(self, kits: dict[str, list[str] | None]) -> None:
        teardown, derived = self._session.teardown, self._session.derived
        lines = [_head(self.tr("Tools used")), *_by_class(teardown, inventory.kit_used(teardown).tools)]
        lines.append(_head(self.tr("Least kit for each priority part, however long it takes")))
        for part in derived.priority_parts():
            name, tools = wording.name_of(teardown, part), kits.get(part, [])
            if part not in kits:
                lines.append(self.tr("{0}: looking…").format(name))
            elif tools is None:
                lines.append(self.tr("{0}: cannot be taken off").format(name))
            else:
                names = ", ".join(wording.tool_name(teardown, tool) for tool in tools) or self.tr("bare hands")
                worst = worst_class([inventory.class_of(teardown, tool) for tool in tools])
                lines.append(f"{name}: {names} ({wording.TOOL_CLASSES[worst]})")
        lines.append(_head(self.tr("To renew and order")))
        lines += [wording.order_text(teardown, order) for order in inventory.to_order(
            teardown, derived.planner.structure)] or [self.tr("nothing yet")]
        self.work.setText(_page(lines))

    def stop(self) -> None:
        self._jobs.stop_all()

    def say(self, text: str, *, alarm: bool = False) -> None:
        self.echo.say(text, alarm=alarm)


HEAD = "\x00"  # begins a line that is a heading


def _head(text: str) -> str:
    return HEAD + text


def _page(lines: list[str]) -> str:
    """Lines as rich text; names may hold anything."""
    return "<br>".join(f"<br><b>{escape(line[1:])}</b>" if line.startswith(HEAD) else escape(line) for line in lines)


CLASSES = ("none", "basic", "supplied_with_part", "supplied_with_product", "commercial", "proprietary", "unknown")


def worst_class(classes: list[str]) -> str:
    """The class that is hardest to come by."""
    return max(classes, key=class_rank, default="none")


def class_rank(name: str) -> int:
    """How hard tools of a class are to come by; a class that is not known is the hardest."""
    return CLASSES.index(name) if name in CLASSES else len(CLASSES)


def _kits(teardown: Teardown, structure: Structure, parts: list[str]) -> Iterator[dict[str, list[str] | None]]:
    """The least kit of each part, as far as they are found."""
    found: dict[str, list[str] | None] = {}
    for part in parts:
        yield dict(found)
        found[part] = least_kit(structure, part, lambda tool: class_rank(inventory.class_of(teardown, tool)))
    yield found


def _by_class(teardown: Teardown, tools: tuple[tuple[str, str], ...]) -> list[str]:
    lines = []
    for name in CLASSES:
        own = [wording.tool_name(teardown, tool) for tool, class_ in tools if class_ == name]
        if own:
            lines.append(f"{wording.TOOL_CLASSES[name]}: {', '.join(own)}")
    return lines
