"""The working document: durable, undoable, refused when it is not ours or newer, and equal to its open twin."""

from __future__ import annotations

import copy
import json
import random
import sqlite3
import subprocess
import sys

import pytest
from msgspec.structs import replace

from oddbolt.model import exchange
from oddbolt.model.label import TEXT, Label
from oddbolt.model.refusal import Refusal
from oddbolt.model.things import Answer, LogEntry, Opinion, Tool, View
from oddbolt.store.document import APPLICATION_ID, Document
from oddbolt.store.file.migrations import MIGRATIONS, migrate_through
from oddbolt.store.file.rows import rows_of
from oddbolt.store.file.sums import LAYOUTS
from oddbolt.store.files import read_teardown, write_whole
from oddbolt.store.twin import export_json, import_json
from tests.oracles.random_devices import random_device

AT = "2026-03-02T09:00:00+00:00"


@pytest.fixture
def path(tmp_path):
    return tmp_path / "one.oddbolt"


def older_document(path, layout, data, commands=()):
    """A document as a program of that layout left it; `commands` as label and changes."""
    db = sqlite3.connect(path, isolation_level=None)
    db.execute(f"PRAGMA application_id = {APPLICATION_ID}")
    migrate_through(db, 0, MIGRATIONS[:layout])
    db.executemany("INSERT INTO record VALUES (?, ?, ?)", [
        (section, place, json.dumps(body)) for (section, place), body in rows_of(exchange.from_json(data)).items()])
    db.executemany("INSERT INTO command (at, label, changes) VALUES (?, ?, ?)", [
        (AT, label, json.dumps(changes)) for label, changes in commands])
    db.close()


def said_by(teardown):
    """What the exchange file would hold, an empty list being as good as none."""
    return {name: value for name, value in exchange.to_json(teardown).items() if value != []}


def renamed(teardown, name):
    return replace(teardown, device=replace(teardown.device, name=name, given=teardown.device.given | {"name"}))


def test_a_document_holds_the_teardown_without_loss(path, example):
    example["unknown"] = {"kept": [1]}
    example["opinions"] = []
    Document.create(path, exchange.from_json(copy.deepcopy(example))).close()
    assert exchange.to_json(read_teardown(path)) == example


def test_random_devices_survive_storing(tmp_path):
    for seed in range(25):
        data = random_device(seed, 12)
        Document.create(tmp_path / f"{seed}.oddbolt", exchange.from_json(copy.deepcopy(data))).close()
        assert exchange.to_json(read_teardown(tmp_path / f"{seed}.oddbolt")) == data


def test_undo_and_redo_survive_a_restart(path, example):
    with Document.create(path, exchange.from_json(example)) as document:
        first = document.teardown
        document.commit(renamed(first, "two"), Label("renamed", {"to": "two"}), AT)
        document.commit(replace(document.teardown, log=document.teardown.log[:1]), Label("shortened"), AT)
    with Document.open(path) as document:
        assert len(document.teardown.log) == 1
        assert document.undo()[0] == Label("shortened")
        assert len(document.teardown.log) == 3
        assert document.undo()[0] == Label("renamed", {"to": "two"})
        assert document.undo() is None
    with Document.open(path) as document:
        assert exchange.to_json(document.teardown) == exchange.to_json(first)
        assert document.redo()[0] == Label("renamed", {"to": "two"})
        document.commit(renamed(document.teardown, "three"), Label("renamed", {"to": "three"}), AT)
        assert document.redo() is None  # another command has followed
        assert [row.label.data["to"] for row in document.commands()] == ["two", "three"]


def test_a_commit_writes_only_what_changed(path, example):
    with Document.create(path, exchange.from_json(example)) as document:
        rows = document._db.total_changes
        document.commit(renamed(document.teardown, "x"), Label("renamed"), AT)
        assert document._db.total_changes == rows + 1  # one row: the command
        changes = json.loads(document._db.execute("SELECT changes FROM command ORDER BY number DESC").fetchone()[0])
        assert [change[:2] for change in changes] == [["device", -1]]


def test_a_change_that_cannot_be_written_changes_nothing(path, example):
    with Document.create(path, exchange.from_json(example)) as document:
        document._db.execute("CREATE TEMP TRIGGER full BEFORE INSERT ON main.command "
                             "BEGIN SELECT RAISE(ABORT, 'disk full'); END")
        with pytest.raises(Refusal, match="disk full"):
            document.commit(renamed(document.teardown, "x"), Label("renamed"), AT)
        assert document.teardown.device.name == "Bench radio"
    assert read_teardown(path).device.name == "Bench radio"


