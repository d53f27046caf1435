"""Disassembly time after eDiM: six columns in TMU, summed and converted once.

References:
[1] P. Vanegas et al., Study for a method to assess the ease of disassembly of electrical and electronic equipment, JRC
    report EUR 27921 (2016); P. Vanegas et al., Resources, Conservation and Recycling 135 (2018) 323-334; from memory.
What our records map to (count to connector positions, turn to product manipulation, lift to removing) is ours. eDiM has
no row for adhesives and solder: what is held by them is not measurable, and said.
"""

from __future__ import annotations

import functools
import math
from typing import Any

from msgspec import Struct

from oddbolt.catalog import tables
from oddbolt.catalog.tables import read_toml
from oddbolt.effort.estimates import screw_turns
from oddbolt.rules.counting import ANY_SIDE
from oddbolt.scoring.choosing import Chooser
from oddbolt.scoring.measures.looking import Ground, Look, Scored
from oddbolt.scoring.method import Criterion


class Columns(Struct, frozen=True, kw_only=True):
    """TMU of one row of the worksheet."""

    tool_change: int = 0
    identify: int = 0
    manipulate: int = 0
    position: int = 0
    disconnect: int = 0
    remove: int = 0

    @property
    def tmu(self) -> int:
        return self.tool_change + self.identify + self.manipulate + self.position + self.disconnect + self.remove


@functools.cache
def _edim() -> dict[str, Any]:
    return read_toml("oddbolt.scoring", "edim.toml")


def row(*, connectors: int = 0, tool_change: bool = False, hidden: int = 0, manipulations: int = 0,
        precise: bool = False, disconnect_tmu: int = 0, remove: bool = False) -> Columns:
    """A row of the worksheet [1]: connectors to position and disconnect, hidden ones to identify first."""
    tmu = _edim()["tmu"]
    return Columns(tool_change=tmu["tool_change"] if tool_change else 0, identify=hidden * tmu["identify_hidden"],
                   manipulate=manipulations * tmu["manipulate"],
                   position=connectors * tmu["position_precise" if precise else "position"],
                   disconnect=connectors * disconnect_tmu, remove=tmu["remove"] if remove else 0)


def edim(look: Look, criterion: Criterion, role: str, part: str, choose: Chooser) -> Scored:
    """Seconds by eDiM for the way to a part; what it has no row for is named and counts nothing."""
    planner, plan = look.planned.planner_of(part), look.planned.plan(part)
    kinds = _edim()["kind"]
    total, outside, seen = 0, [], set[str]()
    tool, side = None, None
    for timed in plan.count.timed if plan.count else ():
        operation = timed.operation
        changes = timed.kind.tool_class is not None and timed.kind.tool_class != tool
        turns = timed.kind.side != ANY_SIDE and side not in (None, timed.kind.side)
        tool, side = timed.kind.leaves(tool, side)
        if operation.part:
            total += row(tool_change=changes, manipulations=turns, remove=timed.kind.is_removal).tmu
            continue
        joint = planner.teardown.joint[operation.joint]
        kind = kinds.get(joint.kind)
        total += row(tool_change=changes, manipulations=turns).tmu
        if kind is None or operation.joint in seen:
            outside += [operation.joint] if kind is None and operation.joint not in outside else []
            continue
        seen.add(operation.joint)
        disconnect = _by_hand_tmu(look, operation.joint) if joint.kind == "screw" \
            and timed.tool not in tables.screw_practice().powered else kind["disconnect_tmu"]
        total += row(connectors=joint.count or 1, precise=kind["precise"], disconnect_tmu=disconnect).tmu
    seconds = total * tables.seconds_per_tmu()
    grounds = [Ground(code="edim", things=(part,), value=f"{total},{seconds:.1f}")]
    if outside:
        grounds.append(Ground(code="edim-outside", things=tuple(outside)))
    return Scored(value=seconds, grounds=tuple(grounds))


def _by_hand_tmu(look: Look, joint_id: str) -> int:
    """A screw by hand: the report's rows are for powered drivers, so the column of the MOST card by turns is used."""
    joint = look.teardown.joint[joint_id]
    fastener = look.teardown.fastener.get(joint.fastener) if joint.fastener else None
    return 10 * tables.most_index("finger_spins", math.ceil(screw_turns(fastener)))
