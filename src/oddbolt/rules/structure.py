"""A teardown as the rules of access see it: this variant's parts and joints, captive parts standing for their carriers.

Everything here follows docs/format.md ("The rule of access", "The rule of separation"). Absent things are struck,
captive parts are replaced by their nearest carrier that is not captive, contacts and joints left with one part have no
operation and count as cleared.
"""

from __future__ import annotations

from collections.abc import Container, Iterator
from functools import cached_property

from msgspec import Struct

from oddbolt.catalog.defaults import ways_of
from oddbolt.model.snapshot import of_snapshot
from oddbolt.model.things import Act, Joint, Part, Teardown, Way

ON_POWER = ""  # the source that `isolates: true` cuts, where sources are not named


class Entry(Struct, frozen=True):
    """One name in a `behind`: a joint to be released, or a part to be out of the way."""

    id: str
    is_joint: bool


Alternatives = tuple[tuple[Entry, ...], ...]


class Release(Struct, frozen=True, kw_only=True):
    """A joint that can be released."""

    joint: Joint
    of: frozenset[str]  # parts it ties, captive ones replaced
    ways: tuple[Way, ...]
    behind: Alternatives
    way_behind: tuple[Alternatives, ...]
    source: str | None  # power source it cuts, or None
    needs_safe: bool


class Removal(Struct, frozen=True, kw_only=True):
    """A part that can be taken off by itself."""

    part: Part
    acts: tuple[Act, ...]  # done one after the other with nothing between; it is off with the last
    behind: Alternatives
    ties: tuple[str, ...]  # joints that cross the border of its full assembly
    source: str | None
    needs_safe: bool


