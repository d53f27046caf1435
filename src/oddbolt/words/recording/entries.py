"""Entries of the log, in words."""

from __future__ import annotations

from oddbolt.model.things import LogEntry, Teardown
from oddbolt.words.figures import clock_text, duration_text
from oddbolt.words.names import fixing_text, name_of, outcome_name
from oddbolt.words.recording.labels import aid_name, entry_name
from oddbolt.words.translate import tr

WORKED_ON = ("release", "remove")


def entry_text(teardown: Teardown, entry: LogEntry) -> str:
    """An entry in a line."""
    name = name_of(teardown, entry.thing) if entry.thing else ""
    joint = teardown.joint.get(entry.thing or "")
    if joint is not None and joint.kind == "screw":
        name = f"{fixing_text(teardown, joint)}, {name}"
    words = [clock_text(entry.t or 0), entry_name(entry.do), name]
    if entry.do == "reach":
        words.append(tr("{0} things").format(len(entry.things)))
    if entry.seconds is not None:
        words.append(f"· {duration_text(entry.seconds)}")
    if entry.outcome != "ok":
        words.append(f"· {outcome_name(entry.outcome)}")
    if entry.text and entry.do not in WORKED_ON:
        text = aid_name(entry.text) if entry.do == "aid" else entry.text
        words.append(f"· {text}" if name else text)
    if entry.sound:
        words.append(tr("· spoken") if entry.text else tr("spoken, not typed yet"))
    if entry.amends:
        before = next((one.t for one in teardown.log if one.id == entry.amends), None)
        words.append(tr("· corrects {0}").format(clock_text(before or 0)))
    return "  ".join(word for word in words if word)
