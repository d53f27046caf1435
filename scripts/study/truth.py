"""Hidden devices: what they are made of, where it lies in millimetres, and what hides what. Only the simulation knows.

A thing's hiders are kept as clauses: each is a set of things of which one has to be cleared. Rules of the program are
not used here, nor its odds; the odds are those of the table "which thing hides which" of the archetypes.
"""

from __future__ import annotations

import itertools
import random
from collections.abc import Sequence

from msgspec import Struct, field

from oddbolt.model import exchange
from oddbolt.model.things import Teardown
from oddbolt.rules.device_state import DeviceState, Operation
from oddbolt.rules.structure import Structure

Rect = tuple[float, float, float, float]  # left, top, right, bottom, mm
Spot = tuple[float, float]
BASE = "base"
HAND = "hand"
PLUG_TOOLS = ("spudger", "plug-lifter", "tweezers", HAND)
USUAL = {"clip": ("pick", "spudger", "card", HAND), "connector": PLUG_TOOLS, "film": ("tweezers", HAND, "spudger"),
         "slide": (HAND, "tray-pin"), "magnet": (HAND, "pick"), "press-fit": ("spudger", "tweezers"),
         "routing": (HAND, "tweezers"), "swing": (HAND,)}
# How a bond is parted: the acts with their tools and waits, and the method of the catalogue that comes nearest.
BONDS = {
    "heat and pick": ("heat", (("heat-mat", 240), ("pick", 0))),
    "heat, cup and pick": ("heat-cup", (("heat-gun", 120), ("suction-cup", 0), ("pick", 0))),
    "cup and pick": ("cup", (("suction-cup", 0), ("pick", 0))),
    "solvent and card": ("solvent", (("dropper", 120), ("card", 0))),
    "pull tab": ("pull", (("tweezers", 0), (HAND, 0))),
    "tear and pull": ("tear", ((HAND, 0),)),
    "pry": ("pry", (("card", 0),)),
    "pry with a pick": ("pry", (("pick", 0),)),
}
COOLS = ("heat-mat", "heat-gun")  # what comes after these has to be done at once
DRIVES = (("PH", "00"), ("PH", "0"), ("T", "5"), ("T", "3"), ("Y", "000"), ("PL", "2"))


class Thing(Struct, kw_only=True):
    """A part or a joint as it truly is."""

    id: str
    kind: str
    z: int  # the higher, the nearer to who opens the device
    rect: Rect | None = None  # of a part
    spots: list[Spot] = field(default_factory=list)  # of a joint: where it is undone
    clauses: list[tuple[str, ...]] = field(default_factory=list)  # one of each has to be cleared
    of: tuple[str, ...] = ()  # of a joint
    type: str = ""
    letter: str = ""
    acts: tuple[tuple[str, float], ...] = ()  # tool and wait, s
    method: str = ""  # of a bond, in the catalogue's words
    isolates: bool = False
    on: str = BASE  # of a part
    roles: tuple[str, ...] = ()
    side: str = "back"

    @property
    def is_part(self) -> bool:
        return not self.of

    @property
    def middle(self) -> Spot:
        if self.rect is not None:
            return (self.rect[0] + self.rect[2]) / 2, (self.rect[1] + self.rect[3]) / 2
        return (sum(x for x, _ in self.spots) / len(self.spots), sum(y for _, y in self.spots) / len(self.spots))


