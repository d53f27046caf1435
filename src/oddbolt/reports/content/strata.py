"""The section as content: for each part a column of layers, with the layers that several parts share run together.

Sequences that are equally good are put into one common order first (layers that most parts need come first), as far as
the rules and the number of steps allow, so that what is shared lies on top and runs on across columns.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence

from msgspec import Struct, field
from msgspec.structs import replace

from oddbolt.catalog.defaults import verb_of
from oddbolt.comparing.comparison import Comparison
from oddbolt.model.things import Joint, Teardown
from oddbolt.rules.counting import Count, count
from oddbolt.rules.device_state import DeviceState, Operation, act_of, is_last_act, way_of
from oddbolt.rules.times import Estimate
from oddbolt.search.planner import Plan, Planner
from oddbolt.studies.retelling import GUESSED, known_without_plans, unconfirmed
from oddbolt.words.acts import lift_verb
from oddbolt.words.translate import of_data, tr

SCREWS, LIFT, PLUG, GLUE, WAIT, FILM, ACT = "screws", "lift", "plug", "glue", "wait", "film", "act"
SHARED, DEPTH, ROLE, GIVEN = "shared", "depth", "role", "given"  # orders of columns
_KINDS = {"screw": SCREWS, "connector": PLUG, "adhesive": GLUE, "film": FILM}


class Layer(Struct, frozen=True, kw_only=True):
    """One stratum: an act or a lift, or several alike run together."""

    kind: str
    things: tuple[str, ...]
    label: str
    bolts: tuple[tuple[str, int | None], ...] = ()  # fastener letter and count
    seconds: float
    wait_s: float = 0
    renew: bool = False
    destroyed: bool = False
    hazards: tuple[str, ...] = ()
    live: bool = False
    assumed: bool = False
    isolates: bool = False
    is_target: bool = False
    known: Estimate | None = None  # the active time, with how it is known

    @property
    def total_s(self) -> float:
        return self.seconds + self.wait_s


class Node(Struct, kw_only=True):
    """A layer that runs across columns `first` to `last`, and what lies under it."""

    layer: Layer
    first: int
    last: int
    step: int
    under: list[Node] = field(default_factory=list)


class Column(Struct, frozen=True, kw_only=True):
    part: str
    plan: Plan
    count: Count
    layers: tuple[Layer, ...]
    known: str = GUESSED  # how known its depth is


class Section(Struct, frozen=True, kw_only=True):
    columns: tuple[Column, ...]
    top: tuple[Node, ...]
    blocked: tuple[Plan, ...]  # parts that cannot be freed


def build_section(planner: Planner, parts: Sequence[str], order: str = SHARED,
                  known: Callable[[Plan], str] | None = None) -> Section:
    """The section for these parts: in an order that lets shared layers run on, by depth, by role, or as they are.
    `known` says how known the depth of a plan is; without, as far as that takes no further plans."""
    plans = [planner.plan([part]) for part in parts]
    feasible = [plan for plan in plans if plan.feasible]
    often = Counter(operation for plan in feasible for operation in plan.sequence)
    first = {operation: n for plan in reversed(feasible) for n, operation in enumerate(plan.sequence)}

    def rank(operation: Operation) -> tuple[int, int, str]:
        return -often[operation], first.get(operation, 0), operation.part or operation.joint

    columns = []
    # What is guessed on any of the ways is drawn so on all, or what they share would not run on.
    guessed = frozenset(thing for plan in feasible for thing in unconfirmed(planner, plan))
    for plan in feasible:
        counted = _in_common_order(planner, plan, rank)
        columns.append(Column(part=plan.targets[0], plan=plan, count=counted,
                              layers=tuple(_layers(planner, plan, counted, guessed)),
                              known=known(plan) if known is not None else known_without_plans(planner, plan)))
    keys = {SHARED: lambda c: [rank(timed.operation) for timed in c.count.timed],
            DEPTH: lambda c: (c.count.steps, c.count.time_ms),
            ROLE: lambda c: role_key(planner.teardown, c.part)}
    if order in keys:
        columns.sort(key=keys[order])
    return Section(columns=tuple(columns), top=tuple(_grow(columns, 0, len(columns) - 1, 0)),
                   blocked=tuple(plan for plan in plans if not plan.feasible))


def side_by_side(one: Section, other: Section) -> Section:
    """Columns of two sections in turn, each by itself: what two devices have alike is not the same thing."""
    columns = [column for pair in zip(one.columns, other.columns) for column in pair]
    return Section(columns=tuple(columns),
                   top=tuple(node for n in range(len(columns)) for node in _grow(columns, n, n, 0)),
                   blocked=(*one.blocked, *other.blocked))


def role_key(teardown: Teardown, part: str) -> tuple[bool, str]:
    """Parts with a role first, by its name."""
    roles = teardown.part[part].role
    return not roles, min(roles, default="")


class DrawnSection(Struct, frozen=True, kw_only=True):
    """A section with the planners that its plans are of: one, or two whose columns stand in turn."""

    planners: tuple[Planner, ...]
    section: Section
    lonely: tuple[str, ...] = ()  # roles that one of two devices does not have


def section_alone(planner: Planner, parts: Sequence[str], order: str = SHARED,
                  known: Callable[[Plan], str] | None = None) -> DrawnSection:
    return DrawnSection(planners=(planner,), section=build_section(planner, parts, order, known))


def section_of_both(comparison: Comparison) -> DrawnSection:
    """Parts of the same role beside each other."""
    planners = comparison.one, comparison.other
    one, other = (build_section(planner, parts, GIVEN) for planner, parts in zip(planners, (
        [pair[0] for pair in comparison.pairs], [pair[1] for pair in comparison.pairs])))
    return DrawnSection(planners=planners, section=side_by_side(one, other), lonely=comparison.lonely)


class Ghost(Struct, frozen=True, kw_only=True):
    """A section as it would be after a change: for each column what it would come to, and what would be left of it."""

    label: str
    counts: tuple[Count | None, ...]  # by column; None where the part would be gone, or could not be freed
    left: tuple[dict[str, float], ...]  # by column: share of the time of each thing on the way that would be left


def ghost_of(section: Section, label: str, after: Planner) -> Ghost:
    """What would be left of a section's strata by the plans of another planner."""
    counts: list[Count | None] = []
    left: list[dict[str, float]] = []
    for column in section.columns:
        plan = after.plan([column.part]) if column.part in after.structure.present else None
        counts.append(plan.count if plan else None)
        now, then = _time_by_thing(column.count), _time_by_thing(plan.count if plan else None)
        left.append({thing: min(1.0, then.get(thing, 0.0) / total) if total else float(thing in then)
                     for thing, total in now.items()})
    return Ghost(label=label, counts=tuple(counts), left=tuple(left))


