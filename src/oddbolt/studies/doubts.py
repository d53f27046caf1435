"""What a way leaves open, and a person can settle with one answer: things that are assumed to be behind others."""

from __future__ import annotations

from collections.abc import Generator, Iterator, Sequence

from msgspec import Struct

from oddbolt.knowledge.evidence import AllEvidence
from oddbolt.knowledge.settling import with_behind
from oddbolt.model.things import ASSUMED, Teardown
from oddbolt.rules.structure import structure_of
from oddbolt.search.planner import Make, Plan, Planner


class Shortener(Struct, frozen=True, kw_only=True):
    """If none of these things had been behind the hider, the way would be shorter; with one of them less it would not
    be so much shorter."""

    hider: str
    things: tuple[str, ...]
    saves: int  # steps


def shorteners(make: Make, planner: Planner, plan: Plan, things: Sequence[str]) -> Iterator[list[Shortener]]:
    """What might make the way with these things shorter, if it were not as assumed; a `yield` is progress, the last
    one the answer."""
    teardown, found = planner.teardown, []
    for hider, hidden in assumed_behind(teardown, things).items():
        other = make(without(teardown, hider, hidden)).plan(plan.targets, plan.objective)
        if other.feasible and other.value < plan.value:
            few = yield from _that_matter(make, planner, plan, hider, hidden, other.value)
            found.append(Shortener(hider=hider, things=tuple(few), saves=plan.value - other.value))
        yield []
    yield sorted(found, key=lambda one: -one.saves)


def _that_matter(make: Make, planner: Planner, plan: Plan, hider: str, hidden: Sequence[str],
                 value: int) -> Generator[list[Shortener], None, list[str]]:
    """Those of the things without which behind the hider the way has this value already: of the others nothing need be
    asked, as something else keeps them. Halves are left out first, then quarters, then each by itself."""
    kept, size = list(hidden), len(hidden) // 2
    while size:
        start = 0
        while start < len(kept):
            fewer = kept[:start] + kept[start + size:]
            other = make(without(planner.teardown, hider, fewer)).plan(plan.targets, plan.objective) if fewer else plan
            if other.feasible and other.value <= value:
                kept = fewer
            else:
                start += size
            yield []
        size //= 2
    return kept


def assumed_behind(teardown: Teardown, things: Sequence[str]) -> dict[str, list[str]]:
    """Hider on the way -> things on it that are assumed to be behind it."""
    evidence, found = AllEvidence(teardown, structure_of(teardown)), dict[str, list[str]]()
    for thing in things:
        record = teardown.thing(thing)
        if record.basis == ASSUMED and record.behind:
            certain = evidence.of(thing).hides
            for hider in dict.fromkeys(x for names in record.behind for x in names):
                if hider not in certain and hider in things:
                    found.setdefault(hider, []).append(thing)
    return found


def without(teardown: Teardown, hider: str, hidden: Sequence[str]) -> Teardown:
    """The record if none of these things were behind the hider."""
    return with_behind(teardown, {thing: tuple(tuple(x for x in names if x != hider)
                                               for names in teardown.thing(thing).behind) for thing in hidden})
