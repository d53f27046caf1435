"""Makes the demo that ships: teardown and photographs. Run from the root: .venv/bin/python -m scripts.make_demo"""

from __future__ import annotations

from pathlib import Path

from oddbolt.model import exchange
from scripts.demo.draw import draw_all
from scripts.demo.dunlin_2 import teardown

FOLDER = Path(__file__).resolve().parent.parent / "src" / "oddbolt" / "demo"


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    record = exchange.from_json(teardown())
    (FOLDER / "dunlin-2.json").write_text(exchange.dumps(record), "utf-8")
    draw_all(FOLDER / "dunlin-2.photos")


if __name__ == "__main__":
    main()