def _time_by_thing(counted: Count | None) -> dict[str, float]:
    found: dict[str, float] = {}
    for timed in counted.timed if counted else ():
        thing = timed.operation.part or timed.operation.joint
        found[thing] = found.get(thing, 0.0) + timed.kind.active_ms + timed.kind.wait_ms
    return found


def _in_common_order(planner: Planner, plan: Plan, rank) -> Count:
    """The plan's operations by rank, as far as the rules let them, if that costs nothing."""
    state, waiting, order = DeviceState(planner.structure), list(plan.sequence), []
    while waiting:
        free = [op for op in waiting if not state.obstacles(op)]
        joined = [op for op in free if order and op.act and (op.part, op.joint) == (order[-1].part, order[-1].joint)]
        chosen = joined[0] if joined else min(free, key=rank)
        if chosen == plan.sequence[-1] and len(waiting) > 1:
            chosen = min((op for op in free if op != chosen), key=rank, default=chosen)
        state.apply(chosen)
        waiting.remove(chosen)
        order.append(chosen)
    counted = count(planner.structure, planner.convention, planner.times, order)
    same = (counted.steps, counted.live_acts, counted.obstacles) == (plan.count.steps, plan.count.live_acts, ())
    return counted if same and counted.time_ms <= plan.count.time_ms * 1.02 else plan.count


