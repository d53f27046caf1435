"""What can go wrong while recording: kills, a full disk, a read-only file, a second window, odd photographs."""

from __future__ import annotations

import random
import signal
import sqlite3
import subprocess
import sys
import time

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest

from oddbolt.model import exchange
from oddbolt.model.refusal import Refusal
from oddbolt.paint.images import image_size, make_thumb, read_image
from oddbolt.session.standing import next_part
from oddbolt.session.verbs import entries
from oddbolt.store.document import Document
from tests.ui_fixtures import photo_bytes, wait_for

RECORDER = """
import hashlib, random, sys
from pathlib import Path
from oddbolt.model.things import View
from oddbolt.session.session import Session
from oddbolt.session.verbs import entries, lifting, marking, photos
from oddbolt.session.verbs.marking import Kind
from oddbolt.session.verbs.plain import free_id
from oddbolt.store.document import Document

session = Session(Document.open(Path(sys.argv[1])))
rng = random.Random(sys.argv[2])
n = 0
while True:
    t = session.teardown
    kind = n % 5
    if kind == 0:
        body = rng.randbytes(200_000)
        name = session.take_photo(f"p{len(t.views)}.jpg", body, b"thumb")
        session.do(photos.add_view, View(id=free_id(t, "v"), photo=name))
        done = f"photo {name} {hashlib.sha256(body).hexdigest()}"
    elif kind == 1:
        joint = session.do(marking.mark_new, t.views[-1].id, Kind(joint="clip"), [(n % 99, 5)]).made
        done = f"joint {joint}"
    elif kind == 2:
        session.do(lifting.release, joint, n)
        done = f"entry {session.teardown.log[-1].id}"
    elif kind == 3:
        part = session.do(lifting.lift_as, "bracket", n, view_id=t.views[-1].id).made
        done = f"part {part}"
    else:
        session.do(entries.note, "taken back and done again", n)
        session.undo()
        session.redo()
        done = f"entry {session.teardown.log[-1].id}"
    n += 1
    print(done, flush=True)
"""


def test_killed_at_a_random_moment_of_recording_nothing_acknowledged_is_lost(tmp_path, example, long_run):
    import hashlib

    rng = random.Random(5)
    path = tmp_path / "one.oddbolt"
    Document.create(path, exchange.from_json(example)).close()
    for number in range(200 if long_run else 15):
        process = subprocess.Popen([sys.executable, "-c", RECORDER, str(path), str(number)], stdout=subprocess.PIPE,
                                   text=True)
        first = process.stdout.readline()
        time.sleep(rng.uniform(0, 0.15))
        process.send_signal(signal.SIGKILL)
        lines = [first, *process.communicate()[0].split("\n")]
        with Document.open(path) as document:
            record = document.teardown
            entries = {entry.id for entry in record.log}
            for line in lines[:-1]:
                kind, name, *digest = line.split() or ("", "")
                if kind == "photo":
                    assert hashlib.sha256(document.photo(name)).hexdigest() == digest[0]
                    assert any(view.photo == name for view in record.views)
                elif kind:
                    assert name in {"joint": record.joint, "part": record.part, "entry": entries}[kind]


def test_a_full_disk_refuses_the_act_and_keeps_the_rest(make_window, tmp_path):
    window = make_window()
    db = window.session.document._db
    pages = db.execute("PRAGMA page_count").fetchone()[0]
    db.execute(f"PRAGMA max_page_count = {pages}")
    before = window.session.teardown
    photo = photo_bytes(tmp_path / "big.jpg", 0x123456)
    assert window.log.states.add_file(photo) is False
    assert "could not be written" in window.log.echo.text() and "free some space" in window.log.echo.text()
    assert window.session.teardown is before
    db.execute("PRAGMA max_page_count = 1000000")
    assert window.log.states.add_file(photo) is True


def test_a_file_that_may_not_be_written_is_refused_with_the_reason(make_window, monkeypatch, tmp_path):
    window = make_window()

    def deny(*_):
        raise sqlite3.OperationalError("attempt to write a readonly database")

    document = window.session.document
    monkeypatch.setattr(document, "_db", type("Denied", (), {"execute": deny})())
    with pytest.raises(Refusal) as refused:
        label, after, _ = entries.note(document.teardown, "x", 1)
        document.commit(after, label, "now")
    assert "readonly" in str(refused.value)
    monkeypatch.undo()


def test_a_second_window_is_refused_and_the_first_goes_on(make_window):
    window = make_window()
    path = window.session.path
    with pytest.raises(Refusal) as refused:
        Document.open(path)
    assert refused.value.code == "open-elsewhere"
    other = path.with_name("other.oddbolt")
    with Document.create(other, window.session.teardown):
        assert window.files.open_path(other) is False and "another window" in window.message.informativeText()
    window.message.close()
    window.log.choose("cover")
    QTest.keyClick(window.log.canvas, Qt.Key.Key_L)
    assert window.session.teardown.log[-1].thing == "cover"


@pytest.mark.parametrize(("width", "height"), [(12000, 8000), (10000, 600)])
def test_photographs_out_of_all_proportion_are_taken_and_shown(make_window, tmp_path, width, height):
    """96 megapixels, and a panorama: a preview first, then what can be held."""
    image = QImage(width, height, QImage.Format.Format_RGB32)
    image.fill(0x335544)
    path = tmp_path / "huge.jpg"
    assert image.save(str(path), "JPEG", 50)
    del image
    window = make_window()
    assert window.log.states.add_file(path)
    wait_for(lambda: window.log.states.photos.get("huge.jpg") is not None)
    assert window.log.canvas.sceneRect().width() == width  # marks stay in pixels of the whole photograph
    shown = window.log.states.photos.get("huge.jpg")
    assert max(shown.width(), shown.height()) <= 10000 and shown.width() > 2000
    window.log.states.previous_photo()
    assert "State 2 of 3" in window.log.state.text()


@pytest.mark.parametrize("body", [b"", b"\xff\xd8\xff\xe0broken", b"\x89PNG\r\n\x1a\nbroken", b"RIFF0000WEBPbroken"])
def test_broken_photographs_are_refused(make_window, tmp_path, body):
    window = make_window()
    path = tmp_path / "broken.jpg"
    path.write_bytes(body)
    assert window.log.states.add_file(path) is False
    assert "not a photograph" in window.log.echo.text() and len(window.session.teardown.views) == 2
    assert make_thumb(body) == b"" and read_image(body).isNull() and (image_size(body) is None or body)


def test_a_photograph_cut_short_is_shown_as_far_as_it_goes_or_refused(make_window, tmp_path):
    whole = photo_bytes(tmp_path / "whole.jpg").read_bytes()
    path = tmp_path / "cut.jpg"
    path.write_bytes(whole[:len(whole) // 2])
    window = make_window()
    taken = window.log.states.add_file(path)
    assert taken is (len(window.session.teardown.views) == 3)


def test_a_command_that_fails_halfway_changes_nothing(make_window):
    window = make_window()
    before = window.session.teardown
    window.log.recorder.do(entries.reach, ["nothing"], 1)
    assert "no part or joint" in window.log.echo.text() and window.session.teardown is before
    assert next_part(before) == ""
