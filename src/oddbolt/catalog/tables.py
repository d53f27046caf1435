"""Typed readers of the shipped tables. Figures live in data/*.toml with their source; none is written here."""

from __future__ import annotations

import functools
import os
import sys
from collections.abc import Mapping
from importlib.resources import files
from pathlib import Path
from typing import Any

from msgspec import Struct, field

from oddbolt.model.folders import data_folder
from oddbolt.model.refusal import Refusal

if sys.version_info >= (3, 11):
    import tomllib
else:
    import tomli as tomllib

HAND = "hand"


def read_toml(package: str, name: str) -> dict[str, Any]:
    """A shipped TOML table as plain values."""
    return tomllib.loads(files(package).joinpath(name).read_text("utf-8"))


def corrections_folder() -> Path:
    """Where files of the user's own correct the shipped tables: same name, only what differs (XDG)."""
    return _corrections(*_places())


def _places() -> tuple[str | None, str | None]:
    """What the folder depends on; the tables are looked up very often, the folder is found once for each of these."""
    return os.environ.get("XDG_DATA_HOME"), os.environ.get("HOME")


@functools.cache
def _corrections(_data_home: str | None, _home: str | None) -> Path:
    return data_folder() / "tables"


def table(name: str) -> dict[str, Any]:
    """A shipped table with the user's corrections in it. Raises Refusal for a correction that cannot be read."""
    return _corrected(name, *_places())


@functools.cache
def _corrected(name: str, data_home: str | None, home: str | None) -> dict[str, Any]:
    shipped = read_toml("oddbolt.catalog", f"data/{name}")
    path = _corrections(data_home, home) / name
    try:
        own = tomllib.loads(path.read_text("utf-8")) if path.is_file() else {}
        return _merged(shipped, own)
    except (tomllib.TOMLDecodeError, UnicodeDecodeError, OSError, TypeError) as error:
        raise Refusal(str(path), "bad-correction", error=str(error)) from None


NAMES_OF_ROWS = ("id", "code", "thread", "form")


def _merged(shipped: Any, own: Any) -> Any:
    """Tables key by key, lists of tables row by row by their name; anything else is replaced as a whole."""
    if isinstance(shipped, dict) and isinstance(own, dict):
        return {**shipped, **{name: _merged(shipped[name], value) if name in shipped else value
                              for name, value in own.items()}}
    if isinstance(shipped, list) and isinstance(own, list) and shipped and own and isinstance(shipped[0], dict):
        if not all(isinstance(row, dict) for row in own):
            raise TypeError("a list of rows is expected")
        key = next((name for name in NAMES_OF_ROWS if name in shipped[0]), None)
        rows = {row[key]: row for row in shipped} if key else {}
        if key is None or any(key not in row for row in own):
            raise TypeError(f'each row needs its "{key}"' if key else "this list can only be replaced by a whole file")
        rows |= {row[key]: {**rows.get(row[key], {}), **row} for row in own}
        return list(rows.values())
    if isinstance(shipped, (dict, list)) != isinstance(own, (dict, list)):
        raise TypeError(f"expected {type(shipped).__name__}, found {type(own).__name__}")
    return own


class JointKind(Struct, frozen=True, kw_only=True):
    name: str
    verb: str  # the usual verb of releasing it
    tool: str  # tool of the way it gets when none is recorded; "driver" stands for the fastener's driver
    reuse: str


def joint_kind(kind: str) -> JointKind:
    """The row of a kind of joint; words the table does not know read as "other"."""
    return _joint_kind(kind, *_places())


@functools.lru_cache(maxsize=512)
def _joint_kind(kind: str, _data_home: str | None, _home: str | None) -> JointKind:
    rows = table("joint_kinds.toml")
    row = rows.get(kind) or rows["other"]
    return JointKind(name=kind, verb=row["verb"], tool=row["tool"], reuse=row["reuse"])


def driver_for(drive: str, size: str) -> str:
    """The id of the driver for a recess, for example "ph00"; "driver" when the recess is not known."""
    return f"{drive}{size}".lower() if drive else "driver"


