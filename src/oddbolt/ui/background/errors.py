"""Errors are heard: each goes into a rotating log in the state folder, whatever part of the program it came from."""

from __future__ import annotations

import logging
import sys
import threading
from collections.abc import Callable
from pathlib import Path
from types import TracebackType

from PySide6.QtCore import QtMsgType, qInstallMessageHandler

from oddbolt.model.folders import state_folder

LOG = logging.getLogger("oddbolt")
LARGEST_BYTES, KEPT = 500_000, 3
OF_NO_SCREEN = "This plugin does not support"  # said for each window drawn without a screen
QT_LEVELS = {QtMsgType.QtWarningMsg: logging.WARNING, QtMsgType.QtCriticalMsg: logging.ERROR,
             QtMsgType.QtFatalMsg: logging.CRITICAL}


def log_path() -> Path:
    """Where the log is, by the rules of the system (XDG)."""
    return state_folder() / "odd-bolt.log"


def log_text() -> str:
    """What stands in the log; empty where there is none."""
    try:
        return log_path().read_text("utf-8", errors="replace")
    except OSError:
        return ""


class _WhenNeeded(logging.Handler):
    """Opens the rotating file at the first record: most runs have none, and what it stands on is slow to import."""

    def __init__(self, path: Path) -> None:
        super().__init__()
        self._path = path
        self._file: logging.Handler | None = None

    def emit(self, record: logging.LogRecord) -> None:
        if self._file is None:
            from logging.handlers import RotatingFileHandler

            self._file = RotatingFileHandler(self._path, maxBytes=LARGEST_BYTES, backupCount=KEPT, encoding="utf-8",
                                             delay=True)
            self._file.setFormatter(self.formatter)
        self._file.emit(record)

    def close(self) -> None:
        if self._file is not None:
            self._file.close()
        super().close()


def listen(tell: Callable[[str], None]) -> None:
    """From now on write errors down. `tell` is called in whatever thread one happened, with its kind."""
    try:
        log_path().parent.mkdir(parents=True, exist_ok=True)
        handler: logging.Handler = _WhenNeeded(log_path())
    except OSError:  # a state folder that cannot be written to must not keep anyone from working
        handler = logging.StreamHandler()
    handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(name)s: %(message)s"))
    LOG.addHandler(handler)
    LOG.setLevel(logging.INFO)

    def heard(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        if issubclass(kind, KeyboardInterrupt):
            sys.__excepthook__(kind, error, trace)
            return
        LOG.error("not caught", exc_info=(kind, error, trace))
        tell(kind.__name__)

    sys.excepthook = heard
    threading.excepthook = lambda args: heard(args.exc_type, args.exc_value or args.exc_type(), args.exc_traceback)
    qInstallMessageHandler(lambda kind, _, text: None if text.startswith(OF_NO_SCREEN)
                           else LOG.log(QT_LEVELS.get(kind, logging.INFO), "Qt: %s", text))
