"""How long a sentence takes to be understood after it is over, against how long it was: the shipped ones of the bench
radio, each with the grammar of an empty record of a radio. Also how long the grammar takes. Needs the extra `voice`.
"""

from __future__ import annotations

import statistics
import tempfile
import time
from datetime import datetime, timezone
from pathlib import Path

from oddbolt.catalog.tables import table
from oddbolt.hearing.listener import RATE_HZ
from oddbolt.hearing.sounds import read_wav
from oddbolt.hearing.sphinx import SphinxListener
from oddbolt.session.documents import begin_teardown
from oddbolt.session.prepare import Preparation
from oddbolt.session.selection import Selection
from oddbolt.session.speaking.sentences import Moment, grammar_of
from oddbolt.session.speaking.shipped import shipped_sentences

NUMBER = 24


def main() -> None:
    listener = SphinxListener(table("spoken.toml")["pronounced"])
    with tempfile.TemporaryDirectory() as folder:
        document = begin_teardown(Preparation(name="Bittern", category="radio"), None, Path(folder),
                                  datetime.now(timezone.utc))
        moment = Moment(teardown=document.teardown, selection=Selection(), knows=listener.knows)
        grammars, ratios, seconds = [], [], []
        for one in shipped_sentences()[:NUMBER]:
            began = time.perf_counter()
            grammar = grammar_of(moment)
            text = grammar.jsgf()
            grammars.append(time.perf_counter() - began)
            sound = read_wav(one.sound())
            began = time.perf_counter()
            listener.hear(grammar, sound)
            seconds.append(time.perf_counter() - began)
            ratios.append(seconds[-1] * RATE_HZ / len(sound))
        document.close()
    print(f"{NUMBER} sentences: understood in {statistics.median(ratios):.2f} of their length (median; worst "
          f"{max(ratios):.2f}), {statistics.median(seconds):.2f} s; the grammar of the moment, {len(text)} characters, "
          f"in {1000 * statistics.median(grammars):.0f} ms")


if __name__ == "__main__":
    main()
