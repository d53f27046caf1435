"""What two photographs of a state say was done, in terms of the record: proposals, and nothing that is recorded yet."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct

from oddbolt.knowledge.covering import contains
from oddbolt.model.places import Spot, middle_of
from oddbolt.model.things import Mark

SEEN = "seen"  # basis of what is taken over
# Marked heads that went, some of a group or all; another joint on record, where something changed; a part on record
# that came off; a part that is not; heads, and a small thing, that nobody had marked; what a part that is off by the
# record had covered; a cable, or what else merely lies elsewhere now; what held a part that came off, as no photograph
# shows.
OUT, OPENED, OFF, NEW_OFF, HEADS, SMALL, UNCOVERED, MOVED, HELD = (
    "out", "opened", "off", "new-off", "heads", "small", "uncovered", "moved", "held")
LIFTS = (OFF, NEW_OFF)
NEAR = 0.10  # of its own size: so far outside of what came off lies what held it
Outline = tuple[Spot, ...]


class Look(Struct, frozen=True, kw_only=True):
    """How something looked before it went: by what others like it are told."""

    size_mm: tuple[float, float]  # the longer side and the shorter one
    colour: tuple[float, float, float]


class Seen(Struct, frozen=True, kw_only=True):
    """One thing that was seen. Places are pixels of the whole photographs."""

    code: str
    thing: str = ""  # on record
    others: tuple[str, ...] = ()  # that had covered a place together with it
    places: tuple[int, ...] = ()  # marks of the photograph before that went; empty: all of the thing
    before: Outline = ()  # on the photograph before
    after: Outline = ()  # on the one that shows the state now
    spots: Outline = ()  # of heads, on the photograph before
    kind: str = ""  # a kind of part, a row of the kinds of joints, a letter; empty: to be said
    of_kind: str = ""  # of what held a part: the kind of that
    is_sure: bool = True
    is_drawn: bool = False  # of a part that came off: `before` is its outline on record, as no change shows its edge
    look: Look | None = None

    @property
    def wants_kind(self) -> bool:
        return self.code in (NEW_OFF, HEADS, SMALL) and not self.kind

    @property
    def middle(self) -> Spot:
        return middle_of(self.spots or self.before)


def found_again(mark: Mark, marks: Sequence[Mark]) -> int | None:
    """The place of a mark among those of the same photograph now: by where it lies, since a group may have been split
    and its marks numbered anew; of one that was moved by what it is of. None where it was taken away."""
    there = next((n for n, one in enumerate(marks) if (one.x, one.y) == (mark.x, mark.y)), None)
    if there is not None:
        return there
    return next((n for n, one in enumerate(marks) if (one.thing, one.n) == (mark.thing, mark.n)), None)


def is_about(outline: Outline, one: Seen) -> bool:
    """Whether something lies within what came off, or at its edge."""
    around = one.spots or ((one.middle,) if one.before else ())
    if not outline or not around:
        return False
    wider = widened(outline, NEAR)
    return sum(contains(wider, spot) for spot in around) > len(around) / 2


def widened(outline: Outline, share: float) -> Outline:
    """An outline drawn larger about its middle."""
    x, y = middle_of(outline)
    return tuple((x + (u - x) * (1 + 2 * share), y + (v - y) * (1 + 2 * share)) for u, v in outline)
