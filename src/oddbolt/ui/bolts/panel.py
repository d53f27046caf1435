"""Bolts: the types of this device, where they lie while it is open, what each is, and which are mixed up."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from typing import TYPE_CHECKING, Any

from msgspec.structs import replace
from PySide6.QtCore import QPoint, QSize, Qt
from PySide6.QtGui import QImage, QKeySequence, QShortcut
from PySide6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QPushButton, QTabWidget, QVBoxLayout, QWidget

from oddbolt.model.things import Fastener
from oddbolt.paint.images import read_image
from oddbolt.paint.palette import Palette
from oddbolt.reassembly.bolts import look_alikes
from oddbolt.session.session import Session
from oddbolt.session.verbs.letters import add_fastener, next_letter, set_fastener
from oddbolt.ui.background.jobs import Jobs
from oddbolt.ui.bolts.identify import Identify
from oddbolt.ui.bolts.tightening import Tightening
from oddbolt.ui.bolts.torque import Torque
from oddbolt.ui.bolts.tray import TrayView
from oddbolt.ui.bolts.types import BoltTypes
from oddbolt.ui.pieces.sheet import Echo, explain, lay_out, scrolled, sheet
from oddbolt.ui.prints.prints import Prints
from oddbolt.ui.workspace import Workspace
from oddbolt.words.figures import odds_text
from oddbolt.words.lengths import length_text
from oddbolt.words.names import fixing_text, name_of
from oddbolt.words.screws import swap_text, tells_apart_text
from oddbolt.words.translate import tr

if TYPE_CHECKING:
    from oddbolt.ui.correcting.corrections import Corrections


class BoltsPanel(Workspace):
    """Shows and forwards; what is found out about a letter is written by a verb."""

    def __init__(self, session: Session, palette: Palette, prints: Prints) -> None:
        super().__init__(session)
        self._prints = prints
        self._jobs = Jobs(self)
        self.types = BoltTypes(session, palette)
        self.tray = TrayView(session, palette)
        self.identify = Identify()
        self.torque = Torque(session)
        self.tightening = Tightening(session)
        self.alike = QListWidget()
        self.alike.setWordWrap(True)
        self.alike.setAccessibleName(tr("Look-alikes"))
        self.print_layer = QPushButton(tr("Print this layer's mat…"))
        self.print_all = QPushButton(tr("Print all mats…"))
        self.echo = Echo()
        self.tabs = QTabWidget()
        self._build()
        explain((self.types, tr("Each letter with its counts; the menu sets it right")),
                (self.alike, tr("Screws that are easily taken for each other, and what tells them apart")),
                (self.print_layer, tr("The layer that is shown, at true scale, to lay its screws on")),
                (self.print_all, tr("All layers, one after the other, at true scale")))
        self.types.letter_chosen.connect(self._letter_chosen)
        self.types.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.types.customContextMenuRequested.connect(self._menu)
        remove = QShortcut(QKeySequence.StandardKey.Delete, self.types)
        remove.setContext(Qt.ShortcutContext.WidgetShortcut)
        remove.activated.connect(lambda: self.types.letter and self._corrections().ask_delete_letter(self.types.letter))
        self.tray.compartment_chosen.connect(self._compartment_chosen)
        self.identify.write_asked.connect(self._write)
        self.identify.add_asked.connect(self._add)
        self.identify.photo_asked.connect(self.propose_from_photo)
        self.alike.itemActivated.connect(self._alike_chosen)
        self.alike.currentItemChanged.connect(lambda item, _: self._alike_chosen(item) if item else None)
        self.print_layer.clicked.connect(lambda _: self._print(only=self.tray.layer))
        self.print_all.clicked.connect(lambda _: self._print())

    def _corrections(self) -> Corrections:
        from oddbolt.ui.correcting.corrections import Corrections

        return Corrections(self, self._session, self.do, lambda text, alarm: self.say(text, alarm=alarm))

    def _menu(self, spot: QPoint) -> None:
        if self.types.letter:
            self._corrections().of_letter(self.types.letter).popup(self.types.viewport().mapToGlobal(spot))

    def _build(self) -> None:
        buttons = QHBoxLayout()
        buttons.addWidget(self.echo, 1)
        for button in (self.print_layer, self.print_all):
            button.setObjectName("big")
            buttons.addWidget(button)
        self.types.setMinimumHeight(190)
        left = QVBoxLayout()
        left.setSpacing(8)
        left.addWidget(sheet(tr("Types of this device"), self.types, stretch=1), 2)
        left.addWidget(sheet(tr("Tray, layer by layer"), scrolled(self.tray), stretch=1), 3)
        left.addLayout(buttons)
        side = QWidget()
        right = QVBoxLayout(side)
        right.setContentsMargins(0, 0, 0, 0)
        self.tabs.setDocumentMode(True)
        self.tabs.tabBar().setDrawBase(False)
        for named in (self.tabs, self.tabs.tabBar()):
            named.setAccessibleName(tr("About this letter"))
        for page, name in ((scrolled(self.identify), tr("Identify")), (self.alike, tr("Look-alikes")),
                           (self.torque, tr("Torque")), (self.tightening, tr("Order"))):
            self.tabs.addTab(page, name)
        right.addWidget(self.tabs)
        lay_out(self, left, side)

    # -- showing

    def opened(self) -> None:
        self.say("")

    def refresh(self) -> None:
        self.types.refresh()
        self.tray.refresh()
        self._show_alikes()
        self.torque.show_recorded()
        self.print_layer.setEnabled(bool(self.tray.layers))
        self.print_all.setEnabled(bool(self.tray.layers))
        self._letter_chosen(self.types.letter)

    def _show_alikes(self) -> None:
        teardown, pairs = self._session.teardown, look_alikes(self._session.teardown)
        self.alike.clear()
        for pair in pairs:
            lines = [f"{pair.one} – {pair.other}: {tells_apart_text(pair)}"]
            lines += [swap_text(teardown, swap) for swap in pair.swaps]
            item = QListWidgetItem("\n".join(lines))
            item.setData(Qt.ItemDataRole.UserRole, pair.one)
            item.setSizeHint(QSize(100, (len(lines) + 2) * self.fontMetrics().height()))
            self.alike.addItem(item)
        if not pairs:
            self.alike.addItem(tr("No two types of this device look alike"))
        self.tabs.setTabText(1, tr("Look-alikes ({0})").format(len(pairs)) if pairs else tr("Look-alikes"))

    def _letter_chosen(self, letter: str) -> None:
        fastener = self._session.teardown.fastener.get(letter)
        self.tray.show_letter(letter)
        if fastener is not None:
            self.identify.show_fastener(fastener)
            self.torque.show_fastener(fastener)
            chosen = self._session.teardown.joint.get(self.tray.chosen)
            if chosen is None or chosen.fastener != letter:
                own = [j.id for j in self._session.teardown.joints if j.fastener == letter]
                self.tightening.show_joint(max(own, key=lambda id_: self._session.teardown.joint[id_].count or 0,
                                               default=""))

    def _compartment_chosen(self, joint: str, layer: int) -> None:
        record = self._session.teardown.joint.get(joint)
        self.tightening.show_joint(joint)
        if record is not None and record.fastener:
            self.types.choose(record.fastener)
            self.say(tr("{0}: {1}, {2}").format(self.tray.layer_name(layer), name_of(
                self._session.teardown, joint), fixing_text(self._session.teardown, record)))

    def _alike_chosen(self, item: QListWidgetItem) -> None:
        if letter := item.data(Qt.ItemDataRole.UserRole):
            self.types.choose(letter)

    def say(self, text: str, *, alarm: bool = False) -> None:
        self.echo.say(text, alarm=alarm)

    # -- acting

    def _write(self, found: Fastener) -> None:
        """What was found becomes what is known of the letter in hand."""
        letter = self.types.letter
        if not letter:
            self.say(tr("Choose the letter first"), alarm=True)
            return
        self.do(set_fastener, replace(found, id=letter))

    def _add(self, found: Fastener) -> None:
        letter = next_letter(self._session.teardown)
        self.do(add_fastener, replace(found, id=letter))
        self.types.choose(letter)

    def _print(self, only: int | None = None) -> None:
        layers = [(n, layer) for n, layer in enumerate(self.tray.layers)
                  if (only is None and layer.view is not None) or n == only]
        if layers:
            self._prints.ask_mat(layers)

    def propose_from_photo(self) -> None:
        """Head diameter and recess from the sharpest place where a screw of this letter is marked with a scale."""
        teardown, letter = self._session.teardown, self.types.letter
        own = {j.id for j in teardown.joints if j.fastener == letter}
        for view in teardown.views:
            spots = [(m.x, m.y) for m in view.marks if m.thing in own]
            body = self._session.photo(view.photo) if spots and view.mm_per_px else None
            if body:
                scale = view.mm_per_px
                self.say(tr("Looking at {0} marks…").format(len(spots)))
                self._jobs.start("look", partial(_look, body, spots), partial(self._proposed, scale),
                                 lambda words: self.say(words, alarm=True))
                return
        self.say(tr("No photograph with a scale has a mark of this letter"), alarm=True)

    def _proposed(self, scale: float, found: tuple[float, list[tuple[str, float]]] | None) -> None:
        if found is None:
            self.say(tr("Nothing round is seen at the marks"), alarm=True)
            return
        radius, families = found
        family, share = families[0] if families else ("", 0.0)
        self.identify.propose(2 * radius * scale, family if share > 0.4 else "")
        seen = ", ".join(f"{name} {odds_text(odds)}" for name, odds in families[:3])
        self.say(tr("By the photo: head about {0}; recess {1}. Look again with a lens.").format(
            length_text(round(2 * radius * scale, 1)), seen or tr("not clear")))

    def stop(self) -> None:
        self._jobs.stop_all()


def _look(body: bytes, spots: list[tuple[float, float]]) -> Iterator[Any]:
    """Head radius, px, and recess families over all marks."""
    from statistics import median

    from oddbolt.imaging.finding.circles import snap
    from oddbolt.imaging.recess import recess_families
    from oddbolt.ui.background.pixels import pixels_of

    image: QImage = read_image(body)
    yield None
    pixels = pixels_of(image)
    seen = [snap(pixels, *spot) for spot in spots[:8]]
    yield None
    radius = median(r for _, _, r in seen)
    shares: dict[str, float] = {}
    for x, y, _ in seen:
        for family, share in recess_families(pixels, x, y, radius):
            shares[family] = shares.get(family, 0.0) + share / len(seen)
    yield radius, sorted(shares.items(), key=lambda item: -item[1])