class ToolRow(Struct, frozen=True, kw_only=True):
    id: str
    name: str
    tool_class: str  # none, basic, supplied_with_part, supplied_with_product, commercial, proprietary, unknown
    confidence: str
    en45554: str  # the same by EN 45554; a tool of a class that is not known may have any


def tool_row(tool: str) -> ToolRow:
    """What the catalogue knows of a tool id; class "unknown" where it knows nothing."""
    return _tool_row(tool, *_places())


@functools.lru_cache(maxsize=512)
def _tool_row(tool: str, _data_home: str | None, _home: str | None) -> ToolRow:
    if tool == HAND:
        return ToolRow(id=HAND, name="Bare hand", tool_class="none", confidence="high", en45554="none")
    known = table("tools.toml")
    for row in known["tool"]:
        if row["id"] == tool:
            return ToolRow(id=tool, name=row["name"], tool_class=row["class"], confidence=row["confidence"],
                           en45554=row.get("en45554", row["class"]))
    letters = tool.rstrip("0123456789").upper()
    for row in known["driver"]:
        if row["drive"] == letters:
            return ToolRow(id=tool, name=f"{row['name']} driver {tool.upper()}", tool_class=row["class"],
                           confidence=row["confidence"], en45554=row.get("en45554", row["class"]))
    return ToolRow(id=tool, name=tool, tool_class="unknown", confidence="none", en45554="unknown")


def tool_ids() -> list[str]:
    """Tools that the catalogue knows by id, drivers aside."""
    return [row["id"] for row in table("tools.toml")["tool"]]


def coarse_pitch_mm(thread: str) -> float | None:
    """Pitch of a metric coarse thread such as "M1.6" (ISO 261), or None."""
    return next((row["pitch_mm"] for row in table("threads.toml")["coarse"]["rows"] if row["thread"] == thread), None)


def most_index(column: str, actions: float) -> int:
    """Basic MOST fasten/loosen index for a number of actions; beyond the card, whole runs of its last row are added.

    `column` is "finger_spins" or "wrist_turns". Source: data/most.toml.
    """
    rows = sorted((int(index), limit) for index, limit in table("most.toml")[column].items())
    last_index, last_limit = rows[-1]
    whole_runs, rest = divmod(actions, last_limit)
    if actions > last_limit:
        return int(whole_runs) * last_index + (most_index(column, rest) if rest else 0)
    return next(index for index, limit in rows if actions <= limit)


def seconds_per_tmu() -> float:
    return table("most.toml")["seconds_per_tmu"]


class VerbRow(Struct, frozen=True, kw_only=True):
    """How long a verb takes (data/verbs.toml says what the sequences are): Basic MOST, lengths in mm, areas in cm2."""

    verb: str
    span: tuple[float, float]  # factors below and above the estimate that its interval covers
    first: str = ""
    each: str = ""
    each_mm: float = 0
    each_cm2: float = 0
    each_piece: bool = False
    after_mm: float = 0
    corner: str = ""
    corners: int = 0
    last: str = ""
    process_mm_per_s: float = 0
    usual_mm: float = 0
    usual_cm2: float = 0
    per: str = "piece"
    types: Mapping[str, str] = field(default_factory=dict)
    written: bool = False
    cold_factor: float = 1.0
    cold_span: tuple[float, float] | None = None
    powered_span: tuple[float, float] | None = None


def written_verbs() -> list[str]:
    """Verbs of acts that are written where they are not the usual ones of a joint's kind."""
    return [word for word, row in table("verbs.toml").items() if row.get("written")]


def verb_row(verb: str) -> VerbRow | None:
    return _verb_row(verb, *_places())


@functools.lru_cache(maxsize=512)
def _verb_row(verb: str, _data_home: str | None, _home: str | None) -> VerbRow | None:
    row = table("verbs.toml").get(verb)
    if row is None:
        return None
    spans = {name: tuple(row[name]) for name in ("span", "cold_span", "powered_span") if name in row}
    return VerbRow(verb=verb, **{**row, **spans})


