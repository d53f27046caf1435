"""The bench by voice in a real window: with a recogniser that is told what was said, so that it runs without the extra.
What is really heard: tests/oracles/test_voice.py and tests/workflows/test_voice_bittern.py.
"""

from __future__ import annotations

import random
from collections import deque
from concurrent.futures import Future

import numpy as np
import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from oddbolt.hearing.listener import RATE_HZ, Heard, NoListener
from oddbolt.instruments.microphones import SimulatedMicrophone
from oddbolt.instruments.protocols import InstrumentFault
from oddbolt.session.speaking.ear import Opens
from oddbolt.ui.log.speaking.voice import State, Working
from tests.ui.log_steps import K, now, press
from tests.ui_fixtures import settle

PIECE_S = 0.05


class Told:
    """A recogniser that knows what was said: text, whether it is sure, and what else it could be."""

    def __init__(self):
        self.says: deque[tuple[str, bool, str]] = deque()
        self.grammars = []
        self.missing = self.dies = False
        self.slow: Future | None = None

    def begin(self):
        done = Future()
        done.set_result(True)
        return done

    def knows(self, _word):
        if self.missing:
            raise NoListener("No module named 'pocketsphinx'")
        return True

    def hear(self, grammar, _samples):
        text, is_sure, other = self.says[0]
        self.grammars.append(grammar)
        done = Future()
        if self.dies:
            done.set_exception(NoListener())
            return done
        heard = Heard(said=grammar.understand(text.split()), other=grammar.understand(other.split()) if other else None,
                      is_sure=is_sure)
        if self.slow is None:
            done.set_result(heard)
            return done
        return self.slow

    def stop(self):
        pass


