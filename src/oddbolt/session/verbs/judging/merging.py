"""A record that takes some facts over from another record of the same model, fact by fact."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

from msgspec.structs import replace

from oddbolt.comparing.facts import JOINT_KEYS, PART_KEYS, THERE, Key
from oddbolt.comparing.matching import Matched
from oddbolt.comparing.profile import type_of
from oddbolt.model import exchange
from oddbolt.model.things import Teardown, Way
from oddbolt.session.verbs.correcting.delete import delete_things


def merged(one: Teardown, other: Teardown, both: Matched, taken: Collection[Key]) -> Teardown:
    """The first record with the facts of `taken` as the other tells them; its log and photographs stay. Things that it
    had not come in with what the other tells of them; things that the other has not go.

    Raises Refusal where the facts together make no record.
    """
    made = _Merging(one, other, both).take(set(taken))
    gone = [here for here, there, fact in taken if fact == THERE and not there]
    if gone:
        made = _as_it_was(delete_things(made, gone).teardown, made)
    return exchange.loads(exchange.dumps(made))


def _as_it_was(after: Teardown, before: Teardown) -> Teardown:
    """What is assumed is not guessed anew because something else went: only facts that were chosen change."""
    there = {*after.part, *after.joint}

    def behind(thing: Any) -> Any:
        was = before.thing(thing.id).behind
        return replace(thing, behind=tuple(tuple(name for name in row if name in there) for row in was))

    return replace(after, parts=tuple(map(behind, after.parts)), joints=tuple(map(behind, after.joints)))


class _Merging:
    """Takes facts over, each name said by the ids of the first record."""

    def __init__(self, one: Teardown, other: Teardown, both: Matched) -> None:
        self._one, self._other = one, other
        self._names = dict(both.back.things)
        self._letters: dict[str, str] = {}

    def take(self, taken: set[Key]) -> Teardown:
        one, other = self._one, self._other
        used = {*one.part, *one.joint}
        new = [other_id for here, other_id, fact in taken if fact == THERE and not here]
        for other_id in new:
            self._names[other_id] = _free(used, other_id)
            used.add(self._names[other_id])
        facts: dict[str, list[tuple[str, str]]] = {}
        for here, other_id, fact in taken:
            if fact != THERE:
                facts.setdefault(here, []).append((other_id, fact))
        parts = [self._with(part, facts.get(part.id, []), other.part) for part in one.parts]
        joints = [self._with(joint, facts.get(joint.id, []), other.joint) for joint in one.joints]
        parts += [self._new(other.part[name], PART_KEYS) for name in new if name in other.part]
        joints += [self._new(other.joint[name], JOINT_KEYS) for name in new if name in other.joint]
        return replace(one, parts=tuple(parts), joints=tuple(joints),
                       fasteners=(*one.fasteners, *(replace(other.fastener[letter], id=own)
                                                    for letter, own in self._letters.items()
                                                    if own not in one.fastener)))

    def _with(self, thing: Any, facts: Collection[tuple[str, str]], others: dict[str, Any]) -> Any:
        for other_id, fact in facts:
            value = self._value(others[other_id], fact)
            said = dict.fromkeys((*thing.said, "acts" if fact == "lift" else fact))
            thing = replace(_having(thing, fact, value), basis="told", said=tuple(said))
        return thing

    def _new(self, thing: Any, keys: Collection[str]) -> Any:
        found = replace(thing, id=self._names[thing.id], only_in=())
        for key in keys:
            found = _having(found, key, self._value(thing, key))
        return found

    def _value(self, thing: Any, key: str) -> Any:
        value = getattr(thing, key)
        if key == "of":
            return tuple(self._names[name] for name in value if name in self._names)
        if key == "behind":
            return tuple(tuple(self._names[name] for name in row if name in self._names) for row in value)
        if key == "on":
            return self._names.get(value or self._other.device.base)
        if key == "lift":
            return tuple(replace(act, limits=()) for act in value)
        if key == "ways":
            return tuple(self._way(way) for way in value)
        if key == "fastener":
            return None if value is None else self._letter(value)
        return value

    def _way(self, way: Way) -> Way:
        resupplied = way.resupplied if isinstance(way.resupplied, bool) else tuple(
            self._names[name] for name in way.resupplied if name in self._names)
        return replace(way, resupplied=resupplied, behind=tuple(
            tuple(self._names[name] for name in row if name in self._names) for row in way.behind),
            acts=tuple(replace(act, limits=()) for act in way.acts))

    def _letter(self, letter: str) -> str:
        """The first record's letter for the same fastener; another where it has none of that type."""
        if letter not in self._letters:
            theirs = self._other.fastener[letter]
            same = next((own.id for own in self._one.fasteners if type_of(own) == type_of(theirs)), None)
            used = {*self._one.fastener, *self._letters.values()}
            self._letters[letter] = same or next(
                (one for one in (letter, *"ABCDEFGHIJKLMNOPQRSTUVWXYZ") if one not in used), f"{letter}2")
        return self._letters[letter]


def _having(thing: Any, key: str, value: Any) -> Any:
    return thing.lifted_by(value) if key == "lift" else replace(thing, **{key: value})


def _free(used: Collection[str], id_: str) -> str:
    """The other record's own id where nothing here has it."""
    number, found = 2, id_
    while found in used:
        found, number = f"{id_}-{number}", number + 1
    return found
