"""What can be said at a moment, what it means, and what becomes of what was heard until it counts."""

from __future__ import annotations

import random

import numpy as np
import pytest
from msgspec.structs import replace

from oddbolt.catalog.tables import joint_kind_typed, line_types, mark_kinds, part_kinds, table
from oddbolt.hearing.grammar import Said
from oddbolt.hearing.listener import RATE_HZ, Heard
from oddbolt.instruments.microphones import SimulatedMicrophone
from oddbolt.model.things import Fastener, Part, Teardown
from oddbolt.session.modes import Gesture
from oddbolt.session.recording.offers import ROLE, Offer
from oddbolt.session.selection import Selection
from oddbolt.session.speaking import sentences as code
from oddbolt.session.speaking.dialogue import Dialogue, Turn
from oddbolt.session.speaking.ear import Ear, Opens
from oddbolt.session.speaking.sentences import Moment, awake, grammar_of, spoken, woken
from oddbolt.session.speaking.spelling import name_said, number_said, parts_said
from oddbolt.session.typed_line import NotUnderstood, understand

# The international spelling alphabet, as ICAO Annex 10 and ITU-R M.1172 write it (from memory, high); two are written
# here as the recogniser's dictionary has them.
ALPHABET = [*("alfa", "bravo", "charlie", "delta", "echo", "foxtrot", "golf", "hotel", "india", "juliett", "kilo"),
            *("lima", "mike", "november", "oscar", "papa", "quebec", "romeo", "sierra", "tango", "uniform", "victor"),
            *("whiskey", "x-ray", "yankee", "zulu")]


def moment(teardown, **keys):
    return Moment(teardown=teardown, **{"selection": Selection(), **keys})


def means(teardown, text, **keys):
    return grammar_of(moment(teardown, **keys)).understand(text.split())


# -- the table of speech

def test_letters_are_spelled_as_everywhere():
    said = list(spoken()["letters"].values())
    assert [one.replace("juliet", "juliett") for one in said] == ALPHABET
    assert list(spoken()["letters"]) == [chr(ord("A") + n) for n in range(26)]


def test_the_table_of_speech_names_what_there_is():
    assert set(spoken()["gestures"]) <= {gesture.value for gesture in Gesture}
    assert set(code.PLAIN) | {"delete-mark"} == set(spoken()["gestures"])
    assert set(spoken()["kinds"]) <= set(part_kinds())
    assert set(spoken()["verbs"]) <= set(joint_kind_typed()) and set(spoken()["types"]) <= set(line_types())
    assert {row.kind for row in mark_kinds().values()} == set(spoken()["verbs"])  # whatever can be marked can be said
    words = [phrase for section in ("gestures", "answers", "words") for said in spoken()[section].values()
             for phrase in said.split("|")]
    assert len(words) == len(set(words)), "two meanings of one phrase"


def test_words_of_the_table_sound_apart():
    """No two sentences of one word are a phone apart, where the recogniser is installed."""
    sphinx = pytest.importorskip("pocketsphinx")
    from pathlib import Path

    from oddbolt.hearing.pronouncing import Dictionary

    known = Dictionary(Path(sphinx.get_model_path()) / "en-us" / "cmudict-en-us.dict", spoken()["pronounced"])
    said = [*spoken()["letters"].values(), *spoken()["kinds"].values(), *spoken()["verbs"].values(),
            *spoken()["gestures"].values()]
    for phrase in said:
        assert all(known.knows(word) for word in phrase.split()), phrase
    phones = {phrase: " ".join((known.shipped(word) + known.further(word))[0] for word in phrase.split()).split()
              for phrase in said}
    for n, one in enumerate(said):
        for other in said[n + 1:]:
            assert distance(phones[one], phones[other]) >= 2, (one, other)


def distance(a, b):
    """Levenshtein's."""
    row = list(range(len(b) + 1))
    for n, x in enumerate(a, start=1):
        before, row[0] = row[0], n
        for k, y in enumerate(b, start=1):
            before, row[k] = row[k], min(row[k] + 1, row[k - 1] + 1, before + (x != y))
    return row[-1]


def test_numbers_are_said_as_in_english():
    said = {0: "zero", 7: "seven", 13: "thirteen", 20: "twenty", 42: "forty two", 90: "ninety", 100: "one hundred",
            115: "one hundred fifteen", 999: "nine hundred ninety nine"}
    assert {number: number_said(number) for number in said} == said
    assert len({number_said(number) for number in range(1000)}) == 1000


# -- names

