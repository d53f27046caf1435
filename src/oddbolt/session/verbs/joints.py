"""What a person says of a joint: its ends, its ways and tools, what it is behind, whether it makes safe."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from msgspec.structs import replace

from oddbolt.catalog.defaults import ways_of
from oddbolt.catalog.tables import PartKind, bond_methods, part_kind
from oddbolt.knowledge.guesses import Guesses
from oddbolt.knowledge.owners import lies_over
from oddbolt.knowledge.settling import settle
from oddbolt.model.naming import called
from oddbolt.model.places import Spot
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import ASSUMED, REUSES, Part, Teardown
from oddbolt.session.standing import is_next, lifted
from oddbolt.session.verbs.lifting import free_name, free_role, hanging_as, met_part, turned_out, without_untied
from oddbolt.session.verbs.marking import makes_safe, way_by
from oddbolt.session.verbs.parts import make_part
from oddbolt.session.verbs.plain import Done, change_joint, free_id, joint_of, label_of, said_too

SEVERAL_PLUGS = ("display", "cable", "port")  # parts that often have more than one
SPANS = {"angle_deg": 90.0, "depth_mm": 500.0, "temp_c": 400.0}  # limits from-to: the most that makes sense
SINGLES = {"hold_s": 86_400.0, "lift_mm": 500.0}  # limits of one figure


def tie(teardown: Teardown, joint_id: str, end: int, part_id: str) -> Done:
    """Change an end of a joint, as by dragging it to a part. What a person says is no longer assumed."""
    joint = joint_of(teardown, joint_id)
    if part_id in joint.of:
        raise Refusal(joint_id, "ties-already", called=called(teardown, part_id))
    of = tuple(part_id if n == end else p for n, p in enumerate(joint.of))
    after = makes_safe(change_joint(teardown, joint_id, lambda j: replace(j, of=of, said=said_too(j, "of"))), joint_id)
    for film, over in lies_over(after).items():
        if over == joint_id and is_next(after.part[after.joint[film].of[0]]):  # it goes with what it lay over
            after = change_joint(after, film, lambda j: replace(j, of=of[:2]))
    after = settle(without_untied(after, joint.of[end]), (joint_id,))
    return Done(label_of("tie", teardown, joint_id, part=called(teardown, part_id)), after)


def tie_to_new(teardown: Teardown, joint_id: str, kind_id: str, view_id: str, spot: Spot, end: int = 0) -> Done:
    """Tie an end of a joint, the near one unless said, to a part that is met by this, of a kind, at a place."""
    _, after, id_ = make_part(teardown, kind_id, view_id, spot)
    label, after, _ = tie(after, joint_id, end, id_)
    return Done(label, after, id_)


def whose(teardown: Teardown, joint_id: str, kind_id: str) -> Done:
    """The part that a plug belongs to, by its kind: the one on record that is meant, else one that is met by this and
    still on. The second plug of a cable goes to the other board."""
    joint, kind = joint_of(teardown, joint_id), part_kind(kind_id)
    part = _owner(teardown, joint_id, kind)
    after = turned_out(teardown, part, kind) if part else teardown
    if not part:
        part = free_id(teardown, f"{kind.id.replace(' ', '-')}-")
        made = Part(id=part, kind=kind.kind, name=free_name(teardown, kind.name), hazards=kind.hazards,
                    role=free_role(teardown, kind), side=joint.side, basis=ASSUMED)
        after = replace(teardown, parts=(*teardown.parts, made))
    if part in joint.of:
        raise Refusal(joint_id, "ties-already", called=called(teardown, part))
    label, after, _ = tie(after, joint_id, 0, part)
    return Done(label, after, part)


def _owner(teardown: Teardown, joint_id: str, kind: PartKind) -> str:
    """A part of the kind that is on record, still on, and may have this plug: a device has it once, it often has
    several, or it has none yet."""
    if hanging := hanging_as(teardown, kind):
        return hanging
    still = [part for part in teardown.parts if part.kind == kind.kind and part.id not in lifted(teardown)
             and part.id != teardown.device.base]
    if kind.kind == "board":
        still = [part for part in still if "main" not in part.id]
    plugged = {joint.of[0] for joint in teardown.joints if joint.kind == "connector" and joint.id != joint_id}
    fits = [part.id for part in still if kind.unique or kind.id in SEVERAL_PLUGS or part.id not in plugged]
    return fits[0] if fits else ""


def also_ties(teardown: Teardown, joint_id: str, kind_id: str) -> Done:
    """A further part that a joint holds, by its kind: the one on record that is still on, else one that is met by this.
    One screw may go through a bracket and a cover. `made` is the part."""
    joint, kind = joint_of(teardown, joint_id), part_kind(kind_id)
    off = lifted(teardown)
    fits = [part.id for part in teardown.parts if part.kind == kind.kind and part.id not in (*off, *joint.of)
            and part.id != teardown.device.base]
    after, part = (teardown, fits[-1]) if fits else met_part(teardown, kind_id)
    of = (joint.of[0], part, *joint.of[1:])
    after = settle(change_joint(after, joint_id, lambda j: replace(j, of=of, said=said_too(j, "of"))), (joint_id,))
    return Done(label_of("also-ties", teardown, joint_id, part=called(after, part)), after, part)


def set_type(teardown: Teardown, joint_id: str, type_: str) -> Done:
    """The type of a connector, as it turns out to be."""
    joint_of(teardown, joint_id)
    return Done(label_of("type", teardown, joint_id),
                change_joint(teardown, joint_id, lambda j: replace(j, type=type_)))


def set_tool(teardown: Teardown, joint_id: str, way: int, tool: str) -> Done:
    """The tool of the last act of a way. A joint without ways of its own gets the catalogue's first."""
    ways = list(ways_of(teardown, joint_of(teardown, joint_id)))
    place = min(way, len(ways) - 1)
    acts = ways[place].acts
    ways[place] = replace(ways[place], acts=(*acts[:-1], replace(acts[-1], tool=tool)))
    after = change_joint(teardown, joint_id, lambda j: replace(j, ways=tuple(ways)))
    return Done(label_of("tool", teardown, joint_id, tool=tool), after)


