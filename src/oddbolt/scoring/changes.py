"""What would change a verdict: the smallest sets of facts that move the class up or down, and the changes of the design
that do.

A fact that is missing, a row that is not confirmed, a reading of the text, a world of what is assumed: each may turn
out otherwise. Sets of one, two and three are tried; told are those no smaller part of which is enough, each matter only
as far from where it stands as it takes.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Iterator, Sequence

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.model.things import Teardown
from oddbolt.scoring.choosing import ACCESS, SILENT, Source
from oddbolt.scoring.evaluate import evaluate_planned, sources_of
from oddbolt.scoring.measures.looking import Look
from oddbolt.scoring.method import INDEX, Points
from oddbolt.scoring.planned import Changed, Times
from oddbolt.scoring.standing import AS_RECORDED, Judging, Sampler
from oddbolt.search.planner import Planner
from oddbolt.studies.whatif import BEST_FEW, Redesign, changes, planner_after

UP, DOWN = "up", "down"
LARGEST_SET = 3
MOST_TRIED = 20_000  # combinations; counted, so that results repeat
TOLD = 8  # sets told of each direction


class Turn(Struct, frozen=True, kw_only=True):
    """One matter that turns out otherwise than it stands: at which of its levels, counted from the worst."""

    source: Source
    place: int
    levels: int


class Enough(Struct, frozen=True, kw_only=True):
    """A smallest set of turns that moves the class, and where to."""

    direction: str
    turns: tuple[Turn, ...]
    index: float
    to: str


def smallest_sets(judging: Judging) -> Iterator[list[Enough]]:
    """Up from the least that the index can be as it stands, down from the most; a `yield` is progress, the last one the
    answer."""
    if judging.method.kind != INDEX or not judging.method.classes:
        yield []
        return
    sources = _sources(judging)
    sampler = Sampler(judging, list(sources))
    found: list[Enough] = []
    for direction in (UP, DOWN):
        base = [_stands(sources[source], direction) for source in sources]
        here = judging.method.class_of(sampler.index(base))
        sets: list[Enough] = []
        for size in range(1, LARGEST_SET + 1):
            for tried in _of_size(sampler, list(sources), base, direction, size):
                matters = {turn.source for turn in tried.turns}
                if _is_beyond(judging, tried.to, here, direction) and not any(
                        {turn.source for turn in one.turns} < matters for one in sets):
                    sets.append(_as_little(judging, sampler, list(sources), base, here, tried))
                yield found
        sets.sort(key=lambda one: (len(one.turns), sum(turn.levels > 1 for turn in one.turns)))
        found = [*found, *sets[:TOLD]]
    yield found


def _as_little(judging: Judging, sampler: Sampler, sources: Sequence[Source], base: Sequence[int], here: str,
               enough: Enough) -> Enough:
    """The same set with each matter as near to where it stands as moves the class still."""
    turns = list(enough.turns)
    for n, turn in enumerate(turns):
        stands = base[sources.index(turn.source)] % turn.levels
        step = 1 if turn.place > stands else -1
        for place in range(stands + step, turn.place, step):
            choice = [at % levels for at, levels in zip(base, sampler.sizes)]
            for one in (*turns[:n], replace(turn, place=place), *turns[n + 1:]):
                choice[sources.index(one.source)] = one.place
            index = sampler.index(choice)
            to = sampler.class_of(index)
            if _is_beyond(judging, to, here, enough.direction):
                turns[n], enough = replace(turn, place=place), replace(enough, index=index, to=to)
                break
    return replace(enough, turns=tuple(turns))


def _sources(judging: Judging) -> dict[Source, int | None]:
    """Each matter with the place at which it stands; None where it is open."""
    here = judging.judged(judging.as_it_stands)
    found: dict[Source, int | None] = {}
    if len(judging.records) > 1:
        found[AS_RECORDED] = 0
    found |= {Source(kind=SILENT, name=id_): 0 for id_, values in judging.silent.items() if len(values) > 1}
    found |= {source: given for source, (_, given) in sources_of(here.look, here.readings).items()}
    return found


def _stands(given: int | None, direction: str) -> int:
    return given if given is not None else 0 if direction == UP else -1


def _is_beyond(judging: Judging, to: str, here: str, direction: str) -> bool:
    names = [name for name, _ in judging.method.classes]
    return names.index(to) < names.index(here) if direction == UP else names.index(to) > names.index(here)


def _of_size(sampler: Sampler, sources: Sequence[Source], base: Sequence[int], direction: str,
             size: int) -> Iterator[Enough]:
    base = [place % levels for place, levels in zip(base, sampler.sizes)]
    budget = MOST_TRIED
    for chosen in itertools.combinations(range(len(sources)), size):
        for places in itertools.product(*(_others(sources[n], base[n], sampler.sizes[n], direction) for n in chosen)):
            budget -= 1
            if budget < 0:
                return
            choice = list(base)
            for n, place in zip(chosen, places):
                choice[n] = place
            index = sampler.index(choice)
            yield Enough(direction=direction, index=index, to=sampler.class_of(index), turns=tuple(
                Turn(source=sources[n], place=choice[n], levels=sampler.sizes[n]) for n in chosen))


def _others(source: Source, stands: int, levels: int, direction: str) -> Iterable[int]:
    """Other ways that a matter may be; of one whose levels have an order the furthest is enough to try."""
    if source.kind in (ACCESS, SILENT):
        return [place for place in range(levels) if place != stands]
    end = levels - 1 if direction == UP else 0
    return [end] if end != stands else []


# -- changes of the design

class DesignChange(Struct, frozen=True, kw_only=True):
    """A change of the design with the verdict after it: the index before and after over what is missing, and
    classes."""

    kind: str
    thing: str
    index: tuple[Points, Points]
    classes: tuple[tuple[str, ...], tuple[str, ...]]
    second: tuple[str, str] | None = None  # kind and thing of a change made together with it

    @property
    def gain(self) -> float:
        return self.index[1][0] - self.index[0][0]

    @property
    def moves_class(self) -> bool:
        return self.classes[0] != self.classes[1]


def design_changes(look: Look, times: Times) -> Iterator[list[DesignChange]]:
    """All single changes that move the index, the largest gain first, and pairs of the best few where no single one
    moves the class; a `yield` is progress, the last one the answer."""
    planner = look.planned.planner
    before = evaluate_planned(look)
    parts = list(before.plans)
    near = {part: planner.helpful_things(part) for part in parts if before.plans[part].feasible}

    def make(record: Teardown) -> Planner:
        return Planner(record, times(record), look.planned.settings)

    def touched_by(*things: str) -> list[str]:
        return [part for part in parts if part not in near or not all(things) or near[part].intersection(things)]

    def after(changed: Planner, touched: Sequence[str]) -> tuple[Points, tuple[str, ...]]:
        planned = Changed(look.planned, changed, touched)
        verdict = evaluate_planned(Look(teardown=changed.teardown, method=look.method, planned=planned))
        return verdict.index, verdict.classes

    found: list[DesignChange] = []
    made: dict[tuple[str, str], Redesign] = {}
    for change in changes(planner):
        touched = touched_by(change.thing)
        index, classes = after(planner_after(make, planner, change, [p for p in touched if p in near], near), touched) \
            if touched else (before.index, before.classes)
        if abs(index[0] - before.index[0]) > 1e-9 or abs(index[1] - before.index[1]) > 1e-9:
            found.append(DesignChange(kind=change.kind, thing=change.thing, index=(before.index, index),
                                      classes=(before.classes, classes)))
            made[change.kind, change.thing] = change
        yield []
    found.sort(key=_rank)
    pairs: list[DesignChange] = []
    if not any(one.moves_class and one.gain > 0 for one in found):
        best = [one for one in found if one.thing and one.gain > 0][:BEST_FEW]
        for one, other in itertools.combinations(best, 2):
            if one.thing == other.thing:
                continue
            both = next((change for change in changes(make(made[one.kind, one.thing].record))
                         if (change.kind, change.thing) == (other.kind, other.thing)), None)
            if both is not None:
                index, classes = after(make(both.record), touched_by(one.thing, other.thing))
                pairs.append(DesignChange(kind=one.kind, thing=one.thing, second=(other.kind, other.thing),
                                          index=(before.index, index), classes=(before.classes, classes)))
            yield []
    yield [*found, *sorted((one for one in pairs if one.moves_class), key=_rank)]


def _rank(change: DesignChange) -> tuple[bool, float, str, str]:
    return not change.moves_class, -change.gain, change.kind, change.thing
