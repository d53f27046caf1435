"""Ways that somebody told: kept beside the record, and never taken for evidence."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Teardown, ToldWay
from oddbolt.session.verbs.plain import Done, label_of


def add_told(teardown: Teardown, part: str, **keys: Any) -> Done:
    """A way to a part, empty at first. `made` is its id."""
    if part not in teardown.part:
        raise Refusal(part, "no-such-part", id=part)
    taken = {one.id for one in teardown.told}
    id_ = next(f"t{n}" for n in range(1, len(taken) + 2) if f"t{n}" not in taken)
    after = replace(teardown, told=(*teardown.told, ToldWay(id=id_, part=part, **keys)))
    return Done(label_of("tell-way", teardown, part), after, id_)


def change_told(teardown: Teardown, id_: str, **keys: Any) -> Done:
    """Other things, in another order, or who told it and where."""
    told = _told(teardown, id_)
    for thing in keys.get("things", ()):
        if thing not in teardown.part and thing not in teardown.joint:
            raise Refusal(thing, "no-such-thing", id=thing)
    changed = replace(told, **keys)
    after = replace(teardown, told=tuple(changed if one.id == id_ else one for one in teardown.told))
    return Done(label_of("change-told", teardown, told.part), after, id_)


def delete_told(teardown: Teardown, id_: str) -> Done:
    told = _told(teardown, id_)
    after = replace(teardown, told=tuple(one for one in teardown.told if one.id != id_))
    return Done(label_of("delete-told", teardown, told.part), after)


def _told(teardown: Teardown, id_: str) -> ToldWay:
    found = next((one for one in teardown.told if one.id == id_), None)
    if found is None:
        raise Refusal(id_, "no-such-thing", id=id_)
    return found
