"""How far a verdict holds: over every assumption on the ways in, every row that is not high, every point on which the
text is silent, and every answer that is missing. Firm is only what holds over all of it.

A row that is not high is a range; a text that is silent is read in each way that it allows; access that is assumed is
settled in every world of it, or, where there are too many, in those that hide least and most and a seeded sample: then
the verdict is never called firm.
"""

from __future__ import annotations

import itertools
import random
from collections.abc import Iterator, Mapping, Sequence

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.knowledge.questions import Assumptions, World, draw, every_world
from oddbolt.model.things import Teardown
from oddbolt.scoring.choosing import ACCESS, SILENT, AllOver, Chooser, Picked, Source
from oddbolt.scoring.evaluate import (
    Standing,
    Verdict,
    evaluate_planned,
    index_of,
    readings_of,
    role_score,
    roles_of,
    sources_of,
    weighted_index,
)
from oddbolt.scoring.measures import of_all
from oddbolt.scoring.measures.looking import Look
from oddbolt.scoring.method import INDEX, Method, Points
from oddbolt.scoring.planned import AllPlanned, Planned
from oddbolt.scoring.unknowns import Move, combinations, first_order, information_bits
from oddbolt.studies.firmness import settled

DRAWN = 24  # worlds drawn where there are too many
AS_RECORDED = Source(kind=ACCESS)


class Setting(Struct, frozen=True, kw_only=True):
    """One way of settling what is outside the points: the world, and what is said of the text."""

    world: int
    said: tuple[tuple[str, object], ...]


def worlds_of(teardown: Teardown, planned: Planned, parts: Sequence[str]) -> tuple[list[Teardown], bool]:
    """The record in every world of what is assumed of access and can matter for these parts, itself first; and whether
    these are all."""
    assumptions = Assumptions(teardown)
    if not assumptions.of:
        return [teardown], True
    every = dict.fromkeys(assumptions.pairs, True)
    hardest = settled(assumptions, teardown, every)
    matter = _can_matter(planned, hardest, parts)
    left = [thing for thing in assumptions.of if thing in matter]
    if not left:
        return [teardown], True
    found = every_world(assumptions, left)
    if found is not None:
        return [teardown, *(settled(assumptions, teardown, world) for world, _ in found)], True
    rng = random.Random(1)
    drawn: list[World] = [{}, every, *(draw(assumptions, assumptions.of, rng) for _ in range(DRAWN))]
    return [teardown, *(settled(assumptions, teardown, world) for world in drawn)], False


def _can_matter(planned: Planned, hardest: Teardown, parts: Sequence[str]) -> set[str]:
    """Things that can help on a way to one of the parts when all that may hide anything does."""
    from oddbolt.search.planner import Planner

    planner = Planner(hardest, planned.planner.times, planned.settings)
    found: set[str] = set()
    for part in parts:
        if part in planner.structure.stand_in:
            found |= planner.helpful_things(part) | planned.planner.helpful_things(part)
    return found


class Judged(Struct, frozen=True, kw_only=True):
    """What the ways are in one setting, ready to give points."""

    look: Look
    readings: Mapping[str, object]


