"""What the device is made of: parts by assembly, what is missing, masses, materials, hazards, tools, what to order."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

from msgspec import Struct

from oddbolt.catalog.components import Expected, FirstOut, chip_kind, component_of, expected, first_out
from oddbolt.catalog.defaults import ways_of
from oddbolt.catalog.tables import HAND, tool_row
from oddbolt.catalog.threads import thread_named
from oddbolt.model.things import Fastener, Part, Teardown
from oddbolt.rules.kit import least_kit
from oddbolt.rules.replay import OUTCOMES_THAT_RELEASE, readings
from oddbolt.rules.structure import Structure

PARTS_METHOD, ABSENT = "parts", "absent"  # answers that a kind is not in this device
STEEL_G_MM3 = 0.00785  # density of steel: textbook value
HEAD_HEIGHT_SHARE = 0.45  # height of a head by the thread's diameter: common practice, no source


# -- the tree

class Branch(Struct, frozen=True, kw_only=True):
    """A part with what lies on it, in the order of the record."""

    part: Part
    below: tuple[Branch, ...]


def tree_of(teardown: Teardown, structure: Structure) -> Branch:
    """All parts of this variant under the base."""
    base = teardown.device.base
    on: dict[str, list[Part]] = {}
    for part in teardown.parts:
        if part.id in structure.present and part.id != base:
            carrier = part.on if part.on in structure.present else base
            on.setdefault(carrier or base, []).append(part)

    def branch(part: Part) -> Branch:
        return Branch(part=part, below=tuple(branch(p) for p in on.get(part.id, ())))

    return branch(teardown.part[base])


# -- what is missing

class Missing(Struct, frozen=True, kw_only=True):
    """Something expected and not found; `answered` where a person said that this device has none."""

    expected: Expected
    found: int
    answered: bool


def missing(teardown: Teardown, structure: Structure) -> list[Missing]:
    """What one would expect of the device's category, less what is on record; empty for an unknown category."""
    present = [part for part in teardown.parts if part.id in structure.present]
    answered = {answer.part for answer in teardown.answers
                if (answer.method, answer.criterion) == (PARTS_METHOD, ABSENT) and answer.value}
    rows = []
    for one in expected(teardown.device.category):
        number = sum(_is(part, one) * (part.count or 1) for part in present)
        if number < one.number:
            rows.append(Missing(expected=one, found=number, answered=one.id in answered))
    return rows


def _is(part: Part, one: Expected) -> bool:
    if one.group == "chips":
        return part.kind in ("chip", one.id) and (part.kind == one.id or chip_kind(part) == one.id)
    if one.group == "others":
        text = f"{part.name} {part.kind}".lower()
        return any(word in text for word in one.words)
    return part.kind == one.id


# -- masses

class MassBalance(Struct, frozen=True, kw_only=True):
    """Grams: parts as weighed, bolts by their geometry, the whole device; what is left is not explained."""

    parts_g: float
    bolts_g: float
    whole_g: float | None
    without: tuple[str, ...]  # parts that come off by themselves and have no mass on record

    @property
    def unexplained_g(self) -> float | None:
        return None if self.whole_g is None else self.whole_g - self.parts_g - self.bolts_g

    @property
    def unexplained_share(self) -> float | None:
        return None if not self.whole_g else self.unexplained_g / self.whole_g


def mass_balance(teardown: Teardown, structure: Structure) -> MassBalance:
    """A part's mass is of all its pieces together, without what is mounted on it."""
    present = [part for part in teardown.parts if part.id in structure.present]
    bolts = 0.0
    for joint in teardown.joints:
        fastener = teardown.fastener.get(joint.fastener or "")
        if fastener is not None and teardown.is_present(joint):
            bolts += bolt_mass_g(fastener) * (joint.count or 0)
    return MassBalance(parts_g=sum(p.mass_g or 0 for p in present), bolts_g=bolts, whole_g=teardown.device.mass_g,
                       without=tuple(p.id for p in present if p.mass_g is None and not p.captive))


def bolt_mass_g(fastener: Fastener) -> float:
    """Mass of a steel screw: a cylinder of the pitch diameter and a flat head; 0 where its size is not known."""
    thread = thread_named(fastener.thread) if fastener.thread else None
    if thread is None or fastener.length_mm is None:
        return 0.0
    shank = math.pi / 4 * thread.d2_mm ** 2 * fastener.length_mm
    head = math.pi / 4 * (fastener.head_mm or 1.8 * thread.d_mm) ** 2 * HEAD_HEIGHT_SHARE * thread.d_mm
    return STEEL_G_MM3 * (shank + head)


