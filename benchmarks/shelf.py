"""500 documents on the shelf: the first look at each, and again with the index, against opening each with SQLite and
reading one row of it.

From the root: .venv/bin/python -m benchmarks.shelf
"""

from __future__ import annotations

import shutil
import sqlite3
import statistics
import tempfile
import time
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

from oddbolt.paint.fonts import draw_without_window
from oddbolt.paint.images import make_thumb
from oddbolt.session.documents import DEMOS
from oddbolt.session.shelf import shelf
from oddbolt.store.twin import import_json

DEMO = Path(__file__).resolve().parent.parent / "src" / "oddbolt" / "demo"
DOCUMENTS, ROUNDS = 500, 5


def main() -> None:
    app = draw_without_window()
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name) / "boards"
        folder.mkdir()
        made = []
        for demo in DEMOS:
            document, _ = import_json(DEMO / f"{demo}.json", folder / f"{demo}.oddbolt", make_thumb)
            document.close()
            made.append(document.path)
        for n in range(DOCUMENTS - len(made)):
            shutil.copy(made[n % len(made)], folder / f"copy-{n}.oddbolt")
        first, again, bare = [], [], []
        for n in range(ROUNDS):
            at = Path(name) / f"index-{n}.sqlite"
            first.append(_timed(lambda at=at: next(shelf([folder], make_thumb, at=at))))
            again.append(_timed(lambda at=at: next(shelf([folder], make_thumb, at=at))))
            bare.append(_timed(lambda: _read_bare(folder)))
    one, two, three = (statistics.median(times) for times in (first, again, bare))
    print(f"{DOCUMENTS} documents: the first look {one:.2f} s, {one / three:.1f} times one bare row of each "
          f"({three:.2f} s); with the index {two:.3f} s")
    del app


def _read_bare(folder: Path) -> None:
    for path in folder.iterdir():
        with closing(sqlite3.connect(f"{path.as_uri()}?mode=ro", uri=True)) as db:
            db.execute("SELECT body FROM record WHERE section = 'device'").fetchone()


def _timed(does: Callable[[], object]) -> float:
    start = time.perf_counter()
    does()
    return time.perf_counter() - start


if __name__ == "__main__":
    main()
