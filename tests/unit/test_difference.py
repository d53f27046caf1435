"""What two photographs say came off: on drawn pairs with what was truly done, and on plain made pictures."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import ndimage
from scripts.difference_study import table, work

from oddbolt.imaging.differing.difference import (
    CAME_OFF,
    GONE,
    HEAD,
    LIGHT,
    PRESENT,
    SMALL,
    UNSURE,
    Place,
    Screw,
    differ,
)
from oddbolt.imaging.differing.outlines import outline_of, overlap, pixels_within
from oddbolt.imaging.registering import Registration

SIZE = 300, 400
STAYS = Registration(matrix=np.eye(3), agree=0.9)
SCREWS = [Screw(joint="a", x=80, y=80, radius_px=9), Screw(joint="b", x=320, y=80, radius_px=9, part="plate")]
PLATE = ("plate", ((220.0, 150.0), (360.0, 150.0), (360.0, 250.0), (220.0, 250.0)))


def texture(seed, scale=14.0):
    noise = ndimage.gaussian_filter(np.random.default_rng(seed).normal(0, 1, SIZE), 2.0)
    return (100 + scale * noise / noise.std())[..., None] * np.array([0.9, 1.0, 1.05])


def head(pixels, x, y, r, turn=0.3):
    """A light head with a dark cross."""
    v, u = np.mgrid[0:SIZE[0], 0:SIZE[1]]
    a, b = u - x, v - y
    c, s = a * np.cos(turn) + b * np.sin(turn), b * np.cos(turn) - a * np.sin(turn)
    inside = np.hypot(a, b) <= r
    cross = inside & (np.minimum(np.abs(c), np.abs(s)) < r * 0.2) & (np.hypot(a, b) < r * 0.7)
    out = pixels.copy()
    out[inside], out[cross] = (205, 205, 200), (40, 42, 44)
    return out


def hole(pixels, x, y, r):
    v, u = np.mgrid[0:SIZE[0], 0:SIZE[1]]
    out = pixels.copy()
    out[np.hypot(u - x, v - y) <= r * 0.6] = (14, 15, 16)
    return out


def grain(pixels, seed):
    return (ndimage.gaussian_filter(pixels, (0.8, 0.8, 0)) + np.random.default_rng(seed).normal(0, 2.5, (*SIZE, 3))
            ).clip(0, 255).astype(np.float32)


@pytest.fixture
def board():
    before = texture(1)
    plate = texture(2, 10.0) * np.array([1.1, 1.1, 1.0]) + 40
    before[150:250, 220:360] = plate[150:250, 220:360]
    for screw in SCREWS:
        before = head(before, screw.x, screw.y, screw.radius_px)
    return before


def found_in(before, after, *, registration=STAYS, outlines=(PLATE,), mask=None):
    *_, found = differ(grain(before, 5), grain(after, 6), registration,
                       np.ones(SIZE, np.float32) if mask is None else mask, SCREWS, outlines)
    return found


def says(found):
    return {verdict.screw.joint: verdict.says for verdict in found.screws}


def test_where_nothing_was_done_nothing_is_said(board):
    found = found_in(board, board * np.linspace(0.85, 1.15, SIZE[1])[None, :, None])
    assert says(found) == {"a": PRESENT, "b": PRESENT}
    assert found.lifted == () and [r for r in found.regions if r.says == CAME_OFF] == [] and not found.refused


def test_a_screw_that_went_is_said_and_the_other_is_not(board):
    after = texture(1)
    after[150:250, 220:360] = board[150:250, 220:360]
    after = head(hole(after, 80, 80, 9), 320, 80, 9)
    found = found_in(board, after)
    assert says(found) == {"a": GONE, "b": PRESENT} and found.lifted == ()


def test_what_lies_over_a_head_is_not_taken_for_its_hole(board):
    after = board.copy()
    after[74:92, 60:104] = (58, 47, 36)  # an opened plug, bent aside
    after[76:80, 62:102:3] = (201, 165, 90)
    assert says(found_in(board, after))["a"] != PRESENT
    assert says(found_in(board, after))["a"] in (UNSURE,)


def test_a_part_that_came_off_is_said_by_its_outline_and_found_without_one(board):
    after = texture(1)
    for screw in SCREWS:
        after = head(after, screw.x, screw.y, screw.radius_px)
    assert found_in(board, after).lifted == ("plate",)
    region = next(r for r in found_in(board, after, outlines=()).regions if r.says == CAME_OFF)
    edges = [f(corner[n] for corner in PLATE[1]) for f in (min, max) for n in (0, 1)]
    assert all(abs(seen - true) <= 4 for seen, true in zip(region.box, edges))
    assert overlap(region.outline, PLATE[1]) > 0.75  # what looks like what lay under it is a dent
    assert all(210 <= x <= 370 and 140 <= y <= 260 for x, y in region.outline)


def test_what_is_bare_on_a_bare_ground_is_off_when_its_rim_goes():
    """A cell: the whole of it is as even as the tray under it, and only its edge and its label tell. What lies across
    it may go without it."""
    tray = np.full((*SIZE, 3), (46.0, 47.0, 49.0))
    cell, bar = tray.copy(), tray.copy()
    cell[80:260, 100:340] = (41.0, 42.0, 44.0)
    cell[80:82, 100:340] = cell[258:260, 100:340] = cell[80:260, 100:102] = cell[80:260, 338:340] = 70.0
    cell[164:174, 200:230] += texture(9, 30.0)[164:174, 200:230]
    bar[:] = cell
    bar[110:230, 60:220] = texture(12)[110:230, 60:220]
    around = ((100.0, 80.0), (340.0, 80.0), (340.0, 260.0), (100.0, 260.0))
    by_hand = tuple((220 + (x - 220) * 1.05, 170 + (y - 170) * 0.96) for x, y in around)
    for outline in (around, by_hand):
        assert found_in(cell, tray, outlines=(("cell", outline),)).lifted == ("cell",)
        assert found_in(bar, cell, outlines=(("cell", outline),)).lifted == ()
        assert found_in(cell, cell, outlines=(("cell", outline),)).lifted == ()


def test_a_head_that_nobody_marked_is_said_where_it_went(board):
    board = head(board, 150, 220, 9)
    after = hole(texture(1), 150, 220, 9)
    after[150:250, 220:360] = board[150:250, 220:360]
    for screw in SCREWS:
        after = head(after, screw.x, screw.y, screw.radius_px)
    heads = [region for region in found_in(board, after).regions if region.says == HEAD]
    assert len(heads) == 1 and abs(heads[0].middle[0] - 150) < 3 and abs(heads[0].middle[1] - 220) < 3
    assert 7 < heads[0].radius_px < 12


def test_a_plug_that_was_bent_aside_is_said_once_where_it_was(board):
    def plug(pixels, x, y):
        out = pixels.copy()
        out[y - 7:y + 7, x - 16:x + 16] = (58, 47, 36)
        out[y - 5:y - 2, x - 14:x + 14:3] = (201, 165, 90)
        return out

    mask = np.ones(SIZE, np.float32)
    before, after = plug(board, 120, 170), plug(board, 126, 225)
    after[163:177, 104:136] = (120, 130, 60)  # the socket under it
    *_, found = differ(grain(before, 5), grain(after, 6), STAYS, mask, SCREWS, (PLATE,),
                       [Place(thing="plug", x=120, y=170, radius_px=8), Place(thing="other", x=60, y=220, radius_px=8)])
    small = [region for region in found.regions if region.says in (SMALL, CAME_OFF)]
    assert found.changed_at == ("plug",) and len(small) == 1 and abs(small[0].middle[1] - 170) < 8


@pytest.mark.parametrize("shape", ["notch", "ring", "dot"])
def test_an_outline_goes_round_what_it_is_of(shape):
    """Against the pixels themselves: within the outline lies what was in the mask, but for the corners cut off."""
    mask = np.zeros((60, 80), bool)
    mask[10:50, 10:70] = True
    if shape == "notch":
        mask[10:30, 30:45] = False
    if shape == "dot":
        mask[:] = False
        mask[20, 30] = True
    corners = outline_of(mask, 0.5)
    if shape == "dot":
        assert sorted(corners) == [(30, 20), (30, 21), (31, 20), (31, 21)]
    assert (pixels_within(mask.shape, corners) == mask).mean() > 0.99 and len(corners) < 16
    assert outline_of(np.zeros((5, 5), bool)) == ()


def test_a_mirrored_lamp_is_light(board):
    v, u = np.mgrid[0:SIZE[0], 0:SIZE[1]]
    blob = np.exp(-((u - 120) ** 2 + (v - 200) ** 2) / 30.0 ** 2)[..., None]
    found = found_in(board, board + 70 * blob)
    assert all(region.says == LIGHT for region in found.regions) and found.lifted == ()


def test_what_reaches_in_hides_and_too_much_of_it_is_refused(board):
    mask = np.zeros(SIZE, np.float32)
    mask[30:-30, 30:-30] = 1
    after = board.copy()
    after[60:100, :110] = (201, 154, 124)
    found = found_in(board, after, mask=mask)
    assert says(found)["a"] == "hidden" and says(found)["b"] == PRESENT and not found.refused
    after[40:220, :260] = (201, 154, 124)
    assert found_in(board, after, mask=mask).refused == "hand"


def test_nothing_is_said_of_another_side(board):
    found = found_in(board, texture(9), registration=Registration(matrix=np.eye(3), agree=0.05))
    assert found.refused == "not-same-side" and not found.screws and not found.regions


def test_a_slice_of_the_study_on_pairs_that_nothing_was_tuned_on():
    """One of each sort; the tables of the manual come from the whole (`scripts.difference_study`)."""
    pairs = [work(seed) for seed in (1, 3, 5, 7, 9)]
    by = {pair.sort: pair for pair in pairs}
    assert by["turned over"].refused == "not-same-side" and by["hand"].hidden_share > 0
    assert all(pair.off_px < 1.0 for pair in pairs if pair.off_px is not None)
    assert by["nothing"].false_regions == 0 and by["nothing"].refused == ""
    screws = [one for pair in pairs if pair.sort in ("acts", "nothing") for one in pair.screws]
    assert not any(true == GONE and said == PRESENT for true, said in screws)
    assert len(table(pairs)) > 10
