"""From sound to the words of a grammar: grammars, pronunciations, sound files, where sentences end, microphones."""

from __future__ import annotations

import io
import random
import stat

import numpy as np
import pytest
from scipy.io import wavfile

from oddbolt.hearing.ends import SentenceEnds
from oddbolt.hearing.grammar import Grammar, Pattern, Slot
from oddbolt.hearing.listener import RATE_HZ
from oddbolt.hearing.pronouncing import Dictionary, british
from oddbolt.hearing.sounds import (
    NoSound,
    amid_noise,
    dithered,
    level_db,
    power,
    read_wav,
    room_noise,
    write_wav,
)
from oddbolt.instruments.microphones import RecorderMicrophone, SimulatedMicrophone
from oddbolt.instruments.protocols import InstrumentFault

COUNT = Slot("count", {"one": "1", "two": "2", "twenty two": "22"})
LETTER = Slot("letter", {"alfa": "A", "bravo": "B"})
OWNER = Slot("owner", {"cover": "cover", "top cover": "top-cover", "lid": "top-cover"})
AGAIN = Slot("again", {"once more": "new"}, optional=True)
SMALL = Grammar([Pattern("line", (COUNT, LETTER, OWNER, AGAIN)), Pattern("undo", (Slot("said", {"back": "undo"}),)),
                 Pattern("line", (Slot("verb", {"lift": "lift"}), OWNER))])


# -- grammars

def test_every_sentence_of_a_grammar_is_understood_as_what_it_was_made_of():
    every = list(SMALL.examples())
    assert len(every) == 3 * 2 * 3 * 2 + 1 + 3
    assert len({text for text, _ in every}) == len(every)
    for text, said in every:
        assert SMALL.understand(text.split()) == said
    for wrong in ("", "one alfa", "one alfa cover cover", "twenty alfa cover", "lift", "back back", "alfa one cover"):
        assert SMALL.understand(wrong.split()) is None


def test_the_text_of_a_grammar_is_jsgf():
    """Header, rules that are all defined, one that is public (W3C Note, JSpeech Grammar Format, from memory)."""
    text = SMALL.jsgf()
    assert text.startswith("#JSGF V1.0;\ngrammar ") and text.count("public <") == 1
    import re

    defined = set(re.findall(r"^(?:public )?<(\w+)> =", text, re.MULTILINE))
    assert set(re.findall(r"<(\w+)>", text)) == defined
    assert all(line.endswith(";") for line in text.splitlines())
    assert "[<" in text  # what is optional


def test_a_slot_without_phrases_cannot_be_said():
    grammar = Grammar([Pattern("a", (COUNT, Slot("none", {}))), Pattern("b", (COUNT, Slot("none", {}, optional=True)))])
    assert [one.code for one in grammar.patterns] == ["b"]
    assert grammar.understand(["one"]) is not None and "<>" not in grammar.jsgf()


def test_what_is_left_without_a_meaning_is_exactly_all_other_meanings():
    """Random grammars; the complement against every sentence, one by one."""
    rng = random.Random(4)
    words = ["ash", "birch", "cedar", "elm", "fir", "larch", "oak"]
    for _ in range(60):
        slots = [Slot(f"s{n}", {rng.choice(words) + (" " + rng.choice(words) if rng.random() < 0.3 else ""):
                                rng.choice("xyz") for _ in range(rng.randint(1, 3))}, n > 1 and rng.random() < 0.5)
                 for n in range(4)]
        grammar = Grammar([Pattern(rng.choice("pq"), tuple(rng.sample(slots, rng.randint(1, 3))))
                           for _ in range(rng.randint(1, 4))])
        every = dict(grammar.examples())
        for text in rng.sample(sorted(every), min(4, len(every))):
            said = grammar.understand(text.split())
            left = {other: one for rest in grammar.without(said) for other, one in rest.examples()}
            for other in every:
                meant = grammar.understand(other.split())
                if (meant.code, meant.tokens) != (said.code, said.tokens):
                    assert other in left, (other, text)
            for one in left.values():
                assert (one.code, one.tokens) != (said.code, said.tokens)


# -- pronunciations

