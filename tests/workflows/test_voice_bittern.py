"""The bench radio taken apart by voice and photographs only: a simulated microphone plays the shipped sentences, a
simulated camera shows the device as it is by then, the hands never touch keyboard or mouse. Sentences are counted.
"""

from __future__ import annotations

from collections import Counter

import pytest
from scripts.voice.bittern import PICTURE, STEPS

from oddbolt.hearing.sounds import read_wav
from oddbolt.paint.drawn_bench.instruments import demo_scene
from oddbolt.session.prepare import Preparation
from oddbolt.session.speaking.ear import Opens
from oddbolt.session.speaking.sentences import POINT, WAY
from oddbolt.session.speaking.shipped import shipped_sentences
from oddbolt.session.speaking.spelling import number_said
from oddbolt.store.files import read_json
from oddbolt.ui.log.speaking.voice import State
from oddbolt.ui.log.telling.way_strip import THING
from tests.ui_fixtures import settle, wait_for
from tests.workflows.test_record_bittern import BITTERN, SPOTS, Teller
from tests.workflows.test_record_demo import hands_on, operations, wrong_depths
from tests.workflows.test_record_seen import World

pytest.importorskip("pocketsphinx", reason="the extra `voice` is not installed")
PIECE_S = 0.1
MOST_TRIES = 4
BEGINNING = 22  # sentences, until the cover is off: in every run
MATTER = ("knob", "cell", "display", "jack-board", "top-cover")


class Speaker:
    """An analyst who only speaks, and answers what the bench asks. Time goes on as fast as the recogniser works."""

    def __init__(self, h):
        self.h, self.world, self.sorts = h, World(h.scene), Counter()
        h.log.states.camera.draw = self.world.draw
        self.sounds = {one.text: read_wav(one.sound()) for one in shipped_sentences()}
        self.speaking = h.log.speaking
        self.speaking.page.microphone.setCurrentIndex(1)
        self.speaking.page.opens.setCurrentIndex(list(Opens).index(Opens.WORD))
        self.voice = self.speaking.voice
        self.voice._timer.setInterval(10_000_000)
        self.speaking.switch(True)
        wait_for(lambda: self.voice.poll(PIECE_S) or self.voice.state is not State.LOADING)
        self.microphone = self.speaking.simulated
        self.quiet(0.5)
        self.wrong: list[str] = []

    def quiet(self, seconds):
        for _ in range(round(seconds / PIECE_S)):
            self.voice.poll(PIECE_S)
        settle()

    def utter(self, text, sort):
        """One sentence, until it was understood or not."""
        self.sorts[sort] += 1
        self.microphone.say(self.sounds[text])
        wait_for(lambda: self.voice.poll(PIECE_S) or self.microphone.is_done)
        for _ in range(9):
            self.voice.poll(PIECE_S)
        wait_for(lambda: self.voice.poll(0.0) or self.voice.state not in (State.WORKING, State.HEARING))

    def say(self, text, sort="said"):
        """A sentence until it counts as it was meant; whatever else is heard is refused."""
        meant = self.voice.grammar().understand(text.split())
        assert meant is not None, (text, self.h.log.echo.text())
        for _ in range(MOST_TRIES):
            self.utter(text, "picture" if text == PICTURE else sort)
            dialogue = self.voice.dialogue
            if dialogue.waits is not None and self._is(dialogue.waits, meant):
                self.quiet(self.voice.pause_s + 0.2)
                assert dialogue.waits is None
                return
            if dialogue.waits is not None:
                self.wrong.append(f"{text}: {' '.join(dialogue.waits.words)}")
                self.utter("negative", "taken back")
            elif dialogue.asked is not None:
                first, second = dialogue.asked.said, dialogue.asked.other
                answer = "affirmative" if self._is(first, meant) else "answer two" if self._is(second, meant) \
                    else "negative"
                self.utter(answer, "answered")
                if answer != "negative" and dialogue.asked is None:
                    return
            else:
                self.sorts["said once more"] += 1
        raise AssertionError(f"{text} was not understood: {self.voice.echo}")

    @staticmethod
    def _is(said, meant):
        return said is not None and (said.code, said.tokens) == (meant.code, meant.tokens)


