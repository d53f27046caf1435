"""The window: assembles the panels, the rail and the menus. It holds no state of the teardown.

Panels and what they stand on are imported when the window is filled, which is after its first paint.
"""

from __future__ import annotations

from collections.abc import Callable
from html import escape
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QBuffer, QIODevice, QSize, Qt
from PySide6.QtGui import QAction, QCloseEvent, QFont, QFontMetrics, QKeySequence, QShortcut
from PySide6.QtWidgets import (
    QButtonGroup,
    QFileDialog,
    QHBoxLayout,
    QMessageBox,
    QStackedWidget,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from oddbolt import __version__
from oddbolt.ui.shell import RAIL_WIDTH, Shell

if TYPE_CHECKING:
    from oddbolt.instruments.protocols import BenchInstruments
    from oddbolt.model.things import Teardown
    from oddbolt.session.change import Change
    from oddbolt.session.prepare import Preparation
    from oddbolt.session.session import Session

PHOTOS = "Photographs (*.jpg *.jpeg *.png *.webp *.tif *.tiff *.bmp)"
TEARDOWNS = "Teardowns (*.oddbolt *.json)"
ChoosePhoto = Callable[[], Path | None]


class Window(Shell):
    """One open teardown: a shell until it is filled."""

    def fill(self, session: Session, folder: Path, choose_photo: ChoosePhoto | None = None,
             bench: BenchInstruments | None = None) -> None:
        """Put the content in. `folder` is where new work lives; `choose_photo` stands in for the file dialog."""
        from oddbolt.ui.access.panel import AccessPanel
        from oddbolt.ui.bolts.panel import BoltsPanel
        from oddbolt.ui.log.panel import LogPanel
        from oddbolt.ui.parts.panel import PartsPanel
        from oddbolt.ui.pieces.sheet import label
        from oddbolt.ui.prepare.panel import PreparePanel
        from oddbolt.ui.prints.prints import Prints
        from oddbolt.ui.sequence.panel import SequencePanel
        from oddbolt.ui.theme.icons import window_icon
        from oddbolt.ui.verdict.panel import VerdictPanel
        from oddbolt.ui.widgets.odd_bolt import OddBoltFigure

        palette = self._colours
        self._session = session
        self._palette = palette
        self._folder = folder
        self._bench = bench
        self.setWindowIcon(window_icon())
        self.prepare = PreparePanel(folder, self._ask_earlier, bench.strap if bench else None)
        self.log = LogPanel(session, palette, choose_photo or self._ask_photo,
                            bench.camera if bench else None)
        self.prints = Prints(session, folder, self)
        self.prints.said.connect(lambda text, alarm: self.say(text, alarm=alarm))
        self.parts = PartsPanel(session, palette)
        self.bolts = BoltsPanel(session, palette, self.prints)
        self.sequence = SequencePanel(session, palette, folder)
        self.access = AccessPanel(session, palette, folder)
        self.verdict = VerdictPanel(session, palette)
        self.figure = OddBoltFigure(palette)
        self.device = label("", "title")
        self.where = label("", "faint")
        self.stack = QStackedWidget()
        self._rail = QButtonGroup(self)
        self._rail.setExclusive(True)
        self._actions: dict[str, QAction] = {}
        self._build()
        self._build_menus()
        self.log.depths.part_chosen.connect(self._show_part)
        self.prepare.begun.connect(self._begin)
        if bench is not None and bench.foot_switch is not None:
            bench.foot_switch.on_press(lambda: self.log.deed("usual_act"))
        session.listen(self._on_change)
        self._refresh()
        self.log.canvas.setFocus()

    # -- putting together

    def _build(self) -> None:
        from oddbolt.ui.theme.icons import rail_icon

        rail = QWidget()
        rail.setObjectName("rail")
        column = QVBoxLayout(rail)
        column.setContentsMargins(0, 8, 0, 8)
        column.setSpacing(2)
        light = self._palette.name == "light"
        self._panels = {"prepare": self.prepare, "log": self.log, "parts": self.parts, "bolts": self.bolts,
                        "sequence": self.sequence, "access": self.access, "verdict": self.verdict}
        texts = {"prepare": self.tr("Prepare"), "log": self.tr("Log"), "parts": self.tr("Parts"),
                 "bolts": self.tr("Bolts"), "sequence": self.tr("Sequence"),
                 "access": self.tr("Access"), "verdict": self.tr("Verdict")}
        strong = QFont(self.font())
        strong.setWeight(QFont.Weight.DemiBold)  # the checked one
        width = max(RAIL_WIDTH, max(QFontMetrics(strong).horizontalAdvance(text) for text in texts.values()) + 12)
        rail.setFixedWidth(width)
        for number, (name, panel) in enumerate(self._panels.items(), start=1):
            text = texts[name]
            button = QToolButton()
            button.setText(text)
            button.setIcon(rail_icon(name, "#D6E2E5" if light else self._palette.faint, self._palette.ink))
            button.setIconSize(QSize(28, 28))
            button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
            button.setCheckable(True)
            button.setFixedWidth(width)
            # Not the button's own shortcut: that one waits for the button to be drawn pressed first.
            QShortcut(QKeySequence(f"Alt+{number}"), self, lambda n=name: self.show_workspace(n))
            button.setToolTip(self.tr("{0} (Alt+{1})").format(text, number))
            button.setAccessibleName(text)
            button.clicked.connect(lambda _, n=name: self.show_workspace(n))
            self._rail.addButton(button, number - 1)
            column.addWidget(button)
            self.stack.addWidget(panel)
        column.addStretch(1)
        self.show_workspace("log")
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

    def _build_menus(self) -> None:
        from oddbolt.ui.log.record_menu import RecordMenu

        file = self.menuBar().addMenu(self.tr("&File"))
        self._action(file, "open", self.tr("&Open…"), QKeySequence.StandardKey.Open, self.ask_open)
        self._action(file, "photo", self.tr("Add a &photo…"), QKeySequence("Ctrl+Shift+P"), self._add_photo)
        self._action(file, "paste", self.tr("&Paste a photo"), QKeySequence("Ctrl+Shift+V"), self.log.states.paste)
        self._action(file, "watch", self.tr("&Watch a folder for photos…"), None, self._watch)
        self._action(file, "export", self.tr("&Export as JSON…"), QKeySequence("Ctrl+E"), self.ask_export)
        self._action(file, "dots", self.tr("Print a sheet of &dots for measuring…"), None, self.prints.ask_dot_sheet)
        file.addSeparator()
        self._action(file, "close", self.tr("&Quit"), QKeySequence.StandardKey.Quit, self.close)
        edit = self.menuBar().addMenu(self.tr("&Edit"))
        self._action(edit, "undo", self.tr("&Undo"), QKeySequence.StandardKey.Undo, self._undo)
        self._action(edit, "redo", self.tr("&Redo"), QKeySequence.StandardKey.Redo, self._redo)
        edit.addSeparator()
        self._action(edit, "carry", self.tr("&Take over the marks of the state before"), QKeySequence("Ctrl+D"),
                     self.log.states.carry_marks)
        self._action(edit, "split", self.tr("&Split off what is drawn round"), QKeySequence("Ctrl+G"),
                     self.log.groups.split)
        self._action(edit, "join", self.tr("&Join the two groups drawn round"), QKeySequence("Ctrl+J"),
                     self.log.groups.join)
        self._action(edit, "move", self.tr("&Move what is drawn round to the group in hand"), QKeySequence("Ctrl+M"),
                     self.log.groups.move_selected)
        edit.addSeparator()
        self._action(edit, "undoing", self.tr("Number in the order of u&ndoing"), QKeySequence("Ctrl+R"),
                     self.log.numbering.undoing)
        self._action(edit, "tightening", self.tr("Order of &tightening"), QKeySequence("Ctrl+T"),
                     self.log.numbering.tightening)
        self._action(edit, "other", self.tr("&Copy marks to the other photo of this state"), QKeySequence("Ctrl+B"),
                     self.log.copy_to_other_side)
        self._action(edit, "limits", self.tr("&Limits of the act in hand…"), QKeySequence("Ctrl+L"),
                     self.log.ask_limits)
        self._action(edit, "pass", self.tr("&Begin another pass"), None, self._begin_pass)
        self.records = RecordMenu(self._session, self.log.recorder, self.log.states, self._bench)
        self.menuBar().addMenu(self.records)
        view = self.menuBar().addMenu(self.tr("&View"))
        self._action(view, "fit", self.tr("&Fit the photograph"), QKeySequence("Ctrl+0"), self.log.canvas.fit)
        self._action(view, "in", self.tr("Zoom &in"), QKeySequence.StandardKey.ZoomIn,
                     lambda: self.log.canvas.zoom(1.25))
        self._action(view, "out", self.tr("Zoom &out"), QKeySequence.StandardKey.ZoomOut,
                     lambda: self.log.canvas.zoom(0.8))
        help_ = self.menuBar().addMenu(self.tr("&Help"))
        self._action(help_, "keys", self.tr("&Keys"), QKeySequence.StandardKey.HelpContents, self.show_keys)
        self._action(help_, "about", self.tr("&About Odd Bolt"), None, self.show_about)

    def _action(self, menu: QWidget, name: str, text: str, keys: object, does: Callable[[], object]) -> None:
        action = QAction(text, self)
        if keys is not None:
            action.setShortcuts([keys] if isinstance(keys, QKeySequence) else QKeySequence.keyBindings(keys))
        action.triggered.connect(lambda _: does())
        menu.addAction(action)
        self._actions[name] = action

    # -- showing

    def show_workspace(self, name: str) -> None:
        self.stack.setCurrentWidget(self._panels[name])
        self._rail.button(list(self._panels).index(name)).setChecked(True)

    def _show_part(self, part: str) -> None:
        self.access.show_part(part)
        self.show_workspace("access")

    def _on_change(self, change: Change) -> None:
        self._refresh()

    def _refresh(self) -> None:
        device = self._session.teardown.device
        variant = self.tr(", variant {0}").format(device.variant) if device.variant else ""
        self.device.setText(f"{device.name or self.tr('Unnamed device')}{variant}")
        bench = f" · {self._bench.name}" if self._bench is not None and self._bench.name else ""
        self.where.setText(self.tr("{0} · every act is on disk").format(self._session.path.name) + bench)
        self.setWindowTitle(self.tr("{0} – Odd Bolt").format(device.name or self._session.path.stem))
        self.figure.show_tally(self._session.derived.tally)
        for name, text, label_ in (("undo", self.tr("&Undo {0}"), self._session.undo_label()),
                                   ("redo", self.tr("&Redo {0}"), self._session.redo_label())):
            self._actions[name].setText(text.format(label_).strip())
            self._actions[name].setEnabled(bool(label_))

    # -- acting

    def say(self, text: str, *, alarm: bool = False) -> None:
        """Where the workspace in front says things; the Log's line for those that have none."""
        panel = self.stack.currentWidget()
        (panel if hasattr(panel, "say") else self.log).say(text, alarm=alarm)

    def _undo(self) -> None:
        self._try(self._session.undo)

    def _redo(self) -> None:
        self._try(self._session.redo)

    def _try(self, does: Callable[[], None]) -> None:
        from oddbolt.model.refusal import Refusal

        try:
            does()
        except Refusal as refusal:
            self.log.say(str(refusal), alarm=True)

    def _begin_pass(self) -> None:
        from oddbolt.session import entries

        self.log.recorder.do(entries.start_pass(self._session.teardown, self._session.now().isoformat()))

    def ask_open(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, self.tr("Open a teardown"), str(self._folder), TEARDOWNS)
        if name:
            self.open_path(Path(name))

    def open_path(self, path: Path) -> bool:
        """Open another teardown; what is open stays untouched when it is refused, and a message says why."""
        from oddbolt.model.refusal import Refusal
        from oddbolt.session.documents import open_document
        from oddbolt.ui.widgets.images import make_thumb

        try:
            document = open_document(path, make_thumb, self._folder)
        except Refusal as refusal:
            where = str(refusal.path) if not refusal.path.startswith("$") else f"{path}, {refusal.path}"
            self.tell(self.tr("{0} was not opened").format(path.name),
                      f"{where}: {refusal.reason}." + (f"\n{refusal.advice}." if refusal.advice else ""))
            return False
        self._session.switch_to(document)
        return True

    def tell(self, title: str, text: str, icon: QMessageBox.Icon = QMessageBox.Icon.Warning) -> None:
        """A message that waits for nobody: the window goes on under it."""
        box = QMessageBox(icon, title, title, QMessageBox.StandardButton.Ok, self)
        box.setInformativeText(text)
        box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        box.setModal(False)
        self.message = box
        box.show()

    def ask_export(self) -> None:
        from oddbolt.model.refusal import Refusal
        from oddbolt.store.twin import export_json

        start = self._folder / f"{self._session.path.stem}.json"
        name, _ = QFileDialog.getSaveFileName(self, self.tr("Export as JSON"), str(start), "JSON (*.json)")
        if name:
            try:
                export_json(self._session.document, Path(name))
                self.log.say(self.tr("Exported to {0}").format(name))
            except Refusal as refusal:
                self.tell(self.tr("Nothing was exported"), str(refusal))

    def _ask_photo(self) -> Path | None:
        name, _ = QFileDialog.getOpenFileName(self, self.tr("Photograph of the present state"), "", PHOTOS)
        return Path(name) if name else None

    def _ask_earlier(self) -> Path | None:
        name, _ = QFileDialog.getOpenFileName(self, self.tr("Earlier model"), str(self._folder), TEARDOWNS)
        return Path(name) if name else None

    def _begin(self, preparation: Preparation, earlier: Teardown | None) -> None:
        """Begin a new teardown beside the ones there are, and go to the Log."""
        from oddbolt.model.refusal import Refusal
        from oddbolt.session.documents import begin_teardown

        try:
            document = begin_teardown(preparation, earlier, self._folder, self._session.now())
        except Refusal as refusal:
            self.tell(self.tr("No new teardown was begun"), str(refusal))
            return
        self._session.switch_to(document)
        self.show_workspace("log")
        self.log.canvas.setFocus()

    def _watch(self) -> None:
        name = QFileDialog.getExistingDirectory(self, self.tr("Folder to watch for new photographs"))
        if name:
            self.log.states.watch(Path(name))

    def _add_photo(self) -> None:
        self.show_workspace("log")
        path = self._ask_photo()
        if path is not None:
            self.log.states.add_file(path)

    def show_keys(self) -> None:
        from oddbolt.catalog.tables import mark_kinds, part_kinds
        from oddbolt.ui.log.keys import KEYS

        marks = ", ".join(f"{row.key} {row.name.lower()}" for row in mark_kinds().values())
        lifts = ", ".join(f"{row.key} {row.name.lower()}" for row in part_kinds().values())
        rows = [(self.tr("1 to 9"), self.tr("mark screws of that letter; the same again: no more")),
                *((key.keys, key.words) for key in KEYS),
                (self.tr("Mark"), self.tr("{0}; the same again: the next type").format(marks)),
                (self.tr("Lift, with Shift"), lifts), ("0, +, −", self.tr("fit, nearer, farther")),
                (self.tr("Ctrl and arrow"), self.tr("the way in which the plug in hand opens")),
                (self.tr("Shift and drag"), self.tr("draw round several marks")),
                (self.tr("Ctrl and drag"), self.tr("a row of screws or clips, from the first to the last")),
                ("Ctrl+R, Ctrl+T", self.tr("order of undoing, of tightening: click the marks of the group in hand")),
                ("Ctrl+B, Ctrl+L", self.tr("marks onto the other photo of this state; limits of the act in hand")),
                ("Alt+1 to 7", self.tr("Prepare, Log, Parts, Bolts, Sequence, Access, Verdict")),
                ("Ctrl+Z", self.tr("take back, also after a restart"))]
        lines = "".join(f"<tr><td style='padding-right:14px'><b>{escape(keys)}</b></td><td>{escape(text)}</td></tr>"
                        for keys, text in rows)
        self.tell(self.tr("Keys"), f"<table>{lines}</table>", QMessageBox.Icon.NoIcon)

    def show_about(self) -> None:
        self.tell(self.tr("Odd Bolt {0}").format(__version__), self.tr(
            "Teardowns, counted and judged.\nQt for Python: LGPL 3. Inter typeface: SIL Open Font License 1.1.\n"
            "Cautions: local codes, the maker's service instructions and licensed practice come first."),
            QMessageBox.Icon.NoIcon)

    def closeEvent(self, event: QCloseEvent) -> None:  # noqa: N802 (Qt's name)
        if self.centralWidget() is not None:
            self.log.stop()
            self.bolts.stop()
            self.parts.stop()
            self.sequence.stop()
            self.access.stop()
            self._session.close()
        super().closeEvent(event)

    def save_picture(self, path: Path) -> None:
        """A PNG of the window."""
        from oddbolt.store.files import write_whole

        buffer = QBuffer()
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        self.grab().save(buffer, "PNG")
        write_whole(path, bytes(buffer.data()))
