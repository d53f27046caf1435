"""Photographs for the canvas: decoded off the window's thread, a preview first, the last few kept."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Iterator

from PySide6.QtCore import QObject, QTimer, Signal
from PySide6.QtGui import QImage

from oddbolt.model.things import Teardown
from oddbolt.paint.images import image_size, is_quick, make_thumb, read_image
from oddbolt.ui.background.jobs import Jobs

KEPT_BYTES = 100_000_000  # of decoded photographs
LONGEST_DECODE_MS = 20_000  # what takes longer is given up, and said to be unreadable
PREVIEW_PX = 1280
LARGEST_PX = 8000  # longest side that is decoded whole; more is read reduced


class Ahead:
    """A photograph that is decoded while the window is still being put together."""

    def __init__(self, body: bytes) -> None:
        self.body = body
        self._found: QImage | None = None
        self._thread = threading.Thread(target=self._decode, name="odd-bolt job ahead")
        self._thread.start()

    def _decode(self) -> None:
        if is_quick(self.body):
            self._found = read_image(self.body)

    def picture(self) -> QImage | None:
        """The picture, waited for; None where it is too large to be waited for."""
        self._thread.join()
        return self._found


def ahead_of(teardown: Teardown, state: str, body_of: Callable[[str], bytes | None]) -> Ahead | None:
    """Begin to decode the photograph that the Log will show first: of this state, else of the last one."""
    views = [view for view in teardown.views if view.portrait is None]
    first = next((view for view in views if view.id == state), views[-1] if views else None)
    body = body_of(first.photo) if first is not None else None
    return Ahead(body) if body else None


class Photos(QObject):
    """Asks for bytes by name, gives pictures."""

    arrived = Signal(str, QImage, object)  # name, picture, full size (None: unreadable)

    def __init__(self, body_of: Callable[[str], bytes | None], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._body_of = body_of
        self._kept: OrderedDict[str, tuple[QImage, tuple[int, int]]] = OrderedDict()
        self._jobs = Jobs(self)
        self.ahead: Ahead | None = None
        self._waits_for = ""
        self._patience = QTimer(self)
        self._patience.setSingleShot(True)
        self._patience.setInterval(LONGEST_DECODE_MS)
        self._patience.timeout.connect(self._give_up)

    def clear(self) -> None:
        self._jobs.give_up_all()
        self._kept.clear()

    def show(self, name: str) -> None:
        """Have a photograph arrive: at once when it is kept or small, else its preview and then the whole."""
        if name in self._kept:
            self._kept.move_to_end(name)
            image, size = self._kept[name]
            self._jobs.cancel("decode")
            self.arrived.emit(name, image, size)
            return
        body = self._body_of(name)
        size = image_size(body) if body else None
        if size is None:
            self._jobs.cancel("decode")
            self.arrived.emit(name, QImage(), None)
        elif is_quick(body):
            self._jobs.cancel("decode")
            found = self.ahead.picture() if self.ahead is not None and self.ahead.body == body else None
            self.ahead = None
            self._keep(name, found or read_image(body), size)
        else:
            self._jobs.start("decode", lambda: _decode(body, size), lambda found: self._keep(name, found[0], size),
                             lambda _: self.arrived.emit(name, QImage(), None),
                             lambda found: self.arrived.emit(name, found[0], size) if found[1] else None)
            self._waits_for = name
            self._patience.start()

    def _give_up(self) -> None:
        """A photograph that is still being decoded is none that can be worked with."""
        if self._jobs.is_running("decode"):
            self._jobs.cancel("decode")
            self.arrived.emit(self._waits_for, QImage(), None)

    def get(self, name: str) -> QImage | None:
        """A photograph that is kept whole, for whoever works on its pixels."""
        return self._kept[name][0] if name in self._kept else None

    def _keep(self, name: str, image: QImage, size: tuple[int, int]) -> None:
        if image.isNull():
            self.arrived.emit(name, image, None)
            return
        self._kept[name] = image, size
        self._kept.move_to_end(name)
        while len(self._kept) > 1 and sum(i.sizeInBytes() for i, _ in self._kept.values()) > KEPT_BYTES:
            self._kept.popitem(last=False)
        self.arrived.emit(name, image, size)


def _decode(body: bytes, size: tuple[int, int]) -> Iterator[tuple[QImage, bool]]:
    """The preview, then the whole, each with whether it is the preview."""
    yield read_image(body, PREVIEW_PX), True
    yield read_image(body, LARGEST_PX if max(size) > LARGEST_PX else 0), False


class Thumbs(QObject):
    """Small pictures of photographs that came without one, made one after the other and kept with the document."""

    made = Signal(str, bytes)  # name, JPEG

    def __init__(self, body_of: Callable[[str], bytes | None], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._body_of = body_of
        self._waiting: list[str] = []
        self._busy = ""
        self._jobs = Jobs(self)

    def want(self, name: str) -> None:
        if name not in self._waiting and name != self._busy:
            self._waiting.append(name)
            QTimer.singleShot(0, self, self._next)

    def clear(self) -> None:
        """Another document: what was wanted of the one before is not wanted any more."""
        self._jobs.give_up_all()
        self._waiting, self._busy = [], ""

    def stop(self) -> None:
        self._waiting = []
        self._jobs.stop_all()

    def _next(self) -> None:
        if self._busy or not self._waiting:
            return
        self._busy = self._waiting.pop(0)
        body = self._body_of(self._busy)
        if body is None:
            self._take(b"")
            return
        self._jobs.start("thumb", lambda: iter((make_thumb(body),)), self._take, lambda _: self._take(b""))

    def _take(self, thumb: bytes) -> None:
        name, self._busy = self._busy, ""
        if thumb:
            self.made.emit(name, thumb)
        self._next()
