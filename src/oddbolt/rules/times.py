"""Active times as the rest of the program is handed them: what is known of one, and who is asked.

The planner does not know how they were found; `effort` fills the protocol.
"""

from __future__ import annotations

from typing import Protocol

from msgspec import Struct

MEASURED, ENTERED, ESTIMATED = "measured", "entered", "estimated"


class Estimate(Struct, frozen=True, kw_only=True):
    """Active seconds of an act or a removal, with how they are known: nine times of ten they lie from `low_s` to
    `high_s`. What is estimated is off together: `shared_var` of the variance of the logarithm by the same factor in all
    acts of a person, `verb_var` in all of one verb."""

    seconds: float
    low_s: float
    high_s: float
    basis: str  # measured, entered or estimated
    source: str  # what was measured, or the method with its reference
    readings: int = 0
    verb: str = ""
    shared_var: float = 0.0
    verb_var: float = 0.0


class ActiveTimes(Protocol):
    """Seconds of work of each act of a joint's ways, and of each lift."""

    def act_s(self, joint: str, way: int, act: int) -> float: ...

    def removal_s(self, part: str, act: int = 0) -> float: ...

    def act(self, joint: str, way: int, act: int) -> Estimate: ...

    def removal(self, part: str, act: int = 0) -> Estimate: ...
