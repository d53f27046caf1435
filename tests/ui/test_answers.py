"""Answers that follow the record: faint while they are old, never of another record, and failures are said."""

from __future__ import annotations

import threading
import time

import pytest
from PySide6.QtCore import QObject
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from oddbolt.session.verbs.entries import note
from oddbolt.session.verbs.parts import set_parts
from oddbolt.ui.background import answer as answers
from oddbolt.ui.background import errors
from oddbolt.ui.background.answer import Answer
from oddbolt.ui.background.jobs import GIVES_WAY_S, TURN, Jobs
from oddbolt.ui.log import depths
from tests.ui_fixtures import jobs_running, settle, wait_for


class Shown:
    """One answer of a window's session, and all that was shown of it."""

    def __init__(self, window):
        self.parent = QWidget()
        self.values, self.failures, self.faint = [], [], []
        self.answer = Answer(self.parent, window.session, self.values.append, self.failures.append,
                             faint=self.faint.append)


@pytest.fixture
def shown(make_window):
    window = make_window()
    made = Shown(window)
    made.session = window.session
    yield made
    made.answer.stop()


def test_an_answer_is_faint_until_the_newer_one_is_there(shown):
    may_end = threading.Event()

    def work():
        may_end.wait(5)
        yield "new"

    shown.answer.give("old")
    assert (shown.values, shown.faint[-1]) == (["old"], False)
    shown.session.do(note, "something", 1)
    shown.answer.ask(work)
    assert shown.faint[-1] is True and shown.answer.is_stale and shown.values == ["old"]
    may_end.set()
    wait_for(lambda: shown.values == ["old", "new"])
    assert shown.faint[-1] is False and not shown.answer.is_stale


def test_an_answer_of_a_record_that_is_past_is_never_shown(shown):
    may_end = threading.Event()

    def work():
        may_end.wait(5)
        yield "late"

    shown.answer.ask(work)
    shown.session.do(note, "something", 1)
    may_end.set()
    wait_for(lambda: not jobs_running())
    settle()
    assert shown.values == []
    shown.answer.ask(lambda: iter(["asked anew"]))
    wait_for(lambda: shown.values == ["asked anew"])


def test_what_was_slow_waits_until_the_record_is_left_alone(shown, monkeypatch):
    """A slow answer begins anew once for a row of acts, not once for each."""
    monkeypatch.setattr(answers, "SLOW_S", 0.05)
    begun = []

    def work():
        begun.append(1)
        time.sleep(0.1)
        yield len(begun)

    shown.answer.ask(work)
    wait_for(lambda: shown.values)
    for n in range(5):
        shown.session.do(note, f"act {n}", n)
        shown.answer.ask(work)
        assert shown.faint[-1] is True
    assert len(begun) == 1
    wait_for(lambda: len(shown.values) == 2)
    assert len(begun) == 2 and shown.faint[-1] is False


def test_a_job_that_fails_is_said_and_written_down(shown, expected_errors):
    def work():
        yield None
        raise ZeroDivisionError("planted")

    shown.answer.ask(work)
    wait_for(lambda: shown.failures)
    assert "ZeroDivisionError" in shown.failures[0] and "What went wrong" in shown.failures[0]
    assert shown.values == [] and shown.faint[-1] is False
    assert len(expected_errors) == 1 and "planted" in expected_errors[0] and "Traceback" in expected_errors[0]
    expected_errors.clear()


def test_nobody_may_leave_out_what_happens_when_a_job_fails():
    with pytest.raises(TypeError):
        Jobs(QWidget()).start("x", lambda: iter(()), lambda value: None)


def test_jobs_rest_while_an_act_is_shown(shown):
    """Work that asks whether it is to stop waits until the act has been drawn."""
    rounds = []

    def work(stop):
        while not stop() and len(rounds) < 100_000:
            rounds.append(time.monotonic())
            time.sleep(0.0005)
        yield None

    shown.answer.ask(work)
    wait_for(lambda: len(rounds) > 3)
    TURN.give_way()
    time.sleep(0.02)
    before = len(rounds)
    time.sleep(0.1)  # no event is handled meanwhile: the act goes on
    assert len(rounds) == before
    QTest.qWait(60)
    wait_for(lambda: len(rounds) > before)
    assert GIVES_WAY_S < 10
    shown.answer.cancel()
    wait_for(lambda: not jobs_running())


def test_depths_of_an_older_record_are_faint(make_window, monkeypatch):
    """On a device whose depths take a while; at once on a small one."""
    monkeypatch.setattr(depths, "AT_ONCE", -1)
    may_end = threading.Event()
    real = depths._plans

    def slowly(derived, parts, stop):
        may_end.wait(10)
        yield from real(derived, parts, stop)

    window = make_window()
    list_ = window.log.depths
    wait_for(lambda: list_.topLevelItemCount() and not list_.is_faint)

    def colours():
        return {list_.topLevelItem(n).foreground(0).color().name() for n in range(list_.topLevelItemCount())}

    fresh = colours()
    monkeypatch.setattr(depths, "_plans", slowly)
    window.session.do(set_parts, ["cover"], mass_g=12.0)
    wait_for(lambda: list_.is_faint)
    assert colours() != fresh, "one can see that they are old"
    may_end.set()
    wait_for(lambda: not list_.is_faint)
    assert colours() == fresh


def test_what_went_wrong_can_be_read_and_copied(make_window, tmp_path, monkeypatch, app):
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    window = make_window()
    window.help.show_what_went_wrong()
    assert not window.help.wrong.copy.isEnabled()
    window.help.wrong.close()
    handlers = list(errors.LOG.handlers)
    import sys

    from PySide6.QtCore import qInstallMessageHandler
    before = sys.excepthook, threading.excepthook
    told = []
    errors.listen(told.append)
    try:
        own = [handler for handler in errors.LOG.handlers if handler not in handlers]
        monkeypatch.setattr(errors.LOG, "handlers", own)
        try:
            raise KeyError("a planted error")
        except KeyError:
            sys.excepthook(*sys.exc_info())
        thread = threading.Thread(target=lambda: 1 / 0)
        thread.start()
        thread.join()
    finally:
        sys.excepthook, threading.excepthook = before
        qInstallMessageHandler(None)
        for handler in own:
            handler.close()
    assert told == ["KeyError", "ZeroDivisionError"]
    window.help.show_what_went_wrong()
    text = window.help.wrong.text.toPlainText()
    assert "a planted error" in text and "ZeroDivisionError" in text and "Traceback" in text
    window.help.wrong.copy.click()
    assert "a planted error" in app.clipboard().text()
    window.help.wrong.close()


def test_the_window_never_rests_for_what_a_job_tells_it(app):
    """What a job had to say arrives while an act is being done: it is heard at once, the window waits for nothing."""
    told, owner = [], QObject()
    jobs = Jobs(owner)
    job = jobs.start("late", lambda: iter((1, 2)), told.append, lambda words: told.append(words))
    job.wait()  # its signals are on their way
    TURN.give_way()
    start = time.monotonic()
    QApplication.processEvents()
    assert told == [2] and time.monotonic() - start < GIVES_WAY_S / 4
    jobs.stop_all()
    wait_for(lambda: TURN._rest_until == 0.0)
