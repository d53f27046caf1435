"""The state before, compared with the one shown: wiped over it up to the pointer, or in its place by turns."""

from __future__ import annotations

from PySide6.QtCore import QObject, QTimer, Signal

from oddbolt.ui.log.photograph.states import States
from oddbolt.ui.widgets.photo import PhotoCanvas
from oddbolt.words.translate import tr

# Three flashes a second or fewer are held to be safe (WCAG 2.2, 2.3.1, from memory, high); this is less than one.
TURN_MS = 700


class Comparing(QObject):
    """Off, wipe, flicker, and off again."""

    said = Signal(str, bool)

    def __init__(self, states: States, canvas: PhotoCanvas) -> None:
        super().__init__()
        self._states = states
        self._canvas = canvas
        self.mode = ""
        self._beat = QTimer(self)
        self._beat.setInterval(TURN_MS)
        self._beat.timeout.connect(self.turn)
        self._before = False

    def next_mode(self) -> None:
        self._set({"": "wipe", "wipe": "flicker", "flicker": ""}[self.mode])

    def again(self) -> None:
        """Another state is shown: compared in the same way, with the one before that."""
        if self.mode:
            self._set(self.mode)

    def _set(self, mode: str) -> None:
        self.stop()
        picture = self._states.picture_before() if mode else None
        if picture is None:
            self._canvas.show_wipe(None)
            if mode:
                self.said.emit(tr("There is no earlier state from this side"), True)
            return
        self.mode = mode
        self._canvas.show_wipe(picture, 0.5 if mode == "wipe" else 1.0, follows=mode == "wipe")
        if mode == "wipe":
            self.said.emit(tr("Left of the pointer: the state before. / again: by turns."), False)
        else:
            self._before = True
            self._beat.start()
            self.said.emit(tr("The state before and this one, by turns. / again: back."), False)

    def turn(self) -> None:
        self._before = not self._before
        self._canvas.set_wipe_share(1.0 if self._before else 0.0)

    def stop(self) -> None:
        self._beat.stop()
        self.mode = ""
