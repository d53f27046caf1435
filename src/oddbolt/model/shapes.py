"""Shapes of values in the exchange file: each reads a JSON value into a typed one, writes it back, states its schema.

A record class declares its keys once with `key(...)`; reading, writing, refusal messages and the published JSON Schema
all come from that declaration. Keys a record does not know are kept in `extra` and written back; keys that were present
are remembered in `given`, so that a default which was written out stays written out.
"""

from __future__ import annotations

import dataclasses
import functools
import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, ClassVar

from oddbolt.model.refusal import Refusal

_REQUIRED = object()


def json_kind(value: object) -> str:
    """The JSON kind of a Python value, as a code for messages."""
    names = {type(None): "null", bool: "flag", int: "number", float: "number", str: "text", list: "list",
             dict: "object"}
    return names.get(type(value), type(value).__name__)


class Shape:
    """How one value is read, written and described."""

    def read(self, value: Any, path: str) -> Any:
        raise NotImplementedError

    def write(self, value: Any) -> Any:
        return value

    def schema(self, definitions: dict[str, Any]) -> dict[str, Any]:
        raise NotImplementedError


def _expected(what: str, value: object, path: str) -> Refusal:
    return Refusal(path, "wrong-kind", expected=what, found=json_kind(value))


class _Text(Shape):
    def read(self, value: Any, path: str) -> str:
        if type(value) is not str:
            raise _expected("text", value, path)
        return value

    def schema(self, definitions: dict[str, Any]) -> dict[str, Any]:
        return {"type": "string"}


class _Flag(Shape):
    def read(self, value: Any, path: str) -> bool:
        if type(value) is not bool:
            raise _expected("flag", value, path)
        return value

    def schema(self, definitions: dict[str, Any]) -> dict[str, Any]:
        return {"type": "boolean"}


class _Anything(Shape):
    def read(self, value: Any, path: str) -> Any:
        return value

    def schema(self, definitions: dict[str, Any]) -> dict[str, Any]:
        return {}


@dataclass(frozen=True)
class Number(Shape):
    """A finite number; not negative, unless `minimum` is None."""

    whole: bool = False
    minimum: int | None = 0

    def read(self, value: Any, path: str) -> float:
        if type(value) is float and not self.whole:
            if not math.isfinite(value):
                raise Refusal(path, "not-finite")
        elif type(value) is not int:
            raise _expected("whole-number" if self.whole else "number", value, path)
        if self.minimum is not None and value < self.minimum:
            if value < 0:
                raise Refusal(path, "negative", value=value)
            raise Refusal(path, "below", value=value, least=self.minimum)
        return value

    def schema(self, definitions: dict[str, Any]) -> dict[str, Any]:
        kind = "integer" if self.whole else "number"
        return {"type": kind} if self.minimum is None else {"type": kind, "minimum": self.minimum}


@dataclass(frozen=True)
class OneOf(Shape):
    """One of a closed list of words."""

    words: tuple[str, ...]

    def read(self, value: Any, path: str) -> str:
        if type(value) is not str:
            raise _expected("text", value, path)
        if value not in self.words:
            raise Refusal(path, "unknown-word", word=value[:80], known=list(self.words))
        return value

    def schema(self, definitions: dict[str, Any]) -> dict[str, Any]:
        return {"enum": list(self.words)}


@dataclass(frozen=True)
class ListOf(Shape):
    """A list, held as a tuple."""

    item: Shape

    def read(self, value: Any, path: str) -> tuple[Any, ...]:
        if type(value) is not list:
            raise _expected("list", value, path)
        return tuple(self.item.read(item, f"{path}[{n}]") for n, item in enumerate(value))

    def write(self, value: Any) -> list[Any]:
        return [self.item.write(item) for item in value]

    def schema(self, definitions: dict[str, Any]) -> dict[str, Any]:
        return {"type": "array", "items": self.item.schema(definitions)}


@dataclass(frozen=True)
class OrNull(Shape):
    item: Shape

    def read(self, value: Any, path: str) -> Any:
        return None if value is None else self.item.read(value, path)

    def write(self, value: Any) -> Any:
        return None if value is None else self.item.write(value)

    def schema(self, definitions: dict[str, Any]) -> dict[str, Any]:
        return {"anyOf": [self.item.schema(definitions), {"type": "null"}]}


class _Point(Shape):
    """A place on a photograph: two numbers."""

    def read(self, value: Any, path: str) -> tuple[float, float]:
        if type(value) is not list or len(value) != 2:
            raise Refusal(path, "not-a-point")
        return NUMBER.read(value[0], f"{path}[0]"), NUMBER.read(value[1], f"{path}[1]")

    def write(self, value: tuple[float, float]) -> list[float]:
        return list(value)

    def schema(self, definitions: dict[str, Any]) -> dict[str, Any]:
        return {"type": "array", "items": NUMBER.schema(definitions), "minItems": 2, "maxItems": 2}


