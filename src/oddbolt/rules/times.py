"""Active times as the rest of the program is handed them: what is known of one, and who is asked.

The planner does not know how they were found; `effort` fills the protocol.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

MEASURED, ENTERED, ESTIMATED = "measured", "entered", "estimated"


@dataclass(frozen=True, slots=True, kw_only=True)
class Estimate:
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
