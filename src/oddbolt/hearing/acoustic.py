"""The acoustic model of the recogniser as arrays: what sounds it expects of each phone, and the same for one voice.

Read from the files of CMU Sphinx (formats from memory; a test reads them back): `means` and `variances` of normal
distributions, `sendump` with the weights of these for each state of a phone, and the names of the phones from `mdef`.
The model is phonetically tied: 42 phones with 128 distributions each, in three streams (sound, its change, the change
of that) of 13 cepstral coefficients.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from pathlib import Path

import numpy as np
from msgspec import Struct

STREAMS, EACH, WIDE = 3, 128, 13
STATES = 3  # of a phone; those without their neighbours come first in the list of states, phone by phone
ORDER = 0x11223344  # by which a file says in what order its bytes stand
WEIGHT_UNIT = 1024 * math.log(1.0001)  # weights are negative logarithms in this
LEAST_VARIANCE = 1e-4
SILENT = frozenset(["SIL", "+NSN+", "+SPN+"])


class OwnVoice(Struct, frozen=True):
    """How one person's sounds lie beside those of the model.

    `offsets` is what is added to the means of a phone, shape (3, 128, 13) each; `ways` are those of pronouncing.WAYS
    that this person has.
    """

    offsets: Mapping[str, np.ndarray]
    ways: tuple[str, ...] = ()


class AcousticModel:
    """Raises OSError and ValueError where the files are not there or are others."""

    def __init__(self, folder: Path) -> None:
        self._head, self.means = _gaussians(folder / "means")
        self.variances = np.maximum(_gaussians(folder / "variances")[1], LEAST_VARIANCE)
        self.phones = _phones(folder / "mdef", len(self.means))
        self.place = {phone: n for n, phone in enumerate(self.phones)}
        # Logarithms, shape (streams, distributions, states without neighbours).
        self.weights = _weights(folder / "sendump")[:, :, :STATES * len(self.phones)]

    def means_of(self, phone: str, voice: OwnVoice) -> np.ndarray:
        """Shape (3, 128, 13)."""
        means = self.means[self.place[phone]]
        return means + voice.offsets[phone] if phone in voice.offsets else means

    def means_file(self, voice: OwnVoice) -> bytes:
        """As the recogniser reads it."""
        means = [self.means[n] if phone in SILENT else self.means_of(phone, voice)
                  for n, phone in enumerate(self.phones)]
        return b"s3\nversion 1.0\nendhdr\n" + self._head + np.asarray(means, "<f4").tobytes()


def _gaussians(path: Path) -> tuple[bytes, np.ndarray]:
    """The numbers before the values as they stand, and the values, shape (phones, streams, distributions, 13)."""
    body = path.read_bytes()
    begin = body.index(b"endhdr\n") + len(b"endhdr\n")
    numbers = np.frombuffer(body, "<i4", 5 + STREAMS, begin)
    phones, streams, each = (int(number) for number in numbers[1:4])
    if numbers[0] != ORDER or (streams, each) != (STREAMS, EACH) or list(numbers[4:4 + STREAMS]) != [WIDE] * STREAMS:
        raise ValueError(path.name)
    end = begin + numbers.nbytes
    values = np.frombuffer(body, "<f4", int(numbers[-1]), end).astype(float)
    return body[begin:end], values.reshape(phones, streams, each, WIDE)


def _phones(path: Path, number: int) -> list[str]:
    body = path.read_bytes()
    names = body[body.index(b"+NSN+\0"):].split(b"\0", number)[:number]
    return [name.decode("ascii") for name in names]


def _weights(path: Path) -> np.ndarray:
    body, at, size = path.read_bytes(), 0, 1
    while size:  # title, head and notes, until an empty one
        size = int.from_bytes(body[at:at + 4], "little")
        at += 4 + size
    rows, states = (int(number) for number in np.frombuffer(body, "<i4", 2, at))
    if rows != EACH:
        raise ValueError(path.name)
    stored = np.frombuffer(body, np.uint8, STREAMS * rows * states, at + 8)
    return -WEIGHT_UNIT * stored.reshape(STREAMS, rows, states).astype(float)