class _FlagOrText(Shape):
    """True or false, or a name in place of true (the power source that an isolator cuts)."""

    def read(self, value: Any, path: str) -> bool | str:
        if type(value) not in (bool, str):
            raise _expected("flag-or-text", value, path)
        return value

    def schema(self, definitions: dict[str, Any]) -> dict[str, Any]:
        return {"type": ["boolean", "string"]}


TEXT, FLAG, ANYTHING, FLAG_OR_TEXT = _Text(), _Flag(), _Anything(), _FlagOrText()
TEXTS = ListOf(TEXT)
NUMBER = SECONDS = Number()
SIGNED = Number(minimum=None)
POINT = _Point()
COUNT = Number(whole=True, minimum=1)
INDEX = Number(whole=True)


def key(shape: Shape, default: Any = _REQUIRED, *, name: str = "", doc: str = "") -> Any:
    """Declare a key of a record; `name` where the JSON key is not usable as a Python name."""
    metadata = {"shape": shape, "name": name, "doc": doc}
    if default is _REQUIRED:
        return field(metadata=metadata)
    return field(default=default, metadata=metadata)


@dataclass(frozen=True)
class KeySpec:
    attribute: str
    name: str
    shape: Shape
    default: Any
    doc: str

    @property
    def required(self) -> bool:
        return self.default is _REQUIRED


@dataclass(frozen=True, slots=True, kw_only=True)
class Record:
    """Base of everything that is an object in the exchange file."""

    extra: Mapping[str, Any] = field(default_factory=dict)  # keys we do not know, written back as they came
    # Keys that were present when read are written out even at their default. Nothing else is decided by this: what a
    # person said is in `said`, so it is told apart after reopening too.
    given: frozenset[str] = field(default=frozenset(), compare=False)

    noun: ClassVar[str] = "object"


@functools.cache
def specs(cls: type[Record]) -> dict[str, KeySpec]:
    """The declared keys of a record class by JSON name, in the order they are written."""
    found = {}
    for item in dataclasses.fields(cls):
        if "shape" in item.metadata:
            name = item.metadata["name"] or item.name
            default = _REQUIRED if item.default is dataclasses.MISSING else item.default
            found[name] = KeySpec(item.name, name, item.metadata["shape"], default, item.metadata["doc"])
    return found


def read_record(cls: type[Record], value: Any, path: str) -> Any:
    """Build a record from a JSON object; raises Refusal with the JSON path of the first thing that is wrong."""
    if type(value) is not dict:
        raise _expected("object", value, path)
    known = specs(cls)
    arguments: dict[str, Any] = {}
    extra: dict[str, Any] = {}
    for name, item in value.items():
        spec = known.get(name)
        if spec is None:
            extra[name] = item
        else:
            arguments[spec.attribute] = spec.shape.read(item, f"{path}.{name}")
    for name, spec in known.items():
        if spec.required and spec.attribute not in arguments:
            raise Refusal(f"{path}.{name}", "key-missing", noun=cls.noun)
    return cls(extra=extra, given=frozenset(value) - extra.keys(), **arguments)


def write_record(record: Record) -> dict[str, Any]:
    """The JSON object of a record: keys that were given or differ from their default, then the unknown ones."""
    written = {}
    for name, spec in specs(type(record)).items():
        value = getattr(record, spec.attribute)
        if spec.required or name in record.given or value != spec.default:
            written[name] = spec.shape.write(value)
    written.update(record.extra)
    return written


def record_schema(cls: type[Record], definitions: dict[str, Any]) -> dict[str, Any]:
    """JSON Schema of a record, placed among `definitions`; returns the reference to it."""
    title = cls.__name__
    if title not in definitions:
        definitions[title] = {}
        properties = {}
        for name, spec in specs(cls).items():
            properties[name] = dict(spec.shape.schema(definitions))
            if spec.doc:
                properties[name]["description"] = spec.doc
        definitions[title] = {"type": "object", "properties": properties,
                              "required": [name for name, spec in specs(cls).items() if spec.required]}
    return {"$ref": f"#/$defs/{title}"}


@dataclass(frozen=True)
class RecordOf(Shape):
    cls: type[Record]

    def read(self, value: Any, path: str) -> Any:
        return read_record(self.cls, value, path)

    def write(self, value: Any) -> dict[str, Any]:
        return write_record(value)

    def schema(self, definitions: dict[str, Any]) -> dict[str, Any]:
        return record_schema(self.cls, definitions)
