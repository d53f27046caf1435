"""How well a record ends in the truth: strictly, where the depth is exact and the way shown is possible in truth."""

from __future__ import annotations

import math
from collections.abc import Mapping

from msgspec import Struct

from oddbolt.effort.times import KnownTimes
from oddbolt.model.things import Teardown
from oddbolt.rules.device_state import DeviceState
from oddbolt.rules.structure import Structure
from oddbolt.search.planner import Plan, Planner
from scripts.study.truth import Hidden, apply_all

Z95 = 1.959964  # of the normal distribution
RECORDED, EXACT, STRICT, NEVER = "recorded", "exact", "strict", "never"


class Part(Struct, kw_only=True):
    """One priority part of one device."""

    archetype: int
    part: str
    true_steps: int
    steps: int | None = None  # by the record; None: not on record, or never free by it
    is_on_record: bool = False
    is_never_free: bool = False
    is_possible: bool = False  # the way shown, in truth

    @property
    def is_exact(self) -> bool:
        return self.steps == self.true_steps

    @property
    def is_strict(self) -> bool:
        return self.is_exact and self.is_possible


def priority_parts(hidden: Hidden) -> list[str]:
    """Every part that matters, whether it was recorded, forgotten or only told."""
    return [thing.id for thing in hidden.things.values() if thing.roles]


def planner_of(teardown: Teardown) -> Planner:
    return Planner(teardown, KnownTimes(teardown))


def judge(hidden: Hidden, teardown: Teardown, hidden_of: Mapping[str, str]) -> list[Part]:
    """Each priority part of the device, by the plan of the record."""
    truth, record = planner_of(hidden.truth()), planner_of(teardown)
    own = {true: one for one, true in hidden_of.items() if one in record.structure.removals}
    found = []
    for id_ in priority_parts(hidden):
        part = Part(archetype=hidden.archetype, part=id_, true_steps=truth.plan([id_]).count.steps)
        if id_ in own:
            part.is_on_record = True
            plan = record.plan([own[id_]])
            part.is_never_free = not plan.feasible
            if plan.feasible and plan.count is not None:
                part.steps = plan.count.steps
                part.is_possible = is_possible(truth.structure, plan, hidden_of, id_)
        found.append(part)
    return found


def is_possible(structure: Structure, plan: Plan, hidden_of: Mapping[str, str], target: str) -> bool:
    """Whether the way of a record, done word by word on the true device, takes the part off."""
    state = DeviceState(structure)
    for operation in plan.sequence:
        true = hidden_of.get(operation.part or operation.joint, "")
        if true not in structure.releases and true not in structure.removals:
            return False  # what is to be done does not exist
        if not state.is_in_place(true):
            continue
        if state.obstacles_of(true):
            return False
        apply_all(state, structure, true)
    return target in state.removed


def share(right: int, number: int) -> str:
    """A share with its 95 % interval after E. B. Wilson, J. Am. Stat. Assoc. 22 (1927) 209-212, from memory."""
    if not number:
        return "–"
    p, z2 = right / number, Z95 ** 2
    middle = (p + z2 / (2 * number)) / (1 + z2 / number)
    half = Z95 * math.sqrt(p * (1 - p) / number + z2 / (4 * number ** 2)) / (1 + z2 / number)
    return f"{p:.1%} ({middle - half:.1%} to {middle + half:.1%})"
