"""What listeners are told after a change is on disk."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """What listeners are told after a change is on disk."""

    label: str
    kind: str  # done, undone, redone, opened
