"""Simulated instruments: seeded, plausible, and saying what is wrong."""

from __future__ import annotations

import random

import pytest
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QApplication

from oddbolt.instruments.protocols import InstrumentFault
from oddbolt.instruments.simulated import (
    SimulatedCamera,
    SimulatedFootSwitch,
    SimulatedScale,
    SimulatedStrapTester,
    SimulatedThermometer,
    SimulatedTorqueDriver,
    state_by_places,
)
from oddbolt.instruments.watched import WatchedFolder
from oddbolt.model import exchange
from oddbolt.paint.drawn_bench.instruments import demo_scene, places_px, simulated_bench, state_of
from oddbolt.store.files import read_json
from tests.conftest import ROOT


def test_readings_repeat_with_the_seed_and_scatter_without():
    one, other = (SimulatedScale(100, random.Random(1)) for _ in range(2))
    assert [one.weigh() for _ in range(5)] == [other.weigh() for _ in range(5)]
    assert len({one.weigh().value for _ in range(20)}) > 1 and SimulatedScale(0).weigh().value >= 0


def test_a_plate_warms_like_a_first_order_system():
    """After one time constant 63 % of the way, after five 99 % (first-order step response)."""
    plate = SimulatedThermometer(setting_c=70, room_c=20, time_constant_s=90)
    plate.on_for_s = 90
    assert plate.temperature().value == pytest.approx(20 + 50 * 0.632, abs=2)
    plate.on_for_s = 450
    assert plate.temperature().value == pytest.approx(69.7, abs=2)


def test_a_torque_is_read_once_and_a_strap_not_worn_is_seen():
    driver = SimulatedTorqueDriver(last_ncm=12)
    assert driver.peak_torque().value == pytest.approx(12, rel=0.1) and driver.peak_torque().value == 0
    assert SimulatedStrapTester().resistance().value < 35 < SimulatedStrapTester(worn=False).resistance().value


def test_a_foot_switch_tells_all_who_listen():
    heard = []
    switch = SimulatedFootSwitch()
    switch.on_press(lambda: heard.append(1))
    switch.on_press(lambda: heard.append(2))
    switch.press()
    assert heard == [1, 2]


def test_a_camera_stands_a_little_differently_each_time_or_says_what_is_wrong():
    stands = []
    camera = SimulatedCamera(lambda side, stand: stands.append((side, stand)) or b"jpeg", random.Random(4))
    assert camera.photograph("back") == b"jpeg" and camera.photograph("front") == b"jpeg"
    assert stands[0][1] != stands[1][1] and [side for side, _ in stands] == ["back", "front"]
    assert all(abs(v) <= 0.25 for _, stand in stands for v in stand.shift_mm)
    camera.fault = "The camera does not answer"
    with pytest.raises(InstrumentFault):
        camera.photograph("back")


def test_a_watched_folder_gives_whole_files_once(tmp_path):
    (tmp_path / "old.jpg").write_bytes(b"x")
    folder = WatchedFolder(tmp_path)
    new = tmp_path / "new.JPG"
    new.write_bytes(b"half")
    assert folder.arrived() == []
    new.write_bytes(b"half and half")  # still growing
    assert folder.arrived() == []
    assert folder.arrived() == [new] and folder.arrived() == []
    (tmp_path / "empty.png").touch()
    assert folder.arrived() == [] and folder.arrived() == []
    assert WatchedFolder(tmp_path / "nowhere").arrived() == []


def test_the_bench_follows_the_shipped_demo_by_its_ids():
    demo = read_json(ROOT / "src" / "oddbolt" / "demo" / "dunlin-2.json")
    released, removed = state_of(demo_scene(), demo)
    assert {"battery", "main-board"} <= removed and {"cover-seam", "battery-plug"} <= released


def test_the_bench_follows_another_record_by_places(example):
    scene = demo_scene()
    places = places_px(scene)
    x, y = places["speaker-left-screws"][0]
    data = {**example, "log": [{"id": "e1", "do": "release", "thing": "cover-screws"}],
            "views": [{"id": "v", "side": "back", "marks": [{"thing": "cover-screws", "x": x + 3, "y": y - 2}]}]}
    released, _ = state_of(scene, exchange.from_json(data))
    assert released == {"speaker-left-screws"}
    assert state_by_places({"a": [(0, 0)]}, {"a": "clip"}, {"b": ("screw", [(0, 0)])}) == {}


def test_the_demo_photographs_are_what_the_scene_draws():
    """The shipped photograph of the first state is drawn again to the byte."""
    app = QApplication.instance() or QGuiApplication.instance() or QApplication(["tests"])
    from oddbolt.paint.drawn_bench.photo import Shot, render

    shipped = (ROOT / "src" / "oddbolt" / "demo" / "dunlin-2.photos" / "s0-back.jpg").read_bytes()
    assert abs(len(render(demo_scene(), Shot(side="back", seed=100))) - len(shipped)) < 0.02 * len(shipped)
    bench = simulated_bench(lambda: exchange.from_json({"format": "oddbolt-teardown", "version": 1,
                                                         "device": {"base": "b"}, "parts": [{"id": "b"}]}))
    assert bench.camera.photograph("front").startswith(b"\xff\xd8")
    del app
