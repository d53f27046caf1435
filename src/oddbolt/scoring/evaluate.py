"""One evaluator for every method: points with the rule that gave them and the evidence, ranges where facts are unknown.

Evidence is given as codes and ids; the interface words it.
"""

from __future__ import annotations

from collections.abc import Iterable

from msgspec import Struct

from oddbolt.catalog.tables import tool_row
from oddbolt.model.things import HAND, Answer, Settings, Teardown, Way
from oddbolt.rules.device_state import act_of
from oddbolt.rules.times import ActiveTimes
from oddbolt.scoring.method import Criterion, Method, Points
from oddbolt.search.planner import Plan, Planner
from oddbolt.studies.retelling import GUESSED, known_without_plans, unconfirmed

WORST_FIRST = ("destroyed", "removable", "resupplied", "reusable")


class Ground(Struct, frozen=True, kw_only=True):
    """What points rest on: a code (depth, fastener, tool, answer, unanswered, no-part, ...), ids, and a figure."""

    code: str
    things: tuple[str, ...] = ()
    value: str = ""
    basis: str = ""
    known: str = ""  # of a depth: how known its way is


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

    @property
    def is_open(self) -> bool:
        return self.points[0] != self.points[1]


class Unknown(Struct, frozen=True, kw_only=True):
    """A fact that is missing, and how much of the index's range it causes."""

    criterion: str
    role: str
    spread: float


class Verdict(Struct, frozen=True, kw_only=True):
    method: Method
    convention: Settings
    index: Points
    classes: tuple[str, ...]  # all that the index may still fall in, best first
    criteria: tuple[CriterionScore, ...]
    unknowns: tuple[Unknown, ...]  # largest spread first
    assumed: tuple[str, ...]  # ids on the ways whose basis is assumed
    plans: dict[str, Plan]  # part -> its way, under the method's convention
    known: dict[str, str]  # part -> how known that way is (studies.retelling)

    @property
    def is_guessed(self) -> bool:
        """Whether some way that points rest on is a guess that nobody has looked at."""
        return GUESSED in self.known.values()

    @property
    def is_firm(self) -> bool:
        """One class, over all that is unknown; never while it rests on a guessed way."""
        return len(self.classes) == 1 and not self.is_guessed


def evaluate(teardown: Teardown, method: Method, times: ActiveTimes) -> Verdict:
    """Score a teardown by a method. The method's convention is used; where it is silent, the document's."""
    settings = method.settings(teardown.settings)
    planner = Planner(teardown, times, settings)
    by_role = {role: [part.id for part in teardown.parts if role in part.role and part.id in planner.structure.present]
               for role in method.part_weights}
    plans = {part: planner.plan([part]) for parts in by_role.values() for part in parts}
    criteria = tuple(_criterion_score(teardown, method, criterion, planner, by_role, plans)
                     for criterion in method.criteria)
    low = weighted_index(method, {score.criterion.id: score.points[0] for score in criteria})
    high = weighted_index(method, {score.criterion.id: score.points[1] for score in criteria})
    best, worst = method.class_of(high), method.class_of(low)
    names = [name for name, _ in method.classes]
    classes = tuple(names[names.index(best):names.index(worst) + 1])
    known = {part: known_without_plans(planner, plan) for part, plan in plans.items()}
    assumed = dict.fromkeys(id_ for plan in plans.values() for id_ in assumed_on(planner, plan))
    return Verdict(method=method, convention=settings, index=(low, high), classes=classes, criteria=criteria,
                   unknowns=_unknowns(criteria), assumed=tuple(assumed), plans=plans, known=known)


def weighted_index(method: Method, points: dict[str, float]) -> float:
    """The index: the sum of weight times points over the method's criteria."""
    return sum(criterion.weight * points[criterion.id] for criterion in method.criteria)


def assumed_on(planner: Planner, plan: Plan) -> list[str]:
    """Things in a plan that rest on a guess which nobody has confirmed."""
    return unconfirmed(planner, plan) if plan.feasible else []


def _unknowns(criteria: Iterable[CriterionScore]) -> tuple[Unknown, ...]:
    found = []
    for score in criteria:
        if score.parts:
            found.extend(Unknown(criterion=score.criterion.id, role=part.role,
                                 spread=score.criterion.weight * part.weight * (part.points[1] - part.points[0]))
                         for part in score.parts)
        else:
            found.append(Unknown(criterion=score.criterion.id, role="",
                                 spread=score.criterion.weight * (score.points[1] - score.points[0])))
    return tuple(sorted((u for u in found if u.spread > 1e-12), key=lambda u: -u.spread))


def _criterion_score(teardown: Teardown, method: Method, criterion: Criterion, planner: Planner,
                     by_role: dict[str, list[str]], plans: dict[str, Plan]) -> CriterionScore:
    if criterion.measure == "answer":
        points, evidence = _answered(teardown, method, criterion)
        return CriterionScore(criterion=criterion, points=points, parts=(), evidence=(evidence,))
    scores = tuple(_part_score(teardown, method, criterion, planner, role, parts, plans)
                   for role, parts in by_role.items())
    return CriterionScore(criterion=criterion, parts=scores, points=(
        sum(score.weight * score.points[0] for score in scores),
        sum(score.weight * score.points[1] for score in scores)))


