"""The window: assembles the rooms, the rail and the menus. It holds no state of the teardown.

Rooms are built when they are first shown (`rooms.py`); the Log when the window is filled, after its first paint.
"""

from __future__ import annotations

import gc
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, cast

from PySide6.QtCore import QBuffer, QIODevice, QSize, Qt
from PySide6.QtGui import QCloseEvent, QFont, QFontMetrics, QKeySequence, QResizeEvent, QShortcut
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QMessageBox, QToolButton, QVBoxLayout, QWidget

from oddbolt.ui.rooms import GROUPS, KEYS, ROOMS, WITHOUT_A_DOCUMENT, Offers, Rooms
from oddbolt.ui.shell import RAIL_WIDTH

if TYPE_CHECKING:
    from oddbolt.instruments.protocols import Bench, FootSwitch
    from oddbolt.session.change import Change
    from oddbolt.session.session import Session
    from oddbolt.ui.background.photos import Ahead
    from oddbolt.ui.workspace import Workspace

ChoosePhoto = Callable[[], Path | None]
ICON_PX, LEAST_ICON_PX = 24, 16
GROUP_GAP_PX = 5  # between groups of rooms
LARGE_TEXT_PX = 21  # height of a line from which the rail shows icons alone


def keep_out_of_collection() -> None:
    """What is there once a record has been opened stays; searching it for circles again and again is felt in an act."""
    gc.freeze()


