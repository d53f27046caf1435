"""Photographs for the canvas: decoded off the window's thread, a preview first, the last few kept."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Iterator

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QImage

from oddbolt.ui.background.jobs import Jobs
from oddbolt.ui.widgets.images import image_size, read_image

KEPT_BYTES = 100_000_000  # of decoded photographs
AT_ONCE_PX = 4_000_000  # smaller ones are decoded where they are asked for: it takes less than a blink
PREVIEW_PX = 1280
LARGEST_PX = 8000  # longest side that is decoded whole; more is read reduced


class Photos(QObject):
    """Asks for bytes by name, gives pictures."""

    arrived = Signal(str, QImage, object)  # name, picture, full size (None: unreadable)

    def __init__(self, body_of: Callable[[str], bytes | None], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._body_of = body_of
        self._kept: OrderedDict[str, tuple[QImage, tuple[int, int]]] = OrderedDict()
        self._jobs = Jobs(self)

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
        elif size[0] * size[1] <= AT_ONCE_PX:
            self._jobs.cancel("decode")
            self._keep(name, read_image(body), size)
        else:
            self._jobs.start("decode", lambda: _decode(body, size), lambda found: self._keep(name, found[0], size),
                             lambda _: self.arrived.emit(name, QImage(), None),
                             lambda found: self.arrived.emit(name, found[0], size) if found[1] else None)

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
