"""kill -9 while acts are being logged: what was acknowledged is there, and the file opens."""

from __future__ import annotations

import json
import random
import signal
import subprocess
import sys
import time

from oddbolt.model import exchange
from oddbolt.store.document import Document

LOGGER = """
import sys
from pathlib import Path
from oddbolt.session.session import Session
from oddbolt.session.verbs.entries import note
from oddbolt.store.document import Document

session = Session(Document.open(Path(sys.argv[1])))
n = 0
while True:
    n += 1
    session.do(note, f"note {n}", n)
    if n % 5 == 0:
        session.undo()
        session.redo()
    sys.stdout.write(f"{len(session.teardown.log)}\\n")
    sys.stdout.flush()
"""


def test_every_acknowledged_act_survives(tmp_path, example, long_run):
    rng = random.Random(11)
    rounds = 200 if long_run else 25
    path = tmp_path / "one.oddbolt"
    Document.create(path, exchange.from_json(example)).close()
    kept = 3
    for _ in range(rounds):
        logger = subprocess.Popen([sys.executable, "-c", LOGGER, str(path)], stdout=subprocess.PIPE, text=True)
        first = logger.stdout.readline()
        time.sleep(rng.uniform(0, 0.05))
        logger.send_signal(signal.SIGKILL)
        lines = [first, *logger.communicate()[0].split("\n")]
        acknowledged = max([kept] + [int(line) for line in lines if line.strip().isdigit()])
        with Document.open(path) as document:
            log = document.teardown.log
            assert len(log) >= acknowledged
            assert [entry.text for entry in log[3:]] == [entry.text for entry in log[3:] if entry.text]
            json.dumps(exchange.to_json(document.teardown))
            kept = len(log)
    assert kept > rounds
