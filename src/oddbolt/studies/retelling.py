"""The way retold: the most probable way to a part as a person is shown it, how known its depth is, and what to ask.

The most probable way is the best one by the record as it stands, with everything assumed of access as it is guessed.
Practitioners see in three to ten steps at once what cannot be or need not be; undecided pairs by themselves are hard to
answer and few of them matter (docs/methods/access.md).
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from msgspec import Struct

from oddbolt.knowledge.said.retold import BLOCKED, WORKS, looked_at, proven_after, worth
from oddbolt.model.things import ASSUMED, Teardown
from oddbolt.rules.counting import count
from oddbolt.search.planner import STEPS, Make, Plan, Planner
from oddbolt.studies.doubts import Shortener, assumed_behind, shorteners

GUESSED, WAY_CONFIRMED, CONFIRMED = "guessed", "way_confirmed", "confirmed"
KNOWN = (GUESSED, WAY_CONFIRMED, CONFIRMED)  # the less known first
# Looks at which it was said to work: of what one takes as right a fifth is not, for whoever overlooks, of what two do
# a twentieth, of what four do a sixtieth (docs/methods/access.md). A second person's first look counts for two. A long
# list is read less well: it takes one look more.
TWICE, FIRM, LONG_LIST = 2, 4, 12
ENOUGH = 4  # answers about one part in a row: after more people say yes or no unread (common practice, no source)
Stop = Callable[[], bool]


class Item(Struct, frozen=True, kw_only=True):
    """One operation of a way: what it is done to, and with what, act by act."""

    thing: str
    tools: tuple[str, ...]
    is_assumed: bool  # rests on a guess that nobody has confirmed


class Retelling(Struct, frozen=True, kw_only=True):
    """The most probable way to a part; `asks` first what saves most."""

    part: str
    plan: Plan
    items: tuple[Item, ...]
    known: str
    looks: int  # at which it was said to work
    asks: tuple[Shortener, ...]

    def asked_after(self, answers: int) -> Shortener | None:
        """What is asked now, after so many answers about it in a row: nothing before somebody has looked at the way,
        and nothing when that is enough for once."""
        return self.asks[0] if self.asks and self.looks and answers < ENOUGH else None

    @property
    def wants_a_look(self) -> bool:
        """Whether all that is missing is that somebody looks at it a second time."""
        return self.known == GUESSED and self.looks > 0 and not self.asks


def things_of(plan: Plan) -> list[str]:
    """What is released or lifted, in order."""
    return list(dict.fromkeys(operation.part or operation.joint for operation in plan.sequence))


def unconfirmed(planner: Planner, plan: Plan) -> list[str]:
    """Things whose operation on the way rests on a guess: not told by the record, and not shown twice, with no
    more cleared before it, to a person who said that it works. None where they confirmed the same way in another order
    of the same number of steps: of orders that are equally good any may be shown."""
    return [thing for thing, number in _looks(planner, plan).items() if number < TWICE + is_long(plan)]


def is_long(plan: Plan) -> bool:
    """Whether a way is a list in which much is overlooked."""
    return len(things_of(plan)) > LONG_LIST


def looks_at(planner: Planner, plan: Plan) -> int:
    """At how many looks each operation of the way was said to work that the record does not tell; no more than are
    ever wanted, none where the part cannot come off."""
    return min((FIRM + is_long(plan), *_looks(planner, plan).values())) if plan.feasible else 0


def _looks(planner: Planner, plan: Plan) -> dict[str, int]:
    """The same for each thing of the way that is assumed. That each works where it stood on other ways does not tell
    that each is needed on this one: as long as nobody has looked at this one it is a guess, and after one look not
    firm."""
    teardown, cleared = planner.teardown, set[str]()
    proven, whole = proven_after(teardown), worth(confirmed_by(planner, plan))
    own = _looks_at_itself(teardown, plan)
    most = 0 if not own else FIRM + is_long(plan) - (own < TWICE)
    found = {}
    for thing in things_of(plan):
        if teardown.thing(thing).basis == ASSUMED:
            found[thing] = min(most, max(whole, worth([one.by for one in proven.get(thing, ())
                                                       if one.cleared <= cleared])))
        cleared.add(thing)
    return found


def _looks_at_itself(teardown: Teardown, plan: Plan) -> int:
    """At how many looks a way to this part was said to work that had all of this in it; a way to several is looked at
    part by part."""
    if len(plan.targets) > 1:
        return TWICE
    things = set(things_of(plan))
    return sum(way.answer == WORKS and (things == set(way.operations) or
                                        way.part in plan.targets and things <= set(way.operations))
               for way in looked_at(teardown))


def confirmed_by(planner: Planner, plan: Plan) -> list[str]:
    """Who said of the operations of a plan, look by look, that they work in some order, where that is as good."""
    things, later, by = set(things_of(plan)), set[str](), list[str]()
    for way in reversed(looked_at(planner.teardown)):
        if way.answer == WORKS and things == set(way.operations) and not later & things:
            order = {thing: n for n, thing in enumerate(way.operations)}
            sequence = sorted(plan.sequence, key=lambda one: (order[one.part or one.joint], one.act))
            counted = count(planner.structure, planner.convention, planner.times, sequence)
            if not counted.obstacles and plan.count is not None and counted.steps == plan.count.steps:
                by.append(way.by)
        elif way.answer == BLOCKED and way.at is not None:
            later.add(way.at)  # said afterwards, it may be against the order
    return by


def known_without_plans(planner: Planner, plan: Plan) -> str:
    """How known a depth is, where it takes no further plan to tell: at most *way confirmed* while anything on the way
    is assumed to be behind anything."""
    return _known(planner, plan, lambda: bool(assumed_behind(planner.teardown, things_of(plan))))


def _known(planner: Planner, plan: Plan, is_open: Callable[[], bool]) -> str:
    """By looks, as they count for a short list, and whether anything that is assumed may make the way shorter: that is
    found out only where it matters."""
    looks = looks_at(planner, plan) - is_long(plan)
    return GUESSED if looks < TWICE else WAY_CONFIRMED if looks < FIRM or is_open() else CONFIRMED


def like(planner: Planner) -> Make:
    """Planners of other records by the same convention and policies."""
    return lambda record: Planner(record, planner.times, planner.convention.settings, policies=planner.policies)


def known_of(make: Make, planner: Planner, plan: Plan) -> str:
    """How known a depth is. A guess for what cannot be freed: there is no way that anybody could have confirmed."""
    def is_open() -> bool:
        *_, asks = shorteners(make, planner, plan, things_of(plan))
        return bool(asks)

    return _known(planner, plan, is_open)


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
    for found in shorteners(make, planner, plan, things) if plan.feasible else ():
        asks = found
        yield None
    yield Retelling(part=part, plan=plan, items=items, looks=looks_at(planner, plan), asks=tuple(asks),
                    known=_known(planner, plan, lambda: bool(asks)))