class Judging:
    """A verdict in the making: settings, and the points in each."""

    def __init__(self, teardown: Teardown, method: Method, plans: AllPlanned) -> None:
        self.teardown, self.method, self.plans = teardown, method, plans
        self.base = Look(teardown=teardown, method=method,
                         planned=plans.of(teardown, method.settings(teardown.settings)))
        self._judged: dict[Setting, Judged] = {}
        self.parts = [part for role in roles_of(method) for part in self.base.planned.parts_with(role)]
        self.records, self.exact = worlds_of(teardown, self.base.planned, self.parts)
        self.silent = {silent.id: self._values(silent.id) for silent in method.silent}

    def _values(self, id_: str) -> tuple[object, ...]:
        """Readings of what the text is silent on, the one in use first; of the convention the document's is in use."""
        silent = next(one for one in self.method.silent if one.id == id_)
        used = getattr(self.base.planned.settings, silent.sets) if silent.sets else silent.values[0]
        return (used, *(value for value in silent.values if value != used))

    def settings(self) -> list[Setting]:
        """Every world with every reading."""
        said = [tuple(zip(self.silent, values)) for values in itertools.product(*self.silent.values())]
        return [Setting(world=world, said=one) for world in range(len(self.records)) for one in said]

    @property
    def as_it_stands(self) -> Setting:
        return Setting(world=0, said=tuple((id_, values[0]) for id_, values in self.silent.items()))

    def judged(self, setting: Setting) -> Judged:
        if setting not in self._judged:
            said = dict(setting.said)
            sets = {one.id: one.sets for one in self.method.silent}
            convention = {sets[id_]: value for id_, value in said.items() if sets[id_]}
            record = self.records[setting.world]
            planned = self.plans.of(record, self.method.settings(self.teardown.settings, **convention))
            self._judged[setting] = Judged(look=Look(teardown=record, method=self.method, planned=planned),
                                           readings=readings_of(self.method, **said))
        return self._judged[setting]

    def range_in(self, setting: Setting, *, all_over: bool) -> Points:
        """The index in a setting: over what is missing alone, or over all rows too."""
        judged = self.judged(setting)
        kind = AllOver if all_over else Chooser
        return (index_of(judged.look, kind(judged.readings, best=False)),
                index_of(judged.look, kind(judged.readings, best=True)))


def judge(teardown: Teardown, method: Method, plans: AllPlanned, *, bits: bool = True,
          moves_too: bool = True) -> Iterator[Verdict]:
    """A verdict, first by what is missing alone, last with how far it holds, and (`moves_too`) what could move it, with
    its `bits` or by its spread alone; a `yield` between is progress."""
    judging = Judging(teardown, method, plans)
    verdict = evaluate_planned(judging.base)
    yield verdict
    if method.kind != INDEX:
        return
    ranges: list[Points] = []
    for setting in judging.settings():
        ranges.append(judging.range_in(setting, all_over=True))
        yield verdict
    low, high = min(one[0] for one in ranges), max(one[1] for one in ranges)
    moves: list[Move] = []
    for move in _moves(judging) if moves_too else ():
        moves.append(move)
        yield verdict
    if bits:
        moves = _with_bits(judging, moves)
    moves = [move for move in moves if move.spread > 1e-9 or move.bits > 1e-4 or move.share > 1e-4]
    moves.sort(key=lambda one: (-one.bits, -one.spread, one.source.kind, one.source.criterion))
    yield replace(verdict, standing=Standing(index=(low, high), classes=method.classes_of(low, high),
                                             worlds=len(judging.records), exact=judging.exact, moves=tuple(moves)))


def judged_fully(teardown: Teardown, method: Method, plans: AllPlanned) -> Verdict:
    """The same at once."""
    *_, verdict = judge(teardown, method, plans)
    return verdict


def _moves(judging: Judging) -> Iterator[Move]:
    """Each matter by itself, all else as it stands. One that moves nothing by itself may do so with another."""
    now = judging.as_it_stands
    base = judging.range_in(now, all_over=False)

    def move(source: Source, ranges: Sequence[Points], *, is_given: bool) -> Move:
        low, high = min(one[0] for one in ranges), max(one[1] for one in ranges)
        spread = (high - low) - (base[1] - base[0]) if is_given else max(b[0] for b in ranges) - min(
            b[0] for b in ranges)
        return Move(source=source, index=(low, high), classes=judging.method.classes_of(low, high), spread=spread,
                    is_given=is_given)

    if len(judging.records) > 1:
        ranges = [judging.range_in(replace(now, world=n), all_over=False) for n in range(len(judging.records))]
        yield move(AS_RECORDED, ranges, is_given=True)
    for id_, values in judging.silent.items():
        ranges = [judging.range_in(replace(now, said=tuple((name, value if name == id_ else used)
                                                           for name, used in now.said)), all_over=False)
                  for value in values]
        yield move(Source(kind=SILENT, name=id_), ranges, is_given=True)
    here = judging.judged(now)
    for source, (levels, given) in sources_of(here.look, here.readings).items():
        ranges = [(index_of(here.look, Picked(here.readings, {source: n}, best=False)),
                   index_of(here.look, Picked(here.readings, {source: n}, best=True))) for n in range(levels)]
        yield move(source, ranges, is_given=given is not None)


