"""Kinds of part in words, what a device of a category is expected to have, what waste rules ask for (data/*.toml)."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec import Struct

from oddbolt.catalog.tables import table
from oddbolt.model.things import Part


class Component(Struct, frozen=True, kw_only=True):
    """A kind of part: what it is, where it sits, how it is held and opened, what is renewed with it, what to note."""

    kind: str
    name: str
    what: str
    where: str
    held: str
    opened: str
    renew: str
    note: tuple[str, ...]


def components() -> dict[str, Component]:
    return {kind: Component(kind=kind, **{**row, "note": tuple(row["note"])})
            for kind, row in table("components.toml")["kind"].items()}


def component_of(part: Part) -> Component | None:
    """What the catalogue says of a part's kind; a chip is told by its name."""
    known = components()
    return known.get(chip_kind(part) if part.kind == "chip" else part.kind)


def chip_kind(part: Part) -> str:
    """Which chip it is by its name: processor, memory, ...; "chip" where the name does not tell."""
    name = part.name.lower()
    for kind, words in table("components.toml")["chips"].items():
        if kind != "source" and any(word in name for word in words):
            return kind
    return "chip"


class Expected(Struct, frozen=True, kw_only=True):
    """Something one would expect to find: a kind (parts, chips), or words in a name; and how many."""

    id: str
    group: str  # parts, chips, others
    number: int
    words: tuple[str, ...] = ()


def expected(category: str) -> list[Expected]:
    """What a device of a category usually has; empty for a category the catalogue does not know."""
    row: Mapping = table("expected.toml")["category"].get(category, {})
    found = [Expected(id=kind, group="parts", number=number) for kind, number in row.get("parts", {}).items()]
    found += [Expected(id=kind, group="chips", number=1) for kind in row.get("chips", ())]
    found += [Expected(id=name, group="others", number=1, words=tuple(words))
              for name, words in row.get("others", {}).items()]
    return found


class FirstOut(Struct, frozen=True, kw_only=True):
    """A group that waste rules ask to be taken out first."""

    id: str
    name: str
    kinds: tuple[str, ...]
    materials: tuple[str, ...]
    least_cm2: float


def first_out() -> tuple[list[FirstOut], str]:
    """The groups, and their source."""
    data = table("waste.toml")
    rows = [FirstOut(id=row["id"], name=row["name"], kinds=tuple(row["kinds"]),
                     materials=tuple(row.get("materials", ())), least_cm2=row["least_cm2"]) for row in data["first"]]
    return rows, f"{data['about']['source']}, {data['about']['edition']}"


class ConnectorType(Struct, frozen=True, kw_only=True):
    """A type of connector: how it opens and which way, what breaks, how often it may be mated (data sheets' range)."""

    type: str
    name: str
    opens: str
    direction: str
    breaks: str
    back: str
    cycles: tuple[int, int]
    source: str
    confidence: str


def connector_types() -> dict[str, ConnectorType]:
    return {type_: ConnectorType(type=type_, name=row["name"], opens=row["opens"], direction=row["direction"],
                                 breaks=row["breaks"], back=row["back"], cycles=tuple(row["cycles"]),
                                 source=row["source"], confidence=row["confidence"])
            for type_, row in table("connectors.toml").items()}