class Rail(QWidget):
    """The column of rooms. In a low window the icons become smaller, so that the names stay whole."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("rail")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)  # else only a plain QWidget has one

    def resizeEvent(self, event: QResizeEvent) -> None:  # noqa: N802 (Qt's name)
        super().resizeEvent(event)
        buttons = self.findChildren(QToolButton)
        if not buttons:
            return
        whole = self.sizeHint().height() + sum(ICON_PX - button.iconSize().height() for button in buttons)
        lacks = -((self.height() - whole) // len(buttons))
        icon = min(ICON_PX, max(LEAST_ICON_PX, ICON_PX - lacks))
        for button in buttons:
            button.setIconSize(QSize(icon, icon))


class Window(Rooms):
    """One open teardown: a shell until it is filled."""

    def fill(self, session: Session, folder: Path, choose_photo: ChoosePhoto | None = None,
             bench: Bench | None = None, state: str = "", ahead: Ahead | None = None) -> None:
        """Put the content in. `folder` is where new work lives; `choose_photo` stands in for the file dialog; `state`
        is the photograph shown first, the last one where none is said; `ahead` is that one being decoded."""
        from oddbolt.instruments.protocols import BenchInstruments
        from oddbolt.ui.background.jobs import TURN
        from oddbolt.ui.files import Files
        from oddbolt.ui.help import Help
        from oddbolt.ui.menus import Menus
        from oddbolt.ui.pieces.sheet import Elided
        from oddbolt.ui.theme.icons import window_icon
        from oddbolt.ui.widgets.odd_bolt import OddBoltFigure

        self.session, self.first_state, self.ahead = session, state, ahead
        self.bench = bench or BenchInstruments
        self._feet: list[FootSwitch] = []  # those that are listened to
        self.files, self.help, self.folder = Files(self, folder), Help(self), folder
        self.ask_earlier, self.begin = self.files.ask_earlier, self.files.begin
        self.ask_open, self.show_demo = self.files.ask_open, self.files.show_demo
        self.choose_photo = choose_photo or self.files.ask_photo
        self.setWindowIcon(window_icon())
        self.figure = OddBoltFigure(self._colours)
        self.device = Elided("title")
        self.where = Elided("faint")
        self._rail = QButtonGroup(self)
        self._rail.setExclusive(True)
        self._build()
        self.show_workspace("log" if session.document.is_open else "prepare")
        self.menus = Menus(self, self.files, self.help)
        self.log.depths.part_chosen.connect(self.show_part)
        session.listen(self._on_change)
        session.begins = TURN.give_way
        self._refresh()
        self.log.canvas.setFocus()
        keep_out_of_collection()

    # -- putting together

    def _build(self) -> None:
        from oddbolt.words.translate import tr

        texts = {"prepare": tr("Prepare"), "log": tr("Log"), "parts": tr("Parts"), "bolts": tr("Bolts"),
                 "sequence": tr("Sequence"), "access": tr("Access"), "verdict": tr("Verdict"), "rebuild": tr("Rebuild"),
                 "shelf": tr("Shelf"), "compare": tr("Compare"), "report": tr("Report"),
                 "rehearse": tr("Rehearse")}
        rail = Rail()
        column = QVBoxLayout(rail)
        column.setContentsMargins(0, 8, 0, 8)
        column.setSpacing(2)
        strong = QFont(self.font())
        strong.setWeight(QFont.Weight.DemiBold)  # the checked one
        self._is_large = self.fontMetrics().height() > LARGE_TEXT_PX  # twelve names would not stand below each other
        widest = max(QFontMetrics(strong).horizontalAdvance(text) for text in texts.values())
        width = RAIL_WIDTH if self._is_large else max(RAIL_WIDTH, widest + 12)
        rail.setFixedWidth(width)
        for n, group in enumerate(GROUPS):
            if n:
                column.addSpacing(GROUP_GAP_PX)
            for name in group:
                column.addWidget(self._rail_button(name, texts[name], width))
        column.addStretch(1)
        head = QHBoxLayout()
        head.setContentsMargins(12, 6, 10, 0)
        names = QVBoxLayout()
        names.setSpacing(0)
        names.addWidget(self.device)
        names.addWidget(self.where)
        font = self.device.font()
        font.setPointSizeF(font.pointSizeF() * 1.35)
        self.device.setFont(font)
        head.addLayout(names, 1)
        head.addWidget(self.figure)
        right = QVBoxLayout()
        right.setContentsMargins(0, 0, 0, 0)
        right.setSpacing(0)
        right.addLayout(head)
        right.addWidget(self.stack, 1)
        desk = QWidget()
        desk.setObjectName("desk")
        whole = QHBoxLayout(desk)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(rail)
        whole.addLayout(right, 1)
        self.setCentralWidget(desk)

    def _rail_button(self, name: str, text: str, width: int) -> QToolButton:
        from oddbolt.ui.pieces.sheet import tip
        from oddbolt.ui.theme.icons import rail_icon
        from oddbolt.words.translate import tr

        light = self._colours.name == "light"
        button = QToolButton()
        button.setText(text)
        button.setIcon(rail_icon(name, "#D6E2E5" if light else self._colours.faint, self._colours.ink,
                                 "#6E8891" if light else self._colours.line))
        button.setIconSize(QSize(ICON_PX, ICON_PX))
        button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonIconOnly if self._is_large
                                  else Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
        button.setCheckable(True)
        button.setFixedWidth(width)
        # Not the button's own shortcut: that one waits for the button to be drawn pressed first.
        QShortcut(QKeySequence(KEYS[name]), self, lambda: self.show_workspace(name))
        button.setToolTip(tip(tr("{0} ({1})").format(text, KEYS[name])))
        button.setAccessibleName(text)
        button.clicked.connect(lambda _: self.show_workspace(name))
        self._rail.addButton(button, ROOMS.index(name))
        return button

    # -- showing

    def show_workspace(self, name: str) -> None:
        if not self.session.document.is_open and name not in WITHOUT_A_DOCUMENT:
            name = "prepare"
        self.stack.setCurrentWidget(self.room(name))
        self._rail.button(ROOMS.index(name)).setChecked(True)

    def open_from_shelf(self, path: Path) -> None:
        """A teardown of the shelf, in the Log."""
        if self.files.open_path(path):
            self.show_workspace("log")

    def show_part(self, part: str) -> None:
        """In Access: the way to a part."""
        self.access.show_part(part)
        self.show_workspace("access")

    def show_thing(self, thing: str) -> None:
        """In the Log: a thing, on the last photograph that it is marked on."""
        self.show_workspace("log")
        shown = [view.id for view in self.session.teardown.views if any(mark.thing == thing for mark in view.marks)]
        if shown:
            self.log.show_state(shown[-1])
        self.log.choose(thing)

    def tell_ways(self, part: str = "") -> None:
        """In the Log, where the photographs are: the way to a part, or to the first that nobody has confirmed."""
        self.show_workspace("log")
        self.log.way.open(part)

    def _on_change(self, change: Change) -> None:
        from oddbolt.session.change import OPENED

        self._refresh()
        if change.kind == OPENED:
            if not self.session.document.is_open and self.stack.currentWidget() is not self.built.get("shelf"):
                self.show_workspace("prepare")
            keep_out_of_collection()

    def _refresh(self) -> None:
        from oddbolt.words.translate import tr

        self.menus.show_open(self.session)
        for n, room in enumerate(ROOMS):
            self._rail.button(n).setEnabled(self.session.document.is_open or room in WITHOUT_A_DOCUMENT)
        self.figure.setVisible(self.session.document.is_open)
        if self.session.document.is_open:
            self._show_document()
        else:
            self.device.setText(tr("No teardown is open"))
            self.where.setText(tr("Begin a new one here, open one, or look at a demo"))
            self.setWindowTitle("Odd Bolt")
        self._listen_to_foot_switch()

    def _show_document(self) -> None:
        from oddbolt.words.translate import tr

        device, session = self.session.teardown.device, self.session
        name = device.name or tr("Unnamed device")
        self.device.setText(tr("{0}, variant {1}").format(name, device.variant) if device.variant else name)
        where = tr("{0} · for reading only") if session.document.is_read_only else tr("{0} · every act is on disk")
        where, bench = where.format(session.path.name), self.bench().name
        self.where.setText(f"{where} · {bench}" if bench else where)
        self.setWindowTitle(tr("{0} – Odd Bolt").format(device.name or session.path.stem))
        self.figure.show_ledger(session.derived.ledger)

    def _listen_to_foot_switch(self) -> None:
        """Those that have come with the record: pressed, one is the usual act, the second listens to a sentence."""
        from oddbolt.session.modes import Gesture

        instruments = self.bench()
        for foot, does in ((instruments.foot_switch, lambda: self.rebuild.do_step()
                            if self.stack.currentWidget() is self.built.get("rebuild")
                            else self.log.gestures.deed(Gesture.USUAL)),
                           (instruments.talk_switch, lambda: self.log.speaking.listen_once())):
            if foot is not None and all(foot is not known for known in self._feet):
                self._feet.append(foot)
                foot.on_press(does)

    # -- acting

    def say(self, text: str, *, alarm: bool = False) -> None:
        """Where the room in front says things; the Log's line for Prepare, which has none."""
        room = self.stack.currentWidget()
        self.log.say(text, alarm=alarm) if room is self.built.get("prepare") \
            else cast("Workspace", room).say(text, alarm=alarm)

    def undo(self) -> None:
        self._try(self.session.undo)

    def redo(self) -> None:
        self._try(self.session.redo)

    def _try(self, does: Callable[[], None]) -> None:
        from oddbolt.model.refusal import Refusal
        from oddbolt.words.refusals import refusal_text

        try:
            does()
        except Refusal as refusal:
            self.say(refusal_text(refusal), alarm=True)

    def ask_settings(self) -> None:
        from oddbolt.ui.settings import SettingsSheet

        self.settings = SettingsSheet(self, self._colours)
        self.settings.open()

    def ask_details(self) -> None:
        """Who, where and which device, said again."""
        from oddbolt.ui.correcting.details import Details

        self.details = Details(self, self.session, lambda text, alarm: self.say(text, alarm=alarm))
        self.details.open()

    def begin_pass(self) -> None:
        from oddbolt.session.verbs.entries import start_pass

        self.log.recorder.do(start_pass, self.session.now().isoformat())

    def tell(self, title: str, text: str, icon: QMessageBox.Icon = QMessageBox.Icon.Warning,
             offers: Offers = ()) -> None:
        """A message that waits for nobody: the window goes on under it."""
        box = QMessageBox(icon, title, title, QMessageBox.StandardButton.Ok, self)
        box.setInformativeText(text)
        box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        box.setModal(False)
        box.setTextFormat(Qt.TextFormat.PlainText)
        for text, does in offers:
            box.addButton(text, QMessageBox.ButtonRole.ActionRole).clicked.connect(lambda _, does=does: does())
        self.message = box
        box.show()

    def closeEvent(self, event: QCloseEvent) -> None:  # noqa: N802 (Qt's name)
        gc.unfreeze()
        if self.centralWidget() is not None:
            self.files.stop()
            for room in self.built.values():
                cast("Workspace", room).stop()
            self.session.close()
        super().closeEvent(event)

    def save_picture(self, path: Path) -> None:
        """A PNG of the window."""
        from oddbolt.store.files import write_whole

        buffer = QBuffer()
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        self.grab().save(buffer, "PNG")
        write_whole(path, bytes(buffer.data()))
