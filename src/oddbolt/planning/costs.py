"""Where active times come from: the planner is handed them, it does not know how they were found."""

from __future__ import annotations

from typing import Protocol


class ActiveTimes(Protocol):
    """Seconds of work of each act and of each removal."""

    def act_s(self, joint: str, way: int, act: int) -> float: ...

    def removal_s(self, part: str) -> float: ...
