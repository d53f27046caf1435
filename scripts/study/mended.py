"""A record with some of its facts replaced by the truth: shows which errors cost how much."""

from __future__ import annotations

from collections.abc import Mapping, Set

from msgspec.structs import replace

from oddbolt.model.things import Act, Joint, Part, Teardown, Way
from scripts.study.truth import BASE, COOLS, Hidden, Thing, behind_of

BEHIND, TOOLS, ENDS, LIFT_TOOLS = "behind", "tools", "ends", "lift tools"
FACTS = (BEHIND, TOOLS, ENDS, LIFT_TOOLS)


def mended(hidden: Hidden, teardown: Teardown, hidden_of: Mapping[str, str], facts: Set[str]) -> Teardown:
    """The record with these facts as they truly are, for all that is on record."""
    own = {true: one for one, true in hidden_of.items() if one in teardown.part or one in teardown.joint}
    own[BASE] = teardown.device.base

    def behind(thing: Thing) -> tuple[tuple[str, ...], ...]:
        clauses = [tuple(own[one] for one in clause if one in own) for clause in thing.clauses]
        return tuple(tuple(names) for names in behind_of(clauses, {one for clause in clauses for one in clause}))

    def part(record: Part) -> Part:
        thing = hidden.things.get(hidden_of.get(record.id, ""))
        if thing is None:
            return record
        if BEHIND in facts:
            record = replace(record, behind=behind(thing))
        if LIFT_TOOLS in facts:
            record = replace(record, tool=thing.acts[0][0])
        if ENDS in facts:
            record = replace(record, on=own.get(thing.on) if thing.on != BASE else None)
        return record

    def joint(record: Joint) -> Joint:
        thing = hidden.things.get(hidden_of.get(record.id, ""))
        if thing is None:
            return record
        if BEHIND in facts:
            record = replace(record, behind=behind(thing))
        if TOOLS in facts:
            record = replace(record, ways=(Way(acts=tuple(
                Act(tool=tool, wait_s=wait, at_once=n > 0 and thing.acts[n - 1][0] in COOLS)
                for n, (tool, wait) in enumerate(thing.acts))),))
        if ENDS in facts:
            of = tuple(dict.fromkeys(own[one] for one in thing.of if one in own))
            record = replace(record, of=of if len(of) > 1 else record.of, isolates=thing.isolates)
        return record

    return replace(teardown, parts=tuple(map(part, teardown.parts)), joints=tuple(map(joint, teardown.joints)))
