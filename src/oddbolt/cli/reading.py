"""What all commands share: reading a file, saying one JSON object."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

from oddbolt.model.refusal import Refusal
from oddbolt.store.files import read_teardown
from oddbolt.words.terminal import say


def read(path: Path, reads: Callable[[Path], Any] = read_teardown) -> Any:
    """The teardown of a file; a refusal names the file as well as the place in it."""
    try:
        return reads(path)
    except Refusal as refusal:
        if refusal.path.startswith("$"):
            raise refusal.at(f"{path}: {refusal.path}") from None
        raise


def print_json(value: dict[str, Any]) -> None:
    say(json.dumps(value, ensure_ascii=False, indent=1, allow_nan=False))
