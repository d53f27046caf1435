"""What could be undone at a moment, as it was drawn round or marked: of what is marked, and of what is marked later."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from msgspec import Struct

from oddbolt.knowledge.covering import UNKNOWN_MM_PER_PX, contains, places_of
from oddbolt.model.things import LogEntry, Teardown


class Reach(Struct, frozen=True, kw_only=True):
    """What could be undone at a moment."""

    number: int  # of things cleared by then
    entry: str
    things: frozenset[str]
    among: frozenset[str] | None  # all that was on record and looked at; None: not told
    view: str  # of what was drawn round
    outline: tuple[tuple[float, float], ...]

    @classmethod
    def of(cls, entry: LogEntry, number: int) -> Reach:
        told = entry.value if isinstance(entry.value, Mapping) else {}
        among = told.get("among")
        return cls(number=number, entry=entry.id, things=frozenset(shown_within_reach(entry)),
                   among=frozenset(texts_of(among)) if isinstance(among, list) else None,
                   view=told["view"] if isinstance(told.get("view"), str) else "",
                   outline=_corners(told.get("outline")))

    def is_without(self, thing: str) -> bool:
        """Whether the thing was on record then and could not be undone."""
        return thing not in self.things and (self.among is None or thing in self.among)

    def shows(self, teardown: Teardown, joint: str) -> bool:
        """Whether a joint that was not on record then was marked later, all of it, within what was drawn round."""
        view = teardown.view.get(self.view)
        if view is None or not self.outline or joint not in teardown.joint or (self.among and joint in self.among):
            return False
        scale = view.mm_per_px or UNKNOWN_MM_PER_PX
        spots = places_of(teardown).spots(joint, view.side)
        return bool(spots) and all(contains(self.outline, (x / scale, y / scale)) for x, y in spots)


def first_met(teardown: Teardown, met: tuple[int, str], reaches: Sequence[Reach], thing: str) -> tuple[int, str]:
    """How much had been cleared when a thing was first within reach, and the entry that shows it: what names it, or an
    earlier one with an area in which it was marked later."""
    return next(((one.number, one.entry) for one in reaches if one.number < met[0] and one.shows(teardown, thing)), met)


def shown_within_reach(entry: LogEntry) -> list[str]:
    if entry.do == "reach":
        return [*entry.things, *([entry.thing] if entry.thing else [])]
    if entry.do in ("release", "remove", "loosen") and entry.thing and not entry.act:
        return [entry.thing]
    return []


def _corners(value: Any) -> tuple[tuple[float, float], ...]:
    """Corners of an area, as far as they are such."""
    rows = value if isinstance(value, list) else []
    found = tuple((row[0], row[1]) for row in rows if isinstance(row, list) and len(row) == 2
                  and all(isinstance(one, (int, float)) for one in row))
    return found if len(found) > 2 else ()


def texts_of(value: Any) -> list[str]:
    return [item for item in value if isinstance(item, str)] if isinstance(value, list) else []
