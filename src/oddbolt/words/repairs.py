"""What a repair has saved and what was lost, in words."""

from __future__ import annotations

from oddbolt.model.repaired import BY_COMMANDS, BY_ROWS, BY_SCRAPS, WHOLE, Repaired
from oddbolt.words.names import in_a_row
from oddbolt.words.translate import N_, from_table, tr

HOW = {WHOLE: N_("The record is whole, with all that undo can take back"),
       BY_COMMANDS: N_("The record was built again from its acts"),
       BY_ROWS: N_("The record is whole; what led to it cannot be undone any more"),
       BY_SCRAPS: N_("Only single entries could be read; look through everything before you rely on it")}
MOST_NAMED = 12


def repaired_lines(done: Repaired) -> list[str]:
    """The new document, how it was made, and everything that is not in it."""
    lines = [tr("New document: {0}").format(done.path), f"{from_table(HOW, done.how)}."]
    if done.lost_commands:
        lines.append(tr("Acts lost: {0}, all after {1}").format(done.lost_commands, done.last_at))
    for text, lost in ((tr("Entries lost: {0}"), done.lost_rows), (tr("Photographs lost: {0}"), done.lost_photos)):
        if lost:
            lines.append(text.format(in_a_row(lost, MOST_NAMED)))
    return lines
