"""One evaluator for every method: points with the rule that gave them and the evidence, ranges where facts are unknown.

Evidence is given as codes and ids; the interface words it. How far a verdict holds over what is assumed, unconfirmed or
left open by the text is found in scoring/standing.py.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.model.things import Settings, Teardown
from oddbolt.rules.times import ActiveTimes
from oddbolt.scoring.choosing import NO_PART, Chooser, Noting, Picked, Source
from oddbolt.scoring.measures import of_all, of_parts
from oddbolt.scoring.measures.looking import Ground, Look, Scored, whole_or_ends
from oddbolt.scoring.measures.marks import answer
from oddbolt.scoring.method import INDEX, Criterion, Method, Points
from oddbolt.scoring.planned import AllPlanned
from oddbolt.scoring.unknowns import Move
from oddbolt.search.planner import Plan, Planner
from oddbolt.studies.retelling import GUESSED, unconfirmed

FULL, LEAST = "full", "least"  # readings of how a part that is not in the device is scored
WORST, BEST = "worst", "best"  # readings of which of several parts with one role counts


class PartScore(Struct, frozen=True, kw_only=True):
    """Points of one priority part under one criterion."""

    role: str
    part: str  # empty where no part has the role
    weight: float
    points: Points
    evidence: tuple[Ground, ...]
    fails: bool = False


class CriterionScore(Struct, frozen=True, kw_only=True):
    criterion: Criterion
    points: Points
    parts: tuple[PartScore, ...]
    evidence: tuple[Ground, ...] = ()
    fails: bool = False

    @property
    def is_open(self) -> bool:
        return self.points[0] != self.points[1]

    @property
    def letters(self) -> tuple[str, ...]:
        """Of a profile: the letters that it may be, best first."""
        return letters_of(self.criterion, self.points)


def letters_of(criterion: Criterion, points: Points) -> tuple[str, ...]:
    if not criterion.letters or math.isnan(points[0]):
        return ()
    last = len(criterion.letters) - 1
    return criterion.letters[last - round(points[1]):last - round(points[0]) + 1]


class Unknown(Struct, frozen=True, kw_only=True):
    """A fact that is missing, and how much of the index's range it causes."""

    criterion: str
    role: str
    spread: float


class Standing(Struct, frozen=True, kw_only=True):
    """How far a verdict holds: over every world of what is assumed of access (all of them where `exact`, else those
    that were drawn), every row that is not high, every reading of what the text is silent on, and every missing
    answer."""

    index: Points
    classes: tuple[str, ...]
    worlds: int
    exact: bool
    moves: tuple[Move, ...]  # what could move it, by what it tells of the class


class Verdict(Struct, frozen=True, kw_only=True):
    method: Method
    convention: Settings
    index: Points  # of an index; of figures the headline; of a profile 0, 0
    classes: tuple[str, ...]  # all that the index may still fall in, best first, by what is missing alone
    criteria: tuple[CriterionScore, ...]
    unknowns: tuple[Unknown, ...]  # largest spread first
    assumed: tuple[str, ...]  # ids on the ways whose basis is assumed
    plans: Mapping[str, Plan]  # part -> its way, under the method's convention
    known: Mapping[str, str]  # part -> how known that way is (studies.retelling)
    standing: Standing | None = None

    @property
    def fails(self) -> tuple[str, ...]:
        """Criteria by whose text the device has no class at all."""
        return tuple(score.criterion.id for score in self.criteria if score.fails)

    @property
    def is_guessed(self) -> bool:
        """Whether some way that points rest on is a guess that nobody has looked at."""
        return GUESSED in self.known.values()

    @property
    def is_firm(self) -> bool:
        """One class over all that is unknown, assumed, unconfirmed or left open by the text, and all of it looked at;
        never while it rests on a guessed way."""
        standing = self.standing
        return standing is not None and standing.exact and len(standing.classes) == 1 and not self.is_guessed \
            and not self.fails


