"""The bolts of a device by type: how many there are by every account, which look alike, and which torques cannot be."""

from __future__ import annotations

from msgspec import Struct

from oddbolt.catalog.threads import Thread, thread_named
from oddbolt.catalog.torque import TorqueCheck, check_torque
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Fastener, Joint, Teardown
from oddbolt.reassembly.tightening import torque_of
from oddbolt.rules.replay import OUTCOMES_THAT_RELEASE, readings

# How near two figures are before a person tells them apart by eye: common practice, no source.
EYE_LENGTH_MM, EYE_HEAD_MM, EYE_THREAD_MM = 2.0, 0.4, 0.5
LOOKS_ALIKE = 0.45
SAME_MM = 0.25  # less than this is no difference that a swap would show

TOO_LONG, TOO_SHORT, OTHER_THREAD, LOOSE, OTHER_HEAD = "too-long", "too-short", "other-thread", "loose", "other-head"


class BoltType(Struct, frozen=True, kw_only=True):
    """A letter of the tray and its counts by every account; None where an account says nothing."""

    fastener: Fastener
    joints: tuple[str, ...]
    joined: int | None  # by the joints; None where one has no count
    marked: int  # by the marks: of each group, those of the view that shows most of it
    out: int  # by the log
    differs: tuple[str, ...]  # joints whose marks are not as many as their count


def bolt_types(teardown: Teardown) -> list[BoltType]:
    """Every letter of the device, in the order of the tray."""
    out = {entry.thing for entry in readings(teardown) if entry.do == "release" and entry.thing in teardown.joint
           and entry.outcome in OUTCOMES_THAT_RELEASE}
    shown = _marks_shown(teardown)
    found = []
    for fastener in teardown.fasteners:
        joints = [j for j in teardown.joints if j.fastener == fastener.id and teardown.is_present(j)]
        counts = [j.count for j in joints]
        found.append(BoltType(
            fastener=fastener, joints=tuple(j.id for j in joints),
            joined=None if None in counts else sum(c for c in counts if c is not None),
            marked=sum(shown.get(j.id, 0) for j in joints), out=sum(j.count or 0 for j in joints if j.id in out),
            differs=tuple(j.id for j in joints if j.id in shown and j.count is not None and shown[j.id] != j.count)))
    return found


def _marks_shown(teardown: Teardown) -> dict[str, int]:
    """How many marks of each joint the view has that shows most of it."""
    found: dict[str, int] = {}
    for view in teardown.views:
        here: dict[str, int] = {}
        for mark in view.marks:
            here[mark.thing] = here.get(mark.thing, 0) + 1
        for thing, number in here.items():
            found[thing] = max(found.get(thing, 0), number)
    return found


# -- look-alikes

class Swap(Struct, frozen=True, kw_only=True):
    """What comes of one letter in the holes of another. `mm` is by how much; `parts` are what it would reach."""

    code: str
    letter: str
    holes_of: str
    mm: float
    parts: tuple[str, ...] = ()


class LookAlike(Struct, frozen=True, kw_only=True):
    """Two letters taken for each other: how alike, 0 to 1; what tells them apart; what a swap does."""

    one: str
    other: str
    alike: float
    measure: str  # length_mm, thread, head_mm, colour; empty where nothing on record tells them apart
    difference_mm: float
    swaps: tuple[Swap, ...]

    @property
    def worst_mm(self) -> float:
        return max((swap.mm for swap in self.swaps if swap.code == TOO_LONG), default=0.0)


def look_alikes(teardown: Teardown) -> list[LookAlike]:
    """Pairs that look alike and are not the same, the most dangerous first."""
    used = [t.fastener for t in bolt_types(teardown) if t.joints]
    found = []
    for n, one in enumerate(used):
        for other in used[n + 1:]:
            alike = likeness(one, other)
            if alike >= LOOKS_ALIKE:
                found.append(_pair(teardown, one, other, alike))
    return sorted(found, key=lambda pair: (-pair.worst_mm * pair.alike, -pair.alike, pair.one, pair.other))


def likeness(one: Fastener, other: Fastener) -> float:
    """How alike two screws look without a calliper, 0 to 1. Another recess or colour is seen at once."""
    if (one.drive, one.size) != (other.drive, other.size):
        return 0.0
    if one.colour and other.colour and one.colour != other.colour:
        return 0.0
    value = 1.0
    for a, b, eye in ((one.length_mm, other.length_mm, EYE_LENGTH_MM), (one.head_mm, other.head_mm, EYE_HEAD_MM),
                      (_diameter(one), _diameter(other), EYE_THREAD_MM)):
        if a is not None and b is not None:
            value *= max(0.0, 1 - abs(a - b) / (2 * eye)) if abs(a - b) < 2 * eye else 0.0
    if one.head and other.head and one.head != other.head:
        value *= 0.4
    return round(value, 3)


