"""Photographs of a device that is only described: top views of a state, lit from one corner, with shadow and grain.

They stand in for a camera: the demo's photographs and the simulated overhead camera are drawn here. Deterministic for a
seed. Screws have recesses of their standard's kind at random rotation, so that true places and types are known.
"""

from __future__ import annotations

import json
import math
import random
from collections.abc import Mapping
from functools import cached_property
from typing import Any

from msgspec import Struct
from msgspec.structs import replace
from PySide6.QtCore import QBuffer, QIODevice, QPointF, QRectF, Qt
from PySide6.QtGui import (
    QBrush,
    QColor,
    QFont,
    QImage,
    QLinearGradient,
    QPainter,
    QPainterPath,
    QPen,
    QPolygonF,
    QRadialGradient,
)

LOOKS = {"frame": "#3b4146", "cover": "#27423f", "steel": "#9aa0a3", "cell": "#23262b", "pcb": "#1e5a43",
         "shield": "#b9bdbd", "graphite": "#33363a", "lens": "#191b1f", "plastic": "#4d5257", "glass": "#101417",
         "speaker": "#2b2e33", "foam": "#17181a", "antenna": "#8d6f45", "wire": "#1d1f22", "cable": "#8a5a22",
         "dot": "#d9d9d2", "display": "#0c0f13"}


class Shape(Struct, frozen=True, kw_only=True):
    """How a part looks from above, mm from the device's upper left corner seen from the back."""

    rect: tuple[float, float, float, float]
    look: str
    level: int  # higher lies nearer to the back
    label: str = ""
    front: bool = False  # seen from the front only
    path: tuple[tuple[float, float], ...] = ()  # of a cable


class Scene(Struct, frozen=True, kw_only=True, dict=True):
    """A device as it can be drawn: shapes of parts, places of joints, and the records they stand for."""

    size_mm: tuple[float, float]
    margin_mm: tuple[float, float]  # where the device lies in the photograph
    mm_per_px: float
    photo_px: tuple[int, int]
    cover: str  # the part that hides everything while `seam` is closed
    seam: str
    glass: str  # the same from the front
    cover_cable: tuple[tuple[float, float], ...] = ()  # of the cover that hangs open: where it leaves, bends, ends
    tab: tuple[float, float, float, float] | None = None  # where the cell's cable leaves it
    shapes: Mapping[str, Shape]
    spots: Mapping[str, tuple[tuple[float, float], ...]]  # joint -> places
    front_spots: Mapping[str, tuple[tuple[float, float], ...]]
    records: Mapping[str, Mapping[str, Any]]  # part or joint -> its keys in the exchange file
    fasteners: Mapping[str, Mapping[str, Any]]

    @classmethod
    def from_json(cls, text: str | bytes) -> Scene:
        data = json.loads(text)
        shapes = {id_: Shape(**{**row, "rect": tuple(row["rect"]), "path": tuple(map(tuple, row.get("path", ())))})
                  for id_, row in data.pop("shapes").items()}
        spots = {key: {id_: tuple(map(tuple, places)) for id_, places in data.pop(key).items()}
                 for key in ("spots", "front_spots")}
        data["cover_cable"] = tuple(map(tuple, data.get("cover_cable", ())))
        return cls(shapes=shapes, **spots, **data)

    def level_of(self, joint: str) -> int:
        """How high a joint lies: the highest of what it ties, the cover aside."""
        return max((self.shapes[part].level for part in self.records[joint]["of"]
                    if part in self.shapes and self.shapes[part].level < 90), default=0)

    @cached_property
    def per_mm(self) -> float:
        return 1 / self.mm_per_px

    def to_pixels(self, x_mm: float, y_mm: float, side: str) -> tuple[float, float]:
        """Photograph pixels of a place, with the camera unmoved; from the front the device is turned over."""
        if side == "front":
            x_mm = self.size_mm[0] - x_mm
        return (x_mm + self.margin_mm[0]) * self.per_mm, (y_mm + self.margin_mm[1]) * self.per_mm


