"""Measures of one priority part: each gives points, or a figure, by the way to the part."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

from oddbolt.catalog.tables import tool_row
from oddbolt.model.things import HAND
from oddbolt.scoring.choosing import BOUND, ESTIMATE, ROW, TOOL, Chooser, Source
from oddbolt.scoring.measures.edim import edim
from oddbolt.scoring.measures.looking import (
    WORST_FIRST,
    Ground,
    Look,
    Scored,
    by_table,
    doubted,
    fasteners_on,
    is_number,
    missing,
    released,
    tools_of,
)
from oddbolt.scoring.measures.marks import by_verb
from oddbolt.scoring.method import Criterion

Measure = Callable[[Look, Criterion, str, str, Chooser], Scored]


def depth(look: Look, criterion: Criterion, role: str, part: str, choose: Chooser) -> Scored:
    """Steps to the part; where they are only bounded, anything from the bound to what was found."""
    plan = look.planned.plan(part)
    steps = plan.value if plan.optimal else choose(
        Source(kind=BOUND, role=role, things=(part,)), tuple(range(plan.value, plan.lower_bound - 1, -1)))
    value = str(plan.value) if plan.optimal else f"{plan.lower_bound} to {plan.value}"
    ground = Ground(code="depth", things=plan.targets, value=value, basis="proven" if plan.optimal else "bounded",
                    known=look.planned.known(part))
    scored = by_table(criterion, steps, choose) if criterion.table or criterion.at_least else Scored(value=steps)
    return Scored(value=scored.value, grounds=(ground, _time_ground(look, part)))


def _time_ground(look: Look, part: str) -> Ground:
    took = look.planned.time(part)
    return Ground(code="time", things=(part,), basis=took.basis,
                  value=f"{took.seconds:.0f},{took.low_s:.0f},{took.high_s:.0f}")


def fasteners(look: Look, criterion: Criterion, role: str, part: str, choose: Chooser) -> Scored:
    """The worst fastener on the way."""
    found = fasteners_on(look, criterion, role, part, choose, film_counts=choose.reading("film_is_fastener") is True)
    worst = next((name for name in WORST_FIRST if name in found), "reusable")
    low, _ = criterion.fails.get(worst) or criterion.points[worst]
    return Scored(value=doubted(criterion, worst, low, choose), fails=worst in criterion.fails,
                  grounds=(Ground(code="fastener", things=tuple(found.get(worst, ())), value=worst),))


def tools(look: Look, criterion: Criterion, role: str, part: str, choose: Chooser) -> Scored:
    """The worst tool on the way; a tool of a class that is not known may have any."""
    plan, planner = look.planned.plan(part), look.planned.planner_of(part)
    given = {tool.id: tool.tool_class for tool in look.teardown.tools if tool.tool_class}
    rows: list[tuple[float, str, str]] = []
    for tool in tools_of(planner, plan, with_hand=True) or [HAND]:  # a part that is free as it is
        row = tool_row(tool)
        class_ = row.en45554 if criterion.tools_by == "en45554" else row.tool_class
        class_ = given.get(tool, class_) if criterion.tools_by == "class" or class_ == "unknown" else class_
        rows.append((_tool_points(look, criterion, class_, tool, choose), class_, tool))
    worst = min(points for points, _, _ in rows)
    return Scored(value=worst, fails=any(class_ in criterion.fails for _, class_, _ in rows), grounds=tuple(
        Ground(code="tool", things=(tool,), value=class_) for points, class_, tool in rows if points == worst))


def _tool_points(look: Look, criterion: Criterion, class_: str, tool: str, choose: Chooser) -> float:
    points = criterion.fails.get(class_) or criterion.points.get(class_)
    if points is None:
        ends = [end for pair in criterion.points.values() for end in pair]
        levels = tuple(sorted(set(ends))) or look.method.scale
        return float(choose(Source(kind=TOOL, criterion=criterion.id, things=(tool,)), levels))
    low, high = points
    if low != high:
        return float(choose(Source(kind=ROW, criterion=criterion.id, name=class_), (low, high)))
    return doubted(criterion, class_, low, choose)


def tool_count(look: Look, criterion: Criterion, role: str, part: str, choose: Chooser) -> Scored:
    """How many different tools the way takes, the bare hand aside."""
    used = tools_of(look.planned.planner_of(part), look.planned.plan(part))
    return _figure(criterion, len(used), choose, Ground(code="tool-count", things=tuple(used), value=str(len(used))))


def renewals(look: Look, criterion: Criterion, role: str, part: str, choose: Chooser) -> Scored:
    """How many joints on the way have to be renewed."""
    planner = look.planned.planner_of(part)
    found = tuple(joint for joint, way in released(planner, look.planned.plan(part)) if way.reuse != "reusable")
    return _figure(criterion, len(found), choose, Ground(code="renewals", things=found, value=str(len(found))))


def destroyed(look: Look, criterion: Criterion, role: str, part: str, choose: Chooser) -> Scored:
    """How many joints on the way are destroyed."""
    planner = look.planned.planner_of(part)
    found = tuple(joint for joint, way in released(planner, look.planned.plan(part)) if way.reuse == "destroyed")
    return _figure(criterion, len(found), choose, Ground(code="destroyed", things=found, value=str(len(found))))


def in_the_way(look: Look, criterion: Criterion, role: str, part: str, choose: Chooser) -> Scored:
    """How many other parts come off on the way."""
    found = tuple(dict.fromkeys(o.part for o in look.planned.plan(part).sequence if o.part and o.part != part))
    return _figure(criterion, len(found), choose, Ground(code="in-the-way", things=found, value=str(len(found))))


def time(look: Look, criterion: Criterion, role: str, part: str, choose: Chooser) -> Scored:
    """How long the way takes, s; anywhere in its interval."""
    took = look.planned.time(part)
    value = choose(Source(kind=ESTIMATE, role=role, things=(part,)), (took.high_s, took.seconds, took.low_s),
                   took.seconds)
    return _figure(criterion, value, choose, _time_ground(look, part))


def fact(look: Look, criterion: Criterion, role: str, part: str, choose: Chooser) -> Scored:
    """A figure or a word that was noted down of the part."""
    found = next((one for one in look.teardown.part[part].facts if one.name == criterion.fact), None)
    if found is None:
        lacks = Ground(code="no-fact", things=(part,), value=criterion.fact)
        return missing(criterion, look.method, choose, lacks, role)
    ground = Ground(code="fact", things=(part,), value=f"{found.value} {found.unit}".strip(), basis=found.basis)
    if criterion.words and str(found.value) in criterion.words:
        return Scored(value=doubted(criterion, str(found.value), criterion.words[str(found.value)], choose),
                      grounds=(ground,))
    if is_number(found.value) and (criterion.table or criterion.at_least):
        return _figure(criterion, float(found.value), choose, ground)
    return missing(criterion, look.method, choose, Ground(code="answer-not-understood", value=str(found.value)), role)


def cost(look: Look, criterion: Criterion, role: str, part: str, choose: Chooser) -> Scored:
    """Cost of replacing the part: labour by its time, the spare, consumables; with a product price, their share of it.

    Rates and prices are the user's; without the labour rate or the price of the spare there is no figure.
    """
    rate, spare = look.number("labour_rate"), look.number("spare_price", part)
    if rate is None or spare is None:
        lacks = "labour_rate" if rate is None else "spare_price"
        return Scored(value=float("nan"), grounds=(Ground(code="no-rate", things=(part,), value=lacks),))
    consumables = look.number("consumables", part) or 0.0
    many = look.planned.replacement(part).many
    seconds = many.count.time_ms / 1000 if many.count else look.planned.time(part).seconds
    whole = rate * seconds / 3600 + spare + consumables
    price = look.number("product_price")
    value = f"{whole:.2f}" if price is None else f"{whole:.2f},{whole / price:.3f}"
    return _figure(criterion, whole, choose, Ground(code="cost", things=(part,), value=value, basis="told"))


def _figure(criterion: Criterion, value: float, choose: Chooser, ground: Ground) -> Scored:
    """Points by the table of the criterion, or the figure itself where it has none."""
    if not criterion.table and not criterion.at_least:
        return Scored(value=float(value), grounds=(ground,))
    scored = by_table(criterion, value, choose)
    return Scored(value=scored.value, fails=scored.fails, grounds=(ground,))


def beside(look: Look, names: Sequence[str], choose: Chooser) -> Iterator[Ground]:
    """Evidence that stands beside a mark of the user's: steps, tools and fasteners of the priority parts."""
    for part in (part for role in look.method.part_weights for part in look.planned.parts_with(role)):
        plan, planner = look.planned.plan(part), look.planned.planner_of(part)
        if not plan.feasible:
            continue
        for name in names:
            if name == "depth":
                yield Ground(code="depth-of", things=(part,), value=str(plan.value))
            elif name == "tools":
                yield Ground(code="tools-of", things=(part, *tools_of(planner, plan)))
            elif name == "fasteners":
                found = fasteners_on(look, _PLAIN, "", part, choose, film_counts=False)
                worst = next((name for name in WORST_FIRST if name in found), "reusable")
                yield Ground(code="fasteners-of", things=(part, *found.get(worst, ())), value=worst)


_PLAIN = Criterion(id="", name="", weight=0, measure="fasteners", rule="", confidence="ours",
                   leave_out=("film", "routing", "swing", "contact"))
MEASURES: dict[str, Measure] = {
    "depth": depth, "fasteners": fasteners, "tools": tools, "tool_count": tool_count, "renewals": renewals,
    "destroyed": destroyed, "time": time, "fact": fact, "in_the_way": in_the_way, "cost": cost, "edim": edim,
    "by_verb": by_verb}
