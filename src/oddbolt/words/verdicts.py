"""Verdicts in words: what points rest on, and the convention they are counted by."""

from __future__ import annotations

from oddbolt.model.things import Settings, Teardown
from oddbolt.scoring.evaluate import Ground
from oddbolt.words.figures import steps_text
from oddbolt.words.known import known_text
from oddbolt.words.names import names_of, tool_class_name, tool_name
from oddbolt.words.translate import N_, from_table, tr

GROUNDS = {"unanswered": N_("not answered yet"), "no-part": N_("no part has this role yet"),
           "absent": N_("not in this device"),
           "answer-not-understood": N_("the answer {value} does not fit this criterion"),
           "never-free": N_("cannot be taken off; kept in by {things}")}


def ground_text(teardown: Teardown, ground: Ground) -> str:
    """What points rest on."""
    things = names_of(teardown, ground.things) if ground.things else ""
    if ground.code == "depth":
        return f"{steps_text(ground.value)}, {ground.basis}, {known_text(ground.known)}"
    if ground.code == "fastener":
        return f"{ground.value}: {things}" if things else tr("{0}: nothing to undo").format(ground.value)
    if ground.code == "tool":
        return f"{tool_name(teardown, ground.things[0])}: {tool_class_name(ground.value)}"
    if ground.code == "answer":
        source = f", {ground.things[0]}" if ground.things and ground.things[0] else ""
        return tr("answered {0} ({1})").format(ground.value, f"{ground.basis}{source}")
    return from_table(GROUNDS, ground.code, value=ground.value, things=things)


def convention_text(settings: Settings) -> str:
    """The convention in a sentence; it is part of every result."""
    words = [tr("Fewest steps (EN 45554)"), tr("bare hand counts as a tool") if settings.hand_is_tool
             else tr("bare hand not counted as a tool")]
    if settings.own_step:
        words.append(tr("a step of their own: {0}").format(", ".join(settings.own_step)))
    if settings.each_tool:
        words.append(tr("each further tool at the same time one step more"))
    if settings.tool_groups:
        words.append(tr("tools that count as one: {0}").format(
            "; ".join(", ".join(group) for group in settings.tool_groups)))
    words.append(tr("power isolated first") if settings.isolate_first else tr("power isolated when it comes"))
    words.append(tr("change of tool {0:g} s, turn {1:g} s").format(settings.tool_change_s, settings.turn_s))
    return " · ".join(words)
