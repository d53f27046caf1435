"""What a person says of a way to a part that is shown to them: it works, what is in the way, what is not needed.

Each is kept word for word (`confirmed` and `pairs` of the record), and what follows from it is written down at once.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from msgspec.structs import replace

from oddbolt.catalog.tables import part_kind
from oddbolt.knowledge.said.retold import BLOCKED, NEEDLESS, NOT_MINE, WORKS
from oddbolt.knowledge.settling import settle
from oddbolt.model.naming import called
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import ASSUMED, HAND, ConfirmedWay, Pair, Part, Teardown
from oddbolt.rules.replay import readings
from oddbolt.session.verbs import acts, joints
from oddbolt.session.verbs.correcting.forgotten import held_by
from oddbolt.session.verbs.lifting import turned_out, without_untied
from oddbolt.session.verbs.marking import makes_safe
from oddbolt.session.verbs.plain import (
    Done,
    change_joint,
    change_parts,
    free_id,
    is_carried_by,
    joint_of,
    label_of,
    said_too,
)


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
        after = _together(_stayed(after, thing, off), at, thing, off) if thing in after.part else after
    for n, thing in enumerate(by_things):
        if at in teardown.joint and thing in teardown.joint[at].of and thing != teardown.device.base:
            # What has to come off first is what it is fixed to: the rest lies on that, and is worked on once it is off.
            others = [p for p in teardown.joint[at].of if p not in (thing, teardown.device.base)]
            after = _lying_on(after, thing, others)
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


def _lying_on(teardown: Teardown, carrier: str, ids: Sequence[str]) -> Teardown:
    """Parts that nobody said where they lie lie on this one, unless it lies on them."""
    return change_parts(teardown, [p for p in ids if not is_carried_by(teardown, carrier, p)],
                        lambda p: replace(p, on=carrier, said=said_too(p, "on"))
                        if p.on is None and p.basis == ASSUMED else p)


def needless(teardown: Teardown, part: str, operations: Sequence[str], things: Sequence[str]) -> Done:
    """The part comes off without these. A plug that it was thought to have waits for its own part again."""
    if part in things:
        raise Refusal(part, "part-needs-itself")
    after = teardown
    for thing in things:
        joint = after.joint.get(thing)
        if joint is not None:
            left = [p for p in operations if p not in things]
            after = _not_tying(after, thing, [p for p in joint.of if p in (part, *left)])
            after = _live_without(_within(after, thing, left), thing)
        for other in operations:
            if other not in things and thing in (x for names in after.thing(other).behind for x in names):
                after = _told(after, other, thing, hides=False)
    after = settle(_with(after, part, operations, answer=NEEDLESS, things=tuple(things)))
    return Done(label_of("way-needless", teardown, things[0], count=len(things)), after)


def _stayed(teardown: Teardown, part: str, off: Sequence[str]) -> Teardown:
    """A part that is still in the way when these are off: it lies on none of them, and what holds something there
    holds another."""
    after = teardown
    for carrier in [one for one in off if one != part and is_carried_by(teardown, part, one)]:
        if after.part[part].was_said("on"):
            for joint in [j for j in after.joints if part in j.of and carrier in j.of and j.basis == ASSUMED]:
                after = _not_tying(after, joint.id, [part])
                after = _lying_on(after, carrier, [p for p in after.joint[joint.id].of if p != carrier])
            after = change_parts(after, [part], lambda p: replace(p, said=tuple(x for x in p.said if x != "on")))
        after = _not_lying_on(after, [part], [carrier])
    return after


def _together(teardown: Teardown, at: str, part: str, off: Sequence[str]) -> Teardown:
    """A part that is in the way of something although what carries that is off lies on the same carrier; or, where it
    came off before that, it is the other that does not lie there."""
    of = [p for p in teardown.joint[at].of if p != teardown.device.base] if at in teardown.joint else [at]
    carrier = next((one for one in off if one in teardown.part and not is_carried_by(teardown, part, one)
                    and all(is_carried_by(teardown, p, one) for p in of)), "")
    if not carrier or not of or at == carrier:
        return teardown
    came_off = {entry.thing: n for n, entry in enumerate(readings(teardown)) if entry.do == "remove"}
    if came_off.get(part, 0) > came_off.get(carrier, 0):
        return _lying_on(teardown, carrier, [part])
    if at in teardown.joint and teardown.joint[at].kind == "connector":
        return _not_tying(teardown, at, of)
    return _not_lying_on(teardown, of, [carrier])


def _live_without(teardown: Teardown, joint_id: str) -> Teardown:
    """What the way does without does not cut the power, where something else is known to."""
    joint = teardown.joint[joint_id]
    others = [one for one in (*teardown.joints, *teardown.parts) if one.id != joint_id and one.isolates is not False]
    if joint.isolates is False or joint.was_said("isolates") or not others:
        return teardown
    return change_joint(teardown, joint_id, lambda j: replace(j, isolates=False))


def _within(teardown: Teardown, joint_id: str, carriers: Sequence[str]) -> Teardown:
    """A joint of what lies on one of these, which comes off without it: it leads to nothing else, where it is known
    that the part is fixed there; else the part does not lie there."""
    after = teardown
    for part in [p for p in joint_of(after, joint_id).of if p not in carriers]:
        carrier = next((one for one in carriers if is_carried_by(after, part, one)), "")
        if not carrier:
            continue
        fixed = after.part[part].was_said("on") or any(
            joint.id != joint_id and part in joint.of and carrier in joint.of for joint in after.joints)
        joint = joint_of(after, joint_id)
        if not fixed:
            after = _not_lying_on(after, [part], [carrier])
        elif joint.kind == "connector" and not joint.was_said("of"):
            after = _not_tying(after, joint_id, [part])
        elif joint.basis == ASSUMED:  # whose it is may have been said, where it leads to follows from this
            of = tuple(dict.fromkeys(p if is_carried_by(after, p, carrier) else carrier for p in joint.of))
            after = change_joint(after, joint_id, lambda j, of=of: replace(j, of=of)) if len(of) > 1 else after
    return after


def _not_lying_on(teardown: Teardown, ids: Sequence[str], carriers: Sequence[str]) -> Teardown:
    """Parts that were thought to lie on one of these, which comes off without them: they stay with the base."""
    return change_parts(teardown, [p for p in ids if any(is_carried_by(teardown, p, one) for one in carriers)],
                        lambda p: replace(p, on=None) if p.basis == ASSUMED and not p.was_said("on") else p)


def _not_tying(teardown: Teardown, joint_id: str, parts: Sequence[str]) -> Teardown:
    """A joint that was thought to hold what comes off without it; it is of nobody yet."""
    joint = joint_of(teardown, joint_id)
    if not parts or joint.basis != ASSUMED:
        return teardown
    own = free_id(teardown, "next-")
    of = tuple(own if p in parts else p for p in joint.of)
    of = tuple(dict.fromkeys(of)) if len(set(of)) > 1 else (own, teardown.device.base)
    after = replace(teardown, parts=(*teardown.parts, Part(id=own, basis=ASSUMED)))
    after = change_joint(after, joint_id, lambda j: replace(
        j, of=of, isolates=j.isolates if j.was_said("isolates") else False,
        said=said_too(j, "of")))
    for part in parts:
        after = without_untied(after, part)
    return after


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
        after = _not_tying(after, hider, free)
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

