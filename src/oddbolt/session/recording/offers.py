"""What is offered after an act: the few likely answers to what the record cannot know, each one key away.

Nothing of it is obligatory: whoever goes on without an answer has answered too.
"""

from __future__ import annotations

import functools

from msgspec import Struct

from oddbolt.catalog.tables import covering_kinds, part_kinds
from oddbolt.knowledge.owners import perhaps_of
from oddbolt.model.things import Teardown
from oddbolt.session.standing import is_next, lifted
from oddbolt.session.verbs.correcting.forgotten import SCREW
from oddbolt.session.verbs.lifting import lift_of

# Which part a plug belongs to; whether a cover had to come off at all; what held a part that came off as if by itself;
# whether the way to a part is looked at now.
WHOSE, HANGING, HELD, TELL = "whose", "hanging", "held", "tell"
MOST_GROUPS = 2  # of screws that may have been of another part
MOST = 4  # answers at a time: one for each of the keys F2 to F5
# What is forgotten most of what holds a cover, or a plate: common practice, no source.
LARGE_HELD_BY, SMALL_HELD_BY = ("clip", "glue"), (SCREW, "clip", "glue")
USUAL_OWNERS = ("battery", "display", "camera", "port")  # of plugs, the likeliest first: common practice, no source
ENOUGH, NEEDED = "enough", "needed"


class Offer(Struct, frozen=True, kw_only=True):
    """One answer that may be given. `choice` is a kind of part or joint, a joint on record, or yes and no by their
    codes."""

    code: str
    about: str
    choice: str


def after_release(teardown: Teardown, joint_id: str) -> tuple[Offer, ...]:
    """Whose plug? Asked where nobody has said."""
    joint = teardown.joint.get(joint_id)
    if joint is None or joint.kind != "connector" or not is_next(teardown.part[joint.of[0]]):
        return ()
    gone = lifted(teardown)
    plugged = {teardown.part[one.of[0]].kind for one in teardown.joints
               if one.kind == "connector" and one.of[0] in teardown.part and one.of[0] not in gone}
    off = {teardown.part[id_].kind for id_ in gone if id_ in teardown.part}
    # The plug of the cell is the first of its layer; what has its plug already, or is off, is asked about last.
    kinds = sorted(USUAL_OWNERS, key=lambda kind: kind == "battery" and kind in plugged | off)
    return tuple(Offer(code=WHOSE, about=joint_id, choice=kind) for kind in kinds[:MOST])


def after_lift(teardown: Teardown, part_id: str) -> tuple[Offer, ...]:
    """Whether a cover that hung open had to come off for what follows; what held one that came off as if by itself."""
    own = [joint.kind for joint in teardown.joints if part_id in joint.of]
    if "swing" in own:
        return tuple(Offer(code=HANGING, about=part_id, choice=choice) for choice in (ENOUGH, NEEDED))
    if any(kind not in ("connector", "routing", "film") for kind in own):
        # A part that matters is off: the way to it is fresh in mind.
        return (Offer(code=TELL, about=part_id, choice=TELL),) if teardown.part[part_id].role else ()
    kinds, kind = covering_kinds(), teardown.part[part_id].kind
    holds = (*LARGE_HELD_BY, SCREW) if kind in kinds.large else SMALL_HELD_BY if kind in kinds.small else ()
    if not teardown.fasteners:
        holds = tuple(one for one in holds if one != SCREW)
    if kind in _screwed():  # screws that went to what came off before, rather than others
        groups = perhaps_of(teardown, lift_of(teardown, part_id))[:MOST_GROUPS]
        holds = (*groups, *(one for one in holds or SMALL_HELD_BY if one != SCREW or teardown.fasteners))
    return tuple(Offer(code=HELD, about=part_id, choice=one) for one in holds[:MOST])


@functools.cache
def _screwed() -> frozenset[str]:
    return frozenset(row.kind for row in part_kinds().values() if row.screwed)
