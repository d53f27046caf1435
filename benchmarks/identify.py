"""Identification of a screw, in times of the plainest thing the interpreter does in the same run. Aim: under 50 ms."""

from __future__ import annotations

import statistics
import time

from oddbolt.catalog.screws import Readings, identify


def main() -> None:
    readings = Readings(drive="PH", across_mm=1.6, diameter_mm=1.57, pitch_mm=0.35, head_mm=3.0, magnetic=True)
    first = time.perf_counter()
    identify(readings)
    first = time.perf_counter() - first
    ours, plain = [], []
    for _ in range(50):
        start = time.perf_counter()
        identify(readings)
        ours.append(time.perf_counter() - start)
        start = time.perf_counter()
        sum(n * n for n in range(10_000))
        plain.append(time.perf_counter() - start)
    print(f"identification: first {first * 1000:.1f} ms, then median {statistics.median(ours) * 1000:.1f} ms; "
          f"{statistics.median(ours) / statistics.median(plain):.1f} times a sum of 10,000 squares")


if __name__ == "__main__":
    main()
