"""The few questions whose answers change most. One answer settles several assumptions at once:

- *hides*: "which of these did the speaker really hide?", per lifted part and per swing;
- *within*: "which of these could have been undone before the speaker came off?", which halves what is left for many
  things at once, as each was hidden by something that was cleared later, or by nothing that was;
- *way*: "what was in the way of each of these, since the layer opened?", per layer, for the few that matter most.

They are ranked by the spread of the depths that the answer takes away. For each thing with open assumptions, the total
effect of what hides it (with f the depth proxy below, and the pairs of the thing drawn anew in A'),

    V = 1/2 E[(f(A) - f(A'))^2],

(M. J. W. Jansen, Computer Physics Communications 117 (1999) 35-43, from memory), times the share of its entropy that
the answer takes away (C. E. Shannon 1948), added up over the things asked about. Worlds are drawn with a seed; where
there are few, all of them are taken.
"""

from __future__ import annotations

import math
import random
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.knowledge.evidence import HIDES, WAY, WITHIN
from oddbolt.knowledge.guesses import Guess, Guesses
from oddbolt.model.things import ASSUMED, Teardown
from oddbolt.rules.structure import structure_of

WORLDS = 24  # drawn where there are more than FEW, else all are looked at
FEW = 32
MOST_ROWS = 12  # things that one question asks about
Pair = tuple[str, str]  # thing, hider
World = dict[Pair, bool]


class Question(Struct, frozen=True, kw_only=True):
    """What an answer would settle. `guess` is the answer as guessed now, by thing: true where `about` hides it (hides),
    where it was within reach before (within), or the hiders (way)."""

    kind: str
    about: str  # a lifted part, or the swing or cover that opened a layer
    things: tuple[str, ...]  # those first that matter most
    guess: Mapping[str, bool | tuple[str, ...]]
    choices: Mapping[str, tuple[str, ...]]  # for each thing, what an answer can name (way)
    spread: float  # standard deviation of the depths it takes away, in steps, over the parts asked about
    fresh: bool  # the state can still be looked at: nothing else has been lifted since


class Assumptions:
    """The open pairs of one snapshot, with their odds."""

    def __init__(self, teardown: Teardown, stop: Callable[[], bool] = lambda: False) -> None:
        """Where `stop` says so, what is found is not complete."""
        self.teardown = teardown
        self.structure = structure_of(teardown)
        self.guesses = Guesses(teardown, self.structure)
        self.of: dict[str, Guess] = {}
        for thing in (*teardown.joints, *teardown.parts):
            if stop():
                break
            operable = thing.id in self.structure.releases or thing.id in self.structure.removals
            if thing.basis == ASSUMED and operable and self.guesses.record.is_met(thing.id):
                guess = self.guesses.guess(thing.id)
                if not guess.settled:
                    self.of[thing.id] = guess

    @property
    def pairs(self) -> dict[Pair, float]:
        return {(thing, x): p for thing, guess in self.of.items() for x, p in guess.odds.items()}

    def known(self, thing: str) -> frozenset[str]:
        """What hides a thing for certain, or by a word that is not assumed."""
        if thing in self.of:
            return self.guesses.record.of(thing).hides
        record = self.teardown.part.get(thing) or self.teardown.joint.get(thing)
        return frozenset(min(record.behind, key=len)) if record and record.behind else frozenset()


class Proxy:
    """A stand-in for depth that is quick to compute: lifts on the way, and tools between them.

    It follows one alternative of everything and takes steps as lifts plus half the distinct tools. It only ranks.
    """

    def __init__(self, assumptions: Assumptions) -> None:
        self.structure = assumptions.structure
        self._known = {id_: assumptions.known(id_) for id_ in (*self.structure.releases, *self.structure.removals)}
        self._open = {thing: tuple(guess.odds) for thing, guess in assumptions.of.items()}

    def depths(self, world: World, parts: Sequence[str], looked_at: set[str] | None = None) -> list[float]:
        """Of each part. What the depths depend on is added to `looked_at`: what hides anything else has no say."""
        needs: dict[str, frozenset[str]] = {}
        found = [self._depth(part, world, needs) for part in parts]
        if looked_at is not None:
            looked_at.update(needs)
        return found

    def _depth(self, part: str, world: World, needs: dict[str, frozenset[str]]) -> float:
        way = self._needs(part, world, needs, set())
        lifts = sum(id_ in self.structure.removals for id_ in way)
        tools = {self.structure.releases[id_].ways[0].acts[-1].tool for id_ in way if id_ in self.structure.releases}
        return lifts + 0.5 * len(tools - {"hand"})

    def _needs(self, id_: str, world: World, needs: dict[str, frozenset[str]], path: set[str]) -> frozenset[str]:
        if id_ in needs or id_ in path:
            return needs.get(id_, frozenset())
        path.add(id_)
        found = {id_}
        hiders = set(self._known.get(id_, ())) | {x for x in self._open.get(id_, ()) if world.get((id_, x))}
        removal = self.structure.removals.get(id_)
        for name in (*hiders, *(removal.ties if removal else ())):
            found |= self._needs(self._cleared_by(name, id_), world, needs, path)
        path.discard(id_)
        needs[id_] = frozenset(found)
        return needs[id_]

    def _cleared_by(self, hider: str, thing: str) -> str:
        """The base is cleared from what lies on a part by lifting that part."""
        if hider != self.structure.base:
            return hider
        release = self.structure.releases.get(thing)
        parts = release.of if release else frozenset((thing,))
        around = frozenset.intersection(*(self.structure.above.get(p, frozenset()) for p in parts))
        return min(around - {thing}, key=lambda p: len(self.structure.above[p]), default=hider)


