"""Small devices for tests, written as exchange-file objects."""

from __future__ import annotations

from collections.abc import Iterable

from oddbolt.effort.times import KnownTimes
from oddbolt.model import exchange
from oddbolt.model.things import Teardown
from oddbolt.search.planner import Planner


def part(id_: str, on: str | None = None, **keys) -> dict:
    return {"id": id_, "active_s": 1, **({"on": on} if on else {}), **keys}


def joint(id_: str, *of: str, tool: str = "hand", kind: str = "clip", **keys) -> dict:
    keys.setdefault("ways", [{"tool": tool, "active_s": 1}])
    return {"id": id_, "kind": kind, "of": list(of), **keys}


def device(parts: list[dict], joints: list[dict], settings: dict | None = None, **keys) -> dict:
    return {"format": "oddbolt-teardown", "version": 1, "device": {"base": "base", **keys.pop("device", {})},
            "settings": settings or {}, "parts": [{"id": "base"}, *parts], "joints": joints, **keys}


def planner(data: dict) -> Planner:
    return planner_of(exchange.from_json(data))


def planner_of(record: Teardown) -> Planner:
    return Planner(record, KnownTimes(record))


def last(steps: Iterable[list]) -> list:
    """The answer of a search that yields on its way; nothing, if it yields nothing."""
    found: list = []
    for found in steps:  # noqa: B007
        pass
    return found
