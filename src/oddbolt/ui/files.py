"""Files in and out of the window: documents opened and begun, exports, photographs from files and folders."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, QUrl
from PySide6.QtGui import QDesktopServices
from PySide6.QtWidgets import QFileDialog, QMenu, QMessageBox

from oddbolt.model.refusal import Refusal
from oddbolt.session.documents import free_path
from oddbolt.ui.background.jobs import Jobs
from oddbolt.ui.pieces.sheet import tip
from oddbolt.ui.pieces.suffix import suffixed
from oddbolt.words.refusals import advice_text, reason_text, refusal_text
from oddbolt.words.translate import tr

if TYPE_CHECKING:
    from oddbolt.model.repaired import Repaired
    from oddbolt.model.things import Teardown
    from oddbolt.session.prepare import Preparation
    from oddbolt.store.twin import LeftOut
    from oddbolt.ui.rooms import Rooms


MAY_BE_READ = ("open-elsewhere", "file-not-writable", "folder-not-writable")


class Files:
    """Asks by the system's dialogs; a refusal is told in a message and leaves what is open untouched."""

    def __init__(self, window: Rooms, folder: Path) -> None:
        self._window = window
        self.folder = folder
        self._jobs = Jobs(window)
        self._aside: TemporaryDirectory[str] | None = None  # where a damaged document that is looked at was read to

    # -- documents

    def ask_open(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self._window, tr("Open a teardown"), str(self.folder), teardowns())
        if name:
            self.open_path(Path(name))

    def open_path(self, path: Path, *, anew: bool = False) -> bool:
        """Open another teardown; what is open stays untouched when it is refused, and a message says why. What is open
        here already comes to the front; an exchange file that was taken in before asks which copy is meant, unless it
        is to be taken in `anew`."""
        from oddbolt.session.documents import open_document
        from oddbolt.store import recent
        from oddbolt.store.files import is_exchange

        if self._is_open_here(path):
            self._window.raise_()
            self._window.activateWindow()
            self._window.say(tr("{0} is open here").format(path.name))
            return True
        from_exchange = is_exchange(path)
        copy = recent.taken_into(path) if from_exchange and not anew else None
        if copy is not None:
            self._ask_which_copy(path, copy)
            return False
        left_out: list[LeftOut] = []
        try:
            document = open_document(path, None, self.folder, left_out.extend)
        except Refusal as refusal:
            self.tell_refused(path, refusal)
            return False
        self._window.session.switch_to(document)
        if from_exchange:
            recent.was_taken(path, document.path)
        recent.was_opened(document.path)
        self.tell_left_out(left_out)
        return True

    def tell_refused(self, path: Path, refusal: Refusal) -> None:
        """Why a file was not opened, and the way to mend it where there is one."""
        where = f"{path}, {refusal.path}" if refusal.path.startswith("$") else refusal.path
        lines = [f"{where}: {reason_text(refusal)}.", f"{advice}." if (advice := advice_text(refusal)) else ""]
        offers: list[tuple[str, Callable[[], object]]] = []
        if refusal.code == "document-damaged":
            offers = [(tr("Repair…"), lambda: self.ask_repair(path)),
                      (tr("Look at what is whole"), lambda: self.look_at_damaged(path))]
        elif refusal.code in MAY_BE_READ:
            offers = [(tr("Open for reading"), lambda: self.open_for_reading(path))]
        self._window.tell(tr("{0} was not opened").format(path.name), "\n".join(line for line in lines if line),
                          offers=offers)

    def open_for_reading(self, path: Path) -> bool:
        """A document that others hold or that cannot be written to; nothing is written to it."""
        from oddbolt.store.document import Document

        try:
            self._window.session.switch_to(Document.open(path, read_only=True))
        except Refusal as refusal:
            self._window.tell(tr("{0} was not opened").format(path.name), refusal_text(refusal))
            return False
        return True

    def look_at_damaged(self, path: Path) -> None:
        """What is whole of a damaged document, for reading; it is left as it is, and nothing new stays."""
        from oddbolt.store.repair import repair

        aside = TemporaryDirectory(prefix="odd-bolt-")
        target = Path(aside.name) / f"{path.stem}.oddbolt"

        def seen(done: Repaired) -> None:
            from oddbolt.words.repairs import repaired_lines

            if self.open_for_reading(done.path):
                before, self._aside = self._aside, aside
                if before is not None:
                    before.cleanup()
                self._window.tell(tr("What is whole of {0}").format(path.name), "\n".join(repaired_lines(done)),
                                  QMessageBox.Icon.Information)

        self._jobs.start("repair", lambda: repair(path, target), seen,
                         lambda words: self._window.tell(tr("Nothing of {0} can be read").format(path.name), words))

    def close(self) -> None:
        """Leave the teardown that is open; all of it is on disk already."""
        from oddbolt.store.nothing import NothingOpen

        self._window.session.switch_to(NothingOpen())

    def show_demo(self, name: str = "dunlin-2") -> None:
        """A demo, to look around in; what is open meanwhile is on disk."""
        from oddbolt.session.documents import demo_folder, open_demo

        session = self._window.session
        if session.path.parent != demo_folder(self.folder) or not session.path.name.startswith(name):
            try:
                session.switch_to(open_demo(self.folder, name))
            except Refusal as refusal:
                self._window.tell(tr("The demo was not opened"), refusal_text(refusal))
                return
        self._window.show_workspace("log")

    def _is_open_here(self, path: Path) -> bool:
        try:
            return self._window.session.document.is_open and path.samefile(self._window.session.path)
        except (OSError, ValueError):
            return False

    def _ask_which_copy(self, source: Path, copy: Path) -> None:
        """An exchange file becomes a document of its own; opened again, the work in that one may be what is meant."""
        box = QMessageBox(QMessageBox.Icon.Question, tr("Which copy?"), tr("Which copy?"),
                          QMessageBox.StandardButton.Cancel, self._window)
        box.setTextFormat(Qt.TextFormat.PlainText)
        box.setInformativeText(tr("{0} was taken into {1} before. What was done there is not in {0}.").format(
            source.name, copy.name))
        box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        box.addButton(tr("Open {0}").format(copy.name), QMessageBox.ButtonRole.AcceptRole).clicked.connect(
            lambda _: self.open_path(copy))
        box.addButton(tr("Take it in again"), QMessageBox.ButtonRole.ActionRole).clicked.connect(
            lambda _: self.open_path(source, anew=True))
        self.asked = box
        box.open()

    def fill_recent(self, menu: QMenu) -> None:
        """Documents that were open last, as the menu is opened."""
        from oddbolt.store.recent import recent

        menu.clear()
        for path in recent():
            action = menu.addAction(path.name.replace("&", "&&"))
            action.setToolTip(tip(str(path)))
            action.setEnabled(not self._is_open_here(path))
            action.triggered.connect(lambda _=False, path=path: self.open_path(path))
        if menu.isEmpty():
            menu.addAction(tr("None yet")).setEnabled(False)

    def ask_copy(self) -> None:
        """The whole document with its history and photographs under another name; this one stays open."""
        session = self._window.session
        start = session.path.with_name(tr("{0} copy").format(session.path.stem) + ".oddbolt")
        name, _ = QFileDialog.getSaveFileName(self._window, tr("Save a copy"), str(start), teardowns())
        if not name:
            return
        target = Path(suffixed(name, ".oddbolt"))
        try:
            session.document.copy_to(target)
        except Refusal as refusal:
            self._window.tell(tr("No copy was saved"), refusal_text(refusal))
            return
        self._window.say(tr("Copied to {0}").format(target))

    def ask_name(self) -> None:
        from oddbolt.ui.correcting.asking import AskText

        AskText(self._window, tr("Name of the file"), self._window.session.path.stem, self.rename)

    def rename(self, name: str) -> None:
        from oddbolt.session.documents import rename
        from oddbolt.store import recent

        try:
            rename(self._window.session, name)
        except Refusal as refusal:
            self._window.tell(tr("It keeps its name"), refusal_text(refusal))
            return
        recent.was_opened(self._window.session.path)

    def show_folder(self) -> None:
        """The folder of the document, in the system's own view of it."""
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(self._window.session.path.parent)))

    def tell_left_out(self, left_out: Sequence[LeftOut]) -> None:
        """Which photographs did not come along; nothing where all did."""
        from oddbolt.words.photographs import left_out_lines

        if left_out:
            self._window.tell(tr("Photographs were left out"),
                              "\n".join(left_out_lines((one.name, one.why) for one in left_out)),
                              QMessageBox.Icon.Information)

    def ask_repair(self, source: Path | None = None) -> None:
        """Make a new document of what is whole in a damaged one, and open it; the damaged one stays as it is."""
        from oddbolt.store.repair import repair

        if source is None:
            name, _ = QFileDialog.getOpenFileName(self._window, tr("Repair a damaged document"), str(self.folder),
                                                  tr("Documents ({0})").format("*.oddbolt"))
            if not name:
                return
            source = Path(name)
        target = free_path(self.folder, tr("{0} repaired").format(source.stem))
        self._window.say(tr("Reading what is whole in {0}").format(source.name))
        self._jobs.start("repair", lambda: repair(source, target), self._repaired,
                         lambda words: self._window.tell(tr("{0} was not repaired").format(source.name), words))

    def _repaired(self, done: Repaired) -> None:
        from oddbolt.words.repairs import repaired_lines

        self._window.say("")
        if self.open_path(done.path):
            self._window.tell(tr("Repaired, as far as it goes"), "\n".join(repaired_lines(done)),
                              QMessageBox.Icon.Information)

    def stop(self) -> None:
        """Before the window closes."""
        self._jobs.stop_all()
        if self._aside is not None:
            self._aside.cleanup()

    def begin(self, preparation: Preparation, earlier: Teardown | None) -> None:
        """Begin a new teardown beside the ones there are, and go to the Log."""
        from oddbolt.session.documents import begin_teardown

        session = self._window.session
        try:
            document = begin_teardown(preparation, earlier, self.folder, session.now())
        except Refusal as refusal:
            self._window.tell(tr("No new teardown was begun"), refusal_text(refusal))
            return
        from oddbolt.store import recent

        session.switch_to(document)
        recent.was_opened(document.path)
        self._window.show_workspace("log")
        self._window.log.canvas.setFocus()

    def ask_earlier(self) -> Path | None:
        name, _ = QFileDialog.getOpenFileName(self._window, tr("Earlier model"), str(self.folder), teardowns())
        return Path(name) if name else None

    def ask_export(self) -> None:
        from oddbolt.store.twin import export_json
        from oddbolt.ui.pieces.export_sheet import ExportSheet

        session = self._window.session
        start = self.folder / f"{session.path.stem}.json"
        name, _ = QFileDialog.getSaveFileName(self._window, tr("Export as JSON"), str(start), "JSON (*.json)")
        if not name:
            return
        name = suffixed(name, ".json")
        sheet = ExportSheet(self._window)
        if not sheet.exec():
            return
        try:
            left_out = export_json(session.document, Path(name), sheet.leave_out())
            self._window.say(tr("Exported to {0}").format(name))
            self.tell_left_out(left_out)
        except Refusal as refusal:
            self._window.tell(tr("Nothing was exported"), refusal_text(refusal))

    # -- photographs

    def ask_photo(self) -> Path | None:
        name, _ = QFileDialog.getOpenFileName(self._window, tr("Photograph of the present state"), "", photographs())
        return Path(name) if name else None

    def add_photo(self) -> None:
        self._window.show_workspace("log")
        path = self.ask_photo()
        if path is not None:
            self._window.log.states.add_file(path)

    def watch(self) -> None:
        name = QFileDialog.getExistingDirectory(self._window, tr("Folder to watch for new photographs"))
        if name:
            self._window.log.states.watch(Path(name))


def photographs() -> str:
    return tr("Photographs ({0})").format("*.jpg *.jpeg *.png *.webp *.tif *.tiff *.bmp")


def teardowns() -> str:
    return tr("Teardowns ({0})").format("*.oddbolt *.json")