class Speaker:
    """Somebody who speaks at the bench; time goes on when told to."""

    def __init__(self, bench):
        self.bench, self.told = bench, Told()
        self.speaking = bench.log.speaking
        self.voice = self.speaking.voice
        self.voice.listener = self.told
        self.voice._timer.setInterval(10_000_000)  # the test says when time goes on
        self.speaking.page.microphone.setCurrentIndex(1)
        self.microphone = self.speaking.simulated = SimulatedMicrophone(piece_s=PIECE_S)

    def on(self, opens=Opens.WORD):
        self.speaking.page.opens.setCurrentIndex(list(Opens).index(opens))
        self.speaking.switch(True)
        self.wait(0.5)
        if opens is Opens.WORD:
            self.voice.ear.stay_open()

    def wait(self, seconds):
        for _ in range(round(seconds / PIECE_S)):
            self.voice.poll(PIECE_S)
        settle()

    def say(self, text, *, sure=True, other="", then=1.0):
        """A sentence, and so much silence after it."""
        self.told.says.append((text, sure, other))
        self.microphone.say(np.random.default_rng(1).normal(0, 5000, RATE_HZ // 2).astype(np.int16))
        self.wait(0.5 + then)
        self.told.says.clear()


@pytest.fixture
def speaker(bench):
    return Speaker(bench)


def done(bench):
    return [(entry.do, entry.thing) for entry in now(bench).log]


def test_a_sentence_is_echoed_waits_and_counts(bench, speaker):
    speaker.on()
    assert speaker.voice.state is State.OPEN and speaker.speaking.bar.isVisible()
    speaker.say("unplug battery board to board")
    bar = speaker.speaking.bar
    assert "Board plug" in bar.heard.text() and done(bench) == []
    assert bar.counts.isVisible() and bar.not_that.isVisible() and 0 < speaker.voice.share_left < 1
    speaker.wait(1.7)
    assert [do for do, _ in done(bench)] == ["release"] and not bar.counts.isVisible()
    assert bench.log.recorder.selection.thing == done(bench)[0][1]
    speaker.say("lift away battery", then=3)
    assert [do for do, _ in done(bench)] == ["release", "remove"]
    speaker.say("take it back", then=0.8)
    assert [do for do, _ in done(bench)] == ["release"]  # undo, as always
    speaker.say("do it again", then=0.8)
    assert [do for do, _ in done(bench)] == ["release", "remove"]


@pytest.mark.parametrize("back", ["no", "take it back", "Escape", "button"])
def test_what_waits_is_taken_back(bench, speaker, back):
    speaker.on()
    speaker.say("unplug battery")
    if back == "Escape":
        press(bench, K.Key_Escape)
    elif back == "button":
        QTest.mouseClick(speaker.speaking.bar.not_that, Qt.MouseButton.LeftButton)
    else:
        speaker.say(back)
    assert "Taken back" in speaker.speaking.bar.heard.text()
    speaker.wait(3)
    assert done(bench) == [] and not bench.log.recorder.selection.heard


@pytest.mark.parametrize("by", ["yes", "Return", "button", "the next sentence"])
def test_what_waits_counts_at_once(bench, speaker, by):
    speaker.on()
    speaker.voice.pause_s = 30
    speaker.say("unplug battery")
    if by == "Return":
        press(bench, K.Key_Return)
    elif by == "button":
        QTest.mouseClick(speaker.speaking.bar.counts, Qt.MouseButton.LeftButton)
    else:
        speaker.say("yes" if by == "yes" else "unplug display")
    assert [do for do, _ in done(bench)] == ["release"]
    if by == "the next sentence":
        # It was heard once more, with what can be said after the first counted: the cell's plug is open now.
        assert len(speaker.told.grammars) >= 2 and speaker.voice.dialogue.waits is not None
        assert speaker.told.grammars[-1].understand(["using", "tweezers"]) is not None
        assert speaker.told.grammars[0].understand(["using", "tweezers"]) is None


def test_nobody_is_cut_off_who_says_no_late(bench, speaker):
    """While somebody speaks, and while it is recognised, what waits does not count."""
    speaker.on()
    speaker.say("unplug battery", then=0.9)
    speaker.told.says.append(("no", True, ""))
    speaker.told.slow = Future()
    speaker.microphone.say(np.random.default_rng(1).normal(0, 5000, 2 * RATE_HZ).astype(np.int16))
    speaker.wait(6)
    assert speaker.voice.state is State.WORKING and done(bench) == []
    speaker.told.slow.set_result(Heard(said=speaker.told.grammars[-1].understand(["no"]), is_sure=True))
    speaker.wait(3)
    assert done(bench) == [] and "Taken back" in speaker.speaking.bar.heard.text()


def test_what_is_not_sure_is_asked_about(bench, speaker):
    speaker.on()
    speaker.say("unplug battery", sure=False, other="unplug display")
    text = speaker.speaking.bar.heard.text()
    assert "Cell" in text and "Display" in text and "answer two" in text
    speaker.wait(5)
    assert done(bench) == []
    speaker.say("answer two")
    assert now(bench).part[now(bench).joint[done(bench)[0][1]].of[0]].kind == "display"
    speaker.say("lift away display", sure=False)
    speaker.say("no")
    speaker.say("lift away display", sure=False)
    press(bench, K.Key_Return)
    assert [do for do, _ in done(bench)] == ["release", "remove"]
    speaker.say("twaddle")
    assert "Not understood" in speaker.speaking.bar.heard.text()


def test_the_key_to_talk_held_and_tapped(bench, speaker):
    speaker.on(Opens.HELD)
    speaker.say("unplug battery", then=3)
    assert done(bench) == [] and speaker.voice.state is State.CLOSED
    QTest.keyPress(bench.log.canvas, K.Key_F10)
    assert speaker.voice.state is State.OPEN
    speaker.say("unplug battery", then=0.8)
    QTest.keyRelease(bench.log.canvas, K.Key_F10)
    assert speaker.voice.state is State.CLOSED
    speaker.wait(2)
    assert len(done(bench)) == 1
    QTest.keyPress(bench.log.line, K.Key_F10)  # wherever the focus is
    QTest.keyRelease(bench.log.line, K.Key_F10)
    assert speaker.voice.state is State.OPEN
    speaker.say("lift away battery", then=3)
    assert len(done(bench)) == 2 and speaker.voice.state is State.CLOSED
    speaker.speaking.switch(False)
    QTest.keyClick(bench.log.canvas, K.Key_F10)
    assert speaker.voice.state is State.OFF and not speaker.speaking.bar.isVisible()


def test_the_start_word_opens_and_talk_does_not(bench, speaker):
    speaker.on()
    speaker.voice.ear._open_until_s = 0
    speaker.say("unplug battery", then=3)  # without it: the grammar has no such sentence
    assert done(bench) == [] and "Not understood" not in speaker.speaking.bar.heard.text()
    speaker.say("odd bolt")
    assert speaker.voice.state is State.OPEN and speaker.speaking.bar.heard.text() == "Yes?"
    speaker.voice.ear._open_until_s = 0
    speaker.say("odd bolt unplug battery", sure=False, then=3)  # talk that is like it
    assert done(bench) == []
    speaker.say("odd bolt unplug battery", then=3)
    assert len(done(bench)) == 1 and speaker.voice.ear.is_open


def test_answers_outcomes_tools_and_choosing_by_voice(bench, speaker):
    speaker.on()
    for sentence in ("unplug printed board", "using tweezers", "destroyed", "cuts the cell", "waiting two minutes",
                     "choose printed board", "lift that off"):
        speaker.say(sentence, then=3)
    joint = now(bench).joints[-1]
    assert joint.isolates == "cell" and joint.ways[0].acts[0].tool == "tweezers" and joint.ways[0].acts[0].wait_s == 120
    assert now(bench).log[1].outcome == "destroyed" and now(bench).log[1].amends == now(bench).log[0].id
    assert now(bench).log[-1].do == "remove"
    assert [offer.choice for offer in bench.log.recorder.offered] == ["clip", "glue"]
    speaker.say("answer two", then=3)
    assert now(bench).joints[-1].kind == "adhesive"  # what held it
    speaker.say("no", then=1)
    assert "Nothing is asked for" in bench.log.echo.text()


def test_a_line_that_means_nothing_is_refused_before_it_waits(bench, speaker):
    speaker.on()
    speaker.say("unplug battery", then=3)
    speaker.say("unplug battery")
    assert "released" in bench.log.echo.text() and speaker.voice.dialogue.waits is None and len(done(bench)) == 1
    speaker.say("unplug battery once more", then=3)
    assert len(done(bench)) == 2


def test_without_the_extra_everything_else_works_and_it_is_said_how_to_add_it(bench, speaker):
    speaker.told.missing = True
    speaker.speaking.switch(True)
    assert "setup/voice" in bench.log.echo.text() and speaker.voice.state is State.OFF
    assert speaker.speaking.page.can.topLevelItemCount() or not speaker.speaking.page.isVisible()
    press(bench, K.Key_K)  # the stopwatch
    assert "setup/voice" not in bench.log.echo.text() or bench.log.above.currentIndex() == 2


def test_a_microphone_that_is_not_there_or_goes_is_said(bench, speaker):
    speaker.microphone.fault = True
    speaker.speaking.switch(True)
    assert "microphone does not answer" in bench.log.echo.text() and speaker.voice.state is State.OFF
    speaker.microphone.fault = False
    speaker.on()
    speaker.microphone.fault = True
    speaker.wait(0.1)
    assert "microphone does not answer" in bench.log.echo.text() and speaker.voice.state is State.OFF
    assert not speaker.speaking.bar.isVisible() and not speaker.speaking.page.switch.isChecked()
    with pytest.raises(InstrumentFault):
        speaker.microphone.start()


def test_a_recogniser_that_stops_is_said_and_asked_again(bench, speaker):
    speaker.on()
    speaker.told.dies = True
    speaker.say("unplug battery")
    assert "say it once more" in bench.log.echo.text() and speaker.voice.is_on
    speaker.told.dies = False
    speaker.say("unplug battery", then=3)
    assert len(done(bench)) == 1


def test_spoken_notes_are_kept_as_sound_and_typed_later(bench, speaker, tmp_path):
    from oddbolt.hearing.sounds import read_wav

    speaker.on()
    speaker.say("unplug battery", then=3)
    speaker.say("spoken note", then=2)
    assert speaker.voice.state is State.NOTING
    speaker.microphone.say(np.random.default_rng(2).normal(0, 4000, 2 * RATE_HZ).astype(np.int16))
    speaker.wait(5)
    entry = now(bench).log[-1]
    assert entry.do == "note" and entry.sound and entry.thing == done(bench)[0][1] and not entry.text
    assert 1.9 < len(read_wav(bench.session.photo(entry.sound))) / RATE_HZ < 5
    page = speaker.speaking.page
    speaker.speaking.show_page()
    settle()
    assert page.notes.count() == 1 and page.typed.isVisible()
    QTest.keyClicks(page.typed, "the plug was loose")
    QTest.keyClick(page.typed, K.Key_Return)
    assert now(bench).log[-1].text == "the plug was loose" and now(bench).log[-1].sound == entry.sound
    assert now(bench).log[-1].amends == entry.id and page.notes.count() == 0 and not page.typed.isVisible()
    bench.undo()
    assert page.notes.count() == 1


def test_a_note_goes_out_and_in_with_the_record_and_stays_when_names_go(bench, speaker, tmp_path):
    from oddbolt.model.giving_away import AUTHOR, PLACE
    from oddbolt.store.twin import export_json, import_json

    speaker.on()
    speaker.voice.begin_note()
    speaker.microphone.say(np.random.default_rng(2).normal(0, 4000, RATE_HZ).astype(np.int16))
    speaker.wait(4)
    name = now(bench).log[-1].sound
    assert export_json(bench.session.document, tmp_path / "out.json", (PLACE,)) == []
    made, left_out = import_json(tmp_path / "out.json", tmp_path / "in.oddbolt")
    assert left_out == [] and made.photo(name) == bench.session.photo(name)
    assert made.teardown.log[-1].sound == name
    made.close()
    left_out = export_json(bench.session.document, tmp_path / "bare.json", (AUTHOR,))
    assert [(one.name, one.why) for one in left_out] == [(name, "spoken")]
    assert not list((tmp_path).glob("bare.photos/*.wav"))
    made, left_out = import_json(tmp_path / "bare.json", tmp_path / "bare.oddbolt")
    assert left_out == [] and made.teardown.log[-1].sound == ""
    made.close()
    (tmp_path / "out.photos" / name).write_bytes(b"\x89PNG\r\n\x1a\n no sound")
    made, left_out = import_json(tmp_path / "out.json", tmp_path / "again.oddbolt")
    assert [one.name for one in left_out] == [name] and made.photo(name) is None
    made.close()


def test_what_can_be_said_is_listed_and_follows_the_record(bench, speaker):
    speaker.speaking.show_page()
    speaker.on()
    settle()
    page = speaker.speaking.page

    def lines():
        tree = page.can
        return {tree.topLevelItem(n).text(0): [tree.topLevelItem(n).child(k).text(0)
                                               for k in range(tree.topLevelItem(n).childCount())]
                for n in range(tree.topLevelItemCount())}

    before = lines()
    assert any("unplug" in line for line in before["What is undone and lifted"])
    assert "With what" not in before
    speaker.say("unplug battery", then=3)
    assert any("using" in line for line in lines()["With what"])


def test_another_record_takes_back_what_waits(bench, speaker):
    speaker.on()
    speaker.say("unplug battery")
    assert speaker.voice.dialogue.is_open
    bench.files.close()
    assert not speaker.voice.dialogue.is_open and not bench.log.recorder.selection.heard


def test_the_second_foot_switch_listens_to_one_sentence(bench, speaker):
    bench.bench().talk_switch.press()
    assert speaker.voice.is_on and speaker.voice.state is State.LOADING
    speaker.wait(0.5)
    assert speaker.voice.state is State.OPEN
    speaker.say("unplug battery", then=3)
    assert len(done(bench)) == 1 and speaker.voice.state is State.CLOSED
    bench.bench().foot_switch.press()  # the first one is the usual act, as ever
    assert [do for do, _ in done(bench)] == ["release", "remove"]


def drawn(grammar, rng):
    pattern = rng.choice(grammar.patterns)
    return " ".join(rng.choice(sorted(slot.phrases)) for slot in pattern.slots
                    if slot.phrases and not (slot.optional and rng.random() < 0.6))


@pytest.mark.parametrize("seed", [1, 2])
def test_any_sentences_in_any_order_break_nothing_and_can_be_taken_back(bench, speaker, seed):
    """Sentences are drawn from what can be said at the moment; Esc, Return and clicks come in between."""
    rng = random.Random(seed)
    speaker.on()
    speaker.voice.pause_s = 0.1
    said = 0
    for _ in range(90):
        speaker.voice.ear.stay_open()
        text = drawn(speaker.voice.grammar(), rng)
        speaker.told.says.append((text, rng.random() < 0.8, drawn(speaker.voice.grammar(), rng)))
        whose = speaker.voice.ear
        speaker.voice._sentences.append((np.zeros(RATE_HZ, np.int16), Working.AWAKE))
        for _ in range(8):
            speaker.voice.poll(PIECE_S)
        speaker.told.says.clear()
        settle()
        if rng.random() < 0.15:
            press(bench, rng.choice((K.Key_Escape, K.Key_Return)))
        if not speaker.voice.is_on or speaker.voice.ear is not whose:
            speaker.on()
        said += 1
        assert bench.log.recorder.selection.heard == speaker.voice.dialogue.is_open
    assert said == 90 and len(now(bench).log) > 10
    speaker.speaking.switch(False)
    for _ in range(len(bench.session.document.commands())):
        bench.session.undo()
    assert not now(bench).log and not now(bench).views
