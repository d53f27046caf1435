"""Entries of the log that move nothing: notes, reach, outcomes, heat, protection put on and taken off, passes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from msgspec.structs import replace

from oddbolt.knowledge.checks.findings import left_on
from oddbolt.model.label import Label
from oddbolt.model.places import Spot
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import LogEntry, Pass, Teardown
from oddbolt.rules.replay import as_amended, current_pass, readings
from oddbolt.session.verbs.plain import Done, label_of, log_entry

# What came of an act, as it is chosen on the bench: the outcome in the log and, where the log has no word, a finding.
OUTCOMES = {"fine": ("ok", ""), "damaged": ("damaged", ""), "destroyed": ("destroyed", ""),
            "stripped": ("damaged", "stripped"), "lost": ("lost", ""), "failed": ("failed", "")}
AIDS = ("protective film", "foam", "dummy plug", "tape over terminals")


def entry(teardown: Teardown, do: str, t: float, *, thing: str = "", **keys: Any) -> Done:
    """Any entry that moves nothing: inspect, clean, measure, turn, wait, heat, apply, incident."""
    label = label_of("entry-thing", teardown, thing, do=do) if thing else Label("entry", {"do": do})
    return Done(label, log_entry(teardown, do=do, t=t, thing=thing or None, **keys))


def note(teardown: Teardown, text: str, t: float) -> Done:
    return Done(Label("note"), log_entry(teardown, do="note", text=text, t=t))


def reach(teardown: Teardown, things: Sequence[str], t: float, among: Sequence[str] | None = None,
          area: tuple[str, Sequence[Spot]] | None = None) -> Done:
    """Log what could be undone at this moment; `among` is all that was looked at, so that what was on record and not
    within reach is told from what was not on record yet. `area`, a view and corners: what is marked later in there
    could be undone too."""
    value: dict[str, Any] = {} if among is None else {"among": list(among)}
    if area is not None:
        value |= {"view": area[0], "outline": [[round(x, 1), round(y, 1)] for x, y in area[1]]}
    label = Label("reach", {"count": len(things)}) if things or area is None else Label("reach-area")
    return Done(label, log_entry(teardown, do="reach", things=tuple(things), t=t, value=value or None))


def last_act(teardown: Teardown) -> LogEntry | None:
    """The last release or removal, as it reads now."""
    return next((e for e in reversed(readings(teardown)) if e.do in ("release", "remove")), None)


def outcome_of(reading: LogEntry) -> str:
    return next((word for word, kept in OUTCOMES.items() if kept == (reading.outcome, reading.finding)), "fine")


def set_outcome(teardown: Teardown, entry_id: str, word: str, t: float) -> Done:
    """What came of an act. The entry stays; a new one corrects how it reads."""
    outcome, finding = OUTCOMES[word]
    after, thing = corrected(teardown, entry_id, t, outcome=outcome, finding=finding)
    return Done(label_of("outcome", teardown, thing, outcome=word), after)


def set_seconds(teardown: Teardown, entry_id: str, seconds: float | None, t: float) -> Done:
    """The measured time of an act, as a correction of its entry; None where it was not measured after all."""
    after, thing = corrected(teardown, entry_id, t, seconds=seconds)
    return Done(label_of("seconds", teardown, thing), after)


def corrected(teardown: Teardown, entry_id: str, t: float, **keys: Any) -> tuple[Teardown, str]:
    """With an entry that amends another: as that one reads now, but for these keys. Also the thing it is about."""
    reading = next((e for e in as_amended(teardown) if e.id == entry_id), None)
    if reading is None:
        raise Refusal(entry_id, "no-such-entry")
    kept = {name: getattr(reading, name) for name in ("do", "thing", "things", "way", "act", "tool", "seconds",
                                                      "outcome", "finding", "text", "sound")}
    return log_entry(teardown, **{**kept, **keys}, t=t, amends=entry_id), reading.thing or entry_id


def aid(teardown: Teardown, what: str, on: bool, t: float, thing: str = "") -> Done:
    """A temporary protection put on a thing, or on the device, or taken off."""
    if not on and what not in protections_on(teardown, thing):
        raise Refusal(what, "not-on")
    code = ("aid-on" if on else "aid-off") + ("-thing" if thing else "")
    after = log_entry(teardown, do="aid", t=t, text=what, value="on" if on else "off", thing=thing or None)
    return Done(label_of(code, teardown, thing, what=what), after)


def protections_on(teardown: Teardown, thing: str = "") -> list[str]:
    """What is on a thing now; with no thing, what is on the device without saying where."""
    return [what for what, *where in (finding.others for finding in left_on(teardown))
            if (where[0] if where else "") == thing]


def start_pass(teardown: Teardown, started: str, *, by: str = "", place: str = "") -> Done:
    """Another pass over the same device: a later disassembly, recorded as further evidence."""
    number = current_pass(teardown) + 1 if teardown.log or teardown.sessions else 1
    one = Pass(pass_=number, by=by, started=started, place=place)
    return Done(Label("begin-pass", {"number": number}), replace(teardown, sessions=(*teardown.sessions, one)))
