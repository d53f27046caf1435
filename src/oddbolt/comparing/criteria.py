"""How far two or more analysts' records of one model end in the same judgement, criterion by criterion."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct

from oddbolt.comparing.agreement import NOMINAL, ORDINAL, Alpha, Kappa, alpha_with_interval, cohen_kappa
from oddbolt.effort.times import KnownTimes
from oddbolt.model.things import Teardown
from oddbolt.scoring.evaluate import Verdict, evaluate
from oddbolt.scoring.method import INDEX, PROFILE, Criterion, Method


class OnCriterion(Struct, frozen=True, kw_only=True):
    """Agreement of all records on one criterion, over the roles that it looks at. `kappa` is of two records, and of
    those roles for which both gave points; None where a table has fewer than two."""

    method: str
    criterion: Criterion
    roles: tuple[str, ...]
    points: tuple[tuple[float | None, ...], ...]  # by role, what each record gives; None: open
    alpha: Alpha
    kappa: Kappa | None


def on_criteria(records: Sequence[Teardown], method: Method) -> list[OnCriterion]:
    """Only criteria with points by part; those of the whole device are one unit each, from which nothing follows."""
    if method.kind not in (INDEX, PROFILE):
        return []
    verdicts = [evaluate(record, method, KnownTimes(record)) for record in records]
    return [one for criterion in method.criteria if (one := _on(verdicts, method, criterion)) is not None]


def _on(verdicts: Sequence[Verdict], method: Method, criterion: Criterion) -> OnCriterion | None:
    by_record = [{part.role: part.points[0] if part.points[0] == part.points[1] else None for score in verdict.criteria
                  if score.criterion.id == criterion.id for part in score.parts} for verdict in verdicts]
    roles = tuple(dict.fromkeys(role for found in by_record for role in found))
    if len(roles) < 2:
        return None
    units = [tuple(found.get(role) for found in by_record) for role in roles]
    metric = ORDINAL if method.kind == INDEX else NOMINAL
    return OnCriterion(method=method.id, criterion=criterion, roles=roles, points=tuple(units),
                       alpha=alpha_with_interval(units, metric), kappa=_kappa(units) if len(verdicts) == 2 else None)


def _kappa(units: Sequence[tuple[float | None, ...]]) -> Kappa | None:
    both = [(one, other) for one, other in units if one is not None and other is not None]
    values = sorted({value for pair in both for value in pair})
    if len(both) < 2:
        return None
    place = {value: n for n, value in enumerate(values)}
    table = [[0.0] * len(values) for _ in values]
    for one, other in both:
        table[place[one]][place[other]] += 1
    return cohen_kappa(table)