def test_names_are_said_where_their_words_are_known():
    knows = {"left", "antenna", "main", "board"}.__contains__
    assert name_said("Left antenna", knows) == "left antenna" and name_said("LTE antenna", knows) == ""
    assert name_said("Main board 2", knows) == "main board two" and name_said("  ", knows) == ""


def test_parts_whose_names_cannot_be_said_go_by_kind_and_number():
    parts = (Part(id="tray"), Part(id="a", name="Zqx-1", kind="camera"), Part(id="b", name="Zqx-2", kind="camera"),
             Part(id="c", name="Cell", kind="battery"), Part(id="d", name="Left", kind="gasket"),
             Part(id="e", name="left", kind="gasket"), Part(id="f", name="Qqq", kind=""))
    teardown = replace(Teardown.nothing(), parts=parts)
    found = parts_said(teardown, [part.id for part in parts[1:]], lambda word: "q" not in word)
    assert found == {"camera one": "a", "camera two": "b", "battery": "c", "left": "d", "rubber gasket two": "e",
                     "part one": "f"}


# -- what can be said, and what it comes to

@pytest.mark.parametrize("device", ["bittern", "dunlin-2", "curlew"])
def test_every_line_that_can_be_said_is_a_line_that_can_be_typed(root, device):
    """At random moments of the demo jobs; sampled. What only the record can refuse is all that is refused."""
    from oddbolt.store.files import read_json

    teardown, rng = read_json(root / "src" / "oddbolt" / "demo" / f"{device}.json"), random.Random(5)
    refused = {"released-already", "which-joint", "other-type", "other-count", "no-such-way", "ambiguous"}
    tried = 0
    for _ in range(6):
        now = replace(teardown, log=teardown.log[:rng.randrange(len(teardown.log))])
        for pattern in grammar_of(moment(now)).patterns:
            if pattern.code != code.LINE:
                continue
            for _ in range(12):
                tokens = [slot.phrases[rng.choice(sorted(slot.phrases))] for slot in pattern.slots
                          if slot.phrases and not (slot.optional and rng.random() < 0.5)]
                tried += 1
                try:
                    understand(now, " ".join(tokens))
                except NotUnderstood as problem:
                    assert problem.code in refused, (problem.code, tokens)
    assert tried > 700


def test_a_line_means_the_thing_that_it_names(root):
    from oddbolt.store.files import read_json

    whole = read_json(root / "src" / "oddbolt" / "demo" / "bittern.json")
    fresh = replace(whole, log=())

    def line(text, teardown=fresh):
        said = means(teardown, text)
        return understand(teardown, " ".join(said.tokens.values())) if said is not None else None

    assert line("four alfa top cover").thing == "cover-screws"
    assert line("lift away mains supply").thing == "supply-board"
    assert line("unplug tuner board to board").thing == "tuner-plug"
    assert line("what holds mains supply").code == "asks" and line("the tray is out").code == "tray"
    told = line("role of battery battery")
    assert (told.code, told.thing, told.text) == ("role", "cell", "battery") and line("role of battery none").text == ""
    made = line("two six lobe one zero echo second metal shield")
    assert made.code == "meet" and (made.letter.drive, made.letter.size, made.count) == ("T", "10", 2)
    assert line("adhesive cell by pulling") is None  # it is called by its kind
    assert line("adhesive battery by pulling").thing == "cell-pads"


def test_kinds_that_are_on_and_off_are_told_apart():
    """The one that is on by what its kind is called, the second by `second`; once it is off the next one is new, and no
    line means one that is off."""
    parts = (Part(id="tray"), Part(id="gasket-1", name="Gasket", kind="gasket"))
    on = replace(Teardown.nothing(), parts=parts, device=replace(Teardown.nothing().device, base="tray"))
    assert means(on, "peel off rubber gasket").tokens["owner"] == "gasket-1"
    assert means(on, "peel off second rubber gasket").tokens["owner"] == "gasket Gasket 2"
    assert means(on, "peel off display").tokens["owner"] == "display Display"
    from oddbolt.session.verbs.lifting import lift

    off = lift(on, "gasket-1", 0.0).teardown
    assert means(off, "peel off second rubber gasket") is None
    made = understand(off, " ".join(means(off, "peel off rubber gasket").tokens.values()))
    assert made.owner == ("gasket", "Gasket 2")


