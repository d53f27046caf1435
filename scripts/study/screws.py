"""Pictures of screws among decoys, with their true places: boards, frames, chips, rings, pads, holes, shadows.

Deterministic for a seed. Nothing here is a photograph; real ones are harder.
"""

from __future__ import annotations

import random
from collections.abc import Iterable

import numpy as np
from msgspec import Struct, field
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QImage, QLinearGradient, QPainter, QPen, QRadialGradient
from scipy import ndimage

from oddbolt.paint.bolts import recess_path

SIZE = (1500, 1000)
RECESSES = ("PH", "PZ", "T", "PL", "Y", "HX")
RADII_PX = 8.5, 20.0
TRAINING, TUNING, HELD_OUT = range(1000, 1014), range(3000, 3110), range(2000, 2030)  # the split is fixed
LARGE_SIZE, LARGE_RADII_PX = (4000, 3000), (12.0, 30.0)  # 12 megapixels
LARGE_TUNING, LARGE_HELD_OUT = range(5000, 5060), range(4000, 4030)


class Picture(Struct):
    """Pixels (height, width, 3) and where the screws are: kind 0 is the one that is clicked on."""

    pixels: np.ndarray
    recess: str
    radius: float
    same: list[tuple[float, float]] = field(default_factory=list)
    others: list[tuple[float, float]] = field(default_factory=list)  # screws of another kind: not counted either way


def last(steps: Iterable[list]) -> list:
    """The answer of a search that yields its progress."""
    found = []
    for found in steps:  # noqa: B007
        pass
    return found


def picture(seed: int, size: tuple[int, int] = SIZE, radii_px: tuple[float, float] = RADII_PX) -> Picture:
    """`size` (width, height), px: all but the heads, whose radius lies within `radii_px`, grows with it."""
    rng = random.Random(seed)
    image = QImage(*size, QImage.Format.Format_RGB32)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    zoom = size[0] / SIZE[0]
    painter.scale(zoom, zoom)
    sheet = SIZE[0], size[1] / zoom
    _background(painter, rng, sheet)
    radius = rng.uniform(*radii_px) / zoom
    recess = RECESSES[seed % len(RECESSES)]
    made = Picture(np.zeros(1), recess, radius * zoom)
    taken: list[tuple[float, float]] = []
    black = rng.random() < 0.5
    for _ in range(rng.randint(4, 14)):
        made.same.append(_screw(painter, rng, _free(rng, taken, radius, sheet), radius, recess, black))
    other = rng.choice([r for r in RECESSES if {r, recess} != {"PH", "PZ"} and r != recess])
    for _ in range(rng.randint(0, 6)):
        spot = _free(rng, taken, radius, sheet)
        made.others.append(_screw(painter, rng, spot, radius * rng.uniform(0.75, 1.3), other, rng.random() < 0.5))
    for _ in range(rng.randint(10, 24)):
        _decoy(painter, rng, _free(rng, taken, radius, sheet), radius * rng.uniform(0.7, 1.3))
    painter.end()
    made.same, made.others = ([(x * zoom, y * zoom) for x, y in spots] for spots in (made.same, made.others))
    made.pixels = _camera(image, rng)
    return made


def _free(rng: random.Random, taken: list[tuple[float, float]], radius: float, sheet: tuple[float, float]) -> \
        tuple[float, float]:
    while True:
        x, y = rng.uniform(40, sheet[0] - 40), rng.uniform(40, sheet[1] - 40)
        if all((x - a) ** 2 + (y - b) ** 2 > (3.2 * radius) ** 2 for a, b in taken):
            taken.append((x, y))
            return x, y


