"""Texts for a terminal: names from files may hold what a terminal would take for orders."""

from __future__ import annotations

import sys
from typing import TextIO

# Control characters of ASCII and ISO 6429 but tab and new line, told as a program would write them.
_TOLD = {code: f"\\x{code:02x}" for code in (*range(0x20), *range(0x7F, 0xA0)) if code not in (0x09, 0x0A)}


def printable(text: str) -> str:
    """The text with control characters told instead of sent."""
    return text.translate(_TOLD)


def say(text: str, file: TextIO | None = None) -> None:
    """A line on standard output, or where else."""
    print(printable(text), file=file or sys.stdout)
