"""How a demo device is described: one description gives the teardown and the scene that its photographs are drawn from,
so the marks lie where the things are. Places are millimetres seen from the back, origin at the upper left corner.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from msgspec import Struct, field

from oddbolt.model.places import Spot

Rect = tuple[float, float, float, float]


class Shape(Struct):
    """How a part looks from above."""

    rect: Rect
    look: str
    level: int  # higher lies nearer to the back
    label: str = ""
    front: bool = False  # seen from the front only
    path: list[Spot] = field(default_factory=list)  # of a cable


class Device:
    """Parts, joints, log and views as they are written down; `opened` is what lies in the first layer behind."""

    def __init__(self, *, size_mm: Spot, margin_mm: Spot, mm_per_px: float, photo_px: tuple[int, int],
                 opened: list[list[str]], fasteners: Sequence[dict[str, Any]]) -> None:
        self.size_mm, self.margin_mm, self.mm_per_px, self.photo_px = size_mm, margin_mm, mm_per_px, photo_px
        self.opened, self.fasteners = opened, fasteners
        self.shapes: dict[str, Shape] = {}
        self.spots: dict[str, list[Spot]] = {}  # joint -> places
        self.front_spots: dict[str, list[Spot]] = {}
        self.parts: list[dict[str, Any]] = []
        self.joints: list[dict[str, Any]] = []
        self.log: list[dict[str, Any]] = []
        self.views: list[dict[str, Any]] = []
        self.t = 0
        self.released: list[str] = []
        self.removed: list[str] = []

    # -- what it is made of

    def part(self, id_: str, name: str, kind: str, rect: Rect | None = None, look: str = "", level: int = 10, *,
             label: str = "", front: bool = False, path: list[Spot] | None = None, **keys: Any) -> None:
        self.parts.append({"id": id_, "name": name, "kind": kind, **keys})
        if rect is not None:
            self.shapes[id_] = Shape(rect, look, level, label, front, path or [])

    def joint(self, id_: str, name: str, kind: str, of: list[str], spots: list[Spot] | None = None, *,
              front: bool = False, **keys: Any) -> None:
        record = {"id": id_, "name": name, "kind": kind, "of": of, **keys}
        if spots:
            (self.front_spots if front else self.spots)[id_] = spots
            if kind == "screw" and "count" not in record:
                record["count"] = len(spots)
        self.joints.append(record)

    def screws(self, id_: str, name: str, letter: str, of: list[str], spots: list[Spot], **keys: Any) -> None:
        self.joint(id_, name, "screw", of, spots, fastener=letter,
                   **{"side": "back", "behind": self.opened, "basis": "done", **keys})

    def plug(self, id_: str, name: str, type_: str, of: list[str], spot: Spot, tool: str = "spudger",
             **keys: Any) -> None:
        self.joint(id_, name, "connector", of, [spot], type=type_,
                   **{"side": "back", "behind": self.opened, "basis": "done", **keys}, ways=[{"tool": tool}])

    @property
    def by_id(self) -> dict[str, dict[str, Any]]:
        return {thing["id"]: thing for thing in (*self.parts, *self.joints)}

    # -- the log, in the order of the work, with the clock running

    def entry(self, do: str, seconds: float = 0, gap: int = 4, **keys: Any) -> str:
        id_ = f"e{len(self.log) + 1}"
        row: dict[str, Any] = {"id": id_, "t": self.t, "pass": 1, "do": do, **keys}
        if seconds and do in ("release", "remove"):
            row["seconds"] = seconds
        self.log.append(row)
        self.t += round(seconds) + gap
        return id_

    def release(self, thing: str, seconds: float, way: int = 0, **keys: Any) -> None:
        acts = self.by_id[thing].get("ways", [{}])[way]
        tool = acts.get("acts", [acts])[-1].get("tool", "")
        if tool and "act" not in keys:
            keys["tool"] = tool
        self.entry("release", seconds, thing=thing, way=way, outcome=keys.pop("outcome", "ok"), **keys)
        if self.log[-1]["outcome"] != "failed":
            self.released.append(thing)

    def remove(self, thing: str, seconds: float = 3) -> None:
        self.entry("remove", seconds, thing=thing, outcome="ok")
        self.removed.append(thing)

    def reach(self, *things: str) -> None:
        self.entry("reach", gap=6, things=list(things))

    def view(self, id_: str, side: str, tally: int | None, mark: list[str]) -> None:
        marks = []
        spots = self.front_spots if side == "front" else self.spots
        for thing in mark:
            for n, (x, y) in enumerate(spots.get(thing) or [self._middle(thing)], start=1):
                px, py = self.to_pixels(x, y, side)
                row = {"thing": thing, "x": round(px, 1), "y": round(py, 1)}
                marks.append({"thing": thing, "n": n, **{k: row[k] for k in "xy"}} if thing in spots else row)
        record: dict[str, Any] = {"id": id_, "side": side, "at_entry": self.log[-1]["id"] if self.log else None,
                                  "photo": f"{id_}.jpg", "mm_per_px": self.mm_per_px, "marks": marks}
        if tally is not None:
            record["tally"] = tally
        record["scene"] = {"released": list(self.released), "removed": list(self.removed)}
        self.views.append(record)

    def _middle(self, thing: str) -> Spot:
        id_ = thing if thing in self.shapes else self.by_id[thing]["of"][0]
        x, y, w, h = self.shapes[id_].rect
        return x + w / 2, y + h / 2

    def to_pixels(self, x_mm: float, y_mm: float, side: str) -> tuple[float, float]:
        """Photograph pixels of a place; from the front the device is seen turned over its long edge."""
        if side == "front":
            x_mm = self.size_mm[0] - x_mm
        return (x_mm + self.margin_mm[0]) / self.mm_per_px, (y_mm + self.margin_mm[1]) / self.mm_per_px

    # -- as it ships

    def views_json(self) -> list[dict[str, Any]]:
        """The views; the scene of each is for drawing only and is left out."""
        return [{key: value for key, value in view.items() if key != "scene"} for view in self.views]

    def scene_json(self, **more: Any) -> dict[str, Any]:
        """What the photographs are drawn from, for the simulated camera; `more`: which part is the cover, ..."""
        keys = ("kind", "name", "type", "of", "side", "fastener", "on", "facts")
        return {
            "size_mm": list(self.size_mm), "margin_mm": list(self.margin_mm), "mm_per_px": self.mm_per_px,
            "photo_px": list(self.photo_px), **more,
            "shapes": {id_: {key: value for key, value in vars_of(shape).items()
                             if value is not False and value != "" and value != []}
                       for id_, shape in self.shapes.items()},
            "spots": self.spots, "front_spots": self.front_spots,
            "records": {id_: {key: record[key] for key in keys if key in record}
                        for id_, record in self.by_id.items()},
            "fasteners": {row["id"]: row for row in self.fasteners},
        }


def vars_of(shape: Shape) -> dict[str, Any]:
    return {name: getattr(shape, name) for name in shape.__struct_fields__}
