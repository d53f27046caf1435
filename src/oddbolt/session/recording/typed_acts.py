"""The typed line, carried out by the same acts as the keys."""

from __future__ import annotations

from oddbolt.session.modes import Act
from oddbolt.session.recording.lifting_acts import LiftingActs
from oddbolt.session.recording.tool_acts import tell_in_passing
from oddbolt.session.typed_line import (
    ASKS,
    FACT,
    HID_NOTHING,
    LIFT,
    LIFT_AS,
    MEET,
    NOTE,
    REACH,
    RELEASE,
    ROLE,
    SWING,
    TRAY,
    Parsed,
    understand,
)
from oddbolt.session.verbs import entries, lifting
from oddbolt.session.verbs.footprints import set_footprint
from oddbolt.session.verbs.parts import set_role
from oddbolt.session.verbs.trays import pull_tray


class TypedActs:
    """Holds nothing."""

    def __init__(self, acts: LiftingActs) -> None:
        self.lifting, self.recorder = acts, acts.recorder
        acts.recorder.acts[Act.TYPED] = self.typed

    def typed(self, line: str) -> bool:
        """Carry a line out by the same acts; raises NotUnderstood. False where it was not done."""
        parsed = understand(self.recorder.session.teardown, line)
        return {NOTE: self._typed_note, ASKS: self._typed_ask, LIFT: self._typed_lift, LIFT_AS: self._typed_lift_as,
                SWING: self._typed_swing, RELEASE: self._typed_release, MEET: self._typed_meet,
                ROLE: self._typed_role, HID_NOTHING: self._typed_hid_nothing,
                REACH: self._typed_reach, TRAY: self._typed_tray, FACT: self._typed_fact}[parsed.code](parsed)

    def _typed_note(self, parsed: Parsed) -> bool:
        return self.recorder.do(entries.note, parsed.text, self.recorder.t) is not None

    def _typed_role(self, parsed: Parsed) -> bool:
        self.recorder.choose(parsed.thing)
        return self.recorder.do(set_role, parsed.thing, parsed.text) is not None

    def _typed_hid_nothing(self, parsed: Parsed) -> bool:
        self.recorder.choose(parsed.thing)
        return self.recorder.do(set_footprint, self.recorder.selection.view, parsed.thing, ()) is not None

    def _typed_reach(self, _parsed: Parsed) -> bool:
        return self.lifting.reach_all()

    def _typed_tray(self, parsed: Parsed) -> bool:
        done = self.recorder.do(pull_tray, self.recorder.t, parsed.text)
        if done is None:
            return False
        self.recorder.choose(done.made)
        return True

    def _typed_fact(self, parsed: Parsed) -> bool:
        return tell_in_passing(self.recorder, parsed.text, pointed=parsed.thing)

    def _typed_ask(self, parsed: Parsed) -> bool:
        self.recorder.choose(parsed.thing)
        self.recorder.tell.asks(parsed.thing)
        return True

    def _typed_lift(self, parsed: Parsed) -> bool:
        self._choose_again(parsed.thing)
        return self.lifting.lift()

    def _typed_lift_as(self, parsed: Parsed) -> bool:
        return self.lifting.lift_as(parsed.thing, name=parsed.text)

    def _typed_swing(self, parsed: Parsed) -> bool:
        self._choose_again(parsed.thing)
        return self.lifting.swing()

    def _typed_release(self, parsed: Parsed) -> bool:
        self._choose_again(parsed.thing)
        return self.lifting.release(parsed.way, outcome=parsed.outcome, **parsed.figures())

    def _typed_meet(self, parsed: Parsed) -> bool:
        was_safe = self.recorder.session.derived.is_isolated
        done = self.recorder.do(lifting.meet_and_release, parsed.kind, self.recorder.t, part=parsed.part,
                                count=parsed.count or 1, letter=parsed.letter, owner=parsed.owner,
                                outcome=parsed.outcome, **parsed.figures())
        if done is None:
            return False
        self.recorder.choose(done.made)
        self.recorder.warn_after_release(done.made, 0, was_safe)
        return True

    def _choose_again(self, thing: str) -> None:
        """Choose, and still know what was asked for once."""
        asked = self.recorder.confirmed
        self.recorder.choose(thing)
        self.recorder.confirmed = asked if asked is not None and asked[1] == thing else None
