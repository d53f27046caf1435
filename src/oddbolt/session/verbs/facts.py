"""A fact told in passing, with the photograph as evidence: of a part, or a small thing that is listed by it."""

from __future__ import annotations

from msgspec.structs import replace

from oddbolt.model.places import Spot
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Fact, Mark, Part, Teardown
from oddbolt.session.told_fact import MASS, THING, ToldFact
from oddbolt.session.verbs.lifting import free_name, met_part
from oddbolt.session.verbs.plain import Done, change_parts, change_view, free_id, label_of, view_of


def tell_fact(teardown: Teardown, told: ToldFact, part: str, view_id: str = "", spot: Spot | None = None) -> Done:
    """Write down what was told of a part; where none is said and only one kind has such a thing, of a part of that
    kind, which is met by it. Of a small thing, that it lies on the part (on the base where none is said): it is listed
    and never taken off by itself. Where a photograph is shown, a mark on it says so. `made` is the id of what the fact
    is of."""
    if not told.text:
        raise Refusal(part, "no-words")
    if told.code == THING:
        after, id_ = _small_thing(teardown, told, part)
    else:
        known, id_ = teardown, part
        if part not in teardown.part:
            if len(told.of) != 1:
                raise Refusal(told.text, "of-which-part")
            known, id_ = met_part(teardown, told.of[0])  # what only a cell has tells that there is one
        after = change_parts(known, [id_], lambda p: _with(p, told))
    if view_id and spot is not None:
        after = _marked(after, view_id, id_, spot, told.text)
    return Done(label_of("told-fact", after, id_, text=told.text), after, id_)


def _small_thing(teardown: Teardown, told: ToldFact, part: str) -> tuple[Teardown, str]:
    id_ = free_id(teardown, f"{told.kind.replace(' ', '-')}-")
    facts = (Fact(name=told.name, value=told.value, basis="seen"),) if told.name and told.value else ()
    name = free_name(teardown, told.text[:1].upper() + told.text[1:])
    made = Part(id=id_, kind=told.kind, name=name, captive=True, basis="seen", facts=facts,
                on=part if part in teardown.part and part != teardown.device.base else None)
    return replace(teardown, parts=(*teardown.parts, made)), id_


def _with(part: Part, told: ToldFact) -> Part:
    """The part with the fact; one of that name is replaced, where it lies."""
    if told.name == MASS:
        return replace(part, mass_g=float(told.value))
    fact = Fact(name=told.name, value=told.value, unit=told.unit, basis="seen")
    at = next((n for n, one in enumerate(part.facts) if one.name == told.name), len(part.facts))
    hazards = tuple(dict.fromkeys((*part.hazards, *((told.hazard,) if told.hazard else ()))))
    return replace(part, facts=(*part.facts[:at], fact, *part.facts[at + 1:]), hazards=hazards)


def _marked(teardown: Teardown, view_id: str, id_: str, spot: Spot, text: str) -> Teardown:
    """The mark of the thing on the photograph says what was told; a new one where it has none."""
    view = view_of(teardown, view_id)
    own = next((n for n, mark in enumerate(view.marks) if mark.thing == id_), None)
    if own is None:
        marks = (*view.marks, Mark(thing=id_, x=round(spot[0], 1), y=round(spot[1], 1), fact=text))
    else:
        said = "; ".join(dict.fromkeys((*filter(None, view.marks[own].fact.split("; ")), text)))
        marks = tuple(replace(mark, fact=said) if n == own else mark for n, mark in enumerate(view.marks))
    return change_view(teardown, view_id, lambda v: replace(v, marks=marks))
