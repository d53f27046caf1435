"""What a person says of a way to a part that is shown to them: it works, what is in the way, what is not needed.

Each is kept word for word (`confirmed` and `pairs` of the record), and what follows from it is written down at once.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from msgspec.structs import replace

from oddbolt.catalog.tables import part_kind
from oddbolt.knowledge.said.retold import BLOCKED, NEEDLESS, NOT_MINE, WORKS
from oddbolt.knowledge.settling import settle
from oddbolt.model.naming import called
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import ASSUMED, HAND, ConfirmedWay, Pair, Teardown
from oddbolt.session.verbs import acts, joints
from oddbolt.session.verbs.correcting.following import live_without, lying_on, not_tying, stayed, together, within
from oddbolt.session.verbs.correcting.forgotten import held_by
from oddbolt.session.verbs.lifting import turned_out
from oddbolt.session.verbs.marking import makes_safe
from oddbolt.session.verbs.plain import (
    Done,
    change_joint,
    change_parts,
    joint_of,
    label_of,
)


def said_by(teardown: Teardown, by: str, verb: Callable[..., Done], *args: Any) -> Done:
    """One of these, said by somebody else than who records."""
    done, known = verb(teardown, *args), len(teardown.confirmed)
    ways = tuple(replace(way, by=by) if n >= known else way for n, way in enumerate(done.teardown.confirmed))
    return Done(done.label, replace(done.teardown, confirmed=ways), done.made)


def works(teardown: Teardown, part: str, operations: Sequence[str]) -> Done:
    """Each of these can be done where it stands."""
    after = settle(_with(teardown, part, operations, answer=WORKS))
    return Done(label_of("way-works", teardown, part), after)


def blocked(teardown: Teardown, part: str, operations: Sequence[str], at: str, by_things: Sequence[str]) -> Done:
    """One of `by_things` is in the way of `at`, or ties it. It takes back what was said against that."""
    if at in by_things:
        raise Refusal(at, "behind-itself", id=at)
    if not by_things:
        raise Refusal(at, "blocked-by-nothing")
    off = operations[:operations.index(at)] if at in operations else ()
    after, by = teardown, list(by_things)
    for thing in by_things:
        after = together(stayed(after, thing, off), at, thing, off) if thing in after.part else after
    for n, thing in enumerate(by_things):
        if at in teardown.joint and thing in teardown.joint[at].of and thing != teardown.device.base:
            # What has to come off first is what it is fixed to: the rest lies on that, and is worked on once it is off.
            others = [p for p in teardown.joint[at].of if p not in (thing, teardown.device.base)]
            after = lying_on(after, thing, others)
            by[n] = teardown.device.base
    kept = tuple(pair for pair in after.pairs if pair.thing != at or pair.hider not in by or pair.hides)
    if len(by) == 1:
        after = _told(after, at, by[0], hides=True)
    after = settle(_with(replace(after, pairs=kept), part, operations, answer=BLOCKED, at=at, by_things=tuple(by)))
    return Done(label_of("way-blocked", teardown, at, by=[called(teardown, one) for one in by_things]), after)


def _told(teardown: Teardown, thing_id: str, hider: str, hides: bool) -> Teardown:
    """What a person had written of a thing that is not assumed, as they say now; what is assumed follows by itself."""
    thing = teardown.thing(thing_id)
    if thing.basis == ASSUMED or (not thing.behind and not hides):
        return teardown
    behind = [tuple(x for x in names if x != hider) for names in thing.behind or ((),)]
    if hides:
        behind = [(*names, hider) for names in behind]
    made = tuple(dict.fromkeys(behind)) if all(behind) else ()
    if thing_id in teardown.joint:
        return change_joint(teardown, thing_id, lambda j: replace(j, behind=made))
    return change_parts(teardown, [thing_id], lambda p: replace(p, behind=made))


def needless(teardown: Teardown, part: str, operations: Sequence[str], things: Sequence[str]) -> Done:
    """The part comes off without these. A plug that it was thought to have waits for its own part again."""
    if part in things:
        raise Refusal(part, "part-needs-itself")
    after = teardown
    for thing in things:
        joint = after.joint.get(thing)
        if joint is not None:
            left = [p for p in operations if p not in things]
            loose = [p for p in joint.of if p in (part, *left)]
            after = not_tying(after, thing, loose, keep=(part, *operations, *things))
            after = live_without(within(after, thing, left), thing)
        for other in operations:
            if other not in things and thing in (x for names in after.thing(other).behind for x in names):
                after = _told(after, other, thing, hides=False)
    after = settle(_with(after, part, operations, answer=NEEDLESS, things=tuple(things)))
    return Done(label_of("way-needless", teardown, things[0], count=len(things)), after)


def not_mine(teardown: Teardown, part: str, operations: Sequence[str], at: str, to: str) -> Done:
    """A joint of the way belongs to another part."""
    joint = joint_of(teardown, at)
    wrong = [n for n, p in enumerate(joint.of) if p == part or p in operations]
    _, after, _ = joints.tie(teardown, at, wrong[0] if wrong else 0, to)
    after = settle(_with(after, part, operations, answer=NOT_MINE, at=at, to=to))
    return Done(label_of("way-not-mine", teardown, at, part=called(teardown, to)), after)


def belongs_to(teardown: Teardown, part: str, operations: Sequence[str], at: str, kind_id: str) -> Done:
    """A plug of the way belongs to the part of this kind; where there is none yet, it is met by this."""
    done = joints.whose(teardown, at, kind_id)
    after = settle(_with(done.teardown, part, operations, answer=NOT_MINE, at=at, to=done.made))
    return Done(label_of("way-not-mine", teardown, at, part=called(after, done.made)), after, done.made)


def something_else(teardown: Teardown, part: str, operations: Sequence[str], at: str, kind_id: str, t: float) -> Done:
    """What was forgotten holds or covers `at`: a joint of this kind, undone before it. `made` is its id."""
    done = held_by(teardown, at, kind_id, t)
    after = done.teardown
    if at in after.joint:  # the new one covers it
        after = replace(after, pairs=(*after.pairs, Pair(thing=at, hider=done.made, hides=True)))
    after = settle(_with(after, part, operations, answer=BLOCKED, at=at, by_things=(done.made,), held_by=(done.made,)))
    return Done(label_of("held-by", after, done.made), after, done.made)


def before(teardown: Teardown, hider: str, could: Mapping[str, bool]) -> Done:
    """Which of these things could be done before the hider was cleared. A joint that need not be undone before a part
    comes off does not hold it either."""
    kept = tuple(p for p in teardown.pairs if p.hider != hider or p.thing not in could)
    said = tuple(Pair(thing=thing, hider=hider, hides=not yes) for thing, yes in could.items())
    after = replace(teardown, pairs=(*kept, *said))
    for thing, yes in could.items():
        after = _told(after, thing, hider, hides=not yes)
    if hider in teardown.joint:
        free = [thing for thing, yes in could.items() if yes and thing in teardown.joint[hider].of]
        after = not_tying(after, hider, free)
    return Done(label_of("way-before", teardown, hider), settle(after))


def is_a(teardown: Teardown, part: str, kind_id: str) -> Done:
    """A part is of another kind than it was taken for."""
    if part not in teardown.part or part == teardown.device.base:
        raise Refusal(part, "no-part", id=part)
    after = turned_out(change_parts(teardown, [part], lambda p: replace(p, role=())), part, part_kind(kind_id))
    for joint in after.joints:
        if part in joint.of:
            after = makes_safe(after, joint.id)
    return Done(label_of("part-is", teardown, part, part_kind=part_kind(kind_id).kind), settle(after))


def with_tool(teardown: Teardown, thing: str, tools: Sequence[str]) -> Done:
    """The tools of a release, or of a lift, act by act; what a person says."""
    return acts.set_tools(teardown, thing, 0, tools or (HAND,))


def _with(teardown: Teardown, part: str, operations: Sequence[str], **keys: Any) -> Teardown:
    taken = {way.id for way in teardown.confirmed}
    n = next(n for n in range(len(taken) + 1, 2 * len(taken) + 3) if f"w{n}" not in taken)
    by = teardown.sessions[-1].by if teardown.sessions else ""
    said = ConfirmedWay(id=f"w{n}", part=part, by=by, operations=tuple(operations),
                        at_entry=teardown.log[-1].id if teardown.log else None, **keys)
    return replace(teardown, confirmed=(*teardown.confirmed, said))

