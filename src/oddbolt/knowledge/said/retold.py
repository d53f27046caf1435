"""What ways prove that a person was shown and answered: `confirmed` and `pairs` of the record.

*Works*: each operation can be done where it stands, so what is later or absent does not hide it. *Blocked*: one of a
few things is in the way. *Needless*: the part comes off without them, so they hide nothing else that is needed for it.
What was said later counts.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.model.things import WAY_ANSWERS, ConfirmedWay, Teardown
from oddbolt.rules.structure import Structure

WORKS, BLOCKED, NEEDLESS, NOT_MINE = WAY_ANSWERS


class Retold:
    """By thing: hider -> whether it hides it; what alone may hide it; of what one hides it. And of each pair how many
    answers had been given when it was said."""

    def __init__(self, teardown: Teardown, structure: Structure) -> None:
        self.pairs: dict[str, dict[str, bool]] = {}
        self.allowed: dict[str, frozenset[str]] = {}
        self.one_of: dict[str, tuple[str, ...]] = {}
        self.said_after: dict[tuple[str, str], int] = {}  # thing, hider
        self._structure = structure
        self._struck: dict[str, set[str]] = {}  # part -> what it comes off without
        self._answers = 0
        for pair in teardown.pairs:
            self._say(pair.thing, pair.hider, pair.hides)
        for self._answers, way in enumerate(teardown.confirmed, start=1):
            if way.answer == WORKS:
                self._read_works(way)
            elif way.answer == BLOCKED and way.at is not None:
                self._read_blocked(way.at, way.by_things)
                self._keep_struck(way)
            elif way.answer == NEEDLESS:
                self._read_needless(way)
                self._struck.setdefault(way.part, set()).update(way.things)

    def hidden_by(self, hider: str) -> list[str]:
        """What it was said to hide."""
        return [thing for thing, hiders in self.pairs.items() if hiders.get(hider)]

    def _say(self, thing: str, hider: str, hides: bool) -> None:
        self.pairs.setdefault(thing, {})[hider] = hides
        self.said_after[thing, hider] = self._answers
        if hides and thing in self.allowed:
            self.allowed[thing] |= {hider}

    def _read_works(self, way: ConfirmedWay) -> None:
        before: list[str] = []
        for thing in way.operations:
            alone = frozenset(before)
            if not alone.isdisjoint(self._carriers(thing)):
                alone |= {self._structure.base}  # it was taken off the base with what carries it
            self.allowed[thing] = self.allowed[thing] & alone if thing in self.allowed else alone
            for hider, hides in self.pairs.get(thing, {}).items():
                if hides and hider not in alone:
                    self.pairs[thing][hider] = False
            if not alone.issuperset(self.one_of.get(thing, ())):
                self.one_of.pop(thing)
            before.append(thing)

    def _carriers(self, thing: str) -> frozenset[str]:
        """What every part that it is made of, or ties, is lifted with; itself not."""
        release = self._structure.releases.get(thing)
        of = release.of if release else frozenset((self._structure.stand_in.get(thing, thing),))
        around = [self._structure.above.get(part, frozenset()) for part in of if part != self._structure.base]
        return (frozenset.intersection(*around) if around else frozenset()) - {thing}

    def _read_blocked(self, at: str, by_things: tuple[str, ...]) -> None:
        carriers = self._carriers(at)  # to take its carrier off is to take it off the base
        by_things = tuple(dict.fromkeys(self._structure.base if x in carriers else x for x in by_things))
        if len(by_things) == 1:
            self._say(at, by_things[0], True)
        elif by_things:
            self.one_of[at] = by_things
            for hider in by_things:
                self.pairs.get(at, {}).pop(hider, None)
            if at in self.allowed:
                self.allowed[at] |= frozenset(by_things)

    def _keep_struck(self, way: ConfirmedWay) -> None:
        """What was named afterwards as being in the way is needed as well: what the part comes off without does not
        hide that either."""
        struck = self._struck.get(way.part, set())
        struck.difference_update(way.by_things)
        if len(way.by_things) != 1 or way.at in struck:
            return
        needed = way.by_things[0]
        for hider in sorted(struck):
            if not self.pairs.get(needed, {}).get(hider):
                self._say(needed, hider, False)
            if needed in self.allowed:
                self.allowed[needed] -= {hider}

    def _read_needless(self, way: ConfirmedWay) -> None:
        """Of all that is needed for the part otherwise, nothing lies behind what is needless, or behind what is not on
        the way at all; nor faced the base, where what it lies on is needless."""
        struck, operations = frozenset(way.things), frozenset(way.operations)
        isolators = (id_ for ids in self._structure.sources.values() for id_ in ids if id_ in operations)
        for thing in needed_for(self._structure, (way.part, *isolators), struck) & operations:
            for hider in struck:
                if self.pairs.get(thing, {}).get(hider):  # it was in the way: then what it was fixed with was, undone
                    held = (*self._structure.joints_of.get(hider, ()),
                            *(x for x, hides in self.pairs.get(hider, {}).items() if hides))
                    for joint in held:
                        if joint in self._structure.releases and joint in operations and joint not in struck:
                            self._say(thing, joint, True)
                self._say(thing, hider, False)
            carriers, alone = self._carriers(thing), operations - struck
            if not struck.isdisjoint(carriers):
                self._say(thing, self._structure.base, False)
            elif not alone.isdisjoint(carriers):
                alone |= {self._structure.base}
            self.allowed[thing] = self.allowed[thing] & alone if thing in self.allowed else alone


def needed_for(structure: Structure, things: Iterable[str], struck: frozenset[str] = frozenset()) -> frozenset[str]:
    """These things, and what has to be done before them and before that, by what it lies behind and what ties it;
    without what was struck out."""
    found: set[str] = set()
    left = list(things)
    while left:
        thing = left.pop()
        if thing in found or thing in struck:
            continue
        found.add(thing)
        release, removal = structure.releases.get(thing), structure.removals.get(thing)
        operation = release or removal
        if operation is not None:
            left.extend(entry.id for names in operation.behind for entry in names)
            left.extend(removal.ties if removal else ())
    return frozenset(found)


def looked_at(teardown: Teardown) -> tuple[ConfirmedWay, ...]:
    """What was said of ways; the same said twice in a row by one person is one look."""
    return tuple(way for n, way in enumerate(teardown.confirmed) if n == 0 or way.answer != WORKS or replace(
        teardown.confirmed[n - 1], id=way.id, at_entry=way.at_entry) != way)


class Sight(Struct, frozen=True):
    """A look at which a thing was said to work: what had been cleared by then, and who looked."""

    cleared: frozenset[str]
    by: str


def proven_after(teardown: Teardown) -> dict[str, list[Sight]]:
    """For each thing what had been cleared where a person said that it can be done: with that, or more, it can. What
    was said later against it voids that."""
    found: dict[str, list[Sight]] = {}
    for way in looked_at(teardown):
        if way.answer == WORKS:
            for n, thing in enumerate(way.operations):
                found.setdefault(thing, []).append(Sight(frozenset(way.operations[:n]), way.by))
        elif way.answer == BLOCKED and way.at in found:
            found[way.at] = [sight for sight in found[way.at] if not sight.cleared.isdisjoint(way.by_things)]
    for pair in teardown.pairs:
        if pair.hides and pair.thing in found:
            found[pair.thing] = [sight for sight in found[pair.thing] if pair.hider in sight.cleared]
    return found


def worth(by: Sequence[str]) -> int:
    """What looks by these people are worth: whoever overlooked something once overlooks it again more often than
    somebody else, so a second person's first look counts for two."""
    return len(by) + (len(set(by)) > 1)
