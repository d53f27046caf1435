"""A voice learned from sentences: on a small model whose true shift is known, and the lesson that gathers them."""

from __future__ import annotations

import numpy as np
import pytest

from oddbolt.hearing.acoustic import EACH, STREAMS, WIDE, AcousticModel, OwnVoice
from oddbolt.hearing.learning import Told, changing, learned
from oddbolt.hearing.pronouncing import WAYS, all_ways, in_ways
from oddbolt.hearing.teaching import LEAST_SENTENCES
from oddbolt.session.speaking.lesson import teaching_sentences
from oddbolt.store.own_voices import forget_voice, known_voices, read_voice, write_voice

PHONES = ("AA", "B", "SIL")


class Small(AcousticModel):
    """Three phones; distributions of each lie about a place of its own."""

    def __init__(self, rng):
        self.phones = list(PHONES)
        self.place = {phone: n for n, phone in enumerate(PHONES)}
        middle = rng.normal(0, 6, (len(PHONES), STREAMS, 1, WIDE))
        self.means = middle + rng.normal(0, 1, (len(PHONES), STREAMS, EACH, WIDE))
        self.variances = np.full(self.means.shape, 0.5)
        self.weights = np.full((STREAMS, EACH, 3 * len(PHONES)), -np.log(EACH))

    def spoken(self, phones, frames, shift, rng):
        """A sentence of one word, each phone that many frames long, by somebody who is off by `shift`."""
        rows = []
        for phone in phones:
            for _ in range(frames):
                one = rng.integers(EACH)
                rows.append(self.means[self.place[phone], :, one] + rng.normal(0, 0.7, (STREAMS, WIDE))
                            + shift.get(phone, 0))
        return Told(np.array(rows), [(phones, 0, len(rows))])


@pytest.fixture
def rng():
    return np.random.default_rng(4)


def test_the_shift_of_a_phone_is_learned_and_a_phone_not_heard_stays(rng):
    model = Small(rng)
    shift = {"AA": np.full((STREAMS, WIDE), 0.8)}
    told = [model.spoken(("AA",), 30, shift, rng) for _ in range(40)]
    found = learned(model, told)
    assert set(found) == {"AA"} and found["AA"].shape == (STREAMS, EACH, WIDE)
    assert abs(float(found["AA"].mean()) - 0.8) < 0.05
    assert np.array_equal(model.means_of("B", OwnVoice(found)), model.means[1])


def test_the_less_is_heard_the_less_is_moved(rng):
    model = Small(rng)
    shift = {"AA": np.full((STREAMS, WIDE), 0.8)}
    moved = [float(learned(model, [model.spoken(("AA",), 6, shift, rng) for _ in range(times)])["AA"].mean())
             for times in (1, 4, 60)]
    assert 0.05 < moved[0] < moved[1] < moved[2] < 0.9


def test_phones_are_told_apart_within_a_word(rng):
    """Only the frames of a phone move it: the path through the states of a word finds where it begins."""
    model = Small(rng)
    shift = {"B": np.full((STREAMS, WIDE), -0.9)}
    found = learned(model, [model.spoken(("AA", "B", "AA"), 12, shift, rng) for _ in range(40)])
    assert abs(float(found["B"].mean()) + 0.9) < 0.08 and abs(float(found["AA"].mean())) < 0.08


def test_words_too_short_for_their_phones_teach_nothing(rng):
    model = Small(rng)
    assert learned(model, [model.spoken(("AA", "B"), 2, {}, rng)]) == {}


def test_the_change_of_sound_is_that_of_the_recogniser():
    """Worked by hand for a straight line: the mean is off, the change over four frames is four, its change none."""
    line = np.arange(12.0)[:, None] * np.ones(WIDE)
    found = changing(line)
    assert np.allclose(found[:, 0, 0], np.arange(12) - 5.5)
    assert np.allclose(found[3:-3, 1], 4) and np.allclose(found[3:-3, 2], 0)


# -- ways of accents

@pytest.mark.parametrize(("way", "said", "so"), [
    ("r-dropped", "F AO R", "F AO"), ("lot-rounded", "B AA K S", "B AO K S"), ("goose-fronted", "T UW", "T IY"),
    ("th-stopped", "TH R IY", "T R IY"), ("price-rounded", "N AY N", "N OY N"), ("trap-open", "L AE M P", "L AA M P"),
    ("end-open", "AW T ER", "AW T AA"), ("nurse-split", "T ER N", "T AH R N"), ("nurse-rounded", "B ER D", "B AO D")])
def test_ways_of_accents(way, said, so):
    """Worked words (Wells 1982, from memory)."""
    assert in_ways(said, (way,)) == so and way in WAYS


def test_the_end_of_letter_is_no_nurse():
    assert in_ways("L EH T ER", ("nurse-split", "nurse-rounded")) == "L EH T ER"


def test_all_ways_together_hold_each_alone_and_none():
    found = all_ways("K AH V ER")
    assert found["K AH V ER"] == frozenset() and found["K AH V AH"] == {"r-dropped"}
    assert found["K AH V AA"] == {"end-open"}
    assert all(in_ways("K AH V ER", by) == phones for phones, by in found.items())


# -- the lesson's sentences, and the file

def test_the_sentences_have_all_sounds_letters_and_digits_and_are_enough():
    sentences = teaching_sentences()
    words = {word for sentence in sentences for word in sentence.split()}
    assert len(sentences) >= 2 * LEAST_SENTENCES and len(set(sentences)) == len(sentences)
    assert {"alfa", "zulu", "zero", "nine", "juliet", "quebec"} <= words
    pytest.importorskip("pocketsphinx", reason="the extra `voice` is not installed")
    from oddbolt.catalog.tables import table
    from oddbolt.hearing.sphinx import dictionary

    known = dictionary(table("spoken.toml")["pronounced"])
    assert all(known.knows(word) for word in words)
    phones = {phone for word in words for said in known.shipped(word) for phone in said.split()}
    assert len(phones) == 39  # all of the model's dictionary


def test_a_voice_comes_back_from_its_file(tmp_path, monkeypatch, rng):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    voice = OwnVoice({"AA": rng.normal(0, 1, (STREAMS, EACH, WIDE))}, ("r-dropped", "trap-open"))
    write_voice("Ärla", voice)
    back = read_voice("Ärla")
    assert known_voices() == ["Ärla"] and back.ways == voice.ways
    assert np.allclose(back.offsets["AA"], voice.offsets["AA"], atol=6e-4)
    forget_voice("Ärla")
    forget_voice("Ärla")
    assert known_voices() == []
