"""The printed mat, rendered back by PDFium (another program than the one that made it) and measured; and the tray."""

from __future__ import annotations

import re

import numpy as np
import pypdfium2
import pytest
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QApplication
from scipy import ndimage

from oddbolt.model import exchange
from oddbolt.model.refusal import Refusal
from oddbolt.paint.mat import MARGIN_MM, PLACE_MM, Mat, Place, best_page, mat_pdf, mat_svg, tiles
from oddbolt.paint.mat_of import mat_of
from oddbolt.reassembly.tray import tray_layers

PX_PER_MM = 14


@pytest.fixture(scope="module")
def app():
    yield QApplication.instance() or QApplication(["tests"])


def places(*spots):
    return tuple(Place(x_mm=x, y_mm=y, number=n, letter="ABCDEF"[n % 6], drive="PH")
                 for n, (x, y) in enumerate(spots, 1))


def dark(pdf, number):
    page = pypdfium2.PdfDocument(pdf)[number]
    picture = page.render(scale=PX_PER_MM * 25.4 / 72, grayscale=True).to_numpy()
    return (picture[..., 0] if picture.ndim == 3 else picture) < 200


def middle_of_ring(picture, x_mm, y_mm):
    """Where the ring round a place really is, mm: the middle of the ink that hangs together with its right edge."""
    labels, _ = ndimage.label(picture)
    row, column = round(y_mm * PX_PER_MM), round((x_mm + PLACE_MM) * PX_PER_MM)
    near = labels[row - 3:row + 4, column - 8:column + 9]
    name = near[near > 0][0]
    ys, xs = np.nonzero(labels == name)
    assert (xs.max() - xs.min()) / PX_PER_MM == pytest.approx(2 * PLACE_MM, abs=0.6)
    return (xs.max() + xs.min() + 1) / 2 / PX_PER_MM, (ys.max() + ys.min() + 1) / 2 / PX_PER_MM


@pytest.mark.parametrize("paper", ["A4", "A3", "Letter"])
def test_each_place_is_where_the_bolt_is_within_a_fifth_of_a_millimetre(app, paper):
    spots = [(12.0, 15.0), (250.4, 20.3), (130.25, 90.75), (20.6, 170.2), (262.0, 176.0)]
    mat = Mat(width_mm=276, height_mm=184, title="Test", places=places(*spots))
    page = best_page(mat, paper)
    pdf = mat_pdf([mat], paper, "words")
    seen = set()
    for number, tile in enumerate(tiles(mat, page)):
        picture = dark(pdf, number)
        for n, (x, y) in enumerate(spots):
            inside = tile.part.adjusted(PLACE_MM + 1, PLACE_MM + 1, -PLACE_MM - 1, -PLACE_MM - 1)
            if inside.contains(x, y):
                at = (MARGIN_MM + x - tile.part.x(), MARGIN_MM + y - tile.part.y())
                assert middle_of_ring(picture, *at) == pytest.approx(at, abs=0.2)
                seen.add(n)
    assert seen == set(range(5))


def test_sheets_overlap_and_cover_the_mat():
    for width, height in ((100, 80), (276, 184), (600, 400), (190.0, 261.0), (1, 1)):
        mat = Mat(width_mm=width, height_mm=height, title="", places=())
        for paper in ("A4", "A3", "Letter"):
            own = tiles(mat, best_page(mat, paper))
            assert max(t.part.right() for t in own) == pytest.approx(width)
            assert max(t.part.bottom() for t in own) == pytest.approx(height)
            for tile in own:
                if tile.column:
                    left = next(t for t in own if (t.row, t.column) == (tile.row, tile.column - 1))
                    assert left.part.right() - tile.part.x() >= 7.9


def test_the_svg_has_its_size_in_millimetres(app):
    mat = Mat(width_mm=120, height_mm=80, title="Test", places=places((30, 40)))
    text = mat_svg(mat).decode()
    width, height = (float(v) for v in re.search(r'<svg width="([\d.]+)mm" height="([\d.]+)mm"', text).groups())
    assert (width, height) == pytest.approx((120, 80), abs=0.2)
    box = [float(v) for v in re.search(r'viewBox="([^"]+)"', text).group(1).split()]
    assert box == pytest.approx([0, 0, 12000, 8000], abs=1)
    circle = next(m for m in re.findall(r'<(?:circle|ellipse)[^>]*>', text))
    assert 'cx="30"' in circle and 'cy="40"' in circle


def test_the_demos_bolts_lie_in_layers(app, root):
    record = exchange.loads((root / "src/oddbolt/demo/dunlin-2.json").read_bytes())
    layers = tray_layers(record)
    assert sum(layer.bolts for layer in layers) == sum(j.count for j in record.joints if j.kind == "screw")
    joints = [c.joint for layer in layers for c in layer.compartments]
    assert len(joints) == len(set(joints))
    assert [layer.view.id for layer in layers if layer.view][:2] == ["s1-back", "s2-back"]
    first = mat_of(record, layers[0], (2400, 1600), "Layer 1", QImage(10, 10, QImage.Format.Format_RGB32))
    mark = layers[0].compartments[0].marks[0]
    assert (first.places[0].x_mm, first.places[0].number) == (pytest.approx(mark.x * 0.115), 1)
    with pytest.raises(Refusal, match="no-photo-of-bolts"):
        mat_of(record, layers[-1], (2400, 1600), "")


def test_a_mat_needs_a_scale(example):
    record = exchange.from_json(example)
    layers = tray_layers(record)
    assert layers[0].compartments[0].letter == "A" and layers[0].bolts == 4
    example["views"][0].pop("mm_per_px")
    with pytest.raises(Refusal, match="no-scale"):
        mat_of(exchange.from_json(example), tray_layers(exchange.from_json(example))[0], (100, 100), "")