class Hidden:
    """A device that is being made up."""

    def __init__(self, rng: random.Random, archetype: int, size: Spot) -> None:
        self.rng, self.archetype, self.size = rng, archetype, size
        self.things: dict[str, Thing] = {}
        self.face = "back"  # from which side it is opened
        self.drives = rng.sample(DRIVES, rng.choice((1, 2, 2, 3, 4)))
        self.letters: dict[str, tuple[str, str]] = {}
        self.differing = rng.uniform(0.15, 0.30)  # of joints of a kind that are undone with another tool
        self._main = {kind: rng.choice(tools[:3]) for kind, tools in USUAL.items()}
        self.tweezed = 0.0 if rng.random() < 0.6 else rng.uniform(0.1, 0.5)  # of small parts lifted by the book
        self._numbers = itertools.count(1)

    # -- making

    def chance(self, odds: float) -> bool:
        return self.rng.random() < odds

    def name(self, stem: str) -> str:
        return stem if stem not in self.things else f"{stem}{next(self._numbers)}"

    def part(self, stem: str, kind: str, rect: Rect, z: int, *, behind: Sequence[str] = (), on: str = BASE,
             roles: Sequence[str] = (), side: str = "") -> str:
        id_ = self.name(stem)
        small = kind in ("bracket", "cable", "antenna", "gasket", "foam", "shield")
        tool = "tweezers" if small and self.chance(self.tweezed) else HAND
        self.things[id_] = Thing(id=id_, kind=kind, z=z, rect=rect, clauses=[(one,) for one in behind], on=on,
                                 roles=tuple(roles), side=side or self.face, acts=((tool, 0),))
        return id_

    def _joint(self, stem: str, kind: str, of: Sequence[str], spots: Sequence[Spot], z: int, behind: Sequence[str],
               **more: object) -> str:
        id_ = self.name(stem)
        side = self.things[of[0]].side if of[0] in self.things else self.face
        self.things[id_] = Thing(id=id_, kind=kind, z=z, spots=list(spots), of=tuple(of), side=side,
                                 clauses=[(one,) for one in behind], **more)
        return id_

    def tool(self, kind: str) -> str:
        others = [tool for tool in USUAL[kind] if tool != self._main[kind]]
        return self.rng.choice(others) if others and self.chance(self.differing) else self._main[kind]

    def spots_in(self, rect: Rect, number: int) -> list[Spot]:
        """Round the edge of a rectangle, as fixings lie."""
        left, top, right, bottom = rect
        width, height = right - left, bottom - top
        inset = min(2.0, width / 4, height / 4)
        found = []
        turn = self.rng.random()
        for n in range(number):
            along = ((n + turn) / number % 1.0) * 2 * (width + height)
            if along < width:
                found.append((left + along, top + inset))
            elif along < width + height:
                found.append((right - inset, top + along - width))
            elif along < 2 * width + height:
                found.append((right - (along - width - height), bottom - inset))
            else:
                found.append((left + inset, bottom - (along - 2 * width - height)))
        return found

    def letter(self, part: str) -> str:
        """One letter for several parts, seldom two for one."""
        letters = sorted(self.letters)
        if letters and self.chance(0.55):
            return self.rng.choice(letters)
        made = "ABCDEFGHIJKLMNOP"[len(self.letters)] if len(self.letters) < 8 else self.rng.choice(letters)
        self.letters.setdefault(made, self.rng.choice(self.drives))
        return made

    def screws(self, part: str, number: int, *, to: str = BASE, behind: Sequence[str] = (),
               spots: Sequence[Spot] = (), z: int | None = None) -> str:
        thing = self.things[part]
        letter = self.letter(part)
        drive, size = self.letters[letter]
        return self._joint(f"{part}-s", "screw", (part, to), spots or self.spots_in(thing.rect, number),
                           thing.z if z is None else z, behind, letter=letter,
                           acts=((f"{drive.lower()}{size}", 0),))

    def fixing(self, part: str, kind: str, *, to: str = BASE, behind: Sequence[str] = (), number: int = 4,
               bond: str = "") -> str:
        """Clips, a bond, a slide, magnets, a press fit of a part."""
        thing = self.things[part]
        spots = self.spots_in(thing.rect, number) if kind == "clip" else [thing.middle]
        if kind == "adhesive":
            bond = bond or self.rng.choice(("solvent and card", "pull tab", "pry", "tear and pull", "pry with a pick"))
            method, acts = BONDS[bond]
            return self._joint(f"{part}-g", kind, (part, to), spots, thing.z, behind, acts=acts, method=method)
        return self._joint(f"{part}-{kind[0]}", kind, (part, to), spots, thing.z, behind, acts=((self.tool(kind), 0),))

    def plug(self, part: str, to: str, spot: Spot, *, z: int, behind: Sequence[str] = (), isolates: bool = False,
             type_: str = "") -> str:
        type_ = type_ or self.rng.choices(("board-to-board", "zif", "wire-to-board"), (75, 15, 10))[0]
        return self._joint(f"{part}-p", "connector", (part, to), [spot], z, behind, type=type_, isolates=isolates,
                           acts=((self.tool("connector"), 0),))

    def film(self, over: str, *, behind: Sequence[str] = (), on: str = BASE) -> str:
        """A film, tape or label over one thing; peeled, it is gone."""
        thing = self.things[over]
        x, y = thing.middle
        tied, below = thing.of[:2] if thing.of else (over, on)
        id_ = self._joint(f"film-{over}", "film", (tied, below), [(x, y)], thing.z + 1, behind,
                          acts=((self.tool("film"), 0),))
        if self.chance(0.9):
            thing.clauses.append((id_,))
        return id_

    def swing(self, part: str, behind: Sequence[str]) -> str:
        return self._joint(f"{part}-swing", "swing", (part, BASE), [self.things[part].middle], self.things[part].z,
                           behind, acts=((HAND, 0),))

    def joints_of(self, part: str) -> list[str]:
        return [thing.id for thing in self.things.values() if part in thing.of]

    def hide(self, hider: str, odds: dict[str, float], below: Sequence[str] | None = None, *,
             beside_mm: float = 0.0) -> None:
        """Draw what lies under a part: kinds of thing with their odds; joints by their place, parts by overlap."""
        cover = self.things[hider]
        for thing in list(self.things.values()):
            if thing.z >= cover.z or thing.side != cover.side or hider in thing.of or thing.id == hider \
                    or (below is not None and thing.id not in below) or thing.on == hider:
                continue
            key = thing.kind if thing.kind in odds else "part" if thing.is_part else "joint"
            if key in odds and self.lies_under(thing, cover.rect, beside_mm) and self.chance(odds[key]):
                thing.clauses.append((hider,))

    @staticmethod
    def lies_under(thing: Thing, rect: Rect, beside_mm: float = 0.0) -> bool:
        left, top, right, bottom = rect[0] - beside_mm, rect[1] - beside_mm, rect[2] + beside_mm, rect[3] + beside_mm
        if thing.rect is None:
            return any(left <= x <= right and top <= y <= bottom for x, y in thing.spots)
        x, y = thing.middle
        return left <= x <= right and top <= y <= bottom

    def make_possible(self) -> None:
        """Where things wait for each other in a circle, one of the draws that made it is taken back."""
        while stuck := self._stuck():
            third = [thing for thing in stuck if len(thing.of) > 2]
            circles = [(thing, clause) for thing in stuck for clause in thing.clauses
                       if all(any(one == other.id for other in stuck) for one in clause)]
            if third:
                third[0].of = third[0].of[:2]
            else:
                thing, clause = self.rng.choice(circles)
                thing.clauses.remove(clause)

    def _stuck(self) -> list[Thing]:
        structure = Structure(self.truth())
        state = DeviceState(structure)
        left = {*structure.removals, *structure.releases}
        moved = True
        while moved:
            moved = False
            for id_ in sorted(left):
                if not state.obstacles_of(id_):
                    apply_all(state, structure, id_)
                    left.discard(id_)
                    moved = True
        return [self.things[id_] for id_ in sorted(left) if id_ in self.things]

    # -- as it is

    def truth(self, without: frozenset[str] = frozenset()) -> Teardown:
        """The record that a perfect analyst would make; `without` leaves things out of it."""
        parts_there = {BASE, *(thing.id for thing in self.things.values() if thing.is_part)} - without
        there = [thing for thing in self.things.values() if thing.id not in without
                 and (thing.is_part or len(parts_there.intersection(thing.of)) > 1)]
        known = {thing.id for thing in there}
        parts: list[dict[str, object]] = [{"id": BASE, "kind": "frame"}]
        joints: list[dict[str, object]] = []
        for thing in there:
            behind = behind_of(thing.clauses, known | {BASE})
            if thing.is_part:
                tool = thing.acts[0][0]
                parts.append({"id": thing.id, "kind": thing.kind, "name": thing.id, "active_s": 3, "behind": behind,
                              "role": list(thing.roles), "side": thing.side,
                              **({"on": thing.on} if thing.on != BASE and thing.on in known else {}),
                              **({"tool": tool} if tool != HAND else {})})
            else:
                acts = [{"tool": tool, "active_s": 5, **({"wait_s": wait} if wait else {}),
                         **({"at_once": True} if n and thing.acts[n - 1][0] in COOLS else {})}
                        for n, (tool, wait) in enumerate(thing.acts)]
                joints.append({"id": thing.id, "kind": thing.kind,
                               "of": [p for p in thing.of if p in known or p == BASE], "behind": behind,
                               "side": thing.side, "ways": [{"acts": acts}],
                               **({"type": thing.type} if thing.type else {}),
                               **({"isolates": True} if thing.isolates else {}),
                               **({"fastener": thing.letter, "count": len(thing.spots)} if thing.letter else {})})
        return exchange.from_json({
            "format": "oddbolt-teardown", "version": 1, "device": {"base": BASE, "name": "hidden"},
            "fasteners": [{"id": letter, "drive": drive, "size": size}
                          for letter, (drive, size) in sorted(self.letters.items())],
            "parts": parts, "joints": joints})


def apply_all(state: DeviceState, structure: Structure, id_: str) -> None:
    """Lift a part, or release a joint by all acts of its way."""
    if id_ in structure.removals:
        state.apply(Operation(part=id_))
        return
    for act in range(len(structure.releases[id_].ways[0].acts)):
        state.apply(Operation(joint=id_, act=act))


def behind_of(clauses: Sequence[tuple[str, ...]], known: set[str]) -> list[list[str]]:
    """Alternatives of what has to be cleared: one thing of each clause."""
    left = [tuple(one for one in clause if one in known) for clause in dict.fromkeys(clauses)]
    found = [tuple(dict.fromkeys(choice)) for choice in itertools.product(*(clause for clause in left if clause))]
    return [list(choice) for choice in dict.fromkeys(found) if choice][:8]
