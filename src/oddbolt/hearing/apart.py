"""The recogniser in a process of its own: it keeps the interpreter to itself while it works, and no window may wait.

Where that process dies, the next sentence begins another one.
"""

from __future__ import annotations

import multiprocessing
import os
import threading
from concurrent.futures import Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool

import numpy as np

from oddbolt.hearing.grammar import Grammar
from oddbolt.hearing.listener import Heard, Listener, NoListener, Pronounced
from oddbolt.hearing.pronouncing import Dictionary

_here: list[Listener] = []  # in the other process


class ListenerApart:
    """Gives what was heard as futures; `hear` of a Listener, but that nobody waits."""

    def __init__(self, own: Pronounced) -> None:
        self._own = {word: list(phones) for word, phones in own.items()}
        self._pool: ProcessPoolExecutor | None = None
        self._known: Dictionary | None = None

    def begin(self) -> Future[bool]:
        """Load the model; the future fails with NoListener where that cannot be."""
        return self._ask(_is_there)

    def hear(self, grammar: Grammar, samples: np.ndarray) -> Future[Heard]:
        return self._ask(_hear, grammar, samples)

    def knows(self, word: str) -> bool:
        """By the dictionary, which is read here too; raises NoListener where the extra is not installed."""
        if self._known is None:
            from oddbolt.hearing.sphinx import dictionary

            self._known = dictionary(self._own)
        return self._known.knows(word)

    def stop(self) -> None:
        if self._pool is not None:
            self._pool.shutdown(wait=False, cancel_futures=True)
            self._pool = None

    def _ask(self, does, *args):  # type: ignore[no-untyped-def]
        for _ in range(2):
            if self._pool is None:
                self._pool = ProcessPoolExecutor(1, multiprocessing.get_context("spawn"), _begin, (self._own,))
            try:
                return self._pool.submit(does, *args)
            except BrokenProcessPool:  # it died since: another one
                self._pool = None
        raise NoListener


def _begin(own: Pronounced) -> None:
    """In the other process, which ends with the one that began it, however that one ended."""
    parent = multiprocessing.parent_process()
    if parent is not None:
        threading.Thread(target=lambda: (parent.join(), os._exit(0)), daemon=True).start()
    from oddbolt.hearing.sphinx import SphinxListener

    _here[:] = []
    try:
        _here.append(SphinxListener(own))
    except NoListener as fault:
        _faults[:] = [fault.told]


_faults: list[str] = []


def _is_there() -> bool:
    if not _here:
        raise NoListener(*_faults)
    return True


def _hear(grammar: Grammar, samples: np.ndarray) -> Heard:
    _is_there()
    return _here[0].hear(grammar, samples)
