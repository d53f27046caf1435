"""Fits the weights of find-alike on the training pictures and measures it on the held-out ones.

From the root: .venv/bin/python -m scripts.alike_study [--fit] [--large] [--tuning]. Writes nothing;
docs/methods/alike.md holds the figures.
"""

from __future__ import annotations

import argparse
import math
import os
import random
import statistics
import time
from collections import Counter
from collections.abc import Iterable

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np  # noqa: E402
from PySide6.QtGui import QGuiApplication  # noqa: E402
from scipy import optimize  # noqa: E402

from oddbolt.catalog import tables  # noqa: E402
from oddbolt.imaging.finding import alike  # noqa: E402
from oddbolt.imaging.grey import grey_of  # noqa: E402
from scripts.study.screws import (  # noqa: E402
    HELD_OUT,
    LARGE_HELD_OUT,
    LARGE_RADII_PX,
    LARGE_SIZE,
    LARGE_TUNING,
    TRAINING,
    TUNING,
    Picture,
    last,
    picture,
)

NAMES = ("correlation", "polar", "recess", "depth", "spectrum", "colour", "profile")


def near(found: tuple[float, float], places: list[tuple[float, float]], within: float) -> int | None:
    for n, (x, y) in enumerate(places):
        if math.hypot(found[0] - x, found[1] - y) <= within:
            return n
    return None


def clicked(made: Picture) -> tuple[float, float, float]:
    """A click on the first screw, up to 3 px off, as the program takes it: snapped, the radius not known before."""
    rng = random.Random(round(made.radius * 1000))
    x, y = made.same[0]
    return last(alike.likely_head(made.pixels, (x + rng.uniform(-3, 3), y + rng.uniform(-3, 3))))


def samples(made: Picture) -> list[tuple[list[float], bool]]:
    """Descriptors of all candidates of a picture, with whether each is a screw of the kind clicked on."""
    grey = made.pixels
    *seed, radius = clicked(made)
    look = alike.look_at(grey, *seed, radius)
    placed = last(alike._placed(grey_of(grey), [alike.Example(grey, *seed, radius)], radius, alike.LOOKED_AT,
                                alike.ANGLES))
    placed = alike._likely(grey_of(grey), placed, radius, [look])
    step_px = radius / alike.working_radius(radius) * alike.OFF_PX
    found = []
    for *spot, correlation in alike._centred(grey_of(grey), placed, radius, look, step_px):
        if near(spot, [tuple(seed)], made.radius) is None and near(spot, made.others, made.radius) is None:
            values = alike.descriptors(alike.look_at(grey, *spot, radius), look)
            row_values = [correlation, *(values[name] for name in NAMES[1:])]
            found.append((row_values, near(spot, made.same, made.radius * 0.6) is not None))
    return found


def fit() -> dict[str, float]:
    rows = [sample for seed in TRAINING for sample in samples(picture(seed))]
    x = np.array([[1.0, *values] for values, _ in rows])
    y = np.array([is_one for _, is_one in rows], float)

    def loss(w: np.ndarray) -> float:
        z = x @ w
        return float((np.logaddexp(0, z) - y * z).mean() + 0.0005 * (w[1:] ** 2).sum())

    w = optimize.minimize(loss, np.zeros(x.shape[1]), method="BFGS").x
    return dict(zip(("bias", *NAMES), (round(float(v), 2) for v in w)))


def measure(pictures: Iterable[Picture]) -> None:
    right, proposed, there, perfect, seconds = Counter(), Counter(), Counter(), 0, []
    for made in pictures:
        start = time.perf_counter()
        *seed, radius = clicked(made)
        found = last(alike.find_alike(made.pixels, [tuple(seed)], radius))
        least = alike.least_score(found)
        found = [f for f in found if f.score >= least]
        seconds.append(time.perf_counter() - start)
        hits = {near((f.x, f.y), made.same, made.radius * 0.6) for f in found} - {None, 0}
        counted = [f for f in found if near((f.x, f.y), made.others, made.radius) is None]
        right[made.recess] += len(hits)
        proposed[made.recess] += len(counted)
        there[made.recess] += len(made.same) - 1
        perfect += len(hits) == len(made.same) - 1 == len(counted)
    print("| recess | precision | recall | screws |\n|---|---|---|---|")
    for kind in (*sorted(there), ""):
        r, p, t = ((c[kind] if kind else sum(c.values())) for c in (right, proposed, there))
        print(f"| {kind or 'all'} | {r / max(1, p):.2f} | {r / t:.2f} | {t} |")
    print(f"pictures without a mistake: {perfect} of {len(seconds)}; median {statistics.median(seconds):.2f} s each")


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--fit", action="store_true", help="fit the weights first and use them")
    parser.add_argument("--large", action="store_true", help="12 megapixels, heads 24 to 60 px across")
    parser.add_argument("--tuning", action="store_true", help="the pictures that the choice of the radius was tuned on")
    options = parser.parse_args()
    app = QGuiApplication.instance() or QGuiApplication(["study"])
    if options.fit:
        weights = fit()
        print(weights)
        tables.alike_weights().update(weights)
    if options.large:
        seeds = LARGE_TUNING if options.tuning else LARGE_HELD_OUT
        measure(picture(seed, LARGE_SIZE, LARGE_RADII_PX) for seed in seeds)
    else:
        measure(map(picture, TUNING if options.tuning else HELD_OUT))
    del app


if __name__ == "__main__":
    main()