def test_sentences_come_and_go_with_the_moment(root):
    from oddbolt.store.files import read_json

    teardown = replace(read_json(root / "src" / "oddbolt" / "demo" / "bittern.json"), log=())
    assert means(teardown, "using tweezers") is None and means(teardown, "release that") is None
    chosen = Selection(thing="cover-screws")
    assert means(teardown, "using tweezers", selection=chosen).tokens["tool"] == "tweezers"
    assert means(teardown, "release that", selection=chosen).code == code.GESTURE
    assert means(teardown, "waiting five minutes", selection=chosen).tokens["minutes"] == "5"
    assert means(teardown, "answer two") is None and means(teardown, "damaged") is None
    offers = tuple(Offer(code=ROLE, about="", choice="") for _ in range(2))
    assert means(teardown, "answer two", offered=offers).tokens["answer"] == "answer-2"
    assert means(teardown, "answer three", offered=offers) is None
    assert means(teardown, "answer two", asked=True).tokens["answer"] == "answer-2"
    assert means(teardown, "number two is alfa") is None
    seeing = Selection(seeing=True)
    said = means(teardown, "number two is alfa", selection=seeing, seen=3)
    assert (said.code, said.tokens["place"], said.tokens["letter"]) == (code.LETTER, "2", "A")
    assert means(teardown, "number four is alfa", selection=seeing, seen=3) is None
    assert means(teardown, "is display", selection=seeing, seen=3).tokens["kind"] == "display"
    assert means(teardown, "is wire to board", selection=seeing, seen=3).tokens["kind"] == "plug"


def test_a_new_letter_is_the_next_free_one():
    teardown = replace(Teardown.nothing(), fasteners=(Fastener(id="A", drive="PH", size="0"),))
    assert means(teardown, "three cross zero zero bravo display").tokens["letter"] == "B"
    assert means(teardown, "three cross zero zero charlie display") is None
    assert means(teardown, "three alfa display").tokens["letter"] == "A"


def test_no_word_is_offered_that_cannot_be_heard():
    teardown = replace(Teardown.nothing(), parts=(Part(id="x", name="Quark plate", kind="bracket"),))
    knows = lambda word: word not in ("quark", "spudger")  # noqa: E731
    grammar = grammar_of(moment(teardown, knows=knows, selection=Selection(thing="x")))
    assert "quark" not in grammar.words() and "spudger" not in grammar.words()
    assert grammar.understand(["lift", "away", "holding", "bracket"]).tokens["owner"] == "x"


def test_the_start_word_opens_and_is_no_part_of_the_sentence():
    grammar = woken(grammar_of(moment(Teardown.nothing())))
    assert grammar.understand(["take", "a", "picture"]) is None
    alone = grammar.understand(["odd", "bolt"])
    assert awake(Heard(said=alone, is_sure=True)) == Heard(is_sure=True)
    said = grammar.understand(["odd", "bolt", "take", "a", "picture"])
    heard = awake(Heard(said=said, other=alone, is_sure=True))
    assert dict(heard.said.tokens) == {"gesture": "camera"} and heard.other is None and heard.is_sure
    assert awake(Heard(said=said)) == Heard() == awake(Heard())  # talk is not asked about


# -- until it counts

def said(name, **tokens):
    return Said(name, tokens, (name,))


def sure(one):
    return Heard(said=one, is_sure=True)


@pytest.fixture
def talk():
    counted = []
    return Dialogue(counted.append), counted


PHOTO, LIFT = said(code.GESTURE, gesture="camera"), said(code.LINE, verb="lift", owner="cover")


def test_a_sentence_waits_and_then_counts(talk):
    dialogue, counted = talk
    assert dialogue.heard(sure(LIFT)) is Turn.WAITS and counted == [] and dialogue.is_open
    assert dialogue.over() and counted == [LIFT] and not dialogue.is_open
    assert not dialogue.over() and counted == [LIFT]


@pytest.mark.parametrize("back", [code.NO, code.UNDO])
def test_what_waits_is_taken_back_by_no_and_nothing_else_is(talk, back):
    dialogue, counted = talk
    dialogue.heard(sure(LIFT))
    assert dialogue.heard(sure(said(back))) is Turn.TAKEN_BACK and counted == []
    assert dialogue.heard(sure(said(back))) is Turn.COUNTED and counted == [said(back)]  # now it is about the record


def test_yes_counts_at_once_and_going_on_counts_too(talk):
    dialogue, counted = talk
    dialogue.heard(sure(LIFT))
    assert dialogue.heard(sure(said(code.YES))) is Turn.COUNTED and counted == [LIFT]
    dialogue.heard(sure(LIFT))
    assert dialogue.heard(sure(PHOTO)) is Turn.WAITS and counted == [LIFT, LIFT] and dialogue.waits == PHOTO


