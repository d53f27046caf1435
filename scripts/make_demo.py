"""Makes the demo that ships: teardown, scene, photographs. From the root: .venv/bin/python -m scripts.make_demo"""

from __future__ import annotations

import json
from pathlib import Path
from types import ModuleType

from PySide6.QtGui import QGuiApplication

from oddbolt.model import exchange
from oddbolt.paint.drawn_bench.photo import Scene, Shot, render
from scripts.demo import bittern, curlew, dunlin_2, dunlin_3
from scripts.demo.curlew import Camera

FOLDER = Path(__file__).resolve().parent.parent / "src" / "oddbolt" / "demo"


def _make(name: str, device: ModuleType | Camera) -> None:
    """The record of a demo device, what it is drawn from, and its photographs."""
    record = exchange.from_json(device.teardown())
    (FOLDER / f"{name}.json").write_text(exchange.dumps(record), "utf-8")
    text = json.dumps(device.scene_json(), ensure_ascii=False, indent=1)
    (FOLDER / f"{name}.scene.json").write_text(text + "\n", "utf-8")
    photos = FOLDER / f"{name}.photos"
    photos.mkdir(exist_ok=True)
    scene = Scene.from_json(text)
    for n, view in enumerate(device.here.views):
        shot = Shot(side=view["side"], removed=frozenset(view["scene"]["removed"]),
                    released=frozenset(view["scene"]["released"]), seed=100 + n)
        (photos / f"{view['id']}.jpg").write_bytes(render(scene, shot))


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    app = QGuiApplication.instance() or QGuiApplication(["demo", "-platform", "offscreen"])
    for name, device in (("dunlin-2", dunlin_2), ("bittern", bittern), ("curlew", curlew.ONE),
                         ("curlew-2", curlew.TWO)):
        _make(name, device)
    successor = exchange.from_json(dunlin_3.teardown())
    (FOLDER / "dunlin-3.json").write_text(exchange.dumps(successor), "utf-8")
    del app


if __name__ == "__main__":
    main()
