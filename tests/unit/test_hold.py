"""One writer on a file, by whatever name; what another program does to it is noticed; nothing planted works."""

from __future__ import annotations

import os
import shutil
import sqlite3
import stat

import pytest

from oddbolt.model import exchange
from oddbolt.model.refusal import Refusal
from oddbolt.session.session import Session
from oddbolt.session.verbs.entries import note
from oddbolt.store.document import Document
from oddbolt.store.files import is_document, read_bytes, read_teardown


@pytest.fixture
def path(tmp_path, example):
    path = tmp_path / "one.oddbolt"
    Document.create(path, exchange.from_json(example)).close()
    return path


def refused(does):
    with pytest.raises(Refusal) as caught:
        does()
    return caught.value.code


def test_a_link_or_another_name_lets_nobody_else_in(path, tmp_path):
    (tmp_path / "soft.oddbolt").symlink_to(path)
    os.link(path, tmp_path / "hard.oddbolt")
    with Document.open(tmp_path / "soft.oddbolt"):
        for name in ("one", "soft", "hard"):
            assert refused(lambda name=name: Document.open(tmp_path / f"{name}.oddbolt")) == "open-elsewhere"
        path.rename(tmp_path / "renamed.oddbolt")
        assert refused(lambda: Document.open(tmp_path / "renamed.oddbolt")) == "open-elsewhere"
    Document.open(tmp_path / "hard.oddbolt").close()


def test_a_document_that_was_moved_is_not_written_to_and_goes_on_when_it_is_back(path, tmp_path):
    session = Session(Document.open(path))
    session.do(note, "one", 1)
    path.rename(tmp_path / "away.oddbolt")
    assert refused(lambda: session.do(note, "two", 2)) == "moved-away"
    (tmp_path / "away.oddbolt").rename(path)
    session.do(note, "three", 3)
    session.close()
    assert [e.text for e in read_teardown(path).log][-2:] == ["one", "three"]


def test_an_act_of_another_program_is_never_taken_back(path):
    """Somebody writes past the lock, as a program of another kind may: no act of theirs is lost, none of ours twice."""
    session = Session(Document.open(path))
    told = []
    session.listen(lambda change: told.append(change.kind))
    session.do(note, "ours", 1)
    other = tmp_copy_writer(path)
    assert refused(lambda: session.do(note, "too late", 2)) == "changed-elsewhere"
    assert told[-1] == "opened" and [e.text for e in session.teardown.log][-2:] == ["ours", other]
    session.undo()  # what is taken back is the last act that is there, whoever did it, and only that
    assert session.teardown.log[-1].text == "ours"
    session.do(note, "ours again", 3)
    session.close()
    assert [e.text for e in read_teardown(path).log][-2:] == ["ours", "ours again"]


def tmp_copy_writer(path):
    """Another writer on a copy, whose pages then come into the file in place, as a careless synchroniser does it."""
    copy = path.with_name("copy.oddbolt")
    shutil.copyfile(path, copy)
    other = Session(Document.open(copy))
    other.do(note, "theirs", 2)
    other.close()
    shutil.copyfile(copy, path)
    copy.unlink()
    return "theirs"


def test_a_writer_through_sqlite_itself_is_noticed(path):
    session = Session(Document.open(path))
    session.do(note, "ours", 1)
    db = sqlite3.connect(path)
    db.execute("INSERT OR REPLACE INTO desk VALUES ('x', '1')")
    db.commit()
    db.close()
    assert refused(session.undo) == "changed-elsewhere"
    session.undo()
    assert session.on_desk("x") == 1
    session.close()


def test_what_is_put_in_its_place_is_not_written_to(path):
    """Overwritten in place with something else: refused from then on; what was read stays to be exported."""
    session = Session(Document.open(path))
    session.do(note, "ours", 1)
    path.write_bytes(b"something else" * 1000)
    assert refused(lambda: session.do(note, "two", 2)) == "overwritten"
    assert refused(session.undo) in ("overwritten", "document-damaged", "document-unreadable")
    assert refused(lambda: session.do(note, "three", 3)) == "overwritten"
    assert session.teardown.log[-1].text == "ours"
    session.close()
    assert path.read_bytes() == b"something else" * 1000


def test_planted_lock_files_and_links_are_left_alone(path, tmp_path):
    victim = tmp_path / "victim"
    victim.write_text("kept")
    for name in (".one.oddbolt.lock", "one.oddbolt-journal.x"):
        (tmp_path / name).symlink_to(victim)
    with Document.open(path) as document:
        document.keep_on_desk("x", 1)
    assert victim.read_text() == "kept" and (tmp_path / ".one.oddbolt.lock").is_symlink()
    (tmp_path / "dangling.oddbolt").symlink_to(tmp_path / "nowhere")
    with Document.open(path) as document:
        assert refused(lambda: Document.create(tmp_path / "dangling.oddbolt", document.teardown)) == "file-exists"
        assert refused(lambda: document.copy_to(tmp_path / "dangling.oddbolt")) == "file-exists"
    assert not (tmp_path / "nowhere").exists()


@pytest.mark.parametrize("make", ["fifo", "folder", "device", "nothing", "null byte", "loop"])
def test_what_is_no_file_is_refused_at_once(make, tmp_path):
    path = tmp_path / "x.oddbolt"
    if make == "fifo":
        os.mkfifo(path)
    elif make == "folder":
        path.mkdir()
    elif make == "device":
        path = type(path)("/dev/zero")
    elif make == "null byte":
        path = tmp_path / "a\0b"
    elif make == "loop":
        path.symlink_to(path)
    for does in (Document.open, read_bytes, read_teardown):
        assert refused(lambda does=does: does(path)) in ("no-such-file", "is-a-folder", "no-file-of-data", "unreadable")
    assert is_document(path) is False


def test_a_copy_is_whole_and_the_open_one_goes_on(path, tmp_path):
    session = Session(Document.open(path))
    session.document.add_photo("a.jpg", b"photo", b"t")
    session.do(note, "one", 1)
    session.document.copy_to(tmp_path / "copy.oddbolt")
    session.do(note, "two", 2)
    session.close()
    with Document.open(tmp_path / "copy.oddbolt") as copy:
        assert copy.teardown.log[-1].text == "one" and copy.photo("a.jpg") == b"photo" and copy.undo() is not None
    with Document.open(path) as document:
        assert refused(lambda: document.copy_to(tmp_path / "copy.oddbolt")) == "file-exists"


def test_a_failed_creation_leaves_no_file(tmp_path, example, monkeypatch):
    def fails(document):
        raise OSError(28, "No space left on device")

    assert refused(lambda: Document.create(tmp_path / "a.oddbolt", exchange.from_json(example), fails)) == \
        "document-not-made"
    assert list(tmp_path.iterdir()) == []
    assert stat.S_ISDIR(tmp_path.stat().st_mode)
