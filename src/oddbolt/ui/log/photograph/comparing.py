"""The state before, compared with the one shown: wiped over it up to the pointer, or in its place by turns."""

from __future__ import annotations

from PySide6.QtCore import QObject, QTimer, Signal
from PySide6.QtGui import QImage

from oddbolt.ui.log.photograph.aligning import Aligned, laid_over
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
        before, shown = self._states.before(), self._states.view
        if before is not None and shown is not None:
            self._states.aligning.ask(before, shown, lambda found: self._lay_over(picture, shown.id, found))
        if mode == "wipe":
            self.said.emit(tr("Left of the pointer: the state before. / again: by turns."), False)
        else:
            self._before = True
            self._beat.start()
            self.said.emit(tr("The state before and this one, by turns. / again: back."), False)

    def _lay_over(self, picture: QImage, shown: str, found: Aligned | None) -> None:
        """The state before goes to where its things lie on this photograph, as soon as that is known."""
        view = self._states.view
        if self.mode and found is not None and found.is_same_side and view is not None and view.id == shown:
            share = 0.5 if self.mode == "wipe" else float(self._before)
            self._canvas.show_wipe(laid_over(picture, found), share, follows=self.mode == "wipe")

    def turn(self) -> None:
        self._before = not self._before
        self._canvas.set_wipe_share(1.0 if self._before else 0.0)

    def stop(self) -> None:
        self._beat.stop()
        self.mode = ""