def _with_bits(judging: Judging, moves: Sequence[Move]) -> list[Move]:
    """What knowing each matter tells of the class: over all combinations, or a sample."""
    if not moves:
        return []
    sampler = Sampler(judging, [move.source for move in moves])
    choices, _ = combinations(sampler.sizes)
    values = [sampler.index(choice) for choice in choices]
    labels = [judging.method.class_of(value) for value in values]
    return [replace(move, bits=information_bits(labels, [choice[n] for choice in choices]),
                    share=first_order(values, [choice[n] for choice in choices])) for n, move in enumerate(moves)]


class Sampler:
    """The index for any combination of matters. Points of a criterion for a role rest on few of them, and are kept."""

    def __init__(self, judging: Judging, sources: Sequence[Source]) -> None:
        self._judging = judging
        self._sources = list(sources)
        here = judging.judged(judging.as_it_stands)
        asked = sources_of(here.look, here.readings)
        self.sizes = [len(judging.records) if source == AS_RECORDED
                      else len(judging.silent[source.name]) if source.kind == SILENT else asked[source][0]
                      for source in self._sources]
        self._of: dict[tuple[Setting, str, str], list[int]] = {}
        self._kept: dict[tuple[Setting, str, str, tuple[int, ...]], float] = {}

    def index(self, choice: Sequence[int]) -> float:
        judging, said, world = self._judging, dict(self._judging.as_it_stands.said), 0
        for source, place in zip(self._sources, choice):
            if source == AS_RECORDED:
                world = place
            elif source.kind == SILENT:
                said[source.name] = judging.silent[source.name][place]
        setting = Setting(world=world, said=tuple(said.items()))
        method = judging.method
        points = {}
        for criterion in method.criteria:
            if criterion.is_of_parts:
                weights = criterion.parts or method.part_weights
                points[criterion.id] = sum(weight * self._points(setting, criterion.id, role, choice)
                                           for role, weight in weights.items())
            else:
                points[criterion.id] = self._points(setting, criterion.id, "", choice)
        return weighted_index(method, points)

    def class_of(self, index: float) -> str:
        return self._judging.method.class_of(index)

    def _points(self, setting: Setting, criterion_id: str, role: str, choice: Sequence[int]) -> float:
        key = (setting, criterion_id, role)
        if key not in self._of:
            self._of[key] = self._asked(setting, criterion_id, role)
        places = tuple(choice[n] for n in self._of[key])
        kept = (*key, places)
        if kept not in self._kept:
            picks = {self._sources[n]: place for n, place in zip(self._of[key], places)}
            judged = self._judging.judged(setting)
            self._kept[kept] = self._scored(judged, criterion_id, role, Picked(judged.readings, picks, best=False))
        return self._kept[kept]

    def _asked(self, setting: Setting, criterion_id: str, role: str) -> list[int]:
        """Matters that the points of a criterion for a role rest on, in any combination of them."""
        judged = self._judging.judged(setting)
        asked = _Asked(judged.readings, best=False)
        self._scored(judged, criterion_id, role, asked)
        asked.turn()
        self._scored(judged, criterion_id, role, asked)
        return [n for n, source in enumerate(self._sources) if source in asked.sources]

    def _scored(self, judged: Judged, criterion_id: str, role: str, choose: Chooser) -> float:
        criterion = next(one for one in judged.look.method.criteria if one.id == criterion_id)
        if role:
            return role_score(judged.look, criterion, role, choose)[1].value
        return of_all.MEASURES[criterion.measure](judged.look, criterion, choose).value


class _Asked(AllOver):
    """Notes what is asked, at one end of everything and then at the other."""

    def __init__(self, readings: Mapping[str, object], *, best: bool) -> None:
        super().__init__(readings, best=best)
        self.sources: set[Source] = set()

    def turn(self) -> None:
        self._best = not self._best

    def __call__(self, source: Source, levels: Sequence[object], given: object = None) -> object:
        self.sources.add(source)
        return super().__call__(source, levels, given)

