"""Putting back what was taken off, by a learner: each choice is judged by what it would close over, and torques by the
instruction of the record."""

from __future__ import annotations

from msgspec import Struct

from oddbolt.catalog.torque import BREAKING, IMPOSSIBLE
from oddbolt.model.things import Teardown
from oddbolt.reassembly.bolts import torques
from oddbolt.reassembly.rebuilding.putting_back import instruction_for
from oddbolt.reassembly.tightening import torque_ncm
from oddbolt.rules.device_state import DeviceState
from oddbolt.search.planner import Plan, Planner

FINE, COVERS, NOT_YET, IN_PLACE = "fine", "covers", "not-yet", "in-place"
TORQUE_SHARE = 0.1  # a figure that is no further off counts as known: common practice, no source


class Placed(Struct, frozen=True, kw_only=True):
    """What putting a thing in now was; `things` would be closed over, or are in its way."""

    thing: str
    code: str
    things: tuple[str, ...] = ()


class PuttingIn:
    """From the end of a way back to the closed device."""

    def __init__(self, planner: Planner, plan: Plan) -> None:
        self._structure = planner.structure
        self.state = DeviceState(planner.structure)
        for operation in plan.sequence:
            self.state.apply(operation)
        self.placed: list[Placed] = []
        self.torques = torques_of(planner.teardown)

    @property
    def off(self) -> list[str]:
        return [*self.state.released, *self.state.removed]

    def choose(self, thing: str) -> Placed:
        """Put a thing in; it stays out where that is wrong."""
        found = self._judge(thing)
        self.placed.append(found)
        if found.code == FINE:
            self.state.put_back(thing)
        return found

    def _judge(self, thing: str) -> Placed:
        if self.state.is_in_place(thing):
            return Placed(thing=thing, code=IN_PLACE)
        apart = self._ties_what_is_off(thing)
        if apart:
            return Placed(thing=thing, code=NOT_YET, things=apart)
        after = self.state.copy()
        after.put_back(thing)
        own = tuple(one for obstacle in after.obstacles_of(thing) for one in obstacle.things)
        if own:  # taken off again at once it would not come: it went in too late, or what it ties is not there
            return Placed(thing=thing, code=NOT_YET, things=own)
        covered = tuple(other for other in self.off if other != thing and self._is_closed_over(after, other))
        return Placed(thing=thing, code=COVERS, things=covered) if covered else Placed(thing=thing, code=FINE)

    def _ties_what_is_off(self, thing: str) -> tuple[str, ...]:
        """Parts that a joint ties and that are not there yet; none where all of them lie together outside."""
        release = self._structure.releases.get(thing)
        if release is None or any(release.of <= assembly for assembly, _ in self.state.lifted):
            return ()
        return tuple(part for part in release.joint.of if any(part in assembly for assembly, _ in self.state.lifted))

    def _is_closed_over(self, after: DeviceState, other: str) -> bool:
        """Whether a thing could not go in any more that still can now."""
        then, now = after.copy(), self.state.copy()
        then.put_back(other)
        now.put_back(other)
        return bool([one for one in then.obstacles_of(other) if one.code == "hidden"]) and not [
            one for one in now.obstacles_of(other) if one.code == "hidden"]

    @property
    def is_closed(self) -> bool:
        return not self.off

    def is_right_torque(self, thing: str, ncm: float) -> bool | None:
        """None where the record tells none."""
        told = self.torques.get(thing)
        return None if told is None else abs(ncm - told) <= TORQUE_SHARE * told


def torques_of(teardown: Teardown) -> dict[str, float]:
    """Of each group of screws the last torque of the instruction, N·cm; none that would break them is taught."""
    break_ = {one.joint for one in torques(teardown) if one.check is not None
              and one.check.verdict in (IMPOSSIBLE, BREAKING)}
    found = {}
    for entry in instruction_for(teardown):
        values = [ncm for one in entry.passes if (ncm := torque_ncm(one))]
        if entry.thing and values and entry.thing not in break_:
            found[entry.thing] = values[-1]
    return found