def test_what_is_not_sure_is_asked_about_and_never_counts_by_itself(talk):
    dialogue, counted = talk
    unsure = Heard(said=LIFT, other=PHOTO)
    for answer, meant in ((said(code.YES), LIFT), (said(code.ANSWER, answer="answer-1"), LIFT),
                          (said(code.ANSWER, answer="answer-2"), PHOTO), (said(code.NO), None)):
        counted.clear()
        assert dialogue.heard(unsure) is Turn.ASKS
        assert not dialogue.over() and counted == []
        assert dialogue.heard(sure(answer)) is (Turn.COUNTED if meant else Turn.DROPPED)
        assert counted == ([meant] if meant else []) and not dialogue.is_open
    dialogue.heard(unsure)
    assert dialogue.heard(sure(PHOTO)) is Turn.WAITS and counted == []  # said once more, and surely
    assert dialogue.heard(unsure) is Turn.ASKS and counted == [PHOTO]


def test_an_unsure_yes_to_a_question_is_asked_about_no_further(talk):
    dialogue, counted = talk
    dialogue.heard(Heard(said=LIFT))
    assert dialogue.heard(Heard(said=said(code.YES))) is Turn.COUNTED and counted == [LIFT]
    dialogue.heard(Heard(said=LIFT))
    assert dialogue.heard(Heard(said=said(code.ANSWER, answer="answer-2"), is_sure=True)) is Turn.DROPPED


def test_nothing_understood_changes_nothing(talk):
    dialogue, counted = talk
    dialogue.heard(sure(LIFT))
    assert dialogue.heard(Heard()) is Turn.NOTHING and dialogue.waits == LIFT and counted == []
    assert dialogue.take_back() and not dialogue.take_back() and not dialogue.over() and counted == []


# -- the ear

def speech(seconds=0.6):
    return np.random.default_rng(1).normal(0, 5000, round(seconds * RATE_HZ)).astype(np.int16)


class Bench:
    def __init__(self, opens):
        self.microphone = SimulatedMicrophone(piece_s=0.05)
        self.ear = Ear(self.microphone, opens)
        self.ear.start()
        self.sentences, self.notes = [], []
        self.wait(0.5)

    def wait(self, seconds):
        for _ in range(round(seconds / 0.05)):
            found, note = self.ear.listen(0.05)
            self.sentences += found
            self.notes += [note] if note is not None else []

    def say(self, seconds=0.6, then=1.0):
        self.microphone.say(speech(seconds))
        self.wait(seconds + then)


def test_held_it_hears_and_let_go_it_hears_nothing():
    bench = Bench(Opens.HELD)
    bench.say()
    assert bench.sentences == [] and not bench.ear.is_open
    bench.ear.press()
    bench.say()
    assert len(bench.sentences) == 1 and bench.ear.is_open
    bench.microphone.say(speech())
    bench.wait(0.5)
    assert len(bench.ear.release()) > 0.4 * RATE_HZ  # let go in the midst: what was said is over
    bench.wait(0.5)
    bench.say()
    assert len(bench.sentences) == 1 and bench.ear.release() is None


def test_tapped_it_hears_one_sentence():
    bench = Bench(Opens.HELD)
    bench.ear.press()
    bench.wait(0.1)
    assert bench.ear.release() is None and bench.ear.is_open
    bench.say()
    bench.say()
    assert len(bench.sentences) == 1 and not bench.ear.is_open
    bench.ear.tap()
    bench.ear.tap()
    bench.say()
    assert len(bench.sentences) == 1


def test_with_a_start_word_all_is_heard_and_it_stays_open_for_a_while():
    bench = Bench(Opens.WORD)
    bench.say()
    assert len(bench.sentences) == 1 and not bench.ear.is_open
    bench.ear.stay_open()
    assert bench.ear.is_open
    bench.wait(26)
    assert not bench.ear.is_open


def test_a_note_ends_with_silence_and_is_no_sentence():
    bench = Bench(Opens.WORD)
    bench.ear.begin_note()
    bench.microphone.say(np.concatenate([speech(0.6), np.zeros(RATE_HZ, np.int16), speech(0.6)]))
    bench.wait(2.2 + 2.5)
    assert bench.sentences == [] and len(bench.notes) == 1 and len(bench.notes[0]) > 2.1 * RATE_HZ
    assert not bench.ear.is_noting and bench.ear.end_note() is None
    bench.ear.begin_note()
    bench.microphone.say(speech(0.6))
    bench.wait(0.5)
    assert len(bench.ear.end_note()) > 0.4 * RATE_HZ  # switched off in the midst of it: kept


def test_the_table_of_speech_is_read_once():
    assert table("spoken.toml") is table("spoken.toml")
