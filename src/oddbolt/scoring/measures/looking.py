"""What measures are handed, what they give back, and what several of them look at."""

from __future__ import annotations

from msgspec import Struct

from oddbolt.model.things import Answer, Teardown, Way
from oddbolt.rules.device_state import act_of, releases, way_of
from oddbolt.scoring.choosing import ANSWER, LIMITS, ROW, TIE, Chooser, Source
from oddbolt.scoring.method import Criterion, Method
from oddbolt.scoring.planned import Planned
from oddbolt.search.planner import Plan, Planner

WORST_FIRST = ("destroyed", "removable", "resupplied", "reusable")


class Ground(Struct, frozen=True, kw_only=True):
    """What points rest on: a code (depth, fastener, tool, answer, unanswered, no-part, ...), ids, and a figure."""

    code: str
    things: tuple[str, ...] = ()
    value: str = ""
    basis: str = ""
    known: str = ""  # of a depth: how known its way is


class Scored(Struct, frozen=True, kw_only=True):
    """What a measure gives: points (or a figure), the grounds, and whether no class of the method fits."""

    value: float
    grounds: tuple[Ground, ...] = ()
    fails: bool = False


class Look(Struct, frozen=True, kw_only=True):
    """A record under a method: the ways to its priority parts."""

    teardown: Teardown
    method: Method
    planned: Planned

    def answer(self, criterion: str, part: str | None = None) -> Answer | None:
        found = [answer for answer in self.teardown.answers if answer.method == self.method.id
                 and answer.criterion == criterion and answer.part == part]
        return found[-1] if found else None

    def number(self, criterion: str, part: str | None = None) -> float | None:
        """An answer that is a number; None where it is missing or none."""
        answer = self.answer(criterion, part)
        return float(answer.value) if answer is not None and is_number(answer.value) else None


def is_number(value: object) -> bool:
    return isinstance(value, (int, float)) and not isinstance(value, bool)


def by_table(criterion: Criterion, value: float, choose: Chooser) -> Scored:
    """Points of a figure by the criterion's table: at most so many, or at least."""
    if criterion.at_least:
        found = next(((limit, given) for limit, given in criterion.at_least if value >= limit), None)
        if found is None:
            return Scored(value=criterion.at_least[-1][1] if criterion.below is None else criterion.below,
                          fails=criterion.below is None)
        return Scored(value=doubted(criterion, f"{found[0]:g}", found[1], choose))
    shift = 0.0
    if criterion.doubt_limits:
        off = criterion.doubt_limits
        shift = choose(Source(kind=ROW, criterion=criterion.id, name=LIMITS), (-off, 0.0, off), 0.0)
    return Scored(value=next((given for limit, given in criterion.table if value <= limit + shift), criterion.beyond))


def doubted(criterion: Criterion, row: str, given: float, choose: Chooser) -> float:
    """Points of a row; where it is not high, one of those that it may have."""
    if row not in criterion.doubt:
        return given
    low, high = criterion.doubt[row]
    levels = sorted({low, given, high})
    return float(choose(Source(kind=ROW, criterion=criterion.id, name=row), levels, given))


def whole_or_ends(low: float, high: float, whole: bool) -> tuple[float, ...]:
    """Levels from `low` to `high`: all whole ones, or the ends and the middle."""
    if whole:
        return tuple(float(n) for n in range(round(low), round(high) + 1))
    return low, (low + high) / 2, high


def missing(criterion: Criterion, method: Method, choose: Chooser, ground: Ground, role: str = "",
            part: str = "") -> Scored:
    """Points where an answer is missing: anywhere on what the criterion can give."""
    if criterion.words:
        levels = tuple(sorted(set(criterion.words.values())))
    elif criterion.at_least:
        levels = tuple(sorted({given for _, given in criterion.at_least}))
        if criterion.below is not None:
            levels = tuple(sorted({*levels, criterion.below}))
    else:
        levels = whole_or_ends(*method.scale, whole=criterion.whole)
    source = Source(kind=ANSWER, criterion=criterion.id, role=role, things=(part,) if part else ())
    return Scored(value=float(choose(source, levels)), grounds=(ground,))


def released(planner: Planner, plan: Plan) -> list[tuple[str, Way]]:
    """Joints that a plan releases, with the ways it takes, in order."""
    return [(operation.joint, way_of(planner.structure, operation)) for operation in plan.sequence
            if releases(planner.structure, operation)]


def fastener_classes(planner: Planner, joint_id: str, way: Way, part: str) -> tuple[str, ...]:
    """Classes that the fixing undone by a way may have on the way to a part, worst first, in the regulation's words.

    A fixing is resupplied to the part whose spare brings it; where it is only known that some spare does, that is
    certain of the parts that the joint ties and open for any other.
    """
    if way.reuse == "reusable":
        return ("reusable",)
    otherwise = "removable" if way.reuse == "renew" else "destroyed"
    if way.resupplied is True:
        return ("resupplied",) if part in planner.teardown.joint[joint_id].of else (otherwise, "resupplied")
    if way.resupplied and part in way.resupplied:
        return ("resupplied",)
    return (otherwise,)


def fasteners_on(look: Look, criterion: Criterion, role: str, part: str, choose: Chooser, *,
                 film_counts: bool) -> dict[str, list[str]]:
    """Class of fastener -> joints of that class on the way to a part."""
    plan, planner = look.planned.plan(part), look.planned.planner_of(part)
    found: dict[str, list[str]] = {}
    for joint, way in released(planner, plan):
        kind = planner.teardown.joint[joint].kind
        if kind in criterion.leave_out and not (kind == "film" and film_counts):
            continue
        classes = fastener_classes(planner, joint, way, part)
        class_ = classes[0] if len(classes) == 1 else choose(
            Source(kind=TIE, criterion=criterion.id, role=role, things=(joint, part)), classes)
        found.setdefault(class_, []).append(joint)
    return found


def tools_of(planner: Planner, plan: Plan, *, with_hand: bool = False) -> list[str]:
    """Tools of a plan in order of first use, further ones (`also`) included."""
    tools: dict[str, None] = {}
    for timed in plan.count.timed if plan.count else ():
        for tool in (timed.tool, *act_of(planner.structure, timed.operation).also):
            if with_hand or tool != "hand":
                tools[tool] = None
    return list(tools)
