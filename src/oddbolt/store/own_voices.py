"""Voices that were learned: a file each in the data folder. Nothing of the sound is kept, only how a voice lies beside
the model of the recogniser.
"""

from __future__ import annotations

import json

import numpy as np

from oddbolt.hearing.acoustic import EACH, STREAMS, WIDE, OwnVoice
from oddbolt.hearing.pronouncing import WAYS
from oddbolt.model.refusal import Refusal
from oddbolt.store.by_name import names_in, path_of
from oddbolt.store.files import make_room, read_bytes, write_whole

FORMAT, VERSION = "oddbolt-voice", 1
FOLDER = "voices"
MODEL = "pocketsphinx en-us"  # what the numbers lie beside
FARTHEST = 1e3  # of a number: what lies beyond is no voice


def known_voices() -> list[str]:
    return names_in(FOLDER)


def read_voice(name: str) -> OwnVoice:
    """Raises Refusal `bad-voice` where there is no such file, or it is none of ours."""
    path = path_of(FOLDER, name)
    try:
        data = json.loads(read_bytes(path))
        if (data["format"], data["version"], data["model"]) != (FORMAT, VERSION, MODEL):
            raise ValueError(data["format"])
        return OwnVoice({str(phone): _numbers(rows) for phone, rows in data["offsets"].items()},
                        tuple(way for way in WAYS if way in data["ways"]))
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError):
        raise Refusal(str(path), "bad-voice") from None


def _numbers(rows: object) -> np.ndarray:
    found = np.array(rows, float)
    if found.shape != (STREAMS, EACH, WIDE) or not np.all(np.abs(found) < FARTHEST):
        raise ValueError(found.shape)
    return found


def write_voice(name: str, voice: OwnVoice) -> None:
    """Raises Refusal."""
    path = path_of(FOLDER, name)
    make_room(path)
    write_whole(path, json.dumps({
        "format": FORMAT, "version": VERSION, "model": MODEL, "ways": list(voice.ways),
        "offsets": {phone: offset.round(3).tolist() for phone, offset in sorted(voice.offsets.items())}}).encode())


def forget_voice(name: str) -> None:
    """Raises Refusal where the file cannot be deleted."""
    path = path_of(FOLDER, name)
    try:
        path.unlink(missing_ok=True)
    except OSError as error:
        raise Refusal(str(path), "unwritable", error=error.strerror) from None
