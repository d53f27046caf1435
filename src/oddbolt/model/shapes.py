"""Shapes of values in the exchange file: each reads a JSON value into a typed one, writes it back, states its schema.

A record class declares its keys once with `key(...)`; reading, writing, refusal messages and the published JSON Schema
all come from that declaration. Keys a record does not know are kept in `extra` and written back; keys that were present
are remembered in `given`, so that a default which was written out stays written out.
"""

from __future__ import annotations

import functools
import math
from collections.abc import Callable, Mapping
from operator import attrgetter
from typing import Any, ClassVar

from msgspec import Struct, field

from oddbolt.model.refusal import Refusal

_REQUIRED = object()
# What nobody means: beyond these a value is refused with its place, so that nothing further on has to expect it.
LONGEST_TEXT = 20_000  # characters; a note of ten pages
LONGEST_ID = 200
LARGEST_NUMBER = 1e9  # mm, g, seconds, pixels
LARGEST_COUNT = 100_000
LARGEST_OF_ANY = 1e15  # of what is kept as it came


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


def check_text(text: str, path: str, longest: int = LONGEST_TEXT) -> None:
    """Refuse a text that is too long, or has half a character in it, which no file and no screen can take."""
    if len(text) > longest:
        raise Refusal(path, "text-too-long", number=len(text), most=longest)
    if not text.isascii():
        try:
            text.encode()
        except UnicodeEncodeError:
            raise Refusal(path, "half-a-character") from None


class _Text(Shape):
    def __init__(self, longest: int = LONGEST_TEXT) -> None:
        self._longest = longest

    def read(self, value: Any, path: str) -> str:
        if type(value) is not str:
            raise _expected("text", value, path)
        check_text(value, path, self._longest)
        return value

    def schema(self, definitions: dict[str, Any]) -> dict[str, Any]:
        return {"type": "string", "maxLength": self._longest}


class _Flag(Shape):
    def read(self, value: Any, path: str) -> bool:
        if type(value) is not bool:
            raise _expected("flag", value, path)
        return value

    def schema(self, definitions: dict[str, Any]) -> dict[str, Any]:
        return {"type": "boolean"}


def check_anything(root: Any, path: str) -> None:
    """Refuse values and names in it that no part of the program could carry."""
    waiting = [(path, root)]
    while waiting:
        place, value = waiting.pop()
        if isinstance(value, str):
            check_text(value, place, LONGEST_TEXT * 5)
        elif isinstance(value, dict):
            for name, item in value.items():
                check_text(name, place, LONGEST_ID * 5)
                waiting.append((f"{place}.{name}", item))
        elif isinstance(value, list):
            waiting.extend((f"{place}[{n}]", item) for n, item in enumerate(value))
        elif type(value) in (int, float) and not abs(value) <= LARGEST_OF_ANY:
            raise Refusal(place, "number-too-large" if value == value else "not-finite", most=LARGEST_OF_ANY)


class _Anything(Shape):
    def read(self, value: Any, path: str) -> Any:
        check_anything(value, path)
        return value

    def schema(self, definitions: dict[str, Any]) -> dict[str, Any]:
        return {}


class Number(Shape, Struct, frozen=True):
    """A finite number of a size that means something; not negative, unless `minimum` is None."""

    whole: bool = False
    minimum: int | None = 0
    most: float = LARGEST_NUMBER

    def read(self, value: Any, path: str) -> float:
        if type(value) is float and not self.whole:
            if not math.isfinite(value):
                raise Refusal(path, "not-finite")
        elif type(value) is not int:
            raise _expected("whole-number" if self.whole else "number", value, path)
        most = self.most
        if not -most <= value <= most:
            raise Refusal(path, "number-too-large", most=most)
        if self.minimum is not None and value < self.minimum:
            if value < 0:
                raise Refusal(path, "negative", value=value)
            raise Refusal(path, "below", value=value, least=self.minimum)
        return value

    def schema(self, definitions: dict[str, Any]) -> dict[str, Any]:
        kind = "integer" if self.whole else "number"
        least = -self.most if self.minimum is None else self.minimum
        return {"type": kind, "minimum": least, "maximum": self.most}


class OneOf(Shape, Struct, frozen=True):
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


class ListOf(Shape, Struct, frozen=True):
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


class OrNull(Shape, Struct, frozen=True):
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
        if type(value) is str:
            check_text(value, path, LONGEST_ID)
        return value

    def schema(self, definitions: dict[str, Any]) -> dict[str, Any]:
        return {"type": ["boolean", "string"]}


