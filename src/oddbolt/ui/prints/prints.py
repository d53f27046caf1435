"""What is printed: sheets of dots and mats for the bolts, as PDF or SVG at true scale."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QFileDialog, QWidget

from oddbolt.imaging.dots import DOT_MM, PITCH_MM
from oddbolt.model.refusal import Refusal
from oddbolt.paint.images import image_size, read_image
from oddbolt.paint.mat import Mat, best_page, mat_pdf, mat_svg, tiles
from oddbolt.paint.mat_of import mat_of
from oddbolt.paint.pages import PAGES_MM, Page, dot_sheet
from oddbolt.reassembly.tray import TrayLayer
from oddbolt.session.session import Session
from oddbolt.store.files import write_whole
from oddbolt.ui.pieces.suffix import suffixed
from oddbolt.words.names import side_name
from oddbolt.words.refusals import refusal_text
from oddbolt.words.translate import tr

SVG = "SVG"
PICTURE_PX = 2000


class Prints(QObject):
    """Asks where to, writes, and says what was written."""

    said = Signal(str, bool)

    def __init__(self, session: Session, folder: Path, parent: QWidget) -> None:
        super().__init__(parent)
        self._session = session
        self._folder = folder
        self._parent = parent

    def _ask(self, title: str, name: str, formats: dict[str, str]) -> tuple[Path, str] | None:
        """A path and the format whose filter was chosen."""
        path, chosen = QFileDialog.getSaveFileName(self._parent, title, str(self._folder / name), ";;".join(formats))
        if not path:
            return None
        made = formats.get(chosen) or (SVG if path.lower().endswith(".svg") and SVG in formats.values() else
                                       next(iter(formats.values())))
        return Path(suffixed(path, ".svg" if made == SVG else ".pdf")), made

    def _papers(self) -> dict[str, str]:
        return {tr("PDF on {0} (*.pdf)").format(name): name for name in PAGES_MM}

    def _write(self, path: Path, make: Callable[[], bytes], done: str) -> bool:
        try:
            write_whole(path, make())
        except Refusal as refusal:
            self.said.emit(tr("Nothing was written. {0}").format(refusal_text(refusal)), True)
            return False
        self.said.emit(done.format(path), False)
        return True

    @property
    def _words(self) -> str:
        return tr("Print at 100 %, not fitted. The ruler is 100 mm.")

    def ask_dot_sheet(self) -> None:
        """The sheet of dots that lies under the device when it is measured."""
        asked = self._ask(tr("Sheet of dots"), "dot-sheet.pdf", self._papers())
        if asked is not None:
            path, paper = asked
            title, done = tr("Sheet of dots"), tr("Written to {0}; print it at 100 % and check its ruler")
            self._write(path, lambda: dot_sheet(Page(name=paper), title, self._words, PITCH_MM, DOT_MM), done)

    def ask_mat(self, layers: list[tuple[int, TrayLayer]]) -> None:
        """The mats of some layers, numbered as in the tray; one layer may also be written as SVG."""
        formats = self._papers()
        if len(layers) == 1:
            formats[tr("SVG drawing (*.svg)")] = SVG
        asked = self._ask(tr("Mat for the bolts"), "mat.pdf", formats)
        if asked is None:
            return
        path, made = asked
        try:
            mats = [self._mat(number, layer) for number, layer in layers]
        except Refusal as refusal:
            self.said.emit(tr("Nothing was written. {0}").format(refusal_text(refusal)), True)
            return
        if made == SVG:
            self._write(path, lambda: mat_svg(mats[0]), tr("Written to {0}"))
            return
        sheets = sum(len(tiles(mat, best_page(mat, made))) for mat in mats)
        self._write(path, lambda: mat_pdf(mats, made, self._words), tr(
            "Written to {{0}}, about {0} sheets; print at 100 % and check the ruler").format(sheets))

    def _mat(self, number: int, layer: TrayLayer) -> Mat:
        view, device = layer.view, self._session.teardown.device
        body = self._session.photo(view.photo) if view is not None else None
        picture = read_image(body, PICTURE_PX) if body else None
        size = image_size(body) if body else None
        side = side_name(view.side) if view is not None else ""
        return mat_of(self._session.teardown, layer, size or (1, 1), tr("{0}, layer {1}, {2}").format(
            device.name or tr("Device"), number + 1, side), picture)
