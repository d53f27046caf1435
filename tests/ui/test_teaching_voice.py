"""Teaching the program a voice at the window: with a teacher that knows what was read, so that it runs without the
extra. What is really learned: tests/oracles/test_voice.py.
"""

from __future__ import annotations

from concurrent.futures import Future
from concurrent.futures.process import BrokenProcessPool

import numpy as np
import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QDialog

from oddbolt.hearing.acoustic import EACH, STREAMS, WIDE, OwnVoice
from oddbolt.hearing.listener import RATE_HZ, NoListener
from oddbolt.instruments.microphones import SimulatedMicrophone
from oddbolt.session.speaking.lesson import Stage, teaching_sentences
from oddbolt.store import preferences
from oddbolt.store.own_voices import known_voices, read_voice, write_voice
from oddbolt.ui.log.speaking.teaching import TeachingSheet
from tests.ui_fixtures import settle

VOICE = OwnVoice({"AA": np.full((STREAMS, EACH, WIDE), 0.25)}, ("lot-rounded",))


class Teacher:
    """Takes every sentence for the right one, or what it is told."""

    def __init__(self):
        self.says, self.texts, self.stopped = [], [], 0
        self.missing = self.dies = False
        self.voice = VOICE

    def _now(self, value):
        done = Future()
        if self.dies:
            done.set_exception(BrokenProcessPool())
        else:
            done.set_result(value)
        return done

    def begin(self):
        if self.missing:
            raise NoListener("No module named 'pocketsphinx'")
        return self._now(True)

    def read(self, text, samples):
        assert len(samples) > 0.2 * RATE_HZ
        self.texts.append(text)
        return self._now(self.says.pop(0) if self.says else True)

    def learned(self):
        return self._now(self.voice)

    def stop(self):
        self.stopped += 1


