"""Photograph geometry and find-alike, against closed forms, simulation and SciPy."""

from __future__ import annotations

import math
import random
import statistics

import numpy as np
import pytest
from PySide6.QtWidgets import QApplication
from scipy import ndimage, signal
from scripts.study.screws import HELD_OUT, last, picture

from oddbolt.imaging import scale
from oddbolt.imaging.finding import alike, circles


def camera(tilt_deg: float, turn_deg: float = 10, f: float = 3300, height: float = 260):
    """A pinhole camera over a plane; returns plane mm -> px."""
    t, r = math.radians(tilt_deg), math.radians(turn_deg)
    rx = np.array([[1, 0, 0], [0, math.cos(t), -math.sin(t)], [0, math.sin(t), math.cos(t)]])
    rz = np.array([[math.cos(r), -math.sin(r), 0], [math.sin(r), math.cos(r), 0], [0, 0, 1]])

    def project(x, y):
        p = rx @ rz @ np.array([x, y, 0.0]) + np.array([0, 0, height])
        return 2000 + f * p[0] / p[2], 1500 + f * p[1] / p[2]

    return project


CORNERS = [(-42.8, -26.99), (42.8, -26.99), (42.8, 26.99), (-42.8, 26.99)]


@pytest.mark.parametrize("tilt", [0, 5, 15, 30])
def test_a_card_gives_lengths_under_any_tilt(tilt):
    """ISO/IEC 7810 ID-1, 85.60 mm x 53.98 mm (from memory, high): exact clicks give exact lengths."""
    project = camera(tilt)
    plane = scale.plane_of_rectangle([project(*c) for c in CORNERS])
    for a, b in (((0, 0), (60, 20)), ((-70, -40), (-70, 30))):
        found = scale.length_on_plane(project(*a), project(*b), plane)
        assert found.mm == pytest.approx(math.dist(a, b), rel=1e-6)
    corners = [project(*c) for c in ((0, 0), (10, 0), (10, 20), (0, 20))]
    assert scale.area_mm2(corners, plane) == pytest.approx(200, rel=1e-6)


def test_corners_may_be_clicked_in_either_sense_and_from_any_corner():
    project = camera(12)
    px = [project(*c) for c in CORNERS]
    a, b = project(5, 5), project(45, -10)
    for start in range(4):
        for order in (1, -1):
            turned = [px[(start + order * n) % 4] for n in range(4)]
            plane = scale.plane_of_rectangle(turned)
            assert scale.length_on_plane(a, b, plane).mm == pytest.approx(math.dist((5, 5), (45, -10)), rel=1e-6)


def test_the_propagated_uncertainty_is_honest():
    """Of 300 lengths with clicks scattered by 1 px, the errors over their stated deviations scatter by one."""
    rng = np.random.default_rng(5)
    project = camera(15)
    z = []
    for _ in range(300):
        corners = [np.array(project(*c)) + rng.normal(0, 1, 2) for c in CORNERS]
        a, b = rng.uniform(-60, 60, 2), rng.uniform(-60, 60, 2)
        if math.dist(a, b) < 15:
            continue
        plane = scale.plane_of_rectangle([tuple(c) for c in corners])
        found = scale.length_on_plane(tuple(np.array(project(*a)) + rng.normal(0, 1, 2)),
                                      tuple(np.array(project(*b)) + rng.normal(0, 1, 2)), plane)
        z.append((found.mm - math.dist(a, b)) / found.sd_mm)
    assert 0.88 < statistics.pstdev(z) < 1.12 and abs(statistics.fmean(z)) < 0.2
    assert 0.9 < sum(abs(v) < 2 for v in z) / len(z) <= 0.99


def test_a_sheet_of_dots_tells_its_residual_and_tightens():
    rng = np.random.default_rng(6)
    project = camera(10)
    places = [(x * 20.0 - 50, y * 20.0 - 40) for x in range(6) for y in range(5)]
    px = [tuple(np.array(project(*p)) + rng.normal(0, 0.5, 2)) for p in places]
    sheet = scale.plane_of_points(px, places, sd_px=0.5)
    assert sheet.residual_px == pytest.approx(0.5, rel=0.25)
    card = scale.plane_of_rectangle([project(*c) for c in CORNERS])
    a, b = project(-40, 0), project(40, 0)
    assert scale.length_on_plane(a, b, sheet).sd_mm < scale.length_on_plane(a, b, card).sd_mm
    assert card.residual_px is None  # four points leave nothing over to judge by


def test_two_points_hold_only_square_on():
    """The study of the platform notes: with 15 degrees of tilt a two-point scale is off by several per cent."""
    for tilt, off in ((0, 0.001), (15, 0.10)):
        project = camera(tilt, 0)
        one = scale.two_point_scale(project(0, -26.99), project(0, 26.99), 53.98)
        found = scale.length_by_scale(project(-40, 0), project(40, 0), one)
        assert (abs(found.mm - 80) / 80 < off) and (tilt == 0 or abs(found.mm - 80) / 80 > 0.01)
    assert scale.length_by_scale((0, 0), (100, 0), one, camera_mm=260).parallax_per_mm == pytest.approx(1 / 260)