def test_one_writer_at_a_time_and_readers_beside_it(path, example):
    with Document.create(path, exchange.from_json(example)):
        with pytest.raises(Refusal, match="open-elsewhere"):
            Document.open(path)
        assert read_teardown(path).device.name == "Bench radio"
        program = "from oddbolt.store.document import Document; from pathlib import Path; " \
                  f"Document.open(Path({str(path)!r}))"
        run = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=False)
        assert "open-elsewhere" in run.stderr
    Document.open(path).close()


def test_what_a_killed_writer_left_is_rolled_back_even_for_a_reader(path, example):
    Document.create(path, exchange.from_json(example)).close()
    program = "import os, signal, sqlite3, sys; db = sqlite3.connect(sys.argv[1], isolation_level=None); " \
              "db.execute('PRAGMA cache_size = 1'); db.execute('BEGIN IMMEDIATE'); " \
              "db.execute('DELETE FROM record'); " \
              "[db.execute('INSERT INTO photo_blob VALUES (?, ?)', (str(n), bytes(9000))) for n in range(50)]; " \
              "os.kill(os.getpid(), signal.SIGKILL)"
    subprocess.run([sys.executable, "-c", program, str(path)], check=False)
    assert path.with_name("one.oddbolt-journal").stat().st_size > 0
    assert exchange.to_json(read_teardown(path)) == example


def test_other_databases_and_newer_layouts_are_refused(path, tmp_path, example):
    other = tmp_path / "other.db"
    sqlite3.connect(other).execute("CREATE TABLE t (x)")
    with pytest.raises(Refusal, match="not-a-document"):
        Document.open(other)
    Document.create(path, exchange.from_json(example)).close()
    db = sqlite3.connect(path)
    db.execute("PRAGMA user_version = 99")
    db.close()
    with pytest.raises(Refusal, match="newer-layout"):
        Document.open(path)


def test_an_older_layout_is_upgraded_on_a_copy_kept_beside_it(path, example, tmp_path, monkeypatch):
    Document.create(path, exchange.from_json(example)).close()

    def add_a_table(db):
        db.execute("CREATE TABLE later (x)")

    monkeypatch.setattr("oddbolt.store.file.migrations.MIGRATIONS", (*MIGRATIONS, ("a later table", add_a_table)))
    monkeypatch.setattr("oddbolt.store.document.MIGRATIONS", (*MIGRATIONS, ("a later table", add_a_table)))
    with pytest.raises(Refusal, match="older-layout"):
        Document.open(path, read_only=True)
    with Document.open(path) as document:
        assert document.teardown.device.name == "Bench radio"
        assert document._db.execute("SELECT name FROM migration ORDER BY number").fetchall() == [
            *((name,) for name, _ in MIGRATIONS), ("a later table",)]
    kept = sqlite3.connect(tmp_path / f"one.layout-{len(MIGRATIONS)}.oddbolt")
    assert kept.execute("PRAGMA user_version").fetchone()[0] % LAYOUTS == len(MIGRATIONS)
    kept.close()


def test_a_migration_that_fails_changes_nothing(path, example, monkeypatch):
    Document.create(path, exchange.from_json(example)).close()

    def break_off(db):
        db.execute("CREATE TABLE later (x)")
        raise sqlite3.OperationalError("no room")

    monkeypatch.setattr("oddbolt.store.file.migrations.MIGRATIONS", (*MIGRATIONS, ("breaks", break_off)))
    monkeypatch.setattr("oddbolt.store.document.MIGRATIONS", (*MIGRATIONS, ("breaks", break_off)))
    with pytest.raises(Refusal, match="no room"):
        Document.open(path)
    monkeypatch.undo()
    assert read_teardown(path).device.name == "Bench radio"


def test_a_document_of_the_first_layout_is_opened(path, example):
    """As the first version that shipped left it: without a desk."""
    older_document(path, 1, example)
    with Document.open(path) as document:
        assert document.teardown.device.name == "Bench radio" and document.on_desk("countdowns") is None
        document.keep_on_desk("countdowns", [{"thing": "pack"}])
        assert document.undo() is None  # what lies on the desk is no command
    with Document.open(path, read_only=True) as document:
        assert document.on_desk("countdowns") == [{"thing": "pack"}]