class Reader:
    def __init__(self, bench):
        self.teacher, self.microphone = Teacher(), SimulatedMicrophone(piece_s=0.1)
        self.sheet = TeachingSheet(bench.log, bench.log.colours, self.microphone, self.teacher)
        self.sheet._timer.setInterval(10_000_000)  # the test says when time goes on
        self.sheet.show()

    def begin(self, name="Tilda"):
        self.sheet.name.setText(name)
        QTest.mouseClick(self.sheet.begin, Qt.MouseButton.LeftButton)
        self.wait(0.5)

    def wait(self, seconds):
        for _ in range(round(seconds / 0.1)):
            if self.sheet._timer.isActive():
                self.sheet.poll()
        settle()

    def read(self, times=1):
        for _ in range(times):
            self.microphone.say(np.random.default_rng(1).normal(0, 5000, RATE_HZ // 2).astype(np.int16))
            self.wait(2.0)


@pytest.fixture(autouse=True)
def own_folders(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))


@pytest.fixture
def reader(bench):
    return Reader(bench)


def test_a_voice_is_taught_kept_and_listened_to(bench, reader, monkeypatch):
    sentences = teaching_sentences()
    reader.begin()
    sheet = reader.sheet
    assert sheet.sentence.text() == sentences[0] and sheet.state.text() == "1 of 32: read it aloud"
    assert not sheet.begin.isVisible()
    reader.teacher.says = [True, False]
    reader.read()
    assert sheet.sentence.text() == sentences[1] and sheet.progress.value() == 1
    reader.read()
    assert sheet.sentence.text() == sentences[1] and "once more" in sheet.state.text()
    reader.read(len(sentences) - 1)
    assert sheet.result() == QDialog.DialogCode.Accepted and not reader.microphone.is_on and reader.teacher.stopped
    assert reader.teacher.texts == [sentences[0], sentences[1], *sentences[1:]]
    assert known_voices() == ["Tilda"]
    kept = read_voice("Tilda")
    assert kept.ways == VOICE.ways and np.allclose(kept.offsets["AA"], VOICE.offsets["AA"])
    # The page: whose voice is heard, by the recogniser too, now and after the next start.
    speaking = bench.log.speaking
    used = []
    monkeypatch.setattr(speaking.voice.listener, "use", used.append)
    speaking.hear_voice_of("Tilda")
    assert used[0].ways == VOICE.ways and preferences.read().voice == "Tilda"
    assert speaking.page.whose.currentText() == "Tilda"
    speaking.page.forget.click()
    assert known_voices() == ["Tilda"] and speaking.page.forget.text() == "Really?"
    speaking.page.forget.click()
    assert known_voices() == [] and used[-1] is None and preferences.read().voice == ""
    assert speaking.page.whose.count() == 1 and speaking.page.forget.isHidden()


def test_the_button_opens_the_sheet_and_the_learned_voice_is_used(bench, monkeypatch):
    shown = []

    def read_at_once(sheet):
        shown.append(sheet)
        sheet.name.setText("Tilda")
        write_voice("Tilda", VOICE)
        return QDialog.DialogCode.Accepted

    monkeypatch.setattr(TeachingSheet, "exec", read_at_once)
    bench.log.speaking.show_page()
    bench.log.speaking.page.teach.click()
    assert shown and bench.log.speaking.page.whose.currentText() == "Tilda" and preferences.read().voice == "Tilda"


def test_enough_is_ten_sentences_and_what_is_left_out_does_not_count(reader):
    reader.begin()
    sheet = reader.sheet
    for _ in range(3):
        QTest.mouseClick(sheet.leave_out, Qt.MouseButton.LeftButton)
    assert sheet.sentence.text() == teaching_sentences()[3] and reader.teacher.texts == []
    reader.read(9)
    assert not sheet.enough.isEnabled()
    reader.read()
    assert sheet.enough.isEnabled()
    QTest.mouseClick(sheet.enough, Qt.MouseButton.LeftButton)
    reader.wait(0.5)
    assert known_voices() == ["Tilda"]


def test_too_little_read_keeps_nothing_and_can_be_begun_again(reader):
    reader.begin()
    for _ in teaching_sentences():
        QTest.mouseClick(reader.sheet.leave_out, Qt.MouseButton.LeftButton)
    assert "Too few" in reader.sheet.problem.text() and known_voices() == [] and not reader.microphone.is_on
    QTest.mouseClick(reader.sheet.begin, Qt.MouseButton.LeftButton)
    reader.wait(0.5)
    assert reader.sheet.sentence.text() == teaching_sentences()[0] and reader.sheet.lesson.stage is Stage.READING


@pytest.mark.parametrize("name", ["", "  ", "a/b", ".hidden", "x" * 80])
def test_a_name_that_no_file_can_have_is_refused_before_anybody_reads(reader, name):
    reader.begin(name)
    assert reader.sheet.problem.text() and not reader.microphone.is_on and known_voices() == []


@pytest.mark.parametrize("fault", ["missing", "dies", "microphone"])
def test_what_is_not_there_or_goes_away_is_said(reader, fault):
    if fault == "missing":
        reader.teacher.missing = True
    reader.begin()
    if fault == "dies":
        reader.teacher.dies = True
        reader.read()
    if fault == "microphone":
        reader.microphone.fault = True
        reader.wait(0.3)
    assert reader.sheet.problem.text() and reader.sheet.begin.isVisible() and not reader.sheet._timer.isActive()
    assert known_voices() == []


def test_cancelled_nothing_is_kept(reader):
    reader.begin()
    reader.read(12)
    QTest.mouseClick(reader.sheet.cancel, Qt.MouseButton.LeftButton)
    assert known_voices() == [] and not reader.microphone.is_on and reader.teacher.stopped


def test_a_voice_of_that_name_is_said_to_be_learned_anew(reader):
    write_voice("Tilda", VOICE)
    reader.sheet.name.setText("Tilda")
    assert "anew" in reader.sheet.problem.text()
    reader.sheet.name.setText("Tilda B")
    assert reader.sheet.problem.text() == ""


def test_a_file_of_a_voice_that_is_none_is_said_and_anybody_is_heard(bench):
    write_voice("Tilda", VOICE)
    from oddbolt.store.by_name import path_of
    from oddbolt.store.own_voices import FOLDER

    said = []
    bench.log.say = lambda text, *, alarm=False: said.append((text, alarm))
    for body in (b"", b"{}", b"[" * 5000, b'{"format": "oddbolt-voice", "version": 1, "model": "pocketsphinx en-us", '
                 b'"ways": [], "offsets": {"AA": [[1, 2]]}}'):
        path_of(FOLDER, "Tilda").write_bytes(body)
        bench.log.speaking.hear_voice_of("Tilda")
        assert said[-1][1] and "Tilda" in said[-1][0] and bench.log.speaking.page.whose.currentIndex() == 0
