"""Which folders are on the shelf, and the tags that a person gave: in the data folder, never thrown away."""

from __future__ import annotations

import json
from collections.abc import Sequence
from pathlib import Path

from msgspec import Struct, field

from oddbolt.model.folders import data_folder
from oddbolt.model.refusal import Refusal
from oddbolt.store.files import make_room, read_bytes, write_whole


class Chosen(Struct, frozen=True, kw_only=True):
    folders: tuple[str, ...] = ()
    tags: dict[str, tuple[str, ...]] = field(default_factory=dict)  # by the path of the file


def chosen_path() -> Path:
    return data_folder() / "shelf.json"


def read_chosen() -> Chosen:
    """What was chosen; as at first where the file is missing or is none of ours."""
    try:
        data = json.loads(read_bytes(chosen_path()))
        folders = tuple(name for name in data["folders"] if isinstance(name, str) and "\0" not in name)
        tags = {str(path): tuple(word for word in words if isinstance(word, str))
                for path, words in data["tags"].items() if isinstance(words, list)}
    except (Refusal, ValueError, KeyError, TypeError, AttributeError, RecursionError):
        return Chosen()
    return Chosen(folders=folders, tags=tags)


def write_chosen(chosen: Chosen) -> None:
    """Raises Refusal where it cannot be written."""
    path = chosen_path()
    make_room(path)
    tags = {name: list(words) for name, words in chosen.tags.items() if words}
    text = json.dumps({"folders": list(chosen.folders), "tags": tags}, ensure_ascii=False, indent=1)
    write_whole(path, text.encode())


def with_tags(chosen: Chosen, path: str, words: Sequence[str]) -> Chosen:
    """Each tag once, without what surrounds it."""
    kept = tuple(dict.fromkeys(word.strip() for word in words if word.strip()))
    return Chosen(folders=chosen.folders, tags={**chosen.tags, path: kept})
