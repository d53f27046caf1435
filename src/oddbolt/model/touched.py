"""What a change touched: sections of the record, ids in them, and which of their keys."""

from __future__ import annotations

import json
from collections.abc import Collection, Iterable, Mapping
from typing import Any

from msgspec import Struct, field

from oddbolt.model.shapes import specs
from oddbolt.model.things import Teardown

SECTIONS = tuple(specs(Teardown))


class InSection(Struct, frozen=True):
    """What was touched of one section."""

    ids: frozenset[str] = frozenset()  # of records that came, went or differ
    keys: frozenset[str] = frozenset()  # that differ; of a record that came or went, all it has


class Touched(Struct, frozen=True):
    """By section. A section that is not in it is as it was."""

    sections: Mapping[str, InSection] = field(default_factory=dict)
    everything: bool = False

    def __contains__(self, section: str) -> bool:
        return self.everything or section in self.sections

    def any_of(self, sections: Iterable[str]) -> bool:
        return self.everything or any(section in self.sections for section in sections)

    def ids(self, section: str) -> frozenset[str]:
        return self.sections[section].ids if section in self.sections else frozenset()

    def keys(self, section: str) -> frozenset[str]:
        return self.sections[section].keys if section in self.sections else frozenset()

    def only(self, section: str, keys: Collection[str]) -> bool:
        """Whether nothing of a section was touched but these keys."""
        return not self.everything and self.keys(section) <= frozenset(keys)


EVERYTHING = Touched(everything=True)


def touched_by(differences: Iterable[tuple[str, Any, Any]]) -> Touched:
    """From pairs of JSON records: section, before, after (None: absent)."""
    found: dict[str, tuple[set[str], set[str]]] = {}
    for section, old, new in differences:
        ids, keys = found.setdefault(section, (set(), set()))
        if not isinstance(old, dict) or not isinstance(new, dict) or old.get("id") != new.get("id"):
            for record in (old, new):
                if isinstance(record, dict):
                    keys.update(record)
                    if "id" in record:
                        ids.add(record["id"])
            continue
        keys.update(key for key in old.keys() | new.keys() if _as_written(old, key) != _as_written(new, key))
        if "id" in new:
            ids.add(new["id"])
    return Touched({name: InSection(frozenset(ids), frozenset(keys)) for name, (ids, keys) in found.items()})


def _as_written(record: dict[str, Any], key: str) -> str:
    """As text: to Python 1 and true are equal, on disk they are not."""
    return json.dumps(record[key]) if key in record else ""
