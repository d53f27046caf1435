"""The log set right: entries that were not done, were done otherwise, or were forgotten.

What was said stays in the file. A correction is an entry of its own, made when it was made; the reading follows it.
"""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from oddbolt.catalog.defaults import ways_of
from oddbolt.knowledge.settling import settle
from oddbolt.model.label import Label
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import LogEntry, Teardown
from oddbolt.rules.replay import NOT_DONE, as_amended
from oddbolt.session.verbs.plain import Done, joint_of, label_of, log_entry

WITH_NOT_DONE = 2  # version of the exchange file
READ = ("do", "thing", "things", "way", "act", "tool", "seconds", "outcome", "finding", "quantity", "value", "unit",
        "text")


def entry_of(teardown: Teardown, entry_id: str) -> LogEntry:
    """An entry as it was made; no correction of one."""
    found = next((entry for entry in teardown.log if entry.id == entry_id and entry.amends is None), None)
    if found is None:
        raise Refusal(entry_id, "no-such-entry")
    return found


def reading_of(teardown: Teardown, entry_id: str) -> LogEntry | None:
    """An entry as it reads now; None where it was struck."""
    entry_of(teardown, entry_id)
    return next((entry for entry in as_amended(teardown) if entry.id == entry_id), None)


def _amended(teardown: Teardown, entry: LogEntry, t: float, **keys: Any) -> Teardown:
    kept = {name: getattr(entry, name) for name in READ}
    return log_entry(teardown, **{**kept, **keys}, t=t, amends=entry.id)


def _label(code: str, teardown: Teardown, entry: LogEntry, **data: Any) -> Label:
    if entry.thing:
        return label_of(f"{code}-thing", teardown, entry.thing, do=entry.do, **data)
    return Label(code, {"do": entry.do, **data})


def strike(teardown: Teardown, entry_id: str, t: float) -> Done:
    """It was not done after all: not lifted, not released. The entry stays, struck out."""
    reading = reading_of(teardown, entry_id)
    if reading is None:
        raise Refusal(entry_id, "struck-already")
    after = _amended(teardown, reading, t, outcome=NOT_DONE)
    # A reader of version 1 would refuse the word.
    return Done(_label("strike", teardown, reading), replace(after, version=max(after.version, WITH_NOT_DONE)))


def restore(teardown: Teardown, entry_id: str, t: float) -> Done:
    """It was done, as it had been entered."""
    if reading_of(teardown, entry_id) is not None:
        raise Refusal(entry_id, "not-struck")
    entry = entry_of(teardown, entry_id)
    return Done(_label("restore", teardown, entry), _amended(teardown, entry, t))


def reword(teardown: Teardown, entry_id: str, text: str, t: float) -> Done:
    """Another text of a note, a finding or an incident."""
    reading = reading_of(teardown, entry_id)
    if reading is None:
        raise Refusal(entry_id, "struck-already")
    return Done(_label("reword", teardown, reading), _amended(teardown, reading, t, text=text))


def by_another_way(teardown: Teardown, entry_id: str, way: int, t: float) -> Done:
    """It was released another way than was entered."""
    reading = reading_of(teardown, entry_id)
    if reading is None or reading.do != "release" or reading.thing is None:
        raise Refusal(entry_id, "no-release")
    ways = ways_of(teardown, joint_of(teardown, reading.thing))
    if not 0 <= way < len(ways):
        raise Refusal(entry_id, "needs-the-acts")
    return Done(_label("other-way", teardown, reading),
                _amended(teardown, reading, t, way=way, act=None, tool=ways[way].acts[-1].tool))


def insert(teardown: Teardown, after_id: str, do: str, *, thing: str = "", way: int = 0, text: str = "") -> Done:
    """A forgotten act or note, behind an entry; its time is that of the entry, for nobody looked at the clock."""
    place = next((entry for entry in teardown.log if entry.id == after_id), None)
    if place is None:
        raise Refusal(after_id, "no-such-entry")
    while place.amends is not None:  # behind a correction means behind what it corrects
        place = next(entry for entry in teardown.log if entry.id == place.amends)
    keys: dict[str, Any] = {"do": do, "thing": thing or None, "text": text}
    if do == "release":
        ways = ways_of(teardown, joint_of(teardown, thing))
        if not 0 <= way < len(ways):
            raise Refusal(thing, "needs-the-acts")
        keys |= {"way": way, "tool": ways[way].acts[-1].tool}
    elif do == "remove":
        if thing not in teardown.part or thing == teardown.device.base:
            raise Refusal(thing, "no-part", id=thing)
        keys |= {"tool": teardown.part[thing].lift[-1].tool}
    after = log_entry(teardown, **keys, t=place.t, pass_=place.pass_, after=place.id)
    return Done(_label("insert", teardown, after.log[-1]), after, after.log[-1].id)


def fit_ways(teardown: Teardown, joint_id: str, t: float) -> Teardown:
    """Releases of a joint whose ways have changed, read as its first way where theirs is gone."""
    ways, after = ways_of(teardown, teardown.joint[joint_id]), teardown
    for reading in as_amended(teardown):
        if reading.do != "release" or joint_id not in (reading.thing, *reading.things):
            continue
        way, act = reading.way or 0, reading.act or 0
        if way >= len(ways) or act > len(ways[way].acts):
            after = _amended(after, reading, t, way=None, act=None)
    return settle(after, (joint_id,))