def test_british_pronunciations_follow_the_rules():
    """Worked words of the accent (Wells 1982, from memory): no R before a consonant or a pause, R between vowels, a
    schwa after a glide, the round vowel of `lot`, the fronted one of `goose`."""
    assert british("F AO R")[0] == "F AO"  # four
    assert british("B AO R D")[0] == "B AO D"  # board
    assert british("B AE T ER IY")[0] == "B AE T AH R IY"  # battery: between vowels it stays
    assert british("K AH V ER")[0] == "K AH V AH"  # cover
    assert british("R IH R")[0] == "R IH AH"  # rear
    assert british("B AA K S")[1] == "B AO K S"  # box
    assert british("K AA R D")[1] == "K AA D"  # card: not round
    assert british("T UW")[2] == "T IY"  # two


def test_a_dictionary_tells_what_the_recogniser_has_to_be_told(tmp_path):
    path = tmp_path / "some.dict"
    path.write_text("cover K AH V ER\nlima L AY M AH\nlima(2) L IY M AH\n", "utf-8")
    known = Dictionary(path, {"spudger": ["S P AH JH ER"], "cover": ["K AH V ER"]})
    assert known.knows("lima") and known.knows("spudger") and not known.knows("unheard")
    assert known.shipped("lima") == ["L AY M AH", "L IY M AH"] and known.further("lima") == []
    assert known.further("cover") == ["K AH V AH"]  # its own one is there already
    assert known.further("spudger") == ["S P AH JH ER", "S P AH JH AH"]


# -- sound

def test_sound_files_are_those_of_another_reader_and_writer():
    """scipy.io.wavfile reads what is written here and writes what is read here."""
    tone = (9000 * np.sin(np.arange(RATE_HZ) * 2 * np.pi * 440 / RATE_HZ)).astype(np.int16)
    rate, read = wavfile.read(io.BytesIO(write_wav(tone)))
    assert rate == RATE_HZ and read.dtype == np.int16 and np.array_equal(read, tone)
    other = io.BytesIO()
    wide = (9000 * np.sin(np.arange(44_100) * 2 * np.pi * 440 / 44_100)).astype(np.int16)
    wavfile.write(other, 44_100, np.stack([wide, wide], axis=1))
    heard = read_wav(other.getvalue())
    assert heard.dtype == np.int16 and abs(len(heard) - RATE_HZ) <= 1
    spectrum = np.abs(np.fft.rfft(heard[:RATE_HZ]))
    assert int(np.argmax(spectrum)) == 440 and abs(power(heard) / power(tone) - 1) < 0.02


@pytest.mark.parametrize("body", [b"", b"RIFF", b"RIFF\x24\0\0\0WAVEfmt ", b"\xff" * 400, b"\x89PNG\r\n\x1a\n"])
def test_what_is_no_sound_is_refused(body):
    with pytest.raises(NoSound):
        read_wav(body)


def test_sound_of_another_kind_or_too_long_is_refused():
    eight = io.BytesIO()
    wavfile.write(eight, RATE_HZ, np.zeros(100, np.uint8))
    with pytest.raises(NoSound, match="other-sound"):
        read_wav(eight.getvalue())
    with pytest.raises(NoSound, match="long-sound"):
        read_wav(write_wav(np.zeros(RATE_HZ * 121, np.int16)))
    cut = write_wav(np.ones(1000, np.int16))[:1001]  # in the midst of a sample: the rest of it is read
    assert len(read_wav(cut)) == (1001 - 44) // 2


def test_noise_is_as_loud_as_it_is_said_to_be():
    rng = np.random.default_rng(2)
    for kind in ("room", "hiss", "hum"):
        assert abs(float(np.mean(room_noise(RATE_HZ, rng, kind) ** 2)) - 1) < 0.05
    tone = 8000 * np.sin(np.arange(2 * RATE_HZ) * 2 * np.pi * 500 / RATE_HZ)
    mixed = amid_noise(tone, 20, rng, "hiss").astype(float)
    middle, edge = mixed[RATE_HZ:2 * RATE_HZ], mixed[:4000]
    assert abs(10 * np.log10(np.mean(middle ** 2) / np.mean(edge ** 2)) - 20) < 0.7


def test_digital_silence_is_dithered_and_speech_is_not_changed_to_speak_of():
    silence = dithered(np.zeros(RATE_HZ, np.int16))
    assert len(np.unique(silence)) > 5 and level_db(silence) < -80
    assert np.array_equal(silence, dithered(np.zeros(RATE_HZ, np.int16)))  # repeatable
    loud = (9000 * np.sin(np.arange(1000) / 3)).astype(np.int16)
    assert np.max(np.abs(dithered(loud).astype(int) - loud)) < 12


