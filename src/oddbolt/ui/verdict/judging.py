"""Judging in a job: first every method by what is missing, then how far each of them holds, the one looked at first."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from msgspec import Struct

from oddbolt.model.things import Teardown
from oddbolt.scoring.asking import Ask, FixingAsk, absent_roles, asks, fixing_asks
from oddbolt.scoring.evaluate import Verdict, evaluate_planned
from oddbolt.scoring.measures.looking import Look
from oddbolt.scoring.method import load_method
from oddbolt.scoring.planned import AllPlanned
from oddbolt.scoring.standing import judge


class Asked(Struct, frozen=True, kw_only=True):
    """What a method asks of this record."""

    asks: tuple[Ask, ...]
    fixings: tuple[FixingAsk, ...]
    absent: tuple[str, ...]


class Found(Struct, frozen=True, kw_only=True):
    """Verdicts so far, by method, and what each method asks."""

    verdicts: Mapping[str, Verdict]
    asked: Mapping[str, Asked]


def look_of(teardown: Teardown, method_id: str, plans: AllPlanned) -> Look:
    method = load_method(method_id)
    return Look(teardown=teardown, method=method, planned=plans.of(teardown, method.settings(teardown.settings)))


def judge_all(teardown: Teardown, ids: Sequence[str], opened: str, plans: AllPlanned) -> Iterator[Found]:
    """What is found after each step; the last is the answer."""
    verdicts: dict[str, Verdict] = {}
    asked: dict[str, Asked] = {}

    def so_far() -> Found:
        return Found(verdicts=dict(verdicts), asked=dict(asked))

    for id_ in sorted(ids, key=lambda one: one != opened):
        look = look_of(teardown, id_, plans)
        verdicts[id_] = evaluate_planned(look)
        asked[id_] = Asked(asks=tuple(asks(look)), fixings=tuple(fixing_asks(look)), absent=tuple(absent_roles(look)))
        yield so_far()
    for id_ in sorted(ids, key=lambda one: one != opened):
        for verdict in judge(teardown, load_method(id_), plans):
            verdicts[id_] = verdict
            if verdict.standing is None:
                yield so_far()
        yield so_far()
    yield so_far()
