"""What listeners are told after a change is on disk."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from oddbolt.model.label import Label
from oddbolt.model.touched import EVERYTHING, Touched

DONE, UNDONE, REDONE, OPENED = "done", "undone", "redone", "opened"


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """`touched` says which records and keys of them; computed once, where the document compares."""

    label: Label
    kind: str
    touched: Touched = EVERYTHING

    def touches(self, sections: Iterable[str]) -> bool:
        return self.touched.any_of(sections)
