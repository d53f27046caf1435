"""The composition root: opens the window at once, then builds the services from the arguments and fills it.

What takes time to load is imported after the first paint.
"""

from __future__ import annotations

import os
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QApplication

from oddbolt.model.folders import settings_path
from oddbolt.paint.palette import DARK, LIGHT, Palette
from oddbolt.ui.shell import application, system_palette
from oddbolt.ui.window import Window

if TYPE_CHECKING:
    import argparse

    from oddbolt.instruments.protocols import Bench
    from oddbolt.model.refusal import Refusal
    from oddbolt.session.session import Session
    from oddbolt.store.document import Document
    from oddbolt.store.nothing import NothingOpen
    from oddbolt.store.preferences import Preferences
    from oddbolt.store.twin import LeftOut

DEMO_STATE = "s1-back"  # the demo opens where there is most to see
REFUSED = 2


def open_demo(folder: Path) -> Document:
    """The demo as a working document of its own in the data folder; see `session.documents`."""
    from oddbolt.session import documents

    return documents.open_demo(folder)


def _options(arguments: Sequence[str]) -> argparse.Namespace:
    import argparse

    from oddbolt.words.translate import tr

    parser = argparse.ArgumentParser(prog="odd-bolt")
    parser.add_argument("file", nargs="?", type=Path, help=tr("a working document (.oddbolt) or an exchange file"))
    parser.add_argument("--demo", action="store_true", help=tr("open the demo teardown"))
    parser.add_argument("--simulated-bench", action="store_true",
                        help=tr("connect the simulated instruments; their camera draws the demo device"))
    parser.add_argument("--install-desktop", action="store_true",
                        help=tr("put menu entry, icon and file type of this user in place, and end"))
    parser.add_argument("--remove-desktop", action="store_true", help=tr("take them away again, and end"))
    parser.add_argument("--shot", metavar="FILE", type=Path, help=tr("save a picture of the window and end"))
    return parser.parse_args(arguments)


def _palette() -> Palette:
    """As the person prefers, else as the system is. What reads the settings is loaded before the first paint only where
    there are any."""
    if not settings_path().exists():
        return system_palette()
    from oddbolt.store import preferences

    return {"light": LIGHT, "dark": DARK}.get(preferences.read().look) or system_palette()


def _bench_of(session: Session, demos: Path, *, simulated: bool) -> Bench:
    """What is connected. Simulated instruments never stand unasked beside a record of something real: they are there
    while a demo is open, or always where they were asked for (`simulated`)."""
    from functools import cache

    from oddbolt.instruments.protocols import BenchInstruments

    @cache
    def drawn() -> BenchInstruments:
        from oddbolt.paint.drawn_bench.instruments import simulated_bench

        return simulated_bench(lambda: session.teardown)

    return lambda: drawn() if simulated or session.path.parent == demos else BenchInstruments()


