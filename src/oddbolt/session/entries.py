"""Entries of the log that move nothing: outcomes, weights, heat, protection put on and taken off, passes."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from oddbolt.knowledge.findings import left_on
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import LogEntry, Pass, Teardown
from oddbolt.rules.replay import as_amended, readings
from oddbolt.session.commands import Command, current_pass, log_entry
from oddbolt.words.wording import name_of

# What came of an act, as it is chosen on the bench: the outcome in the log and, where the log has no word, a finding.
OUTCOMES = {"fine": ("ok", ""), "damaged": ("damaged", ""), "destroyed": ("destroyed", ""),
            "stripped": ("damaged", "stripped"), "lost": ("lost", ""), "failed": ("failed", "")}
AIDS = ("protective film", "foam", "dummy plug", "tape over terminals")


def entry(teardown: Teardown, do: str, t: float, *, thing: str = "", **keys: Any) -> Command:
    """Any entry that moves nothing: inspect, clean, measure, turn, wait, heat, apply, incident, note."""
    what = f" {name_of(teardown, thing)}" if thing else ""
    return Command(label=f"{do}{what}",
                   change=lambda before: log_entry(before, do=do, t=t, thing=thing or None, **keys))


def last_act(teardown: Teardown) -> LogEntry | None:
    """The last release or removal, as it reads now."""
    return next((e for e in reversed(readings(teardown)) if e.do in ("release", "remove")), None)


def outcome_of(reading: LogEntry) -> str:
    return next((word for word, kept in OUTCOMES.items() if kept == (reading.outcome, reading.finding)), "fine")


def set_outcome(teardown: Teardown, entry_id: str, word: str, t: float) -> Command:
    """What came of an act. The entry stays; a new one corrects how it reads."""
    outcome, finding = OUTCOMES[word]
    command = _correction(teardown, entry_id, t, outcome=outcome, finding=finding)
    return replace(command, label=f"{command.label} is {word}")


def set_seconds(teardown: Teardown, entry_id: str, seconds: float | None, t: float) -> Command:
    """The measured time of an act, as a correction of its entry; None where it was not measured after all."""
    command = _correction(teardown, entry_id, t, seconds=seconds)
    return replace(command, label=f"time of {command.label}")


def _correction(teardown: Teardown, entry_id: str, t: float, **keys: Any) -> Command:
    """An entry that amends another: as that one reads now, but for these keys. Its label names the thing."""
    reading = next((e for e in as_amended(teardown) if e.id == entry_id), None)
    if reading is None:
        raise Refusal(entry_id, "there is no such entry")
    kept = {name: getattr(reading, name) for name in ("do", "thing", "things", "way", "act", "tool", "seconds",
                                                      "outcome", "finding", "text")}
    return Command(label=name_of(teardown, reading.thing) if reading.thing else entry_id,
                   change=lambda before: log_entry(before, **{**kept, **keys}, t=t, amends=entry_id))


def aid(teardown: Teardown, what: str, on: bool, t: float, thing: str = "") -> Command:
    """A temporary protection put on a thing, or on the device, or taken off."""
    if not on and what not in protections_on(teardown, thing):
        raise Refusal(what, "it is not on")
    where = f" {name_of(teardown, thing)}" if thing else ""
    return Command(label=f"{what} {'on' if on else 'off'}{where}", change=lambda before: log_entry(
        before, do="aid", t=t, text=what, value="on" if on else "off", thing=thing or None))


def protections_on(teardown: Teardown, thing: str = "") -> list[str]:
    """What is on a thing now; with no thing, what is on the device without saying where."""
    return [what for what, *where in (finding.others for finding in left_on(teardown))
            if (where[0] if where else "") == thing]


def start_pass(teardown: Teardown, started: str, *, by: str = "", place: str = "") -> Command:
    """Another pass over the same device: a later disassembly, recorded as further evidence."""
    number = current_pass(teardown) + 1 if teardown.log or teardown.sessions else 1
    session = Pass(pass_=number, by=by, started=started, place=place)
    return Command(label=f"begin pass {number}",
                   change=lambda before: replace(before, sessions=(*before.sessions, session)))