@pytest.mark.parametrize("points", [[(0, 0)] * 4, [(0, 0), (1, 1), (2, 2), (3, 3)], [(0, 0), (1, 0), (0, 1)]])
def test_points_that_span_nothing_are_refused(points):
    with pytest.raises(ValueError):
        scale.plane_of_rectangle(points)
    with pytest.raises(ValueError):
        scale.two_point_scale((1, 1), (1, 1), 5)
    with pytest.raises(ValueError):
        scale.two_point_scale((1, 1), (9, 1), 0)


@pytest.mark.parametrize(("value", "sd", "text"), [
    (12.3456, 0.21, "12.3 ± 0.2"), (12.3456, 0.021, "12.35 ± 0.02"), (123.4, 3.2, "123 ± 3"), (1234.0, 25, "1234 ± 25"),
    (0.5, 0.0, "0.5"), (5.678, 0.96, "6 ± 1")])
def test_digits_are_honest(value, sd, text):
    assert scale.honest(value, sd) == text


# -- find alike

def test_correlation_is_scipys():
    """The masked correlation by FFT equals the plain sum, and SciPy's correlate2d."""
    rng = np.random.default_rng(1)
    work = rng.uniform(0, 255, (40, 52)).astype(np.float32)
    radius = alike.working_radius(22.0)
    half = int(radius * alike.REACH) + 1
    template = rng.uniform(0, 255, (2 * half + 1, 2 * half + 1)).astype(np.float32)
    first = next(iter(alike._correlations(work, [template], radius)))
    ys, xs = np.mgrid[-half:half + 1, -half:half + 1]
    mask = (xs ** 2 + ys ** 2 <= (radius * alike.INSIDE) ** 2).astype(float)
    number = mask.sum()
    inside = (template - (template * mask).sum() / number) * mask
    top = signal.correlate2d(work, inside, "same")
    mean = signal.correlate2d(work, mask, "same") / number
    spread = np.sqrt(np.maximum(signal.correlate2d(work ** 2, mask, "same") / number - mean ** 2, 4.0))
    plain = top / (number * math.sqrt((inside ** 2).sum() / number)) / spread
    assert np.allclose(first, plain, atol=2e-3)


def test_a_look_does_not_mind_rotation():
    rng = np.random.default_rng(2)
    field = ndimage.gaussian_filter(rng.uniform(0, 255, (80, 80, 3)), (2, 2, 0)).astype(np.float32) * 3 - 255
    turned = np.clip(ndimage.rotate(field, 47, axes=(0, 1), reshape=False, order=3, mode="nearest"), 0, 255)
    one, other = alike.look_at(np.clip(field, 0, 255), 39.5, 39.5, 20), alike.look_at(turned, 39.5, 39.5, 20)
    found = alike.descriptors(one, other)
    assert found["polar"] > 0.95 and found["spectrum"] > 0.97
    strange = alike.look_at(np.clip(rng.uniform(0, 255, (80, 80, 3)), 0, 255).astype(np.float32), 40, 40, 20)
    assert alike.descriptors(one, strange)["polar"] < 0.5


@pytest.fixture(scope="module")
def pictures():
    app = QApplication.instance() or QApplication(["tests"])
    yield [picture(seed) for seed in HELD_OUT[:6]]
    del app


def hits(made, found):
    near = [next((n for n, (x, y) in enumerate(made.same) if math.dist((x, y), (f.x, f.y)) < made.radius * 0.6), None)
            for f in found]
    wrong = [f for f, n in zip(found, near) if n is None
             and all(math.dist(o, (f.x, f.y)) > made.radius for o in made.others)]
    return len({n for n in near if n}), wrong


def test_screws_are_found_on_held_out_pictures(pictures):
    """One of each recess kind; docs/methods/alike.md has the figures of all thirty."""
    right = proposed = there = 0
    for made in pictures:
        found = [f for f in last(alike.find_alike(made.pixels, [made.same[0]], made.radius)) if f.score >= 0.5]
        number, wrong = hits(made, found)
        right, proposed, there = right + number, proposed + number + len(wrong), there + len(made.same) - 1
    assert right / there > 0.85 and right / proposed > 0.85, (right, proposed, there)


def test_of_very_many_only_the_most_alike_are_taken():
    few, many = ([alike.Likeness(0, n, 0.6) for n in range(number)] for number in (alike.MANY, alike.MANY + 1))
    assert alike.least_score(few) == alike.TAKEN and alike.least_score(many) == alike.TAKEN_OF_MANY
    assert alike.least_score([]) == alike.TAKEN


