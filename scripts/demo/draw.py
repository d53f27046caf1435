"""Draws the demo's photographs: top views of each state, lit from one corner, with shadow, grain and a little blur.

Deterministic for a seed. Screws have recesses of their standard's kind at random rotation, so that the true places and
types are known to whatever is tried on these pictures later.
"""

from __future__ import annotations

import math
import random
from pathlib import Path
from typing import Any

import numpy as np
from PySide6.QtCore import QBuffer, QIODevice, QPointF, QRectF, Qt
from PySide6.QtGui import (
    QBrush,
    QColor,
    QFont,
    QGuiApplication,
    QImage,
    QLinearGradient,
    QPainter,
    QPainterPath,
    QPen,
    QPolygonF,
    QRadialGradient,
)
from scipy import ndimage

from scripts.demo.dunlin_2 import (
    BY_ID,
    FASTENERS,
    HEIGHT_MM,
    MARGIN_MM,
    MM_PER_PX,
    PHOTO_PX,
    WIDTH_MM,
    Shape,
    scene,
    views,
)

PER_MM = 1 / MM_PER_PX
LOOKS = {"frame": "#3b4146", "cover": "#27423f", "steel": "#9aa0a3", "cell": "#23262b", "pcb": "#1e5a43",
         "shield": "#b9bdbd", "graphite": "#33363a", "lens": "#191b1f", "plastic": "#4d5257", "glass": "#101417",
         "speaker": "#2b2e33", "foam": "#17181a", "antenna": "#8d6f45", "wire": "#1d1f22", "cable": "#8a5a22",
         "dot": "#d9d9d2", "display": "#0c0f13"}
FASTENER = {row["id"]: row for row in FASTENERS}
COVER = "back-cover"


