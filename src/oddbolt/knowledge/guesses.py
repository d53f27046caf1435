"""First guesses at what hides a thing, with the reason; assumed until evidence or an answer settles them.

Tried on recorded jobs (docs/methods/access.md): "behind all that came off before" is nearly useless; the last large
cover, or the swing that opened the layer, is right more often; a connector also lies behind the small cover just
lifted; on the underside of something lifted, what faced it is the base; never what carries it.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Set
from functools import cached_property
from math import prod

from msgspec import Struct

from oddbolt.catalog.tables import covering_kinds
from oddbolt.knowledge.covering import IN, NOTHING, OUT, RIM_OF_IT, places_of
from oddbolt.knowledge.evidence import AFTER_SCREWS, AllEvidence, Evidence
from oddbolt.model.things import ASSUMED, Joint, Part, Teardown
from oddbolt.rules.replay import readings
from oddbolt.rules.structure import Structure, structure_of

LIKELY = 0.5
BESIDE = 0.05  # of the diagonal: by marks and drawings a plug lies so far outside of its plate at most
# Odds that something cleared before hides a thing, where nothing else speaks for it: common practice, no source.
FLAT, OTHER = ("", 0.10), ("", 0.03)
# Where what a hider had covered was drawn: the odds before, by whether a rule speaks for it, and what the place tells
# (likelihood ratios). Tuned on the archetypes that were not held out (docs/methods/access.md).
BY_RULE, BY_NO_RULE = 0.7, 0.2
BONDED_IN = 1.5  # a bond, or a run of a cable, within what was covered: most often it lies beside, not beneath
DRAWN = {IN: 9.0, RIM_OF_IT: 1.0, OUT: 0.12, NOTHING: 0.06}
Reasons = dict[str, tuple[str, float]]  # hider -> why, and how likely


class Guess(Struct, frozen=True, kw_only=True):
    """`behind` as it would be recorded; `code` and `things` say why; `odds` how likely each open candidate hides it."""

    behind: tuple[tuple[str, ...], ...]
    # open, opened-layer, small-cover, under-film, under-cable, cable-across, under-bulk, underside, covers,
    # not-in-reach, footprint, own-screws, answered
    code: str
    things: tuple[str, ...]
    odds: Mapping[str, float]
    one_of: tuple[str, ...]  # one of these hides it for certain or nearly so; their odds add up to one
    settled: bool  # nothing is left to assume


class Guesses:
    """Guesses for the things of one snapshot."""

    def __init__(self, teardown: Teardown, structure: Structure | None = None) -> None:
        self.teardown = teardown
        self.structure = structure or structure_of(teardown)
        self.record = AllEvidence(teardown, self.structure)
        self.places = places_of(teardown)
        self.kinds = covering_kinds()
        self._before: dict[str, frozenset[str]] = {}
        self._kind_of = {thing.id: thing.kind for thing in (*teardown.joints, *teardown.parts)}

    def guess(self, thing: str) -> Guess:
        """What probably hides a part or joint that is on record."""
        return self.judge(self.record.of(thing))

    def judge(self, evidence: Evidence) -> Guess:
        open_ = evidence.open
        reasons = self._reasons(evidence, open_, weak=True)
        odds = {x: reasons[x][1] for x in open_ if x in reasons}
        one_of = tuple(x for x in evidence.late if x in odds)
        likely = self._likely(evidence, reasons, one_of)
        behind = tuple(x for x in evidence.candidates if x in likely or x in evidence.hides)
        code, why = "open", ()
        if behind:
            last = next((x for x in reversed(behind) if x in likely), behind[-1])
            code, why = reasons[last][0] if last in likely else "answered", (last,)
        moot = self._moot(evidence)
        left = {x: p for x, p in odds.items() if x not in moot} if moot else odds
        return Guess(behind=(behind,) if behind else (), code=code, things=why, odds=left,
                     one_of=tuple(x for x in one_of if x in left), settled=not left)

    def assumed(self, thing: str) -> tuple[tuple[str, ...], ...]:
        """`behind` of its guess, without the odds of what is not likely: most of a large record."""
        evidence = self.record.of(thing)
        open_ = evidence.open
        one_of = tuple(x for x in evidence.late if x in open_)
        reasons = self._reasons(evidence, open_, weak=bool(one_of))
        likely = self._likely(evidence, reasons, tuple(x for x in one_of if x in reasons))
        behind = tuple(x for x in evidence.candidates if x in likely or x in evidence.hides)
        return (behind,) if behind else ()

    @staticmethod
    def _likely(evidence: Evidence, reasons: Reasons, one_of: tuple[str, ...]) -> set[str]:
        likely = {x for x, (_, odds) in reasons.items() if odds >= LIKELY}
        if one_of:
            best = max(one_of, key=lambda x: (reasons[x][1], evidence.candidates.index(x)))
            likely = likely - set(one_of) | {best}
        return likely

    def _moot(self, evidence: Evidence) -> frozenset[str]:
        """What makes no difference: it must be cleared anyway before something that is known to be in the way."""
        known = [*evidence.hides, *self._tied(evidence.thing)]
        return frozenset().union(*(self.before(other) for other in known))

    def _tied(self, thing: str) -> tuple[str, ...]:
        removal = self.structure.removals.get(thing)
        return removal.ties if removal else ()

    def before(self, thing: str) -> frozenset[str]:
        """What must be cleared before the thing can be, by what is not assumed."""
        if thing not in self._before:
            self._before[thing] = frozenset()  # breaks circles; a record may contain them
            found: set[str] = set()
            names = [*self._firmly_behind(thing), *self._tied(thing)]
            for name in names:
                found.add(name)
                found |= self.before(name)
            self._before[thing] = frozenset(found)
        return self._before[thing]

    def _firmly_behind(self, thing: str) -> Collection[str]:
        """What hides it for certain."""
        record = self.teardown.part.get(thing) or self.teardown.joint.get(thing)
        if record is None:
            return ()
        if record.basis != ASSUMED:
            return record.behind[0] if len(record.behind) == 1 else ()
        return self.record.of(thing).hides if self.record.is_met(thing) else ()

    # -- reasons

    def _reasons(self, evidence: Evidence, open_: tuple[str, ...], *, weak: bool) -> Reasons:
        """For each open candidate the strongest reason to think that it hides the thing, and how strong it is; without
        `weak` only for those of which something speaks for it."""
        if self.record.is_retold:  # what waits for the thing itself, by what was said, does not hide it
            open_ = tuple(x for x in open_ if evidence.thing not in self.before(x))
        if not open_:
            return {}
        thing = self.teardown.part.get(evidence.thing) or self.teardown.joint.get(evidence.thing)
        found: Reasons = {x: self._weak(x) for x in open_} if weak else {}
        among = found.keys() if weak else frozenset(open_)
        if self.structure.base in open_:
            found[self.structure.base] = ("underside", 0.7)
        # What is glued down under the covers shows when the outermost is off.
        bonded = isinstance(thing, Joint) and thing.kind == "adhesive"
        opener = next((x for x in (open_ if bonded else reversed(open_)) if x in self._openers
                       and not self._on_other_side(x, thing) and not self._lies_beside(x, evidence.thing, open_)), "")
        if opener and self.structure.base not in open_:
            found[opener] = ("opened-layer", 0.85)
        self._small_covers(evidence, open_, thing, found)
        self._by_place(evidence, among, thing, found)
        self._by_footprint(evidence, open_, found)
        for x in evidence.seen_past:
            # No photograph shows what a cover hides: a mark on one from before it opened is there for want of a newer.
            if x in found and found[x][0] not in ("under-film", "underside") and x not in self._openers:
                found[x] = (found[x][0], found[x][1] * 0.4)
        late = [x for x in evidence.late if x in found]
        if late:  # one of these was in the way: their odds add up to one
            whole = sum(found[x][1] for x in late)
            for x in late:
                found[x] = (found[x][0] or "not-in-reach", found[x][1] / whole)
        return found

    def _lies_beside(self, cover: str, thing: str, open_: tuple[str, ...]) -> bool:
        """Whether a cover within the device spans another place: what lies beside it was there when the outer one was
        off."""
        if self.places.told_of(thing).covers.get(cover) is not False or self.places.under(cover, thing) is not None:
            return False
        return any(x in self._openers for x in open_[:open_.index(cover)])

    def opens(self, hider: str) -> bool:
        """Whether clearing it opened a layer: a large cover, or the swing of one."""
        return hider in self._openers

    def _weak(self, hider: str) -> tuple[str, float]:
        return FLAT if hider in self._flat else OTHER

    @cached_property
    def _flat(self) -> frozenset[str]:
        kinds = self.kinds.large | self.kinds.small | self.kinds.bulky
        return frozenset(id_ for id_, kind in self._kind_of.items() if kind in kinds)

    @cached_property
    def _films(self) -> frozenset[str]:
        return frozenset(joint.id for joint in self.teardown.joints if joint.kind == "film")

    @cached_property
    def _done_after(self) -> dict[str, str]:
        """Film -> what was undone or lifted next."""
        done = [entry.thing for entry in readings(self.teardown) if entry.do in ("release", "remove") and entry.thing]
        return {one: other for one, other in zip(done, done[1:]) if one in self._films}

    @cached_property
    def _judged_by_place(self) -> frozenset[str]:
        """Parts smaller than what they lie in: what opens a layer hides what its outline does not take in, too."""
        return frozenset(part.id for part in self.teardown.parts
                         if part.kind not in self.kinds.large and part.id != self.structure.base)

    @cached_property
    def _openers(self) -> frozenset[str]:
        swung = {joint.of[0] for joint in self.teardown.joints if joint.kind == "swing"}
        return frozenset((*(p.id for p in self.teardown.parts if p.kind in self.kinds.large or p.id in swung),
                          *(joint.id for joint in self.teardown.joints if joint.kind == "swing")))

    def _on_other_side(self, hider: str, thing: Part | Joint | None) -> bool:
        """Whether one is worked on from the front and the other from the back."""
        other = self.teardown.part.get(hider) or self.teardown.joint.get(hider)
        sides = {thing.side, other.side} if thing is not None and other is not None else set()
        return sides == {"front", "back"}

    def _small_covers(self, evidence: Evidence, open_: tuple[str, ...], thing: Part | Joint | None,
                      found: Reasons) -> None:
        """A connector lies behind the small cover just lifted; a cable run behind the last bulky thing."""
        if isinstance(thing, Joint) and thing.kind == "adhesive" and self._kind_of.get(thing.of[0]) == "battery":
            found.update((x, ("cable-across", 0.6)) for x in open_ if self._kind_of.get(x) == "cable")
        held = thing.of[0] if isinstance(thing, Joint) and thing.kind != "connector" else evidence.thing
        boards = [x for x in open_ if self._kind_of.get(x) == "board"]
        if boards and self._kind_of.get(held) in self.kinds.under_board:
            found[boards[-1]] = ("under-bulk", 0.6)
        if isinstance(thing, Joint) and thing.kind in AFTER_SCREWS:
            found.update((x, ("own-screws", 0.7)) for x in open_ if self._kind_of.get(x) == "screw")
        if isinstance(thing, Joint) and evidence.candidates:
            last = evidence.candidates[-1]
            if thing.kind == "connector" and self.structure.base not in open_:
                found.update(self._plates(evidence, open_, thing.id))
            elif thing.kind == "clip" and last in open_ and self._kind_of.get(last) in self.kinds.small:
                found[last] = ("small-cover", 0.6)
            if thing.kind not in ("routing", "adhesive"):
                return
            bulky = [x for x in open_ if self._kind_of.get(x) in self.kinds.bulky]
            if thing.kind == "routing" and bulky:
                found[bulky[-1]] = ("under-cable", 0.7)
            elif thing.kind == "adhesive" and bulky and bulky[-1] == last:
                found[last] = ("under-bulk", 0.6)  # what is glued under a board shows when the board is gone

    def _plates(self, evidence: Evidence, open_: tuple[str, ...], plug: str) -> Reasons:
        """A plug lies behind the last plate until a cover or a board comes off: plates are unscrewed in a row, lifted
        in a row, and then all plugs are opened in a row. Of those whose place is known, the one that the plug lies
        furthest within; it may lie `BESIDE` outside of one that came off in this row. Never two."""
        plates: list[str] = []
        for x in evidence.candidates:
            if x in self._openers or self._kind_of.get(x) in self.kinds.bulky:
                plates.clear()
            elif x in open_ and self._kind_of.get(x) in self.kinds.small and self._kind_of.get(x) in self._plate_kinds:
                plates.append(x)
        known = [x for x in open_ if self._kind_of.get(x) in self._plate_kinds]
        within = {x: depth for x in known if (depth := self.places.depth_mm(x, plug)) is not None}
        beside = -BESIDE * self.places.diagonal()
        spanning = [x for x, depth in within.items() if depth >= (beside if x in plates else 0.0)]
        best = max(spanning, key=within.__getitem__, default=next((x for x in reversed(plates) if x not in within), ""))
        found: Reasons = dict.fromkeys(within, FLAT)
        return {**found, best: ("small-cover", 0.75)} if best else found

    def _place_says_nothing(self, joint: Joint, hider: str) -> bool:
        """Of a plug and a plate whose place is known: `_plates` has decided between it and the others. Of screws that
        hold a plate: they lie on top of it, and another, the edge of which lies near, does not cover them."""
        kinds = self._plate_kinds
        if self._kind_of.get(hider) not in kinds:
            return False
        if joint.kind == "connector":
            return self.places.depth_mm(hider, joint.id) is not None
        return joint.kind == "screw" and self._kind_of.get(joint.of[0]) in kinds

    @cached_property
    def _plate_kinds(self) -> frozenset[str]:
        return self.kinds.small - {"film"}

    def _by_footprint(self, evidence: Evidence, open_: tuple[str, ...], found: Reasons) -> None:
        """What was drawn as covered is weighed with the rules, not put in their place: log-odds for each pair."""
        joint = self.teardown.joint.get(evidence.thing)
        bonded = joint is not None and joint.kind in ("adhesive", "routing")
        before = dict(found)
        for x in open_:
            if joint is not None and joint.kind == "connector" and self._place_says_nothing(joint, x):
                continue
            told = self.places.under(x, evidence.thing)
            if told is None or (told == IN and x in evidence.seen_past):
                continue
            code, odds = found.get(x) or self._weak(x)
            prior = BY_RULE if odds >= LIKELY else BY_NO_RULE
            ratio = BONDED_IN if told == IN and bonded else DRAWN[told]
            others = self.places.together(x) - {x} if told == IN else frozenset()
            if others and not evidence.hides.isdisjoint(others):
                continue  # one of them is known to be in front of it: what was seen is explained by that
            # One of several at least: of none of them is what the place tells, less the more of them there are.
            none = prod(1 - (BY_RULE if (before.get(y) or self._weak(y))[1] >= LIKELY else BY_NO_RULE)
                        for y in others if y in open_)
            told_of = prior * ratio / (prior * ratio + (1 - prior) * (none + (1 - none) * ratio))
            found[x] = ("footprint" if told == IN else code, told_of)

    def _by_place(self, evidence: Evidence, among: Set[str], thing: Part | Joint | None, found: Reasons) -> None:
        if thing is None:
            return
        for x in self._films & among:
            # A film is peeled only for access: what is undone next, before a lift, or lies by it, was under it.
            under = self._done_after.get(x) == thing.id or self.places.near(x, thing.id)
            found[x] = ("under-film", 0.8) if under else ("", 0.01)
        judged_by_place = self._judged_by_place
        told = self.places.told_of(thing.id)
        for x in dict.fromkeys((*told.by, *found)):
            if x not in told.covers or x not in among or x not in judged_by_place:
                continue
            if isinstance(thing, Joint) and self._place_says_nothing(thing, x):
                continue
            code, odds = found.get(x) or self._weak(x)
            if told.covers[x]:
                found[x] = ("covers", max(odds, 0.75))
            elif code not in ("under-bulk", "under-cable", "small-cover"):
                found[x] = (code, odds * 0.5)


def other_end(teardown: Teardown, part: str) -> str:
    """What a connector of `part` probably leads to: the main board; without one, what the part lies on."""
    boards = [p for p in teardown.parts if p.kind == "board" and p.id != part]
    main = [p.id for p in boards if "main" in f"{p.id} {p.name}".lower()]
    if main or boards:
        return (main or [boards[0].id])[0]
    return (teardown.part[part].on if part in teardown.part else None) or teardown.device.base
