"""What is really heard: sentences by synthetic voices that words and thresholds were not tuned with, of devices that
they were not tuned on, at several rates, amid noise 20 dB below, with the grammar of the moment. A slice in every run;
with ./run-tests --long the 200 of docs/methods/voice.md.

The speech is made by espeak-ng, a general program of the system; it stands outside of the project.
"""

from __future__ import annotations

import numpy as np
import pytest

from oddbolt.hearing.grammar import Grammar, Pattern, Slot
from oddbolt.hearing.listener import RATE_HZ

pytest.importorskip("pocketsphinx", reason="the extra `voice` is not installed")

from scripts.voice import speech  # noqa: E402
from scripts.voice_study import taken_for_one, tried  # noqa: E402

from oddbolt.catalog.tables import table  # noqa: E402
from oddbolt.hearing.apart import ListenerApart  # noqa: E402
from oddbolt.hearing.sounds import amid_noise  # noqa: E402
from oddbolt.hearing.sphinx import SphinxListener  # noqa: E402

pytestmark = pytest.mark.skipif(not speech.is_there(), reason="espeak-ng is not installed")
SLICE, ALL = 30, 200


@pytest.fixture(scope="module")
def listener():
    return SphinxListener(table("spoken.toml")["pronounced"])


def test_held_out_sentences_are_right_or_asked_about(listener, long_run, capsys):
    number = ALL if long_run else SLICE
    found = tried(listener, "held-out", number, 20.0, seed=1)
    results = [one.result for one in found]
    with capsys.disabled():
        print(f"\n{number} held-out sentences: {results.count('right')} right, {results.count('asked')} asked, "
              f"{results.count('wrong')} wrong")
    assert len({one.voice for one in found}) == 6 and len({one.noise for one in found}) >= 2
    # The aims, 0.5 % wrong and 15 % asked, are not reached with all of these voices: docs/methods/voice.md.
    assert results.count("wrong") <= number * 0.03 + 1 and results.count("asked") <= number * 0.25


def test_ordinary_talk_is_taken_for_no_sentence(listener, long_run):
    number = 60 if long_run else 12
    assert len(taken_for_one(listener, number, 20.0, seed=2)) <= number * 0.05


def test_digital_silence_and_noise_are_no_sentence(listener):
    grammar = Grammar([Pattern("a", (Slot("s", {"take a picture": "x", "turn it over": "y"}),))])
    rng = np.random.default_rng(1)
    for sound in (np.zeros(0, np.int16), np.zeros(RATE_HZ, np.int16), rng.normal(0, 3000, RATE_HZ).astype(np.int16)):
        assert not listener.hear(grammar, sound).is_sure
    assert listener.hear(Grammar([]), np.zeros(RATE_HZ, np.int16)).said is None


def test_a_recogniser_that_dies_is_begun_again_and_ends_with_the_program():
    """In a process of its own: killed, the next sentence has another one."""
    import os
    import signal

    apart = ListenerApart(table("spoken.toml")["pronounced"])
    try:
        assert apart.begin().result(60) and apart.knows("tweezers") and not apart.knows("zqx")
        grammar = Grammar([Pattern("a", (Slot("s", {"take a picture": "x", "turn it over": "y"}),))])
        sound = amid_noise(speech.spoken("turn it over", speech.TUNED[0]), 30, np.random.default_rng(1))
        assert apart.hear(grammar, sound).result(60).said.tokens["s"] == "y"
        for pid in list(apart._pool._processes):
            os.kill(pid, signal.SIGKILL)
        from concurrent.futures.process import BrokenProcessPool

        for _ in range(3):
            try:
                heard = apart.hear(grammar, sound).result(60)
                break
            except BrokenProcessPool:
                continue
        assert heard.said.tokens["s"] == "y"
    finally:
        apart.stop()