def burst(seconds, loud=4000.0, seed=1):
    return (np.random.default_rng(seed).normal(0, loud, round(seconds * RATE_HZ))).astype(np.int16)


def quiet(seconds):
    return burst(seconds, 20.0, 2)


@pytest.mark.parametrize("piece_s", [0.013, 0.1, 0.5])
def test_a_sentence_begins_and_ends_however_the_sound_is_cut(piece_s):
    sound = np.concatenate([quiet(1), burst(0.8), quiet(0.3), burst(0.6), quiet(1.5), burst(0.5), quiet(1.0)])
    ends, found = SentenceEnds(), []
    piece = round(piece_s * RATE_HZ)
    for at in range(0, len(sound), piece):
        found += ends.take(sound[at:at + piece])
    assert len(found) == 2 and not ends.is_speech  # the pause within the first is too short
    assert 1.7 < len(found[0]) / RATE_HZ < 2.9 and 0.5 < len(found[1]) / RATE_HZ < 1.7


def test_clicks_are_no_sentences_and_noise_that_stays_becomes_the_room():
    ends = SentenceEnds()
    clicks = np.concatenate([np.concatenate([quiet(0.4), burst(0.02)]) for _ in range(6)] + [quiet(1)])
    assert ends.take(clicks) == [] and not ends.is_speech
    assert len(ends.take(burst(13, 300.0))) == 1  # a fan goes on: taken for a sentence once
    assert ends.take(burst(3, 300.0)) == [] and not ends.is_speech
    assert len(ends.take(np.concatenate([burst(1, 6000.0), burst(1.5, 300.0)]))) == 1


def test_a_sentence_without_an_end_is_cut_and_a_key_ends_one():
    ends = SentenceEnds(longest_s=2.0)
    ends.take(quiet(0.5))
    assert [round(len(one) / RATE_HZ) for one in ends.take(burst(2.2))] == [2]
    ends = SentenceEnds()
    ends.take(quiet(0.5))
    assert ends.finish() is None
    ends.take(burst(0.4))
    assert ends.is_speech and len(ends.finish()) >= 0.4 * RATE_HZ and ends.finish() is None


# -- microphones

def test_the_simulated_microphone_plays_what_it_is_given_once():
    microphone = SimulatedMicrophone(piece_s=0.1)
    assert len(microphone.read()) == 0  # it is not on
    microphone.start()
    microphone.say(burst(0.25))
    levels = [level_db(microphone.read()) for _ in range(5)]
    assert all(level > -25 for level in levels[:2]) and all(level < -55 for level in levels[3:])
    assert microphone.is_done
    microphone.fault = True
    with pytest.raises(InstrumentFault):
        microphone.read()
    with pytest.raises(InstrumentFault):
        microphone.start()


def program(folder, name, text):
    path = folder / name
    path.write_text(text, "utf-8")
    path.chmod(path.stat().st_mode | stat.S_IXUSR)
    return path


def test_a_recording_program_is_read_as_it_writes_and_told_when_it_goes(tmp_path, monkeypatch):
    """A stand-in that writes an odd number of bytes, waits, and ends."""
    program(tmp_path, "records",
            "#!/bin/sh\nprintf '\\001\\000\\002'; sleep 0.3; printf '\\000\\003\\000'; sleep 0.2\n")
    monkeypatch.setenv("PATH", f"{tmp_path}:/usr/bin:/bin")
    microphone = RecorderMicrophone((("not-there", ()), ("records", ("-r", "16000"))))
    microphone.start()
    import time

    got: list[int] = []
    with pytest.raises(InstrumentFault):
        for _ in range(100):
            got += microphone.read().tolist()
            time.sleep(0.02)
    assert got == [1, 2, 3]
    microphone.stop()
    with pytest.raises(InstrumentFault):
        RecorderMicrophone((("not-there", ()),)).start()


def test_a_recording_program_that_does_not_end_is_ended(tmp_path, monkeypatch):
    program(tmp_path, "records", "#!/bin/sh\ntrap '' TERM\nwhile true; do sleep 0.05; done\n")
    monkeypatch.setenv("PATH", f"{tmp_path}:/usr/bin:/bin")
    microphone = RecorderMicrophone((("records", ()),))
    microphone.start()
    process = microphone._process
    microphone.stop()
    assert process.poll() is not None and len(microphone.read()) == 0