def test_a_wrong_one_teaches(pictures):
    made = pictures[0]
    found = last(alike.find_alike(made.pixels, [made.same[0]], made.radius))
    target = found[len(made.same) + 1]
    again = last(alike.find_alike(made.pixels, [made.same[0]], made.radius, wrong=[(target.x, target.y)]))
    assert all(math.dist((f.x, f.y), (target.x, target.y)) > made.radius for f in again)
    scores = {(round(f.x), round(f.y)): f.score for f in again}
    assert all(scores.get((round(f.x), round(f.y)), 0) <= f.score + 1e-9 for f in found)


def test_a_hasty_click_is_snapped(pictures):
    rng = random.Random(3)
    errors = [math.dist(spot, circles.snap(made.pixels, spot[0] + rng.uniform(-3, 3), spot[1] + rng.uniform(-3, 3),
                                         made.radius)[:2]) for made in pictures for spot in made.same[:4]]
    assert statistics.median(errors) < 1.5


def drawn_head(centre, head, recess, of_head, of_recess, ground=90.0, size=(200, 200)):
    """A head with a dark round recess, lightly blurred, on an even ground: its circles are known."""
    y, x = np.mgrid[0:size[0], 0:size[1]].astype(np.float32)
    far = np.hypot(x - centre[0], y - centre[1])
    inside = np.where(far <= recess, of_recess, of_head)
    grey = ndimage.gaussian_filter(np.where(far <= head, inside, ground), 1.0)
    return np.repeat(grey[..., None], 3, axis=2).astype(np.float32)


@pytest.mark.parametrize("off", [(0, 0), (4, -3), (-5, 2)])
def test_centre_and_radius_are_found_together(off):
    pixels = drawn_head((100.0, 96.0), 22.0, 13.0, 200.0, 30.0)
    found = circles.circles_at(pixels, 100 + off[0], 96 + off[1])
    best = circles.centred(pixels, found[0])
    assert math.dist((best.x, best.y), (100, 96)) < 1 and best.radius_px == pytest.approx(13, abs=1)
    about = circles.circles_about(pixels, best.x, best.y)
    assert {round(one.radius_px) for one in about[:2]} <= {12, 13, 14, 21, 22, 23}
    assert circles.snap(pixels, 100 + off[0], 96 + off[1])[2] == pytest.approx(22, abs=1)  # the outermost is the head's


def test_a_circle_that_touches_a_rim_from_inside_is_no_head():
    pixels = drawn_head((100.0, 100.0), 26.0, 0.0, 210.0, 210.0)
    x, y, radius = circles.snap(pixels, 105, 103)
    assert math.dist((x, y), (100, 100)) < 1.5 and radius == pytest.approx(26, abs=1)


def test_of_several_seeds_the_one_that_is_seen_best_tells_the_size():
    """A mark may lie where a cable covers the screw on this photograph."""
    pixels = drawn_head((100.0, 96.0), 22.0, 13.0, 200.0, 30.0)
    assert alike.clearest(pixels, [(40.0, 160.0), (101.0, 96.0), (30.0, 30.0)]) == (101.0, 96.0)
    assert alike.clearest(pixels, [(40.0, 160.0)]) == (40.0, 160.0)


def test_the_head_is_taken_in_though_only_its_recess_has_an_edge():
    """A black head on a black ground: of a plain dark recess alone nothing can be told from a hole."""
    pixels = drawn_head((100.0, 100.0), 21.0, 12.0, 40.0, 5.0, ground=41.0)
    radii = [one.radius_px for one in alike._heads(pixels, 101.0, 99.0)]
    assert any(abs(radius - 12 / alike.RECESS_OF_HEAD) < 1.5 for radius in radii), radii


def test_a_click_beside_the_photograph_or_on_nothing_is_taken_as_it_is():
    flat = np.full((60, 80, 3), 90, np.float32)
    assert circles.circles_at(flat, -500, -500) == circles.circles_at(flat, 500, 500) == []
    assert circles.snap(flat, 500, 500)[:2] == (500, 500) and circles.snap(flat, -500, 9, 10.0) == (-500, 9, 10.0)
    assert last(alike.likely_head(flat, (20, 20))) == (20, 20, circles.SMALLEST_PX)


def test_places_at_the_edge_and_empty_pictures_do_no_harm():
    flat = np.full((60, 80, 3), 90, np.float32)
    assert all(f.score < 0.5 for f in last(alike.find_alike(flat, [(1, 1)], 10)))
    assert last(alike.find_alike(flat, [(79, 59)], 10, region=(70, 50, 80, 60))) is not None
    assert circles.snap(flat, 0, 0)[2] >= circles.SMALLEST_PX


def test_looking_can_be_left_at_any_step(pictures):
    steps = alike.find_alike(pictures[0].pixels, [pictures[0].same[0]], pictures[0].radius)
    assert next(steps) == []
    steps.close()
