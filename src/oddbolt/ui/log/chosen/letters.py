"""What a click on the photograph marks: a fastener letter, and the part that these screws hold."""

from __future__ import annotations

from PySide6.QtCore import QSize, Signal
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QMenu, QToolButton, QWidget

from oddbolt.catalog.drivers import drives, recess_of
from oddbolt.model.things import Fastener, Teardown
from oddbolt.paint.bolts import TAG_HEIGHT, tag_width
from oddbolt.session.verbs.letters import next_letter
from oddbolt.ui.pieces.sheet import label, tip
from oddbolt.ui.theme.icons import tag_icon
from oddbolt.words.names import fastener_text, name_of
from oddbolt.words.translate import tr

TARGET = 44


class LetterBar(QWidget):
    """Letters as tags, one of them active or none, and the part the next group of screws holds."""

    changed = Signal()
    fastener_asked = Signal(object)  # a fastener to be added to the tray

    def __init__(self) -> None:
        super().__init__()
        self.letter = ""
        self._last = ""
        self._buttons: dict[str, QToolButton] = {}
        self._shown: tuple[Fastener, ...] = ()
        self._next = "A"
        self._usual: list[tuple[str, str]] = []
        self.parts = QComboBox()
        self.parts.setAccessibleName(tr("Part that the next screws hold"))
        self.parts.setMinimumWidth(90)
        self.parts.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.parts.setToolTip(tr("What the next screws hold"))
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(5)
        self._row.addWidget(label(tr("Mark"), "title"))
        self.more = QToolButton()
        self.more.setText("+")
        self.more.setObjectName("tool")
        self.more.setMinimumWidth(TARGET)
        self.more.setAccessibleName(tr("Another kind of screw on the tray"))
        self.more.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.more.setMenu(QMenu(self.more))
        self.more.menu().aboutToShow.connect(self._fill_drives)
        self.more.setToolTip(tip(tr("Another kind of screw: its recess, and a letter of its own on the tray")))
        self._row.addWidget(self.more)
        self._row.addStretch(1)
        self._row.addWidget(label(tr("of"), "faint"))
        self._row.addWidget(self.parts, 2)
        self.parts.currentIndexChanged.connect(lambda _: self.changed.emit())

    @property
    def part(self) -> str:
        return self.parts.currentData() or ""

    def choose_part(self, part: str) -> None:
        row = self.parts.findData(part)
        if row >= 0:
            self.parts.setCurrentIndex(row)

    def show_teardown(self, teardown: Teardown, on_device: list[str]) -> None:
        self._next = next_letter(teardown)
        self._usual = [found for tool in teardown.tools if (found := recess_of(tool.id)) is not None]
        if teardown.fasteners != self._shown:
            self._shown = teardown.fasteners
            self._make_buttons(teardown.fasteners)
        before = self.part
        if [self.parts.itemData(n) for n in range(self.parts.count())] != ["", *on_device]:
            self.parts.blockSignals(True)
            self.parts.clear()
            self.parts.addItem(tr("the next part"), "")
            for id_ in on_device:
                self.parts.addItem(name_of(teardown, id_), id_)
            self.choose_part(before)
            self.parts.blockSignals(False)

    def _make_buttons(self, fasteners: tuple[Fastener, ...]) -> None:
        for button in self._buttons.values():
            self._row.removeWidget(button)
            button.deleteLater()
        self._buttons = {}
        for n, fastener in enumerate(fasteners):
            button = QToolButton()
            button.setCheckable(True)
            button.setObjectName("tool")
            button.setMinimumWidth(TARGET + 8)
            button.setIcon(tag_icon(fastener, self.font()))
            button.setIconSize(QSize(round(tag_width(fastener.id)), round(TAG_HEIGHT)))
            text = fastener_text(fastener)
            button.setToolTip(tip(tr("{0}, key {1}").format(text, n + 1)))
            button.setAccessibleName(tr("Mark screws {0}").format(text))
            button.clicked.connect(lambda _, letter=fastener.id: self._set("" if self.letter == letter else letter))
            self._buttons[fastener.id] = button
            self._row.insertWidget(n + 1, button)
        if self.letter not in self._buttons:
            self._set("")

    def choose(self, place: int) -> None:
        """Take a letter up; the place after the last one makes another kind of screw with the drive used last."""
        letters = list(self._buttons)
        if place < len(letters):
            self._set(letters[place])
        elif place == len(letters) and letters:
            like = next((f for f in self._shown if f.id == (self.letter or self._last)), self._shown[-1])
            self.bring_out(like.drive, like.size)

    def toggle(self) -> None:
        """Marking on or off, with the letter used last."""
        self._set("" if self.letter else self._last or next(iter(self._buttons), ""))

    def show_letter(self, letter: str) -> None:
        """The letter that is armed, or none; nobody is told."""
        if letter != self.letter:
            self._set(letter, quiet=True)

    def _fill_drives(self) -> None:
        """Drives and sizes, those laid out first; the rest of a screw is measured when a hand is free."""
        menu = self.more.menu()
        menu.clear()
        for drive, size in self._usual:
            self._offer(menu, drive, size)
        menu.addSeparator()
        for drive in drives().values():
            sub = menu.addMenu(drive.code)
            for size in drive.sizes():
                self._offer(sub, drive.code, size)

    def _offer(self, menu: QMenu, drive: str, size: str) -> None:
        action = QAction(f"{drive}{size}", menu)
        action.triggered.connect(lambda _=False: self.bring_out(drive, size))
        menu.addAction(action)

    def bring_out(self, drive: str, size: str) -> None:
        """Onto the tray, and in hand: who names a kind of screw has one of them in front of them."""
        made = Fastener(id=self._next, drive=drive, size=size)
        self.fastener_asked.emit(made)
        if made.id in self._buttons:  # a record that is only read, or has no letter left, takes none
            self._set(made.id)

    def _set(self, letter: str, *, quiet: bool = False) -> None:
        self.letter = letter
        self._last = letter or self._last
        for id_, button in self._buttons.items():
            button.setChecked(id_ == letter)
        if not quiet:
            self.changed.emit()
