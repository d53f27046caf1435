"""A scoring method as data: typed reader of methods/*.toml, shipped and of the user's own folder."""

from __future__ import annotations

import functools
import math
from collections.abc import Mapping
from importlib.resources import files
from pathlib import Path
from typing import Any

from msgspec import Struct, field
from msgspec.structs import replace

from oddbolt.catalog.tables import read_toml, tomllib
from oddbolt.model.folders import data_folder
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Settings

Points = tuple[float, float]
INDEX, PROFILE, FIGURES = "index", "profile", "figures"
KINDS = (INDEX, PROFILE, FIGURES)
HIGH = "high"
CONFIDENCES = (HIGH, "medium", "low", "ours", "none")
# What a criterion may look at: for each priority part, or for the device as a whole.
OF_PARTS = ("depth", "fasteners", "tools", "tool_count", "renewals", "destroyed", "time", "fact", "edim", "by_verb",
            "in_the_way", "cost")
OF_ALL = ("answer", "mark", "access_time", "repair_effort", "freedom")


class Silent(Struct, frozen=True, kw_only=True):
    """A point on which the text as remembered is silent: the readings that it allows, the first as shipped. `sets`: a
    key of the convention; else it is read where points are given."""

    id: str
    name: str
    values: tuple[Any, ...]
    sets: str = ""


class Criterion(Struct, frozen=True, kw_only=True):
    """One criterion: how it is measured and what the measure gives."""

    id: str
    name: str
    weight: float
    measure: str
    rule: str
    confidence: str
    group: str = ""
    unit: str = ""
    table: tuple[tuple[float, float], ...] = ()  # (at most this, points), rising
    beyond: float = 0
    at_least: tuple[tuple[float, float], ...] = ()  # (at least this, points), falling
    below: float | None = None  # under the last of these; None: it fails
    points: Mapping[str, Points] = field(default_factory=dict)
    fails: Mapping[str, Points] = field(default_factory=dict)
    words: Mapping[str, float] = field(default_factory=dict)
    letters: tuple[str, ...] = ()  # of a profile, best first; points are then counted from the worst, 0
    whole: bool = False  # answers are whole numbers
    leave_out: tuple[str, ...] = ()  # kinds of joint that the criterion does not look at
    doubt: Mapping[str, Points] = field(default_factory=dict)  # rows that are not high, as the range they may have
    doubt_limits: float = 0  # how far the limits of a table may be off
    tools_by: str = "class"  # key of the catalogue's rows: class by (EU) 2023/1670, or en45554
    parts: Mapping[str, float] = field(default_factory=dict)  # roles with weights of its own
    fact: str = ""  # of the parts: whose figure it is
    formula: str = ""
    answers: tuple[str, ...] = ()  # what a formula asks for besides
    per_part: bool = False  # answered for each part
    evidence: tuple[str, ...] = ()  # measures shown beside an answer

    @property
    def is_of_parts(self) -> bool:
        return self.measure in OF_PARTS or self.per_part


class Method(Struct, frozen=True, kw_only=True):
    """A method file. In an index the weights of criteria and of parts each sum to one."""

    id: str
    name: str
    kind: str
    source: str
    edition: str
    categories: tuple[str, ...]  # of device that it is made for; empty: any
    scale: Points
    decimals: int
    convention: Mapping[str, Any]
    classes: tuple[tuple[str, float], ...]  # (class, lower limit), best first
    part_weights: Mapping[str, float]  # role -> weight
    criteria: tuple[Criterion, ...]
    silent: tuple[Silent, ...] = ()
    rounding_known: bool = True
    headline: str = ""  # of figures: the criterion that stands for the whole
    unit: str = ""
    notes: tuple[str, ...] = ()
    is_own: bool = False  # a file of the user's

    def settings(self, of_document: Settings, **said: Any) -> Settings:
        """The document's convention with what the method prescribes, and what else is `said`."""
        return replace(of_document, **{name: tuple(value) if isinstance(value, list) else value
                                       for name, value in {**self.convention, **said}.items()})

    def rounded(self, index: float) -> tuple[float, ...]:
        """The index as it may be printed: halves up, and halves to the even figure too where the rule is not known."""
        factor = 10 ** self.decimals
        up = math.floor(index * factor + 0.5 + 1e-9) / factor
        if self.rounding_known:
            return (up,)
        even = round(index * factor * (1 - 1e-15)) / factor if abs(index * factor % 1 - 0.5) < 1e-9 else up
        return (up,) if even == up else (even, up)

    def class_of(self, index: float) -> str:
        """The class of an index, after rounding (halves up) to the method's decimals."""
        return self._class(self.rounded(index)[-1])

    def classes_of(self, low: float, high: float) -> tuple[str, ...]:
        """All classes that an index from `low` to `high` may fall in, best first."""
        names = [name for name, _ in self.classes]
        if not names:
            return ()
        return tuple(names[names.index(self._class(self.rounded(high)[-1])):
                           names.index(self._class(self.rounded(low)[0])) + 1])

    def _class(self, rounded: float) -> str:
        return next((name for name, limit in self.classes if rounded >= limit - 1e-9), self.classes[-1][0])

    def fits(self, category: str) -> bool:
        return not self.categories or category in self.categories

    @property
    def unconfirmed(self) -> tuple[str, ...]:
        """Criteria whose rows are not sure to be what the source prints."""
        return tuple(one.id for one in self.criteria if one.confidence not in (HIGH, "ours"))