class ScrewPractice(Struct, frozen=True, kw_only=True):
    """How a bench screwdriver is used (data/screw_practice.toml): common practice, no source."""

    spun_up_to_mm: float
    turns_per_spin: float
    turns_per_wrist_turn: float
    engaged_share: float
    left_over_turns: float
    turns_unknown: float
    reach_and_place: str
    break_loose: str
    lay_aside: str
    pick_up_driver: str
    stiff: tuple[str, ...]
    powered: tuple[str, ...]


def screw_practice() -> ScrewPractice:
    row = table("screw_practice.toml")["turning"]
    return ScrewPractice(**{**row, "stiff": tuple(row["stiff"]), "powered": tuple(row["powered"])})


class Caution(Struct, frozen=True, kw_only=True):
    """A caution in words, with the limit it rests on where there is a published one."""

    hazard: str
    text: str
    limit: str
    source: str
    confidence: str


def caution(hazard: str) -> Caution | None:
    """The caution for a hazard word, or None where the catalogue has none."""
    row = table("hazards.toml").get(hazard)
    return Caution(hazard=hazard, **row) if row else None


class PartKind(Struct, frozen=True, kw_only=True):
    """A kind of part as it is met on the bench (data/part_kinds.toml)."""

    id: str
    kind: str  # as it stands in the record
    name: str
    key: str  # lifts one, with Shift
    short: str = ""  # on a button
    unique: bool = False  # a device has one
    plugs: bool = False  # it has connectors of its own
    screwed: bool = False  # as a rule screws of its own hold it
    several: bool = False  # a device often has more than one, each near its plug
    held_by: str = ""  # a row of mark_kinds: what holds one where neither screws nor clips are seen to
    roles: tuple[str, ...] = ()
    hazards: tuple[str, ...] = ()


@functools.cache
def part_kinds() -> dict[str, PartKind]:
    return {id_: PartKind(id=id_, kind=row.get("kind", id_), name=row["name"], key=row["key"],
                          short=row.get("short", row["name"]), unique=row.get("unique", False),
                           plugs=row.get("plugs", False), screwed=row.get("screwed", False),
                           several=row.get("several", False), held_by=row.get("held_by", ""),
                          roles=tuple(row.get("roles", ())), hazards=tuple(row.get("hazards", ())))
            for id_, row in table("part_kinds.toml").items()}


def roles_of(kind: str) -> tuple[str, ...]:
    """The priority parts that a part of this kind may be."""
    return next((row.roles for row in part_kinds().values() if row.kind == kind), ())


def part_kind(kind: str) -> PartKind:
    """The row of a kind; a word the table does not know stands for itself."""
    return part_kinds().get(kind) or PartKind(id=kind, kind=kind, name=kind.capitalize(), key="", plugs=True)


class Category(Struct, frozen=True, kw_only=True):
    """What a new teardown of a device category begins with."""

    category: str
    name: str
    base: str
    board: str
    tools: tuple[str, ...]
    hazards: tuple[str, ...]


def categories() -> list[Category]:
    return [Category(category=id_, name=row["name"], base=row["base"], board=row["board"], tools=tuple(row["tools"]),
                     hazards=tuple(row["hazards"])) for id_, row in table("categories.toml").items()]


class SafetyItem(Struct, frozen=True, kw_only=True):
    id: str
    text: str
    reason: str


def safety_items() -> list[SafetyItem]:
    return [SafetyItem(**row) for row in table("safety.toml")["item"]]


class MarkKind(Struct, frozen=True, kw_only=True):
    """A kind of joint as it is marked on the bench (data/mark_kinds.toml)."""

    id: str
    kind: str
    name: str
    short: str
    key: str
    types: tuple[str, ...] = ()  # the same key again: the next one
    tools: tuple[str, ...] = ()  # the usual tool of each type, where it is not the kind's
    typed: Mapping[str, str] = field(default_factory=dict)  # words of the one line for its types


@functools.cache
def mark_kinds() -> dict[str, MarkKind]:
    return {id_: MarkKind(id=id_, kind=row.get("kind", id_), name=row["name"],
                          short=row.get("short", row["name"]), key=row["key"],
                          types=tuple(row.get("types", ())), tools=tuple(row.get("tools", ())),
                          typed=row.get("typed", {}))
            for id_, row in table("mark_kinds.toml").items()}


