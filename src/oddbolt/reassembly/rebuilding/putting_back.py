"""A plan of putting back: what is off, in an order in which nothing is put over what still has to go in.

The order is the reverse of how it came off. What an instruction has in another order takes the instruction's, as far
as access allows. What makes the device live goes in last, unless the instruction says otherwise: then its order is
kept, and told. Nothing of this is evidence about access.
"""

from __future__ import annotations

import itertools
from collections.abc import Collection, Iterable, Sequence

from msgspec import Struct

from oddbolt.model.snapshot import of_snapshot
from oddbolt.model.things import Procedure, Refit, Teardown, Use, Way
from oddbolt.rules.device_state import DeviceState, Operation, apply_whole
from oddbolt.rules.replay import PUT_BACK, current_pass, states_reached, this_pass
from oddbolt.rules.structure import Structure, structure_of

FIT, FASTEN, APPLY, CHECK = "fit", "fasten", "apply", "check"
INSTRUCTION, LOG, RULE, WAY_IN = "instruction", "log", "rule", "way-in"  # why a step stands where it does
WITH_PART, ORDERED = "with_part", "ordered"  # where it comes from
SCREW = "screw"  # unit of a use whose material is a letter
BEFORE_NEXT = ("apply", "clean", "aid")  # entries of an instruction that belong to what follows; others to what was


class Off(Struct, frozen=True):
    """Something that is off: a part, or a joint with the way it was released in."""

    thing: str
    way: int = 0


class Told(Struct, frozen=True):
    """An entry of an instruction, with its place."""

    place: int
    entry: Refit


class Step(Struct, frozen=True, kw_only=True):
    """One act of putting back. `refit` is the entry of the instruction that it is from; `uses` what it takes up."""

    do: str
    thing: str = ""
    way: int = 0
    refit: Refit | None = None
    entry: int | None = None  # its place in the instruction
    anchor: str = ""  # what goes in that it belongs to
    reason: str = LOG
    uses: tuple[Use, ...] = ()
    is_live: bool = False  # should only be done dead, and nothing holds the power off any more
    is_new: bool = False  # a spare, or new fixing
    moves_to: str = ""  # it lay on a part that goes in new: it comes from the old one
    is_forced: bool = False  # by the rules of access it could not go in here


class PuttingBack(Struct, frozen=True, kw_only=True):
    """Steps in order; entries of the instruction that found no place; those whose order access does not allow."""

    steps: tuple[Step, ...]
    unplaced: tuple[Refit, ...] = ()
    displaced: tuple[str, ...] = ()

    @property
    def closes_live(self) -> tuple[str, ...]:
        return tuple(step.thing for step in self.steps if step.is_live)

    @property
    def is_feasible(self) -> bool:
        return not any(step.is_forced for step in self.steps)


@of_snapshot("log", "joints", "parts", "device", "sessions")
def off_by_log(teardown: Teardown) -> Sequence[Off]:
    """What is off at the end of the present pass, in the order in which it came off."""
    state = states_reached(teardown).get(current_pass(teardown))
    if state is None:
        return ()
    found: dict[str, Off] = {}
    for entry in this_pass(teardown):
        thing = state.structure.stand_in.get(entry.thing or "", entry.thing or "")
        if entry.do in ("release", "remove") and not state.is_in_place(thing):
            found.pop(thing, None)
            found[thing] = Off(thing, state.under_way.get(thing, (0, 0))[0])
    return tuple(found.values())


def off_by_sequence(sequence: Iterable[Operation]) -> Sequence[Off]:
    """What a sequence takes off, in its order."""
    return tuple(dict.fromkeys(Off(op.part) if op.part else Off(op.joint, op.way) for op in sequence))


def entries_of(teardown: Teardown, procedure: Procedure) -> list[Refit]:
    """The entries of a procedure with those that it goes on from, and those that it does within."""
    known = {one.id: one for one in teardown.procedures}
    before = entries_of(teardown, known[procedure.from_]) if procedure.from_ in known else []
    own: list[Refit] = []
    for entry in procedure.entries:
        own += entries_of(teardown, known[entry.procedure]) if entry.do == "procedure" else [entry]
    return [*before, *own]


def procedure_for(teardown: Teardown, part: str) -> Procedure | None:
    """The procedure that replaces a part in this variant."""
    variant = teardown.device.variant
    return next((one for one in teardown.procedures if part and one.for_ == part and (
        not variant or not one.only_in or variant in one.only_in)), None)


