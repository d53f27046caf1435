"""What goes along when something is deleted, in words."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from oddbolt.model.things import Teardown
from oddbolt.words.names import in_a_row, name_of
from oddbolt.words.translate import tr

MOST_NAMED = 10


def goes_along_text(teardown: Teardown, parts: Sequence[str], joints: Sequence[str], entries: int, marks: int,
                    asked: Collection[str]) -> str:
    """A line for each sort of thing that goes with what was asked for."""
    lines = []
    for text, ids in ((tr("Parts that go with it: {0}"), parts), (tr("Joints that go with it: {0}"), joints)):
        names = [name_of(teardown, id_) for id_ in ids if id_ not in asked]
        if names:
            lines.append(text.format(in_a_row(names, MOST_NAMED)))
    if entries:
        lines.append(tr("Entries of the log that speak of nothing else: {0}").format(entries))
    if marks:
        lines.append(tr("Marks on photographs: {0}").format(marks))
    lines.append(tr("Undo brings all of it back."))
    return "\n".join(lines)
