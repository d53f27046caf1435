"""What it costs to keep to a policy: the best plan with all that are kept, and the best without this one."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Sequence

from msgspec import Struct

from oddbolt.search.planner import Planner

ISOLATE = "isolate-first"  # beside the policies proper: power first is a setting of the record


class Price(Struct, frozen=True, kw_only=True):
    """Steps and ms that a plan would be shorter without one policy; what is not proven makes no claim."""

    policy: str
    steps: int
    time_ms: int
    proven: bool


def prices(make: Callable[[frozenset[str]], Planner], kept: Collection[str], targets: Sequence[str],
           objective: str) -> Iterator[dict[str, Price]]:
    """By policy, for those kept; `make` gives a planner that keeps to a set of them. Each `yield` has one more."""
    found: dict[str, Price] = {}
    whole = make(frozenset(kept)).plan(targets, objective)
    if whole.count is None:
        return
    for policy in kept:
        without = make(frozenset(kept) - {policy}).plan(targets, objective)
        if without.count is not None:
            found[policy] = Price(policy=policy, steps=whole.count.steps - without.count.steps,
                                  time_ms=whole.count.time_ms - without.count.time_ms,
                                  proven=whole.optimal and without.optimal)
        yield dict(found)
