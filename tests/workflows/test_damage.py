"""Documents that are not as we left them: refused or used as they were, never changed unseen, and mended as far as it
goes."""

from __future__ import annotations

import json
import os
import sqlite3
import subprocess
import sys
from collections import Counter

import pytest

from oddbolt.model import exchange
from oddbolt.model.refusal import Refusal
from oddbolt.session.session import Session
from oddbolt.session.verbs.entries import note
from oddbolt.store.document import Document
from oddbolt.store.repair import repair
from tests.oracles.damage import random_damage
from tests.oracles.random_devices import random_device
from tests.ui_fixtures import wait_for

COMMANDS = 70  # more than are left unfolded when a document is closed


@pytest.fixture(scope="module")
def sound(tmp_path_factory):
    """A document with a history, folded once, something undone, photographs and something on the desk."""
    path = tmp_path_factory.mktemp("sound") / "one.oddbolt"
    with Document.create(path, exchange.from_json(random_device(3, 25))) as document:
        for n in range(3):
            document.add_photo(f"p{n}.jpg", bytes([n]) * (3000 + 9000 * n), b"thumb")
    session = Session(Document.open(path))
    for n in range(COMMANDS):
        session.do(note, f"note {n}", n)
    session.close()
    session = Session(Document.open(path))
    for n in range(5):
        session.do(note, f"later {n}", n)
    session.undo()
    session.keep_on_desk("countdowns", [{"thing": "x"}])
    session.close()
    return path


def said(document):
    return exchange.to_json(document.teardown), [(c.number, c.at, c.label, c.undone) for c in document.commands()]


def use(path, truth, photos):
    """Open it and do what a person does; everything that goes on must be as it was. Refusals end it."""
    with Document.open(path, read_only=True) as document:
        assert said(document) == truth
    document = Document.open(path)
    try:
        assert said(document) == truth
        for name in document.photo_names():
            try:
                body = document.photo(name)
            except Refusal:
                continue
            assert body is None or body == photos.get(name)
            assert document.thumb(name) in (None, b"thumb")
        session = Session(document)
        session.on_desk("countdowns")
        for does in (session.undo, session.undo, session.redo, session.redo, session.redo):
            does()
        session.do(note, "one more", 1)
    finally:
        document.close()
    with Document.open(path, read_only=True) as document:
        assert document.teardown.log[-1].text == "one more"


def test_damaged_documents_are_refused_or_as_they_were(sound, tmp_path, long_run, capsys):
    """Aim: no error but a Refusal, no record and no photograph changed unseen; each mended or refused whole."""
    with Document.open(sound, read_only=True) as document:
        truth, photos = said(document), {name: document.photo(name) for name in document.photo_names()}
    whole, path, mended = sound.read_bytes(), tmp_path / "d.oddbolt", tmp_path / "m.oddbolt"
    tried, refused, repaired = Counter(), Counter(), Counter()
    for seed in range(3000 if long_run else 110):
        path.write_bytes(whole)
        kind = random_damage(path, seed)
        broken = path.read_bytes()
        tried[kind] += 1
        try:
            use(path, truth, photos)
        except Refusal:
            refused[kind] += 1
            path.write_bytes(broken)
            try:
                *_, done = repair(path, mended)
            except Refusal:
                pass
            else:
                repaired[kind] += 1
                with Document.open(mended) as document:
                    for name in document.photo_names():
                        assert document.photo(name) == photos[name]
                mended.unlink()
        assert sorted(p.name for p in tmp_path.iterdir() if not p.name.startswith("d.")) == []
        for left in tmp_path.glob("d.*"):
            left.unlink()
    with capsys.disabled():
        print("\ndamage: tried, refused, of these mended")
        for kind in tried:
            print(f"  {kind}: {tried[kind]}, {refused[kind]}, {repaired[kind]}")
    assert sum(repaired.values()) > sum(refused.values()) * 0.5


def damaged(path, sql):
    db = sqlite3.connect(path, isolation_level=None)
    db.executescript(sql)
    db.close()


@pytest.fixture
def copy(sound, tmp_path):
    path = tmp_path / "copy.oddbolt"
    path.write_bytes(sound.read_bytes())
    return path


