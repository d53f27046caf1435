"""Makes the demo that ships: teardown, scene, photographs. From the root: .venv/bin/python -m scripts.make_demo"""

from __future__ import annotations

import json
from pathlib import Path

from PySide6.QtGui import QGuiApplication

from oddbolt.model import exchange
from oddbolt.paint.drawn_bench.photo import Scene, Shot, render
from scripts.demo import dunlin_3
from scripts.demo.dunlin_2 import scene_json, teardown, views

FOLDER = Path(__file__).resolve().parent.parent / "src" / "oddbolt" / "demo"


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    record = exchange.from_json(teardown())
    (FOLDER / "dunlin-2.json").write_text(exchange.dumps(record), "utf-8")
    successor = exchange.from_json(dunlin_3.teardown())
    (FOLDER / "dunlin-3.json").write_text(exchange.dumps(successor), "utf-8")
    text = json.dumps(scene_json(), ensure_ascii=False, indent=1)
    (FOLDER / "dunlin-2.scene.json").write_text(text + "\n", "utf-8")
    photos = FOLDER / "dunlin-2.photos"
    photos.mkdir(exist_ok=True)
    app = QGuiApplication.instance() or QGuiApplication(["demo", "-platform", "offscreen"])
    scene = Scene.from_json(text)
    for n, view in enumerate(views):
        shot = Shot(side=view["side"], removed=frozenset(view["scene"]["removed"]),
                    released=frozenset(view["scene"]["released"]), seed=100 + n)
        (photos / f"{view['id']}.jpg").write_bytes(render(scene, shot))
    del app


if __name__ == "__main__":
    main()
