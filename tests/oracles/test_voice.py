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
from scripts.voice_study import anybody, learned, taken_for_one, taught, tried  # noqa: E402

from oddbolt.catalog.tables import table  # noqa: E402
from oddbolt.hearing.acoustic import EACH, STREAMS, WIDE, OwnVoice  # noqa: E402
from oddbolt.hearing.apart import ListenerApart  # noqa: E402
from oddbolt.hearing.sounds import amid_noise  # noqa: E402
from oddbolt.hearing.sphinx import SphinxListener  # noqa: E402
from oddbolt.hearing.teaching import SphinxTeacher  # noqa: E402
from oddbolt.session.speaking.lesson import teaching_sentences  # noqa: E402

pytestmark = pytest.mark.skipif(not speech.is_there(), reason="espeak-ng is not installed")
SLICE, ALL = 30, 200


@pytest.fixture(scope="module")
def listener():
    return SphinxListener(table("spoken.toml")["pronounced"])


def test_held_out_sentences_are_right_or_asked_about(listener, long_run, capsys):
    number = ALL if long_run else SLICE
    found = tried(anybody(listener), listener.knows, "held-out", number, 20.0, seed=1)
    results = [one.result for one in found]
    with capsys.disabled():
        print(f"\n{number} held-out sentences: {results.count('right')} right, {results.count('asked')} asked, "
              f"{results.count('wrong')} wrong")
    assert len({one.voice for one in found}) == 6 and len({one.noise for one in found}) >= 2
    # The aims, 0.5 % wrong and 15 % asked, are not reached with all of these voices: docs/methods/voice.md.
    assert results.count("wrong") <= number * 0.03 + 1 and results.count("asked") <= number * 0.25


def test_a_learned_voice_is_heard_better(listener, long_run, capsys):
    """The two hardest of the held-out voices in every run, all six with --long: each reads the teaching sentences."""
    number = ALL if long_run else SLICE
    voices = speech.HELD_OUT if long_run else speech.HELD_OUT[4:]
    found = tried(learned(20.0), listener.knows, "held-out", number, 20.0, seed=1, voices=voices)
    results = [one.result for one in found]
    with capsys.disabled():
        print(f"\n{number} of learned voices: {results.count('right')} right, {results.count('asked')} asked, "
              f"{results.count('wrong')} wrong")
    assert results.count("wrong") <= number * 0.01 + 1
    assert results.count("asked") <= number * (0.15 if long_run else 0.25)


def test_the_ways_of_an_accent_are_found_out():
    """Scottish and West Midlands by espeak-ng, an accent each as another program has it."""
    scottish, midlands = (taught(speech.HELD_OUT[n], 20.0, 7) for n in (4, 3))
    assert {"goose-fronted", "lot-rounded"} <= {*scottish.ways} and "price-rounded" not in scottish.ways
    assert {"price-rounded", "r-dropped"} <= {*midlands.ways} and "goose-fronted" not in midlands.ways


def test_what_was_not_read_teaches_nothing():
    quiet = np.random.default_rng(1).normal(0, 200, RATE_HZ * 2).astype(np.int16)
    other = amid_noise(speech.spoken("the kettle is on", speech.TUNED[0]), 20, np.random.default_rng(1))
    with SphinxTeacher(table("spoken.toml")["pronounced"]) as teacher:
        for text in teaching_sentences()[:3]:
            assert not teacher.read(text, quiet) and not teacher.read(text, other)
        assert teacher.learned() is None


def test_the_model_is_written_as_it_is_read():
    """Means written by this program for a voice that is nobody's are the recogniser's own: the same sentence has the
    same score to the last digit. Recognisers made for it: one that has heard others knows the noise of the room."""
    grammar = Grammar([Pattern("a", (Slot("s", {"take a picture": "x", "turn it over": "y"}),))])
    sound = amid_noise(speech.spoken("turn it over", speech.TUNED[0]), 20, np.random.default_rng(1))
    own = table("spoken.toml")["pronounced"]
    plain, again = SphinxListener(own).hear(grammar, sound), SphinxListener(own, OwnVoice({})).hear(grammar, sound)
    assert (again.said, again.margin, again.likeness) == (plain.said, plain.margin, plain.likeness)
    moved = OwnVoice({phone: np.full((STREAMS, EACH, WIDE), 0.3) for phone in ("ER", "N", "IH")})
    assert SphinxListener(own, moved).hear(grammar, sound).margin != plain.margin


def test_ordinary_talk_is_taken_for_no_sentence(listener, long_run):
    number = 60 if long_run else 12
    assert len(taken_for_one(anybody(listener), listener.knows, number, 20.0, seed=2)) <= number * 0.05


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
