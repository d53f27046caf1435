"""Microphones: the system's by a library or by a recording program, and one that plays files. 16 kHz, 16 bits, mono.

All are asked again and again for what has come since; nobody is called from another thread.
"""

from __future__ import annotations

import os
import shutil
import subprocess
from collections import deque
from collections.abc import Sequence
from typing import Any, Protocol

import numpy as np

from oddbolt.hearing.listener import RATE_HZ
from oddbolt.instruments.protocols import InstrumentFault

MICROPHONE = "microphone"
MOST_KEPT_S = 20.0  # of sound that nobody asked for
# Programs of Linux systems that write raw sound to their output, in the order in which they are tried.
RECORDERS = (("pw-record", ("--rate", str(RATE_HZ), "--channels", "1", "--format", "s16", "-")),
             ("parecord", ("--raw", f"--rate={RATE_HZ}", "--channels=1", "--format=s16le")),
             ("arecord", ("-q", "-t", "raw", "-f", "S16_LE", "-r", str(RATE_HZ), "-c", "1", "-")))


class Microphone(Protocol):
    """Raises InstrumentFault where it is not there, or goes away."""

    def start(self) -> None: ...

    def read(self) -> np.ndarray:
        """What has come since it was asked last: int16, shape (n,); empty where nothing has."""
        ...

    def stop(self) -> None: ...


class SimulatedMicrophone:
    """Plays what it is given, a piece each time it is asked, and quiet noise of a room in between."""

    def __init__(self, piece_s: float = 0.1, noise: float = 12.0, seed: int = 6) -> None:
        self._piece = round(piece_s * RATE_HZ)
        self._rng, self._noise = np.random.default_rng(seed), noise
        self._waiting: deque[np.ndarray] = deque()
        self.is_on = False
        self.fault = False  # it does not answer

    def say(self, samples: np.ndarray) -> None:
        """Played as soon as somebody listens."""
        self._waiting.append(np.asarray(samples, np.int16))

    @property
    def is_done(self) -> bool:
        return not self._waiting

    def start(self) -> None:
        if self.fault:
            raise InstrumentFault(MICROPHONE)
        self.is_on = True

    def read(self) -> np.ndarray:
        if self.fault:
            raise InstrumentFault(MICROPHONE)
        if not self.is_on:
            return np.zeros(0, np.int16)
        room = self._rng.normal(0.0, self._noise, self._piece)
        if self._waiting:
            said = self._waiting.popleft()
            if len(said) > self._piece:
                self._waiting.appendleft(said[self._piece:])
            room[:len(said[:self._piece])] += said[:self._piece]
        return np.clip(room, -32768, 32767).astype(np.int16)

    def stop(self) -> None:
        self.is_on = False


class DeviceMicrophone:
    """The system's microphone through PortAudio, by the package sounddevice."""

    def __init__(self) -> None:
        self._stream: Any = None

    def start(self) -> None:
        try:
            import sounddevice
        except (ImportError, OSError) as missing:  # OSError: the package is there, libportaudio2 is not
            raise InstrumentFault(MICROPHONE, str(missing)) from missing
        try:
            self._stream = sounddevice.RawInputStream(samplerate=RATE_HZ, channels=1, dtype="int16", blocksize=0,
                                                      latency=0.1)
            self._stream.start()
        except (sounddevice.PortAudioError, ValueError) as fault:
            self.stop()  # it may be open, and only not have begun
            raise InstrumentFault(MICROPHONE, str(fault)) from fault

    def read(self) -> np.ndarray:
        import sounddevice

        if self._stream is None:
            return np.zeros(0, np.int16)
        try:
            body, _ = self._stream.read(self._stream.read_available)
        except sounddevice.PortAudioError as fault:
            raise InstrumentFault(MICROPHONE, str(fault)) from fault
        return np.frombuffer(bytes(body), "<i2")

    def stop(self) -> None:
        if self._stream is not None:
            self._stream.close()
            self._stream = None


class RecorderMicrophone:
    """A recording program of the system, whose output is read."""

    def __init__(self, recorders: Sequence[tuple[str, Sequence[str]]] = RECORDERS) -> None:
        self._recorders = recorders
        self._process: subprocess.Popen[bytes] | None = None
        self._half = b""

    def start(self) -> None:
        found = next(((path, options) for name, options in self._recorders if (path := shutil.which(name))), None)
        if found is None:
            raise InstrumentFault(MICROPHONE)
        try:
            self._process = subprocess.Popen([found[0], *found[1]], stdin=subprocess.DEVNULL, stdout=subprocess.PIPE,
                                             stderr=subprocess.DEVNULL)
        except OSError as fault:
            raise InstrumentFault(MICROPHONE, str(fault)) from fault
        assert self._process.stdout is not None
        os.set_blocking(self._process.stdout.fileno(), False)
        self._half = b""

    def read(self) -> np.ndarray:
        if self._process is None or self._process.stdout is None:
            return np.zeros(0, np.int16)
        body = self._process.stdout.read(round(MOST_KEPT_S * RATE_HZ) * 2)  # None: nothing there yet
        if body == b"" and self._process.poll() is not None:
            self.stop()
            raise InstrumentFault(MICROPHONE)
        body = self._half + (body or b"")
        whole = len(body) - len(body) % 2
        self._half = body[whole:]
        return np.frombuffer(body[:whole], "<i2")

    def stop(self) -> None:
        if self._process is None:
            return
        self._process.terminate()
        try:
            self._process.wait(1)
        except subprocess.TimeoutExpired:
            self._process.kill()
            self._process.wait()
        if self._process.stdout is not None:
            self._process.stdout.close()
        self._process = None


class SystemMicrophone:
    """By the library where it is installed and finds one, else by a recording program."""

    def __init__(self) -> None:
        self._ways: tuple[Microphone, ...] = (DeviceMicrophone(), RecorderMicrophone())
        self._on: Microphone | None = None

    def start(self) -> None:
        told = ""
        for way in self._ways:
            try:
                way.start()
            except InstrumentFault as fault:
                told = told or fault.told
                continue
            self._on = way
            return
        raise InstrumentFault(MICROPHONE, told)

    def read(self) -> np.ndarray:
        return self._on.read() if self._on is not None else np.zeros(0, np.int16)

    def stop(self) -> None:
        if self._on is not None:
            self._on.stop()
            self._on = None