def candidates(assumptions: Assumptions) -> list[tuple[str, str, tuple[str, ...]]]:
    """Questions that could be asked: kind, about what, and of which things."""
    record, base = assumptions.guesses.record, assumptions.structure.base
    hiders = list(dict.fromkeys(x for guess in assumptions.of.values() for x in guess.odds))
    openers = {x: set(layer) for walk in record.passes.values() for x, layer in _layers(walk.cleared, assumptions)}
    found = []
    for kind in (HIDES, WITHIN, WAY):
        for hider in hiders if kind == HIDES else [x for x in hiders if x != base] if kind == WITHIN else openers:
            settled = openers[hider] if kind == WAY else {hider}
            things = tuple(thing for thing, guess in assumptions.of.items()
                           if not settled.isdisjoint(guess.odds) and (kind, hider, thing) not in record.asked)
            if things:
                found.append((kind, hider, things))
    return found


def _layers(cleared: list[str], assumptions: Assumptions) -> Iterator[tuple[str, list[str]]]:
    """What opened each layer, and all that was cleared from then on."""
    for n, x in enumerate(cleared):
        if assumptions.guesses.opens(x):
            yield x, cleared[n:]


def draw(assumptions: Assumptions, things: Iterable[str], rng: random.Random) -> World:
    """Which open candidate hides which thing, drawn by the odds."""
    world: World = {}
    for thing in things:
        guess = assumptions.of[thing]
        for x, odds in guess.odds.items():
            if x not in guess.one_of:
                world[thing, x] = rng.random() < odds
        if guess.one_of:
            chosen = rng.choices(guess.one_of, [guess.odds[x] for x in guess.one_of])[0]
            world.update(((thing, x), x == chosen) for x in guess.one_of)
    return world


def every_world(assumptions: Assumptions,
                things: Iterable[str] | None = None) -> list[tuple[World, float]] | None:
    """All worlds with their probabilities, where there are at most `FEW`; None where there are more. Of all that is
    open, or of what hides these `things`."""
    worlds: list[tuple[World, float]] = [({}, 1.0)]
    for thing in assumptions.of if things is None else things:
        guess = assumptions.of[thing]
        own: list[tuple[World, float]] = [({}, 1.0)]
        for x, odds in guess.odds.items():
            if x not in guess.one_of:
                own = [({**world, (thing, x): hides}, p * (odds if hides else 1 - odds))
                       for world, p in own for hides in (False, True)]
            if len(own) > FEW:
                return None
        if guess.one_of:
            whole = sum(guess.odds[x] for x in guess.one_of)
            own = [({**world, **{(thing, x): x == chosen for x in guess.one_of}}, p * guess.odds[chosen] / whole)
                   for world, p in own for chosen in guess.one_of]
        if len(worlds) * len(own) > FEW:
            return None
        worlds = [({**world, **more}, p * q) for world, p in worlds for more, q in own if p * q]
    return worlds


def _exact_effects(assumptions: Assumptions, worlds: Sequence[tuple[World, float]],
                   depths: Sequence[Sequence[float]]) -> dict[str, float]:
    """The total effect of each thing: worlds that differ in it alone are set against each other."""
    effect: dict[str, float] = {}
    for thing in assumptions.of:
        alike: dict[frozenset[tuple[Pair, bool]], list[tuple[float, Sequence[float]]]] = {}
        for (world, p), values in zip(worlds, depths):
            others = frozenset(item for item in world.items() if item[0][0] != thing)
            alike.setdefault(others, []).append((p, values))
        total = 0.0
        for group in alike.values():
            whole = sum(p for p, _ in group)
            for p, values in group:
                for q, anew in group:
                    if whole:
                        total += p * q / whole * sum((a - b) ** 2 for a, b in zip(values, anew))
        effect[thing] = total / 2
    return effect


