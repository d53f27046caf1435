"""Photographs that did not come along, in words."""

from __future__ import annotations

from collections.abc import Iterable

from oddbolt.words.names import in_a_row
from oddbolt.words.translate import N_, from_table

WHY = {"missing": N_("not there: {names}"), "no-picture": N_("no photograph by its content: {names}"),
       "outside": N_("outside of its folder, or hidden: {names}"), "unreadable": N_("cannot be read: {names}"),
       "spoken": N_("notes spoken by the analyst: {names}")}
MOST_NAMED = 8


def left_out_lines(left_out: Iterable[tuple[str, str]]) -> list[str]:
    """A line for each reason; pairs of a name and why."""
    by_reason: dict[str, list[str]] = {}
    for name, why in left_out:
        by_reason.setdefault(why, []).append(name)
    lines = []
    for why, names in by_reason.items():
        lines.append(from_table(WHY, why, names=in_a_row(names, MOST_NAMED)))
    return lines
