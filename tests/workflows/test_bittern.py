"""The second demo device: its record has faults, and each is found; what can hurt is said."""

from __future__ import annotations

import json

import pytest
from scripts.demo import bittern
from scripts.make_demo import FOLDER

from oddbolt.cli.commands import run
from oddbolt.effort.times import KnownTimes
from oddbolt.reassembly.bolts import torques
from oddbolt.reassembly.findings import findings
from oddbolt.search.planner import Planner
from oddbolt.session.derived import Derived
from oddbolt.words.acts import caution_texts


@pytest.fixture
def record():
    from oddbolt.store.files import read_json

    return read_json(FOLDER / "bittern.json")


def test_what_ships_is_what_the_script_describes(record):
    from oddbolt.model import exchange

    assert exchange.dumps(record) == exchange.dumps(exchange.from_json(bittern.teardown()))
    assert json.loads((FOLDER / "bittern.scene.json").read_text()) == json.loads(json.dumps(bittern.scene_json()))


def test_each_fault_is_found_and_nothing_else(record, capsys):
    entry = {e.thing: e.id for e in record.log if e.do in ("remove", "aid")}
    found = {(f.code, f.thing) for f in findings(record)}
    named = {(code, entry.get(thing, thing) if code in ("log-tied", "left-on") else thing)
             for code, thing in bittern.FAULTS}
    assert found == named | {("held-by-nothing", "seal")}
    assert run(["check", str(FOLDER / "bittern.json")]) != 0
    assert "Socket screws was never released" in capsys.readouterr().out


def test_what_was_opened_live_is_counted(record):
    derived = Derived(record)
    live = [timed.operation.joint for timed in derived.performed.timed if timed.live]
    assert live == list(bittern.LIVE)


def test_three_power_sources_are_cut_before_anything_that_carries_power(record):
    planner = Planner(record, KnownTimes(record))
    assert set(planner.structure.sources) == {"mains", "cell", "capacitor"}
    for part in ("top-cover", "display", "cell", "jack-board"):
        plan = planner.plan([part])
        assert plan.feasible and plan.count.live_acts == 0
        assert {"mains-inlet", "charge", "cell-plug"} <= {o.joint for o in plan.sequence}


def test_mains_and_stored_charge_are_warned_of(record):
    texts = " ".join(caution_texts(record.part["supply-board"].hazards))
    assert "qualified people" in texts and "Discharge" in texts


def test_a_torque_that_no_screw_of_its_size_bears_is_told_with_the_unit_that_was_meant(record):
    wrong = [f for f in torques(record) if f.check.verdict == "impossible"]
    assert [(f.joint, f.value, f.unit) for f in wrong] == [("board-screws", 60, "N·m")]
    assert "N·cm" in wrong[0].check.slips
