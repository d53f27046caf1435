"""What a device is made with, in figures that can stand beside those of another: fasteners by type, tools, renewals,
glue, connectors, masses, screws."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

from msgspec import Struct

from oddbolt.catalog.defaults import ways_of
from oddbolt.model.things import Fastener
from oddbolt.reassembly.inventory import mass_balance
from oddbolt.rules.replay import replay
from oddbolt.search.planner import Planner

BOLTS, TYPES, TOOLS, RENEWED, DESTROYED, GLUE, CONNECTORS, PARTS, MASS = (
    "bolts", "bolt_types", "tools", "renewed", "destroyed", "glue", "connectors", "parts", "mass_g")
FIGURES = (BOLTS, TYPES, TOOLS, RENEWED, DESTROYED, GLUE, CONNECTORS, PARTS, MASS)


class Profile(Struct, frozen=True, kw_only=True):
    """Figures by their code (None: not known), bolts by type, tools of the ways to the parts that matter, and
    connectors by type."""

    figures: dict[str, float | None]
    fasteners: dict[str, int]
    tools: tuple[str, ...]
    connectors: dict[str, int]
    passes: tuple[tuple[int, float], ...]  # as performed: steps and seconds of each pass


def profile(planner: Planner) -> Profile:
    teardown, structure = planner.teardown, planner.structure
    joints = [joint for joint in teardown.joints if teardown.is_present(joint)]
    fasteners: Counter[str] = Counter()
    unknown = False
    for joint in joints:
        if joint.kind != "screw":
            continue
        fastener = teardown.fastener.get(joint.fastener or "")
        unknown = unknown or joint.count is None
        fasteners[type_of(fastener)] += joint.count or 0
    tools: dict[str, None] = {}
    for part in teardown.parts:
        if part.role and part.id in structure.present:
            count = planner.plan([part.id]).count
            tools |= dict.fromkeys(timed.tool for timed in count.timed) if count is not None else {}
    first = {joint.id: ways_of(teardown, joint)[0].reuse for joint in joints}
    connectors = Counter(joint.type or joint.kind for joint in joints if joint.kind == "connector")
    masses = mass_balance(teardown, structure)
    figures: dict[str, float | None] = {
        BOLTS: None if unknown else sum(fasteners.values()), TYPES: len(fasteners), TOOLS: len(tools),
        RENEWED: sum(reuse == "renew" for reuse in first.values()),
        DESTROYED: sum(reuse == "destroyed" for reuse in first.values()),
        GLUE: sum(joint.kind == "adhesive" for joint in joints), CONNECTORS: sum(connectors.values()),
        PARTS: len(structure.present), MASS: masses.whole_g if masses.whole_g else None}
    return Profile(figures=figures, fasteners=dict(fasteners), tools=tuple(tools), connectors=dict(connectors),
                   passes=tuple(_performed(planner)))


def _performed(planner: Planner) -> Iterator[tuple[int, float]]:
    teardown, structure = planner.teardown, planner.structure
    for pass_ in sorted({entry.pass_ for entry in teardown.log}):
        counted = replay(teardown, structure, pass_).counted(structure, planner.convention, planner.times)
        yield counted.steps, counted.time_ms / 1000


def type_of(fastener: Fastener | None) -> str:
    """A fastener by what it is, whatever its letter: "PH00 M1.4 x 3"; empty where nothing is known of it."""
    if fastener is None:
        return ""
    size = f"{fastener.thread} x {fastener.length_mm:g}" if fastener.thread and fastener.length_mm else fastener.thread
    return " ".join(one for one in (f"{fastener.drive}{fastener.size}", size) if one)
