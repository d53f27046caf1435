"""Which parts and joints of two records stand for each other: a proposal, by role, name, kind and what they are tied
to, and what a person set right in it."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable, Mapping

from msgspec import Struct, field

from oddbolt.model.things import Joint, Part, Teardown


class Matched(Struct, frozen=True, kw_only=True):
    """Ids of the one record with those of the other."""

    parts: dict[str, str]
    joints: dict[str, str]

    @property
    def back(self) -> Matched:
        return Matched(parts={b: a for a, b in self.parts.items()}, joints={b: a for a, b in self.joints.items()})

    @property
    def things(self) -> dict[str, str]:
        return {**self.parts, **self.joints}


class Corrections(Struct, frozen=True, kw_only=True):
    """What a person said: this thing of the one record stands for that of the other, or for nothing there (None)."""

    parts: Mapping[str, str | None] = field(default_factory=dict)
    joints: Mapping[str, str | None] = field(default_factory=dict)

    def with_pair(self, one: Teardown, thing: str, other: str | None) -> Corrections:
        """Whatever else was said of either is forgotten."""
        is_part = thing in one.part
        before = self.parts if is_part else self.joints
        after = {a: b for a, b in before.items() if a != thing and (b != other or b is None)}
        after[thing] = other
        return Corrections(parts=after if is_part else self.parts, joints=self.joints if is_part else after)


def matched(one: Teardown, other: Teardown, told: Corrections | None = None) -> Matched:
    """Each thing once; what is told apart by nothing is matched in the order of the records. What was `told` comes
    first, as far as its things are there."""
    told = told or Corrections()
    parts: dict[str, str] = {one.device.base: other.device.base}
    _take(parts, told.parts, one.part, other.part)
    alone = {a for a, b in told.parts.items() if b is None}
    ours = [part for part in one.parts if one.is_present(part) and part.id != one.device.base and part.id not in alone]
    theirs = [part for part in other.parts if other.is_present(part) and part.id != other.device.base]
    named: Callable[[Part], Hashable] = lambda part: (part.kind, part.name.lower()) if part.name else None  # noqa: E731
    for key in (named, lambda part: (part.kind, part.role) if part.role else None,
                lambda part: part.role or None, lambda part: part.kind or None):
        _pair(parts, ours, theirs, key)
    joints: dict[str, str] = {}
    _take(joints, told.joints, one.joint, other.joint)
    alone = {a for a, b in told.joints.items() if b is None}
    own = [joint for joint in one.joints if one.is_present(joint) and joint.id not in alone]
    others = [joint for joint in other.joints if other.is_present(joint)]
    back = {b: a for a, b in parts.items()}
    for with_name in (True, False):
        _pair(joints, own, others, lambda joint, n=with_name: _tie(joint, {p: p for p in joint.of}, n)
              if joint.id in one.joint and joint is one.joint[joint.id] else _tie(joint, back, n))
    return Matched(parts=parts, joints=joints)


def _take(found: dict[str, str], told: Mapping[str, str | None], ours: Mapping[str, object],
          theirs: Mapping[str, object]) -> None:
    for thing, like in told.items():
        if like is not None and thing in ours and like in theirs and thing not in found and like not in found.values():
            found[thing] = like


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
