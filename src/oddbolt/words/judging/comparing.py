"""Devices beside each other, in words: depth and time by role, and the causes of a difference."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from oddbolt.comparing.causes import BEHIND, EXTRA, ONE, TOOL, Cause, Causes
from oddbolt.comparing.devices import Reached, Row
from oddbolt.model.things import Teardown
from oddbolt.words.figures import interval_text, signed_text, steps_text
from oddbolt.words.names import name_apart, role_name
from oddbolt.words.translate import N_, from_table, tr

CAUSES = {EXTRA: N_("{device} alone has {thing}"), TOOL: N_("{thing} with another tool"),
          BEHIND: N_("{thing} lies behind something else")}


def comparison_lines(records: Sequence[Teardown], names: Sequence[str], rows: Sequence[Row]) -> Iterator[str]:
    for row in rows:
        yield tr("{0}: {1}").format(role_name(row.role), "; ".join(
            tr("{0} {1}").format(name, reached_text(one)) for name, one in zip(names, row.reached)))
        for n, found in enumerate(row.why, start=1):
            if found is not None and found.difference:
                yield tr("  {0} against {1}: {2}").format(names[n], names[0], causes_text(
                    found, (records[0], records[n]), (names[0], names[n])))


def reached_text(one: Reached | None) -> str:
    if one is None:
        return tr("has none")
    if one.steps is None or one.time is None:
        return tr("cannot be taken off")
    time = interval_text(one.time.seconds, one.time.low_s, one.time.high_s)
    return tr("{0}, {1}").format(steps_text(one.steps), time)


def causes_text(found: Causes, records: tuple[Teardown, Teardown], names: tuple[str, str]) -> str:
    """"-2: A alone has Cover seam -1; B alone has Cover screws +1; -2 by nothing that was found"."""
    parts = [
        tr("{0} {1}").format(cause_text(cause, records, names), signed_text(cause.steps)) for cause in found.causes
    ]
    if found.remainder:
        parts.append(tr("{0} by several things together").format(signed_text(found.remainder)))
    return tr("{0} steps: {1}").format(signed_text(found.difference), "; ".join(parts))


def cause_text(cause: Cause, records: tuple[Teardown, Teardown], names: tuple[str, str]) -> str:
    place = 0 if cause.side == ONE else 1
    return from_table(CAUSES, cause.what, device=names[place], thing=name_apart(records[place], cause.thing))
