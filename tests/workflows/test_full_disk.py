"""A disk that is really full: a small file system in memory, where that may be mounted."""

from __future__ import annotations

import shutil
import sqlite3
import subprocess
from contextlib import closing

import pytest

from oddbolt.model import exchange
from oddbolt.model.refusal import Refusal
from oddbolt.session.session import Session
from oddbolt.session.verbs.entries import note
from oddbolt.store.document import Document
from oddbolt.store.files import read_teardown
from oddbolt.store.twin import export_json, import_json
from oddbolt.words.refusals import refusal_text


@pytest.fixture
def small_disk(tmp_path):
    place = tmp_path / "disk"
    place.mkdir()
    try:
        made = subprocess.run(["mount", "-t", "tmpfs", "-o", "size=600k", "tmpfs", str(place)], capture_output=True,
                              check=False)
    except FileNotFoundError:
        pytest.skip("there is no mount here")
    if made.returncode:
        pytest.skip("a file system may not be mounted here")
    yield place
    subprocess.run(["umount", str(place)], check=True)


def fill(place):
    """To the last byte; returns the file to delete for room again."""
    path = place / "filler"
    with path.open("wb", buffering=0) as file:
        try:
            while True:
                file.write(bytes(1024))
        except OSError:
            return path


def test_each_act_on_a_full_disk_is_refused_with_its_reason_and_nothing_is_lost(small_disk, example, long_run):
    path = small_disk / "one.oddbolt"
    session = Session(Document.create(path, exchange.from_json(example)))
    said, kept = set(), 0
    filler = fill(small_disk)
    tried = refused = 0
    while refused < (720 if long_run else 120):
        tried += 1
        before = session.teardown
        act = (lambda: session.do(note, "x" * 300, 1), session.undo, session.redo,
               lambda: session.take_photo("a.jpg", bytes(9000), b""))[tried % 4]
        try:
            act()
        except Refusal as refusal:
            refused += 1
            said.add(refusal_text(refusal))
            assert refusal.code == "not-written" and "full" in refusal.data["error"]
            assert session.teardown is before
        assert tried < 5000
    assert all("free some space" in text for text in said)
    assert exchange.to_json(read_teardown(path)) == exchange.to_json(session.teardown)
    filler.unlink()
    session.do(note, "there is room again", 1)
    session.close()
    with Document.open(path) as document:
        assert document.teardown.log[-1].text == "there is room again" and kept == 0


def test_what_cannot_be_made_leaves_no_file(small_disk, example, tmp_path):
    teardown = exchange.from_json(example)
    source = tmp_path / "in.json"
    source.write_text(exchange.dumps(teardown))
    with Document.create(tmp_path / "elsewhere.oddbolt", teardown) as document:
        document.add_photo("v0.jpg", bytes(5000))
        filler = fill(small_disk)
        for does in (lambda: Document.create(small_disk / "a.oddbolt", teardown),
                     lambda: import_json(source, small_disk / "b.oddbolt"),
                     lambda: document.copy_to(small_disk / "c.oddbolt"),
                     lambda: export_json(document, small_disk / "d.json")):
            with pytest.raises(Refusal) as caught:
                does()
            assert "full" in str(caught.value) or "No space" in str(caught.value)
        left = {path.name for path in small_disk.rglob("*") if path.is_file()}
        assert left == {filler.name}


def broken_off(path, where):
    """What a writer leaves that was killed in the middle: pages written, and the journal that takes them back."""
    with closing(sqlite3.connect(path, isolation_level=None)) as db:
        db.execute("PRAGMA cache_size = 1")
        db.execute("BEGIN IMMEDIATE")
        for n in range(40):
            db.execute("INSERT INTO desk VALUES (?, ?)", (f"d{n}", '"' + "x" * 3000 + '"'))
        for suffix in ("", "-journal"):
            shutil.copyfile(f"{path}{suffix}", f"{where}{suffix}")
        db.execute("ROLLBACK")


def test_a_journal_on_a_medium_that_cannot_be_written_to_is_told_with_what_to_do(small_disk, example, tmp_path):
    path = tmp_path / "one.oddbolt"
    Document.create(path, exchange.from_json(example)).close()
    there = small_disk / "one.oddbolt"
    broken_off(path, there)
    assert (small_disk / "one.oddbolt-journal").stat().st_size > 512
    subprocess.run(["mount", "-o", "remount,ro", str(small_disk)], check=True)
    for read in (lambda: Document.open(there), lambda: Document.open(there, read_only=True),
                 lambda: read_teardown(there)):
        with pytest.raises(Refusal) as refused:
            read()
        told = refusal_text(refused.value)
        assert refused.value.code in ("journal-left", "file-not-writable")
        assert "journal" in told or "can be written to" in told
    with pytest.raises(Refusal) as refused:
        Document.open(there, read_only=True)
    assert "one.oddbolt-journal together" in refusal_text(refused.value)
    for suffix in ("", "-journal"):  # as it is advised
        shutil.copyfile(f"{there}{suffix}", tmp_path / f"copy.oddbolt{suffix}")
    with Document.open(tmp_path / "copy.oddbolt") as copy:
        assert copy.on_desk("d0") is None and exchange.dumps(copy.teardown) == exchange.dumps(
            exchange.from_json(example))
