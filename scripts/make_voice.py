"""Makes the sentences that ship as sound: the bench radio taken apart by voice, spoken by espeak-ng.

    python -m scripts.make_voice

Writes src/oddbolt/demo/bittern.voice: a WAV file a sentence, and sentences.json. The test of a whole teardown by voice
speaks the same list (scripts/voice/bittern.py).
"""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np

from oddbolt.hearing.sounds import amid_noise, write_wav
from scripts.voice import speech
from scripts.voice.bittern import SENTENCES

FOLDER = Path(__file__).resolve().parents[1] / "src" / "oddbolt" / "demo" / "bittern.voice"
SNR_DB = 30.0
RATE = 150


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    for old in FOLDER.glob("*.wav"):
        old.unlink()
    rng, rows = np.random.default_rng(3), []
    for n, text in enumerate(dict.fromkeys(SENTENCES), start=1):
        sound = amid_noise(speech.spoken(text, speech.TUNED[0], RATE), SNR_DB, rng, around_s=0.15)
        name = f"{n:03}.wav"
        (FOLDER / name).write_bytes(write_wav(sound))
        rows.append({"file": name, "text": text})
    (FOLDER / "sentences.json").write_text(json.dumps(rows, indent=1) + "\n", "utf-8")
    print(f"{len(rows)} sentences, {sum(one.stat().st_size for one in FOLDER.glob('*.wav')) / 1e6:.1f} MB")


if __name__ == "__main__":
    main()
