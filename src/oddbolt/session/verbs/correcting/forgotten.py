"""What held a part that came off without a fixing on record: met by being asked, undone just before the lift."""

from __future__ import annotations

from oddbolt.catalog.tables import mark_kinds
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown
from oddbolt.rules.replay import in_order, readings
from oddbolt.session.verbs.correcting.relog import insert
from oddbolt.session.verbs.marking import Kind, new_joint
from oddbolt.session.verbs.plain import Done, label_of, log_entry

SCREW = "screw"


def held_by(teardown: Teardown, part: str, kind_id: str, t: float) -> Done:
    """A joint of this kind (of mark_kinds.toml, or screws of the letter used last) held the part; `made` is its id."""
    lift = next((e for e in reversed(readings(teardown)) if e.do == "remove" and e.thing == part), None)
    if lift is None:
        raise Refusal(part, "not-lifted")
    done = new_joint(teardown, _kind(teardown, kind_id), part=part, side=teardown.part[part].side)
    after, joint = done.teardown, done.made
    before = [entry.id for entry in in_order(after) if entry.amends is None]
    place = before.index(lift.id)
    after = insert(after, before[place - 1], "release", thing=joint).teardown if place else \
        log_entry(after, do="release", thing=joint, way=0, t=t)
    return Done(label_of("held-by", after, joint), after, joint)


def _kind(teardown: Teardown, kind_id: str) -> Kind:
    if kind_id == SCREW:
        used = [joint.fastener for joint in teardown.joints if joint.fastener]
        return Kind(letter=used[-1] if used else teardown.fasteners[-1].id if teardown.fasteners else "")
    row = mark_kinds()[kind_id]
    return Kind(joint=row.kind, type=row.types[0] if row.types else "")
