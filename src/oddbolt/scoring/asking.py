"""What a method asks for that no other key of a record holds: answers, marks, rates, and whose spare brings a
fixing."""

from __future__ import annotations

from msgspec import Struct

from oddbolt.model.things import Teardown
from oddbolt.scoring.evaluate import roles_of
from oddbolt.scoring.measures.looking import Look, released
from oddbolt.scoring.measures.marks import LEVELS, LIFT, U_EFFORT, tasks_of
from oddbolt.scoring.method import Criterion, Method

WHOLE_RATES = ("labour_rate", "product_price")
PART_RATES = ("spare_price", "consumables")
CHANCE = "chance_of_failure"


class Ask(Struct, frozen=True, kw_only=True):
    """One answer: of which criterion, for which part (None: the device), and what can be answered."""

    criterion: str
    part: str | None = None
    words: tuple[str, ...] = ()  # one of these
    numbers: tuple[float, ...] = ()  # one of these
    low: float = 0.0  # else a number from `low` to `high`
    high: float = 1e9
    of: Criterion | None = None  # the criterion itself, where it is one


class FixingAsk(Struct, frozen=True, kw_only=True):
    """Which spares bring new fixing for a joint: the priority parts on whose ways it is undone."""

    joint: str
    parts: tuple[str, ...]
    known: tuple[str, ...]  # said, or certain since the joint ties them
    is_said: bool  # a person has said which; else what is not known to is open


def asks(look: Look) -> list[Ask]:
    """All answers that the method can use of this record, those of the device first."""
    method, found, of_parts = look.method, list[Ask](), list[Ask]()
    parts = [part for role in roles_of(method) for part in look.planned.parts_with(role)]
    for criterion in method.criteria:
        if criterion.per_part:
            of_parts += [_answer(method, criterion, part) for part in (None, *parts)]
        elif criterion.measure == "answer":
            found.append(_answer(method, criterion))
        elif criterion.measure == "by_verb":
            found += [one for one in _marks(look, criterion, parts) if one not in found]
        elif criterion.measure == "cost":
            found += [Ask(criterion=name) for name in WHOLE_RATES]
            of_parts += [Ask(criterion=name, part=part) for part in parts for name in PART_RATES]
        elif criterion.measure == "repair_effort":
            of_parts += [Ask(criterion=CHANCE, part=part, high=1.0) for part in parts]
    return [*found, *of_parts]


def _answer(method: Method, criterion: Criterion, part: str | None = None) -> Ask:
    if criterion.words:
        return Ask(criterion=criterion.id, part=part, words=tuple(criterion.words), of=criterion)
    if criterion.at_least:
        lowest = round(criterion.at_least[-1][0])
        return Ask(criterion=criterion.id, part=part, of=criterion,
                   numbers=tuple(map(float, range(max(0, lowest - 5), round(criterion.at_least[0][0]) + 4))))
    low, high = method.scale
    if criterion.whole:
        return Ask(criterion=criterion.id, part=part, numbers=tuple(map(float, range(round(low), round(high) + 1))),
                   of=criterion)
    return Ask(criterion=criterion.id, part=part, low=low, high=high, of=criterion)


def _marks(look: Look, criterion: Criterion, parts: list[str]) -> list[Ask]:
    verbs = dict.fromkeys(verb for part in parts if look.planned.plan(part).feasible for verb in tasks_of(look, part))
    worst, _, best = LEVELS[criterion.formula]
    return [Ask(criterion=verb, low=best, high=worst) for verb in verbs
            if not (criterion.formula == U_EFFORT and verb == LIFT)]


def fixing_asks(look: Look) -> list[FixingAsk]:
    """Joints of which it is known only that some spare brings new fixing, and that other parts' ways undo too."""
    on_ways: dict[str, list[str]] = {}
    for role in roles_of(look.method):
        for part in look.planned.parts_with(role):
            planner, plan = look.planned.planner_of(part), look.planned.plan(part)
            for joint, way in released(planner, plan):
                if way.resupplied is True or isinstance(way.resupplied, tuple):
                    on_ways.setdefault(joint, []).append(part)
    return [FixingAsk(joint=joint, parts=tuple(dict.fromkeys(parts)), known=_known(look.teardown, joint, parts),
                      is_said=_said(look.teardown, joint) is not None)
            for joint, parts in on_ways.items() if set(parts) - set(look.teardown.joint[joint].of)]


def _said(teardown: Teardown, joint: str) -> tuple[str, ...] | None:
    """The spares that a person has named; None where it is only known that some bring it."""
    return next((way.resupplied for way in teardown.joint[joint].ways if isinstance(way.resupplied, tuple)), None)


def _known(teardown: Teardown, joint: str, parts: list[str]) -> tuple[str, ...]:
    said = _said(teardown, joint)
    return said if said is not None else tuple(part for part in teardown.joint[joint].of if part in parts)


def absent_roles(look: Look) -> list[str]:
    """Roles that no part of the record has."""
    return [role for role in roles_of(look.method) if not look.planned.parts_with(role)]