class Program:
    """One run of the window, from its first paint on."""

    def __init__(self, app: QApplication, arguments: Sequence[str]) -> None:
        self.app = app
        self.arguments = arguments
        self.left_out: list[LeftOut] = []
        self.palette = _palette()
        self.window = Window(self.palette, after_first_paint=self.begin)
        self.window.show()

    def begin(self) -> None:
        """Open what was asked for and fill the window; what was refused is told in it."""
        from oddbolt.model.folders import data_folder
        from oddbolt.model.refusal import Refusal
        from oddbolt.session.documents import demo_folder
        from oddbolt.store.preferences import Preferences, read
        from oddbolt.ui.background.errors import listen
        from oddbolt.ui.theme.language import use_language_of_dialogs
        from oddbolt.words.translate import use_language

        preferred = read()
        use_language_of_dialogs(self.app, use_language(preferred.language))
        if preferred.lengths != Preferences().lengths:  # else as the records are
            from oddbolt.words.lengths import use_unit

            use_unit(preferred.lengths)
        listen(self._tell_of_error)
        options = _options(self.arguments)
        folder = data_folder()
        try:
            document, told = self._document(options, folder)
        except Refusal as refusal:  # nothing at all can be opened, or nobody is there to be told in a window
            from oddbolt.words.refusals import refusal_text
            from oddbolt.words.terminal import say

            say(f"odd-bolt: {refusal_text(refusal)}", file=sys.stderr)
            self.app.exit(REFUSED)
            return
        is_demo = document.path.parent == demo_folder(folder)
        self._fill(document, folder, preferred, state=DEMO_STATE if is_demo else "",
                   simulated=options.simulated_bench or preferred.simulated_bench)
        if told is not None:
            self.window.files.tell_refused(*told)
        if options.shot:
            self._take_picture(options.shot)

    def _document(self, options: argparse.Namespace,
                  folder: Path) -> tuple[Document | NothingOpen, tuple[Path, Refusal] | None]:
        """What was asked for, else the last one that was open, else nothing; and what was refused on the way."""
        from oddbolt.model.refusal import Refusal
        from oddbolt.session.documents import open_document
        from oddbolt.store import recent
        from oddbolt.store.nothing import NothingOpen

        if options.demo:
            return open_demo(folder), None
        wanted = options.file or next(iter(recent.recent()), None)
        if wanted is None:
            return NothingOpen(), None
        try:
            document = open_document(wanted, None, folder, self.left_out.extend)
        except Refusal as refusal:
            if options.shot:
                raise
            return NothingOpen(), (wanted, refusal)
        recent.was_opened(document.path)
        return document, None

    def _fill(self, document: Document | NothingOpen, folder: Path, preferred: Preferences, *,
              state: str, simulated: bool) -> None:
        from oddbolt.session.documents import demo_folder
        from oddbolt.session.session import Session
        from oddbolt.ui.background.photos import ahead_of

        session = Session(document)
        ahead = ahead_of(document.teardown, state, session.photo)  # decoded while the rest is loaded
        from oddbolt.paint.fonts import load_fonts
        from oddbolt.ui.theme.style import dress

        load_fonts()
        dress(self.app, self.palette, preferred.text)
        work = Path(preferred.folder) if preferred.folder and Path(preferred.folder).is_dir() else folder
        self.window.fill(session, work, bench=_bench_of(session, demo_folder(folder), simulated=simulated),
                         state=state, ahead=ahead)
        self.window.files.tell_left_out(self.left_out)

    def _tell_of_error(self, kind: str) -> None:
        """An error that nobody caught is said in the window, from whatever thread it came."""
        from PySide6.QtCore import QTimer

        from oddbolt.words.translate import tr

        words = tr("Something went wrong here: {0}. Help, What went wrong, has the whole of it.").format(kind)
        QTimer.singleShot(0, self.window, lambda: self._say(words))

    def _say(self, words: str) -> None:
        if self.window.centralWidget() is not None:
            self.window.say(words, alarm=True)

    def _take_picture(self, path: Path) -> None:
        from PySide6.QtCore import QTimer

        def save() -> None:
            self.window.save_picture(path)
            self.window.close()

        QTimer.singleShot(300, save)


def _settle_on_desktop(*, remove: bool) -> int:
    """Install or remove what makes the program one of this user's desktop; says which files."""
    from oddbolt.desktop import install
    from oddbolt.model.refusal import Refusal
    from oddbolt.words.refusals import refusal_text
    from oddbolt.words.terminal import say
    from oddbolt.words.translate import tr

    try:
        done = install.remove() if remove else install.install()
    except Refusal as refusal:
        say(f"odd-bolt: {refusal_text(refusal)}", file=sys.stderr)
        return REFUSED
    for path in done:
        say((tr("removed {0}") if remove else tr("written {0}")).format(path))
    return 0


def run(arguments: Sequence[str]) -> int:
    """Open the window; returns the exit code (2 when the file or the arguments are refused)."""
    if any(word.startswith("-") for word in arguments):
        options = _options(arguments)  # wrong options, and --help, end here, before there is a window
        if options.install_desktop or options.remove_desktop:
            return _settle_on_desktop(remove=options.remove_desktop)
    if "--shot" in arguments and not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")):
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    app = application(sys.argv[0])
    app.setApplicationName("odd-bolt")
    app.setApplicationDisplayName("Odd Bolt")
    program = Program(app, arguments)
    code = app.exec()
    del program
    return code
