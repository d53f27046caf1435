"""An act until it is on disk, through the session, against a bare commit of one row with the same settings."""

from __future__ import annotations

import sqlite3
import statistics
import tempfile
import time
from pathlib import Path

from oddbolt.session.session import Session
from oddbolt.session.verbs.entries import note
from oddbolt.store.document import Document
from oddbolt.store.files import read_json

DEMO = Path(__file__).resolve().parent.parent / "src" / "oddbolt" / "demo" / "dunlin-2.json"


def main() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        session = Session(Document.create(folder / "ours.oddbolt", read_json(DEMO)))
        bare = sqlite3.connect(folder / "bare.db", isolation_level=None)
        bare.execute("PRAGMA journal_mode = DELETE")
        bare.execute("PRAGMA synchronous = FULL")
        bare.execute("CREATE TABLE t (n INTEGER PRIMARY KEY, body TEXT)")
        ours, references = [], []
        for n in range(300):
            start = time.perf_counter()
            session.do(note, f"note {n}", n)
            middle = time.perf_counter()
            bare.execute("BEGIN IMMEDIATE")
            bare.execute("INSERT INTO t VALUES (?, ?)", (n, "x" * 100))
            bare.execute("COMMIT")
            ours.append(middle - start)
            references.append(time.perf_counter() - middle)
        session.close()
        bare.close()
    ratio = statistics.median(a / b for a, b in zip(ours, references))
    print(f"act {statistics.median(ours) * 1000:.2f} ms, bare commit {statistics.median(references) * 1000:.2f} ms, "
          f"ratio {ratio:.2f} (median of 300 pairs); aim at most 1.3")


if __name__ == "__main__":
    main()