# -- materials, hazards, waste

def materials_g(teardown: Teardown, structure: Structure) -> list[tuple[str, float]]:
    """Mass by material as far as parts name one, heaviest first; what names none stands under an empty name."""
    total: dict[str, float] = {}
    for part in teardown.parts:
        if part.id in structure.present and part.mass_g:
            name = next((str(f.value) for f in part.facts if f.name == "material" and f.value), "")
            total[name] = total.get(name, 0.0) + part.mass_g
    return sorted(total.items(), key=lambda item: (item[0] == "", -item[1]))


def hazards(teardown: Teardown, structure: Structure) -> list[tuple[str, tuple[str, ...]]]:
    """Hazard words and the parts that bear them."""
    found: dict[str, list[str]] = {}
    for part in teardown.parts:
        for hazard in part.hazards if part.id in structure.present else ():
            found.setdefault(hazard, []).append(part.id)
    return [(hazard, tuple(parts)) for hazard, parts in found.items()]


def to_take_out_first(teardown: Teardown, structure: Structure) -> Iterator[tuple[FirstOut, tuple[str, ...]]]:
    """Groups that waste rules name, with the parts of this device that belong to them; groups without parts are left
    out. An area that is not on record does not exclude a part."""
    rows, _ = first_out()
    for row in rows:
        own = tuple(part.id for part in teardown.parts if part.id in structure.present and _belongs(part, row))
        if own:
            yield row, own


def waste_row(part: Part) -> FirstOut | None:
    """The group of waste rules that a part belongs to."""
    return next((row for row in first_out()[0] if _belongs(part, row)), None)


def _belongs(part: Part, row: FirstOut) -> bool:
    facts = {fact.name: fact.value for fact in part.facts}
    if row.materials and any(word in str(facts.get("material", "")).lower() for word in row.materials):
        return True
    if part.kind not in row.kinds:
        return False
    area = facts.get("area")
    return not isinstance(area, (int, float)) or area >= row.least_cm2


# -- heat, seals, moisture

HEAT_TO = "heat to"  # the fact that names the part to which a part gives its heat


def heat_paths(teardown: Teardown, structure: Structure) -> list[tuple[str, ...]]:
    """Chains from a source of heat to its sink, as parts name the next one; a circle ends where it closes."""
    onward = {part.id: next((str(f.value) for f in part.facts if f.name == HEAT_TO), "") for part in teardown.parts
              if part.id in structure.present}
    fed = set(onward.values())
    found = []
    for start, next_ in onward.items():
        if next_ and start not in fed:
            chain = [start]
            while onward.get(chain[-1]) and onward[chain[-1]] in onward and onward[chain[-1]] not in chain:
                chain.append(onward[chain[-1]])
            found.append(tuple(chain))
    return found


def seals(teardown: Teardown, structure: Structure) -> list[tuple[str, str]]:
    """Gaskets with the opening that each closes: as told, else the part it lies on."""
    return [(part.id, next((str(f.value) for f in part.facts if f.name == "opening"), "") or part.on or
             teardown.device.base) for part in teardown.parts if part.kind == "gasket" and part.id in structure.present]


def moisture(teardown: Teardown, structure: Structure) -> list[tuple[str, str]]:
    """Moisture indicators with their state; empty where nobody looked."""
    return [(part.id, next((str(f.value) for f in part.facts if f.name == "state"), "")) for part in teardown.parts
            if part.kind == "moisture indicator" and part.id in structure.present]


# -- tools and orders

class Kit(Struct, frozen=True, kw_only=True):
    """Tools with their class, in the order of first use."""

    tools: tuple[tuple[str, str], ...]


def kit_used(teardown: Teardown) -> Kit:
    """Tools that the log names, and those of the ways it went."""
    found: dict[str, None] = {}
    for entry in readings(teardown):
        joint = teardown.joint.get(entry.thing or "")
        if entry.do == "release" and joint is not None:
            ways = ways_of(teardown, joint)
            way = ways[min(entry.way or 0, len(ways) - 1)]
            for act in way.acts:
                found |= dict.fromkeys((act.tool, *act.also))
        elif entry.do == "remove" and entry.thing in teardown.part:
            for act in teardown.part[entry.thing].lift:
                found |= dict.fromkeys((act.tool, *act.also))
        if entry.tool:
            found[entry.tool] = None
    return Kit(tools=tuple((tool, class_of(teardown, tool)) for tool in found if tool != HAND))