class Photo:
    """One view being drawn."""

    def __init__(self, view: dict[str, Any], seed: int) -> None:
        self.side = view["side"]
        self.removed = set(view["scene"]["removed"])
        self.released = set(view["scene"]["released"])
        self.rng = random.Random(seed)
        self.noise = np.random.default_rng(seed)
        self.image = QImage(*PHOTO_PX, QImage.Format.Format_RGB32)
        self.painter = QPainter(self.image)
        self.painter.setRenderHint(QPainter.RenderHint.Antialiasing)

    def draw(self) -> QImage:
        try:
            self._mat()
            self.painter.save()
            self.painter.scale(PER_MM, PER_MM)
            self.painter.translate(*MARGIN_MM)
            if self.side == "front":
                self.painter.translate(WIDTH_MM, 0)
                self.painter.scale(-1, 1)
            self._device()
            self.painter.restore()
        finally:
            self.painter.end()
        return self._light(self.image)

    # -- what lies there

    def _mat(self) -> None:
        self.painter.fillRect(self.image.rect(), QColor("#6f7f7c"))
        self.painter.setPen(QPen(QColor(255, 255, 255, 26), 2))
        for x in range(0, PHOTO_PX[0], 174):
            self.painter.drawLine(x, 0, x, PHOTO_PX[1])
        for y in range(0, PHOTO_PX[1], 174):
            self.painter.drawLine(0, y, PHOTO_PX[0], y)

    def _device(self) -> None:
        shapes = sorted(((id_, s) for id_, s in scene.shapes.items() if self._is_there(id_, s)),
                        key=lambda item: item[1].level)
        closed = COVER not in self.removed and "cover-seam" not in self.released and self.side == "back"
        glass_on = self.side == "front" and "display" not in self.removed
        for id_, shape in shapes:
            if closed and shape.level < 90 and id_ not in ("frame", "power-key", "volume-key", "card-tray"):
                continue
            if id_ == COVER and not closed:
                self._swung_cover(shape)
                continue
            if id_ == "camera-window" and not closed:
                continue
            self._shape(id_, shape)
            if id_ == "frame" and not closed and not glass_on:
                self._hollow()
        if not closed and self.side == "back":
            self._joints()

    def _is_there(self, id_: str, shape: Shape) -> bool:
        carrier = id_
        while carrier:
            if carrier in self.removed:
                return False
            carrier = BY_ID[carrier].get("on", "")
        if self.side == "front":
            return id_ in ("frame", "display")
        return not shape.front

    def _shadow(self, path: QPainterPath, depth: float) -> None:
        for k in range(5):
            self.painter.fillPath(path.translated(depth * k / 3, depth * k / 2.2), QColor(0, 0, 0, 26))

    def _shape(self, id_: str, shape: Shape) -> None:
        p = self.painter
        if shape.path:
            self._strand(shape)
            return
        x, y, w, h = shape.rect
        radius = 8 if shape.level in (0, 90) else min(1.6, w / 4, h / 4)
        outline = QPainterPath()
        outline.addRoundedRect(QRectF(x, y, w, h), radius, radius)
        self._shadow(outline, 1.2 if shape.level < 5 else 0.5)
        base = QColor(LOOKS[shape.look])
        fill = QLinearGradient(x, y, x + w, y + h)
        fill.setColorAt(0, base.lighter(118))
        fill.setColorAt(1, base.darker(112))
        p.fillPath(outline, QBrush(fill))
        p.setPen(QPen(base.darker(170), 0.25))
        p.drawPath(outline)
        detail = {"pcb": self._pcb, "lens": self._lens, "speaker": self._mesh, "cell": self._cell,
                  "shield": self._shield, "cover": self._cover}.get(shape.look)
        if detail is not None:
            detail(id_, shape)
        if shape.look == "dot" and "Moisture" in BY_ID[id_]["name"]:
            state = BY_ID[id_]["facts"][0]["value"]
            p.fillPath(outline, QColor("#c43a3a" if state == "red" else "#eeeeea"))
        if shape.label:
            self._label(shape)

    def _hollow(self) -> None:
        """The tray inside the frame."""
        inside = QPainterPath()
        inside.addRoundedRect(QRectF(3, 3, WIDTH_MM - 6, HEIGHT_MM - 6), 5, 5)
        self.painter.fillPath(inside, QColor("#2c3135"))
        self.painter.setPen(QPen(QColor("#3f464b"), 0.5))
        rng = random.Random(4)
        for _ in range(26):
            x, y = rng.uniform(6, WIDTH_MM - 20), rng.uniform(6, HEIGHT_MM - 14)
            self.painter.drawRoundedRect(QRectF(x, y, rng.uniform(4, 16), rng.uniform(2, 9)), 0.6, 0.6)

    def _strand(self, shape: Shape) -> None:
        path = QPainterPath(QPointF(*shape.path[0]))
        for spot in shape.path[1:]:
            path.lineTo(*spot)
        width = 1.3 if shape.look == "wire" else 6.0
        pen = QPen(QColor(LOOKS[shape.look]), width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap,
                   Qt.PenJoinStyle.RoundJoin)
        self.painter.strokePath(path.translated(0.5, 0.7), QPen(QColor(0, 0, 0, 70), width))
        self.painter.strokePath(path, pen)
        if shape.look == "cable":
            for k in range(5):
                thin = QPen(QColor(220, 170, 90, 110), 0.2)
                self.painter.strokePath(path.translated(0.9 * (k - 2), 0.9 * (k - 2)), thin)

    def _pcb(self, id_: str, shape: Shape) -> None:
        x, y, w, h = shape.rect
        rng = random.Random(id_)
        self.painter.setPen(QPen(QColor(70, 150, 110, 120), 0.15))
        for _ in range(int(w * h / 22)):
            a, b = rng.uniform(x + 1, x + w - 4), rng.uniform(y + 1, y + h - 2)
            self.painter.drawLine(QPointF(a, b), QPointF(min(x + w - 1, a + rng.uniform(1, 9)), b))
        for _ in range(int(w * h / 14)):
            a, b = rng.uniform(x + 2, x + w - 4), rng.uniform(y + 2, y + h - 3)
            if rng.random() < 0.2:
                size = QRectF(a, b, min(rng.uniform(2.5, 7), x + w - a - 1), min(rng.uniform(2.5, 6), y + h - b - 1))
                self.painter.fillRect(size, QColor("#15181a"))
            else:
                self.painter.fillRect(QRectF(a, b, 1.0, 0.55), QColor(rng.choice(("#b9a06a", "#8c8f8c", "#3d352a"))))

    def _lens(self, id_: str, shape: Shape) -> None:
        x, y, w, h = shape.rect
        centre, r = QPointF(x + w / 2, y + h / 2), min(w, h) * 0.36
        for share, colour in ((1.0, "#3a3e44"), (0.78, "#0b0c0e"), (0.45, "#1c2a4a")):
            self.painter.setBrush(QColor(colour))
            self.painter.setPen(Qt.PenStyle.NoPen)
            self.painter.drawEllipse(centre, r * share, r * share)
        self.painter.setBrush(Qt.BrushStyle.NoBrush)

    def _mesh(self, id_: str, shape: Shape) -> None:
        x, y, w, h = shape.rect
        self.painter.setPen(QPen(QColor("#43474d"), 0.3))
        inner = QRectF(x + w * 0.18, y + h * 0.22, w * 0.64, h * 0.56)
        self.painter.drawRoundedRect(inner, 3, 3)
        for k in range(1, 12):
            self.painter.drawLine(QPointF(inner.x() + k * inner.width() / 12, inner.y()),
                                  QPointF(inner.x() + k * inner.width() / 12, inner.bottom()))

    def _cell(self, id_: str, shape: Shape) -> None:
        x, y, w, h = shape.rect
        self.painter.setPen(QPen(QColor("#3c4148"), 0.4))
        self.painter.drawLine(QPointF(x + w / 2, y + 1), QPointF(x + w / 2, y + h - 1))
        for k in (0.25, 0.75):
            self.painter.fillRect(QRectF(x + w * k - 6, y + h - 2.2, 12, 4.5), QColor("#d8d3c4"))
        self.painter.fillRect(QRectF(112, 70, 9, 7), QColor("#b3762b"))

    def _shield(self, id_: str, shape: Shape) -> None:
        x, y, w, h = shape.rect
        self.painter.setPen(QPen(QColor("#8c9191"), 0.3))
        for k in range(1, 8):
            for m in range(1, 5):
                self.painter.drawPoint(QPointF(x + w * k / 8, y + h * m / 5))
        self.painter.drawRoundedRect(QRectF(x + 1, y + 1, w - 2, h - 2), 0.8, 0.8)

    def _cover(self, id_: str, shape: Shape) -> None:
        self.painter.setPen(QPen(QColor("#35544f"), 0.5))
        for k in range(9):
            self.painter.drawArc(QRectF(150 - 6 * k, 90 - 5 * k, 12 * k, 10 * k), 20 * 16, 140 * 16)

    def _swung_cover(self, shape: Shape) -> None:
        """The inner side of the cover, standing behind the long edge, still on its cable."""
        strip = QPainterPath()
        strip.addRoundedRect(QRectF(1, -MARGIN_MM[1] - 2, 248, MARGIN_MM[1] - 1), 3, 3)
        self._shadow(strip, 0.8)
        self.painter.fillPath(strip, QColor("#3a4a48"))
        cable = QPainterPath(QPointF(101, -4))
        cable.cubicTo(99, 12, 103, 30, 101, 62)
        self.painter.strokePath(cable.translated(0.7, 0.9), QPen(QColor(0, 0, 0, 80), 6))
        self.painter.strokePath(cable, QPen(QColor("#8a5a22"), 6))
        self.painter.strokePath(cable, QPen(QColor("#b57a35"), 0.4))

    def _label(self, shape: Shape) -> None:
        x, y, w, h = shape.rect
        p = self.painter
        p.save()
        if self.side == "front":
            p.restore()
            return
        size = max(2.0, min(h * 0.12, w * 0.8 / max(1, len(shape.label)), 7.0))
        font = QFont("DejaVu Sans")
        font.setPixelSize(100)
        p.translate(x + w * 0.08, y + h * 0.9 - (h * 0.35 if h > 40 else 0))
        p.scale(size / 100, size / 100)
        p.setFont(font)
        p.setPen(QColor(235, 235, 225, 205))
        p.drawText(0, 0, shape.label)
        p.restore()

    # -- what holds it

    def _joints(self) -> None:
        for id_, spots in scene.spots.items():
            record = BY_ID[id_]
            gone = any(part in self.removed for part in record["of"])
            if record["side"] == "front" or (gone and id_ not in self.released):
                continue
            for spot in spots:
                if id_ in self.released:
                    if record["kind"] == "screw" and not all(part in self.removed for part in record["of"][:1]):
                        self._hole(spot, 0.9)
                    elif record["kind"] == "screw":
                        self._hole(spot, 0.7)
                    continue
                if self._is_covered(id_, spot):
                    continue
                {"screw": self._screw, "connector": self._plug, "film": self._film,
                 "contact": self._springs}.get(record["kind"], lambda *_: None)(record, spot)

    def _is_covered(self, id_: str, spot: tuple[float, float]) -> bool:
        """Whether something that lies higher than all the joint ties is over it."""
        record = BY_ID[id_]
        top = max((scene.shapes[part].level for part in record["of"]
                   if part in scene.shapes and scene.shapes[part].level < 90), default=0)
        if record["kind"] == "film":
            return False
        for other, shape in scene.shapes.items():
            x, y, w, h = shape.rect
            if shape.level > top and shape.level < 90 and self._is_there(other, shape) and not shape.path \
                    and x <= spot[0] <= x + w and y <= spot[1] <= y + h:
                return True
        return id_ != "label-film" and any(
            film not in self.released and abs(fx - spot[0]) < 3.2 and abs(fy - spot[1]) < 2.4
            for film, places in scene.spots.items() if BY_ID[film]["kind"] == "film" for fx, fy in places)

    def _hole(self, spot: tuple[float, float], r: float) -> None:
        self.painter.setPen(QPen(QColor("#62686c"), 0.3))
        self.painter.setBrush(QColor("#0d0e10"))
        self.painter.drawEllipse(QPointF(*spot), r, r)

    def _screw(self, record: dict[str, Any], spot: tuple[float, float]) -> None:
        fastener = FASTENER[record["fastener"]]
        p, r = self.painter, fastener["head_mm"] / 2
        black = fastener["colour"] == "black"
        shade = QPainterPath()
        shade.addEllipse(QPointF(spot[0], spot[1]), r, r)
        self._shadow(shade, 0.25)
        light = QRadialGradient(spot[0] - r * 0.4, spot[1] - r * 0.4, r * 1.8)
        light.setColorAt(0, QColor("#54585c" if black else "#e6e6e2"))
        light.setColorAt(1, QColor("#1a1c1f" if black else "#8e908e"))
        p.setBrush(QBrush(light))
        p.setPen(QPen(QColor("#0c0d0e" if black else "#5e605e"), 0.15))
        p.drawEllipse(QPointF(*spot), r, r)
        p.save()
        p.translate(*spot)
        p.rotate(self.rng.uniform(0, 360))
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor("#060607" if black else "#2b2d2e"))
        p.drawPath(recess(fastener["drive"], r * 0.62))
        p.restore()

    def _plug(self, record: dict[str, Any], spot: tuple[float, float]) -> None:
        p, (x, y) = self.painter, spot
        if record["type"] == "coaxial":
            p.setPen(QPen(QColor("#6d5a24"), 0.2))
            p.setBrush(QColor("#d2b45a"))
            p.drawEllipse(QPointF(x, y), 1.3, 1.3)
            p.setBrush(QColor("#8f7631"))
            p.drawEllipse(QPointF(x, y), 0.5, 0.5)
            return
        w, h = (9.0, 3.2) if record["type"] == "board-to-board" else (7.5, 3.4)
        p.setPen(QPen(QColor("#101112"), 0.2))
        p.setBrush(QColor("#3a2f24" if record["type"] == "board-to-board" else "#d8d2c0"))
        p.drawRoundedRect(QRectF(x - w / 2, y - h / 2, w, h), 0.4, 0.4)
        if record["type"] == "zif":
            p.fillRect(QRectF(x - w / 2, y + h / 2 - 1.1, w, 1.1), QColor("#2a2a2c"))
        else:
            p.setPen(QPen(QColor("#c9a55a"), 0.18))
            for k in range(12):
                p.drawLine(QPointF(x - w / 2 + 0.6 + k * 0.7, y - h / 2 + 0.3),
                           QPointF(x - w / 2 + 0.6 + k * 0.7, y - h / 2 + 0.9))

    def _film(self, record: dict[str, Any], spot: tuple[float, float]) -> None:
        self.painter.setPen(Qt.PenStyle.NoPen)
        self.painter.setBrush(QColor(214, 205, 176, 235))
        self.painter.drawRoundedRect(QRectF(spot[0] - 3, spot[1] - 2.2, 6, 4.4), 0.4, 0.4)

    def _springs(self, record: dict[str, Any], spot: tuple[float, float]) -> None:
        for k in range(3):
            self.painter.fillRect(QRectF(spot[0] + k * 1.6, spot[1], 0.8, 2.6), QColor("#cfae5e"))

    # -- the camera

    def _light(self, image: QImage) -> QImage:
        width, height = PHOTO_PX
        pixels = np.frombuffer(image.constBits(), np.uint8).reshape(height, width, 4)[..., :3].astype(np.float32)
        y, x = np.mgrid[0:height, 0:width].astype(np.float32)
        near = np.hypot((x - width * 0.28) / width, (y - height * 0.18) / height)
        pixels *= (1.16 - 0.5 * near)[..., None]
        pixels = ndimage.gaussian_filter(pixels, (0.9, 0.9, 0))
        grain = self.noise.normal(0, 3.2, (height, width, 1)) + self.noise.normal(0, 1.4, (height, width, 3))
        out = np.empty((height, width, 4), np.uint8)
        out[..., :3] = np.clip(pixels + grain, 0, 255)
        out[..., 3] = 255
        return QImage(out.tobytes(), width, height, QImage.Format.Format_RGB32).copy()


