"""What a record means where it is silent: the way a joint gets, the verb of an act."""

from __future__ import annotations

from oddbolt.catalog.tables import driver_for, joint_kind
from oddbolt.model.things import Act, Joint, Teardown, Way


def ways_of(teardown: Teardown, joint: Joint) -> tuple[Way, ...]:
    """The recorded ways, or the catalogue's one for the joint's kind and fastener."""
    if joint.ways:
        return joint.ways
    kind = joint_kind(joint.kind)
    tool = kind.tool
    if tool == "driver" and joint.fastener is not None:
        fastener = teardown.fastener[joint.fastener]
        tool = driver_for(fastener.drive, fastener.size)
    return (Way(reuse=kind.reuse, acts=(Act(tool=tool),)),)


def verb_of(joint: Joint, act: Act) -> str:
    return act.does or joint_kind(joint.kind).verb
