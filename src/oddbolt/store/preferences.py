"""What a person prefers of the program: text, look, language, where new work lives.

In the configuration folder (XDG); a file that cannot be read, or says what cannot be, is as good as none.
"""

from __future__ import annotations

import json
from typing import Any

from msgspec import Struct

from oddbolt.model.folders import settings_path
from oddbolt.model.refusal import Refusal
from oddbolt.store.files import read_bytes, write_whole

LOOKS = ("system", "light", "dark")
LENGTHS = ("mm", "in")
TEXT_FROM, TEXT_TO = 0.8, 2.0


class Preferences(Struct, frozen=True, kw_only=True):
    text: float = 1.0  # times the usual size
    look: str = "system"
    language: str = ""  # as its catalogue is called; empty: the system's, "en": as it stands in the code
    lengths: str = "mm"  # or "in"
    simulated_bench: bool = False
    folder: str = ""  # for new work; empty: the data folder
    voice: str = ""  # whose voice is listened to; empty: anybody's


def read() -> Preferences:
    try:
        found = json.loads(read_bytes(settings_path()))
    except (Refusal, ValueError, RecursionError):
        return Preferences()
    return Preferences(**{name: value for name, value in found.items() if _fits(name, value)}) \
        if isinstance(found, dict) else Preferences()


def _fits(name: str, value: Any) -> bool:
    if name == "text":
        return type(value) in (int, float) and TEXT_FROM <= value <= TEXT_TO
    if name == "look":
        return value in LOOKS
    if name == "lengths":
        return value in LENGTHS
    if name == "simulated_bench":
        return type(value) is bool
    return name in ("language", "folder", "voice") and type(value) is str and "\0" not in value


def write(preferences: Preferences) -> None:
    """Raises Refusal where they cannot be kept."""
    own = settings_path()
    try:
        own.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise Refusal(str(own.parent), "unwritable", error=error.strerror) from None
    body = {name: getattr(preferences, name) for name in preferences.__struct_fields__}
    write_whole(own, json.dumps(body, ensure_ascii=False, indent=1).encode())
