"""How things stand by the log of the present pass: what was released and lifted, what the next lift takes along.

The part that comes off next need not be known while its screws are marked: joints are tied to a *next part*, a part
without kind and name, until something is lifted.
"""

from __future__ import annotations

from collections.abc import Sequence

from oddbolt.knowledge.owners import Lift, claimed, waits_for_cell
from oddbolt.model.places import Spot
from oddbolt.model.snapshot import of_snapshot
from oddbolt.model.things import ASSUMED, Part, Teardown
from oddbolt.rules.replay import OUTCOMES_THAT_RELEASE, this_pass


def is_next(part: Part) -> bool:
    """Whether it is a part that has not been lifted and named yet."""
    return not part.kind and not part.name and part.basis == ASSUMED


def next_part(teardown: Teardown) -> str:
    """The next part that joints are tied to now; empty where there is none."""
    return next((part.id for part in reversed(teardown.parts) if is_next(part)), "")


@of_snapshot("log", "joints", "sessions")
def lifted(teardown: Teardown) -> frozenset[str]:
    return frozenset(_off(teardown, "remove", "fit"))


@of_snapshot("log", "joints", "sessions")
def released(teardown: Teardown) -> frozenset[str]:
    return frozenset(_off(teardown, "release", "fasten"))


def _off(teardown: Teardown, undone: str, back: str) -> dict[str, None]:
    """Things undone in this pass and not put back since, in order."""
    found: dict[str, None] = {}
    for entry in this_pass(teardown):
        if not entry.thing or entry.places:
            continue
        if entry.do == undone and (undone == "remove" or entry.outcome in OUTCOMES_THAT_RELEASE):
            found[entry.thing] = None
        elif entry.do == back and entry.outcome != "failed":
            found.pop(entry.thing, None)
    return found


@of_snapshot("log", "joints", "sessions")
def since_last_lift(teardown: Teardown) -> Sequence[str]:
    """Joints released since something was lifted or swung open, in order."""
    found: list[str] = []
    for entry in this_pass(teardown):
        joint = teardown.joint.get(entry.thing or "")
        if entry.do == "remove" or (entry.do == "release" and joint is not None and joint.kind == "swing"):
            found.clear()
        elif entry.do == "release" and joint is not None and entry.outcome in OUTCOMES_THAT_RELEASE:
            found.append(joint.id)
    return list(dict.fromkeys(found))


def waiting(teardown: Teardown, hand: str = "") -> list[str]:
    """Joints of the next part that a lift may take along: released, in order, and what is chosen."""
    own = next_part(teardown)
    opened = released(teardown)  # it may have been opened long before what it belongs to comes off
    return [joint.id for joint in teardown.joints if own and own in joint.of
            and (joint.id in opened or joint.id == hand)]


def taken_along(teardown: Teardown, hand: str, lift: Lift) -> list[str]:
    """Joints of the next part that what comes off takes along; the group in hand always, but for the bond of a cell
    that was parted just before something else came off."""
    ready = waiting(teardown, hand)
    found = set(claimed(teardown, ready, [*since_last_lift(teardown), hand], lift))
    if lift.kind.kind == "battery" or hand not in released(teardown) or not waits_for_cell(teardown, hand):
        found.add(hand)
    return [joint for joint in ready if joint in found]


def middle(teardown: Teardown, view_id: str, joints: Sequence[str]) -> Spot | None:
    """The middle of the marks of joints that are no plugs; None where there are none."""
    view = teardown.view.get(view_id)
    places = [(m.x, m.y) for m in view.marks if m.thing in joints
              and teardown.joint[m.thing].kind != "connector"] if view else []
    if not places:
        return None
    return sum(x for x, _ in places) / len(places), sum(y for _, y in places) / len(places)
