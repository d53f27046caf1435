"""What it takes to name a thing of the record, without the words for it.

A name that a person or the catalogue gave stands for itself. A joint without one is called by what it ties and what it
is, a part by its kind, neither by its id; a part that has not come off yet is the next part. `words.names` says these;
labels keep them, so that a command can still be named when the thing it made is gone.
"""

from __future__ import annotations

from typing import Any

from oddbolt.model.things import Joint, Teardown

Called = dict[str, Any]  # JSON: "id", and "name", or "next", or "part" (a kind) or "of" and "kind", perhaps "number"
MARKED = ("assumed", "seen")  # bases of what was met at the bench


def called(teardown: Teardown, id_: str) -> Called:
    """How a part, joint, view or log entry is called; by its id alone where nothing else is known."""
    part, joint = teardown.part.get(id_), teardown.joint.get(id_)
    if part is not None:
        if part.name:
            return {"id": id_, "name": part.name}
        if part.kind:
            place, number = teardown.place_among_unnamed[id_]
            return {"id": id_, "part": part.kind, **({"number": place} if number > 1 else {})}
        return {"id": id_, "next": True} if part.basis == "assumed" else {"id": id_}
    if joint is None or not (joint.name or joint.of):
        return {"id": id_}
    return {"id": id_, "name": joint.name} if joint.name else _by_what_it_ties(teardown, joint)


def _by_what_it_ties(teardown: Teardown, joint: Joint) -> Called:
    found: Called = {"id": joint.id, "of": called(teardown, joint.of[0]), "kind": joint.kind}
    if joint.fastener:
        found["letter"] = joint.fastener
    elif joint.type:
        found["type"] = joint.type
    place, number = teardown.place_among_alike[joint.id]
    if number > 1:
        found["number"] = place
    return found