def evaluate(teardown: Teardown, method: Method, times: ActiveTimes, plans: AllPlanned | None = None) -> Verdict:
    """Score a teardown by a method. The method's convention is used; where it is silent, the document's.

    `plans` are shared by methods that are evaluated together.
    """
    planned = (plans or AllPlanned(lambda _: times)).of(teardown, method.settings(teardown.settings))
    return evaluate_planned(Look(teardown=teardown, method=method, planned=planned))


def evaluate_planned(look: Look) -> Verdict:
    method = look.method
    readings = readings_of(method)
    low, high = scores(look, Chooser(readings, best=False)), scores(look, Chooser(readings, best=True))
    criteria = tuple(_both(criterion, low[criterion.id], high[criterion.id], criterion.parts or method.part_weights)
                     for criterion in method.criteria)
    criteria = tuple(replace(score, evidence=(*score.evidence, *of_parts.beside(
        look, score.criterion.evidence, Chooser(readings, best=False)))) if score.criterion.evidence else score
        for score in criteria)
    index = _index(method, criteria)
    plans = {part: look.planned.plan(part) for role in roles_of(method) for part in look.planned.parts_with(role)}
    assumed = dict.fromkeys(id_ for part, plan in plans.items()
                            for id_ in assumed_on(look.planned.planner_of(part), plan))
    classes = method.classes_of(*index) if method.kind == INDEX and not any(score.fails for score in criteria) else ()
    return Verdict(method=method, convention=look.planned.settings, index=index, classes=classes, criteria=criteria,
                   unknowns=_unknowns(look), assumed=tuple(assumed), plans=plans,
                   known={part: look.planned.known(part) for part in plans})


def readings_of(method: Method, **said: object) -> dict[str, object]:
    """How a text that is silent is read: as shipped, or as `said`."""
    return {silent.id: said.get(silent.id, silent.values[0]) for silent in method.silent if not silent.sets}


def roles_of(method: Method) -> tuple[str, ...]:
    """Roles of the parts that a method looks at."""
    return tuple(dict.fromkeys([*method.part_weights, *(role for one in method.criteria for role in one.parts)]))


def weighted_index(method: Method, points: Mapping[str, float]) -> float:
    """The index: the sum of weight times points over the method's criteria."""
    return sum(criterion.weight * points[criterion.id] for criterion in method.criteria)


def assumed_on(planner: Planner, plan: Plan) -> list[str]:
    """Things in a plan that rest on a guess which nobody has confirmed."""
    return unconfirmed(planner, plan) if plan.feasible else []


# -- points, with everything that is open settled in one way

class OneScore(Struct, frozen=True, kw_only=True):
    """Points of a criterion, and of its parts: role, part, points with grounds."""

    whole: Scored
    parts: tuple[tuple[str, str, Scored], ...] = ()


def scores(look: Look, choose: Chooser) -> dict[str, OneScore]:
    """Points of all criteria."""
    return {criterion.id: score_of(look, criterion, choose) for criterion in look.method.criteria}


def score_of(look: Look, criterion: Criterion, choose: Chooser) -> OneScore:
    """Points of one criterion; of one of the parts the weighted sum, in a profile the worst of them."""
    if not criterion.is_of_parts:
        return OneScore(whole=of_all.MEASURES[criterion.measure](look, criterion, choose))
    weights = criterion.parts or look.method.part_weights
    parts = tuple((role, *role_score(look, criterion, role, choose)) for role in weights
                  if look.method.kind == INDEX or look.planned.parts_with(role))
    if look.method.kind == INDEX:
        value = sum(weights[role] * scored.value for role, _, scored in parts)
    else:
        known = [scored.value for _, _, scored in parts if not math.isnan(scored.value)]
        value = (min(known) if criterion.letters else math.fsum(known) / len(known)) if known else math.nan
    return OneScore(whole=Scored(value=value), parts=parts)


