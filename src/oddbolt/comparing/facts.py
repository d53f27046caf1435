"""Two records of one model: the facts in which they differ, thing by thing."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator
from typing import Any

from msgspec import Struct

from oddbolt.comparing.matching import Matched
from oddbolt.comparing.profile import type_of
from oddbolt.model.things import Act, Joint, Part, Teardown

# Facts of parts and joints that two people may record otherwise; names and places on photographs are no facts.
PART_KEYS = ("kind", "role", "on", "count", "behind", "hazards", "captive", "isolates", "mass_g", "side",
             "lift")
JOINT_KEYS = ("kind", "type", "of", "fastener", "count", "behind", "ways", "isolates", "side")
THERE = "there"  # only one of the two has the thing
Key = tuple[str, str, str]  # thing in the one, thing in the other, fact; an empty thing: it has none


class Difference(Struct, frozen=True, kw_only=True):
    """A fact that the one tells otherwise than the other. Values name things by the ids of the first record; what has
    no like there stands as it is."""

    one: str  # empty: the first record has no such thing
    other: str
    fact: str
    here: Any
    there: Any

    @property
    def key(self) -> Key:
        return self.one, self.other, self.fact


def differences(one: Teardown, other: Teardown, both: Matched) -> list[Difference]:
    """In the order of the first record, then what only the other has."""
    found: list[Difference] = []
    back = both.back.things
    for part in one.parts:
        found += _of_thing(one, other, part, PART_KEYS, both.parts, back)
    for joint in one.joints:
        found += _of_thing(one, other, joint, JOINT_KEYS, both.joints, back)
    for thing in (*other.parts, *other.joints):
        if thing.id not in back and other.is_present(thing):
            found.append(Difference(one="", other=thing.id, fact=THERE, here=False, there=True))
    return found


def _of_thing(one: Teardown, other: Teardown, thing: Part | Joint, keys: Collection[str], likes: dict[str, str],
              back: dict[str, str]) -> Iterator[Difference]:
    if not one.is_present(thing):
        return
    like_id = likes.get(thing.id)
    like = None if like_id is None else other.part.get(like_id) or other.joint.get(like_id)
    if like is None:
        yield Difference(one=thing.id, other="", fact=THERE, here=True, there=False)
        return
    for key in keys:
        here, there = _said(one, thing, key, {}), _said(other, like, key, back)
        if here != there:
            yield Difference(one=thing.id, other=like.id, fact=key, here=here, there=there)


def _said(record: Teardown, thing: Part | Joint, key: str, names: dict[str, str]) -> Any:
    """A fact so that two records can be compared in it: things by the ids of the first, orders that say nothing
    sorted."""
    value = getattr(thing, key)
    if key in ("of", "hazards", "role"):
        return tuple(sorted(names.get(name, name) for name in value))
    if key == "on":
        carrier = value if value is not None else record.device.base
        return names.get(carrier, carrier)
    if key == "behind":
        return tuple(sorted(tuple(sorted(names.get(name, name) for name in row)) for row in value if row))
    if key == "fastener":
        return type_of(record.fastener.get(value or ""))
    if key == "lift":
        return with_what(value)
    if key == "ways":
        return tuple((way.reuse, with_what(way.acts)) for way in value)
    return value


def with_what(acts: Iterable[Act]) -> tuple[tuple[str, str], ...]:
    """Of the acts of a way or of a lift what makes two alike: tool and verb."""
    return tuple((act.tool, act.does) for act in acts)
