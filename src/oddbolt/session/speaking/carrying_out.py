"""A sentence carried out: by the same gestures, lines and verbs as keys, clicks and menus."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct

from oddbolt.hearing.grammar import Said
from oddbolt.knowledge.said.retold import NOT_MINE
from oddbolt.session.modes import Gesture, Mode
from oddbolt.session.recording.offers import HANGING
from oddbolt.session.recording.recorder import Recorder, offer
from oddbolt.session.recording.seeing.seen_acts import SeenActs
from oddbolt.session.recording.telling_acts import TellingActs
from oddbolt.session.recording.tool_acts import ToolActs
from oddbolt.session.verbs import entries, joints


class CarryingOut(Struct):
    """Sentence by its code -> the act. `deed` makes a gesture of the table of modes, as its key would."""

    recorder: Recorder
    seen: SeenActs
    telling: TellingActs
    tools: ToolActs
    deed: Callable[[Gesture], object]
    note: Callable[[], object] = lambda: None  # begins to record a spoken note

    def __call__(self, said: Said) -> None:
        """Raises NotUnderstood where a line means nothing on this record, as typing it would."""
        getattr(self, "_" + said.code)(said)

    # -- what is always there

    def _line(self, said: Said) -> None:
        self.recorder.gesture(Gesture.TYPED, line=" ".join(said.tokens.values()))

    def _gesture(self, said: Said) -> None:
        if "place" in said.tokens:
            self.seen.choose(int(said.tokens["place"]) - 1)
        self.deed(Gesture(said.tokens["gesture"]))

    def _undo(self, _said: Said) -> None:
        self.recorder.session.undo()

    def _redo(self, _said: Said) -> None:
        self.recorder.session.redo()

    def _note(self, _said: Said) -> None:
        self.note()

    def _choose(self, said: Said) -> None:
        told = self.recorder.selection.telling
        if "place" in said.tokens:
            place = int(said.tokens["place"]) - 1
            if told is not None and place < len(told.operations):
                self.telling.choose(told.operations[place])
        else:
            self.recorder.choose(said.tokens["thing"])

    # -- yes and no, answers

    def _yes(self, _said: Said) -> None:
        self._yes_or_no(Gesture.ANSWER_1, Gesture.USUAL)

    def _no(self, _said: Said) -> None:
        self._yes_or_no(Gesture.ANSWER_2, Gesture.ESCAPE)

    def _yes_or_no(self, answer: Gesture, otherwise: Gesture) -> None:
        """To what is asked with yes and no; else to what is proposed; else nothing."""
        told, offered = self.recorder.selection.telling, self.recorder.offered
        if (told is not None and told.hider) or (offered and offered[0].code == HANGING):
            self.deed(answer)
        elif {Mode.SEEING, Mode.PROPOSING} & {*self.recorder.selection.modes()}:
            self.deed(otherwise)
        else:
            self.recorder.say("nothing-offered", alarm=True)

    def _answer(self, said: Said) -> None:
        self.deed(Gesture(said.tokens["answer"]))

    def _whose(self, said: Said) -> None:
        self.deed(Gesture.WHOSE)
        if Mode.NAMING in self.recorder.selection.modes():
            self.recorder.gesture(Gesture.LIFT_AS, kind=said.tokens["kind"])

    # -- of the act just done, or of what is chosen

    def _outcome(self, said: Said) -> None:
        last = entries.last_act(self.recorder.session.teardown)
        if last is not None:
            self.recorder.do(entries.set_outcome, last.id, said.tokens["outcome"], self.recorder.t)

    def _wait(self, said: Said) -> None:
        minutes = said.tokens.get("minutes")
        self.tools.wait(f"{minutes} min" if minutes else said.tokens["seconds"])

    def _tool(self, said: Said) -> None:
        self.tools.use(said.tokens["tool"])

    def _cuts(self, said: Said) -> None:
        self.recorder.do(joints.set_isolates, self.recorder.selection.thing, said.tokens["source"])

    # -- what was seen between two photographs, and what is pointed at

    def _tick(self, said: Said) -> None:
        self.recorder.gesture(Gesture.CLICK_SEEN, place=int(said.tokens["place"]) - 1)

    def _about(self, said: Said) -> None:
        if "place" in said.tokens:
            self.seen.choose(int(said.tokens["place"]) - 1)

    def _name(self, said: Said) -> None:
        told = self.recorder.selection.telling
        if told is not None and told.wants == NOT_MINE:
            self.telling.point_kind(said.tokens["kind"])
        else:
            self._about(said)
            self.seen.name(said.tokens["kind"])

    def _type(self, said: Said) -> None:
        self._about(said)
        self.seen.type(said.tokens["kind"])

    def _letter(self, said: Said) -> None:
        self._about(said)
        self.seen.letter(said.tokens["letter"])

    def _way(self, said: Said) -> None:
        offer(self.recorder, ())  # whoever asks for a way has gone on: the answers are about the way now
        self.recorder.tell.retells(said.tokens["thing"])

    def _point(self, said: Said) -> None:
        self.telling.point(said.tokens["thing"])