def layer_kind(joint: Joint) -> str:
    """How a joint is drawn."""
    return _KINDS.get(joint.kind, ACT)


def _layers(planner: Planner, plan: Plan, counted: Count, guessed: frozenset[str]) -> list[Layer]:
    teardown, structure = planner.teardown, planner.structure
    target = structure.stand_in[plan.targets[0]]
    found = []
    for timed in counted.timed:
        operation, seconds = timed.operation, timed.kind.active_ms / 1000
        act, is_last = act_of(structure, operation), is_last_act(structure, operation)
        if operation.part:
            part = teardown.part[operation.part]
            name = part.name or part.id
            label = name if is_last else tr("{0}: {1}").format(name, lift_verb(act))
            found.append(Layer(kind=LIFT if is_last else WAIT if act.wait_s else ACT, things=(part.id,), label=label,
                               seconds=seconds, known=timed.known, wait_s=timed.kind.wait_ms / 1000,
                               hazards=part.hazards if is_last else (), live=timed.live, assumed=part.id in guessed,
                               isolates=part.isolates is not False, is_target=is_last and part.id == target))
            continue
        joint = teardown.joint[operation.joint]
        way = way_of(structure, operation)
        kind = WAIT if act.wait_s else layer_kind(joint)
        name = joint.name or joint.id
        label = tr("{0} {1}").format(of_data(verb_of(joint, act)), name) if len(way.acts) > 1 else name
        bolts = ((joint.fastener, joint.count),) if joint.kind == "screw" and joint.fastener else ()
        found.append(Layer(kind=kind, things=(joint.id,), label=label, bolts=bolts, seconds=seconds,
                           known=timed.known,
                           wait_s=timed.kind.wait_ms / 1000, renew=is_last and way.reuse == "renew",
                           destroyed=is_last and way.reuse == "destroyed", hazards=way.hazards if is_last else (),
                           live=timed.live, assumed=joint.id in guessed, isolates=joint.isolates is not False))
    return found


def _grow(columns: list[Column], first: int, last: int, depth: int) -> list[Node]:
    """Nodes of this depth for a run of columns that share everything above."""
    nodes, start = [], first
    while start <= last:
        if depth >= len(columns[start].layers):
            start += 1
            continue
        layer, end = columns[start].layers[depth], start
        while end + 1 <= last and depth < len(columns[end + 1].layers) \
                and replace(columns[end + 1].layers[depth], is_target=layer.is_target) == layer \
                and columns[end + 1].layers[depth].is_target == layer.is_target:
            end += 1
        nodes.append(_node(columns, layer, start, end, depth))
        start = end + 1
    return nodes


def _node(columns: list[Column], layer: Layer, first: int, last: int, depth: int) -> Node:
    """A node, run together with the next ones as long as they are alike and reach as far."""
    step = columns[first].count.timed[depth].step
    under = _grow(columns, first, last, depth + 1)
    while len(under) == 1 and (under[0].first, under[0].last) == (first, last) and _run_together(layer, under[0].layer):
        layer, under = _joined(layer, under[0].layer), under[0].under
    return Node(layer=layer, first=first, last=last, step=step, under=under)


def _run_together(upper: Layer, lower: Layer) -> bool:
    plain = not (upper.wait_s or lower.wait_s or upper.live != lower.live or upper.isolates or lower.isolates)
    return plain and upper.kind == lower.kind and upper.kind in (SCREWS, PLUG) and upper.renew == lower.renew


def _joined(upper: Layer, lower: Layer) -> Layer:
    return replace(upper, things=upper.things + lower.things, label=f"{upper.label}, {lower.label}",
                   bolts=upper.bolts + lower.bolts, seconds=upper.seconds + lower.seconds, known=None,
                   assumed=upper.assumed or lower.assumed,
                   hazards=tuple(dict.fromkeys(upper.hazards + lower.hazards)))
