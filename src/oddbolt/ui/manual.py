"""The manual in the program: pages on the left, searched as one types, and the page of the workspace in front."""

from __future__ import annotations

from html import escape
from importlib.resources import files

from PySide6.QtCore import Qt, QUrl
from PySide6.QtGui import QImage, QTextDocument
from PySide6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from oddbolt.reports.as_html import to_html
from oddbolt.reports.content.tree import Block, Heading, Line, Page, Title
from oddbolt.ui.log.keys_page import keys_html
from oddbolt.ui.pieces.sheet import label
from oddbolt.words.manual import pages
from oddbolt.words.manual_page import ManualPage
from oddbolt.words.translate import tr

KEYS = "keys"
PICTURE_PX = 540


class Manual(QDialog):
    """Stays open beside the window."""

    def __init__(self, parent: QWidget, page: str) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Manual"))
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(860, 620)
        self.search = QLineEdit()
        self.search.setPlaceholderText(tr("Search the manual"))
        self.search.setAccessibleName(tr("Search the manual"))
        self.search.setClearButtonEnabled(True)
        self.found = label("", "faint")
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Pages"))
        self.list.setMaximumWidth(240)
        self.list.setSpacing(2)
        self.page = QTextBrowser()
        self.page.setOpenLinks(False)
        self.page.setAccessibleName(tr("Page"))
        self._texts: dict[str, tuple[str, str]] = {}  # id -> rich text, all its words
        for one in pages():
            self._add(one.id, one.title, _html(one), _words(one))
        self._add(KEYS, tr("Keys"), keys_html(), keys_html())
        left = QVBoxLayout()
        for widget in (self.search, self.list, self.found):
            left.addWidget(widget)
        whole = QHBoxLayout(self)
        whole.addLayout(left)
        whole.addWidget(self.page, 1)
        self.list.currentItemChanged.connect(lambda item, _: self._show(item))
        self.search.textChanged.connect(lambda _: self._look())
        self.turn_to(page)

    def _add(self, id_: str, title: str, html: str, words: str) -> None:
        item = QListWidgetItem(title)
        item.setData(Qt.ItemDataRole.UserRole, id_)
        self.list.addItem(item)
        self._texts[id_] = html, f"{title} {words}".casefold()

    def turn_to(self, page: str) -> None:
        for n in range(self.list.count()):
            if self.list.item(n).data(Qt.ItemDataRole.UserRole) == page:
                self.list.setCurrentRow(n)
        if self.list.currentRow() < 0:
            self.list.setCurrentRow(0)

    def _show(self, item: QListWidgetItem | None) -> None:
        if item is not None:
            id_ = item.data(Qt.ItemDataRole.UserRole)
            self._give_picture(id_)
            self.page.setHtml(self._texts[id_][0])
            self._find()

    def _give_picture(self, id_: str) -> None:
        """The page's picture under the name by which its text asks for it."""
        picture = QImage()
        picture.loadFromData(_picture(id_) or b"")
        if not picture.isNull():
            kind = QTextDocument.ResourceType.ImageResource.value
            self.page.document().addResource(kind, QUrl(_called(id_)), picture)

    def _look(self) -> None:
        """Pages with every word that was typed; how many there are is said."""
        words = self.search.text().casefold().split()
        shown = []
        for n in range(self.list.count()):
            item = self.list.item(n)
            text = self._texts[item.data(Qt.ItemDataRole.UserRole)][1]
            item.setHidden(not all(word in text for word in words))
            if not item.isHidden():
                shown.append(n)
        self.found.setText(tr("found: {0}").format(len(shown)) if words else "")
        if shown and self.list.currentRow() not in shown:
            self.list.setCurrentRow(shown[0])
        self._find()

    def _find(self) -> None:
        words = self.search.text().split()
        if words:
            self.page.find(words[0])


def _html(page: ManualPage) -> str:
    blocks: list[Block] = []
    for heading, paragraphs in page.sections:
        blocks += [Heading(heading), *(Line(text) for text in paragraphs)]
    picture = f"<p><img src='{_called(page.id)}' width='{PICTURE_PX}'></p>" if _picture(page.id) is not None else ""
    return to_html(Page((Title(page.title),))) + picture + to_html(Page(tuple(blocks)))


def _picture(id_: str) -> bytes | None:
    """The picture of a page; drawn from the demo by scripts/screenshots.py."""
    file = files("oddbolt.ui").joinpath("resources", "manual", f"{id_}.jpg")
    return file.read_bytes() if file.is_file() else None


def _called(id_: str) -> str:
    return f"manual:{id_}"


def _words(page: ManualPage) -> str:
    return escape(" ".join((heading + " " + " ".join(texts)) for heading, texts in page.sections), quote=False)
