"""What was forgotten: what held a part or covered a joint; met by being asked, undone just before."""

from __future__ import annotations

from msgspec.structs import replace

from oddbolt.catalog.tables import mark_kinds
from oddbolt.knowledge.apart import about
from oddbolt.model.naming import called
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import LogEntry, Teardown
from oddbolt.rules.replay import in_order, readings
from oddbolt.session.verbs.correcting.relog import insert
from oddbolt.session.verbs.groups import split_group
from oddbolt.session.verbs.joints import tie
from oddbolt.session.verbs.lifting import lift_of
from oddbolt.session.verbs.marking import Kind, new_joint
from oddbolt.session.verbs.plain import Done, change_joint, label_of, log_entry

SCREW = "screw"


def held_by(teardown: Teardown, held: str, kind_id: str, t: float) -> Done:
    """A joint of this kind (of mark_kinds.toml, or screws of the letter used last) held the part, or covered the joint;
    `made` is its id. It was undone just before that, where that was done."""
    part = held if held in teardown.part else teardown.joint[held].of[0]
    found = [e for e in readings(teardown) if e.do in ("remove", "release") and e.thing == held]
    entry = (found[-1] if held in teardown.part else found[0]) if found else None
    # What lies over a joint lies across what that ties; it is no bond of the part.
    across = teardown.joint[held].of[1] if held in teardown.joint else ""
    done = new_joint(teardown, _kind(teardown, kind_id), part=part, carrier=across, side=teardown.thing(held).side)
    after, joint = done.teardown, done.made
    if entry is not None:
        after = _released_before(after, entry, joint, t)
    return Done(label_of("held-by", after, joint), after, joint)


def held_by_marked(teardown: Teardown, part: str, joint: str, t: float) -> Done:
    """A group that was marked and left closed by the record held the part: it was undone just before the lift."""
    entry = next((e for e in reversed(readings(teardown)) if e.do == "remove" and e.thing == part), None)
    if entry is None:
        raise Refusal(part, "not-lifted")
    of = tuple(dict.fromkeys((part, *teardown.joint[joint].of[1:])))
    after = change_joint(teardown, joint, lambda j: replace(j, of=of if len(of) > 1 else j.of))
    after = _released_before(after, entry, joint, t)
    return Done(label_of("held-by", after, joint), after, joint)


def held_by_group(teardown: Teardown, part: str, joint: str) -> Done:
    """Screws that went to a part lifted before held this one: those of them that lie round it, where others lie
    elsewhere together, else all."""
    view_id, own = about(teardown, teardown.joint[joint], lift_of(teardown, part))
    after, of_it = teardown, joint
    if own:
        _, after, of_it = split_group(teardown, joint, view_id, own)
    after = tie(after, of_it, 0, part).teardown
    return Done(label_of("tie", teardown, joint, part=called(teardown, part)), after, of_it)


def _released_before(teardown: Teardown, entry: LogEntry, joint: str, t: float) -> Teardown:
    """The log with the joint undone just before an entry; after all, where nothing is before that."""
    before = [one.id for one in in_order(teardown) if one.amends is None]
    place = before.index(entry.id)
    if not place:
        return log_entry(teardown, do="release", thing=joint, way=0, t=t)
    return insert(teardown, before[place - 1], "release", thing=joint).teardown


def _kind(teardown: Teardown, kind_id: str) -> Kind:
    if kind_id == SCREW:
        used = [joint.fastener for joint in teardown.joints if joint.fastener]
        return Kind(letter=used[-1] if used else teardown.fasteners[-1].id if teardown.fasteners else "")
    row = mark_kinds()[kind_id]
    return Kind(joint=row.kind, type=row.types[0] if row.types else "")