def _background(painter: QPainter, rng: random.Random, sheet: tuple[float, float]) -> None:
    painter.fillRect(QRectF(0, 0, *sheet), QColor(rng.choice(("#3a4146", "#2c3135", "#5c6468", "#23302c"))))
    for _ in range(rng.randint(3, 7)):
        colour = QColor(rng.choice(("#1e5a43", "#214a72", "#9aa0a3", "#26282c", "#7a6a45", "#b9bdbd")))
        corner = rng.uniform(-100, sheet[0]), rng.uniform(-100, sheet[1])
        box = QRectF(*corner, rng.uniform(150, 700), rng.uniform(120, 500))
        fill = QLinearGradient(box.topLeft(), box.bottomRight())
        fill.setColorAt(0, colour.lighter(115))
        fill.setColorAt(1, colour.darker(115))
        painter.fillRect(box, QBrush(fill))
        for _ in range(int(box.width() * box.height() / 900)):
            x, y = rng.uniform(box.left(), box.right()), rng.uniform(box.top(), box.bottom())
            if rng.random() < 0.12:
                painter.fillRect(QRectF(x, y, rng.uniform(12, 60), rng.uniform(10, 50)), QColor("#15181a"))
            elif rng.random() < 0.5:
                painter.fillRect(QRectF(x, y, 7, 4), QColor(rng.choice(("#b9a06a", "#8c8f8c", "#3d352a"))))
            else:
                painter.setPen(QPen(QColor(255, 255, 255, 50), 1))
                painter.drawLine(QPointF(x, y), QPointF(x + rng.uniform(5, 60), y))


def _screw(painter: QPainter, rng: random.Random, spot: tuple[float, float], r: float, recess: str, black: bool) -> \
        tuple[float, float]:
    x, y = spot
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(0, 0, 0, 70))
    painter.drawEllipse(QPointF(x + r * 0.15, y + r * 0.2), r * 1.05, r * 1.05)
    light = QRadialGradient(x - r * 0.4, y - r * 0.4, r * 1.8)
    light.setColorAt(0, QColor("#5a5e62" if black else "#e8e8e4"))
    light.setColorAt(1, QColor("#17191c" if black else "#8a8c8a"))
    painter.setBrush(QBrush(light))
    painter.drawEllipse(QPointF(x, y), r, r)
    painter.save()
    painter.translate(x, y)
    painter.rotate(rng.uniform(0, 360))
    painter.fillPath(recess_path(recess, r * 0.62), QColor("#050506" if black else "#2a2c2d"))
    painter.restore()
    return spot


def _decoy(painter: QPainter, rng: random.Random, spot: tuple[float, float], r: float) -> None:
    """Things a hasty eye takes for a screw: a hole, a ring, a round part, a plug, a pad with a cross on it."""
    centre = QPointF(*spot)
    painter.setPen(Qt.PenStyle.NoPen)
    kind = rng.randrange(5)
    if kind == 0:
        painter.setBrush(QColor("#0c0d0f"))
        painter.drawEllipse(centre, r, r)
    elif kind == 1:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(rng.choice(("#c9a55a", "#b9bdbd"))), r * 0.35))
        painter.drawEllipse(centre, r * 0.8, r * 0.8)
    elif kind == 2:
        light = QRadialGradient(spot[0] - r * 0.3, spot[1] - r * 0.3, r * 1.6)
        light.setColorAt(0, QColor("#d8d8d4"))
        light.setColorAt(1, QColor("#707270"))
        painter.setBrush(QBrush(light))
        painter.drawEllipse(centre, r, r)
    elif kind == 3:
        for share, colour in ((1.0, "#d2b45a"), (0.45, "#6d5a24")):
            painter.setBrush(QColor(colour))
            painter.drawEllipse(centre, r * share, r * share)
    else:
        painter.setBrush(QColor("#c9a55a"))
        painter.drawRoundedRect(QRectF(spot[0] - r, spot[1] - r, 2 * r, 2 * r), 2, 2)
        painter.fillRect(QRectF(spot[0] - r * 0.7, spot[1] - 1.5, r * 1.4, 3), QColor("#3a2f24"))


def _camera(image: QImage, rng: random.Random) -> np.ndarray:
    """Light from one side, the edge of a shadow, blur and grain."""
    width, height = image.width(), image.height()
    pixels = np.frombuffer(image.constBits(), np.uint8).reshape(height, width, 4)[..., 2::-1].astype(np.float32)
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    lamp = rng.uniform(0, width), rng.uniform(0, height)
    pixels *= (1.15 - 0.45 * np.hypot(x - lamp[0], y - lamp[1]) / width)[..., None]
    if rng.random() < 0.5:
        edge = rng.uniform(0.2, 0.8) * width
        pixels *= (1 - 0.28 / (1 + np.exp(np.clip(-(x + 0.3 * y - edge) / 14, -60, 60))))[..., None]
    pixels = ndimage.gaussian_filter(pixels, (*[rng.uniform(0.7, 1.3)] * 2, 0))
    noise = np.random.default_rng(rng.randrange(1 << 30))
    return np.clip(pixels + noise.normal(0, 3.5, pixels.shape), 0, 255).astype(np.float32)
