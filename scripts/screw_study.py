"""How well the odds of screw identification are calibrated: simulated screws, measured with a calliper of 0.02 mm.

From the root: .venv/bin/python -m scripts.screw_study [--number N] [--plot FILE]; docs/methods/screws.md has the
figures.

The simulation is not the model turned round: diameters crowd in the middle of the tolerance, readings are rounded to
the calliper's step, pitches are counted over a few turns, and which readings are taken is left to chance.
"""

from __future__ import annotations

import argparse
import random
from collections.abc import Iterator
from pathlib import Path

from msgspec import Struct

from oddbolt.catalog.screws import FORMING, NONE, Identified, Readings, identify, priors
from oddbolt.catalog.tables import table
from oddbolt.catalog.threads import threads

STEP_MM = 0.02
BINS = 10


class Case(Struct, frozen=True):
    truth: str
    readings: Readings
    found: Identified


def simulate(number: int, seed: int = 1) -> Iterator[Case]:
    """Screws as often as they are met, measured; and what they are taken for."""
    rng = random.Random(seed)
    odds = priors()
    known = {thread.name: thread for thread in threads()}
    names, weights = list(odds), list(odds.values())
    forming = table("screws.toml")["forming"]
    for _ in range(number):
        truth = rng.choices(names, weights)[0]
        if truth in known:
            low, high = known[truth].major_mm
            diameter, pitch = _within(rng, low, high), known[truth].pitch_mm
        elif truth == FORMING:
            diameter = rng.uniform(*forming["diameter_mm"])
            pitch = diameter * rng.uniform(*forming["pitch_over_diameter"])
        else:
            diameter, pitch = rng.uniform(0.5, 7.5), rng.uniform(0.1, 2.3)
        readings = Readings(diameter_mm=_read(rng, diameter),
                            pitch_mm=_count(rng, pitch) if rng.random() < 0.6 else None,
                            head_mm=_read(rng, _head(rng, diameter)) if rng.random() < 0.5 else None)
        yield Case(truth, readings, identify(readings))


def _within(rng: random.Random, low: float, high: float) -> float:
    while True:
        value = rng.gauss((low + high) / 2, (high - low) / 5)
        if low <= value <= high:
            return value


def _read(rng: random.Random, true: float) -> float:
    return max(STEP_MM, round((true + rng.gauss(0, 0.015)) / STEP_MM) * STEP_MM)


def _count(rng: random.Random, pitch: float) -> float:
    """Turns over about five pitches, the length read by calliper."""
    return max(0.02, (5 * pitch + rng.gauss(0, 0.03 * 5 * pitch)) / 5)


def _head(rng: random.Random, diameter: float) -> float:
    return diameter * rng.uniform(*table("screws.toml")["head_trust"]["diameter_over_thread"])


class Bin(Struct, frozen=True):
    """Candidates whose odds lie in a tenth: how many, their mean odds, how many of them were right."""

    number: int
    mean: float
    right: float


def calibration(cases: list[Case]) -> list[Bin]:
    """For every candidate of every case, its odds against how often it was the truth."""
    bins: list[list[tuple[float, bool]]] = [[] for _ in range(BINS)]
    for case in cases:
        for candidate in case.found.candidates:
            if candidate.odds >= 0.005:
                bins[min(BINS - 1, int(candidate.odds * BINS))].append((candidate.odds, candidate.name == case.truth))
    return [Bin(len(b), sum(o for o, _ in b) / max(1, len(b)), sum(r for _, r in b) / max(1, len(b))) for b in bins]


def first_right(cases: list[Case], least: float = 0.0) -> tuple[int, float]:
    """Cases whose first candidate has at least these odds, and the share of them in which it was right."""
    sure = [case for case in cases if case.found.candidates[0].odds >= least]
    return len(sure), sum(case.found.candidates[0].name == case.truth for case in sure) / max(1, len(sure))


def plot(bins: list[Bin], path: Path) -> None:
    """Odds against the share that was right, as SVG."""
    size, edge = 300, 40
    rows = [f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {size + 2 * edge} {size + 2 * edge}" '
            'font-family="sans-serif" font-size="12">',
            f'<rect x="{edge}" y="{edge}" width="{size}" height="{size}" fill="none" stroke="#444"/>',
            f'<path d="M{edge} {edge + size}L{edge + size} {edge}" stroke="#999" stroke-dasharray="4 4"/>']
    for one in bins:
        if one.number:
            x, y = edge + size * one.mean, edge + size * (1 - one.right)
            radius = 3 + min(9, one.number ** 0.5 / 12)
            rows.append(f'<circle cx="{x:.1f}" cy="{y:.1f}" r="{radius:.1f}" fill="#23424D">'
                        f'<title>{one.number} candidates</title></circle>')
    rows += [f'<text x="{edge + size / 2}" y="{2 * edge + size - 8}" text-anchor="middle">odds given</text>',
             f'<text x="12" y="{edge + size / 2}" text-anchor="middle" transform="rotate(-90 12 {edge + size / 2})">'
             'share that was right</text>', "</svg>"]
    path.write_text("\n".join(rows) + "\n", "utf-8")


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--number", type=int, default=10_000)
    parser.add_argument("--plot", type=Path)
    options = parser.parse_args()
    cases = list(simulate(options.number))
    bins = calibration(cases)
    print("| odds given | candidates | mean odds | right |\n|---|---|---|---|")
    for n, one in enumerate(bins):
        if one.number:
            print(f"| {n / BINS:.0%} to {(n + 1) / BINS:.0%} | {one.number} | {one.mean:.3f} | {one.right:.3f} |")
    for least in (0.0, 0.9):
        number, right = first_right(cases, least)
        print(f"first candidate with odds of {least:.0%} or more: {number} cases, right in {right:.3f}")
    print(f"screws that are none of these: {sum(c.truth == NONE for c in cases)}")
    if options.plot:
        plot(bins, options.plot)


if __name__ == "__main__":
    main()