def own_folder() -> Path:
    """Where methods of the user's own lie (XDG)."""
    return data_folder() / "methods"


def _shipped() -> dict[str, Any]:
    return {path.name.removesuffix(".toml"): path for path in files("oddbolt.scoring").joinpath("methods").iterdir()
            if path.name.endswith(".toml")}


def _own() -> dict[str, Path]:
    folder = own_folder()
    return {path.stem: path for path in sorted(folder.glob("*.toml"))} if folder.is_dir() else {}


def method_ids() -> list[str]:
    """Shipped methods and the user's own, by id."""
    return sorted({*_shipped(), *_own()})


def load_method(id_: str) -> Method:
    """A method by its id; one of the user's own goes before a shipped one of the same id. Raises Refusal for an unknown
    id, and, with the path of the file, for one that cannot be read or does not add up."""
    own = _own().get(id_)
    if own is not None:
        return read_method(own)
    if id_ not in _shipped():
        raise Refusal(id_, "no-such-method", known=list(method_ids()))
    return _shipped_method(id_)


@functools.cache
def _shipped_method(id_: str) -> Method:
    return method_of(_shipped_data(id_))


def _shipped_data(id_: str) -> dict[str, Any]:
    """The values of a shipped file; one that is `like` another says only what differs."""
    data = read_toml("oddbolt.scoring", f"methods/{id_}.toml")
    return {**_shipped_data(data["like"]), **data} if "like" in data else data


def read_method(path: Path) -> Method:
    """A method of the user's own, from its file."""
    try:
        data = tomllib.loads(path.read_text("utf-8"))
    except (tomllib.TOMLDecodeError, UnicodeDecodeError, OSError) as error:
        raise Refusal(str(path), "bad-method", why=str(error)) from None
    try:
        method = replace(method_of(data), is_own=True)
    except (KeyError, TypeError, ValueError, AttributeError) as error:
        raise Refusal(str(path), "bad-method", why=f"{type(error).__name__}: {error}") from None
    if method.id != path.stem:
        raise Refusal(str(path), "method-id", id=method.id)
    found = problems(method)
    if found:
        raise Refusal(f"{path}: {found[0].where}", found[0].code, **found[0].figures)
    return method


def fitting_methods(category: str) -> list[str]:
    """Ids of the methods that are made for a category of device, then those for any; one that cannot be read is left
    out."""
    loaded = []
    for id_ in method_ids():
        try:
            loaded.append(load_method(id_))
        except Refusal:
            continue
    return [one.id for one in sorted(loaded, key=lambda one: (not one.categories, one.id)) if one.fits(category)]


def method_of(data: Mapping[str, Any]) -> Method:
    """A method from plain values. Raises KeyError, TypeError or ValueError for what is not one."""
    kind = data.get("kind", INDEX)
    if kind not in KINDS:
        raise ValueError(f"kind {kind!r} is none of {', '.join(KINDS)}")
    return Method(id=data["id"], name=data["name"], kind=kind, source=data["source"], edition=data["edition"],
                  categories=tuple(data.get("categories", ())), scale=_pair(data.get("scale", (0, 1))),
                  decimals=int(data.get("decimals", 2)), convention=dict(data.get("convention", {})),
                  classes=tuple((str(name), float(limit)) for name, limit in data.get("classes", {}).get("limits", ())),
                  part_weights={str(role): float(weight) for role, weight in data.get("parts", {}).get(
                      "weights", {}).items()},
                  criteria=tuple(_criterion(row) for row in data["criterion"]),
                  silent=tuple(Silent(id=row["id"], name=row["name"], values=tuple(row["values"]),
                                      sets=row.get("sets", "")) for row in data.get("silent", ())),
                  rounding_known=bool(data.get("rounding_known", True)), headline=data.get("headline", ""),
                  unit=data.get("unit", ""), notes=tuple(data.get("notes", ())))


