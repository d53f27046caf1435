"""A snapshot as JSON rows, by section and place, and what differs between two of them."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from msgspec.structs import replace

from oddbolt.model import exchange
from oddbolt.model.checking.references import check_references
from oddbolt.model.refusal import Refusal
from oddbolt.model.shapes import ListOf, specs
from oddbolt.model.snapshot import is_added_to, succeed
from oddbolt.model.things import Teardown
from oddbolt.model.touched import Touched, touched_by

EXTRA = "extra"
SECTIONS = {name: isinstance(spec.shape, ListOf) for name, spec in specs(Teardown).items()}

Place = tuple[str, int]
RowChange = tuple[str, int, Any, Any]  # section, place, JSON before (None: absent), JSON after


def dump(body: Any) -> str:
    return json.dumps(body, ensure_ascii=False, separators=(",", ":"), allow_nan=False)


def rows_of(teardown: Teardown) -> dict[Place, Any]:
    """A snapshot as JSON records: section and place, place -1 where a section is no list."""
    found: dict[Place, Any] = {}
    for name in specs(Teardown):
        found.update(_section(name, teardown))
    for place, (name, value) in enumerate(teardown.extra.items()):
        found[EXTRA, place] = [name, value]
    return found


def _section(name: str, teardown: Teardown) -> dict[Place, Any]:
    spec = specs(Teardown)[name]
    value = getattr(teardown, spec.attribute)
    if SECTIONS[name] and value:
        return {(name, place): spec.shape.item.write(item) for place, item in enumerate(value)}
    if spec.required or name in teardown.given or value != spec.default:
        return {(name, -1): spec.shape.write(value)}
    return {}


def differences(known: dict[Place, Any], before: Teardown, after: Teardown) -> list[RowChange]:
    """What differs between two snapshots of a document. Things that are the same objects are not looked into.

    Bodies are compared as they would be written: to Python 1 and true are the same, in the file they are not.
    """
    changes: list[RowChange] = []
    for name, spec in specs(Teardown).items():
        old, new = getattr(before, spec.attribute), getattr(after, spec.attribute)
        if old is new:
            continue
        if SECTIONS[name] and old and new:
            same = min(len(old), len(new))
            moved = () if is_added_to(new, old) else (n for n in range(same) if old[n] is not new[n])
            for place in (*moved, *range(same, max(len(old), len(new)))):
                body = spec.shape.item.write(new[place]) if place < len(new) else None
                _note(changes, name, place, known.get((name, place)), body)
        else:
            was = {place: body for place, body in known.items() if place[0] == name}
            will = _section(name, after)
            for section, place in sorted(was.keys() | will.keys()):
                _note(changes, section, place, was.get((section, place)), will.get((section, place)))
    if before.extra is not after.extra:
        for place in range(max(len(before.extra), len(after.extra))):
            rows = [list(list(one.extra.items())[place]) if place < len(one.extra) else None for one in (before, after)]
            _note(changes, EXTRA, place, *rows)
    return changes


def _note(changes: list[RowChange], section: str, place: int, old: Any, new: Any) -> None:
    if (old is None) != (new is None) or (old is not None and dump(old) != dump(new)):
        changes.append((section, place, old, new))


def touched(changes: list[RowChange]) -> Touched:
    return touched_by((section, old, new) for section, _, old, new in changes)


def after_rows(before: Teardown, records: dict[Place, Any], changes: list[RowChange], path: Path) -> Teardown:
    """The snapshot after some rows have changed; what did not change is shared with the one before."""
    if any(section not in SECTIONS for section, *_ in changes):
        return teardown_from(records, path)
    changed: dict[str, list[int]] = {}
    for section, place, _, _ in changes:
        changed.setdefault(section, []).append(place)
    keys: dict[str, Any] = {}
    try:
        for section, places in changed.items():
            spec = specs(Teardown)[section]
            if not SECTIONS[section] or -1 in places:
                keys[spec.attribute] = spec.default if (section, -1) not in records and not SECTIONS[section] \
                    else _list_of(section, records) if SECTIONS[section] \
                    else spec.shape.read(records[section, -1], f"$.{section}")
                continue
            made = list(getattr(before, spec.attribute))
            for place in sorted(places):
                if (section, place) in records:
                    body = spec.shape.item.read(records[section, place], f"$.{section}[{place}]")
                    made[place:place + 1] = [body]
            gone = [place for place in places if (section, place) not in records]
            keys[spec.attribute] = tuple(made[:min(gone)] if gone else made)
        teardown = succeed(replace(before, **keys), before)
        check_references(teardown, before)
    except Refusal as refusal:
        raise refusal.at(f"{path} {refusal.path}") from None
    return teardown


def _list_of(section: str, records: dict[Place, Any]) -> tuple[Any, ...]:
    """A list section read anew."""
    item, found = specs(Teardown)[section].shape.item, []
    while (section, len(found)) in records:
        found.append(item.read(records[section, len(found)], f"$.{section}[{len(found)}]"))
    return tuple(found)


def apply(records: dict[Place, Any], changes: list[RowChange]) -> None:
    for section, place, _, body in changes:
        if body is None:
            records.pop((section, place), None)
        else:
            records[section, place] = body


def teardown_from(records: dict[Place, Any], path: Path) -> Teardown:
    whole: dict[str, Any] = {}
    for (section, place), body in sorted(records.items()):
        if section == EXTRA:
            whole[body[0]] = body[1]
        elif place < 0:
            whole[section] = body
        else:
            whole.setdefault(section, []).append(body)
    try:
        return exchange.from_json(whole)
    except Refusal as refusal:
        raise refusal.at(f"{path} {refusal.path}") from None