def test_labels_of_an_older_document_are_kept_as_the_words_they_were(path, example):
    """Before labels were codes they were English; that a joint does not make safe stood only in a written default."""
    example["joints"][2] |= {"isolates": False, "basis": "seen"}
    was = copy.deepcopy(example["device"])
    example["device"]["name"] = "x"
    older_document(path, 2, example, [("write a note", [["device", -1, was, example["device"]]])])
    with Document.open(path) as document:
        assert document.undo_label == Label(TEXT, {"text": "write a note"})
        assert document.teardown.joints[2].was_said("isolates") and not document.teardown.joints[1].said
        assert document.undo()[0] == Label(TEXT, {"text": "write a note"})


def test_commands_of_an_older_document_are_undone_and_done_again(path, example):
    """Before there was one log the rows of the record were written with each act; what was begun is found by going
    back from them."""
    first, second = copy.deepcopy(example), copy.deepcopy(example)
    first["device"]["name"], second["device"]["name"] = "one", "two"
    steps = [("a", [["device", -1, example["device"], first["device"]]]),
             ("b", [["device", -1, first["device"], second["device"]]])]
    older_document(path, 3, second, steps)
    with Document.open(path) as document:
        assert document.teardown.device.name == "two"
        document.undo()
        document.undo()
        assert exchange.to_json(document.teardown) == example and document.undo() is None
        document.redo()
    with Document.open(path, read_only=True) as document:
        assert document.teardown.device.name == "one" and document.redo_label is not None


def test_rows_and_commands_say_the_same_however_far_they_are_folded(tmp_path):
    """Commands are folded into the rows at any moment; undone across that seam, done again, read by another."""
    rng = random.Random(9)
    for seed in range(12):
        path = tmp_path / f"{seed}.oddbolt"
        Document.create(path, exchange.from_json(random_device(seed, 12))).close()
        place, document = 0, Document.open(path)
        states = [said_by(document.teardown)]
        for _ in range(60):
            what = rng.choice(("do", "do", "undo", "redo", "fold", "again"))
            if what == "do":
                document.commit(_changed(document.teardown, rng), Label("changed"), AT)
                del states[place + 1:]
                states.append(said_by(document.teardown))
                place += 1
            elif what in ("undo", "redo"):
                moved = document.undo() if what == "undo" else document.redo()
                place += 0 if moved is None else -1 if what == "undo" else 1
            elif what == "fold":
                document._fold()
            else:
                document.close()
                document = Document.open(path)
            assert said_by(document.teardown) == said_by(read_teardown(path)) == states[place]
        document.close()


def test_one_is_not_true_on_disk(path, example):
    """A fact of 1 that becomes true is another fact, although Python holds the two for equal."""
    example["parts"][1]["facts"] = [{"name": "coated", "value": 1}]
    with Document.create(path, exchange.from_json(example)) as document:
        parts = document.teardown.parts
        told = replace(parts[1], facts=(replace(parts[1].facts[0], value=True),))
        touched = document.commit(replace(document.teardown, parts=(parts[0], told, *parts[2:])), Label("fact"), AT)
        assert touched.ids("parts") == {"cover"} and touched.keys("parts") == {"facts"}
    assert exchange.to_json(read_teardown(path))["parts"][1]["facts"][0]["value"] is True


def test_undo_reads_anew_only_what_it_touches_and_shares_the_rest(path, example):
    with Document.create(path, exchange.from_json(example)) as document:
        first = document.teardown
        document.commit(replace(first, log=first.log[:1]), Label("shortened"), AT)
        touched = document.undo()[1]
        assert set(touched.sections) == {"log"} and exchange.to_json(document.teardown) == exchange.to_json(first)
        assert document.teardown.parts is first.parts and document.teardown.log[0] is first.log[0]
        document.redo()
        document.undo()
        assert exchange.to_json(document.teardown) == exchange.to_json(first)


