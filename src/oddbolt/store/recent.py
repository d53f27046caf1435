"""Which documents were open last, and which document an exchange file was taken into. In the state folder, of this
machine only; what is not there any more is passed over, and a file that cannot be read is as good as none."""

from __future__ import annotations

import json
from contextlib import suppress
from pathlib import Path

from oddbolt.model.folders import state_folder
from oddbolt.model.refusal import Refusal
from oddbolt.store.files import read_bytes, write_whole

MOST = 10


def _path() -> Path:
    return state_folder() / "recent.json"


def _read() -> dict[str, object]:
    try:
        found = json.loads(read_bytes(_path()))
    except (Refusal, ValueError, RecursionError):
        return {}
    return found if isinstance(found, dict) else {}


def _write(**keys: object) -> None:
    with suppress(Refusal, OSError):  # a state folder that cannot be written to must not keep anyone from working
        _path().parent.mkdir(parents=True, exist_ok=True)
        write_whole(_path(), json.dumps({**_read(), **keys}, ensure_ascii=False).encode())


def recent() -> list[Path]:
    """Documents that are still there, the last one first."""
    names = _read().get("documents")
    if not isinstance(names, list):
        return []
    paths = [Path(name) for name in names if isinstance(name, str) and "\0" not in name]
    return [path for path in paths if path.is_file()][:MOST]


def was_opened(path: Path) -> None:
    """Remember a document as the last one that was open."""
    own = str(path.resolve())
    names = _read().get("documents")
    others = [name for name in names if isinstance(name, str) and name != own] if isinstance(names, list) else []
    _write(documents=[own, *others][:MOST])


def taken_into(source: Path) -> Path | None:
    """The document that an exchange file was taken into, where it is still there."""
    names = _read().get("imports")
    name = names.get(str(source.resolve())) if isinstance(names, dict) else None
    path = Path(name) if isinstance(name, str) and "\0" not in name else None
    return path if path is not None and path.is_file() else None


def was_taken(source: Path, into: Path) -> None:
    names = _read().get("imports")
    kept = dict(list(names.items())[-50:]) if isinstance(names, dict) else {}
    _write(imports={**kept, str(source.resolve()): str(into.resolve())})
