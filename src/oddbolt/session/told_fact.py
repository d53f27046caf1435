"""A fact told in passing, parsed: a figure with its unit, a small thing, a state; whatever else is kept as a remark.

Parsing changes nothing. The words are those of data/facts.toml; nothing that is said is refused, so that nothing is
lost while both hands are busy.
"""

from __future__ import annotations

import re

from msgspec import Struct

from oddbolt.catalog.tables import FigureKind, figure_kinds, small_things, state_kinds
from oddbolt.model.things import Teardown
from oddbolt.session.standing import lifted

FIGURE, THING, STATE, REMARK = "figure", "thing", "state", "remark"
MASS = "mass"  # a part has a key of its own for it
_FIGURE = re.compile(r"(\d+(?:[.,]\d+)?)\s*(\S+)$")


class ToldFact(Struct, frozen=True, kw_only=True):
    """What was told: `kind` of a small thing, and the fact with its value; `hazard` that goes with a state."""

    code: str
    text: str  # as it was said
    kind: str = ""
    name: str = ""
    value: float | str = ""
    unit: str = ""
    hazard: str = ""
    of: tuple[str, ...] = ()  # kinds of part that it is told of as a rule


def understand_fact(text: str) -> ToldFact:
    """What a text tells. An empty text is a remark without words."""
    said = " ".join(text.split())
    figure = _FIGURE.match(said)
    row = _unit(figure.group(2)) if figure else None
    if figure is not None and row is not None:
        value = float(figure.group(1).replace(",", "."))
        return ToldFact(code=FIGURE, text=said, name=row.name, value=int(value) if value.is_integer() else value,
                        unit=row.unit, of=row.of)
    words = said.split()
    for n, word in enumerate(words):
        thing = small_things().get(word.lower())
        if thing is not None:  # "dot white", "white dot", "port seal"
            rest = " ".join((*words[:n], *words[n + 1:]))
            return ToldFact(code=THING, text=said, kind=thing.kind, name=thing.fact, value=rest)
    for word in words:
        state = state_kinds().get(word.lower())
        if state is not None:  # "swollen", "cell swollen"
            return ToldFact(code=STATE, text=said, name="condition", value=state.word, hazard=state.hazard, of=state.of)
    return ToldFact(code=REMARK, text=said, name="remark", value=said)


def _unit(typed: str) -> FigureKind | None:
    """A unit as it is written, else without regard to capitals where that means only one."""
    known = figure_kinds()
    if typed in known:
        return known[typed]
    alike = {row.name: row for unit, row in known.items() if unit.lower() == typed.lower()}
    return next(iter(alike.values())) if len(alike) == 1 else None


def about_which(teardown: Teardown, told: ToldFact, pointed: str, chosen: str) -> str:
    """The part that a fact is told of: the one pointed at, or what the joint there holds; else the one chosen, unless
    only parts of another kind have such a thing; else the one of such a kind that was met last. Of what any part may
    have, what was lifted last. Empty: none on record."""
    for thing in (pointed, chosen):
        if thing in teardown.part and (thing == pointed or _fits(told, teardown.part[thing].kind)):
            return thing
        if thing in teardown.joint and told.code != FIGURE:
            owner = teardown.joint[thing].of[0]
            if _fits(told, teardown.part[owner].kind):
                return owner
    if told.of:
        return next((part.id for part in reversed(teardown.parts) if _fits(told, part.kind)), "")
    off = lifted(teardown)
    done = [entry.thing for entry in teardown.log if entry.do == "remove" and entry.thing in off]
    return done[-1] if done else ""


def _fits(told: ToldFact, kind: str) -> bool:
    """Whether a part of this kind may have what was told."""
    return not told.of or kind in told.of


def completions(text: str) -> list[str]:
    """Whole texts that what is typed could become."""
    before, _, word = text.rpartition(" ")
    low = word.lower()
    thing = small_things().get(before.split()[-1].lower()) if before else None
    options = [*thing.values] if thing is not None else []
    if re.fullmatch(r"\d+(?:[.,]\d+)?", before):
        options += list(figure_kinds())
    if not before:
        options += [*small_things(), *state_kinds()]
    found = [one for one in options if one.lower().startswith(low) and one.lower() != low]
    return [f"{before} {one}".strip() for one in found][:12]