def test_random_changes_undone_and_done_again_read_as_the_file_does(tmp_path):
    """What undo makes of the rows is what opening the file anew makes of them."""
    rng = random.Random(5)
    for seed in range(20):
        path = tmp_path / f"{seed}.oddbolt"
        with Document.create(path, exchange.from_json(random_device(seed, 12))) as document:
            states = [exchange.to_json(document.teardown)]
            for _ in range(6):
                document.commit(_changed(document.teardown, rng), Label("changed"), AT)
                states.append(exchange.to_json(document.teardown))
            place = len(states) - 1
            for _ in range(25):
                back = rng.random() < 0.5
                moved = document.undo() if back else document.redo()
                place += 0 if moved is None else -1 if back else 1
                assert exchange.to_json(document.teardown) == states[place]
                with Document.open(path, read_only=True) as other:
                    assert exchange.to_json(other.teardown) == states[place]


def _changed(teardown, rng):
    """A section grown, shrunk, turned round, or a record of it changed."""
    name = rng.choice(("log", "answers", "opinions", "views", "tools"))
    make = {"log": lambda n: LogEntry(id=f"x{n}", do="note", text=str(n)), "answers": lambda n: Answer(
        method="m", criterion=str(n)), "opinions": lambda n: Opinion(by=str(n)), "views": lambda n: View(id=f"x{n}"),
        "tools": lambda n: Tool(id=f"x{n}")}[name]
    own = list(getattr(teardown, name))
    what = rng.choice(("grow", "shrink", "turn"))
    if what == "grow" or not own:
        own.insert(rng.randrange(len(own) + 1), make(rng.randrange(10**9)))
    elif what == "shrink":
        del own[rng.randrange(len(own))]
    else:
        own.reverse()
    return replace(teardown, **{name: tuple(own)})


def test_a_torn_file_is_refused_with_a_message(path, example):
    Document.create(path, exchange.from_json(example)).close()
    path.write_bytes(path.read_bytes()[:6000] + b"\0" * 5000)
    with pytest.raises(Refusal):
        Document.open(path)


def test_the_header_says_what_the_file_is(path, example):
    Document.create(path, exchange.from_json(example)).close()
    assert int.from_bytes(path.read_bytes()[68:72], "big") == APPLICATION_ID


def test_photographs_are_stored_once_and_apart_from_thumbnails(path, example):
    with Document.create(path, exchange.from_json(example)) as document:
        document.add_photo("a.jpg", b"same", b"small")
        document.add_photo("b.jpg", b"same", b"small")
        assert document.photo("a.jpg") == document.photo("b.jpg") == b"same"
        assert document.thumb("b.jpg") == b"small"
        assert document._db.execute("SELECT count(*) FROM photo_blob").fetchone() == (1,)
        assert document.photo("c.jpg") is None


def test_the_twin_goes_in_and_out_without_loss(tmp_path, example):
    example["views"].append({"id": "v1", "photo": "under/v1.jpg"})
    example["views"].append({"id": "v2", "photo": "../v2.jpg"})
    source = tmp_path / "in.json"
    source.write_text(json.dumps(example))
    photos = tmp_path / "in.photos" / "under"
    photos.mkdir(parents=True)
    (photos.parent / "v0.jpg").write_bytes(b"\xff\xd8\xffzero")
    (photos / "v1.jpg").write_bytes(b"\xff\xd8\xffone")
    (tmp_path / "v2.jpg").write_bytes(b"outside")
    document, missing = import_json(source, tmp_path / "doc.oddbolt")
    with document:
        assert [tuple(getattr(one, n) for n in ("name", "why")) for one in missing] == [("../v2.jpg", "outside")]
        export_json(document, tmp_path / "out.json")
    assert json.loads((tmp_path / "out.json").read_text()) == example
    assert (tmp_path / "out.photos" / "under" / "v1.jpg").read_bytes() == b"\xff\xd8\xffone"


def test_a_failed_import_leaves_nothing(tmp_path, example):
    example["views"][0]["marks"][0]["thing"] = "nothing"
    (tmp_path / "in.json").write_text(json.dumps(example))
    with pytest.raises(Refusal):
        import_json(tmp_path / "in.json", tmp_path / "doc.oddbolt")
    assert [p.name for p in tmp_path.iterdir()] == ["in.json"]


def test_files_are_written_whole_or_not_at_all(tmp_path):
    write_whole(tmp_path / "a", b"one")
    with pytest.raises(Refusal):
        write_whole(tmp_path / "no" / "a", b"two")
    (tmp_path / "folder").mkdir()
    with pytest.raises(Refusal):
        write_whole(tmp_path / "folder", b"two")
    assert sorted(p.name for p in tmp_path.iterdir()) == ["a", "folder"]
