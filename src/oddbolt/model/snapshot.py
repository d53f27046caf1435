"""What follows from one snapshot alone is found once and kept with it; what did not change is handed on to the next."""

from __future__ import annotations

import functools
from collections.abc import Callable
from operator import is_
from typing import Any, TypeVar

from oddbolt.model.things import Teardown

Result = TypeVar("Result")
# Name under which a result is kept -> the sections it follows from; the look-ups of a snapshot are kept like this too.
_FOLLOWS_FROM: dict[str, tuple[str, ...]] = {
    "part": ("parts",), "joint": ("joints",), "fastener": ("fasteners",), "view": ("views",),
    "place_among_alike": ("joints",)}
Renewed = Callable[[Teardown, Any, Teardown], Any]


def _places_if_alike(after: Teardown, places: Any, before: Teardown) -> Any:
    """As a rule joints changed in what they lie behind, not in what they are."""
    if len(after.joints) == len(before.joints) and all(
            new is old or (new.id == old.id and new.alike == old.alike)
            for new, old in zip(after.joints, before.joints)):
        return places
    return None


_RENEWED: dict[str, Renewed] = {"place_among_alike": _places_if_alike}


def of_snapshot(*sections: str, renewed: Renewed | None = None) -> \
        Callable[[Callable[[Teardown], Result]], Callable[[Teardown], Result]]:
    """Keep the result of a pure function of a snapshot in the snapshot. It follows from these sections alone.

    `renewed` makes the result of the next snapshot from this one (next snapshot, result, this snapshot), or gives None
    where that costs no less than to begin again when somebody asks. Callers must not change what they are given.
    """

    def decorate(function: Callable[[Teardown], Result]) -> Callable[[Teardown], Result]:
        name = f"_{function.__module__}.{function.__qualname__}.{'.'.join(sections)}"
        _FOLLOWS_FROM[name] = sections
        if renewed is not None:
            _RENEWED[name] = renewed

        @functools.wraps(function)
        def kept(teardown: Teardown) -> Result:
            found = teardown.__dict__
            if name not in found:
                found[name] = function(teardown)
            return found[name]

        return kept

    return decorate


def succeed(after: Teardown, before: Teardown) -> Teardown:
    """Hand on to the next snapshot what follows from sections that are the same objects in both."""
    same: dict[str, bool] = {}
    for name, sections in _FOLLOWS_FROM.items():
        if name in before.__dict__ and name not in after.__dict__:
            for section in sections:
                if section not in same:
                    same[section] = getattr(after, section) is getattr(before, section)
            if all(same[section] for section in sections):
                after.__dict__[name] = before.__dict__[name]
            elif name in _RENEWED:
                made = _RENEWED[name](after, before.__dict__[name], before)
                if made is not None:
                    after.__dict__[name] = made
    return after


_compared: tuple[tuple[Any, ...], tuple[Any, ...], bool] = (), (), True


def is_added_to(records: tuple[Any, ...], before: tuple[Any, ...]) -> bool:
    """Whether the records are those of before, the same objects, with others after them."""
    global _compared
    now, was, told = _compared  # the same two are asked about several times in an act
    if now is not records or was is not before:
        told = len(records) >= len(before) and all(map(is_, before, records))
        _compared = records, before, told
    return told


def _ids_of(section: str) -> Callable[[Teardown], frozenset[str]]:
    def grown(after: Teardown, ids: frozenset[str], before: Teardown) -> frozenset[str] | None:
        now, was = getattr(after, section), getattr(before, section)
        return ids.union(record.id for record in now[len(was):]) if is_added_to(now, was) else None

    @of_snapshot(section, renewed=grown)
    def ids(teardown: Teardown) -> frozenset[str]:
        return frozenset(record.id for record in getattr(teardown, section))

    return ids


SECTIONS_WITH_IDS = ("parts", "joints", "tools", "fasteners", "log", "views", "procedures")
_IDS = {section: _ids_of(section) for section in SECTIONS_WITH_IDS}


def ids_of(teardown: Teardown, section: str) -> frozenset[str]:
    """The ids of a section; fewer than its records where one stands twice."""
    return _IDS[section](teardown)