class _FlagOrTexts(Shape):
    """True or false, or a list of names for which it is true."""

    def read(self, value: Any, path: str) -> bool | tuple[str, ...]:
        if type(value) is bool:
            return value
        if type(value) is not list:
            raise _expected("flag-or-list", value, path)
        return ListOf(_Text(LONGEST_ID)).read(value, path)

    def write(self, value: Any) -> Any:
        return value if isinstance(value, bool) else list(value)

    def schema(self, definitions: dict[str, Any]) -> dict[str, Any]:
        return {"type": ["boolean", "array"], "items": {"type": "string"}}


TEXT, FLAG, ANYTHING, FLAG_OR_TEXT = _Text(), _Flag(), _Anything(), _FlagOrText()
ID = _Text(LONGEST_ID)
TEXTS = ListOf(TEXT)
FLAG_OR_TEXTS = _FlagOrTexts()
NUMBER = SECONDS = Number()
SIGNED = Number(minimum=None)
POINT = _Point()
COUNT = Number(whole=True, minimum=1, most=LARGEST_COUNT)
INDEX = Number(whole=True)
COUNTS = ListOf(COUNT)


class Key:
    """A declared key of a record class, until the class is made."""

    __slots__ = ("default", "doc", "name", "shape")

    def __init__(self, shape: Shape, default: Any, name: str, doc: str) -> None:
        self.shape, self.default, self.name, self.doc = shape, default, name, doc


def key(shape: Shape, default: Any = _REQUIRED, *, name: str = "", doc: str = "") -> Any:
    """Declare a key of a record; `name` where the JSON key is not usable as a Python name."""
    return Key(shape, default, name, doc)


class KeySpec(Struct, frozen=True):
    attribute: str
    name: str
    shape: Shape
    default: Any
    doc: str

    @property
    def required(self) -> bool:
        return self.default is _REQUIRED


class _RecordMeta(type(Struct)):  # type: ignore[misc]
    """Takes the declared keys out of the body of a record class; what is left of each is its default."""

    def __new__(cls, name: str, bases: tuple[type, ...], body: dict[str, Any], **options: Any) -> Any:
        keys = {attribute: value for attribute, value in body.items() if isinstance(value, Key)}
        for attribute, one in keys.items():
            del body[attribute]
            if one.default is not _REQUIRED:
                body[attribute] = one.default
        inherited = {n: spec for base in bases for n, spec in getattr(base, "specs_by_name", {}).items()}
        body["specs_by_name"] = inherited | {
            one.name or attribute: KeySpec(attribute, one.name or attribute, one.shape, one.default, one.doc)
            for attribute, one in keys.items()}
        body["required_specs"] = tuple(spec for spec in body["specs_by_name"].values() if spec.required)
        return super().__new__(cls, name, bases, body, **{"frozen": True, "kw_only": True, **options})


class Record(Struct, metaclass=_RecordMeta):
    """Base of everything that is an object in the exchange file. Frozen; keys by name only."""

    extra: Mapping[str, Any] = field(default_factory=dict)  # keys we do not know, written back as they came
    # Keys that were present when read are written out even at their default. Nothing else is decided by this: what a
    # person said is in `said`, so it is told apart after reopening too.
    given: frozenset[str] = frozenset()

    noun: ClassVar[str] = "object"
    specs_by_name: ClassVar[dict[str, KeySpec]]
    required_specs: ClassVar[tuple[KeySpec, ...]]

    def __eq__(self, other: object) -> bool:
        """Equal in all but what was written out."""
        if self is other:
            return True
        if type(other) is not type(self):
            return NotImplemented
        values = _compared(type(self))
        return bool(values(self) == values(other))

    __hash__ = None  # type: ignore[assignment]


@functools.cache
def _compared(cls: type[Record]) -> Callable[[object], Any]:
    return attrgetter(*(name for name in cls.__struct_fields__ if name != "given"))


def specs(cls: type[Record]) -> dict[str, KeySpec]:
    """The declared keys of a record class by JSON name, in the order they are written."""
    return cls.specs_by_name


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
            check_anything(item, f"{path}.{name}")
            extra[name] = item
        else:
            arguments[spec.attribute] = spec.shape.read(item, f"{path}.{name}")
    for spec in cls.required_specs:
        if spec.attribute not in arguments:
            raise Refusal(f"{path}.{spec.name}", "key-missing", noun=cls.noun)
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


class RecordOf(Shape, Struct, frozen=True):
    cls: type[Record]

    def read(self, value: Any, path: str) -> Any:
        return read_record(self.cls, value, path)

    def write(self, value: Any) -> dict[str, Any]:
        return write_record(value)

    def schema(self, definitions: dict[str, Any]) -> dict[str, Any]:
        return record_schema(self.cls, definitions)
