"""A whole piece of work: putting the device back as it lies there, or replacing a part, with what it takes."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.effort.sums import Interval, total
from oddbolt.reassembly.inventory import parts_to_order
from oddbolt.reassembly.ledger import ledger_of
from oddbolt.reassembly.rebuilding.putting_back import (
    FIT,
    WAY_IN,
    Off,
    PuttingBack,
    Step,
    instruction_for,
    off_by_log,
    off_by_sequence,
    procedure_for,
    put_back,
)
from oddbolt.reassembly.rebuilding.shopping import Shopping, shopping
from oddbolt.rules.times import Estimate
from oddbolt.search.planner import STEPS, Plan, Planner
from oddbolt.studies.replacement import replacement


class Job(Struct, frozen=True, kw_only=True):
    """What is off, the plan of putting it back, what that takes and how long. `way_in` is None where the device lies
    open already; `untimed` are steps of which no time is known."""

    off: tuple[Off, ...]
    plan: PuttingBack
    shopping: Shopping
    time: Interval
    untimed: int
    part: str = ""  # that is replaced
    way_in: Plan | None = None


class Replacing(Struct, frozen=True, kw_only=True):
    """Replacing a part: where it is not recorded what its spare brings along, if it brings all, and if nothing."""

    few: Job
    many: Job

    @property
    def is_range(self) -> bool:
        return self.few.off != self.many.off


def whole_job(planner: Planner) -> Job:
    """Everything that is off by the log goes back."""
    teardown = planner.teardown
    off = tuple(off_by_log(teardown))
    plan = put_back(teardown, off, instruction_for(teardown), spares=parts_to_order(teardown, planner.structure))
    rows = ledger_of(teardown).rows
    missing = {row.letter: row.open - row.loose for row in rows if row.open > row.loose}
    return _job(planner, off, plan, shopping(teardown, plan, off, missing))


def replacing(planner: Planner, part: str) -> Replacing | None:
    """Way in, swap and way back; None where the part cannot be taken off."""
    part = planner.structure.stand_in[part]
    found = replacement(planner, part, STEPS)
    if not found.few.feasible or not found.many.feasible:
        return None
    many = _replaced(planner, part, found.many)
    return Replacing(few=many if found.few.sequence == found.many.sequence else _replaced(planner, part, found.few),
                     many=many)


def _replaced(planner: Planner, part: str, way_in: Plan) -> Job:
    teardown = planner.teardown
    off = tuple(off_by_sequence(way_in.sequence))
    plan = put_back(teardown, off, instruction_for(teardown, part), spares=(part,), reason=WAY_IN)
    if procedure_for(teardown, part) is None:
        plan = replace(plan, unplaced=())  # entries for the whole device that this does without
    return _job(planner, off, plan, shopping(teardown, plan, off), part, way_in)


def _job(planner: Planner, off: Sequence[Off], plan: PuttingBack, list_: Shopping, part: str = "",
         way_in: Plan | None = None) -> Job:
    time, untimed = time_back(planner, plan.steps)
    return Job(off=tuple(off), plan=plan, shopping=list_, time=time, untimed=untimed, part=part, way_in=way_in)


def tool_of_step(planner: Planner, step: Step) -> str:
    """The tool that a step is done with: of what went the other way."""
    release = planner.structure.releases.get(step.thing)
    if release is None:
        return ""
    return release.ways[step.way].acts[-1].tool


def time_back(planner: Planner, steps: Sequence[Step]) -> tuple[Interval, int]:
    """How long the steps take, and of how many no time is known. A part goes in, and a joint is closed, in the time
    that its lift, and the last act of its release, took (ours: no source gives assembly times for these); holds and
    waits are as told, changes of tool the convention's."""
    estimates: list[Estimate] = []
    fixed_s, untimed, tool = 0.0, 0, ""
    for step in steps:
        estimate = _estimate(planner, step)
        told_s = _told_s(step)
        fixed_s += told_s
        if estimate is not None:
            estimates.append(estimate)
        elif not told_s:
            untimed += 1
        own = tool_of_step(planner, step)
        if own and own != tool:
            fixed_s += planner.convention.settings.tool_change_s if tool else 0
            tool = own
    return total(estimates, fixed_s), untimed


def _estimate(planner: Planner, step: Step) -> Estimate | None:
    if step.do == FIT and step.thing in planner.structure.removals:
        return planner.times.removal(step.thing, len(planner.structure.removals[step.thing].acts) - 1)
    release = planner.structure.releases.get(step.thing)
    if release is None or step.do not in ("fasten", "route"):
        return None
    return planner.times.act(step.thing, step.way, len(release.ways[step.way].acts) - 1)


def _told_s(step: Step) -> float:
    """Seconds of holding, pressing and waiting that an instruction tells."""
    if step.refit is None:
        return 0.0
    repeat = step.refit.repeat
    held = repeat.min * sum(repeat.each_s) / len(repeat.each_s) if repeat is not None and repeat.each_s else 0.0
    return held + step.refit.wait_s
