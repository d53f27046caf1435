"""Active times as they are best known: measured in the log, else entered, else estimated."""

from __future__ import annotations

from oddbolt.catalog.defaults import ways_of
from oddbolt.effort.estimates import estimate_act, estimate_removal
from oddbolt.model.things import LogEntry, Teardown
from oddbolt.rules.replay import readings
from oddbolt.rules.times import ENTERED, MEASURED, Estimate


class KnownTimes:
    """Times of one snapshot; hands the planner its seconds and the interface where they come from."""

    def __init__(self, teardown: Teardown, *, entered_only: bool = False) -> None:
        self._teardown = teardown
        self._ways = {joint.id: ways_of(teardown, joint) for joint in teardown.joints}
        self._measured: dict[tuple[str, int, int], list[float]] = {}
        if not entered_only:
            for entry in readings(teardown):
                self._read(entry)
        self._kept: dict[tuple[str, int, int], Estimate] = {}

    def act_s(self, joint: str, way: int, act: int) -> float:
        return self.act(joint, way, act).seconds

    def removal_s(self, part: str) -> float:
        return self.removal(part).seconds

    def act(self, joint: str, way: int, act: int) -> Estimate:
        key = (joint, way, act)
        if key not in self._kept:
            self._kept[key] = self._from_readings(key) or self._without_log(joint, way, act)
        return self._kept[key]

    def removal(self, part: str) -> Estimate:
        key = (part, -1, 0)
        if key not in self._kept:
            record = self._teardown.part[part]
            unmeasured = estimate_removal(record) if record.active_s is None else _entered(record.active_s)
            self._kept[key] = self._from_readings(key) or unmeasured
        return self._kept[key]

    def _without_log(self, joint: str, way: int, act: int) -> Estimate:
        record = self._teardown.joint[joint]
        act_record = self._ways[joint][way].acts[act]
        if act_record.active_s is not None:
            return _entered(act_record.active_s)
        fastener = self._teardown.fastener.get(record.fastener) if record.fastener else None
        return estimate_act(record, act_record, fastener)

    def _from_readings(self, key: tuple[str, int, int]) -> Estimate | None:
        seconds = self._measured.get(key)
        if not seconds:
            return None
        from statistics import median

        return Estimate(seconds=median(seconds), low_s=min(seconds), high_s=max(seconds), basis=MEASURED,
                        source="the log", readings=len(seconds))

    def _read(self, entry: LogEntry) -> None:
        """Take the seconds of an entry; without `act` they are shared over the acts of the way, in proportion."""
        if entry.seconds is None or entry.outcome != "ok" or entry.thing is None:
            return
        if entry.do == "remove" and entry.thing in self._teardown.part:
            self._measured.setdefault((entry.thing, -1, 0), []).append(entry.seconds)
        if entry.do != "release" or entry.thing not in self._ways:
            return
        way = entry.way or 0
        if way >= len(self._ways[entry.thing]):
            return
        acts = range(len(self._ways[entry.thing][way].acts))
        if entry.act is not None:
            acts = [entry.act] if entry.act in acts else []
        weights = [self._without_log(entry.thing, way, act).seconds for act in acts]
        total = sum(weights)
        for act, weight in zip(acts, weights):
            share = weight / total if total else 1 / len(weights)
            self._measured.setdefault((entry.thing, way, act), []).append(entry.seconds * share)


def _entered(seconds: float) -> Estimate:
    return Estimate(seconds=seconds, low_s=seconds, high_s=seconds, basis=ENTERED, source="entered")