class Structure:
    """Parts, joints and their access in one variant. Built once for a snapshot; never changes.

    `before` is the structure of an earlier snapshot: what is the same in both is taken from it, so that a change of a
    few records costs as much as these.
    """

    def __init__(self, teardown: Teardown, before: Structure | None = None) -> None:
        self.part, self.joint = teardown.part, teardown.joint
        self.base = teardown.device.base
        self._variant = teardown.device.variant
        same = before if before is not None and self._stands_as(teardown, before) else None
        if same is not None:
            self.present, self.stand_in, self.carrier = same.present, same.stand_in, same.carrier
            self.children, self.above = same.children, same.above
        else:
            self._read_parts(teardown)
        self.releases: dict[str, Release] = {}
        self.idle_joints: set[str] = set()  # present, but nothing to do: contacts, both ends on one part
        changed: set[str] = set()
        moved: set[str] = set()
        if same is not None and self.joint is same.joint:
            self.releases, self.idle_joints = same.releases, same.idle_joints
        else:
            changed, moved = self._read_joints(teardown, same)
        if same is not None and not moved and not changed:
            self.joints_of, self._rank = same.joints_of, same._rank
        else:
            self.joints_of: dict[str, list[str]] = {id_: [] for id_ in self.children}
            for id_, release in self.releases.items():
                for part in release.of:
                    self.joints_of[part].append(id_)
            self._rank = {id_: n for n, id_ in enumerate(self.releases)}
        self.removals: dict[str, Removal] = {}
        for id_ in self.carrier:
            was = same.removals[id_] if same is not None else None
            self.removals[id_] = was if was is not None and not moved and not changed and was.part is self.part[id_] \
                else self._renewed(id_, changed, moved, was)

    def _stands_as(self, teardown: Teardown, before: Structure) -> bool:
        """Whether the parts stand on each other as they did: only what they are behind, weigh or are called changed."""
        if (self.base, self._variant) != (before.base, before._variant) or len(self.part) != len(before.part):
            return False
        if [id_ for id_ in self.joint if id_ in before.joint] != [id_ for id_ in before.joint if id_ in self.joint]:
            return False  # ties are told in file order
        return all(new is old or (id_ == was and _standing(new) == _standing(old))
                   for (id_, new), (was, old) in zip(self.part.items(), before.part.items()))

    # -- who stands for whom

    def _read_parts(self, teardown: Teardown) -> None:
        self.present = {p.id for p in teardown.parts if teardown.is_present(p)}
        self.stand_in: dict[str, str] = {}  # present part -> itself or the carrier it stands for
        self.carrier: dict[str, str] = {}  # free-standing part -> the one it lies on
        for part in teardown.parts:
            if part.id in self.present:
                self.stand_in[part.id] = self._not_captive(part.id)
        for part in teardown.parts:
            if part.id in self.present and self.stand_in[part.id] == part.id and part.id != self.base:
                self.carrier[part.id] = self._not_captive(self._below(part.id))
        self.children: dict[str, list[str]] = {id_: [] for id_ in (self.base, *self.carrier)}
        for id_, below in self.carrier.items():
            self.children[below].append(id_)
        self.above = {id_: frozenset(self._ancestors(id_)) for id_ in self.children}

    def _below(self, id_: str) -> str:
        """Nearest present part under this one; the base at the end."""
        on = self.part[id_].on or self.base
        while on not in self.present:
            on = self.part[on].on or self.base
        return on

    def _not_captive(self, id_: str) -> str:
        while id_ != self.base and self.part[id_].captive:
            id_ = self._below(id_)
        return id_

    def _ancestors(self, id_: str) -> Iterator[str]:
        """The part and all it lies on, without the base, which is never lifted."""
        while id_ != self.base:
            yield id_
            id_ = self.carrier[id_]

    # -- joints and removals

    def _read_joints(self, teardown: Teardown, same: Structure | None) -> tuple[set[str], set[str]]:
        """Read the joints; those of `same` are taken over where nothing about them changed.

        Returns the joints of before that came or went, whose name in a `behind` means something else now, and the parts
        whose joints are not those they were. (Nothing that stayed the same can name a joint that is new.)
        """
        silent = []
        for joint in teardown.joints:
            if same is not None and same.joint.get(joint.id) is joint:
                if (was := same.releases.get(joint.id)) is not None:
                    silent.append((joint, was.of))
                elif joint.id in same.idle_joints:
                    self.idle_joints.add(joint.id)
                continue
            if not teardown.is_present(joint):
                continue
            of = frozenset(self.stand_in[p] for p in joint.of if p in self.present)
            if sum(p in self.present for p in joint.of) < 2:
                continue
            if len(of) < 2 or joint.kind == "contact":
                self.idle_joints.add(joint.id)
            else:
                silent.append((joint, of))
        released = {joint.id for joint, _ in silent}
        changed = released ^ same.releases.keys() if same is not None else set()
        moved = {part for id_ in changed if id_ in same.releases for part in same.releases[id_].of} if same else set()
        changed = {id_ for id_ in changed if id_ in same.joint} if same is not None else changed
        for joint, of in silent:
            was = same.releases.get(joint.id) if same is not None else None
            if was is not None and was.joint is joint and not (changed and _names(joint, changed)):
                self.releases[joint.id] = was
                continue
            if same is not None and (was is None or was.of != of):
                moved |= of if was is None else of | was.of
            self.releases[joint.id] = self._release(teardown, joint, of, released)
        return changed, moved

    def _release(self, teardown: Teardown, joint: Joint, of: frozenset[str], released: Container[str]) -> Release:
        ways = ways_of(teardown, joint)
        return Release(joint=joint, of=of, ways=ways, behind=self._alternatives(joint.behind, released),
                       way_behind=tuple(self._alternatives(way.behind, released) for way in ways),
                       source=_source(joint.isolates), needs_safe=self._joint_needs_safe(joint, of))

    def _alternatives(self, behind: tuple[tuple[str, ...], ...], released: Container[str]) -> Alternatives:
        """`behind` with what counts as cleared struck out; an alternative left empty makes the whole open."""
        alternatives = []
        for names in behind:
            entries = []
            for name in names:
                if name in self.part:
                    if name in self.present:
                        entries.append(Entry(self.stand_in[name], False))
                elif name in released:
                    entries.append(Entry(name, True))
            if not entries:
                return ()
            alternatives.append(tuple(dict.fromkeys(entries)))
        return tuple(alternatives)

    def _joint_needs_safe(self, joint: Joint, of: frozenset[str]) -> bool:
        if joint.passive or joint.isolates is not False or self._ties_an_isolating_part(of):
            return False
        if joint.kind == "connector" or joint.needs_safe:
            return True
        if joint.kind not in ("adhesive", "film", "press-fit"):
            return False
        return any(self.part[p].kind == "battery" and self.carrier.get(p) in of for p in of)

    def _ties_an_isolating_part(self, of: frozenset[str]) -> bool:
        return any(self.part[p].isolates is not False for p in of)

    def _renewed(self, id_: str, changed: set[str], moved: set[str], was: Removal | None) -> Removal:
        """The removal that was there before, as far as nothing about it changed."""
        part = self.part[id_]
        if was is None or (changed and _names(part, changed)) or any(id_ in self.above[p] for p in moved):
            return self._removal(part)
        return was if was.part is part else self._removal(part, was.ties)

    def _removal(self, part: Part, ties: tuple[str, ...] | None = None) -> Removal:
        if ties is None:
            inside = self._mounted(part.id)
            crossing = {id_ for one in inside for id_ in self.joints_of[one] if not self.releases[id_].of <= inside}
            ties = tuple(sorted(crossing, key=self._rank.__getitem__))
        return Removal(part=part, acts=part.lift, behind=self._alternatives(part.behind, self.releases), ties=ties,
                       source=_source(part.isolates), needs_safe=part.needs_safe and part.isolates is False)

    def _mounted(self, part: str) -> set[str]:
        """The part with all that lies on it at first."""
        found, waiting = set(), [part]
        while waiting:
            one = waiting.pop()
            found.add(one)
            waiting.extend(self.children[one])
        return found

    # -- separation

    def separators(self, hider: str, parts: frozenset[str]) -> frozenset[str]:
        """Parts whose lifting parts `hider` from the thing made of `parts` (one part, or what a joint ties).

        A lifted assembly contains exactly one of the two just when one of them, and not the other, lies on the lifted
        part. (The assembly at the moment of lifting may be smaller than all that lay on the part at first; what is
        missing was lifted earlier, and then that lifting parted the two already.)
        """
        around = frozenset.intersection(*(self.above[p] for p in parts))
        return self.above[hider] ^ around

    @cached_property
    def sources(self) -> dict[str, tuple[str, ...]]:
        """Power sources, each with the joints and parts that cut it."""
        found: dict[str, list[str]] = {}
        for id_, operation in (*self.releases.items(), *self.removals.items()):
            if operation.source is not None:
                found.setdefault(operation.source, []).append(id_)
        return {source: tuple(ids) for source, ids in found.items()}

    def freeing_the_base(self) -> tuple[str, ...]:
        """Parts whose lifting leaves the base bare: all that lie on it directly."""
        return tuple(self.children[self.base])


def _standing(part: Part) -> tuple[object, ...]:
    """What of a part says where it stands and what its joints need."""
    return part.on, part.captive, part.only_in, part.kind, part.isolates


def _names(thing: Part | Joint, names: set[str]) -> bool:
    """Whether its access names one of these."""
    ways = thing.ways if isinstance(thing, Joint) else ()
    return any(name in names for behind in (thing.behind, *(way.behind for way in ways))
               for alternative in behind for name in alternative)


@of_snapshot("parts", "joints", "fasteners", "device", renewed=lambda teardown, before, was: Structure(
    teardown, before if teardown.fasteners is was.fasteners else None))
def structure_of(teardown: Teardown) -> Structure:
    """The structure of a snapshot; the log and the photographs have no say in it."""
    return Structure(teardown)


def _source(isolates: bool | str) -> str | None:
    if isolates is False:
        return None
    return ON_POWER if isolates is True else isolates
