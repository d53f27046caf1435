"""The way retold: the most probable way to a part as a person is shown it, how known its depth is, and what to ask.

The most probable way is the best one by the record as it stands, with everything assumed of access as it is guessed.
Practitioners see in three to ten steps at once what cannot be or need not be; undecided pairs by themselves are hard to
answer and few of them matter (docs/methods/access.md).
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

from msgspec import Struct

from oddbolt.knowledge.evidence import AllEvidence
from oddbolt.knowledge.said.retold import BLOCKED, WORKS, looked_at, proven_after
from oddbolt.knowledge.settling import with_behind
from oddbolt.model.things import ASSUMED, Teardown
from oddbolt.rules.counting import count
from oddbolt.rules.device_state import Operation
from oddbolt.rules.structure import structure_of
from oddbolt.search.planner import STEPS, Make, Plan, Planner

GUESSED, WAY_CONFIRMED, CONFIRMED = "guessed", "way_confirmed", "confirmed"
KNOWN = (GUESSED, WAY_CONFIRMED, CONFIRMED)  # the less known first
FIRM = 2  # looks at which it was said to work: of what one look takes as right a fifth is not (docs/methods/access.md)
Stop = Callable[[], bool]


class Item(Struct, frozen=True, kw_only=True):
    """One operation of a way: what it is done to, and with what, act by act."""

    thing: str
    tools: tuple[str, ...]
    is_assumed: bool  # rests on a guess that nobody has confirmed


class Shortener(Struct, frozen=True, kw_only=True):
    """If none of these things had been behind the hider, the way would be shorter."""

    hider: str
    things: tuple[str, ...]
    saves: int  # steps


class Retelling(Struct, frozen=True, kw_only=True):
    """The most probable way to a part; `asks` first what saves most."""

    part: str
    plan: Plan
    items: tuple[Item, ...]
    known: str
    asks: tuple[Shortener, ...]

    @property
    def wants_a_look(self) -> bool:
        """Whether all that is missing is that somebody looks at it a second time."""
        return self.known == WAY_CONFIRMED and not self.asks


def things_of(plan: Plan) -> list[str]:
    """What is released or lifted, in order."""
    return list(dict.fromkeys(operation.part or operation.joint for operation in plan.sequence))


def unconfirmed(planner: Planner, plan: Plan, looks: int = 1) -> list[str]:
    """Things whose operation on the way rests on a guess: not told by the record, and not shown so many times, with no
    more cleared before it, to a person who said that it works. None where they confirmed the same way in another order
    of the same number of steps: of orders that are equally good any may be shown."""
    teardown, things = planner.teardown, things_of(plan)
    if confirmed_order(planner, plan, looks):
        return []
    proven, cleared = proven_after(teardown), set[str]()
    found = []
    for thing in things:
        if teardown.thing(thing).basis == ASSUMED and sum(
                before <= cleared for before in proven.get(thing, ())) < looks:
            found.append(thing)
        cleared.add(thing)
    return found


def confirmed_order(planner: Planner, plan: Plan, looks: int = 1) -> tuple[Operation, ...]:
    """The operations of a plan in an order in which a person confirmed them, at so many looks, where that is as good;
    else nothing."""
    things, later, seen = set(things_of(plan)), set[str](), 0
    for way in reversed(looked_at(planner.teardown)):
        if way.answer == WORKS and things == set(way.operations) and not later & things:
            order = {thing: n for n, thing in enumerate(way.operations)}
            sequence = sorted(plan.sequence, key=lambda one: (order[one.part or one.joint], one.act))
            counted = count(planner.structure, planner.convention, planner.times, sequence)
            if not counted.obstacles and plan.count is not None and counted.steps == plan.count.steps:
                seen += 1
                if seen >= looks:
                    return tuple(sequence)
        elif way.answer == BLOCKED and way.at is not None:
            later.add(way.at)  # said afterwards, it may be against the order
    return ()


def known_without_plans(planner: Planner, plan: Plan) -> str:
    """How known a depth is, where it takes no further plan to tell: at most *way confirmed* while anything on the way
    is assumed to be behind anything."""
    if not plan.feasible or unconfirmed(planner, plan):
        return GUESSED
    is_open = unconfirmed(planner, plan, FIRM) or any(_assumed_behind(planner.teardown, things_of(plan)).values())
    return WAY_CONFIRMED if is_open else CONFIRMED


def _assumed_behind(teardown: Teardown, things: Sequence[str]) -> dict[str, list[str]]:
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


def shorteners(make: Make, planner: Planner, plan: Plan) -> Iterator[list[Shortener]]:
    """What might make the way shorter, if it were not as assumed; a `yield` is progress, the last one the answer."""
    teardown, things = planner.teardown, things_of(plan)
    assumed = _assumed_behind(teardown, things)
    found = []
    for hider, hidden in assumed.items():
        other = make(without(teardown, hider, hidden)).plan(plan.targets, plan.objective)
        if other.feasible and other.value < plan.value:
            found.append(Shortener(hider=hider, things=tuple(hidden), saves=plan.value - other.value))
        yield []
    yield sorted(found, key=lambda one: -one.saves)


def without(teardown: Teardown, hider: str, hidden: Sequence[str]) -> Teardown:
    """The record if none of these things were behind the hider."""
    return with_behind(teardown, {thing: tuple(tuple(x for x in names if x != hider)
                                               for names in teardown.thing(thing).behind) for thing in hidden})


def like(planner: Planner) -> Make:
    """Planners of other records by the same convention and policies."""
    return lambda record: Planner(record, planner.times, planner.convention.settings, policies=planner.policies)


def known_of(make: Make, planner: Planner, plan: Plan) -> str:
    """How known a depth is. A guess for what cannot be freed: there is no way that anybody could have confirmed."""
    known = known_without_plans(planner, plan)
    if known != WAY_CONFIRMED or unconfirmed(planner, plan, FIRM):
        return known
    *_, asks = shorteners(make, planner, plan)
    return WAY_CONFIRMED if asks else CONFIRMED


def retell(make: Make, teardown: Teardown, part: str) -> Iterator[Retelling | None]:
    """The most probable way to a part, and what to ask of it; a `yield` is progress, the last one the answer."""
    planner = make(teardown)
    plan = planner.plan([part], STEPS)
    things = things_of(plan)
    guessed = set(unconfirmed(planner, plan)) if plan.feasible else set(things)
    tools: dict[str, dict[int, str]] = {}
    for timed in plan.count.timed if plan.count else ():
        operation = timed.operation
        tools.setdefault(operation.part or operation.joint, {})[operation.act] = timed.tool
    items = tuple(Item(thing=thing, tools=tuple(tool for _, tool in sorted(tools[thing].items())),
                       is_assumed=thing in guessed) for thing in things)
    asks: list[Shortener] = []
    for found in shorteners(make, planner, plan) if plan.feasible else ():
        asks = found
        yield None
    known = GUESSED if guessed or not plan.feasible else \
        WAY_CONFIRMED if asks or unconfirmed(planner, plan, FIRM) else CONFIRMED
    yield Retelling(part=part, plan=plan, items=items, known=known, asks=tuple(asks))
