"""Active times as they are best known: measured in the log, else entered, else estimated; at a pace if one is told."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from statistics import median

from msgspec.structs import replace

from oddbolt.catalog.defaults import verb_of, ways_of
from oddbolt.catalog.tables import table
from oddbolt.effort.estimates import LIFT, TO_95, estimate_act, estimate_lift
from oddbolt.effort.pace import Pace, paced
from oddbolt.model.things import Act, LogEntry, Teardown
from oddbolt.rules.replay import readings
from oddbolt.rules.times import ENTERED, MEASURED, Estimate

Key = tuple[str, int, int]  # joint, way, act; or part, -1, act of its lift


class KnownTimes:
    """Times of one snapshot; hands the planner its seconds and the interface where they come from."""

    def __init__(self, teardown: Teardown, *, entered_only: bool = False,
                 paces: Mapping[str, Pace] | None = None) -> None:
        """`entered_only` leaves the log out; `paces` by verb correct what is estimated (effort/pace.py)."""
        self._teardown = teardown
        self._paces = paces or {}
        self._ways = {joint.id: ways_of(teardown, joint) for joint in teardown.joints}
        self._measured: dict[Key, list[float]] = {}
        if not entered_only:
            for entry in readings(teardown):
                self._read(entry)
        self._kept: dict[Key, Estimate] = {}

    def act_s(self, joint: str, way: int, act: int) -> float:
        return self.act(joint, way, act).seconds

    def removal_s(self, part: str, act: int = 0) -> float:
        return self.removal(part, act).seconds

    def act(self, joint: str, way: int, act: int) -> Estimate:
        key = (joint, way, act)
        if key not in self._kept:
            self._kept[key] = self._from_readings(key) or self._without_log(*key)
        return self._kept[key]

    def removal(self, part: str, act: int = 0) -> Estimate:
        return self.act(part, -1, act)

    def measured(self) -> Mapping[Key, list[float]]:
        """Seconds read from the log, by act and removal."""
        return self._measured

    def estimated(self, key: Key) -> Estimate:
        """The estimate alone, whatever was entered or measured, at no pace."""
        thing, way, act = key
        if way < 0:
            return estimate_lift(self._teardown.part[thing], act)
        return estimate_act(self._teardown, self._teardown.joint[thing], self._ways[thing][way], act)

    def _without_log(self, thing: str, way: int, act: int) -> Estimate:
        record = self._acts(thing, way)[act]
        if record.active_s is not None:
            return _entered(record.active_s, record.does or LIFT if way < 0
                            else verb_of(self._teardown.joint[thing], record))
        return paced(self.estimated((thing, way, act)), self._paces)

    def _acts(self, thing: str, way: int) -> Sequence[Act]:
        """Of a way of a joint; below 0 of the lift of a part."""
        return self._teardown.part[thing].lift if way < 0 else self._ways[thing][way].acts

    def _from_readings(self, key: Key) -> Estimate | None:
        seconds = self._measured.get(key)
        if not seconds:
            return None
        reading = table("effort.toml")["spread"]["reading"]
        found = _spread(median(seconds), reading * math.sqrt(1 + 1 / len(seconds)), MEASURED, "the log",
                        self.estimated(key).verb)
        return replace(found, readings=len(seconds))

    def _read(self, entry: LogEntry) -> None:
        """Take the seconds of an entry; without `act` they are shared over the acts of the way or the lift, in
        proportion."""
        if entry.seconds is None or entry.outcome != "ok" or entry.thing is None:
            return
        if entry.do == "remove" and entry.thing in self._teardown.part:
            way = -1
        elif entry.do == "release" and (entry.way or 0) < len(self._ways.get(entry.thing, ())):
            way = entry.way or 0
        else:
            return
        acts = range(len(self._acts(entry.thing, way)))
        if entry.act is not None:
            acts = [entry.act] if entry.act in acts else []
        weights = [self._without_log(entry.thing, way, act).seconds for act in acts]
        total = sum(weights)
        for act, weight in zip(acts, weights):
            share = weight / total if total else 1 / len(weights)
            self._measured.setdefault((entry.thing, way, act), []).append(entry.seconds * share)


def _entered(seconds: float, verb: str) -> Estimate:
    return _spread(seconds, table("effort.toml")["spread"]["entered"], ENTERED, "entered", verb)


def _spread(seconds: float, sd: float, basis: str, source: str, verb: str) -> Estimate:
    """A figure of the person whose times these are: off by itself, not together with others."""
    factor = math.exp(TO_95 * sd)
    return Estimate(seconds=seconds, low_s=seconds / factor, high_s=seconds * factor, basis=basis, source=source,
                    verb=verb)
