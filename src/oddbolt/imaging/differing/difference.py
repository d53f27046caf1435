"""What changed between two photographs of one side: which screws went, where something came off, what is hidden.

Good enough to offer and never to record by itself: "unsure" is an answer. The two must be registered first
(`registering`). Arrays in, findings out; the thresholds were chosen on drawn pairs, and scripts/difference_study.py
prints how often each is right on others. The change map is made in `changes`, regions in `regions`, heads in `heads`.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING

from msgspec import Struct

from oddbolt.imaging.differing.changes import HALF, Changes, changes_of
from oddbolt.imaging.differing.heads import GONE, HIDDEN, PRESENT, UNSURE, correlation, verdict
from oddbolt.imaging.differing.outlines import pixels_within
from oddbolt.imaging.differing.regions import CAME_OFF, HEAD, LIGHT, MOVED, SMALL, Region, regions_of
from oddbolt.imaging.registering import Registration

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Pixels = NDArray[np.float32]

__all__ = ["CAME_OFF", "GONE", "HEAD", "HIDDEN", "LIGHT", "MOVED", "PRESENT", "SMALL", "UNSURE", "Difference", "Place",
           "Region", "Screw", "Verdict", "differ"]
HAND, NOT_SAME_SIDE = "hand", "not-same-side"  # why nothing is said
OUTLINE_AGREES = 0.55  # correlation within an outline: under it the part came off, where all round it changed:
RIM_CHANGED = 0.6  # of the outline has a change near by; less is what lay on it, or what it lies beside
RIM_NEAR = 0.05  # of its shorter side: so near, since outlines are drawn by hand
OUTLINE_CHANGED = 0.15  # of what is within at least: what is bare on a bare ground changes at its rim and label alone
LEAST_OUTLINE_PX = 64
PLACE_CHANGED = 0.5  # of what is around a mark
RIM_PX = 5  # half pixels: so near to the rim of what both show
HAND_BEYOND_PX, MOST_HIDDEN = 150, 0.12  # half pixels outside the device; share of it from which nothing is said


class Screw(Struct, frozen=True, kw_only=True):
    """One marked head: its place on before, px, and the radius of its head, px."""

    joint: str
    x: float
    y: float
    radius_px: float
    part: str = ""  # that it holds: where that came off, what held it is out


class Place(Struct, frozen=True, kw_only=True):
    """Another mark: a plug, a film, a clip; px."""

    thing: str
    x: float
    y: float
    radius_px: float


class Verdict(Struct, frozen=True, kw_only=True):
    """What the photographs say of one screw."""

    screw: Screw
    says: str  # GONE, PRESENT, UNSURE or HIDDEN
    head: float  # correlation of the head, -1 to 1
    implied: bool = False  # by the part that came off, not by its head
    ring: float  # likeness of the heads whichever way they are turned, 0 to 1


class Difference(Struct, frozen=True, eq=False, kw_only=True):
    """All that was found. `refused` says why nothing is: `NOT_SAME_SIDE` or `HAND`; else empty."""

    refused: str = ""
    regions: tuple[Region, ...] = ()
    screws: tuple[Verdict, ...] = ()
    lifted: tuple[str, ...] = ()  # of the parts whose outline is known
    changed_at: tuple[str, ...] = ()  # things at whose marks something changed
    hidden_share: float = 0.0  # of the device, under a hand or what else hangs over it

    @property
    def tells_something(self) -> bool:
        """Whether anything is another, beside the light; of heads those that went."""
        return bool(self.lifted or self.changed_at) or any(one.says != LIGHT for one in self.regions) \
            or any(one.says == GONE for one in self.screws)


def differ(before: Pixels, after: Pixels, registration: Registration, mask: Pixels, screws: Sequence[Screw] = (),
           outlines: Sequence[tuple[str, Sequence[tuple[float, float]]]] = (), places: Sequence[Place] = ()) -> \
        Iterator[Difference | None]:
    """What changed from `before` to `after`, (height, width, 3), 0 to 255; a `yield` is progress, the last the answer.

    `mask` says where the device lies on before; `screws`, `outlines` (a part, its corners) and `places` are what is on
    record.
    """
    if not registration.is_same_side:
        yield Difference(refused=NOT_SAME_SIDE)
        return
    changes = changes_of(before, after, registration, mask)
    yield None
    hidden, share = _hidden(changes)
    if share > MOST_HIDDEN:
        yield Difference(refused=HAND, hidden_share=share)
        return
    yield None
    lifted = tuple(part for part, corners in outlines if _came_off(changes, corners, hidden))
    yield None
    verdicts = [_verdict(changes, screw, hidden) for screw in screws]
    verdicts = [Verdict(screw=one.screw, says=GONE, head=one.head, ring=one.ring, implied=True)
                if one.says == UNSURE and one.screw.part in lifted else one for one in verdicts]
    yield None
    regions = regions_of(changes, hidden, [(one.x, one.y, one.radius_px) for one in screws])
    yield Difference(regions=regions, screws=tuple(verdicts), lifted=lifted, hidden_share=share,
                     changed_at=tuple(dict.fromkeys(one.thing for one in places if _is_changed(changes, one, hidden))))


def _hidden(changes: Changes) -> tuple[NDArray[np.bool_], float]:
    """Under something that reaches in over the rim of what both show; and what share of the device that is."""
    import numpy as np
    from scipy import ndimage

    changed, inside = changes.changed, changes.inside
    found, number = ndimage.label(ndimage.binary_closing(changed, iterations=3))
    hidden = np.zeros(changed.shape, bool)
    edge = ~ndimage.binary_erosion(changes.shown, iterations=RIM_PX)
    for n in set(np.unique(found[edge])) - {0}:
        one = found == n
        if (one & ~inside).sum() >= HAND_BEYOND_PX:
            hidden |= one
    if hidden.any():
        hidden = ndimage.binary_dilation(ndimage.binary_fill_holes(hidden), iterations=8)
    return hidden, float((hidden & inside).sum() / max(1, inside.sum())) if number else 0.0


def _came_off(changes: Changes, corners: Sequence[tuple[float, float]], hidden: NDArray[np.bool_]) -> bool:
    """Whether what lay within an outline is there no more."""
    left, top = (max(0, int(min(p[i] for p in corners))) for i in (0, 1))
    right, bottom = (int(max(p[i] for p in corners)) + 1 for i in (0, 1))
    half = slice(top // HALF, bottom // HALF + 1), slice(left // HALF, right // HALF + 1)
    b, a = changes.before[top:bottom, left:right], changes.after[top:bottom, left:right]
    if b.size < LEAST_OUTLINE_PX or not changes.changed[half].size or hidden[half].mean() > 0.3 \
            or changes.changed[half].mean() < OUTLINE_CHANGED or not _rim_changed(changes, corners):
        return False
    inside = pixels_within(b.shape, corners, left, top)
    return bool(inside.any()) and correlation(b[inside], a[inside]) < OUTLINE_AGREES


def _rim_changed(changes: Changes, corners: Sequence[tuple[float, float]]) -> bool:
    """Whether something changed near most of an outline."""
    from scipy import ndimage

    xs, ys = ([p[i] / HALF for p in corners] for i in (0, 1))
    near = max(2, round(RIM_NEAR * min(max(xs) - min(xs), max(ys) - min(ys))))
    left, top = max(0, int(min(xs)) - near), max(0, int(min(ys)) - near)
    changed = changes.changed[top:int(max(ys)) + near + 2, left:int(max(xs)) + near + 2]
    inside = pixels_within(changed.shape, list(zip(xs, ys)), left, top)
    rim = inside & ~ndimage.binary_erosion(inside)
    return bool(rim.any()) and float(ndimage.binary_dilation(changed, iterations=near)[rim].mean()) >= RIM_CHANGED


def _verdict(changes: Changes, screw: Screw, hidden: NDArray[np.bool_]) -> Verdict:
    if _at(hidden, screw.x, screw.y, 0).any():
        return Verdict(screw=screw, says=HIDDEN, head=0.0, ring=0.0)
    says, head, ring = verdict(changes.before, changes.after, screw.x, screw.y, screw.radius_px)
    return Verdict(screw=screw, says=says, head=head, ring=ring)


def _is_changed(changes: Changes, place: Place, hidden: NDArray[np.bool_]) -> bool:
    """Whether most of what is around a mark changed."""
    around = _at(changes.changed, place.x, place.y, place.radius_px)
    return bool(around.size) and not _at(hidden, place.x, place.y, 0).any() and around.mean() > PLACE_CHANGED


def _at(half: NDArray[np.bool_], x: float, y: float, radius: float) -> NDArray[np.bool_]:
    """Of a half-size map, what lies around a place of the whole picture; one pixel, if it lies on it at all."""
    r, x, y = radius / HALF, x / HALF, y / HALF
    return half[max(0, int(y - r)):max(0, int(y + r) + 1), max(0, int(x - r)):max(0, int(x + r) + 1)]