def _bits(p: float) -> float:
    """Entropy of yes or no, bits."""
    return 0.0 if p <= 0 or p >= 1 else -p * math.log2(p) - (1 - p) * math.log2(1 - p)


def entropy_bits(guess: Guess) -> float:
    """Entropy of what hides a thing, bits."""
    one_of = sum(-guess.odds[x] * math.log2(guess.odds[x]) for x in guess.one_of if guess.odds[x] > 0)
    return one_of + sum(_bits(p) for x, p in guess.odds.items() if x not in guess.one_of)


def _told_bits(guess: Guess, kind: str, about: str, order: Sequence[str]) -> float:
    """Entropy that the answer for one thing takes away, bits."""
    if kind == HIDES:
        return _bits(guess.odds.get(about, 0))
    later = set(order[order.index(about):]) if about in order else {about}
    if kind == WAY:
        left = replace(guess, odds={x: p for x, p in guess.odds.items() if x in later},
                       one_of=guess.one_of if later.issuperset(guess.one_of) else ())
        return entropy_bits(left)
    one_of = sum(guess.odds[x] for x in guess.one_of if x in later)
    none = 1 - one_of
    for x, p in guess.odds.items():
        if x in later and x not in guess.one_of:
            none *= 1 - p
    return _bits(none)


def rank(teardown: Teardown, parts: Iterable[str], *, worlds: int = WORLDS, seed: int = 1,
         stop: Callable[[], bool] = lambda: False) -> Iterator[list[Question]]:
    """Open questions, those first whose answers take away most. A `yield` is progress; the last one is the answer.

    `parts` are those whose depths count. The generator may be left at any time, and ends where `stop` says so.
    """
    assumptions = Assumptions(teardown, stop)
    if stop():
        return
    wanted = [part for part in dict.fromkeys(parts) if part in assumptions.structure.removals]
    proxy, rng = Proxy(assumptions), random.Random(seed)
    every = every_world(assumptions)
    if every is not None:
        depths = []
        for world, _ in every:
            depths.append(proxy.depths(world, wanted))
            yield []
        yield _ranked(assumptions, _exact_effects(assumptions, every, depths))
        return
    effect = dict.fromkeys(assumptions.of, 0.0)
    for _ in range(worlds):  # one at a time: those of a large device fill the memory
        world = draw(assumptions, assumptions.of, rng)
        yield []
        looked_at: set[str] = set()
        known = proxy.depths(world, wanted, looked_at)
        for thing in assumptions.of:
            if thing in looked_at:
                anew = proxy.depths({**world, **draw(assumptions, (thing,), rng)}, wanted)
                effect[thing] += sum((a - b) ** 2 for a, b in zip(known, anew)) / 2 / worlds
                yield []
    yield _ranked(assumptions, effect)


def _ranked(assumptions: Assumptions, effect: dict[str, float]) -> list[Question]:
    found = [_question(assumptions, kind, about, things, effect) for kind, about, things in candidates(assumptions)]
    return sorted(found, key=lambda q: (-q.spread, q.kind, q.about))


def _question(assumptions: Assumptions, kind: str, about: str, things: tuple[str, ...],
              effect: dict[str, float]) -> Question:
    record = assumptions.guesses.record
    walk = next((walk for walk in record.passes.values() if about in walk.cleared), None)
    order = walk.cleared if walk else []
    gain: dict[str, float] = {}
    for thing in things:
        guess = assumptions.of[thing]
        whole = entropy_bits(guess)
        gain[thing] = effect[thing] * min(1.0, _told_bits(guess, kind, about, order) / whole) if whole > 0 else 0.0
    things = tuple(sorted(things, key=lambda thing: -gain[thing])[:MOST_ROWS])
    later = order[order.index(about):] if walk else [about]
    behind = {thing: {x for names in assumptions.of[thing].behind for x in names} for thing in things}
    choices: dict[str, tuple[str, ...]] = {}
    answer: dict[str, bool | tuple[str, ...]] = {}
    for thing in things:
        if kind == WAY:
            met = walk.met.get(thing, (len(order), ""))[0] if walk else len(order)
            choices[thing] = tuple(x for x in order[order.index(about):met] if x in record.of(thing).candidates)
            answer[thing] = tuple(x for x in choices[thing] if x in behind[thing])
        else:
            answer[thing] = (about in behind[thing]) if kind == HIDES else behind[thing].isdisjoint(later)
    return Question(kind=kind, about=about, things=things, guess=answer, choices=choices,
                    spread=sum(gain[thing] for thing in things) ** 0.5, fresh=bool(walk) and walk.cleared[-1] == about)