# From the easiest to come by to the hardest; a class that is not known is the hardest.
TOOL_CLASSES = ("none", "basic", "supplied_with_part", "supplied_with_product", "commercial", "proprietary", "unknown")


def worst_class(classes: Sequence[str]) -> str:
    """The class that is hardest to come by."""
    return max(classes, key=class_rank, default=TOOL_CLASSES[0])


def class_rank(name: str) -> int:
    """How hard tools of a class are to come by."""
    return TOOL_CLASSES.index(name) if name in TOOL_CLASSES else len(TOOL_CLASSES)


def least_kits(teardown: Teardown, structure: Structure, parts: Sequence[str]) -> \
        Iterator[dict[str, Sequence[str] | None]]:
    """The least kit of each part, as far as they are found: the tools that are easiest to come by."""
    found: dict[str, Sequence[str] | None] = {}
    for part in parts:
        yield dict(found)
        found[part] = least_kit(structure, part, lambda tool: class_rank(class_of(teardown, tool)))
    yield found


def class_of(teardown: Teardown, tool: str) -> str:
    """The class of a tool: as the record says, else the catalogue's."""
    own = next((t.tool_class for t in teardown.tools if t.id == tool and t.tool_class), "")
    return own or tool_row(tool).tool_class


class Order(Struct, frozen=True, kw_only=True):
    """Something to renew: a joint's fixing or a part, and why."""

    thing: str
    why: str  # renew, destroyed, damaged, lost, never-refit, kind
    supplied: bool = False  # comes with the spare


def to_order(teardown: Teardown, structure: Structure) -> list[Order]:
    """What has to be renewed after what the log did."""
    found: dict[str, Order] = {}
    for entry in readings(teardown):
        joint, part = teardown.joint.get(entry.thing or ""), teardown.part.get(entry.thing or "")
        if joint is not None and entry.do == "release" and entry.outcome in OUTCOMES_THAT_RELEASE:
            ways = ways_of(teardown, joint)
            way = ways[min(entry.way or 0, len(ways) - 1)]
            why = entry.outcome if entry.outcome in ("destroyed", "lost", "damaged") else \
                way.reuse if way.reuse != "reusable" else ""
            if why:
                found[joint.id] = Order(thing=joint.id, why=why, supplied=bool(way.resupplied))
        elif part is not None and entry.do == "remove":
            if part.extra.get("refit") == "never":
                found[part.id] = Order(thing=part.id, why="never-refit")
            elif entry.outcome in ("destroyed", "lost", "damaged"):
                found[part.id] = Order(thing=part.id, why=entry.outcome)
    return list(found.values())


def parts_to_order(teardown: Teardown, structure: Structure) -> tuple[str, ...]:
    """Parts that do not go back as they came off."""
    return tuple(order.thing for order in to_order(teardown, structure) if order.thing in structure.removals)


# -- one part

class PartSheet(Struct, frozen=True, kw_only=True):
    """What is on record of a part, gathered."""

    part: Part
    held_by: tuple[str, ...]  # joints that tie it
    carries: tuple[str, ...]
    evidence: tuple[str, ...]  # log entries about it
    seen_on: tuple[str, ...]  # views with a mark of it
    portraits: tuple[str, ...]
    renew: tuple[str, ...]  # joints that are renewed whichever way they are released
    measured: tuple[str, ...]  # log entries with a figure of it
    about: object  # Component or None


def part_sheet(teardown: Teardown, part_id: str) -> PartSheet:
    part = teardown.part[part_id]
    return PartSheet(
        part=part, held_by=tuple(j.id for j in teardown.joints if part_id in j.of and teardown.is_present(j)),
        carries=tuple(p.id for p in teardown.parts if p.on == part_id),
        evidence=tuple(e.id for e in teardown.log if part_id in (e.thing, *e.things)),
        seen_on=tuple(v.id for v in teardown.views if any(m.thing == part_id for m in v.marks)),
        portraits=tuple(v.id for v in teardown.views if v.portrait == part_id),
        renew=tuple(j.id for j in teardown.joints if part_id in j.of and part_id == j.of[0]
                    and all(way.reuse != "reusable" for way in ways_of(teardown, j))),
        measured=tuple(e.id for e in teardown.log if e.do == "measure" and e.thing == part_id),
        about=component_of(part))
