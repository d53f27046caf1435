"""How firm a depth is: the range of steps and time over what is still assumed, and the assumptions that matter for it.

Each world settles every open pair (x hides thing) by its odds; where there are few worlds all of them are planned, else
a seeded sample. A range over a sample is no proof: it says what was met.
"""

from __future__ import annotations

import random
from collections.abc import Iterator, Sequence
from statistics import mean

from msgspec import Struct

from oddbolt.knowledge.questions import Assumptions, World, draw, every_world
from oddbolt.knowledge.settling import with_behind
from oddbolt.model.things import Teardown
from oddbolt.search.planner import Make
from oddbolt.studies.retelling import GUESSED, known_without_plans

SAMPLE = 24  # worlds that are drawn where there are too many to plan all
MOST = 3  # assumptions named


class Firmness(Struct, frozen=True, kw_only=True):
    """Least and most over the worlds planned. `matters`: things whose assumed access moves the steps, most first, with
    how far the mean moves; `stuck` is in how many worlds the part cannot be freed."""

    part: str
    steps: tuple[int, int]
    time_ms: tuple[int, int]
    worlds: int
    exact: bool  # all worlds there are
    stuck: int
    matters: tuple[tuple[str, float], ...]
    known: str  # how known the way of the record itself is (studies.retelling)

    @property
    def is_firm(self) -> bool:
        """No open pair moves it; never where nobody has confirmed the way."""
        return self.steps[0] == self.steps[1] and not self.stuck and self.known != GUESSED


def firmness(make: Make, record: Teardown, parts: Sequence[str], *, seed: int = 1) -> Iterator[list[Firmness]]:
    """For each part; a `yield` is progress, the last one is the answer. `make` gives a planner for a record."""
    assumptions = Assumptions(record)
    worlds, exact = _worlds(assumptions, seed)
    found: dict[str, list[tuple[int, int] | None]] = {part: [] for part in parts}
    for world in worlds:
        planner = make(settled(assumptions, record, world))
        for part in parts:
            plan = planner.plan([part])
            found[part].append((plan.count.steps, plan.count.time_ms) if plan.feasible else None)
        yield []
    planner = make(record)
    known = {part: known_without_plans(planner, planner.plan([part])) for part in parts}
    yield [_firmness(part, values, worlds, exact, known[part]) for part, values in found.items() if any(values)]


def settled(assumptions: Assumptions, record: Teardown, world: World) -> Teardown:
    """The record as it would be in a world: every open thing behind what hides it there."""
    behind = {}
    for thing in assumptions.of:
        hiders = set(assumptions.known(thing)) | {x for (t, x), hides in world.items() if t == thing and hides}
        behind[thing] = (tuple(sorted(hiders)),) if hiders else ()
    return with_behind(record, behind)


def _worlds(assumptions: Assumptions, seed: int) -> tuple[list[World], bool]:
    """All worlds where there are few, else a sample drawn by the odds."""
    every = every_world(assumptions)
    if every is not None:
        return [world for world, _ in every], True
    rng = random.Random(seed)
    return [draw(assumptions, assumptions.of, rng) for _ in range(SAMPLE)], False


def _firmness(part: str, values: list[tuple[int, int] | None], worlds: list[World], exact: bool,
              known: str) -> Firmness:
    reached = [(world, value) for world, value in zip(worlds, values) if value is not None]
    moved: dict[str, float] = {}
    for pair in {pair for world, _ in reached for pair in world}:
        yes = [value[0] for world, value in reached if world.get(pair)]
        no = [value[0] for world, value in reached if not world.get(pair)]
        if yes and no:
            moved[pair[0]] = max(moved.get(pair[0], 0.0), abs(mean(yes) - mean(no)))
    matters = sorted(((thing, round(by, 2)) for thing, by in moved.items() if by >= 0.25),
                     key=lambda item: (-item[1], item[0]))
    return Firmness(part=part, steps=(min(v[0] for _, v in reached), max(v[0] for _, v in reached)),
                    time_ms=(min(v[1] for _, v in reached), max(v[1] for _, v in reached)), worlds=len(worlds),
                    exact=exact, stuck=len(values) - len(reached), matters=tuple(matters[:MOST]), known=known)
