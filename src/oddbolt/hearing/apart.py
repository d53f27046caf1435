"""The recogniser in a process of its own: it keeps the interpreter to itself while it works, and no window may wait.

Where that process dies, the next sentence begins another one.
"""

from __future__ import annotations

import multiprocessing
import os
import threading
from collections.abc import Callable
from concurrent.futures import Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from functools import partial
from typing import Any

import numpy as np

from oddbolt.hearing.acoustic import OwnVoice
from oddbolt.hearing.grammar import Grammar
from oddbolt.hearing.listener import Heard, NoListener, Pronounced
from oddbolt.hearing.pronouncing import Dictionary

_here: list[Any] = []  # in the other process: who listens there
_faults: list[str] = []


class _Apart:
    """Somebody in a process of its own; `make` makes it there."""

    def __init__(self, own: Pronounced) -> None:
        self._own = {word: list(phones) for word, phones in own.items()}
        self._pool: ProcessPoolExecutor | None = None

    def _make(self) -> Callable[[], Any]:
        raise NotImplementedError

    def begin(self) -> Future[bool]:
        """Load the model; the future fails with NoListener where that cannot be."""
        return self._ask(_is_there)

    def stop(self) -> None:
        if self._pool is not None:
            self._pool.shutdown(wait=False, cancel_futures=True)
            self._pool = None

    def _ask(self, does, *args):  # type: ignore[no-untyped-def]
        for _ in range(2):
            if self._pool is None:
                self._pool = ProcessPoolExecutor(1, multiprocessing.get_context("spawn"), _begin, (self._make(),))
            try:
                return self._pool.submit(does, *args)
            except BrokenProcessPool:  # it died since: another one
                self._pool = None
        raise NoListener


class ListenerApart(_Apart):
    """Gives what was heard as futures; `hear` of a Listener, but that nobody waits."""

    def __init__(self, own: Pronounced) -> None:
        super().__init__(own)
        self._known: Dictionary | None = None
        self._voice: OwnVoice | None = None

    def use(self, voice: OwnVoice | None) -> None:
        """Whose voice is heard from now on; None: anybody's. The model is loaded anew."""
        self.stop()
        self._voice = voice

    def hear(self, grammar: Grammar, samples: np.ndarray) -> Future[Heard]:
        return self._ask(_hear, grammar, samples)

    def knows(self, word: str) -> bool:
        """By the dictionary, which is read here too; raises NoListener where the extra is not installed."""
        if self._known is None:
            from oddbolt.hearing.sphinx import dictionary

            self._known = dictionary(self._own)
        return self._known.knows(word)

    def _make(self) -> Callable[[], Any]:
        return partial(_listener, self._own, self._voice)


class TeacherApart(_Apart):
    """Listens to sentences that are read aloud, and learns a voice from them."""

    def read(self, text: str, samples: np.ndarray) -> Future[bool]:
        """Whether that was read."""
        return self._ask(_read, text, samples)

    def learned(self) -> Future[OwnVoice | None]:
        """None where too little was read."""
        return self._ask(_learned)

    def _make(self) -> Callable[[], Any]:
        return partial(_teacher, self._own)


# -- in the other process

def _begin(make: Callable[[], Any]) -> None:
    """It ends with the process that began it, however that one ended."""
    parent = multiprocessing.parent_process()
    if parent is not None:
        threading.Thread(target=lambda: (parent.join(), os._exit(0)), daemon=True).start()
    _here[:] = []
    try:
        _here.append(make())
    except NoListener as fault:
        _faults[:] = [fault.told]


def _listener(own: Pronounced, voice: OwnVoice | None) -> Any:
    from oddbolt.hearing.sphinx import SphinxListener

    return SphinxListener(own, voice)


def _teacher(own: Pronounced) -> Any:
    from oddbolt.hearing.teaching import SphinxTeacher

    return SphinxTeacher(own)


def _is_there() -> bool:
    if not _here:
        raise NoListener(*_faults)
    return True


def _hear(grammar: Grammar, samples: np.ndarray) -> Heard:
    _is_there()
    return _here[0].hear(grammar, samples)


def _read(text: str, samples: np.ndarray) -> bool:
    _is_there()
    return _here[0].read(text, samples)


def _learned() -> OwnVoice | None:
    _is_there()
    return _here[0].learned()
