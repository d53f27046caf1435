"""How long something takes."""

from __future__ import annotations

import time
from collections.abc import Callable


def timed(does: Callable[[], object]) -> float:
    """Seconds, once."""
    start = time.perf_counter()
    does()
    return time.perf_counter() - start