def _criterion(row: Mapping[str, Any]) -> Criterion:
    letters = tuple(row.get("letters", ()))

    def value(given: Any) -> float:
        return float(len(letters) - 1 - letters.index(given)) if isinstance(given, str) else float(given)

    def ranges(rows: Mapping[str, Any]) -> dict[str, Points]:
        found = {str(name): sorted(map(value, given)) if isinstance(given, (list, tuple)) else [value(given)] * 2
                 for name, given in rows.items()}
        return {name: (low, high) for name, (low, high) in found.items()}

    measure = row["measure"]
    if measure not in (*OF_PARTS, *OF_ALL):
        raise ValueError(f"measure {measure!r} is none of {', '.join((*OF_PARTS, *OF_ALL))}")
    return Criterion(
        id=row["id"], name=row["name"], weight=float(row.get("weight", 0)), measure=measure, rule=row.get("rule", ""),
        confidence=row.get("confidence", "ours"), group=row.get("group", ""), unit=row.get("unit", ""),
        table=tuple((float(a), value(b)) for a, b in row.get("table", ())), beyond=value(row.get("beyond", 0)),
        at_least=tuple((float(a), value(b)) for a, b in row.get("at_least", ())),
        below=None if row.get("below", 0) == "fails" else value(row.get("below", 0)),
        points=ranges(row.get("points", {})), fails=ranges(row.get("fails", {})),
        words={str(word): value(given) for word, given in row.get("words", {}).items()}, letters=letters,
        whole=bool(row.get("whole", False)), leave_out=tuple(row.get("leave_out", ())),
        doubt=ranges(row.get("doubt", {})), doubt_limits=float(row.get("doubt_limits", 0)),
        tools_by=row.get("tools_by", "class"), parts={k: float(v) for k, v in row.get("parts", {}).items()},
        fact=row.get("fact", ""), formula=row.get("formula", ""), answers=tuple(row.get("answers", ())),
        per_part=bool(row.get("per_part", False)), evidence=tuple(row.get("evidence", ())))


def _pair(values: Any) -> Points:
    low, high = values
    return float(low), float(high)


# -- whether a method adds up

class Problem(Struct, frozen=True, kw_only=True):
    """What is wrong with a method: where in its file, a code of a refusal, and figures."""

    where: str
    code: str
    figures: dict[str, Any] = field(default_factory=dict)


def problems(method: Method) -> list[Problem]:
    """What does not add up: weights, gaps and turns in scales, points outside the scale, names that stand twice."""
    found: list[Problem] = []

    def add(where: str, code: str, **figures: Any) -> None:
        found.append(Problem(where=where, code=code, figures=figures))

    ids = [one.id for one in method.criteria]
    for n, criterion in enumerate(method.criteria):
        where = f"criterion[{n}]"
        if not criterion.id or ids.index(criterion.id) != n:
            add(f"{where}.id", "method-name-twice", name=criterion.id)
        if not 0 <= criterion.weight < math.inf:
            add(f"{where}.weight", "negative", value=criterion.weight)
        _check_scale(method, criterion, where, add)
        if criterion.parts and not math.isclose(sum(criterion.parts.values()), 1, abs_tol=1e-6):
            add(f"{where}.parts", "method-weights", sum=sum(criterion.parts.values()))
    if method.kind == INDEX:
        if not math.isclose(sum(one.weight for one in method.criteria), 1, abs_tol=1e-6):
            add("criterion", "method-weights", sum=sum(one.weight for one in method.criteria))
        if method.part_weights and not math.isclose(sum(method.part_weights.values()), 1, abs_tol=1e-6):
            add("parts.weights", "method-weights", sum=sum(method.part_weights.values()))
        if not method.scale[0] < method.scale[1]:
            add("scale", "method-scale")
        limits = [limit for _, limit in method.classes]
        if limits != sorted(limits, reverse=True) or len(set(limits)) != len(limits):
            add("classes.limits", "method-order")
        if limits and limits[-1] > method.scale[0]:
            add("classes.limits", "method-gap", low=method.scale[0], high=limits[-1])
    if any(criterion.is_of_parts and not criterion.parts for criterion in method.criteria) and not method.part_weights:
        add("parts.weights", "method-no-parts")
    return found


def _check_scale(method: Method, criterion: Criterion, where: str, add: Any) -> None:
    limits = [limit for limit, _ in criterion.table]
    if limits != sorted(limits) or len(set(limits)) != len(limits):
        add(f"{where}.table", "method-order")
    limits = [limit for limit, _ in criterion.at_least]
    if limits != sorted(limits, reverse=True) or len(set(limits)) != len(limits):
        add(f"{where}.at_least", "method-order")
    if method.kind != INDEX:
        return
    given = [points for _, points in (*criterion.table, *criterion.at_least)] + list(criterion.words.values())
    given += [end for pair in (*criterion.points.values(), *criterion.fails.values()) for end in pair]
    given += [criterion.beyond] if criterion.table else []
    low, high = method.scale
    for points in given:
        if not low <= points <= high:
            add(where, "method-outside", points=points, low=low, high=high)
    needs_scale = criterion.measure in ("depth", "time", "tool_count", "renewals", "destroyed", "in_the_way", "cost")
    if needs_scale and not criterion.table and not criterion.at_least:
        add(f"{where}.table", "method-no-scale")
