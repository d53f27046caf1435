"""A scoring method as data: typed reader of methods/*.toml."""

from __future__ import annotations

from importlib.resources import files
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from oddbolt.catalog.tables import read_toml
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Settings

Points = tuple[float, float]


class Criterion(Struct, frozen=True, kw_only=True):
    """One criterion: how it is measured and what the measure gives."""

    id: str
    name: str
    weight: float
    measure: str  # depth, fasteners, tools: per priority part; answer: from the record's answers
    rule: str
    confidence: str
    table: tuple[tuple[float, float], ...] = ()  # (at most this, points), rising
    beyond: float = 0
    points: dict[str, Points] = None  # type: ignore[assignment]
    fails: dict[str, Points] = None  # type: ignore[assignment]
    leave_out: tuple[str, ...] = ()  # kinds of joint that the criterion does not look at
    at_least: tuple[tuple[float, float], ...] = ()  # (at least this, points), falling
    words: dict[str, float] = None  # type: ignore[assignment]
    unit: str = ""


class Method(Struct, frozen=True, kw_only=True):
    """A method file. Weights of criteria and of parts each sum to one."""

    id: str
    name: str
    source: str
    edition: str
    scale: Points
    decimals: int
    convention: dict[str, Any]
    classes: tuple[tuple[str, float], ...]  # (class, lower limit), best first
    part_weights: dict[str, float]  # role -> weight
    criteria: tuple[Criterion, ...]

    def settings(self, of_document: Settings) -> Settings:
        """The document's convention with what the method prescribes."""
        return replace(of_document, **{name: tuple(value) if isinstance(value, list) else value
                                       for name, value in self.convention.items()})

    def class_of(self, index: float) -> str:
        """The class of an index, after rounding to the method's decimals."""
        rounded = round(index + 1e-9, self.decimals)
        return next((name for name, limit in self.classes if rounded >= limit), self.classes[-1][0])


def method_ids() -> list[str]:
    return sorted(path.name.removesuffix(".toml") for path in files("oddbolt.scoring").joinpath("methods").iterdir()
                  if path.name.endswith(".toml"))


def load_method(id_: str) -> Method:
    if id_ not in method_ids():
        raise Refusal(id_, "no-such-method", known=list(method_ids()))
    data = read_toml("oddbolt.scoring", f"methods/{id_}.toml")
    return Method(id=data["id"], name=data["name"], source=data["source"], edition=data["edition"],
                  scale=tuple(data["scale"]), decimals=data["decimals"], convention=data["convention"],
                  classes=tuple((name, limit) for name, limit in data["classes"]["limits"]),
                  part_weights=dict(data["parts"]["weights"]),
                  criteria=tuple(_criterion(row) for row in data["criterion"]))


def _criterion(row: dict[str, Any]) -> Criterion:
    return Criterion(id=row["id"], name=row["name"], weight=row["weight"], measure=row["measure"], rule=row["rule"],
                     confidence=row["confidence"], table=tuple(map(tuple, row.get("table", ()))),
                     beyond=row.get("beyond", 0), points=_points(row.get("points", {})),
                     fails=_points(row.get("fails", {})), leave_out=tuple(row.get("leave_out", ())),
                     at_least=tuple(map(tuple, row.get("at_least", ()))),
                     words=dict(row.get("words", {})), unit=row.get("unit", ""))


def _points(rows: dict[str, Any]) -> dict[str, Points]:
    ranges = {name: [value, value] if isinstance(value, (int, float)) else value for name, value in rows.items()}
    return {name: (float(low), float(high)) for name, (low, high) in ranges.items()}
