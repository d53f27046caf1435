"""Sentences spoken by espeak-ng (GPL, a program of the system; nothing of it is shipped but the sound it makes)."""

from __future__ import annotations

import functools
import shutil
import subprocess

import numpy as np
from msgspec import Struct

from oddbolt.hearing.sounds import read_wav


class Voice(Struct, frozen=True):
    """An accent with a variant of the voice, as espeak-ng names them."""

    accent: str
    variant: str = ""

    @property
    def name(self) -> str:
        return f"{self.accent}+{self.variant}" if self.variant else self.accent


# With these words and thresholds were tuned; the others were heard only when all was settled.
TUNED = (Voice("en-us"), Voice("en-us", "f3"), Voice("en-gb-x-rp"), Voice("en-gb", "f4"), Voice("en-gb-scotland", "m2"),
         Voice("en-029", "m5"))
HELD_OUT = (Voice("en-us", "m4"), Voice("en-us", "f2"), Voice("en-gb-x-rp", "m1"), Voice("en-gb-x-gbcwmd", "f5"),
            Voice("en-gb-scotland", "f1"), Voice("en-029", "m3"))
RATES = (130, 150, 175)  # words a minute
PITCHES = (40, 50, 60)


def is_there() -> bool:
    return shutil.which("espeak-ng") is not None


@functools.lru_cache(maxsize=512)
def spoken(text: str, voice: Voice, rate: int = 150, pitch: int = 50) -> np.ndarray:
    """int16 at 16 kHz, shape (n,). Raises OSError or CalledProcessError where espeak-ng is not there."""
    made = subprocess.run(["espeak-ng", "-v", voice.name, "-s", str(rate), "-p", str(pitch), "--stdout", text],
                          capture_output=True, check=True).stdout
    place = made.index(b"data")
    size = len(made) - place - 8
    # It does not know the length when it begins to write, and says a wrong one.
    return read_wav(made[:4] + (len(made) - 8).to_bytes(4, "little") + made[8:place + 4]
                    + size.to_bytes(4, "little") + made[place + 8:])
