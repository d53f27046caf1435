"""Sentences that ship as sound, for the simulated microphone: the bench radio taken apart by voice. Made by
scripts/make_voice.py.
"""

from __future__ import annotations

import json
from importlib import resources

from msgspec import Struct


class Sentence(Struct, frozen=True):
    text: str
    file: str

    def sound(self) -> bytes:
        """A WAV file."""
        return resources.files("oddbolt").joinpath("demo", "bittern.voice", self.file).read_bytes()


def shipped_sentences() -> list[Sentence]:
    """In the order of the work."""
    body = resources.files("oddbolt").joinpath("demo", "bittern.voice", "sentences.json").read_text("utf-8")
    return [Sentence(row["text"], row["file"]) for row in json.loads(body)]