def command_line(root, *words):
    return subprocess.run([sys.executable, "-m", "oddbolt", *words], capture_output=True, text=True, check=False,
                          timeout=30, env={**os.environ, "PYTHONPATH": str(root / "src")})


def mend(path):
    *_, done = repair(path, path.with_name("mended.oddbolt"))
    with Document.open(done.path, read_only=True) as document:
        return done, said(document)


def test_rows_that_are_damaged_are_built_again_from_the_commands(sound, copy):
    with Document.open(sound, read_only=True) as document:
        truth = said(document)
    damaged(copy, "UPDATE record SET body = '{}' WHERE section = 'log' AND place = 2")
    done, found = mend(copy)
    assert (done.how, done.lost_commands, found) == ("by-commands", 0, truth)


def test_a_command_that_is_damaged_costs_what_it_must_and_no_more(sound, copy):
    """The rows hold what the commands before the fold came to; only what undo could take back there is gone."""
    with Document.open(sound, read_only=True) as document:
        record, commands = said(document)
    damaged(copy, "UPDATE command SET changes = '[]' WHERE number = 20")
    done, found = mend(copy)
    assert (done.how, done.lost_commands) == ("by-rows", 0) and found[0] == record
    assert [c[2:] for c in found[1]] == [c[2:] for c in commands[-5:]]
    damaged(copy, "UPDATE fold SET total = 'x'")
    copy.with_name("mended.oddbolt").unlink()
    done, found = mend(copy)
    assert done.how == "by-commands" and done.lost_commands == COMMANDS + 5 - 19 and len(found[1]) == 19
    assert found[0]["log"] == record["log"][:len(record["log"]) - (COMMANDS + 4) + 19]


def test_what_names_a_lost_part_is_given_up_with_it(copy):
    damaged(copy, "DELETE FROM command; UPDATE record SET body = 'x' WHERE section = 'parts' AND place = 2")
    done, found = mend(copy)
    assert done.how == "by-scraps" and "parts" in done.lost_rows[0]
    assert {"base"} <= {part["id"] for part in found[0]["parts"]} and not found[1]


def test_a_damaged_document_is_offered_to_be_repaired_in_the_window(make_window, copy, root):
    window = make_window()
    damaged(copy, "UPDATE record SET body = '{}' WHERE section = 'log' AND place = 2")
    broken, before = copy.read_bytes(), window.session.path
    assert window.files.open_path(copy) is False
    assert "damaged" in window.message.informativeText() and window.session.path == before
    next(b for b in window.message.buttons() if "Look" in b.text()).click()
    wait_for(lambda: window.session.path != before)
    aside = window.session.path
    assert "for reading only" in window.where.text() and window.session.teardown.log[2].do
    window.session.path.stat()
    window.message.close()
    assert window.files.open_path(before) and window.files.open_path(copy) is False
    next(b for b in window.message.buttons() if "Repair" in b.text()).click()
    wait_for(lambda: window.session.path != before)
    assert "built again from its acts" in window.message.informativeText()
    window.message.close()
    window.files.stop()
    assert not aside.exists()  # what was only looked at leaves nothing
    assert window.session.path.name == "copy repaired.oddbolt" and copy.read_bytes() == broken
    run = command_line(root, "repair", str(copy), "-o", str(copy.with_name("cli.oddbolt")))
    assert run.returncode == 0 and "built again" in run.stdout, run.stderr
    run = command_line(root, "check", "/dev/zero")
    assert run.returncode == 2 and "device" in run.stderr


def test_a_photograph_that_is_damaged_is_said_and_the_rest_goes_on(make_window, tmp_path):
    window = make_window()
    name = window.log.states.view.photo
    path = window.session.path
    window.session.switch_to(Document.create(tmp_path / "other.oddbolt", window.session.teardown))
    damaged(path, f"UPDATE photo_blob SET body = x'00' WHERE sha256 = (SELECT sha256 FROM photo WHERE name = '{name}')")
    assert window.files.open_path(path)
    wait_for(lambda: "cannot be read" in window.log.echo.text())
    window.session.do(note, "on", 1)
    assert json.loads(exchange.dumps(window.session.teardown))["log"][-1]["text"] == "on"
