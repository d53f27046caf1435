"""Rubrics of one's own: a method as a file that can be read again, and methods copied, changed, kept and shared."""

from __future__ import annotations

import json
import os
import re
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from msgspec.structs import replace

from oddbolt.catalog.tables import tomllib
from oddbolt.model.refusal import Refusal
from oddbolt.scoring.method import Criterion, Method, method_ids, method_of, own_folder, problems, read_method

_ID = re.compile(r"[^a-z0-9]+")


def copy_of(method: Method, name: str) -> Method:
    """The method as a beginning of one's own, under a name and an id that nothing has yet."""
    base = _ID.sub("-", name.lower()).strip("-") or "rubric"
    taken, number, id_ = set(method_ids()), 2, base
    while id_ in taken:
        id_, number = f"{base}-{number}", number + 1
    return replace(method, id=id_, name=name, is_own=True)


def keep(method: Method) -> Path:
    """Write a method of one's own to its file; the file is whole or as it was. Raises Refusal for one that does not add
    up, and for a folder that cannot be written."""
    found = problems(method)
    if found:
        raise Refusal(found[0].where, found[0].code, **found[0].figures)
    path = own_folder() / f"{method.id}.toml"
    text = as_toml(method)
    method_of(tomllib.loads(text))  # what cannot be read again is not written
    beside = path.with_suffix(".part")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        with beside.open("w", encoding="utf-8") as file:
            file.write(text)
            file.flush()
            os.fsync(file.fileno())
        beside.replace(path)
    except OSError as error:
        raise Refusal(str(path), "cannot-write", error=str(error)) from None
    return path


def take_in(path: Path) -> Method:
    """A method file from elsewhere, copied into the folder of one's own. Raises Refusal for one that cannot be used,
    and where one of its id is there already."""
    method = read_method(path)
    if method.id in method_ids():
        raise Refusal(str(path), "method-taken", id=method.id)
    keep(method)
    return method


def as_toml(method: Method) -> str:
    """The method as its file."""
    lines = [f"{name} = {_value(value)}" for name, value in (
        ("id", method.id), ("name", method.name), ("kind", method.kind), ("source", method.source),
        ("edition", method.edition), ("categories", list(method.categories)), ("scale", list(method.scale)),
        ("decimals", method.decimals), ("rounding_known", method.rounding_known), ("headline", method.headline),
        ("unit", method.unit), ("notes", list(method.notes)))]
    lines += _table("convention", method.convention)
    if method.classes:
        lines += ["", "[classes]", f"limits = {_value([list(one) for one in method.classes])}"]
    lines += _table("parts.weights", method.part_weights)
    for silent in method.silent:
        lines += ["", "[[silent]]", *(f"{name} = {_value(value)}" for name, value in (
            ("id", silent.id), ("name", silent.name), ("values", list(silent.values)), ("sets", silent.sets)))]
    for criterion in method.criteria:
        lines += ["", "[[criterion]]", *_criterion(criterion)]
    return "\n".join(lines) + "\n"


def _table(name: str, values: Mapping[str, Any]) -> list[str]:
    return ["", f"[{name}]", *(f"{_key(key)} = {_value(value)}" for key, value in values.items())] if values else []


def _criterion(one: Criterion) -> list[str]:
    usual = Criterion(id="", name="", weight=-1, measure="", rule="-", confidence="")
    written = []
    for name in one.__struct_fields__:
        value = getattr(one, name)
        if name == "below":
            if one.at_least:
                written.append(f"below = {_value('fails' if value is None else value)}")
        elif value != getattr(usual, name):
            written.append(f"{name} = {_value(value)}")
    return written


def _key(text: str) -> str:
    return text if re.fullmatch(r"[A-Za-z0-9_-]+", text) else json.dumps(text, ensure_ascii=False)


def _value(value: Any) -> str:
    """A TOML value; its strings are written as JSON's, which is a subset."""
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, (int, float)):
        return repr(value)
    if isinstance(value, Mapping):
        return "{ " + ", ".join(f"{_key(key)} = {_value(item)}" for key, item in value.items()) + " }"
    if isinstance(value, (list, tuple)):
        return "[" + ", ".join(map(_value, value)) + "]"
    return json.dumps(str(value), ensure_ascii=False).replace("\x7f", "\\u007f")
