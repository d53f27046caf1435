"""What follows from one snapshot: found when first asked for, thrown away with it.

Panels ask here and make nothing of the kind themselves. What takes long is found in a job, by a planner of its own.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from functools import cached_property
from typing import TYPE_CHECKING

from oddbolt.effort.times import KnownTimes
from oddbolt.model.things import Settings, Teardown
from oddbolt.reassembly.ledger import Ledger, ledger_of
from oddbolt.rules.counting import Convention, Count
from oddbolt.rules.device_state import DeviceState, Obstacle
from oddbolt.rules.replay import Replay, current_pass, present_state, replay
from oddbolt.rules.structure import Structure, structure_of

if TYPE_CHECKING:
    from oddbolt.effort.pace import Pace
    from oddbolt.scoring.evaluate import Verdict
    from oddbolt.scoring.planned import AllPlanned
    from oddbolt.search.planner import Plan, Planner

AT_ONCE = 100  # releases and removals of a device whose depths are found before one could see that they were stale
Stop = Callable[[], bool]


class Derived:
    """Results of one snapshot."""

    def __init__(self, teardown: Teardown, paces: Mapping[str, Pace] | None = None) -> None:
        """`paces` by verb, at which times are estimated."""
        self.teardown = teardown
        self.paces: Mapping[str, Pace] = {} if paces is None else paces

    def build(self) -> Derived:
        """Find now what every panel asks for; what cannot be worked with shows here, before it replaces anything."""
        _ = self.state, self.performed, self.ledger
        return self

    @property
    def structure(self) -> Structure:
        return structure_of(self.teardown)

    @property
    def size(self) -> int:
        """How large the device is, to decide what is found at once and what in a job."""
        return len(self.structure.releases) + len(self.structure.removals)

    @cached_property
    def times(self) -> KnownTimes:
        return KnownTimes(self.teardown, paces=self.paces)

    @cached_property
    def convention(self) -> Convention:
        return Convention(self.teardown.settings)

    @cached_property
    def planner(self) -> Planner:
        """For the window's own thread; a job makes its own by `planner_for`."""
        from oddbolt.search.planner import Planner

        return Planner(self.teardown, self.times)

    def planner_for(self, *, settings: Settings | None = None, policies: Iterable[str] = (), stop: Stop | None = None,
                    record: Teardown | None = None) -> Planner:
        """A planner of its own for a job: of this snapshot, or of another record by the same convention."""
        from oddbolt.search.planner import Planner

        record = self.teardown if record is None else record
        return Planner(record, KnownTimes(record, paces=self.paces), settings, stop, policies)

    @cached_property
    def replay(self) -> Replay:
        """The latest pass of the log, to its end."""
        return replay(self.teardown, self.structure, current_pass(self.teardown))

    @cached_property
    def state(self) -> DeviceState:
        """The state of the device at the end of the latest pass."""
        return present_state(self.teardown)

    @cached_property
    def performed(self) -> Count:
        """What the latest pass comes to by the rules: its steps, times and live acts."""
        return self.replay.counted(self.structure, self.convention, self.times)

    @property
    def is_isolated(self) -> bool:
        """Whether all power is cut in the present state; so it is where no isolator is on record."""
        state = self.state
        return state.is_safe(state.released.keys() | state.removed.keys())

    def obstacles(self, thing: str) -> list[Obstacle]:
        """Why the rules would not allow the thing to be released or lifted now."""
        return self.state.obstacles_of(thing)

    @property
    def ledger(self) -> Ledger:
        """Every bolt that came out, and what became of it."""
        return ledger_of(self.teardown)

    @cached_property
    def _known(self) -> dict[tuple[str, ...], str]:
        return {}

    @cached_property
    def _looks(self) -> dict[tuple[str, ...], int]:
        return {}

    def looks_so_far(self, plan: Plan | None, part: str) -> int:
        """At how many looks the way to a part was said to work; none, where no plan is at hand."""
        if plan is None:
            return self._looks.get((part,), 0)
        from oddbolt.studies.retelling import looks_at

        return looks_at(self.planner, plan)

    def known_so_far(self, plan: Plan | None, part: str) -> str:
        """How known the depth of a part is, as far as that is told without further plans: a way that works counts as
        confirmed to be the shortest only once that was found (`keep_known`)."""
        if (part,) in self._known:
            return self._known[part,]
        from oddbolt.studies.retelling import GUESSED, known_without_plans

        return GUESSED if plan is None else known_without_plans(self.planner, plan)

    def keep_known(self, plan: Plan, known: str) -> None:
        """How known the depth of a plan's targets is, as a job has found it."""
        self._known[plan.targets] = known
        self._looks[plan.targets] = self.looks_so_far(plan, plan.targets[0])

    def plans(self, stop: Stop | None = None) -> AllPlanned:
        """Ways for a job that judges by several methods: what they have in common is planned once."""
        from oddbolt.scoring.planned import AllPlanned

        return AllPlanned(lambda record: KnownTimes(record, paces=self.paces), stop)

    def verdict(self, method: str) -> Verdict:
        """By what is missing alone. Takes as long as the depths of all its parts: not for the window's thread."""
        from oddbolt.scoring.evaluate import evaluate
        from oddbolt.scoring.method import load_method

        return evaluate(self.teardown, load_method(method), self.times)

    def priority_parts(self) -> list[str]:
        """Parts with a role, in file order."""
        present = self.structure.present
        return [part.id for part in self.teardown.parts if part.role and part.id in present]
