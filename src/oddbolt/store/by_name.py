"""Files that are called by the name of a person, in a folder of the data folder."""

from __future__ import annotations

from pathlib import Path

from oddbolt.model.folders import data_folder
from oddbolt.model.refusal import Refusal

LONGEST = 60  # characters of a name


def path_of(folder: str, name: str) -> Path:
    """Raises Refusal where the name cannot be one of a file."""
    plain = name.strip()
    if not plain or len(plain) > LONGEST or "/" in plain or "\0" in plain or plain.startswith("."):
        raise Refusal("name", "no-file-name", name=plain[:80])
    return data_folder() / folder / f"{plain}.json"


def names_in(folder: str) -> list[str]:
    place = data_folder() / folder
    return sorted(path.stem for path in place.glob("*.json")) if place.is_dir() else []
