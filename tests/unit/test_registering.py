"""Photographs of one side laid over each other: against transformations that are known, and what must be refused."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import ndimage

from oddbolt.imaging.registering import device_mask, laid_back, register, warped

RNG = np.random.default_rng


def picture(seed, height=480, width=720):
    """Texture at several scales, as boards and covers have it, on an even mat."""
    rng = RNG(seed)
    grey = np.full((height, width), 110.0, np.float32)
    inside = np.zeros_like(grey)
    inside[50:-50, 60:-60] = 1
    for size in (3, 8, 24):
        noise = ndimage.gaussian_filter(rng.normal(0, 1, grey.shape), size)
        grey += inside * (18 * noise / noise.std()).astype(np.float32)
    return grey, inside


def moved(grey, matrix, *, gain=1.0, noise=2.5, seed=9):
    """The same from where a camera stands otherwise: before -> after is `matrix`."""
    there = warped(grey, np.linalg.inv(matrix), grey.shape, outside=110.0)
    return (there * gain + RNG(seed).normal(0, noise, grey.shape)).astype(np.float32)


def pose(turn_deg, scale, dx, dy, centre=(360, 240), tilt=0.0):
    turn = np.deg2rad(turn_deg)
    cos, sin = scale * np.cos(turn), scale * np.sin(turn)
    to, back = np.eye(3), np.eye(3)
    to[:2, 2], back[:2, 2] = centre, (-centre[0], -centre[1])
    rotate = np.array([[cos, -sin, dx], [sin, cos, dy], [tilt, -tilt / 2, 1]])
    return to @ rotate @ back


def errors(found, matrix, height=480, width=720):
    spots = [(x, y) for x in range(80, width - 70, 60) for y in range(70, height - 60, 60)]
    true = [matrix @ (x, y, 1) for x, y in spots]
    return [float(np.hypot(*(np.subtract(found.carry(x, y), t[:2] / t[2])))) for (x, y), t in zip(spots, true)]


@pytest.mark.parametrize(("turn", "scale", "dx", "dy", "gain", "tilt"), [
    (0.0, 1.0, 0, 0, 1.0, 0), (0.3, 1.0, 12, -7, 1.2, 0), (-2.7, 1.01, -31, 22, 0.8, 0), (4.4, 0.99, 38, 30, 1.1, 0),
    (-6.0, 1.02, 5, -40, 0.9, 0), (1.5, 1.0, 20, 10, 1.0, 2e-5)])
def test_a_known_movement_is_found_to_a_third_of_a_pixel(turn, scale, dx, dy, gain, tilt):
    grey, inside = picture(3)
    matrix = pose(turn, scale, dx, dy, tilt=tilt)
    *_, found = register(grey, moved(grey, matrix, gain=gain), inside)
    assert found.is_same_side and found.agree > 0.6
    assert np.median(errors(found, matrix)) <= 0.3 and max(errors(found, matrix)) <= 1.0


def test_half_of_it_may_have_changed():
    grey, inside = picture(3)
    other, _ = picture(4)
    matrix = pose(1.2, 1.0, 14, -9)
    after = moved(grey, matrix)
    after[:, 400:] = moved(other, matrix, seed=5)[:, 400:]
    *_, found = register(grey, after, inside)
    left = [e for e, (x, _) in zip(errors(found, matrix), [(x, y) for x in range(80, 650, 60)
                                                           for y in range(70, 420, 60)]) if x < 360]
    assert found.is_same_side and np.median(left) <= 0.5


@pytest.mark.parametrize("after", ["turned over", "another device", "nothing"])
def test_what_does_not_show_the_same_is_refused(after):
    grey, inside = picture(3)
    shown = {"turned over": grey[:, ::-1].copy(), "another device": picture(8)[0],
             "nothing": np.full_like(grey, 90.0)}[after]
    *_, found = register(grey, shown + RNG(1).normal(0, 2, grey.shape).astype(np.float32), inside)
    assert not found.is_same_side


def test_the_device_is_told_from_the_mat():
    grey, inside = picture(3)
    mat = np.stack((grey * 0 + 110, grey * 0 + 125, grey * 0 + 120), -1)
    device = np.stack((grey * 0.4, grey * 0.42, grey * 0.45), -1)
    light = np.linspace(0.8, 1.2, grey.shape[1])[None, :, None]
    pixels = (np.where(inside[..., None] > 0, device, mat) * light).astype(np.float32)
    found = device_mask(pixels)
    assert (found == inside).mean() > 0.96
    marked = device_mask(pixels, [(100, 100), (600, 100), (600, 400), (100, 400)], 20)
    assert marked[250, 350] == 1 and marked[90, 350] == 1 and (marked >= found).all()
    flat = np.full_like(pixels, 120)  # nothing differs from the mat: the marks alone say where it lies
    alone = device_mask(flat, [(100, 100), (600, 100), (600, 400), (100, 400)], 20)
    assert alone[250, 350] == 1 and alone[60, 650] == 0 and alone[90, 350] == 1
    assert device_mask(pixels, [(100, 100), (200, 200), (300, 300)], 20)[200, 200] == 1  # in a row: their box


def test_it_can_be_given_up_at_many_places():
    grey, inside = picture(3)
    assert sum(one is None for one in register(grey, grey, inside)) >= 4


# -- held by hand

def by_hand(grey, tilt_deg, bends, *, noise=2.5):
    """The same through a lens that bends, by a camera that is not held straight: how a place lies there, and the
    picture. The usual model: a plane seen at an angle, radii stretched by 1 + k r^2 (D. C. Brown 1971, from memory)."""
    height, width = grey.shape
    f, tilt = 1.2 * width, np.deg2rad(tilt_deg)
    turn = np.array([[np.cos(tilt), 0, np.sin(tilt)], [0, 1, 0], [-np.sin(tilt), 0, np.cos(tilt)]])

    def there(x, y):
        p = turn @ np.stack([(np.ravel(x) - width / 2) / f, (np.ravel(y) - height / 2) / f, np.zeros(np.size(x))])
        u, v = p[0] / (1 + p[2]), p[1] / (1 + p[2])
        more = 1 + bends * (u * u + v * v)
        return u * more * f + width / 2, v * more * f + height / 2

    y, x = np.mgrid[0:height, 0:width].astype(float)
    at_x, at_y = x.copy(), y.copy()
    for _ in range(20):  # which place of the flat picture lies at each pixel
        u, v = (one.reshape(height, width) for one in there(at_x, at_y))
        at_x, at_y = at_x - (u - x), at_y - (v - y)
    seen = ndimage.map_coordinates(grey, (at_y, at_x), order=1, cval=110.0)
    return there, (seen + RNG(9).normal(0, noise, grey.shape)).astype(np.float32)


@pytest.mark.parametrize(("tilt_deg", "bends"), [(0, -0.12), (4, 0.1), (8, -0.08), (10, 0.12)])
def test_a_camera_held_by_hand_is_found_to_half_a_pixel(tilt_deg, bends):
    grey, inside = picture(3, 960, 1440)
    there, seen = by_hand(grey, tilt_deg, bends)
    *_, found = register(grey, seen, inside)
    assert found.is_same_side and found.bend is not None
    spots = [(x, y) for x in range(80, 1370, 60) for y in range(70, 900, 60)]
    off = [float(np.hypot(*np.subtract(found.carry(x, y), np.ravel(there(x, y))))) for x, y in spots]
    assert np.median(off) <= 0.5 and np.quantile(off, 0.9) <= 1.0
    flat = found.__class__(matrix=found.matrix, agree=found.agree)
    worse = [float(np.hypot(*np.subtract(flat.carry(x, y), np.ravel(there(x, y))))) for x, y in spots]
    assert np.median(off) < np.median(worse)
    # Laid back and forth it is itself again.
    back = laid_back(np.stack([grey] * 3, -1), found, seen.shape)[..., 0]
    middle = (slice(100, 860), slice(120, 1320))
    assert np.abs(back[middle] - seen[middle]).mean() < 3.5


def test_where_one_plane_is_enough_nothing_bends_it():
    grey, inside = picture(3)
    *_, found = register(grey, moved(grey, pose(1.5, 1.0, 20, 10)), inside)
    assert found.bend is None


def test_what_is_held_far_too_slanted_is_refused():
    grey, inside = picture(3)
    _, seen = by_hand(grey, 50, 0.0)
    *_, found = register(grey, seen, inside)
    assert not found.is_same_side