def set_reuse(teardown: Teardown, joint_id: str, way: int, reuse: str) -> Done:
    """Whether the fixing can be used again after a way of releasing it; a word of the file."""
    if reuse not in REUSES:
        raise Refusal(joint_id, "unknown-word", word=reuse, known=list(REUSES))
    ways = list(ways_of(teardown, joint_of(teardown, joint_id)))
    place = min(way, len(ways) - 1)
    ways[place] = replace(ways[place], reuse=reuse)
    after = change_joint(teardown, joint_id, lambda j: replace(j, ways=tuple(ways)))
    return Done(label_of("reuse", teardown, joint_id, reuse=reuse), after)


def set_limits(teardown: Teardown, joint_id: str, way: int, act: int, limits: Sequence[dict[str, Any]]) -> Done:
    """What protects the device in an act: angle, depth, stop distance, temperature, hold. None: no limits."""
    ways = list(ways_of(teardown, joint_of(teardown, joint_id)))
    if way >= len(ways) or not 0 <= act < len(ways[way].acts):
        raise Refusal(joint_id, "needs-the-acts")
    acts = list(ways[way].acts)
    acts[act] = replace(acts[act], limits=tuple(limits))
    ways[way] = replace(ways[way], acts=tuple(acts))
    after = change_joint(teardown, joint_id, lambda j: replace(j, ways=tuple(ways)))
    return Done(label_of("limits", teardown, joint_id), after)


def add_way(teardown: Teardown, joint_id: str, method_id: str) -> Done:
    """Another way to part a bond, as it is known or was tried."""
    way = way_by(bond_methods()[method_id])
    ways = ways_of(teardown, joint_of(teardown, joint_id))
    after = change_joint(teardown, joint_id, lambda j: replace(j, ways=(*ways, way)))
    return Done(label_of("add-way", teardown, joint_id, method=method_id), after)


def set_isolates(teardown: Teardown, joint_id: str, isolates: bool | str) -> Done:
    """Whether releasing it makes the device safe; a text names the power source that it cuts, where there are several.
    A person says so: no guess changes it."""
    joint_of(teardown, joint_id)
    after = change_joint(teardown, joint_id, lambda j: replace(j, isolates=isolates, said=said_too(j, "isolates")))
    return Done(label_of("isolates" if isolates else "isolates-not", teardown, joint_id), after)


def set_behind(teardown: Teardown, thing_id: str, hiders: Sequence[str]) -> Done:
    """What a person says stands before a thing; it is no longer assumed."""
    if thing_id in hiders:
        raise Refusal(thing_id, "behind-itself", id=thing_id)
    behind = (tuple(hiders),) if hiders else ()

    def told(thing: Any) -> Any:
        return replace(thing, behind=behind, basis="seen") if thing.id == thing_id else thing

    after = replace(teardown, parts=tuple(map(told, teardown.parts)), joints=tuple(map(told, teardown.joints)))
    return Done(label_of("behind", teardown, thing_id), after)


def may_be_behind(teardown: Teardown, thing_id: str) -> list[str]:
    """What could stand before a thing, by the record: cleared before it was met, or on record as standing there."""
    guesses = Guesses(teardown)
    found = list(guesses.record.of(thing_id).candidates)
    found += [x for names in teardown.thing(thing_id).behind for x in names]
    return list(dict.fromkeys(found))


