"""Notes that were spoken: kept as sound, typed later."""

from __future__ import annotations

from oddbolt.model.label import Label
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import LogEntry, Teardown
from oddbolt.rules.replay import as_amended
from oddbolt.session.verbs.entries import corrected
from oddbolt.session.verbs.plain import Done, log_entry


def spoken_note(teardown: Teardown, sound: str, t: float, thing: str = "") -> Done:
    """A note that was said, not typed yet: the name of its sound file."""
    return Done(Label("spoken-note"), log_entry(teardown, do="note", sound=sound, t=t, thing=thing or None))


def type_note(teardown: Teardown, entry_id: str, text: str, t: float) -> Done:
    """What was said, typed. The sound stays with the note. Raises Refusal where nothing is typed."""
    if not text.strip():
        raise Refusal(entry_id, "empty-note")
    after, _ = corrected(teardown, entry_id, t, text=text.strip())
    return Done(Label("note"), after)


def untyped(teardown: Teardown) -> list[LogEntry]:
    """Spoken notes that nobody has typed, in order, as they read now."""
    return [entry for entry in as_amended(teardown) if entry.do == "note" and entry.sound and not entry.text]
