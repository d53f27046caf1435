"""What follows from one snapshot: found when first asked for, thrown away with it."""

from __future__ import annotations

from oddbolt.effort.times import KnownTimes
from oddbolt.model.things import Teardown
from oddbolt.reassembly.tally import BoltTally, tally_bolts
from oddbolt.rules.counting import Count
from oddbolt.rules.device_state import Obstacle, Operation
from oddbolt.rules.replay import Replay, replay
from oddbolt.scoring.evaluate import Verdict, evaluate
from oddbolt.scoring.method import load_method
from oddbolt.search.planner import Planner
from oddbolt.session.commands import current_pass


class Derived:
    """Results computed from one snapshot when first asked for; thrown away with it."""

    def __init__(self, teardown: Teardown) -> None:
        self.teardown = teardown
        self._planner: Planner | None = None
        self._verdicts: dict[str, Verdict] = {}
        self._replay: Replay | None = None
        self._tally: BoltTally | None = None

    @property
    def planner(self) -> Planner:
        if self._planner is None:
            self._planner = Planner(self.teardown, KnownTimes(self.teardown))
        return self._planner

    @property
    def replay(self) -> Replay:
        """The latest pass of the log, to its end."""
        if self._replay is None:
            self._replay = replay(self.teardown, self.planner.structure, current_pass(self.teardown))
        return self._replay

    @property
    def performed(self) -> Count:
        """What the latest pass comes to by the rules: its steps, times and live acts."""
        planner = self.planner
        return self.replay.counted(planner.structure, planner.convention, planner.times)

    def obstacles(self, thing: str) -> list[Obstacle]:
        """Why the rules would not allow the thing to be released or lifted now."""
        structure, bench = self.planner.structure, self.replay.state
        if thing in structure.removals:
            return bench.obstacles(Operation(part=thing))
        if thing in structure.releases:
            ways = range(len(structure.releases[thing].ways))
            return min((bench.obstacles(Operation(thing, way, 0)) for way in ways), key=len)
        return []

    @property
    def tally(self) -> BoltTally:
        if self._tally is None:
            self._tally = tally_bolts(self.teardown)
        return self._tally

    def verdict(self, method: str) -> Verdict:
        if method not in self._verdicts:
            self._verdicts[method] = evaluate(self.teardown, load_method(method), KnownTimes(self.teardown))
        return self._verdicts[method]

    def priority_parts(self) -> list[str]:
        """Parts with a role, in file order."""
        present = self.planner.structure.present
        return [part.id for part in self.teardown.parts if part.role and part.id in present]
