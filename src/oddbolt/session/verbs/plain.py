"""What verbs are composed of.

A verb takes a snapshot and what a person means, and gives the label of what was done and the next snapshot. It raises
Refusal, and nothing happens, where it does not apply. Keys, clicks, the menu, the foot switch and the typed line call
the same verbs, through `Session.do`.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from operator import attrgetter
from typing import Any, NamedTuple

from msgspec.structs import replace

from oddbolt.knowledge.evidence import LIFTABLE_JOINTS
from oddbolt.knowledge.settling import settle
from oddbolt.model.label import Label
from oddbolt.model.naming import called
from oddbolt.model.refusal import Refusal
from oddbolt.model.snapshot import ids_of, succeed
from oddbolt.model.things import Joint, LogEntry, Part, Refit, Teardown, View
from oddbolt.rules.replay import current_pass

_ID = attrgetter("id")
MOVES = ("release", "remove", "loosen", "fit", "fasten")  # entries after which what is known of access may change


class Done(NamedTuple):
    """What a verb gives: the label, the next snapshot, and the id of what it made, where it made something."""

    label: Label
    teardown: Teardown
    made: str = ""


def label_of(code: str, teardown: Teardown, thing: str = "", **data: Any) -> Label:
    """A label about a thing, as it is called in a snapshot."""
    return Label(code, {"thing": called(teardown, thing), **data} if thing else data)


def said_too(record: Part | Joint, name: str) -> tuple[str, ...]:
    """What a person gave of a record, with one more key."""
    return tuple(dict.fromkeys((*record.said, name)))


def free_id(teardown: Teardown, stem: str) -> str:
    """An id that nothing in the teardown has: the stem with a number."""
    taken = [ids_of(teardown, section) for section in ("log", "views", "joints", "parts")]
    n = len(teardown.log) + 1 if stem == "e" else 1
    while any(f"{stem}{n}" in ids for ids in taken):
        n += 1
    return f"{stem}{n}"


def change_view(teardown: Teardown, view_id: str, change: Callable[[View], View]) -> Teardown:
    return replace(teardown, views=tuple(change(view) if view.id == view_id else view for view in teardown.views))


def change_joint(teardown: Teardown, joint_id: str, change: Callable[[Joint], Joint]) -> Teardown:
    return replace(teardown, joints=tuple(change(j) if j.id == joint_id else j for j in teardown.joints))


def change_parts(teardown: Teardown, ids: Iterable[str], change: Callable[[Part], Part]) -> Teardown:
    chosen = set(ids)
    return replace(teardown, parts=tuple(change(p) if p.id in chosen else p for p in teardown.parts))


def view_of(teardown: Teardown, view_id: str) -> View:
    if view_id not in teardown.view:
        raise Refusal(view_id, "no-such-view", id=view_id)
    return teardown.view[view_id]


def joint_of(teardown: Teardown, joint_id: str) -> Joint:
    if joint_id not in teardown.joint:
        raise Refusal(joint_id, "no-such-thing", id=joint_id)
    return teardown.joint[joint_id]


def is_carried_by(teardown: Teardown, part: str | None, carrier: str) -> bool:
    """Whether a part lies on another, or on what lies on it; it carries itself."""
    seen: set[str] = set()
    while part is not None and part not in seen:
        if part == carrier:
            return True
        seen.add(part)
        part = teardown.part[part].on if part in teardown.part else None
    return False


def is_named(teardown: Teardown, id_: str) -> bool:
    """Whether anything on record names a part."""
    return (any(id_ in names for joint in teardown.joints
                for names in (joint.of, *joint.behind, *(names for way in joint.ways for names in way.behind)))
            or any(part.on == id_ or any(id_ in names for names in part.behind) for part in teardown.parts)
            or any(id_ in (entry.thing, *entry.things) for entry in teardown.log)
            or any(view.portrait == id_ or any(mark.thing == id_ for mark in view.marks)
                   or any(id_ in footprint.whose for footprint in view.footprints) for view in teardown.views)
            or any(id_ in (entry.thing, entry.on) for entry in teardown.refit)
            or any(one.for_ == id_ or any(id_ in (entry.thing, entry.on) for entry in one.entries)
                   for one in teardown.procedures))


def change_instructions(teardown: Teardown, change: Callable[[Refit], Refit]) -> Teardown:
    """Every entry of putting back changed, of the whole device and of the procedures."""
    return replace(teardown, refit=tuple(map(change, teardown.refit)), procedures=tuple(
        replace(one, entries=tuple(map(change, one.entries))) for one in teardown.procedures))


def log_entry(before: Teardown, **keys: Any) -> Teardown:
    """The teardown with one more log entry in the present pass, and with what it proves of access written down."""
    entry = LogEntry(**{"id": free_id(before, "e"), "pass_": current_pass(before), **keys})
    things = [name for name in (entry.thing, *entry.things) if name is not None]
    for name in things:
        if name not in before.part and name not in before.joint:
            raise Refusal(name, "no-such-thing", id=name)
    after = succeed(replace(before, log=(*before.log, entry)), before)
    if entry.do == "reach" or entry.amends or entry.after:
        return settle(after)
    return settle(after, things, unmet=uncovers(after, entry)) if entry.do in MOVES else after


def uncovers(teardown: Teardown, entry: LogEntry) -> bool:
    """Whether an entry clears something that may have hidden what has not been within reach yet."""
    things = [teardown.joint.get(name) for name in (entry.thing, *entry.things) if name in teardown.joint]
    return entry.do != "release" or any(joint.kind in LIFTABLE_JOINTS for joint in things)
