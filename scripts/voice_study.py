"""How well sentences are heard: synthetic voices, rates and noise, with the grammar of the moment.

    python -m scripts.voice_study [--half tuned|held-out] [--number 200] [--snr 20] [--talk 0] [--learned]

`tuned` are the devices and voices with which words and thresholds were chosen, `held-out` the others. Printed: how many
sentences were right, asked about, and wrong without being asked about; then each that was wrong. With `--talk N` also N
sentences of ordinary talk, which are none of the bench's, and how many of them would have been taken for one. With
`--learned` each voice has read the teaching sentences before. Needs espeak-ng and the extra `voice`. Figures:
docs/methods/voice.md.
"""

from __future__ import annotations

import argparse
import functools
import random
import time
from collections import Counter
from collections.abc import Callable, Sequence

import numpy as np
from msgspec import Struct

from oddbolt.catalog.tables import table
from oddbolt.hearing.acoustic import OwnVoice
from oddbolt.hearing.listener import Heard, Listener
from oddbolt.hearing.sounds import amid_noise
from oddbolt.hearing.sphinx import SphinxListener
from oddbolt.hearing.teaching import SphinxTeacher
from oddbolt.session.speaking.lesson import teaching_sentences
from oddbolt.session.speaking.spelling import Knows
from scripts.voice import speech
from scripts.voice.sentences import HELD_OUT_ON, TUNED_ON, Spoken, sentences

NOISES = ("room", "hiss", "hum")
TALK = ("did you see the herons this morning", "the kettle is on if anybody wants tea", "we should be done by friday",
        "i think the ferry was late again", "can you pass me that cloth please", "it has been raining all week",
        "my sister rang about the car", "what time is the meeting tomorrow", "hold on i need my glasses",
        "there were forty geese on the marsh", "she said the invoice never came", "that smells like burnt dust",
        "who left the window open last night", "i will have another look after lunch",
        "the radio says storm from the west", "no idea where he put the ladder", "well that was easier than last time",
        "could somebody answer the phone", "let me write that down somewhere", "good grief look at this thing")


class Tried(Struct, frozen=True):
    """A sentence, by whom and amid what it was said, and what it was taken for."""

    spoken: Spoken
    voice: str
    noise: str
    heard: Heard

    @property
    def is_right(self) -> bool:
        said, meant = self.heard.said, self.spoken.said
        return said is not None and (said.code, said.tokens) == (meant.code, meant.tokens)

    @property
    def result(self) -> str:
        """right; asked: it would ask, or ask to say it again; wrong: another act would have been taken."""
        if not self.heard.is_sure:
            return "asked"
        return "right" if self.is_right else "wrong"


Listeners = Callable[[speech.Voice], Listener]  # who listens to a voice


def anybody(listener: Listener) -> Listeners:
    return lambda voice: listener


def learned(snr_db: float, seed: int = 7) -> Listeners:
    """Each voice is taught when it is first heard, by the sentences that the program has for it, amid the noise of a
    room."""
    own = table("spoken.toml")["pronounced"]

    @functools.cache
    def listener(voice: speech.Voice) -> Listener:
        return SphinxListener(own, taught(voice, snr_db, seed))

    return listener


def taught(voice: speech.Voice, snr_db: float, seed: int) -> OwnVoice | None:
    """What is learned of a voice that reads the teaching sentences."""
    rng, noise_rng = random.Random(seed), np.random.default_rng(seed)
    with SphinxTeacher(table("spoken.toml")["pronounced"]) as teacher:
        for text in teaching_sentences():
            sound = speech.spoken(text, voice, rng.choice(speech.RATES), rng.choice(speech.PITCHES))
            teacher.read(text, amid_noise(sound, snr_db, noise_rng))
        return teacher.learned()


