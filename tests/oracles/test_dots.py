"""The printed sheet of dots: the print itself, rendered back and measured; and its dots found on drawn photographs.

References outside the project: the geometry of a pinhole camera with radial distortion, by which each pixel's place on
the sheet is known (R. Hartley, A. Zisserman, Multiple View Geometry, 2nd ed. 2004, 6.1 and 7.4, from memory); PDFium,
which renders the PDF.
"""

from __future__ import annotations

import math
import random

import numpy as np
import pypdfium2
import pytest
from PySide6.QtWidgets import QApplication
from scipy import ndimage

from oddbolt.imaging import dots, scale
from oddbolt.imaging.sides import taken_over
from oddbolt.paint.pages import PAGES_MM, Page, dot_sheet

WIDTH, HEIGHT = 2400, 1800
PX_PER_MM = 12


@pytest.fixture(scope="module")
def app():
    yield QApplication.instance() or QApplication(["tests"])


class Camera:
    """Looks at a sheet from about a third of a metre; `k1` bends its rays."""

    def __init__(self, tilt_deg: float, k1: float):
        self.k1, self.radius = k1, math.hypot(WIDTH, HEIGHT) / 2
        t, r = math.radians(tilt_deg), math.radians(13)
        tilt = np.array([[1, 0, 0], [0, math.cos(t), -math.sin(t)], [0, math.sin(t), math.cos(t)]])
        turn = np.array([[math.cos(r), -math.sin(r), 0], [math.sin(r), math.cos(r), 0], [0, 0, 1]])
        f = WIDTH * 1.1
        inner = np.array([[f, 0, WIDTH / 2], [0, f, HEIGHT / 2], [0, 0, 1]])
        both = tilt @ turn
        self.back = np.linalg.inv(inner @ np.column_stack([both[:, 0], both[:, 1], [0, 0, 330.0]]))

    def to_mm(self, x, y):
        dx, dy = (x - WIDTH / 2) / self.radius, (y - HEIGHT / 2) / self.radius
        grows = 1 + self.k1 * (dx * dx + dy * dy)
        at = np.stack([WIDTH / 2 + dx * grows * self.radius, HEIGHT / 2 + dy * grows * self.radius,
                       np.ones_like(dx)]).reshape(3, -1)
        mm = self.back @ at
        return (mm[0] / mm[2]).reshape(np.shape(x)), (mm[1] / mm[2]).reshape(np.shape(x))

    def photograph(self, seed: int, *, device=True, sheet=True):
        """Dots of 3 mm each 10 mm, a device with dark round screws over the middle, shade and grain."""
        rng = np.random.default_rng(seed)
        ys, xs = np.mgrid[0:HEIGHT, 0:WIDTH].astype(np.float32)
        picture = np.zeros((HEIGHT, WIDTH), np.float32)
        for shift in (-0.25, 0.25):
            mx, my = self.to_mm(xs + shift, ys + shift)
            own = np.where(np.hypot((mx + 5) % 10 - 5, (my + 5) % 10 - 5) < 1.5, 40.0, 230.0) if sheet else \
                np.full(mx.shape, 230.0)
            own[(abs(mx) > 135) | (abs(my) > 95)] = 120
            if device:
                inside = (abs(mx) < 75) & (abs(my) < 50)
                own[inside] = 90 + 20 * np.sin(mx[inside])
                own[inside & (np.hypot((mx + 7) % 23 - 11, (my + 3) % 19 - 9) < 1.6)] = 20
            picture += own / 2
        grey = picture * (1 - 0.3 * xs / WIDTH) + rng.normal(0, 4, picture.shape)
        return np.repeat(np.clip(grey, 0, 255)[..., None], 3, 2).astype(np.uint8)


@pytest.mark.parametrize(("tilt", "k1"), [(0, 0.0), (15, 0.05), (32, -0.06)])
def test_lengths_by_the_sheet_are_right_under_tilt_and_distortion(tilt, k1):
    camera = Camera(tilt, k1)
    sheet = dots.find_sheet(camera.photograph(1))
    assert len(sheet.spots) > 150
    assert sheet.plane.lens[3] == pytest.approx(k1, abs=0.002)
    rng = random.Random(2)
    worst = 0.0
    for _ in range(60):
        spots = [(rng.uniform(500, 1900), rng.uniform(400, 1400)) for _ in range(2)]
        true = math.dist(*[tuple(float(v[0]) for v in camera.to_mm(np.array([x]), np.array([y]))) for x, y in spots])
        found = scale.length_on_plane(*spots, sheet.plane, sd_px=0)
        worst = max(worst, abs(found.mm - true))
        assert abs(found.mm - true) < 4 * found.sd_mm + 1e-3
    assert worst < 0.02


