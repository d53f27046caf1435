"""Which parts and joints of two records stand for each other: a proposal, by role, name, kind and what they are tied
to."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable

from msgspec import Struct

from oddbolt.model.things import Joint, Part, Teardown


class Matched(Struct, frozen=True, kw_only=True):
    """Ids of the one record with those of the other."""

    parts: dict[str, str]
    joints: dict[str, str]

    @property
    def back(self) -> Matched:
        return Matched(parts={b: a for a, b in self.parts.items()}, joints={b: a for a, b in self.joints.items()})


def matched(one: Teardown, other: Teardown) -> Matched:
    """Each thing once; what is told apart by nothing is matched in the order of the records."""
    parts: dict[str, str] = {one.device.base: other.device.base}
    ours = [part for part in one.parts if one.is_present(part) and part.id != one.device.base]
    theirs = [part for part in other.parts if other.is_present(part) and part.id != other.device.base]
    named: Callable[[Part], Hashable] = lambda part: (part.kind, part.name.lower()) if part.name else None  # noqa: E731
    for key in (named, lambda part: (part.kind, part.role) if part.role else None,
                lambda part: part.role or None, lambda part: part.kind or None):
        _pair(parts, ours, theirs, key)
    joints: dict[str, str] = {}
    own = [joint for joint in one.joints if one.is_present(joint)]
    others = [joint for joint in other.joints if other.is_present(joint)]
    back = {b: a for a, b in parts.items()}
    for with_name in (True, False):
        _pair(joints, own, others, lambda joint, n=with_name: _tie(joint, {p: p for p in joint.of}, n)
              if joint.id in one.joint and joint is one.joint[joint.id] else _tie(joint, back, n))
    return Matched(parts=parts, joints=joints)


def _tie(joint: Joint, names: dict[str, str], with_name: bool) -> Hashable:
    """What a joint is told by: kind, type and the parts it ties, by their ids in the first record."""
    of = frozenset(names.get(part, f"?{part}") for part in joint.of)
    return joint.kind, joint.type, of, joint.name.lower() if with_name else ""


def _pair(found: dict[str, str], ours: Iterable[Part] | Iterable[Joint], theirs: Iterable[Part] | Iterable[Joint],
          key: Callable[..., Hashable]) -> None:
    """Pair what has the same key and stands alone with it, or as many times on both sides, in order."""
    taken = set(found.values())
    left: dict[Hashable, list[str]] = {}
    for thing in theirs:
        if thing.id not in taken and key(thing) is not None:
            left.setdefault(key(thing), []).append(thing.id)
    for thing in ours:
        waiting = left.get(key(thing), []) if thing.id not in found else []
        if key(thing) is not None and waiting:
            found[thing.id] = waiting.pop(0)
