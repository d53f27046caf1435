"""The exchange file: JSON text to a `Teardown` and back, without loss, or one `Refusal` with the JSON path."""

from __future__ import annotations

import json
import math
from typing import Any

from oddbolt.model.checking.references import check_references
from oddbolt.model.refusal import Refusal
from oddbolt.model.shapes import json_kind, read_record, record_schema, write_record
from oddbolt.model.things import Teardown

VERSION = 2  # read; 1 is written where nothing in the file needs more
MOST_KEYS = 10_000  # of one object; the largest of ours has some thirty
DEEPEST = 100  # levels of nesting; a teardown uses about eight


def loads(text: str | bytes) -> Teardown:
    """Read a teardown from JSON text (UTF-8); raises Refusal and never half-loads."""
    return from_json(parse_json(text))


def dumps(teardown: Teardown) -> str:
    return json.dumps(to_json(teardown), ensure_ascii=False, indent=1, allow_nan=False) + "\n"


def parse_json(text: str | bytes) -> Any:
    """JSON text to plain values, refusing what is not finite, not UTF-8, ambiguous or nested out of all reason."""
    if isinstance(text, bytes):
        try:
            text = text.decode("utf-8-sig")
        except UnicodeDecodeError as error:
            raise Refusal("$", "not-utf8", byte=error.start) from None
    if not text.strip():
        raise Refusal("$", "empty-file")
    try:
        value = json.loads(text, object_pairs_hook=_object_without_repeats)
    except json.JSONDecodeError as error:
        raise Refusal("$", "not-json", error=error.msg, line=error.lineno, column=error.colno) from None
    except RecursionError:
        raise Refusal("$", "too-deep") from None
    except ValueError as error:
        raise Refusal("$", "not-json-value", error=str(error)) from None
    _refuse_non_finite(value)
    return value


def _object_without_repeats(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    made = dict(pairs)
    if len(made) != len(pairs):
        names = [name for name, _ in pairs]
        twice = next(name for name in names if names.count(name) > 1)
        raise Refusal("$", "key-twice", key=twice)
    return made


def _refuse_non_finite(root: Any) -> None:
    waiting = [("$", root, 0)]
    while waiting:
        path, value, depth = waiting.pop()
        if depth > DEEPEST:
            raise Refusal(path[:80], "too-deep")
        if isinstance(value, float) and not math.isfinite(value):
            raise Refusal(path, "not-finite")
        if isinstance(value, dict):
            if len(value) > MOST_KEYS:
                raise Refusal(path, "too-many-keys", number=len(value), most=MOST_KEYS)
            waiting.extend((f"{path}.{name}", item, depth + 1) for name, item in value.items())
        elif isinstance(value, list):
            waiting.extend((f"{path}[{n}]", item, depth + 1) for n, item in enumerate(value))


def from_json(value: Any) -> Teardown:
    """Check and build a teardown from plain JSON values."""
    if type(value) is not dict:
        raise Refusal("$", "not-an-exchange-object", found=json_kind(value))
    if value.get("format") != "oddbolt-teardown":
        raise Refusal("$.format", "not-a-teardown")
    version = value.get("version", 1)
    if type(version) is int and version > VERSION:
        raise Refusal("$.version", "newer-version", version=version, known=VERSION)
    teardown = read_record(Teardown, value, "$")
    check_references(teardown)
    return teardown


def to_json(teardown: Teardown) -> dict[str, Any]:
    return write_record(teardown)


def schema() -> dict[str, Any]:
    """The published JSON Schema (oddbolt-teardown.schema.json), made from the same declarations that read the file."""
    definitions: dict[str, Any] = {}
    reference = record_schema(Teardown, definitions)
    definitions["Teardown"]["required"] = ["format", "version", "device"]
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Odd Bolt teardown",
            "description": "Unknown keys are allowed everywhere and kept. Ids must resolve as docs/format.md says; "
                           "a schema cannot say that.",
            **reference, "$defs": definitions}