def instruction_for(teardown: Teardown, part: str = "") -> list[Refit]:
    """The entries that are laid over a plan: of the procedure for a part, else of the whole device."""
    procedure = procedure_for(teardown, part)
    return entries_of(teardown, procedure) if procedure is not None else list(teardown.refit)


def put_back(teardown: Teardown, off: Sequence[Off], instruction: Sequence[Refit] = (), *, spares: Collection[str] = (),
             reason: str = LOG) -> PuttingBack:
    """The plan for what is off. `spares` are parts that go in new; `reason` says where the order of `off` is from."""
    return _Planner(teardown, off, instruction, frozenset(spares), reason).plan()


class _Planner:
    def __init__(self, teardown: Teardown, off: Sequence[Off], instruction: Sequence[Refit], spares: frozenset[str],
                 reason: str) -> None:
        self._teardown, self._structure = teardown, structure_of(teardown)
        self._off = {one.thing: one for one in off}
        self._spares, self._reason = spares, reason
        self._told: dict[str, Told] = {}  # what goes in by an entry of the instruction, in its order
        self._before: dict[str, list[Told]] = {}
        self._behind: dict[str, list[Told]] = {}
        self._last: list[Told] = []
        self._unplaced: list[Refit] = []
        self._onto: dict[str, Told] = {}  # new bonds with what the instruction has applied for them
        self._read(instruction)

    # -- the instruction

    def _read(self, instruction: Sequence[Refit]) -> None:
        """What goes in by an entry; all else belongs to what follows it, or to what went in before it. What is applied
        belongs to the next new bond."""
        waiting: list[Told] = []
        applied: list[tuple[Told, str | None]] = []  # with what goes in next after it, where that is known
        trailing: list[Told] = []  # checks after all that goes in are of the whole: they come when all is in
        anchor = ""
        for told in map(Told, itertools.count(), instruction):
            entry = told.entry
            if not self._is_meant(entry):
                continue
            thing = self._structure.stand_in.get(entry.thing or "", entry.thing or "")
            closes = entry.do in PUT_BACK or (entry.do == "route" and thing in self._structure.releases)
            if closes and thing not in self._told:
                applied = self._onto_bonds(thing, [(one, thing if place is None else place) for one, place in applied])
                trailing, anchor = [], thing if thing in self._off else ""
                if anchor:
                    self._told[thing], self._before[thing] = told, waiting
                else:
                    self._unplaced.append(entry)
                waiting = []  # what belongs to something that is in place is not needed either
            elif entry.do == APPLY:
                applied.append((told, None))
            elif entry.do in BEFORE_NEXT:
                waiting.append(told)
            else:
                trailing += [told] if entry.do == CHECK else []
                if anchor:
                    self._behind.setdefault(anchor, []).append(told)
        for told, place in applied:
            if place in self._told:
                self._before[place] = [*self._before[place], told]
        if anchor:
            self._behind[anchor] = [one for one in self._behind.get(anchor, []) if one not in trailing]
        self._last = [*waiting, *trailing]

    def _is_meant(self, entry: Refit) -> bool:
        """Whether an entry is about what this variant has, and about a part that is as the entry asks."""
        for name in (entry.thing, entry.on):
            if name is not None and name in self._teardown.part and name not in self._structure.present:
                return False
            joint = self._teardown.joint.get(name or "")
            if joint is not None and not self._teardown.is_present(joint):
                return False
        asked = entry.only_if if isinstance(entry.only_if, dict) else {}
        is_ = {"new": True, "reused": False}.get(str(asked.get("is")))
        return is_ is None or asked.get("part") not in self._teardown.part or (asked["part"] in self._spares) == is_

    def _onto_bonds(self, thing: str, applied: list[tuple[Told, str | None]]) -> list[tuple[Told, str | None]]:
        """What was applied goes onto the new bonds of what goes in; the rest is given back."""
        bonds = self._bonds_of(thing)
        if bonds and applied:
            told, _ = applied.pop(0)
            new = [one for one in bonds if one in self._off and self._is_new_bond(one)]
            for bond in new[:1]:
                self._onto.setdefault(bond, told)
        return applied

    def _wanted_order(self) -> list[str]:
        """The reverse, in which what the instruction names stands in the instruction's order."""
        reverse = list(reversed(self._off))
        told = iter(self._told)
        return [next(told) if thing in self._told else thing for thing in reverse]

    # -- the order

    def plan(self) -> PuttingBack:
        wanted = self._wanted_order()
        order, forced = self._ordered(wanted)
        place = {thing: n for n, thing in enumerate(order)}
        told = list(self._told)
        return PuttingBack(steps=tuple(self._with_acts(order, forced)), unplaced=tuple(self._unplaced),
                           displaced=tuple(thing for n, thing in enumerate(told)
                                           if any(place[other] < place[thing] for other in told[n + 1:])))

    def _ordered(self, wanted: list[str]) -> tuple[list[str], set[str]]:
        """At each point the first that may go in: nothing that is left may be barred by it, nor be made live. What
        could not have come off by the rules is barred from the beginning; it is put in all the same, and told."""
        left, order, forced = list(wanted), [], set()
        way = list(self._off)  # an order in which what is left comes off, dead where that can be
        stuck, is_quiet = self._barred(way), not self._is_live(way)
        is_dead = (is_quiet and not stuck) or self._dead_first(way) is not None
        while left:
            held = [thing for thing in left if self._waits(thing, left)]
            free = [thing for thing in left if thing not in held] if held else left
            chosen, chosen_way = "", way
            for thing in (*free, *held):
                shorter = [other for other in way if other != thing]
                is_last = way[-1] == thing  # what came off before it came off without it
                fits = not stuck and (is_last or self._comes_off(shorter))
                if not fits:
                    shorter = self._order_of(shorter)
                    fits = frozenset(left).difference((thing,), shorter) <= stuck
                if fits and is_dead and not (is_last and is_quiet) and self._is_live(shorter):
                    safer = self._dead_first(shorter)
                    fits, shorter = safer is not None, safer or shorter
                if fits:
                    chosen, chosen_way = thing, shorter
                    break
            if not chosen or chosen in stuck:
                chosen = chosen or left[0]
                forced.add(chosen)
            left = [other for other in left if other != chosen]
            kept = set(chosen_way)
            way = [*(one for one in chosen_way if one != chosen), *(other for other in left if other not in kept)]
            stuck = self._barred(left) if stuck or chosen in forced else stuck
            is_dead = is_quiet = is_dead and chosen not in forced
            order.append(chosen)
        return order, forced

    def _comes_off(self, things: Sequence[str]) -> bool:
        """Whether these come off one after another in this order."""
        state = DeviceState(self._structure)
        return all(_take_off(state, self._off[thing]) for thing in things)

    def _is_live(self, way: Sequence[str]) -> bool:
        """Whether something is undone live in this order that the instruction does not have so."""
        state, done = DeviceState(self._structure), set[str]()
        for thing in way:
            if self._is_kept_dead(thing) and not state.is_safe(done):
                return True
            done.add(thing)
        return False

    def _dead_first(self, things: Sequence[str]) -> list[str] | None:
        """An order in which these come off with power cut before what needs that; None where there is none. What is
        done closes nothing: if all that may be done live does not cut it, nothing does."""
        kept = [thing for thing in things if self._is_kept_dead(thing)]
        first = self._order_of([thing for thing in things if thing not in kept])
        if kept and not DeviceState(self._structure).is_safe(set(first)):
            return None
        whole = self._order_of([*first, *(thing for thing in things if thing not in first)])
        return whole if len(whole) == len(things) and not self._is_live(whole) else None

    def _is_kept_dead(self, thing: str) -> bool:
        """Whether it should go in dead; not where the instruction has the power on before it."""
        told = list(self._told)
        return self._needs_safe(thing) and not (thing in told and any(
            self._source(other) is not None for other in told[:told.index(thing)]))

    def _waits(self, thing: str, left: Sequence[str]) -> bool:
        """Whether something makes the device live while there is left what should go in dead."""
        return self._source(thing) is not None and any(self._is_kept_dead(other) for other in left)

    def _source(self, thing: str) -> str | None:
        known = self._structure.removals.get(thing) or self._structure.releases.get(thing)
        return known.source if known is not None else None

    def _needs_safe(self, thing: str) -> bool:
        known = self._structure.removals.get(thing) or self._structure.releases.get(thing)
        return known is not None and known.needs_safe and known.source is None

    def _barred(self, things: Sequence[str]) -> frozenset[str]:
        return frozenset(things).difference(self._order_of(things))

    def _order_of(self, things: Sequence[str]) -> list[str]:
        return order_of(self._structure, [self._off[thing] for thing in things])

    # -- what is done

    def _with_acts(self, order: Sequence[str], forced: Collection[str]) -> list[Step]:
        bonds = self._bonds(order)
        steps: list[Step] = []
        closed: set[str] = set()
        for thing in order:
            steps += [_told_step(told, thing) for told in self._before.get(thing, [])]
            steps += [self._applying(bond, thing) for bond in bonds.get(thing, [])]
            closed.add(thing)
            steps.append(self._closing(thing, closed, thing in forced))
            steps += [_told_step(told, thing) for told in self._behind.get(thing, [])]
        return [*steps, *(_told_step(told, "") for told in self._last)] if order else []

    def _applying(self, bond: str, anchor: str) -> Step:
        """New fixing for a bond: as the instruction has it, else as the rule is."""
        if bond in self._onto:
            return _told_step(self._onto[bond], anchor)
        return Step(do=APPLY, thing=bond, way=self._off[bond].way, anchor=anchor, reason=RULE, is_new=True,
                    uses=(self._renewal(bond),))

    def _closing(self, thing: str, closed: Collection[str], is_forced: bool) -> Step:
        told, structure = self._told.get(thing), self._structure
        entry = told.entry if told is not None else None
        is_dead = DeviceState(structure).is_safe(self._off.keys() - closed)
        fixing = () if thing in structure.removals or (entry is not None and entry.uses) else self._new_screws(thing)
        return Step(do=FIT if thing in structure.removals else FASTEN, thing=thing,
                    way=self._off[thing].way, refit=entry, entry=told.place if told is not None else None,
                    anchor=thing, reason=self._reason if entry is None else INSTRUCTION,
                    uses=(entry.uses if entry is not None else ()) + fixing,
                    is_live=self._needs_safe(thing) and not is_dead, is_forced=is_forced,
                    moves_to=next((one for one in structure.above.get(thing, ()) if one != thing
                                   and one in self._spares), ""),
                    is_new=thing in self._spares or bool(fixing) or (entry is not None and entry.new))

    def _way(self, thing: str) -> Way:
        return self._structure.releases[thing].ways[self._off[thing].way]

    def _new_screws(self, thing: str) -> tuple[Use, ...]:
        """Fixing, other than bonds, that does not go in again after the way in which it was undone."""
        is_bond = self._teardown.joint[thing].kind == "adhesive"
        return () if is_bond or not self._way(thing).is_renewed else (self._renewal(thing),)

    def _renewal(self, thing: str) -> Use:
        joint = self._teardown.joint[thing]
        way = self._way(thing)
        brought = way.resupplied is True or (way.resupplied and self._spares & set(way.resupplied))
        screw = joint.kind == "screw" and joint.fastener
        return Use(material=joint.fastener or joint.kind if screw else joint.kind, qty=joint.count if screw else 1,
                   unit=SCREW if screw else "", supply=WITH_PART if brought and self._spares else ORDERED)

    def _bonds_of(self, thing: str) -> list[str]:
        """Bonds that a part goes onto, or that a joint is."""
        return [id_ for id_, release in self._structure.releases.items() if release.joint.kind == "adhesive"
                and (id_ == thing or thing in release.of)]

    def _is_new_bond(self, thing: str) -> bool:
        joint = self._teardown.joint.get(thing)
        return joint is not None and joint.kind == "adhesive" and self._way(thing).is_renewed

    def _bonds(self, order: Sequence[str]) -> dict[str, list[str]]:
        """New bonds by what they go on before: the last of their parts to go in, else the joint itself."""
        found: dict[str, list[str]] = {}
        for thing in order:
            if self._is_new_bond(thing):
                release = self._structure.releases[thing]
                last = [part for part in order[:order.index(thing)] if part in release.of]
                found.setdefault(last[-1] if last else thing, []).append(thing)
        return found


def _told_step(told: Told, anchor: str) -> Step:
    entry = told.entry
    return Step(do=entry.do, thing=entry.thing or entry.on or "", refit=entry, entry=told.place, anchor=anchor,
                reason=INSTRUCTION, uses=entry.uses, is_new=entry.new)


def order_of(structure: Structure, things: Sequence[Off]) -> list[str]:
    """These in an order in which they come off the closed device, without those that could not if just these were
    taken off: what is done closes nothing, so taking off whatever is free finds out."""
    state, left, order = DeviceState(structure), list(things), list[str]()
    while left:
        rest = []
        for one in left:
            if _take_off(state, one):
                order.append(one.thing)
            else:
                rest.append(one)
        if len(rest) == len(left):
            break
        left = rest
    return order


def _take_off(state: DeviceState, one: Off) -> bool:
    first = Operation(part=one.thing) if one.thing in state.structure.removals else Operation(one.thing, one.way)
    if state.obstacles(first):
        return False
    apply_whole(state, one.thing, one.way)
    return True
