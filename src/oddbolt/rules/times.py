"""Active times as the rest of the program is handed them: what is known of one, and who is asked.

The planner does not know how they were found; `effort` fills the protocol.
"""

from __future__ import annotations

from typing import Protocol

from msgspec import Struct

MEASURED, ENTERED, ESTIMATED = "measured", "entered", "estimated"


class Estimate(Struct, frozen=True, kw_only=True):
    """Active seconds of an act or a removal, with how they are known."""

    seconds: float
    low_s: float
    high_s: float
    basis: str  # measured, entered or estimated
    source: str  # what was measured, or the method with its reference
    readings: int = 0


class ActiveTimes(Protocol):
    """Seconds of work of each act and of each removal."""

    def act_s(self, joint: str, way: int, act: int) -> float: ...

    def removal_s(self, part: str) -> float: ...
