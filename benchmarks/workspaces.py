"""Opening the Bolts and Parts workspaces on a large record: 300 parts, 400 bolts. Aim: under 100 ms each.

Times are also given in times of a bare list of 400 rows shown in the same run.
"""

from __future__ import annotations

import os
import statistics
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtWidgets import QTreeWidget, QTreeWidgetItem  # noqa: E402

from oddbolt.model import exchange  # noqa: E402
from oddbolt.paint.fonts import load_fonts  # noqa: E402
from oddbolt.paint.palette import LIGHT  # noqa: E402
from oddbolt.session.session import Session  # noqa: E402
from oddbolt.store.document import Document  # noqa: E402
from oddbolt.ui.shell import application  # noqa: E402
from oddbolt.ui.theme.style import dress  # noqa: E402
from oddbolt.ui.window import Window  # noqa: E402

PARTS, BOLTS, EACH = 300, 400, 4


def large_record() -> dict:
    """A device of many layers: each part on the base or on the part before, held by groups of four bolts."""
    letters = [{"id": chr(65 + n), "drive": ("PH", "T", "Y")[n % 3], "size": ("00", "5", "000")[n % 3],
                "thread": ("M1.4", "M1.6", "M2")[n % 3], "length_mm": 3 + n * 0.5, "head_mm": 2.5} for n in range(12)]
    parts = [{"id": "base", "name": "Frame", "kind": "frame", "mass_g": 100}]
    parts += [{"id": f"p{n}", "name": f"Part {n}", "kind": ("bracket", "board", "cable", "cover")[n % 4],
               "on": f"p{n - 1}" if n % 5 == 0 and n else None, "mass_g": 1.5} for n in range(PARTS - 1)]
    joints = [{"id": f"s{n}", "kind": "screw", "of": [f"p{n * 2}", "base"], "fastener": chr(65 + n % 12), "count": EACH}
              for n in range(BOLTS // EACH)]
    joints += [{"id": f"c{n}", "kind": "connector", "type": "zif", "of": [f"p{n * 4 + 1}", "p1"]} for n in range(1, 60)]
    views = [{"id": f"v{k}", "side": "back", "mm_per_px": 0.1, "marks": [
        {"thing": f"s{n}", "n": i + 1, "x": 40.0 * n, "y": 60.0 * i} for n in range(k * 10, k * 10 + 10)
        for i in range(EACH)]} for k in range(10)]
    for part in parts:
        if part.get("on") is None:
            part.pop("on", None)
    return {"format": "oddbolt-teardown", "version": 1, "device": {"base": "base", "category": "slate_tablet"},
            "fasteners": letters, "parts": parts, "joints": joints, "views": views}


def main() -> None:
    app = application()
    load_fonts()
    dress(app, LIGHT)
    found: dict[str, list[float]] = {"bolts": [], "parts": [], "bare": []}
    for _ in range(5):
        with tempfile.TemporaryDirectory() as folder:
            document = Document.create(Path(folder) / "one.oddbolt", exchange.from_json(large_record()))
            window = Window(LIGHT)
            window.fill(Session(document), Path(folder))
            window.resize(1280, 800)
            window.show()
            app.processEvents()
            for name in ("bolts", "parts"):
                start = time.perf_counter()
                window.show_workspace(name)
                window.repaint()
                app.processEvents()
                found[name].append(time.perf_counter() - start)
            window.close()
        bare = QTreeWidget()
        start = time.perf_counter()
        bare.addTopLevelItems([QTreeWidgetItem([str(n), "row"]) for n in range(400)])
        bare.show()
        app.processEvents()
        found["bare"].append(time.perf_counter() - start)
        bare.close()
    plain = statistics.median(found["bare"])
    for name in ("bolts", "parts"):
        middle = statistics.median(found[name])
        print(f"{name}: median {middle * 1000:.0f} ms, {middle / plain:.1f} times a bare list of 400 rows "
              f"({min(found[name]) * 1000:.0f} to {max(found[name]) * 1000:.0f} ms)")


if __name__ == "__main__":
    main()
