"""What all workspaces and their parts share: to follow the record, to carry verbs out, to say, to stop."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QEvent, QTimer
from PySide6.QtWidgets import QWidget

from oddbolt.model.refusal import Refusal
from oddbolt.session.change import OPENED, Change
from oddbolt.session.session import Session
from oddbolt.session.verbs.plain import Done
from oddbolt.words.recording.labels import recorded_text
from oddbolt.words.refusals import refusal_text

Say = Callable[[str, bool], None]  # words, whether they are an alarm


def carry_out(session: Session, say: Say, verb: Callable[..., Done], *args: Any, echo: bool = False,
              **keys: Any) -> Done | None:
    """Carry a verb out; a refusal is said, and None given. With `echo` what was recorded is said too."""
    try:
        done = session.do(verb, *args, **keys)
    except Refusal as refusal:
        say(refusal_text(refusal), True)
        return None
    if echo:
        say(recorded_text(done.label), False)
    return done


class Workspace(QWidget):
    """A room of the window. It is refreshed when the record has changed in what it shows, and only while it is seen;
    hidden, it waits. Its kinds say what they show and how they say things."""

    shows: tuple[str, ...] = ()  # sections of the record; none: all of them
    refreshes_later = False  # for rooms whose editors would be replaced within their own signal

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._stale = True
        session.listen(self._on_change)

    # -- following the record

    def _on_change(self, change: Change) -> None:
        if change.kind == OPENED:
            self.opened()
        if self.shows and not change.touches(self.shows):
            return
        self._stale = True
        if not self.isVisible():
            return
        if self.refreshes_later:
            QTimer.singleShot(0, self.catch_up)
        else:
            self.catch_up()

    def catch_up(self) -> None:
        """Show the record as it is now, if it has changed since."""
        if self._stale:
            self._stale = False
            self.refresh()

    def showEvent(self, event: QEvent) -> None:  # noqa: N802 (Qt's name)
        super().showEvent(event)
        self.catch_up()

    def opened(self) -> None:
        """Another document: what was chosen is forgotten."""

    def refresh(self) -> None:
        """Show everything anew."""
        raise NotImplementedError

    # -- acting

    def do(self, verb: Callable[..., Done], *args: Any, echo: bool = True, **keys: Any) -> Done | None:
        return carry_out(self._session, lambda text, alarm: self.say(text, alarm=alarm), verb, *args, echo=echo, **keys)

    def say(self, text: str, *, alarm: bool = False) -> None:
        raise NotImplementedError

    def stop(self) -> None:
        """Before the window closes: no job and no timer goes on."""
