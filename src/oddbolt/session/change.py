"""What listeners are told after a change is on disk."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec import Struct

from oddbolt.model.label import Label
from oddbolt.model.touched import EVERYTHING, Touched

DONE, UNDONE, REDONE, OPENED = "done", "undone", "redone", "opened"
PACED = "paced"  # nothing is on disk: times are estimated otherwise from now on


class Change(Struct, frozen=True, kw_only=True):
    """`touched` says which records and keys of them; computed once, where the document compares."""

    label: Label
    kind: str
    touched: Touched = EVERYTHING

    def touches(self, sections: Iterable[str]) -> bool:
        return self.touched.any_of(sections)