def _part_score(teardown: Teardown, method: Method, criterion: Criterion, planner: Planner, role: str,
                parts: list[str], plans: dict[str, Plan]) -> PartScore:
    """The worst of several parts with one role; unknown where none has it (the rule for absent parts is not known)."""
    weight = method.part_weights[role]
    if not parts:
        if (answer := _answer(teardown, method, "absent", role)) is not None and answer.value is True:
            return PartScore(role=role, part="", weight=weight, points=(method.scale[1],) * 2,
                             evidence=(Ground(code="absent", basis=answer.basis, value=answer.source),))
        return PartScore(role=role, part="", weight=weight, points=method.scale, evidence=(Ground(code="no-part"),))
    measure = {"depth": _by_depth, "fasteners": _by_fasteners, "tools": _by_tools}[criterion.measure]
    scored = []
    for part in parts:
        if not plans[part].feasible:
            evidence = Ground(code="never-free", things=plans[part].blocked_by)
            scored.append((method.scale[0], method.scale[0], part, (evidence,), True))
            continue
        points, found, fails = measure(method, criterion, planner, plans[part])
        scored.append((points[0], points[1], part, found, fails))
    low, high, part, evidence, _ = min(scored, key=lambda row: row[:2])
    return PartScore(role=role, part=part, weight=weight, points=(low, high), evidence=evidence,
                     fails=any(row[4] for row in scored))


Measured = tuple[Points, tuple[Ground, ...], bool]


def _by_depth(method: Method, criterion: Criterion, planner: Planner, plan: Plan) -> Measured:
    def points(steps: float) -> float:
        return next((given for limit, given in criterion.table if steps <= limit), criterion.beyond)

    steps = plan.value
    value = str(steps) if plan.optimal else f"{plan.lower_bound} to {steps}"
    return ((points(steps), points(plan.lower_bound)),
            (Ground(code="depth", things=plan.targets, value=value,
                      basis="proven" if plan.optimal else "bounded", known=known_without_plans(planner, plan)),), False)


def fastener_class(way: Way) -> str:
    """The class of the fixing that a way undoes, in the regulation's words."""
    if way.reuse == "reusable":
        return "reusable"
    if way.resupplied:
        return "resupplied"
    return "removable" if way.reuse == "renew" else "destroyed"


def _by_fasteners(method: Method, criterion: Criterion, planner: Planner, plan: Plan) -> Measured:
    found: dict[str, list[str]] = {}
    for operation in plan.sequence:
        if operation.part or operation.act:
            continue
        if planner.teardown.joint[operation.joint].kind not in criterion.leave_out:
            way, _ = act_of(planner.structure, operation)
            found.setdefault(fastener_class(way), []).append(operation.joint)
    worst = next((name for name in WORST_FIRST if name in found), "reusable")
    points = criterion.fails.get(worst) or criterion.points[worst]
    evidence = Ground(code="fastener", things=tuple(found.get(worst, ())), value=worst)
    return points, (evidence,), worst in criterion.fails


def _by_tools(method: Method, criterion: Criterion, planner: Planner, plan: Plan) -> Measured:
    given = {tool.id: tool.tool_class for tool in planner.teardown.tools if tool.tool_class}
    rows: list[tuple[Points, str, str]] = []
    for tool in tools_of(planner, plan, with_hand=True) or [HAND]:  # a part that is free as it is
        tool_class = given.get(tool) or tool_row(tool).tool_class
        points = criterion.fails.get(tool_class) or criterion.points.get(tool_class) or method.scale
        rows.append((points, tool_class, tool))
    low = min(row[0][0] for row in rows)
    high = min(row[0][1] for row in rows)
    worst = [row for row in rows if row[0][0] == low or row[0][1] == high]
    evidence = tuple(Ground(code="tool", things=(tool,), value=tool_class) for _, tool_class, tool in worst)
    return (low, high), evidence, any(tool_class in criterion.fails for _, tool_class, _ in rows)


def tools_of(planner: Planner, plan: Plan, *, with_hand: bool = False) -> list[str]:
    """Tools of a plan in order of first use, further ones (`also`) included."""
    tools: dict[str, None] = {}
    for timed in plan.count.timed if plan.count else ():
        operation = timed.operation
        also = planner.structure.removals[operation.part].part.also if operation.part \
            else act_of(planner.structure, operation)[1].also
        for tool in (timed.tool, *also):
            if with_hand or tool != "hand":
                tools[tool] = None
    return list(tools)


def _answer(teardown: Teardown, method: Method, criterion: str, part: str | None = None) -> Answer | None:
    found = [answer for answer in teardown.answers if answer.method == method.id and answer.criterion == criterion
             and answer.part == part]
    return found[-1] if found else None


def _answered(teardown: Teardown, method: Method, criterion: Criterion) -> tuple[Points, Ground]:
    answer = _answer(teardown, method, criterion.id)
    if answer is None or answer.value is None:
        return method.scale, Ground(code="unanswered")
    evidence = Ground(code="answer", value=str(answer.value), basis=answer.basis, things=(answer.source,))
    value = answer.value
    if criterion.words:
        points = criterion.words.get(value) if isinstance(value, str) else None
    elif criterion.at_least:
        points = next((given for limit, given in criterion.at_least if _is_number(value) and value >= limit), None)
    else:
        points = value if _is_number(value) and method.scale[0] <= value <= method.scale[1] else None
    if points is None:
        return method.scale, Ground(code="answer-not-understood", value=str(value), basis=answer.basis)
    return (float(points), float(points)), evidence


def _is_number(value: object) -> bool:
    return isinstance(value, (int, float)) and not isinstance(value, bool)
