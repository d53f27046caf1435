"""Errors are heard: each goes into a rotating log in the state folder, whatever part of the program it came from."""

from __future__ import annotations

import logging
import sys
import threading
from collections.abc import Callable
from logging.handlers import RotatingFileHandler
from pathlib import Path
from types import TracebackType

from PySide6.QtCore import QtMsgType, qInstallMessageHandler

from oddbolt.model.folders import state_folder

LOG = logging.getLogger("oddbolt")
LARGEST_BYTES, KEPT = 500_000, 3
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


def listen(tell: Callable[[str], None]) -> None:
    """From now on write errors down. `tell` is called in whatever thread one happened, with its kind."""
    try:
        log_path().parent.mkdir(parents=True, exist_ok=True)
        handler: logging.Handler = RotatingFileHandler(log_path(), maxBytes=LARGEST_BYTES, backupCount=KEPT,
                                                       encoding="utf-8", delay=True)
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
    qInstallMessageHandler(lambda kind, _, text: LOG.log(QT_LEVELS.get(kind, logging.INFO), "Qt: %s", text))
