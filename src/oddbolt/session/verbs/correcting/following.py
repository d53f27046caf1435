"""Where parts lie, what joints tie and what cuts the power, as it follows from what a person says of a way."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from msgspec.structs import replace

from oddbolt.model.things import ASSUMED, Part, Teardown
from oddbolt.rules.replay import readings
from oddbolt.session.verbs.lifting import without_untied
from oddbolt.session.verbs.plain import change_joint, change_parts, free_id, is_carried_by, joint_of, said_too


def lying_on(teardown: Teardown, carrier: str, ids: Sequence[str]) -> Teardown:
    """Parts that nobody said where they lie lie on this one, unless it lies on them."""
    return change_parts(teardown, [p for p in ids if not is_carried_by(teardown, carrier, p)],
                        lambda p: replace(p, on=carrier, said=said_too(p, "on"))
                        if p.on is None and p.basis == ASSUMED else p)


def stayed(teardown: Teardown, part: str, off: Sequence[str]) -> Teardown:
    """A part that is still in the way when these are off: it lies on none of them, and what holds something there
    holds another."""
    after = teardown
    for carrier in [one for one in off if one != part and is_carried_by(teardown, part, one)]:
        if after.part[part].was_said("on"):
            for joint in [j for j in after.joints if part in j.of and carrier in j.of and j.basis == ASSUMED]:
                after = not_tying(after, joint.id, [part], keep=(part,))
                after = lying_on(after, carrier, [p for p in after.joint[joint.id].of if p != carrier])
            after = change_parts(after, [part], lambda p: replace(p, said=tuple(x for x in p.said if x != "on")))
        after = _not_lying_on(after, [part], [carrier])
    return after


def together(teardown: Teardown, at: str, part: str, off: Sequence[str]) -> Teardown:
    """A part that is in the way of something although what carries that is off lies on the same carrier; or, where it
    came off before that, it is the other that does not lie there."""
    of = [p for p in teardown.joint[at].of if p != teardown.device.base] if at in teardown.joint else [at]
    carrier = next((one for one in off if one in teardown.part and not is_carried_by(teardown, part, one)
                    and all(is_carried_by(teardown, p, one) for p in of)), "")
    if not carrier or not of or at == carrier:
        return teardown
    came_off = {entry.thing: n for n, entry in enumerate(readings(teardown)) if entry.do == "remove"}
    if came_off.get(part, 0) > came_off.get(carrier, 0):
        return lying_on(teardown, carrier, [part])
    if at in teardown.joint and teardown.joint[at].kind == "connector":
        return not_tying(teardown, at, of, keep=of)
    return _not_lying_on(teardown, of, [carrier])


def live_without(teardown: Teardown, joint_id: str) -> Teardown:
    """What the way does without does not cut the power, where something else is known to cut that of the same
    source."""
    joint = teardown.joint[joint_id]
    others = [one for one in (*teardown.joints, *teardown.parts)
              if one.id != joint_id and one.isolates == joint.isolates]
    if joint.isolates is False or joint.was_said("isolates") or not others:
        return teardown
    return change_joint(teardown, joint_id, lambda j: replace(j, isolates=False))


def within(teardown: Teardown, joint_id: str, carriers: Sequence[str]) -> Teardown:
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
            after = not_tying(after, joint_id, [part], keep=(part,))
        elif joint.basis == ASSUMED:  # whose it is may have been said, where it leads to follows from this
            of = tuple(dict.fromkeys(p if is_carried_by(after, p, carrier) else carrier for p in joint.of))
            after = change_joint(after, joint_id, lambda j, of=of: replace(j, of=of)) if len(of) > 1 else after
    return after


def _not_lying_on(teardown: Teardown, ids: Sequence[str], carriers: Sequence[str]) -> Teardown:
    """Parts that were thought to lie on one of these, which comes off without them: they stay with the base."""
    return change_parts(teardown, [p for p in ids if any(is_carried_by(teardown, p, one) for one in carriers)],
                        lambda p: replace(p, on=None) if p.basis == ASSUMED and not p.was_said("on") else p)


def not_tying(teardown: Teardown, joint_id: str, parts: Sequence[str], keep: Collection[str] = ()) -> Teardown:
    """A joint that was thought to hold what comes off without it; it is of nobody yet. What nothing ties or names any
    more goes, but for what is in `keep`: it is being spoken of."""
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
        after = without_untied(after, part) if part not in keep else after
    return after