def _diameter(fastener: Fastener) -> float | None:
    thread = thread_named(fastener.thread) if fastener.thread else None
    return thread.d_mm if thread is not None else None


def _pair(teardown: Teardown, one: Fastener, other: Fastener, alike: float) -> LookAlike:
    differences = {"length_mm": _apart(one.length_mm, other.length_mm), "head_mm": _apart(one.head_mm, other.head_mm),
                   "thread": _apart(_diameter(one), _diameter(other))}
    measure, most = max(differences.items(), key=lambda item: item[1])
    swaps = (*_swaps(teardown, one, other), *_swaps(teardown, other, one))
    return LookAlike(one=one.id, other=other.id, alike=alike, measure=measure if most > 0.05 else "",
                     difference_mm=round(most, 2), swaps=swaps)


def _apart(a: float | None, b: float | None) -> float:
    return abs(a - b) if a is not None and b is not None else 0.0


def swaps_into(teardown: Teardown, letter: str, joint_id: str) -> list[Swap]:
    """What comes of a letter in the holes of a group; empty where it is its own, or nothing is known against it."""
    put, own = teardown.fastener.get(letter), teardown.fastener.get(teardown.joint[joint_id].fastener or "")
    return _swaps(teardown, put, own) if put is not None and own is not None and put.id != own.id else []


def _swaps(teardown: Teardown, put: Fastener, own: Fastener) -> list[Swap]:
    """What comes of `put` in the holes of `own`."""
    joints = [j for j in teardown.joints if j.fastener == own.id]
    found = []
    if put.length_mm is not None and own.length_mm is not None:
        longer = put.length_mm - own.length_mm
        spare = min((j.hole_mm - own.length_mm for j in joints if j.hole_mm is not None), default=0.0)
        if longer - max(0.0, spare) > SAME_MM:
            found.append(Swap(code=TOO_LONG, letter=put.id, holes_of=own.id, mm=round(longer - max(0.0, spare), 2),
                              parts=_reached(teardown, joints)))
        elif -longer > SAME_MM:
            found.append(Swap(code=TOO_SHORT, letter=put.id, holes_of=own.id, mm=round(-longer, 2)))
    a, b = (thread_named(f.thread) if f.thread else None for f in (put, own))
    if a is not None and b is not None and a.name != b.name:
        found.append(Swap(code=LOOSE if _drops_in(a, b) else OTHER_THREAD, letter=put.id, holes_of=own.id,
                          mm=round(abs(a.d_mm - b.d_mm), 2)))
    return found


def _drops_in(screw: Thread, hole: Thread) -> bool:
    """Whether a screw finds no hold at all: its outer diameter is below the hole's crest."""
    return screw.d_mm <= hole.d1_mm + 0.05


def _reached(teardown: Teardown, joints: list[Joint]) -> tuple[str, ...]:
    """Parts into which these screws go: the far end of what they tie."""
    return tuple(dict.fromkeys(joint.of[-1] for joint in joints))


# -- torques

class TorqueFinding(Struct, frozen=True, kw_only=True):
    """A torque as written down, where, and what it is held against; `refusal` where it cannot be judged."""

    joint: str
    where: str  # path in the exchange file
    value: float
    unit: str
    check: TorqueCheck | None
    refusal: Refusal | None = None


def torques(teardown: Teardown) -> list[TorqueFinding]:
    """Every torque of the refit and of the log, judged by the thread of its screws."""
    found = []
    entries = [(f"$.refit[{n}]", refit) for n, refit in enumerate(teardown.refit)]
    entries += [(f"$.procedures[{n}].entries[{m}]", entry) for n, one in enumerate(teardown.procedures)
                for m, entry in enumerate(one.entries)]
    for path, refit in entries:
        for k, one in enumerate(refit.passes):
            value, unit = torque_of(one)
            if value is not None and refit.thing in teardown.joint:
                found.append(_judged(teardown, refit.thing, f"{path}.passes[{k}]", value, unit))
    for n, entry in enumerate(teardown.log):
        if entry.do == "measure" and entry.thing in teardown.joint and isinstance(entry.value, (int, float)) \
                and "torque" in entry.text:
            found.append(_judged(teardown, entry.thing, f"$.log[{n}]", float(entry.value), entry.unit))
    return found


def _judged(teardown: Teardown, joint_id: str, where: str, value: float, unit: str) -> TorqueFinding:
    fastener = teardown.fastener.get(teardown.joint[joint_id].fastener or "")
    try:
        check = check_torque(value, unit, fastener.thread if fastener else "",
                             recess=(fastener.drive, fastener.size) if fastener else ("", ""))
    except Refusal as refusal:
        return TorqueFinding(joint=joint_id, where=where, value=value, unit=unit, check=None, refusal=refusal)
    return TorqueFinding(joint=joint_id, where=where, value=value, unit=unit, check=check)
