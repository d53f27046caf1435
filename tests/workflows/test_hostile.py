"""Exchange files that load although something in them is out of its mind: nothing further on may break on them."""

from __future__ import annotations

import contextlib
import io
import json
from collections import Counter

import pytest

from oddbolt.cli import commands as cli
from oddbolt.model import exchange
from oddbolt.model.refusal import Refusal
from oddbolt.reports.as_csv import to_csv
from oddbolt.reports.as_html import to_html
from oddbolt.reports.content.inventory import balance_page
from oddbolt.reports.content.sequence import sequence_table
from oddbolt.reports.content.strata import build_section
from oddbolt.session.derived import Derived
from oddbolt.session.session import Session
from oddbolt.session.verbs.entries import note
from oddbolt.store.document import Document
from oddbolt.store.files import read_teardown
from oddbolt.ui.rooms import ROOMS
from tests.oracles.hostile import mutated
from tests.oracles.random_devices import random_device
from tests.ui_fixtures import settle


@pytest.fixture(scope="module")
def sources(root):
    radio = json.loads((root / "tests" / "data" / "bench-radio.json").read_text())
    return [radio, radio, *(random_device(seed, 9) for seed in range(6))]


def loaded(data):
    """The teardown, or None where it is refused. Anything else that reading ends in is a fault."""
    try:
        return exchange.loads(json.dumps(data))
    except Refusal as refusal:
        assert refusal.path.startswith("$")
        return None


def carry(teardown, path):
    """Everything that is made of a record without a window."""
    assert exchange.to_json(exchange.loads(exchange.dumps(teardown))) == exchange.to_json(teardown)
    session = Session(Document.create(path, teardown))
    session.do(note, "on", 1)
    session.undo()
    session.close()
    assert exchange.to_json(read_teardown(path)) == exchange.to_json(teardown)
    derived = Derived(teardown)
    derived.build()
    build_section(derived.planner, derived.priority_parts())
    to_csv(sequence_table(teardown, derived.structure, derived.performed))
    to_html(balance_page(teardown, derived.structure))
    file = path.with_suffix(".json")
    file.write_text(exchange.dumps(teardown))
    for words in (["check", file], ["access", file, "--replace"], ["sequence", file, "--objective", "time"],
                  ["access", file, "--json"], ["assess", file, "--method", "eu-2023-1669-tablet"]):
        out = io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(out):
            cli.run([str(word) for word in words])
        assert "\x1b" not in out.getvalue()


def test_what_loads_is_carried_by_everything_without_a_window(sources, tmp_path, long_run, capsys):
    told = Counter()
    for seed in range(5200 if long_run else 150):
        data, done = mutated(sources, seed)
        teardown = loaded(data)
        told["refused" if teardown is None else "loaded"] += 1
        if teardown is not None:
            try:
                carry(teardown, tmp_path / f"{seed}.oddbolt")
            except Exception as error:
                raise AssertionError(f"seed {seed}: {done}") from error
            for left in tmp_path.iterdir():
                left.unlink()
    with capsys.disabled():
        print(f"\nhostile files: {dict(told)}")
    assert told["loaded"] > told["refused"] * 0.2


def test_what_loads_is_shown_in_every_room(make_window, sources, tmp_path, long_run):
    """The window's own fixtures fail on a logged error and on a Qt warning."""
    window = make_window()
    shown = 0
    for seed in range(10_000, 10_600 if long_run else 10_025):
        data, done = mutated(sources, seed)
        teardown = loaded(data)
        if teardown is None:
            continue
        shown += 1
        width = window.width()
        try:
            window.session.switch_to(Document.create(tmp_path / f"{seed}.oddbolt", teardown))
            for room in ROOMS:
                window.show_workspace(room)
                settle()
        except Exception as error:
            raise AssertionError(f"seed {seed}: {done}") from error
        assert window.width() == width
    assert shown > 5
