"""The shelf: all teardowns of the chosen folders; searched, sorted, filtered, tagged, opened."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from pathlib import Path
from typing import Any

from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QLineEdit, QMenu, QPushButton, QVBoxLayout

from oddbolt.model.refusal import Refusal
from oddbolt.paint.images import make_thumb
from oddbolt.paint.palette import Palette
from oddbolt.session.session import Session
from oddbolt.session.shelf import Shelf, shelf
from oddbolt.store.shelf.cards import WHOLE, Card
from oddbolt.store.shelf.chosen import Chosen, read_chosen, with_tags, write_chosen
from oddbolt.ui.background.jobs import Jobs
from oddbolt.ui.correcting.asking import AskText
from oddbolt.ui.pieces.sheet import Echo, explain, label
from oddbolt.ui.shelf.texts import category_name, state_text, whole_text
from oddbolt.ui.shelf.wall import Wall
from oddbolt.ui.workspace import Workspace
from oddbolt.words.refusals import refusal_text
from oddbolt.words.translate import N_, tr

NAME, DATE, DEEP, TIME, ODD, OPEN = "name", "date", "deep", "time", "odd", "open"
ORDERS = ((DATE, N_("Newest first")), (NAME, N_("By name")), (DEEP, N_("Deepest part first")),
          (TIME, N_("Longest time first")), (ODD, N_("Most odd bolts first")), (OPEN, N_("Most that is open first")))
ANY = ""
SHOWN_MS = 150  # the wall is drawn anew at most so often while files are examined


class ShelfPanel(Workspace):
    """Follows the folders, not the record that is open; it is looked through anew when it is shown."""

    open_asked = Signal(object)  # a Path

    def __init__(self, session: Session, palette: Palette, folder: Path) -> None:
        super().__init__(session)
        self._folder = folder
        self._jobs = Jobs(self)
        self._shelf: Shelf | None = None
        self.chosen = read_chosen()
        self.wall, self.echo = Wall(palette), Echo()
        self.search, self.order, self.category, self.tag = QLineEdit(), QComboBox(), QComboBox(), QComboBox()
        self.folders = QPushButton(tr("Folders"))
        self.state = label("", "faint")
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(SHOWN_MS)
        self._later.timeout.connect(self._show)
        self._build()

    def _build(self) -> None:
        self.search.setPlaceholderText(tr("Name, model, analyst, part, tag"))
        self.search.setClearButtonEnabled(True)
        for widget, name, told in ((self.search, tr("Search"), tr("All words must be found somewhere on a card")),
                                   (self.order, tr("Order"), tr("Which come first")),
                                   (self.category, tr("Category"), tr("Only this category, or state")),
                                   (self.tag, tr("Tag"), tr("Only what has this tag; T gives tags"))):
            widget.setAccessibleName(name)
            explain((widget, told))
        explain((self.folders, tr("Whose teardowns are on the shelf")),
                (self.wall, tr("Return opens what is chosen, T gives it tags")))
        for code, text in ORDERS:
            self.order.addItem(tr(text), code)
        menu = QMenu(self.folders)
        menu.aboutToShow.connect(lambda: self._fill_folders(menu))
        self.folders.setMenu(menu)
        row = QHBoxLayout()
        row.addWidget(self.search, 2)
        for widget in (self.order, self.category, self.tag):
            row.addWidget(widget, 1)
        row.addWidget(self.folders)
        below = QHBoxLayout()
        below.addWidget(self.echo, 1)
        below.addWidget(self.state)
        box = QVBoxLayout(self)
        box.setContentsMargins(10, 8, 10, 8)
        box.addLayout(row)
        box.addWidget(self.wall, 1)
        box.addLayout(below)
        self.search.textChanged.connect(lambda _: self._show())
        for combo in (self.order, self.category, self.tag):
            combo.activated.connect(lambda _: self._show())
        self.wall.opened.connect(lambda path: self.open_asked.emit(Path(path)))
        self.wall.tag_asked.connect(self.ask_tags)

    # -- finding

    def showEvent(self, event: Any) -> None:  # noqa: N802 (Qt's name)
        self._stale = True
        super().showEvent(event)

    def refresh(self) -> None:
        """Look through the folders anew; what is known of files that have not changed is there at once."""
        folders = self._all_folders()
        document = self._session.document
        own = (document.path, document.teardown) if document.is_open else None
        self._jobs.start("shelf", lambda stop: _found(folders, own, stop), self._take, self._say_problem, self._take)

    def _all_folders(self) -> list[Path]:
        """Where new work lives comes first; a folder within another is read once."""
        return [self._folder, *(Path(name) for name in self.chosen.folders)]

    def _take(self, found: Shelf | None) -> None:
        if found is None:
            return
        first = self._shelf is None or found.is_done
        self._shelf = found
        if first:
            self._show()
        elif not self._later.isActive():
            self._later.start()

    @property
    def is_done(self) -> bool:
        """Whether all that is on the shelf has been examined."""
        return self._shelf is not None and self._shelf.is_done

    def _say_problem(self, words: str) -> None:
        self.say(words, alarm=True)

    # -- showing

    def _show(self) -> None:
        if self._shelf is None:
            return
        cards = list(self._shelf.cards.values())
        self._fill(self.category, tr("Every category"), [(category_name(one), one) for one in sorted(
            {card.category for card in cards if card.category})] + [
                (state_text(card), f"!{card.state}") for card in {card.state: card for card in cards
                                                                  if card.state != WHOLE}.values()])
        self._fill(self.tag, tr("Every tag"), [(word, word) for word in sorted(
            {word for card in cards for word in self.chosen.tags.get(card.path, ())})])
        shown = self._sorted([card for card in cards if self._is_asked_for(card)])
        at = self.wall.path
        self.wall.cards.show_cards(shown, self.chosen.tags)
        row = next((n for n, card in enumerate(shown) if card.path == at), 0)
        if shown and self.wall.path != at or not at:
            self.wall.setCurrentIndex(self.wall.cards.index(row))
        examined = "" if self._shelf.is_done else tr(", {0} examined").format(self._shelf.done)
        self.state.setText(tr("{0} of {1}{2}").format(len(shown), len(cards), examined))
        if not cards:
            self.say(tr("Nothing is here yet: choose folders, or begin a teardown in Prepare."))

    @staticmethod
    def _fill(combo: QComboBox, every: str, rows: Sequence[tuple[str, str]]) -> None:
        chosen = combo.currentData()
        combo.blockSignals(True)
        combo.clear()
        combo.addItem(every, ANY)
        for text, value in rows:
            combo.addItem(text, value)
        combo.setCurrentIndex(max(0, combo.findData(chosen)))
        combo.blockSignals(False)

    def _is_asked_for(self, card: Card) -> bool:
        tags = self.chosen.tags.get(card.path, ())
        wanted = self.category.currentData() or ANY
        if wanted and (card.state != wanted[1:] if wanted.startswith("!") else card.category != wanted):
            return False
        if self.tag.currentData() and self.tag.currentData() not in tags:
            return False
        text = f"{whole_text(card, tags)} {card.model}".casefold()
        return all(word in text for word in self.search.text().casefold().split())

    def _sorted(self, cards: list[Card]) -> list[Card]:
        keys: dict[str, Callable[[Card], Any]] = {
            NAME: lambda card: card.name.casefold(),
            DEEP: lambda card: -max((one.steps or 0 for one in card.reaches), default=-1),
            TIME: lambda card: -max((one.seconds or 0 for one in card.reaches), default=-1.0),
            ODD: lambda card: -card.odd, OPEN: lambda card: -(card.findings + card.guessed)}
        by_name = sorted(cards, key=keys[NAME])
        order = self.order.currentData()
        if order == DATE:
            return sorted(by_name, key=lambda card: card.date, reverse=True)
        return sorted(by_name, key=keys[order])

    # -- folders and tags

    def _fill_folders(self, menu: QMenu) -> None:
        menu.clear()
        menu.addAction(tr("Add a folder…"), self.ask_folder)
        menu.addAction(tr("Look through them again"), self.refresh)
        menu.addSeparator()
        own = menu.addAction(tr("{0} (new work)").format(self._folder))
        own.setEnabled(False)
        for name in self.chosen.folders:
            menu.addAction(tr("Take {0} away").format(name.replace("&", "&&")),
                           lambda name=name: self.take_folder_away(name))

    def ask_folder(self) -> None:
        name = QFileDialog.getExistingDirectory(self, tr("A folder with teardowns"))
        if name:
            self.add_folder(name)

    def add_folder(self, name: str) -> None:
        if name not in self.chosen.folders:
            self._choose(Chosen(folders=(*self.chosen.folders, name), tags=self.chosen.tags))
        self.refresh()

    def take_folder_away(self, name: str) -> None:
        self._choose(Chosen(folders=tuple(one for one in self.chosen.folders if one != name), tags=self.chosen.tags))
        self.refresh()

    def ask_tags(self, path: str) -> None:
        AskText(self, tr("Tags, with commas between them"), ", ".join(self.chosen.tags.get(path, ())),
                lambda text: self.give_tags(path, text))

    def give_tags(self, path: str, text: str) -> None:
        self._choose(with_tags(self.chosen, path, text.split(",")))
        self._show()

    def _choose(self, chosen: Chosen) -> None:
        try:
            write_chosen(chosen)
        except Refusal as refusal:
            self.say(refusal_text(refusal), alarm=True)
            return
        self.chosen = chosen
        self.say("")

    def say(self, text: str, *, alarm: bool = False) -> None:
        self.echo.say(text, alarm=alarm)

    def stop(self) -> None:
        self._later.stop()
        self._jobs.stop_all()


def _found(folders: Sequence[Path], own: tuple[Path, Any] | None, stop: Callable[[], bool]) -> Iterator[Shelf]:
    yield from shelf(folders, make_thumb, stop, own=own)