class Shot(Struct, frozen=True, kw_only=True):
    """One photograph: the state of the device, and how the camera and the lamp happen to stand."""

    side: str = "back"
    removed: frozenset[str] = frozenset()
    released: frozenset[str] = frozenset()
    seed: int = 0
    shift_mm: tuple[float, float] = (0.0, 0.0)
    turn_deg: float = 0.0
    lamp: tuple[float, float] = (0.28, 0.18)  # as a share of the photograph
    brightness: float = 1.0
    zoom: float = 1.0  # how much nearer the camera stands
    parallax: bool = False  # what lies higher is seen further out
    glare: tuple[float, float] | None = None  # where the lamp is mirrored, as a share of the photograph
    hand: str = ""  # what reaches in over the rim: "finger", "glove", "cloth"
    aside: bool = False  # opened plugs are seen where they were bent to

    def to_pixels(self, scene: Scene, x_mm: float, y_mm: float) -> tuple[float, float]:
        """Where a place of the device, at the level of the frame and seen from the back, lies on this photograph."""
        turn = math.radians(self.turn_deg)
        x, y = x_mm + scene.margin_mm[0], y_mm + scene.margin_mm[1]
        return (scene.per_mm * self.zoom * (self.shift_mm[0] + x * math.cos(turn) - y * math.sin(turn)),
                scene.per_mm * self.zoom * (self.shift_mm[1] + x * math.sin(turn) + y * math.cos(turn)))


LEVEL_MM, CAMERA_MM = 0.15, 420.0  # how high one level lies above the other, and the camera above all: for the parallax
HANDS = {"finger": "#c99a7c", "glove": "#3f5f8a", "cloth": "#c9c6bd"}