class SpokenTeller(Teller):
    """Looks at the ways and says what is wrong with them, by voice."""

    def __init__(self, speaker, true):
        super().__init__(speaker.h, true)
        self.speaker = speaker

    def _called(self, own, code):
        grammar = self.speaker.voice.grammar()
        return next(" ".join(said.words) for _, said in grammar.examples()
                    if said.code == code and said.tokens.get("thing") == own)

    def _say(self, text):
        self.speaker.say(text, "told")

    def _open(self, part):
        self._say(self._called(self.h.of[part], WAY))

    def _answer(self, number):
        self._say(("answer one", "answer two", "answer three", "answer four")[number - 1])

    def _choose(self, own):
        things = [self.way.strip.item(n).data(THING) for n in range(self.way.strip.count())]
        self._say(f"number {number_said(things.index(own) + 1)}")

    def _point(self, own):
        self._say(self._called(own, POINT))


@pytest.fixture
def speaker(app, tmp_path, clock):
    with hands_on(Preparation(name="Bittern", category="radio"), tmp_path, clock, demo_scene("bittern"), SPOTS) as h:
        yield Speaker(h)


def test_the_bench_radio_is_taken_apart_by_voice(speaker, capsys, long_run):
    """The beginning in every run; with ./run-tests --long the whole, and the ways to the parts that matter are told."""
    h, true = speaker.h, read_json(BITTERN)
    speaker.utter("odd bolt", "start word")
    assert speaker.voice.ear.is_open
    for text, things in STEPS if long_run else STEPS[:BEGINNING]:
        for thing in things:
            speaker.world.do(thing)
        before = len(h.now.log)
        speaker.say(text)
        if text in (PICTURE, "turn it over"):
            wait_for(lambda: not h.log.seeing.is_looking)
            settle()
        new = [entry.thing for entry in h.now.log[before:] if entry.do in ("release", "remove") and not entry.amends]
        if things:
            assert len(new) == len(things), (text, new, h.log.echo.text())
            h.of |= dict(zip(things, new))
    for thing, own in h.of.items():  # each is what it is in the shipped record
        if thing in true.joint:
            one, other = true.joint[thing], h.now.joint[own]
            assert (one.kind, one.count) == (other.kind, other.count), thing
            if one.fastener:
                a, b = true.fastener[one.fastener], h.now.fastener[other.fastener]
                assert (a.id, a.drive, a.size) == (b.id, b.drive, b.size)
        else:
            assert own in h.now.part
    bolts = sum(joint.count for joint in true.joints if joint.kind == "screw" and joint.id in h.of)
    assert bolts == sum(joint.count for joint in true.joints if joint.kind == "screw") or not long_run
    assert h.window.session.derived.ledger.out == bolts
    before, number = wrong_depths(h, true)
    said = sum(speaker.sorts.values())
    assert said / operations(h) <= (1.6 if long_run else 2.0)
    teller = SpokenTeller(speaker, true)
    for part in MATTER if long_run else ():
        teller.tell(part)
    after = [row for row in wrong_depths(h, true)[0] if row[0] in MATTER]
    with capsys.disabled():
        print(f"\n{said} sentences for {operations(h)} operations: {said / operations(h):.2f} each, by sort "
              f"{dict(speaker.sorts)}; {sum(speaker.sorts.values()) - said} to tell the ways; heard wrongly and taken "
              f"back {speaker.wrong}; {number} depths, wrong {before}, then of those that matter {after}")
    # What is only said has no place on a photograph, so less can be told of what hid what: a step too many or too few.
    assert speaker.wrong == []
    if long_run:
        assert all(abs(mine - theirs) <= 1 for _, mine, theirs in after) and len(after) <= 2
