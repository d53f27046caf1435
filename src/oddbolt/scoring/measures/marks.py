"""Measures that rest on a person's marks: difficulty by tasks (Kroll, U-effort), an answer, an opinion.

References:
[1] E. Kroll and T. A. Hanft, Quantitative evaluation of product disassembly for recycling, Research in Engineering
    Design 10 (1998) 1-14: time = 1.04 (sum of scores x repetitions - 5 x sum of repetitions) + 0.9 x manipulations, in
    s. The constants from memory (medium); its table of scores is not known: marks are the user's.
[2] R. Sodhi, M. Sonnenberg, S. Das, Journal of Engineering Design 15 (2004) 69-90: t = 5 + 0.04 UFI^2, in s; from
    memory (medium); the attributes of the index are not known: it is the user's.
"""

from __future__ import annotations

from oddbolt.catalog.defaults import verb_of
from oddbolt.rules.device_state import act_of, removes
from oddbolt.scoring.choosing import ANSWER, Chooser, Source
from oddbolt.scoring.measures.looking import Ground, Look, Scored, by_table, doubted, is_number, missing
from oddbolt.scoring.method import Criterion

LIFT = "lift"
KROLL, U_EFFORT = "kroll", "u-effort"
LEVELS = {KROLL: (50.0, 20.0, 5.0), U_EFFORT: (100.0, 30.0, 0.0)}  # of a mark that is missing: worst, middle, best


def kroll_s(scores: float, repetitions: float, manipulations: float) -> float:
    """Seconds from the sum of scores times repetitions, the sum of repetitions, and manipulations [1].

    >>> round(kroll_s(32 + 7, 5, 2), 2)
    16.36
    """
    return 1.04 * (scores - 5 * repetitions) + 0.9 * manipulations


def u_effort_s(index: float) -> float:
    """Seconds to unfasten one fastener of an effort index from 0 to 100 [2].

    >>> u_effort_s(30)
    41.0
    """
    return 5 + 0.04 * index ** 2


def tasks_of(look: Look, part: str) -> dict[str, int]:
    """Verb -> how often it is done on the way to a part; lifts among them."""
    planner, found = look.planned.planner_of(part), dict[str, int]()
    for operation in look.planned.plan(part).sequence:
        if operation.part:
            if not removes(planner.structure, operation):
                continue  # how it is taken hold of belongs to the lift
            found[LIFT] = found.get(LIFT, 0) + (planner.structure.removals[operation.part].part.count or 1)
            continue
        joint = planner.teardown.joint[operation.joint]
        verb = verb_of(joint, act_of(planner.structure, operation))
        found[verb] = found.get(verb, 0) + (joint.count or 1)
    return found


def by_verb(look: Look, criterion: Criterion, role: str, part: str, choose: Chooser) -> Scored:
    """Seconds by the formula of the criterion, from the user's mark for each verb on the way."""
    plan = look.planned.plan(part)
    tasks, lacking = tasks_of(look, part), []
    marks: dict[str, float] = {}
    for verb in tasks:
        mark = look.number(verb)
        if mark is None:
            lacking.append(verb)
            mark = choose(Source(kind=ANSWER, criterion=verb), LEVELS[criterion.formula])
        marks[verb] = float(mark)
    if criterion.formula == KROLL:
        changes, turns = manipulations(look, part)
        value = kroll_s(sum(marks[verb] * n for verb, n in tasks.items()), sum(tasks.values()), changes + turns)
    else:
        value = sum(n * u_effort_s(marks[verb]) for verb, n in tasks.items() if verb != LIFT)
    grounds = [Ground(code="tasks", things=plan.targets, value=", ".join(f"{verb} {n}" for verb, n in tasks.items()))]
    if lacking:
        grounds.append(Ground(code="no-marks", value=", ".join(lacking)))
    return Scored(value=value, grounds=tuple(grounds))


def manipulations(look: Look, part: str) -> tuple[int, int]:
    """Changes of tool, and turns of the device, on the way to a part."""
    changes, turns, tool, side = 0, 0, None, None
    plan = look.planned.plan(part)
    for timed in plan.count.timed if plan.count else ():
        changes += timed.kind.tool_class is not None and tool not in (None, timed.kind.tool_class)
        turns += timed.kind.side != "any" and side not in (None, timed.kind.side)
        tool, side = timed.kind.leaves(tool, side)
    return changes, turns


def answer(look: Look, criterion: Criterion, choose: Chooser, role: str = "", part: str = "") -> Scored:
    """What was answered, in words or by a table; open where it was not."""
    given = look.answer(criterion.id, part or None) or (look.answer(criterion.id) if part else None)
    if given is None or given.value is None:
        return missing(criterion, look.method, choose, Ground(code="unanswered"), role, part)
    value = given.value
    ground = Ground(code="answer", value=str(value), basis=given.basis, things=(given.source,))
    if criterion.words:
        if isinstance(value, str) and value in criterion.words:
            return Scored(value=doubted(criterion, value, criterion.words[value], choose), grounds=(ground,))
    elif is_number(value) and (criterion.at_least or criterion.table):
        scored = by_table(criterion, float(value), choose)
        return Scored(value=scored.value, fails=scored.fails, grounds=(ground,))
    elif is_number(value) and look.method.scale[0] <= value <= look.method.scale[1] \
            and not (criterion.whole and value != int(value)):
        return Scored(value=float(value), grounds=(ground,))
    return missing(criterion, look.method, choose,
                   Ground(code="answer-not-understood", value=str(value), basis=given.basis), role, part)


def mark(look: Look, criterion: Criterion, choose: Chooser) -> Scored:
    """A person's own mark: the whole of the last opinion, or the one in it of the criterion's name, on the scale."""
    low, high = look.method.scale
    for opinion in reversed(look.teardown.opinions):
        for one in [m for m in opinion.marks if m.name == criterion.fact] if criterion.fact else [opinion]:
            if one.mark is not None and one.of:
                ground = Ground(code="mark", value=f"{one.mark:g} / {one.of:g}", basis="told", things=(opinion.by,))
                return Scored(value=low + (high - low) * min(1.0, one.mark / one.of), grounds=(ground,))
    return missing(criterion, look.method, choose, Ground(code="no-mark", value=criterion.fact))