def role_score(look: Look, criterion: Criterion, role: str, choose: Chooser) -> tuple[str, Scored]:
    """The part of a role that counts, and its points: of several the worst, unless the text is read otherwise."""
    parts = look.planned.parts_with(role)
    if not parts:
        return "", _no_part(look, criterion, role, choose)
    scored = [(part, _part_score(look, criterion, role, part, choose)) for part in parts]
    best_counts = choose.reading("several") == BEST
    # Of figures, seconds and the like, the least is the best.
    most_is_best = look.method.kind == INDEX or bool(criterion.letters)
    return (max if best_counts == most_is_best else min)(scored, key=lambda row: row[1].value)


def _no_part(look: Look, criterion: Criterion, role: str, choose: Chooser) -> Scored:
    """Unknown where no part has the role; where it was said that there is none, as the text is read."""
    method = look.method
    given = look.answer("absent", role)
    if given is None or given.value is not True:
        levels = whole_or_ends(*method.scale, whole=True)
        return Scored(value=choose(Source(kind=NO_PART, role=role), levels), grounds=(Ground(code="no-part"),))
    least = choose.reading("absent_part") == LEAST
    return Scored(value=method.scale[0 if least else 1],
                  grounds=(Ground(code="absent", basis=given.basis, value=given.source),))


def _part_score(look: Look, criterion: Criterion, role: str, part: str, choose: Chooser) -> Scored:
    if criterion.per_part:
        return answer(look, criterion, choose, role, part)
    plan = look.planned.plan(part)
    if not plan.feasible:
        ground = Ground(code="never-free", things=plan.blocked_by)
        worst = look.method.scale[0] if look.method.kind == INDEX else 0.0 if criterion.letters else math.nan
        return Scored(value=worst, grounds=(ground,), fails=True)
    return of_parts.MEASURES[criterion.measure](look, criterion, role, part, choose)


def _both(criterion: Criterion, low: OneScore, high: OneScore, weights: Mapping[str, float]) -> CriterionScore:
    parts = tuple(PartScore(role=role, part=part, weight=weights[role],
                            points=_ordered(scored.value, other.value), evidence=scored.grounds,
                            fails=scored.fails or other.fails)
                  for (role, part, scored), (_, _, other) in zip(low.parts, high.parts))
    return CriterionScore(criterion=criterion, points=_ordered(low.whole.value, high.whole.value), parts=parts,
                          evidence=low.whole.grounds, fails=low.whole.fails and high.whole.fails)


def _ordered(one: float, other: float) -> Points:
    return (one, other) if not other < one else (other, one)


def _index(method: Method, criteria: Iterable[CriterionScore]) -> Points:
    by_id = {score.criterion.id: score.points for score in criteria}
    if method.kind == INDEX:
        return (weighted_index(method, {id_: low for id_, (low, _) in by_id.items()}),
                weighted_index(method, {id_: high for id_, (_, high) in by_id.items()}))
    return by_id.get(method.headline, (0.0, 0.0))


# -- what is missing

def sources_of(look: Look, readings: Mapping[str, object]) -> dict[Source, tuple[int, int | None]]:
    """Everything that points ask a chooser about: how many levels, and which of them is given (None: it is open)."""
    noting = Noting(readings)
    scores(look, noting)
    noting.turn()  # an end of one may hide the question of another
    scores(look, noting)
    return noting.asked


def index_of(look: Look, choose: Chooser) -> float:
    """The index with everything settled by a chooser."""
    return weighted_index(look.method, {id_: one.whole.value for id_, one in scores(look, choose).items()})


def _unknowns(look: Look) -> tuple[Unknown, ...]:
    if look.method.kind != INDEX:
        return ()
    readings = readings_of(look.method)
    found: dict[tuple[str, str], float] = {}
    for source, (levels, given) in sources_of(look, readings).items():
        if given is None:
            low, high = (index_of(look, Picked(readings, {source: place}, best=False)) for place in (0, levels - 1))
            key = (source.criterion or source.kind, source.role)
            found[key] = found.get(key, 0.0) + abs(high - low)
    return tuple(sorted((Unknown(criterion=criterion, role=role, spread=spread)
                         for (criterion, role), spread in found.items() if spread > 1e-12), key=lambda u: -u.spread))

