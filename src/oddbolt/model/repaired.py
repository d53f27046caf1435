"""What a repair of a document has saved and what was lost."""

from __future__ import annotations

from pathlib import Path

from msgspec import Struct

# The record is whole with all its history; up to a command; whole without the history before it; what can be read.
WHOLE, BY_COMMANDS, BY_ROWS, BY_SCRAPS = "whole", "by-commands", "by-rows", "by-scraps"


class Repaired(Struct, frozen=True):
    """The new document at `path`."""

    path: Path
    how: str
    last_at: str  # when the last act that it holds was done
    lost_commands: int  # acts after that
    lost_rows: tuple[str, ...]  # section and id of entries that could not be kept
    lost_photos: tuple[str, ...]
