"""Parts: met without being lifted, and what a person writes of them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from msgspec.structs import replace

from oddbolt.model.label import Label
from oddbolt.model.naming import called
from oddbolt.model.places import Spot
from oddbolt.model.things import Fact, Mark, Part, Spare, Teardown
from oddbolt.session.verbs.lifting import met_part
from oddbolt.session.verbs.plain import Done, change_parts, change_view, label_of, log_entry, said_too, view_of


def make_part(teardown: Teardown, kind_id: str, view_id: str, spot: Spot, *, carrier: str = "",
              outline: Sequence[Spot] = ()) -> Done:
    """A part that is seen, not lifted: of a kind, at a place, perhaps with its outline. `made` is its id."""
    view = view_of(teardown, view_id)
    known, id_ = met_part(teardown, kind_id)
    known = change_parts(known, [id_], lambda p: replace(p, side=view.side, on=carrier or None))
    mark = Mark(thing=id_, x=round(spot[0], 1), y=round(spot[1], 1), outline=tuple(outline))
    after = change_view(known, view_id, lambda v: replace(v, marks=(*v.marks, mark)))
    return Done(label_of("add-part", after, id_), after, id_)


def _things(teardown: Teardown, ids: Sequence[str]) -> list[dict[str, Any]]:
    return [called(teardown, id_) for id_ in ids]


def set_parts(teardown: Teardown, ids: Sequence[str], **keys: Any) -> Done:
    """Write the same keys of several parts at once: kind, name, mass_g, hazards, ..."""
    return Done(Label("parts", {"keys": list(keys), "things": _things(teardown, ids)}),
                change_parts(teardown, ids, lambda p: replace(p, **keys)))


def set_role(teardown: Teardown, part_id: str, role: str) -> Done:
    """Which of the roles that its kind may have a part has; the part that was taken for it gets the other. A person
    says so; no role by an empty word."""
    part = teardown.part[part_id]
    others = [p.id for p in teardown.parts if role and role in p.role and p.id != part_id and role != "speaker"]
    left = tuple(one for one in part.role if one != role)
    after = change_parts(teardown, others, lambda p: replace(p, role=(*(one for one in p.role if one != role), *left)))
    after = change_parts(after, [part_id], lambda p: replace(
        p, role=(role,) if role else (), said=said_too(p, "role")))
    return Done(label_of("parts", teardown, part_id, keys=["role"], things=_things(teardown, [part_id])), after)


def set_fact(teardown: Teardown, ids: Sequence[str], name: str, value: Any, unit: str = "") -> Done:
    """A figure or word about several parts; None takes it away. What is entered by hand was looked at."""

    def told(part: Part) -> Part:
        kept = [fact for fact in part.facts if fact.name != name]
        made = [] if value is None else [Fact(name=name, value=value, unit=unit, basis="seen")]
        place = next((n for n, fact in enumerate(part.facts) if fact.name == name), len(kept))
        return replace(part, facts=(*kept[:place], *made, *kept[place:]))

    return Done(Label("fact", {"name": name, "things": _things(teardown, ids)}), change_parts(teardown, ids, told))


def set_spare(teardown: Teardown, ids: Sequence[str], available: str) -> Done:
    """Whether spares of these parts can be had; an empty word: not known."""
    return Done(Label("spare", {"things": _things(teardown, ids)}), change_parts(
        teardown, ids, lambda p: replace(p, spare=replace(p.spare or Spare(), available=available))))


def weigh(teardown: Teardown, part_id: str, grams: float, t: float, finding: str = "") -> Done:
    """A part on the scale: an entry with the reading, and the mass of the part."""
    after = change_parts(teardown, [part_id], lambda p: replace(p, mass_g=grams))
    after = log_entry(after, do="measure", thing=part_id, value=grams, unit="g", text="scale", t=t,
                      finding=finding)
    return Done(label_of("weigh", teardown, part_id), after)
