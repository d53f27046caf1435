"""Simulated instruments that ship with the program: seeded, so that every reading can be repeated."""

from __future__ import annotations

import math
import random
from collections.abc import Callable, Mapping
from typing import Any

from msgspec import Struct, field

from oddbolt.instruments.protocols import InstrumentFault, Reading

GLANCE_PX = 480  # how wide the simulated camera's small pictures are


class Stand(Struct, frozen=True, kw_only=True):
    """How camera and lamp happen to stand for one photograph."""

    seed: int
    shift_mm: tuple[float, float]
    turn_deg: float
    lamp: tuple[float, float]
    brightness: float
    across_px: int = 0  # how wide the picture is; 0: as the camera's are
    hand: bool = False  # hands are at the device


class SimulatedCamera(Struct):
    """Draws the device in its present state, slightly moved and lit differently each time.

    `draw` makes the picture; it is handed in, because drawing is another layer's business.
    """

    draw: Callable[[str, Stand], bytes]
    rng: random.Random = field(default_factory=lambda: random.Random(1))
    mm_per_px_of: Callable[[], float | None] = lambda: None
    fault: bool = False  # it does not answer
    hands_at_it: Callable[[], bool] = lambda: False

    @property
    def mm_per_px(self) -> float | None:
        return self.mm_per_px_of()

    def photograph(self, side: str) -> bytes:
        return self.draw(side, self._stand())

    def glance(self, side: str) -> bytes:
        return self.draw(side, self._stand(GLANCE_PX, hand=self.hands_at_it()))

    def _stand(self, across_px: int = 0, *, hand: bool = False) -> Stand:
        if self.fault:
            raise InstrumentFault("camera")
        near = self.rng.uniform
        return Stand(seed=self.rng.randrange(1 << 30), shift_mm=(near(-0.25, 0.25), near(-0.25, 0.25)),
                     turn_deg=near(-0.05, 0.05), lamp=(0.28 + near(-0.1, 0.1), 0.18 + near(-0.08, 0.08)),
                     brightness=near(0.94, 1.06), across_px=across_px, hand=hand)


class SimulatedScale(Struct):
    """Weighs what lies on it, to 0.1 g with 0.05 g of scatter."""

    on_it_g: float = 0.0
    rng: random.Random = field(default_factory=lambda: random.Random(2))

    def weigh(self) -> Reading:
        return Reading(value=round(max(0.0, self.on_it_g + self.rng.gauss(0, 0.05)), 1), unit="g", sd=0.05)


class SimulatedThermometer(Struct):
    """A plate that warms towards its setting, first order."""

    setting_c: float = 20.0
    room_c: float = 20.0
    time_constant_s: float = 90.0
    on_for_s: float = 0.0
    rng: random.Random = field(default_factory=lambda: random.Random(3))

    def temperature(self) -> Reading:
        share = 1 - math.exp(-self.on_for_s / self.time_constant_s)
        value = self.room_c + (self.setting_c - self.room_c) * share + self.rng.gauss(0, 0.4)
        return Reading(value=round(value, 1), unit="degC", sd=0.4)


class SimulatedTorqueDriver(Struct):
    last_ncm: float = 0.0
    rng: random.Random = field(default_factory=lambda: random.Random(4))

    def peak_torque(self) -> Reading:
        value, self.last_ncm = self.last_ncm, 0.0
        return Reading(value=round(max(0.0, value * (1 + self.rng.gauss(0, 0.02))), 2), unit="N·cm", sd=0.02 * value)


class SimulatedStrapTester(Struct):
    worn: bool = True
    rng: random.Random = field(default_factory=lambda: random.Random(5))

    def resistance(self) -> Reading:
        if not self.worn:
            return Reading(value=999.0, unit="Mohm")
        return Reading(value=round(max(0.8, self.rng.gauss(1.1, 0.05)), 2), unit="Mohm", sd=0.05)


class SimulatedFootSwitch(Struct):
    _does: list[Callable[[], None]] = field(default_factory=list)

    def on_press(self, does: Callable[[], None]) -> None:
        self._does.append(does)

    def press(self) -> None:
        for does in self._does:
            does()


def state_by_places(places: Mapping[str, list[tuple[float, float]]], kinds: Mapping[str, str],
                    marks: Mapping[str, tuple[str, list[tuple[float, float]]]]) -> dict[str, str]:
    """Which thing of a described device each thing of a record is, by where its marks lie.

    `places` and `kinds` describe the device (px), `marks` the record: thing -> (kind, spots). Joints of one kind and
    parts are matched to the nearest of theirs. Returns record id -> described id.
    """
    found: dict[str, str] = {}
    for thing, (kind, spots) in marks.items():
        same = [id_ for id_, other in kinds.items() if other == kind and places.get(id_)]
        if spots and same:
            found[thing] = min(same, key=lambda id_: _distance(spots, places[id_]))
    return found


def _distance(spots: list[tuple[float, float]], places: list[Any]) -> float:
    """Mean distance of each spot to the nearest place, px."""
    return sum(min((x - a) ** 2 + (y - b) ** 2 for a, b in places) ** 0.5 for x, y in spots) / len(spots)
