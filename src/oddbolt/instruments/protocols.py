"""Instruments on the bench, as small protocols: what the program asks of each, whatever is behind it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Protocol

from msgspec import Struct


class Reading(Struct, frozen=True, kw_only=True):
    """One reading with its unit and the standard deviation the instrument states for it."""

    value: float
    unit: str
    sd: float = 0.0


class InstrumentFault(Exception):
    """The environment's failure: an instrument is not there or does not answer.

    `instrument` is a code (camera, scale, thermometer, torque-driver, strap, microphone); `told` what its driver says,
    if anything.
    """

    def __init__(self, instrument: str, told: str = "") -> None:
        super().__init__(instrument, told)
        self.instrument = instrument
        self.told = told


class Camera(Protocol):
    """Looks straight down from where it stands fast. Raises InstrumentFault."""

    mm_per_px: float | None  # on the mat, where it has been calibrated

    def photograph(self, side: str) -> bytes:
        """A JPEG of the device as it lies now; `side` is front, back or edge."""
        ...

    def glance(self, side: str) -> bytes:
        """A small JPEG of what it sees now, hands and all; kept nowhere, and asked for again and again."""
        ...


class Scale(Protocol):
    def weigh(self) -> Reading: ...  # g


class Thermometer(Protocol):
    def temperature(self) -> Reading: ...  # degC


class TorqueDriver(Protocol):
    def peak_torque(self) -> Reading: ...  # N·cm, since it was asked last


class StrapTester(Protocol):
    def resistance(self) -> Reading: ...  # megohm


class FootSwitch(Protocol):
    def on_press(self, does: Callable[[], None]) -> None: ...


class Hands(Protocol):
    """Stand-ins for those who take the device apart, where there is none."""

    def work(self, number: int) -> int: ...


class BenchInstruments(Struct, frozen=True, kw_only=True):
    """What is connected; None where nothing is. `name` is shown, so that nobody takes drawn photographs for real."""

    name: str = ""
    simulated: bool = False  # what they measure, and photographs by their names, say so in the record
    camera: Camera | None = None
    scale: Scale | None = None
    thermometer: Thermometer | None = None
    torque_driver: TorqueDriver | None = None
    strap: StrapTester | None = None
    foot_switch: FootSwitch | None = None
    talk_switch: FootSwitch | None = None  # a second one: each press listens to one sentence
    hands: Hands | None = None  # of a simulated bench only


Bench = Callable[[], BenchInstruments]  # what is connected now; `BenchInstruments` itself is a bench with nothing