# Large because it is one drawing: what lies on what is clearest in one place.
class Photo:
    """One view being drawn."""

    def __init__(self, scene: Scene, shot: Shot) -> None:
        self.scene = scene
        self.shot = shot
        self.side = shot.side
        self.removed = shot.removed
        self.released = shot.released
        self.rng = random.Random(shot.seed)
        self.image = QImage(*scene.photo_px, QImage.Format.Format_RGB32)
        self.painter = QPainter(self.image)
        self.painter.setRenderHint(QPainter.RenderHint.Antialiasing)

    def draw(self) -> QImage:
        try:
            self._mat()
            self.painter.save()
            self.painter.scale(self.scene.per_mm * self.shot.zoom, self.scene.per_mm * self.shot.zoom)
            self.painter.translate(*self.shot.shift_mm)
            self.painter.rotate(self.shot.turn_deg)
            self.painter.translate(*self.scene.margin_mm)
            if self.side == "front":
                self.painter.translate(self.scene.size_mm[0], 0)
                self.painter.scale(-1, 1)
            self._device()
            self.painter.restore()
            self._hand()
        finally:
            self.painter.end()
        return self._light(self.image)

    # -- what lies there

    def _mat(self) -> None:
        self.painter.fillRect(self.image.rect(), QColor("#6f7f7c"))
        self.painter.setPen(QPen(QColor(255, 255, 255, 26), 2))
        for x in range(0, self.scene.photo_px[0], 174):
            self.painter.drawLine(x, 0, x, self.scene.photo_px[1])
        for y in range(0, self.scene.photo_px[1], 174):
            self.painter.drawLine(0, y, self.scene.photo_px[0], y)

    def _device(self) -> None:
        shapes = sorted(((id_, s) for id_, s in self.scene.shapes.items() if self._is_there(id_, s)),
                        key=lambda item: item[1].level)
        closed = self.scene.cover not in self.removed and self.scene.seam not in self.released and self.side == "back"
        glass_on = self.side == "front" and self.scene.glass not in self.removed
        for id_, shape in shapes:
            if closed and shape.level < 90 and id_ not in ("frame", "power-key", "volume-key", "card-tray"):
                continue
            if id_ == self.scene.cover and not closed:
                self._swung_cover(shape)
                continue
            if shape.level > 90 and not closed:  # what lies on the cover
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
            carrier = self.scene.records[carrier].get("on", "")
        if self.side == "front":
            return id_ in ("frame", "display")
        return not shape.front

    def _shadow(self, path: QPainterPath, depth: float) -> None:
        for k in range(5):
            self.painter.fillPath(path.translated(depth * k / 3, depth * k / 2.2), QColor(0, 0, 0, 26))

    def _raised(self, level: float, place: tuple[float, float]) -> tuple[float, float]:
        """How far out something is seen that lies above the frame, mm: towards the rim of the photograph."""
        if not self.shot.parallax or level > 50:
            return 0.0, 0.0
        width, height = self.scene.photo_px
        x, y = self.shot.to_pixels(self.scene, *place)
        out = level * LEVEL_MM / CAMERA_MM / self.scene.per_mm
        return (x - width / 2) * out, (y - height / 2) * out

    def _shape(self, id_: str, shape: Shape) -> None:
        x, y, width, height = shape.rect
        out = self._raised(shape.level, (x + width / 2, y + height / 2))
        self.painter.translate(*out)
        self._shape_here(id_, shape)
        self.painter.translate(-out[0], -out[1])

    def _shape_here(self, id_: str, shape: Shape) -> None:
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
        if shape.look == "dot" and "Moisture" in self.scene.records[id_]["name"]:
            state = self.scene.records[id_]["facts"][0]["value"]
            p.fillPath(outline, QColor("#c43a3a" if state == "red" else "#eeeeea"))
        if shape.label:
            self._label(shape)

    def _hollow(self) -> None:
        """The tray inside the frame."""
        inside = QPainterPath()
        inside.addRoundedRect(QRectF(3, 3, self.scene.size_mm[0] - 6, self.scene.size_mm[1] - 6), 5, 5)
        self.painter.fillPath(inside, QColor("#2c3135"))
        self.painter.setPen(QPen(QColor("#3f464b"), 0.5))
        rng = random.Random(4)
        for _ in range(26):
            x, y = rng.uniform(6, self.scene.size_mm[0] - 20), rng.uniform(6, self.scene.size_mm[1] - 14)
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
        if self.scene.tab is not None:
            self.painter.fillRect(QRectF(*self.scene.tab), QColor("#b3762b"))

    def _shield(self, id_: str, shape: Shape) -> None:
        x, y, w, h = shape.rect
        self.painter.setPen(QPen(QColor("#8c9191"), 0.3))
        for k in range(1, 8):
            for m in range(1, 5):
                self.painter.drawPoint(QPointF(x + w * k / 8, y + h * m / 5))
        self.painter.drawRoundedRect(QRectF(x + 1, y + 1, w - 2, h - 2), 0.8, 0.8)

    def _cover(self, id_: str, shape: Shape) -> None:
        self.painter.setPen(QPen(QColor("#35544f"), 0.5))
        wide, high = self.scene.size_mm
        middle = QPointF(min(150.0, wide - 70), min(90.0, high - 50))
        for k in range(9):
            self.painter.drawArc(QRectF(middle.x() - 6 * k, middle.y() - 5 * k, 12 * k, 10 * k), 20 * 16, 140 * 16)

    def _swung_cover(self, shape: Shape) -> None:
        """The inner side of the cover, standing behind the long edge, still on its cable."""
        strip = QPainterPath()
        x, _, width, _ = shape.rect
        strip.addRoundedRect(QRectF(x, -self.scene.margin_mm[1] - 2, width, self.scene.margin_mm[1] - 1), 3, 3)
        self._shadow(strip, 0.8)
        self.painter.fillPath(strip, QColor("#3a4a48"))
        if not self.scene.cover_cable:
            return
        first, *bends = self.scene.cover_cable
        cable = QPainterPath(QPointF(*first))
        cable.cubicTo(*(QPointF(*spot) for spot in bends))
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
        for id_, spots in self.scene.spots.items():
            record = self.scene.records[id_]
            gone = any(part in self.removed for part in record["of"])
            if record["side"] == "front" or (gone and id_ not in self.released):
                continue
            level = self.scene.level_of(id_)
            for n, flat in enumerate(spots):
                out = self._raised(level, flat)
                spot = flat[0] + out[0], flat[1] + out[1]
                if id_ in self.released:
                    if record["kind"] == "connector" and self.shot.aside and not gone:
                        self._bent_aside(id_, record, spot)
                    if record["kind"] == "screw" and not all(part in self.removed for part in record["of"][:1]):
                        self._hole(spot, 0.9)
                    elif record["kind"] == "screw":
                        self._hole(spot, 0.7)
                    continue
                if self._is_covered(id_, flat):
                    continue
                self.rng = random.Random(f"{id_}/{n}")  # a head stays as it is turned, whatever photograph it is on
                {"screw": self._screw, "connector": self._plug, "film": self._film,
                 "contact": self._springs}.get(record["kind"], lambda *_: None)(record, spot)

    def _is_covered(self, id_: str, spot: tuple[float, float]) -> bool:
        """Whether something that lies higher than all the joint ties is over it."""
        record, top = self.scene.records[id_], self.scene.level_of(id_)
        if record["kind"] == "film":
            return False
        for other, shape in self.scene.shapes.items():
            x, y, w, h = shape.rect
            if shape.level > top and shape.level < 90 and self._is_there(other, shape) and not shape.path \
                    and x <= spot[0] <= x + w and y <= spot[1] <= y + h:
                return True
        films = [id_ for id_ in self.scene.spots
                 if self.scene.records[id_]["kind"] == "film" and id_ not in self.released]
        return id_ not in films and any(abs(x - spot[0]) < 3.2 and abs(y - spot[1]) < 2.4
                                        for film in films for x, y in self.scene.spots[film])

    def _hole(self, spot: tuple[float, float], r: float) -> None:
        self.painter.setPen(QPen(QColor("#62686c"), 0.3))
        self.painter.setBrush(QColor("#0d0e10"))
        self.painter.drawEllipse(QPointF(*spot), r, r)

    def _screw(self, record: dict[str, Any], spot: tuple[float, float]) -> None:
        fastener = self.scene.fasteners[record["fastener"]]
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

    def _bent_aside(self, id_: str, record: dict[str, Any], spot: tuple[float, float]) -> None:
        """An opened plug lies a little beside its socket."""
        rng = random.Random(f"{id_}/a")
        self.painter.save()
        self.painter.translate(spot[0] + rng.uniform(-4, 4), spot[1] + rng.choice((-4.5, 4.5)))
        self.painter.rotate(rng.uniform(-25, 25))
        self._plug(record, (0.0, 0.0))
        self.painter.restore()

    def _hand(self) -> None:
        """A finger, or what else reaches in over the rim."""
        if not self.shot.hand:
            return
        rng = random.Random(f"{self.shot.seed}/h")
        width, height = self.scene.photo_px
        p, base = self.painter, QColor(HANDS[self.shot.hand])
        p.save()
        from_right = rng.random() < 0.5
        p.translate(width if from_right else 0, rng.uniform(0.2, 0.8) * height)
        p.rotate((180 if from_right else 0) + rng.uniform(-20, 20))
        thick = rng.uniform(0.06, 0.1) * width
        for n in range(2):
            path = QPainterPath()
            reach = (0.2 + rng.uniform(0.12, 0.26)) * width
            path.addRoundedRect(QRectF(-0.2 * width, (n - 0.9) * thick, reach, thick * 0.95), thick / 2, thick / 2)
            shade = QLinearGradient(0, (n - 0.9) * thick, 0, (n + 0.1) * thick)
            shade.setColorAt(0, base.lighter(120))
            shade.setColorAt(1, base.darker(140))
            p.fillPath(path.translated(6, 9), QColor(0, 0, 0, 60))
            p.fillPath(path, QBrush(shade))
        p.restore()

    def _film(self, record: dict[str, Any], spot: tuple[float, float]) -> None:
        self.painter.setPen(Qt.PenStyle.NoPen)
        self.painter.setBrush(QColor(214, 205, 176, 235))
        self.painter.drawRoundedRect(QRectF(spot[0] - 3, spot[1] - 2.2, 6, 4.4), 0.4, 0.4)

    def _springs(self, record: dict[str, Any], spot: tuple[float, float]) -> None:
        for k in range(3):
            self.painter.fillRect(QRectF(spot[0] + k * 1.6, spot[1], 0.8, 2.6), QColor("#cfae5e"))

    # -- the camera

    def _light(self, image: QImage) -> QImage:
        import numpy as np
        from scipy import ndimage

        width, height = self.scene.photo_px
        noise = np.random.default_rng(self.shot.seed)
        lamp_x, lamp_y = self.shot.lamp
        pixels = np.frombuffer(image.constBits(), np.uint8).reshape(height, width, 4)[..., :3].astype(np.float32)
        y, x = np.mgrid[0:height, 0:width].astype(np.float32)
        near = np.hypot((x - width * lamp_x) / width, (y - height * lamp_y) / height)
        pixels *= ((1.16 - 0.5 * near) * self.shot.brightness)[..., None]
        if self.shot.glare is not None:
            gx, gy = self.shot.glare
            spread = np.hypot((x - width * gx) / (0.05 * width), (y - height * gy) / (0.05 * width))
            pixels += (80 * np.exp(-spread ** 2))[..., None] * (0.4 + pixels / 255)
        pixels = ndimage.gaussian_filter(pixels, (0.9, 0.9, 0))
        grain = noise.normal(0, 3.2, (height, width, 1)) + noise.normal(0, 1.4, (height, width, 3))
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


def smaller(scene: Scene, across_px: int) -> Scene:
    """The same for photographs of another width."""
    share = across_px / scene.photo_px[0]
    return replace(scene, mm_per_px=scene.mm_per_px / share, photo_px=(across_px, round(scene.photo_px[1] * share)))


def render(scene: Scene, shot: Shot, quality: int = 82) -> bytes:
    """One photograph as JPEG bytes."""
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    Photo(scene, shot).draw().save(buffer, "JPEG", quality)
    return bytes(buffer.data())