class BondMethod(Struct, frozen=True, kw_only=True):
    """A way of parting a bond (data/bonds.toml): acts as they would be written, without times that are not known."""

    id: str
    name: str
    short: str  # on a button
    acts: tuple[Mapping[str, Any], ...]
    reuse: str
    hazards: tuple[str, ...]
    known_by: tuple[str, ...]  # verbs and tools that tell the method from the others; none: whatever is left
    of_cells: bool = False  # as a rule it is a cell that is bonded so


@functools.cache
def bond_methods() -> dict[str, BondMethod]:
    return {id_: BondMethod(id=id_, name=row["name"], short=row["short"], acts=tuple(row["acts"]), reuse=row["reuse"],
                            hazards=tuple(row.get("hazards", ())), known_by=tuple(row.get("known_by", ())),
                            of_cells=row.get("of_cells", False))
            for id_, row in table("bonds.toml").items()}


@functools.cache
def alike_weights() -> dict[str, float]:
    """Weights of find-alike, by descriptor (data/alike.toml)."""
    return dict(table("alike.toml")["weights"])


@functools.cache
def line_verbs() -> dict[str, str]:
    """Words that begin a line about a joint, and the kind of joint each means (data/joint_kinds.toml)."""
    return {row["typed"]: kind for kind, row in table("joint_kinds.toml").items() if "typed" in row}


@functools.cache
def joint_kind_typed() -> dict[str, str]:
    """Kind of joint -> the word that begins a line about it."""
    return {kind: word for word, kind in line_verbs().items()}


@functools.cache
def line_types() -> dict[str, str]:
    """Words of the one line for types of connector (data/mark_kinds.toml): the types themselves, and shorter ones."""
    rows = [row for row in mark_kinds().values() if row.kind == "connector"]
    return {**{type_: type_ for row in rows for type_ in row.types},
            **{word: type_ for row in rows for word, type_ in row.typed.items()}}


class CoveringKinds(Struct, frozen=True, kw_only=True):
    """Kinds of thing by how they cover others (data/covering.toml)."""

    large: frozenset[str]
    small: frozenset[str]
    bulky: frozenset[str]
    under_board: frozenset[str]
    dispensable: frozenset[str]


@functools.cache
def covering_kinds() -> CoveringKinds:
    rows = table("covering.toml")
    return CoveringKinds(**{name: frozenset(rows[name]) for name in CoveringKinds.__struct_fields__})


class FigureKind(Struct, frozen=True, kw_only=True):
    """A figure told in passing (data/facts.toml): what it is called, and kinds of part that have it as a rule."""

    name: str
    unit: str  # as it is written
    of: tuple[str, ...]


class SmallThing(Struct, frozen=True, kw_only=True):
    """A small thing that is listed and never taken off by itself (data/facts.toml)."""

    kind: str
    fact: str  # what the words after its name tell; empty: its name
    values: tuple[str, ...]


class StateKind(Struct, frozen=True, kw_only=True):
    """A state in which a part was found (data/facts.toml)."""

    word: str
    hazard: str
    of: tuple[str, ...]


@functools.cache
def figure_kinds() -> dict[str, FigureKind]:
    """Unit as it is typed -> the figure."""
    found = {}
    for name, row in table("facts.toml")["figure"].items():
        for typed in (*row["units"], *row.get("typed", ())):
            unit = typed if typed in row["units"] else row["units"][0]
            found[typed] = FigureKind(name=name, unit=unit, of=tuple(row["of"]))
    return found


@functools.cache
def small_things() -> dict[str, SmallThing]:
    """Word -> the thing."""
    return {word: SmallThing(kind=kind, fact=row["fact"], values=tuple(row["values"]))
            for kind, row in table("facts.toml")["thing"].items() for word in row["words"]}


@functools.cache
def state_kinds() -> dict[str, StateKind]:
    return {word: StateKind(word=word, hazard=row.get("hazard", ""), of=tuple(row["of"]))
            for word, row in table("facts.toml")["state"].items()}