def test_what_lies_on_the_device_is_not_taken_for_the_sheet():
    with pytest.raises(ValueError, match="dots"):
        dots.find_sheet(Camera(10, 0).photograph(2, sheet=False))
    with pytest.raises(ValueError, match="dots"):
        dots.find_sheet(np.full((300, 400, 3), 200, np.uint8))


def test_without_the_lens_the_same_photograph_misleads():
    """The lens is worth fitting: a straight plane through the same dots errs by more than a tenth of a millimetre."""
    camera = Camera(15, 0.05)
    sheet = dots.find_sheet(camera.photograph(1))
    straight = scale.plane_of_points(sheet.spots, [(10 * c, 10 * r) for c, r in sheet.cells])
    a, b = (300.0, 300.0), (2100.0, 1500.0)
    true = math.dist(*[tuple(float(v[0]) for v in camera.to_mm(np.array([x]), np.array([y]))) for x, y in (a, b)])
    assert abs(scale.length_on_plane(a, b, straight).mm - true) > 0.1 > \
        abs(scale.length_on_plane(a, b, sheet.plane).mm - true)
    assert straight.residual_px > 5 * sheet.plane.residual_px


def rendered(page):
    """Where a page is dark, 12 px a millimetre."""
    picture = page.render(scale=PX_PER_MM * 25.4 / 72, grayscale=True).to_numpy()
    return (picture[..., 0] if picture.ndim == 3 else picture) < 128


@pytest.mark.parametrize("name", list(PAGES_MM))
def test_the_print_is_true_to_scale(app, name):
    """Dots, rendered back from the PDF at 12 px a millimetre, stand 10 mm apart within 0.05 mm and are 3 mm wide."""
    page = pypdfium2.PdfDocument(dot_sheet(Page(name=name), "Sheet", "Print at 100 %", 10.0, 3.0))[0]
    width, height = (points * 25.4 / 72 for points in page.get_size())
    assert (width, height) == pytest.approx(PAGES_MM[name], abs=0.2)
    dark = rendered(page)
    labels, _ = ndimage.label(dark)
    sizes = np.bincount(labels.ravel())
    round_ones = [n for n, size in enumerate(sizes) if n and abs(size - math.pi * (1.5 * PX_PER_MM) ** 2) < 40]
    middles = np.array(ndimage.center_of_mass(dark, labels, round_ones)) / PX_PER_MM
    assert len(middles) == (int((width - 23) / 10) + 1) * (int((height - 37) / 10) + 1)
    for axis in (0, 1):
        steps = np.diff(np.unique(np.round(middles[:, axis], 2)))
        steps = steps[steps > 1]
        assert len(steps) > 10 and abs(steps - 10).max() < 0.05


def test_the_ruler_of_the_print_is_a_hundred_millimetres(app):
    page = pypdfium2.PdfDocument(dot_sheet(Page(name="A4"), "Sheet", "", 10.0, 3.0))[0]
    line = np.nonzero(rendered(page)[round((297 - 14) * PX_PER_MM) - 1])[0]
    assert (line[-1] - line[0]) / PX_PER_MM == pytest.approx(100.15, abs=0.2)  # the ticks at its ends are 0.15 mm wide


def test_marks_go_to_the_other_side():
    """A device turned over sideways: closed forms of the reflection, with scales, by shared marks under any turn."""
    sizes = ((1200.0, 800.0), (600.0, 400.0))
    assert taken_over([(100, 50), (600, 400)], sizes, (None, None), turned=True) == [(550, 25), (300, 200)]
    assert taken_over([(100, 50)], sizes, (0.1, 0.05), turned=True) == [(1300, -500)]
    assert taken_over([(100, 50)], sizes, (None, None), turned=False) == [(50, 25)]
    rng = random.Random(4)
    turn, grow, shift = complex(math.cos(0.3), math.sin(0.3)), 1.7, complex(40, -25)

    def there(x, y):
        z = turn * grow * complex(-x, y) + shift
        return z.real, z.imag

    spots = [(rng.uniform(0, 1200), rng.uniform(0, 800)) for _ in range(8)]
    found = taken_over(spots[3:], sizes, (None, None), turned=True, shared=[(s, there(*s)) for s in spots[:3]])
    assert all(math.dist(f, there(*s)) < 0.1 for f, s in zip(found, spots[3:]))
    one = taken_over([(100, 50)], sizes, (None, None), turned=True, shared=[((100, 50), (321, 123))])
    assert one == [(321, 123)]