def tried(listeners: Listeners, knows: Knows, half: str, number: int, snr_db: float, seed: int,
          voices: Sequence[speech.Voice] = ()) -> list[Tried]:
    """That many sentences by the six voices of a half, or some of them, at all rates, amid all noises."""
    devices = TUNED_ON if half == "tuned" else HELD_OUT_ON
    voices = voices or (speech.TUNED if half == "tuned" else speech.HELD_OUT)
    rng, noise_rng = random.Random(seed), np.random.default_rng(seed)
    found = []
    for n, device in enumerate(devices):
        own = number // len(devices) + (n < number % len(devices))
        for k, spoken in enumerate(sentences(device, own, seed + n, knows)):
            voice, noise = voices[k % len(voices)], NOISES[k // len(voices) % len(NOISES)]
            sound = speech.spoken(spoken.text, voice, rng.choice(speech.RATES), rng.choice(speech.PITCHES))
            heard = listeners(voice).hear(spoken.grammar, amid_noise(sound, snr_db, noise_rng, noise))
            found.append(Tried(spoken, voice.name, noise, heard))
    return found


def taken_for_one(listeners: Listeners, knows: Knows, number: int, snr_db: float, seed: int) -> list[tuple[str, Heard]]:
    """Ordinary talk, at moments of a job: what of it was heard as a sentence of the bench, surely."""
    rng, noise_rng = random.Random(seed), np.random.default_rng(seed)
    grammars = [one.grammar for one in sentences(HELD_OUT_ON[0], max(1, number // 10), seed, knows)]
    found = []
    for n in range(number):
        text, voice = TALK[n % len(TALK)], speech.HELD_OUT[n % len(speech.HELD_OUT)]
        sound = amid_noise(speech.spoken(text, voice, rng.choice(speech.RATES)), snr_db, noise_rng)
        heard = listeners(voice).hear(rng.choice(grammars), sound)
        if heard.is_sure:
            found.append((text, heard))
    return found


def interval(number: int, of: int) -> tuple[float, float]:
    """95 % of a share by Wilson (J. Am. Stat. Assoc. 22 (1927) 209-212, from memory)."""
    if not of:
        return 0.0, 1.0
    z, share = 1.96, number / of
    middle = (share + z * z / (2 * of)) / (1 + z * z / of)
    half = z / (1 + z * z / of) * (share * (1 - share) / of + z * z / (4 * of * of)) ** 0.5
    return max(0.0, middle - half), min(1.0, middle + half)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.partition("\n")[0])
    parser.add_argument("--half", choices=("tuned", "held-out"), default="held-out")
    parser.add_argument("--number", type=int, default=200)
    parser.add_argument("--snr", type=float, default=20.0)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--talk", type=int, default=0)
    parser.add_argument("--learned", action="store_true")
    options = parser.parse_args()
    listener = SphinxListener(table("spoken.toml")["pronounced"])
    began = time.perf_counter()
    listeners = learned(options.snr) if options.learned else anybody(listener)
    found = tried(listeners, listener.knows, options.half, options.number, options.snr, options.seed)
    took = time.perf_counter() - began
    print(f"{options.half}, {options.snr:g} dB, {len(found)} sentences, {took / len(found):.2f} s each")
    for result in ("right", "asked", "wrong"):
        number = sum(one.result == result for one in found)
        low, high = interval(number, len(found))
        print(f"  {result}: {number} ({100 * number / len(found):.1f} %, "
              f"95 % interval {100 * low:.1f} to {100 * high:.1f})")
    print("  best guess right, whether it would be asked about or not:", sum(one.is_right for one in found))
    for what in ("voice", "noise"):
        by = Counter((getattr(one, what), one.result) for one in found)
        for name in sorted({name for name, _ in by}):
            print(f"  {name}: " + ", ".join(f"{by[name, result]} {result}" for result in ("right", "asked", "wrong")))
    for one in found:
        if one.result == "wrong" or not one.is_right:
            heard, other = (" ".join(said.words) if said is not None else "-" for said in
                            (one.heard.said, one.heard.other))
            print(f"  {one.result} {one.voice} {one.noise} margin {one.heard.margin:.0f} likeness "
                  f"{one.heard.likeness:.1f}: {one.spoken.text} | {heard} | {other}")
    if options.talk:
        talk = taken_for_one(listeners, listener.knows, options.talk, options.snr, options.seed)
        print(f"ordinary talk: {len(talk)} of {options.talk} taken for a sentence")
        for text, heard in talk:
            print(f"  {text} | {' '.join(heard.said.words) if heard.said else ''} | {heard.margin:.0f} "
                  f"{heard.likeness:.1f}")


if __name__ == "__main__":
    main()
