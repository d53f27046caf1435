"""Groups of screws set right later: split, joined, marks moved, without losing the log."""

from __future__ import annotations

from PySide6.QtCore import QObject

from oddbolt.session import recording
from oddbolt.session.session import Session
from oddbolt.ui.log.recorder import Recorder


class Groups(QObject):
    """Works on what was drawn round on the photograph."""

    def __init__(self, session: Session, recorder: Recorder) -> None:
        super().__init__()
        self._session = session
        self._recorder = recorder

    def split(self) -> None:
        """What was drawn round becomes a group of its own."""
        recorder, teardown, view = self._recorder, self._session.teardown, self._recorder.view
        if view is None or recorder.hand not in teardown.joint:
            return
        made = recorder.made(lambda: recording.split_group(teardown, recorder.hand, view.id, recorder.selected))
        if made:
            recorder.choose(made)

    def join(self) -> None:
        """The groups that were drawn round become one: the first keeps its name."""
        recorder, teardown, view = self._recorder, self._session.teardown, self._recorder.view
        marks = view.marks if view else ()
        things = dict.fromkeys(marks[n].thing for n in recorder.selected if n < len(marks))
        groups = [thing for thing in things if thing in teardown.joint]
        if len(groups) != 2:
            recorder.say(self.tr("Draw round marks of just two groups to join them"), alarm=True)
            return
        command = recorder.attempt(lambda: recording.join_groups(teardown, *groups))
        if command is not None and recorder.do(command):
            recorder.choose(groups[0])

    def move_selected(self) -> None:
        """What was drawn round goes to the group in hand."""
        recorder, teardown, view = self._recorder, self._session.teardown, self._recorder.view
        if view is None or recorder.hand not in teardown.joint or not recorder.selected:
            recorder.say(self.tr("Draw round some marks, then choose the group they belong to"), alarm=True)
            return
        command = recorder.attempt(lambda: recording.move_marks(teardown, view.id, recorder.selected, recorder.hand))
        if command is not None:
            recorder.do(command)
