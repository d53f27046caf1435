"""Sound as arrays: reading and writing WAV files, levels, noise, and dither for digital silence."""

from __future__ import annotations

import io
import math
import wave

import numpy as np

from oddbolt.hearing.listener import RATE_HZ

MOST_S = 120.0  # of one recording
FULL = 32767
DITHER = 2.0  # standard deviation, of 32,768
SPOKEN = 200  # of 32,768: what is louder belongs to the speech, when a signal is measured


class NoSound(Exception):
    """Bytes that are no WAV file of the kind that is read; `code` says why."""

    def __init__(self, code: str) -> None:
        super().__init__(code)
        self.code = code


def read_wav(body: bytes) -> np.ndarray:
    """Samples of a WAV file (RIFF, PCM of 16 bits): int16 at 16 kHz, shape (n,). Several channels are averaged, other
    rates resampled. Raises NoSound."""
    try:
        with wave.open(io.BytesIO(body)) as file:
            channels, width, rate, frames = (file.getnchannels(), file.getsampwidth(), file.getframerate(),
                                             file.getnframes())
            if width != 2 or not 1 <= channels <= 8 or not 4_000 <= rate <= 192_000:
                raise NoSound("other-sound")
            if frames > MOST_S * rate:
                raise NoSound("long-sound")
            raw = file.readframes(frames)
    except (wave.Error, EOFError, ValueError) as fault:
        raise NoSound("no-sound") from fault
    raw = raw[:len(raw) - len(raw) % (2 * channels)]
    samples = np.frombuffer(raw, "<i2").reshape(-1, channels).mean(axis=1)
    return as_16_bits(resampled(samples, rate))


def write_wav(samples: np.ndarray) -> bytes:
    """A WAV file of int16 samples at 16 kHz."""
    made = io.BytesIO()
    with wave.open(made, "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(RATE_HZ)
        file.writeframes(samples.astype("<i2").tobytes())
    return made.getvalue()


def resampled(samples: np.ndarray, rate_hz: int) -> np.ndarray:
    """At 16 kHz, by a polyphase filter."""
    if rate_hz == RATE_HZ or not len(samples):
        return samples
    from scipy.signal import resample_poly

    shared = math.gcd(rate_hz, RATE_HZ)
    return resample_poly(samples, RATE_HZ // shared, rate_hz // shared)


def as_16_bits(samples: np.ndarray) -> np.ndarray:
    return np.clip(np.round(samples), -FULL - 1, FULL).astype(np.int16)


def dithered(samples: np.ndarray) -> np.ndarray:
    """With a little seeded noise: pure digital silence has no logarithm, and the recogniser stumbles over it."""
    noise = np.random.default_rng(1).normal(0.0, DITHER, len(samples))
    return as_16_bits(samples + noise)


def power(samples: np.ndarray) -> float:
    """Mean square of what is louder than silence; 0 where nothing is."""
    loud = samples[np.abs(samples) > SPOKEN].astype(float)
    return float(np.mean(loud ** 2)) if len(loud) else 0.0


def level_db(samples: np.ndarray) -> float:
    """Below full scale; -96 for silence."""
    mean = float(np.mean(samples.astype(float) ** 2)) if len(samples) else 0.0
    return 20 * math.log10(max(math.sqrt(mean), 0.5) / FULL)


def room_noise(number: int, rng: np.random.Generator, kind: str = "room") -> np.ndarray:
    """Noise of mean square 1: `room` falls with frequency, `hiss` is white, `hum` is a fan with the mains in it."""
    white = rng.standard_normal(number)
    if kind == "hiss" or number < 2:
        return white
    spectrum, hertz = np.fft.rfft(white), np.fft.rfftfreq(number, 1 / RATE_HZ)
    made = np.fft.irfft(spectrum / np.sqrt(np.maximum(hertz, 60) / 60), number)
    if kind == "hum":
        at = np.arange(number) / RATE_HZ
        made = made / np.std(made) + sum(np.sin(2 * math.pi * 50 * k * at + k) / k for k in (1, 2, 3, 5, 7, 11))
    return made / math.sqrt(float(np.mean(made ** 2)))


def amid_noise(samples: np.ndarray, snr_db: float, rng: np.random.Generator, kind: str = "room",
               around_s: float = 0.35) -> np.ndarray:
    """Speech with a little quiet around it, that many dB above noise that goes all through it; int16."""
    quiet = np.zeros(round(around_s * RATE_HZ))
    speech = np.concatenate([quiet, samples.astype(float), quiet])
    noise = room_noise(len(speech), rng, kind) * math.sqrt(power(samples) / 10 ** (snr_db / 10))
    mixed = speech + noise
    most = float(np.max(np.abs(mixed))) if len(mixed) else 0.0
    return as_16_bits(mixed * (0.3 * FULL / most if most else 1.0))