def recess(drive: str, r: float) -> QPainterPath:
    """The recess of a drive as a filled path of outer radius `r`, drawn from its geometry."""
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.WindingFill)
    if drive in ("PH", "PZ"):
        path.addRect(QRectF(-r, -r * 0.2, 2 * r, r * 0.4))
        path.addRect(QRectF(-r * 0.2, -r, r * 0.4, 2 * r))
        return path
    if drive == "Y":
        for k in range(3):
            a = math.radians(120 * k)
            side = QPointF(-math.sin(a), math.cos(a)) * (r * 0.17)
            tip = QPointF(math.cos(a), math.sin(a)) * r
            path.addPolygon(QPolygonF([-side, side, tip + side, tip - side]))
        return path
    lobes = QPolygonF()
    for k in range(72):
        a = math.radians(5 * k)
        lobes.append(QPointF(math.cos(a), math.sin(a)) * (r * (0.86 + 0.14 * math.cos(6 * a))))
    path.addPolygon(lobes)
    return path


def render(view: dict[str, Any], seed: int, quality: int = 82) -> bytes:
    """One view as JPEG bytes."""
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    Photo(view, seed).draw().save(buffer, "JPEG", quality)
    return bytes(buffer.data())


def draw_all(folder: Path) -> None:
    app = QGuiApplication.instance() or QGuiApplication(["demo", "-platform", "offscreen"])
    folder.mkdir(parents=True, exist_ok=True)
    for n, view in enumerate(views):
        (folder / f"{view['id']}.jpg").write_bytes(render(view, seed=100 + n))
    del app
