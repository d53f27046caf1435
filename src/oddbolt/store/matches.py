"""What a person set right of which things stand for each other in two records: a file of its own beside the first."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from oddbolt.comparing.matching import Corrections
from oddbolt.model.refusal import Refusal
from oddbolt.store.files import read_bytes, write_whole

FORMAT, VERSION = "oddbolt-matches", 1


def matches_path(record: Path) -> Path:
    return record.with_suffix(".matches.json")


def read_matches(record: Path) -> dict[str, Corrections]:
    """By the name of the other record's file; nothing where there is no such file.

    Raises Refusal `bad-matches` where it is none of ours.
    """
    path = matches_path(record)
    if not path.exists():
        return {}
    try:
        data = json.loads(read_bytes(path))
        if data["format"] != FORMAT or data["version"] != VERSION:
            raise ValueError(data["format"])
        return {str(name): Corrections(parts=_pairs(row.get("parts", {})), joints=_pairs(row.get("joints", {})))
                for name, row in data["records"].items()}
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError):
        raise Refusal(str(path), "bad-matches") from None


def _pairs(value: Any) -> dict[str, str | None]:
    if not isinstance(value, dict) or not all(isinstance(one, str | None) for one in value.values()):
        raise ValueError("pairs")
    return dict(value)


def write_matches(record: Path, told: dict[str, Corrections]) -> None:
    """The file whole or not at all; it goes where nothing is left of it."""
    rows = {name: {"parts": dict(one.parts), "joints": dict(one.joints)} for name, one in told.items()
            if one.parts or one.joints}
    path = matches_path(record)
    if not rows:
        path.unlink(missing_ok=True)
        return
    text = json.dumps({"format": FORMAT, "version": VERSION, "records": rows}, ensure_ascii=False, indent=1)
    write_whole(path, text.encode())
