"""The key of a kind of joint: what a click marks from now on, or, where one undoes as one marks and points at the
photograph, what was undone there; and of which type it is."""

from __future__ import annotations

from oddbolt.catalog.tables import MarkKind, mark_kinds
from oddbolt.model.places import Spot
from oddbolt.session.modes import Act, Gesture
from oddbolt.session.recording.kinds import means
from oddbolt.session.recording.offers import after_release
from oddbolt.session.recording.recorder import Recorder, offer
from oddbolt.session.verbs.correcting.change import set_kind
from oddbolt.session.verbs.marking import Kind


class ArmingActs:
    """Holds nothing: what was marked last stands in the recorder."""

    def __init__(self, recorder: Recorder) -> None:
        self.recorder = recorder
        recorder.acts[Act.ARM_KIND] = self.arm_kind

    def arm_kind(self, kind: str, spot: Spot | None = None, place: int | None = None) -> None:
        """Marking of a kind of joint. Where one undoes as one marks and points at the photograph, the key marks at
        `spot`, or on the mark `place` that is there, with the type used last; the same key again, still pointing at
        that mark, makes it the next type. Where one does not point, the same key again arms the next type."""
        recorder, row = self.recorder, mark_kinds()[kind]
        before = recorder.selection.kind
        at_once = recorder.selection.as_i_mark and spot is not None
        retyped = self._retyped(row, place) if at_once else ""
        again = means(row, before) and len(row.types) > 1
        made = recorder.used.armed(kind, before if retyped or not at_once else None)
        recorder.arm(made)
        if retyped:
            _retype(recorder, retyped, made)
            return
        if again and before is not None and made.type != before.type:
            recorder.say("type-changed", kind=made.joint, type=made.type, before=before.type)
        else:
            recorder.say("click-marks", kind=made.joint, type=made.type)
        if at_once:  # point and press: it is done there
            if place is None:
                recorder.gesture(Gesture.CLICK_BESIDE, spot=spot)
            else:
                recorder.gesture(Gesture.CLICK_MARK, place=place, spot=spot)

    def _retyped(self, row: MarkKind, place: int | None) -> str:
        """What was marked and undone just now, where it is of this row and pointed at; else nothing."""
        recorder = self.recorder
        if recorder.last is None or place is None or len(row.types) < 2:
            return ""
        after, thing = recorder.last
        is_same = recorder.session.teardown is after and recorder.thing_at(place) == thing
        return thing if is_same and means(row, recorder.selection.kind) else ""


def parted_by(recorder: Recorder, joint: str, type_: str) -> bool:
    """The bond just parted was parted in this way; the next are too, until another is said."""
    row = next(row for row in mark_kinds().values() if type_ in row.types)
    made = recorder.used.as_type(row.id, type_)
    recorder.arm(made)
    return _retype(recorder, joint, made)


def _retype(recorder: Recorder, joint: str, kind: Kind) -> bool:
    if recorder.do(set_kind, joint, kind, recorder.t) is None:
        return False
    recorder.choose(joint)
    recorder.say("type-now", thing=joint, kind=kind.joint, type=kind.type)
    recorder.last = recorder.session.teardown, joint
    recorder.tell.released(joint, 0)  # another way may wait, or wait no more
    offer(recorder, after_release(recorder.session.teardown, joint))
    return True
