"""In which order, and in how many rounds, the screws of a group are tightened.

As written in the refit where it is; else by one of two schools: one round in the given order, or all loosely first and
then tight. Without a given order the screws are taken crosswise, each as far as can be from the one before: common
practice, no source. The maker's instructions come first.
"""

from __future__ import annotations

import math

from msgspec import Struct

from oddbolt.catalog.torque import newton_metres
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Mark, Teardown, Tightening, View

GIVEN, LOOSELY_FIRST = "given", "loosely-first"
STARTED, TIGHT = "started", "tight"


class Round(Struct, frozen=True, kw_only=True):
    """One pass over the screws: numbers of their marks in order, how far, and with what torque where that is told."""

    level: str
    order: tuple[int, ...]
    torque: float | None = None
    unit: str = ""


class TighteningPlan(Struct, frozen=True, kw_only=True):
    """Rounds, and where they come from: refit, order (of the joint), crosswise."""

    joint: str
    view: View
    marks: dict[int, Mark]
    rounds: tuple[Round, ...]
    source: str


def tightening_plan(teardown: Teardown, joint_id: str, school: str = LOOSELY_FIRST) -> TighteningPlan:
    """Raises Refusal where no photograph shows the screws, or they have no numbers."""
    joint = teardown.joint[joint_id]
    view = max((v for v in teardown.views if any(m.thing == joint_id for m in v.marks)),
               key=lambda v: sum(m.thing == joint_id for m in v.marks), default=None)
    marks = {m.n: m for m in view.marks if m.thing == joint_id and m.n is not None} if view is not None else {}
    if view is None or not marks:
        raise Refusal(joint_id, "no-numbered-screws")
    written = next((refit.passes for refit in reversed(teardown.refit)
                    if refit.do == "fasten" and refit.thing == joint_id and refit.passes), ())
    order = tuple(n for n in joint.order if n in marks)
    order += tuple(n for n in sorted(marks) if n not in order) if order else crosswise(marks)
    if written:
        rounds = tuple(Round(level=one.level or TIGHT, torque=torque_of(one)[0], unit=torque_of(one)[1],
                             order=tuple(n for n in one.order if n in marks) or order) for one in written)
        return TighteningPlan(joint=joint_id, view=view, marks=marks, rounds=rounds, source="refit")
    rounds = (Round(level=STARTED, order=order), Round(level=TIGHT, order=order)) if school == LOOSELY_FIRST else \
        (Round(level=TIGHT, order=order),)
    return TighteningPlan(joint=joint_id, view=view, marks=marks, rounds=rounds,
                          source="order" if joint.order else "crosswise")


def crosswise(marks: dict[int, Mark]) -> tuple[int, ...]:
    """From the first mark on, always to the one that is furthest from those just done, the last two counting."""
    left = sorted(marks)
    order = [left.pop(0)]
    while left:
        near = order[-2:]

        def away(n: int, near: list[int] = near) -> float:
            return min(math.dist((marks[n].x, marks[n].y), (marks[m].x, marks[m].y)) * (1 if m == near[-1] else 1.5)
                       for m in near)

        best = max(left, key=lambda n: (round(away(n), 6), -n))
        left.remove(best)
        order.append(best)
    return tuple(order)


def torque_of(one: Tightening) -> tuple[float | None, str]:
    """Value and unit of a round: `torque_ncm`, or `torque` with its `unit` as it was written somewhere else."""
    return (one.torque_ncm, "N·cm") if one.torque_ncm is not None else (one.torque, one.unit)


def torque_ncm(one: Tightening) -> float | None:
    """A torque as written, in N·cm; None where there is none, or its unit is not known."""
    value, unit = torque_of(one)
    try:
        return None if value is None else newton_metres(value, unit) * 100
    except Refusal:
        return None
