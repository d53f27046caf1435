"""The order of a group of screws, given by clicking its marks one after the other: of undoing, or of tightening."""

from __future__ import annotations

from PySide6.QtCore import QObject, Signal

from oddbolt.session import commands, recording
from oddbolt.session.session import Session
from oddbolt.ui.log.recorder import Recorder
from oddbolt.words import wording

UNDOING, TIGHTENING = "undoing", "tightening"


class Numbering(QObject):
    """Holds the marks clicked so far; the command comes when all are there, or when the rest is left as it was."""

    said = Signal(str, bool)
    changed = Signal()

    def __init__(self, session: Session, recorder: Recorder) -> None:
        super().__init__()
        self._session = session
        self._recorder = recorder
        self._joint = self._what = ""
        self._order: list[int] = []

    @property
    def is_on(self) -> bool:
        return bool(self._joint)

    def undoing(self) -> None:
        self._begin(UNDOING)

    def tightening(self) -> None:
        self._begin(TIGHTENING)

    def _begin(self, what: str) -> None:
        joint, own = self._recorder.hand, self._places(self._recorder.hand)
        if len(own) < 2:
            self.said.emit(self.tr("Choose a group with two marks or more on this photograph"), True)
            return
        self._joint, self._what, self._order = joint, what, []
        words = {UNDOING: self.tr("Click the marks of {0} in the order of undoing."),
                 TIGHTENING: self.tr("Click the marks of {0} in the order of tightening.")}
        self.said.emit(words[what].format(wording.name_of(self._session.teardown, joint))
                       + self.tr(" ⏎: the rest as they were; Esc: leave"), False)
        self.changed.emit()

    def _places(self, joint: str) -> list[int]:
        """Marks of a joint on the view, in their present order."""
        view = self._recorder.view
        own = [n for n, m in enumerate(view.marks) if m.thing == joint and m.n is not None] if view else []
        record = self._session.teardown.joint.get(joint)
        order = record.order if record is not None and self._what == TIGHTENING else ()
        rank = {n: k for k, n in enumerate(order)}
        return sorted(own, key=lambda k: rank.get(view.marks[k].n, view.marks[k].n))

    def click(self, place: int) -> None:
        """The next one; the last one again: taken back."""
        if place not in self._places(self._joint):
            self.said.emit(self.tr("This mark is of another group"), True)
            return
        if self._order and place == self._order[-1]:
            self._order.pop()
        elif place not in self._order:
            self._order.append(place)
        left = len(self._places(self._joint)) - len(self._order)
        self.said.emit(self.tr("{0} numbered, {1} to go").format(len(self._order), left), False)
        self.changed.emit()
        if left == 0:
            self.finish()

    def finish(self) -> None:
        """Write the order down; what was not clicked follows as it was."""
        teardown, view, joint, what = self._session.teardown, self._recorder.view, self._joint, self._what
        order = [*self._order, *(n for n in self._places(joint) if n not in self._order)]
        clicked = bool(self._order)
        self.give_up()
        if view is None or not clicked:
            return
        if what == UNDOING:
            command = self._recorder.attempt(lambda: recording.renumber(teardown, view.id, joint, order))
        else:
            command = commands.set_order(teardown, joint, [view.marks[n].n for n in order])
        if command is not None:
            self._recorder.do(command)

    def give_up(self) -> None:
        self._joint, self._order = "", []
        self.changed.emit()

    def numbers(self) -> dict[int, str]:
        """What the marks of the view show while they are numbered."""
        if not self.is_on:
            return {}
        return {place: str(self._order.index(place) + 1) if place in self._order else "–"
                for place in self._places(self._joint)}
