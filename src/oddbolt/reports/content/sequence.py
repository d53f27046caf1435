"""A counted sequence as a table: one row an operation."""

from __future__ import annotations

from oddbolt.model.things import Teardown
from oddbolt.reports.content.tree import Table
from oddbolt.rules.counting import Count
from oddbolt.rules.structure import Structure
from oddbolt.words.acts import operation_text

COLUMNS = ("step", "start_s", "active_s", "active_low_s", "active_high_s", "time_known", "wait_s", "tool", "operation",
           "live")


def sequence_table(teardown: Teardown, structure: Structure, counted: Count) -> Table:
    """Times in seconds from the start."""
    return Table(COLUMNS, tuple(
        (timed.step, timed.start_ms / 1000, timed.kind.active_ms / 1000, round(timed.known.low_s, 1),
         round(timed.known.high_s, 1), timed.known.basis, timed.kind.wait_ms / 1000, timed.tool,
         operation_text(teardown, structure, timed.operation), timed.live) for timed in counted.timed))
