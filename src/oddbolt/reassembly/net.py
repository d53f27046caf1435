"""The net of boards and cables: which cable joins which parts, what is open, and what is still tethered to what."""

from __future__ import annotations

from msgspec import Struct

from oddbolt.catalog.components import ConnectorType, connector_types
from oddbolt.model.things import Joint, Teardown
from oddbolt.rules.device_state import DeviceState
from oddbolt.rules.replay import OUTCOMES_THAT_RELEASE, readings, replay
from oddbolt.rules.structure import Structure

IN_PLACE, SWUNG, LIFTED = "in place", "swung open", "lifted"
ELECTRIC = ("connector", "contact", "solder")


class Link(Struct, frozen=True, kw_only=True):
    """Two parts joined by one or more connectors, perhaps by way of a cable that is a part of its own."""

    one: str
    other: str
    joints: tuple[str, ...]
    via: str = ""  # the cable
    is_open: bool = False


class Tether(Struct, frozen=True, kw_only=True):
    """A part that is lifted or swung open and still tied to another by this link."""

    part: str
    to: str
    link: Link


class Net(Struct, frozen=True, kw_only=True):
    """Parts in the order of the record with their state, the links among them, and what is tethered."""

    parts: tuple[tuple[str, str], ...]  # part, state
    links: tuple[Link, ...]
    tethers: tuple[Tether, ...]


def net_of(teardown: Teardown, structure: Structure, pass_: int = 1, until: str | None = None) -> Net:
    """The net as it stood after a log entry; with None at the end of the pass."""
    state = replay(teardown, structure, pass_, until).state
    return _net(teardown, structure, state)


def untouched_net(teardown: Teardown, structure: Structure) -> Net:
    """The net before anything was opened."""
    return _net(teardown, structure, DeviceState(structure))


def _net(teardown: Teardown, structure: Structure, state: DeviceState) -> Net:
    joints = [j for j in teardown.joints if j.kind in ELECTRIC and teardown.is_present(j)
              and all(part in structure.present for part in j.of)]
    cables = {p.id for p in teardown.parts if p.kind == "cable" and p.id in structure.present}
    links = _links(teardown, joints, cables, state)
    shown = {part for link in links for part in (link.one, link.other)}
    pieces = _pieces(teardown, state)
    parts = tuple((p.id, _state(p.id, pieces)) for p in teardown.parts if p.id in shown)
    return Net(parts=parts, links=tuple(links), tethers=tuple(_tethers(links, pieces)))


Piece = tuple[str, frozenset[str]]  # how it was moved, and what moved with it


def _pieces(teardown: Teardown, state: DeviceState) -> list[Piece]:
    """What was moved in one piece, in the order of the log: lifted assemblies, and covers swung open with what they
    carry."""
    found: list[tuple[int, Piece]] = [(n, (LIFTED, parts)) for n, (parts, _) in enumerate(state.lifted)]
    for joint in teardown.joints:
        if joint.kind == "swing" and joint.id in state.released and joint.of[0] not in state.removed:
            found.append((-1, (SWUNG, state.assembly(joint.of[0]))))
    return [piece for _, piece in sorted(found, key=lambda item: item[0])]


def _links(teardown: Teardown, joints: list[Joint], cables: set[str], state: DeviceState) -> list[Link]:
    """Joints between parts; those at a cable are drawn together into one link by way of it."""
    found, ends = [], {}
    for joint in joints:
        own = [part for part in joint.of if part in cables]
        if len(own) == 1 and len(joint.of) == 2:
            other = next(part for part in joint.of if part != own[0])
            ends.setdefault(own[0], []).append((other, joint))
        else:
            found.extend(Link(one=joint.of[0], other=part, joints=(joint.id,), is_open=_is_open(joint, state))
                         for part in joint.of[1:])
    for cable, joined in ends.items():
        carrier = teardown.part[cable].on
        if len(joined) == 1 and carrier and carrier != teardown.device.base and carrier != joined[0][0]:
            other, joint = joined[0]
            found.append(Link(one=carrier, other=other, joints=(joint.id,), via=cable, is_open=_is_open(joint, state)))
        elif len(joined) == 1:
            other, joint = joined[0]
            found.append(Link(one=cable, other=other, joints=(joint.id,), is_open=_is_open(joint, state)))
        for n in range(len(joined) - 1):
            (a, first), (b, second) = joined[n], joined[n + 1]
            found.append(Link(one=a, other=b, joints=(first.id, second.id), via=cable,
                              is_open=_is_open(first, state) or _is_open(second, state)))
    return found


def _is_open(joint: Joint, state: DeviceState) -> bool:
    """A contact parts when one of its parts is lifted without the other; anything else when it is released."""
    if joint.kind == "contact":
        return any(0 < len(parts & set(joint.of)) < len(joint.of) for parts, _ in state.lifted)
    return joint.id in state.released


def _state(part: str, pieces: list[Piece]) -> str:
    return next((how for how, parts in reversed(pieces) if part in parts), IN_PLACE)


def _tethers(links: list[Link], pieces: list[Piece]) -> list[Tether]:
    """Closed links of which one end was moved without the other."""
    found = []
    for link in links:
        moved = next((end for _, parts in reversed(pieces) for end, far in ((link.one, link.other),
                                                                             (link.other, link.one))
                      if end in parts and far not in parts), "")
        if moved and not link.is_open:
            found.append(Tether(part=moved, to=link.other if moved == link.one else link.one, link=link))
    return found


# -- mating cycles

class Cycles(Struct, frozen=True, kw_only=True):
    """How often a connector was opened and closed in this record, against what its type usually bears."""

    joint: str
    opened: int
    closed: int
    type: ConnectorType | None

    @property
    def is_worn(self) -> bool:
        """Whether it has been mated as often as the low end of its type's range."""
        return self.type is not None and self.type.cycles[0] > 0 and self.opened >= self.type.cycles[0]


def mating_cycles(teardown: Teardown) -> list[Cycles]:
    """Every connector of the record, all passes together."""
    opened: dict[str, int] = {}
    closed: dict[str, int] = {}
    for entry in readings(teardown):
        if entry.do == "release" and entry.thing and entry.outcome in OUTCOMES_THAT_RELEASE and entry.act in (None, 0):
            opened[entry.thing] = opened.get(entry.thing, 0) + 1
        elif entry.do == "fasten" and entry.thing and entry.outcome != "failed":
            closed[entry.thing] = closed.get(entry.thing, 0) + 1
    types = connector_types()
    return [Cycles(joint=j.id, opened=opened.get(j.id, 0), closed=closed.get(j.id, 0), type=types.get(j.type))
            for j in teardown.joints if j.kind == "connector"]
