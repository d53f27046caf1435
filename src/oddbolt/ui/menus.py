"""The menus of the window: what each entry is called, its keys, and whose act it is."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMenu

from oddbolt.session.modes import Gesture
from oddbolt.ui.log.record_menu import RecordMenu
from oddbolt.words.recording.labels import label_text
from oddbolt.words.translate import tr

if TYPE_CHECKING:
    from oddbolt.session.session import Session
    from oddbolt.ui.files import Files
    from oddbolt.ui.help import Help
    from oddbolt.ui.rooms import Rooms


# What can be asked for while nothing is open.
WITHOUT_A_DOCUMENT = ("new", "open", "repair", "close", "settings", "heating", "manual", "keys", "wrong", "about")


class Menus:
    """Built once for a window; the edit menu names what undo would take back."""

    def __init__(self, window: Rooms, files: Files, help_: Help) -> None:
        self._window, self._files, self._pages = window, files, help_
        self.actions: dict[str, QAction] = {}
        self._file()
        self._edit()
        self.records = RecordMenu(window.log.recorder, window.log.states, window.bench,
                                  lambda text, alarm: window.log.say(text, alarm=alarm), window.tell_ways, window.speak,
                                  lambda: window.log.gestures.make(Gesture.WATCH))
        window.log.watching.switched.connect(self.records.watching.setChecked)
        window.menuBar().addMenu(self.records)
        self._reckon()
        self._view()
        self._help()

    def _menu(self, name: str) -> QMenu:
        return self._window.menuBar().addMenu(name)

    def _add(self, menu: QMenu, name: str, text: str, keys: QKeySequence | QKeySequence.StandardKey | None,
             does: Callable[[], object]) -> None:
        action = QAction(text, self._window)
        if keys is not None:
            action.setShortcuts([keys] if isinstance(keys, QKeySequence) else QKeySequence.keyBindings(keys))
        action.triggered.connect(lambda _: does())
        menu.addAction(action)
        self.actions[name] = action

    def _file(self) -> None:
        menu, window, files = self._menu(tr("&File")), self._window, self._files
        states = window.log.states
        self._add(menu, "new", tr("&New…"), QKeySequence.StandardKey.New, lambda: window.show_workspace("prepare"))
        self._add(menu, "open", tr("&Open…"), QKeySequence.StandardKey.Open, files.ask_open)
        self.recent = menu.addMenu(tr("Open &recent"))
        self.recent.aboutToShow.connect(lambda: files.fill_recent(self.recent))
        self._add(menu, "copy", tr("&Save a copy…"), QKeySequence.StandardKey.SaveAs, files.ask_copy)
        self._add(menu, "rename", tr("Rena&me…"), None, files.ask_name)
        self._add(menu, "folder", tr("Show in its &folder"), None, files.show_folder)
        menu.addSeparator()
        self._add(menu, "photo", tr("Add a &photo…"), QKeySequence("Ctrl+Shift+P"), files.add_photo)
        self._add(menu, "paste", tr("&Paste a photo"), QKeySequence("Ctrl+Shift+V"), states.paste)
        self._add(menu, "watch", tr("&Watch a folder for photos…"), None, files.watch)
        self._add(menu, "export", tr("&Export as JSON…"), QKeySequence("Ctrl+E"), files.ask_export)
        self._add(menu, "dots", tr("Print a sheet of &dots for measuring…"), None,
                  lambda: window.prints.ask_dot_sheet())
        self._add(menu, "repair", tr("&Repair a damaged document…"), None, files.ask_repair)
        menu.addSeparator()
        self._add(menu, "shut", tr("&Close"), QKeySequence("Ctrl+W"), files.close)
        self._add(menu, "close", tr("&Quit"), QKeySequence.StandardKey.Quit, window.close)

    def _edit(self) -> None:
        menu, window = self._menu(tr("&Edit")), self._window
        make = window.log.gestures.make
        self._add(menu, "undo", tr("&Undo"), QKeySequence.StandardKey.Undo, window.undo)
        self._add(menu, "redo", tr("&Redo"), QKeySequence.StandardKey.Redo, window.redo)
        menu.addSeparator()
        gestures = (("carry", tr("&Take over the marks of the state before"), "Ctrl+D", Gesture.CARRY),
                    ("split", tr("&Split off what is drawn round"), "Ctrl+G", Gesture.SPLIT),
                    ("join", tr("&Join the two groups drawn round"), "Ctrl+J", Gesture.JOIN),
                    ("move", tr("&Move what is drawn round to the group in hand"), "Ctrl+M", Gesture.MOVE), None,
                    ("undoing", tr("Number in the order of u&ndoing"), "Ctrl+R", Gesture.ORDER_UNDOING),
                    ("tightening", tr("Order of &tightening"), "Ctrl+T", Gesture.ORDER_TIGHTENING),
                    ("other", tr("&Copy marks to the other photo of this state"), "Ctrl+B", Gesture.OTHER_SIDE),
                    ("limits", tr("&Limits of the act in hand…"), "Ctrl+L", Gesture.LIMITS))
        for row in gestures:
            if row is None:
                menu.addSeparator()
            else:
                name, text, keys, gesture = row
                self._add(menu, name, text, QKeySequence(keys), lambda g=gesture: make(g))
        self._add(menu, "settings", tr("&Settings…"), QKeySequence("Ctrl+,"), window.ask_settings)
        self._add(menu, "details", tr("&Device and bench…"), None, window.ask_details)
        self._add(menu, "pass", tr("&Begin another pass"), None, window.begin_pass)

    def _replace(self) -> None:
        """The whole job of replacing the part that is chosen in Access or Parts."""
        window = self._window
        room, part = window.stack.currentWidget(), ""
        if room is window.built.get("access"):
            part = window.access.part
        elif room is window.built.get("parts"):
            part = next(iter(window.parts.tree.chosen()), "")
        window.show_workspace("rebuild")
        window.rebuild.replace_part(part)

    def _reckon(self) -> None:
        menu, window = self._menu(tr("Re&ckon")), self._window
        self._add(menu, "times", tr("&Times and pace…"), QKeySequence("Ctrl+Shift+Y"), window.ask_times)
        self._add(menu, "heating", tr("&Heating guide…"), QKeySequence("Ctrl+Shift+E"), window.ask_heating)
        self._add(menu, "doses", tr("&Doses…"), QKeySequence("Ctrl+Shift+D"), window.ask_doses)

    def _view(self) -> None:
        menu, canvas = self._menu(tr("&View")), self._window.log.canvas
        self._add(menu, "replace", tr("Re&place the chosen part: the whole job"), QKeySequence("Ctrl+Shift+B"),
                  self._replace)
        self._add(menu, "fit", tr("&Fit the photograph"), QKeySequence("Ctrl+0"), canvas.fit)
        self._add(menu, "in", tr("Zoom &in"), QKeySequence.StandardKey.ZoomIn, lambda: canvas.zoom(1.25))
        self._add(menu, "out", tr("Zoom &out"), QKeySequence.StandardKey.ZoomOut, lambda: canvas.zoom(0.8))

    def _help(self) -> None:
        menu, help_ = self._menu(tr("&Help")), self._pages
        self._add(menu, "manual", tr("&Manual"), QKeySequence("Shift+F1"), help_.show_manual)
        self._add(menu, "keys", tr("&Keys"), QKeySequence.StandardKey.HelpContents, help_.show_keys)
        self._add(menu, "wrong", tr("What went &wrong"), None, help_.show_what_went_wrong)
        self._add(menu, "about", tr("&About Odd Bolt"), None, help_.show_about)

    def show_open(self, session: Session) -> None:
        """What can be asked for of what is open; what undo would take back, and redo do again."""
        for name, action in self.actions.items():
            action.setEnabled(session.document.is_open or name in WITHOUT_A_DOCUMENT)
        self.records.setEnabled(session.document.is_open)
        undo, redo = session.undo_label, session.redo_label
        for name, text, plain, label in (("undo", tr("&Undo {0}"), tr("&Undo"), undo),
                                         ("redo", tr("&Redo {0}"), tr("&Redo"), redo)):
            self.actions[name].setText(text.format(label_text(label)) if label is not None else plain)
            self.actions[name].setEnabled(label is not None)
